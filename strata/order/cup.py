"""The brushes in the cup: what each carries, for whom it is kept, and which is best for a pass."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, replace

from strata.optics.inks import Ink
from strata.order import wording
from strata.order.meeting import Meeting, on_brush
from strata.plan.model import Pass
from strata.plan.scene import Scene

_WEIGHT = {"nothing": 0, "wipe": 2, "clean": 3}


@dataclass(frozen=True)
class InUse:
    """A brush on the table: the pass whose ink it carries, and the family it is kept for, if any."""

    carries: str
    kept_for: tuple[str, str] | None


class Cup:
    """The brushes of a table as the work goes on."""

    def __init__(self, scene: Scene) -> None:
        self._scene = scene
        self._sizes = {p.key: scene.brush(p).key for p in scene.plan.passes}
        self._out: dict[str, list[InUse]] = defaultdict(list)

    def best(self, item: Pass) -> tuple[int | None, Meeting]:
        """Which brush of the right size needs the least care: its index (None for an unused one)."""
        scene = self._scene
        if wording.stamped_whole(scene, item):
            return None, Meeting("nothing", "a stamp is inked from its pad")
        size, family = self._sizes[item.key], self._family(item)
        out = self._out[size]
        meetings: list[tuple[int | None, Meeting]] = []
        # a brush kept for another family is left alone while there is any other
        others = {i for i, used in enumerate(out) if used.kept_for not in (None, family)}
        for i, used in enumerate(out):
            if i in others and len(others) < len(out):
                continue
            last = scene.plan.find(used.carries)
            care = on_brush(scene.ink(last), scene.alone[last.key], scene.ink(item), scene.alone[item.key])
            meetings.append((i, care))
        if self._free(size, family) is not None:
            meetings.append((None, Meeting("nothing", "a clean brush is free")))
        return min(meetings, key=lambda found: _WEIGHT[found[1].care])

    def carried(self, item: Pass, index: int | None) -> Ink | None:
        """The ink that a brush carries, None for an unused one."""
        if index is None:
            return None
        return self._scene.ink(self._scene.plan.find(self._out[self._sizes[item.key]][index].carries))

    def take(self, item: Pass, index: int | None) -> None:
        """From now on that brush (None: an unused one) carries the pass's ink."""
        size = self._sizes[item.key]
        out = self._out[size]
        if index is None:
            fresh = self._free(size, self._family(item)) or InUse("", None)
            out.append(replace(fresh, carries=item.key))
        else:
            out[index] = replace(out[index], carries=item.key)

    def _family(self, item: Pass) -> tuple[str, str]:
        ink = self._scene.ink(item)
        return ink.line, ink.family

    def _free(self, size: str, family: tuple[str, str]) -> InUse | None:
        """An unused brush of a size that a family may have: one kept for it, else one kept for none."""
        out, tools = self._out[size], self._scene.tools
        kept = tools.kept(size)
        if sum(u.kept_for == family for u in out) < kept.get(family, 0):
            return InUse("", family)
        common = tools.count(size) - sum(kept.values())
        if sum(u.kept_for is None for u in out) < common:
            return InUse("", None)
        # every brush is kept for another family: one of them has to serve, or nothing could be inked
        return InUse("", None) if not out and common <= 0 else None
