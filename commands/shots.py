"""`./emvar shots`: takes the pictures in docs/screenshots again, from the demo data."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

from tests.builders import ROOT
from tests.e2e.browser import SIZE, chromium
from tools.served import free_port

OUT, TAKEN = ROOT / "docs" / "screenshots", ROOT / "docs" / "screenshots.new"
HAND = {"width": 390, "height": 844}
PORT = free_port()
URL = f"http://127.0.0.1:{PORT}"
TUG = "demo-harbour-tug"
BENCH_NOW = "2026-11-28T12:44:00+00:00"
FORGET = "for (const k of Object.keys(localStorage)) if (/clock|time/.test(k)) localStorage.removeItem(k)"


def plan_view(page: Any, theme: str) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.locator(".tag").filter(has_text="never").first.click()
    page.wait_for_selector("[data-testid=remedies] li")
    page.get_by_test_id("clock").focus()
    page.keyboard.press("End")
    page.keyboard.press("Escape")
    page.locator(".tag").filter(has_text="never").first.click()
    page.wait_for_selector("[data-testid=remedies] li")
    shot(page, f"plan-{theme}")


def first_sight(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.wait_for_selector("[data-testid=overview]")
    shot(page, "first-sight")


def builds(page: Any) -> None:
    page.goto(URL)
    page.get_by_label("Delete Quay crane", exact=True).click()
    page.get_by_test_id("trash").locator("summary").click()
    page.get_by_role("button", name="Keep one here").click()
    page.get_by_role("button", name="Bring back the copy").wait_for()
    # Where the data lie is this run's own scratch folder: it is no part of the picture.
    page.get_by_text("All data lie in").evaluate("(e) => (e.style.visibility = 'hidden')")
    page.evaluate("scrollTo(0, 0)")
    shot(page, "builds")
    page.get_by_role("button", name="Put Quay crane back").click()
    page.get_by_label("Delete Quay crane", exact=True).wait_for()


def begin(page: Any) -> None:
    page.goto(URL)
    page.get_by_role("button", name="By brush and can").click()
    page.get_by_label("Name of the build").fill("Pilot cutter")
    page.get_by_role("button", name="Work out the area of Hull").click()
    for label, size in (("long, cm", "21"), ("wide, cm", "5"), ("high, cm", "4")):
        page.get_by_label(label).fill(size)
    page.get_by_role("heading", name="Begin a build").evaluate("e => e.scrollIntoView({block: 'start'})")
    shot(page, "begin")


def paper(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/paper/sittings/2026-11-28T10:00")
    page.locator("[data-testid=paper][data-ready=yes] .paper-page").wait_for()
    page.locator(".paper-page").screenshot(path=str(TAKEN / "paper.png"))
    print("docs/screenshots/paper.png", flush=True)


def in_the_hand(page: Any) -> None:
    """The same on a phone, beside a sheet from below."""
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.get_by_role("button", name="Topsides").first.tap()
    page.wait_for_selector("[data-testid=counts]")
    shot(page, "hand-rack")
    page.goto(f"{URL}/build/demo-harbour-tug/sittings")
    _planned(page)
    page.locator("[data-sitting='2026-12-03T19:30']").tap()
    page.evaluate("scrollTo(0, 0)")
    shot(page, "hand-sittings")


def step(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug")
    page.locator('[data-row="worn-grey~deck"]').click()
    page.wait_for_selector("[data-testid=step-panel]")
    shot(page, "step")


def table(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/table")
    page.wait_for_selector("[data-testid=plan-table]")
    shot(page, "table")


def technique(page: Any) -> None:
    page.goto(f"{URL}/compendium#technique~hairspray_chipping")
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
    page.get_by_test_id("overview").locator("summary").filter(has_text="too early").click()
    page.get_by_test_id("overview").get_by_role("button").filter(has_text="Pin wash, brown · wait").first.click()
    page.get_by_test_id("clock").focus()
    for _ in range(2):
        page.keyboard.press("ArrowUp")
    page.locator('[data-row="pin-wash~hull"]').click()
    page.locator("[data-fold=paint]").evaluate("part => { part.open = false }")
    page.locator("[data-fold=wrong]").evaluate("part => { part.open = true }")
    page.get_by_role("button", name="What still comes off").click()
    page.get_by_label("It looks wrong: what do you see?").select_option("tide_mark")
    page.wait_for_timeout(900)
    page.get_by_test_id("rescue").evaluate("e => e.scrollIntoView({block: 'start'})")
    shot(page, "rescue")


def mix_and_spray(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/mix-and-spray/ochre")
    page.wait_for_selector("[data-testid=map]")
    shot(page, "mix-and-spray")


def sittings(page: Any) -> None:
    page.goto(f"{URL}/build/demo-harbour-tug/sittings")
    _planned(page)
    page.locator("[data-sitting='2026-12-03T19:30']").click()
    page.locator("[data-step='wipe']").first.focus()
    page.keyboard.press("Enter")
    shot(page, "sittings")


def at_the_bench(page: Any, name: str = "at-the-bench") -> None:
    page.goto(f"{URL}/build/{TUG}/at-the-bench")
    page.get_by_test_id("main-act").wait_for()
    page.wait_for_timeout(5000)
    shot(page, name)


def log(page: Any) -> None:
    page.goto(f"{URL}/build/demo-finished-tug/log")
    page.locator(".log-picture img").first.wait_for()
    page.locator("main").evaluate("(m) => (m.scrollTop = 620)")
    page.wait_for_timeout(1200)
    shot(page, "log")


def _painted(page: Any) -> None:
    """What was done at the bench by the moment at which the pictures are taken."""
    steps = page.request.get(f"{URL}/api/builds/{TUG}").json()["plan"]["steps"]
    zones = {s["id"]: s["zones"] for s in steps}
    said = [
        {"id": f"shot-{step}", "said": "done", "step": step, "zones": zones[step], "name": step,
         "began_at": f"2026-11-28T{a}:00Z", "at": f"2026-11-28T{b}:00Z", "written_at": f"2026-11-28T{b}:00Z"}
        for step, a, b in (("primer", "09:00", "09:50"), ("red-oxide", "10:00", "10:25"),
                           ("hull-green", "11:30", "12:00"), ("off-white", "12:10", "12:42"))
    ]  # fmt: skip
    page.goto(f"{URL}/build/{TUG}")
    page.evaluate(
        "async ([url, entries]) => { await fetch(url, { method: 'POST', body: JSON.stringify({ entries }), headers:"
        " { 'Content-Type': 'application/json', 'X-CSRFToken': /csrftoken=([^;]+)/.exec(document.cookie)[1] } }) }",
        [f"/api/builds/{TUG}/journal", said],
    )


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


def listening(server: subprocess.Popen[bytes], seconds: float = 60) -> None:
    """Waits until the server takes connections. Raises SystemExit if it ends first, or takes too long."""
    until = time.monotonic() + seconds
    while time.monotonic() < until and server.poll() is None:
        try:
            socket.create_connection(("127.0.0.1", PORT), timeout=1).close()
            return
        except OSError:
            time.sleep(0.2)
    raise SystemExit("emvar: the server for the pictures did not start")


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
        env = {**os.environ, "EMVAR_DATA": data, "EMVAR_NOW": BENCH_NOW}
        run = [sys.executable, "-m", "django"]
        subprocess.run([*run, "migrate", "-v", "0"], env=env, check=True)
        subprocess.run([*run, "load_demo", "-v", "0"], env=env, check=True, stdout=subprocess.DEVNULL)
        server = subprocess.Popen(
            [*run, "serve", "--port", str(PORT)], env=env, cwd=Path(ROOT), stdout=subprocess.DEVNULL
        )
        try:
            listening(server)
            with chromium() as browser:
                for theme in ("light", "dark"):
                    context = browser.new_context(viewport=SIZE, color_scheme=theme, reduced_motion="reduce")  # type: ignore[arg-type]
                    page = context.new_page()
                    plan_view(page, theme)
                    if theme == "light":
                        views = (first_sight, builds, begin, step, table, technique, versions, rescue, mix_and_spray)
                        for view in (*views, sittings, paper, batch, log):
                            page.evaluate(FORGET)
                            view(page)
                    context.close()
                hand = browser.new_context(viewport=HAND, has_touch=True, is_mobile=True, color_scheme="light")  # type: ignore[arg-type]
                page = hand.new_page()
                in_the_hand(page)
                desk = browser.new_context(viewport=SIZE, color_scheme="light", reduced_motion="reduce")  # type: ignore[arg-type]
                page = desk.new_page()
                _painted(page)
                at_the_bench(page)
                desk.close()
                at_the_bench(hand.new_page(), "hand-bench")
                hand.close()
        finally:
            server.terminate()


if __name__ == "__main__":
    sys.exit(main())
