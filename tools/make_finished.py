"""Makes `demo/finished-tug.build.zip`: the harbour tug painted at the bench, with its journal and pictures of our own.

The plan is the demo's, mended; who paints keeps to a calendar, is a little late or early, goes wrong once, tries
something on scrap, looks at what dries. Pictures are drawn here from the coats as they lay at that moment. Everything
is made from one seed, through the same journal and archive that the bench writes.
"""

from __future__ import annotations

import io
import json
import math
import os
import random
import sys
import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
for part in ("core", "server", "."):
    sys.path.insert(0, str(ROOT / part))
os.environ["EMVAR_DATA"] = tempfile.mkdtemp()
os.environ["DJANGO_SETTINGS_MODULE"] = "emvar_server.settings"

import django  # noqa: E402

django.setup()

from builds import store  # noqa: E402
from builds.models import Build  # noqa: E402
from django.core.management import call_command  # noqa: E402
from emvar_core.at_the_bench.logbook import log_rows  # noqa: E402
from emvar_core.at_the_bench.pack import pack  # noqa: E402
from emvar_core.plan import Plan, Record, apply, parse_edits, parse_plan  # noqa: E402
from emvar_core.schedule.agenda import Agenda  # noqa: E402
from emvar_core.schedule.schedule import as_schedule, first_schedule  # noqa: E402
from emvar_core.ways.mend import mend  # noqa: E402
from journal import pictures  # noqa: E402
from journal import store as journal  # noqa: E402
from journal.clock import CLOCK  # noqa: E402
from PIL import Image, ImageDraw, ImageFilter  # noqa: E402
from sittings import store as sittings  # noqa: E402
from vault import archive  # noqa: E402

SEED, BUILD = 20261102, "finished"
STARTS = datetime(2026, 11, 2, 18, 30, tzinfo=UTC)
SLOW = 1.3  # what this bench's lacquers take against what ships
HULL = [(60, 300), (110, 400), (690, 400), (745, 265), (700, 300), (120, 318)]
ZONES: dict[str, list[tuple[int, int]]] = {
    "hull": [(88, 350), (110, 400), (690, 400), (716, 345)],
    "topsides": [(60, 290), (88, 350), (716, 345), (750, 255), (690, 292)],
    "deck": [(62, 289), (690, 291), (750, 254), (742, 248), (680, 280), (70, 279)],
    "house": [(250, 279), (250, 190), (300, 190), (300, 150), (440, 150), (440, 190), (500, 190), (500, 279)],
    "funnel": [(520, 279), (530, 130), (585, 130), (592, 279)],
}


def planned() -> Plan:
    """The demo's tug, mended, beginning in November."""
    plan = parse_plan(json.loads((ROOT / "demo" / "harbour-tug.json").read_text(encoding="utf-8")))
    better, _ = apply(plan, parse_edits(mend(plan).edits))
    build = better.build.model_copy(update={"name": "Finished tug", "starts_at": STARTS})
    return better.model_copy(update={"build": build})


def drawn(cores: dict[str, list[Any]], rng: random.Random) -> bytes:
    """The tug from the side, each zone in the colours that lie on it."""
    image = Image.new("RGB", (800, 520), "#a9a9a6")
    pen = ImageDraw.Draw(image, "RGBA")
    pen.rectangle((0, 410, 800, 520), fill="#8f8f8c")
    for zone, shape in ZONES.items():
        colour = "#c9c5ba"
        for slice_ in cores.get(zone, []):
            if slice_.coverage >= 1 / 3:
                colour = slice_.colour
        pen.polygon(shape, fill=colour, outline="#30302e")
        xs, ys = [x for x, _ in shape], [y for _, y in shape]
        for slice_ in cores.get(zone, []):
            if slice_.coverage >= 1 / 3:
                continue
            for _ in range(int(220 * slice_.coverage) + 12):
                x, y = rng.uniform(min(xs), max(xs)), rng.uniform(min(ys), max(ys))
                long = rng.uniform(2, 26) if "treak" in slice_.name else rng.uniform(1, 4)
                r, g, b = (int(slice_.colour[i : i + 2], 16) for i in (1, 3, 5))
                pen.line((x, y, x, min(y + long, max(ys))), fill=(r, g, b, 150), width=rng.choice((1, 2)))
    for x in (275, 330, 385, 440, 478):
        pen.ellipse((x - 7, 222, x + 7, 236), fill="#2e3336", outline="#20201f")
    pen.line((400, 150, 400, 60), fill="#30302e", width=3)
    pen.line((640, 283, 640, 262), fill="#30302e", width=8)
    mask = Image.new("L", image.size, 0)
    cut = ImageDraw.Draw(mask)
    for shape in ZONES.values():
        cut.polygon(shape, fill=255)
    shade = Image.linear_gradient("L").resize(image.size).point(lambda v: 235 - v // 6)
    lit = Image.composite(image, Image.new("RGB", image.size, "#20201f"), shade)
    image.paste(lit, (0, 0), mask)
    out = io.BytesIO()
    image.filter(ImageFilter.GaussianBlur(0.6)).save(out, "JPEG", quality=85)
    return out.getvalue()


class Painter:
    """Says what happened, in order, with ids that chance gives from the seed."""

    def __init__(self, rng: random.Random) -> None:
        self.rng, self.written = rng, STARTS

    def say(self, said: str, at: datetime, **more: Any) -> dict[str, Any]:
        self.written = max(at, self.written + timedelta(milliseconds=5))
        CLOCK.set(self.written, 0)
        entry = {
            "id": f"{self.rng.getrandbits(64):016x}", "said": said, "at": at.isoformat(),
            "written_at": self.written.isoformat(), "device": "phone", **more,
        }  # fmt: skip
        from api.at_the_bench import said as take

        good, wrong = journal.read([entry], BUILD)
        if wrong:
            raise SystemExit(f"{entry}: {wrong[0].what}")
        take(BUILD, good, entry["id"])
        return entry


def main() -> None:
    rng = random.Random(SEED)
    call_command("migrate", verbosity=0)
    plan = planned()
    store.create(plan, BUILD)
    agenda = Agenda(plan, Record())
    shifted = first_schedule(agenda)
    sittings.keep(BUILD, plan, as_schedule(agenda, shifted), [], 1)
    told = pack(plan, None, Record())
    cards = {s.id: s for s in told.steps}
    waits = {t.before: t for t in told.timers if t.after is None}
    painter, free, last = Painter(rng), STARTS, ""
    wrong_once = next(s.id for s in plan.steps if s.kind == "coat" and s.technique == "gloss_clear")
    for step_id in sorted(shifted.starts, key=lambda s: shifted.starts[s]):
        step, card = plan.step(step_id), cards[step_id]
        wanted = plan.build.starts_at + timedelta(minutes=shifted.starts[step_id])
        begun = max(wanted + timedelta(minutes=rng.choice((0, 0, 2, 5, 12))), free + timedelta(minutes=1))
        if begun - free > timedelta(hours=3) and last:
            picture_of(painter, plan, last, free + timedelta(minutes=4), rng)
        where = {"step": step_id, "zones": list(step.zones), "name": step.name}
        if step.technique == "hairspray_chipping" and step.kind == "coat" and "trial" not in painter.__dict__:
            painter.trial = True  # type: ignore[attr-defined]
            painter.say("trial", begun - timedelta(minutes=1), **where, note="Chips came as wanted after six minutes.",
                        trial={"aims": ["chips"], "scrap": "a spoon, same stack", "passed": True, "decides": "go",
                               "material": step.material, "technique": step.technique,
                               "pass_is": "First flecks within a minute of damp brushing."})  # fmt: skip
        painter.say("begun", begun, planned_at=wanted.isoformat(), **where)
        took = step.hands_on_min * rng.uniform(0.85, 1.3)
        done = begun + timedelta(minutes=took)
        if step_id == wrong_once:
            painter.say(
                "wrong",
                done,
                fault="Dust or hairs in the coat",
                note="A brush hair across the wheelhouse; wiped off with its thinner while wet.",
                **where,
            )
            begun = done + timedelta(minutes=25)
            painter.say("begun", begun, planned_at=wanted.isoformat(), **where)
            done = begun + timedelta(minutes=step.hands_on_min)
        more: dict[str, Any] = {"planned_at": wanted.isoformat()}
        sprayed = next((f for f in card.figures if f.kind == "kpa"), None)
        if sprayed is not None and sprayed.value is not None:
            more["actual"] = {
                "pressure_kpa": round(sprayed.value * rng.uniform(0.95, 1.1), 1),
                "temp_c": round(rng.uniform(18.5, 21.5), 1), "rh_pct": round(rng.uniform(46, 58)),
                "by_instrument": ["Compressor", "Hygrometer"],
            }  # fmt: skip
        if card.mix:
            more["poured"] = {m.material: m.ml for m in card.mix}
        painter.say("done", done, **where, **more)
        free, last = done, step_id
        timer = waits.get(step_id)
        if timer is not None and sprayed is not None:
            age = timer.opens[1] * SLOW * math.exp(rng.gauss(0, 0.05))
            painter.say("seen", done + timedelta(minutes=age), **where,
                        observed={"what": "touch", "reached": True, "exact": True, "age_min": round(age, 1),
                                  "expected_min": timer.opens})  # fmt: skip
    picture_of(painter, plan, last, free + timedelta(minutes=6), rng)
    painter.say("note", free + timedelta(minutes=8), note="Enough. Next time the wash a little thinner on the house.")
    CLOCK.set()
    target = ROOT / "demo" / "finished-tug.build.zip"
    target.unlink(missing_ok=True)
    archive.write(target, only=BUILD)
    print(f"{target.name}: {target.stat().st_size / 1e3:.0f} kB, {len(journal.entries(BUILD))} entries")


def picture_of(painter: Painter, plan: Plan, step_id: str, at: datetime, rng: random.Random) -> None:
    """A picture at the end of a sitting."""
    build = Build.objects.get(pk=BUILD)
    now = store.plan_of(build)
    h = sittings.kept(BUILD, now, build.revision)
    name = f"{rng.getrandbits(64):016x}"
    zones = [z.id for z in now.zones]
    cores: dict[str, list[Any]] = {}
    for zone in zones:
        probe = {"id": "probe-00", "said": "note", "at": at.isoformat(), "written_at": at.isoformat(), "zones": [zone]}
        [entry], _ = journal.read([probe], BUILD)
        [row] = list(log_rows(BUILD, now, h.schedule, h.record, [entry]))
        cores[zone] = row.core
    pictures.keep(BUILD, name, drawn(cores, rng))
    step = now.step(step_id)
    painter.say(
        "picture",
        at,
        picture=name,
        step=step_id,
        zones=list(step.zones) if step else zones,
        name=step.name if step else "",
    )


if __name__ == "__main__":
    main()
