"""The one door: the tug's story, and what must hold for any plan."""

import json
import random
from unittest import TestCase

from emvar_core.assess import assess, assess_near
from emvar_core.errors import NotThere, PlanError
from emvar_core.knowledge import knowledge
from emvar_core.memory import forget
from emvar_core.plan import apply, parse_edits, parse_plan
from emvar_core.reading.report import report
from emvar_core.vocabulary import Method
from emvar_core.ways.remedies import remedies
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import coat, plan, plan_json, tall_json, tug
from tests.lengths import at_length

K = knowledge()


def told(a) -> set[tuple[str, str, str]]:  # type: ignore[no-untyped-def]
    return {(s.verdict.value, s.upper_step, s.lower_step or "base") for s in a.stories}


class Tug(TestCase):
    def test_the_clash_and_the_waits_that_a_modeller_knows(self) -> None:
        a = assess(tug())
        self.assertEqual(
            {t for t in told(a) if t[0] == "clash"},
            # Hot lacquer over streaks of oil: weeks later it would still be a caution.
            {("clash", "chip-deck", "worn-grey"), ("clash", "matt", "streaks")},
        )
        self.assertEqual(
            sorted(s.upper_step for s in a.stories if s.verdict.value == "wait"),
            # Marks on a gloss clear of hours; the wash on the decals, and elsewhere on the clear.
            ["draught-marks", "mask-band", "pin-wash", "pin-wash", "scuppers"],
        )

    def changed(self, **fields: object):  # type: ignore[no-untyped-def]
        return assess(apply(tug(), parse_edits([fields]))[0])

    def test_another_thinner_changes_the_clash_for_its_own_reason(self) -> None:
        """A milder thinner swells the oil for a shorter time of its hardening: the clash ends sooner."""
        before = assess(tug()).seams["matt~hull~streaks"]
        parts = [
            {"material": "lacquer_clear", "role": "paint", "amount": 1},
            {"material": "mild_thinner", "role": "thinner", "amount": 1.5},
        ]
        after = self.changed(edit="set_field", step_id="matt", field="mix", value={"parts": parts})
        mild = after.seams["matt~hull~streaks"]
        assert mild.opens_careful_min is not None and before.opens_careful_min is not None
        self.assertLess(mild.opens_careful_min, before.opens_careful_min - 1000)
        self.assertEqual(before.findings[0].mechanism, "wrinkle")

    def test_time_and_temperature_change_the_wait(self) -> None:
        later = self.changed(edit="set_field", step_id="mask-band", field="wait_min", value=900)
        self.assertEqual(later.seams["mask-band~funnel~ochre"].verdict.value, "sound")
        opens = {}
        for temp in (12, 20, 30):
            air = {"day": {"temp_c": temp, "rh_pct": 55}}
            seam = self.changed(edit="set_air", air=air).seams["mask-band~funnel~ochre"]
            opens[temp] = (seam.opens_careful_min or seam.at_min) - seam.at_min
        self.assertGreater(opens[12], opens[20])
        self.assertGreater(opens[20], opens[30])

    def test_remedies_alone_lead_to_a_plan_in_which_nothing_clashes_or_waits(self) -> None:
        current = tug()
        for _ in range(14):
            a = assess(current)
            bad = [s for s in a.stories if s.verdict.value in ("clash", "wait")]
            if not bad:
                break
            found = remedies(current, bad[0].seams[0])
            self.assertTrue(found, bad[0])
            current, _ = apply(current, parse_edits(found[0].edits))
        self.assertFalse(bad, [s.sentence for s in bad])
        self.assertEqual(assess(current).score.missed, 0)

    def test_every_remedy_mends_its_seam_and_makes_no_new_clash(self) -> None:
        a = assess(tug())
        for story in a.stories:
            if story.verdict.value == "caution":
                continue
            for remedy in remedies(tug(), story.seams[0]):
                with self.subTest(story=story.upper_step, remedy=remedy.title):
                    after = assess(apply(tug(), parse_edits(remedy.edits))[0])
                    clashes = {s.id for s in after.seams.values() if s.verdict.value == "clash"}
                    self.assertLessEqual(clashes, {s.id for s in a.seams.values() if s.verdict.value == "clash"})
                    mended = after.seams.get(story.seams[0])
                    if mended is not None:
                        self.assertLess(mended.verdict.grave, story.verdict.grave)
                    self.assertLess(remedy.after.order, remedy.before.order)

    def test_the_terminal_tells_the_same_story(self) -> None:
        text = report(tug(), assess(tug()))
        self.assertIn("2 clashes", text)
        self.assertIn("wrinkles", text)
        self.assertIn("data sheet", text)


class Any(TestCase):
    def test_remembered_results_equal_fresh_ones(self) -> None:
        made = parse_plan(tall_json(40))
        warm = assess(made)
        warm_again = assess(apply(made, parse_edits([_field("s7", "passes", 3)]))[0])
        forget()
        self.assertEqual(assess(made).model_dump(), warm.model_dump())
        forget()
        cold_again = assess(apply(made, parse_edits([_field("s7", "passes", 3)]))[0])
        self.assertEqual(cold_again.model_dump(), warm_again.model_dump())

    def test_a_part_of_the_zones_gives_that_part_of_the_whole(self) -> None:
        made = parse_plan(tall_json(30))
        whole, part = assess(made), assess(made, zones=["z1"])
        self.assertEqual(
            {i: s.model_dump() for i, s in whole.seams.items() if s.zone_id == "z1"},
            {i: s.model_dump() for i, s in part.seams.items()},
        )

    def test_the_first_answer_of_a_long_plan_agrees_with_the_whole_one(self) -> None:
        made = parse_plan(tall_json(120))
        forget()
        whole = assess(made, opens=False)
        forget()
        for step, zone in (("s60", "z3"), ("s57", "z2"), ("s0", "z0"), ("s116", "z4")):
            coats, seams, ids = assess_near(made, zone, step)
            self.assertIn(step, ids)
            for key, coat_ in coats.items():
                self.assertEqual(coat_, whole.coats[key])
            for key, seam in seams.items():
                self.assertEqual(seam, whole.seams[key])
            expected = {k for k, s in whole.seams.items() if s.zone_id == zone and s.upper_step in ids}
            self.assertEqual(set(seams), expected)

    def test_it_comes_back_from_json(self) -> None:
        data = json.loads(assess(tug()).model_dump_json())
        self.assertEqual(set(data["seams"]["matt~hull~streaks"]) >= {"verdict", "sentence", "basis"}, True)

    @settings(max_examples=at_length(6, 20))
    @given(st.integers(0, 10**6))
    def test_nothing_that_validates_crashes(self, seed: int) -> None:
        rng, made = random.Random(seed), []
        for i in range(8):
            material = rng.choice(sorted(K.coats))
            made.append(
                coat(
                    f"c{i}",
                    material,
                    rng.choice([0, 1, 30, 600, 9000, 500000]),
                    method=rng.choice([m.value for m in Method]),
                    passes=rng.randint(1, 30),
                    dry_film_um=rng.choice([0.01, 1, 20, 1000]),
                    coverage=rng.choice([0.01, 0.3, 1.0]),
                    sheen=rng.choice(["gloss", "satin", "matt"]),
                )
            )
            thinner = rng.choice(sorted(K.thinners))
            if rng.random() < 0.6:
                part = [{"material": material, "role": "paint", "amount": rng.choice([0.001, 1, 100000])}]
                part.append({"material": thinner, "role": "thinner", "amount": rng.choice([0.001, 1, 100000])})
                made[-1]["mix"] = {"parts": part}
            made.append(
                {
                    "kind": "working", "id": f"w{i}", "name": "w", "zones": ["side"],
                    "action": rng.choice(["wipe", "blend", "streak", "chip", "scrape"]), "acts_on": f"c{i}",
                    "carrier": rng.choice([None, thinner]), "method": rng.choice(["scrub", "dry_tool", "wet_wipe"]),
                }
            )  # fmt: skip
        air = {"day": {"temp_c": rng.choice([-10, 15, 60]), "rh_pct": rng.choice([0, 50, 100])}}
        data = plan_json(made, air=air, build={"base_material": rng.choice(sorted(K.substrates))})
        try:
            plan_ = parse_plan(data)
        except PlanError:
            return
        a = assess(plan_)
        self.assertTrue(report(plan_, a))
        for seam in rng.sample(list(a.seams.values()), 1):
            remedies(plan_, seam.id)

    def test_an_unknown_seam_is_said_to_be_unknown(self) -> None:
        for bad in ("", "x", "matt~hull", "no~hull~base", "matt~nowhere~base"):
            with self.assertRaises(NotThere):
                remedies(tug(), bad)

    def test_an_empty_plan_has_nothing_wrong(self) -> None:
        a = assess(plan([]))
        self.assertEqual((a.seams, a.score.clashes, a.end_min), ({}, 0, 0.0))


def _field(step: str, field: str, value: object) -> dict[str, object]:
    return {"edit": "set_field", "step_id": step, "field": field, "value": value}
