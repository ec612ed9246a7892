"""Steps too small to read, and steps too large to join softly."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, replace

from strata.advice.base import Finding, Mend, Situation, Subject
from strata.advice.remedies import along_family, more_coats, take_off
from strata.advice.verdicts import FINE, READABLE, SOFT
from strata.optics.stack import Coat
from strata.plan.model import Pass
from strata.tones.ladder import Rung

SOFTLY, FURTHER = 12.0, 0.15
# mm over which any step is faded; how much further an ink between two reaches


class StepSize:
    """Judged between a tone and the ground it lies on; a highlight may be faint, a line may leap."""

    code = "step_size"

    def look(self, situation: Situation) -> Iterator[Finding]:
        for item, rung, verdict in situation.told("faint", "doubtful", "hard"):
            if verdict == "hard":
                yield self._too_large(situation, item, rung)
            else:
                yield self._too_small(situation, item, rung, sure=verdict == "faint")

    def _too_small(self, situation: Situation, item: Pass, rung: Rung, sure: bool) -> Finding:
        name = situation.name(item)
        if sure:
            sentence = f"{name} on {item.element} is only a small step from what is under it."
            reason = f"The difference is {rung.change:.1f}; under {READABLE:.0f} nobody sees two tones at arm's length."
        else:
            sentence = f"{name} on {item.element} may be too small a step: dab it on scrap first."
            reason = f"The difference is {rung.change:.1f}, and the prediction itself is only good to about {rung.margin:.0f}."
        off = take_off(situation.scene, item) if sure else iter(())
        return Finding(
            self.code,
            "look" if sure else "note",
            sentence,
            reason,
            Subject.of(item),
            (item.key,),
            situation.offered(along_family(situation, item, rung, 1), more_coats(situation, item, rung), off),
        )

    def _too_large(self, situation: Situation, item: Pass, rung: Rung) -> Finding:
        below = situation.below(rung) or rung
        under = situation.scene.plan.find(below.pass_key)
        return Finding(
            self.code,
            "look",
            f"The step from {situation.name(under)} to {situation.name(item)} on {item.element} is too large to join softly.",
            f"The difference is {rung.change:.0f}; over {SOFT:.0f} a brush leaves a visible edge where one shade ends in the middle of an opening.",
            Subject.of(item),
            (item.key,),
            (
                *situation.offered(
                    self._between(situation, item, rung, under), along_family(situation, item, rung, -1)
                ),
                Mend.one(
                    f"Fade it over {SOFTLY:.0f} mm",
                    "set_form",
                    {"pass": item.key, "form": asdict(replace(item.form, soft=SOFTLY))},
                ),
            ),
        )

    @staticmethod
    def _between(situation: Situation, item: Pass, rung: Rung, under: Pass) -> Iterator[Mend]:
        """The ink of the family between the two, a little further out than the deeper one."""
        scene = situation.scene
        kin = scene.family(item.ink)
        if under.ink not in kin:
            return
        middle = kin[(kin.index(item.ink) + kin.index(under.ink)) // 2]
        if middle in (item.ink, under.ink) or middle not in situation.at_hand:
            return
        _, tried = situation.judge.tried(item, rung, item.ink, beneath=Coat(scene.inks[middle], 1.0))
        if situation.judge.of(item, tried, situation.below(rung)) not in FINE:
            return
        values = {
            "element": item.element,
            "sheet": item.sheet,
            "ink": middle,
            "at": scene.plan.index(item.key),
            "form": asdict(replace(item.form, extent=min(1.0, item.form.extent + FURTHER))),
        }
        yield Mend.one(f"Put {scene.inks[middle].name} between", "add_pass", values)
