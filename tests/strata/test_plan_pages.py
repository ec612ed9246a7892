"""The plan on paper: everything that it says is in the text layer, pictures are there, outlines are true to size."""

from __future__ import annotations

import io
import unittest
from typing import Any

import numpy as np
import pypdfium2
from PIL import Image

from strata.errors import BadValue
from strata.finish.supplies import Supply
from strata.formats.pdf.pad_labels import pad_labels_pdf
from strata.formats.pdf.page import as_drawn, unprintable
from strata.formats.pdf.plan_pages import (
    CutLine,
    PadLine,
    PlanPages,
    StepLine,
    TrueSize,
    VisitLines,
    plan_pdf,
)
from strata.formats.pdf.supplies_page import supplies_pdf
from tests import world


def jpeg(colour: tuple[int, int, int]) -> bytes:
    file = io.BytesIO()
    Image.new("RGB", (40, 52), colour).save(file, "JPEG")
    return file.getvalue()


def pages(**values: Any) -> PlanPages:
    steps = tuple(
        StepLine(
            n + 1,
            n % 2 == 0,
            f"Step number {n + 1} is done.",
            (f"Reason {n + 1}.",),
            "Mind the knife." if n == 3 else "",
            "2 min",
            jpeg((9 * n % 255, 80, 90)) if n % 2 == 0 else None,
            2 if n == 5 else 1,
        )
        for n in range(24)
    )
    usual: dict[str, Any] = {
        "title": "Thank-you by lantern light",
        "said": "3 cards of White smooth.",
        "picture": jpeg((200, 60, 60)),
        "shape": 1.3,
        "pads": tuple(PadLine(f"Pad {n}", f"tray {n}", "#3a7f9c") for n in range(40)),
        "fetch": (("Sheets", ("Sheet 1, Large bases", "Sheet 2, Tones")), ("Masks", ())),
        "cuts": (
            CutLine("3 × Base", "10 × 6 1/4 in", "White smooth", "Score down at 5 in."),
            CutLine("Mat", "4 5/8 × 5 7/8 in", "Kraft"),
        ),
        "visits": (VisitLines("Sheet 1: Large bases", steps),),
        "true_sizes": (
            TrueSize("Mask: moon", 100, 60, (((0, 0), (100, 0), (100, 60), (0, 60)),)),
            TrueSize("Too large", 400, 60, (((0, 0), (400, 0), (400, 60)),)),
        ),
        "assembly": ("Score and fold the bases. 2 min.",),
    }
    return PlanPages(**{**usual, **values})


def texts(data: bytes) -> list[str]:
    return [page.get_textpage().get_text_range() for page in pypdfium2.PdfDocument(data)]


class SuppliesTest(unittest.TestCase):
    def test_what_must_be_got_stands_first_and_nothing_is_left_out(self) -> None:
        pads = [Supply("pad", f"Pad {n}", "1", f"tin {n}") for n in range(80)]
        rest = [
            Supply("stock", "Kraft", "3 x A4", "shelf", "is short: 1 in the house"),
            Supply("foam", "Foam tape", "1.2 m"),
        ]
        said = texts(supplies_pdf("Thank-you: what it takes", [*pads, *rest]))
        self.assertGreater(len(said), 1, "more than fits on a page goes on the next")
        whole = " ".join(said)
        for s in (*pads, *rest):
            self.assertIn(s.name, whole)
            self.assertIn(s.place, whole)
        self.assertLess(whole.index("Kraft is short"), whole.index("Pad 0"))
        self.assertIn("3 x A4", whole)
        with self.assertRaises(BadValue):
            supplies_pdf("x", [], "A9")


class LabelsTest(unittest.TestCase):
    def test_every_pad_has_a_label_with_its_place(self) -> None:
        inks, stock = world.drawer().inks, world.stocks()["Kraft"]
        data = pad_labels_pdf(inks, stock, "letter")
        said = " ".join(" ".join(texts(data)).split())
        for ink in inks:
            self.assertIn(ink.name, said)
            self.assertIn(ink.place, said)
        self.assertEqual(data, pad_labels_pdf(inks, stock, "letter"))
        self.assertIn("no pad", " ".join(texts(pad_labels_pdf((), stock))))
        with self.assertRaises(BadValue):
            pad_labels_pdf(inks, stock, "A0")


def pictures(data: bytes) -> int:
    found = 0
    for page in pypdfium2.PdfDocument(data):
        found += sum(o.type == 3 for o in page.get_objects())
    return found


class PlanPagesTest(unittest.TestCase):
    def test_everything_said_is_in_the_text_and_every_picture_on_a_page(self) -> None:
        plan = pages()
        for paper in ("letter", "A4"):
            for type_ in ("normal", "large"):
                with self.subTest(paper=paper, type=type_):
                    data = plan_pdf(plan, paper, type_)
                    said = " ".join(" ".join(texts(data)).split())
                    wanted = [
                        plan.title,
                        plan.said,
                        *(p.name for p in plan.pads),
                        *(p.place for p in plan.pads),
                    ]
                    wanted += [w for c in plan.cuts for w in (c.name, c.size, c.card, c.more) if w]
                    wanted += [w for v in plan.visits for s in v.steps for w in (s.sentence, *s.reasons)]
                    wanted += ["Mind the knife.", *plan.assembly, "Mask: moon", "larger than the paper"]
                    self.assertEqual([w for w in wanted if w not in said], [])
                    self.assertEqual(pictures(data), 1 + sum(s.now is not None for s in plan.visits[0].steps))

    def test_nothing_runs_off_or_over_the_edge(self) -> None:
        for page in pypdfium2.PdfDocument(plan_pdf(pages(), "A4", "large")):
            width, height = page.get_size()
            for thing in page.get_objects():
                left, bottom, right, top = thing.get_bounds()
                self.assertTrue(left >= -1 and bottom >= -1 and right <= width + 1 and top <= height + 1)

    def test_outlines_are_true_to_size_and_the_rule_says_so(self) -> None:
        data = plan_pdf(pages(), "A4", part="true size")
        self.assertIn("50 mm", texts(data)[0])
        page = pypdfium2.PdfDocument(data)[0]
        image = np.asarray(page.render(scale=300 / 72).to_pil().convert("L")) < 128
        below = image[round(40 / 25.4 * 300) :]
        columns = np.nonzero(below)[1]
        self.assertAlmostEqual((columns.max() - columns.min()) / 300 * 25.4, 100, delta=0.2)
        lines = np.nonzero(image[:, columns.min() + 200])[0] / 300 * 25.4
        outline = lines[lines > 30]
        self.assertAlmostEqual(outline.max() - outline.min(), 60, delta=0.2)
        ruled = np.nonzero(
            image[round(28.6 / 25.4 * 300) : round(29.2 / 25.4 * 300), : round(65.5 / 25.4 * 300)].any(axis=0)
        )[0]
        self.assertAlmostEqual((ruled.max() - ruled.min()) / 300 * 25.4, 50, delta=0.2)

    def test_a_helper_gets_her_part_only(self) -> None:
        said = " ".join(texts(plan_pdf(pages(), part="helper")))
        self.assertIn("Step number 6 is done.", said)
        self.assertNotIn("Step number 7 is done.", said)
        self.assertIn("Score and fold", said)

    def test_black_on_white_has_no_coloured_dabs(self) -> None:
        plain = plan_pdf(pages(picture=jpeg((128, 128, 128)), visits=()), coloured=False)
        for page in pypdfium2.PdfDocument(plain):
            image = np.asarray(page.render(scale=1).to_pil().convert("RGB")).astype(int)
            self.assertLess(int((image.max(axis=2) - image.min(axis=2)).max()), 12)

    def test_letters_of_many_alphabets_print_and_what_has_no_glyph_is_said(self) -> None:
        self.assertEqual(unprintable("Žluťoučký кораблик Ελλάδα Փոքրիկ שלום 1⁄16"), set())
        self.assertEqual(unprintable("lantern 灯"), {"灯"})
        data = plan_pdf(pages(title="Lantern 灯"))
        self.assertIn("U+706F", " ".join(texts(data)))
        self.assertNotIn("U+", " ".join(texts(plan_pdf(pages(title="Фонарик")))))

    def test_what_reads_from_the_right_is_drawn_from_the_right(self) -> None:
        """Against the order of letters that UAX #9 asks for, and the joined forms of U+FE70 and on."""
        self.assertEqual(as_drawn("Koi 2 × 3"), "Koi 2 × 3")
        self.assertEqual(as_drawn("שלום"), "םולש")
        self.assertEqual(as_drawn("Pad שלום 3"), "Pad 3 םולש", "figures keep their own order, in their place")
        joined = as_drawn("سلام")
        self.assertEqual([ord(c) for c in joined], [0x0645, 0xFE8E, 0xFEE0, 0xFEB3])
        self.assertEqual(unprintable(joined), set())

    def test_the_same_plan_is_the_same_file_and_wrong_wishes_are_refused(self) -> None:
        self.assertEqual(plan_pdf(pages()), plan_pdf(pages()))
        for wrong in ({"paper": "A9"}, {"type_": "huge"}, {"part": "half"}):
            with self.assertRaises(BadValue):
                plan_pdf(pages(), **wrong)
