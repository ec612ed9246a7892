"""Builds on the home screen: each in a few words, kept until something that they tell of changes."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock
from typing import Any

from cachetools import LRUCache
from django.contrib.auth.models import User
from django.db.models import F, Prefetch

from studio.builds import history
from studio.builds.figures import figures
from studio.builds.looking import (
    cards_of,
    first_set,
    placed_of,
    placed_sets,
    remember,
    stored,
    whole,
)
from studio.builds.models import Build, Change, Colouring
from studio.builds.state import missing_json
from studio.inks.services import House, house
from studio.owned import mine


@dataclass(frozen=True)
class AtTable:
    """Where a colouring is at the table: the step, of how many, and what is to be done next."""

    step: int
    following: str


@dataclass(frozen=True)
class Told:
    """What was said of a colouring, and of what it was said.

    ``mark``: it and what lies on its panel; ``own``: the inks, cards, tools and
    hands that it uses, as they were. A drawer of which something else changed
    leaves it true.
    """

    mark: tuple[Any, ...]
    inks: tuple[str, ...]
    stocks: tuple[str, ...]
    own: tuple[Any, ...]
    values: dict[str, Any]
    following: str
    grave: str


_TOLD: LRUCache[int, Told] = LRUCache(4000)
_LOCK = Lock()


def _mark(colouring: Colouring) -> tuple[Any, ...]:
    """What is known of a colouring without reading its plan."""
    build, better = colouring.build, colouring.better or {}
    lying = tuple(
        (p.key, p.layer_set_id, p.layer_set.edition, p.set_change_id, p.layer_set.name, p.layer_set.kind)
        for p in placed_of(build)
    )
    return (
        colouring.revision, colouring.head, colouring.name, better.get("key"), better.get("taken"),
        build.revision, build.name, build.updated, lying,
    )  # fmt: skip


def _owned(own: House, inks: tuple[str, ...], stocks: tuple[str, ...]) -> tuple[Any, ...]:
    used = tuple((own.inks.get(k), k in own.at_hand, k in own.in_drawer) for k in inks)
    return used, tuple(own.stocks.get(k) for k in stocks), own.tools, own.hands


def _kept(colouring: Colouring) -> Told | None:
    """What was said of it, where it is still true."""
    with _LOCK:
        found = _TOLD.get(colouring.pk)
    if found is None or found.mark != _mark(colouring):
        return None
    return found if found.own == _owned(house(colouring.build.owner), found.inks, found.stocks) else None


def builds_of(owner: Any) -> list[Build]:
    """The builds of a maker, latest first, with everything that Home says of them looked up together."""
    builds = list(
        mine(Build, owner).prefetch_related(
            Prefetch("placed_sets", placed_sets()),
            Prefetch("colourings", Colouring.objects.filter(gone=None)),
        )
    )
    fresh = []
    for build in builds:
        build.owner = owner
        for first in build.colourings.all()[:1]:
            first.build = build
            told = first.__dict__["_told"] = _kept(first)
            if told is None:
                fresh.append(first)
    _look_up(fresh)
    return builds


def catch_up(rest: Callable[[], bool] = lambda: False) -> int:
    """Work out what Home says of builds of which it is not known: new rules come with a new version, and who opens Home
    then should not wait for all of them. ``rest`` is called between two and ends it by True. How many were looked at."""
    looked_at = 0
    for owner in User.objects.filter(pk__in=Build.objects.values("owner")):
        for build in builds_of(owner):
            if rest():
                return looked_at
            for first in build.colourings.all()[:1]:
                figures(first)
                looked_at += 1
    return looked_at


def _look_up(shown: list[Colouring]) -> None:
    """The plans and the labels around their heads, of those of which nothing is kept."""
    at = {(c.pk, c.head + by): by for c in shown for by in (-1, 0, 1)}
    labels: dict[int, dict[int, str]] = {}
    heads = Change.objects.filter(
        colouring__in=shown, number__gte=F("colouring__head") - 1, number__lte=F("colouring__head") + 1
    )
    for pk, number, label in heads.values_list("colouring", "number", "label"):
        if (pk, number) in at:
            labels.setdefault(pk, {})[number] = label
    changes = Change.objects.filter(colouring__in=shown, number=F("colouring__head"))
    plans = {c.colouring_id: c for c in changes}
    for first in shown:
        first.__dict__["_around"] = labels.get(first.pk, {})
        if first.pk in plans:
            remember(first, plans[first.pk])


def summary_json(colouring: Colouring, at_table: AtTable | None) -> dict[str, Any]:
    """A build on the home screen, with its next step in words; ``colouring`` as ``builds_of`` has it."""
    told: Told | None = colouring.__dict__.get("_told")
    if told is None:
        told = _told(colouring)
        with _LOCK:
            _TOLD[colouring.pk] = told
    following = told.following or (at_table.following if at_table is not None else told.grave)
    return {
        **told.values,
        "colouring_count": len(colouring.build.colourings.all()),
        "next_step": following,
        "table_step": at_table.step if at_table is not None else None,
    }


def _told(colouring: Colouring) -> Told:
    build, found = colouring.build, figures(colouring)
    own, values = house(build.owner), whole(stored(colouring), build)
    placed = first_set(build, values)
    layer_set = placed.layer_set if placed else None
    panel = values["materials"].get("panel") or {}
    width = panel.get("width") or (layer_set.width_mm if layer_set else 100.0)
    height = panel.get("height") or (layer_set.height_mm if layer_set else 100.0)
    others = len({t.get("source") for t in values.get("things", []) if t.get("kind") == "set"}) - 1
    stock = own.stocks.get(values["materials"]["stock"])
    said = {
        **history.head_values(colouring, colouring.__dict__["_around"]),
        "id": build.pk,
        "colouring_id": colouring.pk,
        "updated": build.updated.isoformat(),
        "set_name": (layer_set.name if layer_set else "An empty panel")
        + (f" and {others} more" if others > 0 else ""),
        "kind": layer_set.kind if layer_set else "stencil",
        "stock_name": stock.name if stock else "",
        "pass_count": len(values["passes"]),
        "minutes": round(found.minutes, 1),
        "warnings": found.serious,
        "step_count": found.steps,
        "aspect": round(height / width, 4),
    }
    inks = tuple(sorted({k for p in values["passes"] for k in (p["ink"], *p.get("more", []))}))
    stocks = tuple(sorted({values["materials"]["stock"], *cards_of(values)}))
    begun = "" if values["passes"] else "Give the first element an ink"
    return Told(
        _mark(colouring),
        inks,
        stocks,
        _owned(own, inks, stocks),
        said,
        begun,
        _waiting(colouring, found.serious),
    )


def _waiting(colouring: Colouring, grave: int) -> str:
    """What is to be done before the table, in words."""
    missing = missing_json(colouring)
    if len(missing) > 1:
        return f"{len(missing)} pads are missing: {', '.join(m['name'] for m in missing)}"
    if missing:
        return f"{missing[0]['name']} {missing[0]['why']}"
    if grave:
        return f"Look at {grave} warning{'s' if grave > 1 else ''}"
    return "Ready for the table"
