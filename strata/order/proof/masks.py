"""Masks in the model: passes that are done behind one mask, from laying it to lifting it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

from strata.order.needed import together, unlike_masks
from strata.order.proof.model import Model, Var


@dataclass(frozen=True)
class Mask:
    """One mask on a sheet, perhaps not needed: when it is laid and lifted, and which passes are done behind it."""

    there: Var
    laid: Var
    lifted: Var
    behind: dict[int, Var]


def lay_masks(model: Model, more: int) -> dict[int, list[Mask]]:
    """For each sheet the masks that may be laid, ``more`` than the fewest."""
    found = {}
    for sheet, own in model.on_sheet.items():
        needy = [i for i in own if model.work.needs[i]]
        if needy:
            found[sheet] = _of_sheet(model, sheet, needy, more)
    return found


def _of_sheet(model: Model, sheet: int, needy: list[int], more: int) -> list[Mask]:
    cp, own = model.cp, model.on_sheet[sheet]
    clique = unlike_masks(model.work, own)
    count = min(len(needy), max(len(clique), len(model.seatings[sheet])) + more)
    masks = [_mask(model, sheet, m, needy) for m in range(count)]
    for i in own:
        flags = [mask.behind[i] for mask in masks]
        (cp.add_exactly_one if i in needy else cp.add_at_most_one)(flags)
    for one, two in pairwise(masks):
        cp.add_implication(two.there, one.there)
        cp.add(two.laid >= one.lifted + model.work.minutes.unmask).only_enforce_if(two.there)
    cp.add(sum(mask.there for mask in masks) >= len(clique))
    _bare_outside(model, own, needy, masks)
    return masks


def _mask(model: Model, sheet: int, nth: int, needy: list[int]) -> Mask:
    cp, work, name = model.cp, model.work, f"{sheet}.{nth}"
    behind = {i: model.flag(f"{i} behind {name}") for i in model.on_sheet[sheet]}
    mask = Mask(model.flag(f"mask {name}"), model.tick(f"laid {name}"), model.tick(f"off {name}"), behind)
    model.handled(mask.laid, work.minutes.mask, mask.there, f"mask {name}")
    model.handled(mask.lifted, work.minutes.unmask, mask.there, f"unmask {name}")
    for i, flag in behind.items():
        cp.add_implication(flag, mask.there)
        cp.add(model.starts[i] >= mask.laid + work.minutes.mask).only_enforce_if(flag)
        cp.add(model.ends[i] <= mask.lifted).only_enforce_if(flag)
    cp.add_bool_or([behind[i] for i in needy]).only_enforce_if(mask.there)
    inked = sum(work.length[i] * f for i, f in behind.items())
    cp.add(mask.lifted - mask.laid >= work.minutes.mask + inked).only_enforce_if(mask.there)
    model.masks.append(mask.there)
    _apart(model, behind)
    _in_one_seating(model, sheet, mask)
    return mask


def _apart(model: Model, behind: dict[int, Var]) -> None:
    """Two passes one of which must be covered for the other are not behind the same mask."""
    for i, one in behind.items():
        for j, two in behind.items():
            if i < j and not together(model.work, i, j):
                model.cp.add_bool_or([one.negated(), two.negated()])


def _in_one_seating(model: Model, sheet: int, mask: Mask) -> None:
    """A mask is laid and lifted while its sheet is seated once."""
    cp, minutes = model.cp, model.work.minutes
    seatings = model.seatings[sheet]
    flags = []
    for s in seatings:
        flag = mask.there if len(seatings) == 1 else model.flag("mask in seating")
        flags.append(flag)
        cp.add_implication(flag, s.there)
        cp.add(mask.laid >= s.place + minutes.place).only_enforce_if(flag)
        cp.add(mask.lifted + minutes.unmask <= s.off).only_enforce_if(flag)
        for i, one in mask.behind.items():
            cp.add_bool_or([one.negated(), flag.negated(), model.within[i, s.nth]])
        model.masked.setdefault((sheet, s.nth), []).append(flag)
    cp.add(sum(flags) == mask.there)


def _bare_outside(model: Model, own: list[int], needy: list[int], masks: list[Mask]) -> None:
    """What is inked without a mask is inked while none lies there."""
    cp, work = model.cp, model.work
    covers = []
    for mask in masks:
        size = model.tick("masked for")
        covers.append(cp.new_optional_interval_var(mask.laid, size, mask.lifted, mask.there, "masked"))
    for i in own:
        if i in needy:
            continue
        bare = model.flag(f"{i} bare")
        cp.add(sum(mask.behind[i] for mask in masks) + bare == 1)
        alone = cp.new_optional_fixed_size_interval_var(model.starts[i], work.length[i], bare, f"bare {i}")
        cp.add_no_overlap([alone, *covers])
