"""The pack and its timers: what a device needs to go on by itself says the same as the judgement it comes from."""

from datetime import timedelta
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.at_the_bench.journal import Entry, Said, hands_on_min, record_of, standing
from emvar_core.at_the_bench.pack import pack
from emvar_core.at_the_bench.timers import timers
from emvar_core.memory import MEMORY, forget
from emvar_core.mix_and_spray.card import card
from emvar_core.plan import Record, as_placed, parse_plan
from emvar_core.plan.documents import Happened, State
from emvar_core.schedule.agenda import Agenda

from tests.builders import coat, plan_json, tug

PLAN = tug()
START = PLAN.build.starts_at
PACK = pack(PLAN, None, Record())


def entry(n: int, said: str, minute: float, step: str = "primer", **more: object) -> Entry:
    at = START + timedelta(minutes=minute)
    zones = list(PLAN.step(step).zones)
    return Entry(id=f"entry-{n:04}", said=said, at=at, written_at=at, step=step, zones=zones, **more)


def done(step: str, minute: float) -> Record:
    return record_of(PLAN, [entry(1, "done", minute, step)])


def taken_off(made: dict[str, Any]) -> list[list[dict[str, Any]]]:
    """What takes each coat of a plan off, by its age."""
    return [[t.model_dump() for t in s.takes_off] for s in pack(parse_plan(made), None, Record()).steps]


TAKES_OFF = next(d for d in MEMORY.doors if d.name == "what takes a coat off, by its age")


class Packs(TestCase):
    def test_figures_are_those_of_the_card(self) -> None:
        for step in PACK.steps[:6]:
            if step.kind != "coat":
                continue
            point = card(PLAN, step.id).point
            told = {f.kind: f.value for f in step.figures}
            if point is not None:
                self.assertEqual((told["kpa"], told["mm"]), (point.pressure_kpa, point.distance_mm))

    def test_no_more_than_three_figures_and_each_step_has_one(self) -> None:
        for step in PACK.steps:
            self.assertTrue(1 <= len(step.figures) <= 3, step.id)

    def test_what_takes_it_off_gets_no_easier_with_age(self) -> None:
        order = {"clean": 0, "care": 1, "none": 2}
        for step in PACK.steps[:12]:
            if "ochre" in str(step.takes_off) or "abrasive" in str(step.takes_off):
                continue  # what lies below hardens too, and what is hard can be sanded: there it gets easier at first
            ranks = [order[t.state] for t in step.takes_off if t.state in order]
            self.assertEqual(ranks, sorted(ranks), step.id)

    def test_what_takes_it_off_is_asked_anew_for_another_hour_name_film_or_base(self) -> None:
        """And not for the same coats seven minutes later in steady air."""
        primer, colour = coat("a", "lacquer_primer", 30), coat("b", "waterborne_colour", 600)
        air = {"day": {"temp_c": 20, "rh_pct": 50}, "night": {"temp_c": 8, "rh_pct": 75}, "night_from": "23:00"}
        asked = [
            plan_json([primer, colour], air=air),
            plan_json([primer | {"name": "Undercoat"}, colour], air=air),
            plan_json([primer, colour | {"dry_film_um": 60}], air=air),
            plan_json([primer, colour], air=air, build={"base_material": "resin"}),
            plan_json([colour], air=air),
            plan_json([colour | {"wait_min": 750}], air=air),  # it dries in the night
        ]
        cold = []
        for made in asked:
            forget()
            cold.append(taken_off(made))
        self.assertEqual([taken_off(made) for made in asked], cold)
        steady = plan_json([primer, colour])
        later = plan_json([primer | {"wait_min": 37}, colour])
        first, known = taken_off(steady), len(TAKES_OFF)
        self.assertEqual((taken_off(later), len(TAKES_OFF)), (first, known))

    def test_a_timer_opens_when_the_seam_is_sound(self) -> None:
        """The wash over the gloss clear: the timer's careful edge is the first time at which no seam of it waits."""
        agenda = Agenda(PLAN, Record())
        told = {t.id: t for t in timers(agenda, assess(PLAN, opens=False))}
        wait = told["primer~hull-green"].opens[2]
        for minute, sound in ((wait - 10, False), (wait + 3, True)):
            steps = [s if s.id != "hull-green" else s.model_copy(update={"wait_min": minute}) for s in PLAN.steps]
            seams = assess(PLAN.model_copy(update={"steps": steps})).seams
            self.assertEqual(seams["hull-green~topsides~primer"].verdict.value == "sound", sound, minute)

    def test_a_timer_shows_the_stretch_that_its_step_is_planned_in_and_what_comes_after(self) -> None:
        """Enamel takes its own next coat within an hour or two, or after days, never between."""
        told = []
        for wait in (30, 9 * 1440):
            steps = [coat("a", "enamel_colour", hands_on_min=20), coat("b", "enamel_colour", wait, hands_on_min=20)]
            made = parse_plan(plan_json(steps))
            told.append(next(t for t in timers(Agenda(made), assess(made)) if t.id == "a~b"))
        early, late = told
        self.assertLess(early.closes[0] or 0, 4 * 60)
        self.assertEqual([s.opens for s in early.again], [late.opens])
        self.assertGreater(late.opens[0], 24 * 60)
        self.assertEqual((late.again, late.closes), ([], [None, None, None]))
        drying = {e: r for c in assess(made).coats.values() if c.step_id == "a" for e, r in c.events.items()}
        same = drying["same"]  # what the event says and what the seam says are one thing
        self.assertAlmostEqual(late.opens[1], (same.best or 0) - 20, delta=15)
        self.assertAlmostEqual(late.opens[2], (same.late or 0) - 20, delta=15)

    def test_edges_run_from_hopeful_to_careful_and_back(self) -> None:
        for t in PACK.timers:
            self.assertEqual(t.opens, sorted(t.opens), t.id)
            closes = [c for c in t.closes if c is not None]
            self.assertEqual(closes, sorted(closes), t.id)

    def test_what_is_done_lies_behind_and_nothing_that_is_left_lies_in_the_past(self) -> None:
        record = done("primer", 50)
        late = record.model_copy(update={"now_at": START + timedelta(days=3)})
        placed = as_placed(PLAN, None, late)
        starts = {s.step_id: s.start_min for s in assess(placed, opens=False).coats.values()}
        self.assertLess(starts["primer"], 50)
        self.assertTrue(all(m >= 3 * 1440 for step, m in starts.items() if step != "primer"))


class Journals(TestCase):
    def test_hands_on_leaves_pauses_out(self) -> None:
        said = [entry(1, "begun", 0), entry(2, "paused", 10), entry(3, "resumed", 40), entry(4, "done", 55)]
        self.assertEqual(hands_on_min(said, "primer"), 25)
        self.assertIsNone(hands_on_min(said[:3], "primer"))

    def test_a_correction_takes_the_place_of_what_it_corrects(self) -> None:
        first = entry(1, "done", 50)
        second = entry(2, "done", 60, corrects=first.id)
        self.assertEqual([e.id for e in standing([second, first])], [second.id])

    def test_what_is_not_ready_starts_no_earlier_than_it_is_looked_at_again(self) -> None:
        record = record_of(PLAN, [entry(1, "done", 50), entry(2, "not_ready", 100, "hull-green", wait_min=9000)])
        self.assertEqual(record.states(), {"primer": State.DONE})
        start = assess(as_placed(PLAN, None, record), opens=False).coats["hull-green~topsides"].start_min
        self.assertEqual(start, 9100)  # later than the plan has it anyhow

    def test_what_the_plan_no_longer_has_is_passed_over(self) -> None:
        gone = entry(1, "done", 50).model_copy(update={"step": "no-such-step"})
        self.assertEqual(record_of(PLAN, [gone]).entries, [])

    def test_an_entry_that_lacks_what_it_says_is_refused(self) -> None:
        for said, more in (("not_ready", {}), ("back", {}), ("seen", {}), ("trial", {}), ("picture", {})):
            with self.assertRaises(ValueError, msg=said):
                entry(1, said, 0, **more)
        with self.assertRaises(ValueError):
            entry(1, "done", 0, began_at=START + timedelta(hours=1))

    def test_a_record_as_it_was_before_comes_back_from_its_entries(self) -> None:
        from emvar_core.at_the_bench.journal import entry_of

        was = [
            Happened(step="primer", zone=z, state=state, starts_at=START, ends_at=START + timedelta(minutes=30))
            for state in (State.FAILED, State.DONE)
            for z in PLAN.step("primer").zones
        ]
        made = [entry_of(h, f"recorded-{i:06}", "", START + timedelta(milliseconds=i)) for i, h in enumerate(was)]
        self.assertEqual(record_of(PLAN, made).entries, was)
        self.assertEqual({e.said for e in made}, {Said.WRONG, Said.DONE})
