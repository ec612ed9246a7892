"""Ways on without the network: the same events as with it, and a rest that the checker accepts."""

from __future__ import annotations

import unittest
from typing import Any

from strata.errors import BadValue
from strata.making.cards import again_key
from strata.making.events import read_event
from strata.making.making import Making
from strata.making.remedies import went_wrong
from strata.making.ways import BY_WHAT, WAYS, filled, paler, way
from tests.strata.test_making import Table, happened, wrong

BY = {"dx": 1.5, "dy": -0.5}


class WaysTest(unittest.TestCase):
    def setUp(self) -> None:
        self.table = Table("first-try-on-kraft", cards=2)
        self.making = self.table.walk(22)
        self.card = next(c for c in self.making.cards if c.inked)
        self.item = self.card.plan.find(self.card.inked[-1])

    def known(self, **more: Any) -> dict[str, Any]:
        """What a device knows of the pass that was laid last."""
        keys = [e.key for e in self.making.live if e.is_ink and e.pass_key == self.item.key]
        every = self.card.plan.passes
        left = [p.key for p in every if p.key not in self.card.inked and p.element == self.item.element]
        other = next(k for k in self.table.scene.inks if k != self.item.ink)
        return {
            "card": self.card.number, "pass": self.item.key, "meant": self.item.ink, "hand": self.item.hand,
            "done": keys, "mates": left, "paler": paler(self.item), "ink": other, **BY, **more,
        }  # fmt: skip

    def tried(self, *told: tuple[str, Any]) -> Making:
        more = [
            happened(700 + n, self.table.at + n / 10, kind, **body) for n, (kind, body) in enumerate(told)
        ]
        return Making(self.table.scene, self.table.meant, [*self.table.events, *more])

    def test_whatever_is_told_alone_leaves_a_sound_rest(self) -> None:
        for one in WAYS:
            for on in one.ways:
                told = filled([*one.events, *on.events], self.known())
                with self.subTest(what=one.what, way=on.key):
                    self.assertEqual(wrong(self.tried(*told)), [])

    def test_what_happened_is_written_as_with_the_network(self) -> None:
        ink = self.known()["ink"]
        for one in WAYS:
            body = {"card": self.card.number, "pass": self.item.key, "ink": ink, **BY}
            found = went_wrong(self.making, one.what, body, [ink])
            self.assertEqual(found.events, filled(one.events, self.known()), one.what)
            known = {w.key for w in one.ways}
            for remedy in found.remedies:
                if remedy.off is None:
                    self.assertIn(remedy.key, known)
                    self.assertEqual(remedy.events, filled(way(one.what, remedy.key).events, self.known()))

    def test_what_was_inked_once_more_before_the_plan_knew_of_it_is_on_the_card(self) -> None:
        told = filled(way("pad", "again").events, self.known())
        asked = read_event({"key": "away-1", "at": self.table.at + 1, "kind": told[0][0], "body": told[0][1]})
        self.assertEqual(again_key(asked), f"{self.item.key}+away-1")
        key = again_key(asked)
        body = {
            "step": f"away:{key}", "kind": "ink", "card": self.card.number, "minutes": 1.0, "masks": [],
            "sheet": self.item.sheet, "pass": key,
        }  # fmt: skip
        done = read_event({"key": "e800", "at": self.table.at + 60, "kind": "done", "body": body})
        making = Making(self.table.scene, self.table.meant, [*self.table.events, asked, done])
        self.assertIn(key, making.cards[self.card.number - 1].inked)
        self.assertNotIn((self.card.number, key), {(s.card, s.pass_key) for s in making.rest})
        self.assertEqual(wrong(making), [])

    def test_blanks_are_filled_or_asked_for(self) -> None:
        for one in WAYS:
            every = [*one.events, *(e for on in one.ways for e in on.events)]
            self.assertNotIn("$", str(filled(every, self.known())))
            self.assertTrue(one.sentence.format(ink="a", element="b", other="c", far="1", card=1))
        with self.assertRaises(BadValue):
            filled(BY_WHAT["pad"].events, self.known(ink=None))
        self.assertIsNone(paler(self.item.__class__(**{**self.item.__dict__, "hand": "light", "coats": 1})))
        two = self.item.__class__(**{**self.item.__dict__, "hand": "light", "coats": 2})
        self.assertEqual(paler(two), {"coats": 1})
