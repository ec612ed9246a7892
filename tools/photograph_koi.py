"""Photographs of the demo stencil by the simulated camera: demo/photographs/.

``python tools/photograph_koi.py``. The same drawing gives the same pictures.
"""

from __future__ import annotations

import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from strata.camera import jpeg, photograph  # noqa: E402
from strata.camera.sample import shot_of  # noqa: E402
from strata.formats.svg_set import read  # noqa: E402

TARGET = ROOT / "demo" / "photographs"


def main() -> None:
    koi = read((ROOT / "demo" / "sets" / "koi-and-lantern.svg").read_bytes(), "Koi and lantern").layer_set
    TARGET.mkdir(exist_ok=True)
    for sheet in koi.sheets:
        shot = shot_of(koi.width, koi.height, 40 + sheet.number)
        shapes = [*(o.polygon for o in sheet.openings), *sheet.marks]
        data = jpeg(photograph(shapes, koi.width, koi.height, shot), 72)
        (TARGET / f"koi-sheet-{sheet.number}.jpg").write_bytes(data)
        print(f"sheet {sheet.number}: {len(data) // 1024} kB")


if __name__ == "__main__":
    main()
