"""The API of the shelf: jars, what is left in them after what was used, and what age does to them."""

from __future__ import annotations

from datetime import date
from typing import Any

from builds.models import Build
from django.http import HttpRequest
from emvar_core.at_the_bench.shelf import StockNote, aged_words, stock_notes, used_ml
from emvar_core.errors import NotThere
from emvar_core.knowledge import knowledge
from emvar_core.plan import known_to
from emvar_core.vocabulary import Id, Name
from journal import store as journal
from journal.clock import CLOCK
from journal.models import Jar, JournalEntry
from ninja import Router, Schema
from pydantic import Field

from .answers import Problems
from .builds_at_times import plan_of

router = Router()


class JarIn(Schema):
    """A jar as it is put on the shelf, or counted again: how much is in it now."""

    id: Id
    material: Id
    name: Name
    full_ml: float = Field(gt=0, le=100_000)
    left_ml: float = Field(ge=0, le=100_000)
    opened_on: date | None = None


class JarRow(Schema):
    """A jar; `left_ml` after what the journals say was used of it since it was counted. `colour`: of its paint."""

    id: str
    material: str
    name: str
    full_ml: float
    left_ml: float
    opened_on: date | None
    words: str
    colour: str | None
    carrier: str


def _used(jars: list[Jar]) -> dict[str, float]:
    """What was used of each jar's material since it was counted; the first jar of a material is used first."""
    taken: dict[str, float] = {}
    ids = list(JournalEntry.objects.values_list("build", flat=True).distinct())
    for build_id in Build.objects.filter(pk__in=ids).values_list("pk", flat=True):
        entries = journal.entries(build_id)
        for jar in jars:
            found = used_ml(entries, jar.counted_at).get(jar.material, 0.0)
            taken[jar.pk] = taken.get(jar.pk, 0.0) + found
    return taken


def _rows() -> list[JarRow]:
    jars, k, today = list(Jar.objects.all()), knowledge(), CLOCK.now().date()
    used = _used(jars)
    rows = []
    for jar in jars:
        coat = k.coats.get(jar.material)
        rows.append(
            JarRow(
                id=jar.pk, material=jar.material, name=jar.name, full_ml=jar.full_ml, opened_on=jar.opened_on,
                left_ml=round(max(jar.counted_ml - used.get(jar.pk, 0.0), 0.0), 2),
                words=aged_words(k, jar.material, jar.opened_on, today),
                colour=coat.colour if coat is not None else None,
                carrier=k.systems[coat.system].name if coat is not None else "Thinners, tools",
            )
        )  # fmt: skip
    return rows


@router.get("/shelf", response=list[JarRow])
def read_shelf(request: HttpRequest) -> Any:
    """What stands on the shelf."""
    return _rows()


@router.post("/shelf", response={200: list[JarRow], 404: Problems, 422: Problems})
def put_jar(request: HttpRequest, body: JarIn) -> Any:
    """Puts a jar on the shelf, or counts one again."""
    if body.material not in knowledge().ids:
        raise NotThere("material", body.material)
    Jar.objects.update_or_create(
        pk=body.id,
        defaults={
            "material": body.material, "name": body.name, "full_ml": body.full_ml, "opened_on": body.opened_on,
            "counted_at": CLOCK.now(), "counted_ml": body.left_ml,
        },
    )  # fmt: skip
    return _rows()


@router.delete("/shelf/{jar_id}", response={200: list[JarRow]})
def take_jar(request: HttpRequest, jar_id: str) -> Any:
    """Takes a jar off the shelf."""
    Jar.objects.filter(pk=jar_id).delete()
    return _rows()


@router.get("/builds/{build_id}/stock", response={200: list[StockNote], 404: Problems})
def read_stock(request: HttpRequest, build_id: str) -> Any:
    """What to heed at the steps of a build that use what is old, or used up."""
    return stock_of(build_id)


def stock_of(build_id: str) -> list[StockNote]:
    """The same, for whoever tells of it."""
    plan = plan_of(build_id)
    left: dict[str, float] = {}
    opened: dict[str, list[date | None]] = {}
    for row in _rows():
        left[row.material] = left.get(row.material, 0.0) + row.left_ml
        opened.setdefault(row.material, []).append(row.opened_on)
    return stock_notes(known_to(plan), plan, opened, left, CLOCK.now().date()) if opened else []
