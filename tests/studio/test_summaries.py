"""Home, kept build by build: true after every change that it tells of, and not worked out anew after any other."""

from __future__ import annotations

from typing import Any
from unittest.mock import patch

from studio.builds import figures as figures_of
from studio.builds import summaries
from studio.builds.history import rename_build
from studio.builds.looking import stored
from studio.inks.models import Ink
from tests.studio.base import StudioTest


class SummariesTest(StudioTest):
    def home(self) -> dict[int, dict[str, Any]]:
        return {b["colouring_id"]: b for b in self.client.get("/api/builds").json()}

    def worked_out(self) -> int:
        """How many builds are worked out for the next look at Home."""
        with patch.object(summaries, "_told", side_effect=summaries._told) as told:
            self.home()
        return told.call_count

    def used(self) -> Ink:
        key = stored(self.good)["passes"][0]["ink"]
        return Ink.objects.get(owner=self.ada, key=key)

    def pad(self, ink: Ink, **values: Any) -> None:
        answer = self.client.patch("/api/inks", {"ids": [ink.pk], "values": values}, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)

    def test_a_pad_that_runs_dry_is_missed_at_once(self) -> None:
        self.home()
        ink = self.used()
        self.pad(ink, state="dry")
        self.assertIn(ink.name, self.home()[self.good.pk]["next_step"])
        self.client.post("/api/drawer/undo", {}, format="json")
        self.assertNotIn(ink.name, self.home()[self.good.pk]["next_step"])

    def test_a_pad_that_no_build_uses_changes_nothing(self) -> None:
        self.home()
        self.assertEqual(self.worked_out(), 0)
        used = {
            k
            for c in summaries.Colouring.objects.filter(build__owner=self.ada)
            for p in stored(c)["passes"]
            for k in (p["ink"], *p.get("more", []))
        }
        other = Ink.objects.filter(owner=self.ada).exclude(key__in=used).first()
        assert other is not None
        self.pad(other, place="another shelf")
        self.assertEqual(self.worked_out(), 0)
        self.pad(self.used(), place="another shelf")
        self.assertEqual(self.worked_out(), 0, "where a pad lies is nothing that a build tells of")

    def test_edits_names_and_undo_are_seen(self) -> None:
        before = self.home()[self.good.pk]
        key = stored(self.good)["passes"][0]["key"]
        self.assertEqual(self.edit(self.good, "set_coats", {"pass": key, "coats": 3}).status_code, 200)
        after = self.home()[self.good.pk]
        self.assertNotEqual(before["picture_key"], after["picture_key"])
        self.assertIn("3 coats", after["undo"])
        self.good.refresh_from_db()
        self.client.post(
            f"/api/colourings/{self.good.pk}/undo", {"revision": self.good.revision}, format="json"
        )
        again = self.home()[self.good.pk]
        self.assertEqual(again["picture_key"], before["picture_key"])
        self.assertIn("3 coats", again["redo"])
        rename_build(self.good.build, "For the lock keepers")
        self.assertEqual(self.home()[self.good.pk]["name"], "For the lock keepers")

    def test_what_was_worked_out_for_a_look_is_not_worked_out_for_home(self) -> None:
        """By another process either: it keeps nothing of what this one has found."""
        self.home()
        key = stored(self.good)["passes"][0]["key"]
        self.edit(self.good, "set_coats", {"pass": key, "coats": 3})
        self.assertEqual(self.client.get(f"/api/colourings/{self.good.pk}").status_code, 200)
        summaries._TOLD.clear()
        with patch.object(figures_of, "outlook", side_effect=AssertionError("worked out anew")):
            self.assertIn("3 coats", self.home()[self.good.pk]["undo"])

    def test_another_makers_home_is_her_own(self) -> None:
        self.home()
        self.client.force_authenticate(self.makers["bo"])
        mine = set(self.home())
        self.assertNotIn(self.good.pk, mine)

    def test_after_an_upgrade_it_is_caught_up_before_anybody_looks(self) -> None:
        """Other rules: what is kept is true no more. Worked out ahead, one by one, as far as there is time."""
        live = set(self.home())
        with patch.object(figures_of, "_rules", return_value="of another version"):
            ends = iter([False, True])
            self.assertEqual(summaries.catch_up(lambda: next(ends)), 1)
            self.assertGreaterEqual(summaries.catch_up(), len(live))
            summaries._TOLD.clear()
            with patch.object(figures_of, "_worked_out") as anew:
                self.assertEqual(set(self.home()), live)
            anew.assert_not_called()
        # and what is known is not worked out again
        with patch.object(figures_of, "_rules", return_value="of another version"):
            with patch.object(figures_of, "_worked_out") as anew:
                summaries.catch_up()
            anew.assert_not_called()
