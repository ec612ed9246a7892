"""The greedy dispatcher: at each turn the ready pass that costs least to begin.

A sound plan at once for any size; an optimiser can later fill the same
Sequence. One pair of hands, one card; inks dry while the hands work.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field, replace

from strata.optics.inks import CLEANINGS
from strata.order import model as times
from strata.order import wording
from strata.order.cup import Cup
from strata.order.meeting import Meeting, near_opposite
from strata.order.model import Sequence, Step
from strata.order.neighbours import close_neighbours
from strata.order.rules import LEAST_SHARED, Rule, rules, shared_area
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.plan.tools import Brush


@dataclass
class _Table:
    """What lies on the table now."""

    clock: float = 0.0
    sheet: int | None = None
    masks: tuple[str, ...] = ()
    dry_at: dict[str, float] = field(default_factory=dict)
    sheet_dry_at: dict[int, float] = field(default_factory=dict)
    residues: dict[int, list[str]] = field(default_factory=lambda: defaultdict(list))
    steps: list[Step] = field(default_factory=list)
    done: list[str] = field(default_factory=list)
    wet: set[str] = field(default_factory=set)

    def add(self, step: Step) -> None:
        self.steps.append(replace(step, starts=self.clock))
        self.clock += step.minutes


class _Dispatcher:
    def __init__(self, scene: Scene) -> None:
        self.scene = scene
        self.table = _Table()
        self.rules = rules(scene)
        self.before: dict[str, list[Rule]] = defaultdict(list)
        for rule in self.rules:
            self.before[rule.after].append(rule)
        self.place = {p.key: i for i, p in enumerate(scene.plan.passes)}
        self.close = close_neighbours(scene)
        self.met: dict[tuple[str, str], Meeting] = {}
        self.cup = Cup(scene)

    def run(self) -> Sequence:
        waiting = {p.key: p for p in self.scene.plan.passes}
        while waiting:
            ready = [p for p in waiting.values() if all(r.before not in waiting for r in self.before[p.key])]
            chosen = min(ready, key=lambda p: self._rank(p, waiting))
            self._work(chosen)
            del waiting[chosen.key]
        self._finish()
        return Sequence(times.keyed(self.table.steps), tuple(self.table.done), frozenset(self.table.wet))

    def _rank(self, item: Pass, waiting: dict[str, Pass]) -> tuple[float, ...]:
        """Cheapest set-up first; a sheet that would have to come back is put off."""
        stays = item.sheet == self.table.sheet
        blocked = 0
        if not stays:
            mates = [p for p in waiting.values() if p.sheet == item.sheet]
            blocked = sum(
                any(r.before in waiting and waiting[r.before].sheet != item.sheet for r in self.before[p.key])
                for p in mates
            )
        masks = float(self._masks_for(item) != self.table.masks)
        care = {"nothing": 0.0, "wipe": 0.3, "clean": 1.5}[self.cup.best(item)[1].care]
        light_first = self.scene.plan.school_of(item.element) == "light first"
        lightness = self.scene.alone[item.key][0]
        return (
            0.0 if stays else 1.0,
            float(min(blocked, 1)),
            float(item.sheet),
            care + masks,
            -lightness if light_first else lightness,
            float(self.place[item.key]),
        )

    def _work(self, item: Pass) -> None:
        table, scene = self.table, self.scene
        brush = scene.brush(item)
        self._seat(item)
        self._wait_for_dry_ground(item)
        self._keep_apart(item)
        meeting = self._take_brush(item, brush)
        ink = scene.ink(item)
        minutes, how = self._minutes(item, brush)
        reasons = self._reasons(item, meeting)
        if self._goes_onto_wet(item):
            table.wet.add(item.key)
        sentence = wording.inked(scene, item, brush)
        table.add(
            Step(
                "ink",
                round(minutes, 3),
                sentence,
                reasons,
                None,
                item.sheet,
                item.key,
                item.element,
                None if wording.stamped_whole(scene, item) else brush.key,
                table.masks,
                how=how,
            )
        )
        table.dry_at[item.key] = table.clock + ink.chemistry.dry_minutes
        table.residues[item.sheet].append(item.key)
        table.done.append(item.key)

    def _minutes(self, item: Pass, brush: Brush) -> tuple[float, str]:
        """How long a pass takes, and how that was found."""
        if wording.stamped_whole(self.scene, item):
            prints = item.coats * times.PRINT_MINUTES
            return (
                prints,
                f"{times.PRINT_MINUTES:g} min to ink and print, {item.coats} {'time' if item.coats == 1 else 'times'}.",
            )
        area = self.scene.group(item).area * self.scene.layer_set.sheet(item.sheet).copies
        minutes = times.LOAD_MINUTES + area * item.thickness / brush.speed
        return minutes, (
            f"{times.LOAD_MINUTES:g} min to load the brush, then {area:.0f} mm² times "
            f"{item.thickness:g} {'coat' if item.thickness == 1 else 'coats'} at {brush.speed:.0f} mm² a minute."
        )

    def _lift(self, number: int) -> None:
        sentence, reasons = wording.lifted(self.scene, number)
        self.table.add(Step("lift", 0.2, sentence, reasons, sheet=number))

    def _seat(self, item: Pass) -> None:
        table, scene = self.table, self.scene
        if table.sheet == item.sheet:
            return
        self._unmask()
        if table.sheet is not None:
            self._lift(table.sheet)
        self._wait_until_dry(item)
        again = any(s.kind == "place" and s.sheet == item.sheet for s in table.steps)
        sentence = wording.seated(scene, scene.layer_set.sheet(item.sheet), again)
        table.add(Step("place", times.PLACE_MINUTES[scene.plan.register], sentence, sheet=item.sheet))
        table.sheet = item.sheet

    def _wait_until_dry(self, item: Pass) -> None:
        """Nothing wet may lie under a sheet, and a washed sheet must be dry."""
        table = self.table
        wet = [k for k, at in table.dry_at.items() if at > table.clock + 1e-9]
        sheet_at = table.sheet_dry_at.get(item.sheet, 0.0)
        until = max([sheet_at, *(table.dry_at[k] for k in wet)], default=0.0)
        if until <= table.clock + 0.02:
            return
        slowest = max(wet, key=lambda k: table.dry_at[k], default=None)
        if slowest is None or sheet_at >= until:
            self._wait(
                until,
                f"Let sheet {item.sheet} dry.",
                "A washed sheet must be bone dry before it goes back.",
                None,
            )
            return
        ink = self.scene.ink(self.scene.plan.find(slowest))
        reason = f"{ink.name} is {ink.chemistry.label} ink and smudges under {wording.following(self.scene)} until it is dry to the touch."
        self._wait(until, f"Let {ink.name} dry.", reason, ink.chemistry.heated_minutes)

    def _wait_for_dry_ground(self, item: Pass) -> None:
        table = self.table
        for rule in self.before[item.key]:
            if rule.dry and table.dry_at[rule.before] > table.clock + 0.02:
                ground = self.scene.ink(self.scene.plan.find(rule.before))
                reason = f"{self.scene.ink(item).name} is a dye; over wet {ground.name} it would streak."
                self._wait(
                    table.dry_at[rule.before],
                    f"Let {ground.name} dry.",
                    reason,
                    ground.chemistry.heated_minutes,
                )

    def _wait(self, until: float, sentence: str, reason: str, heated: float | None) -> None:
        length = round(until - self.table.clock, 3)
        caution = times.HEAT_CAUTION if heated and heated < length else None
        self.table.add(
            Step("wait", length, sentence, (reason,), caution, heated_minutes=heated if caution else None)
        )

    def _masks_for(self, item: Pass) -> tuple[str, ...]:
        """Elements to cover: differently inked openings of this sheet nearer than the brush strays.

        None for stamps: what is not inked on the rubber is not printed.
        """
        return () if self.scene.layer_set.kind == "stamp set" else self.close[item.key]

    def _unmask(self) -> None:
        if self.table.masks:
            self.table.add(
                Step(
                    "unmask",
                    times.UNMASK_MINUTES,
                    f"Lift the mask off {_listed(self.table.masks)}.",
                    sheet=self.table.sheet,
                )
            )
            self.table.masks = ()

    def _keep_apart(self, item: Pass) -> None:
        """Masks against neighbours; a wash when a residue in the same openings would make brown."""
        table, scene = self.table, self.scene
        lab = scene.alone[item.key]
        for key in list(table.residues[item.sheet]):
            other = scene.plan.find(key)
            crossed = scene.ink(other).chemistry.key != scene.ink(item).chemistry.key
            if other.group == item.group and (near_opposite(lab, scene.alone[key]) or crossed):
                self._wash(item, other)
                break
        wanted = self._masks_for(item)
        if wanted == table.masks:
            return
        self._unmask()
        if wanted:
            spread = scene.brush(item).spread
            reason = f"The {scene.brush(item).label} strays {spread:.0f} mm past its opening; the nearest opening of {_listed(wanted)} is closer than that."
            table.add(
                Step(
                    "mask",
                    times.MASK_MINUTES,
                    f"Cover {_listed(wanted)} on sheet {item.sheet} with a mask.",
                    (reason,),
                    sheet=item.sheet,
                    element=item.element,
                    masks=wanted,
                )
            )
            table.masks = wanted

    def _wash(self, item: Pass, other: Pass) -> None:
        table, scene = self.table, self.scene
        self._unmask()
        why = f"{scene.ink(other).name} is still on it and must not meet {scene.ink(item).name}."
        table.add(
            Step(
                "wash",
                times.WASH_MINUTES,
                wording.washed(scene, item.sheet),
                (why,),
                times.WASH_CAUTION,
                item.sheet,
            )
        )
        table.residues[item.sheet].clear()
        table.sheet_dry_at[item.sheet] = table.clock + times.WASH_DRY_MINUTES
        table.sheet = None
        self._seat(item)

    def _take_brush(self, item: Pass, brush: Brush) -> Meeting:
        table = self.table
        index, meeting = self.cup.best(item)
        if wording.stamped_whole(self.scene, item):
            return meeting
        if meeting.care != "nothing":
            minutes = times.WIPE_MINUTES if meeting.care == "wipe" else times.CLEAN_MINUTES
            verb = "Wipe" if meeting.care == "wipe" else "Clean and dry"
            reasons = [f"{meeting.why[0].upper()}{meeting.why[1:]}."]
            last = self.cup.carried(item, index)
            special = meeting.care == "clean" and last is not None and last.chemistry.cleaning != "wipe"
            if special and last is not None:
                reasons.append(f"{last.name} comes off with {CLEANINGS[last.chemistry.cleaning]}.")
            table.add(
                Step(
                    meeting.care,
                    minutes,
                    f"{verb} {brush.article} {brush.label}.",
                    tuple(reasons),
                    times.WASH_CAUTION if special and last and last.chemistry.cleaning == "alcohol" else None,
                    item.sheet,
                    brush=brush.key,
                )
            )
        self.cup.take(item, index)
        return meeting

    def _goes_onto_wet(self, item: Pass) -> bool:
        table = self.table
        return any(
            at > table.clock + 0.02
            and shared_area(self.scene.layer_set, self.scene.plan.find(k).group, item.group) >= LEAST_SHARED
            for k, at in table.dry_at.items()
        )

    def _reasons(self, item: Pass, meeting: Meeting) -> tuple[str, ...]:
        own = [r for r in self.before[item.key] if r.before in self.table.done]
        own.sort(key=lambda r: -self.place[r.before])
        reasons = list(dict.fromkeys(r.reason for r in own))[:2]
        if meeting.why.startswith("it carries"):
            reasons.append("The brush carries this ink already.")
        if not reasons:
            reasons.append("Nothing lies under it; it can go first.")
        return tuple(reasons)

    def _finish(self) -> None:
        table = self.table
        if table.sheet is None:
            return
        self._unmask()
        self._lift(table.sheet)
        until = max(table.dry_at.values())
        if until > table.clock:
            slowest = self.scene.ink(self.scene.plan.find(max(table.dry_at, key=lambda k: table.dry_at[k])))
            self._wait(
                until,
                "Let the panel dry.",
                f"{slowest.name} is the last to dry; until then a finger smudges it.",
                slowest.chemistry.heated_minutes,
            )
        metallic = next((p for p in self.scene.plan.passes if self.scene.ink(p).chemistry.needs_seal), None)
        if metallic:
            reason = f"{self.scene.ink(metallic).name} rubs off until it is sealed."
            table.add(
                Step(
                    "seal", times.SEAL_MINUTES, "Seal the panel with fixative.", (reason,), times.SEAL_CAUTION
                )
            )
            self._wait(
                table.clock + times.SEAL_DRY_MINUTES,
                "Let the fixative dry.",
                "The seal must set before the panel is handled.",
                None,
            )
        used = sorted({p.sheet for p in self.scene.plan.passes})
        for number, sentence, reason in wording.assembled(self.scene, used):
            table.add(Step("glue", times.GLUE_MINUTES, sentence, (reason,), sheet=number))


def _listed(names: tuple[str, ...]) -> str:
    return names[0] if len(names) == 1 else ", ".join(names[:-1]) + " and " + names[-1]


def dispatch(scene: Scene) -> Sequence:
    """A sound sequence for a plan; an empty plan gives an empty sequence."""
    if not scene.plan.passes:
        return Sequence((), ())
    return _Dispatcher(scene).run()
