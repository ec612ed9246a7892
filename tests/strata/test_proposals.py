"""Whole colourings proposed: without a stop, readable, unlike one another, and better than what chance or greed finds."""

import itertools
import random
import unittest
from functools import cache

import numpy as np

from strata.advice import advise
from strata.errors import BadValue
from strata.optics.colour import difference, lab_of_hex
from strata.order import dispatch
from strata.plan import Scene
from strata.proposals import MOODS, Proposal, Wishes, propose
from strata.proposals.bench import bench_of
from strata.proposals.moods import mood_costs
from strata.proposals.pictured import colours_of
from strata.proposals.propose import difference_of
from strata.proposals.search import best, bettered
from strata.proposals.sight import DEUTAN, as_seen_by, harmony
from strata.tones import ladders
from tests import world
from tests.cards import koi, stamps

OWNED = sorted(k for k, i in world.inks().items() if i.state in ("full", "low"))
SIX = ("named", "vivid", "muted", "neighbours", "opposites", "accent")


@cache
def six(name: str) -> tuple[Proposal, ...]:
    found: list[Proposal] = []
    for mood in SIX:
        found.append(propose(koi() if name == "koi" else stamps(), OWNED, Wishes(mood), found))
    return tuple(found)


def said(scene: Scene, severities: tuple[str, ...]) -> list[str]:
    order = dispatch(scene)
    found = advise(scene, order, ladders(scene, order), frozenset(OWNED))
    return [f.sentence for f in found if f.severity in severities]


class ProposalTest(unittest.TestCase):
    def test_none_has_a_warning_and_every_opening_is_inked(self) -> None:
        for name in ("koi", "hedgehog"):
            for proposal in six(name):
                self.assertEqual(said(proposal.scene, ("stop", "look")), [], (name, proposal.mood))
                notes = said(proposal.scene, ("note",))
                self.assertFalse([n for n in notes if "no ink" in n], (name, proposal.mood))
                self.assertLessEqual({p.ink for p in proposal.scene.plan.passes}, set(OWNED))

    def test_all_steps_can_be_read(self) -> None:
        for proposal in [*six("koi"), *six("hedgehog")]:
            for climb in ladders(proposal.scene, dispatch(proposal.scene)).values():
                for rung in climb:
                    if rung.step is not None and rung.role not in ("line", "highlight"):
                        self.assertGreaterEqual(rung.change, 4, (proposal.mood, rung.pass_key))

    def test_they_differ_to_the_eye(self) -> None:
        for name in ("koi", "hedgehog"):
            parts = bench_of(koi() if name == "koi" else stamps(), OWNED, frozenset(), None).parts
            for one, other in itertools.combinations(six(name), 2):
                self.assertGreaterEqual(difference_of(one, other, parts), 10, (one.mood, other.mood))

    def test_the_same_wishes_give_the_same(self) -> None:
        again = propose(koi(), reversed(OWNED), Wishes("named"))
        self.assertEqual(again.edits, six("koi")[0].edits)

    def test_better_than_chance_and_than_the_nearest_lightness(self) -> None:
        bench = bench_of(koi(), OWNED, frozenset(), None)
        wishes, card = Wishes("named"), bench.scene.stock.lab
        own = [
            b + mood_costs(p, wishes, card, 0.0, False) for b, p in zip(bench.own, bench.parts, strict=True)
        ]

        def cost(chosen: list[int]) -> float:
            pairs = sum(float(t[chosen[a], chosen[b]]) for (a, b), t in bench.pairs.items())
            return sum(float(c[n]) for c, n in zip(own, chosen, strict=True)) + pairs

        rng = random.Random(2)
        ours = six("koi")[0].cost
        for _ in range(200):
            self.assertGreater(cost([rng.randrange(len(p.choices)) for p in bench.parts]), ours)
        even = np.linspace(85, 35, len(bench.parts))
        greedy = [
            min(range(len(p.choices)), key=lambda i: abs(p.choices[i].body[0] - light))
            for p, light in zip(bench.parts, even, strict=True)
        ]
        self.assertGreater(cost(greedy), ours)

    def test_what_stays_stays_and_pads_are_counted(self) -> None:
        scene = six("koi")[1].scene
        kept = propose(scene, OWNED, Wishes("muted", keep=frozenset(["lantern"])))
        self.assertEqual(kept.scene.plan.of_element("lantern"), scene.plan.of_element("lantern"))
        few = propose(koi(), OWNED, Wishes("named", most_pads=6))
        self.assertLessEqual(few.figures["pads"], 6)

    def test_colours_of_ones_own_are_found_again(self) -> None:
        teal, rose = lab_of_hex("#2f8f96"), lab_of_hex("#c4515c")
        found = propose(koi(), OWNED, Wishes("named", like=(teal, rose)))
        off = [min(difference(b, teal), difference(b, rose)) for b in found.bodies.values()]
        self.assertLess(float(np.median(off)), 16)

    def test_on_black_a_white_ground_goes_first(self) -> None:
        black = propose(koi(stock="Black"), OWNED, Wishes("named"))
        self.assertEqual(said(black.scene, ("stop",)), [])
        for element in ("water", "lantern"):
            self.assertTrue(black.scene.inks[black.scene.plan.of_element(element)[0].ink].chemistry.opaque)

    def test_on_black_without_a_white_only_opaque_pads_are_worn(self) -> None:
        clear = [k for k in OWNED if not world.inks()[k].chemistry.opaque]
        with self.assertRaisesRegex(BadValue, "clear inks do not show"):
            propose(koi(stock="Black"), clear, Wishes())
        found = propose(koi(stock="Black"), OWNED, Wishes(white_ground=False))
        worn = {k for w in found.worn for k in w.pads}
        self.assertTrue(all(world.inks()[k].chemistry.opaque for k in worn))

    def test_nothing_to_propose_with_is_said(self) -> None:
        with self.assertRaises(BadValue):
            propose(koi(), [], Wishes())
        with self.assertRaises(BadValue):
            Wishes("gloomy")
        self.assertEqual(Wishes().hue("lily pads"), 140.0)
        self.assertEqual(Wishes(words={"lily": 0.0, "pads": 300.0}).hue("lily pads"), 300.0)
        self.assertEqual(Wishes(words={"lily pads": 60.0, "pads": 300.0}).hue("Lily pads"), 60.0)
        self.assertIsNone(Wishes().hue("board"))
        self.assertLessEqual(set(SIX), set(MOODS))


class PartsTest(unittest.TestCase):
    def test_elimination_finds_what_trying_all_finds(self) -> None:
        rng = np.random.default_rng(5)
        for _ in range(20):
            own = [rng.random(4) for _ in range(5)]
            links = [(a, b) for a, b in itertools.combinations(range(5), 2) if rng.random() < 0.6]
            pairs = {link: rng.random((4, 4)) * 2 for link in links}

            def cost(chosen: tuple[int, ...]) -> float:
                total = sum(o[n] for o, n in zip(own, chosen, strict=True))  # noqa: B023
                return float(total + sum(t[chosen[a], chosen[b]] for (a, b), t in pairs.items()))  # noqa: B023

            chosen, least = best(own, pairs)
            tried = min(itertools.product(range(4), repeat=5), key=cost)
            self.assertAlmostEqual(least, cost(tried), places=9)
            self.assertAlmostEqual(cost(tuple(chosen)), least, places=9)
            # from anywhere bettering ends no dearer than it began, and from the best it stays
            start = [int(n) for n in rng.integers(0, 4, 5)]
            better, total = bettered(own, pairs, start)
            self.assertLessEqual(total, cost(tuple(start)) + 1e-9)
            self.assertAlmostEqual(cost(tuple(better)), total, places=9)
            self.assertEqual(bettered(own, pairs, chosen)[0], chosen)

    def test_a_colour_blind_eye_takes_red_and_green_for_one(self) -> None:
        red, green = np.array([50.0, 45.0, 40.0]), np.array([52.0, -30.0, 42.0])
        plain = difference(tuple(red), tuple(green))
        seen = as_seen_by(np.array([red, green]), DEUTAN)
        self.assertLess(difference(tuple(seen[0]), tuple(seen[1])), 0.45 * plain)
        grey = np.array([60.0, 0.0, 0.0])
        self.assertLess(difference(tuple(as_seen_by(grey, DEUTAN)), tuple(grey)), 1.0)

    def test_harmony_is_the_published_model(self) -> None:
        # two equal light greys: HC(0) = .04 + .53 tanh .8, HL by L sum 160, HH near 0 without chroma
        pair = np.array([80.0, 0.0, 0.0])
        expected = 0.04 + 0.53 * np.tanh(0.8) + 0.28 + 0.54 * np.tanh(-3.88 + 0.029 * 160)
        expected += 0.14 + 0.15 * np.tanh(-2)
        self.assertAlmostEqual(float(harmony(pair, pair)), expected, delta=0.06)

    def test_a_picture_gives_its_colours_by_their_shares(self) -> None:
        picture = np.zeros((240, 300, 3), np.uint8)
        picture[:] = (200, 60, 70)
        picture[:80] = (40, 130, 140)
        (first, large), (second, small) = colours_of(picture)
        self.assertLess(difference(first, lab_of_hex("#c83c46")), 1)
        self.assertLess(difference(second, lab_of_hex("#28828c")), 1)
        self.assertAlmostEqual(large, 2 / 3, delta=0.02)
        self.assertAlmostEqual(small, 1 / 3, delta=0.02)
