"""Sittings in Chromium: planning, the chosen sitting, drags by mouse and keys, what happened, what would help."""

import re
from datetime import date

from builds import store
from builds.models import Build
from emvar_core.plan import parse_plan
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.drag import unfit_out
from emvar_core.schedule.schedule import make
from playwright.sync_api import expect
from sittings.models import Timetable
from sittings.search import SEARCH
from sittings.store import keep

from tests.builders import batch_json

from .browser import BrowserCase, with_demo, with_hull

TUG = "demo-harbour-tug"
LONG = 180_000


def planned() -> None:
    """The demo builds, and a proven schedule of the tug: found once, with all the time that it needs."""
    with_demo()
    build = Build.objects.get(pk=TUG)
    plan = store.plan_of(build)
    made = make(Agenda(plan), seconds=LONG / 1000)
    keep(TUG, plan, made.schedule, [unfit_out(f) for f in made.unfit], build.revision)


class OnTheScreen(BrowserCase):
    build = TUG

    def setUp(self) -> None:
        super().setUp()
        self.open(self.build)

    def tearDown(self) -> None:
        for kind in ("search", "dry_run", "changes", "what_if"):
            SEARCH.stop(self.build, kind)
        super().tearDown()

    def open(self, build: str) -> None:
        self.page.goto(f"{self.live_server_url}/build/{build}/sittings")
        expect(self.page.get_by_test_id("finish")).to_contain_text("proven", timeout=LONG)

    def table(self) -> Timetable:
        return Timetable.objects.get(pk=self.build)

    def starts(self, step: str) -> str:
        return next(e["starts_at"] for e in self.table().schedule["placed"] if e["step"] == step)

    def head(self, sitting: str) -> None:
        self.page.locator(f"[data-sitting='{sitting}']").click()

    def plan_again(self) -> None:
        was = self.table().changed_at
        self.page.get_by_role("button", name="Plan again", exact=True).click()
        for _ in range(LONG // 100):
            if self.table().changed_at > was:
                break
            self.page.wait_for_timeout(100)
        self.assertGreater(self.table().changed_at, was)
        expect(self.page.get_by_role("button", name="Plan again", exact=True)).to_be_visible(timeout=LONG)


class OfTheHull(OnTheScreen):
    build = "hull"
    made_by = staticmethod(with_hull)

    def test_the_first_visit_plans_and_says_how_good_it_is(self) -> None:
        page = self.page
        expect(page.get_by_test_id("finish")).to_contain_text("Finished Sat 12 Dec")
        expect(page.get_by_test_id("finish")).to_contain_text("hopefully")
        expect(page.get_by_test_id("finish")).to_contain_text("set-ups")
        self.assertTrue(self.table().schedule["placed"])
        page.reload()
        expect(page.get_by_test_id("finish")).to_contain_text("proven")
        expect(page.get_by_test_id("searching")).to_have_count(0)

    def test_a_drag_tells_what_it_would_break_before_letting_go_and_is_mended(self) -> None:
        page = self.page
        self.head("2026-12-01T19:30")
        box = page.locator("[data-step='pin-wash']").first.bounding_box()
        assert box
        x, y = box["x"] + 6, box["y"] + 24
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 60, y, steps=4)
        page.mouse.move(x + 190, y, steps=8)
        trial = page.get_by_test_id("trial")
        expect(trial).to_contain_text("must be over by Wed 2 Dec")
        expect(trial).to_contain_text("Wipe the wash back")
        page.mouse.up()
        expect(trial).to_have_count(0)
        expect(page.get_by_test_id("finish")).to_contain_text("placed by hand")
        self.plan_again()
        page.get_by_role("tab", name=re.compile("Does not fit")).click()
        panel = page.get_by_role("tabpanel")
        expect(panel).to_contain_text("must be over by")
        panel.get_by_role("button", name="Look for changes").click()
        moved = panel.get_by_role("listitem").filter(has_text="Move “Pin wash, brown” to ")
        expect(moved).to_contain_text("then everything fits", timeout=LONG)
        expect(panel.get_by_role("listitem").filter(has_text="longer on")).not_to_have_count(0)
        moved.get_by_role("button", name="Take it").click()
        expect(page.get_by_test_id("finish")).to_contain_text("proven")
        expect(page.get_by_role("tab", name="It fits")).to_be_visible()

    def test_the_hours_of_another_build_are_taken_over_and_what_it_takes_is_named(self) -> None:
        page = self.page
        for build in ("demo-quay-crane", self.build):
            self.open(build)
            page.get_by_role("button", name="Hours", exact=False).first.click()
            if build == self.build:
                page.get_by_label("Take the hours of another build").select_option(label="Quay crane")
                expect(page.get_by_label("From", exact=True).first).to_have_value("20:00")
            else:
                page.get_by_label("One pair of hands").click()
            expect(page.get_by_label("One pair of hands")).to_be_checked()
            page.keyboard.press("Escape")
            expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.plan_again()
        hours = Build.objects.get(pk=self.build).plan["hours"]
        self.assertEqual((hours["weekly"][0]["start"], hours["shared"]), ("20:00", True))
        page.get_by_role("tab", name="All sittings").click()
        expect(page.get_by_role("row", name="taken: Quay crane")).not_to_have_count(0)


class SittingsOnTheScreen(OnTheScreen):
    made_by = staticmethod(planned)

    def test_hours_of_spraying_and_a_calendar_that_is_read_in(self) -> None:
        page = self.page
        page.get_by_role("button", name="Hours", exact=False).first.click()
        page.get_by_label("Only at some hours").click()
        expect(page.get_by_label("Only at some hours")).to_be_checked()
        page.get_by_label("Until", exact=True).last.fill("20:30")
        page.get_by_label("Until", exact=True).last.press("Enter")
        choir = "\r\n".join((
            "BEGIN:VCALENDAR", "VERSION:2.0", "BEGIN:VEVENT", "UID:choir", "DTSTART:20261203T190000Z",
            "DTEND:20261203T220000Z", "RRULE:FREQ=WEEKLY;COUNT=6", "SUMMARY:Choir", "END:VEVENT", "END:VCALENDAR", "",
        ))  # fmt: skip
        page.get_by_label("Read a calendar file").set_input_files(
            {"name": "choir.ics", "mimeType": "text/calendar", "buffer": choir.encode()}
        )
        expect(page.get_by_role("dialog")).to_contain_text("busy times in a year from now")
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        hours = Build.objects.get(pk=TUG).plan["hours"]
        self.assertEqual((hours["spray_from"], hours["spray_until"]), ("10:00", "20:30"))
        self.assertTrue(hours["busy"])

    def test_rests_in_fine_work_are_planned_and_shown(self) -> None:
        page = self.page
        page.get_by_role("button", name="Hours", exact=False).first.click()
        page.get_by_label("With rests").click()
        expect(page.get_by_label("In a row at most")).to_have_value("45")
        page.get_by_label("Then a rest of").fill("15")
        page.get_by_label("Then a rest of").press("Enter")
        page.keyboard.press("Escape")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.plan_again()
        page.get_by_role("tab", name="All sittings").click()
        panel = page.get_by_role("tabpanel")
        expect(panel.get_by_role("row", name=re.compile("Dark cores by brush"))).to_contain_text(
            "1 h 45 min with a rest"
        )
        expect(panel.get_by_role("row", name=re.compile("rest eyes and hands.*15 min"))).not_to_have_count(0)

    def test_a_sitting_shows_its_work_in_order_and_a_step_its_windows(self) -> None:
        page = self.page
        day = str(self.starts("wipe"))[:10]  # no sitting of this plan runs into the next day
        page.locator(f"[data-sitting^='{day}']").click()
        panel = page.get_by_role("tabpanel")
        expect(panel).to_contain_text(f"{date.fromisoformat(day):%a} {int(day[8:])} Dec")
        times = [t for t in panel.locator("ol li span:first-child").all_inner_texts() if re.match(r"\d\d:\d\d", t)]
        self.assertEqual(times, sorted(times))
        panel.get_by_role("button", name="Wipe the wash back all zones").click()
        expect(panel).to_contain_text("after “Pin wash, brown” from")
        expect(panel).to_contain_text("until ")
        panel.get_by_role("button", name="Keep it there").click()
        expect(panel).to_contain_text("stays")
        self.assertEqual(self.table().schedule["pins"], ["wipe"])

    def test_keys_try_a_step_elsewhere_and_put_it_back_or_keep_it(self) -> None:
        page = self.page
        # Of two that could be done in either order, either is the last in a schedule that is proven best.
        step = max(self.table().schedule["placed"], key=lambda e: e["starts_at"])["step"]
        was = self.starts(step)
        mark = page.locator(f"[data-step='{step}']").first
        mark.focus()
        page.keyboard.press("Alt+ArrowRight")
        page.keyboard.press("Alt+ArrowRight")
        trial = page.get_by_test_id("trial")
        expect(trial).to_contain_text(
            next(s["name"] for s in Build.objects.get(pk=TUG).plan["steps"] if s["id"] == step)
        )
        expect(trial).to_contain_text("It breaks nothing")
        page.keyboard.press("Escape")
        expect(trial).to_have_count(0)
        self.assertEqual(self.starts(step), was)
        mark.focus()
        page.keyboard.press("Alt+ArrowRight")
        expect(trial).to_contain_text("It breaks nothing")
        page.keyboard.press("Enter")
        expect(trial).to_have_count(0)
        expect(page.get_by_test_id("finish")).to_contain_text("placed by hand")
        self.assertNotEqual(self.starts(step), was)
        page.get_by_role("button", name="As before").click()
        expect(page.get_by_test_id("finish")).to_contain_text("proven")
        self.assertEqual(self.starts(step), was)

    def test_a_sitting_is_made_longer_by_the_keys_as_an_edit_of_the_plan(self) -> None:
        page = self.page
        page.locator("[data-sitting='2026-12-01T19:30']").focus()
        page.keyboard.press("Alt+Shift+ArrowRight")
        expect(page.get_by_test_id("trial")).to_contain_text("2 h 15 min")
        page.keyboard.press("Enter")
        expect(page.get_by_test_id("trial")).to_have_count(0)
        expect(page.get_by_role("button", name="Undo", exact=True)).to_be_enabled()
        dates = Build.objects.get(pk=TUG).plan["hours"]["dates"]
        self.assertEqual(dates, [{"date": "2026-12-01", "start": "19:30", "length_min": 135}])
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.assertNotIn("dates", Build.objects.get(pk=TUG).plan["hours"])

    def test_a_missed_sitting_is_planned_round_and_what_moved_is_shown(self) -> None:
        page = self.page
        self.head("2026-11-26T19:30")
        page.get_by_role("button", name="Missed it: plan again").click()
        moved = page.get_by_role("tab", name=re.compile(r"What moved \(\d+\)"))
        expect(moved).to_be_visible(timeout=LONG)
        moved.click()
        expect(page.get_by_role("tabpanel")).to_contain_text("Grey primer")
        self.assertGreaterEqual(self.starts("primer"), "2026-11-28")
        page.get_by_role("tab", name="This sitting").click()
        page.get_by_role("button", name="Take the last entry back").click()
        expect(page.get_by_role("button", name="Take the last entry back")).to_have_count(0)

    def test_what_happened_is_entered_and_stays(self) -> None:
        page = self.page
        self.head("2026-11-26T19:30")
        page.get_by_role("button", name="What happened with Grey primer").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Until").fill("2026-11-26T19:00")
        dialog.get_by_role("button", name="Enter it").click()
        expect(dialog).to_contain_text("must not be before the start")
        dialog.get_by_label("Until").fill("2026-11-26T20:35")
        dialog.get_by_label("Note").fill("wetter than I like")
        dialog.get_by_role("button", name="Enter it").click()
        expect(dialog).to_have_count(0)
        expect(page.get_by_role("tabpanel")).to_contain_text("done")
        entries = self.table().record["entries"]
        self.assertEqual({e["ends_at"] for e in entries}, {"2026-11-26T20:35:00Z"})
        self.assertEqual({e["note"] for e in entries}, {"wetter than I like"})
        self.plan_again()
        self.assertNotIn("primer", {e["step"] for e in self.table().schedule["placed"]})

    def test_what_was_done_in_some_zones_only_is_split_and_the_rest_is_planned(self) -> None:
        page = self.page
        self.head("2026-11-26T19:30")
        page.get_by_role("button", name="What happened with Grey primer").click()
        dialog = page.get_by_role("dialog")
        for zone in ("Deck", "Funnel and towing gear"):
            dialog.get_by_role("checkbox", name=zone, exact=True).uncheck()
        dialog.get_by_role("button", name="Enter it").click()
        expect(dialog).to_have_count(0)
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        zones = {s["id"]: s["zones"] for s in Build.objects.get(pk=TUG).plan["steps"] if "primer" in s["id"]}
        self.assertEqual(sorted(zones.values()), [["deck", "funnel"], ["hull", "topsides", "house"]])
        self.plan_again()
        left = {e["zone"] for e in self.table().schedule["placed"] if e["step"] == "primer"}
        self.assertEqual(left, {"deck", "funnel"})

    def test_what_no_waiting_mends_leads_to_its_seam_in_the_plan(self) -> None:
        page = self.page
        page.get_by_role("tab", name="Fits, with a clash").click()
        panel = page.get_by_role("tabpanel")
        expect(panel).to_contain_text("Every window is met")
        expect(panel).to_contain_text("At these times it wants care")
        panel.get_by_role("link", name="See what would mend it").click()
        expect(page.get_by_role("heading", name="Chip the deck with water")).to_be_visible()

    def test_a_search_can_be_stopped_and_keeps_what_it_has(self) -> None:
        page = self.page
        store.create(parse_plan(batch_json(8)), "batch")  # a search of many seconds
        page.goto(f"{self.live_server_url}/build/batch/sittings")
        # By then something has been found, and what follows takes seconds.
        expect(page.get_by_test_id("searching")).to_contain_text(re.compile("best|fewest|most slack"), timeout=LONG)
        page.get_by_role("button", name="Stop, keep the best").click()
        expect(page.get_by_role("button", name="Plan again", exact=True)).to_be_visible()
        expect(page.get_by_test_id("finish")).to_contain_text("Finished")
        self.assertTrue(Timetable.objects.get(pk="batch").schedule["placed"])

    def test_hours_are_edited_and_a_wrong_one_says_why(self) -> None:
        page = self.page
        page.get_by_role("button", name="Hours", exact=True).click()
        dialog = page.get_by_role("dialog")
        start = dialog.get_by_label("From").first
        start.fill("late")
        start.press("Enter")
        expect(dialog.get_by_role("alert")).to_contain_text("as in 19:30")
        start.fill("20:00")
        start.press("Enter")
        expect(dialog.get_by_role("alert")).to_have_count(0)
        dialog.get_by_role("button", name="the fewest sittings: more important").click()
        expect(dialog.get_by_role("listitem").filter(has_text="the fewest sittings")).to_contain_text("2")
        page.keyboard.press("Escape")
        hours = Build.objects.get(pk=TUG).plan["hours"]
        self.assertEqual(hours["weekly"][0]["start"], "20:00")
        self.assertEqual(hours["goals"], ["finish", "sittings", "setups", "slack"])
        expect(page.get_by_text("The plan has changed since: plan again.")).to_be_visible()

    def test_a_dry_run_and_the_table(self) -> None:
        page = self.page
        page.get_by_role("tab", name="Does it hold?").click()
        page.get_by_role("button", name="Play it").click()
        expect(page.get_by_test_id("dry-run")).to_contain_text("of the runs met every window", timeout=LONG)
        page.get_by_role("tab", name="All sittings").click()
        rows = page.get_by_role("tabpanel").get_by_role("row")
        expect(rows.filter(has_text="Matt clear")).to_have_count(1)
        self.assertGreater(rows.count(), 25)

    def test_one_clock_for_plan_and_sittings(self) -> None:
        page = self.page
        clock = page.get_by_role("slider", name="Clock of the build")
        clock.focus()
        page.keyboard.press("PageDown")
        words = clock.get_attribute("aria-valuetext")
        assert words
        soonest, sittings = (page.get_by_role("radio", name=n) for n in ("As soon as it is safe", "By my sittings"))
        expect(soonest).to_be_checked()  # opening a view turns nothing
        page.get_by_role("link", name="Rack").click()
        expect(page.get_by_test_id("clock-now")).to_have_text(words)
        expect(soonest).to_be_checked()
        live = page.get_by_test_id("live").inner_text()
        sittings.click()
        expect(sittings).to_be_checked()
        expect(page.get_by_test_id("live")).not_to_have_text(live)
        for view in ("Table", "Mix and spray", "Sittings", "Rack"):
            page.get_by_role("link", name=view).click()
            expect(sittings).to_be_checked()
        page.reload()
        expect(sittings).to_be_checked()
        self.assertEqual(Build.objects.get(pk=TUG).clock, "schedule")

    def test_the_inspector_tells_what_the_rack_draws(self) -> None:
        page = self.page
        page.get_by_role("link", name="Rack").click()
        page.get_by_role("radio", name="By my sittings").click()
        overview = page.get_by_test_id("overview")
        expect(overview).to_contain_text("as scheduled")
        expect(overview).to_contain_text("1 clash")
        page.get_by_role("button", name="Matt clear · wrinkles").first.click()
        seam = page.get_by_test_id("seam-panel")
        expect(seam).to_contain_text("Tue 15 Dec 19:30, as scheduled")
        expect(seam).to_contain_text("caution: wrinkles")
        expect(page.get_by_test_id("by-itself")).to_contain_text("it is clash: wrinkles")
        expect(page.get_by_test_id("clock-now")).to_have_text("Tue 15 Dec 19:30")
        page.get_by_role("button", name="Can I stop now?").click()
        expect(page.get_by_role("dialog")).to_contain_text("until the next sitting, Thu 17 Dec 19:30")
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Table").click()
        row = page.get_by_test_id("plan-table").get_by_role("row").filter(has_text="Matt clear")
        expect(row).to_contain_text("Tue 15 Dec 19:30")
        expect(row).to_contain_text("caution")
        page.get_by_role("radio", name="As soon as it is safe").click()
        expect(row).to_contain_text("Tue 1 Dec")
        expect(row).to_contain_text("clash")

    def test_a_skipped_step_is_left_out_of_the_drawing_and_can_still_be_changed(self) -> None:
        page = self.page
        self.head("2026-12-17T19:30")
        page.get_by_role("button", name="What happened with Wet below the scuppers").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("It was").select_option("skipped")
        dialog.get_by_role("button", name="Enter it").click()
        expect(dialog).to_have_count(0)
        page.get_by_role("link", name="Rack").click()
        page.get_by_role("radio", name="By my sittings").click()
        expect(page.get_by_test_id("overview")).to_contain_text("1 step skipped")
        expect(page.get_by_test_id("rack").get_by_text("Wet below the sc")).to_have_count(0)
        page.get_by_role("link", name="Table").click()
        row = page.get_by_test_id("plan-table").get_by_role("row").filter(has_text="Wet below the scuppers")
        expect(row).to_contain_text("skipped")
        row.get_by_role("button", name=re.compile("^Wet below")).click()
        expect(page.get_by_test_id("step-panel").get_by_label("Name", exact=True)).to_have_value(
            re.compile("Wet below")
        )

    def test_no_hours_is_an_empty_state_that_says_what_to_do(self) -> None:
        build = Build.objects.get(pk=TUG)
        build.plan["hours"] = {"weekly": []}
        build.revision += 1
        build.save()
        self.page.reload()
        expect(self.page.get_by_role("button", name="Enter your hours")).to_be_visible()
        self.page.get_by_role("button", name="Enter your hours").click()
        self.page.get_by_role("button", name="More hours").click()
        self.page.keyboard.press("Escape")
        expect(self.page.locator("[data-sitting]").first).to_be_visible()
