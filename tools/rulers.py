"""Rulers beside photographed sheets whose size nobody has said, and photographs without one. Run by
``make conditions RULER=1``; prints the figures of docs/decisions/0008."""

from __future__ import annotations

from concurrent.futures import ProcessPoolExecutor
from typing import Any

import conditions
from conditions import BLUE, CLOTH, GREEN, OAK, WHITE, Condition

from strata.errors import StrataError
from strata.tracing.photo import open_photo
from strata.tracing.ruler import larger_by_ruler
from strata.tracing.seating import seated

WAYS: dict[str, dict[str, Any]] = {
    "clear": {},
    "wood": {"table": OAK, "surface": "wood", "plastic": WHITE},
    "plaid": {"table": CLOTH, "surface": "plaid"},
    "green mat": {"table": GREEN, "plastic": WHITE, "grid": 10.0},
    "blue mat": {"table": BLUE, "plastic": WHITE, "grid": 25.4},
    "tilted": {"tilt_x": 0.25, "tilt_y": -0.18},
    "turned": {"roll": 0.3},
    "half the frame": {"fills": 0.5},
    "dusk": {"noise": 0.06},
    "12 megapixels": {"width": 3000, "height": 4000},
}
RULERS = ("ruler", "inch ruler")
OTHER_GUESSES = (0.5, 0.65, 0.8, 0.9, 1.15, 1.3, 1.6, 2.0)
GUESSED = ("clear", "wood")
# the guess is so many times as large as it was
Case = tuple[str, str, float]


def cases() -> list[Case]:
    """(ruler, how it lies, how many times the guess): with a ruler; with another guess; without one."""
    found: list[Case] = []
    for ruler in RULERS:
        for way in WAYS:
            found += [(ruler, way, times) for times in (1.0, *(OTHER_GUESSES if way in GUESSED else ()))]
    without = [
        n for n, (values, _) in conditions.CONDITIONS.items() if "ruler" not in values.get("beside", ())
    ]
    return [*found, *(("", name, 1.0) for name in without)]


def _condition(ruler: str, way: str) -> Condition:
    usual = {"width": 1800, "height": 2250, "fills": 0.66}
    return ({**usual, **WAYS[way], "beside": (ruler,)}, None) if ruler else conditions.CONDITIONS[way]


def one(case: Case) -> tuple[str, str]:
    """The case, and by how much the size that is told is off, or why there is none."""
    ruler, way, times = case
    name, condition = f"{ruler or 'no ruler'}, {way}, guess times {times:g}", _condition(ruler, way)
    koi = conditions._koi()
    own = koi.sheet(conditions.SHEETS["coarse"])
    shapes = [*(o.polygon for o in own.openings), *own.marks]
    rgb = open_photo(conditions.picture(condition, shapes, (koi.width, koi.height), 4))
    try:
        lies = seated(rgb)
        if lies.said:
            return name, lies.said[0]
        sheet = lies.sheet
        width, height = times * sheet.width, times * sheet.height
        by = larger_by_ruler(rgb, sheet.seat, width, height)
    except StrataError as why:
        return name, str(why)
    if by is None:
        return name, "none told"
    return name, f"{100 * (by * max(width, height) / max(koi.width, koi.height) - 1):+.2f} %"


def main() -> None:
    with ProcessPoolExecutor(2) as pool:
        for name, told in pool.map(one, cases()):
            print(f"{name:48s} {told}", flush=True)


if __name__ == "__main__":
    main()
