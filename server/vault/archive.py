"""The open archive: everything that is kept, as JSON in a zip file with a manifest of checksums.

`docs/format.md` tells its layout. It is written beside its place and moved there once it is whole; it is read in full
and checked, plans, histories and sums, before anything is done with it.
"""

from __future__ import annotations

import errno
import hashlib
import json
import os
import struct
import zipfile
import zlib
from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any, Literal, TypeVar

from builds.models import Build, Change, Command, DemoLoaded
from builds.store import put_plan
from django.db import transaction
from django.utils import timezone
from emvar_core.assess import assess
from emvar_core.at_the_bench.journal import Entry, entry_of
from emvar_core.errors import PlanError
from emvar_core.plan import Plan, Record, Schedule, apply, json_of, parse, parse_edits, parse_plan
from emvar_core.vocabulary import Id, Model
from journal.models import Jar, JournalEntry, Learning, Picture
from pydantic import AwareDatetime, Field, model_validator
from sittings.models import Timetable

from .folder import OWN_FILE, reason

FORMAT, VERSION = "emvar-archive", 1
JPEG, SMALL, JPEG_HEAD = ".jpg", ".small.jpg", b"\xff\xd8\xff"
MOST_BYTES = 2_000_000_000  # of what lies in an archive, unpacked
MOST_FILES = 50_000
# What a spoilt zip file raises, beside what it is meant to raise.
UNZIPPING = (zipfile.BadZipFile, zlib.error, struct.error, NotImplementedError, EOFError, RuntimeError, OverflowError)
M = TypeVar("M", bound=Model)


class Broken(Exception):
    """An archive that cannot be used: where in it, and what is wrong. Nothing was changed."""

    def __init__(self, where: str, what: str) -> None:
        super().__init__(f"{where}: {what}")
        self.where, self.what = where, what


class FileSum(Model):
    """What a file of the archive has to be."""

    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    bytes: int = Field(ge=0)


class Manifest(Model):
    """What stands in front: which builds, and a checksum of every other file."""

    format: Literal["emvar-archive"]
    version: int
    made_at: AwareDatetime
    builds: int
    files: dict[str, FileSum]


class About(Model):
    """A build beside its plan."""

    id: Id
    revision: int = Field(ge=1, le=2**31)
    created_at: AwareDatetime
    changed_at: AwareDatetime
    deleted_at: AwareDatetime | None = None
    clock: Literal["plan", "schedule"] = "plan"
    outline: bool = False


class OneChange(Model):
    """One set of edits, and what leads back."""

    number: int = Field(ge=1)
    label: str = Field(max_length=200)
    edits: list[dict[str, Any]]
    inverse: list[dict[str, Any]]
    undone: bool
    window: str = Field("", max_length=64)


class OneCommand(Model):
    """A write that was carried out."""

    command_id: str = Field(max_length=64)
    revision: int
    at: AwareDatetime | None = None
    kind: str = Field("edit", max_length=20)
    label: str = Field("", max_length=200)
    data: Any = None


class History(Model):
    """The changes of a build, each number once."""

    changes: list[OneChange]

    @model_validator(mode="after")
    def _once(self) -> History:
        return once_each(self, [c.number for c in self.changes], "number")


class Journal(Model):
    """The writes of a build, each command once."""

    commands: list[OneCommand]

    @model_validator(mode="after")
    def _once(self) -> Journal:
        return once_each(self, [c.command_id for c in self.commands], "command_id")


def once_each(of: M, keys: list[Any], what: str) -> M:
    """The same, where no key stands twice. Raises ValueError otherwise."""
    if len(set(keys)) < len(keys):
        raise ValueError(f"a {what} stands twice")
    return of


class Sittings(Model):
    """A build's schedule and record."""

    schedule: dict[str, Any] | None = None
    before: dict[str, Any] | None = None
    record: dict[str, Any] = {}
    record_before: list[dict[str, Any]] = []  # of archives from before the journal; read, and not used
    unfit: list[Any] = []
    plan_revision: int = 0
    plan_key: str = Field("", max_length=16)
    revision: int = 0


class Entries(Model):
    """What was said at the bench, each entry once, in the order in which it came."""

    entries: list[Entry]

    @model_validator(mode="after")
    def _once(self) -> Entries:
        return once_each(self, [e.id for e in self.entries], "id")


class OnePicture(Model):
    """A picture that lies beside, as `pictures/ID.jpg` and `pictures/ID.small.jpg`."""

    id: str = Field(pattern="^[A-Za-z0-9_-]{8,64}$")
    width: int = Field(ge=1, le=20_000)
    height: int = Field(ge=1, le=20_000)


class Pictures(Model):
    """The pictures of a build, each once."""

    pictures: list[OnePicture]

    @model_validator(mode="after")
    def _once(self) -> Pictures:
        return once_each(self, [p.id for p in self.pictures], "id")


class JarOut(Model):
    """What stands on the shelf."""

    id: Id
    material: str = Field(max_length=40)
    name: str = Field(max_length=120)
    full_ml: float = Field(ge=0, le=100_000)
    opened_on: date | None = None
    counted_at: AwareDatetime
    counted_ml: float = Field(ge=0, le=100_000)


class LearntOut(Model):
    """What was said of what is learned: for which bench it holds, since when it counts."""

    id: str = Field(max_length=120)
    bench: str = Field("", max_length=80)
    since: AwareDatetime | None = None


class Settings(Model):
    """What is kept beside the builds: the demo builds that were loaded once, the shelf, what was said of learning."""

    demo_loaded: list[str] = []
    shelf: list[JarOut] = []
    learning: list[LearntOut] = []


@dataclass
class Kept:
    """One build out of an archive, every part of it parsed."""

    about: About
    plan: Plan
    history: list[OneChange]
    commands: list[OneCommand]
    sittings: Sittings | None
    journal: list[Entry] = field(default_factory=list)
    pictures: list[tuple[OnePicture, bytes, bytes]] = field(default_factory=list)


@dataclass
class Contents:
    """An archive that was read and found whole."""

    made_at: datetime
    builds: list[Kept] = field(default_factory=list)
    settings: Settings = field(default_factory=Settings)


# --- writing ---------------------------------------------------------------------------------------------------


def write(target: Path, using: str = "default", only: str | None = None) -> int:
    """Writes an archive of all builds, or of one. Gives how many there are. Raises OSError where there is no room.

    The file has its name only once it is whole, synced and read back. `using`: the database to read.
    """
    part = target.with_name(f".{target.name}.part")
    try:
        count = _write_part(part, using, only)
        read(part, judge=False)
        _name(part, target)
        sync_folder(target.parent)
    finally:
        with suppress(OSError):
            part.unlink()
    return count


def _name(part: Path, target: Path) -> None:
    """Gives a whole file its name, never over another file."""
    try:
        os.link(part, target)
    except FileExistsError:
        raise
    except OSError:  # a file system without links
        if target.exists():
            raise FileExistsError(errno.EEXIST, "there is such a file already", str(target)) from None
        part.rename(target)


def _write_part(part: Path, using: str, only: str | None) -> int:
    sums: dict[str, FileSum] = {}
    builds = Build.everything.using(using).order_by("created_at", "pk")
    if only is not None:
        builds = builds.filter(pk=only)
    count = 0
    descriptor = os.open(part, os.O_RDWR | os.O_CREAT | os.O_TRUNC, OWN_FILE)
    with os.fdopen(descriptor, "w+b") as file:
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:

            def put(name: str, value: Any) -> None:
                body = value if isinstance(value, bytes) else json.dumps(value, ensure_ascii=False, indent=1).encode()
                sums[name] = FileSum(sha256=hashlib.sha256(body).hexdigest(), bytes=len(body))
                packed = zipfile.ZIP_STORED if name.endswith(JPEG) else zipfile.ZIP_DEFLATED
                archive.writestr(name, body, packed)

            with transaction.atomic(using=using):
                for build in builds.iterator(chunk_size=20):
                    count += 1
                    for name, value in _files_of(build, using):
                        put(f"builds/{build.pk}/{name}", value)
                if only is None:
                    put("settings.json", _settings(using).model_dump(mode="json"))
            manifest = Manifest(format=FORMAT, version=VERSION, made_at=timezone.now(), builds=count, files=sums)
            archive.writestr("manifest.json", manifest.model_dump_json(indent=1))
        file.flush()
        os.fsync(file.fileno())
    return count


def _settings(using: str) -> Settings:
    loaded = sorted(DemoLoaded.objects.using(using).values_list("pk", flat=True))
    shelf = [JarOut(**row) for row in Jar.objects.using(using).values(*JarOut.model_fields)]
    learning = [LearntOut(**row) for row in Learning.objects.using(using).values(*LearntOut.model_fields)]
    return Settings(demo_loaded=loaded, shelf=shelf, learning=learning)


def _files_of(build: Build, using: str) -> Iterable[tuple[str, Any]]:
    about = About(
        id=build.pk, revision=build.revision, created_at=build.created_at, changed_at=build.changed_at,
        deleted_at=build.deleted_at,
        clock="schedule" if build.clock == "schedule" else "plan", outline=build.outline,
    )  # fmt: skip
    yield "build.json", about.model_dump(mode="json")
    yield "plan.json", build.plan
    fields = list(OneChange.model_fields)
    yield "history.json", list(Change.objects.using(using).filter(build=build).values(*fields))
    commands = Command.objects.using(using).filter(build=build).order_by("pk")
    names = list(OneCommand.model_fields)
    yield "commands.json", [OneCommand(**row).model_dump(mode="json") for row in commands.values(*names)]
    fields = [name for name in Sittings.model_fields if name != "record_before"]
    table = Timetable.objects.using(using).filter(build=build).values(*fields).first()
    if table is not None:
        yield "sittings.json", Sittings(**table).model_dump(mode="json", exclude={"record_before"})
    rows = JournalEntry.objects.using(using).filter(build=build)
    if rows.exists():
        yield "journal.json", {"entries": list(rows.values_list("body", flat=True))}
    photos = Picture.objects.using(using).filter(build=build).order_by("picture_id")
    if photos.exists():
        listed = [OnePicture(id=p.picture_id, width=p.width, height=p.height) for p in photos.defer("body", "small")]
        yield "pictures.json", {"pictures": [p.model_dump() for p in listed]}
        for photo in photos.iterator(chunk_size=1):
            yield f"pictures/{photo.picture_id}{JPEG}", bytes(photo.body)
            yield f"pictures/{photo.picture_id}{SMALL}", bytes(photo.small)


def sync_folder(folder: Path) -> None:
    """Makes sure that a new name in a folder survives a power cut, where the system can."""
    if os.name == "posix":
        descriptor = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(descriptor)
        finally:
            os.close(descriptor)


# --- reading ---------------------------------------------------------------------------------------------------


def read(source: Path | Any, judge: bool = True, most_bytes: int = MOST_BYTES) -> Contents:
    """Reads an archive whole. Raises Broken, naming the part, for anything that is missing, changed or not valid.

    With `judge` every plan is assessed, and every history is checked to lead from step to step. `most_bytes`: how much
    it may hold, unpacked.
    """
    try:
        with zipfile.ZipFile(source) as archive:
            return _read(archive, judge, most_bytes)
    except UNZIPPING as error:
        raise Broken("archive", f"it is no Emvar archive, or it is damaged ({error})") from None
    except OSError as error:
        raise Broken("archive", f"it cannot be read ({reason(error)})") from None


def _read(archive: zipfile.ZipFile, judge: bool, most_bytes: int) -> Contents:
    listed = [i for i in archive.infolist() if not i.is_dir()]
    infos = {i.filename: i for i in listed}
    if len(infos) != len(listed):
        raise Broken("archive", "a file stands in it twice")
    if len(infos) > MOST_FILES or sum(i.file_size for i in listed) > most_bytes:
        raise Broken("archive", "it is larger than anything Emvar writes")
    if "manifest.json" not in infos:
        raise Broken("manifest.json", "it is missing, so this is no Emvar archive")
    manifest = _part(Manifest, "manifest.json", _json("manifest.json", archive.read("manifest.json")))
    if manifest.version > VERSION:
        raise Broken("manifest.json", f"it is of version {manifest.version}, written by a newer Emvar; use that one")
    if extra := sorted(set(infos) - set(manifest.files) - {"manifest.json"}):
        raise Broken(extra[0], "the manifest does not know it")
    values: dict[str, Any] = {}
    for name, wanted in manifest.files.items():
        if name not in infos:
            raise Broken(name, "it is missing")
        body = archive.read(name)
        if len(body) != wanted.bytes or hashlib.sha256(body).hexdigest() != wanted.sha256:
            raise Broken(name, "it is not what was written: its checksum differs")
        values[name] = body if name.endswith(JPEG) else _json(name, body)
    contents = Contents(manifest.made_at)
    if "settings.json" in values:
        contents.settings = _part(Settings, "settings.json", values.pop("settings.json"))
    folders = list(dict.fromkeys("/".join(name.split("/")[:2]) for name in values))
    for folder in folders:
        contents.builds.append(_build(folder, values, judge))
    if len(contents.builds) != manifest.builds:
        raise Broken("manifest.json", f"it tells of {manifest.builds} builds; {len(contents.builds)} are there")
    return contents


def _build(folder: str, values: dict[str, Any], judge: bool) -> Kept:
    def part(name: str, usual: Any = None) -> Any:
        return values.get(f"{folder}/{name}.json", usual)

    about = _part(About, f"{folder}/build.json", part("build"))
    if folder != f"builds/{about.id}":
        raise Broken(f"{folder}/build.json", f"it tells of another build, '{about.id}'")
    where = f"{folder}/plan.json"
    try:
        plan = parse_plan(part("plan"))
        if judge:
            assess(plan, opens=False)
    except PlanError as error:
        raise Broken(where, str(error)) from None
    history = _part(History, f"{folder}/history.json", {"changes": part("history", [])}).changes
    commands = _part(Journal, f"{folder}/commands.json", {"commands": part("commands", [])}).commands
    table = part("sittings")
    sittings = _part(Sittings, f"{folder}/sittings.json", table) if table is not None else None
    if sittings is not None:
        for schedule in (sittings.schedule, sittings.before):
            if schedule is not None:
                _part(Schedule, f"{folder}/sittings.json", schedule)
        _part(Record, f"{folder}/sittings.json", sittings.record)
    entries = _part(Entries, f"{folder}/journal.json", part("journal", {"entries": []})).entries
    if not entries and sittings is not None:  # it was written before there was a journal
        entries = _entries_of(sittings, about)
    photos = _photos(folder, values, part("pictures", {"pictures": []}))
    try:
        if judge:
            _leads_back(plan, history)
    except PlanError as error:
        raise Broken(f"{folder}/history.json", str(error)) from None
    return Kept(about, plan, history, commands, sittings, entries, photos)


def _entries_of(sittings: Sittings, about: About) -> list[Entry]:
    """A record without a journal as the entries that would have made it."""
    record = parse(Record, sittings.record)
    written = about.changed_at
    return [
        entry_of(e, f"recorded-{i:06}", "", written + timedelta(milliseconds=i)) for i, e in enumerate(record.entries)
    ]


def _photos(folder: str, values: dict[str, Any], listed: Any) -> list[tuple[OnePicture, bytes, bytes]]:
    """The pictures of a build, each with its small one. Raises Broken where one is missing, or is none."""
    photos = []
    for photo in _part(Pictures, f"{folder}/pictures.json", listed).pictures:
        names = [f"{folder}/pictures/{photo.id}{end}" for end in (JPEG, SMALL)]
        for name in names:
            if not isinstance(values.get(name), bytes):
                raise Broken(name, "it is missing")
            if not values[name].startswith(JPEG_HEAD):
                raise Broken(name, "it is no JPEG picture")
        photos.append((photo, values[names[0]], values[names[1]]))
    return photos


def _leads_back(plan: Plan, history: list[OneChange]) -> None:
    """Raises PlanError where a history does not lead back from the plan."""
    for change in reversed([c for c in history if not c.undone]):
        plan = apply(plan, parse_edits(change.inverse))[0]


def _json(name: str, body: bytes) -> Any:
    try:
        return json_of(body)
    except PlanError as error:
        raise Broken(name, error.problems[0].what) from None


def _part(kind: type[M], name: str, value: Any) -> M:
    try:
        return parse(kind, value)
    except PlanError as error:
        raise Broken(name, str(error)) from None


# --- into a database -------------------------------------------------------------------------------------------


def fill(contents: Contents, using: str) -> None:
    """Puts an archive's contents into an empty database, as they were."""
    with transaction.atomic(using=using):
        for kept in contents.builds:
            put(kept, kept.about.id, using)
        DemoLoaded.objects.using(using).bulk_create(DemoLoaded(pk=i) for i in contents.settings.demo_loaded)
        Jar.objects.using(using).bulk_create(Jar(**jar.model_dump()) for jar in contents.settings.shelf)
        Learning.objects.using(using).bulk_create(Learning(**x.model_dump()) for x in contents.settings.learning)


def put(kept: Kept, build_id: str, using: str = "default") -> Build:
    """Puts one build into a database under an id that is free there, with its history, schedule and record."""
    build = Build(id=build_id, revision=kept.about.revision, deleted_at=kept.about.deleted_at, clock=kept.about.clock)
    build.outline = kept.about.outline
    put_plan(build, kept.plan)
    build.save(using=using, force_insert=True)
    Build.everything.using(using).filter(pk=build_id).update(
        created_at=kept.about.created_at, changed_at=kept.about.changed_at
    )
    Change.objects.using(using).bulk_create(Change(build=build, **c.model_dump()) for c in kept.history)
    made = Command.objects.using(using).bulk_create(
        Command(build=build, **c.model_dump(exclude={"at"})) for c in kept.commands
    )
    for row, command in zip(made, kept.commands, strict=True):
        row.at = command.at
    Command.objects.using(using).bulk_update(made, ["at"], batch_size=500)
    if kept.sittings is not None:
        table = kept.sittings.model_dump(exclude={"record_before"})
        Timetable.objects.using(using).create(build=build, **table)
    JournalEntry.objects.using(using).bulk_create(
        JournalEntry(
            build=build, entry_id=e.id, body=e.model_dump(mode="json", exclude_defaults=True), parcel=e.id,
            received_at=e.written_at,
        )
        for e in kept.journal
    )  # fmt: skip
    Picture.objects.using(using).bulk_create(
        Picture(build=build, picture_id=p.id, width=p.width, height=p.height, body=body, small=small)
        for p, body, small in kept.pictures
    )
    return build
