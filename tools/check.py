"""Everything that must hold: linters, types, layers, generated files, then all tests.

Ends with one line, ``N passed, N failed``. Each check that is not a test counts as one. The tests that need the
studio or its browser run beside everything else: a machine has two cores, and each of the two does with one.
"""

from __future__ import annotations

import os
import re
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
BIN = Path(sys.executable).parent
CORE, SERVED = ("tests.strata", "tests.test_gates"), ("tests.studio", "tests.browser")
# together all of tests/ (a test says so)


def run(name: str, command: list[str], folder: Path = ROOT) -> tuple[bool, str]:
    """Run one check; its output is shown only when it fails."""
    start = time.monotonic()
    done = subprocess.run(command, cwd=folder, capture_output=True, text=True, check=False)
    good = done.returncode == 0
    print(f"{'ok    ' if good else 'FAILED'} {name} ({time.monotonic() - start:.0f} s)", flush=True)
    if not good:
        print(done.stdout + done.stderr, flush=True)
    return good, done.stdout + done.stderr


def schema_current(folder: Path) -> bool:
    """The committed schema is what the code makes today; the client's types are made of it by make."""
    fresh = folder / "openapi.yaml"
    made, _ = run(
        "schema is valid",
        [sys.executable, "manage.py", "spectacular", "--validate", "--fail-on-warn", "--file", str(fresh)],
    )
    if made and fresh.read_text() != (ROOT / "docs" / "openapi.yaml").read_text():
        print("FAILED docs/openapi.yaml is out of date: run make schema")
        return False
    return made


def lint() -> tuple[int, int]:
    """(passed, failed) of everything but the tests."""
    checks = [
        run("ruff check", [str(BIN / "ruff"), "check", "."])[0],
        run("ruff format", [str(BIN / "ruff"), "format", "--check", "strata", "studio", "tools", "tests"])[0],
        run("mypy --strict, core and studio", [str(BIN / "mypy")])[0],
        run("layers", [str(BIN / "lint-imports")])[0],
        run("prettier", ["npx", "prettier", "--check", "src", "tests"], ROOT / "web")[0],
        run("eslint", ["npx", "eslint", "src", "tests", "--max-warnings", "0"], ROOT / "web")[0],
        run("tsc", ["npx", "tsc", "--noEmit"], ROOT / "web")[0],
        run(
            "migrations are complete", [sys.executable, "manage.py", "makemigrations", "--check", "--dry-run"]
        )[0],
    ]
    with tempfile.TemporaryDirectory() as folder:
        checks.append(schema_current(Path(folder)))
    return sum(checks), len(checks) - sum(checks)


def unit_tests() -> tuple[int, int]:
    """(passed, failed) of vitest over what the front end keeps and measures."""
    good, text = run("vitest", ["npx", "vitest", "run", "--no-color"], ROOT / "web")
    # the last line of figures is "Tests  2 failed | 45 passed (47)"
    last = (re.findall(r"^ *Tests +(.*)$", text, re.M) or [""])[-1]
    counts = {word: int(number) for number, word in re.findall(r"(\d+) (passed|failed)", last)}
    passed, failed = counts.get("passed", 0), counts.get("failed", 0)
    return passed, failed if good else max(1, failed)


def _shown(text: str) -> str:
    print(text, end="", flush=True)
    return text


def _followed(command: list[str], environment: dict[str, str], shown: bool) -> tuple[int, str]:
    """(exit code, output) of a command, shown while it runs, or as one when it has ended."""
    # into a file: a pipe that the browser's driver shares would be made non-blocking by it, and lose what is said at the end
    with tempfile.NamedTemporaryFile("r", errors="replace") as said, Path(said.name).open("w") as told:
        done = subprocess.Popen(
            command, cwd=ROOT, env={**os.environ, **environment}, stdout=told, stderr=subprocess.STDOUT
        )
        text = ""
        while shown and done.poll() is None:
            text += _shown(said.read())
            with suppress(subprocess.TimeoutExpired):
                done.wait(1)
        code = done.wait()
        return code, text + _shown(said.read())


def run_tests(*of: str, shown: bool = False) -> tuple[int, int]:
    """(passed, failed) of Django's test runner over some of the tests, with a data folder of their own."""
    command = [
        sys.executable,
        "-W",
        "error::DeprecationWarning:strata",
        "manage.py",
        "test",
        "--noinput",
        *of,
    ]
    with tempfile.TemporaryDirectory() as data:
        code, text = _followed(command, {"ANASTRATA_DATA": data}, shown)
    ran = int((re.findall(r"^Ran (\d+) tests?", text, re.M) or ["0"])[-1])
    counts = dict(re.findall(r"(failures|errors|skipped)=(\d+)", text))
    failed = int(counts.get("failures", 0)) + int(counts.get("errors", 0))
    if code != 0 and failed == 0:
        failed = 1
    return max(0, ran - failed - int(counts.get("skipped", 0))), failed


def main() -> int:
    with tempfile.TemporaryDirectory() as data, ThreadPoolExecutor(1) as beside:
        os.environ["ANASTRATA_DATA"] = data
        os.environ.setdefault("ANASTRATA_LOG", "ERROR")  # refusals are expected here
        if "--lint-only" in sys.argv:
            counts = [lint()]
        else:
            served = beside.submit(run_tests, *SERVED, shown=True)
            counts = [lint(), unit_tests(), run_tests(*CORE), served.result()]
    passed, failed = map(sum, zip(*counts, strict=True))
    print(f"{passed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
