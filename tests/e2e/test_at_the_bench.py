"""At the bench, in Chromium: one touch a step, on a phone and on a laptop, whatever becomes of connection and clock."""

import re
from datetime import UTC, datetime, timedelta
from typing import Any

from builds.models import Build
from journal.clock import CLOCK
from journal.models import JournalEntry
from playwright.sync_api import Page, expect

from tests.builders import jpeg
from tests.lengths import at_length

from .browser import BrowserCase, database, with_hull

TUG = "demo-harbour-tug"
PHONE = (390, 844)
NOW = f"/build/{TUG}/at-the-bench"
START = datetime(2026, 11, 28, 10, 0, tzinfo=UTC)


class AtTheBench(BrowserCase):
    build = TUG

    def setUp(self) -> None:
        super().setUp()
        CLOCK.set(START, 0)
        self.addCleanup(CLOCK.set)

    def open(self, page: Page | None = None, path: str = NOW) -> Page:
        page = page or self.page
        page.goto(f"{self.live_server_url}{path}")
        page.get_by_test_id("main-act").wait_for()
        return page

    def said(self, *kinds: str) -> list[tuple[str, str]]:
        rows = [e.body for e in JournalEntry.objects.filter(build=self.build)]
        return [(b["said"], b.get("step", "")) for b in rows if not kinds or b["said"] in kinds]

    def act(self, page: Page, words: str) -> None:
        expect(page.get_by_test_id("main-act")).to_have_text(re.compile(words))
        page.get_by_test_id("main-act").click()

    def wait_sent(self, page: Page) -> None:
        expect(page.get_by_test_id("kept")).to_have_text("")

    def later(self, page: Page, minutes: float) -> None:
        """The bench's time goes on; the page hears of it as it would from a server."""
        self.wait_sent(page)
        CLOCK.set(CLOCK.now() + timedelta(minutes=minutes), 0)
        with page.expect_response(lambda r: "/journal" in r.url and r.request.method == "POST"):
            pass

    def paint(self, size: tuple[int, int]) -> None:
        page, path = self.page, f"/build/{self.build}/at-the-bench"
        page.set_viewport_size({"width": size[0], "height": size[1]})
        self.open(path=path)
        steps = len(Build.objects.get(pk=self.build).plan["steps"])
        for _ in range(steps + 6):
            opens = page.get_by_test_id("now").get_attribute("data-opens")
            if opens and datetime.fromisoformat(opens) > CLOCK.now():
                CLOCK.set(datetime.fromisoformat(opens) + timedelta(minutes=1), 0)
                self.open(path=path)
            done = len(self.said("done"))
            self.act(page, "Begin")
            self.wait_sent(page)
            CLOCK.set(CLOCK.now() + timedelta(minutes=20), 0)
            self.act(page, "Done")
            self.wait_sent(page)
            self.assertGreater(len(self.said("done")), done)
            if page.get_by_test_id("all-done").count():
                break
        expect(page.get_by_test_id("all-done")).to_be_visible()
        wide = page.evaluate("document.documentElement.scrollWidth")
        self.assertLessEqual(wide, size[0])
        self.assertEqual(len({s for k, s in self.said("done")}), steps)
        page.get_by_role("link", name="Look at what was done").click()
        expect(page.get_by_test_id("log-sum")).to_contain_text(f"{steps} steps done")

    def test_a_build_is_painted_from_its_first_coat_to_its_last(self) -> None:
        """The tug's hull on a phone; in the long form the whole tug, on a laptop too."""
        for self.build, size in at_length((("hull", PHONE),), ((TUG, PHONE), (TUG, (1280, 800)))):
            with self.subTest(size):
                database(with_hull)
                self.paint(size)

    def test_what_is_read_from_two_metres_and_what_is_touched_with_a_knuckle(self) -> None:
        for size in ((390, 844), (820, 1180), (1280, 800)):
            self.page.set_viewport_size({"width": size[0], "height": size[1]})
            page = self.open()
            small = page.evaluate(
                "[...document.querySelectorAll('.now-figure b')].map((b) => parseFloat(getComputedStyle(b).fontSize))"
            )
            self.assertTrue(small and all(64 <= s <= 96 for s in small), small)
            for name in ("main-act", "wrong-act"):
                box = page.get_by_test_id(name).bounding_box()
                assert box is not None
                self.assertGreaterEqual(box["height"], 96)
                self.assertGreaterEqual(box["width"], size[0] / 2 - 12)
            safety = page.get_by_test_id("safety").bounding_box()
            wedge = page.locator(".now-wedge").bounding_box()
            assert safety is not None and wedge is not None
            self.assertLess(safety["y"] + 30, wedge["y"])
            expect(page.get_by_test_id("figures")).to_contain_text("bar")

    def test_ten_seconds_to_take_it_back(self) -> None:
        page = self.open()
        self.act(page, "Begin")
        self.act(page, "Done")
        page.get_by_role("button", name="Take back").click()
        self.act(page, "Done")
        self.wait_sent(page)
        record = self.page.request.get(f"{self.live_server_url}/api/builds/{TUG}/sittings").json()["view"]["states"]
        self.assertEqual(record, {"primer": "done"})

    def test_the_connection_is_cut_in_the_middle_of_a_step(self) -> None:
        page = self.open()
        self.act(page, "Begin")
        self.wait_sent(page)
        self.context.set_offline(True)
        self.act(page, "Done")
        expect(page.get_by_test_id("now")).not_to_have_attribute("data-step", "primer")
        expect(page.get_by_test_id("timers")).to_contain_text("dry to the touch")  # the timer runs by itself
        expect(page.get_by_test_id("kept")).to_contain_text("kept here")
        page.get_by_test_id("wrong-act").click()
        page.get_by_role("button", name="Wrinkles").click()
        expect(page.get_by_test_id("trouble")).to_contain_text("This minute")
        page.get_by_role("button", name="◂ Back").click()
        page.get_by_role("button", name="◂ Back").click()
        self.assertEqual(self.said("done"), [])
        self.context.set_offline(False)
        self.wait_sent(page)
        self.assertEqual(self.said("begun", "done"), [("begun", "primer"), ("done", "primer")])

    def test_two_pages_one_of_them_away_for_an_hour(self) -> None:
        here = self.open()
        other = self.browser.new_context(viewport={"width": 390, "height": 844}, service_workers="block")
        self.addCleanup(other.close)
        phone = self.open(other.new_page())
        other.set_offline(True)
        self.act(phone, "Begin")
        self.act(phone, "Done")
        self.act(here, "Begin")
        CLOCK.set(CLOCK.now() + timedelta(hours=1), 0)
        page_step = here.get_by_test_id("now").get_attribute("data-step")
        self.act(here, "Done")
        self.wait_sent(here)
        other.set_offline(False)
        self.wait_sent(phone)
        for page in (here, phone):
            expect(page.get_by_test_id("now")).not_to_have_attribute("data-step", page_step or "")
        ids = [e.entry_id for e in JournalEntry.objects.filter(build=TUG)]
        self.assertEqual(len(ids), len(set(ids)))
        self.assertEqual(sorted(self.said("done")), [("done", "primer"), ("done", "primer")])  # both said so: both kept
        states = here.request.get(f"{self.live_server_url}/api/builds/{TUG}/sittings").json()["view"]["states"]
        self.assertEqual(states, {"primer": "done"})

    def phase(self, page: Page, timer: str) -> Any:
        return expect(page.locator(f"[data-timer='{timer}'] [data-testid=wedge]"))

    def test_timers_go_on_over_reload_sleep_and_a_clock_that_is_set(self) -> None:
        page = self.page
        self.addCleanup(page.close)
        page.clock.install(time=START - timedelta(hours=7))  # a device whose clock is seven hours off
        CLOCK.set(START, 1)
        page.goto(f"{self.live_server_url}{NOW}")
        page.clock.run_for(3000)
        page.get_by_test_id("main-act").wait_for()
        expect(page.get_by_test_id("wall")).to_contain_text(re.compile("10:0"))
        self.act(page, "Begin")
        page.clock.run_for(600)
        self.act(page, "Done")
        page.clock.run_for(600)
        timer = "primer~hull-green"
        self.phase(page, timer).to_have_attribute("data-phase", "early")
        self.context.set_offline(True)
        page.clock.fast_forward("01:30:00")  # the lid was closed for an hour and a half
        page.clock.run_for(1200)
        self.phase(page, timer).to_have_attribute("data-phase", "opens")
        page.clock.set_system_time(START - timedelta(hours=12))  # somebody sets the clock back
        page.clock.run_for(1200)
        self.phase(page, timer).to_have_attribute("data-phase", "opens")
        self.context.set_offline(False)
        CLOCK.set(START + timedelta(hours=2, minutes=15), 1)
        page.reload()
        for _ in range(6):
            page.clock.run_for(1000)
            page.wait_for_timeout(300)
        self.phase(page, timer).to_have_attribute("data-phase", "easy")

    def test_not_ready_yet_moves_what_waits_and_teaches(self) -> None:
        page = self.open()
        self.act(page, "Begin")
        self.act(page, "Done")
        self.later(page, 60)
        row = page.locator("[data-timer='primer~hull-green']")
        row.get_by_role("button", name="Not ready yet").click()
        expect(page.locator(".now-said")).to_contain_text("looked at again")
        self.phase(page, "primer~hull-green").to_have_attribute("data-phase", "early")
        self.wait_sent(page)
        self.assertEqual([k for k, _ in self.said("seen", "not_ready")], ["seen", "not_ready"])
        row.get_by_role("button").first.click()
        row.get_by_role("button", name="It is ready now").click()
        self.wait_sent(page)
        seen = [e.body["observed"] for e in JournalEntry.objects.filter(build=TUG) if e.body["said"] == "seen"]
        self.assertEqual([s["reached"] for s in seen], [False, True])

    def test_what_was_otherwise_is_kept_with_a_picture_and_read_from_instruments(self) -> None:
        page = self.open()
        self.act(page, "Begin")
        self.act(page, "Done")
        page.get_by_role("button", name="It was otherwise").click()
        sheet = page.get_by_role("dialog")
        sheet.get_by_label("Pressure").fill("1.2")
        sheet.get_by_label("Passes").fill("5")
        sheet.get_by_label("Note").fill("a hair in it")
        sheet.get_by_label("A picture").set_input_files(
            {"name": "side.jpg", "mimeType": "image/jpeg", "buffer": jpeg(600, 400)}
        )
        sheet.get_by_role("button", name="Keep it so").click()
        self.wait_sent(page)
        page.goto(f"{self.live_server_url}/build/{TUG}/log")
        expect(page.get_by_test_id("sitting")).to_contain_text("1.20 bar, 5 passes")
        expect(page.get_by_test_id("sitting")).to_contain_text("a hair in it")
        expect(page.locator(".log-picture img")).to_have_js_property("naturalWidth", 360)
        expect(page.get_by_label(re.compile("Core then: Grey primer"))).to_be_visible()

    def test_something_is_wrong_opens_the_next_minute_and_lets_it_be_done_anew(self) -> None:
        page = self.open()
        self.act(page, "Begin")
        self.act(page, "Done")
        page.get_by_test_id("wrong-act").click()
        expect(page.get_by_test_id("off-now")).to_contain_text("Grey primer")
        page.get_by_role("button", name="Spiders, runs").click()
        page.get_by_role("button", name="It is off again: do it anew").click()
        expect(page.get_by_test_id("now")).to_have_attribute("data-step", "primer")
        self.wait_sent(page)
        self.assertEqual(self.said("wrong"), [("wrong", "primer")])

    def test_a_trial_decides_and_is_found_again(self) -> None:
        page = self.open()
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("button", name="Try it on scrap").click()
        page.get_by_role("button", name="consistency").click()
        page.get_by_label("On which scrap").fill("a spoon")
        page.get_by_role("button", name="thin more").click()
        expect(page.locator(".now-said")).to_contain_text("thin more")
        self.wait_sent(page)
        page.get_by_role("button", name="Try it on scrap").click()
        expect(page.get_by_test_id("trials-before")).to_contain_text("so: thin more (on a spoon)")

    def test_a_step_is_added_on_the_spot(self) -> None:
        page = self.open()
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("button", name="Add a step here").click()
        page.get_by_role("combobox", name="What to lay or do").fill("degrease")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("now")).not_to_have_attribute("data-step", "primer")
        expect(page.get_by_role("heading", level=1)).to_contain_text("egrease")

    def test_pause_skip_and_zone_by_zone(self) -> None:
        page = self.open()
        self.act(page, "Begin")
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("button", name="Pause").click()
        self.act(page, "Go on")
        page.get_by_role("button", name="Deckhouse is done").click()
        self.wait_sent(page)
        expect(page.get_by_role("button", name="Deckhouse is done")).to_have_count(0)
        plan = Build.objects.get(pk=TUG).plan
        self.assertEqual(sum(s["name"] == "Grey primer" for s in plan["steps"]), 2)
        page.get_by_role("button", name="Skip it").click()
        self.wait_sent(page)
        self.assertIn("skipped", [k for k, _ in self.said()])
        for view in ("", "/table", "/sittings"):  # every other view bears a step that was left out, by either clock
            page.goto(f"{self.live_server_url}/build/{TUG}{view}")
            expect(page.get_by_text("Red oxide").first).to_be_visible()
