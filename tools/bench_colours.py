"""Figures of choosing colours: proposals from a large drawer, and findings after a change."""

from __future__ import annotations

import statistics
import time
from dataclasses import replace

import numpy as np

MOODS = ("named", "vivid", "muted", "neighbours", "opposites", "accent")


def proposals() -> None:
    """Six proposals for the hedgehog (12 elements) from 123 pads, everything cold but the libraries."""
    from strata.optics.colour import differences
    from strata.proposals import Proposal, Wishes, propose
    from tests import world
    from tests.cards import stamps

    rng = np.random.default_rng(120)
    scene, inks = stamps(), world.inks()
    # two more drawers, their colours moved a little
    for n in (1, 2):
        for key, ink in world.inks().items():
            by = rng.uniform(-6, 6, 3).tolist()
            moved = tuple(
                replace(s, lab=(max(3.0, s.lab[0] + by[0]), s.lab[1] + by[1], s.lab[2] + by[2]))
                for s in ink.swatches
            )
            inks[f"{key}-{n}"] = replace(ink, key=f"{key}-{n}", line=f"{ink.line} {n}", swatches=moved)
    scene = replace(scene, inks=inks)
    pads = [k for k, i in inks.items() if i.state in ("full", "low")]
    differences(np.zeros(3), np.ones(3))
    found: list[Proposal] = []
    began = time.perf_counter()
    for mood in MOODS:
        found.append(propose(scene, pads, Wishes(mood), found))
        if len(found) == 1:
            first = time.perf_counter() - began
    whole = time.perf_counter() - began
    print(f"proposals, {len(pads)} pads       first {first:.2f} s  six {whole:.2f} s   (bar 1 / 5 s)")


def findings() -> None:
    """Order, ladders and findings after another ink for one pass, on the richest demo builds."""
    from strata.advice import advise
    from strata.order import dispatch
    from strata.plan.edits import apply
    from strata.tones import Ground, ladders
    from tests import world

    rng, inks = np.random.default_rng(1), sorted(world.inks())
    for name in ("thank-you-by-lantern-light", "koi-at-dusk", "hedgehog-at-the-pump-house"):
        scene, times = world.whole_card(name), []
        inked = [p for p in scene.plan.passes if p.medium == "ink"]
        for _ in range(25):
            values = {"pass": inked[rng.integers(len(inked))].key, "ink": str(rng.choice(inks))}
            fresh = scene.with_plan(apply(scene, "set_ink", values)[0])
            began = time.perf_counter()
            order = dispatch(fresh)
            ground = Ground.of(fresh, order.wet)
            advise(fresh, order, ladders(fresh, order, ground), None, ground)
            times.append(1000 * (time.perf_counter() - began))
        print(f"findings, {name:27} median {statistics.median(times):.0f} ms")
