"""The guarded child: followed, stopped, late, broken; whatever happens the caller gets an answer or a sentence."""

from __future__ import annotations

import base64
import io
import json
import os
import signal
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from pathlib import Path
from unittest import mock

from strata.errors import BadFile, BadValue, Broken, StrataError, TooLarge
from strata.formats.set_file import write_set
from strata.guard import child as guard
from strata.guard import ready
from strata.guard.child import Child, run_guarded
from strata.guard.held import Room, is_held
from strata.guard.tasks import TASKS
from tests import world
from tests.strata.test_tracing import taken

BODY = '<g id="a"><rect width="30" height="20"/></g>'


class ChildTest(unittest.TestCase):
    def test_several_files_arrive_whole_and_in_order(self) -> None:
        files = [world.drawing(f'<rect width="{n}" height="10"/>') for n in (10, 20, 30)]
        answer = run_guarded("set", files, {"name": "Three", "titles": ["x", "y", "z"]})
        sheets = json.loads(answer["set"])["sheets"]
        names = [(s["name"], len(s["openings"])) for s in sheets]
        self.assertEqual(names, [("x", 1), ("y", 1), ("z", 1)])
        widths = [max(s["openings"][0]["rings"][0][0::2]) for s in sheets]
        self.assertEqual([round(w) for w in widths], [10, 20, 30])

    def test_progress_only_grows_and_says_what_is_done(self) -> None:
        seen: list[tuple[float, str]] = []
        size = {"width_mm": 107.95, "height_mm": 139.7}
        Child("sheet", size, [taken(1, tilt_x=0.1)], lambda share, doing: seen.append((share, doing))).run()
        shares = [share for share, _ in seen]
        self.assertEqual(shares, sorted(shares))
        self.assertTrue(all(doing and not doing.endswith(".") for _, doing in seen))
        self.assertGreaterEqual(len(seen), 4)

    def test_stopped_from_another_thread(self) -> None:
        child = Child("sheet", {"width_mm": 107.95, "height_mm": 139.7}, [taken(1, tilt_x=0.1)])
        timer = threading.Timer(0.4, child.stop)
        timer.start()
        start = time.monotonic()
        with self.assertRaises(BadFile):
            child.run()
        self.assertLess(time.monotonic() - start, 6)
        self.assertTrue(child.stopped)

    def test_a_file_that_nobody_reads_any_more_is_given_up_quietly(self) -> None:
        """The child has ended while it was sent to it: what is left in the pipe is no fault of the disk."""
        reader, writer = os.pipe()
        os.close(reader)
        sink = os.fdopen(writer, "wb")
        Child("set", {"name": "x"}, [b"x" * 1_000_000])._feed(sink)
        self.assertTrue(sink.closed)

    def test_stopped_before_it_began(self) -> None:
        child = Child("set", {"name": "x"}, [world.drawing(BODY)])
        child.stop()
        with self.assertRaises(BadFile):
            child.run()

    def test_too_slow_a_file_is_given_up(self) -> None:
        bomb = '<rect id="u0" width="1" height="1"/>' + "".join(
            f'<g id="u{i}">' + f'<use href="#u{i - 1}"/>' * 12 + "</g>" for i in range(1, 12)
        )
        with quick_limits(), self.assertRaises(TooLarge) as caught:
            run_guarded("set", [world.drawing(bomb)], {"name": "x"})
        self.assertIn("too long", caught.exception.sentence)

    def test_what_takes_too_long_is_called_what_it_is(self) -> None:
        for task, what in (
            ("set", "This file takes too long to read; simplify it"),
            ("measures", "This set takes too long to measure; part it into several"),
            ("order", "This card takes too long to put in order; plan fewer passes"),
        ):
            with self.assertRaises(TooLarge) as caught:
                Child(task, {}, [])._answer(None, -signal.SIGXCPU, "")
            self.assertTrue(caught.exception.sentence.startswith(what), caught.exception.sentence)

    def test_waiting_for_room_is_no_reading_time(self) -> None:
        """Ten ordinary drawers at once, on however busy a machine: the limit is processor time."""
        answers: list[object] = []

        def read() -> None:
            answers.append(run_guarded("drawer_file", [b"name,L,a,b\nDusk,50,1,2\n"])["kind"])

        readers = [threading.Thread(target=read) for _ in range(10)]
        with quick_limits():
            for reader in readers:
                reader.start()
            for reader in readers:
                reader.join()
        self.assertEqual(answers, ["csv"] * 10)

    def test_never_more_children_than_there_is_room(self) -> None:
        under_way, most, lock = 0, 0, threading.Lock()
        real = ready.subprocess.Popen

        class Counted(real):  # type: ignore[valid-type, misc]
            def __init__(self, *args: object, **kwargs: object) -> None:
                nonlocal under_way, most
                with lock:
                    under_way += 1
                    most = max(most, under_way)
                super().__init__(*args, **kwargs)

            def __exit__(self, *args: object) -> None:
                nonlocal under_way
                with lock:
                    under_way -= 1
                super().__exit__(*args)

        with mock.patch.object(ready.subprocess, "Popen", Counted):
            readers = [
                threading.Thread(target=run_guarded, args=("drawer_file", [b"name,L,a,b\nx,50,1,2\n"]))
                for _ in range(6)
            ]
            for reader in readers:
                reader.start()
            for reader in readers:
                reader.join()
        self.assertEqual((under_way, most), (0, guard.MOST_AT_ONCE))

    def test_stopped_while_it_waits_for_room(self) -> None:
        said: list[str] = []
        full = guard.ROOM.taken(lambda: None), guard.ROOM.taken(lambda: None)
        with full[0], full[1]:
            child = Child("set", {"name": "x"}, [world.drawing(BODY)], lambda _, doing: said.append(doing))
            threading.Timer(0.1, child.stop).start()
            with self.assertRaises(BadFile):
                child.run()
        self.assertEqual(set(said), {guard.WAITING})

    def test_what_may_wait_leaves_a_place(self) -> None:
        class Full(Exception):
            pass

        def full() -> None:
            raise Full

        with tempfile.TemporaryDirectory() as place:
            room = Room(Path(place), 2)
            with room.taken(full, later=True):
                with self.assertRaises(Full), room.taken(full, later=True):
                    self.fail("a second one that may wait")
                with room.taken(full), self.assertRaises(Full), room.taken(full):
                    self.fail("a third")
            # and those that are waited for take the other place first
            with room.taken(full), room.taken(full, later=True):
                self.assertTrue(is_held(Path(place) / "1.lock"))

    def test_room_is_shared_with_other_processes_and_freed_when_one_is_killed(self) -> None:
        with tempfile.TemporaryDirectory() as place:
            room = Room(Path(place), 1)
            takes = (
                "import sys, pathlib; from strata.guard.held import Room\n"
                "with Room(pathlib.Path(sys.argv[1]), 1).taken(lambda: None):\n"
                "    print('there', flush=True); sys.stdin.read()"
            )
            command = [sys.executable, "-c", takes, place]
            with subprocess.Popen(command, stdin=subprocess.PIPE, stdout=subprocess.PIPE) as other:
                assert other.stdout is not None
                self.assertEqual(other.stdout.readline(), b"there\n")
                self.assertTrue(is_held(Path(place) / "0.lock"))
                waited: list[int] = []

                def waits() -> None:
                    waited.append(1)
                    if len(waited) == 3:
                        other.kill()

                with room.taken(waits):
                    self.assertGreaterEqual(len(waited), 3)
            self.assertFalse(is_held(Path(place) / "0.lock"))

    def test_every_kind_of_refusal_keeps_its_code_and_field(self) -> None:
        bare = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect width="5" height="5"/></svg>'
        with self.assertRaises(BadFile) as caught:
            run_guarded("set", [bare], {"name": "x"})
        self.assertEqual(caught.exception.field, "width")
        with self.assertRaises(BadValue):
            run_guarded("set", [world.drawing(BODY)], {"name": "x", "kind": "wallpaper"})
        with self.assertRaises(TooLarge):
            run_guarded("set", [world.drawing("<g>" * 400 + "</g>" * 400)], {"name": "x"})

    def test_a_mistake_in_the_child_is_a_sentence_not_a_crash(self) -> None:
        for task, options in (("set", {"nonsense": 1}), ("no such task", {}), ("measure", {})):
            with self.assertRaises(Broken) as caught, self.assertLogs("strata.guard", "ERROR") as said:
                run_guarded(task, [world.drawing(BODY)], options)
            self.assertTrue(caught.exception.sentence.endswith("."))
            self.assertNotIn("damaged", caught.exception.sentence)
            self.assertIn("Traceback", caught.exception.trace)
            self.assertIn("Traceback", said.output[0])

    def test_the_child_can_write_no_file(self) -> None:
        script = (
            "from strata.guard import __main__ as inside\n"
            "inside._limit('set', 0)\n"
            "import tempfile, os\n"
            "try:\n"
            "    with tempfile.NamedTemporaryFile() as f:\n"
            "        f.write(b'x' * 10); f.flush()\n"
            "    print('written')\n"
            "except OSError:\n"
            "    print('refused')\n"
        )
        # without a handler the signal for too large a file ends the process, which is as good
        done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=False)
        self.assertNotIn("written", done.stdout)

    def test_the_camera_and_the_bundle_go_through_it_too(self) -> None:
        small = world.two_sheets()
        answer = run_guarded("photographs", [json.dumps(write_set(small)).encode()], {"seed": 3})
        self.assertEqual(len(answer["photographs"]), 2)
        photo = base64.b64decode(answer["photographs"][0]["jpeg"])
        sheet = run_guarded("sheet", [photo], {"width_mm": 100, "height_mm": 80})
        areas = sorted(round(_area(r[0])) for r in sheet["openings"])
        self.assertEqual([abs(a - 1200) < 15 for a in areas], [True, True])

    def test_inks_cards_and_readings_go_through_it_too(self) -> None:
        found = run_guarded("drawer_file", [b"name,L,a,b\nDusk,50,1,2\n"])
        self.assertEqual((found["kind"], found["guess"]), ("csv", ["name", "L", "a", "b"]))
        card = {"code": 3, "count": 4, "paper": "A4", "card": list(world.WHITE), "known": {}}
        for task, data, options in (
            ("drawer_file", b"\x00\xff\x00", {}),
            ("drawer_file", b"{" * 100_000, {}),
            ("readings", b"CGATS.17", {}),
            ("picture_colours", b"no picture", {}),
            ("swatch_card", b"no picture", card),
            ("swatch_card", _grey(), card),
        ):
            with self.assertRaises(StrataError, msg=task) as caught:
                run_guarded(task, [data], options)
            self.assertTrue(caught.exception.sentence.endswith("."), caught.exception.sentence)

    def test_a_photograph_of_a_card_that_is_none_is_said(self) -> None:
        for files in ([b"no picture", b""], [_grey(), b"PK\x03\x04 rubbish"]):
            with self.assertRaises(StrataError) as caught:
                run_guarded("panel_photograph", files, {"around": None, "corners": None})
            self.assertTrue(caught.exception.sentence.endswith("."))

    def test_every_task_is_known_here(self) -> None:
        drawers = {"drawer_file", "swatch_card", "card_photograph", "readings", "picture_colours"}
        sets = {"measure", "measures", "set", "trace", "sheet", "sheets", "photographs", "bundle"}
        # an order of work comes from our own side: it is there for its processor, not for its danger
        self.assertEqual(set(TASKS), sets | drawers | {"order", "panel_photograph"})


def quick_limits() -> mock._patch[tuple[str, ...]]:
    """Children that may compute for a second or two only."""
    script = "import strata.guard.__main__ as inside; inside.READING_SECONDS = inside.LOADING_SECONDS = 0; inside.main()"
    return mock.patch.object(ready, "COMMAND", (sys.executable, "-c", script))


def _grey() -> bytes:
    from PIL import Image

    out = io.BytesIO()
    Image.new("RGB", (400, 500), (120, 120, 120)).save(out, "PNG")
    return out.getvalue()


def _area(ring: list[float]) -> float:
    """Of a closed ring x, y, x, y ... by the shoelace formula."""
    x, y = ring[0::2], ring[1::2]
    return abs(sum(x[i] * y[i + 1] - x[i + 1] * y[i] for i in range(len(x) - 1))) / 2
