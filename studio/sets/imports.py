"""Bringing a set in: a job that the browser follows, that can be stopped, and that leaves nothing half-done.

Files are written to a folder of the import, read one by one in a guarded
child process by one thread per import, and thrown away when the set is kept
or the import let go. What ran when the server stopped is said so when it is
next looked at, and can be started again from its files.
"""

from __future__ import annotations

import base64
import json
import shutil
import uuid
from pathlib import Path
from threading import Lock, Thread
from typing import Any

from django.conf import settings
from django.db import close_old_connections, transaction
from django.utils import timezone

from strata.errors import BadFile, BadValue, StrataError, TooLarge
from strata.formats.guarded import Child
from strata.formats.limits import MOST_DRAWING, MOST_FILES, MOST_PHOTOGRAPH
from strata.formats.set_file import read_set, write_set
from strata.sheets.edits import apply
from studio.sets.history import core_set
from studio.sets.models import Import, LayerSet, SetPicture
from studio.sets.services import make_set

BOOT = uuid.uuid4().hex
# this run of the server
RESTARTED = (
    "The workshop was restarted while this was being read. Nothing was lost: read it again, or let it go."
)
MOST_UNDER_WAY = 6
# a maker
_CHILDREN: dict[int, Child] = {}
_LOCK = Lock()
_PHOTO = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp")
_DRAWING = (".svg", ".svgz")


class Stopped(Exception):
    """The maker stopped it, or it was started anew."""


def folder(pk: int) -> Path:
    """Where the files of an import lie."""
    path: Path = settings.IMPORTS_DIR / str(pk)
    return path


def kind_of(name: str) -> str:
    """What a file is by its name: drawing, photograph or bundle; raises BadFile for anything else."""
    ending = Path(name.lower()).suffix
    if ending in _DRAWING:
        return "drawing"
    if ending in _PHOTO:
        return "photograph"
    if ending == ".zip":
        return "bundle"
    raise BadFile(
        f"“{name[:80]}” is neither a drawing (SVG), a photograph (JPEG, PNG, TIFF, WebP) nor a set bundle (zip).",
        "files",
    )


def check_files(files: list[tuple[str, int]]) -> str:
    """What the files are together; raises before anything is kept. ``files``: names and sizes."""
    if not files:
        raise BadValue("Choose a file first.", "files")
    if len(files) > MOST_FILES:
        raise TooLarge(f"{len(files)} files are more than a set has sheets ({MOST_FILES}).", "files")
    kinds = {kind_of(name) for name, _ in files}
    if len(kinds) > 1:
        raise BadValue("Bring in drawings or photographs, not both at once.", "files")
    kind = kinds.pop()
    if kind == "bundle" and len(files) > 1:
        raise BadValue("Bring in one bundle at a time.", "files")
    most = MOST_DRAWING if kind == "drawing" else MOST_PHOTOGRAPH
    for name, size in files:
        if size > most:
            raise TooLarge(f"“{name[:80]}” is over {most // 1_000_000} MB.", "files")
        if size == 0:
            raise BadFile(f"“{name[:80]}” is empty.", "files")
    return kind


def begin(
    owner: Any, files: list[tuple[str, bytes]], options: dict[str, Any], sample: LayerSet | None = None
) -> Import:
    """An import of files, or of photographs that the simulated camera takes of a set."""
    if Import.objects.filter(owner=owner).count() >= MOST_UNDER_WAY:
        raise BadValue(
            "There are several sets on their way in already; keep them or let them go first.", "files"
        )
    kind = "sample" if sample else check_files([(name, len(data)) for name, data in files])
    row = Import(owner=owner, boot=BOOT, options={**options, "source": kind})
    if sample is not None:
        core = core_set(sample)
        row.options.update(width_mm=core.width, height_mm=core.height, kind=sample.kind)
        files = [("sample.json", json.dumps(write_set(core)).encode())]
    row.save()
    place = folder(row.pk)
    shutil.rmtree(place, ignore_errors=True)
    place.mkdir(parents=True)
    for i, (_, data) in enumerate(files):
        (place / f"{i}.bin").write_bytes(data)
    row.sheets = [_sheet(i, name) for i, (name, _) in enumerate(files)] if kind != "sample" else []
    row.save(update_fields=["sheets"])
    launch(row)
    return row


def _sheet(index: int, name: str) -> dict[str, Any]:
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
    row.sheets = [_sheet(i, p["name"]) for i, p in enumerate(answer["photographs"])]
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


def look(row: Import) -> Import:
    """The row as it stands; a reading that ended with an earlier run of the server is said so."""
    if row.state == "reading" and row.boot != BOOT:
        row.state, row.sentence = "failed", RESTARTED
        row.save(update_fields=["state", "sentence", "updated"])
    return row


def _halt(row: Import) -> None:
    with _LOCK:
        child = _CHILDREN.get(row.pk)
    if child is not None:
        child.stop()


def stop(row: Import) -> Import:
    """End the reading; it can be started again."""
    changed = Import.objects.filter(pk=row.pk, state="reading").update(
        state="stopped", sentence="Stopped. Read it again, or let it go.", run=row.run + 1
    )
    if changed:
        _halt(row)
    row.refresh_from_db()
    return row


def again(row: Import, options: dict[str, Any], sheets: list[dict[str, Any]] | None) -> Import:
    """Read once more with other options or corners; ``sheets`` in the order of use, by their place in the old one."""
    _halt(row)
    row.refresh_from_db()
    other = any(
        options.get(k, row.options.get(k)) != row.options.get(k) for k in ("by", "visible", "width_mm")
    )
    row.options = {**row.options, **options, **({"arrange": None} if other else {})}
    if sheets is not None and row.options["source"] == "drawing" and len(row.sheets) == 1:
        _arrange(row, sheets)
    elif sheets is not None:
        if sorted(s["at"] for s in sheets) != list(range(len(row.sheets))):
            raise BadValue("Give every sheet once.", "sheets")
        row.sheets = [{**row.sheets[s["at"]], **{k: v for k, v in s.items() if k != "at"}} for s in sheets]
    row.state, row.share, row.doing, row.sentence, row.boot = "reading", 0.0, "Starting", "", BOOT
    row.run += 1
    row.draft = None
    row.save()
    launch(row)
    return row


def _arrange(row: Import, sheets: list[dict[str, Any]]) -> None:
    """Sheets of one drawing: ``at`` counts the sheets as they are shown now."""
    count = len(row.draft["sheets"]) if row.draft else 0
    if sorted(s["at"] for s in sheets) != list(range(count)):
        raise BadValue("Give every sheet once.", "sheets")
    now = arrangement(row) or [{"at": i} for i in range(count)]
    row.options["arrange"] = [{**now[s["at"]], **{k: v for k, v in s.items() if k != "at"}} for s in sheets]


def let_go(row: Import) -> None:
    """Nothing of it stays."""
    stop(row)
    pk = row.pk
    row.delete()
    shutil.rmtree(folder(pk), ignore_errors=True)


@transaction.atomic
def keep(row: Import) -> LayerSet:
    """The draft becomes a set of the maker's; the import and its files go."""
    fresh = Import.objects.get(pk=row.pk)
    if fresh.state != "ready" or fresh.draft is None:
        raise BadValue("This set is not ready to be kept.", "state")
    said = {"name": fresh.options.get("name") or fresh.draft["name"], "kind": fresh.options["kind"]}
    core = read_set({**fresh.draft, **said})
    made = make_set(fresh.owner, core, fresh.left_out)
    place = folder(fresh.pk)
    for i, photo in enumerate(sorted(place.glob("photo-*.jpg"))):
        SetPicture.objects.create(layer_set=made, name=f"sheet-{i + 1}.jpg", data=photo.read_bytes())
    fresh.delete()
    transaction.on_commit(lambda: shutil.rmtree(place, ignore_errors=True))
    return made


def sweep() -> None:
    """Folders that belong to no import: left by a server that was stopped in between."""
    base = settings.IMPORTS_DIR
    known = {str(pk) for pk in Import.objects.values_list("pk", flat=True)}
    for place in base.glob("*"):
        if place.is_dir() and place.name not in known:
            shutil.rmtree(place, ignore_errors=True)
