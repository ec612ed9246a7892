"""The server as it is started: alive, patient for so long and no longer, and known to who would restore a backup."""

from __future__ import annotations

import http.client
import os
import shutil
import signal
import socket
import sqlite3
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from contextlib import closing, suppress
from pathlib import Path
from unittest import mock

import psutil
from django.conf import settings

from strata.guard.held import is_held
from tools import serve

DEADLINE = 120.0
# seconds until it must be there, however busy the machine is

SHARED = """
import studio.wsgi, sys, threading
from django.db import connections
shared = [c.alias for c in connections.all(initialized_only=True) if c.connection is not None]
print("studio.builds.picture_views" in sys.modules, threading.active_count(), shared)
"""


def plainly(data: Path) -> dict[str, str]:
    """The environment of a server that keeps its data there, with nothing set besides."""
    own = {k: v for k, v in os.environ.items() if not k.startswith(("ANASTRATA_", "DJANGO_"))}
    return {**own, "ANASTRATA_DATA": str(data)}


class LoadedTest(unittest.TestCase):
    def test_processes_part_with_every_view_loaded_and_nothing_open(self) -> None:
        with tempfile.TemporaryDirectory() as data:
            told = subprocess.run(
                [sys.executable, "-c", SHARED],
                cwd=settings.BASE_DIR,
                env=plainly(Path(data)),
                capture_output=True,
                text=True,
                check=True,
            )
        self.assertEqual(told.stdout.split(maxsplit=2), ["True", "1", "[]\n"])


class ServedTest(unittest.TestCase):
    def setUp(self) -> None:
        self.data = Path(tempfile.mkdtemp(prefix="served-"))
        self.addCleanup(shutil.rmtree, self.data, ignore_errors=True)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = int(probe.getsockname()[1])
        self.environment = {
            **plainly(self.data),
            "ANASTRATA_PATIENCE": "1",
            # however many cores there are
            "ANASTRATA_PROCESSES": "2",
        }
        self.start()
        self.addCleanup(self.stopped)

    def start(self, **more: str) -> None:
        self.server = subprocess.Popen(
            [sys.executable, "tools/serve.py", "--port", str(self.port)],
            cwd=settings.BASE_DIR,
            env={**self.environment, **more},
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )

    def stopped(self) -> None:
        self.server.terminate()
        self.server.wait(30)

    def asked(self, path: str) -> int:
        """The status of an answer, waited for as long as the server may take to start."""
        return self.answered(path)[0]

    def answered(self, path: str) -> tuple[int, str]:
        until = time.monotonic() + DEADLINE
        while True:
            try:
                connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=DEADLINE)
                connection.request("GET", path)
                answer = connection.getresponse()
                return answer.status, answer.read().decode(errors="replace")
            except ConnectionError:
                if time.monotonic() > until or self.server.poll() is not None:
                    raise
                time.sleep(0.2)

    def test_half_sent_requests_hold_nobody_up_and_the_data_is_known_to_be_served(self) -> None:
        self.assertEqual(self.asked("/api/health"), 200)
        self.assertEqual((self.data / "anastrata.sqlite3").stat().st_mode & 0o077, 0)
        self.assertEqual(self.data.stat().st_mode & 0o077, 0)
        # the page is of the build whose scripts are served, whatever is built beside it meanwhile
        collected = self.data / "static" / "index.html"
        collected.write_text(f"{collected.read_text()}<!-- collected -->")
        self.assertIn("<!-- collected -->", self.answered("/")[1])
        # more of them than it has threads
        half = [socket.create_connection(("127.0.0.1", self.port)) for _ in range(20)]
        for one in half:
            one.sendall(b"GET /api/health HTTP/1.1\r\nHost: localhost\r\nX-Slow: ")
        self.assertEqual(self.asked("/api/health"), 200)
        for one in half:
            one.settimeout(DEADLINE)
            # it is let go, politely or not
            with suppress(ConnectionResetError):
                self.assertEqual(one.recv(1), b"")
            one.close()
        restore = [sys.executable, "manage.py", "restore", "nothing.zip"]
        said = subprocess.run(
            restore, cwd=settings.BASE_DIR, env=self.environment, capture_output=True, text=True, check=False
        )
        self.assertIn("is running on this data", said.stderr)

    def test_a_process_that_is_killed_is_replaced_and_the_other_answers_meanwhile(self) -> None:
        self.assertEqual(self.asked("/api/health"), 200)
        # the first answers while the second is not there yet
        before = self.at_work(2)
        # the server became gunicorn: its children are those that serve
        master = psutil.Process(self.server.pid)
        first = {child.pid for child in master.children()}
        self.assertEqual(len(first), 2)
        os.kill(min(first), signal.SIGKILL)
        self.assertEqual(self.asked("/api/health"), 200)
        now = self.at_work(2, besides=before)
        self.assertEqual(len(now & before), 1, "one of those before, and the one in the place of the other")

    def at_work(self, count: int, besides: set[str] | None = None) -> set[str]:
        """The names of so many runs that are at work, once there are so many and they are not the same as ``besides``."""
        runs, until = self.data / "runs", time.monotonic() + DEADLINE
        while True:
            found = {run.name for run in runs.glob("*") if is_held(run)}
            if len(found) == count and found != besides:
                return found
            if time.monotonic() > until:
                raise AssertionError(f"at work are {found}")
            time.sleep(0.1)

    def jobs(self) -> list[tuple[str, int]]:
        """State and restarts of every job."""
        with closing(sqlite3.connect(self.data / "anastrata.sqlite3", timeout=DEADLINE)) as opened:
            return opened.execute("SELECT state, restarts FROM jobs_job").fetchall()

    def test_told_to_end_it_puts_back_what_it_reads_and_the_next_start_goes_on_with_it(self) -> None:
        """The demo leaves photographs to be read at its first start."""
        self.assertEqual(self.asked("/api/health"), 200)
        self.stopped()
        for _ in range(2):
            self.start(ANASTRATA_DEMO="1")
            self.assertEqual(self.asked("/api/health"), 200)
            until = time.monotonic() + DEADLINE
            while {state for state, _ in self.jobs()} == {"queued"} and time.monotonic() < until:
                time.sleep(0.1)
            self.assertLess(
                {state for state, _ in self.jobs()}, {"queued", "running", "done", "nothing else"}
            )
            self.assertGreater({state for state, _ in self.jobs()} & {"running", "done"}, set())
            self.stopped()
            self.assertLessEqual(set(self.jobs()), {("queued", 0), ("done", 0)})

    def test_a_damaged_database_is_said_and_not_touched(self) -> None:
        self.assertEqual(self.asked("/api/health"), 200)
        self.stopped()
        database = self.data / "anastrata.sqlite3"
        for name in ("-wal", "-shm"):
            (self.data / f"anastrata.sqlite3{name}").unlink(missing_ok=True)
        damaged = bytearray(database.read_bytes())
        damaged[100:40_000] = b"\x07" * 39_900
        database.write_bytes(damaged)
        command = [sys.executable, "tools/serve.py", "--port", str(self.port)]
        said = subprocess.run(
            command, cwd=settings.BASE_DIR, env=self.environment, capture_output=True, text=True, check=False
        )
        self.assertEqual(said.returncode, 1)
        self.assertIn("is damaged", said.stdout)
        self.assertIn("restore", said.stdout)
        self.assertEqual(database.read_bytes(), bytes(damaged))


class BeforeItServesTest(unittest.TestCase):
    """What is asked before the server is started: of the port, and of the database."""

    def setUp(self) -> None:
        self.data = Path(tempfile.mkdtemp(prefix="before-"))
        self.addCleanup(shutil.rmtree, self.data, ignore_errors=True)

    def test_a_port_is_waited_for(self) -> None:
        with socket.socket() as held:
            held.bind(("127.0.0.1", 0))
            held.listen()
            port = int(held.getsockname()[1])
            self.assertFalse(serve.free(port, patience=0))
            gone = threading.Thread(target=held.close)
            gone.start()
            self.assertTrue(serve.free(port, patience=DEADLINE))
            gone.join()

    @mock.patch.dict(os.environ)
    def test_migrations_are_asked_of_the_file(self) -> None:
        # the whole suite may be at work on another database
        os.environ.pop("ANASTRATA_DATABASE_URL", None)
        database, mark = self.data / "anastrata.sqlite3", self.data / serve.MIGRATED
        self.assertFalse(serve.migrated(self.data))
        own = [(p.parent.parent.name, p.stem) for p in serve.ROOT.glob("studio/*/migrations/[0-9]*.py")]
        self.assertGreater(len(own), 10)

        def kept(rows: list[tuple[str, str]]) -> None:
            database.unlink(missing_ok=True)
            with closing(sqlite3.connect(database)) as opened, opened:
                opened.execute("CREATE TABLE django_migrations (app TEXT, name TEXT)")
                opened.executemany("INSERT INTO django_migrations VALUES (?, ?)", rows)

        kept(own)
        self.assertFalse(serve.migrated(self.data), "packages bring migrations too")
        mark.write_text(serve.packages())
        self.assertTrue(serve.migrated(self.data))
        # an older house, brought back from a backup
        kept(own[1:])
        self.assertFalse(serve.migrated(self.data))
        database.write_bytes(b"no database at all, but something of that name")
        self.assertFalse(serve.migrated(self.data))
        kept(own)
        mark.write_text("other packages")
        self.assertFalse(serve.migrated(self.data))
        mark.write_text(serve.packages())
        with mock.patch.dict(os.environ, ANASTRATA_DATABASE_URL="postgresql://a@b/c"):
            self.assertFalse(serve.migrated(self.data))
