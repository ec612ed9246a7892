"""Tones and warnings: every rule finds its mistake, stays silent where all is well, and its mends mend."""

import random
import unittest
from dataclasses import replace

from strata.advice import RULES, Finding, advise, serious
from strata.advice.base import SEVERITIES
from strata.optics.colour import difference
from strata.order import dispatch
from strata.plan import Form, Scene
from strata.plan.edits import apply
from strata.tones import ladders, try_inks
from tests import world
from tests.cards import MISTAKES, good

SIDE = Form("side", 120, 0.4)
ONE = world.a_pass


def found(scene: Scene) -> tuple[Finding, ...]:
    sequence = dispatch(scene)
    return advise(scene, sequence, ladders(scene, sequence))


class RuleTest(unittest.TestCase):
    def test_every_rule_has_its_mistake_here(self) -> None:
        self.assertEqual({rule.code for rule in RULES}, set(MISTAKES) | {"guessed"})

    def test_every_rule_finds_its_mistake_first_or_second_and_says_why(self) -> None:
        for code, plans in MISTAKES.items():
            for name, made in plans:
                scene = made()
                said = [f for f in found(scene) if f.code != "forgotten" or code == "forgotten"]
                self.assertIn(code, [f.code for f in said[:2]], name)
                for finding in (f for f in said if f.code == code):
                    self.assertTrue(finding.sentence.endswith((".", ": good.")), finding)
                    self.assertTrue(finding.reason.endswith("."), finding)

    def test_mends_take_the_warning_away_and_bring_no_worse_one(self) -> None:
        for plans in MISTAKES.values():
            for name, made in plans:
                self.mended(made(), name)

    def test_without_mending_the_same_is_said(self) -> None:
        for name, made in (one for plans in MISTAKES.values() for one in plans):
            scene = made()
            sequence = dispatch(scene)
            whole = found(scene)
            said = advise(scene, sequence, ladders(scene, sequence), mending=False)
            self.assertEqual(
                [(f.key, f.severity, f.sentence, f.reason) for f in said],
                [(f.key, f.severity, f.sentence, f.reason) for f in whole],
                name,
            )
            for quick, full in zip(said, whole, strict=True):
                self.assertLessEqual({m.label for m in quick.mends}, {m.label for m in full.mends}, name)

    def test_mends_of_plans_made_at_random(self) -> None:
        rng, groups, inks = random.Random(3), list(world.koi().groups), sorted(world.inks())
        forms = (Form(), SIDE, Form("edges", extent=0.4), Form("base", extent=0.5))
        for n in range(12):
            passes = [
                world.a_pass(f"p{i}", *rng.choice(groups), rng.choice(inks), form=rng.choice(forms))
                for i in range(rng.randint(2, 9))
            ]
            card = rng.choice(["White smooth", "Kraft", "Black"])
            self.mended(world.scene(world.plan_of(*passes, stock=card)), f"plan {n}")

    def mended(self, scene: Scene, name: str) -> None:
        """Every mend that is offered ends its finding, and nothing as serious comes of it on those passes."""
        before = found(scene)
        known = {f.key for f in before}
        for finding in before:
            for mend in finding.mends:
                plan, _ = apply(scene, mend.kind, {"pass": "mended", **mend.values})
                after = found(scene.with_plan(plan))
                self.assertNotIn(finding.key, [f.key for f in after], f"{name}: {mend.label}")
                if mend.kind in ("set_ink", "set_coats") and finding.severity != "note":
                    own = [f for f in after if f.key not in known and set(f.passes) & set(finding.passes)]
                    self.assertEqual(
                        [f.sentence for f in own if f.severity == "stop"], [], f"{name}: {mend.label}"
                    )

    def test_every_mend_of_the_mistaken_build_can_be_applied(self) -> None:
        scene = world.scene(world.demo_plan("first-try-on-kraft"))
        for finding in found(scene):
            for mend in finding.mends:
                apply(scene, mend.kind, {"pass": "mended", **mend.values})

    def test_the_good_build_has_nothing_to_mend(self) -> None:
        left = [f.sentence for f in found(world.scene())]
        self.assertEqual(left, ["Under the Bridge has run dry: lily pads cannot be inked."])

    def test_every_finding_has_a_key_of_its_own_whatever_it_says(self) -> None:
        scene = world.scene(world.demo_plan("first-try-on-kraft"))
        keys = [f.key for f in found(scene)]
        self.assertEqual(len(keys), len(set(keys)))
        inks = {k: replace(i, name=f"Pad {n}") for n, (k, i) in enumerate(scene.inks.items())}
        self.assertEqual([f.key for f in found(replace(scene, inks=inks))], keys)

    def test_a_warning_that_is_left_stands_in_nobodys_way(self) -> None:
        scene = world.scene(world.demo_plan("first-try-on-kraft"))
        grave = serious(found(scene), scene)
        plan, _ = apply(scene, "leave_finding", {"finding": grave[0].key})
        after = scene.with_plan(plan)
        self.assertEqual([f.key for f in serious(found(after), after)], [f.key for f in grave[1:]])
        back, _ = apply(after, "look_again", {"finding": grave[0].key})
        self.assertEqual(len(serious(found(after), after.with_plan(back))), len(grave))

    def test_the_mistaken_build_shows_what_it_was_made_for(self) -> None:
        codes = {f.code for f in found(world.scene(world.demo_plan("first-try-on-kraft")))}
        self.assertLessEqual({"lost", "brown_risk", "wrong_way", "missing_pad", "forgotten"}, codes)

    def test_a_dye_on_black_is_told_to_take_a_white_ground(self) -> None:
        scene = world.scene(world.plan_of(ONE("a", "lantern", 1, "lamp-haze"), stock="Black"))
        finding = next(f for f in found(scene) if f.code == "lost")
        self.assertIn("Black", finding.sentence)
        self.assertEqual(finding.mends[0].kind, "add_pass")

    def test_deep_first_is_not_called_wrong(self) -> None:
        plan = replace(MISTAKES["wrong_way"][0][1]().plan, school="deep first")
        self.assertNotIn("wrong_way", {f.code for f in found(world.scene(plan))})

    def test_a_leap_that_ends_inside_an_opening_is_too_large_to_join(self) -> None:
        leap = world.plan_of(
            ONE("a", "lantern", 1, "lamp-haze"), ONE("b", "lantern", 1, "coal-wharf", 2, form=SIDE)
        )
        finding = next(f for f in found(world.scene(leap)) if f.code == "step_size")
        self.assertIn("too large", finding.sentence)
        self.assertEqual(finding.mends[0].label, "Lighten to Drizzle")
        cut = world.plan_of(ONE("a", "lantern", 1, "lamp-haze"), ONE("b", "lantern", 2, "coal-wharf", 2))
        self.assertNotIn("step_size", {f.code for f in found(world.scene(cut))})

    def test_a_sheet_that_is_never_used_is_said_once(self) -> None:
        scene = world.scene(world.plan_of(ONE("a", "lantern", 1, "lamp-haze"), ONE("b", "bud", 3, "campion")))
        said = [f for f in found(scene) if f.code == "forgotten"]
        whole = [f for f in said if f.subject.kind == "sheet"]
        self.assertEqual([f.subject.sheet for f in whole], [2, 4, 5])
        self.assertEqual({f.subject.sheet for f in said if f.subject.kind == "element"}, {1, 3})
        plan, _ = apply(scene, whole[0].mends[0].kind, whole[0].mends[0].values)
        left = [f.subject.sheet for f in found(scene.with_plan(plan)) if f.subject.kind == "sheet"]
        self.assertEqual(left, [4, 5])

    def test_a_low_pad_is_said_where_many_cards_are_to_be_made(self) -> None:
        for cards, expected in ((1, 0), (12, 1)):
            scene = world.scene(world.plan_of(ONE("a", "lantern", 1, "campion"), cards=cards))
            low = [f for f in found(scene) if f.code == "missing_pad"]
            self.assertEqual([f.severity for f in low], ["note"] * expected)

    def test_an_ink_never_seen_on_dark_card_is_a_guess(self) -> None:
        from dataclasses import replace

        red = world.inks()["roses-red"]
        guess = replace(red, swatches=tuple(s for s in red.swatches if s.on[0] > 60))
        plan = world.plan_of(ONE("a", "lantern", 1, "pitch-black"), ONE("b", "lantern", 2, "roses-red"))
        scene = Scene({"image": world.koi()}, plan, world.stocks(), {**world.inks(), "roses-red": guess})
        self.assertIn("guessed", {f.code for f in found(scene)})


class LadderTest(unittest.TestCase):
    def test_a_ladder_agrees_with_the_stack(self) -> None:
        from strata.optics import Coat, predict

        scene = world.scene(
            world.plan_of(ONE("a", "lantern", 1, "lamp-haze"), ONE("b", "lantern", 2, "coral-kettle"))
        )
        rungs = ladders(scene, dispatch(scene))["lantern"]
        self.assertEqual([r.pass_key for r in rungs], ["a", "b"])
        lamp, coral = scene.inks["lamp-haze"], scene.inks["coral-kettle"]
        self.assertEqual(rungs[0].here, predict(scene.stock, [Coat(lamp, 1)]))
        self.assertEqual(rungs[1].here, predict(scene.stock, [Coat(lamp, 1), Coat(coral, 1)]))
        self.assertAlmostEqual(rungs[1].step or 0, difference(rungs[1].before, rungs[1].here))
        self.assertIsNone(rungs[0].step)

    def test_a_pass_over_two_grounds_tells_both(self) -> None:
        scene = world.scene(
            world.plan_of(ONE("a", "water", 1, "long-pound"), ONE("b", "lily pads", 3, "willow-tip"))
        )
        places = ladders(scene, dispatch(scene))["lily pads"][0].places
        self.assertGreaterEqual(len(places), 2)
        self.assertLessEqual(sum(p.share for p in places), 1.001)
        self.assertEqual({bool(p.under) for p in places}, {True, False})

    def test_roles(self) -> None:
        scene = world.scene()
        roles = {e: [r.role for r in rungs] for e, rungs in ladders(scene, dispatch(scene)).items()}
        self.assertEqual(roles["lantern"][0], "highlight")
        self.assertEqual(roles["lantern"][-1], "line")
        for own in roles.values():
            self.assertLessEqual(own.count("shadow") + own.count("accent"), 1)
        black = world.scene(
            world.plan_of(
                ONE("a", "lantern", 1, "whitewash", 2), ONE("b", "lantern", 1, "campion"), stock="Black"
            )
        )
        self.assertEqual(ladders(black, dispatch(black))["lantern"][0].role, "ground")

    def test_trying_inks_tells_what_choosing_them_would_show(self) -> None:
        scene = world.scene()
        before = ladders(scene, dispatch(scene))["water"]
        item = scene.plan.find(before[-1].pass_key)
        tried = try_inks(scene, item, before[-1], ["campion", item.ink])
        self.assertLess(difference(tried[item.ink].here, before[-1].here), 0.3)
        plan, _ = apply(scene, "set_ink", {"pass": item.key, "ink": "campion"})
        after = scene.with_plan(plan)
        chosen = ladders(after, dispatch(after))["water"][-1]
        self.assertLess(difference(tried["campion"].here, chosen.here), 0.5)


class SilenceTest(unittest.TestCase):
    """Where nothing is wrong nothing is said: a warning too many teaches a maker to look away."""

    def test_good_work_is_left_alone(self) -> None:
        for name, scene in good().items():
            said = [f"{f.severity}: {f.sentence}" for f in found(scene) if f.severity in ("stop", "look")]
            self.assertEqual(said, [], name)

    def test_a_pass_is_found_wanting_once(self) -> None:
        for plans in MISTAKES.values():
            for name, made in plans:
                tones = [
                    f.passes[0]
                    for f in found(made())
                    if f.code in ("lost", "brown_risk", "wrong_way", "step_size", "deepens")
                ]
                self.assertEqual(len(tones), len(set(tones)), name)

    def codes(self, *passes: object, **values: object) -> set[str]:
        plan = world.plan_of(*passes, **values)  # type: ignore[arg-type]
        return {f.code for f in found(world.scene(plan))} - {"forgotten"}

    def test_light_mid_and_deep_of_one_family(self) -> None:
        shades = [
            ONE(k, "lantern", 1, k, form=form)
            for k, form in (
                ("peach-tin", Form()),
                ("coral-kettle", SIDE),
                ("painted-rose", Form("side", 120, 0.25)),
            )
        ]
        self.assertEqual(self.codes(*shades), set())

    def test_a_neighbouring_hue_may_change_without_being_lost(self) -> None:
        self.assertEqual(
            self.codes(ONE("a", "lantern", 1, "lamp-haze"), ONE("b", "lantern", 2, "coral-kettle")), set()
        )
        self.assertEqual(
            self.codes(ONE("a", "water", 1, "thin-ice"), ONE("b", "lily pads", 3, "willow-tip")), set()
        )

    def test_dark_lines_may_lie_over_anything(self) -> None:
        self.assertEqual(
            self.codes(ONE("a", "upper koi", 1, "peach-tin"), ONE("b", "upper koi", 5, "coal-wharf", 2)),
            set(),
        )

    def test_an_opaque_light_over_a_dark_is_not_the_wrong_way_round(self) -> None:
        said = self.codes(ONE("a", "lantern", 1, "stove-door"), ONE("b", "lantern", 1, "whitewash", 2, SIDE))
        self.assertNotIn("wrong_way", said)
        self.assertNotIn("lost", said)

    def test_grey_over_colour_is_not_called_brown(self) -> None:
        self.assertNotIn(
            "brown_risk",
            self.codes(ONE("a", "lantern", 1, "coral-kettle"), ONE("b", "lantern", 2, "wet-slate")),
        )

    def test_a_proposed_brush_never_warns(self) -> None:
        for element, sheet in world.koi().groups:
            self.assertNotIn(
                "brush_fit", self.codes(ONE("a", element, sheet, "coal-wharf")), (element, sheet)
            )

    def test_bare_on_purpose_is_not_forgotten(self) -> None:
        scene = world.scene(
            world.plan_of(
                ONE("a", "lantern", 1, "lamp-haze"),
                bare=tuple(g for g in world.koi().groups if g != ("lantern", 1)),
            )
        )
        self.assertNotIn("forgotten", {f.code for f in found(scene)})

    def test_kraft_dulls_without_an_alarm_for_every_ink(self) -> None:
        alarms = [
            k
            for k in ("coral-kettle", "lily-leaf", "puddled-clay", "long-pound")
            if self.codes(ONE("a", "lantern", 1, k), stock="Kraft")
        ]
        self.assertEqual(alarms, [])

    def test_most_serious_first(self) -> None:
        order = [f.severity for f in found(world.scene(world.demo_plan("first-try-on-kraft")))]
        self.assertEqual(order, sorted(order, key=list(SEVERITIES).index))
