"""The panel: what lies on it and where, what masks let through, and what card covers."""

import unittest
from dataclasses import replace

import numpy as np
import shapely

from strata.errors import BadValue, StrataError, UnknownName
from strata.optics import difference, predict
from strata.optics.stack import Coat
from strata.order import dispatch
from strata.panel import FREE, GROUND, Card, PanelSize, Place, Thing, Words, laid_of, the_image
from strata.panel.laid import cut_of
from strata.panel.lettering import lettering
from strata.panel.shapes import KINDS, Shape, drawn
from strata.panel.size import FORMATS, panel_for
from strata.panel.values import read_thing, write_thing
from strata.picture.shown import panel_after
from strata.plan import Materials, Plan, Scene
from strata.plan.edits import apply
from tests import world
from tests.small_panel import free, lab, mask, scene, seen

LEAF = 1200.0
# mm2: 30 x 40


class SizeTest(unittest.TestCase):
    def test_a_panel_is_a_quarter_of_an_inch_smaller_than_its_card(self) -> None:
        a2 = panel_for("a2")
        self.assertAlmostEqual((a2.width, a2.height), (4 * 25.4, 5.25 * 25.4))  # type: ignore[arg-type]
        self.assertEqual(panel_for("a6", whole=True), PanelSize(105, 148))
        self.assertEqual(panel_for("a6", lying=True, whole=True, trim=3), PanelSize(154, 111, 3))
        self.assertEqual(len(FORMATS), 10)

    def test_no_panel_of_nothing(self) -> None:
        for width, height, trim in (
            (0, 100, 0),
            (100, -1, 0),
            (100, 9000, 0),
            (50, 50, 24),
            (float("nan"), 9, 0),
        ):
            with self.assertRaises(BadValue):
                PanelSize(width, height, trim)
        with self.assertRaises(BadValue):
            panel_for("letter")


class ShapeTest(unittest.TestCase):
    def test_areas_follow_from_geometry(self) -> None:
        for kind, area in (
            ("round", np.pi * 100),
            ("oval", np.pi * 10 * 15),
            ("rectangle", 600),
            ("strip", 600),
            ("arch", np.pi * 100 / 2 + 20 * 20),
        ):
            self.assertAlmostEqual(drawn(Shape(kind, 20, 30)).area, area, delta=0.001 * area, msg=kind)
        points = ((0.0, 0.0), (10.0, 0.0), (10.0, 10.0))
        self.assertAlmostEqual(drawn(Shape("outline", points=points)).area, 50)

    def test_the_same_seed_is_the_same_edge_and_another_another(self) -> None:
        for kind in ("wavy", "torn"):
            one, again, other = (drawn(Shape(kind, 100, 50, seed=s)) for s in (1, 1, 2))
            self.assertTrue(one.equals(again))
            self.assertFalse(one.equals(other))
        self.assertTrue(drawn(Shape("straight", 100, 50)).equals(shapely.box(-50, 0, 50, 50)))

    def test_shapes_refuse_to_be_wrong(self) -> None:
        for make in (
            lambda: Shape("star"),
            lambda: Shape("round", 0),
            lambda: Shape("outline", points=((0.0, 0.0), (1.0, 1.0))),
            lambda: Shape("part"),
            lambda: Shape("round", float("inf")),
        ):
            with self.assertRaises(BadValue):
                make()
        self.assertEqual(len(KINDS), 11)


class LaidTest(unittest.TestCase):
    def test_a_set_alone_is_itself_and_the_bare_panel(self) -> None:
        own = world.two_sheets()
        laid = scene().layer_set
        self.assertEqual(laid.elements, (GROUND, *own.elements))
        for key, group in own.groups.items():
            self.assertTrue(laid.groups[key].shape.equals(group.shape))
        self.assertEqual(laid.groups[GROUND, FREE].area, 8000)

    def test_laid_elsewhere_it_keeps_areas_gaps_and_overlaps(self) -> None:
        second = Thing("b", 1, "set", "second", Place(45, 40, 30, True), source="image")
        laid, own = scene(things=(second,)).layer_set, world.two_sheets()
        self.assertAlmostEqual(laid.groups["second: leaf", 1001].area, LEAF)
        self.assertEqual(
            laid.gaps[frozenset(("second: leaf", "second: disc")), 1001],
            laid.gaps[frozenset(("leaf", "disc")), 1],
        )
        shared = {tuple(sorted(k)): v for k, v in laid.shared.items()}
        same = shared[("second: leaf", 1001), ("second: leaf", 1002)]
        self.assertAlmostEqual(same, own.groups["leaf", 2].area, delta=0.01)
        x, _ = laid.groups["second: leaf", 1001].shape.centroid.coords[0]
        # 25 mm, 30 mm of a page of 100 x 80: turned over it lies right of the middle, then 30 degrees round
        self.assertAlmostEqual(x, 45 + 25 * np.cos(np.radians(30)) + 10 * np.sin(np.radians(30)), places=6)

    def test_a_turn_is_about_the_middle(self) -> None:
        turned = replace(the_image(), place=Place(50, 40, 180))
        laid = laid_of((("image", world.two_sheets()),), (turned,), PanelSize(100, 80))
        self.assertAlmostEqual(laid.groups["leaf", 1].shape.bounds[2], 90)

    def test_the_two_halves_of_a_cut_meet_exactly(self) -> None:
        other = Thing("b", 1, "set", "other half", Place(50, 40), source="image", sheets=(1,), counter=True)
        laid = scene(things=(other,)).layer_set
        half = laid.groups["other half", 1001].shape
        own = shapely.union_all([g.shape for g in laid.groups.values() if g.sheet == 1])
        self.assertAlmostEqual(half.area + own.area, 8000)
        self.assertAlmostEqual(half.intersection(own).area, 0)

    def test_only_the_sheets_that_are_used(self) -> None:
        some = replace(the_image(), sheets=(2,))
        laid = laid_of((("image", world.two_sheets()),), (some,), None)
        self.assertEqual({s.number for s in laid.sheets}, {FREE, 2})
        with self.assertRaises(UnknownName):
            laid_of((("image", world.two_sheets()),), (replace(the_image(), sheets=(9,)),), None)

    def test_what_cannot_lie_there_is_refused(self) -> None:
        strip = Thing(
            "s", 1, "piece", "strip", Place(50, 40), shape=Shape("strip", 40, 10), card=Card("Kraft")
        )
        for wrong in (
            (replace(strip, on="t"), replace(strip, key="t", number=2, name="t", on="s")),
            (replace(strip, on="nobody"),),
            (replace(strip, place=Place(500, 500)),),
            (replace(strip, name="leaf"),),
            (mask("m", Shape("part", of="nobody")),),
            (mask("m", Shape("round", 10), 300, 300),),
            (replace(strip, card=Card("Vellum")),),
        ):
            with self.assertRaises(StrataError):
                _ = scene(things=wrong).layer_set
        with self.assertRaises(BadValue):
            replace(strip, on="s")
        with self.assertRaises(StrataError):
            Scene({}, Plan(Materials("Kraft")), world.stocks(), world.inks())


class MaskTest(unittest.TestCase):
    def test_ink_obeys_a_window_and_a_cover(self) -> None:
        for way, inside, outside in (("window", "inked", "bare"), ("cover", "bare", "inked")):
            made = seen(scene(free("g", "sloe"), things=(mask("moon", Shape("round", 20), way=way),)))
            bare = made.stock.lab
            inked = predict(made.stock, [Coat(world.inks()["sloe"], 1)])
            for word, place in ((inside, (50, 40)), (outside, (20, 20))):
                want = bare if word == "bare" else inked
                self.assertLess(difference(lab(made, *place), want), 0.6, (way, word))

    def test_it_is_on_from_one_pass_to_another(self) -> None:
        moon = mask("moon", Shape("round", 20), way="cover", since="b", until="b")
        passes = (free("a", "thin-ice"), free("b", "sloe"), free("c", "lamp-haze"))
        made = scene(*passes, things=(moon,))
        self.assertEqual([len(made.masks(p)) for p in passes], [0, 1, 0])
        without = seen(scene(passes[0], passes[2]))
        self.assertLess(difference(lab(seen(made), 50, 40), lab(without, 50, 40)), 0.6)

    def test_when_its_pass_goes_it_moves_to_the_next_and_is_laid_aside_with_the_last(self) -> None:
        moon = mask("moon", Shape("round", 20), way="cover", since="a", until="b")
        made = scene(free("a", "thin-ice"), free("b", "sloe"), things=(moon,))
        fewer, _ = apply(made, "remove_pass", {"pass": "a"})
        wear = fewer.thing("moon").wear
        assert wear is not None
        self.assertEqual((wear.since, wear.until, wear.off), ("b", "b", False))
        none, _ = apply(made.with_plan(fewer), "remove_pass", {"pass": "b"})
        left = none.thing("moon").wear
        assert left is not None
        self.assertTrue(left.off)

    def test_cut_from_a_part_it_goes_with_it_and_is_a_hair_smaller(self) -> None:
        cutout = mask("m", Shape("part", of="image", elements=("leaf",), allowance=-0.2), 0, 0, way="cover")
        made = scene(things=(cutout,))
        area = made.layer_set.masks["m"].area
        self.assertAlmostEqual(area, 29.6 * 39.6, places=3)
        moved, _ = apply(made, "move_thing", {"thing": "image", "by": [5, 3]})
        after = made.with_plan(moved).layer_set.masks["m"]
        self.assertAlmostEqual(after.bounds[0], 15.2)

    def test_the_plastic_of_a_sheet_lets_ink_through_its_openings_only(self) -> None:
        plastic = mask("m", Shape("sheet", of="image"), 0, 0, way="cover")
        made = seen(scene(free("g", "sloe"), things=(plastic,)))
        self.assertLess(difference(lab(made, 5, 5), made.stock.lab), 0.5)
        self.assertGreater(difference(lab(made, 25, 15), made.stock.lab), 30)

    def test_the_order_lays_it_on_and_takes_it_off(self) -> None:
        moon = mask("moon", Shape("round", 20), way="cover", until="a")
        steps = dispatch(scene(free("a", "sloe"), free("b", "thin-ice"), things=(moon,))).steps
        kinds = [s.kind for s in steps]
        self.assertLess(kinds.index("mask"), kinds.index("unmask"))
        self.assertIn("moon", next(s for s in steps if s.kind == "mask").sentence)


class PieceTest(unittest.TestCase):
    STRIP = Thing(
        "s", 1, "piece", "strip", Place(50, 40), shape=Shape("rectangle", 40, 20), card=Card("Kraft")
    )

    def test_no_ink_shines_through_card(self) -> None:
        made = seen(scene(free("g", "lock-midnight", coats=3), things=(self.STRIP,)))
        kraft = world.stocks()["Kraft"].lab
        self.assertLess(difference(lab(made, 50, 40), kraft), 0.3)
        self.assertGreater(difference(lab(made, 10, 10), kraft), 20)

    def test_ink_on_a_piece_is_ink_on_its_own_card(self) -> None:
        made = seen(
            scene(free("g", "sloe"), world.a_pass("p", "strip", 1001, "campion"), things=(self.STRIP,))
        )
        want = predict(world.stocks()["Kraft"], [Coat(world.inks()["campion"], 1)])
        self.assertLess(difference(lab(made, 50, 40), want), 0.3)

    def test_foam_throws_a_shadow_to_the_side_of_the_light_only(self) -> None:
        high = replace(self.STRIP, card=Card("Kraft", foam=3))
        made = seen(scene(things=(high,)), 400)
        bare = made.stock.lab
        self.assertGreater(difference(lab(made, 29, 51), bare), 3, "lower left")
        self.assertLess(difference(lab(made, 72.5, 27.5), bare), 1, "upper right")

    def test_what_lies_on_it_goes_with_it_and_is_cut_at_its_edge(self) -> None:
        word = Thing("w", 2, "words", "word", Place(50, 40), words=Words("I", 30), on="s")
        made = scene(world.a_pass("p", "word", 2001, "pitch-black"), things=(self.STRIP, word))
        self.assertLess(lab(seen(made), 50, 40)[0], 30)
        self.assertGreater(lab(seen(made), 50, 27)[0], 90, "what stands over the strip is not on the panel")
        moved, _ = apply(made, "move_thing", {"thing": "s", "by": [10, -5]})
        place = moved.thing("w").place
        assert place is not None
        self.assertEqual((place.x, place.y), (60, 35))

    def test_a_stamped_image_is_cut_out_on_its_outline(self) -> None:
        cut = replace(the_image(), card=Card("Ivory", allowance=2))
        laid = laid_of((("image", world.two_sheets()),), (cut,), PanelSize(100, 80))
        outline = cut_of(laid, "image")
        self.assertEqual(len(outline.geoms), 1, "leaf and disc are 2 mm apart: one piece")
        self.assertAlmostEqual(outline.bounds[0], 8, places=2)

    def test_die_cut_pieces_cover_one_another_from_the_lowest_up(self) -> None:
        moth = world.sets()["luna-moth"]
        pieces = replace(the_image(), card=Card("White smooth"), cards=((6, Card("Black")),))
        laid = laid_of((("image", moth),), (pieces,), None)
        self.assertEqual([s.key for s in laid.surfaces], [f"image/{n}" for n in range(1, 7)])
        plan = Plan(Materials("Kraft"), things=(pieces,))
        made = seen(Scene({"image": moth}, plan, world.stocks(), world.inks()))
        spot = laid.groups["body", 6].shape.representative_point()
        self.assertLess(lab(made, spot.x, spot.y)[0], 25, "the body is cut from black")
        glued = [s for s in dispatch(world.whole_card("luna-by-night")).steps if s.kind == "glue"]
        self.assertEqual(len(glued), 6)

    def test_pieces_appear_with_their_first_ink(self) -> None:
        made = scene(free("g", "sloe"), world.a_pass("p", "strip", 1001, "campion"), things=(self.STRIP,))
        before = panel_after(seen(made), ["g"])
        self.assertEqual(before[80, 100].tolist(), before[10, 10].tolist())


class ThingFileTest(unittest.TestCase):
    def test_every_thing_of_the_demo_world_comes_back(self) -> None:
        for name in world.DEMO_BUILDS:
            for thing in world.whole_card(name).plan.things:
                self.assertEqual(read_thing(write_thing(thing)), thing)

    def test_damaged_things_are_refused(self) -> None:
        good = write_thing(mask("m", Shape("round", 20)))
        for name, wrong in (
            ("kind", "star"),
            ("number", -1),
            ("number", "x"),
            ("shape", None),
            ("shape", {"kind": "round", "size": 3}),
            ("shape", {"kind": "outline", "points": [[1]]}),
            ("wear", {"way": "sideways"}),
            ("place", {"x": "left", "y": 0}),
            ("place", None),
            ("sheets", ["one"]),
            ("cards", [{"stock": "Kraft"}]),
            ("colour", "red"),
            ("name", "a: b"),
        ):
            with self.assertRaises(StrataError, msg=f"{name}={wrong!r}"):
                read_thing({**good, name: wrong})

    def test_words_are_as_high_as_they_say(self) -> None:
        for hand in ("script", "print"):
            x0, y0, x1, y1 = lettering(Words("H", 10, hand)).bounds
            self.assertAlmostEqual(
                y1 - y0, 10, delta=1.5, msg="a script's strokes reach a little below the line"
            )
            self.assertAlmostEqual(x0 + x1, 0, places=6)
        with self.assertRaises(BadValue) as caught:
            lettering(Words("日本"))
        self.assertIn("日", caught.exception.sentence)
        with self.assertRaises(BadValue):
            Words("   ")
