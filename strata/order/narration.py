"""A schedule in words: every action a sentence, with the reasons that decided it and the caution it needs."""

from __future__ import annotations

from strata.optics.inks import CLEANINGS, Ink
from strata.order import times, wording
from strata.order.evening import Evening, Make
from strata.order.gather import own_masks
from strata.order.instance import Instance
from strata.order.parting import ROOM
from strata.order.schedule import Action, Schedule
from strata.order.steps import Sequence, Step, keyed
from strata.phrases import listed
from strata.plan.media import MEDIA
from strata.plan.model import Pass
from strata.plan.scene import Scene
from strata.plan.tools import brush as brush_of
from strata.plan.wishes import OtherWork


def called(scene: Scene, key: str) -> str:
    """A pass as it is called in a sentence: its ink on its element."""
    item = scene.plan.find(key)
    return f"{scene.ink(item).name or item.ink} on {item.element}"


class _Narrator:
    """Tells each action in the words of the make that its card belongs to."""

    def __init__(self, evening: Evening, work: Instance, schedule: Schedule) -> None:
        self.evening, self.work, self.schedule = evening, work, schedule
        self.make = 0
        self.done: dict[int, set[str]] = {}
        self.seated: set[tuple[int, int, int]] = set()

    def sequence(self) -> Sequence:
        """All steps still to be done with their keys, the order of the passes, and which of these go onto wet ink."""
        past, rest = (
            self.schedule.actions[: self.schedule.done],
            self.schedule.actions[self.schedule.done :],
        )
        for action in past:
            self._passed(action)
        return Sequence(keyed([self.step(a) for a in rest]), self.schedule.passes, self.schedule.wet)

    def _passed(self, action: Action) -> None:
        """What was done before is not told, but remembered."""
        if action.kind == "place":
            self.seated.add((action.card, self._sheet(action), action.copy))
        elif action.kind == "ink" and action.pass_key:
            self.done.setdefault(action.card, set()).add(action.pass_key)

    @property
    def scene(self) -> Scene:
        return self.evening.makes[self.make].scene

    def _sheet(self, action: Action) -> int:
        """The sheet of an action as its make's panel numbers it."""
        return self.evening.own_sheet(self.make, action.sheet or 0)

    def step(self, action: Action) -> Step:
        """One action told."""
        # what is done on no card is told as of the pass that it serves
        make = self.evening.cards[action.card - 1] if action.card else -1
        if action.why.serves in self.evening.passes and action.kind in ("wipe", "clean", "damp", "wash"):
            make = self.evening.passes[action.why.serves][0]
        self.make = max(make, 0)
        tell = {
            "place": self._place,
            "lift": self._lift,
            "ink": self._ink,
            "wait": self._wait,
            "mask": self._mask,
            "unmask": self._unmask,
            "damp": self._wash,
            "wash": self._wash,
            "wipe": self._care,
            "clean": self._care,
            "seal": self._seal,
            "glue": self._glue,
            "heat": self._heat,
            "prep": self._prep,
        }
        return tell[action.kind](action)

    def _told(
        self,
        action: Action,
        sentence: str,
        reasons: tuple[str, ...] = (),
        caution: str | None = None,
        how: str = "",
    ) -> Step:
        item = self._pass(action.pass_key)
        serves = self._pass(action.why.serves) if action.kind == "mask" else None
        own = item or serves
        return Step(
            kind=action.kind,
            minutes=action.minutes,
            sentence=sentence,
            reasons=reasons,
            caution=caution,
            sheet=None if action.sheet is None or action.kind in ("wait", "seal") else self._sheet(action),
            pass_key=item.key if item else None,
            element=own.element if own else None,
            brush=action.brush[0] if action.brush else None,
            which=action.brush[1] if action.brush else None,
            job=action.job,
            word=self._job(action).word if action.job else "",
            clock=self._clock(action),
            dries=self._dries(action),
            serves=serves_of(self.evening, action),
            masks=action.masks if action.kind in ("ink", "mask") else (),
            starts=action.starts,
            how=how,
            card=action.card,
            who=action.who,
            copy=action.copy,
        )

    def _clock(self, action: Action) -> str | None:
        """The name of what begins to dry, or of what is waited for: a pass on its card, a sheet, a brush, a card's seal."""
        waits = action.why.waits
        if action.kind == "ink" or waits in ("ink", "ground", "panel"):
            key = action.pass_key if action.kind == "ink" else action.why.of
            return (
                f"ink:{action.card}:{self.evening.passes[key][1].key}" if key in self.evening.passes else None
            )
        if action.kind in ("damp", "wash") or waits == "sheet":
            return f"sheet:{self._sheet(action)}" + (f":{action.copy}" if action.copy > 1 else "")
        if action.kind == "clean" and action.brush:
            return "brush:{}:{}".format(*action.brush)
        if action.kind == "prep":
            return f"job:{action.job}" if self._job(action).lies else None
        return f"seal:{action.card}" if action.kind == "seal" or waits == "seal" else None

    def _job(self, action: Action) -> OtherWork:
        return next(j for j in self.work.jobs if j.key == action.job)

    def _dries(self, action: Action) -> float:
        if action.kind == "prep":
            return self._job(action).lies
        if action.kind == "ink" and action.pass_key:
            return self.work.by_key[action.pass_key].dry
        own = {"clean": self.work.rules.brush_dry, "seal": times.SEAL_DRY}
        return {"wash": times.WASH_DRY, "damp": times.DAMP_DRY, **own}.get(action.kind, 0.0)

    def _pass(self, key: str | None) -> Pass | None:
        return self.evening.passes[key][1] if key in self.evening.passes else None

    def _ink_of(self, key: str) -> Ink:
        return self.evening.scene(key).ink(self.evening.passes[key][1])

    def _name(self, key: str | None) -> str:
        return self._ink_of(key).name if key in self.evening.passes else ""

    def _place(self, action: Action) -> Step:
        number = self._sheet(action)
        own = action.card, number, action.copy
        sheet, again = self.scene.layer_set.sheet(number), own in self.seated
        self.seated.add(own)
        return self._told(action, wording.seated(self.scene, sheet, again, action.copy))

    def _lift(self, action: Action) -> Step:
        return self._told(action, *wording.lifted(self.scene, self._sheet(action), action.copy))

    def _ink(self, action: Action) -> Step:
        key = action.pass_key or ""
        item, task = self.evening.passes[key][1], self.work.by_key[key]
        brush = self.scene.brush(item)
        if task.brush is None:
            often = "time" if item.coats == 1 else "times"
            how = f"{times.PRINT:g} min to ink and print, {item.coats} {often}."
        else:
            coats = "coat" if item.thickness == 1 else "coats"
            how = (
                f"{times.LOAD:g} min to load the brush, then {task.area:.0f} mm² times "
                f"{item.thickness:g} {coats} at {brush.speed:.0f} mm² a minute."
            )
        medium = MEDIA[item.medium]
        reasons = (*self._reasons(action, item), *((medium.how,) if medium.how else ()))
        step = self._told(
            action, wording.inked(self.scene, item, brush), reasons, medium.caution or None, how=how
        )
        self.done.setdefault(action.card, set()).add(key)
        return step

    def _reasons(self, action: Action, item: Pass) -> tuple[str, ...]:
        done, key = self.done.get(action.card, set()), action.pass_key or ""
        own = [r for r in self.work.before[key] if r.before in done]
        own.sort(key=lambda r: -self.work.by_key[r.before].place)
        reasons = list(dict.fromkeys(r.reason for r in own))[:2]
        if action.why.of is not None and self.work.by_key[action.why.of].ink == item.ink:
            reasons.append("The brush carries this ink already.")
        if key in self.work.by_hand:
            # how it is done comes before why it is done now
            reasons.insert(0, self._why_by_hand(key))
        return tuple(reasons) or ("Nothing lies under it; it can go first.",)

    def _why_by_hand(self, key: str) -> str:
        way = self.work.partings[key]
        if way.room < ROOM:
            return f"Light hand, little ink, inwards from the edge: {way.room:.1f} mm to the next opening is no room for a mask."
        return "Light hand, little ink, inwards from the edge: that takes less time than a mask."

    def _wait(self, action: Action) -> Step:
        why = action.why
        if why.waits == "sheet":
            part = wording.named(self.scene, self._sheet(action), action.copy)
            return self._told(
                action,
                f"Let {part} dry.",
                ("A sheet that was cleaned must be bone dry before it goes back.",),
            )
        if why.waits == "brush":
            return self._told(
                action, "Let the cleaned brush dry.", ("A damp brush thins the ink and leaves spots.",)
            )
        if why.waits == "rack":
            reason = "Every place where a card can dry is taken."
            return self._told(action, "Wait until a card is dry and its place free.", (reason,))
        if why.waits == "rest":
            return self._told(
                action, "Rest your hands a moment.", ("The second pair of hands is still busy.",)
            )
        if why.waits == "seal":
            reason = "The seal must set before the panel is handled."
            return self._told(action, "Let the fixative dry.", (reason,))
        ink = self._ink_of(why.of or "")
        sentence = "Let the panel dry." if why.waits == "panel" else f"Let {ink.name} dry."
        if why.waits == "ground":
            reason = f"{self._name(why.serves)} is a dye; over wet {ink.name} it would streak."
        elif why.waits == "panel":
            reason = f"{ink.name} is the last to dry; until then a finger smudges it."
        else:
            following = wording.following(self.scene)
            reason = f"{ink.name} is {ink.chemistry.label} ink and smudges under {following} until it is dry to the touch."
        heated = self.work.by_key[why.of or ""].heated
        quicker = heated if heated is not None and heated < action.minutes else None
        caution = times.HEAT_CAUTION if quicker else None
        step = self._told(action, sentence, (reason,), caution)
        return Step(**{**step.__dict__, "heated_minutes": quicker})

    def _mask(self, action: Action) -> Step:
        key = action.why.serves or ""
        item = self.evening.passes[key][1]
        brush, covered = self.scene.brush(item), listed(action.masks)
        own = own_masks(self.scene, item)
        if own:
            more = tuple(m for m in action.masks if m not in own)
            also = f" Cover {listed(more)} as well." if more else ""
            return self._told(
                action,
                f"Lay on the {listed(own)}.{also}",
                ("Ink obeys it: press its edges down, and take it off in time.",),
            )
        way = self.work.partings.get(key)
        reason = f"The {brush.label} strays {brush.spread:.0f} mm past its opening; the nearest opening of {covered} is closer than that."
        part = wording.named(self.scene, item.sheet)
        with_what = "a mask"
        if way is not None and way.way == "strips":
            with_what = (
                "a straight strip of tape" if way.strips == 1 else f"{way.strips} straight strips of tape"
            )
        elif way is not None and way.way == "cut":
            with_what = "the mask that is cut to its outline"
        return self._told(action, f"Cover {covered} on {part} with {with_what}.", (reason,))

    def _unmask(self, action: Action) -> Step:
        return self._told(action, f"Lift the mask off {listed(action.masks)}.")

    def _wash(self, action: Action) -> Step:
        damp = action.kind == "damp"
        reasons = [
            f"{self._name(action.why.of)} is still on it and must not meet {self._name(action.why.serves)}."
        ]
        if damp:
            reasons.append("It is laid thin and comes off with water: the sheet need not go to the sink.")
        said = wording.washed(self.scene, self._sheet(action), damp, action.copy)
        return self._told(action, said, tuple(reasons), None if damp else times.WASH_CAUTION)

    def _care(self, action: Action) -> Step:
        meeting, last = action.why.meeting, action.why.of
        brush = brush_of(action.brush[0]) if action.brush else None
        verb = "Wipe" if action.kind == "wipe" else "Clean and dry"
        reasons = [f"{meeting.why[0].upper()}{meeting.why[1:]}."] if meeting else []
        caution = None
        if last is not None and action.kind == "clean":
            cleaning = self._ink_of(last).chemistry.cleaning
            if cleaning != "wipe":
                reasons.append(f"{self._name(last)} comes off with {CLEANINGS[cleaning]}.")
            caution = times.WASH_CAUTION if cleaning == "alcohol" else None
        called = f"{brush.article} {brush.label}" if brush else "the brush"
        return self._told(action, f"{verb} {called}.", tuple(reasons), caution)

    def _seal(self, action: Action) -> Step:
        reason = f"{self._name(action.why.of)} rubs off until it is sealed."
        return self._told(action, "Seal the panel with fixative.", (reason,), times.SEAL_CAUTION)

    def _heat(self, action: Action) -> Step:
        reason = "What is wet on this card dries in about a minute under the heat tool."
        return self._told(action, "Dry the card with the heat tool.", (reason,), times.HEAT_CAUTION)

    def _prep(self, action: Action) -> Step:
        job = self._job(action)
        cut = "A craft knife cuts away from the hand; cap it." if job.before else job.caution or None
        reason = "There is time for it while something dries."
        if job.before:
            reason = "It is needed before the sheet is seated."
        elif job.last:
            reason = "Everything is dry: now it is put together."
        name = job.name if job.name.endswith((".", "!", "?")) else f"{job.name}."
        return self._told(action, name, (reason,), cut)

    def _glue(self, action: Action) -> Step:
        first = next((p.sheet for p in self.work.pieces if p.make == self.make), None)
        sentence, reason = wording.set_on(self.scene, self._sheet(action), action.sheet == first)
        return self._told(action, sentence, (reason,))


def serves_of(evening: Evening, action: Action) -> str | None:
    """The pass that a step serves, by the key that its own plan has for it."""
    key = action.why.serves
    return evening.passes[key][1].key if key in evening.passes else None


def narrate(scene: Scene, work: Instance, schedule: Schedule) -> Sequence:
    """The steps of a schedule of one build."""
    return narrate_evening(Evening([Make(scene)], work.cards), work, schedule)


def narrate_evening(evening: Evening, work: Instance, schedule: Schedule) -> Sequence:
    """The steps of a schedule that are still to be done, each in the words of its own build."""
    return _Narrator(evening, work, schedule).sequence()
