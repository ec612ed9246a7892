"""Files that mean harm, sent to a real server: what is said, how soon, in how much memory, and who else has to wait.
``make hostile``.

Each is brought in as a maker would; a neighbour asks for her drawer all the while. Nothing here is a test: it prints
what it measured, and names every file that took more than the bars allow.
"""

from __future__ import annotations

import argparse
import json
import sys
import tempfile
import threading
import time
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import psutil

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tools import hostile_files
from tools.own_server import SEED, Line, Server, form, within

MOST_CPU, MOST_MEMORY, MOST_WAIT = 10.0, 1200.0, 0.5
# seconds of processor, MB of the process tree, seconds that a neighbour waits


class Watch(threading.Thread):
    """The server's processes and a neighbour's waiting, looked at while files are read."""

    def __init__(self, server: Server, neighbour: Line) -> None:
        super().__init__(daemon=True)
        self.tree, self.neighbour = psutil.Process(server.process.pid), neighbour
        self.most, self.longest = 0.0, 0.0
        self.waited: list[float] = []
        threading.Thread(target=self.ask, daemon=True).start()

    def processes(self) -> list[psutil.Process]:
        try:
            return [self.tree, *self.tree.children(recursive=True)]
        except psutil.Error:
            return []

    def cpu(self) -> float:
        """Seconds of processor of the server and of every child that has ended."""
        total = 0.0
        for process in self.processes():
            try:
                t = process.cpu_times()
                total += t.user + t.system + t.children_user + t.children_system
            except psutil.Error:
                continue
        return total

    def run(self) -> None:
        while True:
            held = 0.0
            for process in self.processes():
                try:
                    held += process.memory_full_info().pss
                except psutil.Error:
                    continue
            self.most = max(self.most, held / 1e6)
            time.sleep(0.05)

    def ask(self) -> None:
        while True:
            began = time.perf_counter()
            self.neighbour.ask("GET", "inks")
            self.longest = max(self.longest, time.perf_counter() - began)
            self.waited.append(time.perf_counter() - began)
            time.sleep(0.05)


@dataclass
class Sender:
    """The maker who sends."""

    line: Line

    def call(
        self, method: str, path: str, body: Any = None, kind: str = "application/json"
    ) -> tuple[int, Any]:
        status, found = self.line.ask(method, path, body, kind)
        try:
            return status, json.loads(found or b"{}")
        except ValueError:
            return status, {}

    def send(self, path: str, field: str, called: str, data: bytes, **values: str) -> tuple[int, Any]:
        edge = uuid.uuid4().hex
        return self.call(
            "POST", path, form(edge, values, [(field, called, data)]), f"multipart/form-data; boundary={edge}"
        )

    def followed(self, path: str, name: str, data: bytes, field: str) -> tuple[int, str, str]:
        """(status, state, sentence) in the end; let go afterwards."""
        status, found = self.send(path, field, name, data, name="Sent")
        if status >= 400 or status == 0:
            return status, "refused", str(found.get("sentence", ""))
        where = f"{path}/{found['id']}"
        for _ in range(1200):
            status, found = self.call("GET", where)
            if found.get("state") in ("ready", "read", "failed", "stopped"):
                break
            time.sleep(0.05)
        self.call("DELETE", where)
        return status, str(found.get("state")), str(found.get("sentence", ""))


def kinds(good: bytes) -> Iterator[tuple[str, str, str, bytes, str, str]]:
    """(kind, name, file name, bytes, address, field) of every file."""
    for name, data in hostile_files.drawings():
        yield (
            "drawings",
            name,
            "drawn.svgz" if data[:2] == b"\x1f\x8b" else "drawn.svg",
            data,
            "imports",
            "files",
        )
    for name, data in hostile_files.bundles(good):
        yield "bundles", name, "set.zip", data, "imports", "files"
    for name, data in hostile_files.tables():
        yield "tables", name, name, data, "ink-imports", "file"
    for name, data in hostile_files.pictures():
        yield "pictures", name, name, data, "imports", "files"


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--port", type=int, default=8032)
    parser.add_argument("--only", nargs="*", help="names of files")
    parser.add_argument("--kinds", nargs="*", help="drawings, bundles, tables, pictures")
    asked = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        data = Path(place)
        server = Server(data, asked.port)
        one, other = within(data, SEED, "2")
        sender, neighbour = Sender(Line(asked.port, one["session"])), Line(asked.port, other["session"])
        _, sets = sender.call("GET", "sets")
        pk = (sets if isinstance(sets, list) else sets["sets"])[0]["id"]
        _, good = sender.line.ask("GET", f"sets/{pk}/bundle.zip")
        for _ in range(3):
            neighbour.ask("GET", "inks")
        watch = Watch(server, neighbour)
        watch.start()
        worst, counts, over, mute = {}, {}, [], []
        for kind, name, file, sent, address, field in kinds(good):
            if (asked.only and name not in asked.only) or (asked.kinds and kind not in asked.kinds):
                continue
            watch.most = watch.longest = 0.0
            cpu, began = watch.cpu(), time.perf_counter()
            status, state, sentence = sender.followed(address, file, sent, field)
            took = watch.cpu() - cpu, time.perf_counter() - began, watch.most, watch.longest
            counts[kind] = counts.get(kind, 0) + 1
            worst[kind] = [max(a, b) for a, b in zip(worst.get(kind, [0.0] * 4), took, strict=True)]
            line = f"{kind:9s} {name:32s} {status} {state:8s} {took[0]:5.1f} s CPU {took[1]:5.1f} s {took[2]:5.0f} MB {1000 * took[3]:5.0f} ms  {sentence[:90]}"
            print(line, flush=True)
            if took[0] > MOST_CPU or took[2] > MOST_MEMORY or took[3] > MOST_WAIT or status in (0, 500):
                over.append(line)
            if state in ("refused", "failed") and not sentence:
                mute.append(line)
        for kind, most in worst.items():
            print(
                f"{counts[kind]:3d} {kind:9s} at most {most[0]:.1f} s CPU, {most[2]:.0f} MB, a neighbour waited {1000 * most[3]:.0f} ms"
            )
        print(f"{len(over)} over a bar, {len(mute)} refused without a sentence", *over, *mute, sep="\n  ")
        server.kill()


if __name__ == "__main__":
    main()
