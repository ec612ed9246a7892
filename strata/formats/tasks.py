"""What the guarded child can do: each task takes files, options and a way to say how far it is."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from strata.formats.guarded import READ, Progress

Task = Callable[[Sequence[bytes], dict[str, Any], Progress], Any]


def _measure(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.report import svg_report

    by, width, only_visible = options["by"], options["width_mm"], options["visible"]
    return svg_report(files[0], by, width, only_visible, lambda: say(0.5, READ))


def _set(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.set_file import write_set
    from strata.formats.svg_set import read_files

    found = read_files(files, **options)
    say(0.9, READ)
    return {"set": write_set(found.layer_set), "left_out": found.left_out}


def _trace(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.report import report
    from strata.formats.svg.geometry import union
    from strata.tracing import trace

    found = trace(files[0], options["width_mm"], options["height_mm"], progress=say)
    say(0.9, READ)
    return report((found.width, found.height), [("sheet", union(found.openings))], list(found.warnings))


def _sheet(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.photo_set import read_photo

    return read_photo(files[0], options, say)


def _sheets(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """Traced sheets (JSON, in the first file) to a set."""
    import json

    from strata.formats.photo_set import set_from_sheets
    from strata.formats.set_file import write_set

    say(0.3, READ)
    found, notes = set_from_sheets(json.loads(files[0]), **options)
    return {"set": write_set(found), "left_out": notes}


def _photographs(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """Photographs that the simulated camera takes of a set (JSON), each sheet once."""
    import base64
    import json

    from strata.camera import jpeg, photograph
    from strata.camera.sample import shot_of
    from strata.formats.set_file import read_set

    layer_set = read_set(json.loads(files[0]))
    say(0.1, READ)
    sheets = [s for s in layer_set.sheets if s.seat is None]
    taken = []
    for i, sheet in enumerate(sheets):
        say(i / len(sheets), f"Photographing sheet {i + 1} of {len(sheets)}")
        shot = shot_of(layer_set.width, layer_set.height, options["seed"] + i)
        shapes = [*(o.polygon for o in sheet.openings), *sheet.marks]
        data = jpeg(photograph(shapes, layer_set.width, layer_set.height, shot), shot.quality)
        taken.append({"name": f"sheet {i + 1}.jpg", "jpeg": base64.b64encode(data).decode()})
    return {"photographs": taken}


def _bundle(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    import base64

    from strata.formats.bundle import read_bundle
    from strata.formats.set_file import write_set

    del options
    found = read_bundle(files[0])
    say(0.5, READ)
    pictures = {name: base64.b64encode(data).decode() for name, data in found.pictures.items()}
    return {"set": write_set(found.layer_set), "left_out": [], "pictures": pictures}


TASKS: dict[str, Task] = {
    "measure": _measure,
    "set": _set,
    "trace": _trace,
    "sheet": _sheet,
    "sheets": _sheets,
    "photographs": _photographs,
    "bundle": _bundle,
}
