"""Plans as practised makers work them, and plans with one mistake each, for the rules to tell apart."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import cache

from strata.panel import PanelSize, Place, the_image
from strata.panel.shapes import Shape
from strata.panel.things import Card, Note, Thing, Words
from strata.plan import Form, Materials, Plan, Scene
from strata.plan.edits import apply
from strata.plan.media import WATER as WATER_BOTTLE
from tests import world

ONE = world.a_pass
SIDE, HEART = Form("side", 135, 0.5), Form("centre", extent=0.5)
EDGE, ALL = Form("edges", extent=0.4), Form()
HEDGEHOG = "hedgehog-in-ferns"


def koi(*passes: object, **values: object) -> Scene:
    return world.scene(world.plan_of(*passes, **values))  # type: ignore[arg-type]


def stamps(*passes: object, **values: object) -> Scene:
    return world.scene(world.plan_of(*passes, **values), world.sets()[HEDGEHOG])  # type: ignore[arg-type]


def shaded(element: str, sheet: int, *inks: str) -> tuple[object, ...]:
    forms = (ALL, SIDE, Form("side", 135, 0.3))
    return tuple(ONE(f"{element}{n}", element, sheet, k, form=forms[n]) for n, k in enumerate(inks))


WATER = ONE("w", "water", 1, "thin-ice")


@cache
def good() -> dict[str, Scene]:
    """Each of these is good work: no stop may be said of it."""
    deep_first = {"school": "deep first"}
    return {
        "light, mid and deep of a family": koi(
            *shaded("lantern", 1, "peach-tin", "coral-kettle", "painted-rose")
        ),
        "lightest with deepest": koi(*shaded("lantern", 1, "lamp-haze", "brass-rail")),
        "a deep-first glow": koi(
            ONE("a", "lantern", 1, "stove-door", form=EDGE),
            ONE("b", "lantern", 1, "coral-kettle", form=Form("edges", extent=0.7)),
            ONE("c", "lantern", 1, "lamp-haze"),
            **deep_first,
        ),
        "a join softened with the first brush": koi(
            ONE("a", "lantern", 1, "lamp-haze"),
            ONE("b", "lantern", 1, "coral-kettle", form=SIDE),
            ONE("c", "lantern", 1, "lamp-haze", hand="light", form=Form("side", 135, 0.6)),
        ),
        "a join as such": koi(
            ONE("a", "lantern", 1, "lamp-haze"),
            ONE("b", "lantern", 1, "coral-kettle", form=SIDE),
            ONE("c", "lantern", 1, "lamp-haze", form=replace(SIDE, join=True)),
        ),
        "a second coat of the same pad for depth": koi(
            ONE("a", "lantern", 1, "coral-kettle", hand="light"),
            ONE("b", "lantern", 1, "coral-kettle", 2, form=SIDE),
        ),
        "an outline stamped again": stamps(
            ONE("a", "ferns", 1, "tarred-rope"),
            ONE("b", "left fern", 2, "willow-tip"),
            ONE("c", "ferns", 1, "tarred-rope"),
        ),
        "green darkened with blue": koi(
            ONE("a", "lily pads", 3, "willow-tip"), ONE("b", "lily pads", 3, "lock-midnight", form=SIDE)
        ),
        "teal shadow on green": koi(
            ONE("a", "lily pads", 3, "new-duckweed"), ONE("b", "lily pads", 3, "culvert-teal", form=SIDE)
        ),
        "gold dry-brushed over colour": koi(
            WATER,
            ONE("a", "lantern", 1, "coral-kettle"),
            ONE("b", "lantern", 2, "gate-gold", hand="light"),
        ),
        "a second generation": stamps(
            ONE("a", "tall fern", 2, "lily-leaf"), ONE("b", "small fern", 2, "lily-leaf", generation=2)
        ),
        "white ground on black": koi(
            ONE("a", "lantern", 1, "whitewash", 2),
            ONE("b", "lantern", 1, "lamp-haze"),
            ONE("c", "lantern", 1, "coral-kettle", form=SIDE),
            stock="Black",
        ),
        "one opaque colour on black": koi(ONE("a", "lantern", 1, "roses-red", 2), stock="Black"),
        "gold on black": koi(ONE("a", "lantern", 2, "gate-gold"), stock="Black"),
        "muted on kraft": koi(
            ONE("a", "lantern", 1, "biscuit"), ONE("b", "lantern", 1, "tarred-rope", form=SIDE), stock="Kraft"
        ),
        "deep colours on kraft": koi(
            *shaded("lily pads", 3, "lily-leaf", "culvert-teal"),
            ONE("w", "water", 1, "long-pound"),
            stock="Kraft",
        ),
        "periwinkle of two pads": koi(ONE("a", "water", 1, "dusk-mist"), ONE("b", "water", 1, "thin-ice")),
        "dark lines last": koi(
            ONE("a", "upper koi", 1, "peach-tin"),
            ONE("b", "upper koi", 2, "coral-kettle"),
            ONE("c", "upper koi", 5, "coal-wharf", 2),
        ),
        "white lights at the end": koi(
            WATER, ONE("a", "light on the water", 2, "whitewash"), ONE("b", "lily pads", 3, "lily-leaf")
        ),
        "neighbours over one another": koi(WATER, ONE("a", "lily pads", 3, "willow-tip")),
        "a faint highlight": koi(*shaded("lantern", 1, "lamp-haze", "cabin-lamp", "coral-kettle")),
        "shadows all to one side": koi(
            *shaded("lantern", 1, "lamp-haze", "coral-kettle"),
            *shaded("upper koi", 1, "peach-tin", "painted-rose"),
            *shaded("lily pads", 3, "new-duckweed", "lily-leaf"),
        ),
        "a brown coat, a paler face, dark feet": stamps(
            ONE("a", "coat", 2, "tarred-rope"),
            ONE("b", "face", 2, "biscuit"),
            ONE("c", "feet", 2, "coal-wharf"),
        ),
        "one family for a whole card": koi(
            *shaded("water", 1, "thin-ice", "long-pound"),
            *shaded("lily pads", 3, "weir-water", "lock-midnight"),
            *shaded("lantern", 1, "thin-ice", "weir-water"),
        ),
    }


def _words(plan: Plan, **values: object) -> Plan:
    told = {
        "key": "g",
        "number": 2,
        "kind": "words",
        "name": "greeting",
        "place": Place(60, 120),
        "words": Words("Thank you", 14),
    }
    return replace(plan, things=(the_image(), Thing(**{**told, **values})))  # type: ignore[arg-type]


def _greeting(ink: str, under: Thing | None = None, **values: object) -> Scene:
    plan = _words(world.plan_of(WATER), **values)
    scene = world.scene(replace(plan, things=(*plan.things, under)) if under else plan)
    element, sheet = next(k for k in scene.layer_set.groups if scene.layer_set.origin(k[1]).thing == "g")
    item = {"pass": "t", "element": element, "sheet": sheet, "ink": ink}
    return scene.with_plan(apply(scene, "add_pass", item)[0])


def _painted_over() -> Scene:
    scene = _greeting("pitch-black")
    ground = {"pass": "f", "element": "free ground", "sheet": 0, "ink": "whitewash", "coats": 3}
    return scene.with_plan(apply(scene, "add_pass", {**ground, "at": len(scene.plan.passes)})[0])


def _thick() -> Scene:
    strip = Shape("strip", 40, 12)
    one = Thing("p", 2, "piece", "strip", place=Place(60, 75), shape=strip, card=Card("Kraft", 3.0, 3))
    gem = Thing("n", 3, "note", "a gem", place=Place(60, 75), on="p", note=Note("a gem", 2.0))
    return world.scene(replace(world.plan_of(WATER), things=(the_image(), one, gem)))


MISTAKES: dict[str, tuple[tuple[str, Callable[[], Scene]], ...]] = {
    "lost": (
        (
            "yellow over violet",
            lambda: koi(ONE("a", "lantern", 1, "sloe"), ONE("b", "lantern", 2, "cabin-lamp")),
        ),
        ("a dye on black", lambda: koi(ONE("a", "lantern", 1, "coral-kettle"), stock="Black")),
        ("a green dye on black", lambda: koi(ONE("a", "lily pads", 3, "willow-tip"), stock="Black")),
        (
            "pale over deep",
            lambda: koi(ONE("a", "water", 1, "lock-midnight"), ONE("b", "lily pads", 3, "lamp-haze")),
        ),
    ),
    "brown_risk": (
        (
            "red over green",
            lambda: koi(ONE("a", "water", 1, "lily-leaf"), ONE("b", "lily pads", 3, "campion")),
        ),
        (
            "violet over yellow",
            lambda: koi(ONE("a", "lantern", 1, "brass-rail"), ONE("b", "lantern", 2, "sloe")),
        ),
        (
            "orange over blue",
            lambda: koi(ONE("a", "water", 1, "weir-water"), ONE("b", "lily pads", 3, "coral-kettle")),
        ),
    ),
    "wrong_way": (
        ("all over", lambda: koi(ONE("a", "lantern", 1, "stove-door"), ONE("b", "lantern", 1, "peach-tin"))),
        ("blue", lambda: koi(ONE("a", "water", 1, "lock-midnight"), ONE("b", "water", 1, "thin-ice"))),
    ),
    "step_size": (
        (
            "hardly deeper",
            lambda: koi(
                ONE("a", "lantern", 1, "painted-rose", 2),
                ONE("b", "lantern", 1, "boat-fair-rose", hand="light", form=SIDE),
            ),
        ),
        (
            "a hard edge",
            lambda: koi(
                ONE("a", "lantern", 1, "lamp-haze"), ONE("b", "lantern", 1, "coal-wharf", 2, form=SIDE)
            ),
        ),
    ),
    "buried": (
        (
            "an opaque over gold",
            lambda: koi(ONE("a", "lantern", 1, "gate-gold"), ONE("b", "lantern", 1, "roses-red", 2)),
        ),
        (
            "an opaque over a light",
            lambda: koi(
                ONE("a", "lily pads", 3, "whitewash", 2),
                ONE("b", "water", 1, "cabin-blue", 2),
                ONE("c", "reeds", 3, "moss-wall"),
                stock="Kraft",
            ),
        ),
    ),
    "neighbours": (
        (
            "a face in the coat's brown",
            lambda: stamps(ONE("a", "coat", 2, "puddled-clay"), ONE("b", "face", 2, "puddled-clay")),
        ),
    ),
    "silhouette": (
        (
            "a breath of yellow",
            lambda: koi(ONE("a", "reeds", 3, "lamp-haze", hand="light"), stock="Kraft"),
        ),
    ),
    "greeting": (
        ("hard to read", lambda: _greeting("thin-ice")),
        ("on its head", lambda: _greeting("pitch-black", place=Place(60, 120, 180))),
        (
            "under a strip of card",
            lambda: _greeting(
                "pitch-black",
                under=Thing(
                    "p",
                    3,
                    "piece",
                    "strip",
                    place=Place(60, 122),
                    shape=Shape("strip", 60, 6),
                    card=Card("Kraft"),
                ),
            ),
        ),
        ("under white paint", _painted_over),
    ),
    "thickness": (("a stack on foam with a gem", _thick),),
    "batch": (("twelve cards", lambda: stamps(ONE("a", "coat", 2, "puddled-clay"), cards=12)),),
    "shadow_side": (
        (
            "one to the right",
            lambda: koi(
                *shaded("lantern", 1, "lamp-haze", "coral-kettle"),
                *shaded("upper koi", 1, "peach-tin", "painted-rose"),
                ONE("x", "lily pads", 3, "new-duckweed"),
                ONE("y", "lily pads", 3, "lily-leaf", form=Form("side", 315, 0.5)),
            ),
        ),
    ),
    "water": (
        (
            "a wipe over the neighbour",
            lambda: koi(
                ONE("a", "water", 1, "weir-water"),
                ONE("b", "lily pads", 3, "lily-leaf"),
                ONE("c", "water", 1, WATER_BOTTLE, medium="lift"),
            ),
        ),
    ),
    "deepens": (
        (
            "blue over green",
            lambda: koi(
                ONE("a", "lily pads", 3, "lily-leaf"), ONE("b", "lily pads", 3, "lock-midnight", form=SIDE)
            ),
        ),
    ),
    "forgotten": (("one sheet only", lambda: koi(ONE("a", "lantern", 1, "lamp-haze"))),),
    "brush_fit": (
        ("a large brush in fine lines", lambda: koi(ONE("a", "lily pads", 5, "sloe", brush="large"))),
    ),
    "missing_pad": (("wished for", lambda: koi(ONE("a", "lantern", 1, "old-hedge"))),),
    "off_centre": (
        (
            "half a millimetre",
            lambda: world.scene(
                replace(world.plan_of(), things=(replace(the_image(), place=Place(54.5, 70)),))
            ),
        ),
    ),
    "marks_inside": (
        (
            "a small trim",
            lambda: world.scene(
                replace(
                    world.plan_of(),
                    materials=Materials("White smooth", "marks", panel=PanelSize(120, 150, 4)),
                    things=(replace(the_image(), place=Place(60, 75)),),
                )
            ),
        ),
    ),
    "inked_in_parts": (("a shaded stamp", lambda: stamps(ONE("a", "coat", 2, "puddled-clay", form=SIDE))),),
}
