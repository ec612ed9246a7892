"""Serve the built application with its demo world: database, static files, demo, then gunicorn.

``--reload`` serves for development instead: Django's reloader and Vite's.
"""

from __future__ import annotations

import argparse
import os
import socket
import subprocess
import sys
from pathlib import Path
from typing import NoReturn

ROOT = Path(__file__).resolve().parent.parent
PYTHON = sys.executable


def manage(*arguments: str) -> None:
    """Run a management command; its failure ends the start with its own message."""
    subprocess.run([PYTHON, "manage.py", *arguments], cwd=ROOT, check=True)


def free(port: int) -> bool:
    """True when nothing listens on the loopback port."""
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) != 0


def collect(data: Path) -> None:
    """Copy and compress the built files when they are newer than the last copy."""
    index, mark = ROOT / "web" / "dist" / "index.html", data / "static" / ".collected"
    if mark.exists() and mark.stat().st_mtime >= index.stat().st_mtime:
        return
    manage("collectstatic", "--noinput", "--clear", "-v0")
    mark.touch()


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8000)
    parser.add_argument("--reload", action="store_true")
    options = parser.parse_args()
    data = Path(os.environ.get("ANASTRATA_DATA", ROOT / "data"))
    if not free(options.port):
        print(f"Port {options.port} is taken. Stop what runs there, or choose another: make demo PORT=8010")
        return 1
    manage("migrate", "-v0")
    manage("seed_demo")
    manage("seed_log")
    if options.reload:
        return develop(options.port)
    collect(data)
    print(f"\n  Anastrata is at  http://127.0.0.1:{options.port}/", flush=True)
    print("  Signed in as the demo maker. Stop it with Ctrl C.", flush=True)
    print(f"  What you make is kept in {data.name}/.\n", flush=True)
    serve(options.port)


def serve(port: int) -> NoReturn:
    """Become the WSGI server."""
    command = [
        PYTHON,
        "-m",
        "gunicorn",
        "studio.wsgi:application",
        "--bind",
        f"127.0.0.1:{port}",
        "--workers",
        "1",
        "--worker-class",
        "gthread",
        "--threads",
        "8",
        "--timeout",
        "60",
        "--log-level",
        "warning",
    ]  # one process: its threads share the pictures kept in memory
    os.chdir(ROOT)
    os.execv(PYTHON, command)  # noqa: S606 - our own interpreter, fixed arguments


def develop(port: int) -> int:
    """Django's reloading server and Vite's, until either ends."""
    vite = subprocess.Popen(["npx", "vite"], cwd=ROOT / "web")
    print("\n  Develop at  http://127.0.0.1:5173/   (API on the other port). Stop with Ctrl C.\n", flush=True)
    try:
        return subprocess.call([PYTHON, "manage.py", "runserver", f"127.0.0.1:{port}"], cwd=ROOT)
    except KeyboardInterrupt:
        return 0
    finally:
        vite.terminate()


if __name__ == "__main__":
    sys.exit(main())
