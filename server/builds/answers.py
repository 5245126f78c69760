"""How the API answers: the core's own words as they are, and refusals that name the field."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import HttpResponse
from emvar_core.plan import Plan
from emvar_core.values import Problem
from ninja import Schema
from pydantic import TypeAdapter

from . import store
from .models import Build


class Problems(Schema):
    problems: list[Problem]


def plan_of(build_id: str) -> Plan:
    return store.plan_of(Build.objects.get(pk=build_id))


def refused(where: str, what: str, status: int = 422) -> HttpResponse:
    body = TypeAdapter(Problems).dump_json(Problems(problems=[Problem(where=where, what=what)]))
    return HttpResponse(body, content_type="application/json", status=status)


def told(kind: Any, work: Callable[[], Any], what: str) -> HttpResponse:
    """The core's answer as it is, or 404 in words where there is no such thing."""
    try:
        return HttpResponse(TypeAdapter(kind).dump_json(work()), content_type="application/json")
    except KeyError:
        return refused(what, f"there is no such {what} in the plan as it stands", 404)
