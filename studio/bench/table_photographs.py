"""Photographs taken at the table, in the middle of the work: kept with their making, and shown beside its card in the log."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.db import transaction
from PIL import Image

from strata.errors import BadValue, TooLarge
from strata.tracing.photo import open_photo
from studio.bench.models import Making, TablePhotograph
from studio.bench.services import latest
from studio.builds.models import Colouring
from studio.builds.pictures import jpeg

SIDE, QUALITY = 1600, 86
# px of the longest side, as it is kept
MOST = 24
# photographs that one making keeps


def keep_at_table(
    colouring: Colouring, data: bytes, *, key: str, making: int, at: float, card: int, after: str
) -> TablePhotograph:
    """A photograph, drawn anew; what was sent before is kept once.

    ``at``: seconds since 1970; ``after``: what was done last, in words. Raises
    BadFile for what is no picture, BadValue for a making that was not begun,
    TooLarge past what a making keeps.
    """
    going = _going(colouring, making)
    known = TablePhotograph.objects.filter(making=going, key=key).first()
    if known is not None:
        return known
    if going.photographs.count() >= MOST:
        raise TooLarge(f"A making keeps {MOST} photographs from the table; take one away first.", "file")
    picture = Image.fromarray(open_photo(data))
    picture.thumbnail((SIDE, SIDE))
    values = {"at": at, "card": card, "after": after, "content": jpeg(np.asarray(picture), QUALITY)}
    # two tries of one device may come at once
    found, _ = TablePhotograph.objects.get_or_create(making=going, key=key, defaults=values)
    return found


@transaction.atomic
def _going(colouring: Colouring, number: int) -> Making:
    last = latest(colouring)
    if number > (last.number if last is not None else 0) + 1:
        raise BadValue("That card is not begun yet.", "making")
    return Making.objects.get_or_create(colouring=colouring, number=number)[0]


def photographs_json(making: Making | None) -> list[dict[str, Any]]:
    """What was photographed in a making, the first one first."""
    if making is None:
        return []
    rows = making.photographs.defer("content")
    return [{"id": p.pk, "key": p.key, "at": p.at, "card": p.card, "after": p.after} for p in rows]
