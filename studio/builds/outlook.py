"""What is found of a colouring as it stands: its order of work, its picture, its judgement; once, by whoever asks first."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from threading import Lock
from typing import Any, Protocol, TypeVar

from strata.advice import Finding, advise
from strata.order import Sequence
from strata.picture.shown import View, view
from strata.plan import Scene
from strata.tones import Ground, Rung, ladders

T = TypeVar("T")
Ladders = dict[str, tuple[Rung, ...]]


@dataclass(frozen=True)
class Judged:
    """What is said of a colouring: its ladders, its findings, and what lies over each element (``Ground.over``)."""

    ladders: Ladders
    findings: tuple[Finding, ...]
    over: dict[str, list[tuple[str, str, float]]]


class InOrder(Protocol):
    """Whatever can say in what order a card's passes come, and which of them on wet ink."""

    @property
    def sequence(self) -> Sequence:
        """The order of work."""


class Outlook:
    """A scene, its sequence and its judgement, each found by the first thread that needs it.

    ``key`` is made of what the order and the picture use of plan, set and
    drawer: a pad's notes or place change neither.
    """

    def __init__(self, key: str, scene: Scene, at_hand: frozenset[str], ordering: InOrder) -> None:
        self.key, self.scene, self.at_hand, self.ordering = key, scene, at_hand, ordering
        self._lock = Lock()
        self._ordered = False
        self._judged: Judged | None = None
        self._told: dict[str, Any] = {}

    @property
    def sequence(self) -> Sequence:
        """The order of work."""
        with self._lock:
            found = self.ordering.sequence
            self._ordered = True
            return found

    @property
    def ordered(self) -> bool:
        """Whether the order of work is found already."""
        return self._ordered

    def view(self, width: int) -> View:
        """The picture's layers and map at a width: megabytes, which are kept by what they show and not by who looks."""
        return view(self.scene, self.sequence.wet, width)

    @property
    def judged(self) -> Judged:
        """Ladders, findings, and what lies over what."""
        sequence = self.sequence
        with self._lock:
            if self._judged is None:
                ground = Ground.of(self.scene, sequence.wet)
                found = dict(ladders(self.scene, sequence, ground))
                findings = advise(self.scene, sequence, found, self.at_hand, ground)
                over = {name: ground.over(name) for name in self.scene.layer_set.elements}
                self._judged = Judged(found, findings, over)
            return self._judged

    def told(self, what: str, make: Callable[[], T]) -> T:
        """Something that is told of it as JSON and changes with nothing else; made where it was not told before."""
        if what not in self._told:
            self._told[what] = make()  # two that ask at once make the same
        found: T = self._told[what]
        return found


def bytes_of(seen: Outlook) -> int:
    """About what a scene with ladders, findings, steps and what is told of them takes."""
    return 150_000 + 20_000 * len(seen.scene.plan.passes)
