"""Bringing a set in: a job that the browser follows, that can be stopped, and that leaves nothing half-done.

Files are written to a folder of the import, read in the background
(studio.sets.reading), and thrown away when the set is kept or the import let
go. What ran when the server stopped is begun again from its files.
"""

from __future__ import annotations

import json
import shutil
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from django.conf import settings
from django.core.files.uploadedfile import UploadedFile
from django.db import transaction

from strata.errors import BadFile, BadValue, TooLarge, UnknownName
from strata.formats.limits import MOST_DRAWING, MOST_FILES, MOST_PHOTOGRAPH
from strata.formats.set_file import read_set, write_set
from strata.tracing.by_points import sized_by_points
from strata.tracing.fitted import fitted
from strata.tracing.openings import AS_FOUND
from strata.tracing.photo import open_photo
from studio.jobs import queue
from studio.sets.history import core_set
from studio.sets.joining import as_said, files_of, put_together
from studio.sets.models import Import, LayerSet, SetPicture
from studio.sets.reading import KIND, arrangement, folder, new_sheet, rearranged, shown
from studio.sets.services import make_set
from studio.sets.traced import in_photo

YOUNG = 3600.0
# seconds
MOST_UNDER_WAY = 6
# a maker
_PHOTO = (".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".heic", ".heif")
_DRAWING = (".svg", ".svgz")


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
        f"“{name[:80]}” is neither a drawing (SVG), a photograph (JPEG, HEIC, PNG, TIFF, WebP) nor a set bundle (zip).",
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
    row = Import(owner=owner, options={**options, "source": kind})
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
    row.sheets = [new_sheet(i, name) for i, (name, _) in enumerate(files)] if kind != "sample" else []
    row.save(update_fields=["sheets"])
    row.job = queue.begin(owner, KIND, row.pk)
    row.save(update_fields=["job"])
    return row


def stop(row: Import) -> Import:
    """End the reading; it can be started again."""
    if row.job is not None:
        queue.stop(row.job)
    row.refresh_from_db()
    return row


def again(row: Import, options: dict[str, Any], sheets: list[dict[str, Any]] | None) -> Import:
    """Another order, place or name of its sheets at once; what was said of corners, size or layers by reading once more.

    ``sheets`` in the order of use, by their place in the old one.
    """
    with transaction.atomic():
        fresh = Import.objects.select_related("job", "owner").get(pk=row.pk)
        if fresh.state == "ready" and not _other_reading(fresh, options, sheets):
            _take_over(fresh, options, sheets)
            if rearranged(fresh):
                fresh.save()
                return fresh
    return _read_again(row, lambda stopped: _take_over(stopped, options, sheets))


def _other_reading(row: Import, options: dict[str, Any], sheets: list[dict[str, Any]] | None) -> bool:
    """Whether what is asked for can only be known from the files."""
    how = ("by", "visible", "width_mm", "height_mm")
    if row.options["source"] == "bundle" or any(
        options.get(k, row.options.get(k)) != row.options.get(k) for k in how
    ):
        return True
    of_files = row.options["source"] != "drawing" or len(row.sheets) > 1
    return sheets is None or (
        of_files and any(_seen_otherwise(s, row.sheets[s["at"]]) for s in sheets if s["at"] < len(row.sheets))
    )


def _seen_otherwise(said: dict[str, Any], sheet: dict[str, Any]) -> bool:
    """Whether a photograph is to be looked at with other corners, or another measure of what is open."""
    now = {"corners": sheet["corners"], "level": sheet.get("level", AS_FOUND)}
    return any(k in said and said[k] != v for k, v in now.items())


def photographed_again(row: Import, at: int, sent: UploadedFile[Any]) -> Import:
    """One more photograph of a sheet, read together with those that are there. Raises as ``check_files`` does, and
    UnknownName for a sheet that is not there."""
    name = str(sent.name)
    if check_files([(name, sent.size or 0)]) != "photograph":
        raise BadValue("Give a photograph of this sheet.", "file")
    if row.options["source"] not in ("photograph", "sample") or at >= len(row.sheets):
        raise UnknownName("There is no photographed sheet at this place.", "sheet")

    def add(row: Import) -> None:
        known = [file for s in row.sheets for file in (s["file"], *files_of(s))]
        if len(known) >= MOST_FILES:
            raise TooLarge(f"A set has {MOST_FILES} photographs at the most.", "file")
        fresh = new_sheet(max(known) + 1, name)
        row.sheets = [put_together(s, [fresh]) if i == at else s for i, s in enumerate(row.sheets)]
        (folder(row.pk) / f"{fresh['file']}.bin").write_bytes(sent.read())

    return _read_again(row, add)


def by_points(row: Import, at: int, points: list[list[float]], apart: float) -> dict[str, Any]:
    """The size of all sheets from two points of one photograph; raises BadValue and UnknownName."""
    result = row.sheets[at]["result"] if at < len(row.sheets) else None
    if row.options["source"] not in ("photograph", "sample") or not result:
        raise UnknownName("There is no photograph to measure on.", "measured")
    size = sized_by_points(
        np.array(result["corners"]), np.array(points), apart, result["width_mm"], result["height_mm"]
    )
    return {"width_mm": size[0], "height_mm": size[1]}


def _read_again(row: Import, change: Callable[[Import], None]) -> Import:
    """Its files once more, with a ``change`` to what is known of them; what is being read meanwhile is stopped."""
    stop(row)
    change(row)
    row.draft = row.described = None
    row.save()
    queue.begin_for(row, row.owner, KIND)
    return row


def _take_over(row: Import, options: dict[str, Any], sheets: list[dict[str, Any]] | None) -> None:
    """What was chosen, written to the import; raises BadValue for sheets that are not there."""
    other = any(
        options.get(k, row.options.get(k)) != row.options.get(k) for k in ("by", "visible", "width_mm")
    )
    sized = any(options.get(k) and options[k] != row.options.get(k) for k in ("width_mm", "height_mm"))
    row.options = {
        **row.options,
        **options,
        **({"arrange": None} if other else {}),
        **({"guessed": False} if sized else {}),
    }
    if sheets is not None and row.options["source"] == "drawing" and len(row.sheets) == 1:
        _arrange(row, sheets)
    elif sheets is not None:
        row.sheets = [_with(sheet, said) for said, sheet in as_said(row.sheets, sheets)]
        for sheet in row.sheets:
            if sheet["result"] and sheet["result"].get("in_photo") is not None:
                # a retouch that means nothing there is refused now; what came of one that was taken back is gone
                count = len(in_photo(sheet))
                sheet["dropped"] = [d for d in sheet["dropped"] if d < count]


def _with(sheet: dict[str, Any], said: dict[str, Any]) -> dict[str, Any]:
    """The sheet as it was said to be; openings that are found anew are counted anew: what was left out was another one."""
    anew: dict[str, Any] = {"dropped": [], "retouches": []} if _seen_otherwise(said, sheet) else {}
    # what was said of the last reading is over
    return {**sheet, "said": "", **said, **anew}


def _arrange(row: Import, sheets: list[dict[str, Any]]) -> None:
    """Sheets of one drawing: ``at`` counts the sheets as they are shown now."""
    count = len(row.draft["sheets"]) if row.draft else 0
    if sorted(s["at"] for s in sheets) != list(range(count)):
        raise BadValue("Give every sheet once.", "sheets")
    now = arrangement(row) or [{"at": i} for i in range(count)]
    row.options["arrange"] = [{**now[s["at"]], **{k: v for k, v in s.items() if k != "at"}} for s in sheets]


def outline_fitted(row: Import, at: int, points: list[list[float]]) -> list[list[float]]:
    """An outline that was drawn on the shown photograph of a sheet (px), fitted to the edge beside it; nothing is kept.
    Raises BadValue where none is seen, and for a sheet that has no photograph."""
    if at >= len(row.sheets) or not (path := shown(row.pk, row.sheets[at]["file"])).exists():
        raise BadValue("There is no photograph to draw on.", "sheet")
    found = fitted(open_photo(path.read_bytes()), np.array(points, float))
    return [[round(float(v), 2) for v in point] for point in found]


def let_go(row: Import) -> None:
    """Nothing of it stays."""
    stop(row)
    pk, job = row.pk, row.job
    row.delete()
    if job is not None:
        job.delete()
    shutil.rmtree(folder(pk), ignore_errors=True)


@transaction.atomic
def keep(row: Import, name: str = "", kind: str = "") -> LayerSet:
    """The draft becomes a set of the maker's, by this name and kind if they are given; the import and its files go."""
    fresh = Import.objects.select_related("job").filter(pk=row.pk).first()
    if fresh is None:
        raise UnknownName("This set is kept already, or it was let go.", "state")
    if fresh.state != "ready" or fresh.draft is None:
        raise BadValue("This set is not ready to be kept.", "state")
    said = {
        "name": name or fresh.options.get("name") or fresh.draft["name"],
        "kind": kind or fresh.options["kind"],
    }
    core = read_set({**fresh.draft, **said})
    made = make_set(fresh.owner, core, fresh.left_out)
    place = folder(fresh.pk)
    for called, path in _photographs(fresh, place):
        SetPicture.objects.create(layer_set=made, name=called, data=path.read_bytes())
    fresh.delete()
    transaction.on_commit(lambda: shutil.rmtree(place, ignore_errors=True))
    return made


def _photographs(row: Import, place: Path) -> list[tuple[str, Path]]:
    """Pictures that are kept with the set: by the sheet that they show; those of a bundle in their order."""
    if row.options["source"] == "bundle":
        return [(f"sheet-{i + 1}.jpg", p) for i, p in enumerate(sorted(place.glob("photo-*.jpg")))]
    named = []
    for i, sheet in enumerate(row.sheets, start=1):
        for n, file in enumerate([sheet["file"], *files_of(sheet)], start=1):
            named.append((f"sheet-{i}.jpg" if n == 1 else f"sheet-{i}-{n}.jpg", shown(row.pk, file)))
    return [(name, path) for name, path in named if path.exists()]


def sweep() -> None:
    """Folders that belong to no import: left by a server that was stopped in between.

    Young ones stay: another process may be writing an import whose row is not there yet.
    """
    base, young = settings.IMPORTS_DIR, time.time() - YOUNG
    known = {str(pk) for pk in Import.objects.values_list("pk", flat=True)}
    for place in base.glob("*"):
        if place.is_dir() and place.name not in known and place.stat().st_mtime < young:
            shutil.rmtree(place, ignore_errors=True)
