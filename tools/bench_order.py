"""Figures of the order of work: the first plan, what is proven and when, batches, an evening."""

from __future__ import annotations

import random
import statistics
import time
from collections.abc import Callable
from dataclasses import replace


def _seconds(work: Callable[[], object], runs: int = 5) -> float:
    found = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        found.append(time.perf_counter() - start)
    return statistics.median(found)


def order() -> None:
    """Random builds over the demo sets, the first demo build, twelve of it, an evening on three stocks."""
    from strata.order import dispatch
    from strata.order.evening import Evening, Make
    from strata.order.gather import work_of
    from strata.order.planning import at_once, search
    from strata.order.table_rules import PLAIN, TODAY
    from strata.order.ticks import A_MINUTE, Work
    from strata.order.wish import Wish
    from tests import world
    from tests.strata.test_planner import KINDS, some_scene

    rng = random.Random(17)
    forty = [some_scene(rng, 40, *kind) for kind in KINDS]
    for scene in forty:
        dispatch(scene)
    slowest = max(_seconds(lambda s=scene: dispatch(s)) for scene in forty)  # type: ignore[misc]
    print(f"first plan, 40 passes          {1000 * slowest:.0f} ms with its words  (bar 50)")
    sixteen = Work(work_of(Evening([Make(some_scene(rng, 16, *KINDS[0]), 24)]), PLAIN))
    print(f"first plan, 24 cards x 16      {1000 * _seconds(lambda: at_once(sixteen)):.0f} ms  (bar 500)")
    for low, high, bar in ((6, 12, 1.0), (13, 16, 2.0)):
        took, proven = [], 0
        scenes = [some_scene(rng, n, *kind) for n in range(low, high + 1) for kind in KINDS]
        for rules in (TODAY, PLAIN):
            for scene in scenes:
                work = Work(work_of(Evening([Make(scene)]), rules))
                start = time.process_time()
                found = search(work, Wish(budget=4))
                took.append(time.process_time() - start)
                proven += found.proven and took[-1] <= bar
        print(
            f"proven, {low} to {high} passes        {proven} of {len(took)} in {bar:g} s"
            f"  median {statistics.median(took):.2f} s, slowest {max(took):.2f} s"
        )
    lantern = world.scene(world.demo_plan("thank-you-by-lantern-light"))
    for stay in (True, False):
        work = Work(work_of(Evening([Make(lantern, 12)]), replace(TODAY, masks_stay=stay)))
        found = search(work, Wish(budget=8))
        minutes, bound = found.timed.end / A_MINUTE, found.bound / A_MINUTE
        bar = 700 if stay else 835
        print(
            f"twelve lantern cards, masks {'stay' if stay else 'come off'}  {minutes:.0f} min, bound {bound:.0f}"
            f" ({100 * (minutes / bound - 1):.1f} % over)  (bar {bar})"
        )
    stocks = [replace(lantern.plan.materials, stock=s) for s in ("White smooth", "Kraft", "Ivory")]
    makes = [Make(lantern.with_plan(replace(lantern.plan, materials=m))) for m in stocks]
    evening = search(Work(work_of(Evening(makes), PLAIN)), Wish(budget=6)).timed.end
    apart = sum(search(Work(work_of(Evening([m]), PLAIN)), Wish(budget=2)).timed.end for m in makes)
    print(
        f"three stocks in one evening    {100 * (1 - evening / apart):.0f} % less than one by one  (bar 15)"
    )
