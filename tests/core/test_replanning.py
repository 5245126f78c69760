"""When life gets in the way: windows that close in the dark, missed sittings, drags, and what would help."""

from datetime import timedelta
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import NotThere
from emvar_core.plan import Hours, Record, apply, at, parse_edits, sittings
from emvar_core.plan.documents import Happened, State
from emvar_core.schedule.agenda import Agenda, times_of
from emvar_core.schedule.changes import changes
from emvar_core.schedule.drag import agenda_of, move
from emvar_core.schedule.schedule import make
from emvar_core.schedule.view import view
from emvar_core.schedule.what_if import without
from emvar_core.vocabulary import Weekday

from tests.core.agendas import SECONDS, evenings, mended, minutes, planned, wash_plan


class WashOnSundayNight(TestCase):
    """A wash opened on Sunday night with the next sitting on Thursday is caught, and mended."""

    def setUp(self) -> None:
        hours = {
            "weekly": [
                {"days": ["thu"], "start": "19:30", "length_min": 120},
                {"days": ["sun"], "start": "19:00", "length_min": 180},
            ]
        }
        self.plan = wash_plan(hours=hours)
        month = sittings(self.plan.hours or Hours(), self.plan.build.tz, at(self.plan, 0), at(self.plan, 30 * 1440))
        self.sunday = [s for s in month if s.start.weekday() == 6][1]

    def done(self, wash: bool) -> Record:
        early = at(self.plan, 0)
        entries = [Happened(step="gloss", zone="side", state=State.DONE, starts_at=early, ends_at=early + minutes(20))]
        if wash:
            end = self.sunday.end
            entries.append(
                Happened(step="wash", zone="side", state=State.DONE, starts_at=end - minutes(30), ends_at=end)
            )
        return Record(entries=entries)

    def test_planned_freely_it_is_wiped_in_the_same_sitting(self) -> None:
        found = make(Agenda(self.plan, self.done(False)))
        times = found.assessment.times
        self.assertTrue(found.fits)
        self.assertLess(times["wipe"].start_min - times["wash"].end_min, 120)

    def test_once_it_is_on_the_window_that_closes_is_told_with_the_next_sitting(self) -> None:
        agenda = Agenda(self.plan, self.done(True))
        found = make(agenda)
        self.assertEqual([(u.below, u.step) for u in found.unfit], [("wash", "wipe")])
        self.assertIn("Thu", found.unfit[0].words)
        self.assertGreater(found.unfit[0].next_min or 0, found.unfit[0].closes_min)

    def test_an_extra_sitting_before_it_closes_mends_it_and_is_tried_first(self) -> None:
        agenda = Agenda(self.plan, self.done(True))
        offered = changes(agenda, make(agenda))
        self.assertTrue(offered)
        for change in offered:
            with self.subTest(change.title):
                self.assertTrue(change.fits)
                changed, _ = apply(self.plan, parse_edits(change.edits))
                told = assess(changed, schedule=change.schedule, record=self.done(True))
                self.assertEqual(told.score.missed, 0)

    def test_a_window_that_closes_a_day_before_the_next_sitting_has_no_absurd_offer(self) -> None:
        for gap in ("mon", "tue", "wed"):
            hours = evenings("sun", gap, start="20:00", length=180)
            agenda = Agenda(wash_plan(hours=hours), self.done(True))
            for change in changes(agenda, make(agenda)):
                self.assertLessEqual(change.extra_min, 300, change.title)

    def test_pinned_there_but_not_yet_done_it_may_also_move(self) -> None:
        start = (self.sunday.end - self.plan.build.starts_at) / timedelta(minutes=1) - 30
        agenda = Agenda(self.plan, self.done(False), {"wash": start})
        found = make(agenda)
        self.assertFalse(found.fits)
        best = changes(agenda, found)[0]
        self.assertEqual((best.extra_min, best.unpin), (0, ["wash"]))
        there = next(e.starts_at for e in best.schedule.placed if e.step == "wash")
        self.assertEqual(best.title, f"Move “Pin wash” to {there:%A} {there.day} {there:%b, %H:%M}")
        self.assertNotEqual(there, self.sunday.end - timedelta(minutes=30))


class Replanning(TestCase):
    def record(self, upto: str) -> Record:
        agenda, found = planned()
        times = times_of(agenda, found.schedule)
        entries: list[Happened] = []
        limit = times[upto].start_min
        for e in found.schedule.placed:
            if times[e.step].start_min <= limit:
                done = Happened(step=e.step, zone=e.zone, state=State.DONE, starts_at=e.starts_at, ends_at=e.ends_at)
                entries.append(done)
        return Record(entries=entries)

    def test_what_is_done_stays_where_it_was(self) -> None:
        record = self.record("gloss")
        agenda = Agenda(mended(), record)
        found = make(agenda, seconds=SECONDS)
        times = record.times(mended())
        self.assertTrue(found.fits)
        for step, t in times.items():
            self.assertAlmostEqual(found.assessment.times[step].end_min, t.end_min, places=3)
        self.assertTrue(all(e.step not in times for e in found.schedule.placed))
        self.assertTrue(
            all(t.start_min >= agenda.since - 1e-6 for s, t in found.assessment.times.items() if s not in times)
        )

    def test_a_missed_sitting_is_not_planned_into_and_the_finish_does_not_come_sooner(self) -> None:
        agenda, before = planned()
        record = self.record("gloss")
        now = next(b for a, b in agenda.stretches if a > Agenda(mended(), record).since)
        missed = Record(entries=record.entries, now_at=at(mended(), now))
        found = make(Agenda(mended(), missed), seconds=SECONDS)
        self.assertTrue(
            all((e.starts_at - mended().build.starts_at) / timedelta(minutes=1) >= now for e in found.schedule.placed)
        )
        was = max(t.end_min for t in before.assessment.times.values())
        self.assertGreaterEqual(max(t.end_min for t in found.assessment.times.values()), was)

    def test_what_is_skipped_is_left_out_with_what_works_on_it(self) -> None:
        zones = mended().step("streaks").zones  # type: ignore[union-attr]
        when = at(mended(), 0)
        entries = [Happened(step="streaks", zone=z, state=State.SKIPPED, starts_at=when, ends_at=when) for z in zones]
        found = make(Agenda(mended(), Record(entries=entries)), seconds=SECONDS)
        self.assertFalse({"streaks", "drag"} & {e.step for e in found.schedule.placed})
        self.assertFalse({"streaks", "drag"} & set(found.assessment.times))

    def test_what_failed_is_done_again_after_it_is_off(self) -> None:
        record = self.record("red-oxide")
        start = record.times(mended())["red-oxide"].end_min
        off = at(mended(), start + 3000)
        failed = Happened(step="red-oxide", zone="hull", state=State.FAILED, starts_at=at(mended(), start), ends_at=off)
        agenda = Agenda(mended(), Record(entries=[*record.entries, failed]))
        found = make(agenda, seconds=SECONDS)
        self.assertGreaterEqual(found.assessment.times["red-oxide"].start_min, start + 3000)

    def test_what_moved_is_shown_against_before(self) -> None:
        agenda, before = planned()
        record = self.record("gloss")
        now = next(b for a, b in agenda.stretches if a > Agenda(mended(), record).since)
        again = Agenda(mended(), Record(entries=record.entries, now_at=at(mended(), now)))
        found = make(again, seconds=SECONDS)
        shown = view(again, found.schedule, before.schedule, [])
        self.assertTrue(shown.moved)
        self.assertTrue(all(m.before_min != m.after_min for m in shown.moved))
        self.assertFalse({m.step for m in shown.moved} & set(record.times(mended())))


class Drags(TestCase):
    def test_a_drag_that_breaks_a_window_says_which(self) -> None:
        agenda, found = planned()
        times = times_of(agenda, found.schedule)
        end = next(b for a, b in agenda.stretches if a <= times["streaks"].start_min < b)
        told = move(agenda, found.schedule, "streaks", end - 40)
        self.assertEqual([(u.below, u.step) for u in told.unfit], [("streaks", "drag")])
        self.assertGreater(told.score.missed, 0)
        self.assertIn("streaks", told.schedule.pins)

    def test_a_drag_takes_along_what_works_on_the_coat_and_breaks_nothing_where_there_is_room(self) -> None:
        agenda, found = planned()
        start = times_of(agenda, found.schedule)["streaks"].start_min
        told = move(agenda, found.schedule, "streaks", start + 10)
        far = {m.step for m in told.moved if abs(m.after_min - m.before_min) > 5}  # the rest shifts within its window
        self.assertEqual(far, {"streaks", "drag"})
        self.assertEqual((told.unfit, told.said, told.score.missed), ([], [], 0))

    def test_a_drag_outside_every_sitting_or_below_its_coat_is_told(self) -> None:
        agenda, found = planned()
        times = times_of(agenda, found.schedule)
        outside = move(agenda, found.schedule, "gloss", times["gloss"].end_min + 600).said
        self.assertTrue(any("outside your sittings" in s for s in outside), outside)
        early = move(agenda, found.schedule, "gloss", times["red-oxide"].start_min - 60).said
        self.assertTrue(any("before" in s for s in early), early)

    def test_other_hours_are_played_on_the_same_order(self) -> None:
        agenda, found = planned()
        plan = mended().model_copy(update={"hours": without(agenda.hours, Weekday.THU)})
        told = move(agenda_of(plan, found.schedule, None), found.schedule)
        self.assertGreaterEqual(told.finish_min, told.finish_before_min)
        self.assertEqual(told.schedule.pins, [])

    def test_what_is_not_there_cannot_be_dragged(self) -> None:
        agenda, found = planned()
        with self.assertRaises(NotThere):
            move(agenda, found.schedule, "no-such-step", 0)
