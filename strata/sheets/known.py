"""What is found of shapes is found of many at once, and known from then on: parts are named oftener than moved."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from hashlib import blake2b
from typing import TypeVar

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely import Polygon

from strata.kept import Kept

V = TypeVar("V")


def of_each(
    shapes: Sequence[Polygon], kept: Kept[bytes, V], find: Callable[[NDArray[np.object_]], Sequence[V]]
) -> list[V]:
    """What ``find`` finds of each shape (n,), asked only for those that ``kept`` does not have; raises what it raises."""
    if not shapes:
        return []
    written = shapely.to_wkb(np.array(shapes, dtype=object)).tolist()
    keys = [blake2b(wkb, digest_size=16).digest() for wkb in written]
    known = {key: found for key in set(keys) if (found := kept.seen(key)) is not None}
    fresh = {key: shape for key, shape in zip(keys, shapes, strict=True) if key not in known}
    if fresh:
        found_now = find(np.array(list(fresh.values()), dtype=object))
        known.update((key, kept.put(key, v)) for key, v in zip(fresh, found_now, strict=True))
    return [known[key] for key in keys]
