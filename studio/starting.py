"""What a process of the server does when it starts, beside its first answers."""

from __future__ import annotations

import gc
import threading

from django.conf import settings

_REST = 0.1
# seconds between two builds that are worked out ahead


def load() -> None:
    """Every view and what it stands on, once, before the processes part: each by itself loaded it for two seconds and kept 80 MB of it.

    What a job of any kind is done by is known once all addresses are: before that, none can be taken up. Nothing may run or be
    open afterwards that processes cannot share, a thread or a database.
    """
    from django.urls import get_resolver

    _ = get_resolver().url_patterns
    seldom_collected()


def start() -> None:
    """Share the room for readings with the other processes, and begin the rest on a thread of its own."""
    from strata.guard import child

    child.ROOM.folder = settings.DATA_DIR / "readers"
    threading.Thread(target=_warm, daemon=True, name="warm").start()


def end() -> None:
    """What is under way is put back for the next process that starts."""
    from strata.guard import child
    from studio.jobs import queue

    child.READY.let_go()
    queue.let_be()


def seldom_collected() -> None:
    """What is loaded is there to stay, and rubbish that refers to itself is looked for seldom.

    Looked for as often as Python does, among all that a house of thousands of pads keeps, it took a third of every long answer.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 20, 20)


def _warm() -> None:
    # the first colour difference and the first distance map would cost half a second each; whoever waits for the start does
    # not wait for these
    from strata.optics.colour import difference

    difference((50.0, 0.0, 0.0), (51.0, 0.0, 0.0))
    import scipy.ndimage  # noqa: F401

    from strata.guard import child
    from studio.jobs import runs
    from studio.jobs.queue import take_up
    from studio.sets.imports import sweep

    sweep()
    runs.sweep()
    take_up()
    child.READY.keep()
    _catch_up()


def _catch_up() -> None:
    """What an upgrade makes anew is made before somebody waits for it, by one process, with room for others between."""
    from django.db import close_old_connections

    from strata.guard import held
    from studio.builds.summaries import catch_up
    from studio.jobs import queue

    alone = held.hold(settings.DATA_DIR / "catching-up.lock")
    if alone is None:
        return
    try:
        catch_up(lambda: queue.ends_within(_REST))
    finally:
        alone.close()
        close_old_connections()
