"""The table as JSON: one packet with which a device goes on alone."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict
from typing import Any

from strata.making import Event
from strata.making import Making as CoreMaking
from strata.making.events import two_truths
from strata.making.making import Told
from strata.making.pull import pull_list
from strata.making.remedies import Remedy, Wrong, to_write
from strata.making.ways import WAYS, WentWrong, paler
from strata.making.words import element_of, how, last_pressed
from strata.optics.colour import Lab
from strata.plan import Plan, Scene
from strata.recipes.judged import in_words
from studio.bench import services
from studio.bench.models import Making, Record
from studio.bench.records import taken_words
from studio.bench.table_photographs import photographs_json
from studio.builds.elements import in_hand
from studio.builds.models import Colouring
from studio.builds.state import missing_json, step_json
from studio.colours import colour
from studio.inks.services import House, house


def table_json(colouring: Colouring, making: Making | None) -> dict[str, Any]:
    """Everything the table shows, of the making that is under way."""
    core = services.making_of(colouring, services.events_of(making))
    own = house(colouring.build.owner)
    at = {key: e.at for e in core.done for key in core.done_by[e.body["step"]]}
    inked = _Inked(core, own)
    return {
        "making": making.number if making is not None else 1,
        "changed": core.changed,
        "cards": _cards(colouring, core),
        "steps": [_step(core, told, at, inked) for told in core.steps],
        "notes": [
            {"key": e.key, "at": e.at, "text": e.body["text"], "card": e.card}
            for e in core.live
            if e.kind == "note"
        ],
        "last_told": _last_told(core),
        "questions": [_question(core, several) for several in two_truths(core.live)],
        "pull": _pull(colouring, core),
        "taken": taken_words(Record.objects.filter(making=making).only("taken").first()),
        "photographs": photographs_json(making),
        "ways": [ways_json(w) for w in WAYS],
        "together": core.scene.plan.order.assembly,
    }


def ways_json(wrong: WentWrong) -> dict[str, Any]:
    """What a device that is alone can offer where something went wrong, with blanks that it fills in."""
    return {
        "what": wrong.what,
        "sentence": wrong.sentence,
        "events": to_write(wrong.events),
        "ways": [
            {
                "key": w.key,
                "sentence": w.sentence,
                "events": to_write(w.events),
                "needs": w.needs,
                "several": w.several,
            }
            for w in wrong.ways
        ],
    }


def _last_told(core: CoreMaking) -> dict[str, Any] | None:
    events, sentence = last_pressed(core)
    return {"keys": [e.key for e in events], "sentence": sentence} if events else None


def _cards(colouring: Colouring, core: CoreMaking) -> list[dict[str, Any]]:
    return [
        {
            "number": card.number,
            "spoilt": card.spoilt,
            "laid": len(card.inked),
            "left": 0 if card.spoilt else core.left_on(card.number),
            "picture": services.seen_on(colouring, core, card.number).key,
        }
        for card in core.cards
    ]


def _step(core: CoreMaking, told: Told, at: dict[str, float], inked: _Inked) -> dict[str, Any]:
    return {
        **step_json(told.step, told.layers),
        "done": list(told.done),
        "at": min((at[k] for k in told.done if k in at), default=None),
        "inked": inked.of(told.step.card, told.step.pass_key) if told.step.kind == "ink" else None,
    }


class _Inked:
    """What is to be taken in hand for a pass, as its card has it."""

    def __init__(self, core: CoreMaking, own: House) -> None:
        self.core, self.own = core, own
        self.known: dict[tuple[int, str], dict[str, Any] | None] = {}
        self.scenes: list[tuple[Plan, Scene]] = []

    def of(self, card: int, key: str | None) -> dict[str, Any] | None:
        if key is None or not 0 < card <= len(self.core.cards):
            return None
        plan = self.core.cards[card - 1].plan
        at = next((n for n, (p, _) in enumerate(self.scenes) if p is plan or p == plan), None)
        if at is None:
            at = len(self.scenes)
            self.scenes.append((plan, self.core.scene.with_plan(plan)))
        known = at, key
        if known not in self.known:
            self.known[known] = self._of(self.scenes[at][1], key)
        return self.known[known]

    def _of(self, scene: Scene, key: str) -> dict[str, Any] | None:
        item = next((p for p in scene.plan.passes if p.key == key), None)
        if item is None:
            return None
        return {
            **in_hand(scene, item, self.own),
            "key": key,
            "ink": item.ink,
            "alone": colour(scene.alone[key]),
            "coats": item.coats,
            "hand": item.hand,
            "form": asdict(item.form),
            "element": item.element,
            "sheet": item.sheet,
            "paler": paler(item),
        }


def _question(core: CoreMaking, several: Sequence[Event]) -> dict[str, Any]:
    return {
        "card": several[0].card,
        "element": element_of(core, several[0]),
        "ways": [{"key": e.key, "sentence": how(core, e)} for e in several],
    }


def _pull(colouring: Colouring, core: CoreMaking) -> dict[str, Any]:
    places = house(colouring.build.owner).places
    found = pull_list(core.scene, core.meant.steps.steps, core.count, places)
    missing = {m["ink"]: m["why"] for m in missing_json(colouring)}
    return {
        "pads": [
            {
                "ink": k,
                "name": name,
                "place": place,
                "missing": missing.get(k),
                "colour": colour(core.scene.on_stock(k)),
            }
            for k, name, place in found.pads
        ],
        "stock": {"name": found.stock[0], "count": found.stock[1]},
        **{name: list(getattr(found, name)) for name in ("bottles", "brushes", "sheets", "masks", "rest")},
    }


def wrong_json(found: Wrong) -> dict[str, Any]:
    """What went wrong, and the ways on."""
    return {
        "sentence": found.sentence,
        "meant": _colour(found.meant),
        "now": _colour(found.now),
        "events": to_write(found.events),
        "remedies": [_remedy(r) for r in found.remedies],
    }


def _remedy(found: Remedy) -> dict[str, Any]:
    return {
        "key": found.key,
        "sentence": found.sentence,
        "colour": _colour(found.colour),
        "off": found.off,
        "words": None if found.off is None else in_words(found.off),
        "events": to_write(found.events),
    }


def _colour(lab: Lab | None) -> Any:
    return None if lab is None else colour(lab)
