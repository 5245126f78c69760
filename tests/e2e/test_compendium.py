"""Techniques by search, schools, own materials and the compendium, in Chromium."""

from axe_playwright_python.sync_playwright import Axe
from builds.models import Build
from playwright.sync_api import expect

from .browser import BrowserCase, take

TUG = "demo-harbour-tug"


class OnTheBench(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.page.goto(f"{self.live_server_url}/build/{TUG}")
        self.page.wait_for_selector("[data-testid=rack]")

    def plan(self) -> dict:
        expect(self.page.get_by_test_id("saved")).to_have_text("Saved")
        return Build.objects.get(pk=TUG).plan

    def about(self, tab: str) -> None:
        self.page.get_by_role("button", name="Harbour tug").click()
        self.page.get_by_role("menuitem", name="This build").click()
        self.page.get_by_role("tab", name=tab).click()

    def test_a_technique_is_found_by_the_trades_words_and_brings_its_steps(self) -> None:
        page = self.page
        page.locator('[data-row="gloss~deck"]').click()
        page.keyboard.press("a")
        page.get_by_role("combobox", name="What to lay or do").fill("sludge")
        expect(page.get_by_role("option").first).to_contain_text("Sludge wash")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("technique")).to_contain_text(
            "alkyd oil 1 : 4 with odourless spirit, and as much dry pigment as oil"
        )
        steps = self.plan()["steps"]
        made = [s for s in steps if s.get("technique") == "sludge_wash"]
        self.assertEqual([s["kind"] for s in made], ["coat", "working"])
        self.assertEqual(made[1]["acts_on"], made[0]["id"])
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_role("button", name="Undo", exact=True)).to_be_disabled()
        self.assertFalse(any(s.get("technique") == "sludge_wash" for s in self.plan()["steps"]))

    def test_a_remark_is_told_at_its_step_and_in_the_overview(self) -> None:
        page = self.page
        story = page.get_by_test_id("overview").get_by_role("button").filter(has_text="wrong carrier")
        story.click()
        expect(page.get_by_test_id("remarks")).to_contain_text("wants water as its carrier")
        take(page, "Material", "waterborne_colour")
        expect(page.get_by_test_id("remarks")).to_have_count(0)

    def test_a_school_is_chosen_and_judges(self) -> None:
        page = self.page
        self.about("Schools")
        page.get_by_role("button", name="seal each with a clear").click()
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("overview")).to_contain_text("not sealed")
        self.assertEqual(self.plan()["schools"]["sealing"], "seal_between")

    def test_a_thinner_of_ones_own_is_entered_and_judged(self) -> None:
        page = self.page
        self.about("Own materials")
        page.get_by_role("button", name="Add a thinner").click()
        page.get_by_label("Percent of solvent 1").fill("30")
        expect(page.get_by_role("button", name="Take it")).to_be_disabled()
        page.get_by_label("Solvent 1", exact=True).select_option("water")
        page.get_by_label("Percent of solvent 1").fill("60")
        page.get_by_role("button", name="Take it").click()
        own = self.plan()["materials"][0]
        self.assertEqual(own["percent"], {"water": 60, "isobutanol": 40})
        page.keyboard.press("Escape")
        page.locator('[data-row="red-oxide~hull"]').click()
        take(page, "Thinned with", own["id"])
        expect(page.get_by_test_id("remarks")).to_contain_text("clouds in the cup")

    def test_a_paint_that_nobody_knows_is_told_by_its_bud_test(self) -> None:
        page = self.page
        self.about("Own materials")
        page.get_by_role("button", name="Add a paint").click()
        page.get_by_label("Bud test of a dried drop").select_option("mild_thinner")
        own = self.plan()["materials"][0]
        self.assertEqual((own["kind"], own["bud_test"]), ("coat", "mild_thinner"))
        page.keyboard.press("Escape")
        page.locator('[data-row="primer~hull"]').click()
        take(page, "Material", own["id"])
        expect(page.get_by_test_id("saved")).to_have_text("Saved")

    def test_the_compendium_is_searched_and_read(self) -> None:
        page = self.page
        page.get_by_role("link", name="Compendium").click()
        page.get_by_label("Search the compendium").fill("rust")
        expect(page.get_by_test_id("entries")).to_contain_text("Rust tint on chips")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("entry")).to_contain_text("Recipe")
        page.get_by_label("Search the compendium").fill("white spirit")
        page.get_by_test_id("entries").get_by_role("link", name="White spirit", exact=True).click()
        expect(page.get_by_test_id("entry")).to_contain_text("n-butyl acetate")
        page.get_by_label("Search the compendium").fill("moonshine")
        expect(page.get_by_test_id("entries")).to_contain_text("Nothing is called that here")
        self.assertEqual(Axe().run(page).response["violations"], [])
