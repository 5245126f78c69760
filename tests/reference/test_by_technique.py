"""Seven jobs of an afternoon, planned by technique from nothing, no wait typed: sound, and done within their hours.

Common practice, no source: the hours are those that people keep.
"""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.plan import Plan, apply, parse_edits, parse_plan, put, step_times
from emvar_core.vocabulary import Verdict
from emvar_core.ways.waits import followed

from tests.builders import plan_json

KEPT = {"wait_by": "program", "zones": ["side"]}
SATIN_H = 48  # how long the satin ground has stood


def coat(step_id: str, material: str, **more: Any) -> dict[str, Any]:
    return {"kind": "coat", "id": step_id, "name": step_id, "material": material, **KEPT, **more}


def work(step_id: str, action: str, on: str, carrier: str | None, **more: Any) -> dict[str, Any]:
    base = {"kind": "working", "id": step_id, "name": step_id, "action": action, "acts_on": on, "method": "damp_wipe"}
    return {**base, **KEPT, "leaves": 0.7, **({"carrier": carrier} if carrier else {}), **more}


def fitting(step_id: str, action: str, **more: Any) -> dict[str, Any]:
    return {"kind": "fitting", "id": step_id, "name": step_id, "action": action, **KEPT, **more}


class Job:
    """A plan that grows as on the screen: each step comes with the waits that the program keeps."""

    def __init__(self, *ground: dict[str, Any], **more: Any) -> None:
        made = parse_plan(plan_json(list(ground), **more))
        self.plan = self._kept(None, made)
        last = fitting("begin", "inspect", wait_by="person", wait_min=SATIN_H * 60, hands_on_min=0)
        self.add(last)

    def _kept(self, before: Plan | None, after: Plan) -> Plan:
        return apply(after, followed(before, after))[0]

    def add(self, *steps: dict[str, Any]) -> None:
        for step in steps:
            edit = {"edit": "add_step", "step": step, "index": len(self.plan.steps)}
            self.plan = self._kept(self.plan, apply(self.plan, parse_edits([edit]))[0])

    def put(self, technique: str, **fields: Any) -> str:
        """A technique on top; `fields` of its first step are then changed. Gives that step's id."""
        at = len(self.plan.steps)
        self.plan = self._kept(self.plan, apply(self.plan, put(self.plan, technique, ["side"], at))[0])
        first = self.plan.steps[at].id
        for name, value in fields.items():
            edit = {"edit": "set_field", "step_id": first, "field": name, "value": value}
            self.plan = self._kept(self.plan, apply(self.plan, parse_edits([edit]))[0])
        return first

    @property
    def hours(self) -> float:
        times = step_times(self.plan)
        return (max(t.end_min for t in times.values()) - times["begin"].end_min) / 60

    def told(self) -> list[str]:
        wrong = (Verdict.CLASH, Verdict.WAIT)
        return [f"{s.upper_step}: {s.sentence}" for s in assess(self.plan).stories if s.verdict in wrong or s.missed]


def satin(**more: Any) -> Job:
    return Job(coat("primer", "lacquer_primer"), coat("paint", "alcohol_acrylic_colour"),
               coat("satin", "alcohol_acrylic_clear", sheen="satin"), **more)  # fmt: skip


def thinned(material: str, thinner: str, paint: float, amount: float) -> dict[str, Any]:
    parts = ((material, "paint", paint), (thinner, "thinner", amount))
    return {"parts": [{"material": m, "role": r, "amount": a} for m, r, a in parts]}


class ByTechnique(TestCase):
    def done(self, job: Job, within_h: float) -> None:
        self.assertEqual(job.told(), [])
        self.assertLessEqual(job.hours, within_h)
        self.assertTrue(all(s.wait_by.value == "program" for s in job.plan.steps if s.id != "begin"))

    def test_one_bottle_of_wash_at_five_strengths(self) -> None:
        job = satin()
        job.put("filter")
        job.put("pin_wash", name="Deep lines")
        for name, ratio, place in (("Fasteners", 1, "fasteners"), ("Welds", 4, "patch")):
            mix = thinned("enamel_wash", "odourless_spirit", 1, ratio)
            beside = [s.id for s in job.plan.steps if s.name == "Deep lines"]
            lines = coat(name.lower(), "enamel_wash", mix=mix, method="wash", coverage=0.02, hands_on_min=15)
            job.add(lines | {"place": place, "beside": beside})
        job.put("speckle", mix=thinned("enamel_wash", "odourless_spirit", 1, 9))
        self.done(job, 4.5)

    def test_four_step_chipping(self) -> None:
        job = satin()
        light = job.put("sponge_chips", hands_on_min=30)
        dark = job.put("brush_chips", on=light, hands_on_min=20)
        job.put("rust_tint", on=dark, hands_on_min=10)
        job.put("speckle")
        self.done(job, 3)

    def test_two_colours_over_one_medium_one_of_them_masked(self) -> None:
        job = satin()
        job.add(coat("medium", "chipping_medium", hands_on_min=10))
        job.add(fitting("mask", "mask", material="paper_mask", place="patch", patch="fore", share=0.4))
        job.add(coat("grey", "waterborne_colour", dry_film_um=8, hands_on_min=15))
        job.add(fitting("off", "unmask"))
        job.add(coat("ochre", "waterborne_colour", dry_film_um=8, coverage=0.4, place="patch", patch="fore",
                     beside=["grey"], hands_on_min=15))  # fmt: skip
        job.add(
            work("chip-grey", "chip", "grey", "water", hands_on_min=20), work("chip-ochre", "chip", "ochre", "water")
        )
        self.done(job, 2.5)

    def test_grime_scrubbed_through_a_clear(self) -> None:
        job = Job(coat("primer", "lacquer_primer"), coat("paint", "lacquer_colour"))
        job.add(coat("grime", "craft_acrylic", place="recesses", coverage=1.0, dry_film_um=6))
        job.add(coat("clear", "alcohol_acrylic_clear", sheen="satin", dry_film_um=6))
        job.add(work("scrub", "wipe", "grime", "isopropanol_50", hands_on_min=40))
        self.done(job, 6)

    def test_powder_into_oil(self) -> None:
        job = satin()
        job.put("oil_dots")
        dots = next(s.id for s in job.plan.steps if s.kind == "coat" and s.technique == "oil_dots")
        job.add(coat("powder", "dry_pigment", coverage=0.05, on=dots))
        self.done(job, 6)  # with the oils resting on card for three of them

    def test_a_wash_blended_wet(self) -> None:
        job = satin()
        wash = job.put("pre_wetting")
        coat_id = next(s.id for s in job.plan.steps if s.kind == "coat" and s.technique == "pre_wetting")
        self.assertNotEqual(wash, coat_id)
        job.add(work("blend", "blend", coat_id, "odourless_spirit"))
        self.assertEqual(job.plan.steps[-1].wait_min, 0)
        self.done(job, 1)

    def test_lines_of_ink_at_31_degrees(self) -> None:
        hot = {"day": {"temp_c": 31, "rh_pct": 50, "movement": "still"}}
        job = satin(air=hot)
        job.add(coat("ink", "shade_ink", coverage=0.02, method="wash", place="recesses", hands_on_min=15))
        job.add(work("out", "streak", "ink", "water", hands_on_min=15, by_sections=True))
        seam = next(s for s in assess(job.plan).seams.values() if s.upper_step == "out" and s.lower_step == "ink")
        self.assertGreater(seam.sections or 0, 3)
        self.done(job, 1)
