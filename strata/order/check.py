"""Whether a plan of work is sound: judged by its facts alone, step by step, as somebody at the table would.

Nothing of the planner is imported, so that one cannot cover up for the other.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Any

from strata.order.demands import CARE, EASE, Demands
from strata.order.jobs_done import JobsDone

FIXED = {"place", "lift", "wipe", "clean", "damp", "wash", "mask", "unmask", "seal", "glue"}
HANDS = FIXED | {"ink", "heat", "prep"}
# what a second pair of hands may do: all that needs no sheet seated
HELPED = {"wipe", "clean", "damp", "wash", "seal", "glue", "prep"}
KINDS = HANDS | {"wait"}
Step = Mapping[str, Any]
Copy = tuple[int, int]
# a sheet, and which copy of it where it is owned twice


def copy_of(step: Step) -> Copy:
    """The plastic that a step is done with."""
    return step["sheet"], step.get("copy", 1)


class _Table:
    def __init__(self, facts: Mapping[str, Any], by_hand: Sequence[str] = ()) -> None:
        self.demands = Demands(facts, by_hand)
        self.cards = int(facts["cards"])
        self.wrong: list[str] = []
        # what was done before the plan was made is as it is: it is taken in, not judged
        self.past = False
        self.seated: tuple[int, Copy] | None = None
        self.inked_here: list[str] = []
        self.masks: dict[Copy, set[str]] = defaultdict(set)
        self.dry: dict[int, dict[str, float]] = defaultdict(dict)
        self.sheet_dry: dict[Copy, float] = {}
        self.residues: dict[Copy, list[str]] = defaultdict(list)
        self.carries: dict[tuple[str, int], str] = {}
        self.cared: dict[tuple[str, int], tuple[int, float]] = {}
        self.sealed: dict[int, float] = {}
        self.jobs = JobsDone(facts.get("jobs", []))
        self.glued: set[tuple[int, int]] = set()
        self.set_on_before: set[tuple[int, int]] = set()

    def say(self, step: Step, what: str) -> None:
        if self.past:
            return
        self.wrong.append(f"{step['kind']} at minute {step['starts']:.2f}: {what}")

    def wet(self, card: int, at: float) -> list[str]:
        return [k for k, until in self.dry[card].items() if until > at + EASE]

    def take(self, step: Step) -> None:
        """One step, in the order in which they begin."""
        kind = step["kind"]
        if kind in FIXED and abs(step["minutes"] - self.demands.minutes[kind]) > EASE:
            self.say(step, "it does not take that long")
        getattr(self, f"_{kind}", lambda _: None)(step)

    def _place(self, step: Step) -> None:
        card, sheet, at, own = step["card"], step["sheet"], step["starts"], copy_of(step)
        if not 1 <= own[1] <= self.demands.owned(sheet):
            self.say(step, "there is no such copy of the sheet")
        if self.seated is not None:
            self.say(step, "a sheet is seated already")
        if any(self.demands.under_sheet(k, sheet) for k in self.wet(card, at)):
            self.say(step, "a sheet is laid on wet ink")
        places = self.demands.rules.get("rack", 0)
        if places and sum(bool(self.wet(c, at)) for c in list(self.dry) if c != card) > places:
            self.say(step, "there is no place left where a card can dry")
        if self.sheet_dry.get(own, 0.0) > at + EASE:
            self.say(step, "a wet sheet is seated")
        self._still_open(step)
        self.seated, self.inked_here = (card, own), []

    def go_on(self) -> None:
        """What was done before is over: a card on which something is left is open again, and sealed anew."""
        self.past = False
        self.set_on_before = set(self.glued)
        for card in list(self.sealed):
            if not self.demands.is_out(card) and set(self.dry[card]) != self.demands.passes_of(card):
                del self.sealed[card]

    def _still_open(self, step: Step) -> None:
        glued = self.glued - self.set_on_before
        if step["card"] in self.sealed or any(c == step["card"] for c, _ in glued):
            self.say(step, "the card is finished already")

    def _off(self, step: Step) -> None:
        if self.seated != (step["card"], copy_of(step)):
            self.say(step, "this sheet is not seated on this card")
        if self.masks[copy_of(step)] and not self.demands.rules["masks_stay"]:
            self.say(step, "a mask is left on the sheet")
        self.seated = None

    def _lift(self, step: Step) -> None:
        self._off(step)
        if self.demands.kind(step["sheet"]) == "stamp set" and self.demands.rules["lift_cleans"]:
            self.residues[copy_of(step)].clear()

    def _wash(self, step: Step) -> None:
        sheet = copy_of(step)
        if self.seated is not None and self.seated[1] == sheet:
            self._off(step)
        if self.masks[sheet]:
            self.say(step, "a sheet is cleaned with its mask on")
        damp = step["kind"] == "damp"
        if damp and not self.demands.rules.get("damp_wipe", False):
            self.say(step, "there is no damp wipe")
        stays = [k for k in self.residues[sheet] if damp and not self.demands.wiped_off(k)]
        self.residues[sheet] = stays
        dry = self.demands.minutes["damp_dry" if damp else "wash_dry"]
        self.sheet_dry[sheet] = step["starts"] + step["minutes"] + dry

    _damp = _wash

    def _mask(self, step: Step) -> None:
        seated = self.seated is not None and self.seated[1] == copy_of(step)
        if not seated or self.masks[copy_of(step)]:
            self.say(step, "masks lie there already" if seated else "the sheet is not seated")
        if not step["masks"] or set(step["masks"]) - self.demands.maskable:
            self.say(step, "it covers nothing that is there")
        self.masks[copy_of(step)] = set(step["masks"])

    def _unmask(self, step: Step) -> None:
        if not self.masks[copy_of(step)]:
            self.say(step, "no mask is on")
        self.masks[copy_of(step)] = set()

    def _ink(self, step: Step) -> None:
        key, card, at = step["pass"], step["card"], step["starts"]
        if key not in self.demands.passes_of(card):
            self.say(step, "no such card, or no such pass on it")
            if not self.past:
                return
        if self.past:
            self.seated = (card, copy_of(step))
        if self.seated != (card, copy_of(step)) or step["sheet"] != self.demands.group(key)[1]:
            self.say(step, "ink through a sheet that is not seated")
        if key in self.dry[card]:
            self.say(step, "the pass is done already")
        if any(self.demands.kept_apart(key, other) for other in self.inked_here):
            self.say(step, "it is to be done in another seating")
        self.inked_here.append(key)
        self._over(step, key)
        lies = self.masks[copy_of(step)]
        if self.demands.covered(key) - lies or self.demands.passes[key]["element"] in lies:
            self.say(step, "two inks may run together, or the element itself is covered")
        if any(self.demands.spoils(left, key) for left in self.residues[copy_of(step)]):
            self.say(step, "what is left on the sheet spoils this ink")
        if abs(step["minutes"] - self.demands.length(key)) > EASE:
            self.say(step, "the pass does not take that long")
        self._still_open(step)
        self._brush(step, key)
        self.dry[card][key] = at + step["minutes"] + self.demands.ink(key)["dry"]
        self.residues[copy_of(step)].append(key)

    def _over(self, step: Step, key: str) -> None:
        """What must lie under a pass does, dry where it must be; what it cannot do without is done."""
        for what in self.jobs.wanted_before(key, step["starts"]):
            self.say(step, what)
        for other, dry in self.demands.under(key):
            until = self.dry[step["card"]].get(other)
            if until is None or (dry and until > step["starts"] + EASE):
                self.say(step, f"{other} must be {'dry' if until is not None else 'down'} before it")

    def _brush(self, step: Step, key: str) -> None:
        size, used = self.demands.passes[key]["brush"], step["brush"]
        if size is None or used is None:
            if size != (used and used["size"]):
                self.say(step, "a brush too many, or none")
            return
        own = (used["size"], used["which"])
        if used["size"] != size or not self.demands.may_take(key, used["which"]):
            self.say(step, "there is no such brush, not of this size, or it is kept for another family")
        given, ready = self.cared.pop(own, (0, 0.0))
        needed = self.demands.care(self.carries[own], key) if own in self.carries else 0
        if given < needed or ready > step["starts"] + EASE:
            self.say(step, "the brush still carries another ink, or is wet from cleaning")
        self.carries[own] = key

    def _care(self, step: Step) -> None:
        if step["brush"] is None:
            self.say(step, "it names no brush")
            return
        done = step["starts"] + step["minutes"]
        ready = done + self.demands.rules["brush_dry"] if step["kind"] == "clean" else done
        self.cared[step["brush"]["size"], step["brush"]["which"]] = (CARE[step["kind"]], ready)

    _wipe = _clean = _care

    def _heat(self, step: Step) -> None:
        if not self.demands.rules.get("heat", False):
            self.say(step, "there is no heat tool")
        for key, until in self.dry[step["card"]].items():
            heated = self.demands.ink(key)["heated"]
            if heated is not None and heated <= step["minutes"] + EASE:
                self.dry[step["card"]][key] = min(until, step["starts"] + step["minutes"])

    def _prep(self, step: Step) -> None:
        for what in self.jobs.done(step, self._all_dry):
            self.say(step, what)

    def _all_dry(self, at: float) -> bool:
        """Whether every card is inked, dry, sealed, and has its pieces on."""
        cards = [c for c in range(1, self.cards + 1) if not self.demands.is_out(c)]
        return not any(
            self.wet(c, at)
            or set(self.dry[c]) != self.demands.passes_of(c)
            or self.sealed.get(c, 0.0) > at + EASE
            or {s for own, s in self.glued if own == c} != self.demands.glued(c)
            for c in cards
        )

    def _seal(self, step: Step) -> None:
        card, at = step["card"], step["starts"]
        if self.wet(card, at) or set(self.dry[card]) != self.demands.passes_of(card):
            self.say(step, "wet or unfinished ink is sealed")
        self._bare(step)
        self.sealed[card] = at + step["minutes"] + self.demands.minutes["seal_dry"]

    def _glue(self, step: Step) -> None:
        card, at = step["card"], step["starts"]
        unfinished = set(self.dry[card]) != self.demands.passes_of(card)
        self._bare(step)
        if self.wet(card, at) or unfinished or self.sealed.get(card, 0.0) > at + EASE:
            self.say(step, "it is glued before it is dry")
        if step["sheet"] not in self.demands.glued(card) or (card, step["sheet"]) in self.glued:
            self.say(step, "there is no such piece, or it is on already")
        self.glued.add((card, step["sheet"]))

    def _bare(self, step: Step) -> None:
        if self.seated is not None and self.seated[0] == step["card"]:
            self.say(step, "a sheet still lies on the card")

    def end(self, minutes: float) -> None:
        """What must hold when all is done."""
        for card in range(1, self.cards + 1):
            if self.demands.is_out(card):
                continue
            own = self.demands.passes_of(card)
            if set(self.dry[card]) != own:
                self.wrong.append(f"card {card}: a pass is missing")
            if self.wet(card, minutes) or self.sealed.get(card, 0.0) > minutes + EASE:
                self.wrong.append(f"card {card}: it is handed over wet")
            if any(self.demands.ink(k)["seal"] for k in own) != (card in self.sealed):
                self.wrong.append(f"card {card}: sealed for nothing, or not sealed")
            if {s for c, s in self.glued if c == card} != self.demands.glued(card):
                self.wrong.append(f"card {card}: a piece is not glued on")
        if self.jobs.left:
            self.wrong.append("other work is left undone")
        if self.seated is not None or any(self.masks.values()):
            self.wrong.append("a sheet or a mask is left on")


def check(facts: Mapping[str, Any], plan: Mapping[str, Any]) -> list[str]:
    """Every way in which a plan breaks the rules of the table; empty for a sound one.

    ``facts`` and ``plan`` as ``python -m strata order`` answers them. What was
    done before (``facts["done"]``) is taken in as it is, and not judged. Raises
    KeyError for what lacks a field.
    """
    table = _Table(facts, plan.get("by_hand", []))
    done = facts.get("done", [])
    if list(plan["steps"][: len(done)]) != list(done):
        table.wrong.append("what was done is not what is told")
    rest = sorted(plan["steps"][len(done) :], key=lambda s: (s["starts"], s["minutes"] > 0))
    table.past = True
    for step in done:
        if _known(table, step):
            table.take(step)
    table.go_on()
    now = max((s["starts"] + s["minutes"] for s in done), default=0.0)
    end = max(now, _gone_through(table, rest, now))
    if done or rest:
        table.end(end)
    elif facts["passes"]:
        table.wrong.append("nothing is done")
    return table.wrong + _sums(plan, end)


def _known(table: _Table, step: Step) -> bool:
    if step["kind"] in KINDS and math.isfinite(step["starts"]) and math.isfinite(step["minutes"]):
        return True
    table.wrong.append(f"nobody knows the step {step['kind']}")
    return False


def _gone_through(table: _Table, steps: Sequence[Step], now: float) -> float:
    """Every step taken and judged from ``now`` on; when the last one ends."""
    busy: dict[int, float] = defaultdict(lambda: now)
    end = now
    for step in steps:
        if not _known(table, step):
            continue
        at, minutes = step["starts"], step["minutes"]
        if at < now - EASE or minutes < 0:
            table.say(step, "it begins before the beginning, or ends before it begins")
        if step["kind"] in HANDS:
            who = step.get("who", 1)
            if at < busy[who] - EASE:
                table.say(step, "the hands are still busy")
            if who > table.demands.rules.get("hands", 1) or (who > 1 and step["kind"] not in HELPED):
                table.say(step, "there are no hands for it")
            busy[who] = max(busy[who], at + minutes)
        end = max(end, at + minutes)
        table.take(step)
    return end


def _sums(plan: Mapping[str, Any], end: float) -> list[str]:
    """Whether what a plan says of itself is so."""
    kinds = [s["kind"] for s in plan["steps"]]
    said = [
        ("minutes", abs(plan["minutes"] - end) <= EASE),
        ("placements", plan["placements"] == kinds.count("place")),
        ("cleanings", plan["cleanings"] == kinds.count("clean") + kinds.count("wash")),
        ("masks", plan["masks"] == kinds.count("mask")),
        ("bound", plan["bound"] is None or plan["bound"] <= end + EASE),
        ("proven", not plan["proven"] or (plan["bound"] is not None and plan["bound"] >= end - EASE)),
    ]
    return [f"the plan's {name} is not so" for name, good in said if not good]
