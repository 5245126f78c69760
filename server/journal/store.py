"""Entries kept: each once, in the order in which they came. Nothing here changes or deletes one."""

from __future__ import annotations

import json
from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from typing import Any

from emvar_core.at_the_bench.journal import Entry, standing
from emvar_core.errors import PlanError
from emvar_core.memory import MEMORY
from emvar_core.plan import parse
from emvar_core.vocabulary import Model

from .models import JournalEntry

SKEW_S = 2.0  # a device's clock that is off by less is right
_PARSED = MEMORY.door("entries of journals", 4_000)


class Refused(Model):
    """An entry that cannot be taken, and why."""

    id: str
    what: str


def entries(build_id: str, after: int = 0) -> list[Entry]:
    """The entries of a build, those that came after a number, in the order in which they came."""
    return [entry for _, entry in numbered(build_id, after)]


def numbered(build_id: str, after: int = 0) -> list[tuple[int, Entry]]:
    rows = JournalEntry.objects.filter(build=build_id, id__gt=after).values_list("id", "body")
    return [(number, _parsed(body)) for number, body in rows]


def _parsed(body: dict[str, Any]) -> Entry:
    return _PARSED.once(json.dumps(body), lambda: parse(Entry, body))


def read(sent: Iterable[object], build_id: str) -> tuple[list[Entry], list[Refused]]:
    """What was sent, each entry by itself: one that is wrong holds up no other."""
    good: list[Entry] = []
    refused: list[Refused] = []
    for one in sent:
        try:
            good.append(parse(Entry, one))
        except PlanError as error:
            name = one.get("id") if isinstance(one, dict) else ""
            refused.append(Refused(id=str(name)[:64], what=str(error)[:400]))
    return good, refused


def by_our_clock(sent: Sequence[Entry], device_now: datetime | None, now: datetime) -> list[Entry]:
    """Entries by the server's clock: a device whose own is wrong says what it takes the time to be as it sends them."""
    skew = now - device_now if device_now is not None else timedelta()
    if abs(skew.total_seconds()) <= SKEW_S:
        return list(sent)

    def put(entry: Entry) -> Entry:
        times = {"at": entry.at + skew, "written_at": entry.written_at + skew}
        if entry.began_at is not None:
            times["began_at"] = entry.began_at + skew
        return entry.model_copy(update=times)

    return [put(entry) for entry in sent]


def take(build_id: str, sent: Sequence[Entry], parcel: str, now: datetime) -> list[str]:
    """Adds entries that are not known yet. Gives the ids of those that are new. Called inside a transaction."""
    known = set(
        JournalEntry.objects.filter(build=build_id, entry_id__in=[e.id for e in sent]).values_list(
            "entry_id", flat=True
        )
    )
    new = {e.id: e for e in sent if e.id not in known}
    JournalEntry.objects.bulk_create(
        JournalEntry(
            build_id=build_id, entry_id=e.id, body=e.model_dump(mode="json", exclude_defaults=True), parcel=parcel,
            received_at=now,
        )
        for e in new.values()
    )  # fmt: skip
    return list(new)


def knows(build_id: str, entry_id: str) -> bool:
    """Whether an entry was taken already."""
    return JournalEntry.objects.filter(build=build_id, entry_id=entry_id).exists()


def last_parcel(build_id: str) -> list[Entry]:
    """What was said last, in one go, and still stands: what taking back takes back. Empty where there is nothing."""
    live = {e.id: e for e in standing(entries(build_id))}
    rows = JournalEntry.objects.filter(build=build_id).order_by("-id").values_list("entry_id", "parcel")
    parcel: str | None = None
    found: list[Entry] = []
    for entry_id, of in rows.iterator(chunk_size=200):
        if parcel is not None and of != parcel:
            break
        if entry_id in live:
            parcel = of
            found.append(live[entry_id])
    return found
