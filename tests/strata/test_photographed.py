"""Photographs of finished panels: found, evened, read against what was really laid; refused in words; learned from."""

import unittest
from dataclasses import replace
from functools import cache

import cv2
import numpy as np

from strata.camera.card import CardShot
from strata.camera.panel import AROUND, HiddenMaker, hidden_maker, made_by, panel_shot, photograph_panel
from strata.camera.photograph import encoded
from strata.camera.shot import Lens
from strata.errors import BadFile
from strata.optics.colour import differences, linear_of_bytes
from strata.optics.learned import Learned
from strata.optics.margin import margin
from strata.optics.stack import Coat
from strata.order import dispatch
from strata.photographed.learn import Habits, Shown, learn, predicted_with
from strata.photographed.reading import (
    RegionReading,
    packed,
    read_panel,
    read_reading,
    unpacked,
    write_reading,
)
from strata.photographed.regions import looked_at, predicted
from strata.photographed.register import register
from strata.photographed.told import FAR, by_element, came_out, mean_difference
from strata.picture.shown import View
from strata.plan import Scene
from tests import world
from tests.panels import laid

WHITE = "White smooth"


@cache
def seen(name: str) -> tuple[Scene, frozenset[str], View]:
    scene = world.whole_card(name)
    wet = dispatch(scene).wet
    return scene, wet, looked_at(scene, wet)


@cache
def own(name: str):  # type: ignore[no-untyped-def]
    return predicted(seen(name)[2])


@cache
def taken(name: str, seed: int, on: str = "", **over: float) -> tuple[np.ndarray, Scene, CardShot]:
    scene, wet, _ = seen(name)
    shot = panel_shot(scene.layer_set.width, scene.layer_set.height, seed)
    # as large as photographs are kept
    shot = replace(shot, width=2 * shot.width // 3, height=2 * shot.height // 3, **over)
    made = made_by(scene, hidden_maker(seed, scene.inks), seed)
    return photograph_panel(made, wet, shot, scene.stocks[on].lab if on else None), made, shot


def truth(name: str, made: Scene) -> np.ndarray:
    """What was really laid in each region (n, 3)."""
    return np.asarray(laid(own(name)[0], looked_at(made, seen(name)[1])))


class ReadingTest(unittest.TestCase):
    def read(self, name: str, seed: int, on: str = "", **over: float) -> None:
        rgb, made, shot = taken(name, seed, on, **over)
        panel, regions = own(name)
        card = seen(name)[0].stocks[on].lab if on else None
        found, straight = read_panel(rgb, panel, card)
        self.assertEqual(straight.shape, panel.linear.shape)
        off = differences(np.array([r.lab for r in found.regions]), truth(name, made))
        self.assertLess(float(off.mean()), 2.0)
        self.assertLess(float(off.max()), 6.0)
        before = differences(np.array([r.predicted for r in regions]), truth(name, made))
        self.assertLess(float(off.mean()), float(before.mean()))
        self.registered(name, found.corners, shot, bool(on))
        self.assertEqual(read_reading(write_reading(found)), found)

    def registered(
        self, name: str, corners: tuple[tuple[float, float], ...], shot: CardShot, on: bool
    ) -> None:
        panel = own(name)[0]
        edge = AROUND if on else 0.0
        lens = Lens(shot, panel.width + 2 * edge, panel.height + 2 * edge)
        w, h = panel.width, panel.height
        at = np.array([(0, 0), (w, 0), (w, h), (0, h)], float)
        px = lens.project(at + edge)
        a_mm = np.linalg.norm(lens.project(at + edge + np.array([1.0, 0.0])) - px, axis=1)
        self.assertLess(float((np.linalg.norm(np.array(corners) - px, axis=1) / a_mm).max()), 0.5)

    def test_by_daylight_on_a_table(self) -> None:
        self.read("thank-you-by-lantern-light", 3, kelvin=5400.0)

    def test_by_a_warm_lamp_on_kraft(self) -> None:
        self.read("first-try-on-kraft", 2, kelvin=3400.0)

    def test_without_bare_card_it_is_laid_on_white(self) -> None:
        self.read("koi-at-dusk", 1, WHITE)
        rgb, _, _ = taken("koi-at-dusk", 1, WHITE)
        with self.assertRaises(BadFile) as caught:
            read_panel(rgb, own("koi-at-dusk")[0])
        self.assertEqual(caught.exception.field, "no_bare")

    def test_outlines_are_found_to_a_tenth_of_a_millimetre(self) -> None:
        rgb, _, shot = taken("thank-you-by-lantern-light", 3)
        panel = own("thank-you-by-lantern-light")[0]
        for turned in (1, 2):
            picture = np.ascontiguousarray(np.rot90(rgb, turned))
            lying = register(linear_of_bytes(picture), picture, panel)
            self.assertLess(lying.off, 0.2)
        grid = np.stack(
            np.meshgrid(np.linspace(8, panel.width - 8, 9), np.linspace(8, panel.height - 8, 9)), -1
        )
        points = grid.reshape(-1, 2)
        lens = Lens(shot, panel.width, panel.height)
        lying = register(linear_of_bytes(rgb), rgb, panel)
        px = lens.project(points)
        a_mm = np.linalg.norm(lens.project(points + np.array([1.0, 0.0])) - px, axis=1)
        off = np.linalg.norm(lying.placed.project(points) - px, axis=1) / a_mm
        self.assertLess(float(off.max()), 0.3)

    def test_what_a_child_is_given_comes_back_as_it_was(self) -> None:
        panel = own("thank-you-by-lantern-light")[0]
        again = unpacked(packed(panel))
        self.assertEqual((again.width, again.height), (panel.width, panel.height))
        np.testing.assert_array_equal(again.labels, panel.labels)
        np.testing.assert_allclose(again.linear, panel.linear, atol=1e-3)
        for data in (b"", b"PK\x03\x04rubbish", packed(panel)[:200]):
            with self.assertRaises(BadFile):
                unpacked(data)


class RefusedTest(unittest.TestCase):
    """Every photograph that would be learned from wrongly, refused with its reason."""

    NAME = "thank-you-by-lantern-light"

    def refused(self, rgb: np.ndarray, reason: str) -> None:
        with self.assertRaises(BadFile) as caught:
            read_panel(np.ascontiguousarray(rgb), own(self.NAME)[0])
        self.assertEqual(caught.exception.field, reason)
        self.assertTrue(caught.exception.sentence.endswith((".", "?")))

    def test_light(self) -> None:
        rgb = taken(self.NAME, 3)[0]
        light = linear_of_bytes(rgb)
        shade = np.ones(rgb.shape[:2], np.float32)
        shade[rgb.shape[0] // 2 :, rgb.shape[1] // 2 :] = 0.55
        shade = cv2.GaussianBlur(shade, (0, 0), 9)
        for reason, changed in (
            ("shadowed", light * shade[..., None]),
            ("too_dark", light * np.float32(0.03)),
            ("overexposed", light * np.float32(1.9)),
            ("too_yellow", light * np.array([1.0, 0.7, 0.1], np.float32)),
        ):
            self.refused(encoded(changed), reason)

    def test_camera_and_card(self) -> None:
        rgb = taken(self.NAME, 3)[0]
        self.refused(cv2.GaussianBlur(rgb, (0, 0), 12), "not_sharp")
        self.refused(rgb[:, : int(rgb.shape[1] * 0.62)], "not_whole")
        h, w = rgb.shape[:2]
        y, x = np.mgrid[0:h, 0:w].astype(np.float32)
        bent = cv2.remap(rgb, x + 28 * np.sin(y / h * 6.3), y + 20 * np.sin(x / w * 7), cv2.INTER_LINEAR)
        self.refused(bent, "not_flat")

    def test_other_cards_and_no_card(self) -> None:
        self.refused(taken("koi-at-dusk", 1, WHITE)[0], "wrong_card")
        with self.assertRaises(BadFile):
            read_panel(np.full((900, 700, 3), 128, np.uint8), own(self.NAME)[0])
        kraft, _ = read_panel(taken("first-try-on-kraft", 2, kelvin=3400.0)[0], own(self.NAME)[0])
        self.assertGreater(mean_difference(own(self.NAME)[1], kraft.regions), FAR)

    def test_corners_shown_by_hand_are_gone_by(self) -> None:
        rgb, _, shot = taken(self.NAME, 3)
        panel = own(self.NAME)[0]
        lens = Lens(shot, panel.width, panel.height)
        at = lens.project(
            np.array([(0, 0), (panel.width, 0), (panel.width, panel.height), (0, panel.height)], float)
        )
        shown = at + np.array([(14, -9), (-12, 6), (9, 13), (-11, -14)], float)
        found, _ = read_panel(rgb, panel, corners=shown)
        self.assertLess(float(np.abs(np.array(found.corners) - at).max()), 6)


def as_made(name: str, maker: HiddenMaker) -> Shown:
    """A card as that maker makes it, as if a photograph told no lie."""
    made = made_by(seen(name)[0], replace(maker, slip=0.0), 1)
    labs = truth(name, made)
    read = tuple(RegionReading((float(a), float(b), float(c)), 1.0, "good") for a, b, c in labs)
    return Shown(seen(name)[2], own(name)[1], read)


class LearnTest(unittest.TestCase):
    def test_what_three_cards_say_is_true_of_the_next(self) -> None:
        for seed in (11,):
            maker = hidden_maker(seed, world.bottles())
            cards = [
                as_made(n, maker) for n in ("koi-at-dusk", "hedgehog-at-the-pump-house", "first-try-on-kraft")
            ]
            found = learn(cards)
            self.assertEqual(found.cards, 3)
            self.assertLess(found.after, 0.5 * found.before)
            following = as_made("thank-you-by-lantern-light", maker)
            before = differences(predicted_with(following, Habits({}, {})), following.labs)
            after = differences(predicted_with(following, found.habits), following.labs)
            self.assertLess(float(after.mean()), 0.5 * float(before.mean()))
            self.assertLess(float((after[before > 4] / before[before > 4]).max(initial=0)), 0.75)

    def test_nothing_is_learned_where_all_is_as_predicted(self) -> None:
        plain = as_made("thank-you-by-lantern-light", HiddenMaker({}, {}, 0.0))
        found = learn([plain])
        self.assertLess(found.before, 0.1)
        self.assertEqual((found.habits.inks, found.habits.hands), ({}, {}))
        self.assertEqual(learn([]).cards, 0)

    def test_one_small_wrong_region_moves_hardly_anything(self) -> None:
        plain = as_made("thank-you-by-lantern-light", HiddenMaker({}, {}, 0.0))
        small = min(plain.usable, key=lambda i: plain.regions[i].area)
        read = list(plain.found)
        read[small] = RegionReading((50.0, 60.0, -60.0), 1.0, "good")
        found = learn([replace(plain, found=tuple(read))])
        for learned in found.habits.inks.values():
            self.assertLess(abs(np.log(learned.strength)), 0.12)

    def test_a_warm_photograph_is_not_a_warm_pad(self) -> None:
        plain = as_made("thank-you-by-lantern-light", HiddenMaker({}, {}, 0.0))
        from strata.swatchcard.correct import lab_of, linear_of

        warm = lab_of(linear_of(plain.labs) @ np.array([[1.04, 0.02, 0], [-0.04, 0.98, 0.03], [0, 0, 0.97]]))
        read = list(plain.found)
        for i, lab in zip(plain.usable, warm, strict=True):
            read[i] = RegionReading((float(lab[0]), float(lab[1]), float(lab[2])), 1.0, "good")
        found = learn([replace(plain, found=tuple(read))])
        for learned in found.habits.inks.values():
            self.assertLess(abs(np.log(learned.strength)), 0.2)

    def test_patchy_and_glaring_regions_are_not_gone_by(self) -> None:
        plain = as_made("thank-you-by-lantern-light", HiddenMaker({}, {}, 0.0))
        read = tuple(replace(f, state="glare") for f in plain.found)
        self.assertEqual(learn([replace(plain, found=read)]).cards, 0)

    def test_a_stronger_pad_is_more_coats_of_it(self) -> None:
        ink = world.inks()["coral-kettle"]
        strong = replace(ink, learned=Learned(2.0))
        one, two = strong.deposit(1.0, "smooth"), ink.deposit(2.0, "smooth")
        np.testing.assert_allclose(one.absorbed, two.absorbed)
        self.assertNotEqual(hash(strong), hash(ink))
        leaning = replace(ink, learned=Learned(1.0, (0.3, 0.0))).deposit(1.0, "smooth").absorbed
        plain = ink.deposit(1.0, "smooth").absorbed
        self.assertLess(leaning[0], plain[0])
        self.assertGreater(leaning[-1], plain[-1])

    def test_the_margin_shrinks_with_made_cards_and_never_to_nothing(self) -> None:
        stock = world.stocks()[WHITE]
        margins = []
        for cards in (0, 1, 3, 50):
            inks = [
                replace(world.inks()[k], learned=Learned(1.1, cards=cards))
                for k in ("coral-kettle", "thin-ice")
            ]
            margins.append(margin(stock, [Coat(i, 1.0) for i in inks]))
        self.assertEqual(margins, sorted(margins, reverse=True))
        self.assertGreater(margins[0], margins[1])
        self.assertGreaterEqual(margins[-1], 2.5)


class ToldTest(unittest.TestCase):
    def test_came_out(self) -> None:
        red = (50.0, 50.0, 30.0)
        for after, words in (
            ((44.0, 50.0, 30.0), "deeper"),
            ((58.0, 50.0, 30.0), "paler"),
            ((50.0, 34.0, 20.0), "duller"),
            ((50.0, 40.0, 42.0), "more orange"),
            ((50.2, 50.1, 30.1), "a little different"),
        ):
            self.assertIn(words, came_out(red, after))
        self.assertEqual(came_out((80.0, 0.0, 2.0), (80.0, 8.0, 2.0)), "pinker")

    def test_a_coat_too_many_is_thought_of(self) -> None:
        scene, wet, view = seen("first-try-on-kraft")
        item = next(p for p in scene.plan.passes if p.element == "lantern" and p.coats == 1)
        more = tuple(replace(p, coats=3) if p.key == item.key else p for p in scene.plan.passes)
        labs = truth("first-try-on-kraft", scene.with_plan(replace(scene.plan, passes=more)))
        read = tuple(RegionReading((float(a), float(b), float(c)), 1.0, "good") for a, b, c in labs)
        told = {t.element: t for t in by_element(Shown(view, own("first-try-on-kraft")[1], read))}
        self.assertIn(scene.ink(item).name, told["lantern"].guess)
        self.assertEqual(
            {t.words for t in told.values() if t.element != "lantern"},
            {"as predicted, as far as a photograph can tell"},
        )
        self.assertEqual(next(iter(told)), "lantern")
        self.assertEqual(wet, dispatch(scene).wet)
