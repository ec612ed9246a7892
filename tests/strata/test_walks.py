"""Long random walks of edits: whatever a maker does, the plan stays sound and everything can be worked out."""

import random
import unittest
from typing import Any

from strata.advice import advise
from strata.errors import StrataError
from strata.formats.build_file import read_plan, write_plan
from strata.order import dispatch
from strata.order.check import check
from strata.order.evening import Evening
from strata.order.facts import facts_of, plan_json
from strata.order.wishes import make_of, rules_of, work_for
from strata.plan import Scene
from strata.plan.edits import EDITS, apply
from strata.plan.family import STRENGTHS
from strata.plan.model import FORM_KINDS, REGISTERS, SCHOOLS
from strata.plan.wishes import FIRST
from strata.tones import ladders
from tests import world
from tests.orders import plan_greedily
from tests.strata.test_order import wrongs


def some_edit(rng: random.Random, scene: Scene, number: int) -> tuple[str, dict[str, Any]]:
    """An edit as a maker might make it, now and then an impossible one."""
    element, sheet = rng.choice(list(scene.layer_set.groups))
    keys = [p.key for p in scene.plan.passes] or ["none"]
    form = {"kind": rng.choice(FORM_KINDS), "angle": rng.uniform(0, 360), "extent": rng.uniform(0.05, 1)}
    values: dict[str, dict[str, Any]] = {
        "add_pass": {
            "pass": f"n{number}",
            "element": element,
            "sheet": sheet,
            "ink": rng.choice(list(scene.inks)),
            "form": form,
        },
        "remove_pass": {"pass": rng.choice(keys)},
        "set_ink": {"pass": rng.choice(keys), "ink": rng.choice(list(scene.inks))},
        "deepen": {"pass": rng.choice(keys)},
        "lighten": {"pass": rng.choice(keys)},
        "set_coats": {"pass": rng.choice(keys), "coats": rng.randint(0, 7)},
        "add_coats": {"pass": rng.choice(keys), "by": rng.choice([-1, 1])},
        "set_hand": {"pass": rng.choice(keys), "hand": rng.choice(["light", "medium", "heavy"])},
        "set_form": {"pass": rng.choice(keys), "form": form},
        "set_brush": {"pass": rng.choice(keys), "brush": rng.choice([None, "detail", "large"])},
        "move_pass": {"pass": rng.choice(keys), "by": rng.choice([-1, 1, 2])},
        "set_school": {"element": element, "school": rng.choice(SCHOOLS)},
        "leave_bare": {"element": element, "sheet": sheet},
        "set_stock": {"stock": rng.choice(list(scene.stocks))},
        "set_register": {"register": rng.choice(list(REGISTERS))},
        "set_cards": {"cards": rng.randint(1, 20)},
        "lay_recipe": {
            "element": element,
            "sheet": sheet,
            "passes": [
                {"pass": f"r{number}-{i}", "ink": rng.choice(list(scene.inks)), "coats": rng.randint(1, 4)}
                for i in range(rng.randint(1, 3))
            ],
        },
        "leave_finding": {"finding": f"lost|element|{element}|{sheet}|{rng.choice(keys)}"},
        "look_again": {"finding": rng.choice(scene.plan.left or ("lost|element|bud|1|none",))},
        "several": {
            "edits": [
                {"kind": "set_cards", "values": {"cards": rng.randint(1, 20)}},
                {"kind": "set_hand", "values": {"pass": rng.choice(keys), "hand": "light"}},
            ]
        },
        "replace_ink": _other_ink(rng, scene, keys),
        **_of_the_panel(rng, scene, keys, number),
    }
    kind = rng.choice([*values, "add_pass", "add_pass"])
    return kind, values[kind]


def _of_the_panel(
    rng: random.Random, scene: Scene, keys: list[str], number: int
) -> dict[str, dict[str, Any]]:
    """Edits of what lies where, and of what a pass is besides ink."""
    thing = rng.choice([t.key for t in scene.plan.things] or ["none"])
    shapes = [
        {"kind": "round", "width": rng.uniform(5, 40)},
        {"kind": "wavy", "width": 130, "height": 90, "seed": rng.randint(1, 99)},
        {"kind": "part", "of": thing, "allowance": rng.uniform(-1, 2)},
    ]
    wear = {"way": rng.choice(["window", "cover"]), "since": rng.choice(["", *keys])}
    fresh = rng.choice(
        [
            {"kind": "mask", "shape": rng.choice(shapes), "wear": wear},
            {"kind": "piece", "shape": shapes[0], "card": {"stock": "Kraft", "foam": rng.choice([0, 2])}},
            {"kind": "words", "words": {"text": rng.choice(["Thank you", "Æ ß", "日"]), "size": 8}},
            {"kind": "note", "note": {"text": "a gem", "thickness": 3}},
            {"kind": "set", "source": "image", "sheets": [rng.randint(1, 6)]},
        ]
    )
    return {
        "set_panel": rng.choice([{"format": "a2"}, {"width": rng.uniform(0, 200), "height": 150}]),
        "set_light": {"angle": rng.uniform(0, 360)},
        "add_thing": {"thing": {**fresh, "key": f"t{number}"}},
        "copy_thing": {"thing": thing, "key": f"c{number}"},
        "move_thing": {"thing": thing, "by": [rng.uniform(-15, 15), rng.uniform(-15, 15)], "turn": 5},
        "raise_thing": {"thing": thing, "by": rng.choice([-1, 1])},
        "rename_thing": {"thing": thing, "name": f"thing no {number}"},
        "remove_thing": {"thing": thing},
        "set_thing": {"thing": thing, "on": rng.choice(["", thing, "t1"])},
        "take_layout": {"places": {thing: {"x": 30, "y": 40}}},
        "set_pass": {
            "pass": rng.choice(keys),
            **rng.choice(
                [
                    {"generation": rng.randint(0, 4)},
                    {"medium": rng.choice(["lift", "gloss", "seal", "spatter", "dry brush", "shadow"])},
                    {"medium": "spatter", "ink": "~water"},
                    {"more": ["sloe"]},
                ]
            ),
        },
        "lay_join": {"pass": rng.choice(keys), "key": f"j{number}"},
        "touch_all": {
            "medium": rng.choice(["shadow", "lights"]),
            "ink": "whitewash",
            "thing": thing,
            "key": f"l{number}",
        },
        "place_pass": {"pass": rng.choice(keys), "to": rng.choice(["top", "bottom"])},
        **_of_families(rng, scene, number),
        **_of_order(rng, scene, keys, number),
    }


def _of_order(rng: random.Random, scene: Scene, keys: list[str], number: int) -> dict[str, dict[str, Any]]:
    """Edits of what is wished of the order of work; pins come to contradict the craft as the plan moves on."""
    element, sheet = rng.choice(list(scene.layer_set.groups))
    wishes = scene.plan.order
    pin = rng.choice(wishes.pins or (("none", "nobody"),))
    return {
        "wish_order": rng.choice(
            [
                {"first": rng.choice(FIRST)},
                {"hands": rng.randint(1, 3)},
                {"heat": True},
                {"lead": False},
                {"rack": rng.randint(-1, 4)},
                {"brush_dry": 3},
                {"twice": [rng.randint(0, 3)]},
            ]
        ),
        "pin_order": {"before": rng.choice(keys), "after": rng.choice(keys)},
        "freeze_order": {"passes": [p.key for p in scene.plan.passes][:9]},
        "unpin_order": rng.choice([{"all": True}, {"before": pin[0], "after": pin[1]}]),
        "keep_apart": {
            "passes": rng.sample(keys, rng.randint(1, min(2, len(keys)))),
            **rng.choice([{}, {"after": rng.choice(keys)}, {"apart": False}]),
        },
        "set_finish": rng.choice(
            [
                {},
                {
                    "finish": {
                        "width": rng.uniform(30, 200),
                        "height": 150.0,
                        "base": rng.choice(["Kraft", "none"]),
                        "fold": rng.choice(["side", "top", "none"]),
                    }
                },
            ]
        ),
        "part_by": {"element": element, "sheet": sheet, "way": rng.choice(["mask", "hand", None, "luck"])},
        "add_job": {"key": f"o{number}", "name": "Fold the bases", "minutes": rng.uniform(0, 6)},
        "drop_job": {"key": rng.choice([j.key for j in wishes.jobs] or ["none"])},
    }


def _of_families(rng: random.Random, scene: Scene, number: int) -> dict[str, dict[str, Any]]:
    """Edits that dress whole elements."""
    element, sheet = rng.choice(list(scene.layer_set.groups))
    inks = list(scene.inks)
    return {
        "wear_family": {
            "elements": [element],
            "pads": rng.sample(inks, rng.randint(1, 4)),
            "strength": rng.choice([*STRENGTHS, "loud"]),
            "pass": f"w{number}-",
            **rng.choice([{}, {"line": rng.choice(inks)}, {"ground": {"ink": "whitewash", "coats": 2}}]),
        },
        "swap_line": {
            "line": rng.choice(["Sluice", "Towrope"]),
            "to": rng.choice(["Sluice", "Towrope", "none"]),
        },
        "take_part": {
            "element": element,
            "pass": f"k{number}-",
            "passes": [{"sheet": sheet, "ink": rng.choice(inks), "coats": rng.randint(0, 3)}],
        },
    }


def _other_ink(rng: random.Random, scene: Scene, keys: list[str]) -> dict[str, Any]:
    """One pad in the place of another wherever it is used, as the stand-ins ask for it."""
    ink = next((p.ink for p in scene.plan.passes if p.key == rng.choice(keys)), "thin-ice")
    own = [p.key for p in scene.plan.passes if p.ink == ink]
    amounts = {k: {"coats": rng.randint(1, 3), "hand": rng.choice(["light", "medium"])} for k in own}
    return {"ink": ink, "to": rng.choice(list(scene.inks)), "amounts": amounts}


class WalkTest(unittest.TestCase):
    def test_every_kind_of_edit_is_walked(self) -> None:
        rng, seen = random.Random(1), set()
        for n in range(1200):
            seen.add(some_edit(rng, world.scene(), n)[0])
        self.assertEqual(seen, set(EDITS))

    def test_walks_from_bare_card_and_from_the_demo(self) -> None:
        for seed, start in ((11, world.plan_of()), (12, world.demo_plan("first-try-on-kraft")), (13, None)):
            rng, scene, made = random.Random(seed), world.scene(start), 0
            for n in range(140):
                kind, values = some_edit(rng, scene, n)
                try:
                    plan, label = apply(scene, kind, values)
                except StrataError as error:
                    self.assertTrue(error.sentence)
                    continue
                made += 1
                self.assertTrue(label)
                self.assertEqual(write_plan(read_plan(write_plan(plan))), write_plan(plan))
                scene = scene.with_plan(plan)
                if n % 12 == 0:
                    self.check(scene)
            self.assertGreater(made, 60)

    def check(self, scene: Scene) -> None:
        sequence = dispatch(scene)
        self.assertEqual(wrongs(scene), [])
        if scene.plan.passes:
            work = work_for(scene)
            plan = plan_json(plan_greedily(work), work.by_hand)
            facts = facts_of(Evening([make_of(scene, 1)]), rules_of(scene), work.jobs)
            # pins that cannot be kept are passed over by the planner, and no rule of the craft
            self.assertEqual(check({**facts, "pins": []}, plan), [])
        found = ladders(scene, sequence)
        rungs = [r.pass_key for own in found.values() for r in own]
        self.assertEqual(sorted(rungs), sorted(p.key for p in scene.plan.passes))
        for own in found.values():
            self.assertEqual(
                [r.pass_key for r in own],
                [p.key for p in scene.plan.of_element(scene.plan.find(own[0].pass_key).element)],
            )
            for rung in own:
                self.assertTrue(all(0 <= v <= 110 for v in (rung.alone[0], rung.here[0], rung.before[0])))
                self.assertGreater(rung.places[0].share, 0)
        for finding in advise(scene, sequence, found):
            for mend in finding.mends:
                apply(scene, mend.kind, {"pass": "mended", **mend.values})
