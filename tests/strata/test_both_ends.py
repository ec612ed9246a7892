"""A row of things done by two processes: all answers in their order, whatever becomes of the second one."""

from __future__ import annotations

import multiprocessing
import os
import select
import signal
import subprocess
import sys
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any
from unittest import mock

from strata.answers.measures import measures_json
from strata.guard.both_ends import both_ends
from tests import world

ROW = list(range(120))
ANSWERS = [3 * n for n in ROW]


class BothEndsTest(unittest.TestCase):
    def setUp(self) -> None:
        self.here, self.said = os.getpid(), list[float]()

    def tearDown(self) -> None:
        self.assertEqual(multiprocessing.active_children(), [])

    def done(self, there: object = None, row: list[int] = ROW) -> list[int]:
        """Three times each thing of a row; in the second process ``there`` is called before each."""

        def work(n: int) -> int:
            if os.getpid() != self.here and callable(there):
                there()
            return 3 * n

        return both_ends(work, row, self.said.append)

    def test_every_answer_in_its_order(self) -> None:
        for count in (0, 1, 2, 3, 120):
            self.assertEqual(self.done(row=ROW[:count]), ANSWERS[:count])
        self.assertTrue(all(0 <= share < 1 for share in self.said))

    def both(self, work: Callable[[], Any]) -> tuple[list[Any], list[Any]]:
        """What ``work`` is in the first process, and in the second: the first waits for two answers of that."""
        reader, writer = os.pipe()
        begun: list[int] = []

        def one(n: int) -> tuple[bool, Any]:
            if os.getpid() != self.here:
                os.write(writer, b".")
            elif not begun:
                begun.append(n)
                # who begins its second thing has answered the first
                os.read(reader, 1), os.read(reader, 1)
            return os.getpid() == self.here, work()

        with mock.patch("os.sched_getaffinity", return_value={0, 1}):
            found = both_ends(one, ROW, self.said.append)
        os.close(reader)
        os.close(writer)
        return [w for own, w in found if own], [w for own, w in found if not own]

    def test_both_do_their_part(self) -> None:
        own, others = self.both(os.getpid)
        self.assertEqual(set(own), {self.here})
        self.assertEqual(len(set(others)), 1)
        self.assertEqual(len(own) + len(others), len(ROW))

    def test_on_one_core_all_is_done_here(self) -> None:
        with mock.patch("os.sched_getaffinity", return_value={0}):
            self.assertEqual(set(both_ends(lambda n: os.getpid(), ROW, self.said.append)), {self.here})

    def test_a_second_process_that_ends_or_hangs_is_done_without(self) -> None:
        for there in (lambda: os._exit(3), lambda: os.kill(os.getpid(), signal.SIGKILL), signal.pause):
            self.assertEqual(self.done(there), ANSWERS)

    def test_where_no_second_process_is_to_be_had(self) -> None:
        with mock.patch("os.fork", side_effect=OSError("no memory")):
            self.assertEqual(self.done(), ANSWERS)

    def test_what_cannot_be_done_is_raised_here(self) -> None:
        with self.assertRaisesRegex(ZeroDivisionError, "division"):
            both_ends(lambda n: 1 // (n - 60), ROW, self.said.append)

    def test_the_second_process_holds_none_of_the_outputs(self) -> None:
        """Who follows the first process waits until nobody holds them."""
        _, others = self.both(lambda: [str(Path(f"/proc/self/fd/{n}").readlink()) for n in range(3)])
        self.assertEqual(others[0], [os.devnull] * 3)

    def test_the_second_process_ends_with_the_first(self) -> None:
        """Killed as a job that is stopped: of the pipe that both hold nothing is heard any more."""
        reader, writer = os.pipe()
        code = f"""
import os, signal
from unittest import mock
from strata.guard.both_ends import both_ends
here = os.getpid()
def work(n):
    if os.getpid() == here:
        signal.pause()
    os.write({writer}, b".")
with mock.patch("os.sched_getaffinity", return_value={{0, 1}}):
    both_ends(work, range(10**9), print)
"""
        with subprocess.Popen(
            [sys.executable, "-c", code], pass_fds=[writer], stdout=subprocess.PIPE
        ) as first:
            os.close(writer)
            self.assertTrue(os.read(reader, 1))
            first.kill()
        while select.select([reader], [], [], 60)[0]:
            if not os.read(reader, 65536):
                break
        else:
            self.fail("the second process is still there")
        os.close(reader)

    def test_a_set_has_the_same_measures(self) -> None:
        said: list[str] = []
        found = measures_json(world.koi(), lambda share, doing: said.append(doing), both_ends)
        self.assertEqual(found, measures_json(world.koi()))
        self.assertEqual(
            list(dict.fromkeys(said))[:2], ["Measuring openings", "Moving tones over their bases"]
        )
