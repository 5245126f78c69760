"""Hands and beginnings: abrasive, softener, wetting, washing, turning over; masks; what is there already; limits."""

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.plan import Plan, at, parse_plan
from emvar_core.schedule.net import What, net_of
from emvar_core.seams.places import SHARE_OF_ZONE
from emvar_core.vocabulary import Place, Verdict

from tests.builders import DAY, coat, mix, plan, plan_json


def work(step_id: str, action: str, on: str, wait_min: float, **more: Any) -> dict[str, Any]:
    base = {"kind": "working", "id": step_id, "name": step_id, "zones": ["side"], "action": action, "acts_on": on}
    return base | {"wait_min": wait_min, "hands_on_min": 10, "method": "dry_tool", "leaves": 0.95} | more


def fit(step_id: str, action: str, wait_min: float = 0, **more: Any) -> dict[str, Any]:
    base = {"kind": "fitting", "id": step_id, "name": step_id, "zones": ["side"], "action": action}
    return {**base, "wait_min": wait_min, "hands_on_min": 0, **more}


def verdict_of(made: Plan, upper: str, lower: str | None) -> tuple[Verdict, str]:
    seams = assess(made).seams
    seam = next(s for s in seams.values() if (s.upper_step, s.lower_step) == (upper, lower))
    return seam.verdict, seam.word


class Abrasive(TestCase):
    def test_sanding_waits_until_the_coat_bears_a_hand_and_cannot_be_undone(self) -> None:
        for wait, verdict in ((15, Verdict.WAIT), (2 * DAY, Verdict.SOUND)):
            made = plan([coat("a", "lacquer_primer", dry_film_um=30), work("s", "sand", "a", wait)])
            self.assertEqual(verdict_of(made, "s", "a")[0], verdict)
        notes = {n.caution for n in assess(made).notes if n.step_id == "s"}
        self.assertLessEqual({"abraded", "dust"}, notes)

    def test_a_thin_coat_is_cut_through_and_powder_bears_nothing(self) -> None:
        thin = plan([coat("a", "lacquer_colour", dry_film_um=5), work("s", "sand", "a", 2 * DAY)])
        self.assertEqual(verdict_of(thin, "s", "a"), (Verdict.CAUTION, "cuts through"))
        loose = plan([coat("a", "dry_pigment"), work("s", "polish", "a", 60)])
        self.assertEqual(verdict_of(loose, "s", "a"), (Verdict.CLASH, "never opens"))

    def test_what_is_scuffed_is_keyed_to_again(self) -> None:
        old = coat("a", "two_pack_clear")
        over = coat("b", "alcohol_acrylic_colour", 60)
        plain = plan([old, fit("look", "inspect", 30 * DAY), over])
        scuffed = plan([old, work("s", "scuff", "a", 30 * DAY), over])
        self.assertEqual(verdict_of(plain, "b", "a")[1], "peels")
        self.assertEqual(verdict_of(scuffed, "b", "a")[0], Verdict.SOUND)


class Liquids(TestCase):
    def test_softener_is_for_decals_and_bites_longer_the_longer_it_lies(self) -> None:
        def told(**more: Any) -> float:
            steps = [coat("c", "waterborne_colour"), coat("d", "decal", 3 * DAY, coverage=0.5)]
            softened = work("s", "soften", "d", 5, carrier="decal_softener_strong", method="wet_wipe", **more)
            seams = assess(plan([*steps, softened])).seams.values()
            return max((f.severity for s in seams if s.upper_step == "s" for f in s.findings), default=0.0)

        self.assertGreaterEqual(told(lies_min=20), told(lies_min=0.2))
        wrong = plan([coat("c", "waterborne_colour"), work("s", "soften", "c", DAY, carrier="decal_softener_mild")])
        self.assertEqual(verdict_of(wrong, "s", "c"), (Verdict.CLASH, "never opens"))

    def test_a_panel_wetted_with_the_wrong_liquid_is_told(self) -> None:
        ground = [coat("c", "alcohol_acrylic_colour")]
        for liquid, bad in (("odourless_spirit", False), ("hot_thinner", True)):
            made = plan([*ground, fit("w", "wet", 5 * DAY, carrier=liquid)])
            told = [s.verdict for s in assess(made).seams.values() if s.upper_step == "w"]
            self.assertEqual(any(v is not Verdict.SOUND for v in told), bad, liquid)

    def test_washing_first_takes_the_mould_oil_away(self) -> None:
        first = coat("p", "waterborne_colour")
        resin = {"name": "x", "base_material": "resin_unwashed"}
        crawls = parse_plan(plan_json([first], build=resin))
        washed = parse_plan(plan_json([fit("w", "wash"), first | {"wait_min": DAY}], build=resin))
        self.assertEqual(verdict_of(crawls, "p", None)[1], "crawls")
        self.assertEqual(verdict_of(washed, "p", None)[0], Verdict.SOUND)

    def test_bare_wood_drinks_all_but_a_primer(self) -> None:
        wood = {"name": "x", "base_material": "wood_bare"}
        for material, word in (("waterborne_colour", "soaks in"), ("lacquer_primer", "sound")):
            verdict, said = verdict_of(parse_plan(plan_json([coat("c", material)], build=wood)), "c", None)
            self.assertEqual(said if verdict is not Verdict.SOUND else "sound", word)


class Parts(TestCase):
    def test_glue_sets_before_the_part_is_turned_over(self) -> None:
        for since, told in ((20, ["wait"]), (120, ["caution"]), (600, [])):
            steps = [fit("g", "glue", material="white_glue_drop"), fit("t", "turn_over", since)]
            found = [r.verdict.value for r in assess(plan(steps)).remarks if r.code == "glue_wet"]
            self.assertEqual(found, told)

    def test_the_schedule_waits_for_the_glue_and_does_not_leave_a_medium_bare(self) -> None:
        glued = plan([fit("g", "glue", material="white_glue_drop"), fit("t", "turn_over", 600)])
        link = next(x for x in net_of(glued).links if x.before == "g" and x.what is What.SEAM)
        self.assertEqual((link.after, link.ages.careful[0][0]), ("t", 360))
        sprayed = plan([coat("m", "hairspray"), coat("c", "waterborne_colour", 30)])
        link = next(x for x in net_of(sprayed).links if x.before == "m" and x.what is What.SEAM)
        self.assertLess(link.ages.careful[-1][1], 800)  # reference minutes: within hours


class Masks(TestCase):
    def masked(self, **more: Any) -> Plan:
        mask = fit("on", "mask", DAY, material="low_tack_tape", **more)
        return plan([
            coat("p", "lacquer_primer"), coat("red", "lacquer_colour", DAY), mask,
            coat("white", "lacquer_colour", 10), fit("off", "unmask", 30),
            coat("mark", "enamel_wash", 2 * DAY, place="patch", patch="band", coverage=0.1),
        ])  # fmt: skip

    def test_what_is_laid_meanwhile_does_not_land_there(self) -> None:
        made = assess(self.masked(place="patch", patch="band", share=0.3))
        self.assertAlmostEqual(made.coats["white~side"].coverage, 0.7)
        met = {s.lower_step for s in made.seams.values() if s.upper_step == "mark"}
        self.assertEqual(met, {"red"})  # the band is red: the white never landed on it
        clear = assess(
            plan([*_data(self.masked(place="patch", patch="band", share=0.3)), coat("c", "lacquer_clear", 9 * DAY)])
        )
        shares = {s.lower_step: s.share for s in clear.seams.values() if s.upper_step == "c"}
        self.assertIn("red", shares)

    def test_a_place_of_its_own_has_its_usual_share_and_no_place_keeps_nothing_free(self) -> None:
        edges = assess(self.masked(place="edges")).coats["white~side"].coverage
        self.assertAlmostEqual(edges, 1 - SHARE_OF_ZONE[Place.EDGES])
        self.assertEqual(assess(self.masked()).coats["white~side"].coverage, 1.0)


def _data(made: Plan) -> list[dict[str, Any]]:
    return list(made.model_dump(mode="json", exclude_unset=True)["steps"])


class There(TestCase):
    def old(self, age: float | None) -> dict[str, Any]:
        return coat("old", "enamel_colour", hands_on_min=0) | {"existing": {"age_days": age}, "wait_min": 0}

    def test_a_finish_that_is_there_has_its_age_and_no_cup(self) -> None:
        over = coat("new", "lacquer_colour", 10)
        words = {}
        for age in (1.0, 2000.0):
            made = assess(plan([self.old(age), over]))
            self.assertNotIn("old", made.cups)
            self.assertFalse([s for s in made.seams.values() if s.upper_step == "old"])
            words[age] = next(s for s in made.seams.values() if s.lower_step == "old").verdict.grave
        self.assertGreater(words[1.0], words[2000.0])

    def test_of_unknown_age_it_says_so(self) -> None:
        self.assertEqual([r.code for r in assess(plan([self.old(None)])).remarks], ["age_unknown"])

    def test_it_comes_first_and_takes_no_time(self) -> None:
        for steps, where in (
            ([coat("a", "lacquer_primer"), self.old(3)], "existing"),
            ([self.old(3) | {"hands_on_min": 20}], "steps[0]"),
        ):
            with self.assertRaises(PlanError) as caught:
                parse_plan(plan_json(steps))
            self.assertIn(where, caught.exception.problems[0].where)


class Limits(TestCase):
    def test_a_step_that_begins_too_late_for_itself_is_told_and_the_schedule_keeps_it(self) -> None:
        def made(wait: float) -> Plan:
            colour = coat("c", "waterborne_colour", wait) | {"no_later": {"after": "m", "than_min": 60}}
            return plan([coat("m", "hairspray"), colour])

        for wait, told in ((30, []), (300, ["too_late"])):
            self.assertEqual([r.code for r in assess(made(wait)).remarks], told)
        limit = next(link for link in net_of(made(30)).links if link.what is What.LIMIT)
        self.assertEqual((limit.before, limit.after, limit.ages.careful), ("m", "c", ((0.0, 60.0),)))
        with self.assertRaises(PlanError):
            plan([coat("c", "waterborne_colour") | {"no_later": {"after": "x", "than_min": 60}}])


class Sections(TestCase):
    def test_work_by_sections_counts_each_from_its_own_laying(self) -> None:
        def wash(sections: bool) -> Plan:
            steps = [
                coat("c", "lacquer_colour"),
                coat(
                    "w",
                    "waterborne_colour",
                    DAY,
                    method="wash",
                    dry_film_um=2,
                    mix=mix("waterborne_colour", "water_flow", 1, 4),
                ),
            ]
            steps[1]["hands_on_min"] = 30
            return plan([*steps, work("s", "streak", "w", 0, method="damp_wipe", carrier="water", hands_on_min=30,
                                      by_sections=sections)])  # fmt: skip

        self.assertEqual(verdict_of(wash(False), "s", "w")[1], "window missed")
        made = assess(wash(True))
        seam = next(s for s in made.seams.values() if s.upper_step == "s" and s.lower_step == "w")
        self.assertEqual(seam.verdict, Verdict.SOUND)
        self.assertGreater(seam.sections or 0, 5)
        self.assertIn(f"In {seam.sections} sections", seam.sentence)


class Buried(TestCase):
    def test_what_a_clear_covers_can_no_longer_be_worked(self) -> None:
        wash = [coat("c", "lacquer_colour"), coat("w", "enamel_wash", DAY, method="wash")]
        over = [coat("clear", "alcohol_acrylic_clear", 60), coat("late", "alcohol_acrylic_clear", 60, coverage=0.3)]
        wipe = work("s", "wipe", "w", 20, method="damp_wipe", carrier="odourless_spirit")
        self.assertEqual(verdict_of(plan([*wash, wipe]), "s", "w")[0], Verdict.SOUND)
        self.assertEqual(verdict_of(plan([*wash, over[0], wipe]), "s", "w"), (Verdict.CLASH, "never opens"))
        self.assertNotEqual(verdict_of(plan([*wash, over[1], wipe]), "s", "w")[1], "never opens")

    def test_a_coat_laid_into_a_wet_panel_stays_open_longer(self) -> None:
        ground = coat("c", "lacquer_clear")
        wash = coat("w", "enamel_wash", 1, method="wash")
        dry = assess(plan([ground, fit("look", "inspect", DAY), wash])).coats["w~side"]
        wet = assess(plan([ground, fit("wet", "wet", DAY, carrier="odourless_spirit"), wash])).coats["w~side"]
        late = plan(
            [ground, fit("wet", "wet", DAY, carrier="odourless_spirit"), coat("w", "enamel_wash", 60, method="wash")]
        )
        fixed = [*late.steps[:2], late.steps[2].model_copy(update={"wait_min": 0, "fixed_start": at(late, DAY + 240)})]
        gone = [assess(p).coats["w~side"] for p in (late, late.model_copy(update={"steps": fixed}))]
        lasts = [(c.events["touch"].best or 0) - c.end_min for c in (dry, wet, *gone)]
        self.assertGreater(lasts[1], lasts[0] * 1.1)
        self.assertAlmostEqual(lasts[2], lasts[0], delta=1)  # after an hour the panel is dry again
        self.assertAlmostEqual(lasts[3], lasts[0], delta=1)  # as it is when a sitting puts it later
