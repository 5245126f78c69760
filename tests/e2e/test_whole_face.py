"""What holds in every view: units, words for a newcomer, parts that fail alone, the compendium's way into a build."""

import re

from builds.models import Build
from playwright.sync_api import Route, expect

from .browser import BrowserCase

TUG = "demo-harbour-tug"


class WholeFace(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.open(f"/build/{TUG}")

    def open(self, path: str) -> None:
        self.page.goto(f"{self.live_server_url}{path}")

    def choose_units(self, **wanted: str) -> None:
        page = self.page
        page.get_by_role("button", name="Settings").click()
        for group, words in wanted.items():
            page.get_by_role("radiogroup", name=group.replace("_", " ")).get_by_role("radio", name=words).click()
        page.keyboard.press("Escape")

    def test_units_are_one_setting_that_every_view_obeys(self) -> None:
        page = self.page
        expect(page.get_by_role("button", name="Bench air")).to_contain_text("20 °C")
        self.choose_units(Pressure="psi", Temperature="°F", Lengths="in", Hours="8:30 pm")
        expect(page.get_by_role("button", name="Bench air")).to_contain_text("68 °F")
        expect(page.get_by_test_id("clock-now")).to_have_text(re.compile(r"\d [ap]m$"))
        page.get_by_role("button", name="Bench air").click()
        page.get_by_label("Temperature").first.fill("50")
        page.get_by_label("Temperature").first.press("Enter")
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.assertEqual(Build.objects.get(pk=TUG).plan["air"]["day"]["temp_c"], 10)
        page.get_by_role("link", name="Mix and spray").click()
        expect(page.get_by_test_id("point")).to_contain_text(re.compile(r"\d psi, \d+\.\d in"))
        expect(page.get_by_test_id("point")).not_to_contain_text("bar")
        page.get_by_role("button", name="Kit").click()
        expect(page.get_by_label("Compressor reaches")).to_have_value("36.26")
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Sittings").click()
        expect(page.get_by_test_id("finish")).to_contain_text(re.compile(r"\d [ap]m"))
        self.assertIn("hours=12", page.get_by_role("link", name="CSV").get_attribute("href") or "")
        page.reload()  # and it is kept
        expect(page.get_by_role("button", name="Bench air")).to_contain_text("50 °F")

    def test_a_newcomer_reads_what_a_column_and_a_crack_are_and_where_to_begin(self) -> None:
        page = self.page
        welcome = page.get_by_test_id("welcome")
        for words in ("Each column is a zone", "A crack", "Begin with the first line"):
            expect(welcome).to_contain_text(words)
        expect(page.get_by_test_id("rack-key")).to_contain_text("workable")
        welcome.get_by_role("button", name="OK").click()
        page.reload()
        page.get_by_test_id("overview").wait_for()
        expect(welcome).to_have_count(0)

    def test_a_part_that_fails_says_so_and_the_rest_goes_on(self) -> None:
        page = self.page
        page.route(re.compile(r"/later-.*\.js"), lambda route: route.abort())
        page.reload()
        expect(page.get_by_role("alert").filter(has_text="could not be shown").first).to_be_visible()
        page.locator(".coat").first.click()  # the drawing and the clock are alive
        page.get_by_test_id("clock").focus()
        before = page.get_by_test_id("clock-now").inner_text()
        page.keyboard.press("PageUp")
        expect(page.get_by_test_id("clock-now")).not_to_have_text(before)

    def test_the_compendium_tells_a_technique_from_its_material_and_puts_it_into_the_build(self) -> None:
        page = self.page
        page.get_by_test_id("overview").wait_for()
        self.open("/compendium#material~clay_wash")
        expect(page.get_by_test_id("entry")).not_to_contain_text("Put it into")
        self.open("/compendium#technique~clay_wash")
        entries = page.locator("[data-entry]")
        keys = entries.evaluate_all("all => all.map((e) => e.dataset.entry)")
        self.assertEqual(len(keys), len(set(keys)))
        held: list[Route] = []
        page.route("**/api/techniques", lambda route: held.append(route))  # noqa: PLW0108 - a built-in will not do
        page.get_by_role("link", name="Put it into “Harbour tug”").click()
        expect(page.get_by_role("combobox", name="What to lay or do")).to_be_focused()
        expect(page.get_by_role("option")).to_have_count(0)  # nothing else is offered in its place
        for route in held:
            route.continue_()
        page.get_by_role("option").first.wait_for()
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("step-panel")).to_contain_text("Clay wash")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        made = [s for s in Build.objects.get(pk=TUG).plan["steps"] if s.get("technique") == "clay_wash"]
        self.assertEqual([s["kind"] for s in made], ["coat", "working"])

    def test_a_build_is_begun_before_the_materials_are_heard_of(self) -> None:
        page = self.page
        page.locator(".coat").first.wait_for()  # left while it loads its scripts, a page once never came up again
        page.route("**/api/knowledge", lambda route: None)  # it does not answer yet
        page.goto(self.live_server_url)
        page.get_by_label("Name of the build").fill("Pilot cutter")
        with page.expect_response("**/api/begin") as told:
            page.keyboard.press("Enter")
        self.assertEqual(told.value.status, 201)

    def test_an_own_outline_is_kept_and_begun_from(self) -> None:
        page = self.page
        page.get_by_role("button", name="Harbour tug").click()
        page.get_by_role("menuitem", name="Keep its steps as an outline").click()
        expect(page.get_by_role("status").filter(has_text="is kept as an outline")).to_be_visible()
        self.open("/")
        page.get_by_role("button", name=re.compile("^Harbour tug")).click()
        page.get_by_label("Name of the build").fill("Her sister")
        page.get_by_role("button", name="Begin this build").click()
        expect(page.locator(".coat").first).to_be_visible()
        sister = Build.objects.get(name="Her sister")
        self.assertEqual(len(sister.plan["steps"]), 24)
        self.assertFalse(sister.outline)

    def test_on_the_list_each_build_is_a_small_rack_with_what_is_wrong_and_next(self) -> None:
        page = self.page
        page.get_by_test_id("overview").wait_for()
        self.open("/")
        card = page.get_by_role("listitem").filter(has=page.get_by_role("link", name="Harbour tug"))
        expect(card).to_contain_text("2 clashes, 5 waits, 3 cautions")
        expect(card).to_contain_text("Chip the deck with water: never opens")
        expect(card).to_contain_text(re.compile("begins|next|all of it is past"))
