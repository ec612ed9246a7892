"""Finished cards for the screen, and the postal rates that they are held against."""

from __future__ import annotations

import csv
import hashlib
import io
import json
from dataclasses import asdict
from typing import Any

from strata.finish import Finished
from strata.finish.post import PostalClass
from strata.finish.supplies import Supply, supplies_of
from strata.finish.told import told
from strata.formats.tables.words import guarded_cell
from strata.kept import Kept
from studio.builds.looking import outlook, stored
from studio.builds.models import Colouring, PostalRate
from studio.builds.state import missing_json
from studio.inks.services import house

SAMPLE = (
    PostalClass("Sample rate: letter", 5, 100, 245, 165, "1.00"),
    PostalClass("Sample rate: large letter", 25, 250, 353, 250, "2.00"),
    PostalClass("Sample rate: parcel", 80, 1000, 450, 350, "4.00"),
)
# invented, and marked so: every service has its own
_FINISHED: Kept[str, Finished] = Kept(20_000_000, lambda _: 400_000)


def rates_of(owner: Any) -> tuple[list[PostalClass], bool]:
    """A maker's rates in their order, and whether they are the invented ones."""
    rows = PostalRate.objects.filter(owner=owner)
    own = [PostalClass(r.name, r.thick, r.weight, r.long, r.wide, r.price) for r in rows]
    return (own, False) if own else (list(SAMPLE), True)


def finished(colouring: Colouring) -> Finished:
    """The cards of a colouring as they are finished; kept until plan, set or drawer change."""
    seen = outlook(colouring)
    scene = seen.scene
    own = house(colouring.build.owner).stamp
    parts = [seen.key, stored(colouring).get("finish"), scene.plan.cards, own]
    key = hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()
    return _FINISHED.get(key, lambda: Finished(scene))


def finish_json(colouring: Colouring) -> dict[str, Any]:
    """Everything that the Finish screen shows, but for what can be chosen."""
    rates, sample = rates_of(colouring.build.owner)
    takes = [asdict(s) for s in supplies(colouring)]
    return {
        **told(finished(colouring), rates),
        "sample_rates": sample,
        "supplies": takes,
        "at_table": outlook(colouring).scene.plan.order.assembly,
    }


def supplies(colouring: Colouring) -> list[Supply]:
    """What a colouring takes for all its cards, what is wanting first."""
    missing = {m["ink"]: m["why"] for m in missing_json(colouring)}
    own = house(colouring.build.owner)
    return supplies_of(finished(colouring), own.places, own.stocks, own.at_hand, missing)


def supplies_csv(colouring: Colouring) -> bytes:
    """The same as CSV (RFC 4180) with a mark that tells spreadsheets it is UTF-8."""
    file = io.StringIO(newline="")
    rows = csv.writer(file)
    rows.writerow(["kind", "name", "amount", "place", "wanting"])
    for s in supplies(colouring):
        rows.writerow([guarded_cell(v) for v in (s.kind, s.name, s.amount, s.place, s.wanting)])
    return file.getvalue().encode("utf-8-sig")
