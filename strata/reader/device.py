"""A stand-in for a handheld colour reader: noise, a drift since it last saw its white tile, now and then a slip.

Run as a process of its own, ``python -m strata.reader``; it prints CGATS text.
A real one comes in by the same text, from its own program.
"""

from __future__ import annotations

import json
import time
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from strata.errors import BadFile
from strata.formats.reader_text import write_readings
from strata.optics.colour import Lab

NAME = "Anastrata stand-in reader"
NOISE = (0.12, 0.09, 0.11)
# standard deviation of L*, a*, b* from one press to the next
DRIFT = (-0.35, 0.06, 0.16)
# of L*, a*, b* an hour since the tile was read
MOST_HOURS = 8.0
# the drift settles when the device is warm
SLIP, SLIPPED = 0.06, 9.0
# how often a press catches the edge of the dab, and L* by which it then goes wrong
WARN_MINUTES = 60.0


@dataclass(frozen=True)
class Device:
    """The reader with its memory: a small JSON file that remembers when the tile was read."""

    memory: Path

    def calibrate(self, now: float | None = None) -> None:
        """Read the white tile."""
        self.memory.parent.mkdir(parents=True, exist_ok=True)
        self.memory.write_text(json.dumps({"calibrated": time.time() if now is None else now}))

    def minutes(self, now: float | None = None) -> float:
        """Minutes since the tile was read; a device never calibrated answers with a day. Raises BadFile."""
        if not self.memory.exists():
            return 24 * 60.0
        try:
            at = float(json.loads(self.memory.read_text())["calibrated"])
        except (ValueError, KeyError, TypeError) as error:
            raise BadFile("The reader's memory is damaged: read the white tile.", "reader") from error
        return max(0.0, ((time.time() if now is None else now) - at) / 60)

    def read(self, under: Lab, times: int, seed: int | None = None, now: float | None = None) -> bytes:
        """CGATS text of so many readings of what it stands on."""
        rng = np.random.default_rng(seed)
        minutes = self.minutes(now)
        drift = np.array(DRIFT) * min(minutes / 60, MOST_HOURS)
        labs = np.array(under) + drift + rng.normal(0, NOISE, (times, 3))
        slipped = rng.random(times) < SLIP
        labs[slipped, 0] += SLIPPED * rng.uniform(0.5, 1.0, int(slipped.sum()))
        header = {
            "INSTRUMENTATION": NAME,
            "ILLUMINATION_NAME": "D50",
            "OBSERVER": "2",
            "KEYWORD": "MINUTES_SINCE_TILE",
            "MINUTES_SINCE_TILE": f"{minutes:.0f}",
        }
        seen: list[Lab] = [(float(np.clip(row[0], 0, 110)), float(row[1]), float(row[2])) for row in labs]
        return write_readings(seen, header)
