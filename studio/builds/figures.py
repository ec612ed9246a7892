"""The few figures that Home says of a colouring: kept with it, so that a start of the server works nothing out again."""

from __future__ import annotations

import hashlib
from contextlib import suppress
from dataclasses import asdict, dataclass
from functools import cache
from pathlib import Path

from django.db import DatabaseError

import strata
from strata.advice import serious
from strata.plan.media import BOTTLES
from studio.builds.looking import key_of, outlook, stored
from studio.builds.models import Colouring
from studio.inks.services import house


@dataclass(frozen=True)
class Figures:
    """Minutes, steps and serious findings: none of them depends on what pads are called or where they lie."""

    minutes: float
    steps: int
    serious: int


@cache
def _rules() -> str:
    """Changes with the core's code: what an earlier version found is found anew."""
    digest = hashlib.sha256()
    for file in sorted(Path(strata.__file__).parent.rglob("*.py")):
        digest.update(file.read_bytes())
    return digest.hexdigest()[:12]


def figures(colouring: Colouring) -> Figures:
    """Minutes, steps and serious findings; worked out once for a plan and what it uses of the house."""
    own = house(colouring.build.owner)
    missing = sorted({p["ink"] for p in stored(colouring)["passes"]} - own.at_hand - set(BOTTLES))
    told = f"{key_of(colouring)}:{_rules()}:{','.join(missing)}"
    key = hashlib.sha256(told.encode()).hexdigest()[:20]

    row = colouring.figures
    return Figures(**row["found"]) if row and row["key"] == key else _worked_out(colouring, key)


def _worked_out(colouring: Colouring, key: str) -> Figures:
    seen = outlook(colouring)
    grave = len(serious(seen.judged.findings, seen.scene))
    found = Figures(seen.sequence.minutes, len(seen.sequence.steps), grave)
    with suppress(DatabaseError):
        # on a full disk Home is still shown
        colouring.figures = {"key": key, "found": asdict(found)}
        Colouring.objects.filter(pk=colouring.pk).update(figures=colouring.figures)
    return found
