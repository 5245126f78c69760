"""What acts make of a surface, by hand as well: its shine, water on it, salt and powder, the tool and the carrier."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging.outcome import SeamOut
from emvar_core.knowledge import knowledge
from emvar_core.physics.hardening import time_of_film
from emvar_core.plan import CoatStep, Plan, WorkingStep, apply, film_of, parse_plan
from emvar_core.schedule.net import net_of
from emvar_core.vocabulary import Verdict, WorkAction
from emvar_core.ways.waits import followed
from hypothesis import given
from hypothesis import strategies as st

from tests.builders import DAY, coat, mix, plan, plan_json

K = knowledge()
STATED = sorted(i for i, s in K.systems.items() if s.film_um is not None)


def work(step_id: str, action: str, on: str, wait: float, **more: Any) -> dict[str, Any]:
    base = {"kind": "working", "id": step_id, "name": step_id, "zones": ["side"], "wait_min": wait, "hands_on_min": 0}
    return base | {"action": action, "acts_on": on} | more


def fitting(step_id: str, action: str, wait: float, **more: Any) -> dict[str, Any]:
    base = {"kind": "fitting", "id": step_id, "name": step_id, "zones": ["side"], "wait_min": wait, "hands_on_min": 0}
    return base | {"action": action} | more


def gravest(made: Plan, step: str) -> SeamOut:
    seams = [s for s in assess(made).seams.values() if s.upper_step == step]
    return max(seams, key=lambda s: (s.verdict.grave, max((f.severity for f in s.findings), default=0)))


class Abrasive(TestCase):
    def test_it_takes_the_shine_and_polishing_gives_one(self) -> None:
        for sheen, action, silvers in (
            ("gloss", "scuff", True), ("gloss", "sand", True), ("matt", "polish", False), ("matt", "inspect", True),
        ):  # fmt: skip
            act = (
                fitting("act", "inspect", 10)
                if action == "inspect"
                else work("act", action, "clear", 4 * DAY, method="dry_tool")
            )
            clear = coat("clear", "lacquer_clear", sheen=sheen, dry_film_um=30)
            found = gravest(plan([clear, act, coat("decal", "decal", 10, coverage=0.05)]), "decal")
            self.assertEqual(found.word == "silvers", silvers, (sheen, action, found.word))

    def test_what_a_kind_of_work_leaves_where_nobody_says(self) -> None:
        for action, facts in K.work.items():
            step = WorkingStep(id="w", name="w", zones=["z"], action=action, acts_on="c")
            self.assertEqual(step.leaves, facts.leaves)
        self.assertEqual(K.work[WorkAction.POLISH].leaves, 1.0)


class CarrierAndTool(TestCase):
    def chipped(self, **how: Any) -> SeamOut:
        steps = [
            coat("ground", "lacquer_colour"),
            coat("medium", "hairspray", 2 * DAY),
            coat("top", "waterborne_colour", 10, dry_film_um=8),
            work("chip", "chip", "top", 15, **how),
        ]
        return gravest(plan(steps), "chip")

    def test_a_medium_is_chipped_with_what_opens_it(self) -> None:
        self.assertIs(self.chipped(carrier="water", method="wet_wipe").verdict, Verdict.SOUND)
        for how in ({"carrier": "odourless_spirit", "method": "wet_wipe"}, {"method": "dry_tool"}):
            told = self.chipped(**how)
            self.assertEqual((told.verdict, told.word), (Verdict.CLASH, "never opens"), how)

    def test_a_wet_brush_erases_what_it_should_blend(self) -> None:
        for method, word in (("damp_wipe", "in its window"), ("wet_wipe", "washes off"), ("scrub", "washes off")):
            steps = [coat("dots", "artists_oil", coverage=0.05), work("b", "blend", "dots", 5, method=method)]
            steps[1]["carrier"] = "odourless_spirit"
            self.assertEqual(assess(plan(steps)).seams["b~side~dots"].word, word)

    def test_blending_sweeps_the_panel_with_what_lies_there(self) -> None:
        steps = [
            coat("ground", "alcohol_acrylic_clear", sheen="satin"),
            coat("wash", "enamel_wash", 3 * DAY, coverage=0.05),
            coat("dots", "artists_oil", 180, coverage=0.05),
        ]
        how = {"carrier": "odourless_spirit", "method": "damp_wipe"}
        for action, most in (("blend", 0.05), ("lift", 0.0025)):
            found = assess(plan([*steps, work("w", action, "dots", 5, **how)])).seams["w~side~wash"]
            self.assertAlmostEqual(found.zone_share, most, places=4)

    def test_washing_lets_a_live_medium_go(self) -> None:
        steps = [coat("medium", "hairspray"), coat("top", "waterborne_colour", 10, dry_film_um=8)]
        for sealed, word in ((False, "re-opens"), (True, "sound")):
            clear = [coat("clear", "lacquer_clear", DAY, method="mist", passes=6)] if sealed else []
            found = gravest(plan([*steps, *clear, fitting("wash", "wash", DAY)]), "wash")
            self.assertEqual(found.word, word)

    def test_cement_joins_bare_plastic_and_eats_what_is_painted(self) -> None:
        glue = fitting("glue", "glue", DAY, material="plastic_cement")
        self.assertIs(gravest(plan([glue]), "glue").verdict, Verdict.SOUND)
        self.assertIsNot(gravest(plan([coat("c", "lacquer_colour"), glue]), "glue").verdict, Verdict.SOUND)
        for base in ("glazing", "foam"):
            made = plan([glue], build={"base_material": base})
            self.assertIsNot(gravest(made, "glue").verdict, Verdict.SOUND, base)


class LeftBehind(TestCase):
    def test_salt_under_a_clear_blisters_and_brushed_out_it_does_not(self) -> None:
        for leaves, blisters in ((1.0, True), (0.2, True), (0.02, False), (0.0, False)):
            steps = [
                coat("ground", "lacquer_colour"),
                coat("salt", "salt", 2 * DAY, coverage=0.3),
                coat("tone", "lacquer_colour", 180, coverage=0.5, dry_film_um=3, method="mist"),
                work("brush", "scrape", "salt", 60, method="dry_tool", leaves=leaves),
                coat("clear", "lacquer_clear", DAY),
            ]
            words = {f.word for s in assess(plan(steps)).seams.values() for f in s.findings if s.upper_step == "clear"}
            self.assertEqual("blisters" in words, blisters, leaves)
            self.assertIs(gravest(plan(steps[:3]), "tone").verdict, Verdict.SOUND)

    def test_powder_drowns_in_wet_paint_and_holds_on_what_is_dry(self) -> None:
        verdicts = []
        for wait in (0, 5, 20, 120):
            steps = [coat("c", "waterborne_clear", sheen="matt"), coat("p", "dry_pigment", wait, coverage=0.3)]
            verdicts.append(gravest(plan(steps), "p").verdict)
        self.assertEqual((verdicts[0], verdicts[-1]), (Verdict.WAIT, Verdict.SOUND))
        into_oil = [coat("c", "artists_oil"), coat("p", "dry_pigment", 30, coverage=0.3)]
        self.assertIs(gravest(plan(into_oil), "p").verdict, Verdict.SOUND)

    def test_one_coat_leaves_pores_in_a_base_that_drinks(self) -> None:
        hot = coat("hot", "lacquer_colour", DAY, method="wet_spray")
        below = coat("a", "waterborne_clear"), coat("b", "waterborne_clear", 4 * 60)
        crazes = [any(f.mechanism == "craze" for f in gravest_findings([*below[:n], hot], base="foam")) for n in (1, 2)]
        self.assertEqual(crazes, [True, False])


def gravest_findings(steps: list[dict[str, Any]], base: str) -> list[Any]:
    seams = assess(plan(steps, build={"base_material": base})).seams.values()
    return [f for s in seams if s.upper_step == steps[-1]["id"] for f in s.findings]


class DampAir(TestCase):
    def test_the_damper_the_graver_and_dry_air_says_nothing(self) -> None:
        for material, first in (("alcohol_acrylic_clear", 70), ("two_pack_clear", 78)):
            told = []
            for rh in (50, first - 5, first, 82, 90):
                air = {"day": {"temp_c": 21, "rh_pct": rh}}
                seams = assess(plan([coat("c", material)], build={"base_material": "resin"}, air=air)).seams.values()
                found = [f.severity for s in seams for f in s.findings if f.mechanism == "damp_air"]
                told.append(max(found, default=0.0))
            self.assertEqual(told, sorted(told), material)
            self.assertEqual(told[:2], [0.0, 0.0], material)
            self.assertTrue(0.2 <= told[2] < 0.5 <= told[4], told)


class Films(TestCase):
    @given(st.sampled_from(STATED), st.floats(1, 200), st.integers(1, 8))
    def test_a_thicker_film_never_takes_less_and_nothing_jumps(self, system: str, film: float, passes: int) -> None:
        a, b = (time_of_film(K.systems[system], um, passes) for um in (film, film * 1.02))
        self.assertLessEqual(a, b)
        self.assertLess(b / a, 1.2)

    def test_beyond_what_was_seen_time_grows_in_proportion(self) -> None:
        lacquer = K.systems["lacquer"]
        self.assertAlmostEqual(time_of_film(lacquer, 200, 3) / time_of_film(lacquer, 100, 3), 2, places=6)

    def test_a_flood_is_wetter_than_a_wash(self) -> None:
        reach = []
        for method in ("wash", "flood"):
            wash = coat("w", "enamel_wash", method=method, mix=mix("enamel_wash", "hot_thinner", 1, 5))
            made = plan([wash], build={"base_material": "polystyrene"})
            reach.append(max(f.severity for f in gravest(made, "w").findings if f.mechanism == "craze"))
        self.assertGreater(reach[1], 1.2 * reach[0])

    def test_paint_let_down_to_a_wash_leaves_what_its_wet_film_holds(self) -> None:
        def film(parts: int) -> float:
            paint = mix("lacquer_colour", "mild_thinner", 1, parts)
            return film_of(K, CoatStep.model_validate(coat("w", "lacquer_colour", method="wash", mix=paint)))

        thin, thick = film(20), film(2)
        self.assertLess(thin, 1.0)
        self.assertGreater(thick, thin)
        self.assertLess(thin * 21 / K.coats["lacquer_colour"].volume_solids, 50)  # µm wet


class Wetting(TestCase):
    def test_the_wait_comes_before_a_panel_is_wetted(self) -> None:
        steps = [
            coat("clear", "alcohol_acrylic_clear", sheen="gloss"),
            fitting("wet", "wet", 0, carrier="odourless_spirit", wait_by="program", hands_on_min=2),
            coat("wash", "enamel_wash", wait_by="program", hands_on_min=20),
        ]
        made = parse_plan(plan_json(steps))
        for _ in range(2):  # and again nothing more
            edits = followed(None, made)
            made = apply(made, edits)[0]
        self.assertEqual(edits, [])
        waits = {s.id: s.wait_min for s in made.steps}
        self.assertGreater(waits["wet"], 6 * 60)
        self.assertLessEqual(waits["wash"], 5)
        self.assertIs(gravest(made, "wash").verdict, Verdict.SOUND)

    def test_the_schedule_keeps_wetting_and_what_goes_into_the_wet_together(self) -> None:
        wet = fitting("wet", "wet", 0, carrier="odourless_spirit", wait_by="program", hands_on_min=2)
        ground = coat("clear", "alcohol_acrylic_clear", sheen="gloss")
        for how, most in (({"wait_by": "program"}, [5.0]), ({"wait_by": "person"}, [])):
            made = parse_plan(plan_json([ground, wet, coat("wash", "enamel_wash", 600, hands_on_min=20, **how)]))
            tied = [k for k in net_of(made).links if k.words == "into the wet"]
            self.assertEqual([k.ages.careful[0][1] for k in tied], most)


class TwoStretches(TestCase):
    def waited(self, second: dict[str, Any]) -> float:
        made = parse_plan(plan_json([coat("a", "enamel_colour", hands_on_min=20), second]))
        return next(s for s in apply(made, followed(None, made))[0].steps if s.id == "b").wait_min

    def test_the_same_paint_goes_on_at_once_another_when_it_has_hardened(self) -> None:
        kept = {"wait_by": "program", "hands_on_min": 20}
        self.assertLess(self.waited(coat("b", "enamel_colour", **kept)), 120)
        for other in ({"colour": {"srgb": "#aa2211"}}, {}):
            material = "enamel_colour" if other else "enamel_clear"
            waited = self.waited(coat("b", material, **kept, **other))
            self.assertGreater(waited, 24 * 60)
            self.assertLess(waited, 7 * 1440)


class StandingWater(TestCase):
    def told(self, wait: float, rh: float = 50) -> str | None:
        steps = [fitting("wash", "wash", 0), coat("primer", "lacquer_primer", wait)]
        found = assess(plan(steps, air={"day": {"temp_c": 20, "rh_pct": rh}})).stories
        return next((s.verdict.value for s in found if s.word == "water stands"), None)

    def test_paint_waits_until_the_water_has_left_longer_in_damp_air(self) -> None:
        self.assertEqual([self.told(m) for m in (0, 15, 31)], ["wait", "caution", None])
        self.assertEqual([self.told(m, 75) for m in (15, 31, 61)], ["wait", "caution", None])

    def test_the_program_and_the_schedule_wait_for_it(self) -> None:
        kept = {"wait_by": "program", "hands_on_min": 20}
        steps = [fitting("wash", "wash", 0, hands_on_min=10), coat("primer", "lacquer_primer", **kept)]
        made = parse_plan(plan_json(steps))
        made = apply(made, followed(None, made))[0]
        self.assertEqual([s.wait_min for s in made.steps], [0, 30])
        self.assertEqual(assess(made).stories, [])
        tied = [k for k in net_of(made).links if (k.before, k.after, k.words) == ("wash", "primer", "the water dries")]
        self.assertEqual([k.ages.careful[0][0] for k in tied], [30])

    def test_what_goes_into_the_wet_does_not_wait(self) -> None:
        steps = [coat("clear", "lacquer_clear"), fitting("wash", "wash", DAY), coat("clay", "clay_wash", 0)]
        self.assertNotIn("water stands", {s.word for s in assess(plan(steps)).stories})


class BesideEachOther(TestCase):
    def test_what_lies_beside_has_to_fit_beside(self) -> None:
        for shares, told in (((0.5, 0.4), False), ((0.5, 0.5), False), ((0.7, 0.5), True)):
            a, b = (coat(n, "waterborne_colour", 60, coverage=c) for n, c in zip("ab", shares, strict=True))
            found = assess(plan([coat("g", "lacquer_primer"), a, b | {"beside": ["a"]}])).remarks
            self.assertEqual("overlaps" in {r.word for r in found}, told, shares)


def neat(paint: str) -> dict[str, Any]:
    return {"parts": [{"material": paint, "role": "paint", "amount": 1, "unit": "parts"}]}


class ByHand(TestCase):
    """What a brush, a sponge, a can leave: by the paint's body and its strength."""

    def film(self, material: str, method: str, **more: Any) -> float:
        return film_of(K, CoatStep.model_validate(coat("a", material, method=method, **more)))

    def test_films_are_those_of_practice(self) -> None:
        unthinned = neat("waterborne_colour")
        for method, least, most in (("brush", 8, 12), ("dry_brush", 0.5, 2), ("sponge", 3, 8), ("wash", 10, 15)):
            self.assertTrue(least <= self.film("waterborne_colour", method, mix=unthinned) <= most, method)
        self.assertEqual(self.film("lacquer_colour", "can"), 20)
        self.assertEqual(self.film("hairspray", "can"), K.coats["hairspray"].dry_film_um)

    @given(
        st.sampled_from(["brush", "sponge", "dry_brush", "wash", "flood"]),
        st.sampled_from(["waterborne_colour", "lacquer_colour", "enamel_colour"]),
        st.floats(0.05, 20),
        st.floats(1.0, 1.02),
    )
    def test_it_goes_down_with_thinner_and_never_jumps(self, how: str, what: str, thinner: float, more: float) -> None:
        thin_with = K.coats[what].thin_with
        assert thin_with is not None

        def thinned(amount: float) -> float:
            return self.film(what, how, mix=mix(what, thin_with, 1, amount))

        one, other = thinned(thinner), thinned(thinner * more)
        self.assertLessEqual(other, one)
        self.assertGreater(other, one / 1.03)

    def test_the_more_body_a_wetter_tool_the_more_is_left(self) -> None:
        films = [self.film("enamel_colour", m) for m in ("dry_brush", "sponge", "brush", "wash", "flood")]
        self.assertEqual(films, sorted(films))

    def test_a_hot_can_bites_what_a_mild_pass_leaves_alone(self) -> None:
        hot = {"mix": mix("lacquer_colour", "hot_thinner", 1, 2)}
        bare = plan([coat("top", "lacquer_colour", method="can", **hot)])
        old = plan(
            [
                coat("low", "enamel_colour", dry_film_um=30),
                coat("top", "lacquer_colour", 30 * DAY, method="can", **hot),
            ],
            build={"base_material": "resin"},
        )
        self.assertEqual([gravest(made, "top").verdict for made in (bare, old)], [Verdict.CLASH, Verdict.CLASH])
        mild = plan([coat("top", "lacquer_primer", method="can")])
        self.assertEqual(gravest(mild, "top").verdict, Verdict.SOUND)


class Oil(TestCase):
    def closes(self, **more: Any) -> float:
        made = plan([coat("a", "artists_oil", **more)])
        coats = [c for c in assess(made).coats.values() if c.step_id == "a"]
        return next(w.closes.early or 0.0 for w in coats[0].windows if w.action == "blend")

    @given(st.floats(0.4, 30), st.floats(0.05, 12), st.floats(1.0, 1.02))
    def test_how_long_it_is_worked_has_no_cliff(self, film: float, thinner: float, more: float) -> None:
        for one, other in (
            (self.closes(dry_film_um=film), self.closes(dry_film_um=film * more)),
            (self.oil(thinner), self.oil(thinner * more)),
        ):
            self.assertTrue(1 / 1.2 <= one / other <= 1.2, (one, other))

    def oil(self, thinner: float) -> float:
        return self.closes(mix=mix("artists_oil", "odourless_spirit", 1, thinner))

    def test_thin_or_neat_it_is_worked_for_half_an_hour_at_least(self) -> None:
        for film in (0.4, 1.0, 2.5, 3.0):
            self.assertGreaterEqual(self.closes(dry_film_um=film), 30)
        for thinner in (3, 5, 10, 20):
            self.assertGreaterEqual(self.oil(thinner), 30)

    def test_spirit_takes_neat_oil_of_three_days_with_effort(self) -> None:
        for days, verdict in ((0.9, Verdict.SOUND), (3, Verdict.CAUTION), (8, Verdict.CLASH)):
            steps = [
                coat("ground", "lacquer_clear"),
                coat("oil", "artists_oil", 3 * DAY, mix=neat("artists_oil")),
                work("wipe", "wipe", "oil", days * DAY, method="damp_wipe", carrier="white_spirit"),
            ]
            self.assertEqual(gravest(plan(steps), "wipe").verdict, verdict, days)


class Marks(TestCase):
    def test_a_chip_is_set_into_a_chip_once_its_shine_has_gone(self) -> None:
        chip = {"method": "brush", "dry_film_um": 4, "coverage": 0.02}
        for cover, wait, sound in ((0.02, 10, True), (0.02, 0, False), (1.0, 10, False)):
            low = coat("low", "waterborne_colour", 2 * DAY, **(chip | {"coverage": cover}))
            made = plan(
                [coat("ground", "lacquer_colour"), low, coat("top", "waterborne_colour", wait, **chip, on="low")]
            )
            seam = next(s for s in assess(made).seams.values() if s.upper_step == "top" and s.lower_step == "low")
            self.assertEqual(seam.verdict is Verdict.SOUND, sound, (cover, wait))

    def test_thin_passes_let_a_lacquer_below_go_on_drying(self) -> None:
        for passes, film, sound in ((3, 9, True), (1, 9, False), (3, 24, False)):
            steps = [
                coat("low", "lacquer_primer"),
                coat("top", "alcohol_acrylic_colour", 40, dry_film_um=film, passes=passes),
            ]
            made = plan(steps, build={"base_material": "resin"})
            self.assertEqual(gravest(made, "top").verdict is Verdict.SOUND, sound, (passes, film))

    def test_foam_drinks_no_water_and_plaster_does(self) -> None:
        for base, word in (("foam", False), ("plaster_bare", True)):
            made = plan([coat("top", "waterborne_colour")], build={"base_material": base})
            self.assertEqual(gravest(made, "top").word == "soaks in", word, base)

    def test_what_practice_bears_and_what_it_waits_for(self) -> None:
        """Common practice."""
        chip = {"method": "sponge", "dry_film_um": 4, "coverage": 0.03}
        wax = {"coverage": 0.2}
        ground = coat("ground", "lacquer_clear", sheen="gloss")
        for steps, sound in (
            # A gloss coat has its night before a decal goes on it.
            ([ground, coat("top", "decal", 30, coverage=0.05)], False),
            ([coat("ground", "waterborne_clear", sheen="gloss"), coat("top", "decal", 6 * 60, coverage=0.05)], False),
            ([coat("ground", "waterborne_clear", sheen="gloss"), coat("top", "decal", DAY, coverage=0.05)], True),
            # Clay stains matt, and comes off gloss.
            ([coat("ground", "lacquer_clear", sheen="matt"), coat("top", "clay_wash", 2 * DAY, coverage=0.8)], False),
            ([ground, coat("top", "clay_wash", 2 * DAY, coverage=0.8)], True),
            # Oil goes into open oil, and not over what has just skinned.
            ([ground, coat("low", "artists_oil", 2 * DAY, **wax), coat("top", "artists_oil", 10, coverage=0.1)], True),
            # Glazes go over each other in minutes, a full brushed coat does not.
            ([coat("low", "waterborne_colour", method="brush", dry_film_um=3),
              coat("top", "waterborne_colour", 12, method="brush", dry_film_um=3)], True),
            ([coat("low", "waterborne_colour", method="brush", dry_film_um=10),
              coat("top", "waterborne_colour", 12, method="brush", dry_film_um=10)], False),
            # Chips bear tape within two hours, a coat does not.
            ([ground, coat("low", "waterborne_colour", 2 * DAY, **chip),
              fitting("top", "mask", 90, material="low_tack_tape")], True),
            ([ground, coat("low", "waterborne_colour", 2 * DAY), fitting("top", "mask", 90, material="low_tack_tape")],
             False),
            # Oil-modified urethane: again within a day or two, then scuffed.
            ([coat("low", "urethane_alkyd_clear"), coat("top", "urethane_alkyd_clear", 20 * 60)], True),
            ([coat("low", "urethane_alkyd_clear"), coat("top", "urethane_alkyd_clear", 9 * DAY)], False),
            ([coat("low", "urethane_alkyd_clear"), work("key", "scuff", "low", 9 * DAY, method="dry_tool"),
              coat("top", "urethane_alkyd_clear", 10)], True),
        ):  # fmt: skip
            made = plan(steps, build={"base_material": "resin"})
            told = gravest(made, "top")
            self.assertEqual(told.verdict is Verdict.SOUND, sound, (steps[-2], steps[-1], told.word, told.sentence))

    def test_what_no_waiting_ends_is_told_first_and_the_rest_is_waited_for(self) -> None:
        steps = [coat("low", "lacquer_clear", sheen="matt"), coat("top", "decal", 1, coverage=0.05)]
        told = gravest(plan(steps), "top")
        self.assertEqual((told.verdict, told.word), (Verdict.CLASH, "silvers"))
        self.assertIn("still_wet", {f.mechanism for f in told.findings})
        steps[1]["wait_by"] = "program"
        made = plan(steps)
        kept = apply(made, followed(None, made))[0].step("top").wait_min
        self.assertGreater(kept, 10)

    def test_patience_is_three_days_where_waiting_ends_in_a_caution(self) -> None:
        hot = {"mix": mix("lacquer_clear", "hot_thinner", 1, 1.5)}
        steps = [coat("low", "artists_oil", coverage=1.0), coat("top", "lacquer_clear", DAY, **hot)]
        self.assertEqual(gravest(plan(steps, build={"base_material": "resin"}), "top").verdict, Verdict.CLASH)
        steps = [coat("low", "lacquer_colour"), coat("top", "enamel_wash", 30, coverage=0.3)]
        self.assertEqual(gravest(plan(steps, build={"base_material": "resin"}), "top").verdict, Verdict.WAIT)

    def test_softener_is_no_water(self) -> None:
        steps = [
            coat("ground", "waterborne_clear", sheen="gloss"),
            coat("decal", "decal", 12 * 60, coverage=0.05),
            work("soft", "soften", "decal", 10, method="damp_wipe", carrier="decal_softener_strong", lies_min=30),
        ]
        self.assertIn("The softener softens", gravest(plan(steps), "soft").sentence)


class Resting(TestCase):
    """Oil is put out on card before it is used. Common practice: three to five hours."""

    def steps(self, wait: float, **more: Any) -> list[dict[str, Any]]:
        out = fitting("out", "set_out", 2 * DAY)
        return [coat("ground", "lacquer_clear"), out, coat("dots", "artists_oil_rested", wait, coverage=0.1) | more]

    def test_too_short_and_too_long_are_told(self) -> None:
        for wait, word in ((60, "still oily"), (200, ""), (420, ""), (1000, "dried out")):
            said = {r.word for r in assess(plan(self.steps(wait))).remarks if r.step_id == "dots"}
            self.assertEqual(word in said if word else not said & {"still oily", "dried out"}, True, (wait, said))

    def test_it_touches_nothing_and_what_it_waits_for_is_waited_for_before(self) -> None:
        steps = [
            coat("ground", "lacquer_clear"),
            fitting("out", "set_out", 0),
            coat("dots", "artists_oil_rested", coverage=0.1),
        ]
        wet = plan(steps)
        self.assertFalse([s for s in assess(wet).seams.values() if s.upper_step == "out"])
        for step in steps[1:]:
            step |= {"wait_by": "program", "wait_min": 0}
        made = plan(steps)
        made = apply(made, followed(None, made))[0]
        self.assertTrue(180 <= made.step("dots").wait_min <= 300)
        self.assertGreater(made.step("out").wait_min, 60)
        self.assertEqual([s.word for s in assess(made).stories], [])

    def test_the_schedule_keeps_the_two_together(self) -> None:
        link = next(k for k in net_of(plan(self.steps(0, wait_by="program"))).links if k.words == "rested on card")
        self.assertEqual((link.before, link.after, link.ages.careful), ("out", "dots", ((180.0, 300.0),)))


class Barriers(TestCase):
    def test_a_barrier_over_thin_oil_waits_for_the_next_day(self) -> None:
        thin = mix("artists_oil", "odourless_spirit", 1, 10)
        steps = [
            coat("ground", "lacquer_clear"),
            coat("oil", "artists_oil", 2 * DAY, mix=thin, coverage=0.9),
            coat("barrier", "alcohol_acrylic_clear") | {"wait_by": "program"},
        ]
        made = plan(steps, build={"base_material": "resin"})
        made = apply(made, followed(None, made))[0]
        self.assertGreater(made.step("barrier").wait_min, 16 * 60)
        self.assertEqual(gravest(made, "barrier").verdict, Verdict.SOUND)
