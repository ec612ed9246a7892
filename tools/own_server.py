"""A server of its own to try things on, with makers who are signed in; used by the tools that load and attack it."""

from __future__ import annotations

import http.client
import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parents[1]
TOKEN = "endure" * 5 + "ab"
STUCK = 60.0
# seconds after which a request that is not answered counts as lost

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


class Line:
    """A maker's way to the server: one connection that is kept, as a browser keeps its own, or a new one each time."""

    def __init__(self, port: int, session: str, kept: bool = True) -> None:
        self.kept = kept
        self._own = http.client.HTTPConnection("127.0.0.1", port, timeout=STUCK)
        self._head = {
            "Cookie": f"sessionid={session}; csrftoken={TOKEN}",
            "X-CSRFToken": TOKEN,
            "Referer": f"http://127.0.0.1:{port}/",
        }

    def ask(
        self, method: str, path: str, body: Any = None, kind: str = "application/json"
    ) -> tuple[int, bytes]:
        """(status, body) of one request; status 0 where the server did not answer. The connection is made where there is none."""
        data = body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
        try:
            self._own.request(method, f"/api/{path}", data, {**self._head, "Content-Type": kind})
            answer = self._own.getresponse()
            found = answer.status, answer.read()
        except (OSError, http.client.HTTPException):
            self._own.close()
            return 0, b""
        if not self.kept:
            self._own.close()
        return found


def form(edge: str, values: dict[str, str], files: list[tuple[str, str, bytes]]) -> bytes:
    """A multipart body; ``files`` are (field, file name, bytes)."""
    parts = [
        f'--{edge}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n'.encode()
        for k, v in values.items()
    ]
    for field, name, data in files:
        head = f'--{edge}\r\nContent-Disposition: form-data; name="{field}"; filename="{name}"\r\n\r\n'
        parts += [head.encode(), data, b"\r\n"]
    return b"".join([*parts, f"--{edge}--\r\n".encode()])


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
