"""Edits are a closed set, each with its inverse: undoing leads back to the very same plan."""

import random
from unittest import TestCase

from emvar_core.errors import PlanError
from emvar_core.plan import AnyEdit, Plan, apply, edits_json, parse_edits
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import coat, tug
from tests.lengths import at_length


def edit(**fields: object) -> AnyEdit:
    return parse_edits([fields])[0]


def random_edit(rng: random.Random, plan: Plan, n: int) -> AnyEdit:
    step = rng.choice(plan.steps)
    zone = rng.choice(plan.zones)
    kind = rng.choice(["add", "remove", "move", "split", "field", "air", "school", "zone", "absent", "build"])
    if kind == "add":
        new = coat(f"new{n}", "waterborne_clear", rng.randint(0, 5000), zones=[zone.id])
        return edit(edit="add_step", step=new, index=rng.randint(0, len(plan.steps)))
    if kind == "remove":
        return edit(edit="remove_step", step_id=step.id)
    if kind == "move":
        return edit(edit="move_step", step_id=step.id, to_index=rng.randrange(len(plan.steps)))
    if kind == "split":
        return edit(edit="split_step", step_id=step.id, zones=[step.zones[-1]], new_id=f"split{n}")
    if kind == "air":
        return edit(edit="set_air", air={"day": {"temp_c": rng.randint(5, 35)}})
    if kind == "school":
        return edit(edit="set_school", pair="pigment", side=rng.choice(["loose", "bound", None]))
    if kind == "zone":
        return edit(edit="set_zone", zone={"id": zone.id, "name": f"Zone {n}", "area_cm2": rng.randint(1, 999)})
    if kind == "absent":
        return edit(edit="set_field", step_id=step.id, field="mix", absent=True)
    if kind == "build":
        return edit(edit="set_build", build=plan.build.model_dump(mode="json") | {"name": f"Build {n}"})
    field, value = rng.choice([("wait_min", rng.randint(0, 9000)), ("name", f"Name {n}"), ("note", "x" * n)])
    return edit(edit="set_field", step_id=step.id, field=field, value=value)


class Inverses(TestCase):
    @settings(max_examples=at_length(15, 60))
    @given(st.integers(0, 10**6))
    def test_any_run_of_edits_undone_restores_the_plan_exactly(self, seed: int) -> None:
        rng, plan = random.Random(seed), tug()
        start, undo = plan.model_dump(mode="json", exclude_unset=True), []
        for n in range(12):
            try:
                plan, inverse = apply(plan, [random_edit(rng, plan, n)])
            except PlanError:
                continue
            undo.append(parse_edits(edits_json(inverse)))  # as the database keeps it
        for inverse in reversed(undo):
            plan, _ = apply(plan, inverse)
        self.assertEqual(plan.model_dump(mode="json", exclude_unset=True), start)


class Refusals(TestCase):
    def refused(self, what: str, **fields: object) -> None:
        with self.assertRaises(PlanError) as caught:
            apply(tug(), parse_edits([fields]))
        self.assertIn(what, str(caught.exception))

    def test_removing_a_coat_that_is_still_worked_on(self) -> None:
        self.refused("acts on this coat", edit="remove_step", step_id="pin-wash")

    def test_moving_work_below_its_coat(self) -> None:
        self.refused(
            "'Wipe the wash back' works on 'Pin wash, brown', so it stays above it",
            edit="move_step",
            step_id="wipe",
            to_index=0,
        )

    def test_ids_and_kinds_stay(self) -> None:
        self.refused("cannot be changed", edit="set_field", step_id="gloss", field="id", value="other")

    def test_unknown_fields_values_and_edits(self) -> None:
        self.refused("unknown field", edit="set_field", step_id="gloss", field="wait_hours", value=3)
        self.refused("a wait must be at least 0 min", edit="set_field", step_id="gloss", field="wait_min", value=-5)
        self.refused("there is no step", edit="remove_step", step_id="nothing")
        with self.assertRaises(PlanError):
            parse_edits([{"edit": "set_everything"}])

    def test_a_zone_in_use_and_a_whole_step_cannot_go(self) -> None:
        self.refused("covers this zone", edit="remove_zone", zone_id="deck")
        self.refused("some, but not all", edit="split_step", step_id="ochre", zones=["funnel"], new_id="x")

    def test_a_split_keeps_its_recipe_and_its_zones(self) -> None:
        after, _ = apply(tug(), [edit(edit="split_step", step_id="gloss", zones=["deck"], new_id="gloss-deck")])
        split = after.step("gloss-deck")
        assert split is not None
        self.assertEqual((split.zones, split.recipe_of), (["deck"], "gloss"))
