"""Sets: bring in, load as core values, describe for the screen."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from dataclasses import asdict
from functools import lru_cache
from typing import Any

import shapely
from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify

from strata.answers.opened import described
from strata.formats.set_file import write_set
from strata.sheets.model import LayerSet as CoreSet
from strata.sheets.nouns import NOUNS
from strata.sheets.outline import polygon_path
from studio.sets.history import HEAD, core_set, head_json
from studio.sets.models import LayerSet


def make_set(owner: Any, found: CoreSet, left_out: list[str], key: str | None = None) -> LayerSet:
    """A row for a set; ``key`` renews the known one of that key."""
    values = {
        "name": found.name,
        "kind": found.kind,
        "width_mm": found.width,
        "height_mm": found.height,
        "geometry": write_set(found),
        "left_out": left_out,
        "gone": None,
        "brought": timezone.now(),
    }
    if key is not None:
        return _renewed(owner, key, values)
    base = slugify(found.name)[:100] or "set"
    taken = set(LayerSet.objects.filter(owner=owner, key__startswith=base).values_list("key", flat=True))
    number, key = 1, base
    while key in taken:
        number += 1
        key = f"{base}-{number}"
    return LayerSet.objects.create(owner=owner, key=key, **values)


@transaction.atomic
def _renewed(owner: Any, key: str, values: dict[str, Any]) -> LayerSet:
    known = LayerSet.objects.filter(owner=owner, key=key).first()
    edition = known.edition + 1 if known is not None else 1
    row, _ = LayerSet.objects.update_or_create(
        owner=owner, key=key, defaults={**values, "edition": edition, "summary": None}
    )
    return row


def set_json(row: LayerSet, change: int | None = HEAD) -> dict[str, Any]:
    """A set opened, at its head or an earlier change: sheets, groups, marks."""
    core = core_set(row, change)
    return {
        **_label(row),
        **_counts(core),
        **head_json(row),
        **described(core),
        "left_out": row.left_out,
        "pictures": list(row.pictures.values_list("name", flat=True)),
    }


def summary_json(row: LayerSet) -> dict[str, Any]:
    """A set in the library."""
    counts = {key: value for key, value in _known(row).items() if key != "preview"}
    return {**_label(row), **counts, "version": version(row)}


def preview_json(row: LayerSet) -> dict[str, Any]:
    """A set in small, as it is drawn in a list: asked for one by one, for a library of years would be megabytes."""
    return {"paths": _known(row)["preview"]}


def version(row: LayerSet) -> str:
    """Another one whenever a set is drawn otherwise than before."""
    return f"{row.edition}.{row.revision}"


def _known(row: LayerSet) -> dict[str, Any]:
    """Counts and preview: what takes long to find out is kept with its row until it is changed."""
    if row.summary is None:
        core = core_set(row)
        row.summary = {**_counts(core), "preview": preview(core)}
        LayerSet.objects.filter(pk=row.pk, revision=row.revision, edition=row.edition).update(
            summary=row.summary
        )
    found: dict[str, Any] = row.summary
    return found


def _label(row: LayerSet) -> dict[str, Any]:
    """What a set is called, and how large it is."""
    return {
        "id": row.pk,
        "key": row.key,
        "name": row.name,
        "kind": row.kind,
        "nouns": asdict(NOUNS[row.kind]),
        "width_mm": row.width_mm,
        "height_mm": row.height_mm,
    }


def _counts(core: CoreSet) -> dict[str, int]:
    return {"sheet_count": len(core.sheets), "opening_count": sum(len(s.openings) for s in core.sheets)}


def summaries(rows: Iterable[LayerSet]) -> list[dict[str, Any]]:
    """The library; a set that goes out of it meanwhile is simply not in it."""
    found = []
    for row in rows:
        with suppress(LayerSet.DoesNotExist):  # its drawing is read after its row
            found.append(summary_json(row))
    return found


def preview(core: CoreSet) -> list[str]:
    """A path for each sheet, coarse."""
    return [_coarse(tuple(o.polygon for o in s.openings if o.role != "waste")) for s in core.sheets]


@lru_cache(maxsize=512)
def _coarse(shapes: tuple[shapely.Polygon, ...]) -> str:
    # each by itself: what lies on another on its sheet is painted with it
    return "".join(polygon_path(shape) for shape in shapely.simplify(shapes, 0.15))
