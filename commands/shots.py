"""`./emvar shots`: takes the pictures in docs/screenshots again, from the demo data."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from tests.builders import ROOT
from tests.e2e.browser import SIZE, chromium

OUT, TAKEN = ROOT / "docs" / "screenshots", ROOT / "docs" / "screenshots.new"
URL = "http://127.0.0.1:8932"
FORGET = "for (const k of Object.keys(localStorage)) if (/clock|time/.test(k)) localStorage.removeItem(k)"


def plan_view(page: Any, theme: str) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.locator(".tag").filter(has_text="wrinkles").first.click()
    page.wait_for_selector("[data-testid=remedies] li")
    page.get_by_test_id("clock").focus()
    page.keyboard.press("End")
    page.locator("body").click(position={"x": 640, "y": 60})
    page.locator(".tag").filter(has_text="wrinkles").first.click()
    page.wait_for_selector("[data-testid=remedies] li")
    shot(page, f"plan-{theme}")


def first_sight(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.wait_for_selector("[data-testid=overview]")
    shot(page, "first-sight")


def builds(page: Any) -> None:
    page.goto(URL)
    page.get_by_label("Delete Quay crane").click()
    page.get_by_test_id("trash").locator("summary").click()
    page.get_by_role("button", name="Keep one here").click()
    page.get_by_role("button", name="Bring back the copy").wait_for()
    # Where the data lie is this run's own scratch folder: it is no part of the picture.
    page.get_by_text("All data lie in").evaluate("(e) => (e.style.visibility = 'hidden')")
    shot(page, "builds")
    page.get_by_role("button", name="Put Quay crane back").click()
    page.get_by_label("Delete Quay crane").wait_for()


def step(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.locator('[data-row="worn-grey~deck"]').click()
    page.wait_for_selector("[data-testid=step-panel]")
    shot(page, "step")


def table(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/table")
    page.wait_for_selector("[data-testid=plan-table]")
    shot(page, "table")


def material(page: Any) -> None:
    page.goto(f"{URL}/compendium#enamel_wash")
    page.wait_for_selector("[data-testid=entry]")
    shot(page, "material")


def technique(page: Any) -> None:
    page.goto(f"{URL}/compendium#hairspray_chipping")
    page.wait_for_selector("[data-testid=entry]")
    shot(page, "technique")


def versions(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.get_by_role("button", name="Mend the plan").click()
    page.get_by_role("button", name="Keep it").nth(1).or_(page.get_by_text("already")).first.wait_for(timeout=30000)
    page.wait_for_timeout(3000)
    shot(page, "versions")


def rescue(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.get_by_test_id("overview").get_by_role("button").filter(has_text="Pin wash, brown · wait").first.click()
    page.get_by_test_id("clock").focus()
    for _ in range(2):
        page.keyboard.press("ArrowUp")
    page.locator('[data-row="pin-wash~hull"]').click()
    page.get_by_role("button", name="What still comes off").click()
    page.get_by_label("It looks wrong: what do you see?").select_option("tide_mark")
    page.wait_for_timeout(900)
    page.get_by_test_id("rescue").evaluate("e => e.scrollIntoView({block: 'start'})")
    shot(page, "rescue")


def crane(page: Any) -> None:
    page.goto(f"{URL}/build/demo-quay-crane")
    page.wait_for_selector("[data-testid=overview]")
    shot(page, "crane")


def schools(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.get_by_role("button", name="Harbour tug").click()
    page.get_by_role("menuitem", name="This build").click()
    page.get_by_role("tab", name="Schools").click()
    shot(page, "schools")


def bench(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/bench/ochre")
    page.wait_for_selector("[data-testid=map]")
    shot(page, "bench")


def in_hand(page: Any) -> None:
    page.goto(f"{URL}/bench")
    page.wait_for_selector("[data-testid=map]")
    page.get_by_label("Paint", exact=True).select_option("lacquer_primer")
    shot(page, "in-hand")


def sittings(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/sittings")
    _planned(page)
    page.locator("[data-sitting='2026-12-03T19:30']").click()
    page.locator("[data-step='wipe']").first.focus()
    page.keyboard.press("Enter")
    shot(page, "sittings")
    box = page.locator("[data-step='pin-wash']").first.bounding_box()
    x, y = box["x"] + 6, box["y"] + 24
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 60, y, steps=4)
    page.mouse.move(x + 190, y, steps=8)
    page.get_by_test_id("trial").get_by_text("must be over by").wait_for()
    shot(page, "drag")
    page.keyboard.press("Escape")
    page.mouse.up()


def what_if(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/sittings")
    _planned(page)
    page.get_by_role("tab", name="What if").click()
    page.get_by_role("button", name="Ask", exact=True).click()
    page.get_by_test_id("cases").get_by_text("A drying cabinet").wait_for(timeout=90000)
    shot(page, "what-if")


def as_scheduled(page: Any) -> None:
    """The plan after its sittings were planned: drawing, clock and words go by them."""
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.get_by_role("radio", name="By my sittings").click()
    page.get_by_role("button", name="Matt clear · wrinkles").first.click()
    page.get_by_test_id("by-itself").wait_for()
    page.get_by_test_id("remedies").get_by_role("listitem").first.wait_for()
    shot(page, "as-scheduled")


def batch(page: Any) -> None:
    page.goto(f"{URL}/build/demo-channel-buoys/sittings")
    _planned(page)
    page.locator("[data-sitting='2026-12-08T19:30']").click()
    shot(page, "batch")


def _planned(page: Any) -> None:
    page.get_by_test_id("finish").get_by_text("proven").wait_for(timeout=60000)
    page.wait_for_timeout(500)


def shot(page: Any, name: str) -> None:
    page.wait_for_timeout(400)
    page.screenshot(path=str(TAKEN / f"{name}.png"))
    print(f"docs/screenshots/{name}.png", flush=True)


def main() -> int:
    """A run that fails leaves the pictures that there were: the new ones take their place at the end."""
    shutil.rmtree(TAKEN, ignore_errors=True)
    TAKEN.mkdir(parents=True)
    try:
        take()
        shutil.rmtree(OUT, ignore_errors=True)
        TAKEN.rename(OUT)
    finally:
        shutil.rmtree(TAKEN, ignore_errors=True)
    return 0


def take() -> None:
    """Every view of the demo, each on its own picture."""
    with tempfile.TemporaryDirectory() as data:
        env = {**os.environ, "EMVAR_DATA": data}
        run = [sys.executable, "-m", "django"]
        subprocess.run([*run, "migrate", "-v", "0"], env=env, check=True)
        subprocess.run([*run, "load_demo", "-v", "0"], env=env, check=True, stdout=subprocess.DEVNULL)
        server = subprocess.Popen([*run, "serve", "--port", "8932"], env=env, cwd=Path(ROOT), stdout=subprocess.DEVNULL)
        try:
            time.sleep(2)
            with chromium() as browser:
                for theme in ("light", "dark"):
                    context = browser.new_context(viewport=SIZE, color_scheme=theme, reduced_motion="reduce")  # type: ignore[arg-type]
                    page = context.new_page()
                    plan_view(page, theme)
                    if theme == "light":
                        views = (first_sight, builds, step, table, material, technique, schools, versions, rescue)
                        for view in (*views, crane, bench, in_hand, sittings, what_if, as_scheduled, batch):
                            page.evaluate(FORGET)
                            view(page)
                    context.close()
        finally:
            server.terminate()


if __name__ == "__main__":
    sys.exit(main())
