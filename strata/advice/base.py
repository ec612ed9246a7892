"""What a rule sees, and what it says."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

from strata.order.model import Sequence
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.tones.ladder import Rung

SEVERITIES = ("stop", "look", "note")


@dataclass(frozen=True)
class Mend:
    """A way out, as an edit that can be applied as it stands."""

    label: str
    kind: str
    values: Mapping[str, Any]


@dataclass(frozen=True)
class Finding:
    """One warning: a sentence, the reason, where it applies, and its mends (best first)."""

    code: str
    severity: str
    sentence: str
    reason: str
    element: str
    passes: tuple[str, ...] = ()
    sheet: int | None = None
    mends: tuple[Mend, ...] = field(default_factory=tuple)


@dataclass(frozen=True)
class Situation:
    """The plan, its ladders and its sequence."""

    scene: Scene
    sequence: Sequence
    ladders: Mapping[str, tuple[Rung, ...]]

    def rungs(self) -> Iterator[tuple[Pass, Rung, Rung | None]]:
        """Every pass with its rung and the rung below it in its element."""
        for rungs in self.ladders.values():
            below = None
            for rung in rungs:
                yield self.scene.plan.find(rung.pass_key), rung, below
                below = rung

    def name(self, item: Pass) -> str:
        """The ink's name."""
        return self.scene.ink(item).name or item.ink


class Rule(Protocol):
    """One thing to look for."""

    code: str

    def look(self, situation: Situation) -> Iterator[Finding]:
        """Every place where it applies."""
        ...
