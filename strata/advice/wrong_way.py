"""Shades the wrong way round: a paler clear ink goes all over a deeper one and is lost."""

from __future__ import annotations

from collections.abc import Iterator

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.remedies import take_off


class WrongWay:
    """Never for a join, the first brush once more, deep first as chosen, or an opaque ink."""

    code = "wrong_way"

    def look(self, situation: Situation) -> Iterator[Finding]:
        for item, rung, _ in situation.told("wrong way"):
            other = situation.judge.deeper_below(item, rung)
            if other is None:
                continue
            light, deep = situation.name(item), situation.name(other)
            first = {"element": item.element, "school": "light first"}
            yield Finding(
                self.code,
                "look",
                f"On {item.element}, {light} goes all over the deeper {deep}: the shades are the wrong way round.",
                f"A clear light ink cannot lighten what is under it (they differ by {rung.change:.1f}), and the brush carries {deep} into the paler pad.",
                Subject.of(item),
                (item.key, other.key),
                (
                    Mend.one(f"Put {light} first", "set_school", first),
                    *take_off(situation.scene, item),
                ),
            )
