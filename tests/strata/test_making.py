"""At the table: what happened, what is really on the cards, and a rest that the checker accepts whatever went wrong."""

from __future__ import annotations

import json
import random
import unittest
from typing import Any

from strata.answers.making import answer
from strata.errors import StrataError
from strata.formats.build_file import read_plan, write_plan
from strata.formats.drawer import write_drawer
from strata.formats.set_file import write_set
from strata.making import Event, Making, Meant, read_event, write_event
from strata.making.events import done_of, joined
from strata.making.remedies import WRONG, went_wrong
from strata.order import Ordering, Step
from strata.order.check import check
from strata.picture.shown import view
from tests import world

BEGIN = 1_700_000_000.0


def done(number: int, step: Step, at: float) -> Event:
    return done_of(step, f"e{number}", at)


def happened(number: int, at: float, kind: str, **body: Any) -> Event:
    return read_event({"key": f"x{number}", "at": at, "kind": kind, "body": body})


class Table:
    """Somebody at the table."""

    def __init__(self, name: str = "thank-you-by-lantern-light", cards: int = 1) -> None:
        self.scene = world.whole_card(name)
        self.meant = Meant(Ordering(self.scene, cards).sequence, cards)
        self.events: list[Event] = []
        self.at = BEGIN

    @property
    def making(self) -> Making:
        return Making(self.scene, self.meant, self.events)

    def walk(self, steps: int, pace: float = 1.0) -> Making:
        """So many steps of the rest as it stands now."""
        for step in self.making.rest[:steps]:
            self.at += 60 * step.minutes * pace
            self.events.append(done(len(self.events), step, self.at))
        return self.making

    def happens(self, kind: str, **body: Any) -> Making:
        self.at += 5
        self.events.append(happened(len(self.events), self.at, kind, **body))
        return self.making


def wrong(making: Making) -> list[str]:
    asked = making.as_request()
    return check(asked["facts"], asked["plan"])


class EventTest(unittest.TestCase):
    def test_joined_in_any_order_they_are_the_same(self) -> None:
        table = Table()
        table.walk(12)
        one, other = (
            table.events[:8],
            [*table.events[5:], happened(99, BEGIN, "note", text="the lamp flickers")],
        )
        self.assertEqual(joined(one, other), joined(other, one, one))
        self.assertEqual(len(joined(one, other)), 13)

    def test_what_is_taken_back_is_taken_back_by_name(self) -> None:
        table = Table()
        table.walk(3)
        step = table.making.done[2].body["step"]
        again = Event("other-device", table.at + 1, "done", table.events[2].body)
        back = happened(7, table.at + 2, "undone", of=["e2"])
        # another device has done the same step and does not know of it: what it did stays
        self.assertIn(step, Making(table.scene, table.meant, [*table.events, again, back]).done_by)
        self.assertNotIn(step, Making(table.scene, table.meant, [*table.events, back]).done_by)
        twice = Making(table.scene, table.meant, [*table.events, again])
        self.assertEqual(len(twice.done), 3, "a step that two devices have is done once")

    def test_a_file_of_events_reads_back(self) -> None:
        table = Table()
        table.walk(30)
        table.happens("slipped", card=1, passes=["p1"], dx=0.5, dy=-0.25)
        for event in table.events:
            self.assertEqual(read_event(write_event(event)), event)

    def test_odd_events_are_refused_by_name(self) -> None:
        good = {"key": "k", "at": 1.0, "kind": "again", "body": {"card": 1, "pass": "p1"}}
        read_event(good)
        bad: list[dict[str, Any]] = [
            {"key": ""}, {"at": float("inf")}, {"kind": "danced"}, {"body": {"card": 0, "pass": "p1"}},
            {"body": {"card": True, "pass": "p1"}}, {"body": {"card": 1}}, {"by": 7},
            {"body": {"card": 1, "pass": "p1", "coats": 99}}, {"body": {"card": 1, "pass": "p1", "hand": "flat"}},
            {"kind": "undone", "body": {"of": []}}, {"kind": "slipped", "body": {"card": 1, "passes": [], "dx": 900, "dy": 0}},
            {"kind": "spoilt", "body": {"card": 1, "fresh": "yes"}}, {"kind": "done", "body": {"step": "s", "kind": "sing"}},
        ]  # fmt: skip
        for part in bad:
            with self.assertRaises(StrataError, msg=str(part)):
                read_event({**good, **part})


class RestTest(unittest.TestCase):
    def test_as_long_as_all_goes_as_meant_nothing_is_planned_anew(self) -> None:
        table = Table()
        steps = table.meant.steps.steps
        for count in (0, 1, 17, len(steps)):
            table.events.clear()
            making = table.walk(count)
            self.assertFalse(making.changed)
            self.assertEqual(making.rest, steps[count:])
            self.assertEqual(
                [bool(t.done) for t in making.steps], [True] * count + [False] * (len(steps) - count)
            )

    def test_followed_to_its_end_in_the_middle_of_anything_the_rest_is_sound(self) -> None:
        for name in ("thank-you-by-lantern-light", "luna-by-night", "hedgehog-at-the-pump-house"):
            for count in (5, 23, 38):
                table = Table(name)
                table.walk(count)
                making = table.happens("otherwise", card=1, **{"pass": table.making.layers_of(1)[0]}, coats=2)
                self.assertEqual(wrong(making), [], (name, count))

    def test_whatever_goes_wrong_the_checker_accepts_the_rest(self) -> None:
        """Walks at an uneven pace, with something wrong now and then, on one card and on three."""
        for seed in range(6):
            rng = random.Random(seed)
            name = rng.choice(
                ["first-try-on-kraft", "koi-on-black", "hedgehog-at-the-pump-house", "luna-by-night"]
            )
            table = Table(name, cards=1 if seed % 2 else 3)
            for _ in range(3):
                making = table.walk(rng.randint(4, 30), rng.uniform(0.1, 2))
                inked = [(c.number, k) for c in making.cards if not c.spoilt for k in c.inked]
                if not inked:
                    continue
                card, key = rng.choice(inked)
                what = rng.choice(WRONG)
                body: dict[str, Any] = {"card": card, "pass": key, "dx": 1.5, "dy": -0.5}
                own = next(p for p in making.cards[card - 1].plan.passes if p.key == key)
                body["ink"] = rng.choice(sorted(set(table.scene.inks) - {own.ink}))
                try:
                    told = went_wrong(making, what, body, list(table.scene.inks)[:12])
                except StrataError:
                    continue
                for remedy in told.remedies:
                    more = [
                        happened(500 + n, table.at + n, kind, **values)
                        for n, (kind, values) in enumerate([*told.events, *remedy.events])
                    ]
                    tried = Making(table.scene, table.meant, [*table.events, *more])
                    self.assertEqual(wrong(tried), [], (seed, name, what, remedy.key))
                for kind, values in [*told.events, *rng.choice(told.remedies).events]:
                    table.happens(kind, **values)

    def test_what_was_planned_anew_is_gone_on_with_as_long_as_it_is_kept_to(self) -> None:
        table = Table()
        table.walk(21)
        key = table.making.cards[0].inked[3]
        making = table.happens("again", card=1, **{"pass": key}, hand="light")
        keys = [s.key for s in making.rest]
        for _ in range(4):
            making = table.walk(3, 0.1)
            keys = keys[3:]
            self.assertEqual([s.key for s in making.rest], keys)
            self.assertEqual(wrong(making), [])
        self.assertEqual(sum(bool(t.done) for t in making.steps), 33)
        self.assertEqual(making.layers_of(1), table.making.layers_of(1))
        making = table.happens("note", text="It is late.", card=1)
        self.assertEqual([s.key for s in making.rest], keys, "a note plans nothing anew")
        skipped = next(s.pass_key for s in reversed(making.rest) if s.kind == "ink")
        anew = table.happens("skipped", card=1, **{"pass": skipped})
        self.assertNotIn(skipped, {s.pass_key for s in anew.rest})
        self.assertFalse(set(keys) & {s.key for s in anew.rest})

    def test_something_told_when_all_is_done_and_dry_leaves_nothing_to_do(self) -> None:
        table = Table("first-try-on-kraft")
        making = table.walk(len(table.meant.steps.steps))
        making = table.happens("otherwise", card=1, **{"pass": making.cards[0].inked[-1]}, hand="light")
        self.assertEqual((making.rest, wrong(making)), ((), []))

    def test_a_set_that_lies_several_times_is_seated_place_by_place(self) -> None:
        table = Table("hedgehog-at-the-pump-house", 2)
        table.walk(9)
        making = table.happens("again", card=1, **{"pass": table.making.cards[0].inked[0]})
        seats = {p.sheet for p in table.scene.plan.passes}
        self.assertEqual({s.sheet for s in making.rest if s.kind == "place"} - seats, set())
        inked = [s for s in making.rest if s.kind in ("place", "ink")]
        for step, before in zip(inked[1:], inked, strict=False):
            if step.kind == "ink" and before.kind == "place":
                own = next(p for p in table.scene.plan.passes if p.key == str(step.pass_key).split("+")[0])
                self.assertEqual(before.sheet, own.sheet)
        self.assertEqual(wrong(making), [])

    def test_a_group_that_was_forgotten_is_inked_while_its_sheet_lies_there(self) -> None:
        table = Table()
        steps = table.meant.steps.steps
        place = next(n for n, s in enumerate(steps) if s.kind == "ink") + 1
        making = table.walk(place)
        making = table.happens("undone", of=[making.done[-1].key])
        self.assertEqual((making.rest[0].kind, making.rest[0].pass_key), ("ink", steps[place - 1].pass_key))
        self.assertEqual(wrong(making), [])

    def test_a_tampered_past_or_rest_is_refused(self) -> None:
        table = Table()
        table.walk(20)
        asked = table.happens(
            "skipped", card=1, **{"pass": table.making.rest[-3].pass_key or "p1"}
        ).as_request()
        facts, plan = asked["facts"], asked["plan"]
        self.assertEqual(check(facts, plan), [])
        count = len(facts["done"])
        self.assertTrue(check(facts, {**plan, "steps": [*plan["steps"][1:]]}))
        forged = [dict(s) for s in plan["steps"]]
        forged[0]["minutes"] += 3
        self.assertTrue(check(facts, {**plan, "steps": forged}))
        # as if nothing had been done: then every step is judged
        self.assertTrue(check({**facts, "done": []}, {**plan, "steps": plan["steps"][count:]}))
        early = [dict(s) for s in plan["steps"]]
        early[count]["starts"] -= 5
        self.assertTrue(check(facts, {**plan, "steps": early}))


class ReallyTest(unittest.TestCase):
    def test_the_picture_shows_what_is_there(self) -> None:
        table = Table("first-try-on-kraft")
        making = table.walk(20)
        key = making.cards[0].inked[0]
        meant = view(table.scene, table.meant.steps.wet, 120).finished
        seen: dict[str, Any] = {}
        for kind, body in {
            "otherwise": {"coats": 4},
            "slipped": {"passes": [key], "dx": 4.0, "dy": 3.0},
            "smudged": {"dx": 6.0, "dy": 0.0},
        }.items():
            on = {"card": 1, **({} if kind == "slipped" else {"pass": key})}
            card = Making(
                table.scene, table.meant, [*table.events, happened(9, table.at, kind, **on, **body)]
            ).cards[0]
            seen[kind] = view(table.scene.with_plan(card.seen), frozenset(), 120).finished.tobytes()
        self.assertEqual(len({meant.tobytes(), *seen.values()}), 4)

    def test_what_lies_over_what_should_cover_it_is_shown_there(self) -> None:
        table = Table()
        rule = next(r for r in Ordering(table.scene).work.instance.precedences if not r.wished)
        meant = table.meant.steps
        at = next(n for n, s in enumerate(meant.steps) if s.pass_key == rule.before)
        late = next(s for s in meant.steps if s.pass_key == rule.after)
        table.walk(at)
        table.events.append(done(900, late, table.at + 60))
        plan = table.making.cards[0].plan
        self.assertLess(plan.index(rule.after), plan.index(rule.before))
        self.assertEqual(wrong(table.making), [])

    def test_a_slip_is_kept_in_build_files(self) -> None:
        table = Table()
        card = table.happens("slipped", card=1, passes=["p1"], dx=1.0, dy=0.5).cards[0]
        self.assertEqual(card.plan.find("p1").slip, (1.0, 0.5))
        self.assertEqual(read_plan(write_plan(card.plan)), card.plan)

    def test_cards_that_are_out_are_worked_no_more(self) -> None:
        table = Table("first-try-on-kraft", 2)
        table.walk(15)
        making = table.happens("spoilt", card=1, fresh=True)
        self.assertEqual((making.count, {s.card for s in making.rest if s.kind == "ink"}), (3, {2, 3}))
        self.assertEqual(wrong(making), [])

    def test_what_is_laid_once_more_lies_in_its_place(self) -> None:
        table = Table("first-try-on-kraft")
        key = table.walk(20).cards[0].inked[0]
        table.happens("slipped", card=1, passes=[key], dx=4.0, dy=0.0)
        making = table.happens("again", card=1, **{"pass": key})
        slips = [p.slip for p in making.cards[0].plan.passes if p.key.startswith(key)]
        self.assertEqual(sorted(slips), [(0.0, 0.0), (4.0, 0.0)])
        self.assertEqual(wrong(making), [])

    def test_what_was_laid_stays_although_it_is_no_longer_asked_for(self) -> None:
        table = Table("first-try-on-kraft")
        key = table.walk(20).cards[0].inked[0]
        making = table.happens("again", card=1, **{"pass": key})
        asked = making.live[-1].key
        again = next(k for k in making.layers_of(1) if k.startswith(f"{key}+"))
        while again not in table.making.cards[0].inked:
            step = table.making.rest[0]
            table.at += 60 * step.minutes
            table.events.append(table.making.as_laid(done(len(table.events), step, table.at)))
        making = table.happens("undone", of=[asked])
        self.assertIn(again, making.cards[0].inked)
        self.assertEqual(wrong(making), [])

    def test_a_card_that_two_devices_call_spoilt_is_replaced_once(self) -> None:
        table = Table("first-try-on-kraft")
        table.walk(6)
        for _ in range(2):
            making = table.happens("spoilt", card=1, fresh=True)
        self.assertEqual(making.count, 2)

    def test_a_smear_lies_over_what_was_there_when_it_came(self) -> None:
        table = Table("first-try-on-kraft")
        making = table.walk(20)
        first, before = making.cards[0].inked[0], len(making.cards[0].inked)
        making = table.happens("smudged", card=1, **{"pass": first}, dx=3, dy=0)
        self.assertTrue(making.cards[0].layers[before].startswith("~"))
        told = [t for t in making.steps if t.step.card == 1]
        self.assertEqual(max(t.layers for t in told if not t.done), len(making.layers_of(1)))


class RemedyTest(unittest.TestCase):
    def setUp(self) -> None:
        self.table = Table()
        making = self.table.walk(26)
        self.key = making.cards[0].inked[-2]

    def told(self, what: str, **more: Any) -> Any:
        body = {"card": 1, "pass": self.key, **more}
        return went_wrong(self.table.making, what, body, list(self.table.scene.inks))

    def test_too_pale_is_mended_by_what_is_missing(self) -> None:
        told = self.told("pale")
        best = told.remedies[0]
        self.assertEqual(best.events[0][0], "again")
        self.assertLess(best.off, 1.0)
        leave = next(r for r in told.remedies if r.key == "leave")
        self.assertGreater(leave.off, best.off)

    def test_the_wrong_pad_is_judged_by_the_finished_colour(self) -> None:
        told = self.told("pad", ink="peach-tin")
        self.assertGreater(next(r.off for r in told.remedies if r.key == "leave"), 5)
        self.assertTrue(all(r.off is None or r.off <= told.remedies[0].off + 25 for r in told.remedies))
        for way in ("again", "over"):
            offs = [r.off for r in told.remedies if r.key.startswith(way)]
            self.assertEqual(
                offs, sorted(offs), "best first; the pad in the hand before another that wins little"
            )

    def test_what_cannot_have_happened_is_refused(self) -> None:
        for what, more in (
            ("pad", {}), ("pad", {"ink": "no-such"}), ("slipped", {}), ("danced", {}), ("pale", {"pass": "zz"}),
            ("pale", {"card": 9}), ("pale", {"pass": self.table.making.rest[-4].pass_key or "zz"}),
        ):  # fmt: skip
            with self.assertRaises(StrataError, msg=what):
                self.told(what, **more)


class OutsideTest(unittest.TestCase):
    """The same from the command line, by files alone."""

    def request(self, **more: Any) -> dict[str, Any]:
        name = "first-try-on-kraft"
        build = json.loads((world.DEMO / "builds" / f"{name}.json").read_text())
        return {
            "build": build,
            "set": write_set(world.koi()),
            "drawer": write_drawer(world.drawer()),
            **more,
        }

    def test_asked_told_and_accepted(self) -> None:
        first = answer(json.dumps(self.request(cards=1)))
        self.assertEqual((first["changed"], first["cards"][0]["inked"]), (False, []))
        events = [
            {"key": f"k{n}", "at": BEGIN + 60 * n, "kind": "done", "body": {k: s[k] for k in ("kind", "card", "minutes", "masks", "sheet", "which", "serves", "job")} | {"step": s["key"], "pass": s["pass_key"], "size": s["brush"]}}
            for n, s in enumerate(first["steps"][:14])
        ]  # fmt: skip
        key = next(s["pass_key"] for s in first["steps"][:14] if s["kind"] == "ink")
        wrong = {"what": "pale", "card": 1, "pass": key}
        asked = answer(json.dumps(self.request(cards=1, events=events, wrong=wrong)))
        told = [*asked["wrong"]["events"], *asked["wrong"]["remedies"][0]["events"]]
        events += [{"key": f"w{n}", "at": BEGIN + 2000 + n, **e} for n, e in enumerate(told)]
        found = answer(json.dumps(self.request(cards=1, events=events)))
        self.assertTrue(found["changed"])
        self.assertEqual(check(found["facts"], found["plan"]), [])
        self.assertEqual(found, answer(json.dumps(self.request(cards=1, events=events[::-1]))))
        self.assertEqual(read_plan(found["cards"][0]["build"]).find(key).key, key)

    def test_refusals_name_what_is_wrong(self) -> None:
        for more in ({"events": 7}, {"events": [{}]}, {"cards": "many"}, {"wrong": {"what": "x", "card": 1}}):
            with self.assertRaises(StrataError, msg=str(more)):
                answer(json.dumps(self.request(**more)))


if __name__ == "__main__":
    unittest.main()
