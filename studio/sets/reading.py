"""Reading what is on its way in: a kind of job, each file in a guarded child process."""

from __future__ import annotations

import base64
from pathlib import Path
from typing import Any

import orjson
from django.conf import settings
from django.db import transaction
from django.db.models import JSONField, TextField, Value
from django.db.models.functions import Cast
from django.utils import timezone

from strata.answers.opened import draft_json
from strata.errors import BadFile, BadValue, NotTheSame, StrataError
from strata.formats.photo_set import set_from_sheets, sheets_turned
from strata.formats.set_file import read_set, write_set
from strata.sheets.edits import apply
from strata.tracing.openings import AS_FOUND
from studio.jobs.queue import Running, Stopped, work
from studio.sets.joining import files_of, taken_apart
from studio.sets.models import Import
from studio.sets.traced import as_a_set, in_photo, traced_sheets, with_warnings

KIND = "read a set"
AS_READ = "as-read.json"
# the sheets of a drawing before anybody arranged them
UNNAMED = "A new set"
# as one is called of which nothing is said
MOST_AT_ONCE = 3000
# openings of photographs that are laid out while somebody waits for the answer


def folder(pk: int) -> Path:
    """Where the files of an import lie."""
    path: Path = settings.IMPORTS_DIR / str(pk)
    return path


def shown(pk: int, index: int) -> Path:
    """Where the photograph of a file lies as it is shown, if there is one."""
    return folder(pk) / f"photo-{index}.jpg"


def new_sheet(index: int, name: str) -> dict[str, Any]:
    """A file of an import, as nothing is known of it yet."""
    title = Path(name).stem.replace("_", " ").replace("-", " ").strip()[:120]
    return {"file": index, "name": name[:200], "title": title or f"Sheet {index + 1}", "turn": 0, "mirrored": False,
            "dropped": [], "retouches": [], "corners": None, "level": AS_FOUND, "result": None, "base": index}  # fmt: skip


def _keep(row: Import, running: Running, **values: Any) -> None:
    """Write to the import, unless it was stopped or begun anew meanwhile."""
    with transaction.atomic():
        running.hold()
        if not Import.objects.filter(pk=row.pk).update(updated=timezone.now(), **values):
            raise Stopped


def _as_written(text: str) -> Cast:
    """JSON text for a field of the database, without reading and writing it once more."""
    return Cast(Value(text, output_field=TextField()), JSONField())


def _bytes(row: Import, name: str) -> bytes:
    try:
        return (folder(row.pk) / name).read_bytes()
    except FileNotFoundError as error:
        raise BadFile("The files of this import are gone; bring them in again.") from error


@work(KIND)
def _read(running: Running) -> None:
    row = Import.objects.filter(pk=running.job.subject).first()
    if row is None:
        raise Stopped
    options, source = row.options, row.options["source"]
    if source == "sample":
        _photograph(row, running)
    if source == "drawing":
        files = [_bytes(row, f"{s['file']}.bin") for s in row.sheets]
        running.say(doing="Reading the drawing", share=0.1)
        wanted = {k: options[k] for k in ("name", "kind", "width_mm", "by")}
        wanted |= {"only_visible": options["visible"], "titles": [s["title"] for s in row.sheets]}
        answer = running.child("set", files, wanted, (0.1, 1.0))
    elif source == "bundle":
        answer = running.child("bundle", [_bytes(row, "0.bin")], {}, (0.1, 1.0))
        _unpack(row, answer.get("pictures", {}))
        if not options.get("opened"):  # a bundle knows its name and its kind; a maker may still correct them
            named = options["name"] if options["name"] != UNNAMED else answer["name"]
            options.update(kind=answer["kind"], name=named, opened=True)
            _keep(row, running, options=options)
    else:
        answer = _trace_all(row, running)
    draft, described = answer["set"], answer["described"]
    if source == "drawing":
        (folder(row.pk) / AS_READ).write_text(draft)
        row.sheets = [{**s, "base": i} for i, s in enumerate(row.sheets)]
        if chosen := arrangement(row):
            laid = _arranged(orjson.loads(draft), chosen)
            draft, described = (orjson.dumps(v).decode() for v in (laid, draft_json(read_set(laid))))
    _keep(
        row,
        running,
        draft=_as_written(draft),
        described=_as_written(described),
        left_out=answer["left_out"],
        sheets=row.sheets,
    )


def rearranged(row: Import) -> bool:
    """The draft anew after sheets were put in order, named, turned, turned over, or specks left out: at once, from
    what was read. False where it has to be read again, or holds so much that it would be waited for."""
    if row.options["source"] == "drawing":
        path = folder(row.pk) / AS_READ
        if not path.exists():
            return False
        row.draft = _arranged(orjson.loads(path.read_bytes()), arrangement(row))
    else:
        if not all(_read_so(row, s) for s in row.sheets):
            return False
        if sum(len(s["result"]["openings"]) for s in row.sheets) > MOST_AT_ONCE:
            return False
        found, notes = set_from_sheets(traced_sheets(row), **as_a_set(row))
        row.draft, row.left_out = write_set(found), with_warnings(row, notes)
    row.described = draft_json(read_set(row.draft))
    return True


def _wanted(row: Import, sheet: dict[str, Any]) -> dict[str, Any]:
    """How a photographed sheet is to be read: its size, corners, what counts as open, further photographs."""
    size = {k: row.options.get(k) for k in ("width_mm", "height_mm", "guessed")}
    others = files_of(sheet)
    how = {**size, "corners": sheet["corners"], "level": sheet.get("level", AS_FOUND)}
    return {**how, "also": others} if others else how


def _read_so(row: Import, sheet: dict[str, Any]) -> bool:
    """Whether it was read as it is to be read."""
    return bool(sheet["result"]) and sheet["result"]["asked"] == _wanted(row, sheet)


def arrangement(row: Import) -> list[dict[str, Any]]:
    """How the sheets of a drawing are to lie, in the order of use; ``at`` is their place in the file."""
    chosen: list[dict[str, Any]] = row.options.get("arrange") or []
    if len(row.sheets) > 1:
        return [
            {"at": s.get("base", i), **{k: s[k] for k in ("title", "turn", "mirrored")}}
            for i, s in enumerate(row.sheets)
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
        shown(row.pk, i).write_bytes(base64.b64decode(data))


def _photograph(row: Import, running: Running) -> None:
    """The simulated camera's photographs become the import's files."""
    options = {"seed": int(row.options.get("seed") or 1)}
    answer = running.child("photographs", [_bytes(row, "0.bin")], options, (0.0, 0.5))
    for i, photo in enumerate(answer["photographs"]):
        (folder(row.pk) / f"{i}.bin").write_bytes(base64.b64decode(photo["jpeg"]))
    row.sheets = [new_sheet(i, p["name"]) for i, p in enumerate(answer["photographs"])]
    row.options = {**row.options, "source": "photograph"}
    _keep(row, running, sheets=row.sheets, options=row.options)


def _trace_all(row: Import, running: Running) -> dict[str, Any]:
    """Every photograph that has not been traced with these corners and this size yet, then the set."""
    options, count = row.options, len(row.sheets)
    i = 0
    while i < len(row.sheets):
        sheet = row.sheets[i]
        if _read_so(row, sheet):
            i += 1
            continue
        wanted = _wanted(row, sheet)
        start = 0.5 + 0.45 * i / count if options.get("seed") else 0.95 * i / count
        running.say(doing=f"Looking at sheet {i + 1} of {count}")
        step = 0.45 / count if options.get("seed") else 0.95 / count
        try:
            photos = [_bytes(row, f"{file}.bin") for file in (sheet["file"], *files_of(sheet))]
            found = running.child("sheet", photos, wanted, (start, start + step))
        except NotTheSame:
            row.sheets[i : i + 1] = _by_themselves(sheet)
            continue
        except StrataError as error:
            raise type(error)(
                f"Sheet {i + 1} ({sheet['name'][:60]}): {error.sentence}", error.field
            ) from error
        _keep_photographs(row, sheet, found)
        if None in (wanted["width_mm"], wanted["height_mm"]):
            # the first sheet sets the size for all
            options.update({k: round(found[k], 2) for k in ("width_mm", "height_mm")}, guessed=True)
        sheet["result"] = {**found, "asked": _wanted(row, sheet)}
        _retouch_again(sheet)
        _keep(row, running, sheets=row.sheets, options=options)
        i += 1
    _turn_by_marks(row, running)
    return _laid(row, running)


def _keep_photographs(row: Import, sheet: dict[str, Any], found: dict[str, Any]) -> None:
    """The photographs as they are shown, taken out of what was ``found``."""
    for file, photo in zip((sheet["file"], *files_of(sheet)), found.pop("photographs"), strict=True):
        shown(row.pk, file).write_bytes(base64.b64decode(photo))


def _by_themselves(sheet: dict[str, Any]) -> list[dict[str, Any]]:
    """Photographs that turned out not to show one sheet, each as a sheet of its own; it is said with the first."""
    first, *others = taken_apart(sheet)
    names = " and ".join(f"“{other['name'][:60]}”" for other in others)
    does, is_ = ("does not show this sheet", "is") if len(others) == 1 else ("do not show this sheet", "are")
    own = "a sheet of its own" if len(others) == 1 else "sheets of their own"
    return [{**first, "said": f"{names} {does} and {is_} {own} again."}, *others]


def _retouch_again(sheet: dict[str, Any]) -> None:
    """What was mended on the reading before is mended on this one; all or nothing, and it is said."""
    try:
        in_photo(sheet)
    except BadValue:
        sheet["retouches"] = []
        said = "What was mended by hand does not fit this reading; look at it again."
        sheet["result"]["warnings"] = [*sheet["result"]["warnings"], said]


def _turn_by_marks(row: Import, running: Running) -> None:
    """Once, when sheets were just found: one that lay another way than the others is turned; she may turn it back."""
    fresh = [s for s in row.sheets if not s["result"].get("placed")]
    if not fresh:
        return
    ways = sheets_turned(traced_sheets(row), row.options["width_mm"], row.options["height_mm"])
    for s, (turn, mirrored) in zip(row.sheets, ways, strict=True):
        untouched = not s["turn"] and not s["mirrored"]
        if not s["result"].get("placed") and untouched and (turn or mirrored):
            s["turn"], s["mirrored"] = turn, mirrored
            how = "turned over" if mirrored else "turned"
            said = f"It lay another way than the others; it was {how} by its marks."
            s["result"]["warnings"] = [*s["result"]["warnings"], said]
        s["result"]["placed"] = True
    _keep(row, running, sheets=row.sheets)


def _laid(row: Import, running: Running) -> dict[str, Any]:
    """The traced sheets as a set."""
    traced = [orjson.dumps(traced_sheets(row))]
    answer: dict[str, Any] = running.child("sheets", traced, as_a_set(row), (0.95, 1.0))
    answer["left_out"] = with_warnings(row, answer["left_out"])
    return answer
