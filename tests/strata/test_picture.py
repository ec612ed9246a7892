"""The picture: coverage, shading forms, and pictures patched against pictures computed whole."""

import unittest
from dataclasses import replace

import numpy as np

from strata.errors import BadValue
from strata.optics import Coat, difference, predict
from strata.optics import layers as law
from strata.optics.colour import XYZ_WEIGHTS, differences, hex_of, lab_from_xyz
from strata.order import dispatch
from strata.picture import field_of, layers_of, quadrature
from strata.picture.album import Album, changed
from strata.picture.forms import FORMS
from strata.picture.panel import Panel, paint, reference_lab, shares_at, shares_in, tuned_weights
from strata.picture.raster import Raster, Window, coverage, window
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
        found = field_of(self.group, form, brush, self.raster)
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

    def image(self, layers: list) -> np.ndarray:
        image = np.empty((self.raster.height, self.raster.width, 3), np.uint8)
        paint(image, self.scene.stock, layers, whole(self.raster))
        return image

    def test_few_bands_stay_within_half_a_ciede2000_of_all(self) -> None:
        for name in ("thank-you-by-lantern-light", "first-try-on-kraft"):
            scene = world.scene(world.demo_plan(name))
            layers = layers_of(scene, scene.plan.passes, dispatch(scene).wet, self.raster)
            seen, active = shares_in(layers, whole(self.raster))
            shares = np.zeros((len(seen), len(layers)), np.float32)
            shares[:, active] = seen
            weights = tuned_weights(scene.stock, layers)
            few = law.outside(Panel(scene.stock, layers, quadrature.BANDS).internal(shares))
            off = differences(lab_from_xyz(few @ weights.T), reference_lab(scene.stock, layers, shares))
            self.assertLess(off.max(), 0.5, name)

    def test_a_pixel_is_the_stack_it_shows(self) -> None:
        rows, columns = np.array([20, 100, 150, 200]), np.array([180, 100, 60, 30])
        shares = shares_at(self.layers, rows, columns)
        labs = reference_lab(self.scene.stock, self.layers, shares)
        for share, lab in zip(shares, labs, strict=True):
            coats = [
                Coat(la.ink, la.thickness * float(s), la.wet)
                for la, s in zip(self.layers, share, strict=True)
                if s > 0
            ]
            self.assertLess(difference(predict(self.scene.stock, coats), tuple(lab)), 0.3)

    def test_bare_card_has_the_colour_of_the_card(self) -> None:
        red, green, blue = (int(v) for v in self.image(self.layers)[2, 2])
        code = hex_of(self.scene.stock.lab)[0]
        expected = [int(code[i : i + 2], 16) for i in (1, 3, 5)]
        self.assertTrue(all(abs(a - b) <= 2 for a, b in zip((red, green, blue), expected, strict=True)))

    def test_half_coverage_is_half_the_thickness_not_half_the_rgb(self) -> None:
        ink = self.scene.inks["lock-midnight"]
        layer = replace(self.layers[0], ink=ink, thickness=2.0, wet=False)
        half = reference_lab(self.scene.stock, [layer], np.array([[0.5]], np.float32))[0]
        self.assertLess(difference(tuple(half), predict(self.scene.stock, [Coat(ink, 1.0)])), 0.2)

    def test_a_patched_picture_equals_one_computed_whole(self) -> None:
        album = Album()
        album.picture(self.scene.stock, self.layers, self.raster)
        first = self.scene.plan.passes[4]
        swaps = [
            replace(first, ink="dusk-mist"),
            replace(first, coats=3),
            replace(first, form=Form("side", 45, 0.3)),
        ]
        for changed_pass in swaps:
            passes = [changed_pass if p.key == first.key else p for p in self.scene.plan.passes]
            layers = layers_of(self.scene, passes, self.sequence.wet, self.raster)
            patched = album.picture(self.scene.stock, layers, self.raster).astype(int)
            self.assertLessEqual(np.abs(patched - self.image(layers)).max(), 2)
        fewer = self.layers[:7]
        patched = album.picture(self.scene.stock, fewer, self.raster).astype(int)
        self.assertLessEqual(np.abs(patched - self.image(fewer)).max(), 2)

    def test_only_what_differs_is_recomputed(self) -> None:
        other = [*self.layers[:3], replace(self.layers[3], key=("x",)), *self.layers[4:]]
        self.assertEqual(len(changed(self.layers, other)), 2)
        self.assertEqual(changed(self.layers, self.layers), [])
        self.assertEqual(len(changed(self.layers, self.layers[:-1])), 1)

    def test_the_general_quadrature_is_close_for_any_ink(self) -> None:
        from strata.optics.spectrum import reflectance

        seen = np.array([reflectance(s.lab) for ink in world.drawer().inks for s in ink.swatches])
        off = differences(
            lab_from_xyz(seen[:, quadrature.BANDS] @ quadrature.GENERAL.T), lab_from_xyz(seen @ XYZ_WEIGHTS.T)
        )
        self.assertLess(np.percentile(off, 90), 0.4)
        tuned = differences(
            lab_from_xyz(seen[:, quadrature.BANDS] @ quadrature.tuned(seen).T),
            lab_from_xyz(seen @ XYZ_WEIGHTS.T),
        )
        self.assertLess(tuned.max(), 0.5)
