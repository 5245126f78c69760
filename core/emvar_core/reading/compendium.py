"""The compendium: everything that is known of materials and techniques, computed from the same data that judges.

Plain models for reading and searching. Times are minutes at 20 °C, 50 %, still air, on the system's usual film.
"""

from __future__ import annotations

from ..knowledge import Coat, Knowledge, Substrate, System, Technique, Thinner, knowledge
from ..knowledge.types import EVER_MIN, TechniqueText
from ..memory import MEMORY
from ..physics.blend import blend_of, hot_share
from ..physics.cup import cup_of
from ..physics.evaporation import relative_rate
from ..physics.hansen import AQUEOUS, SWELLS, crazing, power_on
from ..physics.hardening import pick
from ..plan import CoatStep, FittingStep, default_mix, ratio_words
from ..remarks.cautions import coat_cautions, touch_cautions
from ..vocabulary import BaseSurface, Edge, Event, FilmClass, FittingAction, Model

_READ = MEMORY.door("compendium", 2)
REFERENCE = "butyl_acetate"
FILM_WORDS = {
    FilmClass.EVAPORATING: "dries by evaporation; its own thinner always re-dissolves it",
    FilmClass.OXIDISING: "its spirit leaves, then oxygen hardens it over days; half-hardened it wrinkles",
    FilmClass.DISPERSION: "water leaves, then its particles fuse; water does not open it again",
    FilmClass.WATER_SOLUBLE: "dries by losing water, and water opens it again",
    FilmClass.DECAL: "a printed film on water-soluble glue",
    FilmClass.LOOSE: "no binder: it lies loose until something binds it",
    FilmClass.CROSSLINKED: "two parts react to a network that no thinner opens",
    FilmClass.RUBBED: "rubbed on; it does not dry",
    FilmClass.UNKNOWN: "not known: it is judged at its most sensitive",
}
SURFACE_WORDS = {
    BaseSurface.GREASY: "greasy: wash it before anything else",
    BaseSurface.BARE_METAL: "bare metal: a metal primer first",
    BaseSurface.VINYL: "gives off plasticiser: isolate it, and keep alkyd and oil away",
    BaseSurface.POROUS: "drinks what goes on first: seal it",
    BaseSurface.UNCURED: "still sweats monomer: wash and post-cure it first",
    BaseSurface.UNKNOWN: "not known: try every carrier on a hidden spot",
    BaseSurface.PLAIN: "",
}


class Span(Model):
    """A time as a range, minutes."""

    early: float
    best: float
    late: float


class WindowEntry(Model):
    """When a coat can be worked, minutes after laying in reference air, and what moves it."""

    action: str
    opens: Span
    easy_until: float
    closes: Span
    by: str


class Opened(Model):
    """What a carrier does to a film or a base material, 0–1; `red` where it was computed.

    `power` once it has hardened, `young` before that, where the two differ.
    """

    carrier: str
    power: float
    young: float
    red: float | None
    why: str


class CoatEntry(Model):
    """A coat for reading: its film, mix, hardening, windows, what opens it, its cautions."""

    id: str
    name: str
    words: str
    use: str
    system: str
    binder: str
    film: str
    surface: str
    hardness: float
    mix: str
    carried_by: dict[str, float]
    volume_solids: float
    dry_film_um: float
    sheens: list[str]
    coverage: float
    colour: str
    water_limit: float | None
    mfft_c: tuple[float, float] | None
    cup_limits: dict[str, tuple[float, float]]
    events: dict[str, Span]
    windows: list[WindowEntry]
    opened: list[Opened]
    cautions: list[str]
    techniques: list[str]


class ThinnerEntry(Model):
    """`rate`: evaporation against n-butyl acetate = 1, of its fastest and slowest part."""

    id: str
    name: str
    words: str
    percent: dict[str, float]
    flash_c: float | None
    rate: tuple[float, float]
    opens: list[Opened]


class BaseEntry(Model):
    """A base material for reading, and how far each thinner crazes it, 0–1."""

    id: str
    name: str
    words: str
    stressed: bool
    heat_limit_c: float
    surface: str
    crazed: list[Opened]


class TouchEntry(Model):
    """Tape, mask or glue for reading."""

    id: str
    name: str
    words: str
    serves: list[str]
    after: str
    cautions: list[str]


class StepEntry(Model):
    """One step that a technique makes; `colour` where it is a coat."""

    name: str
    kind: str
    colour: str | None


class TechniqueEntry(TechniqueText):
    """A technique for reading, with the steps that it brings."""

    wants_below: list[str]
    carried_by: str | None
    school: str | None
    steps: list[StepEntry]
    materials: list[str]


class Compendium(Model):
    """All that ships."""

    coats: list[CoatEntry]
    thinners: list[ThinnerEntry]
    bases: list[BaseEntry]
    touches: list[TouchEntry]
    techniques: list[TechniqueEntry]


def _span(pair: tuple[float, float]) -> Span:
    return Span(early=pair[0], best=round(pick(pair, Edge.BEST), 2), late=pair[1])


def _opened(k: Knowledge, thinner: Thinner, system: System) -> Opened:
    return _opened_by(k, thinner, system, thinner.name)


def _opened_by(k: Knowledge, thinner: Thinner, system: System, name: str) -> Opened:
    blend = blend_of(thinner)
    power = power_on(k, blend, system)
    hard = young = power.power
    if system.film is FilmClass.OXIDISING:
        hard = SWELLS * power.power * hot_share(k, blend)  # it no longer dissolves, but hot solvents swell it
    elif system.film is FilmClass.DISPERSION and blend.water > AQUEOUS:
        young = 1.0  # water re-opens it until its particles have fused
    return Opened(carrier=name, power=round(hard, 3), young=round(young, 3), red=power.red, why=power.why)


def _coat(k: Knowledge, coat: Coat) -> CoatEntry:
    system = k.systems[coat.system]
    mix, step = default_mix(k, coat.id), CoatStep(id="x", name="x", zones=["x"], material=coat.id)
    cup = cup_of(k, step)
    hardens = system.film not in (FilmClass.LOOSE, FilmClass.UNKNOWN)
    return CoatEntry(
        id=coat.id,
        name=coat.name,
        words=coat.words,
        use=coat.use,
        system=system.name,
        binder=system.binder,
        film=FILM_WORDS[system.film],
        surface=system.surface.value.replace("_", " "),
        hardness=system.hardness,
        mix=f"{ratio_words(mix)} with {k.thinners[coat.thin_with].name.lower()}" if mix and coat.thin_with else "",
        carried_by={f.value.replace("_", " "): round(v, 3) for f, v in cup.carrier.family_shares(k).items()},
        volume_solids=coat.volume_solids,
        dry_film_um=coat.dry_film_um,
        sheens=[s.value for s in coat.sheens] or [coat.sheen.value],
        coverage=coat.coverage,
        colour=coat.colour,
        water_limit=system.water_limit,
        mfft_c=system.mfft_c,
        cup_limits={f.value.replace("_", " "): v for f, v in system.cup.limits.items()},
        events={e.value: _span(system.event(e)) for e in Event if system.event(e)[0] < EVER_MIN} if hardens else {},
        windows=[
            WindowEntry(
                action=action.value,
                opens=Span(early=w.opens[0], best=w.opens[1], late=w.opens[2]),
                easy_until=w.easy_until,
                closes=Span(early=w.closes[0], best=w.closes[1], late=w.closes[2]),
                by=w.by,
            )
            for action, w in system.windows.items()
        ],
        opened=[_opened(k, t, system) for t in k.thinners.values()],
        cautions=[text for _, text in coat_cautions(k, coat, cup, coat.method, (), 20.0, [])],
        techniques=[t.id for t in k.techniques.values() if any(s.material == coat.id for s in t.steps)],
    )


def _thinner(k: Knowledge, thinner: Thinner) -> ThinnerEntry:
    parts = [k.solvents[s] for s in thinner.percent]
    rates = [relative_rate(s, k.solvents[REFERENCE]) for s in parts]
    seen: dict[str, Opened] = {}
    for coat in k.coats.values():
        system = k.systems[coat.system]
        seen.setdefault(system.id, _opened_by(k, thinner, system, system.name))
    flash = [s.flash_c for s in parts if s.flash_c is not None]
    return ThinnerEntry(
        id=thinner.id,
        name=thinner.name,
        words=thinner.words,
        percent={k.solvents[s].name: p for s, p in thinner.percent.items()},
        flash_c=min(flash, default=None),
        rate=(round(max(rates), 3), round(min(rates), 3)),
        opens=list(seen.values()),
    )


def _base(k: Knowledge, base: Substrate) -> BaseEntry:
    return BaseEntry(
        id=base.id,
        name=base.name,
        words=base.words,
        stressed=base.stressed,
        heat_limit_c=base.heat_limit_c,
        surface=SURFACE_WORDS[base.surface],
        crazed=[
            Opened(carrier=t.name, power=round(bite, 3), young=round(bite, 3), red=None, why="by solvent family")
            for t in k.thinners.values()
            for bite in (crazing(k, blend_of(t), base),)
        ],
    )


def _technique(k: Knowledge, t: Technique) -> TechniqueEntry:
    coats = [s.material for s in t.steps if s.kind == "coat" and s.material is not None]
    return TechniqueEntry(
        **t.model_dump(include=set(TechniqueText.model_fields)),
        wants_below=[s.value for s in t.wants_below],
        carried_by=t.carried_by,
        school=f"{t.school[0].value}: {t.school[1]}" if t.school else None,
        steps=[
            StepEntry(
                name=s.name,
                kind=s.kind,
                colour=k.coats[s.material].colour if s.kind == "coat" and s.material else None,
            )
            for s in t.steps
        ],
        materials=coats,
    )


def compendium() -> Compendium:
    """Everything that ships, for reading: materials with what opens them, techniques with their recipes."""
    k = knowledge()
    return _READ.of(k, lambda: _written(k))


def _written(k: Knowledge) -> Compendium:
    stub = FittingStep(id="x", name="x", zones=["x"], action=FittingAction.INSPECT)
    return Compendium(
        coats=[_coat(k, c) for c in k.coats.values()],
        thinners=[_thinner(k, t) for t in k.thinners.values() if t.percent],
        bases=[_base(k, s) for s in k.substrates.values()],
        touches=[
            TouchEntry(
                id=t.id,
                name=t.name,
                words=t.words,
                serves=[a.value for a in t.serves],
                after=t.after,
                cautions=[text for _, text in touch_cautions(k, stub, t)],
            )
            for t in k.touches.values()
        ],
        techniques=[_technique(k, t) for t in k.techniques.values()],
    )
