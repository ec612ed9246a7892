"""Figures, each a median of one run on this machine: accuracy, the picture, and a change in the browser.

``make bench``. Ratios matter; absolute times are those of the machine.
"""

from __future__ import annotations

import gzip
import json
import os
import re
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.parse
import urllib.request
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

import numpy as np  # noqa: E402

from tools import (  # noqa: E402
    bench_colours,
    bench_drawer,
    bench_finish,
    bench_import,
    bench_order,
    bench_photographs,
)

PORT = 8123


def overprints() -> None:
    """Mean and largest CIEDE2000 of the published CMY overprints."""
    from tests.strata.test_overprints import errors

    found = errors("cmy")
    print(f"overprints, CMY            mean {np.mean(found):.2f}  max {max(found):.2f}   (bar 2.4 / 5.0)")


def picture() -> None:
    """The map and palettes of every demo build at 800 px: time, bytes, and how far from 36 bands at every pixel."""
    import os
    import zlib

    import django

    from strata.order import dispatch
    from strata.picture.colours import colours
    from strata.picture.shown import build_up, changed, view
    from strata.plan.edits import apply

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
    django.setup()
    from studio.builds.pictures import _map, _rows
    from tests import world

    for name in world.DEMO_BUILDS:
        scene = world.whole_card(name)
        order = dispatch(scene)
        view(scene, order.wet, 800)  # fields are kept from here on, as they are in use
        seen = view(scene, order.wet, 800)
        whole = [timed(partial(colours, scene.stock, seen.layers, seen.stacks.levels)) for _ in range(3)]
        ink = next(p for p in scene.plan.passes if p.medium == "ink" and p.sheet)
        other = scene.with_plan(apply(scene, "set_coats", {"pass": ink.key, "coats": ink.coats % 6 + 1})[0])
        fresh = view(other, order.wet, 800)

        def change(old: object = seen, new: object = fresh) -> None:
            rows = changed(old, new)  # type: ignore[arg-type]
            new.palette(None, rows)  # type: ignore[attr-defined]

        one = [timed(change) for _ in range(5)]
        packed = [_map(seen)]
        packed += [_rows(rows) + own.tobytes() for rows, own in build_up(seen, order.passes)]
        sent = len(zlib.compress(b"".join(packed), 3)) / 1000
        off = world.map_errors(seen)
        print(
            f"{name:28} {len(seen.layers)} layers, {len(seen.stacks.counts)} stacks; whole palette "
            f"{1000 * statistics.median(whole):.0f} ms, one change {1000 * statistics.median(one):.0f} ms; "
            f"map and all palettes {sent:.0f} kB; off by {off.max():.2f} at most, "
            f"{np.quantile(off, 0.999):.2f} at 99.9 %  (bars 1.0, 0.4)"
        )


def timed(work: object) -> float:
    start = time.perf_counter()
    work()  # type: ignore[operator]
    return time.perf_counter() - start


def first_page() -> None:
    """Script that the first page loads before it shows anything, gzipped, from the built files."""
    dist = ROOT / "web" / "dist"
    index = (dist / "index.html").read_text()
    wanted = set(re.findall(r"/static/(assets/[^\"]+\.js)", index))
    home = next((dist / "assets").glob("Home-*.js"))
    queue = [*wanted, f"assets/{home.name}"]
    while queue:
        text = (dist / queue.pop()).read_text()
        for name in re.findall(r"from\s*\"\./([^\"]+\.js)\"|import\s*\"\./([^\"]+\.js)\"", text):
            found = f"assets/{name[0] or name[1]}"
            if found not in wanted:
                wanted.add(found)
                queue.append(found)
    wanted.add(f"assets/{home.name}")
    total = sum(len(gzip.compress((dist / name).read_bytes(), 9)) for name in wanted)
    print(f"first page, script         {total / 1000:.0f} kB gzipped in {len(wanted)} files  (bar 250 kB)")


def changes() -> None:
    """From the press that changes an ink to the new picture on screen, in Chromium, 800 px wide picture."""
    with tempfile.TemporaryDirectory() as data:
        env = {**os.environ, "ANASTRATA_DATA": data, "ANASTRATA_DEMO": "1"}
        command = [sys.executable, "tools/serve.py", "--port", str(PORT)]
        server = subprocess.Popen(command, cwd=ROOT, env=env, stdout=subprocess.DEVNULL)
        try:
            wait_for(f"http://127.0.0.1:{PORT}/api/session")
            measure(f"http://127.0.0.1:{PORT}")
        finally:
            server.terminate()
            server.wait(20)


def wait_for(url: str) -> None:
    for _ in range(480):
        try:
            urllib.request.urlopen(url, timeout=2)
            return
        except OSError:
            time.sleep(0.5)
    raise SystemExit("the server did not come up")


def measure(base: str) -> None:
    from playwright.sync_api import sync_playwright

    from tools.chromium import ARGUMENTS, CHROMIUM

    with sync_playwright() as running:
        chromium = running.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = chromium.new_page(bypass_csp=True, viewport={"width": 1280, "height": 800})
        page.goto(base)
        builds = page.evaluate("fetch('/api/builds').then(r => r.json())")
        every: list[float] = []
        for build in builds:
            every += changes_of(page, base, build)
        say("change of ink, coats or hand, all builds", every, "median 60, p95 100")
        build = next(b for b in builds if b["name"] == "Thank-you by lantern light")
        scrubbed(page, base, build)
        pushed(page, base, next(b for b in builds if b["name"] == "Koi at dusk"))
        bench_drawer.frames(page, base)
        # last: what the demo left to be read at its first start is done by now
        bench_import.seen(page, base)
        chromium.close()


def say(what: str, times: list[float], bar: str) -> None:
    times = sorted(times)
    p95 = times[min(len(times) - 1, round(0.95 * len(times)))]
    median = statistics.median(times)
    print(f"{what}, {len(times)} times: median {median:.0f} ms, p95 {p95:.0f} ms  (bar {bar})")


def strata(page: Any, base: str, build: dict[str, Any], element: str = "") -> None:
    query = f"?element={urllib.parse.quote_plus(element)}" if element else ""
    page.goto(f"{base}/builds/{build['id']}/colourings/{build['colouring_id']}/strata{query}")
    page.locator("[data-picture]:not([data-picture=''])").wait_for()
    page.wait_for_load_state("networkidle")


def changes_of(page: Any, base: str, build: dict[str, Any]) -> list[float]:
    """Six elements of a build, five presses each; every press makes a colour that was not there before."""
    strata(page, base, build)
    names = page.locator("[aria-label=Elements] button").evaluate_all("all => all.map(b => b.title)")
    times = []
    for element in names[:6]:
        strata(page, base, build, element)
        rows = page.locator("[data-pass] button[aria-pressed]")
        if rows.count() == 0:
            continue
        rows.last.click()
        for key in ("+", "]", "h", "-", "h"):
            found = page.evaluate(PRESS, key)
            if found:
                times.append(found)
            page.get_by_text("Everything is kept").wait_for()
            page.wait_for_timeout(150)
    say(f"  {build['name']}", times, "")
    return times


PRESS = """key => new Promise(done => {
  const shown = document.querySelector("[role=img][data-picture]");
  const start = performance.now();
  const late = setTimeout(() => { watch.disconnect(); done(null); }, 3000);
  const watch = new MutationObserver(() => {
    watch.disconnect();
    clearTimeout(late);
    requestAnimationFrame(() => { const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => done(performance.now() - start); port2.postMessage(0); });
  });
  watch.observe(shown, { attributeFilter: ["data-picture"] });
  window.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
})"""
# the press goes the way of a real key; the new colours are on the canvas when the picture's key is another, and two
# frames later they are on the screen. A key that can do nothing (the deepest of its family) is not counted

FRAMES = """act => new Promise(done => {
  const long = [];
  let last = performance.now(), on = true;
  const tick = now => { long.push(now - last); last = now; if (on) requestAnimationFrame(tick); };
  requestAnimationFrame(tick);
  window.__stop = () => { on = false; return Math.max(...long.slice(2)); };
  done();
})"""


def scrubbed(page: Any, base: str, build: dict[str, Any]) -> None:
    """The longest frame while the build-up is scrubbed and inks are pointed at."""
    strata(page, base, build)
    page.keyboard.press(",")
    page.wait_for_timeout(2500)  # all moments are fetched at the first step back
    page.evaluate(FRAMES)
    for key in [","] * 25 + ["."] * 25:
        page.keyboard.press(key)
        page.wait_for_timeout(40)
    print(f"scrubbing 50 steps           longest frame {page.evaluate('window.__stop()'):.0f} ms  (bar 50)")
    strata(page, base, build)
    page.locator("[data-pass] button[aria-pressed]").last.click()
    page.keyboard.press("s")
    inks = page.locator("[data-ink]")
    inks.first.wait_for()
    page.wait_for_timeout(800)
    page.evaluate(FRAMES)
    for i in range(18):
        inks.nth(i).hover()
        page.wait_for_timeout(120)
    print(f"pointing at 18 inks          longest frame {page.evaluate('window.__stop()'):.0f} ms  (bar 50)")


def pushed(page: Any, base: str, build: dict[str, Any]) -> None:
    """A thing pushed about: frames while it is in the hand, and how long the true picture takes after."""
    page.goto(f"{base}/builds/{build['id']}/colourings/{build['colouring_id']}/panel?thing=image")
    page.locator("[data-picture]:not([data-picture=''])").wait_for()
    page.wait_for_timeout(1500)
    box = page.locator("svg[data-easel]").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    frames, after = [], []
    for turn in range(4):
        page.mouse.move(x, y)
        page.mouse.down()
        page.evaluate(FRAMES)
        for i in range(25):
            page.mouse.move(x + (i if turn % 2 else -i), y + i / 2)
        frames.append(page.evaluate("window.__stop()"))
        before = page.locator("[data-picture]").get_attribute("data-picture")
        start = time.perf_counter()
        page.mouse.up()
        page.wait_for_function(
            "was => document.querySelector('[data-picture]').dataset.picture !== was", arg=before
        )
        after.append(1000 * (time.perf_counter() - start))
        page.wait_for_timeout(600)
    print(f"a thing in the hand          longest frame {max(frames):.0f} ms  (bar 33)")
    print(f"let go to the true picture   median {statistics.median(after):.0f} ms  (bar 400)")


def typical(work: Callable[[], object], runs: int = 5) -> float:
    """Median seconds."""
    return statistics.median(timed(work) for _ in range(runs))


def sets() -> None:
    """Reading, measuring and tracing the demo sets, whole, in the guarded child."""
    from strata.camera import Shot, jpeg, photograph
    from strata.guard.child import run_guarded
    from tests import world

    koi = world.koi()
    asked = {"by": "layer", "width_mm": None, "visible": False}
    size = {"width_mm": koi.width, "height_mm": koi.height}
    for name in ("koi-and-lantern", "hedgehog-in-ferns", "luna-moth"):
        data = (ROOT / "demo" / "sets" / f"{name}.svg").read_bytes()
        seconds = typical(lambda d=data: run_guarded("set", [d], {"name": "x"}))  # type: ignore[misc]
        report = typical(lambda d=data: run_guarded("measure", [d], asked), 3)  # type: ignore[misc]
        print(f"{name:<26} read {seconds:.2f} s  measured whole {report:.2f} s   (bar 2 s for 150 openings)")
    for number in (1, 5):
        sheet = koi.sheet(number)
        shapes = [*(o.polygon for o in sheet.openings), *sheet.marks]
        shot = Shot(width=3000, height=4000, tilt_x=0.2, tilt_y=-0.15, uneven=0.4, quality=60, seed=number)
        data = jpeg(photograph(shapes, koi.width, koi.height, shot), shot.quality)
        seconds = typical(lambda d=data: run_guarded("sheet", [d], size), 3)  # type: ignore[misc]
        print(f"12 MP photograph, {len(shapes):>3} openings   {seconds:.2f} s   (bar 5 s)")


def recipes() -> None:
    """The best pair and triple from forty demo inks and their neighbours."""
    from dataclasses import replace

    from strata.optics.inks import Swatch
    from strata.recipes import Shelf
    from tests import world

    def shifted(by: float) -> list[object]:
        return [
            replace(
                i,
                key=f"{i.key}{by}",
                swatches=tuple(
                    Swatch(s.on, s.coats, (max(2.0, s.lab[0] - by), s.lab[1], s.lab[2])) for s in i.swatches
                ),
            )
            for i in world.drawer().inks
        ]

    inks = [*shifted(0), *shifted(4), *shifted(8)]
    start = time.perf_counter()
    shelf = Shelf(world.stocks()["White smooth"], inks).warm(2)  # type: ignore[arg-type]
    ready = time.perf_counter() - start
    shelf.warm(3)
    rng = np.random.default_rng(3)
    targets = [np.array([rng.uniform(20, 90), *rng.uniform(-50, 50, 2)]) for _ in range(20)]
    for pads in (2, 3):
        took = [timed(lambda t=t, p=pads: shelf.of(t, p)) for t in targets]  # type: ignore[misc]
        print(
            f"best of {pads} pads, {len(inks)} inks    set-up {ready:.2f} s  median {1000 * statistics.median(took):.0f} ms  slowest {1000 * max(took):.0f} ms"
        )


if __name__ == "__main__":
    print(json.dumps({"cores": os.cpu_count()}))
    overprints()
    sets()
    recipes()
    bench_order.order()
    bench_finish.figures()
    bench_photographs.photographs()
    # its own process: it makes a database of its own
    for name in ("bench_account.py", "bench_limits.py"):
        subprocess.run([sys.executable, str(ROOT / "tools" / name)], check=True)
    bench_drawer.swatch_cards()
    bench_drawer.tables()
    bench_colours.proposals()
    bench_colours.findings()
    picture()
    first_page()
    changes()
