"""A trial holds for what was tried: recipe, own materials, base and age; a new field of the format changes none."""

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging.trials import age_min, fingerprint, holds
from emvar_core.plan import Plan, Trial, apply, parse_edits, parse_plan, step_times
from emvar_core.plan.affects import NOTHING, VERDICT, Affects, check, fields_that, only
from emvar_core.plan.steps import CoatStep, FittingStep, WorkingStep
from emvar_core.vocabulary import Model, Verdict
from emvar_core.ways.trial import scrap_test

from tests.builders import DAY, coat, mix, plan, plan_json

OWN = [{"kind": "thinner", "id": "mine", "name": "Mine", "percent": {"acetone": 60, "toluene": 40}}]


def edited(made: Plan, *edits: dict[str, Any]) -> Plan:
    return apply(made, parse_edits(list(edits)))[0]


def entered(made: Plan, seam: str) -> Plan:
    test = scrap_test(made, seam)
    data = [t.model_dump(mode="json") for t in [*made.trials, test.passed]]
    return edited(made, {"edit": "set_trials", "trials": data})


class Holds(TestCase):
    def hot(self) -> Plan:
        step = coat("a", "lacquer_primer", method="wet_spray", mix=mix("lacquer_primer", "mine", 1, 2))
        return plan([step], materials=OWN)

    def basis(self, made: Plan, seam: str = "a~side~base") -> str:
        return str(assess(made).seams[seam].basis)

    def test_a_pass_ends_when_the_own_thinner_it_was_tried_with_is_another(self) -> None:
        made = entered(self.hot(), "a~side~base")
        self.assertEqual(self.basis(made), "trial")
        other = [OWN[0] | {"percent": {"acetone": 30, "toluene": 70}}]
        self.assertNotEqual(self.basis(edited(made, {"edit": "set_own_materials", "materials": other})), "trial")
        renamed = [OWN[0] | {"name": "The tin on the shelf", "note": "left"}]
        self.assertEqual(self.basis(edited(made, {"edit": "set_own_materials", "materials": renamed})), "trial")

    def test_a_pass_on_one_base_material_says_nothing_of_another_zone_s(self) -> None:
        data = plan_json([coat("a", "lacquer_primer", method="wet_spray", zones=["hull", "deck"],
                               mix=mix("lacquer_primer", "hot_thinner", 1, 2))], zones=["hull", "deck"])  # fmt: skip
        data["zones"][1]["base_material"] = "abs"
        made = entered(parse_plan(data), "a~hull~base")
        self.assertEqual(self.basis(made, "a~hull~base"), "trial")
        self.assertNotEqual(self.basis(made, "a~deck~base"), "trial")
        both = entered(made, "a~deck~base")
        self.assertEqual((self.basis(both, "a~hull~base"), self.basis(both, "a~deck~base")), ("trial", "trial"))

    def test_names_notes_waits_and_colours_do_not_end_a_trial_and_recipe_and_age_do(self) -> None:
        steps = [coat("u", "unknown_paint"), coat("c", "waterborne_colour", 30 * DAY)]
        made = entered(plan(steps), "c~side~u")
        for field, value, kept in (
            ("name", "Other", True), ("note", "n", True), ("colour", {"srgb": "#123456"}, True),
            ("sheen", "gloss", False),
            ("dry_film_um", 40, False), ("material", "enamel_colour", False), ("wait_min", 3 * DAY, False),
        ):  # fmt: skip
            changed = edited(made, {"edit": "set_field", "step_id": "c", "field": field, "value": value})
            self.assertEqual(self.basis(changed, "c~side~u") == "trial", kept, field)

    def test_a_trial_of_the_first_version_still_counts_for_what_it_was_of(self) -> None:
        """Files of the first version have no number before the digits; these were made by what read them then."""
        made = plan([
            coat("u", "unknown_paint"),
            coat("c", "waterborne_colour", 30 * DAY, mix=mix("waterborne_colour", "water", 2, 1), passes=3),
            {"kind": "working", "id": "w", "name": "W", "zones": ["side"], "action": "wipe", "acts_on": "c",
             "carrier": "water", "leaves": 0.3},
            {"kind": "fitting", "id": "f", "name": "F", "zones": ["side"], "action": "mask",
             "material": "low_tack_tape"},
        ])  # fmt: skip
        for upper, lower, of in FIRST_VERSION_DIGITS:
            old = Trial(upper=upper, lower=lower, passed=True, of=of, age_min=age_min(step_times(made), upper, lower))
            self.assertTrue(holds(made, step_times(made), old, "side"), upper)
            other = old.model_copy(update={"of": of[::-1]})
            self.assertFalse(holds(made, step_times(made), other, "side"), upper)
        old = Trial(upper="c", lower="u", passed=True, of=FIRST_VERSION_DIGITS[0][2], age_min=30 * DAY)
        kept = edited(made, {"edit": "set_trials", "trials": [old.model_dump(mode="json")]})
        self.assertEqual(self.basis(kept, "c~side~u"), "trial")
        thicker = edited(kept, {"edit": "set_field", "step_id": "c", "field": "dry_film_um", "value": 40})
        self.assertNotEqual(self.basis(thicker, "c~side~u"), "trial")


class Pinned(TestCase):
    def test_the_fingerprint_of_a_known_contact_never_changes(self) -> None:
        """If this fails, users' trials have become stale: a field that affects verdicts has changed its meaning."""
        steps = [
            coat("p", "lacquer_primer"),
            coat("w", "enamel_wash", DAY, mix=mix("enamel_wash", "white_spirit", 1, 3)),
        ]
        made = plan(steps)
        self.assertEqual(fingerprint(made, "w", "p", "side"), PINNED)
        self.assertEqual(fingerprint(made, "p", None, "side"), PINNED_ON_BASE)

    def test_a_field_that_is_added_later_and_left_as_it_is_changes_no_fingerprint(self) -> None:
        class LaterStep(CoatStep):
            humidity_wanted: int | None = None

        LaterStep.model_fields["humidity_wanted"].metadata.append(VERDICT)
        now = CoatStep(id="a", name="a", zones=["z"], material="enamel_wash")
        later = LaterStep(id="a", name="a", zones=["z"], material="enamel_wash")
        self.assertEqual(only(now, VERDICT).partition(" ")[2], only(later, VERDICT).partition(" ")[2])

    def test_a_field_without_a_mark_is_refused(self) -> None:
        class Careless(Model):
            forgotten: int = 1

        with self.assertRaisesRegex(TypeError, "Careless.forgotten"):
            check(Careless)

    def test_each_field_of_a_step_has_one_mark(self) -> None:
        for kind in (CoatStep, WorkingStep, FittingStep):
            marked = [f for a in Affects for f in fields_that(kind, a)]
            self.assertEqual(sorted(marked), sorted(kind.model_fields))
        self.assertIn("note", fields_that(CoatStep, NOTHING))
        self.assertIn("mix", fields_that(CoatStep, VERDICT))

    def test_a_failed_trial_is_a_clash(self) -> None:
        made = plan([coat("u", "unknown_paint"), coat("c", "waterborne_colour", 30 * DAY)])
        failed = scrap_test(made, "c~side~u").failed.model_dump(mode="json")
        told = assess(edited(made, {"edit": "set_trials", "trials": [failed]})).seams["c~side~u"]
        self.assertEqual(told.verdict, Verdict.CLASH)


FIRST_VERSION_DIGITS = (
    ("c", "u", "8ae54a6d1fbf1625"), ("u", None, "7ff29a05f4ed8e0e"), ("w", "c", "6a2e3277a6047da6"),
    ("f", "c", "13ecf17e9da61598"),
)  # fmt: skip
PINNED = "2:35965caf85511388"
PINNED_ON_BASE = "2:9d1f3a476348038c"
