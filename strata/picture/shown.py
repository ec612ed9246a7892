"""Which layers a picture shows: what is done so far, the last of it wet if that is asked for."""

from __future__ import annotations

from collections.abc import Sequence

from strata.picture.album import ALBUM
from strata.picture.panel import Bytes, layers_of
from strata.picture.raster import Raster
from strata.plan.scene import Scene


def panel_after(scene: Scene, wet_on: frozenset[str], done: Sequence[str], width: int, wet: bool) -> Bytes:
    """The panel (h, w, 3) with the passes ``done`` (keys, in their order), ``width`` px wide.

    ``wet_on``: passes that go onto wet ink. ``wet``: the last one is shown
    before it has dried back.
    """
    raster = Raster.of(scene.layer_set.width, scene.layer_set.height, width)
    # plan order: passes that touch keep it in the sequence too, so the picture is the same,
    # and the next one differs from it by few layers
    passes = [p for p in scene.plan.passes if p.key in set(done)]
    layers = layers_of(scene, passes, wet_on, raster)
    if wet and done:
        last = scene.plan.find(done[-1])
        factor = scene.ink(last).chemistry.dry_back
        fresh = layers_of(scene, [last], wet_on, raster, factor)[0]
        layers = [fresh if p.key == last.key else layer for p, layer in zip(passes, layers, strict=True)]
    return ALBUM.picture(scene.stock, layers, raster)
