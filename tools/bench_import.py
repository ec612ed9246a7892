"""From a drawing sent to its sheets seen, in Chromium, with the demo's two larger sets. Part of ``make bench``."""

from __future__ import annotations

import statistics
import time
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
BARS = {"koi-and-lantern": 0.5, "hedgehog-in-ferns": 0.7}
# s
_TIMES = 5


def seen(page: Any, base: str) -> None:
    """Print the medians. The page is signed in; what is brought in is let go again."""
    for name, bar in BARS.items():
        print(f"{name:28} sent to seen {_typical(page, base, name):.2f} s  (bar {bar})", flush=True)


def _typical(page: Any, base: str, name: str) -> float:
    took = []
    for _ in range(_TIMES):
        page.goto(f"{base}/sets/bring-in")
        page.locator("input[type=file]").set_input_files(ROOT / "demo" / "sets" / f"{name}.svg")
        read = page.get_by_role("button", name="Read them")
        read.wait_for()
        # who chose a file looks at its name and kind before she presses
        page.wait_for_timeout(4000)
        page.evaluate(_FROM_THE_PRESS)
        read.click()
        took.append(float(page.evaluate("window.__seen")) / 1000)
        page.get_by_role("button", name="Let it go").click()
        page.wait_for_url(f"{base}/sets")
        time.sleep(0.5)
    return statistics.median(took)


_FROM_THE_PRESS = """() => {
  let start = 0;
  window.addEventListener("submit", () => { start = performance.now(); }, { capture: true, once: true });
  window.__seen = new Promise(done => {
    const look = () => document.querySelector("svg[aria-label='The sheets on top of each other'] path")
      ? requestAnimationFrame(() => { const { port1, port2 } = new MessageChannel();
          port1.onmessage = () => done(performance.now() - start); port2.postMessage(0); })
      : requestAnimationFrame(look);
    look();
  });
}"""
