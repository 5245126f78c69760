"""The one door: `assess(plan)` gives every coat's states, every seam's verdict, every window and cup.

Reads nothing but the plan and the package's data. Results are remembered by content: a seam depends on what lands, on
the layers just below and on their ages; a zone on its steps and their times. So an edit re-computes what it can change
and no more. Keys are interned as small integers, so that comparing them costs little.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Any

from .drying.clock import Drying, aid_air, air_line, dry
from .materials import Coat, FilmClass, Knowledge, knowledge
from .mixing import Blend, blend_of, cup_for_area, cup_of, method_of, passes_of
from .mixing import Cup as MixedCup
from .outcome import (
    Assessment,
    CoatOut,
    CupOut,
    PourOut,
    ReachOut,
    Score,
    SeamOut,
    events_out,
    finding_out,
    plus,
    range_out,
    score_of,
    seam_id,
    sound_words,
    states_out,
    stories_of,
    window_out,
)
from .plan import AnyStep, CoatStep, FittingStep, Method, Plan, Sheen, Timing, WorkAction, WorkingStep, Zone, step_times
from .seams.chemistry import hot_share, spirit_share
from .seams.contact import METHODS, NOTHING, Contact, Landing, Layer, Situation, Verdict
from .seams.judge import Judged, Waiting, judge
from .seams.working import OpenWindow, window_for, window_verdict, windows_of

DEPTH = 8  # layers below that a seam looks at; nothing that a bench can lay reaches further
LEAST_SHARE = 0.02
STARVES, STARVED_FROM = {"oil", "oil_rested", "alkyd_oil"}, 0.88  # thinner share; common practice


class _Memo:
    """A bounded store of results by content."""

    def __init__(self, most: int) -> None:
        self._held: OrderedDict[Any, Any] = OrderedDict()
        self._most = most

    def get(self, key: Any) -> Any:
        return self._held.get(key)

    def put(self, key: Any, value: Any) -> None:
        self._held[key] = value
        if len(self._held) > self._most:
            self._held.popitem(last=False)

    def clear(self) -> None:
        self._held.clear()


_LAID, _JUDGED, _SEAMS, _COATS = _Memo(20_000), _Memo(60_000), _Memo(60_000), _Memo(60_000)
_CUPS, _ZONES, _CONTENT, _WAITING = _Memo(20_000), _Memo(400), _Memo(40_000), _Memo(60_000)
_INTERNED: dict[Any, int] = {}
MOST_INTERNED = 400_000


def forget() -> None:
    """Empties the memory; the benchmark uses it for cold starts."""
    for memo in (_LAID, _JUDGED, _SEAMS, _COATS, _CUPS, _ZONES, _CONTENT, _WAITING):
        memo.clear()
    _INTERNED.clear()


def _intern(key: Any) -> int:
    """A small integer that stands for a key."""
    found = _INTERNED.get(key)
    if found is None:
        if len(_INTERNED) >= MOST_INTERNED:
            forget()
        found = _INTERNED[key] = len(_INTERNED)
    return found


def _content(step: AnyStep) -> int:
    """What a step is, apart from its id, zones and times. Kept by object: steps never change."""
    held = _CONTENT.get(id(step))
    if held is not None and held[0] is step:
        return int(held[1])
    unlike = {
        "id",
        "zones",
        "wait_min",
        "hands_on_min",
        "fixed_start",
        "note",
        "recipe_of",
        "colour",
        "coverage_by_zone",
    }
    if isinstance(step, WorkingStep):
        unlike -= {"acts_on"}
    key = _intern(step.model_dump_json(exclude=unlike))
    _CONTENT.put(id(step), (step, key))
    return key


@dataclass(frozen=True)
class _Laid:
    """A coat step before it meets a zone: the same in all its zones. `key` stands for what it is, without its times."""

    coat: Coat
    cup: MixedCup
    drying: Drying
    landing: Landing
    layer: Layer
    film_um: float
    key: int
    timed: int


@dataclass(frozen=True)
class _Judgement:
    """A judged seam without ids; its times count from the landing."""

    index: int
    share: float
    judged: Judged


@dataclass(frozen=True)
class _ZoneResult:
    coats: dict[str, CoatOut]
    seams: dict[str, SeamOut]
    unsound: list[SeamOut]


_Stack = list[tuple[Layer, int]]


class _Assessor:
    def __init__(self, plan: Plan, k: Knowledge, opens: bool) -> None:
        self.plan, self.k, self.opens = plan, k, opens
        self.times = step_times(plan)
        self.end = max((t.end_min for t in self.times.values()), default=0.0)
        self.line = air_line(plan, self.end)
        air = plan.air.model_dump_json()
        schools = tuple(sorted((p.value, s) for p, s in plan.schools.items()))
        # In constant air only ages matter; in changing air also when it is.
        where = () if self.line.constant else (plan.build.timezone, plan.build.starts_at)
        self.world = _intern((k.signature, air, schools, where, opens))
        self.horizon = 0 if self.line.constant else len(self.line.pieces)
        self.laid: dict[str, _Laid] = {}

    # --- coats ---------------------------------------------------------------------------------------------

    def base(self, zone: Zone) -> Layer:
        substrate = self.k.substrates[zone.base_material or self.plan.build.base_material]
        return Layer(None, substrate.name, 1000.0, 1.0, Sheen.SATIN, substrate=substrate)

    def lay(self, step: CoatStep) -> _Laid:
        timing = self.times[step.id]
        content = _content(step)
        key = (self.world, self.horizon, content, timing.start_min, timing.end_min)
        found: _Laid | None = _LAID.get(key)
        if found is None:
            found = self._lay_now(step, timing, content, _intern(key))
            _LAID.put(key, found)
        return found

    def _lay_now(self, step: CoatStep, timing: Timing, content: int, timed: int) -> _Laid:
        k = self.k
        coat = k.coats[step.material]
        system = k.systems[coat.system]
        cup = cup_of(k, step)
        film = step.dry_film_um or coat.dry_film_um
        method, passes = method_of(k, step), passes_of(k, step)
        facts = METHODS[method]
        liquid = _pass_liquid(film, passes, cup) * facts.arrives
        usual = CoatStep(id="u", name="u", zones=["u"], material=coat.id)
        usual_cup = cup_of(k, usual)
        usual_liquid = _pass_liquid(coat.dry_film_um, coat.passes, usual_cup) * METHODS[coat.method].arrives
        drying = dry(
            k,
            system,
            end_min=timing.end_min,
            carrier=cup.carrier,
            liquid_um=liquid,
            reference_liquid=(usual_cup.carrier, usual_liquid),
            film_um=film,
            passes=passes,
            line=self.line,
            aids=tuple(step.aids),
        )
        wet_s = (drying.flash_end_min - drying.end_min) * 60
        if facts.wet_cap_s is not None:
            wet_s = min(wet_s, facts.wet_cap_s)
        air = self.line.at(timing.start_min)
        sheen = step.sheen or coat.sheen
        landing = Landing(
            name=step.name,
            contact=Contact.LAY,
            method=method,
            blend=cup.carrier,
            liquid_um=liquid,
            wet_s=wet_s,
            rub=facts.rub,
            material=coat,
            system=system,
            sheen=sheen,
            coldest_c=drying.coldest_c,
            dew_c=drying.dew_c,
            temp_c=air.temp_c,
            rh_pct=air.rh_pct,
            film_um=film,
            schools=self.plan.schools,
            spirit=spirit_share(k, cup.carrier),
            hot=hot_share(k, cup.carrier),
            shares=cup.carrier.family_shares(k),
            passes=passes,
            heat_c=max((aid_air(air, aid)[0] for aid in step.aids), default=None),
        )
        layer = Layer(
            step.id,
            step.name,
            film,
            step.coverage or coat.coverage,
            sheen,
            coat,
            system,
            drying=drying,
            carrier=cup.carrier,
            end_min=drying.end_min,
            starved=system.film is FilmClass.OXIDISING and system.id in STARVES and cup.thinner_share > STARVED_FROM,
        )
        return _Laid(coat, cup, drying, landing, layer, film, content, timed)

    def _coat_out(self, step: CoatStep, laid: _Laid, zone_id: str, coverage: float) -> CoatOut:
        colour = step.colour.srgb if step.colour else laid.coat.colour
        key = (laid.timed, step.id, zone_id, coverage, colour)
        found: CoatOut | None = _COATS.get(key)
        if found is None:
            shared = _COATS.get(laid.timed)
            if shared is None:
                windows = [window_out(w) for w in windows_of(laid.layer)]
                shared = (states_out(laid.drying), events_out(laid.drying), windows)
                _COATS.put(laid.timed, shared)
            timing = self.times[step.id]
            found = CoatOut.model_construct(
                id=f"{step.id}~{zone_id}",
                step_id=step.id,
                zone_id=zone_id,
                start_min=timing.start_min,
                end_min=timing.end_min,
                film_um=laid.film_um,
                coverage=coverage,
                colour=colour,
                sheen=laid.layer.sheen or laid.coat.sheen,
                system=laid.coat.system,
                states=shared[0],
                events=shared[1],
                windows=shared[2],
            )
            _COATS.put(key, found)
        return found

    # --- the walk up a zone --------------------------------------------------------------------------------

    def zone(self, zone: Zone, steps: list[AnyStep]) -> _ZoneResult:
        base = self.base(zone)
        marks = tuple(
            (_content(s), s.id, self.times[s.id].start_min, self.times[s.id].end_min, _looks(s, zone.id)) for s in steps
        )
        key = (self.world, self.horizon, zone.id, base.name, marks)
        found: _ZoneResult | None = _ZONES.get(key)
        if found is None:
            found = self._walk(zone.id, steps, base)
            _ZONES.put(key, found)
        return found

    def _walk(self, zone_id: str, steps: list[AnyStep], base: Layer, told_from: int = 0) -> _ZoneResult:
        """Up a zone, step by step; the steps before `told_from` only build the stack."""
        stack: _Stack = []  # bottom first
        coats: dict[str, CoatOut] = {}
        seams: list[SeamOut] = []
        for at, step in enumerate(steps):
            told = at >= told_from
            if isinstance(step, CoatStep):
                laid = self.laid[step.id]
                coverage = step.coverage_by_zone.get(zone_id, laid.layer.coverage)
                if told:
                    seams += self._meet(step, zone_id, laid.landing, laid.key, stack, base)
                    coats[f"{step.id}~{zone_id}"] = self._coat_out(step, laid, zone_id, coverage)
                layer = laid.layer
                if layer.coverage != coverage or layer.step_id != step.id:
                    layer = replace(layer, coverage=coverage, step_id=step.id)
                stack.append((layer, laid.key))
            elif isinstance(step, WorkingStep):
                seams += self._work(step, zone_id, stack, base, told)
            elif told:
                landing = self._touch(step)
                seams += self._meet(step, zone_id, landing, _content(step), stack, base)
        return _ZoneResult(coats, {s.id: s for s in seams}, [s for s in seams if s.verdict is not Verdict.SOUND])

    def _touch(self, step: FittingStep) -> Landing:
        """A fitting step as a contact: tape, fingers, glue. Solvent glue is wet for a minute."""
        touch = self.k.touches[step.material] if step.material else None
        blend = Blend.of(dict(touch.percent)) if touch is not None else NOTHING
        return Landing(
            name=step.name,
            contact=Contact.TOUCH,
            method=None,
            blend=blend,
            liquid_um=40 if blend.parts else 0,
            wet_s=60 if blend.parts else 0,
            rub=0.4 if blend.parts else 0,
            action=step.action,
            touch=touch,
            spirit=spirit_share(self.k, blend),
            hot=hot_share(self.k, blend),
            shares=blend.family_shares(self.k),
        )

    def _work(self, step: WorkingStep, zone_id: str, stack: _Stack, base: Layer, told: bool = True) -> list[SeamOut]:
        at = next((i for i, (layer, _) in enumerate(stack) if layer.step_id == step.acts_on), None)
        if at is None:
            return []
        target, target_key = stack[at]
        below = stack[at - 1][0] if at > 0 else None
        seams = self._worked_seams(step, zone_id, stack, at, base) if told else []
        stack[at] = _worked(target, target_key, step.leaves)
        if step.action is WorkAction.CHIP and below is not None and below.is_film(FilmClass.WATER_SOLUBLE):
            stack[at - 1] = _worked(below, stack[at - 1][1], step.leaves)
        return seams

    def _worked_seams(self, step: WorkingStep, zone_id: str, stack: _Stack, at: int, base: Layer) -> list[SeamOut]:
        """A working step's window on the coat it acts on, and what its carrier does to the rest."""
        target = stack[at][0]
        carrier = blend_of(self.k.thinners[step.carrier]) if step.carrier else NOTHING
        facts = METHODS[step.method]
        landing = Landing(
            name=step.name,
            contact=Contact.WORK,
            method=step.method,
            blend=carrier,
            liquid_um=facts.tool_um if carrier.parts else 0,
            wet_s=float(facts.wet_cap_s or 30) if carrier.parts else 0,
            rub=facts.rub,
            spirit=spirit_share(self.k, carrier),
            hot=hot_share(self.k, carrier),
            shares=carrier.family_shares(self.k),
            schools=self.plan.schools,
        )
        below = stack[at - 1][0] if at > 0 else None
        window = window_for(self.k, step.action, target, below, self.laid[step.acts_on].cup, carrier)
        seams = [_window_seam(step, zone_id, target, window, self.times[step.id])]
        others = [pair for i, pair in enumerate(stack) if i != at]
        if step.action is WorkAction.CHIP:
            # The medium is meant to let go and the top coat with it: judge what lies below both.
            others = [p for p in others if not p[0].is_film(FilmClass.WATER_SOLUBLE)]
        return seams + self._meet(step, zone_id, landing, _content(step), others, base)

    def _meet(
        self, step: AnyStep, zone_id: str, landing: Landing, landing_key: int, stack: _Stack, base: Layer
    ) -> list[SeamOut]:
        """Judges what lands on each layer that it meets: by content first, then with ids and instants put in."""
        start = self.times[step.id].start_min
        near = stack[: -DEPTH - 1 : -1]
        whole = len(stack) < DEPTH
        key = _intern(
            (
                self.world,
                landing_key,
                landing.coldest_c,
                landing.dew_c,
                None if self.line.constant else (start, self.horizon),
                tuple((lk, layer.coverage, start - layer.end_min) for layer, lk in near),
                base.name if whole else "",
            )
        )
        names = [(layer.step_id, layer.name) for layer, _ in near]
        if whole:
            names.append((None, base.name))
        placed = (key, step.id, zone_id, start, tuple(i for i, _ in names))
        seams: list[SeamOut] | None = _SEAMS.get(placed)
        if seams is None:
            found: list[_Judgement] | None = _JUDGED.get(key)
            if found is None:
                layers = tuple(layer for layer, _ in near) + ((base,) if whole else ())
                aged = [(lk, layer.coverage, start - layer.end_min) for layer, lk in near] + [(base.name,)]
                when = None if self.line.constant else (start, self.horizon)
                about = (self.world, landing_key, landing.coldest_c, landing.dew_c, when)
                found = []
                for i, share in _exposed(layers):

                    def search(deepest: int, work: Callable[[], Waiting], i: int = i) -> Waiting:
                        return _remembered(_intern((*about, i, tuple(aged[: deepest + 1]))), work)

                    judged = judge(Situation(self.k, landing, layers, i), start, search, opens=self.opens)
                    found.append(_Judgement(i, share, _shift(judged, -start)))
                _JUDGED.put(key, found)
            seams = [_seam(step, zone_id, landing, entry, names, start) for entry in found]
            _SEAMS.put(placed, seams)
        return seams


def _remembered(key: int, work: Callable[[], Waiting]) -> Waiting:
    found: Waiting | None = _WAITING.get(key)
    if found is None:
        found = work()
        _WAITING.put(key, found)
    return found


def _looks(step: AnyStep, zone_id: str) -> tuple[str, float] | None:
    """What a zone's drawing shows of a step beyond its content."""
    if not isinstance(step, CoatStep):
        return None
    return step.colour.srgb if step.colour else "", step.coverage_by_zone.get(zone_id, 0.0)


def _worked(layer: Layer, key: int, leaves: float) -> tuple[Layer, int]:
    """What working leaves of a coat."""
    return replace(layer, coverage=layer.coverage * leaves), _intern((key, "worked", leaves))


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
    if judged.opens_best_min is None and judged.opens_careful_min is None:
        return judged
    return replace(
        judged,
        opens_best_min=plus(judged.opens_best_min, by),
        opens_careful_min=plus(judged.opens_careful_min, by),
    )


def _seam(
    step: AnyStep,
    zone_id: str,
    landing: Landing,
    entry: _Judgement,
    names: list[tuple[str | None, str]],
    start: float,
) -> SeamOut:
    judged = entry.judged
    lower_id, lower_name = names[entry.index]
    worst = judged.findings[0] if judged.findings else None
    sentence, advice, word = sound_words(landing, lower_name), "", "sound"
    if worst is not None and judged.verdict is not Verdict.SOUND:
        sentence, advice, word = worst.sentence, worst.advice, worst.word
    return SeamOut.model_construct(
        id=seam_id(step.id, zone_id, lower_id),
        zone_id=zone_id,
        upper_step=step.id,
        lower_step=lower_id,
        contact=landing.contact,
        at_min=start,
        share=round(entry.share, 3),
        verdict=judged.verdict,
        word=word,
        sentence=sentence,
        advice=advice,
        kind=worst.kind.value if worst else "timing",
        basis=worst.basis if worst else "model",
        rests_on=worst.rests_on if worst else "nothing found that harms it",
        responsible=names[worst.layer][0] if worst else lower_id,
        depth=(worst.layer - entry.index) if worst else 0,
        opens_best_min=plus(judged.opens_best_min, start),
        opens_careful_min=plus(judged.opens_careful_min, start),
        eventual=judged.eventual,
        closes=None,
        missed=False,
        findings=[finding_out(f, names, entry.index) for f in judged.findings],
        reach=[
            ReachOut.model_construct(
                step_id=names[r.layer][0], name=names[r.layer][1], share=r.share, power=r.power, red=r.red
            )
            for r in judged.reach
        ],
    )


def _window_seam(step: WorkingStep, zone_id: str, target: Layer, window: OpenWindow, timing: Timing) -> SeamOut:
    told = window_verdict(window, target, timing.start_min, timing.end_min)
    never = window.never is not None
    return SeamOut.model_construct(
        id=seam_id(step.id, zone_id, target.step_id),
        zone_id=zone_id,
        upper_step=step.id,
        lower_step=target.step_id,
        contact=Contact.WORK,
        at_min=timing.start_min,
        share=round(target.coverage, 3),
        verdict=told.verdict,
        word=told.word,
        sentence=told.sentence,
        advice=told.advice,
        kind="timing",
        basis="practice",
        rests_on=window.rests_on,
        responsible=target.step_id,
        depth=0,
        opens_best_min=None if never else window.opens.best,
        opens_careful_min=None if never else window.opens.late,
        eventual=None,
        closes=None if never else range_out(window.closes),
        missed=told.verdict is Verdict.CLASH and not never,
        findings=[],
        reach=[],
    )


def _cup_out(k: Knowledge, step: CoatStep, laid: _Laid, zones: dict[str, Zone]) -> CupOut:
    area = sum(zones[z].area_cm2 for z in step.zones)
    key = (k.signature, laid.key, area)
    found: CupOut | None = _CUPS.get(key)
    if found is None:
        cup = cup_for_area(k, step, laid.film_um, area, laid.layer.coverage)
        found = CupOut(
            pours=[PourOut(**p.__dict__) for p in cup.pours],
            total_ml=cup.total_ml,
            ratio_error_pct=cup.ratio_error_pct,
            wet_film_um=cup.wet_film_um,
            basis=cup.basis,
        )
        _CUPS.put(key, found)
    return found


def _has_cup(laid: _Laid) -> bool:
    return laid.coat.use != "marking" and laid.landing.method not in (Method.CAN, Method.DUST)


def assess(
    plan: Plan, *, knowledge: Knowledge | None = None, zones: Iterable[str] | None = None, opens: bool = True
) -> Assessment:
    """Assesses a plan. `zones` limits the seams and coats to some zones (times stay those of the whole plan).

    Without `opens`, cautions and clashes are judged but not searched for the time at which they would end, which is
    the dear part; waits always have it. The screen asks for that when a seam is chosen (`seam_in_full`).
    Never raises on a plan that `parse_plan` accepts. Linear in the number of coats.
    """
    from .notes import step_notes

    k = (knowledge or default_knowledge()).with_own(plan.materials)
    work = _Assessor(plan, k, opens)
    chosen = set(zones) if zones is not None else None
    by_zone: dict[str, list[AnyStep]] = {z.id: [] for z in plan.zones}
    for step in plan.steps:
        if isinstance(step, CoatStep):
            work.laid[step.id] = work.lay(step)
        for zone_id in step.zones:
            by_zone[zone_id].append(step)
    coats: dict[str, CoatOut] = {}
    seams: dict[str, SeamOut] = {}
    unsound: list[SeamOut] = []
    for zone in plan.zones:
        if chosen is None or zone.id in chosen:
            found = work.zone(zone, by_zone[zone.id])
            coats.update(found.coats)
            seams.update(found.seams)
            unsound += found.unsound
    all_zones = {z.id: z for z in plan.zones}
    coat_steps = [s for s in plan.steps if isinstance(s, CoatStep)]
    return Assessment.model_construct(
        times=work.times,
        coats=coats,
        seams=seams,
        cups={s.id: _cup_out(k, s, work.laid[s.id], all_zones) for s in coat_steps if _has_cup(work.laid[s.id])},
        notes=step_notes(k, [(s, work.laid[s.id]) for s in coat_steps]),
        stories=stories_of(plan, unsound),
        score=score_of(unsound, sound=len(seams) - len(unsound)),
        end_min=work.end,
    )


def seam_in_full(plan: Plan, seam_id: str) -> SeamOut:
    """One seam with everything that can be said of it. Raises KeyError where the plan has no such seam."""
    zone = seam_id.split("~")[1] if seam_id.count("~") == 2 else ""
    return assess(plan, zones=[zone]).seams[seam_id]


NEAR_BELOW, NEAR_ABOVE = 24, 4


def assess_near(plan: Plan, zone_id: str, step_id: str) -> tuple[dict[str, CoatOut], dict[str, SeamOut], list[str]]:
    """The first answer to an edit of a long plan: one step in one zone and the few after it there.

    Gives their coats and seams, the same as `assess(opens=False)` gives, and the ids of the steps. Its cost does not
    grow with the plan, but for the times. Raises KeyError where the plan has no such step in that zone.
    """
    zone = next((z for z in plan.zones if z.id == zone_id), None)
    steps: list[AnyStep] = [s for s in plan.steps if zone_id in s.zones]
    at = next((i for i, s in enumerate(steps) if s.id == step_id), None)
    if zone is None or at is None:
        raise KeyError(step_id)
    work = _Assessor(plan, default_knowledge().with_own(plan.materials), opens=False)
    shown = steps[max(at - NEAR_BELOW, 0) : at + 1 + NEAR_ABOVE]
    for step in shown:
        if isinstance(step, CoatStep):
            work.laid[step.id] = work.lay(step)
    found = work._walk(zone_id, shown, work.base(zone), told_from=min(at, NEAR_BELOW))
    ids = [s.id for s in steps[at : at + 1 + NEAR_ABOVE]]
    chosen = set(ids)
    return (
        {i: c for i, c in found.coats.items() if c.step_id in chosen},
        {i: s for i, s in found.seams.items() if s.upper_step in chosen},
        ids,
    )


def default_knowledge() -> Knowledge:
    return knowledge()


__all__ = ["Assessment", "Blend", "Score", "assess", "assess_near", "default_knowledge", "forget", "seam_in_full"]
