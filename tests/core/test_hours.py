"""The calendar: weekly sittings, single dates, days off, holidays, and the clock changes of a real time zone."""

from datetime import UTC, date, datetime, timedelta
from unittest import TestCase
from zoneinfo import ZoneInfo

from emvar_core.errors import PlanError
from emvar_core.plan import Hours, Sitting, apply, parse_edits, sittings
from emvar_core.plan.hours import Dated, Off, Weekly, instant
from emvar_core.vocabulary import Weekday
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from tests.builders import tug

LISBON, BERLIN, LORD_HOWE = (ZoneInfo(n) for n in ("Europe/Lisbon", "Europe/Berlin", "Australia/Lord_Howe"))


def every(*days: str, start: str = "19:00", length: int = 120) -> Weekly:
    return Weekly(days=[Weekday(d) for d in days], start=start, length_min=length)


def between(hours: Hours, first: str, last: str, tz: ZoneInfo = LISBON) -> list[Sitting]:
    a, b = (datetime.fromisoformat(x).replace(tzinfo=tz) for x in (first, last))
    return sittings(hours, tz, a, b)


def starts(found: list[Sitting], tz: ZoneInfo = LISBON) -> list[str]:
    return [f"{s.start.astimezone(tz):%a %d %H:%M}" for s in found]


class Weeks(TestCase):
    def test_a_week_of_sittings(self) -> None:
        found = between(Hours(weekly=[every("tue", "thu")]), "2026-03-02", "2026-03-09")
        self.assertEqual(starts(found), ["Tue 03 19:00", "Thu 05 19:00"])

    def test_a_single_date_adds_or_replaces(self) -> None:
        hours = Hours(
            weekly=[every("tue")],
            dates=[
                Dated(date=date(2026, 3, 3), start="19:00", length_min=30),
                Dated(date=date(2026, 3, 4), start="08:00", length_min=45),
            ],
        )
        found = between(hours, "2026-03-02", "2026-03-09")
        self.assertEqual([s.minutes for s in found], [30, 45])

    def test_days_off_and_cancelled_sittings_do_not_take_place_but_single_dates_do(self) -> None:
        hours = Hours(
            weekly=[every("mon", "tue", "wed")],
            off=[Off(first=date(2026, 3, 3), last=date(2026, 3, 4))],
            cancelled=["2026-03-09T19:00"],
            dates=[Dated(date=date(2026, 3, 4), start="21:00", length_min=60)],
        )
        found = between(hours, "2026-03-02", "2026-03-12")
        self.assertEqual(starts(found), ["Mon 02 19:00", "Wed 04 21:00", "Tue 10 19:00", "Wed 11 19:00"])

    def test_overlapping_sittings_are_one(self) -> None:
        hours = Hours(weekly=[every("mon", start="19:00"), every("mon", start="20:30", length=60)])
        found = between(hours, "2026-03-02", "2026-03-03")
        self.assertEqual([(s.minutes, s.id) for s in found], [(150, "2026-03-02T19:00")])

    def test_a_sitting_past_midnight_belongs_to_the_day_it_starts_on(self) -> None:
        found = between(Hours(weekly=[every("sat", start="23:00", length=180)]), "2026-03-08", "2026-03-09")
        self.assertEqual(starts(found), ["Sat 07 23:00"], "it is still on when Sunday begins")

    def test_public_holidays_are_days_off_or_like_another_day(self) -> None:
        weekly = [every("tue"), every("sun", start="10:00", length=180)]
        self.assertEqual(between(Hours(weekly=weekly, holidays="PT"), "2026-12-07", "2026-12-10"), [])
        found = between(Hours(weekly=weekly, holidays="PT", holidays_as=Weekday.SUN), "2026-12-07", "2026-12-10")
        self.assertEqual(starts(found), ["Tue 08 10:00"])

    def test_too_long_a_look_is_refused(self) -> None:
        with self.assertRaises(ValueError):
            between(Hours(), "2026-01-01", "2029-01-01")

    @given(st.dates(date(2020, 1, 1), date(2035, 1, 1)), st.integers(5, 1440), st.sampled_from([LISBON, LORD_HOWE]))
    def test_sittings_are_in_order_apart_and_of_their_length(self, first: date, length: int, tz: ZoneInfo) -> None:
        hours = Hours(weekly=[every("mon", "wed", "sat", length=length), every("sun", start="02:15", length=90)])
        since = datetime(first.year, first.month, first.day, tzinfo=tz)
        found = sittings(hours, tz, since, since + timedelta(days=40))
        for a, b in zip(found, found[1:], strict=False):
            self.assertLess(a.end, b.start)
        self.assertTrue(all(s.minutes >= min(length, 90) for s in found))


class ClockChange(TestCase):
    """European rules: on the last Sunday of March 01:00 UTC the clock goes on, in October 01:00 UTC it goes back."""

    def test_a_skipped_start_is_moved_on_by_the_gap(self) -> None:
        self.assertEqual(instant(date(2026, 3, 29), "02:30", BERLIN), datetime(2026, 3, 29, 1, 30, tzinfo=UTC))
        self.assertEqual(f"{instant(date(2026, 3, 29), '02:30', BERLIN).astimezone(BERLIN):%H:%M}", "03:30")

    def test_a_start_that_is_shown_twice_is_the_first(self) -> None:
        self.assertEqual(instant(date(2026, 10, 25), "02:30", BERLIN), datetime(2026, 10, 25, 0, 30, tzinfo=UTC))

    def test_a_sitting_over_the_change_keeps_its_length(self) -> None:
        hours = Hours(weekly=[every("sun", start="00:30", length=180)])
        spring = between(hours, "2026-03-29T00:00", "2026-03-30T00:00", BERLIN)[0]
        autumn = between(hours, "2026-10-25T00:00", "2026-10-26T00:00", BERLIN)[0]
        self.assertEqual((spring.minutes, autumn.minutes), (180, 180))
        self.assertEqual(f"{spring.end.astimezone(BERLIN):%H:%M}", "04:30")
        self.assertEqual(f"{autumn.end.astimezone(BERLIN):%H:%M}", "02:30")

    def test_evenings_stay_at_the_same_wall_time_across_the_change(self) -> None:
        found = between(Hours(weekly=[every("sat", "sun", "mon")]), "2026-10-24", "2026-10-27", BERLIN)
        self.assertEqual([f"{s.start.astimezone(BERLIN):%H:%M}" for s in found], ["19:00"] * 3)
        gaps = [(b.start - a.start) / timedelta(hours=1) for a, b in zip(found, found[1:], strict=False)]
        self.assertEqual(gaps, [25, 24])

    def test_a_change_of_half_an_hour_is_a_change(self) -> None:
        found = between(Hours(weekly=[every("sat", "sun")]), "2026-04-04", "2026-04-06", LORD_HOWE)
        self.assertEqual((found[1].start - found[0].start) / timedelta(hours=1), 24.5)


class Refusals(TestCase):
    def test_wrong_hours_are_refused_by_field(self) -> None:
        for data, where in (
            ({"weekly": [{"days": ["someday"], "start": "19:00", "length_min": 60}]}, "days"),
            ({"weekly": [{"days": ["mon"], "start": "25:00", "length_min": 60}]}, "start"),
            ({"weekly": [{"days": ["mon"], "start": "19:00", "length_min": 9999}]}, "length_min"),
            ({"holidays": "XX"}, "holidays"),
            ({"goals": ["finish", "finish"]}, "goals"),
            ({"off": [{"first": "2026-03-02", "last": "2026-03-01"}]}, "off"),
            ({"cancelled": ["tomorrow"]}, "cancelled"),
            ({"length": 3}, "length"),
        ):
            with self.subTest(where=where), self.assertRaises(PlanError) as refused:
                apply(tug(), parse_edits([{"edit": "set_hours", "hours": data}]))
            self.assertIn(where, refused.exception.problems[0].where)

    def test_hours_are_an_edit_with_an_exact_inverse(self) -> None:
        plan = tug()
        hours = Hours(weekly=[every("mon")]).model_dump(mode="json")
        changed, back = apply(plan, parse_edits([{"edit": "set_hours", "hours": hours}]))
        self.assertNotEqual(changed.hours, plan.hours)
        self.assertEqual(apply(changed, back)[0], plan)

    def test_a_negative_patience_is_refused(self) -> None:
        with self.assertRaises(ValidationError):
            Hours(patience_h=-1)
