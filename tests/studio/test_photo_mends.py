"""What was found on a photograph, mended by hand: kept with the set, taken back, asked no more, refused where it means nothing."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
import shapely
from django.test import override_settings
from PIL import Image

from strata.formats.photo_seat import seat_of
from strata.tracing.straighten import in_picture
from strata.tracing.trace import said_of_openings
from studio.sets.history import core_set
from studio.sets.models import Import, LayerSet
from tests.studio.importing import ImportCase, photo


def shape_of(path: str) -> shapely.Polygon:
    """What path data of straight lines goes around first."""
    ring = path.split("Z", maxsplit=1)[0].lstrip("M").replace("L", " ").split()
    return shapely.Polygon([tuple(map(float, p.split(","))) for p in ring])


@override_settings(JOBS_AT_ONCE=True)
class MendedTest(ImportCase):
    def test_openings_mended_by_hand(self) -> None:
        """On the photograph, by two points; kept with the set, taken back, refused where they mean nothing."""
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        where = f"/api/imports/{body['id']}/again"
        sheet = body["sheets"][0]
        self.assertEqual(len(sheet["may_be_off"]), len(sheet["openings"]))

        def middle(path: str) -> tuple[list[float], list[float]]:
            points = [[float(v) for v in p.split(",")] for p in path[1:].split("Z", maxsplit=1)[0].split(" ")]
            low, high = (
                [min(v) for v in zip(*points, strict=True)],
                [max(v) for v in zip(*points, strict=True)],
            )
            across = (low[1] + high[1]) / 2
            return [low[0] - 9, across], [high[0] + 9, across]

        bridge = {"kind": "bridge", "points": middle(sheet["openings"][0])}
        count = len(sheet["openings"])

        def say(**values: Any) -> Any:
            return self.say(body["id"], {"at": 0, **values})

        done = say(retouches=[bridge]).json()
        self.assertEqual(done["state"], "ready")
        own = done["sheets"][0]["openings"]
        self.assertEqual(own[0], "")
        self.assertGreaterEqual(len(own), count + 2)
        self.assertEqual(
            done["draft"]["sheets"][0]["openings"],
            body["draft"]["sheets"][0]["openings"] + len(own) - count - 1,
        )
        # what came of it may be left out as any other
        less = say(dropped=[count]).json()
        self.assertEqual(less["draft"]["sheets"][0]["openings"], done["draft"]["sheets"][0]["openings"] - 1)
        self.refused(say(retouches=[bridge, {"kind": "pull", "points": [[1, 1], [5, 5]]}]), 400)
        self.refused(say(retouches=[{"kind": "draw", "points": [[1, 1], [5, 5]]}]), 400)
        self.refused(say(retouches=[{"kind": "pull", "points": [[1, 1], [5, 5], [9, 9]]}]), 400)
        self.refused(say(retouches=[{"kind": "erase", "points": [[1, 1], [5, 5]]}]), 400)
        after = self.client.get(f"/api/imports/{body['id']}").json()
        self.assertEqual(len(after["sheets"][0]["retouches"]), 1, "what was refused left nothing behind")
        back = say(retouches=[], dropped=[]).json()
        self.assertEqual(back["draft"]["sheets"][0]["openings"], body["draft"]["sheets"][0]["openings"])
        # an opening that comes of another mend is not left out because one before it was
        say(retouches=[bridge])
        say(dropped=[count, 0])
        self.assertEqual(say(retouches=[]).json()["sheets"][0]["dropped"], [0])
        self.assertEqual(say(retouches=[bridge]).json()["sheets"][0]["dropped"], [0])
        # at another size it is mended again, on the new reading
        larger = self.client.post(where, {"options": {"width_mm": 110.0, "height_mm": 142.35}}, format="json")
        self.assertEqual(len(larger.json()["sheets"][0]["retouches"]), 1)
        self.assertEqual(larger.json()["sheets"][0]["openings"][0], "")
        # with other edges, openings are counted anew
        wide = say(level=0.45).json()
        self.assertEqual(wide["sheets"][0]["retouches"], [])

    def test_where_no_opening_was_found_one_is_drawn(self) -> None:
        """A sheet like the table: its corners are shown by hand, and what nothing tells is drawn."""
        plain = np.full((900, 700, 3), 205, np.uint8)
        plain += np.random.default_rng(3).integers(0, 3, plain.shape, np.uint8)
        out = io.BytesIO()
        Image.fromarray(plain).save(out, "JPEG", quality=92)
        body = self.begin(("clear.jpg", out.getvalue()), width_mm=70.0, height_mm=90.0).json()
        where = f"/api/imports/{body['id']}/again"
        self.assertEqual((body["state"], body["sheets"][0]["openings"]), ("failed", []))
        corners = [[0, 0], [699, 0], [699, 899], [0, 899]]
        self.client.post(where, {"sheets": [{"at": 0, "corners": corners}]}, format="json")
        square = {"kind": "draw", "points": [[100, 100], [300, 100], [300, 400], [100, 400]]}
        done = self.client.post(where, {"sheets": [{"at": 0, "retouches": [square]}]}, format="json").json()
        self.assertEqual((done["state"], done["sheets"][0]["retouches"]), ("ready", [square]))
        self.assertFalse([w for w in done["left_out"] if "No opening" in w], "one is there now")
        kept = self.client.post(f"/api/imports/{body['id']}/keep").json()
        (opening,) = core_set(LayerSet.objects.get(pk=kept["id"])).openings.values()
        self.assertAlmostEqual(opening.polygon.area, 20 * 30, delta=6)

    def test_mends_that_do_not_fit_another_reading_are_let_go_and_it_is_said(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        row = Import.objects.get(pk=body["id"])
        corners = body["sheets"][0]["corners"]
        beside = [[corners[0][0] - 40, corners[0][1] - 40], [corners[0][0] - 20, corners[0][1] - 40]]
        row.sheets[0]["retouches"] = [{"kind": "pull", "points": beside}]
        row.save()
        sized = self.client.post(
            f"/api/imports/{row.pk}/again",
            {"options": {"width_mm": 110.0, "height_mm": 142.35}},
            format="json",
        ).json()
        self.assertEqual((sized["state"], sized["sheets"][0]["retouches"]), ("ready", []))
        self.assertTrue(any("mended by hand does not fit" in said for said in sized["left_out"]))

    def test_an_outline_is_fitted_to_the_edge_beside_it(self) -> None:
        """Drawn roughly around openings of a photograph: what is handed back lies on them, and nothing is changed by it."""
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        where = f"/api/imports/{body['id']}/fit"
        shown = [shape_of(path) for path in body["sheets"][0]["openings"]]
        for own in sorted(shown, key=lambda s: -s.area)[:6]:
            rough = shapely.simplify(shapely.buffer(own, 4, quad_segs=2), 3).exterior
            drawn = [list(p) for p in rough.coords][:-1]
            answer = self.client.post(where, {"sheet": 0, "points": drawn}, format="json")
            self.assertEqual(answer.status_code, 200, answer.content)
            found = shapely.Polygon(answer.json()["points"])
            self.assertGreater(found.intersection(own).area / found.union(own).area, 0.95)
        self.assertEqual(self.client.get(f"/api/imports/{body['id']}").json(), body)
        bare = [[30, 30], [60, 30], [60, 60], [30, 60]]
        refused = self.client.post(where, {"sheet": 0, "points": bare}, format="json")
        self.assertIn("No clear edge", refused.json()["sentence"])
        for wrong in ({"sheet": 7, "points": bare}, {"sheet": 0, "points": bare[:2]}, {"points": bare}, {"sheet": 0, "points": [[1e300, 2]] * 3}):  # fmt: skip
            self.refused(self.client.post(where, wrong, format="json"), 400)

    def test_what_a_glint_hides_is_asked_until_all_of_it_is_drawn_over_or_she_says_no_more(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        row = Import.objects.get(pk=body["id"])
        result = row.sheets[0]["result"]
        at = (44, 2, 64, 2, 64, 12, 44, 12), (80, 2, 90, 2, 90, 8, 80, 8)
        result |= {"blinded_mm": [[list(p)] for p in at], "blinded": ["M0,0 1,0 1,1Z", "M5,5 6,5 6,6Z"]}
        row.save()
        seat, size = seat_of(result), np.array([result["width_mm"], result["height_mm"]])

        def drawn(x0: float, x1: float) -> dict[str, Any]:
            corners = np.array([[x0, 2], [x1, 2], [x1, 12], [x0, 12]])
            return {"kind": "draw", "points": in_picture(seat, corners / size).round(2).tolist()}

        # one opening of it is drawn; another may be beside it
        one, other = drawn(44, 53), drawn(54, 63)
        half = self.say(body["id"], {"at": 0, "retouches": [one]}).json()
        self.assertEqual(len(half["sheets"][0]["blinded"]), 2)
        done = self.say(body["id"], {"at": 0, "retouches": [one, other]}).json()
        self.assertEqual(done["sheets"][0]["blinded"], ["M5,5 6,5 6,6Z"])

        def told(of: dict[str, Any]) -> list[str]:
            return [w for w in of["left_out"] if "blinds" in w]

        self.assertEqual(told(done), [f"Sheet 1: {w}" for w in said_of_openings(1, 0, 1)])
        # of the other she says that nothing is there; and takes that back
        there = in_picture(seat, np.array([[82, 4]]) / size).tolist()
        answers = [one, other, {"kind": "leave", "points": there * 2}]
        quiet = self.say(body["id"], {"at": 0, "retouches": answers}).json()
        self.assertEqual((quiet["sheets"][0]["blinded"], told(quiet)), ([], []))
        self.assertEqual(quiet["draft"]["sheets"][0]["openings"], done["draft"]["sheets"][0]["openings"])
        self.assertEqual(self.say(body["id"], {"at": 0, "retouches": answers[:2]}).json(), done)

    def test_a_place_that_is_an_opening_is_taken_in(self) -> None:
        body = self.ready(self.begin(("a.jpg", photo(1)), **self.SIZE))
        row = Import.objects.get(pk=body["id"])
        # as though the photograph had left one open there
        row.sheets[0]["result"] |= {
            "places_mm": [[[44, 2, 64, 2, 64, 12, 44, 12]]],
            "places": ["M0,0 1,0 1,1Z"],
        }
        row.save()
        seat = body["sheets"][0]["corners"]
        across, down = ([b - a for a, b in zip(seat[0], seat[i], strict=True)] for i in (1, 3))
        at = [seat[0][k] + 0.5 * across[k] + 0.05 * down[k] for k in (0, 1)]
        take = {"kind": "take", "points": [at, at]}
        done = self.say(body["id"], {"at": 0, "retouches": [take]}).json()
        count = [s["openings"] for s in (body["draft"]["sheets"][0], done["draft"]["sheets"][0])]
        self.assertEqual(count[1], count[0] + 1)
        self.assertEqual(done["sheets"][0]["places"], [], "it is an opening now")
        back = self.say(body["id"], {"at": 0, "retouches": []}).json()
        self.assertEqual(back["sheets"][0]["places"], ["M0,0 1,0 1,1Z"])
        far = {"kind": "take", "points": [seat[2], seat[2]]}
        self.refused(self.say(body["id"], {"at": 0, "retouches": [far]}), 400)
