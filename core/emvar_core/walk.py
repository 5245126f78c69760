"""A build walked up zone by zone: coats laid, worked on and touched, each contact judged once.

A zone is walked in stretches of a few steps, remembered by what they are and by the coats that they start on. So an
edit works out its own stretch and the next one or two; the rest of the build is taken as it was.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from .drying.clock import Drying, aid_air, air_line, dry
from .materials import Coat, FilmClass, Knowledge
from .memo import Memo, intern
from .mixing import Blend, blend_of, cup_of, method_of, passes_of
from .mixing import Cup as MixedCup
from .outcome import (
    CoatOut,
    SeamOut,
    events_out,
    plus,
    states_out,
    window_out,
)
from .plan import AnyStep, CoatStep, FittingStep, Plan, Sheen, Timing, WorkAction, WorkingStep, Zone, step_times
from .seams.chemistry import hot_share, spirit_share
from .seams.contact import METHODS, NOTHING, Contact, Landing, Layer, Situation, Verdict
from .seams.judge import Judged, judge
from .seams.mechanisms import deepest_reached
from .seams.surroundings import live_medium_key
from .seams.working import OpenWindow, window_for, windows_of
from .seams_out import Judgement, seam_kept, window_seam

DEPTH = 8  # layers below that a seam looks at; nothing that a bench can lay reaches further
STRETCH = 5  # steps of a zone that are remembered together
LEAST_SHARE = 0.02
STARVES, STARVED_FROM = {"oil", "oil_rested", "alkyd_oil"}, 0.88  # thinner share; common practice

_LAID, _JUDGED, _SEAMS, _COATS = Memo(20_000), Memo(60_000), Memo(60_000), Memo(60_000)
_STRETCHES, _CONTENT, _NARROW = Memo(20_000), Memo(40_000), Memo(60_000)
_MARKS = Memo(40_000)


# What of a step does not bear on what happens at its seams.
_UNLIKE = {"id", "zones", "wait_min", "hands_on_min", "fixed_start", "note", "recipe_of", "colour", "coverage_by_zone"}


def _content(step: AnyStep) -> int:
    """What a step is, apart from its id, zones and times. Kept by object: steps never change."""
    held = _CONTENT.get(id(step))
    if held is not None and held[0] is step:
        return int(held[1])
    key = intern(step.model_dump_json(exclude=_UNLIKE))
    _CONTENT.put(id(step), (step, key))
    return key


def _looks(step: AnyStep) -> tuple[object, ...]:
    """What is drawn and told of a step beyond its content."""
    if not isinstance(step, CoatStep):
        return (step.name, step.needs_part_off, tuple(getattr(step, "closes", ())), tuple(step.zones))
    colour = step.colour.srgb if step.colour else ""
    by_zone = tuple(sorted(step.coverage_by_zone.items()))
    return colour, by_zone, step.needs_part_off, tuple(step.zones)


@dataclass(frozen=True)
class Laid:
    """A coat step before it meets a zone: the same in all its zones. `key` stands for what it is, without its times."""

    coat: Coat
    cup: MixedCup
    drying: Drying
    landing: Landing
    layer: Layer
    film_um: float
    key: int
    timed: int


Entry = tuple[Layer, int, int]  # a layer, what it is, and what it is there and then
_Stack = list[Entry]


@dataclass(frozen=True)
class Stretch:
    """A few steps of one zone: their coats and seams, and what they leave of the stack."""

    coats: dict[str, CoatOut]
    seams: dict[str, SeamOut]
    unsound: list[SeamOut]
    added: list[Entry]
    changed: list[tuple[int, Entry]]  # how far below the stretch's start, and what is there now


class Walker:
    """One assessment of one plan. `opens`: whether to search when cautions and clashes would end."""

    def __init__(self, plan: Plan, k: Knowledge, opens: bool) -> None:
        self.plan, self.k, self.opens = plan, k, opens
        self.times = step_times(plan)
        self.end = max((t.end_min for t in self.times.values()), default=0.0)
        self.line = air_line(plan, self.end)
        air = plan.air.model_dump_json()
        schools = tuple(sorted((p.value, s) for p, s in plan.schools.items()))
        # In constant air only ages matter; in changing air also when it is.
        where = () if self.line.constant else (plan.build.timezone, plan.build.starts_at)
        self.world = intern((k.signature, air, schools, where, opens, plan.build.scale))
        self.horizon = 0 if self.line.constant else len(self.line.pieces)
        self._laid: dict[str, Laid] = {}
        self._marks: dict[str, int] = {}

    def mark(self, step: AnyStep) -> int:
        """Stands for a step as it is, with its times."""
        found = self._marks.get(step.id)
        if found is None:
            t = self.times[step.id]
            key = (id(step), t.start_min, t.end_min)
            held = _MARKS.get(key)
            if held is None or held[0] is not step:
                held = (step, intern((self.timeless_mark(step), t.start_min, t.end_min)))
                _MARKS.put(key, held)
            found = self._marks[step.id] = held[1]
        return found

    def timeless_mark(self, step: AnyStep) -> int:
        """Stands for a step as it is, whenever it is done."""
        held = _MARKS.get(id(step))
        if held is None or held[0] is not step:
            held = (step, intern((_content(step), step.id, _looks(step))))
            _MARKS.put(id(step), held)
        return int(held[1])

    def drop(self, step_id: str) -> None:
        """Forgets a step by its id, so that another may take its place in a trial."""
        self._laid.pop(step_id, None)
        self._marks.pop(step_id, None)

    # --- coats ---------------------------------------------------------------------------------------------

    def base(self, zone: Zone) -> Layer:
        substrate = self.k.substrates[zone.base_material or self.plan.build.base_material]
        return Layer(None, substrate.name, 1000.0, 1.0, Sheen.SATIN, substrate=substrate)

    def lay(self, step: CoatStep) -> Laid:
        here = self._laid.get(step.id)
        if here is not None:
            return here
        timing = self.times[step.id]
        content = _content(step)
        key = (self.world, self.horizon, content, timing.start_min, timing.end_min)
        found: Laid | None = _LAID.get(key)
        if found is None:
            found = self._lay_now(step, timing, content, intern(key))
            _LAID.put(key, found)
        self._laid[step.id] = found
        return found

    def _lay_now(self, step: CoatStep, timing: Timing, content: int, timed: int) -> Laid:
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
            pigment=step.pigment_dries,
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
            coverage=step.coverage or coat.coverage,
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
        return Laid(coat, cup, drying, landing, layer, film, content, timed)

    def _coat_out(self, step: CoatStep, laid: Laid, zone_id: str, coverage: float) -> CoatOut:
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

    def zone(self, zone: Zone, steps: list[AnyStep]) -> list[Stretch]:
        """Up a zone, stretch by stretch."""
        base = self.base(zone)
        all_marks = [self.mark(s) for s in steps]
        stack: _Stack = []  # bottom first
        where: dict[str, int] = {}
        found: list[Stretch] = []
        for first in range(0, len(steps), STRETCH):
            part = steps[first : first + STRETCH]
            marks = tuple(all_marks[first : first + STRETCH])
            near = tuple([entry[2] for entry in stack[: -DEPTH - 2 : -1]])
            key = (self.world, self.horizon, zone.id, base.name, near, self._deep(part, stack, where), marks)
            stretch: Stretch | None = _STRETCHES.get(key)
            if stretch is None:
                stretch = self.walk(zone.id, part, base, stack)
                _STRETCHES.put(key, stretch)
            else:
                for depth, entry in stretch.changed:
                    stack[-depth] = entry
                stack += stretch.added
            for i in range(len(stack) - len(stretch.added), len(stack)):
                where[stack[i][0].step_id or ""] = i
            found.append(stretch)
        return found

    def _deep(self, part: list[AnyStep], stack: _Stack, where: dict[str, int]) -> tuple[tuple[int, int, int], ...]:
        """Coats far down that a working step of this stretch acts on."""
        found = []
        for step in part:
            if isinstance(step, WorkingStep) and (at := where.get(step.acts_on)) is not None:
                found.append((len(stack) - at, stack[at][2], stack[at - 1][2] if at else -1))
        return tuple(found)

    def walk(self, zone_id: str, steps: list[AnyStep], base: Layer, stack: _Stack, told_from: int = 0) -> Stretch:
        """Up some steps of a zone on the coats of `stack`; the steps before `told_from` only build it up."""
        started, touched = len(stack), set[int]()
        coats: dict[str, CoatOut] = {}
        seams: list[SeamOut] = []
        for at, step in enumerate(steps):
            told = at >= told_from
            if isinstance(step, CoatStep):
                laid = self.lay(step)
                coverage = step.coverage_by_zone.get(zone_id, laid.layer.coverage)
                if told:
                    seams += self._meet(step, zone_id, laid.landing, laid.key, stack, base)
                    coats[f"{step.id}~{zone_id}"] = self._coat_out(step, laid, zone_id, coverage)
                layer = laid.layer
                if layer.coverage != coverage or layer.step_id != step.id:
                    layer = replace(layer, coverage=coverage, step_id=step.id)
                stack.append((layer, laid.key, intern((laid.timed, coverage, step.id))))
            elif isinstance(step, WorkingStep):
                seams += self._work(step, zone_id, stack, base, touched, told)
            elif told:
                landing = self._touch(step)
                seams += self._meet(step, zone_id, landing, _content(step), stack, base)
        return Stretch(
            coats,
            {s.id: s for s in seams},
            [s for s in seams if s.verdict is not Verdict.SOUND],
            stack[started:],
            [(started - i, stack[i]) for i in sorted(touched) if i < started],
        )

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

    def _work(
        self, step: WorkingStep, zone_id: str, stack: _Stack, base: Layer, touched: set[int], told: bool = True
    ) -> list[SeamOut]:
        at = self.at(step, stack)
        if at is None:
            return []
        below = stack[at - 1][0] if at > 0 else None
        seams = self._worked_seams(step, zone_id, stack, at, base) if told else []
        stack[at] = _worked(stack[at], step.leaves)
        touched.add(at)
        if step.action is WorkAction.CHIP and below is not None and below.is_film(FilmClass.WATER_SOLUBLE):
            stack[at - 1] = _worked(stack[at - 1], step.leaves)
            touched.add(at - 1)
        return seams

    def _worked_seams(self, step: WorkingStep, zone_id: str, stack: _Stack, at: int, base: Layer) -> list[SeamOut]:
        """A working step's window on the coat it acts on, and what its carrier does to the rest."""
        landing, found = self._work_landing(step), self.window(step, stack)
        assert found is not None
        target, window = found
        seams = [window_seam(step, zone_id, target, window, self.times[step.id])]
        return seams + self._meet(step, zone_id, landing, _content(step), _besides(step, stack, at), base)

    def _work_landing(self, step: WorkingStep) -> Landing:
        """What a working step brings onto the model: its carrier and its tool."""
        carrier = blend_of(self.k.thinners[step.carrier]) if step.carrier else NOTHING
        facts = METHODS[step.method]
        return Landing(
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

    # --- for the schedule: the same contacts, at instants that are still open ---------------------------------

    def meetings(self, step: AnyStep, stack: _Stack, base: Layer) -> list[Situation]:
        """What a step meets on a stack, each exposed layer apart; the instant is left open."""
        others = stack
        if isinstance(step, CoatStep):
            landing = self.lay(step).landing
        elif isinstance(step, WorkingStep):
            landing = self._work_landing(step)
            others = _besides(step, stack, self.at(step, stack))
        else:
            landing = self._touch(step)
        near = others[: -DEPTH - 1 : -1]
        layers = tuple(e[0] for e in near) + ((base,) if len(others) < DEPTH else ())
        return [Situation(self.k, landing, layers, i) for i, _ in _exposed(layers)]

    def at(self, step: WorkingStep, stack: _Stack) -> int | None:
        """Where in the stack the coat lies that a working step acts on."""
        return next((i for i in range(len(stack) - 1, -1, -1) if stack[i][0].step_id == step.acts_on), None)

    def window(self, step: WorkingStep, stack: _Stack) -> tuple[Layer, OpenWindow] | None:
        """The coat that a working step acts on, and its window there."""
        at = self.at(step, stack)
        if at is None:
            return None
        target, below = stack[at][0], stack[at - 1][0] if at > 0 else None
        cup = self.lay(self._coat_step(step.acts_on)).cup
        return target, window_for(self.k, step.action, target, below, cup, self._work_landing(step).blend)

    def put(self, step: AnyStep, zone_id: str, stack: _Stack, base: Layer) -> None:
        """Puts a step onto a stack without judging it."""
        self.walk(zone_id, [step], base, stack, told_from=1)

    def _coat_step(self, step_id: str) -> CoatStep:
        step = self.plan.step(step_id)
        assert isinstance(step, CoatStep)
        return step

    def _meet(
        self, step: AnyStep, zone_id: str, landing: Landing, landing_key: int, stack: _Stack, base: Layer
    ) -> list[SeamOut]:
        """Judges what lands on each layer that it meets: by content first, then with ids and instants put in."""
        start = self.times[step.id].start_min
        near = stack[: -DEPTH - 1 : -1]
        whole = len(stack) < DEPTH
        key = intern(
            (
                self.world,
                landing_key,
                landing.coldest_c,
                landing.dew_c,
                None if self.line.constant else (start, self.horizon),
                tuple((lk, layer.coverage, start - layer.end_min) for layer, lk, _ in near),
                base.name if whole else "",
            )
        )
        names = [(layer.step_id, layer.name) for layer, _, _ in near]
        if whole:
            names.append((None, base.name))
        placed = (key, step.id, zone_id, start, tuple(i for i, _ in names))
        seams: list[SeamOut] | None = _SEAMS.get(placed)
        if seams is None:
            found: list[Judgement] | None = _JUDGED.get(key)
            if found is None:
                layers = tuple(layer for layer, _, _ in near) + ((base,) if whole else ())
                aged = [(lk, layer.coverage, start - layer.end_min) for layer, lk, _ in near] + [(base.name,)]
                when = None if self.line.constant else (start, self.horizon)
                about = (self.world, landing_key, landing.coldest_c, landing.dew_c, when)
                found = []
                for i, share in _exposed(layers):
                    s = Situation(self.k, landing, layers, i)
                    # What happens depends on the layers that the carrier gets to, the next one, and what lies around.
                    deepest = max([i, *deepest_reached(s, start)])
                    round_about = _round_about(s, whole)
                    narrow = intern((*about, i, tuple(aged[: deepest + 2]), round_about))
                    judged: Judged | None = _NARROW.get(narrow)
                    if judged is None:
                        judged = _shift(judge(s, start, opens=self.opens), -start)
                        _NARROW.put(narrow, judged)
                    found.append(Judgement(i, round(share, 3), judged, narrow))
                _JUDGED.put(key, found)
            seams = [seam_kept(placed[1:], step, zone_id, landing, entry, names, start) for entry in found]
            _SEAMS.put(placed, seams)
        return seams


def _round_about(s: Situation, whole: bool) -> tuple[object, ...]:
    """What mechanisms ask of the stack beyond the layers that are reached: base, cover over it, a live medium."""
    base = s.base if whole else None
    told: tuple[object, ...] = ()
    if base is not None:
        special = base.stressed or base.surface == "vinyl"
        told = (base.id, len(s.layers), s.cover_um() if special else 0.0)
    if s.landing.water >= 0.4:
        told += live_medium_key(s)
    return told


def _besides(step: WorkingStep, stack: _Stack, at: int | None) -> _Stack:
    """What a working step meets beside the coat that it acts on."""
    others = [entry for i, entry in enumerate(stack) if i != at]
    if step.action is WorkAction.CHIP:
        # The medium is meant to let go and the top coat with it: judge what lies below both.
        others = [e for e in others if not e[0].is_film(FilmClass.WATER_SOLUBLE)]
    return others


def _worked(entry: Entry, leaves: float) -> Entry:
    """What working leaves of a coat."""
    layer, key, mark = entry
    left = replace(layer, coverage=layer.coverage * leaves)
    return left, intern((key, "worked", leaves)), intern((mark, "worked", leaves))


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
