"""A long row of like things done by two processes: this one from its beginning, a second one from its end."""

from __future__ import annotations

import multiprocessing
import os
from collections.abc import Callable, Sequence
from contextlib import suppress
from multiprocessing.connection import Connection

from strata.progress import STEPS, Found, Given


def both_ends(
    work: Callable[[Given], Found], given: Sequence[Given], say: Callable[[float], None]
) -> list[Found]:
    """As ``strata.progress.Each``; raises what ``work`` raises.

    Neither waits for the other: where the second process gets little of the processor, or ends, the first does more, and
    where there is one core there is none. It is forked, so ``work`` may be any function, and so this is for a process
    that does nothing else meanwhile: the guarded child.
    """
    n = len(given)
    first: list[Found] = []
    last: list[Found] = []
    helper, answers = _second(work, given) if len(os.sched_getaffinity(0)) > 1 else (None, None)
    try:
        while len(first) + len(last) < n:
            if len(first) % STEPS == 0:
                say((len(first) + len(last)) / n)
            first.append(work(given[len(first)]))
            if answers is not None:
                with suppress(EOFError, OSError):
                    while answers.poll():
                        last.append(answers.recv())
    finally:
        if helper is not None:
            helper.kill()
            helper.join()
    # the thing in the middle may have been done by both
    return [*first, *last[: n - len(first)][::-1]]


def _second(
    work: Callable[[Given], Found], given: Sequence[Given]
) -> tuple[multiprocessing.process.BaseProcess, Connection] | tuple[None, None]:
    """A second process at work from the end, and what it answers; none where the system refuses one."""
    here = multiprocessing.get_context("fork")
    answers, there = here.Pipe(duplex=False)
    helper = here.Process(target=_from_the_end, args=(work, given, answers, there), daemon=True)
    try:
        helper.start()
    except OSError:
        return None, None
    finally:
        there.close()
    return helper, answers


def _from_the_end(
    work: Callable[[Given], Found], given: Sequence[Given], answers: Connection, there: Connection
) -> None:
    # nobody reads any more once the first process is killed: the next answer then ends this one
    answers.close()
    # whoever follows the first process waits until nobody holds its outputs: a second one may outlive it by one thing
    nothing = os.open(os.devnull, os.O_RDWR)
    for stream in range(3):
        os.dup2(nothing, stream)
    for one in reversed(given):
        there.send(work(one))
