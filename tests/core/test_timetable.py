"""Schedules and records as documents, as files for other programs, and as they are shown."""

import csv
import io
import math
from datetime import datetime, timedelta
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.plan import (
    Record,
    Schedule,
    Timing,
    WorkingStep,
    apply,
    as_placed,
    at,
    parse,
    parse_edits,
    parse_plan,
)
from emvar_core.plan.documents import Happened, State, out_of_step, placed_entries, pruned
from emvar_core.plan.documents import check_document as check
from emvar_core.schedule import calendar_out
from emvar_core.schedule.agenda import Agenda, times_of
from emvar_core.schedule.drag import agenda_of, move
from emvar_core.schedule.net import What
from emvar_core.schedule.view import view
from icalendar import Calendar

from tests.builders import coat, plan_json
from tests.core.agendas import mended, minutes, planned, wash_plan


class Documents(TestCase):
    def test_record_beats_schedule_beats_plan(self) -> None:
        plan = wash_plan()
        schedule = Schedule(placed=placed_entries(plan, {"gloss": Timing(100, 120), "wash": Timing(5000, 5030)}))
        when = at(plan, 333)
        record = Record(
            entries=[Happened(step="gloss", zone="side", state=State.DONE, starts_at=when, ends_at=when + minutes(25))]
        )
        times = assess(plan, schedule=schedule, record=record).times
        self.assertEqual((times["gloss"].start_min, times["gloss"].end_min), (333, 358))
        self.assertEqual(times["wash"].start_min, 5000)
        self.assertEqual(times["wipe"].start_min, 5030, "what nobody placed follows what lies below it")
        self.assertEqual(assess(plan).times["gloss"].start_min, 0)

    def test_unknown_steps_and_zones_are_refused_by_place(self) -> None:
        plan = wash_plan()
        for step, zone, where in (("nothing", "side", "step"), ("gloss", "deck", "zone")):
            data = {"placed": [{"step": step, "zone": zone, "starts_at": "2026-03-02T10:00:00Z",
                                "ends_at": "2026-03-02T11:00:00Z"}]}  # fmt: skip
            with self.assertRaises(PlanError) as refused:
                check(plan, parse(Schedule, data))
            self.assertIn(where, refused.exception.problems[0].where)

    def test_what_was_done_in_some_zones_only_gets_a_step_of_its_own(self) -> None:
        plan = mended()
        wash = plan.step("pin-wash")
        assert wash is not None
        when = at(plan, 10_000)
        entries = [
            Happened(step="pin-wash", zone=z, state=State.DONE, starts_at=when, ends_at=when + minutes(20))
            for z in ("hull", "deck")
        ]
        splits, told = out_of_step(plan, entries)
        changed, _ = apply(plan, splits)
        record = Record(entries=told)
        check(changed, record)
        new = told[0].step
        self.assertEqual(record.states(), {new: State.DONE})
        self.assertEqual(changed.step(new).zones, ["hull", "deck"])  # type: ignore[union-attr]
        wipes = {tuple(s.zones): s.acts_on for s in changed.steps if isinstance(s, WorkingStep) and s.action == "wipe"}
        self.assertEqual(wipes, {("hull", "deck"): new, ("topsides", "house", "funnel"): "pin-wash"})
        self.assertEqual(changed.step("pin-wash").zones, ["topsides", "house", "funnel"])  # type: ignore[union-attr]
        whole = [e.model_copy(update={"zone": z}) for z in wash.zones for e in entries[:1]]
        self.assertEqual(out_of_step(plan, whole), ([], whole))

    def test_broken_documents_are_refused_and_pruned_ones_fit(self) -> None:
        with self.assertRaises(PlanError):
            parse(Record, {"entries": [{"step": "gloss", "zone": "side", "state": "eaten"}]})
        with self.assertRaises(PlanError):
            parse(Schedule, {"placed": [{"step": "a", "zone": "b", "starts_at": "2026-03-02T12:00:00Z",
                                         "ends_at": "2026-03-02T11:00:00Z"}]})  # fmt: skip
        _, found = planned()
        fewer = mended().model_copy(update={"steps": [s for s in mended().steps if s.id != "dust"]})
        kept = pruned(fewer, found.schedule)
        check(fewer, kept)
        self.assertNotIn("dust", {e.step for e in kept.placed})

    def test_steps_done_out_of_order_stand_in_the_order_of_their_times(self) -> None:
        plan = wash_plan()
        schedule = Schedule(placed=placed_entries(plan, {"wash": Timing(0, 30), "gloss": Timing(900, 920)}))
        self.assertEqual([s.id for s in as_placed(plan, schedule).steps], ["wash", "wipe", "gloss"])


class Files(TestCase):
    def test_the_calendar_is_read_back_as_it_was_meant(self) -> None:
        agenda, found = planned()
        stamp = datetime.fromisoformat("2026-11-25T10:00:00+00:00")
        read = Calendar.from_ical(calendar_out.calendar("tug", agenda, found.schedule, stamp))
        events = list(read.walk("VEVENT"))
        pages = calendar_out.pages(agenda, found.schedule)
        sits = [e for e in events if not str(e["SUMMARY"]).startswith("Closes")]
        self.assertEqual([e["DTSTART"].dt for e in sits], [p.sitting.start for p in pages if p.sitting])
        self.assertEqual(len({str(e["UID"]) for e in events}), len(events))
        for page, event in zip(pages, sits, strict=True):
            self.assertTrue(all(line.name in str(event["DESCRIPTION"]) for line in page.lines))
        self.assertTrue(all(list(e.walk("VALARM")) for e in events))
        wipe = next(e for e in events if str(e["SUMMARY"]) == "Closes: Wipe the wash back")
        closes = next(c for c in calendar_out.closings(agenda, found.schedule) if c.step == "wipe")
        self.assertEqual(wipe["DTEND"].dt, closes.closes)
        self.assertEqual(next(iter(wipe.walk("VALARM")))["TRIGGER"].dt, timedelta(minutes=-60))

    def test_files_tell_the_stretch_that_a_step_lies_in(self) -> None:
        """An enamel takes its own coat within hours, or after days: only the first of the two closes."""
        for start, closes in ((90.0, True), (10 * 1440.0, False)):
            steps = [coat("one", "enamel_colour", hands_on_min=20), coat("two", "enamel_colour", hands_on_min=20)]
            plan = parse_plan(
                plan_json(steps, hours={"weekly": [{"days": ["mon"], "start": "10:00", "length_min": 600}]})
            )
            agenda = Agenda(plan)
            times = {"one": Timing(0, 20), "two": Timing(start, start + 20)}
            schedule = Schedule(placed=placed_entries(plan, times))
            told = [c for c in calendar_out.closings(agenda, schedule) if c.step == "two"]
            self.assertEqual(bool(told), closes, start)
            row = next(
                r for r in csv.DictReader(io.StringIO(calendar_out.table(agenda, schedule))) if r["step"] == "two"
            )
            self.assertEqual(bool(row["closes"]), closes)
            if closes:
                self.assertLess(row["start"], row["closes"])
            link = next(link for link in agenda.net.links if link.after == "two" and len(link.ages.careful) > 1)
            opens, shuts = agenda.stretch(link, times)
            self.assertTrue(opens <= start <= shuts, (opens, start, shuts))

    def test_hostile_names_stay_text(self) -> None:
        edit = {"edit": "set_field", "step_id": "gloss", "field": "name", "value": '=HYPERLINK("x")\r\nBEGIN:VEVENT'}
        with self.assertRaises(PlanError):
            apply(mended(), parse_edits([edit]))
        edit["value"] = '=1+1;,"gloss"'
        plan, _ = apply(mended(), parse_edits([edit]))
        agenda, found = planned()
        other = Agenda(plan)
        rows = list(csv.DictReader(io.StringIO(calendar_out.table(other, found.schedule))))
        self.assertEqual(next(r["step"] for r in rows if "gloss" in r["step"]), '\'=1+1;,"gloss"')
        self.assertEqual(len(rows), len(plan.steps))
        stamp = datetime.fromisoformat("2026-11-25T10:00:00+00:00")
        read = Calendar.from_ical(calendar_out.calendar("tug", other, found.schedule, stamp))
        self.assertEqual(len(list(read.walk("VEVENT"))), len(list(Calendar.from_ical(
            calendar_out.calendar("tug", agenda, found.schedule, stamp)).walk("VEVENT"))))  # fmt: skip


class Shown(TestCase):
    def test_windows_are_shown_with_their_edges_and_whether_they_are_met(self) -> None:
        agenda, found = planned()
        shown = view(agenda, found.schedule, None, [])
        wipe = next(w for w in shown.windows if w.after == "wipe" and w.what is What.WINDOW)
        hopeful, best, careful = wipe.opens
        self.assertTrue(hopeful <= best <= careful)
        closes = [c for c in wipe.closes if c is not None]
        self.assertEqual(closes, sorted(closes))
        self.assertTrue(all(w.met for w in shown.windows))
        self.assertLessEqual(shown.hopeful_min, shown.finish_min)

    def test_each_step_is_in_one_sitting_and_the_minutes_add_up(self) -> None:
        agenda, found = planned()
        shown = view(agenda, found.schedule, None, [])
        steps = [x.step for s in shown.sittings for x in s.lines if x.step]
        self.assertEqual(sorted(steps), sorted(s.id for s in mended().steps))
        for s in shown.sittings:
            work = sum(x.end_min - x.start_min for x in s.lines)
            self.assertAlmostEqual(work + s.spare_min, s.end_min - s.start_min, delta=1e-6)
            self.assertEqual(s.setups, sum(x.step is None for x in s.lines))

    def test_a_broken_window_is_not_met(self) -> None:
        agenda, found = planned()
        times = times_of(agenda, found.schedule)
        end = next(b for a, b in agenda.stretches if a <= times["pin-wash"].start_min < b)
        broken = move(agenda, found.schedule, "pin-wash", end - 40).schedule
        shown = view(agenda_of(mended(), broken, None), broken, None, [])
        self.assertEqual([w.after for w in shown.windows if not w.met], ["wipe"])
        self.assertTrue(all(math.isfinite(w.opens[0]) for w in shown.windows))
