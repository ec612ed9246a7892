"""Debian's Chromium and how it is started for tests, bench and screenshots."""

from __future__ import annotations

from pathlib import Path

CHROMIUM = next((p for p in ("/usr/bin/chromium", "/usr/bin/chromium-browser") if Path(p).exists()), "")
ARGUMENTS = [
    "--no-sandbox",
    "--disable-dev-shm-usage",
    "--disable-gpu",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
]
