"""Places of a photograph that hands answer, over drawn examples: nothing that was answered is asked again, whatever else is done."""

from __future__ import annotations

import math
import unittest

import shapely
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon

from strata.tracing.retouched import Retouch, retouched, unanswered

PLACES = [shapely.box(x, 0, x + 6, 4) for x in (0, 10, 20)]
BLINDED = [shapely.box(x, 20, x + 8, 28) for x in (0, 12, 24)]
# far enough from each other that a point means one
OPENINGS = [shapely.box(40, 0, 44, 4)]


def inside(shape: Polygon) -> st.SearchStrategy[tuple[float, float]]:
    x0, y0, x1, y1 = shape.bounds
    within = (st.floats(lo + 0.2, hi - 0.2) for lo, hi in ((x0, x1), (y0, y1)))
    return st.tuples(*within)


def press(kind: str, at: tuple[float, float]) -> Retouch:
    if kind == "draw":
        x, y = at
        return Retouch(
            "draw", (x - 0.2, y - 0.2), (x - 0.2, y + 0.2), ((x + 0.2, y - 0.2), (x + 0.2, y + 0.2))
        )
    return Retouch("take" if kind == "take" else "leave", at, at)


taken = st.sampled_from(PLACES).flatmap(inside).map(lambda at: press("take", at))
answer = st.tuples(
    st.sampled_from(["draw", "leave"]), st.sampled_from([*PLACES, *BLINDED]).flatmap(inside)
).map(lambda said: press(*said))
anywhere = st.tuples(st.just("leave"), st.tuples(st.floats(-3, 36), st.floats(-3, 31))).map(
    lambda said: press(*said)
)
retouches = st.lists(st.one_of(taken, answer, anywhere), max_size=8)


def left(said: list[Retouch]) -> tuple[set[int], set[int]]:
    places, blinded = unanswered(said, PLACES, BLINDED)
    return set(places), set(blinded)


class PlacesAnsweredTest(unittest.TestCase):
    @given(retouches, st.one_of(taken, answer, anywhere))
    def test_one_more_answer_never_asks_again(self, said: list[Retouch], more: Retouch) -> None:
        for before, after in zip(left(said), left([*said, more]), strict=True):
            self.assertLessEqual(after, before)
            self.assertLessEqual(len(before - after), 1, "and answers one place at the most")

    @given(retouches)
    def test_in_whatever_order_and_however_often(self, said: list[Retouch]) -> None:
        self.assertEqual(left(said), left(said[::-1]))
        self.assertEqual(left(said), left(said + said))

    @given(retouches)
    def test_what_was_answered_is_where_it_was_answered(self, said: list[Retouch]) -> None:
        """Counted here from the sides of boxes: half a millimetre beside one still means it. A glint may hide more than
        the small opening that was drawn in it."""

        def open_in(of: list[Polygon], answers: list[Retouch]) -> set[int]:
            found = set()
            for i, (x0, y0, x1, y1) in enumerate(p.bounds for p in of):
                away = [
                    math.hypot(max(x0 - x, x - x1, 0), max(y0 - y, y - y1, 0))
                    for x, y in (r.start for r in answers)
                ]
                if min(away, default=math.inf) > 0.5:
                    found.add(i)
            return found

        spoken = [r for r in said if r.kind != "draw"]
        self.assertEqual(left(said), (open_in(PLACES, said), open_in(BLINDED, spoken)))

    @given(st.lists(st.floats(0.5, 3), min_size=1, max_size=6), st.floats(1, 7))
    def test_what_a_glint_hides_is_asked_until_little_of_it_is_bare(
        self, wide: list[float], tall: float
    ) -> None:
        """Counted here from strips side by side, each with a bridge to the right of it and half of one above."""
        said, x, over = [], 0.0, 0.0
        for own in wide:
            if x + own > 8:
                break
            corners = [(x, 20), (x, 20 + tall), (x + own, 20 + tall), (x + own, 20)]
            said.append(Retouch("draw", corners[0], corners[-1], tuple(corners[1:-1])))
            x += own + 0.6
            # a round end of what lies around it is less than its corner
            over = min(8.0, x) * min(8.0, tall + 0.6)
        bare = 1 - over / 64
        if abs(bare - 0.15) > 0.02:
            self.assertEqual(0 in left(said)[1], bare > 0.15)

    @given(retouches)
    def test_nothing_comes_of_saying_that_nothing_is_there(self, said: list[Retouch]) -> None:
        told = retouched(OPENINGS, said, PLACES)
        plain = retouched(OPENINGS, [r for r in said if r.kind != "leave"], PLACES)
        self.assertEqual([s and s.wkb for s in told], [s and s.wkb for s in plain])
        self.assertEqual(told[0], OPENINGS[0])
