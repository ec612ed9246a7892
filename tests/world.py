"""The demo world as core values, loaded once for all tests that need no database."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from pathlib import Path

import numpy as np

from strata.formats.build_file import read_plan
from strata.formats.drawer import Drawer, read_drawer
from strata.formats.svg_set import read
from strata.optics import Stock, Swatch
from strata.optics.colour import differences
from strata.optics.inks import CHEMISTRIES, Ink
from strata.panel import IMAGE
from strata.picture import Layer
from strata.picture.colours import reference_lab
from strata.picture.shown import View
from strata.plan import Form, Materials, Pass, Plan, Scene
from strata.sheets import LayerSet
from strata.sheets.edits import apply

ROOT = Path(__file__).resolve().parent.parent
DEMO = ROOT / "demo"
WHITE, BLACK = (95.8, 0.2, 0.9), (18.6, 0.3, -0.7)


@cache
def drawer() -> Drawer:
    return read_drawer((DEMO / "drawer" / "lockside-drawer.json").read_bytes())


@cache
def koi() -> LayerSet:
    return read((DEMO / "sets" / "koi-and-lantern.svg").read_bytes(), "Koi and lantern").layer_set


def inks() -> dict[str, Ink]:
    return {ink.key: ink for ink in drawer().inks}


def stocks() -> dict[str, Stock]:
    return {stock.name: stock for stock in drawer().stocks}


def demo_plan(name: str) -> Plan:
    return read_plan(json.loads((DEMO / "builds" / f"{name}.json").read_text()))


def scene(plan: Plan | None = None, layer_set: LayerSet | None = None) -> Scene:
    return Scene(
        {IMAGE: layer_set or koi()}, plan or demo_plan("thank-you-by-lantern-light"), stocks(), inks()
    )


def plan_of(*passes: Pass, stock: str = "White smooth", **values: object) -> Plan:
    of = {k: values.pop(k) for k in ("register", "cards") if k in values}
    return Plan(Materials(stock, **of), passes, **values)  # type: ignore[arg-type]


def a_pass(
    key: str, element: str, sheet: int, ink: str, coats: int = 1, form: Form | None = None, **values: object
) -> Pass:
    return Pass(key, element, sheet, ink, coats, form=form or Form(), **values)  # type: ignore[arg-type]


def dye(lab: tuple[float, float, float], key: str = "test") -> Ink:
    return Ink(key, CHEMISTRIES["dye"], (Swatch(WHITE, 1, lab),), key)


def drawing(body: str, width: str = "100mm", height: str = "80mm", box: str = "0 0 100 80") -> bytes:
    size = f'width="{width}" height="{height}" viewBox="{box}"'
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}>{body}</svg>'.encode()


def two_sheets() -> LayerSet:
    """A leaf and a disc on sheet 1, 2 mm apart; a shade in each on sheet 2."""
    body = """
      <g id="a"><path data-element="leaf" d="M10 10h30v40h-30z"/><path data-element="disc" d="M42 10h30v40h-30z"/></g>
      <g id="b"><path data-element="leaf" d="M12 30h26v18h-26z"/><path data-element="disc" d="M44 30h26v18h-26z"/></g>"""
    return read(drawing(body), "Two sheets").layer_set


def shares_at(layers: Sequence[Layer], rows: np.ndarray, columns: np.ndarray) -> np.ndarray:
    """Coverage shares (n, layers) at single pixels, straight from the fields."""
    found = np.zeros((len(rows), len(layers)), np.float32)
    for j, layer in enumerate(layers):
        at = layer.field.at
        inside = (rows >= at.y0) & (rows < at.y1) & (columns >= at.x0) & (columns < at.x1)
        found[inside, j] = layer.field.values[rows[inside] - at.y0, columns[inside] - at.x0]
    return found


def map_errors(seen: View, most: int = 20_000) -> np.ndarray:
    """CIEDE2000 between pixels computed by themselves and as their stacks have them."""
    numbers = seen.stacks.numbers
    spots = np.random.default_rng(1).choice(numbers.size, min(most, numbers.size), replace=False)
    rows, columns = np.divmod(spots, numbers.shape[1])
    exact = shares_at(seen.layers, rows, columns)
    rounded = seen.stacks.levels[numbers.ravel()[spots]]
    return differences(
        reference_lab(seen.stock, seen.layers, exact), reference_lab(seen.stock, seen.layers, rounded)
    )


@cache
def sets() -> dict[str, LayerSet]:
    """The demo sets by the names of their files."""
    found = {}
    for item in json.loads((DEMO / "sets" / "index.json").read_text()):
        drawn = read((DEMO / "sets" / item["file"]).read_bytes(), item["name"]).layer_set
        made = replace(drawn, kind=item["kind"])
        for number in item.get("loose", []):
            made = apply(made, "piece", {"sheet": number, "loose": True}).layer_set
        found[Path(item["file"]).stem] = made
    return found


@cache
def bottles() -> dict[str, Ink]:
    """Pens, pots and powders, with the pads."""
    return inks() | {
        i.key: i for i in read_drawer((DEMO / "drawer" / "pens-and-pots.json").read_bytes()).inks
    }


def whole_card(name: str) -> Scene:
    """A demo build with all that lies on its panel."""
    values = json.loads((DEMO / "builds" / f"{name}.json").read_text())
    by_name = values.get("sets", {IMAGE: values.get("set")})
    return Scene({k: sets()[v] for k, v in by_name.items()}, read_plan(values), stocks(), bottles())


DEMO_BUILDS = sorted(p.stem for p in (DEMO / "builds").glob("*.json"))
