"""What must hold of every plan, said once more so that the solver sees it without searching."""

from __future__ import annotations

from strata.order.proof.model import Model


def keep_order(model: Model) -> None:
    """What must be down first, with all that lies between two passes whatever else is done.

    Directly: dry where the ink above needs it so. Through another sheet: that
    one is seated after the ink that it would touch is dry.
    """
    cp, work = model.cp, model.work
    for i, before in enumerate(work.before):
        for j, dry in before:
            cp.add(model.starts[i] >= model.ends[j] + dry * work.dry[j])
        for j in range(work.count):
            if not work.below[i] >> j & 1 or work.sheet[j] == work.sheet[i]:
                continue
            lag = work.minutes.place + work.minutes.lift
            if work.blocked[work.sheet[i]] >> j & 1:
                lag = work.minutes.place + max(work.minutes.lift, work.dry[j])
            cp.add(model.starts[i] >= model.ends[j] + lag)


def hands_at_least(model: Model) -> None:
    """No hands are faster than all that they have to do; and what dries slowly dries after it is inked."""
    cp, work = model.cp, model.work
    minutes = work.minutes
    # beside the last drying hands can take off a mask and lift a sheet, and nothing more that must be done
    cp.add(model.end >= sum(model.effort) + min(work.dry) - minutes.lift - minutes.unmask)
    for least in sorted(set(work.dry)):
        slow = [i for i in range(work.count) if work.dry[i] >= least]
        with_all = set(slow) | {j for i in slow for j in range(work.count) if work.below[i] >> j & 1}
        sheets = {work.sheet[i] for i in with_all}
        inked = sum(work.length[i] for i in with_all)
        # every sheet of these is placed, all but the last lifted, before the last of the slow ones dries
        seated = len(sheets) * minutes.place + (len(sheets) - 1) * minutes.lift
        if with_all == set(slow):
            cp.add(model.end >= inked + seated + least)
        else:
            cp.add(model.end >= sum(work.length[i] for i in slow) + least + minutes.place)
