"""Thirty-four conditions of table, light and camera over a coarse and a fine sheet: what is read, what is wrong, what
of it is silent. `make conditions` prints the table of docs/decisions/0008."""

from __future__ import annotations

import argparse
import itertools
import os
import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.camera import Shot, jpeg, photograph
from strata.camera.nuisance import (
    dusty,
    finger,
    freed_of_noise,
    glare,
    in_focus_at,
    lamps,
    made_smaller,
    out_of_focus,
    overexposed,
    shadow,
    shaken,
    sharpened,
)
from strata.camera.surfaces import rounded
from strata.errors import StrataError
from strata.tracing import trace
from tools.other_pictures import OTHERWISE, pictured
from tools.other_sheets import other_sheet

Rgb = NDArray[np.uint8]
GREEN, BLUE, BLACK, WHITE = (0.03, 0.14, 0.10), (0.03, 0.09, 0.24), (0.035, 0.045, 0.06), (0.75, 0.75, 0.74)
OAK, CLOTH, DESK = (0.42, 0.27, 0.15), (0.55, 0.36, 0.34), (0.80, 0.80, 0.79)
PLASTIC_BLUE, FROSTED, KRAFT = (0.06, 0.22, 0.52), (0.62, 0.66, 0.68), (0.45, 0.30, 0.17)
_HALF = [(0, 0.5), (0.55, 0.38), (1, 0.65), (1, 1), (0, 1)]
_GLINTS = [(0.42, 0.59, 0.07), (0.67, 0.42, 0.05)]
_PHONE = [(0.3, 0.2), (0.68, 0.24), (0.62, 0.86), (0.26, 0.8)]
USUAL: dict[str, Any] = {
    "width": 2400, "height": 3000, "tilt_x": 0.1, "tilt_y": 0.06, "fills": 0.78, "noise": 0.012, "quality": 80, "uneven": 0.3,
}  # fmt: skip
Condition = tuple[dict[str, Any], Callable[[Rgb], Rgb] | None]
CONDITIONS: dict[str, Condition] = {
    "clear": ({}, None),
    "green mat": ({"table": GREEN, "plastic": WHITE, "grid": 10.0}, None),
    "blue mat": ({"table": BLUE, "grid": 10.0, "plastic": BLACK}, None),
    "plaid cloth": ({"table": CLOTH, "surface": "plaid"}, None),
    "wood": ({"table": OAK, "surface": "wood"}, None),
    "white desk, white sheet": ({"table": DESK, "plastic": (0.55, 0.55, 0.55)}, None),
    "newsprint": ({"surface": "newsprint"}, None),
    "small in the picture": ({"fills": 0.36}, None),
    "rounded corners": ({"corner": 12.0}, None),
    "ruler beside": ({"beside": ("ruler",)}, None),
    "second sheet touching": ({"beside": ("second sheet",)}, None),
    "corner outside": ({"roll": 0.25, "shift": (-0.13, 0.05), "fills": 0.8}, None),
    "paper beneath, dark table": ({"table": (0.1, 0.07, 0.05), "beside": ("paper",), "fills": 0.6}, None),
    "white plastic on wood": ({"table": OAK, "surface": "wood", "plastic": WHITE}, None),
    "frosted": ({"table": OAK, "plastic": FROSTED, "clear": 0.3}, None),
    "blue plastic on wood": ({"table": OAK, "surface": "wood", "plastic": PLASTIC_BLUE}, None),
    "nearly clear": ({"plastic": FROSTED, "clear": 0.8}, None),
    "kraft card on white": ({"plastic": KRAFT, "table": DESK}, None),
    "maker's print": ({"printed": True}, None),
    "dusty": ({}, dusty),
    "inked from use": ({"stains": 0.8, "plastic": FROSTED, "table": (0.1, 0.07, 0.05)}, None),
    "inked, dark": ({"stains": 0.8}, None),
    "soft shadow": ({}, lambda p: shadow(p, _HALF, soft=60)),
    "telephone's hard shadow": ({}, lambda p: shadow(p, _PHONE)),
    "glare": ({}, lambda p: glare(p, _GLINTS)),
    "warm lamp at the side": ({"uneven": 0.7, "warmth": 0.25}, None),
    "two lamps, window": (
        {}, lambda p: lamps(p, [(0.1, 0.1, (1.0, 0.8, 0.55)), (0.95, 0.9, (0.6, 0.8, 1.0))])),
    "out of focus": ({}, lambda p: out_of_focus(p, 4)),
    "shaken": ({}, lambda p: shaken(p, 14, 8)),
    "wide angle": ({"k1": 0.12}, None),
    "dusk": ({"noise": 0.06}, None),
    "JPEG 35": ({"quality": 35}, None),
    "sharpened": ({}, sharpened),
    "finger on the edge": ({}, lambda p: finger(p, (0.13, 0.45))),
}  # fmt: skip
_ON_DARK: dict[str, Any] = {"plastic": WHITE, "table": (0.1, 0.07, 0.05)}
_ON_OAK: dict[str, Any] = {"plastic": WHITE, "table": OAK, "surface": "wood"}
_ON_GREEN: dict[str, Any] = {"plastic": WHITE, "table": GREEN, "grid": 10.0}
MORE: dict[str, Condition] = {
    "white sheet, soft shadow": (_ON_DARK, lambda p: shadow(p, _HALF, soft=60)),
    "white sheet, hard shadow": (_ON_DARK, lambda p: shadow(p, _PHONE)),
    "white sheet, glare": (_ON_DARK, lambda p: glare(p, _GLINTS)),
    "inked white, hard shadow": ({**_ON_DARK, "stains": 0.8}, lambda p: shadow(p, _PHONE)),
    "inked grey on a white desk": ({"stains": 0.6, "plastic": (0.55, 0.55, 0.55), "table": DESK}, None),
    "inked white on wood": ({**_ON_OAK, "stains": 0.8}, None),
    "white on wood, hard shadow": (_ON_OAK, lambda p: shadow(p, _PHONE)),
    "wood, hard shadow": ({"table": OAK, "surface": "wood"}, lambda p: shadow(p, _PHONE)),
    "plaid, warm lamp": ({"table": CLOTH, "surface": "plaid", "warmth": 0.25, "uneven": 0.6}, None),
    "white sheet, blue mat": ({**_ON_GREEN, "table": BLUE}, None),
    "dark sheet, green mat": ({**_ON_GREEN, "plastic": BLACK}, None),
    "white sheet, green mat in inches": ({**_ON_GREEN, "grid": 25.4}, None),
    "frosted on a green mat": ({**_ON_GREEN, "plastic": FROSTED, "clear": 0.3}, None),
    "green mat, soft shadow": (_ON_GREEN, lambda p: shadow(p, _HALF, soft=60)),
    "green mat, inked": ({**_ON_GREEN, "stains": 0.6}, None),
}  # fmt: skip
# two or three of them at once, none of which the readings were made for
_ON_DESK: dict[str, Any] = {"plastic": KRAFT, "table": DESK}
FURTHER: dict[str, Condition] = {
    f"{name}, {sheet}": ({**values, **own}, after)
    for name, own, after in (
        ("off the table", {"lift": 0.7}, None),
        ("hardly off the table", {"lift": 0.25}, None),
        ("overexposed", {}, overexposed),
        ("made smaller", {}, made_smaller),
        ("freed of noise", {}, freed_of_noise),
        ("in focus in its middle", {}, lambda p: in_focus_at(p, (0.5, 0.5), 3.0)),
        ("in focus at its top", {}, lambda p: in_focus_at(p, (0.5, 0.02), 4.5)),
    )
    for sheet, values in (("black", {}), ("white", _ON_DARK), ("kraft", _ON_DESK))
}
# what none of the above has, each over three sheets (docs/decisions/0008)
EVERY = {**CONDITIONS, **MORE, **FURTHER}
MOVED: dict[str, dict[str, Any]] = {
    "moved": {"roll": 0.06, "shift": (0.03, -0.02), "tilt_x": -0.08},
    "turned": {"roll": 3.1, "shift": (-0.02, 0.03), "tilt_y": -0.05},
}
# how the sheet lies on its second photograph
ELSEWHERE: dict[str, Callable[[Rgb], Rgb]] = {
    "glare": lambda p: glare(p, [(0.55, 0.35, 0.07), (0.35, 0.7, 0.05)]),
    "telephone's hard shadow": lambda p: shadow(p, [(0.1, 0.1), (0.35, 0.15), (0.3, 0.55), (0.08, 0.5)]),
    "finger on the edge": lambda p: finger(p, (0.87, 0.55)),
}
TWICE = ("clear", "green mat", "blue mat", "newsprint", *ELSEWHERE)
SHEETS = {"coarse": 1, "fine": 4}
# of the demo stencil too, but the readings were not made with them
EVERY_SHEET = {**SHEETS, "second": 2, "third": 3, "finest": 5}
WHOLE = dict.fromkeys(EVERY_SHEET, 0.98) | {"fine": 0.95, "finest": 0.95}
OFF = 0.03


@dataclass(frozen=True)
class Row:
    """What came of one picture; ``refused`` in words, or counts of openings and the mean overlap."""

    name: str
    sheet: str
    refused: str = ""
    openings: int = 0
    iou: float = 0.0
    missed: int = 0
    split: int = 0
    invented: int = 0
    off: int = 0
    silent: int = 0
    doubted: int = 0
    in_vain: int = 0
    warnings: tuple[str, ...] = ()

    @property
    def whole(self) -> bool:
        return not self.refused and self.iou >= WHOLE[self.sheet] and not self.missed and not self.invented


def lying(number: int) -> dict[str, Any]:
    """How a sheet lies that the readings were not made with: turned, seen aslant and moved as ``number`` has it."""
    if not number:
        return {}
    by = np.random.default_rng(number)
    turned, aslant, moved = by.uniform(-0.1, 0.1), by.uniform(-0.12, 0.12, 2), by.uniform(-0.03, 0.03, 2)
    return {"roll": turned, "tilt_x": aslant[0], "tilt_y": aslant[1], "shift": tuple(moved), "seed": number}


def picture(
    condition: Condition, shapes: list[Polygon], size: tuple[float, float], number: int, lies: int = 0
) -> bytes:
    values, after = condition
    shot = Shot(**{**USUAL, "seed": number, **lying(lies), **values})
    seen = photograph(shapes, *size, shot)
    return jpeg(seen if after is None else after(seen), shot.quality)


def one(name: str, sheet: str, keep: Path | None = None, second: str = "", lies: int = 0) -> Row:
    """One condition over one sheet; its picture is taken from the folder ``keep`` where it lies there, else laid there.

    ``second``: how the sheet lies on another photograph that is read with it, if there is one; ``lies``: see `lying`.
    """
    koi = _koi()
    own = koi.sheet(EVERY_SHEET[sheet])
    outline = rounded(koi.width, koi.height, EVERY[name][0].get("corner", 0.0)).buffer(-0.5)
    # where corners are cut off there are no register marks in them
    shapes = [s for s in (*(o.polygon for o in own.openings), *own.marks) if outline.contains(s)]
    kept = keep / f"{name}-{sheet}-{lies}.jpg" if keep is not None else None
    if kept is not None and kept.exists():
        data = kept.read_bytes()
    else:
        data = picture(EVERY[name], shapes, (koi.width, koi.height), EVERY_SHEET[sheet], lies)
        if kept is not None:
            kept.write_bytes(data)
    others = []
    if second:
        values, after = EVERY[name]
        again = {**values, **MOVED[second], "seed": 77}, ELSEWHERE.get(name, after)
        others = [picture(again, shapes, (koi.width, koi.height), 77)]
        name = f"{name}, {second}"
    return _read(name, sheet, shapes, (koi.width, koi.height), data, others)


def otherwise(name: str, sheet: str, number: int) -> Row:
    """A picture of the second generator, over a sheet of its own."""
    shapes, *size = other_sheet(sheet, number)
    seen, quality = pictured(name, shapes, tuple(size), number)
    return _read(name, sheet, shapes, tuple(size), jpeg(seen, quality))


def _read(
    name: str, sheet: str, shapes: list[Polygon], size: tuple[float, float], data: bytes, others: Any = ()
) -> Row:
    try:
        found = trace(data, *size, others=others)
    except StrataError as why:
        return Row(name, sheet, refused=str(why))
    if not found.openings:
        return Row(name, sheet, refused=found.said[-1])
    places = [*found.places, *found.blinded]
    return judged(name, sheet, shapes, list(found.openings), found.doubtful, places, found.said)


def _koi() -> Any:
    from tests import world

    return world.koi()


def judged(
    name: str,
    sheet: str,
    shapes: list[Polygon],
    found: list[Polygon],
    doubtful: Any,
    places: Any,
    warnings: Any,
) -> Row:
    """Every true opening against the found ones; silent is what is wrong and neither doubtful nor at a marked place."""
    tree, marked = shapely.STRtree(found), shapely.STRtree(list(places))
    missed = split = off = silent = 0
    overlaps, used, wrong = [], set[int](), set[int]()
    for shape in shapes:
        own = [
            j
            for j in tree.query(shape, "intersects").tolist()
            if found[j].intersection(shape).area > 0.1 * min(shape.area, found[j].area)
        ]
        used |= set(own)
        at_place = len(marked.query(shape, "intersects")) > 0
        if not own:
            missed, silent = missed + 1, silent + (not at_place)
            overlaps.append(0.0)
            continue
        best = max(own, key=lambda j: found[j].intersection(shape).area)
        overlaps.append(found[best].intersection(shape).area / found[best].union(shape).area)
        bad = (
            len([j for j in own if found[j].area > 0.03 * shape.area]) > 1
            or abs(found[best].area / shape.area - 1) > OFF
        )
        split += len(own) > 1
        if bad:
            off += 1
            wrong |= set(own)
            silent += not any(doubtful[j] for j in own) and not at_place
    invented = [j for j in range(len(found)) if j not in used]
    silent += sum(not doubtful[j] for j in invented)
    return Row(
        name, sheet, "", len(shapes), float(np.mean(overlaps)), missed, split, len(invented), off, silent,
        sum(doubtful), sum(d and j not in wrong and j in used for j, d in enumerate(doubtful)), tuple(warnings),
    )  # fmt: skip


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--only", nargs="*")
    parser.add_argument("--more", action="store_true", help="two or three conditions at once")
    parser.add_argument(
        "--further", action="store_true", help="the sheet's own shadow, and what becomes of pictures"
    )
    parser.add_argument("--sheets", nargs="*", choices=EVERY_SHEET, default=list(SHEETS))
    parser.add_argument(
        "--lies", type=int, nargs="*", default=[0], help="numbers from which it is drawn how the sheet lies"
    )
    parser.add_argument("--words", action="store_true", help="what is said of each picture as well")
    parser.add_argument(
        "--keep", type=Path, help="a folder for the pictures, so that a second run only reads them"
    )
    parser.add_argument(
        "--twice", action="store_true", help="two photographs of each sheet, both spoilt, read as one"
    )
    parser.add_argument(
        "--otherwise", type=int, nargs="*", help="sheets and pictures of the second generator"
    )
    asked = parser.parse_args()
    tables = (
        (asked.otherwise, OTHERWISE),
        (asked.twice, TWICE),
        (asked.more, MORE),
        (asked.further, FURTHER),
    )
    names = asked.only or list(next((table for wanted, table in tables if wanted), CONDITIONS))
    seconds = list(MOVED) if asked.twice else [""]
    print("| condition | sheet | IoU | missed | split | invented | off | silent | doubted | in vain | |")
    print("|---|---|---|---|---|---|---|---|---|---|---|")
    rows = []
    with ProcessPoolExecutor(2) as pool:
        rows_of = list(itertools.product(names, asked.sheets, [asked.keep], seconds, asked.lies))
        if asked.otherwise:
            rows_of = list(itertools.product(names, asked.sheets, asked.otherwise))
        for row in pool.map(otherwise if asked.otherwise else one, *zip(*rows_of, strict=True)):
            rows.append(row)
            tail = row.refused or ("whole" if row.whole else "")
            print(
                f"| {row.name} | {row.sheet} | {row.iou:.3f} | {row.missed} | {row.split} | {row.invented} | {row.off} "
                f"| {row.silent} | {row.doubted} | {row.in_vain} | {tail} |", flush=True,
            )  # fmt: skip
            if asked.words:
                print("   ", *row.warnings, sep="\n      ")
    every = dict.fromkeys(r.name for r in rows)
    both = [n for n in every if all(r.whole for r in rows if r.name == n)]
    print(f"{len(both)} of {len(every)} read whole; {sum(r.silent for r in rows)} openings silent")


if __name__ == "__main__":
    main()
