"""Changing a plan in its drawing: mixes, zones, splits, builds, keys, themes."""

import re

from builds.models import Build
from playwright.sync_api import expect

from .browser import BrowserCase, take

TUG = "demo-harbour-tug"


class Editing(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.page.goto(f"{self.live_server_url}/build/{TUG}")
        self.page.wait_for_selector("[data-testid=rack]")

    def choose(self, step: str, zone: str) -> None:
        self.page.locator(f'[data-row="{step}~{zone}"]').click()

    def stored(self, step: str) -> dict:
        return next(s for s in Build.objects.get(pk=TUG).plan["steps"] if s["id"] == step)

    def saved(self) -> None:
        expect(self.page.get_by_test_id("saved")).to_have_text("Saved")

    def test_a_ratio_changes_the_cup(self) -> None:
        self.choose("hull-green", "topsides")
        before = self.page.get_by_test_id("cup").inner_text()
        field = self.page.get_by_label("Paint : thinner")
        field.fill("2 to 3")
        field.press("Enter")
        expect(self.page.get_by_test_id("step-panel").get_by_role("alert")).to_contain_text("as in 1 : 2")
        field.fill("3 : 1")
        field.press("Enter")
        expect(self.page.get_by_test_id("cup")).not_to_have_text(before)
        self.saved()
        self.assertEqual([p["amount"] for p in self.stored("hull-green")["mix"]["parts"]], [3, 1])

    def test_a_step_of_many_zones_is_done_one_by_one_and_back(self) -> None:
        self.choose("gloss", "hull")
        self.page.get_by_role("button", name="Each in a go of its own").click()
        expect(self.page.get_by_role("button", name="Each in a go of its own")).to_have_count(0)
        self.saved()
        steps = Build.objects.get(pk=TUG).plan["steps"]
        goes = [s for s in steps if s["id"] == "gloss" or s.get("recipe_of") == "gloss"]
        self.assertEqual([s["zones"] for s in goes], [["hull"], ["topsides"], ["deck"], ["house"], ["funnel"]])
        self.assertAlmostEqual(sum(s["hands_on_min"] for s in goes), 35, delta=3)
        self.page.get_by_role("button", name="Undo", exact=True).click()
        self.saved()
        self.assertEqual(len(self.stored("gloss")["zones"]), 5)

    def test_a_slow_pigment_holds_an_oil_back(self) -> None:
        self.choose("streaks", "hull")
        panel = self.page.get_by_test_id("step-panel")
        chart = panel.get_by_role("img", name="dry to the touch")
        before = chart.get_attribute("aria-label")
        panel.get_by_label("Its pigment dries").select_option("slow")
        self.saved()
        self.assertEqual(self.stored("streaks")["pigment_dries"], "slow")
        expect(chart).not_to_have_attribute("aria-label", before or "")

    def test_another_material_brings_its_usual_mix(self) -> None:
        self.choose("worn-grey", "deck")
        take(self.page, "Material", "waterborne_colour")
        expect(self.page.locator(".tag").filter(has_text="never")).to_have_count(0)
        self.saved()
        self.assertEqual(self.stored("worn-grey")["mix"]["parts"][1]["material"], "water_flow")

    def test_durations_are_read_as_people_write_them(self) -> None:
        self.choose("mask-band", "funnel")
        field = self.page.get_by_label("Waits first")
        for text, minutes in (("6 h", 360), ("1:30", 90), ("2 days", 2880), ("45", 45)):
            field.fill(text)
            field.press("Enter")
            expect(self.page.get_by_test_id("step-panel").get_by_role("alert")).to_have_count(0)
            self.saved()
            self.assertEqual(self.stored("mask-band")["wait_min"], minutes)
        field.fill("soon")
        field.press("Enter")
        expect(self.page.get_by_test_id("step-panel").get_by_role("alert")).to_contain_text("write 40 min")

    def test_a_zone_is_split_off_and_joined_again_by_undo(self) -> None:
        self.choose("gloss", "deck")
        self.page.get_by_role("button", name="Split off Deck").click()
        expect(self.page.get_by_role("button", name="Undo", exact=True)).to_be_enabled()
        self.saved()
        self.assertEqual(len(Build.objects.get(pk=TUG).plan["steps"]), 25)
        self.page.get_by_role("button", name="Undo", exact=True).click()
        self.saved()
        expect(self.page.get_by_role("button", name="Undo", exact=True)).to_be_disabled()
        self.assertEqual(self.stored("gloss")["zones"], ["hull", "topsides", "deck", "house", "funnel"])

    def test_removing_a_coat_takes_its_work_along(self) -> None:
        self.choose("pin-wash", "deck")
        self.page.get_by_role("button", name="Remove", exact=True).click()
        expect(self.page.locator('[data-row="wipe~deck"]')).to_have_count(0)
        expect(self.page.locator('[data-row="matt~deck"]')).to_be_focused()  # its neighbour
        self.saved()
        self.assertEqual(len(Build.objects.get(pk=TUG).plan["steps"]), 22)

    def test_arrows_walk_from_coat_to_coat_and_core_to_core(self) -> None:
        self.choose("primer", "hull")
        for key, row in (
            ("ArrowUp", "red-oxide~hull"),
            ("ArrowRight", "hull-green~topsides"),
            ("ArrowDown", "primer~topsides"),
            ("End", "scuppers~topsides"),
        ):
            self.page.keyboard.press(key)
            expect(self.page.locator(f'[data-row="{row}"]')).to_be_focused()

    def test_n_leads_through_what_is_wrong(self) -> None:
        seen = []
        for _ in range(3):
            self.page.keyboard.press("n")
            expect(self.page.get_by_test_id("seam-panel")).to_be_visible()
            seen.append(self.page.get_by_test_id("seam-panel").get_by_role("heading").first.inner_text())
        self.assertEqual(len(set(seen)), 3)

    def test_keys_are_listed_and_the_theme_stays(self) -> None:
        self.page.keyboard.press("?")
        expect(self.page.get_by_role("dialog")).to_contain_text("undo · redo")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name="Settings").click()
        self.page.get_by_role("radio", name="Evening").click()
        self.page.reload()
        expect(self.page.locator("html")).to_have_attribute("data-theme", "dark")

    def test_a_build_is_begun_and_deleted(self) -> None:
        self.page.get_by_role("link", name="Emvar: all builds").click()
        self.page.get_by_label("Name of the build").fill("Pilot cutter")
        self.page.get_by_role("button", name="Begin this build").click()
        expect(self.page.get_by_role("button", name="Lay the first coat")).to_be_visible()
        self.page.get_by_role("button", name="Lay the first coat").click()
        self.page.get_by_role("combobox", name="What to lay or do").fill("lacquer primer")
        self.page.keyboard.press("Enter")
        expect(self.page.locator(".coat")).to_have_count(3)  # a primer goes on all zones
        self.page.get_by_role("link", name="Emvar: all builds").click()
        self.page.get_by_role("button", name="Delete Pilot cutter").click()
        expect(self.page.get_by_role("link", name=re.compile("^Pilot cutter"))).to_have_count(0)
        self.assertFalse(Build.objects.filter(name="Pilot cutter").exists())
        self.page.get_by_test_id("trash").locator("summary").click()
        self.page.get_by_role("button", name="Put Pilot cutter back").click()
        self.page.get_by_role("link", name=re.compile("^Pilot cutter")).click()
        expect(self.page.locator(".coat")).to_have_count(3)
