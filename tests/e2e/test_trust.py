"""Nothing is lost between the page and the server: answers that never come, two tabs, a server that is away."""

import json
import re
from collections.abc import Callable

from builds.models import Build
from playwright.sync_api import Page, Route, expect
from sittings.models import Timetable
from sittings.search import SEARCH

from .browser import BrowserCase

TUG = "demo-harbour-tug"


def first_answer_lost(page: Page, path: str) -> None:
    """The first request of a kind reaches the server, and its answer does not come back."""
    seen: list[str] = []

    def once(route: Route) -> None:
        if seen:
            route.continue_()
            return
        seen.append(route.request.url)
        route.fetch()
        route.abort()

    page.route(path, once)


class LostAnswers(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.page.goto(f"{self.live_server_url}/build/{TUG}")
        expect(self.page.locator(".coat").first).to_be_visible()

    def saved(self, page: Page | None = None) -> None:
        expect((page or self.page).get_by_test_id("saved")).to_have_text("Saved")

    def rows(self) -> int:
        return self.page.locator("[data-row]").count()

    def test_a_split_and_its_undo_whose_answers_are_lost_are_drawn_as_they_are(self) -> None:
        rows = self.rows()
        for path, press, steps in (
            ("**/edits", lambda: self.page.get_by_role("button", name="Split off Deck").click(), 25),
            ("**/undo", lambda: self.page.get_by_role("button", name="Undo", exact=True).click(), 24),
            ("**/redo", lambda: self.page.get_by_role("button", name="Redo", exact=True).click(), 25),
        ):
            if steps == 25:
                self.page.locator('[data-row="gloss~deck"], [data-row^="gloss-"][data-row$="~deck"]').first.click()
            first_answer_lost(self.page, path)
            self.pressed(press)
            self.saved()
            self.page.unroute(path)
            self.assertEqual(len(Build.objects.get(pk=TUG).plan["steps"]), steps)
            self.assertEqual(
                self.rows(), rows
            )  # as many coats in the zones as before: one step more, in its zone alone
        self.assertEqual(Build.objects.get(pk=TUG).revision, 4)

    def pressed(self, press: Callable[[], None]) -> None:
        press()
        self.page.wait_for_timeout(100)

    def test_two_tabs_keep_what_each_could_not_send(self) -> None:
        other = self.context.new_page()
        other.goto(f"{self.live_server_url}/build/{TUG}")
        expect(other.locator(".coat").first).to_be_visible()
        for page, step, note in ((self.page, "gloss", "from the first tab"), (other, "matt", "from the second tab")):
            page.route("**/edits", lambda route: route.abort())
            page.locator(f'[data-row="{step}~deck"]').click()
            name = page.get_by_label("Name", exact=True)
            name.fill(note)
            name.press("Enter")
            expect(page.get_by_test_id("saved")).to_contain_text("Not saved yet")
        waiting = self.page.evaluate("Object.keys(localStorage).filter((k) => k.startsWith('emvar-unsent')).length")
        self.assertEqual(waiting, 2)
        for page in (self.page, other):
            page.unroute("**/edits")
            self.saved(page)
        names = {s["id"]: s["name"] for s in Build.objects.get(pk=TUG).plan["steps"]}
        self.assertEqual((names["gloss"], names["matt"]), ("from the first tab", "from the second tab"))

    def test_undo_takes_back_one_s_own_from_under_what_another_tab_did(self) -> None:
        was = {s["id"]: s["name"] for s in Build.objects.get(pk=TUG).plan["steps"]}
        other = self.context.new_page()
        other.goto(f"{self.live_server_url}/build/{TUG}")
        for page, step, name in ((self.page, "gloss", "Mine"), (other, "matt", "Theirs")):
            page.locator(f'[data-row="{step}~deck"]').click()
            field = page.get_by_label("Name", exact=True)
            field.fill(name)
            field.press("Enter")
            self.saved(page)
        undo = self.page.get_by_role("button", name="Undo", exact=True)
        for names in (("gloss", "Theirs"), ("gloss", "matt")):
            undo.click()
            self.saved()
            now = {s["id"]: s["name"] for s in Build.objects.get(pk=TUG).plan["steps"]}
            self.assertEqual((now["gloss"], now["matt"]), tuple(was.get(n, n) for n in names))

    def test_what_a_closed_tab_could_not_send_is_sent_by_the_next_one(self) -> None:
        other = self.context.new_page()
        other.goto(f"{self.live_server_url}/build/{TUG}")
        other.locator('[data-row="matt~deck"]').click()
        other.route("**/edits", lambda route: route.abort())
        name = other.get_by_label("Name", exact=True)
        name.fill("left behind")
        name.press("Enter")
        expect(other.get_by_test_id("saved")).to_contain_text("Not saved yet")
        other.close()
        self.page.reload()
        expect(self.page.locator(".coat").first).to_be_visible()
        self.page.wait_for_timeout(500)
        self.saved()
        names = {s["id"]: s["name"] for s in Build.objects.get(pk=TUG).plan["steps"]}
        self.assertEqual(names["matt"], "left behind")


class ServerAway(BrowserCase):
    def setUp(self) -> None:
        super().setUp()

    def tearDown(self) -> None:
        SEARCH.stop_all()
        super().tearDown()

    def test_all_done_as_planned_with_the_server_away_is_not_saved_yet_and_then_is(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/build/{TUG}/sittings")
        expect(page.get_by_test_id("finish")).to_contain_text("proven")
        page.route("**/record", lambda route: route.abort())
        page.get_by_role("button", name="All done as planned").click()
        expect(page.get_by_test_id("saved")).to_contain_text("Not saved yet")
        self.assertEqual(Timetable.objects.get(pk=TUG).record.get("entries", []), [])
        page.unroute("**/record")
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.assertTrue(Timetable.objects.get(pk=TUG).record["entries"])

    def test_a_list_that_cannot_be_read_is_told_and_mends_itself(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/build/{TUG}")
        expect(page.locator(".coat").first).to_be_visible()
        why = {"problems": [{"where": "data", "what": "the disk is full: nothing was stored."}]}
        page.route("**/api/builds", lambda r: r.fulfill(status=503, json=json.loads(json.dumps(why))))
        page.goto(self.live_server_url)
        expect(page.get_by_test_id("away")).to_contain_text("the disk is full")
        expect(page.get_by_text("No builds yet")).to_have_count(0)
        page.unroute("**/api/builds")
        expect(page.get_by_role("link", name=re.compile("^Harbour tug"))).to_be_visible()

    def test_a_view_that_was_opened_while_the_server_was_away_is_there_once_it_is_back(self) -> None:
        page = self.page
        page.route("**/api/**", lambda route: route.abort())
        page.goto(f"{self.live_server_url}/build/{TUG}")
        expect(page.get_by_role("heading", name="Nothing to show yet")).to_be_visible()
        page.unroute("**/api/**")
        expect(page.locator(".coat").first).to_be_visible()

    def test_a_file_that_cannot_be_written_is_told_and_not_saved_as_if_it_were_one(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/build/{TUG}")
        why = {"problems": [{"where": "data", "what": "the disk is full: nothing was stored."}]}
        page.route("**/plan.json", lambda r: r.fulfill(status=503, json=why))
        page.get_by_role("button", name=re.compile("^Harbour tug")).click()
        page.get_by_role("menuitem", name="Save as a plan file").click()
        expect(page.get_by_test_id("unsaved")).to_contain_text("Not saved as a file. data: the disk is full")
        page.unroute("**/plan.json")
        page.get_by_role("button", name=re.compile("^Harbour tug")).click()
        with page.expect_download() as saved:
            page.get_by_role("menuitem", name="Save as a plan file").click()
        self.assertEqual(json.loads(saved.value.path().read_text())["build"]["name"], "Harbour tug")
        expect(page.get_by_test_id("unsaved")).to_have_count(0)

    def test_everything_is_brought_back_from_a_copy_by_hand(self) -> None:
        page = self.page
        page.goto(f"{self.live_server_url}/build/{TUG}")
        expect(page.locator(".coat").first).to_be_visible()
        page.goto(self.live_server_url)
        with page.expect_download() as saved:
            page.get_by_label("Save Harbour tug as a file").click()
        page.get_by_label("Delete Harbour tug").click()
        expect(page.get_by_role("link", name=re.compile("^Harbour tug"))).to_have_count(0)
        page.get_by_test_id("trash").locator("summary").click()
        page.get_by_label("Delete Harbour tug for good").click()
        expect(page.get_by_test_id("trash")).to_have_count(0)
        page.get_by_label("Plan file or saved build").set_input_files(
            {"name": "tug.build.zip", "mimeType": "application/zip", "buffer": saved.value.path().read_bytes()}
        )
        expect(page.locator(".coat").first).to_be_visible()
        self.assertEqual(Build.objects.get(pk=TUG).name, "Harbour tug")
