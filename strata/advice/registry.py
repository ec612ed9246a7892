"""The rules in the order in which their findings are shown."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from strata.advice.base import SEVERITIES, Finding, Rule, Situation
from strata.advice.brown_risk import BrownRisk
from strata.advice.brush_fit import BrushFit
from strata.advice.buried import Buried
from strata.advice.deepens import Deepens
from strata.advice.forgotten import Forgotten
from strata.advice.greeting import Greeting
from strata.advice.guessed import Guessed
from strata.advice.inked_in_parts import InkedInParts
from strata.advice.lost import Lost
from strata.advice.made import Batch, Thickness
from strata.advice.missing_pad import MissingPad
from strata.advice.neighbours import Neighbours, Silhouette
from strata.advice.placing import MarksInside, OffCentre
from strata.advice.shadow_side import ShadowSide
from strata.advice.step_size import StepSize
from strata.advice.water import Water
from strata.advice.wrong_way import WrongWay
from strata.order.steps import Sequence
from strata.plan.scene import Scene
from strata.tones.ground import Ground
from strata.tones.ladder import Rung

RULES: tuple[Rule, ...] = (
    Lost(),
    MissingPad(),
    WrongWay(),
    BrownRisk(),
    Buried(),
    Neighbours(),
    StepSize(),
    Greeting(),
    Water(),
    BrushFit(),
    ShadowSide(),
    Silhouette(),
    Forgotten(),
    Guessed(),
    InkedInParts(),
    MarksInside(),
    OffCentre(),
    Thickness(),
    Batch(),
    Deepens(),
)


def advise(
    scene: Scene,
    sequence: Sequence,
    ladders: Mapping[str, tuple[Rung, ...]],
    at_hand: frozenset[str] | None = None,
    ground: Ground | None = None,
    mending: bool = True,
) -> tuple[Finding, ...]:
    """All findings on a plan, most serious first, each once.

    Those that the plan says to leave (``Plan.left``, by key) are among them:
    whoever shows them sets them apart. Without ``mending`` they are the same,
    but those mends are missing that would have to be tried out.
    """
    situation = Situation(scene, sequence, ladders, at_hand, ground, mending)
    found = {f.key: f for rule in reversed(RULES) for f in reversed(list(rule.look(situation)))}
    ordered = list(reversed(found.values()))
    ordered.sort(key=lambda f: SEVERITIES.index(f.severity))
    return tuple(ordered)


def serious(findings: Iterable[Finding], scene: Scene) -> list[Finding]:
    """What stands between a plan and the table: neither a note nor left alone by the maker."""
    return [f for f in findings if f.severity in ("stop", "look") and f.key not in scene.plan.left]
