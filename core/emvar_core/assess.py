"""The one door: `assess(plan)` gives every coat's states, every seam's verdict, every window and cup.

Reads nothing but the plan and the package's data. Times are minutes since `build.starts_at`. Results are
remembered by content: a seam depends on what lands, on the layers just below and on their ages, so an edit
re-computes only what it can change.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from .drying.clock import AirLine, Drying, Edge, air_line, dry
from .materials import Coat, FilmClass, Knowledge, knowledge
from .mixing import Blend, blend_of, cup_for_area, cup_of
from .mixing import Cup as MixedCup
from .plan import (
    AnyStep,
    CoatStep,
    FittingStep,
    Method,
    Model,
    Plan,
    Sheen,
    Step,
    Timing,
    WorkAction,
    WorkingStep,
    Zone,
    step_times,
)
from .seams.chemistry import hot_share, spirit_share
from .seams.contact import METHODS, Contact, Finding, Landing, Layer, Situation, Verdict
from .seams.judge import Judged, judge
from .seams.working import OpenWindow, window_for, window_verdict, windows_of

DEPTH = 8  # layers below that a seam looks at; nothing that a bench can lay reaches further
LEAST_SHARE = 0.02
EVENTS = ("touch", "recoat", "tape", "spirit", "hard")


class FilmState(StrEnum):
    WET = "wet"
    WORKABLE = "workable"
    SOFT = "soft"
    FIRM = "firm"
    HARD = "hard"
    POWDER = "powder"


class RangeOut(Model):
    """An instant as a range: minutes since the build's start. None: never."""

    early: float | None
    best: float | None
    late: float | None


class StateMark(Model):
    state: FilmState
    from_min: float


class WindowOut(Model):
    action: WorkAction
    opens: RangeOut
    easy_until_min: float | None
    closes: RangeOut
    rests_on: str


class CoatOut(Model):
    """A coat (step, zone): how thick, how it looks, and how it changes with time."""

    id: str
    step_id: str
    zone_id: str
    start_min: float
    end_min: float
    film_um: float
    coverage: float
    colour: str
    sheen: Sheen
    system: str
    states: list[StateMark]
    events: dict[str, RangeOut]
    windows: list[WindowOut]


class FindingOut(Model):
    mechanism: str
    kind: str
    severity: float
    word: str
    sentence: str
    advice: str
    basis: str
    rests_on: str
    step_id: str | None
    depth: int


class ReachOut(Model):
    step_id: str | None
    name: str
    share: float
    power: float
    red: float | None


class SeamOut(Model):
    """A contact and its verdict. `lower_step` None is the base material; `responsible` may lie deeper."""

    id: str
    zone_id: str
    upper_step: str
    lower_step: str | None
    contact: Contact
    at_min: float
    share: float
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    kind: str
    basis: str
    rests_on: str
    responsible: str | None
    depth: int
    opens_best_min: float | None
    opens_careful_min: float | None
    eventual: Verdict | None
    closes: RangeOut | None
    missed: bool
    findings: list[FindingOut]
    reach: list[ReachOut]


class PourOut(Model):
    material: str
    name: str
    role: str
    ml: float
    drops: int


class CupOut(Model):
    """The mix for a step, for the area of its zones."""

    pours: list[PourOut]
    total_ml: float
    ratio_error_pct: float
    wet_film_um: float
    basis: str


class Story(Model):
    """Seams that tell the same thing in several zones, told once."""

    upper_step: str
    lower_step: str | None
    contact: Contact
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    zones: list[str]
    seams: list[str]
    missed: bool


class Score(Model):
    clashes: int
    missed: int
    waits: int
    cautions: int
    sound: int

    @property
    def order(self) -> tuple[int, int, int, int]:
        return self.clashes, self.missed, self.waits, self.cautions


class StepNote(Model):
    """Something to heed at a step that is no seam: a mix past its limit, or a danger."""

    step_id: str
    hazard: bool
    text: str


class Assessment(Model):
    times: dict[str, Timing]
    coats: dict[str, CoatOut]
    seams: dict[str, SeamOut]
    cups: dict[str, CupOut]
    notes: list[StepNote]
    stories: list[Story]
    score: Score
    end_min: float


def seam_id(upper: str, zone: str, lower: str | None) -> str:
    return f"{upper}~{zone}~{lower or 'base'}"


@dataclass(frozen=True)
class _Laid:
    """A step's coat before it meets a zone: the same in all its zones."""

    step: CoatStep
    coat: Coat
    cup: MixedCup
    drying: Drying
    landing: Landing
    film_um: float
    key: tuple[Any, ...]


class _Memo:
    """A bounded store of results by content."""

    def __init__(self, most: int) -> None:
        self._held: OrderedDict[Any, Any] = OrderedDict()
        self._most = most

    def get(self, key: Any) -> Any:
        found = self._held.get(key)
        if found is not None:
            self._held.move_to_end(key)
        return found

    def put(self, key: Any, value: Any) -> None:
        self._held[key] = value
        if len(self._held) > self._most:
            self._held.popitem(last=False)

    def clear(self) -> None:
        self._held.clear()


_SEAMS = _Memo(60_000)
_LAID = _Memo(8_000)
_COATS = _Memo(30_000)
_CUPS = _Memo(8_000)


def forget() -> None:
    """Empties the memory; the benchmark uses it for cold starts."""
    for memo in (_SEAMS, _LAID, _COATS, _CUPS):
        memo.clear()


@dataclass(frozen=True)
class _Judgement:
    """A judged seam without names of steps or zones; times relative to the landing."""

    index: int
    share: float
    judged: Judged | None
    window: tuple[OpenWindow, Any] | None


class _Assessor:
    def __init__(self, plan: Plan, k: Knowledge) -> None:
        self.plan, self.k = plan, k
        self.times = step_times(plan)
        self.end = max((t.end_min for t in self.times.values()), default=0.0)
        self.line = air_line(plan, self.end)
        self.air_key = (plan.air.model_dump_json(), plan.build.timezone, plan.build.starts_at)
        self.schools = tuple(sorted((p.value, s) for p, s in plan.schools.items()))
        self.laid: dict[str, _Laid] = {}
        self.coats: dict[str, CoatOut] = {}
        self.seams: dict[str, SeamOut] = {}
        self.bases = {zone.id: self._base(zone) for zone in plan.zones}

    # --- coats ---------------------------------------------------------------------------------------------

    def _base(self, zone: Zone) -> Layer:
        material = zone.base_material or self.plan.build.base_material
        substrate = self.k.substrates.get(material)
        if substrate is None:
            substrate = next(iter(self.k.substrates.values()))
        return Layer(None, substrate.name, 1000.0, 1.0, Sheen.SATIN, substrate=substrate)

    def _lay(self, step: CoatStep) -> _Laid:
        timing = self.times[step.id]
        key = (
            self.k.signature, self.air_key if not self.line.constant else self.plan.air.model_dump_json(),
            timing.end_min, timing.start_min, step.name, step.material, step.method,
            step.mix.model_dump_json() if step.mix else "", step.passes, step.dry_film_um, step.sheen, step.coverage,
            tuple(a.model_dump_json() for a in step.aids), self.schools,
        )  # fmt: skip
        found = _LAID.get(key)
        if found is None:
            found = self._lay_now(step, timing, key)
            _LAID.put(key, found)
        laid: _Laid = found
        return laid if laid.step is step else replace(laid, step=step)

    def _lay_now(self, step: CoatStep, timing: Timing, key: tuple[Any, ...]) -> _Laid:
        k = self.k
        coat = k.coats[step.material]
        system = k.systems[coat.system]
        cup = cup_of(k, step)
        film = step.dry_film_um or coat.dry_film_um
        facts = METHODS[step.method]
        liquid = _pass_liquid(film, step.passes, cup) * facts.arrives
        usual = CoatStep(id="u", name="u", zones=["u"], material=coat.id, method=coat.method, passes=coat.passes)
        usual_cup = cup_of(k, usual)
        reference = (
            usual_cup.carrier,
            _pass_liquid(coat.dry_film_um, coat.passes, usual_cup) * METHODS[coat.method].arrives,
        )
        drying = dry(
            k, system, end_min=timing.end_min, carrier=cup.carrier, liquid_um=liquid, reference_liquid=reference,
            film_um=film, passes=step.passes, line=self.line, aids=tuple(step.aids),
        )  # fmt: skip
        wet_s = (drying.flash_end_min - drying.end_min) * 60
        if facts.wet_cap_s is not None:
            wet_s = min(wet_s, facts.wet_cap_s)
        air = self.line.at(timing.start_min)
        landing = Landing(
            step_id=step.id, name=step.name, contact=Contact.LAY, method=step.method, blend=cup.carrier,
            liquid_um=liquid, wet_s=wet_s, rub=facts.rub, material=coat, system=system,
            sheen=step.sheen or coat.sheen, coldest_c=drying.coldest_c, dew_c=drying.dew_c, temp_c=air.temp_c,
            rh_pct=air.rh_pct, film_um=film, schools=self.plan.schools, spirit=spirit_share(k, cup.carrier),
            hot=hot_share(k, cup.carrier), shares=cup.carrier.family_shares(k),
        )  # fmt: skip
        return _Laid(step, coat, cup, drying, landing, film, key)

    def _layer(self, laid: _Laid, zone_id: str, coverage: float) -> Layer:
        return Layer(
            laid.step.id, laid.step.name, laid.film_um, coverage, laid.step.sheen or laid.coat.sheen, laid.coat,
            self.k.systems[laid.coat.system], drying=laid.drying, carrier=laid.cup.carrier,
            end_min=laid.drying.end_min,
        )  # fmt: skip

    def _coat_out(self, laid: _Laid, layer: Layer, zone_id: str) -> CoatOut:
        shared = _COATS.get(laid.key)
        if shared is None:
            shared = (_states(laid, layer), _events(laid.drying), [_window_out(w) for w in windows_of(layer)])
            _COATS.put(laid.key, shared)
        states, events, windows = shared
        step, timing = laid.step, self.times[laid.step.id]
        colour = step.colour.srgb if step.colour else laid.coat.colour
        return CoatOut.model_construct(
            id=f"{step.id}~{zone_id}", step_id=step.id, zone_id=zone_id, start_min=timing.start_min,
            end_min=timing.end_min, film_um=laid.film_um, coverage=layer.coverage, colour=colour,
            sheen=layer.sheen, system=laid.coat.system, states=states, events=events, windows=windows,
        )  # fmt: skip

    # --- the walk up a zone --------------------------------------------------------------------------------

    def zone(self, zone_id: str, steps: Iterable[AnyStep]) -> None:
        stack: list[tuple[Layer, tuple[Any, ...]]] = []  # bottom first
        base = self.bases[zone_id]
        for step in steps:
            if isinstance(step, CoatStep):
                laid = self.laid[step.id]
                coverage = step.coverage_by_zone.get(zone_id, step.coverage or laid.coat.coverage)
                layer = self._layer(laid, zone_id, coverage)
                self._meet(step, zone_id, laid.landing, laid.key[4:], stack, base)
                stack.append((layer, laid.key[4:]))
                self.coats[f"{step.id}~{zone_id}"] = self._coat_out(laid, layer, zone_id)
            elif isinstance(step, WorkingStep):
                self._work(step, zone_id, stack, base)
            else:
                landing = Landing(
                    step_id=step.id, name=step.name, contact=Contact.TOUCH, method=None, blend=Blend(()),
                    liquid_um=0, wet_s=0, rub=0, action=step.action,
                )  # fmt: skip
                self._meet(step, zone_id, landing, ("touch", step.action), stack, base)

    def _work(
        self, step: WorkingStep, zone_id: str, stack: list[tuple[Layer, tuple[Any, ...]]], base: Layer
    ) -> None:
        at = next((i for i, (layer, _) in enumerate(stack) if layer.step_id == step.acts_on), None)
        if at is None:
            return
        target, target_key = stack[at]
        carrier = blend_of(self.k.thinners[step.carrier]) if step.carrier in self.k.thinners else Blend(())
        facts = METHODS[step.method]
        landing = Landing(
            step_id=step.id, name=step.name, contact=Contact.WORK, method=step.method, blend=carrier,
            liquid_um=facts.tool_um if carrier.parts else 0, wet_s=float(facts.wet_cap_s or 30) if carrier.parts else 0,
            rub=facts.rub, spirit=spirit_share(self.k, carrier), hot=hot_share(self.k, carrier),
            shares=carrier.family_shares(self.k), schools=self.plan.schools,
        )  # fmt: skip
        below = stack[at - 1][0] if at > 0 else None
        timing = self.times[step.id]
        window = window_for(self.k, step.action, target, below, self.laid[step.acts_on].cup, carrier)
        self._put_window(step, zone_id, target, window, timing)
        others = [pair for i, pair in enumerate(stack) if i != at]
        if step.action is WorkAction.CHIP:
            # The medium is meant to let go and the top coat with it: judge what lies below both.
            others = [p for p in others if not p[0].is_film(FilmClass.WATER_SOLUBLE)]
        key = ("work", step.action, step.carrier, step.method, step.name)
        self._meet(step, zone_id, landing, key, others, base)
        stack[at] = (replace(target, coverage=target.coverage * step.leaves), (*target_key, "worked", step.leaves))
        if step.action is WorkAction.CHIP and below is not None and below.is_film(FilmClass.WATER_SOLUBLE):
            stack[at - 1] = (
                replace(below, coverage=below.coverage * step.leaves), (*stack[at - 1][1], "worked", step.leaves),
            )  # fmt: skip

    def _meet(
        self,
        step: AnyStep,
        zone_id: str,
        landing: Landing,
        landing_key: tuple[Any, ...],
        stack: list[tuple[Layer, tuple[Any, ...]]],
        base: Layer,
    ) -> None:
        start = self.times[step.id].start_min
        near = stack[-DEPTH:][::-1]
        key = (
            self.k.signature, landing_key, landing.coldest_c, landing.dew_c, self.schools,
            self.plan.air.model_dump_json() if self.line.constant else (self.air_key, start),
            tuple((lk, layer.coverage, start - layer.end_min) for layer, lk in near),
            base.name if len(stack) < DEPTH else "",
        )  # fmt: skip
        found = _SEAMS.get(key)
        if found is None:
            layers = tuple(layer for layer, _ in near) + ((base,) if len(stack) < DEPTH else ())
            found = [
                _Judgement(i, share, _shift(judge(Situation(self.k, landing, layers, i), start), -start), None)
                for i, share in _exposed(layers)
            ]
            _SEAMS.put(key, found)
        names = [(layer.step_id, layer.name) for layer, _ in near] + [(None, base.name)]
        for entry in found:
            self._put(step, zone_id, landing, entry, names, start)

    # --- out -----------------------------------------------------------------------------------------------

    def _put(
        self, step: AnyStep, zone_id: str, landing: Landing, entry: _Judgement,
        names: list[tuple[str | None, str]], start: float,
    ) -> None:  # fmt: skip
        judged = entry.judged
        assert judged is not None
        lower_id, lower_name = names[min(entry.index, len(names) - 1)]
        worst = judged.findings[0] if judged.findings else None
        sid = seam_id(step.id, zone_id, lower_id)
        sentence, advice, word = _sound_words(landing, lower_name), "", "sound"
        if worst is not None and judged.verdict is not Verdict.SOUND:
            sentence, advice, word = worst.sentence, worst.advice, worst.word
        deep = names[worst.layer] if worst is not None and worst.layer < len(names) else (lower_id, lower_name)
        self.seams[sid] = SeamOut.model_construct(
            id=sid, zone_id=zone_id, upper_step=step.id, lower_step=lower_id, contact=landing.contact,
            at_min=start, share=round(entry.share, 3), verdict=judged.verdict, word=word, sentence=sentence,
            advice=advice, kind=worst.kind.value if worst else "timing", basis=worst.basis if worst else "model",
            rests_on=worst.rests_on if worst else "nothing found that harms it",
            responsible=deep[0], depth=(worst.layer - entry.index) if worst else 0,
            opens_best_min=_plus(judged.opens_best_min, start),
            opens_careful_min=_plus(judged.opens_careful_min, start),
            eventual=judged.eventual, closes=None, missed=False,
            findings=[_finding_out(f, names, entry.index) for f in judged.findings],
            reach=[
                ReachOut.model_construct(
                    step_id=names[min(r.layer, len(names) - 1)][0], name=names[min(r.layer, len(names) - 1)][1],
                    share=r.share, power=r.power, red=r.red,
                )
                for r in judged.reach
            ],
        )  # fmt: skip

    def _put_window(
        self, step: WorkingStep, zone_id: str, target: Layer, window: OpenWindow, timing: Timing
    ) -> None:
        told = window_verdict(window, target, timing.start_min, timing.end_min)
        sid = seam_id(step.id, zone_id, target.step_id)
        never = window.never is not None
        self.seams[sid] = SeamOut.model_construct(
            id=sid, zone_id=zone_id, upper_step=step.id, lower_step=target.step_id, contact=Contact.WORK,
            at_min=timing.start_min, share=target.coverage, verdict=told.verdict, word=told.word,
            sentence=told.sentence, advice=told.advice, kind="timing", basis="practice", rests_on=window.rests_on,
            responsible=target.step_id, depth=0,
            opens_best_min=None if never else window.opens.best,
            opens_careful_min=None if never else window.opens.late,
            eventual=None, closes=None if never else _range(window.closes),
            missed=told.verdict is Verdict.CLASH and not never, findings=[], reach=[],
        )  # fmt: skip


def _pass_liquid(film_um: float, passes: int, cup: MixedCup) -> float:
    """Liquid of one pass on the brush or at the nozzle, µm."""
    solids = max(cup.volume_solids, 0.005)
    return film_um / passes / solids * (1 - cup.volume_solids)


def _exposed(layers: tuple[Layer, ...]) -> list[tuple[int, float]]:
    """Which layers what lands will meet, nearest first, and over what share."""
    found, left = [], 1.0
    for i, layer in enumerate(layers):
        share = left * layer.coverage
        if share >= LEAST_SHARE:
            found.append((i, share))
        left -= share
        if left < LEAST_SHARE:
            break
    return found


def _shift(judged: Judged, by: float) -> Judged:
    return replace(
        judged,
        opens_best_min=_plus(judged.opens_best_min, by),
        opens_careful_min=_plus(judged.opens_careful_min, by),
    )


def _plus(value: float | None, by: float) -> float | None:
    return None if value is None else round(value + by, 3)


def _finite(value: float) -> float | None:
    return round(value, 2) if value < 1e9 else None


def _range(edges: Any) -> RangeOut:
    return RangeOut.model_construct(
        early=_finite(edges.early), best=_finite(edges.best), late=_finite(edges.late)
    )


def _window_out(w: OpenWindow) -> WindowOut:
    return WindowOut.model_construct(
        action=w.action, opens=_range(w.opens), easy_until_min=_finite(w.easy_until_min), closes=_range(w.closes),
        rests_on=w.rests_on,
    )  # fmt: skip


def _events(drying: Drying) -> dict[str, RangeOut]:
    return {
        name: RangeOut.model_construct(
            early=_finite(drying.event(name, Edge.EARLY)),
            best=_finite(drying.event(name, Edge.BEST)),
            late=_finite(drying.event(name, Edge.LATE)),
        )
        for name in EVENTS
    }


def _states(laid: _Laid, layer: Layer) -> list[StateMark]:
    drying, system = laid.drying, laid.drying.system
    start = drying.end_min
    if system.film is FilmClass.LOOSE:
        return [StateMark.model_construct(state=FilmState.POWDER, from_min=start)]
    marks = [(FilmState.WET, start)]
    best = {name: drying.event(name, Edge.BEST) for name in ("touch", "recoat", "hard")}
    if system.windows:
        closes = max(drying.when(w.closes[1]) for w in system.windows.values())
        marks += [(FilmState.WORKABLE, drying.flash_end_min), (FilmState.SOFT, closes)]
        marks += [(FilmState.FIRM, max(best["recoat"], closes + 1)), (FilmState.HARD, best["hard"])]
    else:
        marks += [(FilmState.SOFT, max(best["touch"], drying.flash_end_min)), (FilmState.FIRM, best["recoat"])]
        marks += [(FilmState.HARD, best["hard"])]
    kept: list[StateMark] = []
    for state, at in marks:
        while kept and kept[-1].from_min >= at:
            kept.pop()
        kept.append(StateMark.model_construct(state=state, from_min=round(at, 2)))
    return kept


def _finding_out(f: Finding, names: list[tuple[str | None, str]], index: int) -> FindingOut:
    return FindingOut.model_construct(
        mechanism=f.mechanism, kind=f.kind.value, severity=round(min(f.severity, 1.0), 3), word=f.word,
        sentence=f.sentence, advice=f.advice, basis=f.basis, rests_on=f.rests_on,
        step_id=names[min(f.layer, len(names) - 1)][0], depth=f.layer - index,
    )  # fmt: skip


def _sound_words(landing: Landing, lower: str) -> str:
    if landing.contact is Contact.TOUCH:
        return f"“{lower}” is hard enough to be touched by then."
    if landing.contact is Contact.WORK:
        return f"What is used here leaves “{lower}” alone."
    if not landing.blend.parts:
        return f"Nothing wet: it lies on “{lower}” and harms nothing."
    return f"The {landing.carrier_words} leaves “{lower}” alone, or bites just enough to hold."


def _stories(plan: Plan, seams: Iterable[SeamOut]) -> list[Story]:
    grouped: dict[tuple[Any, ...], list[SeamOut]] = {}
    for seam in seams:
        if seam.verdict is not Verdict.SOUND:
            grouped.setdefault((seam.upper_step, seam.verdict, seam.word), []).append(seam)
    stories = []
    for group in grouped.values():
        first = max(group, key=lambda s: s.findings[0].severity if s.findings else 0.0)
        zones = list(dict.fromkeys(s.zone_id for s in group))
        stories.append(
            Story.model_construct(
                upper_step=first.upper_step, lower_step=first.lower_step, contact=first.contact,
                verdict=first.verdict, word=first.word, sentence=first.sentence, advice=first.advice,
                zones=zones, seams=[first.id] + [s.id for s in group if s is not first], missed=first.missed,
            )
        )  # fmt: skip
    order = {step.id: i for i, step in enumerate(plan.steps)}
    return sorted(stories, key=lambda s: (-s.verdict.grave, order[s.upper_step]))


def score_of(seams: Iterable[SeamOut]) -> Score:
    counts = {v: 0 for v in Verdict}
    missed = 0
    for seam in seams:
        if seam.missed:
            missed += 1
        else:
            counts[seam.verdict] += 1
    return Score(
        clashes=counts[Verdict.CLASH], missed=missed, waits=counts[Verdict.WAIT],
        cautions=counts[Verdict.CAUTION], sound=counts[Verdict.SOUND],
    )  # fmt: skip


def _cup_out(k: Knowledge, laid: _Laid, zones: dict[str, Zone]) -> CupOut:
    step = laid.step
    area = sum(zones[z].area_cm2 for z in step.zones)
    coverage = step.coverage or laid.coat.coverage
    key = (laid.key[4:], area, coverage)
    found: CupOut | None = _CUPS.get(key)
    if found is None:
        cup = cup_for_area(k, step, laid.film_um, area, coverage)
        found = CupOut(
            pours=[PourOut(**p.__dict__) for p in cup.pours], total_ml=cup.total_ml,
            ratio_error_pct=cup.ratio_error_pct, wet_film_um=cup.wet_film_um, basis=cup.basis,
        )  # fmt: skip
        _CUPS.put(key, found)
    return found


def assess(
    plan: Plan, *, knowledge: Knowledge | None = None, zones: Iterable[str] | None = None
) -> Assessment:
    """Assesses a plan. `zones` limits the seams and coats to some zones (times stay those of the whole plan).

    Never raises on a plan that `parse_plan` accepts. Linear in the number of coats.
    """
    from .notes import step_notes

    k = (knowledge or default_knowledge()).with_own(plan.materials)
    work = _Assessor(plan, k)
    chosen = set(zones) if zones is not None else None
    by_zone: dict[str, list[Step]] = {z.id: [] for z in plan.zones}
    for step in plan.steps:
        if isinstance(step, CoatStep):
            work.laid[step.id] = work._lay(step)
        for zone_id in step.zones:
            by_zone[zone_id].append(step)
    for zone_id, steps in by_zone.items():
        if chosen is None or zone_id in chosen:
            work.zone(zone_id, steps)
    all_zones = {z.id: z for z in plan.zones}
    return Assessment.model_construct(
        times=work.times,
        coats=work.coats,
        seams=work.seams,
        cups={
            sid: _cup_out(k, laid, all_zones)
            for sid, laid in work.laid.items()
            if laid.coat.use != "marking" and laid.step.method not in (Method.CAN, Method.DUST)
        },
        notes=step_notes(k, plan, work.laid.values()),
        stories=_stories(plan, work.seams.values()),
        score=score_of(work.seams.values()),
        end_min=work.end,
    )


def default_knowledge() -> Knowledge:
    return knowledge()


__all__ = ["AirLine", "Assessment", "FittingStep", "assess", "default_knowledge", "forget", "score_of", "seam_id"]
