"""How the API answers: the core's own words as they are, and refusals that name the field."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice
from typing import Any

from django.http import HttpRequest, HttpResponse
from emvar_core.errors import PlanError, Problem
from ninja import Schema
from pydantic import BaseModel, TypeAdapter


class Problems(Schema):
    problems: list[Problem]


_ADAPTERS: dict[Any, TypeAdapter[Any]] = {}


SLICE = 500  # entries that are written at a time: writing is one step to Python, and nobody else comes in between


def answer(kind: Any, value: Any, status: int = 200) -> HttpResponse:
    """Straight from the core's models to bytes; they are valid already."""
    return HttpResponse(b"".join(written(kind, value)), content_type="application/json", status=status)


def _adapter(kind: Any) -> TypeAdapter[Any]:
    known = _ADAPTERS.get(str(kind))
    return known if known is not None else _ADAPTERS.setdefault(str(kind), TypeAdapter(kind))


def written(kind: Any, value: Any) -> Iterator[bytes]:
    """A value as JSON, in pieces where it holds so much that others would wait for it."""
    if not isinstance(value, BaseModel) or not _is_long(value):
        yield _adapter(kind).dump_json(value)
        return
    before = b"{"
    for name, field in type(value).model_fields.items():
        yield before + b'"' + name.encode() + b'":'
        part = getattr(value, name)
        if isinstance(part, dict):
            yield from _entries(field.annotation, part)
        else:
            yield from written(field.annotation, part)
        before = b","
    yield b"}"


def _is_long(value: BaseModel) -> bool:
    parts = (getattr(value, name) for name in type(value).model_fields)
    return any(len(p) > SLICE if isinstance(p, dict) else isinstance(p, BaseModel) and _is_long(p) for p in parts)


def _entries(kind: Any, entries: dict[Any, Any]) -> Iterator[bytes]:
    items, before = iter(entries.items()), b"{"
    while some := dict(islice(items, SLICE)):
        yield before + _adapter(kind).dump_json(some)[1:-1]
        before = b","
    yield b"{}" if before == b"{" else b"}"


def refused(where: str, what: str, status: int = 422) -> HttpResponse:
    return answer(Problems, Problems(problems=[Problem(where=where, what=what)]), status)


def window_of(request: HttpRequest) -> str:
    """The browser window that asks, by the name that it goes by; "" where it gives none."""
    return request.headers.get("X-Window", "")[:64]


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
