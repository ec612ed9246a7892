"""The table: resume, move on, tick."""

from __future__ import annotations

import hashlib
from datetime import datetime
from typing import Any

from strata.errors import BadValue
from strata.order import Sequence
from studio.bench.models import Run
from studio.builds import services
from studio.builds.models import Build

MOST_TICKS = 500


def signature(sequence: Sequence) -> str:
    """Changes when any step does."""
    text = "|".join(f"{s.kind}:{s.pass_key}:{s.sheet}:{s.sentence}" for s in sequence.steps)
    return hashlib.sha256(text.encode()).hexdigest()[:32]


def resume_step(sequence: Sequence, done: list[str]) -> int:
    """The first step that still leads to a pass not done: after the last done pass's own step."""
    last = 0
    for i, step in enumerate(sequence.steps):
        if step.kind == "ink":
            if step.pass_key not in done:
                return last
            last = i + 1
    return last


def table_json(build: Build) -> dict[str, Any]:
    """Where the maker is; the place is found again when the plan has changed since."""
    sequence = services.outlook(build).sequence
    run = Run.objects.filter(build=build).first()
    now = signature(sequence)
    if run is None:
        return {"signature": now, "step": 0, "ticks": [], "wait_started": None, "changed": False}
    changed = run.signature != now
    step = resume_step(sequence, run.done) if changed else min(run.step, len(sequence.steps))
    return {
        "signature": now,
        "step": step,
        "ticks": [] if changed else run.ticks,
        "wait_started": None if changed or run.wait_started is None else run.wait_started.isoformat(),
        "changed": changed,
    }


def keep(build: Build, values: dict[str, Any]) -> dict[str, Any]:
    """Keep where the maker is. Raises BadValue for a step that does not exist."""
    sequence = services.outlook(build).sequence
    now = signature(sequence)
    if values["signature"] != now:
        raise BadValue("The order has changed since; here it is as it stands now.", "signature")
    step: int = values["step"]
    if not 0 <= step <= len(sequence.steps):
        raise BadValue(f"There are {len(sequence.steps)} steps.", "step")
    started: datetime | None = values.get("wait_started")
    done = [s.pass_key for s in sequence.steps[:step] if s.kind == "ink"]
    Run.objects.update_or_create(
        build=build,
        defaults={
            "signature": now,
            "step": step,
            "ticks": values["ticks"][:MOST_TICKS],
            "done": done,
            "wait_started": started,
        },
    )
    return table_json(build)
