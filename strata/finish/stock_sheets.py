"""Sheets that stock is sold in, and envelopes that cards go into."""

from __future__ import annotations

from strata.panel.size import Format, in_inches

SHEETS = {
    s.key: s
    for s in (
        in_inches("letter", "letter, 8 1/2 x 11 in", 8.5, 11),
        in_inches("12x12", "12 x 12 in", 12, 12),
        Format("a4", "A4, 210 x 297 mm", 210, 297, "mm"),
        Format("a3", "A3, 297 x 420 mm", 297, 420, "mm"),
        Format("a5", "A5, 148 x 210 mm", 148, 210, "mm"),
    )
}
ENVELOPES = (
    in_inches("env-a2", "4 3/8 x 5 3/4 in", 4.375, 5.75),
    in_inches("env-6x9", "6 x 9 in", 6, 9),
    in_inches("env-5x7", "5 1/4 x 7 1/4 in", 5.25, 7.25),
    in_inches("env-slim", "3 7/8 x 8 7/8 in", 3.875, 8.875),
    in_inches("env-mini-slim", "3 7/8 x 6 3/8 in", 3.875, 6.375),
    in_inches("env-square-5", "5 1/2 x 5 1/2 in", 5.5, 5.5),
    in_inches("env-square-6", "6 1/2 x 6 1/2 in", 6.5, 6.5),
    Format("c6", "C6, 114 x 162 mm", 114, 162, "mm"),
    Format("dl", "DL, 110 x 220 mm", 110, 220, "mm"),
    Format("c5", "C5, 162 x 229 mm", 162, 229, "mm"),
    Format("square-140", "140 x 140 mm", 140, 140, "mm"),
    Format("square-155", "155 x 155 mm", 155, 155, "mm"),
    Format("b6", "B6, 125 x 176 mm", 125, 176, "mm"),
)
LOOSE = 3.0
# mm that an envelope is larger than the card, both ways, or the card's thickness where that is more


def envelope_for(width: float, height: float, thickness: float) -> Format | None:
    """The smallest envelope that a card of so many mm slides into; None where none of the usual ones does."""
    more = max(LOOSE, thickness)
    short, long = sorted((width, height))
    fits = [
        e
        for e in ENVELOPES
        if min(e.width, e.height) >= short + more and max(e.width, e.height) >= long + more
    ]
    return min(fits, key=lambda e: e.width * e.height, default=None)
