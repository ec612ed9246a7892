"""Backups made while it runs: the database by SQLite's own online copy, files beside it, in one archive that is checked."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import sqlite3
import tempfile
import zipfile
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path, PurePosixPath
from typing import Any

from django.conf import settings

from strata.errors import BadFile, BadValue

DATABASE = "anastrata.sqlite3"
FOLDERS = ("imports", "reader")
# what lies beside the database and is the makers' own
MANIFEST = "backup.json"
FORMAT = "anastrata-backup"
CHANGED = (
    ("builds_change", "at"), ("bench_event", "arrived"), ("inks_drawerchange", "at"),
    ("sets_setchange", "at"), ("bench_record", "updated"), ("builds_build", "updated"),
)  # fmt: skip
# tables and columns by which it is told when something was last changed
ELSEWHERE = (
    "This house keeps its data in PostgreSQL. Back it up with pg_dump, and with it the folders "
    "imports and reader of the data folder; docs/running/backups.md says how."
)
PAGES = 2000
# copied at a time, so that who writes meanwhile hardly waits


@dataclass(frozen=True)
class Backup:
    """An archive of everything, by when it was made."""

    path: Path
    made: datetime

    @property
    def size(self) -> int:
        """Bytes."""
        return self.path.stat().st_size


def folder() -> Path:
    """Where backups lie, unless the environment says otherwise (another disk is better)."""
    return Path(os.environ.get("ANASTRATA_BACKUPS", settings.DATA_DIR / "backups"))


def all_of(place: Path | None = None) -> list[Backup]:
    """The backups there are, the newest first."""
    found = []
    for path in (place or folder()).glob("anastrata-*.zip"):
        try:
            made = datetime.strptime(path.stem.removeprefix("anastrata-")[:15], "%Y%m%d-%H%M%S")
        except ValueError:
            continue
        found.append(Backup(path, made.replace(tzinfo=UTC)))
    return sorted(found, key=lambda b: (b.made, b.path.name), reverse=True)


def make(place: Path | None = None, now: datetime | None = None) -> Backup:
    """A backup, checked by opening it; raises BadFile where it does not open whole, and leaves nothing then."""
    if "sqlite3" not in settings.DATABASES["default"]["ENGINE"]:
        raise BadValue(ELSEWHERE, "database")
    where, at = place or folder(), now or datetime.now(UTC)
    where.mkdir(parents=True, exist_ok=True, mode=0o700)
    path = where / f"anastrata-{at:%Y%m%d-%H%M%S}.zip"
    beside = path.with_suffix(".part")
    with tempfile.TemporaryDirectory(dir=where) as scratch:
        copy = Path(scratch) / DATABASE
        _copied(Path(settings.DATA_DIR) / DATABASE, copy)
        try:
            _packed(copy, beside, at)
            check(beside)
        except BaseException:
            beside.unlink(missing_ok=True)
            raise
    beside.chmod(0o600)
    beside.replace(path)
    return Backup(path, at)


def _copied(source: Path, target: Path) -> None:
    """The database as it is at one moment, while others write (sqlite.org/backup.html)."""
    with closing(sqlite3.connect(source)) as one, closing(sqlite3.connect(target)) as other:
        one.backup(other, pages=PAGES, sleep=0.01)
        other.execute("PRAGMA journal_mode=DELETE")


def _files() -> Iterator[tuple[str, Path]]:
    for name in FOLDERS:
        root = Path(settings.DATA_DIR) / name
        yield from ((f"{name}/{p.relative_to(root)}", p) for p in sorted(root.rglob("*")) if p.is_file())


def _packed(database: Path, target: Path, at: datetime) -> None:
    told: dict[str, Any] = {
        "format": FORMAT,
        "version": settings.SPECTACULAR_SETTINGS["VERSION"],
        "made": at.isoformat(),
        "newest": newest_in(database),
        "sha256": hashlib.sha256(database.read_bytes()).hexdigest(),
    }
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED, compresslevel=3) as archive:
        archive.write(database, DATABASE)
        for name, path in _files():
            try:
                archive.write(path, name)
            except FileNotFoundError:
                continue  # let go meanwhile
        archive.writestr(MANIFEST, json.dumps(told, indent=1))


def newest_in(database: Path) -> str:
    """When something was last changed in a database: the youngest of all its changes and events."""
    found = []
    with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as one:
        tables = {row[0] for row in one.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
        for table, column in CHANGED:
            columns = {row[1] for row in one.execute(f"PRAGMA table_info({table})")}
            if table in tables and column in columns:
                newest = f"SELECT max({column}) FROM {table}"  # noqa: S608 - both are named above
                found.append(one.execute(newest).fetchone()[0] or "")
    return max(found, default="")


def check(path: Path) -> dict[str, Any]:
    """What a backup says of itself, once its database was opened and found whole; raises BadFile."""
    try:
        with zipfile.ZipFile(path) as archive, tempfile.TemporaryDirectory() as scratch:
            if archive.testzip() is not None:
                raise BadFile("That backup is damaged.")
            if not all(_is_ours(name) for name in archive.namelist()):
                raise BadFile("That is no backup of Anastrata.")
            told = json.loads(archive.read(MANIFEST))
            database = Path(archive.extract(DATABASE, scratch))
            whole = hashlib.sha256(database.read_bytes()).hexdigest() == told["sha256"]
            if told.get("format") != FORMAT or not whole or troubles(database):
                raise BadFile("That backup is damaged.")
    except (OSError, KeyError, ValueError, zipfile.BadZipFile) as error:
        raise BadFile("That is no backup of Anastrata, or it is damaged.") from error
    found: dict[str, Any] = told
    return found


def _is_ours(name: str) -> bool:
    """Whether something of that name is packed by ``make``, and nowhere else than in its own folder."""
    parts = PurePosixPath(name).parts
    return name in (DATABASE, MANIFEST) or (parts[0] in FOLDERS and ".." not in parts and "\\" not in name)


def troubles(database: Path) -> list[str]:
    """What is wrong with a database file; empty where it is whole."""
    try:
        with closing(sqlite3.connect(f"file:{database}?mode=ro", uri=True)) as one:
            found = [str(row[0]) for row in one.execute("PRAGMA quick_check(5)")]
            return [t for t in found if t != "ok"]
    except sqlite3.DatabaseError as error:
        return [str(error)]


def thin_out(keep: int, days: int, place: Path | None = None, now: datetime | None = None) -> list[Path]:
    """Let go of backups that are neither among the last ``keep`` nor younger than ``days``; which they were."""
    at, gone = now or datetime.now(UTC), []
    for n, backup in enumerate(all_of(place)):
        if n >= max(1, keep) and at - backup.made > timedelta(days=days):
            backup.path.unlink(missing_ok=True)
            gone.append(backup.path)
    return gone


def restore(path: Path, over: bool = False) -> Path | None:
    """Everything as it was when that backup was made; what is there now is put aside, and that place is answered.

    Raises BadFile for what is no backup; BadValue where what is there now is
    newer (unless ``over``), or where it is being served.
    """
    told = check(path)
    data = Path(settings.DATA_DIR)
    here = data / DATABASE
    if here.exists() and not over and not troubles(here) and newest_in(here) > str(told["newest"]):
        raise BadValue(
            f"What is here was changed after that backup was made ({told['made'][:16]}). "
            "Restoring would lose that. Say --over if you mean it: what is here now is put aside, not thrown away."
        )
    aside = _put_aside(data)
    with zipfile.ZipFile(path) as archive:
        for name in archive.namelist():
            if name == MANIFEST:
                continue
            target = data / name
            target.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
            with archive.open(name) as source, target.open("wb") as file:
                shutil.copyfileobj(source, file)
    return aside


def _put_aside(data: Path) -> Path | None:
    names = [DATABASE, f"{DATABASE}-wal", f"{DATABASE}-shm", *FOLDERS]
    there = [data / n for n in names if (data / n).exists()]
    if not there:
        return None
    aside = data / f"before-restore-{datetime.now(UTC):%Y%m%d-%H%M%S-%f}"
    aside.mkdir(mode=0o700)
    for path in there:
        shutil.move(str(path), aside / path.name)
    return aside
