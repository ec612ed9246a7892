"""A set to carry: a zip with ``set.json``, ``set.svg`` and pictures (docs/formats/set-bundle.md)."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np

from strata import readings
from strata.errors import BadFile, TooLarge
from strata.formats.set_file import received_set, write_set
from strata.formats.svg_out import set_svg
from strata.formats.zipped import DAMAGED
from strata.picture.raster import Raster, coverage, window
from strata.sheets.model import LayerSet, as_one

MOST_UNPACKED = 60_000_000
MOST_ENTRIES = 100
_WHEN = (2020, 1, 1, 0, 0, 0)
# every entry's date: the same set gives the same file
PICTURE_WIDTH = 800
_LEVEL = 4
# of deflate: 2 to 4 % more to carry than at the usual level, which takes three times as long


@dataclass(frozen=True)
class Bundle:
    """A set and its pictures, PNG or JPEG by file name."""

    layer_set: LayerSet
    pictures: Mapping[str, bytes] = field(default_factory=dict)


def picture(layer_set: LayerSet) -> bytes:
    """The sheets on top of each other in greys, PNG."""
    from PIL import Image

    raster = Raster.of(layer_set.width, layer_set.height, PICTURE_WIDTH)
    grey = np.full((raster.height, raster.width), 250.0, np.float32)
    count = len(layer_set.sheets)
    for i, sheet in enumerate(layer_set.sheets):
        if not sheet.openings:
            continue
        shade = 200 - 160 * i / max(1, count - 1)
        inked = as_one(tuple(o.polygon for o in sheet.openings))
        at = window(inked.bounds, raster)
        share = 0.85 * coverage(inked.geoms, at, raster)
        grey[at.slices] += share * (shade - grey[at.slices])
    out = io.BytesIO()
    Image.fromarray(np.rint(grey).astype(np.uint8)).save(out, "PNG", optimize=True)
    return out.getvalue()


def write_bundle(bundle: Bundle) -> bytes:
    """The zip; reads back identical, and the same bytes for the same set."""
    entries = {
        "set.json": json.dumps(write_set(bundle.layer_set), ensure_ascii=False).encode(),
        "set.svg": set_svg(bundle.layer_set),
        "picture.png": picture(bundle.layer_set),
        **{f"pictures/{name}": data for name, data in sorted(bundle.pictures.items())},
    }
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in entries.items():
            info = zipfile.ZipInfo(name, _WHEN)
            info.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(info, data, compresslevel=_LEVEL)
    return out.getvalue()


def read_bundle(data: bytes) -> Bundle:
    """A set from a bundle; raises BadFile or TooLarge. Only set.json and pictures/ are looked at."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            entries = archive.infolist()
            if len(entries) > MOST_ENTRIES or sum(e.file_size for e in entries) > MOST_UNPACKED:
                raise TooLarge("This bundle holds more than a set does.", "file")
            if "set.json" not in archive.namelist():
                raise BadFile("This zip file is not a set: it has no set.json.", "file")
            values = readings.parse(_unpacked(archive, "set.json"), MOST_UNPACKED)
            pictures = {
                e.filename.removeprefix("pictures/"): _unpacked(archive, e.filename)
                for e in entries
                if e.filename.startswith("pictures/") and e.filename.lower().endswith((".png", ".jpg"))
            }
    except DAMAGED as error:
        raise BadFile("This bundle is damaged and cannot be opened.", "file") from error
    return Bundle(received_set(values), pictures)


def _unpacked(archive: zipfile.ZipFile, name: str) -> bytes:
    """One entry, never more than it may be, whatever it says of its size."""
    with archive.open(name) as entry:
        data = entry.read(MOST_UNPACKED + 1)
    if len(data) > MOST_UNPACKED:
        raise TooLarge("This bundle holds more than a set does.", "file")
    return data
