"""Rules that nothing else would miss if they broke: each test here fails when its rule is bent."""

import math
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging import after, conditions_of, stand
from emvar_core.judging.telling import tell
from emvar_core.knowledge import knowledge
from emvar_core.mix_and_spray.card import card
from emvar_core.physics.air import hardening_rate
from emvar_core.physics.blend import Blend, blend_of
from emvar_core.physics.hansen import power_on
from emvar_core.physics.spray import air_flow, ambient_kpa
from emvar_core.plan import Air, Record, apply, at, known_to, parse_edits, parse_plan, step_times
from emvar_core.plan.documents import Happened, State
from emvar_core.reading.compendium import compendium
from emvar_core.reading.report import report
from emvar_core.schedule.agenda import Agenda, times_of
from emvar_core.schedule.net import What, net_of
from emvar_core.schedule.schedule import first_schedule, make
from emvar_core.seams.meeting import Meeting
from emvar_core.seams.reach import effective_log_d
from emvar_core.seams.situation import METHODS, Finding, Landing, Layer
from emvar_core.vocabulary import Basis, Contact, FilmClass, Kind, Sure, Trait, Use, Verdict
from emvar_core.ways.remedies import remedies
from emvar_core.ways.rescue import rescue

from tests.builders import DAY, coat, mix, plan, plan_json, tug
from tests.random_plans import random_plan

K = knowledge()


def own(**more: Any) -> list[dict[str, Any]]:
    return [{"kind": "coat", "id": "mine", "name": "My paint", **more}]


class OwnPaint(TestCase):
    def test_a_bud_test_tells_a_family_and_never_that_a_hardener_is_in_it(self) -> None:
        """Nothing coloured the bud: it may be two-pack, but no isocyanate is put into it."""
        hard = next(c for c in K.coats.values() if c.has(Trait.ISOCYANATE))
        tested = plan([coat("a", "mine")], materials=own(bud_test="none"))
        self.assertFalse(known_to(tested).coats["mine"].has(Trait.ISOCYANATE))
        self.assertNotIn("isocyanate", {n.caution for n in assess(tested).notes})
        like = plan([coat("a", "mine")], materials=own(like=hard.id))
        self.assertIn("isocyanate", {n.caution for n in assess(like).notes})

    def test_a_paint_of_which_nothing_is_known_is_doubtful_on_top_as_well_as_below(self) -> None:
        for base in K.substrates:
            made = plan([coat("a", "mine")], materials=own(), build={"base_material": base})
            self.assertNotEqual(assess(made).seams["a~side~base"].verdict, Verdict.SOUND, base)


class Hardening(TestCase):
    def test_cold_slows_by_the_activation_energy(self) -> None:
        """Arrhenius: k = exp(−Ea/R·(1/T − 1/T0)), R = 8.314 J/(mol·K); at 57 kJ/mol ten kelvin are 2.3 times."""
        enamel = K.systems["enamel"]
        for temp in (5, 10, 30):
            wanted = math.exp(-enamel.ea_kj * 1e3 / 8.314462618 * (1 / (temp + 273.15) - 1 / 293.15))
            ratio = hardening_rate(enamel, Air(temp_c=temp)) / hardening_rate(enamel, Air(temp_c=20))
            self.assertAlmostEqual(ratio, wanted, places=6)
        self.assertAlmostEqual(math.exp(57e3 / 8.314462618 * (1 / 283.15 - 1 / 293.15)), 2.28, delta=0.01)

    def test_damp_air_holds_water_borne_films_back_by_what_it_still_takes_up(self) -> None:
        """(1 − RH)/0.5, from a tenth to 1.6 times: half at 75 %, and nothing below a tenth."""
        film = K.systems["dispersion"]
        usual = hardening_rate(film, Air(temp_c=20, rh_pct=50))
        for rh, share in ((75, 0.5), (90, 0.2), (99, 0.1), (30, 1.4), (5, 1.6)):
            self.assertAlmostEqual(hardening_rate(film, Air(temp_c=20, rh_pct=rh)) / usual, share, places=6)
        lacquer = K.systems["lacquer"]
        self.assertEqual(hardening_rate(lacquer, Air(rh_pct=90)), hardening_rate(lacquer, Air(rh_pct=30)))

    def hard_at(self, *aids: dict[str, Any]) -> float:
        made = plan([coat("a", "enamel_colour", aids=list(aids))])
        best = assess(made).coats["a~side"].events["hard"].best
        assert best is not None
        return best

    def test_a_second_drying_aid_counts_by_its_own_warmth(self) -> None:
        fan = {"kind": "fan", "duration_min": 60}
        warm = {"kind": "cabinet", "duration_min": 600, "temp_c": 40}
        cool = {"kind": "cabinet", "duration_min": 600, "temp_c": 25}
        self.assertLess(self.hard_at(fan, warm), self.hard_at(fan) - 500)
        self.assertLess(self.hard_at(fan, warm), self.hard_at(fan, cool) - 300)
        self.assertAlmostEqual(self.hard_at(warm, warm | {"duration_min": 0}), self.hard_at(warm), places=3)


class Carriers(TestCase):
    def test_an_aqueous_blend_carries_its_organic_part_in_more_slowly_than_neat(self) -> None:
        system = K.systems["alcohol_acrylic"]
        neat = power_on(K, Blend.of({"isopropanol": 1}), system)
        half = power_on(K, Blend.of({"isopropanol": 1, "water": 1}), system)
        self.assertGreater(half.power, 0)
        self.assertLess(half.power, neat.power)
        lacquer = K.systems["lacquer"]
        neat, thin = (power_on(K, Blend.of(b), lacquer) for b in ({"acetone": 1}, {"acetone": 1, "water": 1}))
        self.assertLessEqual(thin.log_d, neat.log_d + math.log10(0.5) - 0.49)
        self.assertAlmostEqual(thin.power, neat.power * 0.5, places=6)
        self.assertEqual(thin.basis, Basis.RULE)


class Mechanisms(TestCase):
    def test_two_pack_takes_its_next_coat_for_some_days_and_then_wants_to_be_scuffed(self) -> None:
        two_pack = next(s for s in K.systems.values() if s.film is FilmClass.CROSSLINKED)
        assert two_pack.recoat_again_before is not None
        self.assertLessEqual(two_pack.recoat_again_before, 7 * DAY)
        material = next(c.id for c in K.coats.values() if c.system == two_pack.id)
        words = {}
        for age in (0.8, 1.2, 3):
            steps = [coat("a", material), coat("b", "lacquer_colour", two_pack.recoat_again_before * age)]
            seam = assess(plan(steps, build={"base_material": "resin"})).seams["b~side~a"]
            words[age] = {f.mechanism for f in seam.findings}
        self.assertNotIn("unscuffed", words[0.8])
        self.assertIn("unscuffed", words[1.2])
        self.assertIn("unscuffed", words[3])

    def test_misting_halves_bleeding(self) -> None:
        found = {}
        for method in ("mist", "spray"):
            steps = [coat("a", "dye_red_lacquer"), coat("b", "lacquer_colour", DAY, method=method)]
            seam = assess(plan(steps, build={"base_material": "resin"})).seams["b~side~a"]
            found[method] = next(f.severity for f in seam.findings if f.mechanism == "bleeds")
        self.assertAlmostEqual(found["mist"], found["spray"] / 2, delta=0.001)

    def sure(self, severity: float) -> Sure:
        base = Layer(None, "Resin", 1000, 1.0, None, substrate=K.substrates["resin"])
        blend = blend_of(K.thinners["water"])
        top = Landing(contact=Contact.LAY, method=None, liquid_um=5, wet_s=5, rub=0, **Landing.liquid(K, blend))
        finding = Finding("craze", Kind.DAMAGE, severity, "w", lambda: "s", "a", Basis.RULE, lambda: "r")
        verdict = Verdict.CLASH if severity >= 0.5 else Verdict.CAUTION if severity >= 0.2 else Verdict.SOUND
        return tell(Meeting(K, top, (base,), 0, 0.0), verdict, [finding], None, []).sure

    def test_near_a_threshold_it_could_go_either_way_and_far_from_it_it_is_clear_cut(self) -> None:
        self.assertEqual(self.sure(0.21), Sure.OPEN)
        self.assertEqual(self.sure(0.48), Sure.OPEN)
        self.assertEqual(self.sure(0.28), Sure.FAIR)
        self.assertEqual(self.sure(0.35), Sure.FIRM)
        self.assertEqual(self.sure(0.52), Sure.OPEN)
        self.assertEqual(self.sure(0.9), Sure.FIRM)
        self.assertEqual(self.sure(0.17), Sure.OPEN)  # sound, but not by much
        self.assertEqual(self.sure(0.12), Sure.FAIR)

    def test_chipping_takes_of_the_medium_what_it_takes_of_the_coat_over_it(self) -> None:
        chip = {
            "kind": "working", "id": "chip", "name": "chip", "zones": ["side"], "action": "chip", "acts_on": "top",
            "carrier": "water", "leaves": 0.6, "wait_min": 20, "hands_on_min": 10,
        }  # fmt: skip
        steps = [
            coat("ground", "lacquer_colour"), coat("hair", "hairspray", DAY, method="can", coverage=1.0),
            coat("top", "waterborne_colour", 20, coverage=1.0, dry_film_um=10), chip,
        ]  # fmt: skip
        made = plan(steps)
        end = step_times(made)["chip"].end_min
        lies = {layer.step_id: layer.coverage for layer in stand(made, "side", end).layers}
        self.assertAlmostEqual(lies["hair"], 0.6)
        self.assertAlmostEqual(lies["top"], 0.6)
        self.assertAlmostEqual(lies["ground"], 1.0)
        times = step_times(made)
        c = conditions_of(made, times)
        before = stand(made, "side", times["top"].end_min).stack
        self.assertEqual([e.layer.coverage for e in after(c, made.steps[3], "side", before, times)], [1.0, 0.6, 0.6])


class Figures(TestCase):
    """Severities that only one mechanism gives, by the rule that docs/models.md tells."""

    def severity(self, mechanism: str, *steps: dict[str, Any]) -> float:
        seams = assess(plan(list(steps), build={"base_material": "resin"})).seams.values()
        top = steps[-1]["id"]
        found = [f.severity for s in seams if s.upper_step == top for f in s.findings if f.mechanism == mechanism]
        return max(found, default=0.0)

    def metallic(self, rubbed: bool = False) -> str:
        return next(
            c.id for c in K.coats.values()
            if c.has(Trait.METALLIC) and (K.system_of(c.id).film is FilmClass.RUBBED) == rubbed
        )  # fmt: skip

    def test_a_fresh_film_lets_solvent_through_up_to_a_hundred_times_faster(self) -> None:
        power = power_on(K, Blend.of({"acetone": 1}), K.systems["lacquer"])
        self.assertAlmostEqual(effective_log_d(power, 0.0), power.log_d + 2.0)
        self.assertAlmostEqual(effective_log_d(power, 0.425), power.log_d + 1.0)
        self.assertAlmostEqual(effective_log_d(power, 0.95), power.log_d)
        nothing = power_on(K, Blend.of({"water": 1}), K.systems["lacquer"])
        self.assertAlmostEqual(effective_log_d(nothing, 0.0), nothing.log_d)

    def test_a_coat_kills_rubbed_metal_more_than_a_matt_clear_dulls_metallic_paint_and_gloss_the_least(self) -> None:
        metal = next(
            c.id for c in K.coats.values() if c.has(Trait.METALLIC) and K.system_of(c.id).film.value != "rubbed"
        )
        rubbed = next(
            c.id for c in K.coats.values() if c.has(Trait.METALLIC) and K.system_of(c.id).film.value == "rubbed"
        )

        def over(below: str, sheen: str) -> float:
            return self.severity(
                "dulls", coat("m", below, coverage=1.0), coat("c", "waterborne_clear", 9 * DAY, sheen=sheen)
            )

        self.assertAlmostEqual(over(rubbed, "gloss"), 0.45)
        self.assertAlmostEqual(over(metal, "matt"), 0.4)
        self.assertAlmostEqual(over(metal, "gloss"), 0.22)

    def test_young_putty_sinks_and_more_so_under_hot_thinner(self) -> None:
        putty = next(c.id for c in K.coats.values() if c.use is Use.PUTTY)

        def over(hours: float, thinner: str) -> float:
            top = coat("c", "lacquer_primer", hours * 60, mix=mix("lacquer_primer", thinner, 1, 2))
            return self.severity("sinks", coat("p", putty, coverage=1.0), top)

        self.assertGreater(over(2, "hot_thinner"), over(2, "mild_thinner"))
        self.assertGreater(over(2, "mild_thinner"), over(24, "mild_thinner"))
        self.assertGreater(over(2, "hot_thinner"), 0.2)
        self.assertEqual(over(24 * 90, "hot_thinner"), 0.0)

    def test_tape_lifts_fragile_metal_the_more_the_stickier_it_is(self) -> None:
        metal = next(
            c.id for c in K.coats.values() if c.has(Trait.METALLIC) and K.system_of(c.id).film.value != "rubbed"
        )

        def under(tape: str) -> float:
            mask = {"kind": "fitting", "id": "m", "name": "m", "zones": ["side"], "action": "mask", "material": tape,
                    "wait_min": 20 * DAY}  # fmt: skip
            return self.severity("tape_lifts", coat("a", metal, coverage=1.0), mask)

        low, strong = K.touches["low_tack_tape"], K.touches["strong_tape"]
        self.assertAlmostEqual(under(low.id), 0.3, places=3)
        self.assertAlmostEqual(under(strong.id), 0.3 + 0.25 * (strong.tack - low.tack), places=3)


class Altitude(TestCase):
    def test_thin_air_has_less_pressure_by_the_standard_atmosphere(self) -> None:
        """ISO 2533 (from memory): 84.56 kPa at 1500 m, 79.50 kPa at 2000 m."""
        self.assertAlmostEqual(ambient_kpa(1500), 84.56, delta=0.05)
        self.assertAlmostEqual(ambient_kpa(2000), 79.50, delta=0.05)

    def test_an_airbrush_moves_less_air_higher_up_at_the_same_gauge(self) -> None:
        low, high = (float(air_flow(100.0, 1.0, altitude_m=m)[0]) for m in (0.0, 2500.0))
        self.assertLess(high, low * 0.9)

    def test_the_bench_card_goes_by_the_altitude_of_the_kit(self) -> None:
        cards = []
        for metres in (0, 2500):
            made = plan([coat("a", "lacquer_colour", method="spray")])
            kit = {"guns": [{"id": "g", "name": "Gun", "nozzle_mm": 0.3}], "altitude_m": metres}
            data = made.model_dump(mode="json", exclude_unset=True) | {"kit": kit}
            cards.append(card(parse_plan(data), "a").point)
        self.assertNotEqual(cards[0], cards[1])


class Order(TestCase):
    def test_a_step_that_closes_a_zone_waits_for_all_that_is_done_there(self) -> None:
        fit = {"kind": "fitting", "id": "fit", "name": "Fit the house", "zones": ["house"], "action": "fit",
               "closes": ["deck"], "hands_on_min": 5}  # fmt: skip
        steps = [coat("deck-paint", "lacquer_colour", zones=["deck"]), coat("house-paint", "lacquer_colour",
                 zones=["house"]), fit, coat("late", "lacquer_clear", zones=["deck"])]  # fmt: skip
        links = {
            (k.before, k.after) for k in net_of(plan(steps, zones=["deck", "house"])).links if k.what is What.ORDER
        }
        self.assertIn(("deck-paint", "fit"), links)
        self.assertIn(("fit", "late"), links)

    def mask(self, hours: float) -> list[str]:
        fitting = {"kind": "fitting", "zones": ["side"], "hands_on_min": 5}
        steps = [
            coat("a", "lacquer_colour"),
            fitting | {"id": "m", "name": "Mask", "action": "mask", "wait_min": 2 * DAY},
            coat("b", "lacquer_colour", 10),
            fitting | {"id": "u", "name": "Unmask", "action": "unmask", "wait_min": hours * 60 - 10},
        ]
        return [r.code for r in assess(plan(steps)).remarks]

    def test_a_mask_that_stays_on_past_its_time_is_told_and_one_that_does_not_is_not(self) -> None:
        self.assertIn("mask_long", self.mask(30))
        self.assertNotIn("mask_long", self.mask(20))

    def test_the_schedule_takes_the_mask_off_in_time(self) -> None:
        fitting = {"kind": "fitting", "zones": ["side"], "hands_on_min": 5}
        steps = [coat("a", "lacquer_colour"), fitting | {"id": "m", "name": "Mask", "action": "mask"},
                 fitting | {"id": "u", "name": "Unmask", "action": "unmask"}]  # fmt: skip
        link = next(k for k in net_of(plan(steps)).links if k.what is What.MASK)
        self.assertEqual(link.ages.careful, ((0.0, 24 * 60.0),))


class Again(TestCase):
    def test_what_failed_is_not_done_again_before_it_is_off(self) -> None:
        hours = {
            "weekly": [{"days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "start": "10:00", "length_min": 300}]
        }
        made = parse_plan(plan_json([coat("a", "enamel_colour", hands_on_min=20)]) | {"hours": hours})
        began, off = at(made, 60), at(made, 3 * DAY)
        failed = Happened(step="a", zone="side", state=State.FAILED, starts_at=began, ends_at=off)
        agenda = Agenda(made, Record(entries=[failed], now_at=at(made, DAY)))
        for start in (
            times_of(agenda, make(agenda, seconds=5).schedule)["a"].start_min,
            first_schedule(agenda).starts["a"],
        ):
            self.assertGreaterEqual(start, 3 * DAY - 1)


class Reading(TestCase):
    def test_the_compendium_tells_what_opens_an_alkyd_young_and_what_swells_it_hard(self) -> None:
        enamel = next(c for c in compendium().coats if c.id == "enamel_colour")
        opened = {o.carrier: o for o in enamel.opened}
        spirit, hot = opened[K.thinners["white_spirit"].name], opened[K.thinners["hot_thinner"].name]
        self.assertGreater(spirit.young, 0.5)
        self.assertLess(spirit.power, 0.2)
        self.assertGreater(hot.power, spirit.power)
        self.assertLess(hot.power, hot.young)

    def test_the_report_tells_until_when_a_wait_lasts(self) -> None:
        told = report(tug(), assess(tug()))
        self.assertIn("safe from", told)
        self.assertRegex(told, r"Best guess \w{3} \d+ \w{3} \d\d:\d\d")


class WaysOut(TestCase):
    def test_the_milder_thinner_of_the_system_is_tried(self) -> None:
        hot = mix("lacquer_primer", "hot_thinner", 1, 2)
        made = parse_plan(plan_json([coat("a", "lacquer_primer", method="wet_spray", mix=hot)]))
        self.assertEqual(assess(made).seams["a~side~base"].verdict, Verdict.CLASH)
        offered = {r.title: r for r in remedies(made, "a~side~base")}
        mild = next(r for title, r in offered.items() if title.startswith("Thin it with mild"))
        self.assertLess(mild.after.clashes, mild.before.clashes)
        self.assertIn("mild_thinner", str(mild.edits))

    def test_no_way_out_makes_anything_clash_that_did_not(self) -> None:
        for seed in (2, 3, 4):
            made = random_plan(seed, 10)
            before = assess(made)
            clashed = {i for i, s in before.seams.items() if s.verdict is Verdict.CLASH}
            for story in [s for s in before.stories if s.seams][:4]:
                for r in remedies(made, story.seams[0]):
                    after = assess(apply(made, parse_edits(r.edits))[0])
                    clashes = {i for i, s in after.seams.items() if s.verdict is Verdict.CLASH}
                    self.assertLessEqual(clashes, clashed, (seed, r.title))

    def test_nothing_at_the_bench_takes_two_pack_or_an_unknown_paint_off(self) -> None:
        for material in (next(c.id for c in K.coats.values() if c.has(Trait.ISOCYANATE)), K.unknown_coat.id):
            made = plan([coat("p", "lacquer_primer"), coat("a", material, DAY)], build={"base_material": "resin"})
            for later in (60, 9 * DAY):
                told = rescue(made, "a", "side", step_times(made)["a"].end_min + later)
                wet = [w.name for w in told.ways if w.carrier is not None]  # abrasive is another matter
                self.assertEqual(wet, [], (material, later))
                self.assertTrue(told.last_resort, material)

    def test_misting_is_offered_with_a_rub_that_is_less(self) -> None:
        self.assertLess(METHODS["mist"].rub, METHODS["spray"].rub)  # type: ignore[index]
