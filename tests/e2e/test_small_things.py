"""What people trip over: the add dialog by keyboard, night air, a changed material, a build with nothing in it."""

from builds.models import Build
from builds.store import create
from emvar_core.plan import parse_plan
from playwright.sync_api import expect

from tests.builders import plan_json

from .browser import SIZE, BrowserCase, chooser, take

TUG = "demo-harbour-tug"


class SmallThings(BrowserCase):
    def open(self, build: str = TUG, view: str = "") -> None:
        self.page.goto(f"{self.live_server_url}/build/{build}{view}")

    def saved(self) -> None:
        expect(self.page.get_by_test_id("saved")).to_have_text("Saved")

    def stored(self, build: str = TUG) -> dict:
        return Build.objects.get(pk=build).plan

    def test_what_a_test_left_on_device_and_page_is_gone_before_the_next(self) -> None:
        self.page.goto(self.live_server_url)
        self.page.evaluate("localStorage.setItem('left', 'here'); sessionStorage.setItem('left', 'here')")
        self.page.route("**/api/builds", lambda route: route.abort())
        self.page.set_viewport_size({"width": 400, "height": 700})
        self.tearDown()
        self.setUp()
        with self.page.expect_response("**/api/builds"):
            self.page.goto(self.live_server_url)
        left = "[localStorage.getItem('left'), sessionStorage.getItem('left'), innerWidth]"
        self.assertEqual(self.page.evaluate(left), [None, None, SIZE["width"]])

    def test_what_is_chosen_by_the_arrow_keys_comes_into_view(self) -> None:
        self.open()
        self.page.locator('[data-row="gloss~deck"]').click()
        self.page.keyboard.press("a")
        self.page.get_by_role("combobox", name="What to lay or do").fill("a")
        for _ in range(25):
            self.page.keyboard.press("ArrowDown")
        seen = self.page.evaluate(
            """() => {
              const list = document.querySelector('#add-hits').getBoundingClientRect();
              const one = document.querySelector('#add-hits [aria-selected=true]').getBoundingClientRect();
              return [one.top >= list.top - 1, one.bottom <= list.bottom + 1,
                      document.querySelector('#add-hits').scrollTop];
            }"""
        )
        self.assertEqual(seen[:2], [True, True])
        self.assertGreater(seen[2], 0)

    def test_night_air_can_be_ticked_and_unticked(self) -> None:
        self.open()
        self.page.wait_for_selector("[data-testid=rack]")
        before = bool(self.stored()["air"].get("night"))
        self.page.get_by_role("button", name="Bench air").click()
        box = self.page.get_by_role("checkbox", name="It is different at night")
        for on in (not before, before):
            box.click()
            (expect(box).to_be_checked if on else expect(box).not_to_be_checked)()
            self.saved()
            self.assertEqual(bool(self.stored()["air"].get("night")), on)

    def test_another_material_keeps_how_and_how_much_and_says_what_it_cannot_keep(self) -> None:
        self.open()
        self.page.locator('[data-row="pin-wash~deck"]').click()
        before = next(s for s in self.stored()["steps"] if s["id"] == "pin-wash")
        take(self.page, "Material", "artists_oil")
        expect(self.page.get_by_role("button", name="Undo", exact=True)).to_be_enabled()
        expect(chooser(self.page, "Material")).to_have_attribute("data-value", "artists_oil")
        self.saved()
        after = next(s for s in self.stored()["steps"] if s["id"] == "pin-wash")
        self.assertEqual(after["material"], "artists_oil")
        for field in ("method", "coverage", "technique", "dry_film_um"):
            self.assertEqual(after.get(field), before.get(field), field)
        take(self.page, "Material", "decal")
        expect(self.page.get_by_test_id("not-kept")).to_contain_text("Not kept")
        self.saved()
        self.page.get_by_role("button", name="Undo", exact=True).click()
        expect(chooser(self.page, "Material")).to_have_attribute("data-value", "artists_oil")
        self.saved()
        again = next(s for s in self.stored()["steps"] if s["id"] == "pin-wash")
        self.assertEqual(again, after, "one edit, undone as one")

    def test_a_build_with_nothing_in_it_is_not_called_done_or_finished(self) -> None:
        create(parse_plan(plan_json([])), "empty")
        self.page.goto(f"{self.live_server_url}/build/empty")
        expect(self.page.get_by_test_id("live")).to_have_text("nothing is planned yet")
        self.page.goto(f"{self.live_server_url}/build/empty/sittings")
        finish = self.page.get_by_test_id("finish")
        expect(finish).to_contain_text("Nothing is planned yet")
        expect(finish).not_to_contain_text("proven")
        expect(self.page.get_by_role("button", name="Plan the sittings")).to_be_disabled()

    def test_a_view_that_cannot_be_drawn_says_so_and_offers_a_way_on(self) -> None:
        self.page.route("**/api/compendium", lambda route: route.fulfill(json={"coats": 3}))
        self.page.goto(f"{self.live_server_url}/compendium")
        expect(self.page.get_by_role("alert")).to_contain_text("could not be drawn")
        expect(self.page.get_by_role("link", name="To the builds")).to_be_visible()
        self.broken.clear()
