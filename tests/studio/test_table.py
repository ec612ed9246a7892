"""The table over HTTP: what happened is added once, joined, planned on; nothing is lost and nothing asked for nothing."""

from __future__ import annotations

import random
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier
from typing import Any

from django.contrib.auth import get_user_model
from django.db import connection, connections
from django.test import TransactionTestCase
from django.test.utils import CaptureQueriesContext
from rest_framework.test import APIClient

from studio.bench.models import Event, Making
from studio.builds.management.commands.seed_demo import seed
from studio.builds.models import Colouring
from tests.studio.base import StudioTest
from tests.studio.table import BEGIN, address, done, event, left, tell, walk


class TableTest(StudioTest):
    def now(self, colouring: Colouring | None = None) -> dict[str, Any]:
        self.ada.__dict__.pop("_house", None)
        found: dict[str, Any] = self.client.get(address(colouring or self.good)).json()
        return found

    def test_it_goes_on_where_it_was_left(self) -> None:
        steps = self.now()["steps"]
        table = walk(self.client, self.good, 7)
        self.assertEqual((table["making"], table["changed"]), (1, False))
        self.assertEqual(left(table)[0]["key"], steps[7]["key"])
        self.assertEqual(self.now(), table)
        self.assertEqual([bool(s["done"]) for s in table["steps"][:9]], [True] * 7 + [False] * 2)

    def test_what_is_sent_twice_has_happened_once(self) -> None:
        steps = self.now()["steps"]
        sent = [done(s) for s in steps[:5]]
        first = tell(self.client, self.good, *sent).json()
        self.assertEqual(tell(self.client, self.good, *sent, *sent).json(), first)
        self.assertEqual(Event.objects.count(), 5)

    def test_two_devices_are_joined_in_whatever_order_they_come(self) -> None:
        steps = self.now()["steps"]
        one = [done(s, BEGIN + 60 * n) for n, s in enumerate(steps[:9])]
        other = [done(s, BEGIN + 60 * n + 5, f"other{n}") for n, s in enumerate(steps[4:14], 4)]
        tell(self.client, self.good, *other)
        table = tell(self.client, self.good, *one).json()
        self.assertEqual(left(table)[0]["key"], steps[14]["key"])
        self.assertFalse(table["changed"])
        self.assertEqual(table["questions"], [])

    def test_one_takes_back_what_the_other_does_not_know_of(self) -> None:
        steps = self.now()["steps"]
        tell(self.client, self.good, *[done(s, BEGIN + n, f"a{n}") for n, s in enumerate(steps[:3])])
        back = tell(
            self.client, self.good, event("undone", BEGIN + 9, of=["a2"]), done(steps[2], BEGIN + 5, "b2")
        )
        self.assertEqual(left(back.json())[0]["key"], steps[3]["key"])

    def test_two_hundred_steps_and_thirty_events_are_all_kept(self) -> None:
        self.edit(self.good, "set_cards", {"cards": 4})
        table, sent = self.now(), []
        for n, step in enumerate(table["steps"][:200]):
            sent.append(done(step, BEGIN + 60 * n))
        sent += [event("note", BEGIN + n, text=f"Note {n}") for n in range(30)]
        random.Random(3).shuffle(sent)
        for part in range(0, len(sent), 50):
            after = tell(self.client, self.good, *sent[part : part + 50]).json()
        self.assertEqual(sum(bool(s["done"]) for s in after["steps"]), min(200, len(table["steps"])))
        self.assertEqual(len(after["notes"]), 30)

    def test_only_two_truths_are_asked(self) -> None:
        table = walk(self.client, self.good, 8)
        key = next(s["pass_key"] for s in table["steps"] if s["kind"] == "ink")
        ways = [
            {**event("otherwise", BEGIN, card=1, **{"pass": key}, hand=h), "by": d}
            for h, d in (("light", "a"), ("heavy", "b"))
        ]
        asked = tell(self.client, self.good, *ways).json()["questions"]
        self.assertEqual([w["sentence"] for w in asked[0]["ways"]], ["light hand", "heavy hand"])
        settled = tell(self.client, self.good, event("undone", of=[ways[0]["key"]])).json()
        self.assertEqual(settled["questions"], [])

    def test_a_plan_changed_under_it_keeps_what_is_done(self) -> None:
        table = walk(self.client, self.good, 12)
        inked = {s["pass_key"] for s in table["steps"][:12] if s["kind"] == "ink"}
        open_pass = next(s["pass_key"] for s in reversed(table["steps"]) if s["kind"] == "ink")
        self.edit(self.good, "set_coats", {"pass": open_pass, "coats": 4})
        after = self.now()
        self.assertEqual(sum(bool(s["done"]) for s in after["steps"]), 12)
        self.assertFalse(inked & {s["pass_key"] for s in left(after)})
        self.assertIn(open_pass, {s["pass_key"] for s in left(after)})
        gone = next(iter(inked))
        self.edit(self.good, "remove_pass", {"pass": gone})
        self.assertEqual(self.now()["cards"][0]["laid"], len(inked), "what is on the card stays on it")

    def test_names_and_places_of_pads_move_nobody(self) -> None:
        before = walk(self.client, self.good, 6)
        self.client.patch(f"/api/inks/{self.ink.pk}", {"name": "My own", "place": "window"}, format="json")
        after = self.now()
        self.assertEqual([s["key"] for s in after["steps"]], [s["key"] for s in before["steps"]])
        self.assertFalse(after["changed"])

    def test_each_colouring_and_each_making_has_its_own(self) -> None:
        walk(self.client, self.good, 3)
        self.assertFalse(any(s["done"] for s in self.now(self.tried)["steps"]))
        second = walk(self.client, self.good, 0, making=2)
        self.assertEqual((second["making"], any(s["done"] for s in second["steps"])), (2, False))
        self.assertEqual(Making.objects.get(number=1).events.count(), 3)
        self.refused(tell(self.client, self.good, making=9))

    def test_nonsense_is_refused_and_nothing_of_it_kept(self) -> None:
        good = done(self.now()["steps"][0])
        for bad in ({"kind": "danced"}, {"at": "soon"}, {"key": 7}, {"body": []}, {"body": {"step": "x"}}):
            self.refused(tell(self.client, self.good, good, {**good, "key": "other", **bad}))
        self.assertEqual(Event.objects.count(), 0)

    def test_home_tells_the_next_step(self) -> None:
        table = walk(self.client, self.good, 1)
        cards = {b["id"]: b for b in self.client.get("/api/builds").json()}
        self.assertEqual(cards[self.good.build_id]["next_step"], left(table)[0]["sentence"])
        self.assertEqual(cards[self.tried.build_id]["next_step"], "Old Hedge is only wished for")

    def test_more_events_ask_the_database_no_more(self) -> None:
        def asked() -> int:
            self.now()
            self.ada.__dict__.pop("_house", None)
            with CaptureQueriesContext(connection) as queries:
                self.client.get(address(self.good))
            return len(queries)

        walk(self.client, self.good, 2)
        few = asked()
        walk(self.client, self.good, 20)
        self.assertEqual(asked(), few)

    def test_the_table_is_set_first(self) -> None:
        pull = self.now()["pull"]
        self.assertTrue(pull["pads"] and pull["sheets"] and pull["brushes"])
        places = [p["place"] for p in pull["pads"] if p["place"]]
        self.assertEqual(places, sorted(places), "as the hand goes through the drawer")
        short = self.now(self.tried)["pull"]
        self.assertIn("is only wished for", [p["missing"] for p in short["pads"]])


class WrongTest(StudioTest):
    def setUp(self) -> None:
        super().setUp()
        table = walk(self.client, self.good, 30)
        self.key = [s["pass_key"] for s in table["steps"][:30] if s["kind"] == "ink"][-2]

    def wrong(self, what: str, **more: Any) -> Any:
        body = {"what": what, "card": 1, "pass": self.key, **more}
        return self.client.post(f"{address(self.good)}/wrong", body, format="json")

    def test_every_way_on_is_taken_and_shown(self) -> None:
        pictures = set()
        for what, more in (
            ("forgot", {}), ("pale", {}), ("pad", {"ink": "sloe"}), ("slipped", {"dx": 2, "dy": 1}),
            ("smudged", {"dx": 4, "dy": 0}), ("spoilt", {}),
        ):  # fmt: skip
            told = self.wrong(what, **more)
            self.assertEqual(told.status_code, 200, told.content)
            way = told.json()["remedies"][0]
            events = [
                event(e["kind"], BEGIN + 9000, **e["body"]) for e in [*told.json()["events"], *way["events"]]
            ]
            table = tell(self.client, self.good, *events).json()
            self.assertTrue(left(table) and table["changed"], what)
            card = next(c for c in table["cards"] if not c["spoilt"])
            pictures.add(card["picture"])
            for address_of in ("painting?width=120&after=3", "painting?width=120", "build-up?width=120"):
                join = "&" if "?" in address_of else "?"
                shown = self.client.get(f"{address(self.good)}/{address_of}{join}card={card['number']}")
                self.assertEqual(shown.status_code, 200)
            if what != "forgot":
                self.assertEqual(set(table["last_told"]["keys"]) - {e["key"] for e in events}, set(), what)
                self.assertTrue(table["last_told"]["sentence"])
            back = event("undone", BEGIN + 9001, of=[e["key"] for e in events])
            again = tell(self.client, self.good, back).json()
            self.assertFalse(again["changed"], "all of it can be taken back")
        self.assertGreaterEqual(len(pictures), 5)

    def test_what_cannot_be_is_refused(self) -> None:
        for what, more in (
            ("danced", {}),
            ("pad", {}),
            ("slipped", {}),
            ("pale", {"pass": "zz"}),
            ("pale", {"card": 7}),
        ):
            self.assertGreaterEqual(self.wrong(what, **more).status_code, 400, what)


class AtOnceTest(TransactionTestCase):
    def test_two_devices_in_the_same_moment(self) -> None:
        maker = get_user_model().objects.create_user(username="ada")
        seed(maker)
        row = Colouring.objects.get(build__name__startswith="Thank-you")
        client = APIClient()
        client.force_authenticate(maker)
        steps = client.get(address(row)).json()["steps"]
        gate = Barrier(2)

        def device(name: str) -> int:
            own = APIClient()
            own.force_authenticate(get_user_model().objects.get(pk=maker.pk))
            sent = [done(s, BEGIN + n, f"{name}{n}") for n, s in enumerate(steps[:6])]
            try:
                gate.wait()
                return int(tell(own, row, *sent).status_code)
            finally:
                connections.close_all()

        with ThreadPoolExecutor(2) as pool:
            self.assertEqual(list(pool.map(device, ("a", "b"))), [200, 200])
        self.assertEqual(Event.objects.count(), 12)
        self.assertEqual(sum(bool(s["done"]) for s in client.get(address(row)).json()["steps"]), 6)
