"""What is remembered between assessments never shows: a warm answer is the cold one, whatever was asked before."""

import random
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess, assess_near
from emvar_core.errors import PlanError
from emvar_core.knowledge import knowledge
from emvar_core.memory import forget
from emvar_core.plan import Plan, apply, parse_edits, parse_plan, step_times
from emvar_core.reading.report import report
from emvar_core.vocabulary import Method, Place
from emvar_core.ways.faults import diagnose
from emvar_core.ways.mend import undoable_states
from emvar_core.ways.overlay import over, under
from emvar_core.ways.park import park
from emvar_core.ways.rescue import rescue, undo_reach, wipe_now
from emvar_core.ways.trial import scrap_test
from hypothesis import example, given, settings
from hypothesis import strategies as st

from tests.builders import coat, plan_json

K = knowledge()
ZONES = ["z0", "z1", "z2"]
COATS = sorted(K.coats)
AIRS: list[dict[str, Any]] = [
    {"day": {"temp_c": 20, "rh_pct": 50}},
    {"day": {"temp_c": 22, "rh_pct": 60}, "night": {"temp_c": 12, "rh_pct": 75}},
    {
        "day": {"temp_c": 18, "rh_pct": 55, "movement": "fan"},
        "spans": [
            {
                "start": "2026-03-03T00:00:00+00:00",
                "end": "2026-03-05T00:00:00+00:00",
                "air": {"temp_c": 30, "rh_pct": 40},
            }
        ],
    },
]


def random_plan(seed: int, length: int = 24) -> Plan:
    """Any plan that the format takes: coats, work that acts far down, touches, own materials, schools, aids."""
    rng, where = random.Random(seed), random.Random(-seed - 1)  # so that kept seeds mean what they meant
    steps: list[dict[str, Any]] = []
    coats: list[dict[str, Any]] = []
    own = [
        {"kind": "thinner", "id": "mine", "name": "Mine", "percent": {"water": 20, "acetone": 30, "isopropanol": 50}},
        {"kind": "coat", "id": "old-tin", "name": "Old tin", "bud_test": rng.choice(["water", "none", "mild_thinner"])},
        {"kind": "coat", "id": "mystery", "name": "Mystery"},
    ]
    for i in range(length):
        zones = rng.sample(ZONES, rng.randint(1, 3))
        wait = rng.choice([0, 1, 45, 600, 1500, 9000])
        if coats and rng.random() < 0.25:
            target = rng.choice(coats)
            steps.append(
                {
                    "kind": "working", "id": f"w{i}", "name": f"Work {i}", "zones": target["zones"], "wait_min": wait,
                    "action": rng.choice(["wipe", "blend", "streak", "chip", "scrape"]), "acts_on": target["id"],
                    "carrier": rng.choice([None, "mine", *sorted(K.thinners)]), "leaves": rng.choice([0, 0.3, 1]),
                    "method": rng.choice(["scrub", "dry_tool", "wet_wipe", "damp_wipe"]), "hands_on_min": 5,
                }
            )  # fmt: skip
        elif rng.random() < 0.12:
            action = rng.choice(["mask", "unmask", "handle", "glue", "remove", "fit", "inspect"])
            steps.append(
                {
                    "kind": "fitting", "id": f"f{i}", "name": f"Fit {i}", "zones": zones, "action": action,
                    "wait_min": wait, "material": rng.choice([None, *sorted(K.touches)]),
                    "closes": rng.sample(ZONES, rng.randint(0, 2)),
                }
            )  # fmt: skip
        else:
            material = rng.choice([*COATS, "old-tin", "mystery"])
            step = coat(
                f"c{i}", material, wait, zones=zones, hands_on_min=rng.choice([0, 5, 40]), passes=rng.randint(1, 6),
                method=rng.choice([m.value for m in Method]), coverage=rng.choice([0.02, 0.3, 1.0]),
                dry_film_um=rng.choice([0.2, 3, 20, 200]), sheen=rng.choice(["gloss", "satin", "matt"]),
                technique=rng.choice([None, "moonshine", *K.techniques]), needs_part_off=rng.random() < 0.1,
            )  # fmt: skip
            if where.random() < 0.5:
                step |= {"place": where.choice([p.value for p in Place]), "patch": where.choice([None, "stain"])}
            if coats and where.random() < 0.3:
                other = where.choice(coats)["id"]
                step |= where.choice([{"on": other}, {"beside": [other]}])
            if rng.random() < 0.5:
                parts = [{"material": material, "role": "paint", "amount": rng.choice([0.01, 1, 50])}]
                parts.append({"material": rng.choice(["mine", *sorted(K.thinners)]), "role": "thinner", "amount": 2})
                step["mix"] = {"parts": parts}
            if rng.random() < 0.2:
                kind = rng.choice(["fan", "warm_air", "cabinet"])
                step["aids"] = [{"kind": kind, "duration_min": rng.choice([5, 600]), "temp_c": rng.choice([30, 70])}]
            if rng.random() < 0.2:
                step["coverage_by_zone"] = {zones[0]: 0.4}
            coats.append(step)
            steps.append(step)
    schools = {"sealing": "seal_between", "rust_and_dirt": "rust_last", "chipping": "hairspray"}
    data = plan_json(
        steps, zones=ZONES, air=rng.choice(AIRS), materials=own, schools=schools if rng.random() < 0.5 else {},
        build={"base_material": rng.choice(sorted(K.substrates)), "scale": rng.choice([1, 35, 72, 2000])},
    )  # fmt: skip
    data["zones"][0]["base_material"] = rng.choice(sorted(K.substrates))
    return parse_plan(data)


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


class Memory(TestCase):
    @settings(max_examples=10, deadline=None)
    @given(st.integers(0, 10**6))
    @example(1440)  # heat at the part under many coats
    @example(5070)  # a live medium deep down, laid in other air
    def test_a_warm_answer_is_the_cold_one_after_any_edits(self, seed: int) -> None:
        rng, made = random.Random(seed), random_plan(seed)
        forget()
        assess(made, opens=False)
        for _ in range(4):
            try:
                made, _ = apply(made, parse_edits([random_change(rng, made)]))
            except PlanError:
                continue
            warm = assess(made, opens=False).model_dump()
            forget()
            cold = assess(made, opens=False).model_dump()
            self.assertEqual(rough(warm), rough(cold))

    @settings(max_examples=8, deadline=None)
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
    @settings(max_examples=10, deadline=None)
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

    @settings(max_examples=12, deadline=None)
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
