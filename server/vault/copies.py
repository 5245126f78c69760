"""Copies of all data: on demand, before every migration, after each day of use; and the way back from one.

A copy is made from a snapshot that SQLite itself takes, so nobody has to wait. What is restored is built up beside the
data, migrated and checked in full; only then SQLite replaces what there is, in one transaction. What was replaced is
kept aside.
"""

from __future__ import annotations

import os
import shutil
import sqlite3
import tempfile
import threading
from collections.abc import Iterator
from contextlib import closing, contextmanager, suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path

from builds.models import Build
from django.conf import settings
from django.core.management import call_command
from django.db import connections
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone
from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.plan import parse_plan

from . import archive
from .archive import Broken, sync_folder
from .folder import ASIDE, COPIES, HEADER, NAME, OWN_FILE, OWN_FOLDER, Unusable, address, reason

KEEP = 7
LEFT_S = 3600.0  # after which what is half done belongs to nobody
_ONE = threading.RLock()  # one copy, or one way back, at a time
SQLITE_LABEL = "the database"


@dataclass(frozen=True)
class Copy:
    """A copy that lies in the data folder: its file, when it was made, how large it is."""

    path: Path
    made_at: datetime
    size_bytes: int


def migrations_known() -> set[tuple[str, str]]:
    """The migrations (app, name) that this version has."""
    return set(MigrationLoader(None).disk_migrations or ())


def pending(data: Path) -> bool:
    """Whether a database that is there lacks migrations of this version."""
    with closing(sqlite3.connect(address(data / NAME, "mode=ro"), uri=True, timeout=10)) as db:
        made = set(db.execute("SELECT app, name FROM django_migrations"))
    return bool(migrations_known() - made)


@contextmanager
def opened(path: Path) -> Iterator[str]:
    """Another database file under an alias of its own."""
    alias = f"beside-{path.parent.name}-{path.stem}"
    usual = connections.settings["default"]
    options = {**usual["OPTIONS"], "init_command": "PRAGMA foreign_keys=ON;"}
    # Another table of databases each time: other threads may be going through the one that there is.
    connections.settings = {**connections.settings, alias: {**usual, "NAME": str(path), "OPTIONS": options}}
    try:
        yield alias
    finally:
        connections[alias].close()
        del connections[alias]
        connections.settings = {k: v for k, v in connections.settings.items() if k != alias}


@contextmanager
def work_folder(data: Path) -> Iterator[Path]:
    """A folder beside the data for what is not finished; those that a killed process left are swept away."""
    for old in data.glob(".work-*"):
        with suppress(OSError):
            if timezone.now().timestamp() - old.stat().st_mtime > LEFT_S:
                shutil.rmtree(old)
    made = Path(tempfile.mkdtemp(prefix=".work-", dir=data))
    try:
        yield made
    finally:
        shutil.rmtree(made, ignore_errors=True)


def snapshot(source: Path, target: Path) -> None:
    """A copy of a database by SQLite's own means, also while it is written to. Raises Unusable where it is damaged."""
    try:
        with (
            closing(sqlite3.connect(address(source, "mode=ro"), uri=True, timeout=10)) as here,
            closing(sqlite3.connect(target)) as there,
        ):
            here.backup(there)
            there.execute("PRAGMA journal_mode=DELETE")
            found = there.execute("PRAGMA integrity_check(1)").fetchone()[0]
    except sqlite3.Error as error:
        raise Unusable(f"The database {source} could not be copied ({error}); nothing was written.") from None
    if found != "ok":
        raise Unusable(f"The database {source} is damaged ({found[:120]}); nothing was written.")
    target.chmod(OWN_FILE)


def backup(target: Path, data: Path | None = None) -> int:
    """Writes all data to an archive. Gives how many builds it holds. Raises Unusable, with nothing left behind."""
    data = data or settings.DATA
    if not (data / NAME).exists():
        raise Unusable(f"There is no database in {data}: nothing to copy. Name the folder with --data.")
    try:
        if target.exists():
            raise Unusable(f"{target} exists already; choose another name")
        if not target.parent.is_dir():
            raise Unusable(f"There is no folder {target.parent}; make it first, or choose another")
        with _ONE, work_folder(data) as work:
            snapshot(data / NAME, work / "snapshot.sqlite3")
            with opened(work / "snapshot.sqlite3") as alias:
                call_command("migrate", database=alias, verbosity=0)
                return archive.write(target, alias)
    except Broken as error:
        raise Unusable(f"The copy could not be read back ({error}); nothing was kept of it") from None
    except OSError as error:
        raise Unusable(f"{target} could not be written ({reason(error)}); nothing is left of it") from None


# --- by itself ---------------------------------------------------------------------------------------------------


def _stamp(at: datetime | None = None) -> str:
    return (at or timezone.now()).strftime("%Y-%m-%d-%H%M%S")


def copies(data: Path) -> list[Copy]:
    """The copies that lie in the data folder, the newest first."""
    found = []
    with suppress(OSError):
        for path in (data / COPIES).iterdir():
            if path.suffix in (".zip", ".sqlite3") and not path.name.startswith("."):
                facts = path.stat()
                found.append(
                    Copy(path, datetime.fromtimestamp(facts.st_mtime, timezone.get_current_timezone()), facts.st_size)
                )
    return sorted(found, key=lambda c: (c.made_at, c.path.name), reverse=True)


def keep_copy(data: Path, why: str) -> Path:
    """Makes a copy into the data folder; the last seven stay. Raises Unusable where it cannot be made."""
    folder = _folder(data)
    target = folder / f"emvar-{_stamp()}-{why}.zip"
    backup(target, data)
    _prune(data)
    return target


def copy_before_migration(data: Path) -> Path:
    """The database as it is, for an older version's data may not fit an archive before they are migrated."""
    target = _folder(data) / f"emvar-{_stamp()}-before-migration.sqlite3"
    part = target.with_name(f".{target.name}.part")
    try:
        snapshot(data / NAME, part)
        with part.open("rb") as file:
            os.fsync(file.fileno())
        part.rename(target)
        sync_folder(target.parent)
    except OSError as error:
        what = f"No copy could be made before the data are brought up to date ({reason(error)}); they were not touched"
        raise Unusable(f"{what}. Make room in {data} first.") from None
    finally:
        with suppress(OSError):
            part.unlink()
    _prune(data)
    return target


def _folder(data: Path) -> Path:
    folder = data / COPIES
    try:
        folder.mkdir(mode=OWN_FOLDER, exist_ok=True)
    except OSError as error:
        raise Unusable(f"The folder {folder} cannot be made ({reason(error)})") from None
    return folder


def _prune(data: Path) -> None:
    for old in copies(data)[KEEP:]:
        with suppress(OSError):
            old.path.unlink()
    for left in (data / COPIES).glob(".*.part"):  # of a process that was killed; not of one that is at it
        with suppress(OSError):
            if timezone.now().timestamp() - left.stat().st_mtime > LEFT_S:
                left.unlink()


def due(data: Path, now: datetime | None = None) -> bool:
    """Whether a day of use is over that no copy holds: the last write was on an earlier day, after the last copy."""
    now = now or timezone.now()
    last_write = Build.everything.order_by("-changed_at").values_list("changed_at", flat=True).first()
    if last_write is None or timezone.localtime(last_write).date() >= timezone.localtime(now).date():
        return False
    last = next(iter(copies(data)), None)
    return last is None or last.made_at < last_write


# --- back --------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class Restored:
    """What came back: how many builds, and where what was there before lies now."""

    builds: int
    aside: Path | None


def restore(source: Path, data: Path | None = None) -> Restored:
    """Replaces all data by those of an archive, or of a database file that was copied by an older version.

    All of it is checked before anything is replaced. Raises Unusable, with everything as it was.
    """
    data = data or settings.DATA
    try:
        with _ONE, work_folder(data) as work:
            made = work / "restored.sqlite3"
            count = _build_up(source, made)
            aside = _set_aside(data) if (data / NAME).exists() else None
            _replace(made, data / NAME)
    except Broken as error:
        raise Unusable(f"{source} was not taken; nothing was changed. {error}") from None
    except OSError as error:
        raise Unusable(f"{source} was not taken ({reason(error)}); nothing was changed") from None
    return Restored(count, aside)


def _build_up(source: Path, made: Path) -> int:
    """A database of this version from an archive or an older copy, checked in full."""
    with source.open("rb") as file:
        is_database = file.read(16) == HEADER
    if is_database:
        _older_database(source, made)
    with opened(made) as alias:
        call_command("migrate", database=alias, verbosity=0)
        if not is_database:
            archive.fill(archive.read(source), alias)
        count = 0
        for build in Build.everything.using(alias).iterator(chunk_size=20):
            count += 1
            if is_database:
                try:
                    assess(parse_plan(build.plan), opens=False)
                except PlanError as error:
                    raise Broken(f"“{build.name}”", str(error)) from None
    with closing(sqlite3.connect(made)) as db:
        found = db.execute("PRAGMA integrity_check(1)").fetchone()[0]
        if found != "ok":
            raise Broken(SQLITE_LABEL, f"it is damaged ({found[:120]})")
    return count


def _older_database(source: Path, made: Path) -> None:
    try:
        with closing(sqlite3.connect(address(source, "immutable=1"), uri=True)) as here:
            tables = {row[0] for row in here.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if "builds_build" not in tables:
                raise Broken(SQLITE_LABEL, "it holds no builds of Emvar's")
            if newer := set(here.execute("SELECT app, name FROM django_migrations")) - migrations_known():
                raise Broken(SQLITE_LABEL, f"it was written by a newer Emvar (it knows '{min(newer)[1]}')")
            with closing(sqlite3.connect(made)) as there:
                here.backup(there)
                there.execute("PRAGMA journal_mode=DELETE")
    except sqlite3.DatabaseError as error:
        raise Broken(SQLITE_LABEL, f"it is damaged ({error})") from None


def _set_aside(data: Path) -> Path:
    """What is replaced, kept as it is: by SQLite where it can be read, byte by byte where it cannot."""
    folder = data / ASIDE / _stamp()
    while folder.exists():
        folder = folder.with_name(folder.name + "x")
    folder.mkdir(mode=OWN_FOLDER, parents=True)
    try:
        snapshot(data / NAME, folder / NAME)
    except Unusable:
        for name in (NAME, f"{NAME}-wal", f"{NAME}-shm"):
            if (data / name).exists():
                shutil.copy2(data / name, folder / name)
    sync_folder(folder)
    return folder


def _replace(made: Path, target: Path) -> None:
    """Replaces a database's whole content by another's in one transaction; a damaged one's files by new ones."""
    connections.close_all()
    with closing(sqlite3.connect(made)) as here:
        try:
            with closing(sqlite3.connect(target, timeout=30)) as there:
                there.execute("PRAGMA journal_mode=WAL")
                there.execute("PRAGMA synchronous=FULL")
                here.backup(there)
                there.execute("PRAGMA wal_checkpoint(TRUNCATE)")
            return
        except sqlite3.DatabaseError:
            pass
    fresh = target.with_name(f".{target.name}.new")
    shutil.copyfile(made, fresh)
    with fresh.open("rb") as file:
        os.fsync(file.fileno())
    for name in (f"{target.name}-wal", f"{target.name}-shm"):  # of the damaged one: they fit no other
        with suppress(FileNotFoundError):
            target.with_name(name).unlink()
    fresh.replace(target)
    sync_folder(target.parent)
