"""Pictures of a colouring, and those begun before they are asked for."""

from __future__ import annotations

import logging
from concurrent.futures import Future, ThreadPoolExecutor
from threading import Lock

from cachetools import LRUCache

from strata.picture.panel import Bytes
from strata.picture.shown import panel_after
from studio.builds.looking import Outlook, outlook
from studio.builds.models import Colouring

log = logging.getLogger("studio.builds")
_ASKED: LRUCache[int, tuple[int, int | None]] = LRUCache(64)
_LOCK = Lock()
_AHEAD = ThreadPoolExecutor(max_workers=1, thread_name_prefix="ahead")


def asked(colouring: Colouring, width: int, after: int | None) -> None:
    """Remember how a colouring is being looked at, for ``foresee``."""
    with _LOCK:
        _ASKED[colouring.pk] = (width, after)


def foresee(colouring: Colouring) -> None:
    """Begin the picture that the browser is about to ask for, while the answer is on its way to it."""
    with _LOCK:
        wanted = _ASKED.get(colouring.pk)
    if wanted is not None:
        width, after = wanted
        _AHEAD.submit(picture, outlook(colouring), width, after, False).add_done_callback(_said)


def _said(begun: Future[Bytes]) -> None:
    error = begun.exception()
    if error is not None:
        # nobody waits for it: without this line it would vanish
        log.error("a picture begun ahead failed", exc_info=error)


def picture(seen: Outlook, width: int, after: int | None, wet: bool) -> Bytes:
    """The panel after so many passes of the sequence (all by default), ``width`` px wide.

    ``wet`` shows the last pass as it looks before it has dried back.
    """
    count = len(seen.sequence.passes) if after is None else after
    return panel_after(seen.scene, seen.sequence.wet, seen.sequence.passes[:count], width, wet)
