"""What a rule sees, and what it says."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import chain
from typing import Any, Literal, Protocol

from strata.advice.verdicts import Judge, Verdict
from strata.optics.inks import AT_HAND
from strata.order.steps import Sequence
from strata.order.wording import named
from strata.plan.edits import EDITS
from strata.plan.edits import Edit as EditFunction
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.sheets import measures
from strata.sheets.nouns import NOUNS, Nouns
from strata.tones.ground import Ground
from strata.tones.ladder import Rung

Severity = Literal["stop", "look", "note", "good"]
SEVERITIES: tuple[Severity, ...] = ("stop", "look", "note", "good")
# mend this first; look at this; to decide; well done
SubjectKind = Literal["element", "pair", "sheet", "panel", "pad", "batch"]
SUBJECTS: tuple[SubjectKind, ...] = ("element", "pair", "sheet", "panel", "pad", "batch")


@dataclass(frozen=True)
class Subject:
    """What a finding is about: an element, a pair of them, a sheet, the panel, a pad (by key), the batch."""

    kind: SubjectKind
    names: tuple[str, ...] = ()
    sheet: int | None = None

    @classmethod
    def of(cls, item: Pass) -> Subject:
        """The element of a pass, on its sheet."""
        return cls("element", (item.element,), item.sheet)


@dataclass(frozen=True)
class Edit:
    """One change of the plan, as ``strata.plan.edits`` takes it."""

    kind: str
    values: Mapping[str, Any]

    @property
    def makes(self) -> EditFunction:
        """The function that makes it; raises KeyError for a kind nobody knows."""
        return EDITS[self.kind]


@dataclass(frozen=True)
class Mend:
    """A way out, as one or more edits that can be applied as they stand, in one step."""

    label: str
    edits: tuple[Edit, ...]

    @classmethod
    def one(cls, label: str, kind: str, values: Mapping[str, Any]) -> Mend:
        """A mend of a single edit."""
        return cls(label, (Edit(kind, values),))

    @property
    def kind(self) -> str:
        """The kind of edit that makes all of it."""
        return self.edits[0].kind if len(self.edits) == 1 else "several"

    @property
    def values(self) -> Mapping[str, Any]:
        """The values of that edit."""
        if len(self.edits) == 1:
            return self.edits[0].values
        return {"edits": [{"kind": e.kind, "values": dict(e.values)} for e in self.edits]}


@dataclass(frozen=True)
class Finding:
    """One warning: a sentence, the reason, what it is about, and its mends (best first).

    ``key`` is its identity: the same finding on the same thing has the same
    key whatever it says, so that it can be left alone, or told from another.
    """

    code: str
    severity: Severity
    sentence: str
    reason: str
    subject: Subject
    passes: tuple[str, ...] = ()
    mends: tuple[Mend, ...] = field(default_factory=tuple)

    @property
    def key(self) -> str:
        """Code, subject and passes."""
        about = ",".join(self.subject.names)
        sheet = "" if self.subject.sheet is None else str(self.subject.sheet)
        return f"{self.code}|{self.subject.kind}|{about}|{sheet}|{','.join(self.passes)}"


@dataclass(frozen=True, eq=False)
class Situation:
    """The plan with its ladders and its sequence, and what is measured and owned, found once for all rules.

    ``owned``: keys of the pads that can be inked with (None: by their state);
    ``mending``: whether mends are tried out, which takes longer than all else.
    """

    scene: Scene
    sequence: Sequence
    ladders: Mapping[str, tuple[Rung, ...]]
    owned: frozenset[str] | None = None
    found_ground: Ground | None = None
    mending: bool = True

    @cached_property
    def tones(self) -> tuple[tuple[Pass, Rung, Verdict], ...]:
        """Every pass of ink with its rung and what it comes to.

        Joins, lifts, spatter and last touches are not tones: they are meant to
        be faint, or to jump.
        """
        found = []
        for rungs in self.ladders.values():
            for rung in rungs:
                item = self.scene.plan.find(rung.pass_key)
                if item.medium == "ink" and not item.form.join:
                    found.append((item, rung, self.judge.of(item, rung, self.below(rung))))
        return tuple(found)

    def told(self, *verdicts: Verdict) -> Iterator[tuple[Pass, Rung, Verdict]]:
        """The passes that come to one of these."""
        return (found for found in self.tones if found[2] in verdicts)

    @cached_property
    def judge(self) -> Judge:
        return Judge(self.scene, self.ladders)

    def below(self, rung: Rung) -> Rung | None:
        """The rung of ink beneath one on its ladder."""
        return self._below.get(rung.pass_key)

    @cached_property
    def _below(self) -> dict[str, Rung | None]:
        found: dict[str, Rung | None] = {}
        for rungs in self.ladders.values():
            last = None
            for rung in rungs:
                found[rung.pass_key] = last
                item = self.scene.plan.find(rung.pass_key)
                if item.medium == "ink" and not item.form.join:
                    last = rung
        return found

    @cached_property
    def ground(self) -> Ground:
        """What lies where on the panel."""
        return self.found_ground or Ground.of(self.scene, self.sequence.wet)

    def offered(self, *ways: Iterator[Mend]) -> tuple[Mend, ...]:
        """The mends that those yield, best first; none are looked for where only the warnings are asked for."""
        return tuple(chain(*ways)) if self.mending else ()

    def nouns_of(self, sheet: int) -> Nouns:
        """What the parts are called that a sheet belongs to."""
        return NOUNS[self.scene.layer_set.worked_as(sheet)]

    def part(self, number: int) -> str:
        """A part by its noun and the number that stands on it."""
        return named(self.scene, number)

    def name(self, item: Pass) -> str:
        """The ink's name."""
        return self.scene.ink(item).name or item.ink

    @cached_property
    def at_hand(self) -> frozenset[str]:
        """Keys of the pads that can be inked with."""
        if self.owned is not None:
            return self.owned
        return frozenset(k for k, ink in self.scene.inks.items() if ink.state in AT_HAND)

    @cached_property
    def size(self) -> tuple[float, float]:
        """Width and height of the panel, mm."""
        return self.scene.layer_set.width, self.scene.layer_set.height

    def apart(self, one: str, other: str) -> float:
        """mm between two elements on the panel; more than 10 is told as endless."""
        return measures.elements_apart(self.scene.layer_set).get(frozenset((one, other)), math.inf)


class Rule(Protocol):
    """One thing to look for."""

    code: str

    def look(self, situation: Situation) -> Iterator[Finding]:
        """Every place where it applies."""
        ...
