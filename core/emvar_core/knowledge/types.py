"""What is known of materials and techniques, as typed entries, units in their names; `load.py` reads and checks."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from pydantic import Field, StringConstraints, model_validator

from ..vocabulary import (
    BaseSurface,
    BudTest,
    Carrier,
    Event,
    FilmClass,
    FittingAction,
    Method,
    Model,
    Place,
    Purpose,
    School,
    Sheen,
    Side,
    SolventFamily,
    Srgb,
    Surface,
    SystemRole,
    TechniqueTag,
    ThinnerRole,
    Trait,
    Use,
    WorkAction,
)

WATER = "water"  # the solvent that the rules for aqueous blends ask for
USUAL_BASE = "polystyrene"  # what a plan that says nothing is made of; part of the plan format
GAS_CONSTANT = 8.314462618  # J/(mol·K), exact by the SI's definition of 2019

MaterialId = Annotated[str, StringConstraints(pattern=r"^[a-z][a-z0-9_]{1,39}$")]
Positive = Annotated[float, Field(gt=0)]
Degree = Annotated[float, Field(ge=0, le=1)]
Range = tuple[Positive, Positive]
Edges = tuple[float, float, float]


class Solvent(Model):
    """One volatile liquid. Hansen parts in MPa^½; ln(Psat/Pa) = psat_a − psat_b/T; air D and viscosity at 20 °C."""

    id: MaterialId
    name: str
    cas: str
    family: SolventFamily
    delta_d: float
    delta_p: float
    delta_h: float
    molar_mass: Positive
    density_g_ml: Positive
    boiling_c: float
    flash_c: float | None
    psat_a: float
    psat_b: float
    d_air_m2_s: Positive
    surface_tension_mn_m: float | None
    viscosity_mpas: Positive
    limit_ppm: float | None
    source: Annotated[str, Field(min_length=4)]

    def psat_pa(self, temp_c: float) -> float:
        """Vapour pressure in Pa at a temperature in °C (0 to 60 °C fitted).

        >>> from emvar_core.knowledge import knowledge
        >>> round(knowledge().solvents["water"].psat_pa(20), -1)
        2320.0
        """
        return math.exp(self.psat_a - self.psat_b / (temp_c + 273.15))

    @property
    def heat_j_g(self) -> float:
        """Heat of vaporisation, J/g, from the slope of the vapour pressure (Clausius–Clapeyron).

        >>> from emvar_core.knowledge import knowledge
        >>> round(knowledge().solvents["water"].heat_j_g, -2)
        2400.0
        """
        return self.psat_b * GAS_CONSTANT / self.molar_mass


EVER_MIN = 400_000.0  # reference minutes from which something holds for good, or never comes
POURED_UM = 500.0  # of a usual film, from which it is a pour
GLASSY_FROM = 0.7  # hardness of lacquers and alcohol acrylics, against soft butyl-methacrylate resins


class Sphere(Model):
    """A polymer's Hansen sphere, MPa^½."""

    delta_d: float
    delta_p: float
    delta_h: float
    radius: Positive


class Window(Model):
    """When a coat can be worked, reference minutes after laying: [early, best, late] edges. `by`: what moves it."""

    opens: Edges
    easy_until: float
    closes: Edges
    by: Carrier

    @model_validator(mode="after")
    def _in_order(self) -> Window:
        if list(self.opens) != sorted(self.opens) or list(self.closes) != sorted(self.closes):
            raise ValueError("edges run from early to late")
        if self.opens[1] >= self.closes[1]:
            raise ValueError("a window opens before it closes")
        return self


class CupLimits(Model):
    """What a paint bears in the cup, by solvent family of the liquid. Every family stands in one of the three.

    `bears`: its own carriers, and what does it no harm in any share. `limits`: share of the whole liquid as
    [goes doubtful, fails]. `untried`: nothing is known of it, so that it has to be tried in a cup.
    """

    bears: list[SolventFamily]
    limits: dict[SolventFamily, tuple[Degree, Degree]] = {}
    untried: list[SolventFamily]

    @model_validator(mode="after")
    def _whole(self) -> CupLimits:
        said = [*self.bears, *self.limits, *self.untried]
        if twice := sorted({f.value for f in said if said.count(f) > 1}):
            raise ValueError(f"{', '.join(twice)} stands twice")
        if holes := [f.value for f in SolventFamily if f not in said]:
            raise ValueError(f"nothing is said of {', '.join(holes)}: bears, limits or untried")
        for family, (doubtful, fails) in self.limits.items():
            if doubtful > fails:
                raise ValueError(f"{family.value} fails before it goes doubtful")
        return self


class System(Model):
    """A paint system: what its film is, how it hardens, what re-opens it, what it is to the trade.

    Hardening figures are minutes at 20 °C, 50 % humidity, still air, as [early, late], on a film of `film_um`; where
    that is left out, on each material's usual film.
    `ea_kj`: activation energy of hardening. `thickness_power`: time ∝ film^power; none where oxygen has to get through
    an oxidising film (a mud of pigment is porous, and has one). `thickening`: ln of viscosity per volume fraction of
    binder. `hardness`: of the cured film against others, 0–1. `opened_by`: how strongly a solvent family dissolves the
    dry film where no sphere is known, 0–1; `opened_by_nothing`: no solvent of the bench does, which has to be said.
    `recoat_again_before`: minutes within which it takes its own next coat. `polish_easy_until`: minutes up to which it
    polishes easily; what cures gets harder to polish, and never past it. `water_opens_until`: degree of hardening up
    to which water re-opens it.
    """

    id: MaterialId
    name: str
    film: FilmClass
    binder: str
    roles: list[SystemRole]
    spheres: list[str] = []
    surface: Surface
    hardness: Degree
    thickening: Positive = 14.0
    ea_kj: Positive
    film_um: Positive | None = None
    thickness_power: Positive | None = None
    water_limit: Degree | None = None
    mfft_c: tuple[float, float] | None = None
    touch: Range
    recoat: Range
    tape: Range
    spirit: Range
    hard: Range
    recoat_again_before: Positive | None = None
    polish_easy_until: Positive | None = None
    water_opens_until: Degree | None = None
    opened_by: dict[SolventFamily, Degree] = {}
    opened_by_nothing: bool = False
    windows: dict[WorkAction, Window] = {}
    cup: CupLimits
    milder_thinners: list[MaterialId] = []

    @model_validator(mode="after")
    def _consistent(self) -> System:
        for event in Event:
            early, late = self.event(event)
            if early > late:
                raise ValueError(f"{event.value}: the early edge is later than the late one")
        if self.film is FilmClass.OXIDISING and SystemRole.SELF_HEATING_RAGS not in self.roles:
            raise ValueError("rags with an oxidising film heat themselves: the role self_heating_rags is missing")
        if self.thickness_power is None and self.film is not FilmClass.OXIDISING:
            raise ValueError("thickness_power: only an oxidising film goes without")
        if self.opened_by_nothing == bool(self.spheres or self.opened_by) and self.film is not FilmClass.UNKNOWN:
            raise ValueError(
                "what opens the dry film: name its spheres or the solvent families in opened_by, or say that nothing "
                "does with opened_by_nothing = true"
            )
        if self.film is FilmClass.LOOSE and SystemRole.DUSTY not in self.roles:
            raise ValueError("loose powder is dusty: the role dusty is missing")
        return self

    def event(self, event: Event) -> tuple[float, float]:
        """Reference minutes of an event as (early, late)."""
        figures: tuple[float, float] = getattr(self, event.value)  # each event has a field of its name
        return figures

    def is_a(self, role: SystemRole) -> bool:
        return role in self.roles

    @property
    def glassy(self) -> bool:
        """Whether the dry film is a glass at the bench: solvents eat into it at a front instead of soaking in."""
        return self.film is FilmClass.EVAPORATING and self.hardness >= GLASSY_FROM


class Substrate(Model):
    """What the model is made of. `crazed_by`: how fast a solvent family crazes it bare, 0–1.

    `closed_cells`: open to the eye, but it does not drink. `prepared_as`: what it becomes once it is prepared as
    `prepare` says. `sprue`: a piece for trials is at hand.
    """

    id: MaterialId
    name: str
    words: str
    sphere: str | None = None
    crazed_by: dict[SolventFamily, Degree]
    heat_limit_c: Positive
    stressed: bool = False
    clear: bool = False
    sprue: bool = False
    surface: BaseSurface = BaseSurface.PLAIN
    closed_cells: bool = False
    prepared_as: MaterialId | None = None
    prepare: str = ""

    @property
    def answers_to_cover(self) -> bool:
        """Whether the thickness of what covers it decides what still gets to it: stressed plastic, soft vinyl."""
        return self.stressed or self.surface is BaseSurface.VINYL


class Touch(Model):
    """A thing that touches a coat without laying one: tape, mask, glue. `after`: the event it has to wait for.

    `sets_min`: how long a glue sets before the part may be turned over. `usual`: what a mask is taken to be that does
    not say.
    """

    id: MaterialId
    name: str
    words: str
    serves: list[FittingAction] = Field(alias="for")
    after: Event
    tack: Degree
    needs_h: Positive | None = None
    sets_min: tuple[Positive, Positive] | None = None
    off_within_h: Positive | None = None
    ammonia: bool = False
    fogs: bool = False
    usual: bool = False
    percent: dict[str, Positive] = {}


class Thinner(Model):
    """A liquid for the cup. `percent` by volume of its solvents; all of it but `volume_solids`, which a hardener has.

    `density_g_ml`: where the solvents do not tell it.
    """

    id: str
    name: str
    words: str = ""
    percent: dict[str, Positive]
    drop_ml: Positive
    roles: list[ThinnerRole] = []
    volume_solids: Degree = 0.0
    density_g_ml: Positive | None = None
    own: bool = False

    def is_a(self, role: ThinnerRole) -> bool:
        return role in self.roles


class Hardener(Model):
    """What a two-pack paint cures by, how much of it by volume, and how many minutes the cup is usable at 20 °C."""

    with_: Annotated[MaterialId, Field(alias="with")]
    paint: Positive
    hardener: Positive
    pot_life_min: Range


class ByHand(Model):
    """How something is laid or worked by hand, in words that can be felt; what is empty is as usual.

    `load`: how much is taken up, `wipe`: how much of it off again; `{carrier}` is the liquid of the step. `loaded`: the
    share of the tool that holds it, `shows`: how much of a dab shows on paper when it is right, 0–1 (for the drawing).
    `look`: what it looks like when it goes well. `pause_s`: between two passes.
    """

    tool: str = ""
    load: str = ""
    wipe: str = ""
    lead: str = ""
    press: str = ""
    look: str = ""
    loaded: Degree | None = None
    shows: Degree | None = None
    pause_s: Positive | None = None

    def or_else(self, usual: ByHand) -> ByHand:
        """What is said here, and of the rest what is usual."""
        own = {name: getattr(self, name) for name in self.model_fields_set}
        return usual.model_copy(update=own)


class Coat(Model):
    """Something that is laid: paint, clear, effect, medium, marking or pigment.

    `rank`: where it stands in lists, the usual ones first. `let_down_with`: what thins it where it is used neat.
    `rests_min`: how long it rests on card before it is used, at least and at most. `bud_test`: the test whose answer it
    stands for. `neat_mpas`: how thick it is as it comes, where what is computed of solids does not tell: pastes,
    putties, oil from the tube, clears that are sold thin enough to spray.
    """

    id: str
    name: str
    words: str
    use: Use
    system: MaterialId
    percent: dict[str, Positive] = {}
    volume_solids: Annotated[float, Field(gt=0, le=1)]
    density_g_ml: Positive
    dry_film_um: Positive
    sheen: Sheen
    sheens: list[Sheen] = []
    method: Method = Method.SPRAY
    thin_with: MaterialId | None = None
    thin_ratio: tuple[Positive, Positive] | None = None
    let_down_with: MaterialId | None = None
    hardener: Hardener | None = None
    rests_min: Range | None = None
    coverage: Annotated[float, Field(gt=0, le=1)] = 1.0
    colour: Srgb
    passes: Annotated[int, Field(ge=1, le=30)] = 1
    drop_ml: Positive = 0.04
    neat_mpas: Positive | None = None
    traits: list[Trait] = []
    bud_test: BudTest | None = None
    by_hand: ByHand = ByHand()
    rank: int = 10_000
    own: bool = False
    rests_on: str = ""

    def has(self, trait: Trait) -> bool:
        return trait in self.traits

    @property
    def is_poured(self) -> bool:
        """Whether it is poured, in millimetres, and no coat of paint."""
        return self.dry_film_um >= POURED_UM


class CarrierFacts(Model):
    """A carrier in one word: its solvent families, what people say, the usual one, and how much of it is needed."""

    words: str
    families: list[SolventFamily]
    usual: MaterialId
    least: Degree


class WorkFacts(Model):
    """How a kind of work is usually done: tool, what is left of the coat, the words it is found by.

    `lay_cm2_min`, `work_cm2_min`: how fast a coat is laid for it and worked. `carrier`: where no window says.
    """

    method: Method
    leaves: Degree
    words: str
    carrier: Carrier | None = None
    lay_cm2_min: Positive
    work_cm2_min: Positive


class Means(Model):
    """A way of taking something off, as it is done at the bench."""

    id: MaterialId
    name: str
    carrier: MaterialId | None = None
    method: Method


# --- techniques ------------------------------------------------------------------------------------------------


class MixTemplate(Model):
    """Paint to thinner, in parts."""

    with_: Annotated[MaterialId, Field(alias="with")]
    paint: Positive
    thinner: Positive


class StepTemplate(Model):
    """One step that a technique puts into a plan. What is left out is the material's usual. `on`: an earlier step."""

    kind: Literal["coat", "working", "fitting"]
    name: str
    material: MaterialId | None = None
    method: Method | None = None
    mix: MixTemplate | None = None
    film_um: Positive | None = None
    passes: int | None = None
    sheen: Sheen | None = None
    coverage: Annotated[float, Field(gt=0, le=1)] | None = None
    place: Place | None = None
    colour: Srgb | Literal["lighter", "darker"] | None = None
    action: WorkAction | FittingAction | None = None
    on: str | None = None
    carrier: MaterialId | None = None
    leaves: Degree | None = None
    by_hand: ByHand = ByHand()
    hands_on_min: Annotated[float, Field(ge=0)] = 20


class TechniqueText(Model):
    """What there is to read of a technique. `stage`: 3 (priming) to 11 (last things); going back is normal."""

    id: MaterialId
    name: str
    words: str
    stage: Annotated[int, Field(ge=3, le=11)]
    summary: str
    tool: str
    recipe: str
    window: str
    rescue: str
    traps: list[str]


class Technique(TechniqueText):
    """One technique of the trade. Figures are common practice; shares 0–1, films µm dry, marks mm.

    `wants_below`: sheens that it wants right under it. `carried_by`: what its liquid has to be; `else_` says what
    happens otherwise. `thinner`: least and most share of thinner. `mark_mm`: its finest mark on the model, `real_mm`
    the largest that it may be on the real thing (assumption). `wants_tack`: its powder goes onto what is still tacky.
    `purpose`: what its main coat is sprayed for, where that is not an even coat. `chalky_from_scale`: from there on it
    looks chalky on smooth panels. `main`: the step that its limits are meant for. `rank`: where it stands in lists.

    `recipe` names no figure of its own: `{mix}` is its main step's mix in words, `{mix:Step}` another's, `{shares}`
    the same in percent, `{passes}` its passes, `{rest}` hours on card, `{usual:material}` a material's usual mix.
    Nor does `window`: `{work:Step}` is the window of a working step's coat, `{touch:Step}`, `{recoat:Step}` events of
    a coat.
    """

    wants_below: list[Sheen] = []
    carried_by: Carrier | None = None
    else_: str = ""
    thinner: tuple[Degree, Degree] | None = None
    film_um: tuple[Positive, Positive] | None = None
    mark_mm: Positive | None = None
    real_mm: Positive | None = None
    rest_h: tuple[float, float] | None = None
    wants_tack: bool = False
    chalky_from_scale: int | None = None
    school: tuple[School, Side] | None = None
    tags: list[TechniqueTag] = []
    purpose: Purpose | None = None
    main: str | None = None
    rank: int = 10_000
    main_use: Use | None = None
    steps: list[StepTemplate]

    @property
    def main_template(self) -> StepTemplate | None:
        """The step that its limits are meant for: the one named, or its first coat."""
        coats = [s for s in self.steps if s.kind == "coat"]
        return next((s for s in coats if s.name == self.main), coats[0] if coats else None)

    def is_main(self, use: Use) -> bool:
        """Whether a coat of this use is the one that the technique's limits are meant for."""
        return self.main_use is use


class CauseData(Model):
    """A cause of a fault. `needs`: what has to be so for it to be possible at all; the rest speaks for it.

    `sentences`: parts of what its seams say. `film_over` µm, `thinner_over` and `coverage_over` 0–1 of the coat,
    `thinner_under` as a share of its usual thinner.
    Which findings speak for it is said by the mechanisms themselves.
    """

    id: MaterialId
    cause: str
    prior: Positive
    needs: dict[Literal["film", "system", "method", "use", "sheen", "base"], list[str]] = {}
    remarks: list[str] = []
    air: dict[Literal["rh_over", "temp_over", "temp_under"], float] = {}
    state: Literal["", "young", "old"] = ""
    missed_window: bool = False
    sentences: list[str] = []
    film_over: Positive | None = None
    thinner_over: Degree | None = None
    thinner_under: Positive | None = None
    coverage_over: Degree | None = None
    now: str
    dont: str
    mend: str
    avoid: str


class Fault(Model):
    """An appearance and its possible causes."""

    id: MaterialId
    name: str
    words: str
    causes: list[CauseData] = Field(alias="cause")
