"""Ways out and ways back: rescue agrees with seams, remedies mend, what is offered holds when it is done."""

import json
from datetime import datetime, timedelta
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import NotThere, PlanError
from emvar_core.knowledge import knowledge
from emvar_core.plan import (
    CoatStep,
    Plan,
    apply,
    default_mix,
    minutes_since_start,
    parse_edits,
    parse_plan,
    parse_step,
    step_times,
)
from emvar_core.plan.edits import AddStep, SetTrials
from emvar_core.vocabulary import FilmClass, Rescued, Urgency, Verdict
from emvar_core.ways.faults import diagnose
from emvar_core.ways.mend import make_undoable, mend, mended_and_undoable, undoable_states
from emvar_core.ways.overlay import over, under
from emvar_core.ways.park import park
from emvar_core.ways.remedies import remark_remedies, remedies
from emvar_core.ways.rescue import rescue, undo_reach, wipe_now
from emvar_core.ways.substitutes import substitutes
from emvar_core.ways.trial import scrap_test
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.builders import DAY, ROOT, coat, mix, plan, tug
from tests.lengths import at_length
from tests.reference.test_seam_cases import case_plan, cases, told

K = knowledge()
BASES = ["lacquer_colour", "alcohol_acrylic_clear", "waterborne_colour", "enamel_colour", "lacquer_clear"]
TOPS = [
    "enamel_wash",
    "artists_oil",
    "clay_wash",
    "waterborne_colour",
    "dry_pigment",
    "alcohol_acrylic_colour",
    "decal",
]
BY_ID = {m.id: m for m in K.means}


def crane() -> Plan:
    return parse_plan(json.loads((ROOT / "demo" / "quay-crane.json").read_text(encoding="utf-8")))


def bad(made: Plan) -> list[Any]:
    return [s for s in assess(made).stories if s.verdict in (Verdict.CLASH, Verdict.WAIT)]


class Limits(TestCase):
    def test_a_mending_that_is_stopped_keeps_what_it_found_takes_no_further_seam_and_says_so(self) -> None:
        whole, one = mend(tug()), mend(tug(), lambda looked_at: looked_at < 1)
        self.assertGreater(len(whole.made), 1)
        self.assertEqual(one.made, whole.made[:1])
        self.assertIn("Stopped", one.left[0])
        self.assertNotIn("Stopped", " ".join(whole.left))

    def test_what_was_looked_at_is_counted_on_from_mending_to_making_undoable(self) -> None:
        counted: list[int] = []

        def go_on(looked_at: int) -> bool:
            counted.append(looked_at)
            return True

        # The enamel waits for its ground; specks of oil on it come off it only after some days more.
        specks = {"method": "speckle", "coverage": 0.1}
        steps = [
            coat("p", "lacquer_primer"),
            coat("a", "enamel_colour", 1),
            coat("b", "artists_oil", 2 * DAY, **specks),
        ]
        made = plan(steps, build={"base_material": "resin"})
        both = mended_and_undoable(made, go_on)
        self.assertLess(0, len(mend(made).made))
        self.assertLess(len(mend(made).made), len(both.made))
        self.assertEqual(counted, list(range(len(both.made))))


class Rescues(TestCase):
    @settings(max_examples=at_length(15, 60))
    @given(st.sampled_from(BASES), st.sampled_from(TOPS), st.floats(0.2, 30), st.floats(0.02, 6))
    def test_what_rescue_calls_clean_the_seams_call_sound(
        self, below: str, top: str, age_days: float, later_days: float
    ) -> None:
        steps = [coat("a", below), coat("b", top, age_days * DAY)]
        made = plan(steps, build={"base_material": "resin"})
        at = step_times(made)["b"].end_min + later_days * DAY
        for way in rescue(made, "b", "side", at).ways:
            if way.means == "by_hand":
                continue
            means = BY_ID[way.means]
            if means.carrier is None or way.along:
                continue
            wipe = {
                "kind": "working", "id": "w", "name": "w", "zones": ["side"], "action": "wipe", "acts_on": "b",
                "carrier": means.carrier, "method": means.method.value, "wait_min": later_days * DAY, "hands_on_min": 0,
            }  # fmt: skip
            worked = plan([*steps, wipe], build={"base_material": "resin"})
            seams = [s for s in assess(worked).seams.values() if s.upper_step == "w" and s.lower_step != "b"]
            sound = all(s.verdict is Verdict.SOUND for s in seams)
            clean = way.state is Rescued.CLEAN or (way.effort and not way.harms)
            self.assertEqual(clean, sound, (way.means, [s.sentence for s in seams]))

    def test_an_enamel_wash_comes_off_lacquer_clean_until_it_has_set(self) -> None:
        made = plan([coat("g", "lacquer_clear", sheen="gloss"), coat("w", "enamel_wash", 2 * DAY)])
        laid = step_times(made)["w"].end_min
        soon, late = rescue(made, "w", "side", laid + 60), rescue(made, "w", "side", laid + 5 * DAY)
        self.assertEqual((soon.state, late.state), (Rescued.CLEAN, Rescued.NONE))
        assert soon.until is not None and soon.until.best is not None
        self.assertGreater(soon.until.best, laid + 12 * 60)
        self.assertLess(soon.until.best, laid + 3 * DAY)

    def test_alcohol_over_an_acrylic_base_is_no_rescue(self) -> None:
        made = plan([coat("b", "alcohol_acrylic_colour"), coat("c", "waterborne_colour", 3 * DAY, coverage=0.1)])
        told = rescue(made, "c", "side", step_times(made)["c"].end_min + 3 * DAY)
        self.assertNotEqual(told.state, Rescued.CLEAN)
        self.assertIn("b", {h.step_id for way in told.ways for h in way.harms})

    def test_what_would_be_hurt_is_named_and_not_what_lies_sparsely_over_it(self) -> None:
        steps = [
            coat("clear", "waterborne_clear", sheen="gloss", coverage=1.0),
            coat("chips", "lacquer_colour", 60, coverage=0.2, method="sponge"),
            coat("wash", "enamel_wash", 14 * 60),
        ]
        ways = {w.means: w for w in rescue(plan(steps), "wash", "side", 16 * 60).ways}
        hurt = {h.step_id for h in ways["spirit_wet"].harms if h.word == "too early"}
        self.assertEqual(hurt, {"clear"})

    def test_a_two_pack_clear_never_comes_off_but_by_abrasion(self) -> None:
        made = plan([coat("b", "lacquer_primer"), coat("c", "two_pack_clear", 2 * DAY)])
        told = rescue(made, "c", "side", step_times(made)["c"].end_min + 10 * DAY)
        self.assertEqual((told.state, [w.means for w in told.ways]), (Rescued.CARE, ["by_hand"]))
        self.assertIn("abrasive", told.sentence)
        self.assertIn("abrasion", told.last_resort)

    def test_a_young_enamel_comes_off_with_spirit_and_an_old_one_with_nothing_wet(self) -> None:
        """Easily within hours, with effort for a day or two, reluctantly for some days, then not at all."""
        told = []
        for days in (0.1, 1.0, 2.5, 12, 60):
            made = plan([coat("p", "lacquer_primer"), coat("e", "enamel_colour", 3 * DAY)])
            ways = {w.means: w for w in rescue(made, "e", "side", step_times(made)["e"].end_min + days * DAY).ways}
            spirit = ways.get("spirit_damp")
            told.append((spirit is not None and spirit.state.value, spirit is not None and spirit.effort))
        self.assertEqual(told, [("clean", False), ("clean", False), ("care", True), (False, False), (False, False)])

    def test_spirit_over_a_young_enamel_is_not_called_clean(self) -> None:
        made = plan([coat("e", "enamel_colour"), coat("w", "enamel_wash", 2 * DAY)], build={"base_material": "resin"})
        at = step_times(made)["w"].end_min
        self.assertNotEqual(rescue(made, "w", "side", at + 30).state, Rescued.CLEAN)
        old = plan([coat("e", "enamel_colour"), coat("w", "enamel_wash", 14 * DAY)], build={"base_material": "resin"})
        self.assertEqual(rescue(old, "w", "side", step_times(old)["w"].end_min + 30).state, Rescued.CLEAN)

    def test_a_colour_goes_with_its_medium_while_it_can_be_chipped(self) -> None:
        steps = [coat("c", "lacquer_clear"), coat("m", "hairspray", DAY), coat("top", "waterborne_colour", 15)]
        made = plan([*steps[:2], steps[2] | {"dry_film_um": 8}])
        laid = step_times(made)["top"].end_min
        soon, late = rescue(made, "top", "side", laid + 30), rescue(made, "top", "side", laid + 40 * DAY)
        self.assertEqual((soon.state, soon.ways[0].along), (Rescued.CLEAN, ["m"]))
        self.assertFalse(any(w.means.startswith("water") for w in late.ways))

    def test_marks_that_come_off_only_together_are_said_to(self) -> None:
        steps = [
            coat("c", "lacquer_clear", sheen="gloss"), coat("w", "enamel_wash", 2 * DAY, coverage=0.4),
            coat("o", "artists_oil", 30, coverage=0.2),
        ]  # fmt: skip
        made = plan(steps)
        told = rescue(made, "o", "side", step_times(made)["o"].end_min + 15)
        self.assertEqual((told.state, told.ways[0].along), (Rescued.CARE, ["w"]))
        self.assertIn("together with “w”", told.sentence)

    def test_nobody_wipes_down_to_bare_plastic_with_a_thinner_that_bites_it(self) -> None:
        for base, bitten in (("polystyrene", True), ("resin", False)):
            made = plan([coat("p", "lacquer_colour")], build={"base_material": base})
            mild = next(w for w in rescue(made, "p", "side", 5 * DAY).ways if w.means == "mild")
            self.assertEqual(mild.state is Rescued.NONE, bitten, base)

    def test_what_lies_beside_is_neither_over_it_nor_in_the_way(self) -> None:
        edges = coat("e", "waterborne_colour", DAY, coverage=0.05, place="edges", method="sponge", dry_film_um=4)
        made = plan([coat("c", "lacquer_clear"), coat("w", "enamel_wash", DAY, coverage=0.1, place="recesses"), edges])
        told = rescue(made, "w", "side", step_times(made)["e"].end_min + 60)
        self.assertEqual(told.over, [])

    def test_the_reach_goes_down_from_the_top_without_a_gap(self) -> None:
        for at in (3000, 4200, 6000, 9300):
            for zone in tug().zones:
                reach = undo_reach(tug(), zone.id, at)
                laid = [s.id for s in tug().steps if isinstance(s, CoatStep) and zone.id in s.zones
                        and step_times(tug())[s.id].end_min <= at]  # fmt: skip
                self.assertEqual(reach.undoable, laid[::-1][: len(reach.undoable)])

    def test_the_strongest_wipe_stops_at_what_it_names_and_harms_nothing(self) -> None:
        steps = [coat("c", "waterborne_colour"), coat("g", "lacquer_clear", 5 * DAY, sheen="gloss")]
        made = plan([*steps, coat("w", "enamel_wash", 2 * DAY)])
        told = wipe_now(made, "side", step_times(made)["w"].end_min + 60)
        self.assertEqual((told.removes, told.cuts_to), (["w"], "g"))
        self.assertIsNotNone(told.next_harm)

    def test_what_is_not_there_yet_is_said_so_and_what_never_is_is_an_error(self) -> None:
        self.assertEqual(rescue(tug(), "matt", "hull", 10).state, Rescued.NOT_YET)
        for step, zone in (("nope", "hull"), ("matt", "nowhere"), ("wipe", "hull")):
            with self.assertRaises(NotThere):
                rescue(tug(), step, zone, 10)


class Mending(TestCase):
    def test_both_demos_are_led_to_a_plan_with_no_clash_by_what_is_offered(self) -> None:
        for made in (tug(), crane()):
            with self.subTest(build=made.build.name):
                self.assertTrue(bad(made))
                version = mend(made)
                after, inverse = apply(made, parse_edits(version.edits))
                self.assertEqual((bad(after), version.left), ([], []))
                self.assertEqual(apply(after, inverse)[0], made)
                self.assertEqual(assess(after).score, version.after)

    def test_every_clash_and_missed_window_of_both_demos_has_a_remedy_that_removes_it(self) -> None:
        for made in (tug(), crane()):
            for story in bad(made):
                found = remark_remedies(made, story.remark) if story.remark else remedies(made, story.seams[0])
                self.assertTrue(found, (made.build.name, story.upper_step, story.word))

    def test_the_table_s_clashes_have_a_remedy_or_a_trial_and_no_remedy_makes_anything_worse(self) -> None:
        none = []
        for case in cases():
            seam = told(case)
            if seam.verdict is not Verdict.CLASH:
                continue
            made = case_plan(case)
            found = remedies(made, seam.id)
            if not found:
                none.append(case.name)
                self.assertTrue(scrap_test(made, seam.id).do, case.name)
            for remedy in found[:3]:
                after = assess(apply(made, parse_edits(remedy.edits))[0])
                self.assertLess(after.score.order, assess(made).score.order, (case.name, remedy.title))
                now = after.seams.get(seam.id)
                if now is not None:
                    self.assertLess(now.verdict.grave, seam.verdict.grave, (case.name, remedy.title))
        self.assertLessEqual(len(none), 1, none)

    def test_no_remedy_proposes_two_pack_or_heat(self) -> None:
        for made in (tug(), crane()):
            for story in assess(made).stories:
                for remedy in remedies(made, story.seams[0]) if story.seams else []:
                    text = json.dumps(remedy.edits)
                    self.assertNotIn("two_pack", text)
                    self.assertNotIn("warm_air", text)

    def test_remarks_are_settled_too(self) -> None:
        curdled = plan([coat("x", "waterborne_colour", mix=mix("waterborne_colour", "white_spirit"))])
        found = remark_remedies(curdled, "x~cup")
        self.assertEqual(found[0].title, "Mix it as usual")
        self.assertEqual(assess(apply(curdled, parse_edits(found[0].edits))[0]).remarks, [])
        with self.assertRaises(NotThere):
            remark_remedies(curdled, "x~nothing")

    def test_a_series_of_effects_is_made_undoable_by_the_fewest_layers(self) -> None:
        """Oil over a young wash cannot come off alone; a wait or a clear lets it."""
        steps = [
            coat("g", "lacquer_clear", sheen="satin"),
            coat("wash", "enamel_wash", 2 * DAY),
            coat("oil", "artists_oil", 300),
        ]
        made = plan(steps, build={"base_material": "resin"})
        states = {u.step_id: u.state for u in undoable_states(made)}
        self.assertEqual(states["wash"], Rescued.CLEAN)
        self.assertNotEqual(states["oil"], Rescued.CLEAN)
        version = make_undoable(made)
        after, _ = apply(made, parse_edits(version.edits))
        self.assertTrue(all(u.state is Rescued.CLEAN for u in undoable_states(after)), version.left)
        self.assertLessEqual(version.added_coats, 1)


class Offered(TestCase):
    def test_what_may_go_over_now_is_sound_when_it_is_laid(self) -> None:
        made = plan([coat("p", "lacquer_primer"), coat("c", "waterborne_colour", DAY, sheen="gloss")])
        at = step_times(made)["c"].end_min + 5 * DAY
        offered = over(made, "side", at)
        self.assertEqual({o.material for o in offered}, set(K.coats) - {"unknown_paint"})
        ranks = [["sound", "wait", "caution", "clash"].index(o.verdict.value) for o in offered]
        self.assertEqual(ranks, sorted(ranks))
        for o in offered:
            usual = default_mix(K, o.material)
            step = parse_step(
                coat("x", o.material, 5 * DAY, hands_on_min=20, **({"mix": usual.model_dump()} if usual else {}))
            )
            after, _ = apply(made, [AddStep(step=step, index=2)])
            worst = max(s.verdict.grave for s in assess(after).seams.values() if s.upper_step == "x")
            self.assertEqual(worst, o.verdict.grave, o.material)

    def test_later_means_later(self) -> None:
        made = plan([coat("p", "lacquer_clear", sheen="gloss")])
        offered = {o.material: o for o in over(made, "side", 20)}
        wash = offered["enamel_wash"]
        self.assertEqual(wash.verdict, Verdict.WAIT)
        assert wash.opens_min is not None
        again = {o.material: o for o in over(made, "side", wash.opens_min + 5)}
        self.assertEqual(again["enamel_wash"].verdict, Verdict.SOUND)

    def test_a_decal_wants_gloss_under_it(self) -> None:
        made = plan([coat("p", "lacquer_clear", sheen="matt"), coat("d", "decal", DAY)])
        grounds = under(made, "d")
        good = {u.sheen.value for u in grounds if u.verdict is Verdict.SOUND}
        self.assertEqual(good, {"gloss"})
        picture = [u for u in under(plan([coat("w", "enamel_wash")]), "w") if u.material == "picture_varnish"]
        self.assertTrue(all(u.verdict is Verdict.CLASH for u in picture))

    def test_substitutes_hold_in_the_cup_and_tell_what_changes(self) -> None:
        found = substitutes(tug(), "matt", "hot_thinner")
        self.assertEqual(found[0].title, "Mild levelling thinner")
        self.assertNotIn("White spirit", [s.title for s in found])
        orders = [(bool(s.doubt), s.after.order) for s in found]
        self.assertEqual(orders[1:], sorted(orders[1:]))  # behind what people who use this paint have on the shelf
        for s in substitutes(tug(), "pin-wash", "enamel_wash"):
            self.assertNotIn("dry_pigment", json.dumps(s.edits))
            self.assertTrue(s.windows and s.rescue_sentence)
        with self.assertRaises(NotThere):
            substitutes(tug(), "matt", "water")


class Trials(TestCase):
    def tried(self, passed: bool) -> tuple[Plan, str]:
        steps = [coat("u", "unknown_paint"), coat("c", "waterborne_colour", 30 * DAY)]
        made = plan(steps)
        seam = "c~side~u"
        test = scrap_test(made, seam)
        return apply(made, [SetTrials(trials=[test.passed if passed else test.failed])])[0], seam

    def test_a_pass_settles_a_doubt_and_a_fail_makes_it_a_clash(self) -> None:
        made, seam = self.tried(True)
        told = assess(made).seams[seam]
        self.assertEqual((told.verdict, told.basis), (Verdict.SOUND, "trial"))
        made, seam = self.tried(False)
        self.assertEqual(assess(made).seams[seam].verdict, Verdict.CLASH)
        self.assertEqual(assess(made).score.clashes, 1)

    def test_another_recipe_or_age_and_the_trial_no_longer_counts(self) -> None:
        made, seam = self.tried(True)
        for field, value in (("dry_film_um", 40), ("wait_min", 3 * DAY)):
            edit = {"edit": "set_field", "step_id": "c", "field": field, "value": value}
            changed, _ = apply(made, parse_edits([edit]))
            self.assertNotEqual(assess(changed).seams[seam].basis, "trial", field)
            self.assertFalse(scrap_test(changed, seam).entered_holds)
        self.assertTrue(scrap_test(made, seam).entered_holds)

    def test_a_pass_against_a_clear_cut_clash_leaves_a_caution(self) -> None:
        steps = [coat("oil", "artists_oil", dry_film_um=25, coverage=1.0), coat("matt", "lacquer_clear", 7 * DAY)]
        steps[1]["mix"] = mix("lacquer_clear", "hot_thinner", 1, 1.5)
        bare = plan(steps, build={"base_material": "resin"})
        test = scrap_test(bare, "matt~side~oil")
        made, inverse = apply(bare, [SetTrials(trials=[test.passed])])
        self.assertEqual(assess(made).seams["matt~side~oil"].verdict, Verdict.CAUTION)
        self.assertEqual(apply(made, inverse)[0], bare)

    def test_the_piece_carries_what_matters_and_the_liquid_that_is_asked_about(self) -> None:
        steps = [
            coat("primer", "lacquer_primer"),
            coat("colour", "lacquer_colour", 30 * DAY),
            coat("gloss", "alcohol_acrylic_clear", 60),
            coat("specks", "waterborne_colour", DAY, coverage=0.02),
            coat("wash", "enamel_wash", 30),
            {"kind": "working", "id": "wipe", "name": "wipe", "zones": ["side"], "acts_on": "wash", "action": "wipe",
             "carrier": "odourless_spirit", "method": "damp_wipe", "wait_min": 30},
            coat("matt", "lacquer_clear", 60),
        ]  # fmt: skip
        made = plan(steps)

        def laid(seam: str) -> list[str]:
            test = scrap_test(made, seam)
            return [i for i in (s["id"] for s in steps) if any(f"“{made.step(i).name}”" in do for do in test.do)]

        self.assertEqual(laid("gloss~side~colour"), ["primer", "colour", "gloss"])  # the old primer is ground enough
        self.assertEqual(laid("matt~side~wash"), ["colour", "gloss", "wash", "wipe", "matt"])  # no specks
        needs = scrap_test(made, "wipe~side~wash").needs
        self.assertTrue(any("odourless spirit" in n for n in needs), needs)
        steps[0] |= {"dry_film_um": 3, "coverage": 0.95}
        steps[1] |= {"mix": mix("lacquer_colour", "hot_thinner", 1, 3), "method": "wet_spray"}
        made = plan(steps)
        self.assertIsNone(assess(made).seams["colour~side~primer"].responsible)
        self.assertEqual(laid("colour~side~primer"), ["primer", "colour"])  # not on bare plastic: it gets there through
        self.assertEqual(laid("colour~side~base"), ["colour"])  # in the gaps it does meet it bare

    def test_a_trial_of_no_step_is_refused_and_a_step_with_one_is_not_removed(self) -> None:
        made, _ = self.tried(True)
        with self.assertRaises(PlanError):
            apply(made, parse_edits([{"edit": "remove_step", "step_id": "c"}]))
        ghost = made.trials[0].model_copy(update={"upper": "nobody"})
        with self.assertRaises(PlanError) as caught:
            apply(made, [SetTrials(trials=[ghost])])
        self.assertEqual(caught.exception.problems[0].where, "trials[0].upper")


class Parking(TestCase):
    def words(self, at: float, back: float | None = None) -> dict[str, Urgency]:
        return {f"{i.step_id}:{i.what}": i.urgency for i in park(tug(), at, back).items}

    def test_a_wash_opened_on_sunday_with_the_next_sitting_on_thursday(self) -> None:
        at = step_times(tug())["pin-wash"].end_min + 5
        self.assertEqual(self.words(at, at + 4 * DAY)["pin-wash:wipe first"], Urgency.NOW)
        self.assertNotIn("pin-wash:wipe first", self.words(at, at + 240))
        self.assertFalse(park(tug(), at, at + 4 * DAY).safe)

    def test_a_live_medium_a_mask_and_loose_pigment_are_told(self) -> None:
        t = step_times(tug())
        self.assertIn("hairspray:gets harder", self.words(t["worn-grey"].end_min + 5))
        self.assertIn("mask-band:mask on", self.words(t["black-top"].end_min + 5))
        self.assertIn("dust:loose", self.words(t["dust"].end_min + 5))
        self.assertIn("streaks:under way", self.words(t["streaks"].start_min + 5))

    def test_one_is_back_at_the_next_sitting_of_the_hours_or_after_two_days(self) -> None:
        def back(made: Plan, wall: str) -> tuple[str, bool]:
            parked = park(made, minutes_since_start(made, datetime.fromisoformat(wall)))
            then = made.build.starts_at + timedelta(minutes=parked.back_min)
            return then.astimezone(made.build.tz).strftime("%a %H:%M"), parked.next_sitting

        hours = {"weekly": [{"days": ["thu", "sun"], "start": "19:00", "length_min": 120}]}
        made = plan([coat("p", "lacquer_primer")], hours=hours)
        self.assertEqual(back(made, "2026-11-29T21:00Z"), ("Thu 19:00", True))
        self.assertEqual(back(made, "2026-12-03T18:30Z"), ("Thu 19:00", True))
        self.assertEqual(back(made, "2026-12-03T18:55Z"), ("Sun 19:00", True))  # that one has as good as begun
        self.assertEqual(back(plan([coat("p", "lacquer_primer")]), "2026-11-29T21:00Z"), ("Tue 21:00", False))
        never = plan([coat("p", "lacquer_primer")], hours={"weekly": []})
        self.assertEqual(back(never, "2026-11-29T21:00Z"), ("Tue 21:00", False))

    def test_where_nothing_is_live_one_can_stop(self) -> None:
        parked = park(plan([coat("p", "lacquer_primer")]), 10 * DAY)
        self.assertEqual((parked.safe, parked.items), (True, []))


def laid(*steps: dict[str, Any], **more: Any) -> Plan:
    return plan(list(steps), **more)


COLD = {"air": {"day": {"temp_c": 8, "rh_pct": 60}}}
DAMP = {"air": {"day": {"temp_c": 20, "rh_pct": 80}}}
HOT = {"air": {"day": {"temp_c": 31, "rh_pct": 45}}}
HOT_MIX = mix("lacquer_clear", "hot_thinner", 1, 2)
RESIN = {"build": {"base_material": "resin"}}
# Twenty faults as a modeller would describe them: what it looks like, what the plan did, the likeliest cause.
FAULTS: list[tuple[str, str, Plan, str]] = [
    ("white over the hull after spraying lacquer on a damp evening", "white_bloom",
     laid(coat("x", "lacquer_clear", mix=HOT_MIX), **DAMP, **RESIN), "blush"),
    ("matt clear frosted white in the recesses", "white_bloom",
     laid(coat("p", "lacquer_colour"), coat("x", "waterborne_clear", 2 * DAY, sheen="matt", method="wet_spray",
          dry_film_um=30, passes=1), **DAMP), "frost"),
    ("pale powdery paint from a cold shed", "white_bloom",
     laid(coat("p", "lacquer_primer"), coat("x", "waterborne_colour", DAY), **COLD), "not_fused"),
    ("lacquer crinkled over enamel", "wrinkle",
     laid(coat("e", "enamel_colour"), coat("x", "lacquer_clear", DAY, mix=HOT_MIX), **RESIN), "half_cured"),
    ("second enamel coat crinkled the first", "wrinkle",
     laid(coat("e", "enamel_colour"), coat("x", "enamel_colour", DAY), **RESIN), "half_cured"),
    ("paint crawls on an unwashed resin part", "fish_eye",
     laid(coat("x", "waterborne_colour"), build={"base_material": "resin_unwashed"}), "grease"),
    ("clear beads over oil streaks", "fish_eye",
     laid(coat("g", "lacquer_clear", sheen="satin"), coat("o", "artists_oil", DAY, coverage=0.6),
          coat("x", "waterborne_clear", 300), **RESIN), "oily_film"),
    ("chipping medium stands in beads", "fish_eye",
     laid(coat("p", "lacquer_colour"), coat("x", "chipping_medium", 2 * DAY, method="flood"), **RESIN), "medium_beads"),
    ("tape took the fresh paint with it", "lifted_edge",
     laid(coat("p", "lacquer_primer"), coat("x", "waterborne_colour", DAY), {"kind": "fitting", "id": "m", "name": "m",
          "zones": ["side"], "action": "mask", "wait_min": 240, "hands_on_min": 5}), "tape_soft"),
    ("paint peels from bare brass", "lifted_edge",
     laid(coat("x", "waterborne_colour"), build={"base_material": "brass"}), "no_hold"),
    ("a ring where the wash dried", "tide_mark",
     laid(coat("g", "lacquer_clear", sheen="gloss"), coat("x", "enamel_wash", DAY), **RESIN), "dried_edge"),
    ("blotchy wash on matt paint", "tide_mark",
     laid(coat("g", "lacquer_clear", sheen="matt"), coat("x", "enamel_wash", DAY), **RESIN), "matt_soak"),
    ("enamel still sticky in a cold room after two days", "tacky",
     laid(coat("p", "lacquer_primer"), coat("x", "enamel_colour", DAY), **COLD), "slow_cure"),
    ("paint over soft vinyl never dries", "tacky",
     laid(coat("x", "waterborne_colour", dry_film_um=10), coat("y", "enamel_colour", 3 * DAY),
          build={"base_material": "soft_vinyl"}), "plasticiser"),
    ("a shadow stays after wiping on matt", "ghost",
     laid(coat("g", "lacquer_clear", sheen="matt"), coat("x", "enamel_wash", DAY), **RESIN), "matt_below"),
    ("the wash no longer wipes after three days", "ghost",
     laid(coat("g", "lacquer_clear", sheen="gloss"), coat("x", "enamel_wash", DAY), {"kind": "working", "id": "w",
          "name": "w", "zones": ["side"], "action": "wipe", "acts_on": "x", "carrier": "odourless_spirit",
          "method": "damp_wipe", "wait_min": 3 * DAY, "hands_on_min": 10}, **RESIN), "too_late"),
    ("silver under a decal on matt paint", "silvering",
     laid(coat("m", "lacquer_colour", sheen="matt"), coat("x", "decal", 2 * DAY), **RESIN), "matt"),
    ("gritty paint sprayed on a hot day", "dust",
     laid(coat("p", "lacquer_primer"), coat("x", "lacquer_colour", DAY), **HOT), "dry_spray"),
    ("the plastic crackled under hot lacquer", "crack",
     laid(coat("x", "lacquer_primer", method="wet_spray", mix=mix("lacquer_primer", "hot_thinner", 1, 2))), "plastic"),
    ("white turned pink over red", "bleed",
     laid(coat("r", "dye_red_lacquer"), coat("x", "lacquer_colour", DAY), **RESIN), "dye"),
]  # fmt: skip


class Faults(TestCase):
    def test_twenty_described_faults(self) -> None:
        self.assertEqual(len(FAULTS), 20)
        for words, appearance, made, cause in FAULTS:
            with self.subTest(words):
                step = "y" if any(s.id == "y" for s in made.steps) else "x"
                at = max(t.end_min for t in step_times(made).values()) + (2 * DAY if appearance == "tacky" else 30)
                found = diagnose(made, step, "side", appearance, at)
                self.assertEqual(found.causes[0].id, cause, [(c.id, c.weight, c.because) for c in found.causes])

    def test_causes_that_the_coat_cannot_have_are_left_out(self) -> None:
        made = laid(coat("x", "dry_pigment"))
        self.assertEqual(diagnose(made, "x", "side", "silvering", 60).causes, [])
        for key in K.faults:
            weights = [c.weight for c in diagnose(tug(), "matt", "hull", key, 9000).causes]
            self.assertEqual(weights, sorted(weights, reverse=True))
            if weights:
                self.assertAlmostEqual(sum(weights), 1, places=2)

    def test_every_cause_says_what_to_do_this_minute_and_what_not(self) -> None:
        films = {f.value for f in FilmClass}
        for fault in K.faults.values():
            for cause in fault.causes:
                for text in (cause.now, cause.dont, cause.mend, cause.avoid):
                    self.assertGreater(len(text), 8)
                self.assertLessEqual(set(cause.needs.get("film", [])), films)
        with self.assertRaises(NotThere):
            diagnose(tug(), "matt", "hull", "haunted", 10)
