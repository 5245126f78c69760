"""Rules that deliberate breaks had gone through unseen: each test here was seen to fail when its rule was bent."""

from datetime import timedelta
from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.at_the_bench.timers import timers
from emvar_core.judging import SeamOut, Standing, conditions_of, lay, stand
from emvar_core.judging.contacts import slight
from emvar_core.judging.stories import reasons_of
from emvar_core.judging.trials import overridden
from emvar_core.judging.verdicts import WAIT_HORIZON_MIN
from emvar_core.knowledge import knowledge
from emvar_core.knowledge.types import System
from emvar_core.physics.blend import Blend, blend_of
from emvar_core.physics.hansen import power_on
from emvar_core.plan import Plan, Record, Trial, apply, parse_edits, step_times
from emvar_core.plan.documents import Happened, State
from emvar_core.schedule.agenda import Agenda
from emvar_core.seams.mechanisms.beads import WETS_OIL_BETTER
from emvar_core.seams.mechanisms.still_wet import severity
from emvar_core.seams.meeting import Meeting, live_medium
from emvar_core.seams.places import Spot, shared
from emvar_core.seams.reach import reach
from emvar_core.seams.situation import Landing, Layer, Reads
from emvar_core.vocabulary import Contact, Edge, Event, Place, Sure, Verdict
from emvar_core.ways.waits import followed

from tests.builders import DAY, coat, plan

K = knowledge()
RESIN = Layer(None, "Resin", 1000, 1.0, None, substrate=K.substrates["resin"])


def on_resin(*steps: dict[str, Any], **more: Any) -> Plan:
    return plan(list(steps), build={"base_material": "resin"}, **more)


def laid(material: str, **more: Any) -> Layer:
    made = on_resin(coat("a", material, **more))
    times = step_times(made)
    return lay(conditions_of(made, times), made.steps[0], times["a"]).layer  # type: ignore[arg-type]


def landing(liquid: str, **more: Any) -> Landing:
    given = {"contact": Contact.LAY, "method": None, "liquid_um": 25.0, "wet_s": 60.0, "rub": 0.3}
    return Landing(**{**given, **Landing.liquid(K, blend_of(K.thinners[liquid])), **more})


def standing(made: Plan, at_min: float) -> Standing:
    return stand(made, "side", at_min)


class Soaking(TestCase):
    """What is young and soluble below takes solvent up and gives it back; what is hard stops that."""

    def hard(self, *below: dict[str, Any]) -> float:
        steps = [*below, coat("top", "lacquer_colour", 5)]
        made = on_resin(*steps)
        entry = standing(made, 6 + sum(s["wait_min"] for s in below)).stack[-1]
        assert entry.layer.drying is not None
        return entry.layer.drying.event(Event.HARD, Edge.BEST) - entry.layer.end_min

    def test_fresh_primer_holds_the_next_lacquer_back(self) -> None:
        alone = self.hard()
        self.assertGreater(self.hard(coat("p", "lacquer_primer")), alone * 1.1)
        self.assertAlmostEqual(self.hard(coat("p", "lacquer_primer"), coat("c", "lacquer_colour", 30 * DAY)) / alone,
                               self.hard(coat("c", "lacquer_colour")) / alone, delta=0.02)  # fmt: skip

    def test_it_does_not_reach_past_a_layer_of_another_kind(self) -> None:
        past = self.hard(coat("p", "lacquer_primer"), coat("w", "waterborne_colour", 60))
        self.assertAlmostEqual(past, self.hard(coat("w", "waterborne_colour")), delta=0.01)


class Aids(TestCase):
    def test_a_cabinet_hurries_a_film_only_while_it_runs(self) -> None:
        aid = {"kind": "cabinet", "duration_min": 120, "temp_c": 40}
        aided, plain = (laid("enamel_colour", dry_film_um=20, **a).drying for a in ({"aids": [aid]}, {}))
        assert aided is not None and plain is not None
        gained = aided.ref_minutes(400) - aided.ref_minutes(300)
        self.assertAlmostEqual(gained, plain.ref_minutes(400) - plain.ref_minutes(300), places=4)
        self.assertGreater(aided.ref_minutes(100) - aided.ref_minutes(50), 1.5 * gained / 2)


class Solvents(TestCase):
    def test_alcohol_stays_latent_on_nitrate_when_there_is_water_with_it(self) -> None:
        lacquer = K.systems["lacquer"]
        both = ("isopropanol", "butyl_acetate")
        alcohol, ester = (power_on(K, Blend.of({s: 1, "water": 1}), lacquer).power for s in both)
        woken = power_on(K, Blend.of({**dict.fromkeys(both, 1), "water": 2}), lacquer).power
        self.assertLess(alcohol, 0.5 * ester)
        self.assertGreater(woken, 1.5 * alcohol)

    def test_a_carrier_loses_time_and_liquid_on_its_way_down(self) -> None:
        young = laid("lacquer_primer", dry_film_um=4.0)
        for liquid, seconds in ((9.0, 600.0), (60.0, 600.0)):
            top = landing("hot_thinner", liquid_um=liquid, wet_s=seconds)
            m = Meeting(K, top, (young, RESIN), 0, 1.0)
            way = reach(m.view(Reads.REACHED), 1.0, Edge.LATE)
            self.assertEqual(len(way), 2)
            self.assertAlmostEqual(way[1].liquid_um, liquid - young.film_um / 3)
            self.assertLess(way[1].seconds, seconds)


class Media(TestCase):
    def test_a_second_coat_of_a_medium_waits_for_no_recoating(self) -> None:
        seams = {}
        for top in ("chipping_medium", "lacquer_colour"):
            a = assess(on_resin(coat("a", "chipping_medium"), coat("b", top, 8)))
            seams[top] = {f.mechanism for f in a.seams["b~side~a"].findings}
        self.assertIn("too_early", seams["lacquer_colour"])
        self.assertNotIn("too_early", seams["chipping_medium"])

    def test_a_sparse_coat_seals_no_medium(self) -> None:
        medium = laid("hairspray")
        clear = laid("lacquer_clear")
        self.assertIsNone(live_medium((clear, medium, RESIN)))
        self.assertIsNotNone(live_medium((clear.over_share(0.4), medium, RESIN)))

    def test_chipping_takes_of_the_medium_as_well(self) -> None:
        made = on_resin(
            coat("h", "hairspray"), coat("t", "waterborne_colour", 15),
            {"kind": "working", "id": "c", "name": "C", "zones": ["side"], "action": "chip", "acts_on": "t",
             "carrier": "water", "leaves": 0.5, "wait_min": 15, "hands_on_min": 5},
        )  # fmt: skip
        there = {y.step_id: y.coverage for y in standing(made, 60).layers}
        self.assertEqual((there["h"], there["t"]), (0.5, 0.5))


class ThinOil(TestCase):
    def test_a_thin_mark_of_it_bears_a_light_pass_after_a_night_and_not_before(self) -> None:
        def told(hours: float) -> Verdict:
            mark = coat("o", "artists_oil", dry_film_um=3, coverage=0.1, method="brush")
            made = on_resin(coat("g", "lacquer_clear"), mark | {"wait_min": 10 * DAY},
                            coat("c", "waterborne_clear", hours * 60, method="mist"))  # fmt: skip
            return assess(made).seams["c~side~o"].verdict

        self.assertGreater(told(11).grave, told(13).grave)
        mark, top = laid("artists_oil", dry_film_um=3, coverage=0.1), landing("water", rub=0.05)
        view = Meeting(K, top, (mark, RESIN), 0).view(Reads.MET)
        assert mark.drying is not None
        dry = mark.drying.flash_end_min
        self.assertEqual([severity(view, dry + h * 60, Edge.LATE, wet=False) for h in (11, 13)], [0.6, 0.3])


class Telling(TestCase):
    def seam(self, **more: Any) -> SeamOut:
        made = on_resin(coat("a", "artists_oil"), coat("b", "lacquer_colour", 60))
        return assess(made).seams["b~side~a"].model_copy(update=more)

    def test_of_waits_the_longest_leads_and_of_the_rest_the_gravest(self) -> None:
        short = self.seam(id="s", verdict=Verdict.WAIT, opens_careful_min=100.0, sentence="short")
        long = self.seam(id="l", verdict=Verdict.WAIT, opens_careful_min=900.0, sentence="long")
        [reason] = reasons_of([short, long])
        self.assertEqual(reason.seams[0].id, "l")
        mild = self.seam(id="m", verdict=Verdict.CLASH)
        grave = mild.model_copy(update={"id": "g", "findings": [mild.findings[0].model_copy(update={"severity": 1.0})]})
        mild = mild.model_copy(update={"findings": [mild.findings[0].model_copy(update={"severity": 0.6})]})
        [reason] = reasons_of([mild, grave])
        self.assertEqual(reason.seams[0].id, "g")

    def test_a_pass_on_scrap_leaves_a_clear_cut_clash_a_caution(self) -> None:
        trial = Trial(upper="b", lower="a", passed=True, of="2:" + "0" * 16, age_min=60)
        firm = self.seam(verdict=Verdict.CLASH, sure=Sure.FIRM, disputed="")
        self.assertEqual(overridden(firm, trial).verdict, Verdict.CAUTION)
        self.assertEqual(overridden(firm.model_copy(update={"sure": Sure.OPEN}), trial).verdict, Verdict.SOUND)

    def test_what_waiting_ends_only_after_the_patience_is_a_clash(self) -> None:
        """Lacquer on 50 µm of fresh enamel: four weeks would end it, and nobody waits so long."""
        made = on_resin(coat("e", "enamel_colour", dry_film_um=50), coat("l", "lacquer_colour", 1))
        told = assess(made).seams["l~side~e"]
        assert told.opens_careful_min is not None
        self.assertGreater(told.opens_careful_min - told.at_min, WAIT_HORIZON_MIN)
        self.assertEqual(told.verdict, Verdict.CLASH)

    def test_an_event_is_no_answer_where_something_else_clashes_then(self) -> None:
        """Alkyd oil on wet enamel: once that is dry to the touch it is not wet any more, but it wrinkles."""

        def seam(wait: float) -> SeamOut:
            steps = [coat("e", "enamel_colour"), coat("o", "alkyd_oil", wait, method="spray")]
            return assess(on_resin(*steps)).seams["o~side~e"]

        told = seam(1)
        assert told.opens_careful_min is not None
        young = laid("enamel_colour").drying
        assert young is not None
        self.assertEqual(told.verdict, Verdict.WAIT)
        self.assertGreater(told.opens_careful_min, young.event(Event.TOUCH, Edge.LATE) + DAY)
        self.assertEqual(seam(told.opens_careful_min).verdict, Verdict.SOUND)

    def test_little_of_a_zone_and_little_of_the_mark_is_a_hint_and_only_both(self) -> None:
        self.assertTrue(slight(0.05, 0.2))
        self.assertFalse(slight(0.15, 0.1))
        self.assertFalse(slight(0.05, 0.9))
        self.assertTrue(slight(1.0, 0.0005))


def laid_landing(material: str) -> Landing:
    made = on_resin(coat("a", material))
    times = step_times(made)
    return lay(conditions_of(made, times), made.steps[0], times["a"]).landing  # type: ignore[arg-type]


class Systems(TestCase):
    def test_what_opens_a_film_has_to_be_said_or_that_nothing_does(self) -> None:
        for system, change in (
            ("lacquer", {"spheres": [], "opened_by": {}}),
            ("two_pack", {"opened_by_nothing": False}),
            ("lacquer", {"opened_by_nothing": True}),
        ):
            with self.subTest(system), self.assertRaisesRegex(ValueError, "opened_by_nothing = true"):
                System.model_validate(K.systems[system].model_dump() | change)


class Beads(TestCase):
    def test_glue_that_wets_oil_wets_wax_too(self) -> None:
        severities = []
        for top in ("waterborne_clear", "white_glue"):
            a = assess(on_resin(coat("a", "rub_on_metallic"), coat("b", top, 60 * DAY)))
            severities += [f.severity for f in a.seams["b~side~a"].findings if f.mechanism == "beads"]
        water, glue = severities
        self.assertAlmostEqual(glue, water * WETS_OIL_BETTER, places=3)


class TwoPack(TestCase):
    def test_scuffed_it_takes_another_coat_at_any_age(self) -> None:
        two_pack = next(c.id for c in K.coats.values() if K.system_of(c.id).film.value == "crosslinked")
        scuff = {"kind": "working", "id": "s", "name": "S", "zones": ["side"], "action": "scuff", "acts_on": "a",
                 "method": "dry_tool", "leaves": 1, "wait_min": 20 * DAY}  # fmt: skip
        top = coat("b", "lacquer_colour", 60)
        bare = assess(on_resin(coat("a", two_pack), top | {"wait_min": 20 * DAY})).seams["b~side~a"]
        keyed = assess(on_resin(coat("a", two_pack), scuff, top)).seams["b~side~a"]
        self.assertIn("unscuffed", {f.mechanism for f in bare.findings})
        self.assertNotIn("unscuffed", {f.mechanism for f in keyed.findings})


class Places(TestCase):
    def test_two_masks_keep_both_their_places_free(self) -> None:
        def mask(name: str, place: str, share: float) -> dict[str, Any]:
            return {"kind": "fitting", "id": name, "name": name, "zones": ["side"], "action": "mask",
                    "material": "low_tack_tape", "place": place, "share": share, "wait_min": DAY}  # fmt: skip

        one, two = mask("m", "low_band", 0.3), mask("n", "upward", 0.5)
        colour = coat("c", "lacquer_colour")
        made = on_resin(coat("p", "lacquer_primer"), one, two | {"wait_min": 0}, colour)
        self.assertAlmostEqual(standing(made, 9 * DAY).stack[-1].layer.coverage, 0.7 * 0.5)

    def test_beside_holds_for_the_step_that_it_names_and_for_what_was_split_off_from_it(self) -> None:
        upper = Spot("u", 1.0, Place.PATCH, beside=frozenset({"x"}))
        self.assertEqual(shared(upper, Spot("x", 0.5)), 0.0)
        self.assertEqual(shared(upper, Spot("x-2", 0.5, kin="x")), 0.0)
        self.assertEqual(shared(Spot("x", 0.5), upper), 0.0)
        self.assertGreater(shared(upper, Spot("y", 0.5)), 0.0)

    def test_a_coat_laid_into_spirit_stays_open_longer(self) -> None:
        def open_min(action: str) -> float:
            first = {"kind": "fitting", "id": "w", "name": "W", "zones": ["side"], "action": action, "hands_on_min": 1,
                     "wait_min": 9 * DAY}  # fmt: skip
            first |= {"carrier": "white_spirit"} if action == "wet" else {}
            made = on_resin(coat("g", "lacquer_clear"), first, coat("e", "enamel_wash"))
            drying = standing(made, 20 * DAY).stack[-1].layer.drying
            assert drying is not None
            return drying.flash_end_min - drying.end_min

        self.assertGreater(open_min("wet"), open_min("inspect") + 1)


class Waiting(TestCase):
    def test_a_wait_follows_one_below_it_that_was_raised(self) -> None:
        """In one zone the colour waits longer for its primer; the lacquer over both then waits less for the other."""
        kept_by = {"wait_by": "program"}
        steps = [
            coat("p", "lacquer_primer", zones=["a"]), coat("e", "waterborne_colour", zones=["a"], **kept_by),
            coat("o", "enamel_colour", zones=["b"]), coat("l", "lacquer_colour", zones=["a", "b"], **kept_by),
        ]  # fmt: skip
        made = plan(steps, zones=["a", "b"], build={"base_material": "resin"})
        made, _ = apply(made, followed(None, made))
        slower = {"edit": "set_field", "step_id": "p", "field": "dry_film_um", "value": 60}
        edited, _ = apply(made, parse_edits([slower]))
        kept, _ = apply(edited, followed(made, edited))
        anew, _ = apply(edited, followed(None, edited))
        waits = [s.wait_min for s in kept.steps]
        self.assertGreater(waits[1], made.steps[1].wait_min)
        self.assertEqual(waits, [s.wait_min for s in anew.steps])

    def test_a_night_lies_between(self) -> None:
        made = on_resin(coat("a", "lacquer_primer", 8 * 60), coat("b", "lacquer_colour", 30, overnight=True))
        times = step_times(made)
        self.assertEqual(times["b"].start_min, 20 * 60)  # from ten in the morning: six the next one

    def test_what_is_laid_right_before_the_night_flashes_off_in_its_air(self) -> None:
        night = {"night": {"temp_c": 8}, "night_from": "20:00", "night_to": "09:00"}
        flashed = []
        for air in ({"day": {"temp_c": 30}}, {"day": {"temp_c": 30}, **night}):
            made = on_resin(coat("e", "enamel_colour", 10 * 60 - 1, hands_on_min=0.5), air=air)  # from ten on
            times = step_times(made)
            [step] = made.steps
            drying = lay(conditions_of(made, times), step, times["e"]).drying
            flashed.append(drying.flash_end_min - times["e"].end_min)
        warm, cold = flashed
        self.assertGreater(cold, 1.5 * warm)

    def test_the_timer_of_what_was_done_late_runs_in_the_air_of_then(self) -> None:
        air = {"day": {"temp_c": 24}, "night": {"temp_c": 8}, "night_from": "20:00", "night_to": "09:00"}
        made = on_resin(coat("e", "enamel_colour"), coat("f", "enamel_colour", 6000), air=air)
        at = made.build.starts_at + timedelta(hours=10)  # at eight in the evening instead of ten in the morning
        done = Happened(step="e", zone="side", state=State.DONE, starts_at=at, ends_at=at)
        opens = {}
        records = {"planned": None, "done late": Record(entries=[done], now_at=at), "still to do": Record(now_at=at)}
        for name, record in records.items():
            found = timers(Agenda(made, record), assess(made))  # told by the plan: only the agenda knows the time
            opens[name] = next(t.opens[2] for t in found if t.id == "e~touch")
        self.assertGreater(opens["done late"], 1.5 * opens["planned"])
        self.assertEqual(opens["still to do"], opens["done late"])


class OnItsGround(TestCase):
    """What a material is for is no fault on the bare model."""

    def told(self, material: str, base: str = "polystyrene", **more: Any) -> tuple[Verdict, list[str]]:
        [seam] = assess(plan([coat("a", material, **more)], build={"base_material": base})).seams.values()
        return seam.verdict, [f.word for f in seam.findings]

    def test_solvent_putty_is_for_bare_plastic_in_thin_layers(self) -> None:
        for base in ("polystyrene", "abs", "resin"):
            self.assertEqual(self.told("solvent_putty", base)[0], Verdict.SOUND, base)
        self.assertEqual(self.told("solvent_putty", dry_film_um=800), (Verdict.CAUTION, ["crazes"]))
        for base in ("glazing", "foam"):
            self.assertEqual(self.told("solvent_putty", base)[0], Verdict.CLASH, base)

    def test_foil_shows_grain_where_a_decal_silvers(self) -> None:
        self.assertEqual(self.told("decal"), (Verdict.CAUTION, ["silvers"]))
        self.assertEqual(self.told("metal_foil"), (Verdict.CAUTION, ["shows grain"]))
