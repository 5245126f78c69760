"""The logbook: what the journal says, as rows in real time, each with what was planned; and as Markdown, CSV, JSON."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from ..assess import assess
from ..ids import coat_id
from ..judging import Assessment
from ..plan import CoatStep, Plan, Record, Schedule, as_placed, known_to, minutes_since_start, ratio_words
from ..plan.steps import AnyStep
from ..vocabulary import Instant, Model, when_words
from .earlier_builds import really_mixed
from .journal import Actual, Entry, Said, standing, step_in

GAP = timedelta(hours=3)  # after which it is another sitting
TOLD = {
    Said.BEGUN: "begun", Said.DONE: "done", Said.SKIPPED: "skipped", Said.WRONG: "went wrong, off again",
    Said.AGAIN: "to be done again", Said.NOT_READY: "not ready yet", Said.SEEN: "looked at", Said.NOTE: "note",
    Said.PICTURE: "picture", Said.TRIAL: "trial", Said.SECTION: "section", Said.PAUSED: "paused",
    Said.RESUMED: "went on", Said.NOW: "looked in",
}  # fmt: skip
QUIET = (Said.BEGUN, Said.PAUSED, Said.RESUMED, Said.SECTION, Said.NOW)  # told with what they lead to


class Slice(Model):
    """A coat of a core as it was at a moment: its colour, how thick, how much of the zone it covers."""

    name: str
    colour: str
    film_um: float
    coverage: float


class LogRow(Model):
    """One thing that happened. `late_min`: later than planned; `core`: the first zone's core as it then was."""

    id: str
    build: str
    build_name: str
    at: Instant
    began_at: Instant | None
    planned_at: Instant | None
    late_min: float | None
    late: str
    sitting: int
    said: Said
    words: str
    step: str | None
    name: str
    kind: str
    zones: list[str]
    zone_names: list[str]
    material: str | None
    material_name: str
    technique: str | None
    colour: str | None
    mix: str
    figures: str
    as_planned: bool
    fault: str
    note: str
    picture: str | None
    core: list[Slice]
    device: str


def log_rows(
    build_id: str, plan: Plan, schedule: Schedule | None, record: Record, entries: Iterable[Entry]
) -> list[LogRow]:
    """The rows of a build in the order in which they happened. Linear in the entries, beside one assessment."""
    placed = as_placed(plan, schedule, record)
    assessed = assess(placed, opens=False)
    begun: dict[str, datetime] = {}
    rows: list[LogRow] = []
    live = sorted(standing(entries), key=lambda e: (e.at, e.written_at, e.id))
    sitting, before = 0, None
    for entry in live:
        if before is not None and entry.at - before > GAP:
            sitting += 1
        before = entry.at
        if entry.said is Said.BEGUN and entry.step is not None:
            begun[entry.step] = entry.at
        if entry.said in QUIET:
            continue
        rows.append(_row(build_id, placed, assessed, entry, sitting, begun))
    return rows


def _step_of(plan: Plan, entry: Entry) -> AnyStep | None:
    if entry.step is None:
        return None
    return next((s for z in entry.zones if (s := step_in(plan, entry.step, z)) is not None), plan.step(entry.step))


def _row(build_id: str, plan: Plan, a: Assessment, entry: Entry, sitting: int, begun: dict[str, datetime]) -> LogRow:
    step = _step_of(plan, entry)
    k, names = known_to(plan), {z.id: z.name for z in plan.zones}
    coat = step if isinstance(step, CoatStep) else None
    zone = entry.zones[0] if entry.zones else None
    mix = really_mixed(plan, coat, entry.actual) if coat is not None else None
    began = entry.began_at or (begun.get(entry.step) if entry.step is not None and entry.said is Said.DONE else None)
    start = began or entry.at
    late = (start - entry.planned_at).total_seconds() / 60 if entry.planned_at is not None else None
    out = a.coats.get(coat_id(coat.id, zone)) if coat is not None and zone is not None else None
    return LogRow(
        id=entry.id, build=build_id, build_name=plan.build.name, at=entry.at, began_at=began,
        planned_at=entry.planned_at, late_min=round(late, 1) if late is not None else None,
        late=late_words(late) if entry.said is Said.DONE else "", sitting=sitting,
        said=entry.said, words=_words(entry), step=step.id if step is not None else entry.step,
        name=step.name if step is not None else entry.name, kind=step.kind if step is not None else "",
        zones=list(entry.zones), zone_names=[names[z] for z in entry.zones if z in names],
        material=coat.material if coat is not None else None,
        material_name=k.coats[coat.material].name if coat is not None and coat.material in k.coats else "",
        technique=step.technique if step is not None else None, colour=out.colour if out is not None else None,
        mix=ratio_words(mix) if entry.said is Said.DONE and mix is not None and len(mix.parts) > 1 else "",
        figures=figures_words(entry.actual),
        as_planned=entry.as_planned, fault=entry.fault, note=entry.note, picture=entry.picture,
        core=_core(plan, a, zone, minutes_since_start(plan, entry.at)) if zone is not None else [],
        device=entry.device,
    )  # fmt: skip


def _core(plan: Plan, a: Assessment, zone: str, minute: float) -> list[Slice]:
    """The coats of a zone that lay there by an instant, from the bottom."""
    slices = []
    for step in plan.steps:
        coat = a.coats.get(coat_id(step.id, zone))
        if coat is not None and coat.end_min <= minute + 0.5:
            slices.append(
                Slice(name=step.name, colour=coat.colour, film_um=coat.film_um, coverage=round(coat.coverage, 3))
            )
    return slices


def _words(entry: Entry) -> str:
    said = TOLD[entry.said]
    if entry.trial is not None:
        aims = ", ".join(entry.trial.aims)
        said = f"trial for {aims or 'itself'}: {'passed' if entry.trial.passed else entry.trial.decides or 'failed'}"
    elif entry.observed is not None:
        state = "yes" if entry.observed.reached else "not yet"
        said = f"looked at after {entry.observed.age_min:.0f} min: {entry.observed.what.value}, {state}"
    elif entry.said is Said.NOT_READY:
        said = f"not ready yet: looked at again after {entry.wait_min or 0:.0f} min"
    return said


def figures_words(actual: Actual | None) -> str:
    """What was measured or otherwise, in words and metric units."""
    if actual is None:
        return ""
    said = [
        f"{actual.pressure_kpa / 100:.2f} bar" if actual.pressure_kpa is not None else "",
        f"{actual.distance_mm / 10:.1f} cm" if actual.distance_mm is not None else "",
        f"{actual.passes} passes" if actual.passes is not None else "",
        f"{actual.minutes:.0f} min" if actual.minutes is not None else "",
        f"{actual.temp_c:.0f} °C" if actual.temp_c is not None else "",
        f"{actual.rh_pct:.0f} %" if actual.rh_pct is not None else "",
    ]
    return ", ".join(x for x in said if x)


def late_words(late_min: float | None) -> str:
    """The gap to the plan in words; "" where there is none worth telling."""
    if late_min is None or abs(late_min) < 10:
        return ""
    minutes = abs(late_min)
    hours = f"{minutes / 60:.0f} h" if minutes < 2880 else f"{minutes / 1440:.0f} days"
    much = f"{minutes:.0f} min" if minutes < 90 else hours
    return f"{much} {'later' if late_min > 0 else 'earlier'} than planned"


def _plain(text: str) -> str:
    """A person's words as Markdown shows them: nothing in them is taken for a mark."""
    for mark in "\\`*_{}[]<>#|":
        text = text.replace(mark, "\\" + mark)
    return text.replace("\n", " ")


def markdown(name: str, rows: Iterable[LogRow], zone: ZoneInfo, pictures: str = "pictures") -> str:
    """The logbook as Markdown; pictures are named as they lie beside it."""
    lines, sitting = [f"# {_plain(name)}: logbook", ""], -1
    for row in rows:
        if row.sitting != sitting:
            sitting = row.sitting
            lines += [f"## {when_words(row.at.astimezone(zone))}", ""]
        where = f" ({_plain(', '.join(row.zone_names))})" if row.zone_names else ""
        head = f"- **{row.at.astimezone(zone):%H:%M}** {_plain(row.name) or 'Note'}{where}: {row.words}"
        more = [row.mix, row.figures, row.late, _plain(row.fault), _plain(row.note)]
        lines.append(head + "".join(f"; {x}" for x in more if x))
        if row.picture:
            lines += ["", f"  ![{_plain(row.name) or 'picture'}]({pictures}/{row.picture}.jpg)", ""]
    return "\n".join(lines) + "\n"


COLUMNS = ("at", "build", "step", "zones", "what", "material", "technique", "mix", "figures", "planned_at", "late_min",
           "fault", "note", "picture")  # fmt: skip


def table(rows: Iterable[LogRow]) -> str:
    """The logbook as CSV (RFC 4180); a cell that a spreadsheet would take for a formula begins with an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for r in rows:
        cells = [
            r.at.isoformat(), r.build_name, r.name, ", ".join(r.zone_names), r.words, r.material_name,
            r.technique or "",
            r.mix, r.figures, r.planned_at.isoformat() if r.planned_at else "",
            "" if r.late_min is None else f"{r.late_min:g}", r.fault, r.note, r.picture or "",
        ]  # fmt: skip
        writer.writerow("'" + c if c[:1] in "=+-@\t\r" and c[:1] else c for c in cells)
    return out.getvalue()
