"""Readings forked of a process that has its libraries loaded: each by itself, ended and told of as any other child."""

from __future__ import annotations

import json
import os
import signal
import subprocess
import sys
import unittest
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from unittest import mock

from strata.errors import BadFile, TooLarge
from strata.guard import child as guard
from strata.guard import ready
from strata.guard.child import Child, run_guarded
from strata.guard.forks import Forked
from tests import world
from tests.strata.test_tracing import taken

BODY = '<g id="a"><rect width="30" height="20"/></g>'
INSIDE = """
import os, signal, socket, sys
from strata.guard.forks import fork_for_each
if fork_for_each(socket.socket(fileno=int(sys.argv[-1]))):
    {}
    sys.stdout.flush()
    os._exit(0)
"""


class ForkedTest(unittest.TestCase):
    """Children that do something else than reading; each test has a process of its own that forks."""

    def forks(self, inside: str) -> ready.Ready:
        own = ready.Ready()
        with mock.patch.object(ready, "COMMAND", (sys.executable, "-c", INSIDE.format(inside))):
            own.keep()
        self.addCleanup(own.let_go)
        return own

    def made(self, own: ready.Ready) -> Forked:
        child = own._forked()
        assert child is not None
        self.addCleanup(child.__exit__, None, None, None)
        return child

    def test_how_it_ended_is_told(self) -> None:
        for inside, how in (
            ("pass", 0),
            ("sys.exit(3)", 3),
            ("raise ValueError('no')", 1),
            ("os.kill(os.getpid(), signal.SIGXCPU)", -signal.SIGXCPU),
        ):
            with self.subTest(inside), self.made(self.forks(inside)) as child:
                self.assertEqual(child.wait(30), how)
                self.assertEqual(child.wait(), how)

    def test_it_is_ended_from_outside_and_nobody_else_is(self) -> None:
        own = self.forks("sys.stdout.write(sys.stdin.readline())")
        one, other = self.made(own), self.made(own)
        with self.assertRaises(subprocess.TimeoutExpired):
            one.wait(0.05)
        one.kill()
        self.assertEqual(one.wait(30), -signal.SIGKILL)
        one.kill()
        assert other.stdin is not None
        assert other.stdout is not None
        other.stdin.write(b"still here\n")
        other.stdin.close()
        self.assertEqual(other.stdout.read(), b"still here\n")
        self.assertEqual(other.wait(30), 0)

    def test_it_holds_its_own_streams_and_nothing_of_others(self) -> None:
        own = self.forks("print(sorted(os.listdir('/proc/self/fd'), key=int)); sys.stdin.read()")
        held = [self.made(own) for _ in range(3)]
        for child in held:
            assert child.stdout is not None
            # the last is the folder that is being listed
            self.assertEqual(child.stdout.readline(), b"['0', '1', '2', '3']\n")

    def test_what_was_forked_ends_with_who_asked_for_it(self) -> None:
        """By the end of this side of the talk alone, as a process that is killed leaves it."""
        own = self.forks("print(os.getpid(), flush=True); signal.pause()")
        child, loaded, talk = self.made(own), own._loaded, own._talk
        assert child.stdout is not None
        assert loaded is not None
        assert talk is not None
        child.stdout.readline()
        talk.close()
        self.assertEqual(loaded.wait(30), 0)
        self.assertEqual(child.stdout.read(), b"")
        self.assertEqual(child.wait(30), -signal.SIGKILL)

    def test_where_no_pipe_is_to_be_had_others_go_on(self) -> None:
        own = self.forks("sys.stdout.write(sys.stdin.readline())")
        other, before = self.made(own), len(os.listdir("/proc/self/fd"))
        pipes = [os.pipe(), OSError("Too many open files")]
        with mock.patch.object(os, "pipe", side_effect=pipes), self.assertRaises(OSError), own.taken():
            pass
        self.assertEqual(len(os.listdir("/proc/self/fd")), before)
        assert other.stdin is not None
        other.stdin.write(b"here\n")
        other.stdin.close()
        self.assertEqual(other.wait(30), 0)

    def test_where_no_process_is_to_be_had_it_is_told_as_killed(self) -> None:
        refused = INSIDE.replace("\nif ", "\ndef no(): raise OSError\nos.fork = no\nif ", 1)
        own = ready.Ready()
        with mock.patch.object(ready, "COMMAND", (sys.executable, "-c", refused.format("pass"))):
            own.keep()
        self.addCleanup(own.let_go)
        self.assertEqual(self.made(own).wait(30), -signal.SIGKILL)


class LoadedTest(unittest.TestCase):
    """Real readings."""

    @classmethod
    def setUpClass(cls) -> None:
        cls.own = ready.Ready()
        cls.own.keep()
        cls.addClassCleanup(cls.own.let_go)

    def setUp(self) -> None:
        patched = mock.patch.object(guard, "READY", self.own)
        patched.start()
        self.addCleanup(patched.stop)

    def read(self, name: str) -> Any:
        return json.loads(run_guarded("set", [world.drawing(BODY)], {"name": name})["set"])["name"]

    def test_each_reading_is_a_process_of_its_own_and_several_do_not_mix(self) -> None:
        with ThreadPoolExecutor(4) as hands:
            names = [f"Reading {n}" for n in range(8)]
            self.assertEqual(list(hands.map(self.read, names)), names)
        child = Child("set", {"name": "One"}, [world.drawing(BODY)])
        child.run()
        self.assertIsInstance(child._process, Forked)

    def test_limits_and_refusals_are_as_of_any_other(self) -> None:
        with self.assertRaises(BadFile):
            run_guarded("set", [b"no drawing"], {"name": "x"})
        fields = "".join(f'<g id="g{n}">' for n in range(3000))
        with self.assertRaises((BadFile, TooLarge)):
            run_guarded("set", [world.drawing(fields + "</g>" * 3000)], {"name": "x"})
        self.assertEqual(self.read("After"), "After")

    def test_stopped_while_it_reads(self) -> None:
        child = Child("sheet", {"width_mm": 107.95, "height_mm": 139.7}, [taken(1)])
        child.progress = lambda share, doing: child.stop() if doing != guard.WAITING else None
        with self.assertRaises(BadFile) as stopped:
            child.run()
        self.assertEqual(stopped.exception.sentence, "Stopped.")
        self.assertEqual(self.read("After"), "After")

    def test_it_has_one_thread_when_it_forks(self) -> None:
        """A thread that holds something while its process forks holds it for ever in what was forked."""
        self.read("Loaded")
        assert self.own._loaded is not None
        self.assertEqual(len(os.listdir(f"/proc/{self.own._loaded.pid}/task")), 1)

    def test_one_that_was_ended_is_no_loss_and_is_loaded_again(self) -> None:
        own = ready.Ready()
        own.keep()
        self.addCleanup(own.let_go)
        assert own._loaded is not None
        ended = own._loaded.pid
        own._loaded.kill()
        own._loaded.wait()
        with mock.patch.object(guard, "READY", own):
            self.assertEqual(self.read("Meanwhile"), "Meanwhile")
            assert own._loaded is not None
            self.assertNotEqual(own._loaded.pid, ended)
            self.assertEqual(self.read("After"), "After")

    def test_let_go_readings_start_their_own(self) -> None:
        own = ready.Ready()
        own.keep()
        own.let_go()
        with own.taken() as process:
            self.assertIsInstance(process, subprocess.Popen)
            process.kill()
