"""Millimetres inside; inches and fractions only at the edges."""

from __future__ import annotations

from fractions import Fraction

from strata.errors import BadValue

MM_PER_INCH = 25.4
# mm in one inch, exact: International Yard and Pound Agreement, 1959


def mm_from_inches(text: str) -> float:
    """Millimetres from inches as practitioners write them: ``4 1/4``, ``5.5``, ``1/8``.

    >>> mm_from_inches("4 1/4")
    107.95
    """
    parts = text.replace("in", "").split()
    if not parts:
        raise BadValue("A length is missing.", "length")
    try:
        total = sum((Fraction(part) for part in parts), Fraction(0))
    except (ValueError, ZeroDivisionError) as error:
        raise BadValue(f"“{text}” is not a length in inches, such as 4 1/4.", "length") from error
    return float(total * Fraction(254, 10))


def inches_text(mm: float, denominator: int = 16) -> str:
    """Inches to the nearest sixteenth, as a whole number and a fraction.

    >>> inches_text(107.95)
    '4 1/4'
    """
    sixteenths = round(mm / MM_PER_INCH * denominator)
    whole, rest = divmod(sixteenths, denominator)
    if rest == 0:
        return str(whole)
    fraction = Fraction(rest, denominator)
    text = f"{fraction.numerator}/{fraction.denominator}"
    return f"{whole} {text}" if whole else text
