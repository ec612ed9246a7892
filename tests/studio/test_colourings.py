"""Several colourings of one build: begun as copies, each with a head, a history and a table of its own."""

from __future__ import annotations

from typing import Any

from strata.picture import fields, stacks
from studio.builds import looking
from studio.builds.models import Build, Colouring
from tests.studio.base import StudioTest


class ColouringTest(StudioTest):
    def copy(self, name: str = "On black", of: Colouring | None = None) -> Colouring:
        of = of or self.good
        answer = self.client.post(
            f"/api/builds/{self.good.build_id}/colourings", {"name": name, "copy": of.pk}, format="json"
        )
        self.assertEqual(answer.status_code, 201, answer.content)
        return Colouring.objects.get(pk=answer.json()["id"])

    def state(self, row: Colouring) -> dict[str, Any]:
        found: dict[str, Any] = self.client.get(f"/api/colourings/{row.pk}").json()
        return found

    def test_a_copy_looks_the_same_and_goes_its_own_way(self) -> None:
        other = self.copy()
        one, two = self.state(self.good), self.state(other)
        self.assertEqual(one["picture_key"], two["picture_key"])
        self.assertEqual([e["name"] for e in one["elements"]], [e["name"] for e in two["elements"]])
        self.assertIn("On black", {c["name"] for c in one["colourings"]})
        self.assertEqual(len(one["colourings"]), 2)
        self.edit(other, "set_stock", {"stock": "black"})
        self.assertEqual(self.state(self.good)["picture_key"], one["picture_key"])
        self.assertNotEqual(self.state(other)["picture_key"], two["picture_key"])
        self.assertEqual(self.state(other)["stock"], "black")
        self.assertEqual(self.state(self.good)["stock"], one["stock"])

    def test_materials_belong_to_the_build_unless_a_colouring_has_its_own(self) -> None:
        other = self.copy()
        self.edit(other, "set_stock", {"stock": "black"})
        values = looking.stored(Colouring.objects.get(pk=other.pk))
        self.assertEqual(values["materials"]["stock"], "black")
        plan = looking.plan_of(Colouring.objects.get(pk=other.pk))
        self.assertEqual(plan.register, looking.plan_of(self.good).register)

    def test_histories_are_apart(self) -> None:
        self.edit(self.good, "set_cards", {"cards": 9})
        other = self.copy()
        self.edit(other, "set_cards", {"cards": 12})
        other.refresh_from_db()
        for _ in range(2):
            answer = self.client.post(
                f"/api/colourings/{other.pk}/undo", {"revision": other.revision}, format="json"
            )
            other.refresh_from_db()
        self.refused(answer, 400)
        self.assertEqual(looking.plan_of(Colouring.objects.get(pk=self.good.pk)).cards, 9)

    def test_renamed_put_away_and_back(self) -> None:
        other = self.copy()
        path = f"/api/colourings/{other.pk}"
        self.assertEqual(self.client.patch(path, {"name": "At night"}, format="json").status_code, 200)
        self.assertIn("At night", str(self.state(self.good)["colourings"]))
        self.refused(self.client.patch(path, {"name": "  "}, format="json"))
        self.assertEqual(self.client.delete(path).status_code, 204)
        self.refused(self.client.get(path), 404)
        self.assertNotIn("At night", str(self.state(self.good)["colourings"]))
        self.assertEqual(self.client.post(f"{path}/back").status_code, 204)
        self.assertIn("At night", str(self.state(self.good)["colourings"]))

    def test_the_last_one_stays(self) -> None:
        self.refused(self.client.delete(f"/api/colourings/{self.good.pk}"))
        other = self.copy()
        self.assertEqual(self.client.delete(f"/api/colourings/{self.good.pk}").status_code, 204)
        self.refused(self.client.delete(f"/api/colourings/{other.pk}"))
        home = next(b for b in self.client.get("/api/builds").json() if b["id"] == self.good.build_id)
        self.assertEqual(home["colouring_id"], other.pk)

    def test_of_another_build_or_another_maker(self) -> None:
        path = f"/api/builds/{self.good.build_id}/colourings"
        self.refused(self.client.post(path, {"name": "x", "copy": self.tried.pk}, format="json"), 404)
        self.refused(self.client.post(path, {"name": "", "copy": self.good.pk}, format="json"))
        bos = Colouring.objects.filter(build__owner=self.makers["bo"])[0]
        self.refused(self.client.post(path, {"name": "x", "copy": bos.pk}, format="json"), 404)
        foreign = f"/api/builds/{bos.build_id}/colourings"
        self.refused(self.client.post(foreign, {"name": "x", "copy": self.good.pk}, format="json"), 404)

    def test_home_shows_a_build_once_with_what_was_worked_on_last(self) -> None:
        other = self.copy()
        self.edit(other, "set_cards", {"cards": 3})
        builds = [b for b in self.client.get("/api/builds").json() if b["id"] == self.good.build_id]
        self.assertEqual(len(builds), 1)
        self.assertEqual(Build.objects.filter(owner=self.ada).count(), 6)


class KeyTest(StudioTest):
    """A picture has a key of what makes it, and of nothing else."""

    def key(self) -> str:
        self.ada.__dict__.pop("_house", None)
        row = Colouring.objects.select_related("build__owner").get(pk=self.good.pk)
        row.build.owner.__dict__.pop("_house", None)
        return looking.key_of(row)

    def patch(self, key: str, **values: Any) -> None:
        from studio.inks.models import Ink

        pk = Ink.objects.get(owner=self.ada, key=key).pk
        answer = self.client.patch(f"/api/inks/{pk}", values, format="json")
        self.assertEqual(answer.status_code, 200, answer.content)

    def test_notes_names_and_places_change_no_picture(self) -> None:
        before = self.key()
        used = {p["ink"] for p in looking.stored(self.good)["passes"]}
        ink = sorted(used)[0]
        self.patch(ink, notes="a favourite", place="on the sill")
        self.patch(ink, name="Another name")
        self.assertEqual(self.key(), before)

    def test_a_pad_that_it_does_not_use_changes_nothing(self) -> None:
        before = self.key()
        used = {p["ink"] for p in looking.stored(self.good)["passes"]}
        self.assertNotIn("sloe", used)
        self.patch("sloe", chemistry="pigment")
        self.assertEqual(self.key(), before)

    def test_what_makes_colour_or_drying_does(self) -> None:
        from studio.inks.models import Ink, Stock

        used = sorted({p["ink"] for p in looking.stored(self.good)["passes"]})[0]
        before = self.key()
        self.patch(used, dry_minutes=33)
        dried = self.key()
        self.assertNotEqual(dried, before)
        swatches = Ink.objects.get(owner=self.ada, key=used).swatches
        self.patch(used, swatches=[{**swatches[0], "lab": [40, 3, 3]}])
        measured = self.key()
        self.assertNotEqual(measured, dried)
        stock = Stock.objects.get(owner=self.ada, key=looking.plan_of(self.good).stock)
        self.client.patch(f"/api/stocks/{stock.pk}", {"lab": [90, 0, 3]}, format="json")
        self.assertNotEqual(self.key(), measured)

    def test_a_later_way_of_painting_gives_every_picture_another_key(self) -> None:
        from unittest.mock import patch

        before = self.key()
        with patch.object(looking, "PICTURES", looking.PICTURES + 1):
            self.assertNotEqual(self.key(), before)

    def test_a_clock_set_back_hides_no_change(self) -> None:
        """Versions are numbers that only grow: not times, and not how many there are."""
        from datetime import UTC, datetime
        from unittest.mock import patch

        before = self.key()
        used = sorted({p["ink"] for p in looking.stored(self.good)["passes"]})[0]
        with patch("django.utils.timezone.now", return_value=datetime(2001, 1, 1, tzinfo=UTC)):
            self.patch(used, dry_minutes=44)
        self.assertNotEqual(self.key(), before)
        state = self.client.get(f"/api/colourings/{self.good.pk}").json()
        self.assertEqual(state["picture_key"], self.key())

    def test_whoever_looked_holds_no_picture(self) -> None:
        """Maps and fields are megabytes: a set moved about for an evening would fill the computer with them."""
        import gc
        import weakref

        seen = looking.outlook(self.good)
        view = seen.view(150)
        before = view.finished.tobytes()
        held = [weakref.ref(view.stacks), weakref.ref(view.layers[0].field.values)]
        del view
        for kept in (stacks._STACKS, fields._FIELDS):
            kept.clear()
        gc.collect()
        self.assertEqual([one() for one in held], [None, None])
        self.assertIs(looking.outlook(self.good), seen)
        self.assertEqual(seen.view(150).finished.tobytes(), before)
