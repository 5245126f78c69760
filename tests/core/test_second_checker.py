"""Schedules of random plans with random calendars, and of the demos, read again by a checker of its own."""

import random
from datetime import timedelta
from typing import Any
from unittest import TestCase

from emvar_core.plan import Plan, Schedule, parse_plan
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.drag import Moved, agenda_of, move
from emvar_core.schedule.schedule import make

from tests.builders import coat, plan_json
from tests.core.agendas import demo_planned, planned
from tests.core.second_checker import DAYS, broken_rules
from tests.lengths import at_length

MATERIALS = ("lacquer_colour", "alcohol_acrylic_colour", "waterborne_colour", "enamel_wash", "alcohol_acrylic_clear")
CLOCKS = (17, 18, 19, 22)


def random_step(rng: random.Random, i: int, zones: list[str]) -> dict[str, Any]:
    more: dict[str, Any] = {"zones": rng.sample(zones, rng.randint(1, len(zones)))}
    if rng.random() < 0.3:
        more |= {"wait_min": rng.choice((30, 600, 2000)), "wait_by": "person"}
    if rng.random() < 0.25:
        more["overnight"] = True
    fine = rng.random() < 0.4
    if fine or rng.random() < 0.3:
        more |= {"method": "brush", "coverage": 0.1 if fine else 1}
    more["fine"] = fine
    return coat(f"s{i}", rng.choice(MATERIALS), hands_on_min=rng.choice((10, 25, 40, 70 if fine else 40)), **more)


def random_work(rng: random.Random, i: int, coat_json: dict[str, Any]) -> list[dict[str, Any]]:
    """What works on a coat, where something may: a wash wiped, with spirit."""
    if coat_json["material"] != "enamel_wash" or rng.random() < 0.3:
        return []
    wipe = {"kind": "working", "id": f"w{i}", "name": f"w{i}", "zones": coat_json["zones"], "action": "wipe"}
    return [wipe | {"acts_on": coat_json["id"], "carrier": "white_spirit", "hands_on_min": rng.choice((15, 40))}]


def masked(rng: random.Random, i: int, coat_json: dict[str, Any]) -> list[dict[str, Any]]:
    """A coat between tape on and tape off, now and then."""
    if rng.random() < 0.8:
        return [coat_json]
    tape = {"kind": "fitting", "zones": coat_json["zones"], "hands_on_min": 10, "material": "low_tack_tape"}
    on = tape | {"id": f"on{i}", "name": f"on{i}", "action": "mask"}
    off = {**tape, "id": f"off{i}", "name": f"off{i}", "action": "unmask"}
    return [on, coat_json, {k: v for k, v in off.items() if k != "material"}]


def random_hours(rng: random.Random) -> dict[str, Any]:
    start = rng.choice(CLOCKS)
    weekly = [
        {"days": rng.sample(DAYS, rng.randint(3, 7)), "start": f"{start}:00", "length_min": rng.choice((120, 180, 300))}
    ]
    if rng.random() < 0.5:
        weekly.append({"days": ["sat", "sun"], "start": "10:00", "length_min": 150})
    made: dict[str, Any] = {"weekly": weekly}
    if rng.random() < 0.4:
        made |= {"spray_from": "09:00", "spray_until": f"{start + 1}:30"}
    if rng.random() < 0.5:
        made |= {"fine_at_most_min": rng.choice((30, 45, 60)), "rest_min": rng.choice((10, 15))}
    if rng.random() < 0.4:
        made["drying_places"] = 3
    if rng.random() < 0.4:
        made["off"] = [{"first": "2026-03-06", "last": "2026-03-08"}]
    if rng.random() < 0.4:
        made["dates"] = [{"date": "2026-03-04", "start": "14:00", "length_min": 100}]
    return made


def random_plan(rng: random.Random) -> Plan:
    zones = [f"z{i}" for i in range(rng.randint(1, 3))]
    steps: list[dict[str, Any]] = []
    for i in range(rng.randint(3, 6)):
        step = random_step(rng, i, zones)
        if steps and rng.random() < 0.15:
            step["no_later"] = {"after": steps[-1]["id"], "than_min": rng.choice((3000, 9000))}
        steps += [*masked(rng, i, step), *random_work(rng, i, step)]
    made = random_hours(rng)
    air: dict[str, Any] = {"day": {"temp_c": 20, "rh_pct": 50, "movement": "still"}}
    if rng.random() < 0.4:
        air["night"] = {"temp_c": 14, "rh_pct": 65, "movement": "still"}
    zone = rng.choice(("UTC", "Europe/Lisbon", "America/New_York"))
    when = {"timezone": zone, "starts_at": "2026-03-02T10:00:00+00:00"}
    data = plan_json(steps, zones=zones, hours=made, build=when, air=air)
    begins = parse_plan(data).build.starts_at
    busy = [
        {"start": (begins + timedelta(hours=h)).isoformat(), "end": (begins + timedelta(hours=h + 3)).isoformat()}
        for h in rng.sample(range(0, 400), 6)
    ]
    data["hours"]["busy"] = busy
    return parse_plan(data)


class RandomPlans(TestCase):
    PLANS = at_length(7, 30)

    def test_every_rule_of_the_plan_and_its_calendar_is_kept(self) -> None:
        rng, whole = random.Random(17), 0
        for n in range(self.PLANS):
            plan = random_plan(rng)
            made = make(Agenda(plan), seconds=3)
            whole += made.fits
            told = {f"{u.step} begins too late after {u.below}" for u in made.unfit}  # a limit that cannot be kept
            self.assertEqual(set(broken_rules(plan, made.schedule, seams=made.fits)) - told, set(), n)
        self.assertGreater(whole, self.PLANS * 0.7)


class Demos(TestCase):
    def test_the_three_demos_keep_every_rule(self) -> None:
        for name in ("harbour-tug", "quay-crane", "channel-buoys"):
            plan, made = demo_planned(name)
            with self.subTest(name):
                self.assertEqual(broken_rules(plan, made.schedule, seams=made.fits), [])

    def test_the_mended_tug_keeps_every_rule(self) -> None:
        agenda, made = planned()
        self.assertEqual(broken_rules(agenda.plan, made.schedule), [])


class Drags(TestCase):
    """Whatever a hand does to a schedule, nothing comes before its coat, and all that it breaks is listed."""

    def told(self, plan: Plan, moved: Moved, rule: str) -> bool:
        words = " ".join([*moved.said, *(u.words for u in moved.unfit)])
        if "dry at one time" in rule:
            return "would dry at one time" in words
        return any(f"“{s.name}”" in words for s in plan.steps if s.id in rule.split())

    def test_every_rule_that_a_drag_breaks_is_told(self) -> None:
        rng, tried = random.Random(3), 0
        for n in range(at_length(6, 25)):
            plan = random_plan(rng)
            agenda = Agenda(plan)
            made = make(agenda, seconds=2)
            at = {e.step: (e.starts_at - plan.build.starts_at) / timedelta(minutes=1) for e in made.schedule.placed}
            for _ in range(6):
                step = rng.choice(sorted(at))
                start = at[step] + rng.choice((-4000, -300, -60, -5, 5, 60, 300, 3000))
                moved = move(agenda, made.schedule, step, start)
                broken = broken_rules(plan, moved.schedule, seams=False)
                self.assertFalse([x for x in broken if "comes before" in x], (n, step, start))
                self.assertEqual([x for x in broken if not self.told(plan, moved, x)], [], (n, step, start))
                tried += bool(broken)
        self.assertGreater(tried, at_length(6, 30))

    def test_what_was_to_stay_goes_along_with_the_coat_that_it_lies_on_and_this_is_said(self) -> None:
        steps = [coat(f"s{i}", "lacquer_colour", hands_on_min=20) for i in range(3)]
        plan = parse_plan(plan_json(steps, hours={"weekly": [{"days": DAYS, "start": "18:00", "length_min": 120}]}))
        made = make(Agenda(plan), seconds=3).schedule
        kept = made.model_copy(update={"pins": ["s2"]})
        moved = move(agenda_of(plan, kept, None), kept, "s0", 3 * 1440 + 480)
        start = {e.step: e.starts_at for e in moved.schedule.placed}
        self.assertTrue(start["s0"] < start["s1"] < start["s2"])
        self.assertEqual(moved.schedule.pins, ["s0"])
        self.assertIn("“s2” was to stay where it was", " ".join(moved.said))

    def test_cleaning_stays_where_it_is_and_what_is_sprayed_elsewhere_gets_its_own(self) -> None:
        steps = [
            coat("red", "lacquer_colour", hands_on_min=20, zones=["a"], colour={"srgb": "#aa2020"}),
            coat("white", "lacquer_colour", hands_on_min=20, zones=["b"], colour={"srgb": "#f0f0f0"}),
        ]
        hours = {"weekly": [{"days": DAYS, "start": "18:00", "length_min": 120}]}
        plan = parse_plan(plan_json(steps, zones=["a", "b"], hours=hours))
        agenda = Agenda(plan)
        made = make(agenda, seconds=3).schedule
        at = {e.step: (e.starts_at - plan.build.starts_at) / timedelta(minutes=1) for e in made.placed}
        last = max(at, key=lambda s: at[s])
        self.assertEqual(len(made.cleanings), 2)
        moved = move(agenda, made, last, at[last] + 1440)
        self.assertEqual(broken_rules(plan, moved.schedule), [])
        days = {c.starts_at.date() for c in moved.schedule.cleanings}
        self.assertEqual(len(days), 2)  # each evening ends with its own
        # Begun ten minutes later, what follows waits for its cleaning, and cleaning elsewhere stays where it was.
        first = min(at, key=lambda s: at[s])
        shifted = move(agenda, made, first, at[first] + 10)
        self.assertEqual(shifted.said, [])
        self.assertEqual(broken_rules(plan, shifted.schedule), [])
        late = move(agenda, made, last, 8 * 60 + 105)  # fifteen minutes before the sitting ends
        self.assertIn("no time to clean the airbrush", " ".join(late.said))

    def test_a_drag_in_one_sitting_leaves_the_cleaning_of_all_others_alone(self) -> None:
        agenda, made = planned()
        at = {e.step: (e.starts_at - agenda.plan.build.starts_at) / timedelta(minutes=1) for e in made.schedule.placed}
        moved = move(agenda, made.schedule, "streaks", at["streaks"] + 10)
        self.assertEqual(moved.schedule.cleanings, made.schedule.cleanings)


class TheCheckerItself(TestCase):
    """Each of its rules finds what breaks it."""

    def plan(self, **hours: Any) -> Plan:
        steps = [
            coat("primer", "lacquer_primer", hands_on_min=20),
            coat("colour", "lacquer_colour", hands_on_min=20, overnight=True),
            coat("cores", "waterborne_colour", hands_on_min=40, method="brush", coverage=0.02, fine=True),
            coat("chips", "waterborne_colour", hands_on_min=40, method="brush", coverage=0.02, fine=True),
        ]
        weekly = [{"days": DAYS, "start": "18:00", "length_min": 240}]
        return parse_plan(plan_json(steps, hours={"weekly": weekly, "fine_at_most_min": 45, **hours}))

    def found(self, plan: Plan, made: Schedule, step: str, hours: float) -> str:
        moved = [
            e.model_copy(update={"starts_at": e.starts_at + timedelta(hours=hours),
                                 "ends_at": e.ends_at + timedelta(hours=hours)}) if e.step == step else e
            for e in made.placed
        ]  # fmt: skip
        return "; ".join(broken_rules(plan, made.model_copy(update={"placed": moved})))

    def test_each_rule_finds_what_breaks_it(self) -> None:
        plan = self.plan()
        made = make(Agenda(plan), seconds=5).schedule
        self.assertEqual(broken_rules(plan, made), [])
        at = {e.step: e for e in made.placed}
        self.assertGreater(at["colour"].starts_at.date(), at["primer"].starts_at.date())
        self.assertGreaterEqual((at["chips"].starts_at - at["cores"].ends_at).total_seconds(), 600)
        self.assertIn("no bench time", self.found(plan, made, "chips", 12))
        self.assertIn("does not wait for the morning", self.found(plan, made, "colour", -23))
        gap = (at["chips"].starts_at - at["cores"].ends_at).total_seconds() / 3600
        self.assertIn("80 min of fine work in a row", self.found(plan, made, "chips", -gap))
        self.assertIn("is over", self.found(plan, made, "chips", -gap - 0.2))
        self.assertIn("comes before", self.found(plan, made, "primer", 60))
        busy = [{"start": at["cores"].starts_at.isoformat(), "end": at["cores"].ends_at.isoformat()}]
        self.assertIn("taken", "; ".join(broken_rules(self.plan(busy=busy), made)))
        self.assertIn(
            "is sprayed at", "; ".join(broken_rules(self.plan(spray_from="08:00", spray_until="09:00"), made))
        )
        none = made.model_copy(update={"placed": made.placed[1:]})
        self.assertIn("is nowhere", "; ".join(broken_rules(plan, none)))
        late = plan.model_copy(
            update={"steps": [*plan.steps[:3], plan.steps[3].model_copy(update={"overnight": True})]}
        )
        self.assertIn("does not wait for the morning", "; ".join(broken_rules(late, made)))
