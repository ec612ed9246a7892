"""The rules in the order in which their findings are shown."""

from __future__ import annotations

from collections.abc import Mapping

from strata.advice.base import SEVERITIES, Finding, Rule, Situation
from strata.advice.brown_risk import BrownRisk
from strata.advice.brush_fit import BrushFit
from strata.advice.forgotten import Forgotten
from strata.advice.guessed import Guessed
from strata.advice.inked_in_parts import InkedInParts
from strata.advice.lost import Lost
from strata.advice.step_size import StepSize
from strata.advice.wrong_way import WrongWay
from strata.order.model import Sequence
from strata.plan.scene import Scene
from strata.tones.ladder import Rung

RULES: tuple[Rule, ...] = (
    Lost(),
    BrownRisk(),
    WrongWay(),
    StepSize(),
    Forgotten(),
    BrushFit(),
    Guessed(),
    InkedInParts(),
)


def advise(scene: Scene, sequence: Sequence, ladders: Mapping[str, tuple[Rung, ...]]) -> tuple[Finding, ...]:
    """All findings on a plan, most serious first."""
    situation = Situation(scene, sequence, ladders)
    found = [finding for rule in RULES for finding in rule.look(situation)]
    found.sort(key=lambda f: SEVERITIES.index(f.severity))
    return tuple(found)
