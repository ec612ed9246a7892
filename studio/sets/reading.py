"""Reading what is on its way in: one thread an import, each file in a guarded child process."""

from __future__ import annotations

import base64
import json
from pathlib import Path
from threading import Lock, Thread
from typing import Any

from django.conf import settings
from django.db import close_old_connections
from django.utils import timezone

from strata.errors import BadFile, StrataError
from strata.formats.guarded import Child
from strata.formats.set_file import read_set, write_set
from strata.sheets.edits import apply
from studio.sets.models import Import

_CHILDREN: dict[int, Child] = {}
_LOCK = Lock()


class Stopped(Exception):
    """The maker stopped it, or it was started anew."""


def folder(pk: int) -> Path:
    """Where the files of an import lie."""
    path: Path = settings.IMPORTS_DIR / str(pk)
    return path


def new_sheet(index: int, name: str) -> dict[str, Any]:
    """A file of an import, as nothing is known of it yet."""
    title = Path(name).stem.replace("_", " ").replace("-", " ").strip()[:120]
    return {"file": index, "name": name[:200], "title": title or f"Sheet {index + 1}", "turn": 0, "mirrored": False,
            "dropped": [], "corners": None, "result": None}  # fmt: skip


def launch(row: Import) -> None:
    """Read in the background (in tests of the API: at once)."""
    if settings.READ_AT_ONCE:
        _run(row.pk, row.run)
    else:
        Thread(target=_run_apart, args=(row.pk, row.run), daemon=True).start()


def _run_apart(pk: int, run: int) -> None:
    close_old_connections()
    try:
        _run(pk, run)
    finally:
        close_old_connections()


def _run(pk: int, run: int) -> None:
    try:
        _read(Import.objects.get(pk=pk), run)
    except (Stopped, Import.DoesNotExist):
        return
    except StrataError as error:
        _set(pk, run, state="failed", sentence=error.sentence[:500])
    except OSError:
        _set(
            pk,
            run,
            state="failed",
            sentence="The disk of the workshop computer is full or cannot be written.",
        )
    finally:
        with _LOCK:
            _CHILDREN.pop(pk, None)


def _set(pk: int, run: int, **values: Any) -> None:
    """Write to the row, unless it was stopped or started anew meanwhile."""
    if not Import.objects.filter(pk=pk, run=run, state="reading").update(updated=timezone.now(), **values):
        raise Stopped


def _child(
    row: Import, run: int, task: str, files: list[bytes], options: dict[str, Any], span: tuple[float, float]
) -> Any:
    low, high = span

    def progress(share: float, doing: str) -> None:
        Import.objects.filter(pk=row.pk, run=run, state="reading").update(
            share=low + share * (high - low), doing=doing
        )

    child = Child(task, options, files, progress)
    with _LOCK:
        _CHILDREN[row.pk] = child
    _set(row.pk, run, share=low)
    try:
        return child.run()
    except StrataError:
        if child.stopped:
            raise Stopped from None
        raise


def _bytes(row: Import, name: str) -> bytes:
    try:
        return (folder(row.pk) / name).read_bytes()
    except FileNotFoundError as error:
        raise BadFile("The files of this import are gone; bring them in again.") from error


def _read(row: Import, run: int) -> None:
    options, source = row.options, row.options["source"]
    if source == "sample":
        _photograph(row, run)
    if source == "drawing":
        files = [_bytes(row, f"{s['file']}.bin") for s in row.sheets]
        _set(row.pk, run, doing="Reading the drawing", share=0.1)
        wanted = {k: options[k] for k in ("name", "kind", "width_mm", "by")}
        wanted |= {"only_visible": options["visible"], "titles": [s["title"] for s in row.sheets]}
        answer = _child(row, run, "set", files, wanted, (0.1, 1.0))
    elif source == "bundle":
        answer = _child(row, run, "bundle", [_bytes(row, "0.bin")], {}, (0.1, 1.0))
        _unpack(row, answer.get("pictures", {}))
        if not options.get("opened"):  # a bundle knows its kind; a maker may still correct it
            options.update(kind=answer["set"]["kind"], opened=True)
            _set(row.pk, run, options=options)
    else:
        answer = _trace_all(row, run)
    draft = _arranged(answer["set"], arrangement(row)) if source == "drawing" else answer["set"]
    _set(row.pk, run, state="ready", share=1.0, doing="", draft=draft, left_out=answer["left_out"])


def arrangement(row: Import) -> list[dict[str, Any]]:
    """How the sheets of a drawing are to lie, in the order of use; ``at`` is their place in the file."""
    chosen: list[dict[str, Any]] = row.options.get("arrange") or []
    if len(row.sheets) > 1:
        return [
            {"at": i, **{k: s[k] for k in ("title", "turn", "mirrored")}} for i, s in enumerate(row.sheets)
        ]
    return chosen


def _arranged(draft: dict[str, Any], wanted: list[dict[str, Any]]) -> dict[str, Any]:
    """The draft with its sheets called, turned and put in order; as it is where the sheets are others by now."""
    core = read_set(draft)
    if len(wanted) != len(core.sheets):
        return draft
    numbers = [core.sheets[w["at"]].number for w in wanted]
    for number, item in zip(numbers, wanted, strict=True):
        if item.get("title"):
            core = apply(core, "call_sheet", {"sheet": number, "to": item["title"]}).layer_set
        if item.get("turn") or item.get("mirrored"):
            place = {"sheet": number, "turn": item.get("turn", 0), "mirrored": item.get("mirrored", False)}
            core = apply(core, "place", place).layer_set
    return write_set(apply(core, "order", {"sheets": numbers}).layer_set)


def _unpack(row: Import, pictures: dict[str, str]) -> None:
    """Pictures of a bundle, drawn afresh when they are kept."""
    for i, data in enumerate(pictures.values()):
        (folder(row.pk) / f"photo-{i}.jpg").write_bytes(base64.b64decode(data))


def _photograph(row: Import, run: int) -> None:
    """The simulated camera's photographs become the import's files."""
    options = {"seed": int(row.options.get("seed") or 1)}
    answer = _child(row, run, "photographs", [_bytes(row, "0.bin")], options, (0.0, 0.5))
    for i, photo in enumerate(answer["photographs"]):
        (folder(row.pk) / f"{i}.bin").write_bytes(base64.b64decode(photo["jpeg"]))
    row.sheets = [new_sheet(i, p["name"]) for i, p in enumerate(answer["photographs"])]
    row.options = {**row.options, "source": "photograph"}
    _set(row.pk, run, sheets=row.sheets, options=row.options)


def _trace_all(row: Import, run: int) -> dict[str, Any]:
    """Every photograph that has not been traced with these corners and this size yet, then the set."""
    options, count = row.options, len(row.sheets)
    size = {"width_mm": options.get("width_mm"), "height_mm": options.get("height_mm")}
    for i, sheet in enumerate(row.sheets):
        wanted = {**size, "corners": sheet["corners"]}
        if sheet["result"] and sheet["result"]["asked"] == wanted:
            continue
        start = 0.5 + 0.45 * i / count if options.get("seed") else 0.95 * i / count
        _set(row.pk, run, doing=f"Looking at sheet {i + 1} of {count}")
        step = 0.45 / count if options.get("seed") else 0.95 / count
        try:
            found = _child(
                row, run, "sheet", [_bytes(row, f"{sheet['file']}.bin")], wanted, (start, start + step)
            )
        except StrataError as error:
            raise type(error)(
                f"Sheet {i + 1} ({sheet['name'][:60]}): {error.sentence}", error.field
            ) from error
        (folder(row.pk) / f"photo-{sheet['file']}.jpg").write_bytes(base64.b64decode(found.pop("photo")))
        sheet["result"] = {**found, "asked": wanted}
        if size["width_mm"] is None or size["height_mm"] is None:
            # the first sheet sets the size for all
            size = {"width_mm": round(found["width_mm"], 2), "height_mm": round(found["height_mm"], 2)}
            options.update(size, guessed=True)
            sheet["result"]["asked"] = {**size, "corners": sheet["corners"]}
        _set(row.pk, run, sheets=row.sheets, options=options)
    return _laid(row, run)


def _laid(row: Import, run: int) -> dict[str, Any]:
    """The traced sheets as a set."""
    options = row.options
    sheets = [
        {
            "title": s["title"],
            "openings": s["result"]["openings"],
            **{k: s[k] for k in ("turn", "mirrored", "dropped")},
        }
        for s in row.sheets
    ]
    wanted = {
        "name": options["name"],
        "kind": options["kind"],
        "width": options["width_mm"],
        "height": options["height_mm"],
    }
    answer: dict[str, Any] = _child(row, run, "sheets", [json.dumps(sheets).encode()], wanted, (0.95, 1.0))
    warnings = [f"Sheet {i + 1}: {w}" for i, s in enumerate(row.sheets) for w in s["result"]["warnings"]]
    answer["left_out"] = [*warnings, *answer["left_out"]]
    return answer


def halt(row: Import) -> None:
    """End the child that is reading, if any."""
    with _LOCK:
        child = _CHILDREN.get(row.pk)
    if child is not None:
        child.stop()
