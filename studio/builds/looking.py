"""A colouring as the core sees it: loaded, its order found, judged; kept under keys made of what each result uses."""

from __future__ import annotations

import hashlib
import json
from threading import Lock
from typing import Any

from cachetools import LRUCache
from django.db.models import QuerySet

from strata.errors import UnknownName
from strata.formats.build_file import FORMAT, read_plan, write_plan
from strata.formats.drawer import learned_json
from strata.kept import Kept
from strata.optics.inks import Ink as CoreInk
from strata.order import Ordering
from strata.panel.things import IMAGE
from strata.picture.version import PICTURES
from strata.plan import Plan, Scene
from strata.standins import StandIn, stand_ins
from strata.tones import Tryout, try_inks
from studio.builds.models import Build, Change, Colouring, PlacedSet
from studio.builds.outlook import Outlook, bytes_of
from studio.inks.services import House, house
from studio.sets.history import core_set
from studio.sets.models import LayerSet

_OUTLOOKS: Kept[str, Outlook] = Kept(120_000_000, bytes_of)
_SEEN: LRUCache[str, Outlook] = LRUCache(12)
_SEEN_LOCK = Lock()


def stored(colouring: Colouring) -> dict[str, Any]:
    """What a colouring has of its own where it stands; looked up again when it has moved on between two reads."""
    known: tuple[int, dict[str, Any]] | None = colouring.__dict__.get("_stored")
    if known is not None and known[0] == colouring.head:
        return known[1]
    change = colouring.changes.filter(number=colouring.head).first()
    if change is None:
        fresh = Colouring.objects.filter(pk=colouring.pk).first()
        change = fresh.changes.filter(number=fresh.head).first() if fresh is not None else None
        if fresh is None or change is None:
            raise UnknownName("That build is no longer here.")
        colouring.head, colouring.revision = fresh.head, fresh.revision
    return remember(colouring, change)


def remember(colouring: Colouring, change: Change) -> dict[str, Any]:
    """Keep the plan of the change a colouring stands at with it, for as long as the request lasts."""
    plan: dict[str, Any] = change.plan
    colouring.__dict__["_stored"] = (change.number, plan)
    return plan


def whole(own: dict[str, Any], build: Build) -> dict[str, Any]:
    """A colouring's own values on the materials of its build."""
    return {**own, "materials": {**build.materials, **own.get("materials", {})}}


def plan_of(colouring: Colouring) -> Plan:
    """The plan that a colouring stands at."""
    return read_plan(whole(stored(colouring), colouring.build))


def placed_of(build: Build) -> list[PlacedSet]:
    """The sets that were ever laid on a build's panel, in the order in which they came."""
    placed: list[PlacedSet] | None = build.__dict__.get("_placed")
    if placed is None:
        known = "placed_sets" in getattr(build, "_prefetched_objects_cache", {})
        # a drawing is some hundred kilobytes of JSON, and is kept elsewhere: it is not read at every edit
        rows = build.placed_sets.all() if known else placed_sets().filter(build=build)
        placed = build.__dict__["_placed"] = list(rows)
    return placed


def image_of(build: Build) -> PlacedSet | None:
    """The set that the build began with, if it began with one."""
    return next((p for p in placed_of(build) if p.key == IMAGE), None)


def first_set(build: Build, values: dict[str, Any]) -> PlacedSet | None:
    """The set that a colouring is known by: the one it began with, or the first that lies there."""
    lying = [t.get("source", IMAGE) for t in values.get("things", [{}]) if t.get("kind", "set") == "set"]
    return next((p for p in placed_of(build) if p.key in lying), None)


def placed_sets() -> QuerySet[PlacedSet]:
    """Placed sets with the row of their set, without its drawing."""
    return PlacedSet.objects.select_related("layer_set").defer("layer_set__geometry")


def scene_of(colouring: Colouring, plan: Plan | None = None) -> Scene:
    """A colouring as the core sees it."""
    own = house(colouring.build.owner)
    sets = {p.key: core_set(p.layer_set, p.set_change_id) for p in placed_of(colouring.build)}
    return Scene(sets, plan or plan_of(colouring), own.stocks, own.inks, own.tools, own.hands)


def plan_json(colouring: Colouring) -> dict[str, Any]:
    """A colouring as a build file: its plan, and the keys of the sets that it asks for."""
    sets = {p.key: p.layer_set.key for p in placed_of(colouring.build)}
    first = first_set(colouring.build, stored(colouring))
    values: dict[str, Any] = {"format": FORMAT, "name": colouring.build.name, "colouring": colouring.name}
    values |= {"set": first.layer_set.key if first else "", "sets": sets}
    return {**values, **write_plan(plan_of(colouring))}


def key_of(colouring: Colouring) -> str:
    """Changes when, and only when, something changes that the order of work or the picture uses."""
    taken = _taken(colouring)
    return _key(colouring, None if taken is None else taken["found"], ("finish",))


def order_key(colouring: Colouring) -> str:
    """Changes when, and only when, something changes that the order of work uses."""
    return _key(colouring, "order", ("left", "finish"))


def _taken(colouring: Colouring) -> dict[str, Any] | None:
    """The order of work that is worked by for one card, where one was searched for and taken."""
    better: dict[str, Any] | None = colouring.better
    if not better or not better.get("taken"):
        return None
    # an order for several cards is followed on the Order screen; the picture builds up as on one
    alone = whole(stored(colouring), colouring.build)["materials"].get("cards", 1) == 1
    return better if alone and better.get("key") == order_key(colouring) else None


def _key(colouring: Colouring, more: Any, without: tuple[str, ...] = ()) -> str:
    own = house(colouring.build.owner)
    values = whole(stored(colouring), colouring.build)
    if values.get("order", {}).get("assembly"):
        # what is cut and put together is part of the work then
        without = tuple(name for name in without if name != "finish")
    values = {k: v for k, v in values.items() if k not in without}
    used = sorted({k for p in values["passes"] for k in (p["ink"], *p.get("more", []))})
    cards = sorted({values["materials"]["stock"], *cards_of(values)})
    parts = [
        PICTURES,
        _lying(colouring.build),
        values,
        [[key, list(own.stocks[key].lab)] for key in cards if key in own.stocks],
        [_optics(own, ink) for ink in used],
        [[t.brush, t.count, t.line, t.family] for t in own.tools.owned],
        *([own.hands] if own.hands else []),
        *([] if more is None else [more]),
    ]
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()[:20]


def _lying(build: Build) -> list[Any]:
    return [[p.key, p.layer_set_id, p.layer_set.edition, p.set_change_id] for p in placed_of(build)]


def cards_of(values: dict[str, Any]) -> list[str]:
    """The cards that pieces are cut from."""
    things = values.get("things", [])
    return [c["stock"] for t in things for c in (t.get("card"), *t.get("cards", [])) if c]


def layout_key(colouring: Colouring) -> str:
    """Changes when what lies on the panel does, or where; not with any ink."""
    values = whole(stored(colouring), colouring.build)
    parts = [_lying(colouring.build), values.get("things"), values["materials"].get("panel")]
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()[:20]


def _optics(own: House, key: str) -> Any:
    """Of an ink what makes colour, drying and cleaning."""
    ink: CoreInk | None = own.inks.get(key)
    if ink is None:
        return key
    kind = ink.chemistry
    kin = [key, ink.line, ink.family, ink.depth, ink.character]
    swatches = [[s.on, s.coats, s.lab] for s in ink.swatches]
    told = [kin, [kind.key, kind.dry_minutes, kind.heated_minutes, kind.cleaning], swatches]
    learned = learned_json(ink.learned)
    return told if learned is None else [*told, learned]


def outlook(colouring: Colouring) -> Outlook:
    """The colouring's scene, sequence and judgement; kept until plan, set or drawer change."""
    key = key_of(colouring)
    finish = json.dumps(stored(colouring).get("finish"), sort_keys=True)
    version = f"{key}:{house(colouring.build.owner).stamp}:{finish}"
    at_hand = house(colouring.build.owner).at_hand
    taken = _taken(colouring)
    order = None if taken is None else taken["found"]

    def make() -> Outlook:
        scene = scene_of(colouring)
        # on one card, by the order that was searched for and taken where there is one
        return Outlook(key, scene, at_hand, Ordering(scene, 1, order, taken=True))

    found = _OUTLOOKS.get(version, make)
    with _SEEN_LOCK:
        _SEEN[key] = found
    return found


def wet_key(wet: frozenset[str]) -> str:
    """Changes with which passes go onto wet ink."""
    return hashlib.sha256(",".join(sorted(wet)).encode()).hexdigest()[:12]


def seen_before(key: str) -> Outlook | None:
    """An outlook that was looked at lately, by the key of its picture."""
    with _SEEN_LOCK:
        return _SEEN.get(key)


def lying_on(layer_set: LayerSet) -> list[str]:
    """Names of the builds on which a set lies."""
    rows = PlacedSet.objects.filter(layer_set=layer_set, build__gone=None)
    return list(rows.values_list("build__name", flat=True).distinct())


def tryouts(colouring: Colouring, pass_key: str) -> list[Tryout]:
    """Every ink at hand in the place of a pass; raises UnknownName for a pass that is gone."""
    seen = outlook(colouring)
    item = seen.scene.plan.find(pass_key)
    rung = next(r for r in seen.judged.ladders[item.element] if r.pass_key == pass_key)
    at_hand = house(colouring.build.owner).at_hand
    return list(try_inks(seen.scene, item, rung, [k for k in seen.scene.inks if k in at_hand]).values())


def standing_in(colouring: Colouring, ink: str, pass_key: str | None) -> tuple[Outlook, list[StandIn]]:
    """What can stand in for an ink, in one pass or the whole colouring; raises UnknownName where it is not used."""
    seen = outlook(colouring)
    plan = seen.scene.plan
    passes = [p.key for p in plan.passes if p.ink == ink] if pass_key is None else [plan.find(pass_key).key]
    own = house(colouring.build.owner)
    found = stand_ins(seen.scene, seen.sequence, seen.judged.ladders, passes, sorted(own.at_hand))
    return seen, list(found)
