"""Lengths as whole numbers, so that sizes and sums are exact in inches and in millimetres.

A unit is 1/80 mm: a sixteenth of an inch is 127 of them (25.4 mm to the inch,
International Yard and Pound Agreement, 1959), a tenth of a millimetre 8.
"""

from __future__ import annotations

UNITS = 80
SIXTEENTH = 127


def units(mm: float) -> int:
    """Millimetres as whole units."""
    return round(mm * UNITS)


def mm(length: float) -> float:
    """Units as millimetres, exact to a ten-thousandth."""
    return round(length / UNITS, 5)
