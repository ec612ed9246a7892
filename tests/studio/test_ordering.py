"""The order of work over HTTP: at once, looked for, taken, wished for, explained; for one card and for several."""

from typing import Any
from unittest.mock import patch

from studio.builds import ordering
from studio.builds.models import Colouring
from studio.builds.order_views import order_json
from studio.jobs.models import Job
from tests.studio.base import StudioTest


class OrderingTest(StudioTest):
    def setUp(self) -> None:
        super().setUp()
        budget = patch.object(ordering, "BUDGET", 0.3)
        budget.start()
        self.addCleanup(budget.stop)

    def order(self, colouring: Colouring) -> Any:
        answer = self.client.get(f"/api/colourings/{colouring.pk}/order")
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer.json()

    def searched(self, colouring: Colouring) -> Any:
        answer = self.client.post(f"/api/colourings/{colouring.pk}/order/search")
        self.assertEqual(answer.status_code, 200, answer.content)
        return self.order(colouring)

    def take(self, colouring: Colouring, taken: bool) -> Any:
        return self.client.put(f"/api/colourings/{colouring.pk}/order/taken", {"taken": taken}, format="json")

    def test_a_better_order_is_found_taken_and_given_back(self) -> None:
        before = self.order(self.good)
        self.assertIsNone(before["better"])
        self.assertEqual(before["words"], "", "nothing is said of a plan that nobody has searched beyond")
        state = self.client.get(f"/api/colourings/{self.good.pk}").json()
        self.assertAlmostEqual(before["minutes"], state["sequence"]["minutes"], delta=0.1)
        found = self.searched(self.good)
        self.assertEqual(found["job"]["state"], "done")
        self.assertFalse(found["better"]["taken"])
        self.assertEqual(found["visits"], before["visits"], "nothing changes until it is taken")
        wet = state["wet_key"]
        taken = self.take(self.good, True).json()
        self.assertTrue(taken["better"]["taken"])
        self.assertIn("shortest possible", taken["words"].lower())
        after = self.client.get(f"/api/colourings/{self.good.pk}").json()
        self.assertAlmostEqual(after["sequence"]["minutes"], taken["minutes"], delta=0.1)
        self.assertEqual(after["wet_key"], wet, "the picture stays")
        back = self.take(self.good, False).json()
        self.assertEqual(back["visits"], before["visits"])

    def test_it_holds_for_the_plan_that_it_was_found_for(self) -> None:
        self.searched(self.good)
        self.take(self.good, True)
        self.edit(self.good, "set_coats", {"pass": "p1", "coats": 3})
        moved = self.order(self.good)
        self.assertIsNone(moved["better"])
        self.assertIsNone(moved["job"])
        self.refused(self.take(self.good, True), 400)
        self.client.post(
            f"/api/colourings/{self.good.pk}/undo",
            {"revision": moved_revision(self, self.good)},
            format="json",
        )
        self.assertTrue(self.order(self.good)["better"]["taken"], "undone, it is there again")

    def test_several_cards_are_told_once(self) -> None:
        one = self.order(self.good)["minutes"]
        self.edit(self.good, "set_cards", {"cards": 4})
        four = self.order(self.good)
        self.assertEqual(four["cards"], 4)
        self.assertLess(four["minutes"], 4 * one)
        self.assertAlmostEqual(four["one_by_one"], 4 * one, delta=0.5)
        rest = [v for v in four["visits"] if len(v["cards"]) == 3]
        self.assertTrue(rest, "what is the same on the three that follow is one visit")
        self.assertTrue(any(v["cards"] == [1] for v in four["visits"]), "one card leads")
        self.edit(self.good, "wish_order", {"lead": False})
        self.assertTrue(any(len(v["cards"]) == 4 for v in self.order(self.good)["visits"]))
        found = self.searched(self.good)
        self.assertLessEqual(self.take(self.good, True).json()["minutes"], found["minutes"] + 0.1)

    def test_wishes_are_kept_undone_and_shown(self) -> None:
        self.edit(self.good, "wish_order", {"first": "cleanings"})
        self.edit(self.good, "add_job", {"name": "Fold the bases", "minutes": 3})
        order = self.order(self.good)
        self.assertEqual(
            (order["wishes"]["first"], order["jobs"][0]["name"]), ("cleanings", "Fold the bases")
        )
        self.assertIn("Fold the bases.", [s["sentence"] for v in order["visits"] for s in v["steps"]])
        self.edit(self.good, "drop_job", {"key": order["jobs"][0]["key"]})
        self.assertEqual(self.order(self.good)["jobs"], [])

    def test_a_pin_that_the_craft_forbids_is_refused_with_the_rule(self) -> None:
        answer = self.client.post(
            f"/api/colourings/{self.good.pk}/edits",
            {
                "kind": "pin_order",
                "values": {"before": "p2", "after": "p1"},
                "revision": moved_revision(self, self.good),
                "edit_key": "pin",
            },
            format="json",
        )
        self.refused(answer, 400)
        self.assertIn("impossible", answer.json()["sentence"])
        self.assertEqual(self.order(self.good)["pins"], [])

    def test_why_and_what_would_follow(self) -> None:
        places = [v["first"] + i for v in self.order(self.good)["visits"] for i, _ in enumerate(v["steps"])]
        told = [self.client.get(f"/api/colourings/{self.good.pk}/order/why/{n}").json() for n in places[:14]]
        self.assertTrue(any(t["forbids"] for t in told))
        self.assertTrue(any(t["cost"] is not None for t in told))
        self.refused(self.client.get(f"/api/colourings/{self.good.pk}/order/why/9999"), 400)

    def test_a_search_is_begun_once_and_can_be_stopped(self) -> None:
        bare = self.fresh()
        self.assertEqual((self.order(bare)["visits"], self.order(bare)["minutes"]), ([], 0))
        self.refused(self.client.post(f"/api/colourings/{bare.pk}/order/search"), 400)
        with patch.object(ordering.queue, "_submit_when_certain"):
            for _ in range(2):
                self.client.post(f"/api/colourings/{self.good.pk}/order/search")
        self.assertEqual(Job.objects.filter(kind="order").count(), 1)
        stopped = self.client.delete(f"/api/colourings/{self.good.pk}/order/search").json()
        self.assertEqual(stopped["job"]["state"], "stopped")
        self.assertIsNone(stopped["better"])

    def test_a_search_that_ends_while_the_answer_is_made_is_told_with_what_it_found(self) -> None:
        """Told as ended and without it, nobody would ask again."""
        before = Colouring.objects.select_related("build__owner").get(pk=self.good.pk)
        self.searched(self.good)
        told = order_json(before)
        self.assertEqual(told["job"]["state"], "done")
        self.assertIsNotNone(told["better"])


def moved_revision(test: OrderingTest, colouring: Colouring) -> int:
    colouring.refresh_from_db()
    return colouring.revision
