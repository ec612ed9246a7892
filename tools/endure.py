"""What a small server bears: ten makers at once, and being killed while it works. ``make endure MINUTES=10 KILLS=100``.

Every change that was answered must be there afterwards, once; nothing may be answered with a fault. Nothing here is a
test: it prints what it measured.
"""

from __future__ import annotations

import argparse
import http.client
import json
import os
import random
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections import Counter, defaultdict
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
MAKERS = 10
TOKEN = "endure" * 5 + "ab"
STUCK = 60.0
# seconds after which a request that is not answered counts as lost


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

    def __init__(self, port: int, who: dict[str, Any], seed: int, until: float) -> None:
        super().__init__(daemon=True)
        self.port, self.who, self.until, self.rng = port, who, until, random.Random(seed)
        self.tally, self.stop = Tally(), threading.Event()

    def call(
        self, name: str, method: str, path: str, body: Any = None, kind: str = "application/json"
    ) -> tuple[int, bytes]:
        data = body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
        head = {
            "Cookie": f"sessionid={self.who['session']}; csrftoken={TOKEN}",
            "X-CSRFToken": TOKEN,
            "Referer": f"http://127.0.0.1:{self.port}/",
            "Content-Type": kind,
        }
        asked = urllib.request.Request(f"http://127.0.0.1:{self.port}/api/{path}", data, head, method=method)
        began = time.perf_counter()
        try:
            with urllib.request.urlopen(asked, timeout=STUCK) as answer:
                status, found = answer.status, answer.read()
        except urllib.error.HTTPError as error:
            status, found = error.code, error.read()
        except (OSError, http.client.HTTPException):
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
        parts = [f'--{edge}\r\nContent-Disposition: form-data; name="name"\r\n\r\nKoi again\r\n'.encode()]
        parts.append(
            f'--{edge}\r\nContent-Disposition: form-data; name="files"; filename="koi.svg"\r\n\r\n'.encode()
        )
        body = b"".join([*parts, drawing, f"\r\n--{edge}--\r\n".encode()])
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


SEED = """
import json, sys
from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY, get_user_model
from django.contrib.sessions.backends.db import SessionStore
from django.conf import settings
from studio.builds.looking import stored
from studio.builds.management.commands.seed_demo import seed
from studio.builds.models import Colouring
from studio.inks.models import Ink
found = []
for n in range(int(sys.argv[1])):
    user, new = get_user_model().objects.get_or_create(username=f"maker{n}")
    if new:
        seed(user)
    session = SessionStore()
    session[SESSION_KEY], session[BACKEND_SESSION_KEY] = str(user.pk), settings.AUTHENTICATION_BACKENDS[-1]
    session[HASH_SESSION_KEY] = user.get_session_auth_hash()
    session.create()
    own = [c for c in Colouring.objects.filter(build__owner=user, gone=None) if stored(c)["passes"]]
    found.append({"session": session.session_key, "inks": list(Ink.objects.filter(owner=user).values_list("pk", flat=True)),
        "colourings": [{"id": c.pk, "passes": [p["key"] for p in stored(c)["passes"]]} for c in own]})
print("SEEDED" + json.dumps(found))
"""
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


def within(data: Path, text: str, *words: str, given: str = "") -> Any:
    """A few lines of Python with the studio's models, and what they print last."""
    head = "import django; django.setup()\n"
    env = {
        **os.environ,
        "DJANGO_SETTINGS_MODULE": "studio.settings",
        "ANASTRATA_DATA": str(data),
        "ANASTRATA_LOG": "CRITICAL",
    }
    done = subprocess.run(
        [sys.executable, "-c", head + text, *words],
        cwd=ROOT,
        env=env,
        input=given,
        capture_output=True,
        text=True,
        check=False,
    )
    lines = [line for line in done.stdout.splitlines() if line.startswith(("SEEDED", "COUNTED"))]
    if not lines:
        raise SystemExit(done.stderr[-2000:])
    return json.loads(lines[-1][lines[-1].index("{" if lines[-1].startswith("COUNTED") else "[") :])


class Server:
    """The real one, in a process group of its own."""

    def __init__(self, data: Path, port: int) -> None:
        self.data, self.port = data, port
        self.log = (data / "server.log").open("ab")
        self.started = 0.0
        self.begin()

    def begin(self) -> float:
        """Seconds until it answers."""
        began = time.monotonic()
        self.process = subprocess.Popen(
            [sys.executable, str(ROOT / "tools" / "serve.py"), "--port", str(self.port)],
            cwd=ROOT, env={**os.environ, "ANASTRATA_DATA": str(self.data), "ANASTRATA_LOG": "ERROR"},
            stdout=self.log, stderr=self.log, start_new_session=True,
        )  # fmt: skip
        while time.monotonic() - began < 90:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", self.port)) == 0:
                    try:
                        urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health", timeout=20).read()
                        return time.monotonic() - began
                    except OSError:
                        pass
            time.sleep(0.05)
        raise SystemExit("the server does not answer")

    def kill(self) -> None:
        """kill -9, the whole group, as a power cut would."""
        os.killpg(self.process.pid, signal.SIGKILL)
        self.process.wait()


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
    wanted = parser.parse_args()
    with tempfile.TemporaryDirectory() as place:
        data = Path(place)
        server = Server(data, wanted.port)
        makers = within(data, SEED, str(MAKERS))
        if wanted.minutes:
            until = time.monotonic() + 60 * wanted.minutes
            working = [Maker(wanted.port, who, n, until) for n, who in enumerate(makers)]
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
    working = [Maker(server.port, who, 100 + n, time.monotonic() + 1e6) for n, who in enumerate(makers)]
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
