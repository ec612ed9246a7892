"""Prediction against published print characterisations, from paper and solids alone."""

import csv
import unittest

import numpy as np

from strata.optics import Coat, Stock, Swatch, difference, predict
from strata.optics.inks import CHEMISTRIES, Ink
from tests.world import ROOT

CMY_MEAN, CMY_MAX = 2.4, 5.0
FINISH = {"FOGRA30L": "absorbent", "TR002": "absorbent", "TR005": "coated"}


def errors(inks_used: str) -> list[float]:
    """CIEDE2000 of every overprint of the inks named, each ink wet on the ones before."""
    lines = (ROOT / "tests" / "data" / "overprints.csv").read_text().splitlines()
    rows = list(csv.DictReader(line for line in lines if not line.startswith("#")))
    found = []
    for name in sorted({row["set"] for row in rows}):
        own = [row for row in rows if row["set"] == name]
        lab = {tuple(int(r[k]) for k in "cmyk"): tuple(float(r[v]) for v in "Lab") for r in own}
        paper = lab[0, 0, 0, 0]
        inks = []
        for i, key in enumerate("cmyk"):
            solid = lab[tuple(100 * (i == j) for j in range(4))]
            inks.append(Ink(key, CHEMISTRIES["dye"], (Swatch(paper, 1, solid),)))
        for amounts, measured in lab.items():
            down = [i for i in range(4) if amounts[i]]
            if len(down) >= 2 and all("cmyk"[i] in inks_used for i in down):
                coats = [Coat(inks[i], 1, wet=n > 0) for n, i in enumerate(down)]
                found.append(difference(predict(Stock(paper, finish=FINISH[name]), coats), measured))
    return found


class OverprintTest(unittest.TestCase):
    def test_cmy_overprints(self) -> None:
        found = errors("cmy")
        self.assertEqual(len(found), 12)
        self.assertLess(np.mean(found), CMY_MEAN)
        self.assertLess(max(found), CMY_MAX)

    def test_black_overprints_stay_sane(self) -> None:
        self.assertLess(np.mean(errors("cmyk")), 7)
