"""A finished card as JSON values: mm and g, exact to a ten-thousandth."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from strata.finish.cuts import Box, CutUp
from strata.finish.finished import Finished, FromStock
from strata.finish.lay import SheetUsed
from strata.finish.lengths import mm
from strata.finish.pieces import Piece
from strata.finish.post import PostalClass, cheapest
from strata.finish.thickness import Part
from strata.panel.size import Format
from strata.plan.finish import write_finish


def told(made: Finished, rates: Sequence[PostalClass] = ()) -> dict[str, Any]:
    """Everything, and at which of the maker's own rates it goes."""
    pieces = made.pieces
    best = cheapest(rates, made.thick, made.grams, made.envelope)
    left, right, above, below = (mm(s) for s in pieces.shows)
    return {
        "decided": made.decided,
        "finish": write_finish(made.finish),
        "cards": made.scene.plan.cards,
        "panel": {"width": mm(pieces.panel[0]), "height": mm(pieces.panel[1])},
        "shows": {"left": left, "right": right, "above": above, "below": below},
        "pieces": [_piece(made, p) for p in pieces.pieces],
        "sheets": [_from_stock(s) for s in made.from_stock],
        "thickness": _parts(made.thickness),
        "weight": _parts(made.weight),
        "envelope": None if made.envelope is None else size_json(made.envelope),
        "rates": [
            {
                "name": r.name,
                "price": r.price,
                "against": list(r.against(made.thick, made.grams, made.envelope)),
                "cheapest": r is best,
            }
            for r in rates
        ],
        "assembly": [
            {
                "key": t.key,
                "sentence": t.sentence,
                "minutes": round(t.minutes, 2),
                "early": t.early,
                "first": t.first,
                "caution": t.caution,
                "waits": t.waits,
            }
            for t in made.assembly
        ],
        "problems": made.problems,
    }


def _parts(parts: Sequence[Part]) -> dict[str, Any]:
    return {
        "total": round(sum(p.amount for p in parts), 4),
        "parts": [{"name": p.name, "amount": round(p.amount, 4)} for p in parts],
    }


def size_json(size: Format) -> dict[str, Any]:
    """A size that something comes in."""
    return {
        "key": size.key,
        "label": size.label,
        "width": round(size.width, 4),
        "height": round(size.height, 4),
    }


def _piece(made: Finished, p: Piece) -> dict[str, Any]:
    place = made.pieces.places.get(p.key)
    return {
        "key": p.key,
        "name": p.name,
        "stock": p.stock,
        "stock_name": made.scene.stocks[p.stock].name or p.stock,
        "width": mm(p.width),
        "height": mm(p.height),
        "count": made.scene.plan.cards,
        "scores": [{"down": s.down, "at": mm(s.at)} for s in p.scores],
        "window": None if p.window is None else _box(p.window),
        "place": None if place is None else {"x": mm(place[0]), "y": mm(place[1])},
        "up": p.up,
    }


def _box(box: Box) -> dict[str, float]:
    return {name: mm(v) for name, v in zip(("x", "y", "width", "height"), box, strict=True)}


def _from_stock(s: FromStock) -> dict[str, Any]:
    found = s.laid
    sheets = found.sheets if found is not None else ()
    return {
        "stock": s.stock,
        "stock_name": s.name,
        "sheet": size_json(s.sheet),
        "grain": s.grain,
        "take": found.new if found is not None else 0,
        "fewest": found.fewest if found is not None else 0,
        "problem": s.problem,
        "waste": round(found.waste, 4) if found is not None else 0.0,
        "laid": [_sheet(used, cut) for used, cut in zip(sheets, s.cut_up, strict=True)],
    }


def _sheet(used: SheetUsed, cut: CutUp) -> dict[str, Any]:
    return {
        "width": mm(used.width),
        "height": mm(used.height),
        "offcut": used.of >= 0,
        "waste": round(used.waste, 4),
        "pieces": [
            {"name": p.key, "turned": p.turned, **_box((p.x, p.y, p.width, p.height))} for p in used.pieces
        ],
        "cuts": [{"down": c.down, "at": mm(c.at), "part": _box(c.box)} for c in cut.cuts],
        "left": [_box(b) for b in cut.kept],
    }
