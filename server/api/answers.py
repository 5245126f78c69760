"""How the API answers: the core's own words as they are, and refusals that name the field."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from emvar_core.errors import Problem
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


class Busy(Exception):
    """A long question is being answered already."""


def file(body: bytes, kind: str, name: str) -> HttpResponse:
    """A file to be kept."""
    response = HttpResponse(body, content_type=kind)
    response.headers["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
