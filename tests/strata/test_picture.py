"""The picture: coverage, shading forms, the map of stacks and its palettes, against every pixel by itself."""

import unittest
from dataclasses import replace
from functools import partial
from typing import Any
from unittest import mock

import numpy as np

from strata.errors import BadValue
from strata.optics import Coat, difference, predict
from strata.optics.colour import differences, hex_of
from strata.order import dispatch
from strata.picture import Field, Layer, field_of, layers_of, stacks_of
from strata.picture import colours as painted
from strata.picture.colours import reference_lab
from strata.picture.forms import FORMS
from strata.picture.raster import Raster, Window, coverage, window
from strata.picture.shown import build_up, changed, panel_after, view
from strata.plan import Form
from strata.plan.model import FORM_KINDS
from tests import world


def whole(raster: Raster) -> Window:
    return Window(0, 0, raster.width, raster.height)


class RasterTest(unittest.TestCase):
    def test_coverage_has_the_exact_area(self) -> None:
        koi = world.koi()
        raster = Raster.of(koi.width, koi.height, 800)
        for group in koi.groups.values():
            filled = coverage(group.shape.geoms, whole(raster), raster).sum() / raster.scale**2
            self.assertAlmostEqual(filled, group.area, delta=0.001 * group.area, msg=str(group.key))

    def test_a_window_stays_on_the_grid(self) -> None:
        raster = Raster.of(100, 80, 200)
        self.assertEqual(window((-5, -5, 500, 500), raster), Window(0, 0, 200, 160))
        for wrong in (0, 5000, float("nan")):
            with self.assertRaises(BadValue):
                Raster.of(100, 80, wrong)  # type: ignore[arg-type]


class FormTest(unittest.TestCase):
    def setUp(self) -> None:
        self.group = world.two_sheets().groups["leaf", 1]  # 10..40 x 10..50 mm
        self.raster = Raster.of(100, 80, 400)

    def field(self, form: Form, brush: float = 5.0) -> np.ndarray:
        full = np.zeros((self.raster.height, self.raster.width), np.float32)
        found = field_of(self.group.shape, form, 0.8 * brush, self.raster)
        full[found.at.slices] = found.values
        return full

    def at(self, field: np.ndarray, x: float, y: float) -> float:
        return float(field[int(y * 4), int(x * 4)])

    def test_every_kind_is_registered_and_stays_between_nothing_and_one(self) -> None:
        self.assertEqual(set(FORMS), set(FORM_KINDS))
        for kind in FORMS:
            for span in ("element", "opening"):
                for extent in (0.05, 0.5, 1.0):
                    field = self.field(Form(kind, 200, extent, 0.3, span))
                    self.assertTrue(np.all((field >= 0) & (field <= 1)), kind)
                    self.assertGreater(field.max(), 0.5, (kind, span, extent))
                    self.assertEqual(self.at(field, 5, 30), 0, "no ink outside the opening")

    def test_from_below_reaches_as_far_as_told(self) -> None:
        field = self.field(Form("side", 90, 0.5))
        self.assertEqual(self.at(field, 25, 47), 1)
        self.assertEqual(self.at(field, 25, 13), 0)
        self.assertAlmostEqual(self.at(field, 25, 30), 0.5, delta=0.1)

    def test_angle_names_the_side_the_ink_comes_from(self) -> None:
        right = self.field(Form("side", 0, 0.3))
        self.assertGreater(self.at(right, 38, 30), 0.9)
        self.assertEqual(self.at(right, 12, 30), 0)

    def test_centre_and_edges_are_each_others_opposite(self) -> None:
        centre, edges = self.field(Form("centre", extent=0.5)), self.field(Form("edges", extent=0.5))
        self.assertGreater(self.at(centre, 25, 30), 0.95)
        self.assertLess(self.at(edges, 25, 30), 0.05)
        self.assertGreater(self.at(edges, 11, 30), 0.9)
        self.assertLess(self.at(centre, 11, 30), 0.1)

    def test_a_band_lies_where_it_is_put(self) -> None:
        band = self.field(Form("band", 90, 0.2, 0.5))
        self.assertGreater(self.at(band, 25, 30), 0.8)
        self.assertEqual(self.at(band, 25, 12), 0)
        self.assertEqual(self.at(band, 25, 48), 0)

    def test_base_is_the_lower_end_along_the_shape(self) -> None:
        base = self.field(Form("base", 0, 0.3))
        self.assertGreater(self.at(base, 25, 48), 0.9)
        self.assertEqual(self.at(base, 25, 12), 0)

    def test_a_stencil_edge_is_hard_and_a_brush_edge_soft(self) -> None:
        hard, soft = self.field(Form()), self.field(Form("side", 90, 0.5), brush=25)
        for field, least, most in ((hard, 0, 2), (soft, 30, 90)):
            column = field[:, 100]
            self.assertTrue(least <= np.count_nonzero((column > 0.02) & (column < 0.98)) <= most)


class PanelTest(unittest.TestCase):
    def setUp(self) -> None:
        self.scene = world.scene()
        self.sequence = dispatch(self.scene)
        self.raster = Raster.of(self.scene.layer_set.width, self.scene.layer_set.height, 260)
        self.layers = layers_of(self.scene, self.scene.plan.passes, self.sequence.wet, self.raster)

    def test_the_map_stays_within_the_bars_of_every_pixel_by_itself(self) -> None:
        for name in ("thank-you-by-lantern-light", "first-try-on-kraft"):
            scene = world.scene(world.demo_plan(name))
            off = world.map_errors(view(scene, dispatch(scene).wet, 300))
            self.assertLess(off.max(), 1.0, name)
            self.assertLess(np.quantile(off, 0.999), 0.4, name)

    def test_a_pixel_is_the_stack_it_shows(self) -> None:
        rows, columns = np.array([20, 100, 150, 200]), np.array([180, 100, 60, 30])
        shares = world.shares_at(self.layers, rows, columns)
        labs = reference_lab(self.scene.stock, self.layers, shares)
        for share, lab in zip(shares, labs, strict=True):
            coats = [
                Coat(la.ink, la.thickness * float(s), la.wet)
                for la, s in zip(self.layers, share, strict=True)
                if s > 0 and la.ink is not None
            ]
            self.assertLess(difference(predict(self.scene.stock, coats), tuple(lab)), 0.3)

    def test_bare_card_has_the_colour_of_the_card(self) -> None:
        seen = view(self.scene, self.sequence.wet, 260)
        red, green, blue = (int(v) for v in panel_after(seen, None)[2, 2])
        code = hex_of(self.scene.stock.lab)[0]
        expected = [int(code[i : i + 2], 16) for i in (1, 3, 5)]
        self.assertTrue(all(abs(a - b) <= 2 for a, b in zip((red, green, blue), expected, strict=True)))

    def test_half_coverage_is_half_the_thickness_not_half_the_rgb(self) -> None:
        ink = self.scene.inks["lock-midnight"]
        layer = replace(self.layers[0], ink=ink, thickness=2.0, wet=False)
        half = reference_lab(self.scene.stock, [layer], np.array([[0.5]], np.float32))[0]
        self.assertLess(difference(tuple(half), predict(self.scene.stock, [Coat(ink, 1.0)])), 0.2)

    def test_a_change_of_ink_touches_only_its_own_stacks_and_equals_one_computed_whole(self) -> None:
        old = view(self.scene, self.sequence.wet, 260)
        first = self.scene.plan.passes[4]
        for swap in (replace(first, ink="dusk-mist"), replace(first, coats=3)):
            passes = tuple(swap if p.key == first.key else p for p in self.scene.plan.passes)
            new = view(self.scene.with_plan(replace(self.scene.plan, passes=passes)), self.sequence.wet, 260)
            rows = changed(old, new)
            assert rows is not None
            self.assertLess(len(rows), 0.5 * len(new.stacks.counts))
            patched = old.finished.copy()
            patched[rows] = new.palette(None, rows)
            self.assertLessEqual(np.abs(patched.astype(int) - new.finished).max(), 1)

    def test_a_palette_taken_from_the_last_one_is_the_one_computed_whole(self) -> None:
        """Over a walk of other inks and coats, back and forth; errors do not add up."""
        scene = world.scene()
        rng = np.random.default_rng(8)
        inks = sorted(scene.inks)
        for step in range(24):
            passes = list(scene.plan.passes)
            i = int(rng.integers(len(passes)))
            ink = inks[int(rng.integers(len(inks)))] if step % 3 else passes[i].ink
            passes[i] = replace(passes[i], ink=ink, coats=int(rng.integers(1, 4)))
            scene = scene.with_plan(replace(scene.plan, passes=tuple(passes)))
            found = view(scene, frozenset(), 200)
            whole_ = painted.colours(found.stock, found.layers, found.stacks.levels)
            self.assertLessEqual(np.abs(found.finished.astype(int) - whole_).max(), 1, f"step {step}")

    def test_what_stacks_have_in_common_is_worked_out_once_and_to_the_same(self) -> None:
        """Together and one by one, to the last bit: wet inks, water, gloss, foam, a piece with ink and gloss on it."""
        rng, stocks, inks = (
            np.random.default_rng(4),
            list(world.stocks().values()),
            list(world.inks().values()),
        )

        def layer(kind: str, surface: str = "panel", **more: Any) -> Layer:
            ink = inks[int(rng.integers(len(inks)))] if kind == "ink" else None
            return Layer(kind, mock.Mock(), None, (), surface, ink, float(rng.choice([0.5, 1, 2])), **more)

        layers = [
            *(layer("ink", wet=bool(n % 2)) for n in range(5)),
            layer("lift", strength=0.5),
            layer("gloss"),
            layer("shade", "piece", strength=0.3),
            layer("card", "piece", stock=stocks[1]),
            *(layer("ink", "piece", wet=bool(n % 2)) for n in range(3)),
            layer("gloss", "piece"),
            layer("ink"),
        ]
        levels = rng.choice([0, 0, 0.3, 1], (3000, len(layers))).astype(np.float32)
        together = painted.internal(stocks[0], layers, levels)
        alone = [painted.internal(stocks[0], layers, levels[[row]])[0] for row in range(200)]
        self.assertTrue(np.array_equal(together[:200], alone))
        self.assertGreater(np.ptp(together, axis=0).min(), 0.2)
        pile = painted._Pile(stocks[0], layers[:5], levels[:, :5]).laid()
        self.assertLessEqual(pile.count, 3**5)

    def test_each_of_a_class_goes_on_from_her_own_palette(self) -> None:
        """Ten colour one set with inks of their own, in turn: an edit of one costs what lies under it, whoever was before."""
        scene, rng = world.scene(), np.random.default_rng(9)
        inks = sorted(scene.inks)
        hers = []
        for _ in range(10):
            passes = [replace(p, ink=inks[int(rng.integers(len(inks)))]) for p in scene.plan.passes]
            hers.append(scene.with_plan(replace(scene.plan, passes=tuple(passes))))
        for own in hers:
            _ = view(own, frozenset(), 220).finished
        at = 4
        for own in hers:
            passes = [replace(p, coats=3) if i == at else p for i, p in enumerate(own.plan.passes)]
            found = view(own.with_plan(replace(own.plan, passes=tuple(passes))), frozenset(), 220)
            with mock.patch("strata.picture.shown.colours", side_effect=painted.colours) as worked:
                palette = found.finished
            self.assertLess(len(worked.call_args.args[2]), 0.5 * len(palette))
            anew = painted.colours(found.stock, found.layers, found.stacks.levels)
            self.assertLessEqual(np.abs(palette.astype(int) - anew).max(), 1)

    def test_another_form_is_another_map(self) -> None:
        old = view(self.scene, self.sequence.wet, 260)
        first = self.scene.plan.passes[4]
        passes = tuple(
            replace(p, form=Form("side", 45, 0.3)) if p.key == first.key else p
            for p in self.scene.plan.passes
        )
        new = view(self.scene.with_plan(replace(self.scene.plan, passes=passes)), self.sequence.wet, 260)
        self.assertIsNone(changed(old, new))

    def test_the_build_up_ends_at_the_finished_panel_and_passes_every_moment(self) -> None:
        seen = view(self.scene, self.sequence.wet, 200)
        palette = np.zeros((len(seen.stacks.counts), 3), np.uint8)
        for count, (rows, colours) in enumerate(build_up(seen, self.sequence.passes)):
            palette[rows] = colours
            if count in (0, 7, 20):
                np.testing.assert_array_equal(palette, seen.palette(self.sequence.passes[:count]))
        self.assertLessEqual(np.abs(palette.astype(int) - seen.finished).max(), 1)


class StacksTest(unittest.TestCase):
    def test_no_two_stacks_share_a_number_unless_they_are_alike(self) -> None:
        scene = world.scene()
        seen = view(scene, frozenset(), 200)
        self.assertEqual(int(seen.stacks.counts.sum()), seen.stacks.numbers.size)
        first = np.unique(seen.stacks.numbers.ravel(), return_index=True)[1]
        self.assertTrue(np.all(np.diff(first) > 0), "given in the order of first appearance")

    def test_random_stacks_of_soft_layers_stay_within_the_bars(self) -> None:
        rng = np.random.default_rng(4)
        inks = list(world.inks().values())
        stocks = list(world.stocks().values())
        worst, off = 0.0, []
        for _ in range(50):
            raster = Raster(70, 60, 1.0)
            y, x = np.mgrid[0:60, 0:70].astype(np.float32)
            layers = []
            for j in range(int(rng.integers(2, 9))):
                angle, ink = rng.uniform(0, 2 * np.pi), inks[int(rng.integers(len(inks)))]
                along = (x * np.cos(angle) + y * np.sin(angle) - rng.uniform(-20, 60)) / rng.uniform(4, 60)
                field = Window(0, 0, 70, 60), np.clip(along, 0, 1).astype(np.float32)
                layers.append(
                    Layer(
                        "ink",
                        partial(Field, *field),
                        j,
                        (j,),
                        ink=ink,
                        thickness=float(rng.choice([0.5, 1, 2, 3])),
                    )
                )
            stock = stocks[int(rng.integers(len(stocks)))]
            stacks = stacks_of(layers, replace(raster, scale=float(rng.uniform(1, 2))))
            exact = np.stack([layer.field.values.ravel() for layer in layers], axis=1)
            rounded = stacks.levels[stacks.numbers.ravel()]
            found = differences(reference_lab(stock, layers, exact), reference_lab(stock, layers, rounded))
            worst = max(worst, float(found.max()))
            off.append(found)
        self.assertLess(worst, 1.0)
        self.assertLess(float(np.quantile(np.concatenate(off), 0.999)), 0.4)
