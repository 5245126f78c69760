"""What is remembered between assessments never shows: a warm answer is the cold one, whatever was asked before."""

import random
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field, fields, replace
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess, assess_near
from emvar_core.errors import PlanError
from emvar_core.judging import base_layer, conditions_of
from emvar_core.judging.laying import Laying, Recipe
from emvar_core.judging.zones import judge_zone, marks_of, steps_of
from emvar_core.keys import APART, key_of
from emvar_core.knowledge import knowledge
from emvar_core.memory import MEMORY, forget
from emvar_core.physics.blend import NOTHING, Cup
from emvar_core.physics.hardening import Drying
from emvar_core.plan import Plan, apply, parse_edits, parse_plan, step_times
from emvar_core.reading.report import report
from emvar_core.seams.situation import Landing, Layer
from emvar_core.vocabulary import Verdict
from emvar_core.ways.faults import diagnose
from emvar_core.ways.mend import undoable_states
from emvar_core.ways.overlay import over, under
from emvar_core.ways.park import park
from emvar_core.ways.rescue import rescue, undo_reach, wipe_now
from emvar_core.ways.trial import scrap_test
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import coat, plan_json, tug_json
from tests.lengths import at_length
from tests.random_plans import ZONES, random_plan, random_siblings

K = knowledge()
COATS = sorted(K.coats)
PAIRS = at_length(120, 20_000)
# What judging remembers; what it rests on (evaporation, cups) is kept, since working that out is most of being cold.
JUDGED = [d for d in MEMORY.doors if d.name in ("coats as laid", "layers as they are met", "air from an instant on",
          "meetings of a landing", "verdicts", "coats as told", "seams as told", "stretches of a zone", "whole zones",
          "seams of a step", "what a coat step is")]  # fmt: skip
VERDICTS = next(d for d in MEMORY.doors if d.name == "verdicts")


def random_change(rng: random.Random, made: Plan) -> dict[str, Any]:
    step = rng.choice(made.steps)
    field, value = rng.choice(
        [("wait_min", rng.randint(0, 4000)), ("name", f"Name {rng.random()}"), ("hands_on_min", 7), ("note", "n")]
    )
    if step.kind == "coat" and rng.random() < 0.6:
        field, value = rng.choice(
            [("dry_film_um", rng.choice([1, 9, 33])), ("coverage", 0.7), ("sheen", "gloss"), ("method", "mist"),
             ("colour", {"srgb": "#123456"}), ("material", rng.choice(COATS))]
        )  # fmt: skip
    kind = rng.random()
    if kind < 0.15:
        return {"edit": "move_step", "step_id": step.id, "to_index": rng.randrange(len(made.steps))}
    if kind < 0.3:
        return {"edit": "remove_step", "step_id": step.id}
    return {"edit": "set_field", "step_id": step.id, "field": field, "value": value}


def rough(value: Any) -> Any:
    """Numbers to six digits: the same sum in another order differs in the fifteenth."""
    if isinstance(value, float):
        return float(f"{value:.6g}")
    if isinstance(value, dict):
        return {k: rough(v) for k, v in value.items()}
    return [rough(v) for v in value] if isinstance(value, list) else value


def told(made: Plan) -> Any:
    """What is judged of a plan and written, numbers to six digits: coats and seams, without remarks on the steps."""
    times = step_times(made)
    c = conditions_of(made, times)
    found: dict[str, Any] = {}
    for zone in made.zones:
        steps = steps_of(made, zone.id)
        judged = judge_zone(c, zone, base_layer(c.k, made, zone), steps, times, marks_of(steps, times))
        found |= {i: rough(x.model_dump()) for i, x in (judged.coats | judged.seams).items()}
    return found


def all_told(made: Plan) -> Any:
    """The whole answer to a plan, numbers to six digits."""
    return rough(assess(made, opens=False).model_dump())


def pairs(count: int) -> list[Plan]:
    """Pairs of coats, each beside its sibling."""
    rng, made = random.Random(count), list[Plan]()
    while len(made) < count:
        made += random_siblings(rng)
    return made[:count]


class Memory(TestCase):
    def test_warm_is_cold_over_random_pairs_of_coats_whatever_was_asked_before_in_other_builds(self) -> None:
        drawn = pairs(PAIRS)
        warm = [told(p) for p in drawn]
        for made, was in zip(drawn, warm, strict=True):
            for door in JUDGED:
                door.clear()
            self.assertEqual(was, told(made), made.model_dump_json(exclude_defaults=True))

    def test_the_lies_that_were_told_once_are_told_no_more(self) -> None:
        """Each was judged another way when its sibling had been asked first."""
        wet = {"kind": "fitting", "id": "m", "name": "Wet", "zones": ["side"], "wait_min": 600, "hands_on_min": 1}
        wetted = wet | {"action": "wet", "carrier": "white_spirit"}
        varnish = coat("v", "picture_varnish", hands_on_min=5)
        on_decal = plan_json([coat("d", "decal"), wetted, varnish], build={"base_material": "polystyrene"})
        dry = on_decal | {"steps": [on_decal["steps"][0], wet | {"action": "inspect"}, varnish]}
        day_and_night = {"day": {"temp_c": 22, "rh_pct": 60}, "night": {"temp_c": 12, "rh_pct": 75}}
        laid_long = plan_json([coat("a", "enamel_colour", 700, hands_on_min=60), coat("b", "lacquer_colour", 900)],
                              air=day_and_night)  # fmt: skip
        laid_short = laid_long | {"steps": [coat("a", "enamel_colour", 755, hands_on_min=5), laid_long["steps"][1]]}
        for one, sibling in ((on_decal, dry), (dry, on_decal), (laid_long, laid_short), (laid_short, laid_long)):
            forget()
            cold = told(parse_plan(one))
            forget()
            told(parse_plan(sibling))
            self.assertEqual(told(parse_plan(one)), cold)
        forget()
        base = assess(parse_plan(on_decal)).seams["v~side~base"]
        self.assertEqual(base.verdict, Verdict.CAUTION, base)

    def test_a_zone_s_area_and_what_is_wetted_in_another_zone_are_in_the_key(self) -> None:
        wet = {"kind": "fitting", "id": "m", "name": "Wet", "zones": ["a"], "wait_min": 600, "hands_on_min": 1}
        wetted = wet | {"action": "wet", "carrier": "white_spirit"}
        top = coat("c", "lacquer_colour", 5000, zones=["a", "b"])
        steps = [coat("d", "decal", zones=["a", "b"]), wetted, coat("v", "picture_varnish", zones=["a", "b"]), top]
        made = plan_json(steps, zones=["a", "b"], build={"base_material": "polystyrene"})
        dry = made | {"steps": [steps[0], wet | {"action": "inspect"}, *steps[2:]]}
        larger = made | {"zones": [z | {"area_cm2": 4 * z["area_cm2"]} for z in made["zones"]]}
        cold = []
        for one in (made, dry, larger):
            forget()
            cold.append(all_told(parse_plan(one)))
        self.assertEqual([all_told(parse_plan(one)) for one in (made, dry, larger)], cold)
        zone_b = [{i: x for i, x in told["seams"].items() if x["zone_id"] == "b"} for told in cold]
        self.assertNotEqual(zone_b[0], zone_b[1])
        self.assertNotEqual(cold[0]["cups"], cold[2]["cups"])

    def test_names_and_ids_ask_nothing_anew(self) -> None:
        data = tug_json()
        told(parse_plan(data))
        before = len(VERDICTS)
        for step in data["steps"]:
            step["name"] = f"{step['name']} again"
        renamed = assess(parse_plan(data), opens=False)
        self.assertEqual(len(VERDICTS), before)
        self.assertTrue(any("again”" in s.sentence for s in renamed.seams.values()))

    def test_in_steady_air_it_does_not_matter_when_and_in_changing_air_only_what_comes(self) -> None:
        for air in ({}, {"night": {"temp_c": 12, "rh_pct": 75}, "night_from": "23:00", "night_to": "05:00"}):
            steps = [coat("a", "lacquer_primer", 30), coat("b", "waterborne_colour", 60), coat("c", "enamel_wash", 90)]
            forget()
            data = plan_json(steps, air={"day": {"temp_c": 20, "rh_pct": 50}, **air})
            told(parse_plan(data))
            before = len(VERDICTS)
            self.assertGreater(before, 0)
            data["steps"][0]["wait_min"] = 37  # all of it seven minutes later, long before the night
            later = parse_plan(data)
            warm = told(later)
            waits = [s for s in warm.values() if s.get("verdict", "sound") != "sound"]
            self.assertLessEqual(len(VERDICTS), before + len(waits) * bool(air))
            forget()
            self.assertEqual(warm, told(later))

    def test_a_field_that_is_new_to_what_is_laid_is_in_its_key_and_what_cannot_be_told_apart_is_refused(self) -> None:
        @dataclass(frozen=True)
        class Later(Cup):
            froth: float = 0.0
            label: str = field(default="", metadata=APART)

        plain = Later(NOTHING, 0.3, 0.5, 0.0)
        self.assertNotEqual(key_of(plain), key_of(replace(plain, froth=0.1)))
        self.assertEqual(key_of(plain), key_of(replace(plain, label="Hull")))
        with self.assertRaisesRegex(TypeError, "object cannot be told"):
            key_of(replace(plain, froth=object()))  # type: ignore[arg-type]

    def test_only_what_belongs_to_writing_or_follows_from_the_rest_is_left_out_of_a_key(self) -> None:
        """A field that is marked as apart has to be in this list, and be put into a key where it is used."""
        apart = {
            Recipe: set[str](),
            Laying: set[str](),
            Landing: {"_seen"},
            Layer: {"step_id", "name", "coverage", "end_min"},
            Drying: {"line", "_degrees", "_events", "_stands", "_level"},
        }
        for kind, names in apart.items():
            self.assertEqual({f.name for f in fields(kind) if "apart" in f.metadata}, names, kind)

    def test_threads_that_ask_at_once_are_told_what_one_is_told(self) -> None:
        drawn = pairs(at_length(40, 1_000))
        forget()
        alone = [told(p) for p in drawn]
        forget()
        with ThreadPoolExecutor(6) as pool:
            many = list(pool.map(told, drawn * 2))
        self.assertEqual(many, alone * 2)

    @settings(max_examples=at_length(6, 60))
    @given(st.integers(0, 10**6))
    def test_a_warm_answer_is_the_cold_one_after_any_edits(self, seed: int) -> None:
        rng, made = random.Random(seed), random_plan(seed)
        forget()
        assess(made, opens=False)
        for _ in range(4):
            try:
                made, _ = apply(made, parse_edits([random_change(rng, made)]))
            except PlanError:
                continue
            warm = all_told(made)
            forget()
            self.assertEqual(warm, all_told(made))

    @settings(max_examples=at_length(6, 60))
    @given(st.integers(0, 10**6))
    def test_the_first_answer_agrees_with_the_whole_on_any_plan(self, seed: int) -> None:
        made = random_plan(seed, 20)
        whole = assess(made, opens=False)
        step = random.Random(seed).choice(made.steps)
        coats, seams, ids = assess_near(made, step.zones[0], step.id)
        self.assertIn(step.id, ids)
        self.assertTrue(all(whole.coats[i] == c for i, c in coats.items()))
        self.assertTrue(all(whole.seams[i] == s for i, s in seams.items()))


class Robust(TestCase):
    @settings(max_examples=at_length(6, 60))
    @given(st.integers(0, 10**6))
    def test_nothing_that_can_be_entered_crashes_what_judges_or_what_helps(self, seed: int) -> None:
        rng, made = random.Random(seed), random_plan(seed, 12)
        a = assess(made)
        self.assertTrue(report(made, a))
        at = rng.uniform(0, a.end_min * 1.2 + 60)
        zone = rng.choice(ZONES)
        undo_reach(made, zone, at)
        wipe_now(made, zone, at)
        park(made, at)
        over(made, zone, at)
        undoable_states(made)
        coats = [s for s in made.steps if s.kind == "coat"]
        step = rng.choice(coats)
        under(made, step.id)
        told = rescue(made, step.id, step.zones[0], at)
        self.assertTrue(told.sentence)
        for appearance in rng.sample(sorted(K.faults), 3):
            diagnose(made, step.id, step.zones[0], appearance, at)
        if a.seams:
            self.assertTrue(scrap_test(made, rng.choice(sorted(a.seams))).needs)

    @settings(max_examples=at_length(8, 60))
    @given(st.integers(0, 10**6))
    def test_what_is_said_is_whole(self, seed: int) -> None:
        """Every seam that is not sound says what, why, on what basis; every story leads somewhere."""
        made = random_plan(seed, 14)
        a = assess(made, opens=False)
        names = {s.id for s in made.steps}
        for seam in a.seams.values():
            self.assertIn(seam.upper_step, names)
            self.assertIn(seam.basis, {"model", "rule", "practice", "unknown", "trial"})
            if seam.verdict.value != "sound":
                self.assertTrue(seam.sentence and seam.word and seam.rests_on, seam)
            if seam.verdict.value == "wait":
                assert seam.opens_careful_min is not None
                self.assertGreaterEqual(seam.opens_careful_min, step_times(made)[seam.upper_step].start_min - 1e-6)
        for story in a.stories:
            self.assertTrue(story.seams or story.remark)
            self.assertTrue(set(story.seams) <= set(a.seams))
        remarks = {r.id for r in a.remarks}
        self.assertTrue({s.remark for s in a.stories if s.remark} <= remarks)
        told = a.score
        self.assertEqual(
            told.clashes + told.missed + told.waits + told.cautions + told.sound,
            len(a.seams) + sum(r.verdict.value != "sound" for r in a.remarks),
        )
