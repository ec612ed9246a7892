"""What the guarded child can do: each task takes files, options and a way to say how far it is."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING, Any

import orjson

from strata.guard.child import READ
from strata.progress import Progress

if TYPE_CHECKING:
    from strata.sheets.model import LayerSet

SEARCHED = "Trying other orders"

Task = Callable[[Sequence[bytes], dict[str, Any], Progress], Any]


def _measure(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.answers.report import svg_report

    by, width, only_visible = options["by"], options["width_mm"], options["visible"]
    return svg_report(files[0], by, width, only_visible, lambda: say(0.5, READ))


def _draft(found: LayerSet, left_out: Sequence[str]) -> dict[str, Any]:
    """A set that was read, as it is kept and as it is shown: both as JSON text, so that whoever keeps them writes down
    what is written."""
    from strata.answers.opened import draft_json
    from strata.formats.set_file import write_set

    kept, shown = (orjson.dumps(made).decode() for made in (write_set(found), draft_json(found)))
    return {"set": kept, "described": shown, "left_out": list(left_out)}


def _set(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.svg_set import read_files

    found = read_files(files, **options, opened=lambda: say(0.5, READ))
    say(0.9, READ)
    return _draft(found.layer_set, found.left_out)


def _measures(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """A set (JSON) to what is measured on it."""
    from strata.answers.measures import measures_json
    from strata.formats.set_file import read_set
    from strata.guard.both_ends import both_ends

    core = read_set(orjson.loads(files[0]))
    say(0.0, READ)
    return measures_json(core, say, both_ends)


def _trace(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.answers.report import report
    from strata.formats.svg.geometry import union
    from strata.tracing import trace

    found = trace(files[0], options["width_mm"], options["height_mm"], progress=say)
    say(0.9, READ)
    return report((found.width, found.height), [("sheet", union(found.openings))], list(found.said))


def _sheet(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.photo_set import read_photo

    return read_photo(files[0], options, say, files[1:])


def _sheets(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """Traced sheets (JSON, in the first file) to a set."""
    from strata.formats.photo_set import set_from_sheets

    say(0.3, READ)
    return _draft(*set_from_sheets(orjson.loads(files[0]), **options))


def _photographs(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """Photographs that the simulated camera takes of a set (JSON), each sheet once."""
    import base64

    from strata.camera import jpeg, photograph
    from strata.camera.sample import shot_of
    from strata.formats.set_file import read_set

    layer_set = read_set(orjson.loads(files[0]))
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

    del options
    found = read_bundle(files[0])
    say(0.5, READ)
    pictures = {name: base64.b64encode(data).decode() for name, data in found.pictures.items()}
    own = found.layer_set
    return {**_draft(own, []), "name": own.name, "kind": own.kind, "pictures": pictures}


def _picture_colours(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """The colours of a picture, with their shares."""
    from strata.proposals.pictured import colours_of
    from strata.tracing.photo import open_photo

    del options
    picture = open_photo(files[0], heif=True)
    say(0.5, READ)
    return [{"lab": list(lab), "share": share} for lab, share in colours_of(picture)]


def _order(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """The best order of work (JSON) that is found within a budget."""
    from strata.order.found import write_found
    from strata.order.planning import search
    from strata.order.ticks import Work
    from strata.order.wish import Wish
    from strata.order.work_file import read_work

    say(0.1, READ)
    work = Work(read_work(orjson.loads(files[0])))
    return write_found(work, search(work, Wish(**options), lambda share: say(share, SEARCHED)))


def _drawer_file(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    from strata.formats.brought import brought_json, read_brought

    found = read_brought(files[0], options.get("encoding"), options.get("head"))
    say(0.9, READ)
    return brought_json(found)


def _swatch_card(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """A photograph of a swatch card to what its fields read."""
    from dataclasses import asdict

    from strata.swatchcard import CardLayout
    from strata.swatchcard.reading import read_card
    from strata.tracing.photo import open_photo

    layout = CardLayout(options["code"], options["count"], options["paper"])
    known = {int(i): tuple(lab) for i, lab in options["known"].items()}
    found = read_card(open_photo(files[0], heif=True), layout, tuple(options["card"]), known, say)
    return asdict(found)


def _card_photograph(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """What the simulated camera takes of a card (PDF) with the inks of a world (JSON)."""
    import base64

    from strata.camera import jpeg
    from strata.camera.card import card_shot
    from strata.camera.card_sample import card_photograph
    from strata.formats.drawer import read_ink, read_stock
    from strata.swatchcard import CardLayout, Field

    world = orjson.loads(files[1])
    fields = [Field(tuple((k, c) for k, c in f["passes"]), f["label"]) for f in world["fields"]]
    inks = {k: read_ink(k, v, k) for k, v in world["inks"].items()}
    layout, shot = CardLayout(world["code"], len(fields), world["paper"]), card_shot(options["seed"])
    say(0.1, "Photographing the card")
    seen = card_photograph(files[0], layout, fields, read_stock(world["stock"], "stock"), inks, shot)
    return {"jpeg": base64.b64encode(jpeg(seen, shot.quality)).decode()}


def _panel_photograph(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """A photograph of a finished panel, held against what was predicted (packed)."""
    import base64

    import numpy as np

    from strata.camera import jpeg
    from strata.photographed.reading import read_panel, unpacked, write_reading
    from strata.tracing.photo import open_photo

    around, corners = options["around"], options["corners"]
    found, straight = read_panel(
        open_photo(files[0], heif=True),
        unpacked(files[1]),
        None if around is None else (around[0], around[1], around[2]),
        None if corners is None else np.array(corners, float),
        say,
    )
    return {"reading": write_reading(found), "straight": base64.b64encode(jpeg(straight, 90)).decode()}


def _readings(files: Sequence[bytes], options: dict[str, Any], say: Progress) -> Any:
    """CGATS text of a colour reader to one colour."""
    from dataclasses import asdict

    from strata.formats.reader_text import read_readings
    from strata.optics.averaging import averaged

    del options
    found = read_readings(files[0])
    say(0.5, READ)
    names, labs = [r.name for r in found.readings], [r.lab for r in found.readings]
    return {"header": dict(found.header), "names": names, "labs": labs, **asdict(averaged(labs))}


TASKS: dict[str, Task] = {
    "measure": _measure,
    "measures": _measures,
    "set": _set,
    "trace": _trace,
    "sheet": _sheet,
    "sheets": _sheets,
    "photographs": _photographs,
    "bundle": _bundle,
    "drawer_file": _drawer_file,
    "picture_colours": _picture_colours,
    "order": _order,
    "swatch_card": _swatch_card,
    "card_photograph": _card_photograph,
    "panel_photograph": _panel_photograph,
    "readings": _readings,
}
