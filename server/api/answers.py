"""How the API answers: the core's own words as they are, and refusals that name the field."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from emvar_core.errors import PlanError, Problem
from ninja import Schema
from pydantic import TypeAdapter


class Problems(Schema):
    problems: list[Problem]


_ADAPTERS: dict[Any, TypeAdapter[Any]] = {}


def answer(kind: Any, value: Any, status: int = 200) -> HttpResponse:
    """Straight from the core's models to bytes; they are valid already."""
    adapter = _ADAPTERS.get(str(kind))
    if adapter is None:
        adapter = _ADAPTERS.setdefault(str(kind), TypeAdapter(kind))
    return HttpResponse(adapter.dump_json(value), content_type="application/json", status=status)


def refused(where: str, what: str, status: int = 422) -> HttpResponse:
    return answer(Problems, Problems(problems=[Problem(where=where, what=what)]), status)


def no_larger_than(request: HttpRequest, most_bytes: int) -> None:
    """Raises PlanError where what is sent is larger than anything that Emvar writes."""
    if int(request.headers.get("Content-Length") or 0) > most_bytes:
        raise PlanError.one("file", f"it is larger than {most_bytes // 1_000_000} MB; Emvar writes none so large")


class Busy(Exception):
    """A long question is being answered already."""


def file(body: bytes, kind: str, name: str) -> HttpResponse:
    """A file to be kept."""
    response = HttpResponse(body, content_type=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
