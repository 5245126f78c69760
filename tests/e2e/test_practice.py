"""As a practitioner plans: from nothing, by the trade's words, without typing a wait."""

from builds.models import Build
from emvar_core.assess import assess
from emvar_core.plan import Plan, parse_plan
from playwright.sync_api import expect

from .browser import BrowserCase, empty

TUG = "demo-harbour-tug"
# What is typed, and what is found first.
FOUND_FIRST = {
    "matte": "Matt or satin clear to unify", "drybrush": "Dry brush", "tracks": "Worn metal edges",
    "whitewash": "Second colour over hairspray", "super-glue": "Glue: super glue", "can": "Lacquer primer",
    "retarder": "Sponge chips", "odourless": "Wet or mist: odourless spirit", "towel": "Pin wash", "lift": "Speckle",
    "feather": "Oil dots, fading", "scuff": "Scuff or rub: Gloss clear", "chalk": "Dry pigment",
    "rust spots": "Rust tint on chips", "panel lines": "Pin wash", "rust": "Rust tint on chips", "ink": "Shade ink",
    "hairpsray": "Second colour over hairspray", "turn over": "Turn over",
}  # fmt: skip


class FromNothing(BrowserCase):
    made_by = staticmethod(empty)

    def stored(self, name: str) -> Plan:
        return parse_plan(Build.objects.get(name=name).plan)

    def add(self, words: str) -> None:
        box = self.page.get_by_role("combobox", name="What to lay or do")
        box.fill(words)
        expect(self.page.get_by_role("option").first).to_be_visible()
        self.page.keyboard.press("Enter")
        expect(box).to_have_count(0)
        expect(self.page.get_by_test_id("saved")).to_have_text("Saved")

    def test_a_day_s_work_is_planned_without_typing_a_wait_and_nothing_is_red(self) -> None:
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_label("Name of the build").fill("Pilot cutter")
        page.get_by_role("button", name="Begin this build").click()
        page.get_by_role("button", name="Lay the first coat").click()
        for words in ("primer", "base colour", "gloss clear", "panel lines", "matte"):
            self.add(words)
            expect(page.locator("[data-row]:focus")).to_have_count(1)  # the keyboard goes to what was added
            if words == "panel lines":
                page.locator('[data-row^="wipe-the-wash-back"]').click()
                expect(page.get_by_test_id("step-name")).to_have_text("Wipe the wash back")
            if words != "matte":
                page.get_by_role("button", name="Lay over it").click()
        plan = self.stored("Pilot cutter")
        self.assertEqual(len(plan.steps), 6)
        self.assertEqual({s.wait_by.value for s in plan.steps}, {"program"})
        self.assertEqual(assess(plan).stories, [])

        told = page.get_by_test_id("wait-by")
        expect(told).to_contain_text("Emvar keeps the wait")
        wait = page.get_by_label("Waits first")
        own = wait.input_value()
        wait.fill("3 days")
        wait.press("Enter")
        expect(told).to_contain_text("your own")
        page.get_by_role("button", name="Let Emvar keep it at the earliest safe time").click()
        expect(told).to_contain_text("Emvar keeps the wait")
        expect(wait).to_have_value(own)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(wait).to_have_value("3 d")
        page.get_by_label("overnight first").click()
        expect(page.get_by_label("overnight first")).to_be_checked()
        expect(page.get_by_test_id("step-panel")).to_contain_text("left overnight")
        self.assertEqual([s.overnight for s in self.stored("Pilot cutter").steps].count(True), 1)


class OnTheTug(BrowserCase):
    def test_the_trade_s_words_find_what_is_meant(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/build/{TUG}")
        page.locator('[data-row="gloss~deck"]').click()
        page.get_by_role("button", name="Lay over it").click()
        box = page.get_by_role("combobox", name="What to lay or do")
        for typed, found in FOUND_FIRST.items():
            with self.subTest(typed):
                box.fill(typed)
                expect(page.get_by_role("option").first).to_contain_text(found)
        box.fill("wash")
        expect(page.get_by_role("option").first).to_contain_text("Wash")
        expect(page.get_by_role("option").filter(has_text="Priming")).to_have_count(0)

    def test_work_by_sections_and_a_gun_that_is_kept(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/build/{TUG}")
        page.locator('[data-row="wipe~deck"]').first.click()
        page.get_by_label("Lay and work it section by section").click()
        expect(page.get_by_test_id("sections")).to_contain_text("section")
        page.goto(f"{self.live_server_url}/build/{TUG}/mix-and-spray/gloss")
        page.get_by_role("button", name="Keep this point with the step").click()
        expect(page.get_by_test_id("kept")).to_have_text("Kept with the step.")
        steps = Build.objects.get(pk=TUG).plan["steps"]
        spray = next(s for s in steps if s["id"] == "gloss")["spray"]
        self.assertGreater(spray["pressure_kpa"], 50)
