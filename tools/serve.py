"""Serve the built application: database, static files, then gunicorn; with ANASTRATA_DEMO=1 its demo world too.

``--host 0.0.0.0`` serves a household network and prints where a tablet finds it; ``--reload`` serves for
development instead: Django's reloader and Vite's.
"""

from __future__ import annotations

import argparse
import hashlib
import os
import socket
import sqlite3
import subprocess
import sys
import time
from contextlib import closing
from pathlib import Path
from typing import NoReturn

MIGRATED = ".migrated"
ROOT = Path(__file__).resolve().parent.parent
PYTHON = sys.executable


def manage(*arguments: str) -> None:
    """Run a management command; its failure ends the start with its own message."""
    subprocess.run([PYTHON, "manage.py", *arguments], cwd=ROOT, check=True)


def free(port: int, patience: float = 3.0) -> bool:
    """True when nothing listens on the loopback port.

    A server that was killed may still be on its way out, its worker after its
    master: who starts it again at once waits for that.
    """
    until = time.monotonic() + patience
    while True:
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) != 0:
                return True
        if time.monotonic() > until:
            return False
        time.sleep(0.1)


def in_the_network(host: str, port: int) -> list[str]:
    """The addresses at which others reach what is served at this host; none on this machine alone, or behind TLS."""
    if host in ("127.0.0.1", "localhost", "::1") or os.environ.get("ANASTRATA_TLS") == "1":
        return []
    sys.path.insert(0, str(ROOT))
    from studio.serving import addresses_here

    found = addresses_here() if host in ("0.0.0.0", "::") else [host]  # noqa: S104 - what the person asked for
    return [f"http://{address}:{port}" for address in found]


def unsound(data: Path) -> str:
    """What is wrong with the database, and what to do about it; empty where it is whole or not there yet."""
    database = data / "anastrata.sqlite3"
    if not database.exists():
        return ""
    database.chmod(0o600)
    data.chmod(0o700)
    try:
        with closing(sqlite3.connect(database)) as opened:
            found = [row[0] for row in opened.execute("PRAGMA quick_check(3)")]
    except sqlite3.DatabaseError as error:
        found = [str(error)]
    if found == ["ok"]:
        return ""
    return (
        f"The database {database.name} is damaged: {'; '.join(found)}.\n"
        "Nothing was changed. Bring the last backup back:\n"
        f"  python manage.py restore {data.name}/backups/anastrata-….zip\n"
        "What is there now is put aside by that, not thrown away."
    )


def told(addresses: list[str]) -> None:
    """Where a tablet finds it, as text and as a code for its camera."""
    if not addresses:
        print("  On this machine only. For a tablet in the same network: make serve HOST=0.0.0.0", flush=True)
    for address in addresses:
        print(f"  From a tablet in the same network:  {address}/", flush=True)
    if addresses:
        import segno

        segno.make(addresses[0], error="m").terminal(compact=True)
    print("  The first account that is made runs the house. Stop it with Ctrl C.", flush=True)


def packages() -> str:
    """What stands in for the packages that bring migrations of their own."""
    return hashlib.sha256((ROOT / "requirements.txt").read_bytes()).hexdigest()


def migrated(data: Path) -> bool:
    """Whether the database has every migration, asked without starting Django: after a power cut every second counts.

    The studio's own by the names of their files, those of packages by the list of packages.
    """
    database, mark = data / "anastrata.sqlite3", data / MIGRATED
    if "ANASTRATA_DATABASE_URL" in os.environ or not database.exists() or not mark.exists():
        return False
    own = {(p.parent.parent.name, p.stem) for p in (ROOT / "studio").glob("*/migrations/[0-9]*.py")}
    try:
        with closing(sqlite3.connect(database)) as opened:
            there = set(opened.execute("SELECT app, name FROM django_migrations"))
    except sqlite3.DatabaseError:
        return False
    return own <= there and mark.read_text() == packages()


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
    parser.add_argument("--host", default="127.0.0.1", help="0.0.0.0 for the household network (127.0.0.1)")
    parser.add_argument("--reload", action="store_true")
    options = parser.parse_args()
    data = Path(os.environ.get("ANASTRATA_DATA", ROOT / "data"))
    if not free(options.port):
        print(f"Port {options.port} is taken. Stop what runs there, or choose another: make demo PORT=8010")
        return 1
    if said := unsound(data):
        print(said)
        return 1
    demo = os.environ.get("ANASTRATA_DEMO") == "1"
    addresses = [] if demo else in_the_network(options.host, options.port)
    if addresses:
        hosts = [
            os.environ.get("ANASTRATA_HOSTS", ""),
            *(a.split("//")[1].rsplit(":", 1)[0] for a in addresses),
        ]
        os.environ["ANASTRATA_HOSTS"] = ",".join(h for h in hosts if h)
        os.environ["ANASTRATA_SERVED_AT"] = " ".join(addresses)
    if not migrated(data):
        manage("migrate", "-v0")
        (data / MIGRATED).write_text(packages())
    if demo:
        manage("seed_demo")
        manage("seed_log")
    if options.reload:
        return develop(options.port)
    collect(data)
    print(f"\n  Anastrata is at  http://127.0.0.1:{options.port}/", flush=True)
    if demo:
        print("  Signed in as the demo maker. Stop it with Ctrl C.", flush=True)
    else:
        told(addresses)
    print(f"  What you make is kept in {data.name}/.\n", flush=True)
    serve("127.0.0.1" if demo else options.host, options.port)


def processes() -> int:
    """How many serve: ANASTRATA_PROCESSES, or two where there are cores for it."""
    asked = os.environ.get("ANASTRATA_PROCESSES", "")
    return max(1, int(asked)) if asked.isdigit() else min(2, os.cpu_count() or 1)


def serve(host: str, port: int) -> NoReturn:
    """Become the WSGI server."""
    # what each keeps in memory is bounded by it too
    os.environ["ANASTRATA_PROCESSES"] = str(processes())
    command = [
        PYTHON,
        "-m",
        "gunicorn",
        "studio.wsgi:application",
        "--bind",
        f"{host}:{port}",
        "--workers",
        os.environ["ANASTRATA_PROCESSES"],
        # what all of them load is in memory once
        "--preload",
        "--worker-class",
        "studio.worker.Patient",
        "--threads",
        "8",
        "--timeout",
        "60",
        # a browser comes back on its connection to the process that knows what it looked at; waiting takes no thread
        "--keep-alive",
        "75",
        "--limit-request-line",
        "8190",
        "--log-level",
        "warning",
    ]
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
