"""The API of all data: copies, the way back from one, and one build as a file."""

from __future__ import annotations

import io
import secrets
import tempfile
from datetime import datetime
from pathlib import Path
from typing import Any

from builds import store
from builds.models import Build
from django.conf import settings
from django.http import FileResponse, HttpRequest
from django.utils import timezone
from ninja import Router, Schema
from sittings.search import SEARCH
from vault import archive, copies
from vault.folder import Unusable, reason

from .answers import Problems, file, no_larger_than, refused

router = Router()
MOST_BYTES = 200_000_000
CHUNK = 1 << 20


class CopyRow(Schema):
    """A copy in the data folder."""

    name: str
    made_at: datetime
    size_bytes: int


class DataOut(Schema):
    """Where the data lie, and the copies of them, the newest first."""

    folder: str
    copies: list[CopyRow]


class RestoredOut(Schema):
    """What came back, and where what was replaced lies."""

    builds: int
    aside: str | None


@router.get("/data", response=DataOut)
def read_data(request: HttpRequest) -> Any:
    """Where the data lie and which copies there are."""
    lying = copies.copies(settings.DATA)
    return DataOut(
        folder=str(settings.DATA),
        copies=[CopyRow(name=c.path.name, made_at=c.made_at, size_bytes=c.size_bytes) for c in lying],
    )


@router.get("/backup", response={422: Problems})
def read_backup(request: HttpRequest) -> Any:
    """All data as one archive."""
    name = f"emvar-{timezone.now():%Y-%m-%d-%H%M%S}.zip"
    with copies.work_folder(settings.DATA) as folder:
        try:
            copies.backup(folder / name)
        except Unusable as error:
            return refused("backup", str(error))
        body = (folder / name).open("rb")  # stays readable when its name is gone
    return FileResponse(body, as_attachment=True, filename=name, content_type="application/zip")


@router.post("/copies", response={200: DataOut, 422: Problems})
def make_copy(request: HttpRequest) -> Any:
    """Keeps a copy in the data folder now."""
    try:
        copies.keep_copy(settings.DATA, "asked")
    except Unusable as error:
        return refused("copy", str(error))
    return read_data(request)


@router.post("/restore", response={200: RestoredOut, 422: Problems})
def restore_data(request: HttpRequest, kept: str = "") -> Any:
    """Replaces all data by those of the archive that is sent, or of a copy in the data folder, by its name."""
    if kept:
        known = {c.path.name: c.path for c in copies.copies(settings.DATA)}
        if kept not in known:
            return refused("copy", "there is no such copy in the data folder")
        return _restored(known[kept])
    no_larger_than(request, MOST_BYTES)
    with tempfile.NamedTemporaryFile(prefix=".upload-", dir=settings.DATA) as sent:
        try:
            while chunk := request.read(CHUNK):
                sent.write(chunk)
            sent.flush()
        except OSError as error:
            return refused("file", f"it could not be taken ({reason(error)}); nothing was changed")
        return _restored(Path(sent.name))


def _restored(path: Path) -> Any:
    try:
        done = copies.restore(path)
    except Unusable as error:
        return refused("file", str(error).replace(str(path), "The file", 1))
    SEARCH.stop_all()  # they search for builds as they were
    return RestoredOut(builds=done.builds, aside=str(done.aside) if done.aside else None)


@router.get("/builds/{build_id}/build.zip", response={404: Problems, 422: Problems})
def export_whole_build(request: HttpRequest, build_id: str) -> Any:
    """One build with its schedule, record and history, to be opened again as it was."""
    build = Build.objects.defer("plan").get(pk=build_id)
    with copies.work_folder(settings.DATA) as folder:
        target = folder / "build.zip"
        try:
            archive.write(target, only=build.pk)
        except OSError as error:
            return refused("file", f"it could not be written ({reason(error)})")
        return file(target.read_bytes(), "application/zip", f"{build.pk}.build.zip")


def saved_build(body: bytes) -> archive.Kept:
    """The build in a file that was saved from one, judged. Raises Broken."""
    contents = archive.read(io.BytesIO(body), most_bytes=MOST_BYTES)
    if len(contents.builds) != 1:
        raise archive.Broken("archive", f"it holds {len(contents.builds)} builds: bring all data back from it instead")
    return contents.builds[0]


def put_saved(kept: archive.Kept) -> Build:
    """Keeps it, under its own id where that is free; never in the trash."""
    taken = Build.everything.filter(pk=kept.about.id).exists()
    build = archive.put(kept, store.new_id() if taken else kept.about.id)
    store.from_trash(build.pk, secrets.token_hex(12))
    return Build.objects.get(pk=build.pk)
