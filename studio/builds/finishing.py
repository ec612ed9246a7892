"""Finished cards for the screen, and the postal rates that they are held against."""

from __future__ import annotations

import hashlib
import json
from typing import Any

from strata.finish import Finished
from strata.finish.post import PostalClass
from strata.finish.told import told
from strata.kept import Kept
from studio.builds.looking import outlook, stored
from studio.builds.models import Colouring, PostalRate

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
    cards = [[k, s.name, s.thickness_mm, s.weight_gsm] for k, s in sorted(scene.stocks.items())]
    parts = [seen.key, stored(colouring).get("finish"), scene.plan.cards, cards]
    key = hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()
    return _FINISHED.get(key, lambda: Finished(scene))


def finish_json(colouring: Colouring) -> dict[str, Any]:
    """Everything that the Finish screen shows, but for what can be chosen."""
    rates, sample = rates_of(colouring.build.owner)
    return {**told(finished(colouring), rates), "sample_rates": sample}
