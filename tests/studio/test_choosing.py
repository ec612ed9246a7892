"""Proposals, families, colourings against one another, palettes and pictures' colours, over HTTP."""

import io
import json
from typing import Any

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from studio.builds.models import Change, Colouring
from studio.inks.models import Ink, Stock
from studio.inks.services import house
from tests.studio.base import StudioTest


class ChoosingTest(StudioTest):
    def proposal(self, build: Colouring, **values: Any) -> Any:
        return self.client.post(
            f"/api/colourings/{build.pk}/proposals", {"mood": "named", **values}, format="json"
        )

    def test_a_proposal_is_worn_by_one_change_and_undone_by_one(self) -> None:
        fresh = self.fresh()
        before = Change.objects.count()
        answer = self.proposal(fresh)
        self.assertEqual(answer.status_code, 200, answer.content)
        found = answer.json()
        self.assertEqual(Change.objects.count(), before, "nothing is kept by asking")
        self.assertEqual({w["element"] for w in found["worn"]} & {"lantern", "reeds"}, {"lantern", "reeds"})
        self.assertTrue(all(w["reason"] and w["pads"] for w in found["worn"]))
        self.edit(fresh, "several", {"edits": found["edits"]})
        state = self.client.get(f"/api/colourings/{fresh.pk}").json()
        self.assertEqual(
            [f["sentence"] for f in state["findings"] if f["severity"] in ("stop", "look", "note")], []
        )
        self.client.post(
            f"/api/colourings/{fresh.pk}/undo",
            {"revision": state["revision"], "edit_key": "u"},
            format="json",
        )
        state = self.client.get(f"/api/colourings/{fresh.pk}").json()
        self.assertEqual([r for e in state["elements"] for r in e["rungs"]], [])

    def test_dry_pads_and_wishes_are_never_proposed(self) -> None:
        Ink.objects.filter(owner=self.ada, family="Duckweed").update(state="dry")
        self.ada.__dict__.pop("_house", None)
        at_hand = house(self.ada).at_hand
        for mood in ("named", "vivid"):
            pads = {p["key"] for p in self.proposal(self.fresh(), mood=mood).json()["pads"]}
            self.assertLessEqual(pads, at_hand)

    def test_wishes_are_checked_and_other_peoples_colourings_are_not_there(self) -> None:
        self.refused(self.proposal(self.good, mood="gloomy"), 400)
        self.refused(self.proposal(self.good, most_pads=0), 400)
        bos = Colouring.objects.filter(build__owner=self.makers["bo"]).first()
        assert bos is not None
        self.assertEqual(self.proposal(bos).status_code, 404)
        self.assertEqual(self.client.get(f"/api/colourings/{self.good.pk}/against/{bos.pk}").status_code, 404)
        kept = self.proposal(self.good, keep=["lantern", "water"]).json()
        self.assertFalse({"lantern", "water"} & {w["element"] for w in kept["worn"]})

    def test_two_colourings_are_told_apart_in_words(self) -> None:
        made = self.client.post(
            f"/api/builds/{self.good.build_id}/colourings",
            {"copy": self.good.pk, "name": "Again"},
            format="json",
        ).json()
        address = f"/api/colourings/{self.good.pk}/against/{made['id']}"
        self.assertEqual(self.client.get(address).json()["sentences"], [])
        other = Colouring.objects.get(pk=made["id"])
        other.build.owner = self.ada
        self.edit(
            other, "wear_family", {"elements": ["bud"], "pads": ["lamp-haze", "cabin-lamp"], "pass": "n-"}
        )
        (said,) = self.client.get(address).json()["sentences"]
        self.assertRegex(said, r"^Bud: .+ here, Lamp Haze and Cabin Lamp there\.$")
        rungs = self.client.get(f"/api/colourings/{other.pk}").json()["elements"]
        bud = next(e["rungs"] for e in rungs if e["name"] == "bud")
        self.edit(self.good, "take_part", {"element": "bud", "pass": "t-", "passes": bud})
        self.assertEqual(self.client.get(address).json()["sentences"], [])

    def test_a_palette_goes_out_and_comes_in_again(self) -> None:
        state = self.client.get(f"/api/colourings/{self.good.pk}").json()
        worn = {
            e["name"]: [(r["sheet"], r["ink"], r["coats"]) for r in e["rungs"]] for e in state["elements"]
        }
        gpl = self.client.get(f"/api/colourings/{self.good.pk}/palette.gpl").content.decode()
        self.assertTrue(gpl.startswith("GIMP Palette"))
        self.assertIn("lantern: ", gpl)
        self.assertEqual(self.client.get(f"/api/colourings/{self.good.pk}/palette.exe").status_code, 404)
        strip = self.client.get(f"/api/colourings/{self.good.pk}/palette.pdf").content
        self.assertTrue(strip.startswith(b"%PDF"))
        self.assertEqual(strip, self.client.get(f"/api/colourings/{self.good.pk}/palette.pdf").content)
        fresh = self.fresh()
        for kind in ("json", "csv"):
            data = self.client.get(f"/api/colourings/{self.good.pk}/palette.{kind}").content
            answer = self.client.post(
                f"/api/colourings/{fresh.pk}/palette", {"file": SimpleUploadedFile(f"p.{kind}", data)}
            )
            self.assertEqual(answer.status_code, 200, answer.content)
            found = answer.json()
            self.assertTrue(any("for Under the Bridge" in r for r in found["remarks"]), "that pad is dry")
            self.edit(fresh, "several", {"edits": found["edits"]})
            again = self.client.get(f"/api/colourings/{fresh.pk}").json()
            now = {
                e["name"]: [(r["sheet"], r["ink"], r["coats"]) for r in e["rungs"]] for e in again["elements"]
            }
            for name in ("lantern", "upper koi", "water"):
                self.assertEqual(sorted(now[name]), sorted(worn[name]), (kind, name))

    def test_palettes_that_are_none_are_refused(self) -> None:
        for data in (
            b"",
            b"{}",
            b"\xff\xfe",
            b"element,sheet\nx,y\n",
            json.dumps({"format": "other"}).encode(),
        ):
            file = SimpleUploadedFile("p.json", data)
            answer = self.client.post(f"/api/colourings/{self.good.pk}/palette", {"file": file})
            self.assertEqual(answer.status_code, 400, data)
        self.assertEqual(self.client.post(f"/api/colourings/{self.good.pk}/palette").status_code, 400)

    def test_a_picture_gives_colours_and_nonsense_a_sentence(self) -> None:
        picture = np.full((240, 320, 3), (40, 130, 140), np.uint8)
        picture[:, :100] = (200, 60, 70)
        out = io.BytesIO()
        Image.fromarray(picture).save(out, "PNG")
        answer = self.client.post(
            "/api/picture-colours", {"file": SimpleUploadedFile("p.png", out.getvalue())}
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual([c["share"] > 0.5 for c in answer.json()], [True, False])
        bad = self.client.post(
            "/api/picture-colours", {"file": SimpleUploadedFile("p.png", b"not a picture")}
        )
        self.refused(bad, 400)

    def test_the_finish_of_a_card_reaches_its_swatches(self) -> None:
        white = Stock.objects.get(owner=self.ada, name="White smooth")
        self.ada.__dict__.pop("_house", None)
        self.assertEqual({s.finish for s in house(self.ada).inks["campion"].swatches}, {"smooth"})
        answer = self.client.patch(
            f"/api/stocks/{white.pk}", {"finish": "coated", "revision": 10**6, "edit_key": "f"}, format="json"
        )
        self.assertEqual(answer.status_code, 200, answer.content)
        self.ada.__dict__.pop("_house", None)
        self.assertEqual({s.finish for s in house(self.ada).inks["campion"].swatches}, {"coated"})
