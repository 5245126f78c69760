"""The one API: each part of the bench mounts its router here; what the core refuses is answered in its own words."""

from __future__ import annotations

import errno
import logging
import os

from builds.history import Entangled
from builds.models import Build
from builds.store import Nothing, Unreadable
from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from emvar_core.errors import Impossible, NotSettable, NotThere, OutOfRange, PlanError, Problem
from emvar_core.plan.parse import HALF, shown
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from vault.archive import Broken
from vault.folder import COPIES, NAME, full

from . import (
    at_the_bench,
    begin,
    builds,
    compendium,
    data,
    lan,
    learning,
    logbook,
    mix_and_spray,
    shelf,
    sittings,
    ways,
)
from .answers import Busy, Problems, answer, refused

LOG = logging.getLogger("emvar")
api = NinjaAPI(title="Emvar", version="1", docs_url=None, urls_namespace="api")
for part in (
    builds,
    begin,
    compendium,
    ways,
    mix_and_spray,
    at_the_bench,
    learning,
    logbook,
    shelf,
    lan,
    sittings,
    data,
):
    api.add_router("", part.router)


@api.exception_handler(PlanError)
def plan_refused(request: HttpRequest, error: PlanError) -> HttpResponse:
    return answer(Problems, Problems(problems=error.problems), 422)


@api.exception_handler(NotThere)
def not_there(request: HttpRequest, error: NotThere) -> HttpResponse:
    return refused(error.kind, str(error), 404)


@api.exception_handler(NotSettable)
def not_settable(request: HttpRequest, error: NotSettable) -> HttpResponse:
    return refused("control", str(error))


@api.exception_handler(OutOfRange)
@api.exception_handler(Impossible)
def out_of_range(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("figures", str(error))


@api.exception_handler(Broken)
def archive_refused(request: HttpRequest, error: Broken) -> HttpResponse:
    return refused(error.where, error.what)


@api.exception_handler(Build.DoesNotExist)
def no_build(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("build", "there is no such build; it may have been deleted", 404)


@api.exception_handler(Unreadable)
def damaged(request: HttpRequest, error: Unreadable) -> HttpResponse:
    return refused("build", f"{error}. {_way_out()}", 422)


@api.exception_handler(DatabaseError)
@api.exception_handler(OSError)
def data_away(request: HttpRequest, error: Exception) -> HttpResponse:
    """The data cannot be reached, or not written: told in words, and tried again by whoever asked."""
    # SQLite names what it was at, often not what stood in its way: that is looked at too.
    words, gone = str(error).lower(), not (settings.DATA / NAME).exists()
    if "disk is full" in words or getattr(error, "errno", 0) == errno.ENOSPC or (not gone and full(settings.DATA)):
        what = f"the disk is full: nothing was stored. Make room in {settings.DATA}; what waits is then sent again."
    elif "readonly" in words or "read-only" in words or not (gone or os.access(settings.DATA, os.W_OK)):
        what = f"nothing can be written in {settings.DATA}: give it back its rights; what waits is then sent again."
    elif "malformed" in words or "not a database" in words or "disk image" in words:
        what = f"the database in {settings.DATA} is damaged. {_way_out()}"
    elif "locked" in words:
        what = "another program holds the database; it is tried again."
    elif gone:
        what = f"the data folder {settings.DATA} is gone or was moved: bring it back, or start Emvar with --data."
    else:
        what = f"the data in {settings.DATA} cannot be used ({error}). {_way_out()}"
    return refused("data", what, 503)


def _way_out() -> str:
    return f"Copies lie in {settings.DATA / COPIES}; a copy is brought back under All builds, or with ./emvar restore."


@api.exception_handler(ValidationError)
def malformed(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """A body or an address that is not as documented, in the documented form."""
    problems = []
    for entry in error.errors[:20]:
        place = ".".join(str(part) for part in entry.get("loc", ()) if part not in ("body", "query", "path"))
        problems.append(Problem(where=shown(place, 200) or "request", what=shown(str(entry.get("msg", "")), 400)))
    return answer(Problems, Problems(problems=problems), 422)


@api.exception_handler(UnicodeError)
def half_a_character(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("request", HALF)


@api.exception_handler(HttpError)
def unreadable_request(request: HttpRequest, error: HttpError) -> HttpResponse:
    return refused("request", shown(str(error), 300), error.status_code)


@api.exception_handler(RequestDataTooBig)
def too_big(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("request", "it is larger than anything that Emvar takes", 413)


@api.exception_handler(Exception)
def failed(request: HttpRequest, error: Exception) -> HttpResponse:
    """A fault of ours: logged, and told without its inside."""
    LOG.exception("%s %s failed", request.method, request.path)
    return refused("server", "this failed, which is a fault of Emvar's; nothing was stored", 500)


@api.exception_handler(Busy)
def busy(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("server", "a long question is being answered already; it is asked again in a moment", 503)


@api.exception_handler(Entangled)
def entangled(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("undo", str(error))


@api.exception_handler(Nothing)
def nothing_to_undo(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("history", "there is nothing to undo or redo")
