"""Every edit has an exact inverse: over random plans, all edits, joins and splits with coverage by zone."""

import random
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.plan import Plan, apply, edits_json, parse_edits
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import coat, plan
from tests.core.test_memory import COATS, random_change
from tests.lengths import at_length
from tests.random_plans import random_plan

KINDS = (
    "add", "remove", "move", "split", "join", "field", "air", "build", "school", "add_zone", "remove_zone", "zone",
    "materials", "trials", "kit", "hours",
)  # fmt: skip


def written(made: Plan) -> dict[str, Any]:
    return made.model_dump(mode="json", exclude_unset=True)


def any_edit(rng: random.Random, made: Plan, n: int) -> dict[str, Any]:
    """An edit of any kind; many of them are refused, and that is part of it."""
    step, zone, kind = rng.choice(made.steps), rng.choice(made.zones), rng.choice(KINDS)
    match kind:
        case "add":
            new = coat(
                f"new{n}", rng.choice(COATS), zones=[z.id for z in made.zones if rng.random() < 0.7] or [zone.id]
            )
            return {"edit": "add_step", "step": new, "index": rng.randint(0, len(made.steps))}
        case "remove":
            return {"edit": "remove_step", "step_id": step.id}
        case "move":
            return {"edit": "move_step", "step_id": step.id, "to_index": rng.randrange(len(made.steps))}
        case "split":
            goes = rng.sample(step.zones, rng.randint(1, len(step.zones)))
            return {"edit": "split_step", "step_id": step.id, "zones": goes, "new_id": f"split{n}"}
        case "join":
            at = rng.randrange(max(len(made.steps) - 1, 1))
            one, other = made.steps[at], made.steps[min(at + 1, len(made.steps) - 1)]
            covered = getattr(one, "coverage_by_zone", {}) | getattr(other, "coverage_by_zone", {})
            zones = rng.sample([*one.zones, *other.zones], len(one.zones) + len(other.zones))
            return {"edit": "join_step", "step_id": one.id, "split_id": other.id, "zones": zones,
                    "coverage_by_zone": covered}  # fmt: skip
        case "air":
            return {"edit": "set_air", "air": {"day": {"temp_c": rng.randint(5, 35)}}}
        case "build":
            return {"edit": "set_build", "build": made.build.model_dump(mode="json") | {"name": f"Build {n}"}}
        case "school":
            return {"edit": "set_school", "pair": "pigment", "side": rng.choice(["loose", "bound", None])}
        case "add_zone":
            new_zone = {"id": f"zone{n}", "name": f"Zone {n}", "area_cm2": 5}
            return {"edit": "add_zone", "zone": new_zone, "index": rng.randint(0, len(made.zones))}
        case "remove_zone":
            return {"edit": "remove_zone", "zone_id": zone.id}
        case "zone":
            return {"edit": "set_zone", "zone": {"id": zone.id, "name": f"Zone {n}", "area_cm2": rng.randint(1, 999)}}
        case "materials":
            more = {"kind": "thinner", "id": f"own{n}", "name": "Own", "percent": {"water": 100}}
            kept = [m.model_dump(mode="json", exclude_unset=True) for m in made.materials]
            return {"edit": "set_own_materials", "materials": rng.choice([kept, [*kept, more], []])}
        case "trials":
            trial = {"upper": step.id, "lower": None, "passed": True, "of": "2:0123456789abcdef", "age_min": 0}
            return {"edit": "set_trials", "trials": rng.choice([[trial], []])}
        case "kit":
            return {"edit": "set_kit", "kit": rng.choice([None, {"altitude_m": rng.randint(0, 2000)}])}
        case "hours":
            weekly = [{"days": ["tue"], "start": "19:30", "length_min": rng.randint(30, 300)}]
            return {"edit": "set_hours", "hours": rng.choice([None, {"weekly": weekly}])}
    if step.kind == "coat" and rng.random() < 0.4:
        shares = {z: rng.choice([0.2, 0.7, 1.0]) for z in step.zones if rng.random() < 0.6}
        return {"edit": "set_field", "step_id": step.id, "field": "coverage_by_zone", "value": shares}
    return random_change(rng, made)


class Inverses(TestCase):
    @settings(max_examples=at_length(38, 150))
    @given(st.integers(0, 10**7))
    def test_each_edit_is_taken_back_to_the_very_same_plan(self, seed: int) -> None:
        rng, made = random.Random(seed), random_plan(seed, 10)
        for n in range(12):
            try:
                edits = parse_edits([any_edit(rng, made, n)])
                changed, inverse = apply(made, edits)
            except PlanError:
                continue
            kept = parse_edits(edits_json(inverse))  # as the database keeps it
            back, forth = apply(changed, kept)
            self.assertEqual(written(back), written(made), edits)
            again, _ = apply(back, parse_edits(edits_json(forth)))
            self.assertEqual(written(again), written(changed), edits)
            made = changed

    def two(self, **more: Any) -> Plan:
        wide = coat("a", "waterborne_colour", zones=["hull", "deck", "house"], **more)
        return plan(
            [coat("p", "lacquer_primer", zones=["hull", "deck", "house"]), wide], zones=["hull", "deck", "house"]
        )

    def test_a_join_brings_back_the_coverage_of_each_zone(self) -> None:
        made = self.two(coverage_by_zone={"deck": 0.3, "house": 0.6})
        split, inverse = apply(made, parse_edits([{"edit": "split_step", "step_id": "a", "zones": ["deck"],
                                                   "new_id": "a2"}]))  # fmt: skip
        self.assertEqual(split.step("a2").coverage_by_zone, {"deck": 0.3})  # type: ignore[union-attr]
        back, _ = apply(split, inverse)
        self.assertEqual(back.step("a").coverage_by_zone, {"deck": 0.3, "house": 0.6})  # type: ignore[union-attr]
        self.assertEqual(assess(back).seams["a~deck~p"].share, assess(made).seams["a~deck~p"].share)

    def test_what_is_no_split_is_not_joined_and_nothing_is_lost(self) -> None:
        made = self.two()
        split, _ = apply(made, parse_edits([{"edit": "split_step", "step_id": "a", "zones": ["deck"], "new_id": "a2"}]))
        join = {"edit": "join_step", "step_id": "a", "split_id": "a2", "zones": ["hull", "deck", "house"]}
        other, _ = apply(split, parse_edits([{"edit": "set_field", "step_id": "a2", "field": "material",
                                              "value": "enamel_colour"}]))  # fmt: skip
        with self.assertRaises(PlanError) as caught:
            apply(other, parse_edits([join]))
        self.assertIn("differ in material", str(caught.exception))
        with self.assertRaises(PlanError):
            apply(made, parse_edits([join | {"split_id": "p"}]))
        self.assertEqual(written(apply(split, parse_edits([join]))[0]), written(made))
