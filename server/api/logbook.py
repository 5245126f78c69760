"""The API of the logbook: of a build and over all builds, and as files in open formats."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import datetime
from typing import Any, Literal
from zoneinfo import ZoneInfo

from builds import store as builds
from builds.models import Build
from django.http import HttpRequest
from emvar_core.at_the_bench.logbook import LogRow, log_rows, markdown, table
from emvar_core.plan import Plan
from journal import store as journal
from journal.models import JournalEntry, Picture
from ninja import Router, Schema
from sittings.store import kept

from .answers import Problems, answer, file

router = Router()
MOST_BUILDS = 200


class LogOut(Schema):
    """The rows of a logbook, in the order in which they happened; `zones`: each build's time zone."""

    name: str
    rows: list[LogRow]
    timezones: dict[str, str]
    starts: dict[str, datetime]


def _rows(build: Build) -> tuple[Plan, list[LogRow]]:
    plan = builds.plan_of(build)
    h = kept(build.pk, plan, build.revision)
    return plan, log_rows(build.pk, plan, h.schedule, h.record, journal.entries(build.pk))


@router.get("/log", response=LogOut)
def read_all(request: HttpRequest) -> Any:
    """The logbook over all builds."""
    ids = JournalEntry.objects.values_list("build", flat=True).distinct()[:MOST_BUILDS]
    rows: list[LogRow] = []
    zones, starts = {}, {}
    for build in Build.objects.filter(pk__in=list(ids)):
        plan, found = _rows(build)
        rows += found
        zones[build.pk], starts[build.pk] = plan.build.timezone, plan.build.starts_at
    rows.sort(key=lambda r: r.at)
    return answer(LogOut, LogOut.model_construct(name="All builds", rows=rows, timezones=zones, starts=starts))


@router.get("/builds/{build_id}/log", response={200: LogOut, 404: Problems})
def read_log(request: HttpRequest, build_id: str) -> Any:
    """The logbook of a build."""
    build = Build.objects.get(pk=build_id)
    plan, rows = _rows(build)
    told = LogOut.model_construct(
        name=plan.build.name, rows=rows, timezones={build.pk: plan.build.timezone},
        starts={build.pk: plan.build.starts_at},
    )  # fmt: skip
    return answer(LogOut, told)


@router.get("/builds/{build_id}/log.{kind}", response={404: Problems})
def read_file(request: HttpRequest, build_id: str, kind: Literal["md", "csv", "json"]) -> Any:
    """The logbook as a file: Markdown with its pictures in a zip file, CSV or JSON."""
    build = Build.objects.get(pk=build_id)
    plan, rows = _rows(build)
    if kind == "csv":
        return file(table(rows).encode("utf-8"), "text/csv; charset=utf-8", f"{build_id}.log.csv")
    if kind == "json":
        body = json.dumps([r.model_dump(mode="json") for r in rows], indent=1, ensure_ascii=False)
        return file(body.encode("utf-8"), "application/json; charset=utf-8", f"{build_id}.log.json")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("logbook.md", markdown(plan.build.name, rows, ZoneInfo(plan.build.timezone)))
        wanted = [r.picture for r in rows if r.picture]
        for photo in Picture.objects.filter(build=build, picture_id__in=wanted).iterator(chunk_size=1):
            archive.writestr(f"pictures/{photo.picture_id}.jpg", bytes(photo.body), zipfile.ZIP_STORED)
    return file(out.getvalue(), "application/zip", f"{build_id}.log.zip")
