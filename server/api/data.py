"""The API of all data: copies, the way back from one, and one build as a file."""

from __future__ import annotations

import tempfile
from datetime import datetime
from pathlib import Path
from typing import Any

from builds import store
from builds.models import Build
from django.conf import settings
from django.http import FileResponse, HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Router, Schema
from sittings.search import SEARCH
from vault import archive, copies
from vault.folder import COPIES, Unusable, reason

from .answers import Problems, file, refused

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
    copies_folder: str
    copies: list[CopyRow]
    in_trash: int


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
        copies_folder=str(settings.DATA / COPIES),
        copies=[CopyRow(name=c.path.name, made_at=c.made_at, size_bytes=c.size_bytes) for c in lying],
        in_trash=Build.everything.exclude(deleted_at=None).count(),
    )


@router.get("/backup", response={422: Problems})
def read_backup(request: HttpRequest) -> Any:
    """All data as one archive."""
    folder = Path(tempfile.mkdtemp(prefix=".work-", dir=settings.DATA))
    target = folder / f"emvar-{timezone.now():%Y-%m-%d-%H%M%S}.zip"
    try:
        copies.backup(target)
        body = target.open("rb")
    except Unusable as error:
        return refused("backup", str(error))
    finally:
        target.unlink(missing_ok=True)
        folder.rmdir()
    return FileResponse(body, as_attachment=True, filename=target.name, content_type="application/zip")


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
    SEARCH.stop_all()
    if kept:
        known = {c.path.name: c.path for c in copies.copies(settings.DATA)}
        if kept not in known:
            return refused("copy", "there is no such copy in the data folder")
        return _restored(known[kept])
    if (too_large := _too_large(request, MOST_BYTES)) is not None:
        return too_large
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
    return RestoredOut(builds=done.builds, aside=str(done.aside) if done.aside else None)


def _too_large(request: HttpRequest, most: int) -> HttpResponse | None:
    if int(request.headers.get("Content-Length") or 0) > most:
        return refused("file", f"it is larger than {most // 1_000_000} MB; Emvar writes none so large")
    return None


@router.get("/builds/{build_id}/build.zip", response={404: Problems, 422: Problems})
def export_whole_build(request: HttpRequest, build_id: str) -> Any:
    """One build with its schedule, record and history, to be opened again as it was."""
    build = Build.objects.defer("plan").get(pk=build_id)
    with tempfile.TemporaryDirectory(prefix=".work-", dir=settings.DATA) as folder:
        target = Path(folder) / "build.zip"
        try:
            archive.write(target, only=build.pk)
        except OSError as error:
            return refused("file", f"it could not be written ({reason(error)})")
        return file(target.read_bytes(), "application/zip", f"{build.pk}.build.zip")


def opened(source: Any) -> Build:
    """A build out of a file that was saved from one, under its own id where that is free. Raises Broken."""
    contents = archive.read(source)
    if len(contents.builds) != 1:
        raise archive.Broken("archive", f"it holds {len(contents.builds)} builds: bring all data back from it instead")
    kept = contents.builds[0]
    kept.about.deleted_at = None
    taken = Build.everything.filter(pk=kept.about.id).exists()
    return archive.put(kept, store.new_id() if taken else kept.about.id)
