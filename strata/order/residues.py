"""Where in its opening an ink is laid, and whether another meets what it left there on the sheet."""

from __future__ import annotations

import math

from strata.kept import Kept
from strata.picture.fields import field_of, shape_key
from strata.picture.raster import Raster
from strata.plan.model import Pass
from strata.plan.scene import Scene

FINE = 1.0
# mm a pixel: the rim of an opening is as wide, and no hand works closer
LEAST_INK = 0.08
# of a coat: thinner than this nothing is left on the plastic
THIN = 1.5
# measured coats: more than this stands on the plastic and smears
BULKY = ("paste", "glaze", "powder")
# kinds of ink that lie in lumps and go down the drain, whatever takes them off
MEETS = 2.0
# mm2 from which one ink takes up what another has left
_MET: Kept[object, float] = Kept(2_000_000, lambda _: 200)


def meeting_area(scene: Scene, left: Pass, following: Pass) -> float:
    """mm2 of one group's openings that two of its passes both ink."""
    shape = scene.layer_set.groups[left.group].shape
    one, two = ((p.form, scene.blend(p)) for p in (left, following))
    if left.form.kind == following.form.kind == "all":
        return float(shape.area)

    def found() -> float:
        *_, right, bottom = shape.bounds
        raster = Raster(math.ceil(right / FINE) + 1, math.ceil(bottom / FINE) + 1, 1 / FINE)
        fields = [field_of(shape, form, soft, raster) for form, soft in (one, two)]
        both = (fields[0].values > LEAST_INK) & (fields[1].values > LEAST_INK)
        return float(both.sum()) / raster.scale**2

    return _MET.get((shape_key(shape), one, two), found)


def comes_off_damp(scene: Scene, left: Pass) -> bool:
    """Whether what a pass left on its sheet comes off with a damp wipe; else the sheet has to be washed."""
    chemistry = scene.ink(left).chemistry
    mild = chemistry.cleaning in ("wipe", "damp") and chemistry.key not in BULKY
    return mild and left.thickness <= THIN
