"""What is measured on a set: at once where it is small, by a job where it is large; kept until the set changes."""

from __future__ import annotations

from typing import Any

import orjson
from django.db import transaction

from strata.answers.measures import TOLD, measures_json
from strata.formats.set_file import write_set
from strata.kept import Kept
from strata.measuring.trim import trim
from strata.sheets.model import LayerSet
from studio.jobs import queue
from studio.jobs.models import Job
from studio.sets.history import core_set
from studio.sets.models import LayerSet as Row
from studio.sets.models import Measuring

KIND = "measures"
AT_ONCE = 400
# openings: about a second and a half; more are measured by a job

_MADE: Kept[tuple[Any, ...], dict[str, Any]] = Kept(
    40_000_000, lambda made: 4000 + 2000 * len(made["openings"])
)


def measures_of(row: Row) -> dict[str, Any] | Job:
    """Everything that is measured on a set as it stands; the job that measures it, or failed to, where it is large."""
    key = (row.pk, row.key, row.edition, row.head_id)
    known = _MADE.seen(key)
    if known is not None:
        return known
    core = core_set(row)
    if len(core.openings) <= AT_ONCE:
        return _MADE.get(key, lambda: measures_json(core))
    made = Measuring.objects.select_related("job").filter(layer_set=row, of=_of(row)).first()
    if made is None or (made.found is None and made.job is None):
        made = measure(row)
    return _MADE.put(key, made.found) if made.found is not None else job_of(made)


def job_of(made: Measuring) -> Job:
    """The job that measures a set."""
    assert made.job is not None  # noqa: S101 - it was begun
    return made.job


def _of(row: Row) -> str:
    return f"{row.edition}:{row.head_id or 0}:{TOLD}"


def measure(row: Row) -> Measuring:
    """Begin to measure a set as it stands, or follow what is under way."""
    with transaction.atomic():
        made, _ = Measuring.objects.select_related("job").get_or_create(layer_set=row)
        if made.of != _of(row) or made.job is None or made.job.state not in Job.OPEN:
            made.of, made.found = _of(row), None
            made.save(update_fields=["of", "found"])
            queue.begin_for(made, row.owner, KIND, {"of": made.of, "change": row.head_id})
    return Measuring.objects.select_related("job").get(pk=made.pk)


@queue.work(KIND)
def _measure(running: queue.Running) -> None:
    made = Measuring.objects.select_related("layer_set").filter(pk=running.job.subject).first()
    if made is None:
        return
    core = core_set(made.layer_set, running.job.options["change"])
    found = running.child(KIND, [orjson.dumps(write_set(core))], {})
    with transaction.atomic():
        running.hold()
        Measuring.objects.filter(pk=made.pk, of=running.job.options["of"]).update(found=found)


def trim_json(core: LayerSet, width: float, height: float, dx: float, dy: float) -> dict[str, Any]:
    """What a trimmed panel keeps."""
    found = trim(core, width, height, dx, dy)
    return {
        "box": [round(v, 3) for v in found.box],
        "kept": round(found.kept, 4),
        "cut": [{"element": e, "kept": round(s, 4)} for e, s in found.cut.items()],
        "marks": list(found.marks),
        "how": found.how,
    }
