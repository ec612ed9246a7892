"""Steps of a sequence, and what they add up to."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence as Sequence_
from dataclasses import dataclass, field, replace

KINDS = (
    "place",
    "mask",
    "unmask",
    "ink",
    "wipe",
    "clean",
    "damp",
    "wash",
    "wait",
    "seal",
    "lift",
    "glue",
    "heat",
    "prep",
)


@dataclass(frozen=True)
class Step:
    """One thing to do. ``minutes`` is how long it keeps hands or card busy, ``how`` how that was found.

    ``card`` counts from 1, ``who`` (pairs of hands) as well; ``which`` brush of
    its size from 0. ``serves``: the pass it is done for, ``job`` the key of other work.
    ``word``: what is done in one, where its kind does not say it. ``clock``: what begins to dry with this step, for ``dries`` minutes; of a wait, what it waits for. ``copy`` of the sheet, where she owns it twice.
    """

    kind: str
    minutes: float
    sentence: str
    reasons: tuple[str, ...] = ()
    caution: str | None = None
    sheet: int | None = None
    pass_key: str | None = None
    element: str | None = None
    brush: str | None = None
    masks: tuple[str, ...] = ()
    starts: float = 0.0
    heated_minutes: float | None = None
    how: str = ""
    key: str = ""
    card: int = 1
    who: int = 1
    which: int | None = None
    serves: str | None = None
    job: str | None = None
    word: str = ""
    clock: str | None = None
    dries: float = 0.0
    copy: int = 1


def keyed(steps: Sequence_[Step]) -> tuple[Step, ...]:
    """The steps, each with a key that names it whatever it is called and wherever it stands.

    A pass's own step goes by the pass; every other by its kind and the pass
    that it leads to, counted where there are several.
    """
    seen: Counter[str] = Counter()
    found: list[Step] = []
    ahead = "end"
    for step in reversed(steps):
        if step.kind == "ink":
            ahead = str(step.pass_key)
        base = f"{step.kind}:{ahead}" if step.kind != "glue" else f"glue:{step.sheet}"
        base += f"@{step.card}" if step.card > 1 else ""
        seen[base] += 1
        found.append(replace(step, key=base if seen[base] == 1 else f"{base}:{seen[base]}"))
    return tuple(reversed(found))


@dataclass(frozen=True)
class Sequence:
    """All steps, with the order of the passes and which of them go onto wet ink."""

    steps: tuple[Step, ...]
    passes: tuple[str, ...]
    wet: frozenset[str] = field(default_factory=frozenset)

    @property
    def minutes(self) -> float:
        """From the first step to the last, waits included."""
        return max((s.starts + s.minutes for s in self.steps), default=0.0)

    @property
    def waiting(self) -> float:
        """Minutes spent waiting."""
        return sum(s.minutes for s in self.steps if s.kind == "wait")

    @property
    def placements(self) -> int:
        """How often a sheet is seated."""
        return sum(s.kind == "place" for s in self.steps)

    @property
    def cleanings(self) -> int:
        """Brushes cleaned and sheets washed; a wipe is not counted, dry or damp."""
        return sum(s.kind in ("clean", "wash") for s in self.steps)

    @property
    def masks(self) -> int:
        """How often a mask is laid."""
        return sum(s.kind == "mask" for s in self.steps)
