"""`./emvar bench [--browser]`: timings on this machine. Figures are printed, never tested."""

from __future__ import annotations

import argparse
import gc
import os
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from typing import Any

from emvar_core.assess import assess, assess_near
from emvar_core.knowledge import knowledge
from emvar_core.memory import forget, resident_bytes
from emvar_core.mix_and_spray.card import card
from emvar_core.physics.cup import cup_of
from emvar_core.physics.spray import DISTANCES_MM, PRESSURES_KPA, Gun, Hand, field, paint_of
from emvar_core.physics.viscosity import thickness
from emvar_core.plan import Air, CoatStep, Plan, apply, parse_edits, parse_plan
from emvar_core.schedule.agenda import Agenda, times_of
from emvar_core.schedule.drag import move
from emvar_core.schedule.dry_run import dry_run
from emvar_core.schedule.schedule import Planned, first_schedule, make
from emvar_core.schedule.view import view
from emvar_core.ways.remedies import remedies

from tests.builders import ROOT, batch_json, tall_json, tug
from tools.served import free_port


def ms(work: Callable[[], Any]) -> float:
    began = time.perf_counter()
    work()
    return (time.perf_counter() - began) * 1e3


def edit_times(plan: Plan, count: int = 20) -> list[float]:
    """An edit in the middle of the plan, assessed with everything else remembered."""
    step = plan.steps[len(plan.steps) // 2]
    times = []
    for i in range(count):
        edits = parse_edits([{"edit": "set_field", "step_id": step.id, "field": "dry_film_um", "value": 5 + i / 10}])

        def work(edits: Any = edits) -> None:
            assess(apply(plan, edits)[0], opens=False)

        times.append(ms(work))
    return times


def shifted(plan: Plan, count: int) -> list[Plan]:
    """The plan with the wait in its middle changed, so that every later step moves, each time by another amount."""
    step = plan.steps[len(plan.steps) // 2]
    edits = [{"edit": "set_field", "step_id": step.id, "field": "wait_min", "value": 1000 + i} for i in range(count)]
    return [apply(plan, parse_edits([e]))[0] for e in edits]


def near_times(plan: Plan, count: int = 20) -> list[float]:
    step = plan.steps[len(plan.steps) // 2]
    return [ms(lambda p=p: assess_near(p, step.zones[0], step.id)) for p in shifted(plan, count)]  # type: ignore[misc]


def core() -> None:
    # As the server runs: what is remembered is not walked again and again for garbage.
    gc.collect()
    gc.freeze()
    gc.set_threshold(50_000, 4, 400)
    print("assess, 5 zones, night and day air             cold        again    edit p50    edit p95")
    for count in (15, 150, 1500):
        plan = parse_plan(tall_json(count))
        forget()
        cold, again = ms(lambda p=plan: assess(p, opens=False)), ms(lambda p=plan: assess(p, opens=False))  # type: ignore[misc]
        row(f"  {count} steps", cold, again, edit_times(plan))
    plan = parse_plan(tall_json(1000, zones=12))
    forget()
    row(
        "  1000 steps, 12 zones",
        ms(lambda: assess(plan, opens=False)),
        ms(lambda: assess(plan, opens=False)),
        edit_times(plan),
    )
    near = near_times(plan)
    print(f"{'    a wait there, first answer':38} {'':26} {statistics.median(near):8.1f} ms {max(near):8.1f} ms")
    shift = [ms(lambda p=p: assess(p, opens=False)) for p in shifted(plan, 3)]  # type: ignore[misc]
    print(f"{'    the same, whole answer':38} {'':26} {statistics.median(shift):8.0f} ms {max(shift):8.0f} ms")
    print("remedies of a chosen seam")
    for name, made in (("tug", tug()), ("300 steps", parse_plan(tall_json(300)))):
        assessed = assess(made)
        for story in assessed.stories[:4]:
            forget()
            assess(made)
            took = ms(lambda m=made, s=story: remedies(m, s.seams[0]))  # type: ignore[misc]
            print(f"  {name}: {story.upper_step}, {story.word:20} {took:8.0f} ms")


def spray() -> None:
    """The map over pressure and distance, and whole bench cards."""
    k = knowledge()
    plan = tug()
    step = plan.step("gloss")
    assert isinstance(step, CoatStep)
    coat, cup = k.coats[step.material], cup_of(k, step)
    paint = paint_of(k, coat, cup, thickness(k, coat, cup))
    airs = [Air(temp_c=20 + i / 20) for i in range(21)]  # another each time: a map that was made before is remembered
    times = [ms(lambda a=a: field(k, paint, Gun(), Hand(), a, PRESSURES_KPA, DISTANCES_MM)) for a in airs][1:]  # type: ignore[misc]
    name = "map over pressure and distance, 60 x 80 points, new"
    print(f"{name:54} {statistics.median(times):6.1f} ms {max(times):8.1f} ms")
    cards = [ms(lambda s=s: card(plan, s.id)) for s in plan.steps if isinstance(s, CoatStep)]  # type: ignore[misc]
    print(f"{'bench card of a coat':54} {statistics.median(cards):6.1f} ms {max(cards):8.1f} ms")


EDITS = 5000
PORT = free_port()
URL = f"http://127.0.0.1:{PORT}"


def memory() -> None:
    """How large the process gets over many edits of the tug, and what they take."""
    forget()
    plan, most, times = tug(), 0, []
    coats = [s.id for s in plan.steps if isinstance(s, CoatStep)]
    for i in range(EDITS):
        value = 5 + (i * 0.0137) % 20
        edit = [{"edit": "set_field", "step_id": coats[i % len(coats)], "field": "dry_film_um", "value": value}]

        def work(edit: Any = edit) -> None:
            nonlocal plan
            plan = apply(plan, parse_edits(edit))[0]
            assess(plan, opens=False)

        times.append(ms(work))
        if i % 100 == 0:
            most = max(most, resident_bytes())
    times.sort()
    told = f"p50 {times[EDITS // 2]:.1f} ms, p95 {times[int(EDITS * 0.95)]:.1f} ms, worst {times[-1]:.0f} ms"
    print(f"memory: {EDITS} edits of the tug, {told}; at most {most / 1e6:.0f} MB")


def sittings() -> None:
    """Schedules from cold: what the chemistry asks, then the search; and what a drag and a dry run take."""
    short = tug().model_copy(update={"steps": tug().steps[:15]})
    print("schedules, from cold                         asked      search   proven       gap")
    for name, plan in (
        ("tug, its first 15 steps", short),
        (f"tug, {len(tug().steps)} steps", tug()),
        ("batch of 12 items, 20 steps each", parse_plan(batch_json(12))),
    ):
        forget()
        agenda = Agenda(plan)
        asked = ms(lambda b=agenda: (b.net, first_schedule(b)))  # type: ignore[misc]
        planned_now: list[Planned] = []
        took = ms(lambda b=agenda, f=planned_now: f.append(make(b, seconds=20)))  # type: ignore[misc]
        goals = planned_now[0].schedule.reached
        proven = f"{sum(g.proven for g in goals)} of {len(goals)}"
        print(f"  {name:38} {asked:7.0f} ms {took:8.0f} ms {proven:>8} {goals[0].gap_pct:8.2f} %")
    agenda = Agenda(tug())
    planned = make(agenda)
    start = times_of(agenda, planned.schedule)["streaks"].start_min
    for name, work in (
        ("a step dragged, judged by the seams", lambda i: move(agenda, planned.schedule, "streaks", start + 5 * i)),
        ("what the screen shows", lambda i: view(agenda, planned.schedule, None, [])),
        ("a dry run of 300 plays", lambda i: dry_run(agenda, planned.schedule, seed=i)),
    ):
        times = [ms(lambda i=i, w=work: w(i)) for i in range(9)]  # type: ignore[misc]
        print(f"  {name:38} {statistics.median(times):7.0f} ms {max(times):8.0f} ms")


def row(name: str, cold: float, again: float, edits: list[float]) -> None:
    p95 = sorted(edits)[int(len(edits) * 0.95) - 1]
    print(f"{name:38} {cold:9.0f} ms {again:9.1f} ms {statistics.median(edits):8.1f} ms {p95:8.1f} ms")


# Each edit has a value that was never seen before, so that nothing can come from memory; the wait swings between too
# early and long enough, so that the verdict changes each time and its change on the screen can be timed.
MEASURE = """async ([label, early, late, count, unit, at]) => {
  const field = () => [...document.querySelectorAll('label')].find((l) => l.textContent.startsWith(label)).control;
  const told = () => {
    const here = document.querySelector(at);
    return here.getAttribute('aria-label') ?? here.textContent;
  };
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const frame = () => new Promise((r) => requestAnimationFrame(() => r()));
  const times = [];
  for (let i = 0; i < count; i++) {
    const before = told();
    const f = field();
    f.focus();
    set.call(f, `${(i % 2 ? early : late) + i / 10}${unit}`);
    f.dispatchEvent(new Event('input', { bubbles: true }));
    await frame();
    const began = performance.now();
    f.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    while (told() === before) {
      await frame();
      if (performance.now() - began > 5000) return ['no answer', before];
    }
    await new Promise((r) => setTimeout(r, 0)); // past the painting of that frame
    times.push(performance.now() - began);
    await new Promise((r) => setTimeout(r, 700));
  }
  return times;
}"""


SEAMS, HARDENS = "[data-testid=step-seams]", "[data-testid=step-panel] figure svg[role=img]"


def _scheduled(page: Any, url: str, build: str) -> None:
    """Plans the sittings of a build, so that its plan is shown as scheduled from then on."""
    headers = {"X-CSRFToken": _token(page)}
    jobs = f"{url}/api/builds/{build}/sittings/search"
    page.request.post(jobs, data={"kind": "search", "seconds": 20}, headers=headers)
    while page.request.get(f"{jobs}/search").json()["state"] == "running":
        time.sleep(0.2)


def browser() -> None:
    """From the input event to the frame that shows the new verdict, production build, 50 edits."""
    from tests.e2e.browser import ALL_OPEN, SIZE, chromium

    with tempfile.TemporaryDirectory() as data:
        env = {**os.environ, "EMVAR_DATA": data}
        run = [sys.executable, "-m", "django"]
        subprocess.run([*run, "migrate", "-v", "0"], env=env, check=True)
        subprocess.run([*run, "load_demo", "-v", "0"], env=env, check=True, stdout=subprocess.DEVNULL)
        server = subprocess.Popen([*run, "serve", "--port", str(PORT)], env=env, cwd=ROOT, stdout=subprocess.DEVNULL)
        try:
            time.sleep(2)
            with chromium() as chrome:
                url = URL
                _first_load(chrome, url)
                _clipped(chrome, url)
                context = chrome.new_context(viewport=SIZE)  # type: ignore[arg-type]
                context.add_init_script(ALL_OPEN)
                page = context.new_page()
                print("edit to frame, in Chromium                                     p50         p95        worst")
                page.goto(f"{url}/build/demo-harbour-tug")
                page.locator('[data-row="mask-band~funnel"]').click()
                page.wait_for_selector(SEAMS)
                _measured("  tug, a wait changed", page.evaluate(MEASURE, ["Waits first", 60, 960, 50, " min", SEAMS]))
                body = {"kind": "what_if", "seconds": 60}
                jobs = f"{url}/api/builds/demo-channel-buoys/sittings/search"
                page.request.post(jobs, data=body, headers={"X-CSRFToken": _token(page)})
                answer = page.evaluate(MEASURE, ["Waits first", 70, 970, 50, " min", SEAMS])
                running = page.request.get(f"{jobs}/what_if").json()["state"]
                _measured(f"  the same while a search runs ({running} at the end)", answer)
                stop = f"{jobs}/what_if/stop"
                page.request.post(stop, data={}, headers={"X-CSRFToken": _token(page)})
                _scheduled(page, url, "demo-harbour-tug")
                page.goto(f"{url}/build/demo-harbour-tug")
                page.get_by_role("radio", name="By my sittings").click()
                page.get_by_text("as scheduled").first.wait_for()
                page.locator('[data-row="primer~hull"]').click()
                page.wait_for_selector(HARDENS)
                answer = page.evaluate(MEASURE, ["Dry film", 20, 30, 50, "", HARDENS])
                _measured("  as scheduled, the film of the first coat changed", answer)
                made = page.request.post(
                    f"{url}/api/builds", data=tall_json(300), headers={"X-CSRFToken": _token(page)}
                ).json()
                page.goto(f"{url}/build/{made['id']}")
                page.get_by_role("link", name="Table").click()
                page.get_by_role("button", name="Step 149", exact=True).click()
                page.get_by_role("link", name="Rack").click()
                page.wait_for_selector("[data-testid=step-seams]")
                answer = page.evaluate(MEASURE, ["Waits first", 7000, 1, 50, " min", SEAMS])
                _measured("  300 steps, a wait in the middle: all later steps move", answer)
                _frames(page, url)
        finally:
            server.terminate()


# When the first frame with the rack in it was asked for, and what had arrived by then.
UP = """new MutationObserver((_, seen) => {
  if (!document.querySelector('.coat')) return;
  seen.disconnect();
  requestAnimationFrame(() => { window.rackUp = performance.now(); });
}).observe(document, { childList: true, subtree: true })"""
ARRIVED = """() => [...performance.getEntriesByType('navigation'), ...performance.getEntriesByType('resource')]
  .filter((e) => e.responseEnd <= window.rackUp).map((e) => [e.name, e.transferSize])"""


def _first_load(chrome: Any, url: str) -> None:
    """What is sent before the rack of the demo build is up, in a browser that has never been here."""
    context = chrome.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.add_init_script(UP)
    page.goto(f"{url}/build/demo-harbour-tug")
    page.wait_for_function("() => window.rackUp")
    page.wait_for_timeout(1000)
    kinds = {"script": 0.0, "style": 0.0, "font": 0.0, "data": 0.0}
    for name, size in page.evaluate(ARRIVED):
        kind = "script" if ".js" in name else "style" if ".css" in name else "font" if "woff" in name else "data"
        kinds[kind] += size
    told = ", ".join(f"{kind} {size / 1000:.0f}" for kind, size in kinds.items())
    print(f"first load, until the rack is up: {sum(kinds.values()) / 1000:.0f} kB as sent ({told})")
    context.close()


CLIPPED = """() => {
  const names = [...document.querySelectorAll('.words > span, .cut .name')];
  const cut = names.filter((e) => e.scrollWidth > e.clientWidth + 1 || e.scrollHeight > e.clientHeight + 3);
  return [cut.length, names.length];
}"""


def _clipped(chrome: Any, url: str) -> None:
    """How many names in the rack are cut, of all that are drawn."""
    for build in ("demo-harbour-tug", "demo-channel-buoys", "demo-quay-crane"):
        told = []
        for width, height in ((390, 844), (768, 1024), (1024, 768), (1280, 800), (1920, 1080)):
            page = chrome.new_page(viewport={"width": width, "height": height})
            page.goto(f"{url}/build/{build}")
            page.locator(".coat").first.wait_for()
            page.wait_for_timeout(400)
            cut, names = page.evaluate(CLIPPED)
            told.append(f"{width}: {cut} of {names}")
            page.close()
        print(f"names cut, {build}: {', '.join(told)}")


DRAGGED = """async () => {
  const box = document.querySelector('[data-testid=clock]');
  const r = box.getBoundingClientRect();
  const at = (x) => ({ bubbles: true, clientX: x, clientY: r.top + 30, pointerId: 1, buttons: 1, button: 0 });
  box.setPointerCapture = () => undefined;
  box.dispatchEvent(new PointerEvent('pointerdown', at(r.left + 40)));
  const began = performance.now();
  const frames = [];
  let last = began;
  while (performance.now() - began < 3000) {
    const t = (performance.now() - began) / 3000;
    box.dispatchEvent(new PointerEvent('pointermove', at(r.left + 40 + t * (r.width - 80))));
    await new Promise((done) => requestAnimationFrame(done));
    frames.push(performance.now() - last);
    last = performance.now();
  }
  frames.sort((a, b) => a - b);
  return [frames.length / 3, frames[Math.floor(frames.length * 0.95)]];
}"""


def _frames(page: Any, url: str) -> None:
    """Frames a second while the clock is dragged over 64 zones of 40 coats, each zone with a stack of its own."""
    headers = {"X-CSRFToken": _token(page)}
    for name, alike in (("each of its own", False), ("all alike", True)):
        plan = tall_json(40, zones=64)
        zones = [z["id"] for z in plan["zones"]]
        for i, step in enumerate(plan["steps"]):
            step["zones"] = zones if alike else zones[: 64 - i % 8] if i < 32 else zones[i % 8 :]
        made = page.request.post(f"{url}/api/builds", data=plan, headers=headers).json()
        page.goto(f"{url}/build/{made['id']}")
        page.locator(".coat").first.wait_for()
        page.wait_for_timeout(1500)
        rate, slow = page.evaluate(DRAGGED)
        told = f"clock dragged at {rate:.0f} frames a second (95 % within {slow:.0f} ms)"
        print(f"64 zones, 40 coats, {name}: {told}")


def _token(page: Any) -> str:
    return next((c["value"] for c in page.context.cookies() if c["name"] == "csrftoken"), "")


def _measured(name: str, times: Any) -> None:
    if isinstance(times[0], str):
        print(f"{name:58} {times}")
        return
    ordered = sorted(times)
    p95 = ordered[int(len(ordered) * 0.95) - 1]
    print(f"{name:58} {statistics.median(times):7.0f} ms {p95:8.0f} ms {ordered[-1]:9.0f} ms")


def main() -> int:
    parser = argparse.ArgumentParser(prog="emvar bench")
    parser.add_argument("--browser", action="store_true", help="also time edits in Chromium")
    args = parser.parse_args()
    core()
    spray()
    sittings()
    memory()
    if args.browser:
        browser()
    return 0


if __name__ == "__main__":
    sys.exit(main())
