"""The data folder: whose it is, who may write in it, and whether what lies there can be used. Only the standard library
and the lock are needed, since it is asked before anything else is loaded."""

from __future__ import annotations

import os
import shutil
import sqlite3
import sys
from contextlib import closing, suppress
from pathlib import Path

from filelock import FileLock, Timeout

NAME = "emvar.sqlite3"
COPIES = "copies"
ASIDE = "replaced"
ROOM_BYTES = 500_000  # which the log beside the database takes at least
OWN_FOLDER, OWN_FILE = 0o700, 0o600
HEADER = b"SQLite format 3\x00"
WAYS_OUT = "Bring a copy back with ./emvar restore FILE (copies lie in {copies}), or name another folder with --data."


class Unusable(Exception):
    """The data cannot be used as they are: one plain sentence, with the way out."""


def prepared(data: Path) -> Path:
    """Makes the folder where there is none, for its owner alone. Raises Unusable where that cannot be."""
    try:
        data.mkdir(parents=True, exist_ok=True, mode=OWN_FOLDER)
        if os.name == "posix" and data.stat().st_uid == os.getuid() and data.stat().st_mode & 0o077:
            data.chmod(OWN_FOLDER)
    except FileExistsError:
        raise Unusable(f"{data} is a file, not a folder; name another folder with --data") from None
    except OSError as error:
        raise Unusable(f"The data folder {data} cannot be made ({reason(error)}); name another with --data") from None
    return data


def reason(error: OSError) -> str:
    """Why the system refused, in words."""
    return (error.strerror or str(error)).lower()


def owned(data: Path) -> None:
    """Takes other people's rights from what lies in the folder."""
    if os.name != "posix":
        return
    for path in data.rglob("*"):
        with suppress(OSError):
            wanted = OWN_FOLDER if path.is_dir() else OWN_FILE
            if path.stat().st_mode & 0o077:
                path.chmod(wanted)


def writable(data: Path) -> None:
    """Raises Unusable where nothing can be written, or nothing more."""
    probe = data / ".probe"
    try:
        probe.write_bytes(b"\0" * 65536)
    except OSError as error:
        what = f"Nothing can be written in {data} ({reason(error)})"
        raise Unusable(f"{what}: make room or give it back its rights, or name another folder with --data.") from None
    finally:
        with suppress(OSError):
            probe.unlink()


def full(data: Path) -> bool:
    """Whether there is no room left for what an edit writes."""
    try:
        return shutil.disk_usage(data).free < ROOM_BYTES
    except OSError:
        return False


def locked(data: Path) -> FileLock:
    """Holds the folder for this process. Raises Unusable where another server has it."""
    lock = FileLock(data / "emvar.lock", mode=OWN_FILE)
    try:
        lock.acquire(timeout=0)
    except Timeout:
        what = f"Emvar is running already with the data in {data}"
        raise Unusable(f"{what}: use that one, stop it first, or name another folder with --data.") from None
    return lock


def address(path: Path, how: str) -> str:
    """A database file as SQLite is asked for it, whatever signs are in its name. `how`: mode=ro to read, mode=rw to
    write where it is there already, immutable=1 for one that nobody writes."""
    return f"{path.resolve().as_uri()}?{how}"


def _ways_out(data: Path) -> str:
    return WAYS_OUT.format(copies=data / COPIES)


def checked(data: Path, known: set[tuple[str, str]]) -> bool:
    """Looks at the database without touching it: False where there is none yet.

    `known`: the migrations (app, name) that this version has. Raises Unusable for what is empty, damaged or newer.
    """
    path = data / NAME
    if not path.exists():
        return False
    try:
        with path.open("rb") as file:
            head = file.read(16)
    except OSError as error:
        raise Unusable(f"The database {path} cannot be read ({reason(error)}). {_ways_out(data)}") from None
    if not head:
        raise Unusable(f"The database {path} is empty: what it held is gone. {_ways_out(data)}")
    if head != HEADER:
        raise Unusable(f"{path} is no database, or damaged from its first byte on. {_ways_out(data)}")
    try:
        with closing(sqlite3.connect(address(path, "mode=ro"), uri=True, timeout=10)) as db:
            problem = db.execute("PRAGMA quick_check(1)").fetchone()[0]
            if problem != "ok":
                raise Unusable(f"The database {path} is damaged ({problem.splitlines()[-1][:120]}). {_ways_out(data)}")
            tables = {row[0] for row in db.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            if "django_migrations" not in tables:
                return bool(tables)
            made = set(db.execute("SELECT app, name FROM django_migrations"))
    except sqlite3.DatabaseError as error:
        raise Unusable(f"The database {path} cannot be read ({error}). {_ways_out(data)}") from None
    if newer := sorted(made - known):
        what = f"The data in {data} were written by a newer Emvar (it knows '{newer[0][1]}')"
        raise Unusable(f"{what}; nothing was touched. Use that version, or name another folder with --data.")
    return True


def stop(error: Unusable) -> None:
    """Ends the program with one sentence."""
    sys.stderr.write(f"emvar: {error}\n")
    raise SystemExit(2)
