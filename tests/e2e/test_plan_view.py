"""The Plan view as a modeller uses it, in Chromium."""

import json
import tempfile
from pathlib import Path

from builds.models import Build
from playwright.sync_api import expect

from tests.builders import plan_json, tall_json, tug_json

from .browser import BrowserCase, empty

TUG = "demo-harbour-tug"


class OnTheTug(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.open()

    def open(self, path: str = "/") -> None:
        self.page.goto(f"{self.live_server_url}{path}")

    def tag(self, words: str):  # type: ignore[no-untyped-def]
        return self.page.locator(".tag").filter(has_text=words)

    def stored(self, step: str) -> dict:
        return next(s for s in Build.objects.get(pk=TUG).plan["steps"] if s["id"] == step)

    def test_first_sight_to_a_mended_clash_kept_over_a_reload(self) -> None:
        page = self.page
        expect(page.get_by_role("heading", name="2 clashes, 5 waits")).to_be_visible()
        expect(self.tag("wrinkles")).to_have_count(4)
        self.tag("wrinkles").first.click()
        panel = page.get_by_test_id("seam-panel")
        expect(panel).to_contain_text("swells it while it is half hardened")
        offered = page.get_by_test_id("remedies").get_by_role("listitem").filter(has_text="Water-borne acrylic clear")
        offered.get_by_role("button").first.click()
        expect(page.get_by_test_id("rack")).to_contain_text("nothing is kept yet")
        self.assertEqual(Build.objects.get(pk=TUG).revision, 1)
        page.get_by_role("button", name="Keep it").click()
        expect(self.tag("wrinkles")).to_have_count(0)
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        page.reload()
        expect(page.get_by_role("heading", name="1 clash, 5 waits")).to_be_visible()
        self.assertNotEqual(self.stored("matt")["material"], "lacquer_clear")
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(self.tag("wrinkles")).to_have_count(4)
        self.assertEqual(self.stored("matt")["material"], "lacquer_clear")
        page.keyboard.press("Control+Shift+Z")
        expect(self.tag("wrinkles")).to_have_count(0)

    def test_the_clock_lays_the_coats_and_hardens_them(self) -> None:
        page = self.page
        clock = page.get_by_test_id("clock")
        clock.focus()
        page.keyboard.press("Home")
        coat = page.locator('[data-row="primer~hull"]')
        expect(coat).to_have_attribute("data-laid", "yes")
        expect(page.locator('[data-row="matt~hull"]')).to_have_attribute("data-laid", "no")
        expect(coat).to_have_attribute("aria-label", "Grey primer, 16 µm, wet")
        page.keyboard.press("PageUp")
        page.keyboard.press("PageUp")
        expect(coat).to_have_attribute("aria-label", "Grey primer, 16 µm, hard")
        box = clock.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 200, box["y"] + 40)
        page.mouse.down()
        page.mouse.move(box["x"] + box["width"] - 4, box["y"] + 40, steps=4)
        page.mouse.up()
        expect(page.locator('[data-row="matt~hull"]')).to_have_attribute("data-laid", "yes")
        self.assertEqual(Build.objects.get(pk=TUG).revision, 1)  # the clock reads, it never edits

    def test_a_step_is_added_moved_and_removed_by_keyboard(self) -> None:
        page = self.page
        page.locator('[data-row="gloss~deck"]').click()
        page.keyboard.press("a")
        page.get_by_role("combobox", name="What to lay or do").fill("dry pigment")
        expect(page.get_by_role("option").first).to_contain_text("Dry pigment")
        page.keyboard.press("Enter")
        expect(page.locator(".coat").filter(has_text="Dry pigment")).to_have_count(1)
        expect(page.get_by_test_id("step-panel")).to_contain_text("Deck")
        added = page.locator(".coat").filter(has_text="Dry pigment")
        before = added.bounding_box()
        assert before is not None
        added.focus()
        page.keyboard.press("Alt+ArrowUp")
        page.wait_for_function(
            "(y) => [...document.querySelectorAll('.coat')].find((c) => c.textContent.includes('Dry pigment'))"
            "?.getBoundingClientRect().y < y",
            arg=before["y"],
        )
        added.focus()
        page.keyboard.press("Delete")
        expect(added).to_have_count(0)
        self.assertEqual(len(Build.objects.get(pk=TUG).plan["steps"]), 24)

    def test_a_coat_is_dragged_to_another_place(self) -> None:
        page = self.page
        moved = page.locator('[data-row="hull-green~topsides"]').bounding_box()
        target = page.locator('[data-row="gloss~topsides"]').bounding_box()
        assert moved is not None and target is not None
        page.mouse.move(moved["x"] + 20, moved["y"] + 10)
        page.mouse.down()
        page.mouse.move(moved["x"] + 20, target["y"] + 4, steps=6)
        page.mouse.up()
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        self.page.wait_for_function(
            "() => { const y = (r) => document.querySelector(`[data-row='${r}']`).getBoundingClientRect().top;"
            " return y('hull-green~topsides') < y('gloss~topsides'); }"
        )
        order = [s["id"] for s in Build.objects.get(pk=TUG).plan["steps"]]
        self.assertGreater(order.index("hull-green"), order.index("gloss"))

    def test_a_refused_value_stays_in_its_field_with_the_reason(self) -> None:
        page = self.page
        page.locator('[data-row="gloss~deck"]').click()
        field = page.get_by_label("Dry film")
        field.fill("-3")
        field.press("Enter")
        expect(page.get_by_test_id("step-panel").get_by_role("alert")).to_contain_text(
            "a film must be thicker than 0 µm"
        )
        expect(field).to_have_value("-3")
        field.fill("14")
        field.press("Enter")
        expect(page.get_by_test_id("step-panel").get_by_role("alert")).to_have_count(0)
        self.assertEqual(self.stored("gloss")["dry_film_um"], 14)

    def test_bench_air_changes_the_answer(self) -> None:
        page = self.page
        waits = self.tag("wait").all_inner_texts()
        page.get_by_role("button", name="Bench air").click()
        page.get_by_label("Temperature").first.fill("9")
        page.get_by_label("Temperature").first.press("Enter")
        expect(page.get_by_role("button", name="Bench air")).to_contain_text("9 °C")
        page.keyboard.press("Escape")
        self.assertNotEqual(waits, self.tag("wait").all_inner_texts())

    def test_an_edit_waits_for_the_connection_and_is_not_lost(self) -> None:
        page = self.page
        page.locator('[data-row="gloss~deck"]').click()
        page.route("**/edits", lambda route: route.abort())
        page.get_by_label("Name", exact=True).fill("Gloss clear, thin")
        page.get_by_label("Name", exact=True).press("Enter")
        expect(page.get_by_test_id("saved")).to_contain_text("trying again")
        page.unroute("**/edits")
        page.reload()
        expect(page.get_by_test_id("saved")).to_have_text("Saved")
        expect(page.locator(".coat").filter(has_text="Gloss clear, thin")).to_have_count(5)
        self.assertEqual(self.stored("gloss")["name"], "Gloss clear, thin")

    def test_the_table_tells_the_same(self) -> None:
        self.open(f"/build/{TUG}/table")
        table = self.page.get_by_test_id("plan-table")
        expect(table.get_by_role("row")).to_have_count(25)
        expect(table).to_contain_text("clash: wrinkles")
        table.get_by_role("button", name="Remove Matt clear").click()
        expect(table.get_by_role("row")).to_have_count(24)


class Files(BrowserCase):
    made_by = staticmethod(empty)

    def choose(self, data: object) -> None:
        self.page.goto(self.live_server_url)
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "mine.json"
            path.write_text(data if isinstance(data, str) else json.dumps(data), encoding="utf-8")
            self.page.get_by_label("Plan file or saved build").set_input_files(str(path))
            self.page.wait_for_timeout(300)

    def test_a_broken_plan_file_is_refused_with_its_reason(self) -> None:
        broken = tug_json()
        broken["air"]["day"]["temp_c"] = 900
        self.choose(broken)
        expect(self.page.get_by_test_id("refused")).to_contain_text("air.day.temp_c")
        self.choose("{")
        expect(self.page.get_by_test_id("refused")).to_contain_text("not JSON")
        self.assertEqual(Build.objects.count(), 0)

    def test_an_empty_build_says_what_to_do_first(self) -> None:
        self.choose(plan_json([]))
        expect(self.page.get_by_test_id("overview")).to_contain_text("Lay the first coat")

    def test_hostile_names_are_only_words(self) -> None:
        self.choose(plan_json([], build={"name": "<img src=x onerror=alert(1)>"}))
        expect(self.page.get_by_role("button", name="<img src=x onerror=alert(1)>")).to_be_visible()

    def test_eight_zones_of_25_coats_fit_without_sideways_scrolling(self) -> None:
        data = tall_json(25, zones=8)
        for step in data["steps"]:
            step["zones"] = [z["id"] for z in data["zones"]]
        self.choose(data)
        expect(self.page.locator(".coat")).to_have_count(200)
        inside = self.page.evaluate(
            "() => { const box = document.querySelector('[data-testid=rack]').getBoundingClientRect();"
            " return [...document.querySelectorAll('.coat')].every((c) => { const r = c.getBoundingClientRect();"
            " return r.top >= box.top - 1 && r.bottom <= box.bottom && r.right <= box.right; })"
            " && document.documentElement.scrollWidth <= innerWidth; }"
        )
        self.assertTrue(inside)
