"""A plan with everything it refers to: the sets, the stock, the inks."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache

import shapely
import shapely.affinity
from shapely import MultiPolygon

from strata.errors import BadValue, UnknownName
from strata.optics.colour import Lab
from strata.optics.inks import Ink
from strata.optics.stack import HANDS, Coat, Stock, predict
from strata.panel import Laid, laid_of
from strata.panel.laid import FREE, PANEL
from strata.panel.shapes import polygons
from strata.panel.things import NOUNS, Place, Thing
from strata.plan import touches
from strata.plan.media import BOTTLES, MEDIA
from strata.plan.model import Pass, Plan
from strata.plan.tools import BRUSHES, UNRECORDED, Brush, Tools, brush
from strata.sheets.model import Group, LayerSet


@dataclass(frozen=True, eq=False)
class Scene:
    """Raises UnknownName when the plan names an ink, stock, set, element or sheet that is not there.

    ``sets`` by the name under which the plan's things ask for them. ``hands``:
    what a hand (light, medium, heavy) lays for this maker, as a share of what is usual; 1 where nothing is said.
    """

    sets: Mapping[str, LayerSet]
    plan: Plan
    stocks: Mapping[str, Stock]
    inks: Mapping[str, Ink]
    tools: Tools = UNRECORDED
    hands: Mapping[str, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if self.plan.stock not in self.stocks:
            raise UnknownName("That card is not in the house.", "stock")
        for stock in self.plan.finish.stocks if self.plan.finish else ():
            if stock not in self.stocks:
                raise UnknownName("That card is not in the house.", "finish")
        for item in self.plan.passes:
            self.layer_set.group(item.element, item.sheet)
            for ink in item.stripes:
                if ink not in self.inks and ink not in BOTTLES:
                    raise UnknownName("That ink is not in the drawer.", "ink")
            if item.ink in BOTTLES and MEDIA[item.medium].bottle is None and item.medium != "spatter":
                raise BadValue("That is no ink to colour with.", "ink")
        for surface in self.layer_set.surfaces:
            if surface.card.stock not in self.stocks:
                raise UnknownName("The card of that piece is not in the house.", "card.stock")

    @cached_property
    def layer_set(self) -> Laid:
        """Everything on the panel, as one laid set."""
        return self.laid_out(self.plan)

    def laid_out(self, plan: Plan) -> Laid:
        """What lies on the panel by a plan, of this world's sets."""
        return laid_of(tuple(sorted(self.sets.items())), plan.things, plan.materials.panel)

    def called(self, thing: Thing) -> str:
        """What a thing is called in a sentence: by its name, or by that of its set."""
        return thing.name or (self.sets[thing.source].name if thing.source else f"the {NOUNS[thing.kind]}")

    def placed(self, thing: Thing) -> Place:
        """Where a thing lies; of the set that a build begins with, where its drawing has it."""
        if thing.place is not None:
            return thing.place
        own = self.sets[thing.source]
        return Place(own.width / 2, own.height / 2)

    @property
    def stock(self) -> Stock:
        return self.stocks[self.plan.stock]

    def with_plan(self, plan: Plan) -> Scene:
        """The same world with another plan."""
        return replace(self, plan=plan)

    def ink(self, item: Pass) -> Ink:
        return self.ink_of(item.ink)

    def ink_of(self, key: str) -> Ink:
        """An ink of the house, or one of the bottles that are in every house."""
        return BOTTLES[key] if key in BOTTLES else self.inks[key]

    def group(self, item: Pass) -> Group:
        return self.layer_set.group(item.element, item.sheet)

    def shape(self, item: Pass) -> MultiPolygon:
        """What a pass really inks, mm on the panel: its openings, or the touches along them, where its sheet lay."""
        dx, dy = item.slip
        return _moved(self._shape(item), dx, dy) if dx or dy else self._shape(item)

    def _shape(self, item: Pass) -> MultiPolygon:
        if MEDIA[item.medium].touch:
            touch = touches.Touch(item.group, item.width, self.plan.materials.light, item.without)
            draw = touches.shadow if item.medium == "shadow" else touches.lights
            return draw(self.layer_set, touch)
        group = self.group(item)
        if not item.without:
            return group.shape
        kept = [o.polygon for o in group.openings if o.key not in item.without]
        return MultiPolygon(polygons(shapely.union_all(kept)))

    def inked_area(self, item: Pass) -> float:
        """mm2 that a pass inks."""
        drawn = MEDIA[item.medium].touch or item.without
        return float(self.shape(item).area) if drawn else self.group(item).area

    def surface(self, item: Pass) -> str:
        """Key of the piece of card that a pass lies on; empty for the panel."""
        return self.layer_set.origin(item.sheet).surface

    def masks(self, item: Pass) -> tuple[Thing, ...]:
        """The masks that are on during a pass, and lie on the same card."""
        card = self.layer_set.piece(item.sheet)
        return tuple(m for m in self.plan.masks_on(item.key) if m.on == card)

    def ground(self, item: Pass) -> Stock:
        """The card that a pass lies on: the panel's, or its piece's own."""
        return self.card_under(self.surface(item))

    def card_under(self, surface: str) -> Stock:
        """The card of a surface by its key."""
        if surface == PANEL:
            return self.stock
        return self.stocks[self.layer_set.surface_by_key[surface].card.stock]

    def brush(self, item: Pass) -> Brush:
        """The chosen tool, or the largest of the house that fits and needs no mask."""
        known = self._brushes.get(item)
        if known is None:
            known = self._brushes[item] = self._brush(item)
        return known

    @cached_property
    def _brushes(self) -> dict[Pass, Brush]:
        # asked for hundreds of times a plan
        return {}

    def _brush(self, item: Pass) -> Brush:
        if item.brush:
            return brush(item.brush)
        tool = MEDIA[item.medium].tool
        if tool is not None:
            return brush(tool)
        if self.ink(item).chemistry.key in ("paste", "glaze"):
            return brush("knife")
        if item.sheet == FREE:
            return self.tools.fitting(BRUSHES["large"].diameter)
        return self._proposed(item.group)

    def _proposed(self, spot: tuple[str, int]) -> Brush:
        """By the shape alone, whatever ink: a soft edge must not move when another ink is tried."""
        room = _room(self.layer_set).get(spot, math.inf)
        return self.tools.fitting(self.layer_set.groups[spot].typical_width, room)

    def blend(self, item: Pass) -> float:
        """mm over which the edge of a form fades, as the tool makes it where nothing else is said.

        By the tool that is chosen, else by the brush that fits: with a smaller
        one, taken to spare a mask, the hand blends as far.
        """
        if item.form.soft is not None:
            return item.form.soft
        if item.brush:
            tool = brush(item.brush)
            return tool.softness * tool.diameter
        if item.sheet == FREE:
            return self.brush(item).diameter * 0.8
        tool = self.tools.fitting(self.group(item).typical_width)
        return tool.softness * tool.diameter

    def thickness(self, item: Pass) -> float:
        """Measured coats of a pass: fewer where a stamp is printed again without inking it afresh."""
        seat = self.layer_set.sheet(item.sheet).seat
        return item.thickness * self.hands.get(item.hand, 1.0) * (seat.strength if seat else 1.0)

    def of_hand(self, coats: float, hand: str) -> float:
        """Measured coats of so many laid by a hand, afresh."""
        return coats * HANDS[hand] * self.hands.get(hand, 1.0)

    def laid_as(self, item: Pass, coats: float, hand: str) -> float:
        """Measured coats of a pass, were it inked afresh with so many by that hand."""
        seat = self.layer_set.sheet(item.sheet).seat
        return self.of_hand(coats, hand) * (seat.strength if seat else 1.0)

    @cached_property
    def alone(self) -> dict[str, Lab]:
        """Each pass's ink by itself on the card it lies on, at its own thickness, by pass key."""
        return {p.key: _alone(self.ground(p), self.ink(p), self.thickness(p)) for p in self.plan.passes}

    def on_stock(self, ink: str, coats: float = 1.0, surface: str = PANEL) -> Lab:
        """The colour of an ink alone on the build's stock, or on a piece's."""
        return _alone(self.card_under(surface), self.ink_of(ink), coats)

    def depth(self, ink: str) -> float:
        """How deep an ink is: 100 - L* of one coat on white-most stock known to its swatches."""
        swatches = self.ink_of(ink).swatches
        lightest = max(s.on[0] for s in swatches)
        single = min((s for s in swatches if s.on[0] == lightest), key=lambda s: abs(s.coats - 1))
        return 100.0 - single.lab[0]

    def family(self, ink: str) -> list[str]:
        """The inks of the same family and line, lightest to deepest."""
        own = self.ink_of(ink)
        if not own.family:
            return [ink]
        kin = [k for k, i in self.inks.items() if i.family == own.family and i.line == own.line]
        return sorted(kin, key=lambda k: (self.inks[k].depth, self.depth(k)))


@lru_cache(maxsize=64)
def _moved(shape: MultiPolygon, dx: float, dy: float) -> MultiPolygon:
    return MultiPolygon(polygons(shapely.affinity.translate(shape, dx, dy)))


@lru_cache(maxsize=32)
def _room(laid: Laid) -> dict[tuple[str, int], float]:
    """mm from each group to the nearest other on its sheet, where there is one within 10 mm."""
    found: dict[tuple[str, int], float] = {}
    for (pair, sheet), gap in laid.gaps.items():
        for name in pair:
            found[name, sheet] = min(gap, found.get((name, sheet), math.inf))
    return found


def _alone(stock: Stock, ink: Ink, coats: float) -> Lab:
    return predict(stock, [Coat(ink, coats)])
