"""Locks between processes: a file that is held as long as it is open, whatever ends who holds it."""

from __future__ import annotations

import fcntl
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO


def hold(path: Path, shared: bool = False, wait: bool = False) -> IO[str] | None:
    """The open file, held until it is closed; None where another holds it (``shared``: alone), unless it is waited for."""
    file = path.open("a")
    try:
        fcntl.flock(file, (fcntl.LOCK_SH if shared else fcntl.LOCK_EX) | (0 if wait else fcntl.LOCK_NB))
    except OSError:
        file.close()
        return None
    return file


def is_held(path: Path) -> bool:
    """Whether some process holds it now."""
    if not path.exists():
        return False
    file = hold(path)
    if file is None:
        return True
    file.close()
    return False


class Room:
    """For so many at once (``most``), in all processes that look for it in the same folder."""

    def __init__(self, folder: Path, most: int) -> None:
        self.folder, self.most = folder, most
        self._freed = threading.Event()

    @contextmanager
    def taken(self, waits: Callable[[], None], later: bool = False) -> Iterator[None]:
        """A place in it. While there is none ``waits`` is called a few times a second; it may raise.

        What nobody waits for (``later``) leaves all places but one to the others.
        """
        self.folder.mkdir(parents=True, exist_ok=True)
        while (place := self._place(1 if later else self.most)) is None:
            waits()
            # another process tells nothing when it is done
            self._freed.wait(0.1)
            self._freed.clear()
        try:
            yield
        finally:
            place.close()
            self._freed.set()

    def _place(self, most: int) -> IO[str] | None:
        # from the last on: the first is the one that is left for what may wait
        places = (hold(self.folder / f"{n}.lock") for n in reversed(range(most)))
        return next((place for place in places if place is not None), None)
