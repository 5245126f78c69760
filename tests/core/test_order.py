"""What the order of steps brings: masks, parts on or off, reach, film budget, schools, mirrored sides; and cautions."""

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging.outcome import Remark
from emvar_core.knowledge import knowledge
from emvar_core.plan import parse_plan
from emvar_core.remarks.sequence import film_budget_um
from emvar_core.vocabulary import DEFER

from tests.builders import DAY, coat, plan, plan_json

K = knowledge()


def fit(step_id: str, action: str, wait_min: float = 0, **more: Any) -> dict[str, Any]:
    base = {"kind": "fitting", "id": step_id, "name": step_id, "zones": ["side"], "action": action}
    return {**base, "wait_min": wait_min, "hands_on_min": 0, **more}


def told(steps: list[dict[str, Any]], **more: Any) -> list[Remark]:
    return assess(plan(steps, **more)).remarks


def codes(steps: list[dict[str, Any]], **more: Any) -> list[tuple[str, str, str]]:
    return [(r.step_id, r.code, r.verdict.value) for r in told(steps, **more)]


class Masks(TestCase):
    def test_a_mask_that_is_never_taken_off(self) -> None:
        steps = [coat("a", "lacquer_primer"), fit("on", "mask", DAY)]
        self.assertEqual(codes(steps), [("on", "mask_on", "caution")])
        self.assertEqual(codes([*steps, fit("off", "unmask", 60)]), [])

    def test_a_mask_left_on_too_long(self) -> None:
        for hours, expected in ((5, []), (40, [("off", "mask_long", "caution")])):
            for material in (None, "liquid_mask"):
                mask = {"material": material} if material else {}
                steps = [
                    coat("a", "lacquer_primer"),
                    fit("on", "mask", 3 * DAY, **mask),
                    fit("off", "unmask", hours * 60),
                ]
                self.assertEqual(codes(steps), expected, (hours, material))

    def test_unmasking_what_is_not_masked_is_a_hint(self) -> None:
        self.assertEqual(codes([fit("off", "unmask")]), [("off", "no_mask", "sound")])


class Reach(TestCase):
    def test_a_zone_that_is_closed_can_no_longer_be_reached_until_the_part_is_off(self) -> None:
        zones = ["side", "inside"]
        close = fit("roof", "glue", closes=["inside"])
        late = coat("late", "lacquer_primer", zones=["inside"], wait_min=DAY)
        self.assertEqual(codes([close, late], zones=zones), [("late", "closed", "clash")])
        self.assertEqual(codes([late, fit("roof", "glue", 2 * DAY, closes=["inside"])], zones=zones), [])
        off = fit("off", "remove", 60, zones=["inside"])
        self.assertEqual(codes([close, off, late], zones=zones), [])
        between = coat("between", "lacquer_primer", zones=["inside"], wait_min=10)
        self.assertEqual(
            codes([close, between, fit("off", "remove", DAY, zones=["inside"])], zones=zones),
            [("between", "closed", "clash")],
        )

    def test_a_step_that_needs_the_part_off_after_it_is_glued_on(self) -> None:
        steps = [fit("on", "fit"), coat("a", "lacquer_primer", DAY, needs_part_off=True)]
        self.assertIn(("a", "part_on", "clash"), codes(steps))
        self.assertEqual(assess(plan(steps)).score.clashes, 1)
        self.assertEqual(codes([steps[0], fit("off", "remove"), steps[1]]), [])

    def test_spraying_over_a_fitted_part_is_a_hint(self) -> None:
        self.assertEqual(codes([fit("on", "fit"), coat("a", "lacquer_primer", DAY)]), [("a", "over_fitted", "sound")])


class Budget(TestCase):
    def test_it_follows_practice_at_two_scales_and_falls_with_the_scale(self) -> None:
        self.assertEqual([round(x) for x in film_budget_um(72)], [60, 80])
        self.assertEqual([round(x) for x in film_budget_um(35)], [100, 120])
        most = [film_budget_um(s)[1] for s in (1, 16, 24, 35, 48, 72, 144, 350, 2000)]
        self.assertEqual(most, sorted(most, reverse=True))

    def test_the_coat_that_passes_it_is_told_once(self) -> None:
        steps = [coat(f"c{i}", "lacquer_colour", DAY, dry_film_um=20) for i in range(6)]
        self.assertEqual(codes(steps), [("c4", "budget", "caution")])
        self.assertEqual(codes(steps, build={"scale": 35}), [])
        sparse = [coat(f"c{i}", "lacquer_colour", DAY, dry_film_um=20, coverage=0.1) for i in range(6)]
        self.assertEqual(codes(sparse), [])


class Schools(TestCase):
    RUST = coat("rust", "artists_oil", 2 * DAY, technique="streaks", zones=["side"])
    DUST = coat("dust", "dry_pigment", DAY, technique="pigment_loose", coverage=0.2)

    def order(self, steps: list[dict[str, Any]], **schools: str) -> list[tuple[str, str | None]]:
        base = coat("g", "lacquer_clear", sheen="satin")
        return [(r.step_id, r.school) for r in told([base, *steps], schools=schools) if r.code.startswith("order")]

    def test_rust_and_dirt_by_school_and_by_none(self) -> None:
        rust_late, dust_late = [self.DUST, self.RUST], [self.RUST, self.DUST]
        self.assertEqual(self.order(rust_late, rust_and_dirt="rust_under_dirt"), [("rust", "rust_and_dirt")])
        self.assertEqual(self.order(rust_late, rust_and_dirt="rust_last"), [])
        self.assertEqual(self.order(dust_late, rust_and_dirt="rust_last"), [("dust", "rust_and_dirt")])
        self.assertEqual(self.order(rust_late) + self.order(dust_late), [])

    def test_seal_between_asks_for_a_clear_and_let_it_harden_does_not(self) -> None:
        wash = coat("wash", "enamel_wash", DAY, technique="pin_wash")
        oil = coat("oil", "artists_oil", 10 * DAY, technique="streaks")
        seal = coat("seal", "alcohol_acrylic_clear", 5 * DAY, sheen="satin")
        self.assertEqual(self.order([wash, oil], sealing="seal_between"), [("oil", "sealing")])
        self.assertEqual(self.order([wash, seal, oil], sealing="seal_between"), [])
        self.assertEqual(self.order([wash, oil], sealing="let_it_harden"), [])

    def test_light_before_dark_and_filter_before_wash(self) -> None:
        light = coat("light", "waterborne_colour", DAY, technique="sponge_chips", method="sponge", coverage=0.05)
        dark = coat("dark", "waterborne_colour", DAY, technique="brush_chips", method="brush", coverage=0.05)
        self.assertEqual(self.order([dark, light], chip_order="light_then_dark"), [("light", "chip_order")])
        self.assertEqual(self.order([light, dark], chip_order="light_then_dark"), [])
        wash = coat("wash", "enamel_wash", DAY, technique="pin_wash")
        filter_ = coat("filter", "enamel_wash", 5 * DAY, technique="filter")
        self.assertEqual(self.order([wash, filter_], filter="filter_first"), [("filter", "filter")])
        self.assertEqual(self.order([filter_, wash], filter="filter_first"), [])

    def test_who_lets_it_harden_seals_nothing_between(self) -> None:
        oils = [coat("o", "artists_oil_rested", DAY), coat("c", "alcohol_acrylic_clear", 9 * DAY)]
        oils += [coat("p", "artists_oil_rested", 9 * DAY)]
        self.assertEqual(self.order(oils, sealing="let_it_harden"), [("p", "sealing")])
        self.assertEqual(self.order(oils, sealing="seal_between"), [])
        self.assertEqual(self.order([oils[0], oils[2]], sealing="let_it_harden"), [])

    def test_parts_go_on_when_the_school_says(self) -> None:
        late = [coat("c", "alcohol_acrylic_colour", DAY), fit("f", "fit", 9 * DAY)]
        self.assertEqual(self.order(late, assembly="assemble_then_paint"), [("f", "assembly")])
        self.assertEqual(self.order(late, assembly="fit_late"), [])
        over = [fit("f", "fit"), coat("c", "alcohol_acrylic_colour", DAY)]
        for school, verdict in (("fit_late", "caution"), ("assemble_then_paint", None), (None, "sound")):
            schools = {"assembly": school} if school else {}
            found = {r.verdict.value for r in told(over, schools=schools) if r.code == "over_fitted"}
            self.assertEqual(found, {verdict} - {None}, school)

    def test_silvering_says_that_the_schools_differ(self) -> None:
        steps = [coat("m", "lacquer_clear", sheen="satin"), coat("d", "decal", DAY)]
        seam = assess(plan(steps)).seams["d~side~m"]
        self.assertEqual(seam.findings[0].school, "clear_before_decals")
        self.assertIn("schools differ", seam.disputed)


class Mirrored(TestCase):
    def test_two_sides_worn_alike_are_a_hint(self) -> None:
        zones = [
            {"id": "p", "name": "Port side", "area_cm2": 50},
            {"id": "s", "name": "Starboard side", "area_cm2": 50},
        ]
        base = coat("g", "lacquer_clear", zones=["p", "s"], sheen="satin")
        chips = {"technique": "sponge_chips", "method": "sponge", "coverage": 0.05}

        def hints(**more: Any) -> list[str]:
            where = more.pop("zones", ["p", "s"])
            data = plan_json([base, coat("c", "waterborne_colour", DAY, zones=where, **chips, **more)])
            data["zones"] = zones
            return [r.code for r in assess(parse_plan(data)).remarks if r.code == "mirrored"]

        self.assertEqual(hints(), ["mirrored"])
        self.assertEqual(hints(coverage_by_zone={"p": 0.09}), [])
        self.assertEqual(hints(zones=["p"]), [])


class Cautions(TestCase):
    def notes(self, step: dict[str, Any], **more: Any) -> list[str]:
        return [n.caution for n in assess(plan([coat("z", "unknown_paint"), step], **more)).notes if n.step_id != "z"]

    def test_they_arise_where_the_danger_is(self) -> None:
        for step, expected in (
            (coat("a", "two_pack_clear"), "isocyanate"),
            (coat("a", "hairspray"), "can"),
            (coat("a", "lacquer_colour"), "nitro"),
            (coat("a", "artists_oil"), "toxic_pigment"),
            (coat("a", "dry_pigment"), "dust"),
            (coat("a", "enamel_wash"), "rags"),
            (coat("a", "enamel_wash"), "lick"),
            (fit("a", "glue", material="super_glue"), "superglue"),
            (fit("a", "glue", material="plastic_cement"), "cement"),
            (fit("a", "mask", material="liquid_mask"), "ammonia"),
            (fit("a", "mask"), "blade"),
        ):
            self.assertIn(expected, self.notes(step), step)
        self.assertNotIn("can", self.notes(coat("a", "lacquer_colour")))
        self.assertNotIn("flash", self.notes(coat("a", "waterborne_colour")))

    def test_flash_points_are_held_against_the_bench_temperature(self) -> None:
        for temp, expected in ((5, False), (42, True)):
            air = {"day": {"temp_c": temp, "rh_pct": 50}}
            self.assertEqual("flash" in self.notes(coat("a", "enamel_wash"), air=air), expected, temp)

    def test_every_list_ends_with_whom_to_ask(self) -> None:
        for material in K.coats:
            a = assess(plan([coat("a", material)]))
            if a.notes:
                self.assertEqual(a.notes[-1].text, DEFER)

    def test_none_of_them_gives_leave(self) -> None:
        for text in knowledge().cautions.values():
            for word in ("is safe", "you may", "allowed"):
                self.assertNotIn(word, text)


class Telling(TestCase):
    def test_a_wait_names_its_air_film_check_and_what_if_it_fails(self) -> None:
        steps = [coat("a", "alcohol_acrylic_colour", dry_film_um=15), fit("m", "mask", 60)]
        seam = assess(plan(steps)).seams["m~side~a"]
        self.assertEqual(seam.verdict.value, "wait")
        self.assertIn("15 µm", seam.assumes)
        self.assertIn("20 °C", seam.assumes)
        self.assertIn("thumbnail", seam.check)
        self.assertTrue(seam.if_fails and seam.would_change)

    def test_what_nobody_knows_is_open(self) -> None:
        steps = [coat("u", "unknown_paint"), coat("a", "lacquer_clear", 30 * DAY)]
        seam = assess(plan(steps)).seams["a~side~u"]
        self.assertEqual((seam.basis, seam.sure.value), ("unknown", "open"))

    def test_only_the_careful_edge_is_said_to_be_disputed(self) -> None:
        steps = [coat("a", "lacquer_colour"), coat("w", "enamel_wash", 330)]
        seam = assess(plan(steps, build={"base_material": "resin"})).seams["w~side~a"]
        self.assertEqual(seam.verdict.value, "caution")
        self.assertIn("careful edge", seam.disputed)

    def test_sound_seams_stay_quiet(self) -> None:
        steps = [coat("a", "lacquer_primer"), coat("b", "waterborne_colour", 2 * DAY)]
        seam = assess(plan(steps)).seams["b~side~a"]
        self.assertEqual((seam.sure.value, seam.check, seam.disputed, seam.would_change), ("firm", "", "", ""))
