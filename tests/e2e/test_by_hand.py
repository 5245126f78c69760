"""The whole of a build on a phone, by touch, and on a keyboard alone: begun, planned, mended, scheduled."""

import re
from contextlib import suppress

from builds.models import Build
from emvar_core.assess import assess
from emvar_core.plan import Plan, parse_plan
from playwright.sync_api import Error as PlaywrightError
from playwright.sync_api import expect

from .browser import BrowserCase, empty


def stored() -> Plan:
    return parse_plan(Build.objects.get(outline=False).plan)


class OnAPhone(BrowserCase):
    made_by = staticmethod(empty)
    all_open = False
    device = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True}

    def lay(self, words: str) -> None:
        page = self.page
        page.get_by_role("combobox", name="What to lay or do").fill(words)
        page.get_by_role("option").first.tap()
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        expect(page.get_by_test_id("step-panel")).to_be_visible()

    def swipe(self, x0: int, x1: int) -> None:
        """A finger across the rack."""
        box = self.page.get_by_test_id("rack").bounding_box()
        assert box is not None
        y, finger = box["y"] + box["height"] / 2, self.context.new_cdp_session(self.page)
        for n in range(9):
            at = [{"x": x0 + (x1 - x0) * n / 8, "y": y}]
            kind = "touchMove" if n else "touchStart"
            finger.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": at})
        finger.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})

    def test_a_build_is_planned_mended_and_scheduled(self) -> None:
        page = self.page
        page.goto(self.live_server_url)
        page.get_by_role("button", name="By brush and can").wait_for()
        page.get_by_role("button", name="From nothing").tap()
        page.get_by_label("Name of the build").fill("Pilot cutter")
        page.get_by_role("button", name="Work out the area of Hull").tap()
        for label, size in (("long, cm", "20"), ("wide, cm", "5"), ("high, cm", "4")):
            page.get_by_label(label).fill(size)
        expect(page.get_by_role("status").filter(has_text="400 cm²")).to_be_visible()
        page.get_by_role("button", name="Take it").tap()
        page.get_by_role("button", name="Begin this build").tap()

        # Planned: a primer goes on all zones by itself.
        page.get_by_test_id("counts").tap()
        page.get_by_role("button", name="Lay the first coat").tap()
        self.lay("lacquer primer")
        for words in ("enamel colour", "lacquer clear gloss"):
            page.get_by_role("button", name="Lay over it").tap()
            self.lay(words)
        plan = stored()
        self.assertEqual([len(s.zones) for s in plan.steps], [3, 1, 1])
        self.assertEqual([z.area_cm2 for z in plan.zones], [400, None, None])
        # The lacquer is brought forward by hand, on the soft enamel: a clash or a wait, told and mended.
        page.locator("[data-fold=when] summary").tap()
        page.get_by_label("Waits first").fill("6 h")
        page.get_by_label("Waits first").press("Enter")
        expect(page.get_by_test_id("step-panel").get_by_role("button", name=re.compile("wait|clash"))).to_be_visible()
        self.assertNotEqual(assess(stored()).stories, [])
        page.get_by_role("button", name="Close").tap()
        page.get_by_test_id("counts").tap()
        page.get_by_role("button", name="Mend the plan").tap()
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Take|^Keep|^Try")).first.tap()
        if page.get_by_role("button", name="Keep it").count():
            page.get_by_role("button", name="Keep it").tap()
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        page.wait_for_timeout(300)
        bad = [s for s in assess(stored()).stories if s.verdict.value in ("clash", "wait")]
        self.assertEqual(bad, [])
        if page.get_by_role("button", name="Close").count():
            page.get_by_role("button", name="Close").first.tap()
        self.schedule()
        page.get_by_role("link", name="Rack").tap()
        self.go_from_zone_to_zone()  # at the end: a tap that follows a swipe at once is taken for a part of it

    def go_from_zone_to_zone(self) -> None:
        page = self.page
        expect(page.get_by_test_id("rack").get_by_role("group")).to_have_attribute("aria-label", "Hull")
        page.get_by_role("button", name="The next zone").tap()
        expect(page.get_by_test_id("rack").get_by_role("group")).to_have_attribute("aria-label", "Deck")
        self.swipe(300, 60)
        expect(page.get_by_test_id("rack").get_by_role("group")).to_have_attribute("aria-label", "House")
        self.swipe(60, 300)
        expect(page.get_by_test_id("rack").get_by_role("group")).to_have_attribute("aria-label", "Deck")

    def schedule(self) -> None:
        page = self.page
        page.get_by_role("link", name="Sittings").tap()
        page.wait_for_url("**/sittings")
        page.get_by_role("button", name="Hours").first.tap()
        if page.get_by_role("button", name="More hours").count():
            page.get_by_role("button", name="More hours").tap()
        page.get_by_role("dialog").get_by_role("button", name="Close").tap()
        # The first visit plans by itself; the button may be gone before the finger is there.
        with suppress(PlaywrightError):
            page.get_by_role("button", name="Plan the sittings").tap(timeout=2_000)
        expect(page.get_by_test_id("finish")).to_contain_text("Finished")
        down = page.get_by_test_id("sittings-down")
        expect(down.locator("[data-sitting]").first).to_be_visible()
        expect(down).to_contain_text("primer")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)


class OnTheKeyboard(BrowserCase):
    made_by = staticmethod(empty)
    all_open = False

    def tab_to(self, name: str, role: str = "button", most: int = 90) -> None:
        """Goes on with the Tab key until something of this name has it."""
        for _ in range(most):
            at = self.page.evaluate(
                "() => { const e = document.activeElement; return [e?.getAttribute('aria-label') ?? e?.innerText ?? '',"
                " e?.labels?.[0]?.innerText ?? '', e?.tagName ?? ''] }"
            )
            if re.match(name, at[0].strip()) or re.match(name, at[1].strip()):
                return
            self.page.keyboard.press("Tab")
        self.fail(f"the Tab key does not come to {name}; it is at {at}")

    def focused(self) -> str:
        return str(self.page.evaluate("document.activeElement?.closest('[data-row]')?.dataset.row ?? ''"))

    def plan_three_coats(self) -> None:
        page, keys = self.page, self.page.keyboard
        page.goto(self.live_server_url)
        page.get_by_role("heading", name="Begin a build").wait_for()
        self.tab_to("Name of the build")
        keys.type("Pilot cutter")
        keys.press("Enter")
        page.get_by_test_id("overview").wait_for()
        self.tab_to("Lay the first coat")
        keys.press("Enter")
        for words in ("lacquer primer", "enamel colour", "lacquer clear gloss"):
            keys.type(words)
            page.get_by_role("option").first.wait_for()
            keys.press("Enter")
            expect(page.get_by_test_id("saved")).to_have_text("Saved")
            page.locator("[data-row]:focus").wait_for()  # the keyboard is on what was added
            if words != "lacquer clear gloss":
                keys.press("a")
        self.assertEqual(len(stored().steps), 3)

    def test_a_build_is_planned_and_mended(self) -> None:
        page, keys = self.page, self.page.keyboard
        self.plan_three_coats()
        # Enter edits at once, Escape leaves the field and then lets go; the keyboard comes back to the coat.
        row = self.focused()
        keys.press("Enter")
        expect(page.get_by_role("combobox", name="Material", exact=True)).to_be_focused()
        keys.press("Escape")
        keys.press("Escape")
        page.wait_for_timeout(100)
        self.assertEqual(self.focused(), row)

        # A wait that is too short: told by N in the live region, mended from the keyboard.
        keys.press("Enter")
        self.tab_to("When")
        keys.press("Enter")
        self.tab_to("Waits first")
        keys.press("Control+a")
        keys.type("6 h")
        keys.press("Enter")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        keys.press("Escape")
        keys.press("Escape")
        keys.press("n")
        expect(page.get_by_test_id("seam-panel")).to_be_visible()
        expect(page.get_by_test_id("heard")).to_contain_text("on")
        page.get_by_test_id("remedies").get_by_role("listitem").first.wait_for()
        first = page.get_by_test_id("remedies").get_by_role("listitem").first.get_by_role("button").first.inner_text()
        self.tab_to(re.escape(first.split("\n")[0]))
        keys.press("Enter")
        self.tab_to("Keep it")
        keys.press("Enter")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        # Lacquer over enamel stays a caution at best: hard alkyd swells a little under it.
        expect(page.get_by_test_id("heard")).to_contain_text(re.compile("sound|caution"))
        self.assertEqual([s for s in assess(stored()).stories if s.verdict.value in ("clash", "wait")], [])

        # A coat is removed: the keyboard goes to a neighbour, and undo brings it back.
        page.locator("[data-row]").first.focus()
        keys.press("End")
        top = self.focused()
        keys.press("Delete")
        page.locator("[data-row]:focus").wait_for()
        self.assertNotIn(self.focused(), ("", top))
        keys.press("Control+z")
        expect(page.locator(f"[data-row='{top}']")).to_have_count(1)

    def test_the_table_is_one_stop_and_the_sittings_come_in_the_order_of_time(self) -> None:
        page, keys = self.page, self.page.keyboard
        self.plan_three_coats()
        # Arrows go from step to step.
        self.tab_to("Table", "link")
        keys.press("Enter")
        table = page.get_by_test_id("plan-table")
        table.wait_for()
        self.assertEqual(table.locator("button[tabindex='0']").count(), 1)
        table.locator("button[tabindex='0']").focus()
        keys.press("ArrowDown")
        expect(table.get_by_role("row").nth(2).locator("button").first).to_be_focused()
        keys.press("End")
        expect(table.get_by_role("row").nth(3).locator("button").first).to_be_focused()

        # Scheduled; the sittings come in the order of time.
        page.evaluate("document.activeElement.blur()")
        self.tab_to("Sittings", "link")
        keys.press("Enter")
        page.get_by_test_id("finish").wait_for()
        expect(page.get_by_test_id("finish")).to_contain_text("Finished")
        stops = page.locator("[data-sitting], [data-step][tabindex='0']").evaluate_all(
            "all => all.map((e) => parseFloat(e.style.left))"
        )
        self.assertEqual(stops, sorted(stops))

    def test_the_skip_link_and_the_sheets_bring_the_keyboard_back(self) -> None:
        page, keys = self.page, self.page.keyboard
        page.goto(self.live_server_url)
        page.get_by_label("Name of the build").fill("Pilot cutter")
        keys.press("Enter")
        expect(page.get_by_test_id("overview")).to_be_visible()  # tells what stands there where it does not come
        page.evaluate("document.activeElement.blur()")
        keys.press("Tab")
        expect(page.get_by_role("link", name="To the drawing")).to_be_focused()
        keys.press("Enter")
        expect(page.locator("#main")).to_be_focused()
        opener = page.get_by_role("button", name="Can I stop now?")
        opener.focus()
        keys.press("Enter")
        expect(page.get_by_role("dialog").get_by_role("button", name="Close")).to_have_count(1)
        keys.press("Escape")
        expect(opener).to_be_focused()
        settings = page.get_by_role("button", name="Settings")
        settings.focus()
        keys.press("Enter")
        page.get_by_role("dialog").wait_for()
        keys.press("Escape")
        expect(settings).to_be_focused()
