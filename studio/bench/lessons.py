"""What photographed cards say of pads and hands: found by a job, looked at, kept in the drawer or let go."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.db import transaction

from strata.errors import BadValue
from strata.formats.drawer import learned_json, read_learned
from strata.optics.colour import Lab, difference, hex_of
from strata.optics.learned import AS_MEASURED
from strata.optics.stack import Coat, Stock, predict
from strata.photographed.learn import Habits, Shown, as_lab, learn, recoloured, region_labs
from strata.photographed.learn import Lesson as Found
from strata.photographed.regions import looked_at, predicted
from strata.photographed.told import came_out
from studio.bench.models import Lesson, Photograph
from studio.bench.photographs import shown_of
from studio.builds.looking import outlook
from studio.builds.models import Colouring
from studio.inks.editing import keep_learned
from studio.inks.services import house
from studio.jobs import queue

KIND = "learn from photographed cards"
MOST_CARDS, MOST_BUILDS = 12, 8
# cards learned from, the latest; builds whose colours are shown as they would be
WORTH_SHOWING = 1.5
# CIEDE2000 by which an element moves


def readable(owner: Any) -> list[Photograph]:
    """The latest read photograph of every made card, the latest cards first."""
    rows = Photograph.objects.filter(record__owner=owner, record__gone=None, record__build__isnull=False)
    rows = rows.exclude(reading=None).select_related("record__build").defer("content", "straight")
    latest: dict[int, Photograph] = {}
    for row in rows.order_by("-record__made", "-pk"):
        row.record.owner = owner
        latest.setdefault(row.record_id, row)
    return list(latest.values())[:MOST_CARDS]


def lesson_of(owner: Any) -> Lesson:
    """What was found last, or an empty one."""
    return Lesson.objects.filter(owner=owner).select_related("job").first() or Lesson(owner=owner)


def begin(owner: Any) -> Lesson:
    """Find out anew what all photographed cards say; raises BadValue where none is read."""
    if not readable(owner):
        raise BadValue("Photograph a made card first, and let it be read.", "photographs")
    with transaction.atomic():
        row, _ = Lesson.objects.get_or_create(owner=owner)
        row.body, row.kept = None, False
        row.save()
        queue.begin_for(row, owner, KIND)
    row.refresh_from_db()
    return row


@queue.work(KIND)
def _learn(running: queue.Running) -> None:
    row = Lesson.objects.select_related("owner").get(pk=running.job.subject)
    owner = row.owner
    cards: list[Shown] = []
    passed_over = []
    for one in readable(owner):
        running.say(doing=f"Looking at {one.record.name}"[:200], share=0.05)
        try:
            cards.append(shown_of(one))
        except BadValue as error:
            passed_over.append(error.sentence)
    found = learn(cards, lambda share: running.say(share=0.1 + 0.6 * share, doing="Comparing"))
    running.say(share=0.75, doing="Looking at your builds")
    body = {
        "inks": {k: learned_json(v) for k, v in found.habits.inks.items()},
        "hands": dict(found.habits.hands),
        "cards": found.cards,
        "before": found.before,
        "after": found.after,
        "passed_over": passed_over,
        "pads": _pads(owner, found),
        "builds": _builds(owner, found.habits),
    }
    with transaction.atomic():
        running.hold()
        Lesson.objects.filter(pk=row.pk).update(body=body, kept=False)


def _moved(before: Lab, after: Lab) -> dict[str, Any]:
    """Two colours, how far they are apart, and how the one is against the other."""
    return {
        "before": hex_of(before)[0],
        "after": hex_of(after)[0],
        "de00": round(difference(before, after), 1),
        "words": came_out(before, after),
    }


def _pads(owner: Any, found: Found) -> list[dict[str, Any]]:
    """The pads that would move, the most first: one coat on the first card of the house, now and then."""
    own = house(owner)
    stock = next((s for s in own.cards().values() if s.lab[0] > 85), Stock((96.0, 0.0, 0.0)))
    rows = []
    for key, learned in found.habits.inks.items():
        if key not in own.inks:
            continue
        ink = own.inks[key]
        a, b = (predict(stock, [Coat(replace(ink, learned=v), 1.0)]) for v in (AS_MEASURED, learned))
        rows.append(
            {
                "ink": key,
                "name": ink.name,
                "strength": learned.strength,
                "cards": learned.cards,
                **_moved(a, b),
            }
        )
    return sorted(rows, key=lambda r: -float(r["de00"]))


def _builds(owner: Any, habits: Habits) -> list[dict[str, Any]]:
    """The elements of the latest builds that would be predicted otherwise than now."""
    latest = Colouring.objects.filter(build__owner=owner, build__gone=None, gone=None)
    found = []
    for row in latest.select_related("build").order_by("-build__updated", "pk")[:MOST_BUILDS]:
        row.build.owner = owner
        seen = outlook(row)
        view = looked_at(seen.scene, seen.sequence.wet)
        _, regions = predicted(view)
        levels = view.stacks.levels[[s for r in regions for s in r.stacks]]
        after = region_labs(view, recoloured(view, habits), levels) if regions else ()
        moved: dict[str, tuple[float, Any]] = {}
        # of each element its largest part that moves: what an eye goes to
        for region, lab in zip(regions, after, strict=True):
            off = difference(region.predicted, as_lab(lab))
            if off >= WORTH_SHOWING and region.area > moved.get(region.element, (0.0, None))[0]:
                told = {"element": region.element, **_moved(region.predicted, as_lab(lab))}
                moved[region.element] = region.area, told
        if moved:
            elements = sorted((told for _, told in moved.values()), key=lambda t: -float(t["de00"]))
            found.append(
                {"build": row.build_id, "colouring": row.pk, "name": row.build.name, "elements": elements}
            )
    return found


def keep(owner: Any) -> Lesson:
    """Put what was found over the readings of the drawer; one step to undo there. Raises BadValue where nothing is found."""
    row = lesson_of(owner)
    if row.body is None:
        raise BadValue("Nothing was found yet.", "lesson")
    inks = {k: read_learned(v, k) for k, v in row.body["inks"].items()}
    count = row.body["cards"]
    label = f"Learn from {count} photographed card{'' if count == 1 else 's'}"
    keep_learned(owner, inks, row.body["hands"], count, label)
    row.kept = True
    row.save(update_fields=["kept"])
    return row


def forget(owner: Any) -> Lesson:
    """Take all that was learned off the drawer again; one step to undo there."""
    keep_learned(owner, {}, {}, 0, "Take off what was learned")
    row = lesson_of(owner)
    if row.pk:
        row.kept = False
        row.save(update_fields=["kept"])
    return row


def in_force(owner: Any) -> int:
    """How many pads stand with something learned."""
    return sum(ink.learned.cards > 0 for ink in house(owner).inks.values())
