"""Visits to sheets laid out in time: when the hands do what, and what is done while something dries.

One rule for every planner: what is wet blocks what it would spoil, a sheet
that must be clean for a later visit is washed as soon as it is free, and a
brush is cared for in a wait as soon as its last pass is done.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from strata.order.begun import NOT_YET, OUT, Begun
from strata.order.brushes import Held, assigned
from strata.order.done import Did, Timed
from strata.order.ledger import Ledger
from strata.order.ticks import CLEANED, NOTHING, WIPED, Work
from strata.order.visits import BARE, Cover, Visit

_KINDS = {WIPED: "wipe", CLEANED: "clean"}
AHEAD = 40
# cares looked for in a wait, counted from the next one due


def bits(passes: Iterable[int]) -> int:
    """Passes as bits."""
    found = 0
    for i in passes:
        found |= 1 << i
    return found


class _Hands:
    """One pair of hands going through visits, from what was done before on."""

    def __init__(self, work: Work, visits: Sequence[Visit], begun: Begun = NOT_YET) -> None:
        self.work, self.minutes, self.visits = work, work.minutes, visits
        before = begun.inked
        self.order = [d.i for d in before] + [i for v in visits for i in v.passes]
        self.held = assigned(work, self.order, [d.brush for d in before])
        self.clock = begun.at
        self.did = list(begun.did)
        self.ledger = Ledger(work)
        for did in begun.did:
            self.ledger.note(did)
        self.masks = dict(begun.covers)
        self.seated = begun.seated
        self.lying = begun.lying
        self.place = len(before)
        self.ready: dict[int, int] = {}
        self.due = self._due(begun)
        self.open: dict[int, int] = {}
        for card, make in enumerate(work.instance.cards, 1):
            done = {i for c, i in begun.pairs if c == card}
            self.open[card] = len(set(work.of_make[make]) - done)
        # what is inked once more is sealed once more
        self.sealed_before = {d.card for d in begun.done("seal") if not self.open[d.card]}
        self.glued_before = {(d.card, d.sheet) for d in begun.done("glue")}
        # a card that only has pieces set on, or was finished before, is ready for them at once
        self.finished: list[tuple[int, int]] = [
            (max(self.ledger.dry_at.get(c, {}).values(), default=0), c)
            for c, left in self.open.items()
            if work.count and not left and work.instance.cards[c - 1] != OUT
        ]
        self.gluing: list[tuple[int, int, int]] = []
        # the second pair of hands, if there is one: from when it is free; and when each brush was last laid down
        self.helps = work.instance.rules.hands == 2
        self.helper = begun.at
        self.laid_down = [d.start + d.length for d in before]

    def _due(self, begun: Begun) -> list[int]:
        """Places of the order before which a brush needs care that it was not given yet."""
        cared = begun.cared(self.work) if begun.did else {}
        found = []
        for p, held in enumerate(self.held):
            if held is None or held.care == NOTHING or p < self.place:
                continue
            given = cared.get((self.work.size[self.order[p]], held.which), NOTHING)
            if held.since >= self.place or given < held.care:
                found.append(p)
        return found

    def run(self, washes: Mapping[int, str]) -> Timed:
        """``washes``: sheets to be cleaned before anything else, and how."""
        self._go_on(washes)
        for n, visit in enumerate(self.visits):
            self._visit(n, visit)
        self._end()
        return Timed(self.work, self.did, self.clock)

    def _go_on(self, washes: Mapping[int, str]) -> None:
        """What lies there is lifted, unless the first visit is to it; what must be clean is cleaned at once."""
        first = (self.visits[0].card, self.visits[0].plastic) if self.visits else None
        dirty = dict(washes)
        again = first is not None and self.work.split[self.visits[0].passes[0]] & self.lying
        if self.seated is not None and (self.seated != first or self.seated[1] in dirty or again):
            card, sheet = self.seated
            self._bare(card, sheet)
            off = dirty.pop(sheet, "lift")
            self._do(off, self.minutes.off[off], card, sheet)
            self.seated = None
        for sheet in sorted(dirty):
            self._bare(0, sheet)
            self._do(dirty[sheet], self.minutes.off[dirty[sheet]], 0, sheet)

    def _bare(self, card: int, sheet: int) -> None:
        """The mask comes off a sheet, if one is on."""
        if lies := self.masks.pop(sheet, BARE):
            self._do("unmask", self.minutes.unmask, card, sheet, cover=lies)

    def _do(self, kind: str, length: int, card: int, sheet: int, **more: object) -> None:
        self._note(Did(kind, self.clock, length, card, sheet, **more))  # type: ignore[arg-type]
        self.clock += length

    def _note(self, did: Did) -> None:
        self.did.append(did)
        self.ledger.note(did)

    def _visit(self, n: int, visit: Visit) -> None:
        card, sheet = visit.card, visit.plastic
        first = visit.runs[0][1][0]
        if self.seated != (card, sheet):
            self._clean_ahead()
            also = max(self.ledger.sheet_dry.get(sheet, 0), self.ledger.place_free(card))
            self._dried(card, self.work.blocked[visit.sheet], also)
            self._do("place", self.minutes.place, card, sheet, i=first)
        self.seated = None
        for cover, passes in visit.runs:
            self._cover(card, sheet, cover, passes[0])
            for i in passes:
                self._ink(visit, i, cover)
        self._leave(n, visit)

    def _cover(self, card: int, sheet: int, cover: Cover, i: int) -> None:
        lies = self.masks.get(sheet, BARE)
        if lies == cover:
            return
        if lies:
            self._do("unmask", self.minutes.unmask, card, sheet, cover=lies, i=i)
        if cover:
            self._do("mask", self.minutes.mask, card, sheet, cover=cover, i=i)
        self.masks[sheet] = cover

    def _ink(self, visit: Visit, i: int, cover: Cover) -> None:
        card = visit.card
        held = self.held[self.place]
        if held is not None and held.care != NOTHING and self.place in self.due:
            self._care(self.place, held)
        which = held.which if held is not None else -1
        cleaned = self.ledger.brush_dry.get((self.work.size[i], which), 0)
        grounds = bits(j for j, dry in self.work.before[i] if dry)
        self._dried(card, grounds, max(cleaned, self.ready.pop(self.place, 0)))
        of = self.order[held.since] if held is not None and held.since >= 0 else -1
        self._do("ink", self.work.length[i], card, visit.plastic, i=i, brush=which, cover=cover, of=of)
        self.place += 1
        self.laid_down.append(self.clock)
        self.open[card] -= 1
        if not self.open[card]:
            self._finish(card)

    def _leave(self, n: int, visit: Visit) -> None:
        """Masks off, sheet off: cleaned at once where a later visit wants it clean."""
        card, sheet, off = visit.card, visit.plastic, visit.off
        if off != "lift" or not self._kept(n, sheet, self.masks.get(sheet, BARE)):
            self._bare(card, sheet)
        if off == "lift":
            self._do("lift", self.minutes.lift, card, sheet)
        elif self.helps:
            self._do("lift", self.minutes.lift, card, sheet)
            self._helped(Did(off, 0, self.minutes.off[off], card, sheet, visit.passes[-1]), self.clock)
        else:
            self._do(off, self.minutes.off[off], card, sheet, i=visit.passes[-1])

    def _kept(self, n: int, sheet: int, lies: Cover) -> bool:
        """Whether a mask stays on its sheet for the next card."""
        if not self.work.instance.rules.masks_stay or n + 1 >= len(self.visits):
            return False
        following = self.visits[n + 1]
        return following.plastic == sheet and following.runs[0][0] == lies

    def _care(self, place: int, held: Held) -> None:
        i = self.order[place]
        length = self.work.care_ticks[held.care]
        of = self.order[held.since]
        did = Did(_KINDS[held.care], self.clock, length, 0, self.work.sheet[i], i, held.which, BARE, of)
        self.due.remove(place)
        if self.helps:
            self.ready[place] = self._helped(did, self.laid_down[held.since])
        else:
            self._note(did)
            self.clock += length

    def _helped(self, did: Did, ready: int) -> int:
        """Something that the second pair of hands does as soon as it can; when it is done."""
        start = max(self.helper, ready)
        self._note(did._replace(start=start, who=2))
        self.helper = start + did.length
        return self.helper

    def _dried(self, card: int, passes: int, also: int) -> None:
        """Wait until these passes (bits) are dry on a card, by the heat tool where that is sooner; and until ``also``."""
        wet = self.ledger.dry_at.get(card, {})
        still = {i: at for i, at in wet.items() if passes >> i & 1 and at > self.clock}
        at = max(still.values(), default=0)
        if still and self.work.instance.rules.heat:
            heated = [self.work.heated[i] for i in still]
            longest = max((h for h in heated if h is not None), default=0)
            if None not in heated and self.clock + longest < at:
                self._do("heat", longest, card, 0)
                at = 0
        self._until(max(at, also))

    def _clean_ahead(self) -> None:
        """A brush that must dry after cleaning is cleaned before the sheet is seated that it is wanted for."""
        if not self.work.brush_dry:
            return
        held = self.held[self.place]
        if held is not None and held.care == CLEANED and self.place in self.due and held.since < self.place:
            self._care(self.place, held)

    def _until(self, at: int) -> None:
        """Wait, and use the wait for what fits in it."""
        if at <= self.clock:
            return
        for place in self.due[:AHEAD]:
            held = self.held[place]
            if held is None or held.since >= self.place:
                continue
            if self.clock + self.work.care_ticks[held.care] <= at:
                self._care(place, held)
        self._set_on(at)
        self.clock = max(self.clock, at)

    def _finish(self, card: int) -> None:
        self.finished.append((max(self.ledger.dry_at[card].values()), card))

    def _set_on(self, before: int | None) -> None:
        """Seal and glue finished cards; within a wait (``before``) only what fits in it."""
        make = self.work.instance.cards
        rest: list[tuple[int, int]] = []
        for at, card in self.finished:
            if make[card - 1] not in self.work.sealed or card in self.sealed_before:
                self._to_glue(max(at, self.ledger.sealed.get(card, 0)), card)
                continue
            start = max(at, self.clock)
            if before is not None and start + self.minutes.seal > before:
                rest.append((at, card))
                continue
            if self.helps:
                ended = self._helped(Did("seal", 0, self.minutes.seal, card, 0), at)
            else:
                self.clock = start
                self._do("seal", self.minutes.seal, card, 0)
                ended = self.clock
            self._to_glue(ended + self.minutes.seal_dry, card)
        self.finished = rest
        waiting: list[tuple[int, int, int]] = []
        for at, card, sheet in self.gluing:
            start = max(at, self.clock)
            if before is not None and (start + self.minutes.glue > before or sheet < 0):
                waiting.append((at, card, sheet))
                continue
            if sheet < 0:
                self.clock = start
            elif self.helps:
                self._helped(Did("glue", 0, self.minutes.glue, card, sheet), at)
            else:
                self.clock = start
                self._do("glue", self.minutes.glue, card, sheet)
        self.gluing = waiting

    def _to_glue(self, at: int, card: int) -> None:
        own = [p.sheet for p in self.work.instance.pieces if p.make == self.work.instance.cards[card - 1]]
        # a card without pieces is only waited for
        self.gluing += [(at, card, s) for s in own or [-1] if (card, s) not in self.glued_before]

    def _end(self) -> None:
        self.finished.sort()
        self._set_on(None)
        out = {c for c, make in enumerate(self.work.instance.cards, 1) if make == OUT}
        wet = (at for card, own in self.ledger.dry_at.items() if card not in out for at in own.values())
        self.clock = max(self.clock, self.helper, max(wet, default=0))


def timed(work: Work, visits: Sequence[Visit]) -> Timed:
    """The visits in time, one pair of hands, everything dry, sealed and glued at the end."""
    return _Hands(work, visits).run({})


def resumed(work: Work, visits: Sequence[Visit], begun: Begun, washes: Mapping[int, str]) -> Timed:
    """The same for visits that are left, from what was done before on; ``washes``: sheets to be cleaned first, and how."""
    return _Hands(work, visits, begun).run(washes)
