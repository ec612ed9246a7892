"""A small panel to test on: two sheets, and what lies on them."""

from typing import Any

from strata.panel import FREE, GROUND, PanelSize, Place, Thing, Wear, the_image
from strata.panel.shapes import Shape
from strata.picture.colours import reference_lab
from strata.picture.shown import View, view
from strata.plan import Form, Materials, Plan, Scene
from tests import world


def scene(*passes: Any, things: tuple[Thing, ...] = (), stock: str = "White smooth", **of: Any) -> Scene:
    """Two sheets (a leaf and a disc) on a panel of 100 x 80 mm, and more things."""
    plan = Plan(Materials(stock, panel=PanelSize(100, 80), **of), passes, things=(the_image(), *things))
    return Scene({"image": world.two_sheets()}, plan, world.stocks(), world.bottles())


def free(key: str, ink: str, form: Form | None = None, **values: Any) -> Any:
    return world.a_pass(key, GROUND, FREE, ink, form=form, **values)


def seen(of: Scene, width: int = 200) -> View:
    return view(of, frozenset(), width)


def lab(of: View, x: float, y: float) -> tuple[float, ...]:
    """The predicted colour at a place, mm."""
    scale = of.stacks.numbers.shape[1] / of.scene.layer_set.width
    stack = of.stacks.numbers[int(y * scale), int(x * scale)]
    return tuple(reference_lab(of.stock, of.layers, of.stacks.levels[[stack]])[0].tolist())


def mask(key: str, shape: Shape, x: float = 50, y: float = 40, **wear: Any) -> Thing:
    return Thing(key, 5, "mask", key, Place(x, y), shape=shape, wear=Wear(**wear))
