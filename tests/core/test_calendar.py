"""The calendar: what is taken, when spraying is allowed, what is one part, what was typed, and the words for it."""

from datetime import UTC, datetime, timedelta
from typing import Any
from unittest import TestCase, mock
from zoneinfo import ZoneInfo

from emvar_core.assess import assess
from emvar_core.errors import OutOfRange, PlanError
from emvar_core.judging import Assessment
from emvar_core.knowledge import knowledge
from emvar_core.plan import Plan, Schedule, apply, is_fine, parse_plan, parse_step, sittings, step_times
from emvar_core.plan.hours import Hours, Sitting, free_of
from emvar_core.schedule import calendar_out
from emvar_core.schedule import schedule as scheduling
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.calendar_in import busy_of
from emvar_core.schedule.drag import move
from emvar_core.schedule.net import NOTHING_ASKED, Link, What
from emvar_core.schedule.problem import Unsolvable
from emvar_core.schedule.schedule import first_schedule, make
from emvar_core.schedule.unfit import open_seams
from emvar_core.schedule.view import taken_up, view
from emvar_core.vocabulary import Verdict
from emvar_core.ways.waits import followed
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import coat, plan_json
from tests.core.agendas import evenings, planned
from tests.lengths import at_length

LISBON = ZoneInfo("Europe/Lisbon")
K = knowledge()
EVERY_DAY = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]


def hours(**more: Any) -> dict[str, Any]:
    return {"weekly": [{"days": EVERY_DAY, "start": "18:00", "length_min": 240}]} | more


def two_coats(**more: Any) -> Plan:
    steps = [
        coat("primer", "lacquer_primer", hands_on_min=30),
        coat("colour", "lacquer_colour", hands_on_min=30, **more.pop("colour", {})),
    ]
    return parse_plan(plan_json(steps, hours=hours(**more)))


def local(plan: Plan, instant: datetime) -> datetime:
    return instant.astimezone(plan.build.tz)


class Listed(TestCase):
    def test_the_same_hours_are_listed_anew_for_other_days_and_another_time_zone(self) -> None:
        hours = Hours.model_validate(evenings("mon", "wed", "fri"))
        berlin, lisbon, first = ZoneInfo("Europe/Berlin"), ZoneInfo("Europe/Lisbon"), datetime(2026, 11, 2, tzinfo=UTC)
        third, week = first + timedelta(days=2), first + timedelta(days=7)
        asked = [(berlin, first, week), (lisbon, first, week), (berlin, third, week), (berlin, first, third)]
        told = [sittings(hours, *each) for each in asked]
        self.assertEqual(told[0][0].start - told[1][0].start, timedelta(hours=-1))
        self.assertEqual(told[2], told[0][1:])
        self.assertEqual(told[3], told[0][:1])
        self.assertEqual(len(told[0]), 3)


class WhatIsTaken(TestCase):
    @settings(max_examples=at_length(20, 80))
    @given(st.lists(st.tuples(st.integers(0, 3000), st.integers(1, 600)), max_size=12))
    def test_nothing_that_is_taken_is_bench_time_and_nothing_else_is_lost(self, taken: list[tuple[int, int]]) -> None:
        start = datetime(2026, 3, 2, 18, tzinfo=UTC)
        listed = [Sitting(f"x{d}", start + timedelta(days=d), start + timedelta(days=d, hours=4)) for d in range(3)]
        busy = [(start + timedelta(minutes=a), start + timedelta(minutes=a + n)) for a, n in taken]
        left = free_of(listed, busy, LISBON)

        def minutes(instants: list[Sitting]) -> set[datetime]:
            return {s.start + timedelta(minutes=m) for s in instants for m in range(s.minutes)}

        free = {m for m in minutes(listed) if not any(a <= m < b for a, b in busy)}
        kept = minutes(left)
        self.assertTrue(kept <= free)
        # Only rests too short to sit down for are given up.
        lost = sorted(free - kept)
        runs = 1
        for a, b in zip(lost, lost[1:], strict=False):
            runs = runs + 1 if b - a == timedelta(minutes=1) else 1
            self.assertLess(runs, 5)

    def test_a_busy_evening_moves_the_work(self) -> None:
        free = make(Agenda(two_coats()), seconds=5)
        first = min(e.starts_at for e in free.schedule.placed)
        busy = [{"start": (first - timedelta(hours=1)).isoformat(), "end": (first + timedelta(hours=5)).isoformat()}]
        moved = make(Agenda(two_coats(busy=busy)), seconds=5)
        self.assertGreater(min(e.starts_at for e in moved.schedule.placed), first + timedelta(hours=4))
        with self.assertRaisesRegex(PlanError, "end must come after start"):
            two_coats(busy=[{"start": "2026-03-02T19:00:00Z", "end": "2026-03-02T18:00:00Z"}])

    def test_other_builds_take_the_same_hands(self) -> None:
        plan = two_coats()
        one = make(Agenda(plan), seconds=5).schedule
        taken = [(e.starts_at, e.ends_at) for e in one.placed]
        other = make(Agenda(plan, taken=taken), seconds=5).schedule
        for e in other.placed:
            self.assertFalse([t for t in taken if e.starts_at < t[1] and t[0] < e.ends_at])

    def test_what_is_taken_of_the_sittings_is_shown_once_and_by_name(self) -> None:
        plan = two_coats()
        start = plan.build.starts_at.replace(hour=0)

        def at(day: int, hour: float) -> datetime:
            return start + timedelta(days=day, hours=hour)

        named = [
            (at(0, 19), at(0, 20), "Choir"),
            (at(1, 17), at(1, 18.5), "Crane"),  # only from 18:00 on is there a sitting
            (at(1, 18.6), at(1, 19), "Crane"),  # six minutes later: the same stretch
            (at(2, 9), at(2, 12), "Work"),  # nobody would be at the bench
        ]
        took = taken_up(Agenda(plan), named, 3 * 1440)
        hours_ = [(t.by, (t.start_min + 600) / 60 % 24, (t.end_min + 600) / 60 % 24) for t in took]
        self.assertEqual(hours_, [("Choir", 19, 20), ("Crane", 18, 19)])


class WhenSprayingIsAllowed(TestCase):
    def test_spraying_keeps_to_its_hours_and_the_brush_does_not(self) -> None:
        steps = [
            coat("primer", "lacquer_primer", hands_on_min=30),
            coat("chips", "waterborne_colour", method="sponge", hands_on_min=60),
        ]
        limits = {"spray_from": "18:00", "spray_until": "20:00"}
        plan = parse_plan(plan_json(steps, hours=hours(**limits)))
        made = make(Agenda(plan), seconds=5).schedule
        primer = next(e for e in made.placed if e.step == "primer")
        self.assertLessEqual((local(plan, primer.ends_at).hour, local(plan, primer.ends_at).minute), (20, 0))
        late = plan_json(steps, hours=hours(spray_from="21:00", spray_until="22:30"))
        made = make(Agenda(parse_plan(late)), seconds=5).schedule
        self.assertGreaterEqual(local(plan, next(e for e in made.placed if e.step == "primer").starts_at).hour, 21)

    def test_spraying_that_is_never_allowed_is_told_at_once(self) -> None:
        began = datetime.now(UTC)
        told = make(Agenda(two_coats(spray_from="08:00", spray_until="09:00")), seconds=20)
        self.assertIn("spraying", told.unfit[0].words)
        self.assertLess((datetime.now(UTC) - began).total_seconds(), 5)

    def test_half_a_limit_is_refused_by_name(self) -> None:
        for limits in ({"spray_from": "08:00"}, {"spray_from": "20:00", "spray_until": "08:00"}):
            with self.assertRaisesRegex(PlanError, "spray_"):
                two_coats(**limits)


class WhatIsOnePart(TestCase):
    def plan(self, places: int, parts: dict[str, str] | None = None) -> Plan:
        names = [f"z{i}" for i in range(5)]
        data = plan_json(
            [coat("primer", "lacquer_primer", hands_on_min=20, zones=names)], zones=names,
            hours=hours(drying_places=places),
        )  # fmt: skip
        for zone in data["zones"]:
            if parts and zone["id"] in parts:
                zone["part"] = parts[zone["id"]]
        return parse_plan(data)

    def test_three_places_for_five_parts_cannot_fit_and_it_is_said_at_once(self) -> None:
        told = make(Agenda(self.plan(3)), seconds=20)
        self.assertIn("5 parts at once, and 3 can dry", told.unfit[0].words)
        self.assertLess(told.seconds, 3)

    def test_zones_of_one_part_dry_as_one(self) -> None:
        hull = {"z0": "Hull", "z1": "Hull", "z2": "Hull"}
        self.assertEqual(make(Agenda(self.plan(3, hull)), seconds=5).unfit, ())
        self.assertIn("3 parts at once", make(Agenda(self.plan(2, hull)), seconds=5).unfit[0].words)


class WhatAPersonTyped(TestCase):
    def gap(self, **colour: Any) -> float:
        made = make(Agenda(two_coats(colour=colour)), seconds=5).schedule
        by = {e.step: e for e in made.placed}
        return (by["colour"].starts_at - by["primer"].ends_at).total_seconds() / 60

    def test_a_typed_wait_binds_and_one_that_came_with_a_file_does_not(self) -> None:
        self.assertGreaterEqual(self.gap(wait_min=4000, wait_by="person"), 4000)
        self.assertLess(self.gap(wait_min=4000), 4000)
        self.assertLess(self.gap(wait_min=4000, wait_by="program"), 4000)


class LeftOvernight(TestCase):
    def begins(self, starts_at: str, hands_on: float = 30, zone: str = "Europe/Lisbon", **more: Any) -> str:
        steps = [
            coat("primer", "lacquer_primer", hands_on_min=hands_on),
            coat("colour", "lacquer_colour", hands_on_min=30, overnight=True, **more),
        ]
        plan = parse_plan(plan_json(steps, build={"starts_at": starts_at, "timezone": zone}))
        at = plan.build.starts_at + timedelta(minutes=step_times(plan)["colour"].start_min)
        return f"{at.astimezone(plan.build.tz):%m-%d %H:%M}"

    def test_a_night_lies_between(self) -> None:
        self.assertEqual(self.begins("2026-03-02T19:00:00+00:00"), "03-03 06:00")
        self.assertEqual(self.begins("2026-03-02T07:00:00+00:00"), "03-03 06:00")
        # Up to two in the morning it is still the evening before; later it is the next night.
        self.assertEqual(self.begins("2026-03-03T01:30:00+00:00"), "03-03 06:00")
        self.assertEqual(self.begins("2026-03-03T01:31:00+00:00"), "03-04 06:00")
        self.assertEqual(self.begins("2026-03-02T19:00:00+00:00", wait_min=900), "03-03 10:30")

    def test_mornings_are_by_the_wall_where_the_clock_changes(self) -> None:
        # Lisbon goes forward on 29 March 2026 at one, and back on 25 October at two.
        for evening, morning in (("03-28", "03-29 06:00"), ("10-24", "10-25 06:00")):
            self.assertEqual(self.begins(f"2026-{evening}T19:00:00+00:00"), morning)

    def test_there_is_no_night_before_the_first_step_and_a_fixed_start_wins(self) -> None:
        plan = parse_plan(plan_json([coat("primer", "lacquer_primer", overnight=True)]))
        self.assertEqual(step_times(plan)["primer"].start_min, 0)
        fixed = self.begins("2026-03-02T19:00:00+00:00", fixed_start="2026-03-02T21:00:00+00:00")
        self.assertEqual(fixed, "03-02 21:00")

    def test_a_schedule_and_what_is_put_into_sittings_without_a_search_keep_it(self) -> None:
        for overnight in (False, True):
            plan = two_coats(colour={"overnight": overnight})
            agenda = Agenda(plan)
            first = first_schedule(agenda)
            made = make(agenda, seconds=5)
            by = {e.step: e for e in made.schedule.placed}
            days = (local(plan, by["colour"].starts_at).date() - local(plan, by["primer"].ends_at).date()).days
            self.assertEqual(days >= 1, overnight)
            self.assertEqual(first.starts["colour"] - first.ends["primer"] > 600, overnight)
            links = [w for w in view(agenda, made.schedule, None, []).windows if w.what is What.NIGHT]
            self.assertEqual([w.met for w in links], [True] * overnight)
        told = move(agenda, made.schedule, "colour", first.ends["primer"] + 60)
        self.assertIn("may start Tue 3 Mar 06:00", " ".join(u.words for u in told.unfit))

    def test_the_programs_waits_leave_the_night_alone(self) -> None:
        steps = [
            coat("primer", "lacquer_primer", hands_on_min=30),
            coat("colour", "waterborne_colour", hands_on_min=30, overnight=True, wait_by="program"),
            coat("clear", "alcohol_acrylic_clear", hands_on_min=30, wait_by="program"),
        ]
        day, cold = ({"temp_c": t, "rh_pct": 50, "movement": "still"} for t in (20, 6))
        # It is cold until ten: what is laid at six dries more slowly than what was laid the day before.
        air = {"day": day, "night": cold, "night_from": "22:00", "night_to": "10:00"}
        plan = parse_plan(plan_json(steps, air=air))
        there, _ = apply(plan, followed(None, plan))
        times = step_times(there)
        self.assertEqual(f"{plan.build.starts_at + timedelta(minutes=times['colour'].start_min):%d %H:%M}", "03 06:00")
        self.assertFalse([s for s in assess(there).seams.values() if s.verdict is Verdict.WAIT])
        self.assertEqual(followed(there, there), [])
        # What comes above it waits as long as if the coat had been told to begin at six.
        morning = [steps[0], {**steps[1], "overnight": False, "fixed_start": "2026-03-03T06:00:00+00:00"}, steps[2]]
        fixed = parse_plan(plan_json(morning, air=air))
        told, _ = apply(fixed, followed(None, fixed))
        waits = [next(s.wait_min for s in p.steps if s.id == "clear") for p in (there, told)]
        self.assertEqual(waits[0], waits[1])


class FineWorkInARow(TestCase):
    def plan(self, minutes: tuple[int, ...], most: int | None = 45, **more: Any) -> Plan:
        steps = [
            coat(
                f"marks{i}", "waterborne_colour", method="brush", coverage=0.05, hands_on_min=m, zones=[f"z{i}"], **more
            )
            for i, m in enumerate(minutes)
        ]
        limit = {} if most is None else {"fine_at_most_min": most, "rest_min": 15}
        return parse_plan(plan_json(steps, zones=[f"z{i}" for i in range(len(minutes))], hours=hours(**limit)))

    def took(self, plan: Plan) -> float:
        made = make(Agenda(plan), seconds=5).schedule
        starts, ends = (e.starts_at for e in made.placed), [e.ends_at for e in made.placed]
        return (max(ends) - min(starts)).total_seconds() / 60

    def test_there_is_a_rest_after_as_much_as_may_be(self) -> None:
        self.assertEqual(self.took(self.plan((40, 40, 40), None)), 120)
        self.assertEqual(self.took(self.plan((40, 40, 40))), 150)
        self.assertEqual(self.took(self.plan((20, 20, 20))), 75)
        self.assertEqual(self.took(self.plan((40, 40), fine=False)), 80)

    def test_long_work_has_its_rests_inside(self) -> None:
        plan = self.plan((100,))
        agenda = Agenda(plan)
        made = make(agenda, seconds=5).schedule
        self.assertEqual(made.placed[0].ends_at - made.placed[0].starts_at, timedelta(minutes=130))
        lines = next(s.lines for s in view(agenda, made, None, []).sittings if s.lines)
        self.assertEqual([(x.step, x.rests) for x in lines], [("marks0", 2)])

    def test_what_is_put_into_sittings_without_a_search_has_its_rests_too(self) -> None:
        first = first_schedule(Agenda(self.plan((40, 40))))
        self.assertEqual(first.starts["marks1"] - first.ends["marks0"], 15)
        # After 100 minutes with their rests ten have passed since the last one: 30 more may follow at once, 40 may not.
        for minutes, gap in ((30, 0), (40, 15)):
            first = first_schedule(Agenda(self.plan((100, minutes))))
            self.assertEqual(first.starts["marks1"] - first.ends["marks0"], gap, minutes)

    def test_rests_are_shown_where_nothing_else_fills_them(self) -> None:
        agenda = Agenda(self.plan((40, 40)))
        made = make(agenda, seconds=5).schedule
        lines = next(s.lines for s in view(agenda, made, None, []).sittings if s.lines)
        self.assertEqual([(x.rest, x.end_min - x.start_min) for x in lines], [(False, 40), (True, 15), (False, 40)])
        free = Agenda(self.plan((40, 40), None))
        shown = view(free, make(free, seconds=5).schedule, None, []).sittings
        self.assertFalse([x for s in shown for x in s.lines if x.rest])

    def test_what_is_fine_work(self) -> None:
        def fine(**more: Any) -> bool:
            return is_fine(K, parse_step(coat("x", more.pop("material", "waterborne_colour"), **more)))

        self.assertTrue(fine(method="brush", coverage=0.02))
        self.assertTrue(fine(material="decal"))
        self.assertTrue(fine(material="enamel_wash", method="wash", place="fasteners"))
        self.assertFalse(fine(material="enamel_wash", method="wash"))
        self.assertFalse(fine())
        self.assertFalse(fine(method="brush", coverage=0.9))
        self.assertFalse(fine(material="decal", fine=False))
        self.assertTrue(fine(fine=True))

    def test_senseless_limits_are_refused_by_name(self) -> None:
        for more, name in (({"fine_at_most_min": 0}, "fine work in a row"), ({"rest_min": 9000}, "a rest")):
            with self.assertRaisesRegex(PlanError, name):
                two_coats(**more)


class WhatIsKept(TestCase):
    def test_a_checked_schedule_is_not_thrown_away_when_tightening_runs_out_of_time(self) -> None:
        agenda, calls = Agenda(two_coats()), []
        from emvar_core.schedule import solve as solving

        real = solving.solve

        def solve(*args: Any, **more: Any) -> Any:
            calls.append(1)
            if len(calls) > 1:
                raise Unsolvable(known=False)
            return real(*args, **more)

        loose = Link("primer", "colour", ("side",), What.SEAM, NOTHING_ASKED)
        with (
            mock.patch.object(solving, "solve", solve),
            mock.patch.object(scheduling, "_tightened", lambda *_: {loose: NOTHING_ASKED}),
        ):
            planned_ = make(agenda, seconds=5)
        self.assertEqual(len(calls), 2)
        self.assertEqual(planned_.schedule.made_by, "search")
        self.assertEqual({e.step for e in planned_.schedule.placed}, {"primer", "colour"})

    def test_what_a_schedule_leaves_open_is_told(self) -> None:
        agenda = Agenda(two_coats())
        made = make(agenda, seconds=5)
        self.assertEqual(open_seams(agenda, made.assessment), ())
        seam = next(iter(made.assessment.seams.values()))
        upper = made.assessment.times["colour"].start_min
        late = seam.model_copy(
            update={
                "verdict": Verdict.WAIT,
                "upper_step": "colour",
                "lower_step": "primer",
                "opens_careful_min": upper + 600,
            }
        )
        told = open_seams(agenda, Assessment.model_construct(seams={"x": late}, times=made.assessment.times))
        self.assertIn("10.0 h too early", told[0].words)


class ADrag(TestCase):
    def test_a_step_is_never_put_before_what_it_lies_on(self) -> None:
        agenda = Agenda(two_coats())
        made = make(agenda, seconds=5).schedule
        primer = next(e for e in made.placed if e.step == "primer")
        moved = move(agenda, made, "colour", 0.0)
        colour = next(e for e in moved.schedule.placed if e.step == "colour")
        self.assertGreaterEqual(colour.starts_at, primer.ends_at)
        self.assertIn("cannot come before", " ".join(moved.said))


ICS = b"""BEGIN:VCALENDAR
VERSION:2.0
PRODID:-//test//EN
%s
END:VCALENDAR
"""


def event(*lines: str) -> bytes:
    body = "\n".join(("BEGIN:VEVENT", "UID:a", "DTSTAMP:20260101T000000Z", *lines, "END:VEVENT"))
    return (ICS % body.encode()).replace(b"\n", b"\r\n")


NEW_YORK = ZoneInfo("America/New_York")


class CalendarsReadIn(TestCase):
    SINCE = datetime(1997, 8, 1, tzinfo=UTC)

    def days(self, rule: str, start: str = "19970902T090000") -> list[str]:
        body = event(f"DTSTART;TZID=America/New_York:{start}", "DURATION:PT1H", f"RRULE:{rule}")
        return [f"{b.start.astimezone(NEW_YORK):%m-%d %H:%M}" for b in busy_of(body, LISBON, self.SINCE)]

    def test_the_examples_of_the_standard(self) -> None:
        # RFC 5545, 3.8.5.3: the dates stand there.
        self.assertEqual(self.days("FREQ=DAILY;COUNT=10"), [f"09-{d:02} 09:00" for d in range(2, 12)])
        weekly = self.days("FREQ=WEEKLY;UNTIL=19971007T000000Z;WKST=SU;BYDAY=TU,TH")
        dates = ["09-02", "09-04", "09-09", "09-11", "09-16", "09-18", "09-23", "09-25", "09-30", "10-02"]
        self.assertEqual(weekly, [f"{d} 09:00" for d in dates])
        fortnight = self.days("FREQ=WEEKLY;INTERVAL=2;UNTIL=19971224T000000Z;WKST=SU;BYDAY=MO,WE,FR", "19970901T090000")
        self.assertEqual(fortnight[:7], [f"{d} 09:00" for d in
                         ("09-01", "09-03", "09-05", "09-15", "09-17", "09-19", "09-29")])  # fmt: skip
        self.assertEqual(fortnight[-1], "12-22 09:00")
        # Nine in the morning stays nine when summer time ends, on 26 October 1997.
        self.assertEqual(self.days("FREQ=DAILY;COUNT=60")[-1], "10-31 09:00")

    def test_what_takes_no_time_is_left_out(self) -> None:
        now = datetime(2026, 3, 1, tzinfo=UTC)
        at = ("DTSTART:20260302T190000Z", "DTEND:20260302T200000Z")
        self.assertEqual(len(busy_of(event(*at), LISBON, now)), 1)
        for more in ("TRANSP:TRANSPARENT", "STATUS:CANCELLED"):
            self.assertEqual(busy_of(event(*at, more), LISBON, now), [], more)
        self.assertEqual(busy_of(event("DTSTART;VALUE=DATE:20260302"), LISBON, now), [])
        self.assertEqual(busy_of(event("DTSTART:20200302T190000Z", "DTEND:20200302T200000Z"), LISBON, now), [])
        self.assertEqual(busy_of(event("DTSTART:20260302T190000Z", "DTEND:20260302T180000Z"), LISBON, now), [])

    def test_what_was_moved_or_dropped_of_a_row_is_where_it_is(self) -> None:
        row = "\n".join((
            "BEGIN:VEVENT", "UID:a", "DTSTART:20260302T190000Z", "DTEND:20260302T200000Z", "RRULE:FREQ=DAILY;COUNT=4",
            "EXDATE:20260303T190000Z", "END:VEVENT",
            "BEGIN:VEVENT", "UID:a", "RECURRENCE-ID:20260304T190000Z", "DTSTART:20260304T210000Z",
            "DTEND:20260304T220000Z", "END:VEVENT",
        ))  # fmt: skip
        found = busy_of((ICS % row.encode()).replace(b"\n", b"\r\n"), LISBON, datetime(2026, 3, 1, tzinfo=UTC))
        self.assertEqual([f"{b.start:%d %H}" for b in found], ["02 19", "04 21", "05 19"])

    def test_bad_files_are_refused_in_words(self) -> None:
        now = datetime(2026, 3, 1, tzinfo=UTC)
        for body in (b"", b"porridge", b"\xff\xfe\x00", b"BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\n", b"x" * 6_000_000):
            try:
                found = busy_of(body, LISBON, now)
            except OutOfRange as told:
                self.assertIn("calendar", str(told))
            else:
                self.assertEqual(found, [], body[:30])
        many = event("DTSTART:20260302T000000Z", "DURATION:PT1M", "RRULE:FREQ=HOURLY")
        with self.assertRaisesRegex(OutOfRange, "busy times"):
            busy_of(many, LISBON, now)
        hostile = event("DTSTART:20260302T190000Z", "DTEND:20260302T200000Z", "SUMMARY:<script>\\u202e\x07 x")
        self.assertTrue(all(b.why for b in busy_of(hostile, LISBON, now)))

    def test_our_own_calendar_keeps_its_identities_and_takes_nothing_when_it_is_read(self) -> None:
        agenda, made = planned()
        files = [calendar_out.calendar("tug", agenda, made.schedule, datetime(2026, 1, n, tzinfo=UTC)) for n in (1, 2)]
        uids = [sorted(line for line in f.decode().split("\r\n") if line.startswith("UID:")) for f in files]
        self.assertEqual(uids[0], uids[1])
        self.assertEqual(len(set(uids[0])), len(uids[0]))
        whole = files[0].decode().replace("\r\n ", "")
        self.assertTrue(calendar_out.closings(agenda, made.schedule))
        for c in calendar_out.closings(
            agenda, made.schedule
        ):  # called by what it is of, not by where it stands in the list
            self.assertIn(f"UID:tug-{c.step}-{c.below}-{c.what}-closes@emvar", whole)
        fewer = Schedule.model_validate(
            made.schedule.model_dump() | {"placed": [e.model_dump() for e in made.schedule.placed][6:]}
        )
        left = calendar_out.calendar("tug", agenda, fewer, datetime(2026, 1, 3, tzinfo=UTC)).decode()
        kept = {line for line in left.split("\r\n") if line.startswith("UID:")}
        self.assertTrue(kept <= set(uids[0]))  # what is left is called as before, however many went
        self.assertEqual(busy_of(files[0], LISBON, agenda.plan.build.starts_at), [])


class Limits(TestCase):
    def test_hours_read_in_are_still_sittings(self) -> None:
        start = datetime(2026, 3, 2, tzinfo=UTC)
        h = Hours.model_validate(evenings("mon") | {"busy": [
            {"start": "2026-03-02T19:00:00Z", "end": "2026-03-02T20:00:00Z", "why": "choir"}]})  # fmt: skip
        ids = [s.id for s in sittings(h, LISBON, start, start + timedelta(days=1))]
        self.assertEqual(ids, ["2026-03-02T20:00"])


def fitting(step_id: str, action: str, wait: float, **more: Any) -> dict[str, Any]:
    return {"kind": "fitting", "id": step_id, "name": step_id, "action": action, "wait_min": wait, **more}


class Neighbours(TestCase):
    """Zones of one part: what drifts, and what is held."""

    def plan(self, steps: list[dict[str, Any]], part: str | None = "Hull", **more: Any) -> Plan:
        data = plan_json(steps, zones=["low", "high"], **more)
        for zone in data["zones"]:
            if part:
                zone["part"] = part
        return parse_plan(data)

    def said(self, plan: Plan) -> set[str]:
        return {r.word for r in assess(plan).remarks}

    def test_gloss_sprayed_beside_loose_powder_is_told_on_one_part_only(self) -> None:
        steps = [
            coat("dust", "dry_pigment", zones=["low"]),
            coat("gloss", "alcohol_acrylic_clear", 60, zones=["high"], sheen="gloss"),
        ]
        self.assertIn("drifts onto powder", self.said(self.plan(steps)))
        self.assertNotIn("drifts onto powder", self.said(self.plan(steps, part=None)))
        brushed = [steps[0], {**steps[1], "method": "brush"}]
        self.assertNotIn("drifts onto powder", self.said(self.plan(brushed)))
        mask = fitting("mask", "mask", 10, material="low_tack_tape", zones=["low"])
        self.assertNotIn("drifts onto powder", self.said(self.plan([steps[0], mask, steps[1]])))
        sealed = [steps[0], coat("fix", "pigment_fixer", 30, zones=["low"]), steps[1]]
        self.assertNotIn("drifts onto powder", self.said(self.plan(sealed)))

    def test_wet_enamel_is_not_held_by_its_neighbour(self) -> None:
        steps = [
            coat("enamel", "enamel_colour", zones=["low"]),
            fitting("mask", "mask", 60, material="low_tack_tape", zones=["high"]),
        ]
        self.assertIn("held by a soft coat", self.said(self.plan(steps)))
        self.assertNotIn("held by a soft coat", self.said(self.plan(steps, part=None)))

    def test_the_schedule_waits_until_the_neighbour_can_be_held(self) -> None:
        steps = [
            coat("enamel", "enamel_colour", zones=["low"], hands_on_min=20),
            fitting("mask", "mask", 0, material="low_tack_tape", zones=["high"], hands_on_min=20),
        ]

        def gap(part: str | None) -> float:
            # The mask comes after the enamel in the plan, but in another zone: only the part ties them.
            made = make(Agenda(self.plan(steps, part, hours=hours())), seconds=5).schedule
            by = {e.step: e for e in made.placed}
            return (by["mask"].starts_at - by["enamel"].ends_at).total_seconds() / 3600

        self.assertGreater(gap("Hull"), 24)  # enamel bears a hand after days (common practice)
        self.assertLess(gap(None), 24)
