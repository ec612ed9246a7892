"""Colour to spectra to stacks of ink: the predicted colour of ink on ink on card."""

from strata.optics.colour import Lab, chroma, difference, differences, hex_of, hue, lab_of_hex
from strata.optics.deposits import Deposit
from strata.optics.inks import Chemistry, Ink, Swatch
from strata.optics.stack import HANDS, Coat, Stack, Stock, predict

__all__ = [
    "HANDS",
    "Chemistry",
    "Coat",
    "Deposit",
    "Ink",
    "Lab",
    "Stack",
    "Stock",
    "Swatch",
    "chroma",
    "difference",
    "differences",
    "hex_of",
    "hue",
    "lab_of_hex",
    "predict",
]
