"""A colouring on paper: everything that a printed plan says, gathered from its order, its finish and its pictures."""

from __future__ import annotations

from collections.abc import Iterator

import shapely
from shapely.geometry.base import BaseGeometry

from strata.finish import Finished
from strata.finish.lengths import SIXTEENTH, mm, units
from strata.formats.pdf.plan_pages import CutLine, PadLine, PlanPages, Ring, StepLine, TrueSize, VisitLines
from strata.making.pull import pull_list
from strata.measuring.masks import mask_shape
from strata.optics.colour import hex_of
from strata.order import Ordering
from strata.order.told import ToldVisit, told_visits
from strata.order.wording import named
from strata.panel.laid import cut_of
from strata.phrases import first_up, listed
from strata.picture.shown import panel_after
from strata.plan.scene import Scene
from strata.units import inches_text
from studio.builds.finishing import finished
from studio.builds.looking import outlook
from studio.builds.models import Colouring
from studio.builds.ordering import ordering
from studio.builds.outlook import Outlook
from studio.builds.pictures import jpeg
from studio.inks.services import house

PICTURE, NOW = 900, 220
# px wide: the finished panel, and how it looks after a step
QUALITY = 88
ABOUT = "about "


def plan_pages(row: Colouring, inches: bool, now_too: bool = True) -> PlanPages:
    """The printed plan of a colouring for all its cards. ``now_too``: with pictures of every step (a tenth of a second each)."""
    seen, order, made = outlook(row), ordering(row), finished(row)
    scene = seen.scene
    pull = pull_list(scene, order.sequence.steps, order.cards, house(row.build.owner).places)
    laid = scene.layer_set
    sizes = Sizes(inches)
    cards = "1 card" if order.cards == 1 else f"{order.cards} cards"
    return PlanPages(
        title=row.build.name,
        said=f"{cards} of {scene.stock.name}, panel {sizes.of(laid.width, laid.height)}; {in_minutes(order.sequence.minutes)}.",
        picture=jpeg(panel_after(seen.view(PICTURE), None), QUALITY),
        shape=laid.height / laid.width,
        pads=tuple(PadLine(n, place, hex_of(scene.on_stock(k))[0]) for k, n, place in pull.pads),
        fetch=(
            ("Sheets", pull.sheets),
            ("Brushes", pull.brushes),
            ("Masks", pull.masks),
            ("Bottles", pull.bottles),
            ("And", pull.rest),
        ),
        cuts=tuple(_cuts(made, sizes)) if made.decided else (),
        visits=tuple(_visits(seen, order, now_too)),
        true_sizes=tuple(_true_sizes(scene, order, made)),
        assembly=tuple(_assembly(made)) if made.decided else (),
    )


class Sizes:
    """Sizes in the maker's units; what is no sixteenth is said to be about one."""

    def __init__(self, inches: bool) -> None:
        self.inches = inches

    def one(self, length: float) -> str:
        """A length in words, without its unit."""
        if not self.inches:
            return f"{round(length, 3):g}"
        about = "" if units(length) % SIXTEENTH == 0 else ABOUT
        return about + inches_text(length)

    def of(self, width: float, height: float) -> str:
        """A size in words."""
        sides = [self.one(width), self.one(height)]
        about = ABOUT if any(s.startswith(ABOUT) for s in sides) else ""
        return f"{about}{' × '.join(s.removeprefix(ABOUT) for s in sides)} {'in' if self.inches else 'mm'}"


def in_minutes(minutes: float) -> str:
    """Minutes in words."""
    if minutes < 0.95:
        return f"{max(5, round(minutes * 12) * 5)} s"
    hours, rest = divmod(round(minutes), 60)
    return f"{hours} h {rest} min" if hours else f"{rest} min"


def _visits(seen: Outlook, order: Ordering, now_too: bool) -> Iterator[VisitLines]:
    view = seen.view(NOW) if now_too else None
    done: dict[int, list[str]] = {}
    for visit in told_visits(order.sequence):
        lines = []
        for n, step in enumerate(visit.steps):
            now = None
            if step.kind == "ink" and step.pass_key:
                for card in visit.cards or (step.card,):
                    done.setdefault(card, []).append(step.pass_key)
                if view is not None:
                    now = jpeg(panel_after(view, done[step.card]), QUALITY)
            number, inks = visit.first + n + 1, step.kind == "ink"
            told = step.sentence, tuple(step.reasons), step.caution or "", in_minutes(step.minutes)
            lines.append(StepLine(number, inks, *told, now, step.who))
        yield VisitLines(visit_title(seen.scene, visit, order.cards), tuple(lines))


def visit_title(scene: Scene, visit: ToldVisit, cards: int) -> str:
    """What a visit is called: its sheet, and which of several cards it is of."""
    first = visit.steps[0]
    title = "First"
    if first.kind == "place" and first.sheet is not None:
        title = f"{first_up(named(scene, first.sheet))}: {scene.layer_set.sheet(first.sheet).name}"
    if cards == 1 or not visit.cards:
        return title
    if len(visit.cards) == cards:
        return f"{title}, all {cards} cards"
    return f"{title}, card{'s' if len(visit.cards) > 1 else ''} {', '.join(map(str, sorted(visit.cards)))}"


def _cuts(made: Finished, sizes: Sizes) -> Iterator[CutLine]:
    count = made.scene.plan.cards
    for p in made.pieces.pieces:
        unit = "in" if sizes.inches else "mm"
        more = [f"Score {'down' if s.down else 'across'} at {sizes.one(mm(s.at))} {unit}." for s in p.scores]
        if p.window:
            more.append(f"Cut out its middle, {sizes.of(mm(p.window[2]), mm(p.window[3]))}, and keep it.")
        more += [p.up] if p.up else []
        name = f"{count} × {p.name}" if count > 1 else p.name
        card = made.scene.stocks[p.stock].name or p.stock
        yield CutLine(name, sizes.of(mm(p.width), mm(p.height)), card, " ".join(more))
    for s in made.from_stock:
        if s.laid is not None:
            taken = f"{s.laid.new} sheet{'s' if s.laid.new != 1 else ''}"
            yield CutLine(f"From {taken}", s.sheet.label, s.name, f"{s.laid.waste:.0%} is left over.")


def _assembly(made: Finished) -> Iterator[str]:
    # what is part of the work stands among its steps
    at_table = made.scene.plan.order.assembly
    for task in (t for t in made.assembly if t.first or not at_table):
        waits = f" {in_minutes(task.waits)} under the weight." if task.waits else ""
        yield " ".join(t for t in (task.sentence, f"{in_minutes(task.minutes)}.{waits}", task.caution) if t)


def _true_sizes(scene: Scene, order: Ordering, made: Finished) -> Iterator[TrueSize]:
    """Masks and pieces to cut out, and the straight pieces of the card one within the other."""
    laid = scene.layer_set
    for key, shape in laid.masks.items():
        yield _outlined(f"Mask: {scene.called(scene.plan.thing(key))}", shape)
    instance = order.work.instance
    cut = {
        instance.by_key[key].group
        for key, way in instance.partings.items()
        if way.way == "cut" and key not in instance.by_hand
    }
    for element, sheet in sorted(cut):
        yield _outlined(f"Mask for {element}", mask_shape(laid, element, sheet))
    for thing in dict.fromkeys(s.thing for s in laid.surfaces):
        yield _outlined(f"Piece: {scene.called(scene.plan.thing(thing))}", cut_of(laid, thing))
    if made.decided and made.sound:
        yield _nested(made)


def _nested(made: Finished) -> TrueSize:
    """The straight pieces of a card one within the other, and its front as it is closed."""
    finish = made.finish
    flat = [p for p in made.pieces.pieces if p.key in made.pieces.places and p.key != "base"]
    rings: list[Ring] = [_rectangle(finish.width, finish.height)]
    rings += [_rectangle(mm(p.width), mm(p.height)) for p in flat]
    for p in flat:
        if p.window:
            x, y, width, height = (mm(v) for v in p.window)
            rings.append([(x + a, y + b) for a, b in _rectangle(width, height)])
    names = ["the front, closed", *(p.name.lower() for p in flat)]
    said = f"One within the other, from the left upper corner: {listed(names)}."
    sides = [(mm(p.width), mm(p.height)) for p in flat] + [(finish.width, finish.height)]
    return TrueSize(
        "The pieces of the card", max(w for w, _ in sides), max(h for _, h in sides), tuple(rings), said
    )


def _outlined(title: str, shape: BaseGeometry) -> TrueSize:
    x0, y0, x1, y1 = shape.bounds
    lines = [ring for p in shapely.get_parts(shape) for ring in (p.exterior, *p.interiors)]
    rings: list[Ring] = [
        [(float(x) - x0, float(y) - y0) for x, y in shapely.get_coordinates(line)[:-1]] for line in lines
    ]
    return TrueSize(
        title, x1 - x0, y1 - y0, tuple(rings), "Cut along the lines; a hair inside where it covers."
    )


def _rectangle(width: float, height: float) -> list[tuple[float, float]]:
    return [(0, 0), (width, 0), (width, height), (0, height)]
