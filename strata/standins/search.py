"""The search for a stand-in: quick over every pad and amount, then whole for the best of them.

Not the nearest swatch: what counts is the colour *here*, over what lies
beneath, in as many coats as it takes; that every warning which the swap would
bring is counted against it; and that elements which touch stay apart.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from strata.advice import advise
from strata.errors import UnknownName
from strata.optics.colour import differences
from strata.order.steps import Sequence as Order
from strata.plan.model import Pass, Plan
from strata.plan.scene import Scene
from strata.sheets import measures
from strata.standins.quick import Quick
from strata.tones import Ground, Rung, ladders
from strata.tones.ladder import main_rung

Ladders = Mapping[str, tuple[Rung, ...]]
LOOKED_INTO = 7
# pads that are tried in the whole build
WEIGHT = {"stop": 8.0, "look": 3.0, "note": 0.5, "good": 0.0}
# CIEDE2000 that a warning which was not there before counts for
STANDS_OUT, FADED = 6.0, 0.4
# CIEDE2000 of a step that is seen, and the share of it that must be left
APART = 6.0
# CIEDE2000 between the main colours of elements side by side


@dataclass(frozen=True)
class StandIn:
    """``ink`` in the place of another: per pass its coats and hand.

    ``difference`` is CIEDE2000 from the colours wanted, share-weighted over
    all that the swap touches; ``role`` what the pad did; ``troubles`` the
    warnings that it would bring, in a sentence each.
    """

    ink: str
    amounts: Mapping[str, tuple[int, str]]
    difference: float
    role: str
    troubles: tuple[str, ...]
    score: float


def stand_ins(
    scene: Scene,
    order: Order,
    rungs: Ladders,
    passes: Sequence[str],
    candidates: Iterable[str],
    keep: int = 5,
) -> tuple[StandIn, ...]:
    """The best pads in the place of ``passes`` (keys, all of one ink), best first.

    Raises UnknownName for a pass that is gone, or where there are none.
    """
    items = [scene.plan.find(key) for key in passes]
    if not items:
        raise UnknownName("That pad is not used in this build.", "ink")
    missing = items[0].ink
    by_pass = {r.pass_key: r for climb in rungs.values() for r in climb}
    pads = sorted({ink for ink in candidates if ink != missing})
    amounts, offs = Quick(scene, items, by_pass, pads).found()
    nearest = np.argsort(offs, kind="stable")[:LOOKED_INTO].tolist()
    before = {f.key for f in advise(scene, order, rungs, mending=False)}
    found = [_whole(scene, order, rungs, items, pads[i], amounts[i], before) for i in nearest]
    found.sort(key=lambda s: s.score)
    return tuple(found[:keep])


def swapped(plan: Plan, ink: str, amounts: Mapping[str, tuple[int, str]]) -> Plan:
    """The plan with ``ink`` in those passes, in those coats and hands."""
    return replace(
        plan,
        passes=tuple(
            replace(p, ink=ink, coats=amounts[p.key][0], hand=amounts[p.key][1]) if p.key in amounts else p
            for p in plan.passes
        ),
    )


def _whole(
    scene: Scene,
    order: Order,
    rungs: Ladders,
    items: Sequence[Pass],
    ink: str,
    amounts: Mapping[str, tuple[int, str]],
    before: set[str],
) -> StandIn:
    """A pad in the whole build: every colour that it changes, every warning that it brings."""
    fresh = scene.with_plan(swapped(scene.plan, ink, amounts))
    ground = Ground.of(fresh, order.wet)
    new = ladders(fresh, order, ground)
    off, troubles, score = _changed(scene, rungs, new), [], 0.0
    for finding in advise(fresh, order, new, None, ground, mending=False):
        if finding.key not in before:
            troubles.append(finding.sentence)
            score += WEIGHT.get(finding.severity, 1.0)
    for sentence in _faded(rungs, new, items, scene.inks[ink].name or ink):
        troubles.append(sentence)
        score += WEIGHT["stop"]
    for sentence in _run_together(fresh, rungs, new, {p.element for p in items}):
        troubles.append(sentence)
        score += WEIGHT["look"]
    roles = {r.pass_key: r.role for climb in rungs.values() for r in climb}
    named = dict.fromkeys(f"the {roles[p.key]} of {p.element}" for p in items)
    role = " and ".join([*named][:2]) + (f" and {len(named) - 2} more" if len(named) > 2 else "")
    return StandIn(ink, dict(amounts), off, role, tuple(dict.fromkeys(troubles)), off + score)


def _changed(scene: Scene, rungs: Ladders, new: Ladders) -> float:
    """CIEDE2000 between all places that changed, weighted by area and share."""
    total = weight = 0.0
    for element, climb in rungs.items():
        for old, fresh in zip(climb, new[element], strict=True):
            area = scene.group(scene.plan.find(old.pass_key)).area
            for a, b in zip(old.places, fresh.places, strict=False):
                if a.here != b.here:
                    total += area * a.share * float(differences(np.array(a.here), np.array(b.here)))
                    weight += area * a.share
    return total / weight if weight else 0.0


def _faded(rungs: Ladders, new: Ladders, items: Sequence[Pass], name: str) -> list[str]:
    """Passes that stood out from what lies under them, and would much less."""
    swapped_in = {p.key for p in items}
    found = []
    for element, climb in rungs.items():
        for old, fresh in zip(climb, new[element], strict=True):
            if old.pass_key in swapped_in and old.change >= STANDS_OUT and fresh.change < FADED * old.change:
                found.append(
                    f"{name} would hardly show on {element}: a step of {fresh.change:.0f} in the place of {old.change:.0f}."
                )
    return found


def _run_together(scene: Scene, rungs: Ladders, new: Ladders, touched: set[str]) -> list[str]:
    """Elements side by side whose colours were apart and would not be any more."""
    found, near = [], measures.elements_apart(scene.layer_set)
    for element in sorted(touched):
        for other in new:
            if near.get(frozenset((element, other)), math.inf) >= measures.SIDE_BY_SIDE:
                continue
            pairs = [
                (main_rung(ladder[element]).here, main_rung(ladder[other]).here) for ladder in (rungs, new)
            ]
            was, becomes = differences(np.array([a for a, _ in pairs]), np.array([b for _, b in pairs]))
            if was >= APART > becomes:
                found.append(f"{element} would run together with {other} beside it.")
    return found
