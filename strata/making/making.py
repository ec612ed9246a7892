"""One going at the table: what was meant, what happened, and what is left to do of it, planned on what is really there."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

from strata.formats.build_file import write_pass
from strata.making.cards import Card, card_of
from strata.making.events import CHANGING, Event, joined, live
from strata.making.past import Past
from strata.order.begun import OUT, Begun
from strata.order.evening import Evening
from strata.order.facts import facts_of, plan_json
from strata.order.found import Found
from strata.order.gather import work_of
from strata.order.narration import narrate_evening
from strata.order.resume import go_on
from strata.order.schedule import Schedule
from strata.order.scheduled import scheduled
from strata.order.steps import Sequence as Steps
from strata.order.steps import Step
from strata.order.ticks import Work
from strata.order.wetness import wet_by_card
from strata.order.wishes import jobs_of, make_of, rules_of, wish_of
from strata.plan.model import MOST_CARDS, Plan
from strata.plan.scene import Scene

MARK = re.compile(r"([0-9a-f]{8})\.")
# before the key of a step that was planned anew: of which state of things
Earlier = Callable[[tuple[Event, ...]], "Making"]


@dataclass(frozen=True)
class Meant:
    """The order that was followed: its steps, the passes that lie on wet ink in it."""

    steps: Steps
    cards: int


@dataclass(frozen=True)
class Told:
    """A step with what is known of it: the events by which it was done, and how many layers were on its card before."""

    step: Step
    done: tuple[str, ...]
    layers: int


class Making:
    """So many cards of a scene in the making; each part is found when it is first asked for.

    ``meant`` is the order of work of all cards; ``events`` may come in any
    order. ``earlier`` gives the making as it stood after fewer of them, for
    who keeps it.
    """

    def __init__(
        self, scene: Scene, meant: Meant, events: Iterable[Event], earlier: Earlier | None = None
    ) -> None:
        self.scene, self.meant = scene, meant
        self.events = joined(events)
        self.live = live(self.events)
        self._earlier: Earlier = earlier or (lambda some: Making(scene, meant, some))

    @cached_property
    def done(self) -> tuple[Event, ...]:
        """Each step done once, in the order in which they were: two devices may both have it."""
        found: dict[str, Event] = {}
        for event in self.live:
            if event.kind == "done":
                found.setdefault(event.body["step"], event)
        return tuple(found.values())

    @cached_property
    def done_by(self) -> Mapping[str, tuple[str, ...]]:
        """For each step done, the keys of all events that say so."""
        found: dict[str, list[str]] = {}
        for event in self.live:
            if event.kind == "done":
                found.setdefault(event.body["step"], []).append(event.key)
        return {step: tuple(keys) for step, keys in found.items()}

    @cached_property
    def count(self) -> int:
        """How many cards were begun in all: one that is spoilt may be replaced by a fresh one."""
        # two devices may both say it of one card
        fresh = {e.card for e in self.live if e.kind == "spoilt" and e.body["fresh"]}
        return min(MOST_CARDS, self.meant.cards + len(fresh))

    @cached_property
    def cards(self) -> tuple[Card, ...]:
        """What is really on each card."""
        found = []
        for number in range(1, self.count + 1):
            own = [e for e in self.live if e.card == number]
            found.append(card_of(self.scene, number, own))
        return tuple(found)

    @cached_property
    def changed(self) -> bool:
        """Whether what was done is no longer the beginning of the order that was meant, so that the rest is planned anew."""
        if any(e.kind in CHANGING for e in self.live):
            return True
        keys = [s.key for s in self.meant.steps.steps]
        return set(keys[: len(self.done)]) != set(self.done_by)

    @cached_property
    def plans(self) -> tuple[Plan, ...]:
        """The different plans that the cards have, those of spoilt ones left out; as meant where all are spoilt."""
        found: list[Plan] = []
        for card in self.cards:
            if not card.spoilt and card.plan not in found:
                found.append(card.plan)
        return tuple(found) or (self.scene.plan,)

    @cached_property
    def evening(self) -> Evening:
        """The cards as makes of an evening: alike what is alike."""
        of = [OUT if c.spoilt else self.plans.index(c.plan) for c in self.cards]
        return Evening([make_of(self.scene.with_plan(p), 1) for p in self.plans], of)

    @cached_property
    def work(self) -> Work:
        """All work of the cards, with what is done of it."""
        whole = work_of(self.evening, rules_of(self.scene), jobs_of(self.scene))
        # a mask that was not cut and is needed no more need not be cut
        prepared = {e.body.get("job") for e in self.done}
        jobs = [
            j for j in whole.jobs if j.before is None or j.key in prepared or not self._all_laid(j.before)
        ]
        return Work(replace(whole, jobs=tuple(jobs)))

    def _all_laid(self, key: str) -> bool:
        m, item = self.evening.passes[key]
        return all(
            item.key in card.inked
            for card, make in zip(self.cards, self.evening.cards, strict=True)
            if make == m
        )

    @cached_property
    def begun(self) -> Begun:
        """What was done, as the planner counts it."""
        return Past(self.evening, self.work, self.done).begun()

    @cached_property
    def found(self) -> Found:
        """The whole of it: what was done, and the rest planned from there on."""
        followed = [s.pass_key for s in self.meant.steps.steps if s.kind == "ink" and s.pass_key]
        before = self._everywhere(followed)
        held = frozenset(self._everywhere(self.meant.steps.wet))
        return go_on(self.work, self.begun, wish_of(self.scene, 0.0), before, held)

    def _everywhere(self, keys: Iterable[str]) -> list[int]:
        """Passes by their own keys, in all makes."""
        index = self.work.index
        every = (
            self.evening.key(m, key) for key in dict.fromkeys(keys) for m in range(len(self.evening.makes))
        )
        return [index[k] for k in every if k in index]

    @cached_property
    def schedule(self) -> Schedule:
        """The same in minutes."""
        return scheduled(self.work, self.found)

    @cached_property
    def _planned(self) -> Making | None:
        """The making as it stood when the order that is followed now was planned anew; None where none is followed.

        What was planned once is gone on with as long as it is kept to: an
        order that is another one after every step leads nobody.
        """
        mark = next((_mark_of(e) for e in reversed(self.events) if e.kind == "done"), "")
        since = next((n for n, e in enumerate(self.events) if mark and _mark_of(e) == mark), None)
        if since is None or any(e.kind != "note" and _mark_of(e) != mark for e in self.events[since:]):
            return None
        before = self._earlier(self.events[:since])
        if not before.changed or before._mark != mark:
            return None
        fresh = set(self.done_by) - set(before.done_by)
        return before if {s.key for s in before.rest[: len(fresh)]} == fresh else None

    @cached_property
    def rest(self) -> tuple[Step, ...]:
        """Steps still to be done."""
        if not self.changed:
            return self.meant.steps.steps[len(self.done) :]
        before = self._planned
        if before is not None:
            return before.rest[len(self.done) - len(before.done) :]
        told = narrate_evening(self.evening, self.work.instance, self.schedule).steps
        mark = self._mark
        return tuple(replace(s, key=f"{mark}.{s.key}") for s in told)

    @cached_property
    def _mark(self) -> str:
        """Tells steps that were planned anew from those before: they may do the same once more."""
        said = "|".join(sorted([*(e.key for e in self.live if e.kind in CHANGING), *self.done_by]))
        return hashlib.sha256(said.encode()).hexdigest()[:8]

    @cached_property
    def steps(self) -> tuple[Told, ...]:
        """All steps: those done in the order in which they were, and the rest."""
        known = {s.key: s for s in self.meant.steps.steps}
        if self._planned is not None:
            known |= {s.key: s for s in self._planned.rest}
        past = [known.get(e.body["step"]) or _from(e) for e in self.done]
        found, on = list[Told](), dict.fromkeys(range(self.count + 1), 0)
        layers = {c.number: {k: n for n, k in enumerate(c.layers, 1)} for c in self.cards}
        for step in past:
            found.append(Told(step, self.done_by.get(step.key, ()), on.get(step.card, 0)))
            if step.kind == "ink":
                on[step.card] = layers.get(step.card, {}).get(step.pass_key or "", on.get(step.card, 0))
        on |= {number: len(own) for number, own in layers.items()}
        for step in self.rest:
            found.append(Told(step, (), on.get(step.card, 0)))
            if step.kind == "ink":
                on[step.card] += 1
        return tuple(found)

    def layers_of(self, card: int) -> tuple[str, ...]:
        """All layers of a card, smears among them, in the order in which they come: there, and to come."""
        rest = (s.pass_key for s in self.rest if s.kind == "ink" and s.card == card and s.pass_key)
        return tuple(dict.fromkeys([*self.cards[card - 1].layers, *rest]))

    def left_on(self, card: int) -> int:
        """How many passes are still to be laid on a card."""
        return sum(s.kind == "ink" and s.card == card for s in self.rest)

    def as_laid(self, event: Event) -> Event:
        """A pass that was laid, with what it was planned as: the plan may move on."""
        if not event.is_ink or "as" in event.body or not 0 < event.card <= self.count:
            return event
        # what was laid otherwise than planned says so by an event of its own
        every = (*self.scene.plan.passes, *self.cards[event.card - 1].plan.passes)
        item = next((p for p in every if p.key == event.pass_key), None)
        if item is None:
            return event
        return replace(event, body={**event.body, "as": write_pass(self.scene.plan, item)})

    def wet_on(self, card: int) -> frozenset[str]:
        """The passes of a card that lie, or will lie, on wet ink.

        Of what is laid as it was meant: ticks come in a bunch, and when the
        ink was still wet they do not tell.
        """
        if not self.changed:
            return self.meant.steps.wet
        if self._planned is not None:
            return self._planned.wet_on(card)
        keys = (self.work.tasks[i].key for i in wet_by_card(self.work, self.found.timed).get(card, ()))
        laid = set(self.cards[card - 1].inked)
        to_come = frozenset(self.evening.passes[k][1].key for k in keys) - laid
        return to_come | (self.meant.steps.wet & laid)

    def as_request(self) -> dict[str, Any]:
        """Facts and plan, as ``strata.order.check`` judges them: what was done is a fact."""
        facts = facts_of(self.evening, rules_of(self.scene), self.work.instance.jobs)
        plan = plan_json(self.schedule, self.work.instance.by_hand)
        return {"facts": {**facts, "done": plan["steps"][: self.schedule.done]}, "plan": plan}


def _mark_of(event: Event) -> str:
    """The mark of a step that was planned anew and done; empty for all else."""
    found = MARK.match(str(event.body.get("step", ""))) if event.kind == "done" else None
    return found.group(1) if found else ""


def _from(event: Event) -> Step:
    """A step that is no longer planned, as it was done."""
    body = event.body
    return Step(
        kind=body["kind"],
        minutes=body["minutes"],
        sentence=body.get("sentence") or body["kind"].capitalize(),
        sheet=body.get("sheet"),
        pass_key=body.get("pass"),
        masks=tuple(body["masks"]),
        key=body["step"],
        card=body["card"],
        who=body.get("who", 1),
        clock=body.get("clock"),
    )
