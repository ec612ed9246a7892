"""Gunicorn's threaded worker with a limit to how long a request may take to arrive.

A thread reads the head of a request, and gunicorn lets it wait for ever: a
few half-sent requests would hold all threads. Here a head has so many seconds
in all, a body so many from one piece of it to the next.
"""

from __future__ import annotations

import contextlib
import os
import socket
import threading
import time
from typing import Any

from gunicorn.workers.gthread import ThreadWorker

HEAD = float(os.environ.get("ANASTRATA_PATIENCE", "15"))
BODY = 30.0
# seconds


class _Watch:
    """Ends connections whose request head is not there in time."""

    def __init__(self) -> None:
        self._lock, self._until = threading.Lock(), dict[int, tuple[float, socket.socket]]()
        threading.Thread(target=self._run, daemon=True, name="watch").start()

    def begin(self, sock: socket.socket) -> None:
        with self._lock:
            self._until[id(sock)] = time.monotonic() + HEAD, sock

    def end(self, sock: socket.socket) -> None:
        with self._lock:
            self._until.pop(id(sock), None)

    def _run(self) -> None:
        while True:
            time.sleep(min(1.0, HEAD / 4))
            now = time.monotonic()
            with self._lock:
                late = [key for key, (until, _) in self._until.items() if until < now]
                for key in late:
                    _, sock = self._until.pop(key)
                    # whoever waits to read from it reads its end
                    with contextlib.suppress(OSError):
                        sock.shutdown(socket.SHUT_RDWR)


class Patient(ThreadWorker):  # type: ignore[misc]
    """The threaded worker, patient for so long and no longer."""

    def init_process(self) -> None:
        """In the worker's own process."""
        self.watch = _Watch()
        from studio.starting import start

        start()
        super().init_process()

    def run(self) -> None:
        """Until it is told to end and has answered what was asked."""
        try:
            super().run()
        finally:
            from studio.starting import end

            end()

    def handle(self, conn: Any) -> Any:
        """One request of a connection, from its first byte on."""
        self.watch.begin(conn.sock)
        try:
            return super().handle(conn)
        finally:
            self.watch.end(conn.sock)

    def handle_request(self, req: Any, conn: Any) -> Any:
        """Its head is there."""
        self.watch.end(conn.sock)
        conn.sock.settimeout(BODY)
        return super().handle_request(req, conn)
