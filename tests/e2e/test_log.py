"""The logbook as it is looked back on: found again, slid over each other, done again, learned from."""

import re

from builds.models import Build
from playwright.sync_api import expect

from .browser import BrowserCase, take

DONE, TUG = "demo-finished-tug", "demo-harbour-tug"


class Logbook(BrowserCase):
    def setUp(self) -> None:
        super().setUp()

    def open(self, path: str) -> None:
        self.page.goto(f"{self.live_server_url}{path}")

    def test_the_finished_build_tells_its_story(self) -> None:
        page = self.page
        self.open(f"/build/{DONE}/log")
        expect(page.get_by_test_id("log-sum")).to_contain_text("24 steps done, 1 done anew")
        rows = page.locator("[data-row]")
        expect(rows.filter(has_text="went wrong, off again")).to_have_count(1)
        expect(rows.filter(has_text="later than planned").first).to_be_visible()
        times = page.locator(".log-row").evaluate_all("(rows) => rows.map((r) => r.getBoundingClientRect().top)")
        self.assertEqual(times, sorted(times))
        page.get_by_label("Find").fill("brush hair")
        expect(rows).to_have_count(1)
        page.get_by_label("Find").fill("")
        page.get_by_label("Material").select_option(label="Enamel wash")
        self.assertTrue(all("wash" in t.lower() for t in rows.all_inner_texts()))
        page.get_by_label("Material").select_option("")
        page.get_by_role("button", name="Slide over another").first.click()
        slide = page.get_by_test_id("slide")
        expect(slide.locator("img")).to_have_count(2)
        page.get_by_label("How much of the earlier one is seen").fill("20")
        self.assertIn("20%", slide.locator("img").nth(1).evaluate("(e) => e.style.clipPath"))

    def test_a_step_is_done_again_elsewhere_as_it_really_was(self) -> None:
        page = self.page
        self.open(f"/build/{DONE}/log")
        row = page.locator("[data-row]").filter(has_text="Red oxide").filter(has_text="done").first
        row.get_by_role("button", name="Again").click()
        page.get_by_label("In which build").select_option(label="Quay crane")
        page.get_by_label("In which zones").select_option(index=1)
        page.get_by_role("button", name="Put it in").click()
        expect(page).to_have_url(re.compile("demo-quay-crane"))
        step = Build.objects.get(pk="demo-quay-crane").plan["steps"][-1]
        self.assertEqual((step["name"], len(step["zones"])), ("Red oxide", 1))
        self.assertGreater(step["spray"]["pressure_kpa"], 50)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.locator(".coat").filter(has_text="Red oxide")).to_have_count(0)

    def test_the_next_plan_of_the_same_paint_is_better_for_it_and_shows_why(self) -> None:
        page = self.page
        self.open(f"/build/{TUG}/log")
        learned = page.get_by_test_id("learned")
        expect(learned).to_contain_text(re.compile(r"Lacquer colour dries more slowly than what ships says, by \d+ %"))
        expect(learned).to_contain_text("observations of its own")
        events = "[b.assessment.coats['primer~hull'].events.recoat, b.assessment.coats['primer~hull'].end_min]"
        ask = f"async (id) => {{ const b = await (await fetch('/api/builds/' + id)).json(); return {events}; }}"
        (before, end) = page.evaluate(ask, TUG)
        page.get_by_role("button", name="Go by what was learned").click()
        expect(page.get_by_test_id("learned-changes")).to_contain_text("Undo takes it back")
        after, _ = page.evaluate(ask, TUG)
        self.assertGreater((after["best"] - end) / (before["best"] - end), 1.1)  # slower, as this bench has it
        self.assertLess(after["late"] / after["early"], before["late"] / before["early"])  # and surer
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_test_id("use-learned")).to_contain_text("goes by what ships")

    def test_last_time_stands_at_the_step(self) -> None:
        page = self.page
        self.open(f"/build/{TUG}")
        page.locator('[data-row="red-oxide~hull"]').click()
        last = page.get_by_test_id("last-time")
        expect(last).to_contain_text("in Finished tug")
        last.get_by_role("button", name="Do it so again").click()
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        step = next(s for s in Build.objects.get(pk=TUG).plan["steps"] if s["id"] == "red-oxide")
        self.assertIn("spray", step)

    def test_a_jar_is_put_on_the_shelf_and_told_of_when_old(self) -> None:
        page = self.page
        self.open("/shelf")
        page.get_by_role("button", name="Put a jar on it").click()
        take(page, "What it is", "enamel_wash")
        page.get_by_label("Left, mL").fill("12")
        page.get_by_label("Open since").fill("2024-05-01")
        page.get_by_role("button", name="Put it on the shelf").click()
        expect(page.get_by_text("12 mL left")).to_be_visible()
        expect(page.get_by_text("old: look")).to_be_visible()
