"""The table: resume, move on, tick."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from strata.errors import BadValue
from strata.order import Sequence
from studio.bench.models import Run
from studio.builds.looking import outlook
from studio.builds.models import Colouring
from studio.builds.state import AtTable
from studio.history.contract import Stale, check, once

MOST_TICKS = 500
END = "end"
# key of the place behind the last step


def signature(sequence: Sequence) -> str:
    """Changes when the steps are others or in another order; what they are called does not matter."""
    return hashlib.sha256("|".join(s.key for s in sequence.steps).encode()).hexdigest()[:32]


def place_of(sequence: Sequence, run: Run) -> int:
    """The step a run is at in a sequence that may have changed since.

    The same step, as long as it still comes right behind what is done; else
    the first that leads to a pass that is not.
    """
    resumed = resume_step(sequence, run.done)
    keys = [s.key for s in sequence.steps]
    if run.step_key not in keys:
        return resumed
    at = keys.index(run.step_key)
    done = {s.pass_key for s in sequence.steps[:at] if s.kind == "ink"}
    return at if done == set(run.done) else resumed


def resume_step(sequence: Sequence, done: list[str]) -> int:
    """The first step that still leads to a pass not done: after the last done pass's own step."""
    last = 0
    for i, step in enumerate(sequence.steps):
        if step.kind == "ink":
            if step.pass_key not in done:
                return last
            last = i + 1
    return last


def _now(sequence: Sequence, run: Run | None) -> tuple[int, bool]:
    """The step a run is at, and whether that is still the step it was kept at."""
    if run is None:
        return 0, True
    if run.signature == signature(sequence):
        return min(run.step, len(sequence.steps)), True
    step = place_of(sequence, run)
    here = sequence.steps[step].key if step < len(sequence.steps) else END
    return step, here == run.step_key


def table_json(colouring: Colouring) -> dict[str, Any]:
    """Where the maker is; the place is found again when the order has changed since."""
    sequence = outlook(colouring).sequence
    run = Run.objects.filter(colouring=colouring).first()
    step, same = _now(sequence, run)
    started = run.wait_started if run is not None and same else None
    now = signature(sequence)
    return {
        "signature": now,
        "revision": run.revision if run is not None else 0,
        "step": step,
        "ticks": run.ticks if run is not None and same else [],
        "wait_started": started.isoformat() if started else None,
        "changed": run is not None and run.signature != now,
    }


def keep(colouring: Colouring, values: dict[str, Any]) -> dict[str, Any]:
    """Keep where the maker is.

    Raises BadValue for a step that does not exist, Stale when the order or
    the place has changed elsewhere since ``revision``.
    """
    sequence = outlook(colouring).sequence

    def make() -> Run:
        run = Run.objects.filter(colouring=colouring).first()
        revision = run.revision if run is not None else 0
        if values["signature"] != signature(sequence):
            raise Stale(revision, "the order of work", "table")
        label = f"it is at step {run.step + 1} there" if run is not None else None
        check(values.get("revision"), revision, label, "table")
        return _moved(colouring, sequence, run, values)

    scope = f"table:{colouring.pk}"
    owner = colouring.build.owner
    once(owner, scope, values.get("edit_key", ""), make, lambda _: Run.objects.get(colouring=colouring))
    return table_json(colouring)


def _moved(colouring: Colouring, sequence: Sequence, run: Run | None, values: dict[str, Any]) -> Run:
    step: int = values["step"]
    if not 0 <= step <= len(sequence.steps):
        raise BadValue(f"There are {len(sequence.steps)} steps.", "step")
    started: datetime | None = values.get("wait_started")
    row = run or Run(colouring=colouring, revision=0)
    row.signature, row.step = signature(sequence), step
    row.step_key = sequence.steps[step].key if step < len(sequence.steps) else END
    row.ticks, row.wait_started = values["ticks"][:MOST_TICKS], started
    row.done = [s.pass_key for s in sequence.steps[:step] if s.kind == "ink"]
    row.revision += 1
    row.save()
    return row


def at_table(colourings: Iterable[Colouring]) -> dict[int, AtTable]:
    """Of every colouring that is being worked on: where it is, by its number."""
    by_pk = {c.pk: c for c in colourings}
    found = {}
    for run in Run.objects.filter(colouring__in=by_pk, step__gt=0):
        colouring = by_pk[run.colouring_id]
        steps = outlook(colouring).sequence
        step, _ = _now(steps, run)
        done = step >= len(steps.steps)
        following = "Done: every step is ticked off" if done else steps.steps[step].sentence
        found[colouring.pk] = AtTable(step, following)
    return found
