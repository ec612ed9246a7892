"""Current pictures of each main view, from a fresh demo world: docs/screenshots/. ``make screenshots``."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from playwright.sync_api import Page, expect, sync_playwright  # noqa: E402

from tools.bench import wait_for  # noqa: E402
from tools.chromium import ARGUMENTS, CHROMIUM  # noqa: E402

PORT = 8124
TARGET = ROOT / "docs" / "screenshots"


def choose_pass(page: Page) -> None:
    page.locator("[data-pass] button[aria-pressed]").nth(2).click()


def step(page: Page) -> None:
    page.get_by_role("button", name="Take it").wait_for(timeout=90_000)
    page.locator("ol button").nth(3).click()
    page.get_by_text("Until then your hands are busy").first.wait_for()


def steps(page: Page) -> None:
    for _ in range(23):
        page.keyboard.press("Space")
        page.wait_for_timeout(80)
    # the panel as it is by then, not as it was when it was opened
    expect(page.locator("[data-after='0']")).to_have_count(0, timeout=60_000)


def went_wrong(page: Page) -> None:
    """A slip of the hand at the table, and the ways on."""
    page.get_by_role("button", name="Not as planned").click()
    page.get_by_role("button", name="Something went wrong").click()
    page.get_by_role("button", name="It came out too pale").click()
    page.get_by_role("button", name="What now?").click()
    page.get_by_text("there now").wait_for(timeout=60_000)


def measure(kind: str, row: str = "") -> Callable[[Page], None]:
    def act(page: Page) -> None:
        page.get_by_role("button", name="Measure", exact=True).click()
        page.get_by_text("of blending").wait_for()
        page.get_by_role("button", name=kind, exact=True).click()
        if row:
            page.get_by_role("list", name=row).get_by_role("button").first.click()

    return act


def logged(page: Page) -> None:
    page.get_by_role("link", name="Thank-you by lantern light").click()
    # the demo's photographs are read by the server once it has started
    page.get_by_role("slider", name="From predicted to photographed").wait_for(timeout=180_000)


def learned(page: Page) -> None:
    page.get_by_role("button", name="Ask 6 cards").click()
    page.get_by_role("button", name="Predict by it from now on").wait_for(timeout=180_000)


def violet(page: Page) -> None:
    page.get_by_label("Hex code").fill("#7d4a8c")
    page.get_by_role("button", name="Take it").click()


def photographed(page: Page) -> None:
    """The demo photographs, brought in as far as the question whether it is right."""
    photos = sorted((ROOT / "demo" / "photographs").glob("*.jpg"))
    page.locator("input[type=file]").set_input_files(photos)
    page.get_by_label("Width, in").fill("4 1/4")
    page.get_by_label("Height, in").fill("5 1/2")
    page.get_by_role("button", name="Read them").click()
    page.get_by_role("button", name="Keep it").wait_for(timeout=90_000)


def carded(page: Page) -> None:
    page.get_by_label("Find a pad").fill("sluice")
    page.get_by_role("button", name="Take all of these").click()
    page.get_by_role("button", name="Make the card").click()
    page.get_by_role("button", name="Use a sample photograph").click()
    page.get_by_text("Differences are CIEDE2000").wait_for(timeout=60_000)


def proposed(page: Page) -> None:
    page.get_by_role("button", name="Colourings from your pads").click()
    page.get_by_role("button", name="Wear it").nth(7).wait_for(timeout=60_000)
    page.get_by_role("button", name="Why").first.click()
    page.get_by_role("list", name="Proposals").get_by_role("heading").first.hover()
    page.locator("[data-trying=true]").wait_for()


def beside(page: Page) -> None:
    """Two proposals kept beside the first colouring, and looked at together."""
    first = page.url
    for n in (1, 2):
        page.goto(first)
        page.get_by_role("button", name="Colourings from your pads").click()
        page.get_by_role("button", name="Beside this one").nth(n).click(timeout=60_000)
        page.wait_for_url(lambda url: url.split("?")[0] != first.split("?")[0])
    page.goto(first)
    page.get_by_role("link", name="Side by side").click()
    page.get_by_role("list", name="differently").nth(1).wait_for()


NAMES = {
    "Thank-you by lantern light": "good",
    "First try on kraft": "tried",
    "Koi at dusk": "dusk",
    "Luna by night": "luna",
    "Hedgehog at the pump house": "hedgehog",
}
# name, address ({good} and {tried} are the demo builds), what to do before the picture, size
VIEWS: list[tuple[str, str, Callable[[Page], None] | None, tuple[int, int]]] = [
    ("home", "/", None, (1280, 800)),
    ("strata", "/builds/{dusk}/strata?element=lower+koi", choose_pass, (1280, 800)),
    ("strata-warnings", "/builds/{tried}/strata?element=water", None, (1280, 800)),
    ("panel", "/builds/{dusk}/panel?thing=moon", None, (1280, 800)),
    ("finish", "/builds/{good}/finish", None, (1280, 800)),
    ("order", "/builds/{good}/order", step, (1280, 800)),
    ("table", "/builds/{good}/table", steps, (1280, 800)),
    ("table-wrong", "/builds/{good}/table", went_wrong, (1280, 800)),
    ("table-phone", "/builds/{tried}/table", steps, (390, 844)),
    ("inks", "/inks", None, (1280, 800)),
    ("ink-opened", "/inks?ink=painted-rose", None, (1280, 800)),
    ("swatch-card", "/inks/swatch-cards?card=kraft", carded, (1280, 800)),
    ("recipes", "/inks/recipes", violet, (1280, 800)),
    ("log", "/log", logged, (1280, 800)),
    ("learn", "/log/learn", learned, (1280, 800)),
    ("set-measured", "/sets/{moth}", measure("Brushes"), (1280, 800)),
    ("bring-in-photographs", "/sets/bring-in", photographed, (1280, 800)),
    ("proposals", "/builds/{hedgehog}/strata?element=face", proposed, (1280, 800)),
    ("beside", "/builds/{good}/strata?element=lantern", beside, (1280, 800)),
]


def take(base: str) -> None:
    with sync_playwright() as running:
        chromium = running.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        page = chromium.new_page(reduced_motion="reduce")
        page.goto(base)
        builds = page.evaluate("fetch('/api/builds').then(r => r.json())")
        ids = {NAMES[b["name"]]: b["id"] for b in builds if b["name"] in NAMES}
        sets = page.evaluate("fetch('/api/sets').then(r => r.json())")
        ids |= {s["key"].split("-")[0].replace("luna", "moth"): s["id"] for s in sets}
        for name, address, act, (width, height) in VIEWS:
            page.set_viewport_size({"width": width, "height": height})
            page.goto(base + address.format(**ids))
            page.wait_for_load_state("networkidle")
            if act:
                act(page)
                page.wait_for_timeout(700)
                page.wait_for_load_state("networkidle")
            page.evaluate("document.fonts.ready")
            # a panel whose picture is still on its way is no picture of the view
            expect(page.locator("[data-picture='']")).to_have_count(0, timeout=60_000)
            if name != "proposals":  # there something is pointed at
                page.mouse.move(2, height - 2)
            page.screenshot(path=str(TARGET / f"{name}.png"))
            print(name)
        chromium.close()


def main() -> None:
    TARGET.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as data:
        env = {**os.environ, "ANASTRATA_DATA": data, "ANASTRATA_DEMO": "1"}
        server = subprocess.Popen(
            [sys.executable, "tools/serve.py", "--port", str(PORT)],
            cwd=ROOT,
            env=env,
            stdout=subprocess.DEVNULL,
        )
        try:
            wait_for(f"http://127.0.0.1:{PORT}/api/session")
            take(f"http://127.0.0.1:{PORT}")
        finally:
            server.terminate()
            server.wait(20)


if __name__ == "__main__":
    main()
