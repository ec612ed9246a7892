"""What a small server bears: ten makers at once, and being killed while it works. ``make endure MINUTES=10 KILLS=100``.

Every change that was answered must be there afterwards, once; nothing may be answered with a fault. Nothing here is a
test: it prints what it measured.
"""

from __future__ import annotations

import argparse
import json
import random
import statistics
import sys
import tempfile
import threading
import time
import uuid
from collections import Counter, defaultdict
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from tools.own_server import ROOT, SEED, STUCK, Line, Server, form, within

MAKERS = 10


@dataclass
class Tally:
    """What one maker was answered."""

    times: dict[str, list[float]] = field(default_factory=lambda: defaultdict(list))
    faults: list[str] = field(default_factory=list)
    refused: Counter[str] = field(default_factory=Counter)
    kept: dict[int, tuple[int, str, float]] = field(default_factory=dict)
    # of each colouring the last edit that was answered: revision, pass, coats
    edits: int = 0
    cut: int = 0
    # requests that a killed server did not answer


class Maker(threading.Thread):
    """One who works: looks, edits, takes back, asks for pictures, brings a drawing in."""

    def __init__(self, port: int, who: dict[str, Any], seed: int, until: float, kept: bool) -> None:
        super().__init__(daemon=True)
        self.who, self.until, self.rng = who, until, random.Random(seed)
        self.line = Line(port, who["session"], kept)
        self.tally, self.stop = Tally(), threading.Event()

    def call(
        self, name: str, method: str, path: str, body: Any = None, kind: str = "application/json"
    ) -> tuple[int, bytes]:
        began = time.perf_counter()
        status, found = self.line.ask(method, path, body, kind)
        if not status:
            self.tally.cut += 1
            return 0, b""
        self.tally.times[name].append(time.perf_counter() - began)
        if status >= 500:
            self.tally.faults.append(f"{name} {status} {found[:200]!r}")
        elif status >= 400:
            self.tally.refused[f"{name} {status}"] += 1
        return status, found

    def edit(self) -> None:
        """One coat more or less on a pass: made once, whatever happens to the answer."""
        own = self.rng.choice(self.who["colourings"])
        status, found = self.call("look", "GET", f"colourings/{own['id']}")
        if status != 200:
            return
        state = json.loads(found)
        values = {"pass": self.rng.choice(own["passes"]), "coats": self.rng.choice([1, 2, 3])}
        body = {
            "revision": state["revision"],
            "kind": "set_coats",
            "values": values,
            "edit_key": uuid.uuid4().hex,
        }
        status, found = self.call("edit", "POST", f"colourings/{own['id']}/edits", body)
        if status == 200:
            self.tally.kept[own["id"]] = json.loads(found)["revision"], values["pass"], values["coats"]
            self.tally.edits += 1

    def act(self) -> None:
        own = self.rng.choice(self.who["colourings"])["id"]
        deed = self.rng.random()
        if deed < 0.35:
            self.edit()
        elif deed < 0.5:
            self.call("home", "GET", "builds")
        elif deed < 0.62:
            self.call("picture", "GET", f"colourings/{own}/picture?width=800")
        elif deed < 0.72:
            self.call("inks", "GET", "inks")
        elif deed < 0.80:
            self.call("table", "GET", f"colourings/{own}/table")
        elif deed < 0.88:
            self.call("panel", "GET", f"colourings/{own}/panel")
        elif deed < 0.95:
            pad = self.rng.choice(self.who["inks"])
            self.call(
                "pad", "PATCH", "inks", {"ids": [pad], "values": {"place": f"shelf {self.rng.randrange(99)}"}}
            )
        else:
            self.bring_in()

    def bring_in(self) -> None:
        edge = uuid.uuid4().hex
        drawing = (ROOT / "demo" / "sets" / "koi-and-lantern.svg").read_bytes()
        body = form(edge, {"name": "Koi again"}, [("files", "koi.svg", drawing)])
        status, found = self.call(
            "bring in", "POST", "imports", body, f"multipart/form-data; boundary={edge}"
        )
        if status == 201:
            pk = json.loads(found)["id"]
            for _ in range(60):
                time.sleep(0.5)
                status, found = self.call("follow", "GET", f"imports/{pk}")
                if status != 200 or json.loads(found)["state"] in ("ready", "failed", "stopped"):
                    break
            self.call("let go", "DELETE", f"imports/{pk}")

    def run(self) -> None:
        while time.monotonic() < self.until and not self.stop.is_set():
            self.act()
            time.sleep(self.rng.expovariate(1.0))


COUNT = """
import json, sys
from studio.builds.looking import stored
from studio.builds.models import Colouring
from django.db import connection
with connection.cursor() as cursor:
    cursor.execute("PRAGMA integrity_check")
    sound = cursor.fetchone()[0]
lost, seen = [], json.load(sys.stdin)
for pk, (revision, key, coats) in seen.items():
    row = Colouring.objects.select_related("build").get(pk=pk)
    now = next((p["coats"] for p in stored(row)["passes"] if p["key"] == key), None)
    if row.revision < revision or (row.revision == revision and now != coats):
        lost.append(pk)
print("COUNTED" + json.dumps({"database": sound, "colourings looked at": len(seen), "lost": lost}))
"""


def told(makers: list[Maker], seconds: float) -> None:
    times: dict[str, list[float]] = defaultdict(list)
    for maker in makers:
        for name, own in maker.tally.times.items():
            times[name] += own
    every = sorted(t for own in times.values() for t in own)
    print(
        f"{len(every)} requests in {seconds:.0f} s; median {1000 * statistics.median(every):.0f} ms, p95 {1000 * every[int(0.95 * len(every))]:.0f} ms, longest {every[-1]:.2f} s"
    )
    for name, own in sorted(times.items()):
        own.sort()
        print(
            f"  {name:10s} {len(own):6d}  median {1000 * statistics.median(own):6.0f}  p95 {1000 * own[int(0.95 * len(own))]:6.0f} ms"
        )
    faults = [f for m in makers for f in m.tally.faults]
    refused = sum((m.tally.refused for m in makers), Counter())
    print(f"  {len(faults)} faults, refused: {dict(refused)}", *faults[:5], sep="\n    ")


def counted(data: Path, makers: list[Maker]) -> Any:
    """What is there of what was answered."""
    kept: dict[int, tuple[int, str, float]] = {}
    for maker in makers:
        kept |= maker.tally.kept
    return within(data, COUNT, given=json.dumps(kept))


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--minutes", type=float, default=2)
    parser.add_argument("--kills", type=int, default=20)
    parser.add_argument("--port", type=int, default=8031)
    parser.add_argument("--anew", action="store_true", help="each request on a connection of its own")
    wanted = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        data = Path(place)
        server = Server(data, wanted.port)
        makers = within(data, SEED, str(MAKERS))
        if wanted.minutes:
            until = time.monotonic() + 60 * wanted.minutes
            kept = not wanted.anew
            working = [Maker(wanted.port, who, n, until, kept) for n, who in enumerate(makers)]
            for maker in working:
                maker.start()
            for maker in working:
                maker.join()
            print(f"Ten makers, {wanted.minutes:g} minutes")
            told(working, 60 * wanted.minutes)
            print(f"  {sum(m.tally.edits for m in working)} edits answered:", counted(data, working))
        if wanted.kills:
            killed(server, makers, wanted.kills)
        server.kill()


def killed(server: Server, makers: list[dict[str, Any]], times: int) -> None:
    working = [
        Maker(server.port, who, 100 + n, time.monotonic() + 1e6, kept=True) for n, who in enumerate(makers)
    ]
    for maker in working:
        maker.start()
    rng, back = random.Random(5), []
    for _ in range(times):
        time.sleep(rng.uniform(0.3, 3.0))
        server.kill()
        back.append(server.begin())
    for maker in working:
        maker.stop.set()
    for maker in working:
        maker.join(STUCK)
    print(
        f"Killed {times} times while ten work; back after {statistics.median(back):.1f} s (median), {max(back):.1f} s at most"
    )
    edits, cut = sum(m.tally.edits for m in working), sum(m.tally.cut for m in working)
    print(f"  {edits} edits answered, {cut} requests cut:", counted(server.data, working))
    faults = [f for m in working for f in m.tally.faults]
    print(f"  {len(faults)} faults", *faults[:5], sep="\n    ")


if __name__ == "__main__":
    main()
