"""Figures of the drawer: swatch cards, long tables, and frames with 400 inks; called by tools/bench.py."""

from __future__ import annotations

import io
import statistics
import time
from dataclasses import replace
from typing import Any

import numpy as np

FRAMES = """async act => {
  const gaps = []; let last = performance.now(), going = true;
  const tick = now => { gaps.push(now - last); last = now; if (going) requestAnimationFrame(tick); };
  requestAnimationFrame(now => { last = now; requestAnimationFrame(tick); });
  const wait = ms => new Promise(done => setTimeout(done, ms));
  if (act === 'scroll') {
    const grid = document.querySelector('[role=grid]');
    for (let i = 0; i < 60; i++) { grid.scrollBy(0, 190); await wait(16); }
  } else {
    const field = [...document.querySelectorAll('input')].find(i => i.closest('[role=search]'));
    const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
    for (const text of ['i', 'in', 'ink', 'ink 1', 'ink 12', 'ink 1', 'ink', '', 'quay', '']) {
      set.call(field, text); field.dispatchEvent(new Event('input', { bubbles: true })); await wait(180);
    }
  }
  going = false;
  return gaps.slice(1);
}"""


def table(count: int, coats: int = 3) -> bytes:
    """A CSV of so many rows."""
    lines = ["name,line,family,chemistry,coats,L,a,b"]
    for i in range(count):
        ink, n = divmod(i, coats)
        hue, chroma = 2.4 * ink, 20 + (ink * 7) % 45
        a, b = chroma * np.cos(hue), chroma * np.sin(hue)
        lines.append(
            f"Ink {ink},Quay {ink % 6},F{ink // 4},dye,{n + 1},{35 + ink * 13 % 50 - 6 * n:.1f},{a:.1f},{b:.1f}"
        )
    return "\n".join(lines).encode()


def swatch_cards(shots: int = 6) -> None:
    """Forty inks photographed with eight of them known, and with none; all unknown fields counted."""
    from PIL import Image

    from strata.camera.card import card_shot
    from strata.camera.card_sample import card_photograph
    from strata.camera.photograph import jpeg
    from strata.formats.pdf.swatch_card import swatch_card_pdf
    from strata.optics.colour import differences
    from strata.optics.stack import Coat, predict
    from strata.swatchcard import CardLayout, Field
    from strata.swatchcard.reading import read_card
    from tests import world

    stock = world.stocks()["White smooth"]
    inks = {i.key: i for i in world.drawer().inks[:40]}
    fields = [Field(((k, 1),), i.name) for k, i in inks.items()]
    truth = [predict(stock, [Coat(i, 1.0)]) for i in inks.values()]
    found: dict[int, list[float]] = {8: [], 0: []}
    took = []
    for seed in range(100, 100 + shots):
        layout = CardLayout(seed % 166, 40, "A4" if seed % 2 else "letter")
        shot = replace(card_shot(seed), quality=75)
        seen = card_photograph(swatch_card_pdf(layout, fields, stock.name), layout, fields, stock, inks, shot)
        picture = np.asarray(Image.open(io.BytesIO(jpeg(seen, 75))).convert("RGB"))
        for count, offs in found.items():
            known = np.random.default_rng(seed).choice(40, count, replace=False).tolist()
            start = time.perf_counter()
            read = read_card(picture, layout, stock.lab, {i: truth[i] for i in known})
            took.append(time.perf_counter() - start)
            rest = [i for i in range(40) if i not in known]
            offs.extend(
                differences(
                    np.array([read.fields[i].lab for i in rest]), np.array([truth[i] for i in rest])
                ).tolist()
            )
    for count, offs in found.items():
        print(
            f"swatch card, {shots} photographs, {count} known   mean {np.mean(offs):.2f}  max {max(offs):.2f}   (bar 2 / 5)"
        )
    print(f"swatch card read           {statistics.median(took):.2f} s")


def tables() -> None:
    """A thousand rows read in the guarded child, understood, and laid over a drawer."""
    from strata.formats.brought import brought_from
    from strata.formats.tables.merge import matched
    from strata.formats.tables.rows import Defaults, interpret
    from strata.guard.child import run_guarded
    from strata.optics.stack import Stock
    from tests import world

    data, own = table(1000), {i.key: i for i in world.drawer().inks}

    def whole() -> None:
        brought = brought_from(run_guarded("drawer_file", [data], {}))
        found = interpret(brought.table, brought.guess, Defaults(Stock(world.WHITE)))
        matched(found.drafts, own)

    took = []
    for _ in range(3):
        start = time.perf_counter()
        whole()
        took.append(time.perf_counter() - start)
    print(f"table of 1,000 rows        {statistics.median(took):.2f} s to what comes of it")


def frames(page: Any, base: str) -> None:
    """400 more inks brought in through the screen; then the longest frame while typing and scrolling."""
    page.goto(f"{base}/inks/bring-in")
    file = {"name": "long.csv", "mimeType": "text/csv", "buffer": table(1200)}
    start = time.perf_counter()
    page.locator("input[type=file]").set_input_files(file)
    page.get_by_role("button", name="Keep 400 inks").click()
    page.get_by_text("400 inks are in the drawer.").wait_for(timeout=60_000)
    print(
        f"1,200 rows kept on screen  {time.perf_counter() - start:.1f} s from the file to the drawer   (bar 3 s for 1,000)"
    )
    for view, act in (("map", "type"), ("list", "type"), ("list", "scroll")):
        page.goto(f"{base}/inks?view={view}")
        page.wait_for_load_state("networkidle")
        page.wait_for_timeout(800)
        gaps = sorted(page.evaluate(FRAMES, act))
        print(
            f"441 inks, {view}, {act:<6}     longest frame {gaps[-1]:.0f} ms, 99 % under {gaps[int(0.99 * len(gaps)) - 1]:.0f} ms of {len(gaps)}   (bar 50 ms)"
        )
