"""The one API: each part of the bench mounts its router here; what the core refuses is told in its own words."""

from __future__ import annotations

from builds.models import Build
from builds.store import Nothing
from django.http import HttpRequest, HttpResponse
from emvar_core.errors import Impossible, NotSettable, NotThere, OutOfRange, PlanError
from ninja import NinjaAPI

from . import bench, builds, known, sittings, ways
from .answers import Problems, answer, refused

api = NinjaAPI(title="Emvar", version="1", docs_url=None, urls_namespace="api")
for part in (builds, known, ways, bench, sittings):
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


@api.exception_handler(Build.DoesNotExist)
def no_build(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("build", "there is no such build; it may have been deleted", 404)


@api.exception_handler(Nothing)
def nothing_to_undo(request: HttpRequest, error: Exception) -> HttpResponse:
    return refused("history", "there is nothing to undo or redo")
