"""Sheets in the model: when each is seated, what is inked through it, when it is washed, what it must not touch."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from strata.order.needed import depths
from strata.order.proof.model import Literal, Model, Seating


def seat_sheets(model: Model, more: int) -> None:
    """Seatings of every sheet: as many as its work needs, and ``more`` beside."""
    for sheet, own in model.on_sheet.items():
        from_first, from_last = depths(model.work, own)
        needed = max(from_first.values())
        count = min(len(own), needed + more + _kept_apart(model, own))
        for nth in range(count):
            model.seatings[sheet].append(_seating(model, sheet, nth))
        _fill(model, sheet)
        for s in model.seatings[sheet][:needed]:
            model.cp.add(s.there == 1)
        for i in own:
            for nth in range(count):
                if nth < from_first[i] - 1 or nth > count - from_last[i]:
                    model.cp.add(model.within[i, nth] == 0)
        _wash(model, sheet)
    _one_at_a_time(model)


def _kept_apart(model: Model, own: Sequence[int]) -> int:
    """In how many seatings more passes are kept apart for no reason of ink."""
    work = model.work
    return len({work.split[i] & ~work.clash[i] for i in own if work.split[i] & ~work.clash[i]})


def keep_dry(model: Model) -> None:
    """No sheet is seated on a card where it would touch wet ink; to be told after the masks."""
    _nothing_wet(model)


def _seating(model: Model, sheet: int, nth: int) -> Seating:
    cp, minutes = model.cp, model.work.minutes
    name = f"{sheet}.{nth}"
    there = model.flag(f"seated {name}")
    place, off, end = (model.tick(f"{what} {name}") for what in ("place", "off", "end"))
    model.handled(place, minutes.place, there, f"place {name}")
    cleaned = {how: model.flag(f"{how} {name}") for how in _cleanings(model, sheet)}
    lifted = model.flag(f"lifted {name}") if cleaned else there
    model.handled(off, minutes.lift, lifted, f"lift {name}")
    for how, flag in cleaned.items():
        cp.add_implication(flag, there)
        model.handled(off, minutes.off[how], flag, f"{how} {name}")
    if cleaned:
        cp.add(lifted + sum(cleaned.values()) == there)
    longer = sum((minutes.off[how] - minutes.lift) * flag for how, flag in cleaned.items())
    cp.add(end == off + minutes.lift + longer)
    if "wash" in cleaned:
        model.washes.append(cleaned["wash"])
    cp.add(off >= place + minutes.place)
    return Seating(sheet, nth, there, place, off, end, cleaned)


def _cleanings(model: Model, sheet: int) -> list[str]:
    """How a sheet may have to be cleaned between two of its seatings."""
    work = model.work
    if sheet in work.instance.lifted_clean:
        return []
    met = 0
    for i in model.on_sheet[sheet]:
        met |= work.clash[i]
    return [how for how, own in (("damp", met & work.thin), ("wash", met & ~work.thin)) if own]


def _fill(model: Model, sheet: int) -> None:
    """Every pass in one seating of its sheet, seatings one after another and none left out between."""
    cp, work = model.cp, model.work
    seatings, own = model.seatings[sheet], model.on_sheet[sheet]
    for i in own:
        inside = []
        for s in seatings:
            flag = model.flag(f"{i} in {sheet}.{s.nth}")
            model.within[i, s.nth] = flag
            inside.append(flag)
            cp.add_implication(flag, s.there)
            cp.add(model.starts[i] >= s.place + work.minutes.place).only_enforce_if(flag)
            cp.add(model.ends[i] <= s.off).only_enforce_if(flag)
        cp.add_exactly_one(inside)
    for s in seatings:
        cp.add_bool_or([model.within[i, s.nth] for i in own]).only_enforce_if(s.there)
        length = sum(work.length[i] * model.within[i, s.nth] for i in own)
        cp.add(s.off - s.place >= work.minutes.place + length).only_enforce_if(s.there)
    for s, following in pairwise(seatings):
        cp.add_implication(following.there, s.there)
        cp.add(following.place >= s.end).only_enforce_if(following.there)
        for how, flag in s.cleaned.items():
            dry = s.end + work.minutes.sheet_dry[how]
            cp.add(following.place >= dry).only_enforce_if([following.there, flag])
            cp.add_implication(flag, following.there)
    for flag in seatings[-1].cleaned.values():
        cp.add(flag == 0)
    for i in own:
        for j in own:
            if model.work.below[i] >> j & 1:
                _not_before(model, i, j, len(seatings))


def _not_before(model: Model, i: int, j: int, count: int) -> None:
    """Pass j goes first: into the same seating or an earlier one."""
    for nth in range(count - 1):
        model.cp.add(
            sum(model.within[i, k] for k in range(nth + 1)) <= sum(model.within[j, k] for k in range(nth + 1))
        )


def _wash(model: Model, sheet: int) -> None:
    """Passes that are kept apart go into different seatings; between two that clash the sheet is cleaned (or, a stamp, lifted)."""
    cp, work, own = model.cp, model.work, model.on_sheet[sheet]
    seatings = model.seatings[sheet]
    for i in own:
        for j in own:
            if not work.split[i] >> j & 1:
                continue
            for a in range(len(seatings)):
                cp.add_bool_or([model.within[j, a].negated(), model.within[i, a].negated()])
                if not work.clash[i] >> j & 1:
                    continue  # kept apart, with nothing to wash off
                for b in range(a + 1, len(seatings)):
                    enough = ("damp", "wash") if work.thin >> j & 1 else ("wash",)
                    clean = [flag for s in seatings[a:b] for how, flag in s.cleaned.items() if how in enough]
                    if not clean:
                        continue  # a stamp is clean once it is lifted
                    both = [model.within[j, a].negated(), model.within[i, b].negated()]
                    cp.add_bool_or([*both, *clean])


def _one_at_a_time(model: Model) -> None:
    """One work place: a sheet is taken off before the next is seated; on all of the panel, before it is wet no more."""
    cp = model.cp
    intervals = []
    for seatings in model.seatings.values():
        for s in seatings:
            size = model.tick(f"seated for {s.sheet}.{s.nth}")
            intervals.append(
                cp.new_optional_interval_var(s.place, size, s.end, s.there, f"seat {s.sheet}.{s.nth}")
            )
    cp.add_no_overlap(intervals)


def _nothing_wet(model: Model) -> None:
    """No sheet is seated on a card where it would touch wet ink."""
    work = model.work
    everything = (1 << work.count) - 1
    if all(work.blocked[s] == everything for s in model.on_sheet):
        _dry_between(model)
    else:
        _wait_for_each(model)


def _wait_for_each(model: Model) -> None:
    cp, work = model.cp, model.work
    flat = [s for seatings in model.seatings.values() for s in seatings]
    for a, s in enumerate(flat):
        for b, t in enumerate(flat):
            hurt = [i for i in model.on_sheet[s.sheet] if work.blocked[t.sheet] >> i & 1]
            if s is t or not hurt or (s.sheet == t.sheet and s.nth > t.nth):
                continue
            first: list[Literal] = []
            if s.sheet != t.sheet:
                first = [_order(model, s, t) if a < b else _order(model, t, s).negated()]
            for i in hurt:
                cp.add(t.place >= model.ends[i] + work.dry[i]).only_enforce_if(
                    [model.within[i, s.nth], t.there, *first]
                )


def _order(model: Model, s: Seating, t: Seating) -> Literal:
    """Whether seating s comes before t."""
    known = model.orders
    key = (s.sheet, s.nth, t.sheet, t.nth)
    if key not in known:
        flag = model.flag(f"{s.sheet}.{s.nth} before {t.sheet}.{t.nth}")
        model.cp.add(s.end <= t.place).only_enforce_if([flag, s.there, t.there])
        model.cp.add(t.end <= s.place).only_enforce_if([flag.negated(), s.there, t.there])
        known[key] = flag
    return known[key]


def _dry_between(model: Model) -> None:
    """On all of the panel: from placing a sheet until all that it inked is dry, no other can be placed."""
    cp, work, minutes = model.cp, model.work, model.work.minutes
    intervals, total = [], []
    for sheet, own in model.on_sheet.items():
        for s in model.seatings[sheet]:
            name = f"{sheet}.{s.nth}"
            free, size = model.tick(f"free {name}"), model.tick(f"takes {name}")
            cp.add(free >= s.end).only_enforce_if(s.there)
            cp.add(size == 0).only_enforce_if(s.there.negated())
            for i in own:
                inside = model.within[i, s.nth]
                cp.add(free >= model.ends[i] + work.dry[i]).only_enforce_if(inside)
                under = sum(
                    work.length[j] * model.within[j, s.nth] for j in own if model.work.below[i] >> j & 1
                )
                cp.add(size >= (minutes.place + work.length[i] + work.dry[i]) * inside + under)
            masks = model.masked.get((sheet, s.nth), [])
            behind = (minutes.mask + minutes.unmask) * sum(masks)
            inked = sum(work.length[i] * model.within[i, s.nth] for i in own)
            # the last mask may come off while the ink dries
            rest = min(work.dry[i] for i in own) - (minutes.unmask if masks else 0)
            cp.add(size >= inked + behind + (minutes.place + rest) * s.there)
            total.append(size)
            intervals.append(cp.new_optional_interval_var(s.place, size, free, s.there, f"wet {name}"))
    cp.add_no_overlap(intervals)
    cp.add(model.end >= sum(total))
