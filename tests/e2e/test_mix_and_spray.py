"""Mix and spray in Chromium: the cup, the map under mouse and keys, thinning, measures, instruments, small tools."""

import re

from builds.models import Build
from emvar_core.mix_and_spray.instruments import BENCH
from playwright.sync_api import Route, expect

from tests.lengths import at_length

from .browser import BrowserCase, take

TUG = "demo-harbour-tug"


class AtTheBench(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        for key, field, value in (
            ("compressor", "fault", "none"), ("compressor", "regulator_kpa", 100), ("hygrometer", "rh_pct", 50),
            ("scale", "fault", "none"), ("scale", "load_g", 0), ("scale", "tare", 0),
        ):  # fmt: skip
            BENCH.set(key, field, value)
        self.page.goto(f"{self.live_server_url}/build/{TUG}/mix-and-spray/ochre")
        self.page.wait_for_selector("[data-testid=quantity]")

    def step(self, step_id: str) -> dict:
        expect(self.page.get_by_test_id("saved")).to_have_text("Saved")
        return next(s for s in Build.objects.get(pk=TUG).plan["steps"] if s["id"] == step_id)

    def test_the_point_moves_under_the_keys_and_the_mouse_and_back(self) -> None:
        page = self.page
        point = page.get_by_test_id("point")
        expect(point).to_contain_text("even")
        slider = page.get_by_role("slider", name="Where the gun is held")
        slider.focus()
        for _ in range(12):
            page.keyboard.press("Shift+ArrowRight")
        for _ in range(12):
            page.keyboard.press("ArrowDown")
        expect(point).to_contain_text("runs, spiders")
        expect(point).to_contain_text("If only the")
        box = page.get_by_test_id("map").bounding_box()
        assert box
        page.mouse.click(box["x"] + box["width"] * 0.4, box["y"] + box["height"] * 0.6)
        expect(point).to_contain_text("even")
        page.get_by_role("button", name="Back to the best point").click()
        expect(page.get_by_role("button", name="Back to the best point")).to_have_count(0)

    def test_thinner_by_the_button_is_an_edit_that_moves_cup_and_map_and_can_be_undone(self) -> None:
        page = self.page
        before = page.get_by_test_id("thickness").inner_text()
        page.get_by_role("button", name="More thinner").click()
        expect(page.get_by_test_id("thickness")).not_to_have_text(before)
        self.assertEqual([p["amount"] for p in self.step("ochre")["mix"]["parts"]], [1, 1.25])
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_test_id("thickness")).to_contain_text(before.splitlines()[0].split(" mm")[0])

    def test_a_cup_is_filled_for_drops_and_the_film_moves_the_plan(self) -> None:
        page = self.page
        page.get_by_label("Fill for").select_option("drops")
        page.get_by_label("Drops", exact=True).fill("7")
        page.get_by_label("Drops", exact=True).press("Enter")
        expect(page.get_by_test_id("cup")).to_contain_text("7 drops")
        page.get_by_label("Dry film").fill("60")
        page.get_by_label("Dry film").press("Enter")
        expect(page.get_by_text("60 µm is much")).to_be_visible()
        self.assertEqual(self.step("ochre")["dry_film_um"], 60)
        page.get_by_role("button", name="Plan it as").click()
        expect(page.get_by_role("button", name="Plan it as")).to_have_count(0)
        self.assertGreater(self.step("ochre")["passes"], 4)
        page.get_by_role("button", name="For the build").click()
        expect(page.get_by_test_id("needs").get_by_role("listitem").first).to_contain_text("mL")

    def test_a_paint_in_hand_without_a_plan(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/mix-and-spray")
        page.wait_for_selector("[data-testid=map]")
        take(page, "Paint", "enamel_wash")
        expect(page.get_by_test_id("ladder")).to_be_visible()
        take(page, "Paint", "lacquer_primer")
        page.get_by_label("Nozzle").fill("7")
        page.get_by_label("Nozzle").press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("0.15 to 0.8")

    def test_a_measured_cup_wins_and_a_weighed_mix_is_corrected(self) -> None:
        page = self.page
        BENCH.set("scale", "load_g", 2.0)
        page.get_by_role("button", name="Measure").click()
        page.get_by_label("Or viscosity").fill("6")
        page.get_by_label("Or viscosity").press("Enter")
        take = page.get_by_role("button", name="Paint: take 2.00 g from the scale")
        take.click()
        expect(page.get_by_label("Paint weighed")).to_have_value("2")
        page.get_by_label("Thinner weighed").fill("0.4")
        page.get_by_label("Thinner weighed").press("Enter")
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("thickness")).to_contain_text("measured")
        expect(page.get_by_role("region", name="The cup")).to_contain_text("Too thick: add")
        measured = {k: v for k, v in self.step("ochre")["measured"].items() if v is not None}
        self.assertEqual(measured, {"viscosity_mpas": 6, "paint_g": 2, "thinner_g": 0.4})

    def test_the_map_follows_the_gauge_and_says_when_it_is_not_to_be_trusted(self) -> None:
        page = self.page
        page.get_by_label("Follow the gauge and the air").check()
        page.get_by_role("button", name="Instruments").click()
        page.get_by_label("Regulator").fill("1.6")
        page.get_by_label("Regulator").press("Enter")
        page.get_by_label("Misbehaves").nth(2).select_option("overload")
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("point")).to_contain_text("1.60 bar")
        expect(page.get_by_test_id("instruments")).to_contain_text("not to be trusted")

    def test_kit_and_small_tools(self) -> None:
        page = self.page
        page.get_by_role("button", name="Kit").click()
        page.get_by_label("Nozzle").fill("0.2")
        page.get_by_label("Nozzle").press("Enter")
        page.get_by_label("Compressor reaches").fill("9000")
        page.get_by_label("Compressor reaches").press("Enter")
        expect(page.get_by_role("alert").first).to_contain_text("what the compressor reaches must be at most 10 bar")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.assertEqual(Build.objects.get(pk=TUG).plan["kit"]["guns"][0]["nozzle_mm"], 0.2)
        page.get_by_role("button", name="Small tools").click()
        page.get_by_label("mark", exact=True).fill("2")
        expect(page.get_by_role("dialog")).to_contain_text("2 mm at 1:72 is 144 mm")

    def test_a_recipe_takes_further_parts_and_percent_has_to_add_up(self) -> None:
        page = self.page
        page.get_by_role("button", name="Recipe").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Another part").click()
        dialog.get_by_label("As").nth(2).select_option("retarder")
        dialog.get_by_label("Of").nth(2).select_option("acrylic_retarder")
        dialog.get_by_label("In", exact=True).select_option("percent")
        dialog.get_by_role("button", name="Take this recipe").click()
        expect(dialog.get_by_role("alert")).to_contain_text("add up to 100, not 3")
        for i, amount in enumerate(("45", "50", "5")):
            dialog.get_by_label("Amount").nth(i).fill(amount)
            dialog.get_by_label("Amount").nth(i).press("Enter")
        dialog.get_by_role("button", name="Take this recipe").click()
        expect(dialog).to_have_count(0)
        expect(page.get_by_test_id("cup").get_by_role("listitem")).to_have_count(3)
        parts = self.step("ochre")["mix"]["parts"]
        self.assertEqual([(p["role"], p["amount"]) for p in parts], [("paint", 45), ("thinner", 50), ("retarder", 5)])
        page.get_by_role("button", name="More thinner").click()
        expect(page.get_by_role("region", name="The cup")).to_contain_text("33.75 : 61.25 : 5")

    def test_a_drip_cup_of_ones_own_is_calibrated_and_measures(self) -> None:
        page = self.page
        page.get_by_role("button", name="Kit").click()
        for label, seconds in (("water", "60"), ("40 % sugar syrup", "20")):
            page.get_by_label(label).fill(seconds)
            page.get_by_label(label).press("Enter")
        page.get_by_role("button", name="Calibrate").click()
        expect(page.get_by_role("dialog").get_by_role("alert")).to_contain_text("thicker liquid has to take longer")
        page.get_by_label("water").fill("20")
        page.get_by_label("water").press("Enter")
        page.get_by_label("40 % sugar syrup").fill("58")
        page.get_by_label("40 % sugar syrup").press("Enter")
        page.get_by_role("button", name="Calibrate").click()
        expect(page.get_by_text("Calibrated: it can be chosen")).to_be_visible()
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Measure").click()
        page.get_by_label("Flow cup").select_option("own")
        page.get_by_label("Ran for").fill("40")
        page.get_by_label("Ran for").press("Enter")
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("thickness")).to_contain_text("3.4 mm²/s")
        expect(page.get_by_test_id("thickness")).to_contain_text("measured")

    def test_with_one_pressure_the_best_distance_for_it_is_told(self) -> None:
        page = self.page
        page.get_by_role("slider", name="Where the gun is held").focus()
        for _ in range(8):
            page.keyboard.press("Shift+ArrowRight")
        page.get_by_label("There is only this pressure").check()
        point = page.get_by_test_id("point")
        expect(point).to_contain_text(re.compile(r"Best with \d\.\d"))
        expect(point).to_contain_text("even")

    def test_what_it_is_for_how_wide_and_how_fast_move_the_point_and_are_kept_with_the_step(self) -> None:
        page = self.page
        point = page.get_by_test_id("point")
        even = point.inner_text()
        point.get_by_label("What for").select_option("line")
        expect(point).not_to_have_text(even)
        expect(point).to_contain_text("Air before paint")
        late: list[Route] = []
        page.route("**/api/**", lambda route: late.append(route))  # noqa: PLW0108 - a built-in will not do
        point.get_by_label("Wide").fill("3")
        point.get_by_label("Wide").press("Enter")
        point.get_by_label("Hand").select_text()
        while not late:
            page.wait_for_timeout(50)
        with page.expect_response("**/api/**"):
            late[0].continue_()
        page.unroute("**/api/**")
        page.wait_for_timeout(100)
        page.keyboard.type("4")  # the answer does not write where somebody is about to type
        point.get_by_label("Hand").press("Enter")
        expect(page.get_by_text("Hand 4.0 cm a second")).to_be_visible()
        point.get_by_role("button", name="Keep this point with the step").click()
        expect(point).to_contain_text("Kept with the step")
        kept = self.step("ochre")["spray"]
        self.assertEqual((kept["purpose"], kept["width_mm"], kept["speed_mm_s"]), ("line", 3, 40))
        point.get_by_label("Wide").fill("900")
        point.get_by_label("Wide").press("Enter")
        expect(page.get_by_role("alert")).to_contain_text("0.5 to 100 mm")

    def test_an_area_from_the_real_thing_goes_into_a_zone(self) -> None:
        page = self.page
        page.get_by_role("button", name="Small tools").click()
        page.get_by_label("Area of a hull: put into a zone").select_option("hull")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        zones = {z["id"]: z["area_cm2"] for z in Build.objects.get(pk=TUG).plan["zones"]}
        self.assertAlmostEqual(zones["hull"], 1006.9, delta=0.2)

    def test_a_wash_shows_its_ladder_and_every_coat_opens_without_an_error(self) -> None:
        page = self.page
        take(page, "Coat", "matt")
        page.get_by_role("link", name="on Rust streaks: wrinkles").click()
        expect(page.get_by_test_id("seam-panel")).to_contain_text("Matt clear on Rust streaks")
        page.go_back()
        page.wait_for_selector("[data-testid=quantity]")
        take(page, "Coat", "pin-wash")
        expect(page.get_by_test_id("ladder").get_by_role("listitem")).to_have_count(5)
        page.get_by_label("Another strength").fill("9")
        page.get_by_label("Another strength").press("Enter")
        expect(page.get_by_test_id("ladder").get_by_role("listitem")).to_have_count(6)
        expect(page.get_by_test_id("ladder")).to_contain_text("1 : 9")
        coats = [s["id"] for s in Build.objects.get(pk=TUG).plan["steps"] if s["kind"] == "coat"]
        for value in at_length(coats[::5], coats):
            take(page, "Coat", value)
            expect(page.get_by_test_id("quantity").or_(page.get_by_test_id("by-hand")).first).to_be_visible()
        for value, words in (
            ("hairspray", "60 s"),
            ("sponge", "torn sponge"),
            ("dust", "pinch"),
            ("pin-wash", "runs by"),
        ):
            take(page, "Coat", value)
            expect(page.get_by_test_id("by-hand")).to_contain_text(words)
