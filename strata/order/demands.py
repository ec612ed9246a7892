"""What the facts of a plan demand of whoever carries it out: the checker's own knowledge of the craft.

Written a second time and on purpose, from the facts alone: a checker that
shared the planner's rules would share its mistakes. Nothing of the planner is
imported here (the layer check sees to it).
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping, Sequence
from typing import Any

from strata.optics.colour import Lab, difference

MEETS = 0.5
# mm2 that two passes must share before one lies over the other
SEEN = 4.0
# CIEDE2000 from which two inks that run together are seen
LIGHT_HAND = 1.5
# times as long with little ink, where nothing is covered
THIN = 1.5
# measured coats that a damp wipe takes off a sheet
TAKEN_UP = 2.0
# mm2 of another ink's residue from which a brush takes it up
EASE = 0.03
# minutes that nobody would wait for
OUT = -1
# make of a card that is spoilt
CARE = {"nothing": 0, "wipe": 1, "clean": 2}


class Demands:
    """What must hold, asked by the keys of passes; facts as in ``docs/formats/order.md``."""

    def __init__(self, facts: Mapping[str, Any], by_hand: Sequence[str] = ()) -> None:
        self.facts = facts
        # a lighter hand instead of a mask is allowed only where masks are weighed at all
        self.by_hand = set(by_hand) if facts["rules"].get("parted_by") == "weighed" else set()
        self.minutes: Mapping[str, float] = facts["minutes"]
        self.rules: Mapping[str, Any] = facts["rules"]
        self.passes: dict[str, dict[str, Any]] = {p["key"]: p for p in facts["passes"]}
        self.place = {key: i for i, key in enumerate(self.passes)}
        self._shared: dict[frozenset[tuple[str, int]], float] = {
            frozenset(((a, s), (b, t))): area for a, s, b, t, area in facts["overlaps"]
        }
        self._gap: dict[tuple[frozenset[str], int], float] = {
            (frozenset((a, b)), s): gap for a, b, s, gap in facts["gaps"]
        }
        self._left = {frozenset((a, b)): area for a, b, area in facts.get("residues", [])}
        self._of_return = {key: n for n, own in enumerate(facts.get("returns", [])) for key in own}
        self._inked: dict[tuple[str, int], list[str]] = defaultdict(list)
        for key in self.passes:
            self._inked[self.group(key)].append(key)
        self.brushes: dict[str, list[tuple[str, str]]] = defaultdict(list)
        for item in facts["brushes"]:
            self.brushes[item["size"]] += [(item["line"], item["family"])] * item["count"]
        makes = facts.get("makes", [facts["cards"]])
        counted = [m for m, n in enumerate(makes) for _ in range(n)]
        self.make_of = dict(enumerate(facts.get("card_makes", counted), 1))

    def kept_apart(self, first: str, second: str) -> bool:
        """Whether two passes of a sheet are not to be done while it is seated once."""
        return self._of_return.get(first) != self._of_return.get(second)

    def group(self, key: str) -> tuple[str, int]:
        """(element, sheet) of a pass."""
        return self.passes[key]["element"], self.passes[key]["sheet"]

    def ink(self, key: str) -> Mapping[str, Any]:
        """What is known of a pass's ink."""
        found: Mapping[str, Any] = self.facts["inks"][self.passes[key]["ink"]]
        return found

    def lab(self, key: str) -> Lab:
        """The pass's ink alone on the card."""
        lightness, a, b = self.passes[key]["lab"]
        return lightness, a, b

    def passes_of(self, card: int) -> set[str]:
        """All that is to be done on a card."""
        return {k for k, p in self.passes.items() if p.get("make", 0) == self.make_of.get(card)}

    def is_out(self, card: int) -> bool:
        """Whether a card is spoilt: nothing more is done on it."""
        return self.make_of.get(card) == OUT

    def may_take(self, key: str, which: int) -> bool:
        """Whether a brush of the pass's size may be used for it: there is one, and it is kept for no other family."""
        own = self.brushes[self.passes[key]["brush"]]
        if not 0 <= which < len(own):
            return False
        ink = self.ink(key)
        return own[which][1] == "" or own[which] == (ink["line"], ink["family"])

    @property
    def maskable(self) -> set[str]:
        """What a mask may be called by: an element that it covers, or the maker's own name for it."""
        own = (name for names in self.facts.get("masks", {}).values() for name in names)
        return {*self.facts["elements"], *own}

    def owned(self, sheet: int) -> int:
        """How many of a sheet the maker has."""
        return next((int(s.get("owned", 1)) for s in self.facts["sheets"] if s["number"] == sheet), 1)

    def kind(self, sheet: int) -> str:
        """How a sheet is worked with; where its facts do not say, as the build's."""
        kinds = {s["number"]: s.get("kind") for s in self.facts["sheets"]}
        return str(kinds.get(sheet) or self.facts["kind"])

    def meet(self, first: str, second: str) -> bool:
        """Whether two passes share ground on the panel."""
        one, two = self.group(first), self.group(second)
        return one == two or self._shared.get(frozenset((one, two)), 0.0) >= MEETS

    def length(self, key: str) -> float:
        """Minutes of one pass on one card."""
        item = self.passes[key]
        if self.kind(item["sheet"]) == "stamp set" and item["whole"]:
            return float(item["coats"] * self.minutes["print"])
        copies = next(s["copies"] for s in self.facts["sheets"] if s["number"] == item["sheet"])
        speed = self.facts["sizes"][item["brush"]]["speed"]
        slower = LIGHT_HAND if key in self.by_hand else 1.0
        return slower * float(self.minutes["load"] + item["area"] * copies * item["thickness"] / speed)

    def under(self, key: str) -> list[tuple[str, bool]]:
        """Passes that must be down before this one, and whether they must be dry."""
        clear, make = not self.ink(key)["opaque"], self.passes[key].get("make", 0)
        own = [
            (other, bool(self.ink(other)["opaque"]) and clear)
            for other in self.passes
            if self.passes[other].get("make", 0) == make
            and self.place[other] < self.place[key]
            and self.meet(other, key)
            and self._ordered(other, key)
        ]
        return own + [(before, False) for before, after in self.facts["pins"] if after == key]

    def _ordered(self, first: str, second: str) -> bool:
        one, two = self.group(first)[1], self.group(second)[1]
        apart = one != two and self.kind(one) == self.kind(two) == "die-cut"
        return bool(self.rules["pieces_ordered"]) or not apart

    def covered(self, key: str) -> set[str]:
        """Elements of the same sheet that the brush reaches and the ink would show on."""
        item = self.passes[key]
        kind = self.kind(item["sheet"])
        own = set(self.facts.get("masks", {}).get(key, []))
        no_ink = item.get("medium", "ink") != "ink" or key in self.by_hand
        if kind == "stamp set" or no_ink or (kind == "die-cut" and not self.rules["mask_pieces"]):
            return own
        reach = self.facts["sizes"][item["brush"]]["spread"]
        return own | {
            e
            for e in self.facts["elements"]
            if self._gap.get((frozenset((e, item["element"])), item["sheet"]), math.inf) < reach
            and self._shows(key, e)
        }

    def _shows(self, key: str, element: str) -> bool:
        # what strays lies on this card: another build's inks through the same openings do not come into it
        make = self.passes[key].get("make", 0)
        others = [
            o for o in self._inked[element, self.group(key)[1]] if self.passes[o].get("make", 0) == make
        ]
        return not others or any(difference(self.lab(key), self.lab(o)) >= SEEN for o in others)

    def spoils(self, left: str, key: str) -> bool:
        """Whether what a pass left on its sheet spoils another through the same openings."""
        if self.kind(self.group(key)[1]) in ("die-cut", "free") or left == key:
            return False
        if self.group(left) != self.group(key):
            return False
        if (
            self.rules.get("wash_by") == "place"
            and self._left.get(frozenset((left, key)), math.inf) < TAKEN_UP
        ):
            return False
        return self._brown(left, key) or self.ink(left)["chemistry"] != self.ink(key)["chemistry"]

    def wiped_off(self, key: str) -> bool:
        """Whether a damp wipe takes off a sheet what a pass left there: thin, mild, and nothing that lies in lumps."""
        ink = self.ink(key)
        lumps = ink["chemistry"] in ("paste", "glaze", "powder")
        thin = self.passes[key]["thickness"] <= THIN
        return thin and not lumps and ink.get("cleaning") in ("wipe", "damp")

    def _brown(self, first: str, second: str) -> bool:
        """Colours with enough hue, whose hues cancel."""
        (_, a, b), (_, c, d) = self.lab(first), self.lab(second)
        if min(math.hypot(a, b), math.hypot(c, d)) < 18:
            return False
        apart = abs(math.degrees(math.atan2(b, a) - math.atan2(d, c))) % 360
        return min(apart, 360 - apart) >= 125

    def care(self, carried: str, key: str) -> int:
        """What a brush needs that carries one pass's ink and is to take another's: 0 nothing, 1 wipe, 2 clean."""
        if self.passes[carried]["ink"] == self.passes[key]["ink"]:
            return CARE["nothing"]
        last, following = self.ink(carried), self.ink(key)
        lighter = self.lab(key)[0] - self.lab(carried)[0]
        kin = bool(last["family"]) and all(last[k] == following[k] for k in ("family", "line"))
        if kin and lighter <= 0:
            return CARE["nothing"]
        unlike = any(last[k] != following[k] for k in ("chemistry", "character"))
        return CARE["clean" if unlike or lighter > 3 or self._brown(carried, key) else "wipe"]

    def under_sheet(self, key: str, sheet: int) -> bool:
        """Whether a wet pass forbids seating a sheet on its card."""
        blocks = self.rules["wet_blocks"]
        if blocks == "kind":
            # each by what it lies on: a stamp where it prints, a piece apart, all else on the whole panel
            blocks = {"stamp set": "touching", "die-cut": "piece"}.get(self.kind(sheet), "panel")
        if blocks == "piece":
            return self.group(key)[1] == sheet
        if blocks == "touching":
            groups = {self.group(k) for k in self.passes if self.group(k)[1] == sheet}
            return any(
                g == self.group(key) or self._shared.get(frozenset((g, self.group(key))), 0.0) >= MEETS
                for g in groups
            )
        return True

    def glued(self, card: int) -> set[int]:
        """Sheets whose pieces are glued onto a card at the end."""
        make = self.make_of.get(card)
        own = [s for s in self.facts["sheets"] if make in s.get("makes", [0])]
        used = {self.group(k)[1] for k in self.passes_of(card)}
        cards: dict[str, int] = {}
        for sheet in own:
            if sheet.get("card"):
                cards.setdefault(sheet["card"], sheet["number"])
        apart = {
            s["number"]
            for s in own
            if not s.get("card")
            and s["number"] in used
            and (s["loose"] or self.kind(s["number"]) == "die-cut")
        }
        return apart | set(cards.values())
