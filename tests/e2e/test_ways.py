"""Ways out and back, where the question arises, in Chromium."""

import re

from axe_playwright_python.sync_playwright import Axe
from builds.models import Build
from playwright.sync_api import expect

from tests.lengths import at_length

from .browser import BrowserCase


class WaysOut(BrowserCase):
    def open(self, build: str) -> None:
        self.page.goto(f"{self.live_server_url}/build/{build}")
        self.page.wait_for_selector("[data-testid=rack]")

    def test_each_demo_is_mended_by_what_the_screen_offers_alone(self) -> None:
        for build in at_length(("demo-quay-crane",), ("demo-harbour-tug", "demo-quay-crane")):
            self.open(build)
            page = self.page
            page.get_by_role("button", name="Mend the plan").click()
            mended = page.get_by_test_id("versions").get_by_role("heading", name="Mended").locator("..")
            expect(mended.get_by_role("button", name="Keep it")).to_be_visible()
            mended.get_by_role("button", name="Keep it").click()
            overview = page.get_by_test_id("overview").get_by_role("heading").first
            expect(overview).to_have_text(re.compile("Nothing clashes|All seams are sound"))
            expect(page.get_by_test_id("saved")).to_have_text("Saved")
            self.assertEqual(Build.objects.get(pk=build).revision, 2)
            page.get_by_role("button", name="Undo", exact=True).click()
            expect(overview).to_contain_text("clash")

    def test_several_ways_out_of_one_clash_stand_side_by_side(self) -> None:
        self.open("demo-harbour-tug")
        page = self.page
        page.locator(".tag").filter(has_text="wrinkles").first.click()
        page.wait_for_selector("[data-testid=remedies] li")
        first = page.locator("[data-testid=remedies] li button").first.locator("span.font-semibold").inner_text()
        page.get_by_role("button", name="Compare").click()
        columns = page.get_by_test_id("versions").get_by_role("heading", level=3)
        expect(columns.first).to_have_text("As planned")
        expect(columns.nth(1)).to_have_text(first)
        expect(columns).to_have_count(4)
        keep = page.get_by_test_id("versions").get_by_role("button", name="Keep it")
        expect(keep).to_have_count(3)
        self.assertEqual(Axe().run(page).response["violations"], [])
        keep.first.click()
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.assertEqual(Build.objects.get(pk="demo-harbour-tug").revision, 2)

    def test_whoever_has_just_spoiled_a_coat_gets_the_next_minute(self) -> None:
        self.open("demo-harbour-tug")
        page = self.page
        page.get_by_test_id("clock").focus()
        page.keyboard.press("End")
        page.locator('[data-row="matt~hull"]').click()
        expect(page.get_by_test_id("rescue")).to_contain_text("If it goes wrong")
        page.get_by_label("It looks wrong: what do you see?").select_option("wrinkle")
        fault = page.get_by_test_id("fault")
        expect(fault).to_contain_text("half hardened")
        expect(fault).to_contain_text("This minute")
        expect(fault).to_contain_text("Do not press it down")
        self.assertEqual(Axe().run(page).response["violations"], [])

    def test_reach_parking_and_what_may_go_over(self) -> None:
        self.open("demo-harbour-tug")
        page = self.page
        page.get_by_role("button", name="What still comes off").click()
        expect(page.get_by_test_id("undo-reach")).to_be_attached()
        page.get_by_role("button", name="Can I stop now?").click()
        expect(page.get_by_test_id("parking")).to_contain_text("chips come harder")
        page.keyboard.press("Escape")
        page.locator('[data-row="gloss~hull"]').click()
        page.get_by_role("button", name="What may go here?").click()
        expect(page.get_by_test_id("over")).to_contain_text("Later")
        page.get_by_role("button", name="Under this coat").click()
        expect(page.get_by_test_id("under")).to_contain_text("Good under it")

    def test_a_lacking_thinner_is_replaced_and_looked_at_first(self) -> None:
        self.open("demo-harbour-tug")
        page = self.page
        page.locator('[data-row="matt~hull"]').click()
        page.get_by_role("button", name="… this thinner").click()
        expect(page.get_by_test_id("substitutes")).to_contain_text("Mild levelling thinner")
        page.get_by_test_id("substitutes").get_by_role("button").first.click()
        expect(page.get_by_test_id("rack")).to_contain_text("nothing is kept yet")
        self.assertEqual(Build.objects.get(pk="demo-harbour-tug").revision, 1)

    def test_a_trial_on_scrap_decides_a_seam_visibly(self) -> None:
        self.open("demo-harbour-tug")
        page = self.page
        page.locator(".tag").filter(has_text="wrinkles").first.click()
        test = page.get_by_test_id("scrap-test")
        test.get_by_text("Settle it on scrap").click()
        expect(test).to_contain_text("piece of polystyrene")
        test.get_by_role("button", name="It passed").click()
        expect(page.get_by_test_id("seam-panel")).to_contain_text("Your trial on scrap passed")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.assertTrue(Build.objects.get(pk="demo-harbour-tug").plan["trials"][0]["passed"])
        test.get_by_role("button", name="Take the result out").click()
        expect(page.get_by_test_id("seam-panel")).to_contain_text("wrinkles and lifts")
