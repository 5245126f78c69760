"""Materials as sourced data: solvents, thinners, coats, substrates, paint systems, and typed access.

The data lives in the files beside this one and is validated when first used. `knowledge()` is the whole of
it; a plan's own thinners are added with `Knowledge.with_own`.
"""

from __future__ import annotations

import json
import math
import tomllib
from collections.abc import Collection, Iterable, Mapping, Sequence
from enum import StrEnum
from functools import cached_property, lru_cache
from importlib.resources import files
from typing import Annotated, Any

from pydantic import Field

from ..plan import BudTest, Method, OwnCoat, OwnMaterial, OwnThinner, Sheen, WorkAction
from ..values import Model, Problem

Fractions = dict[str, float]
Range = Annotated[tuple[float, float], Field()]


class FilmClass(StrEnum):
    """How a film comes to be, which decides what can undo it."""

    EVAPORATING = "evaporating"
    OXIDISING = "oxidising"
    DISPERSION = "dispersion"
    WATER_SOLUBLE = "water_soluble"
    DECAL = "decal"
    LOOSE = "loose"
    CROSSLINKED = "crosslinked"
    RUBBED = "rubbed"
    UNKNOWN = "unknown"


class Solvent(Model):
    """One volatile liquid. Hansen parts in MPa^½; ln(Psat/Pa) = psat_a − psat_b/T; air D and viscosity at 20 °C."""

    id: str
    name: str
    cas: str
    family: str
    delta_d: float
    delta_p: float
    delta_h: float
    molar_mass: float
    density_g_ml: float
    boiling_c: float
    flash_c: float | None
    psat_a: float
    psat_b: float
    d_air_m2_s: float
    surface_tension_mn_m: float | None
    viscosity_mpas: float
    limit_ppm: float | None
    source: str

    def psat_pa(self, temp_c: float) -> float:
        """Vapour pressure in Pa at a temperature in °C (0 to 60 °C fitted)."""
        return math.exp(self.psat_a - self.psat_b / (temp_c + 273.15))

    @property
    def heat_j_g(self) -> float:
        """Heat of vaporisation, J/g, from the slope of the vapour pressure (Clausius–Clapeyron)."""
        return self.psat_b * 8.314462618 / self.molar_mass


class Window(Model):
    """When a coat can be worked, reference minutes after laying: [early, best, late] edges."""

    opens: tuple[float, float, float]
    easy_until: float
    closes: tuple[float, float, float]
    by: str


class System(Model):
    id: str
    name: str
    film: FilmClass
    binder: str
    spheres: list[str] = []
    surface: str
    hardness: float
    thickening: float = 14.0
    ea_kj: float
    thickness_power: float
    ref_film_um: float = 25
    water_limit: float | None = None
    mfft_c: Range | None = None
    touch: Range
    recoat: Range
    tape: Range
    spirit: Range
    hard: Range
    recoat_again_before: float | None = None
    water_opens_until: float | None = None
    opened_by: Fractions = {}
    windows: dict[WorkAction, Window] = {}
    cup_limits: dict[str, tuple[float, float]] = {}


class Substrate(Model):
    """What the model is made of. `surface`: plain, greasy, bare_metal, vinyl, uncured or unknown."""

    id: str
    name: str
    words: str
    sphere: str | None = None
    crazed_by: Fractions
    heat_limit_c: float
    stressed: bool = False
    surface: str = "plain"


class Touch(Model):
    """A thing that touches a coat without laying one: tape, mask, glue. `after`: the event it has to wait for."""

    id: str
    name: str
    words: str
    serves: list[str] = Field(alias="for")
    after: str
    tack: float
    needs_h: float | None = None
    off_within_h: float | None = None
    ammonia: bool = False
    fogs: bool = False
    percent: Fractions = {}


class Thinner(Model):
    """A liquid that is all carrier. `percent` by volume of solvents."""

    id: str
    name: str
    words: str = ""
    percent: Fractions
    drop_ml: float
    own: bool = False


class Coat(Model):
    """Something that is laid: paint, clear, effect, medium, marking or pigment."""

    id: str
    name: str
    words: str
    use: str
    system: str
    percent: Fractions = {}
    volume_solids: float
    density_g_ml: float
    dry_film_um: float
    sheen: Sheen
    sheens: list[Sheen] = []
    method: Method = Method.SPRAY
    thin_with: str | None = None
    thin_ratio: tuple[float, float] | None = None
    coverage: float = 1.0
    colour: str
    passes: int = 1
    drop_ml: float = 0.04
    traits: list[str] = []
    own: bool = False
    rests_on: str = ""


class Sphere(Model):
    """A polymer's Hansen sphere, MPa^½."""

    delta_d: float
    delta_p: float
    delta_h: float
    radius: float


class Knowledge:
    """All materials known to an assessment. Immutable once made; `signature` tells two apart."""

    def __init__(
        self,
        solvents: Mapping[str, Solvent],
        spheres: Mapping[str, Sphere],
        systems: Mapping[str, System],
        substrates: Mapping[str, Substrate],
        thinners: Mapping[str, Thinner],
        coats: Mapping[str, Coat],
        touches: Mapping[str, Touch],
        signature: str = "default",
    ) -> None:
        self.solvents, self.spheres, self.systems = solvents, spheres, systems
        self.substrates, self.thinners, self.coats = substrates, thinners, coats
        self.touches, self.signature = touches, signature

    def with_own(self, own: Sequence[OwnMaterial]) -> Knowledge:
        """The same knowledge with a plan's own thinners and paints added."""
        if not own:
            return self
        signature = self.signature + "|" + "|".join(sorted(e.model_dump_json() for e in own))
        if (held := _WITH_OWN.get(signature)) is not None:
            return held
        thinners, coats = dict(self.thinners), dict(self.coats)
        for entry in own:
            if isinstance(entry, OwnThinner):
                thinners[entry.id] = Thinner(
                    id=entry.id, name=entry.name, percent=dict(entry.percent), drop_ml=0.022, own=True
                )
            else:
                coats[entry.id] = own_coat(self, entry)
        made = Knowledge(
            self.solvents, self.spheres, self.systems, self.substrates, thinners, coats, self.touches, signature
        )
        if len(_WITH_OWN) > 50:
            _WITH_OWN.clear()
        _WITH_OWN[signature] = made
        return made

    def coat(self, material_id: str) -> Coat:
        return self.coats[material_id]

    def system_of(self, material_id: str) -> System:
        return self.systems[self.coats[material_id].system]

    @cached_property
    def ids(self) -> set[str]:
        return set(self.substrates) | set(self.thinners) | set(self.coats) | set(self.touches)


_WITH_OWN: dict[str, Knowledge] = {}

# What a dried drop tells when a bud with the next stronger carrier colours: the known coat whose system it behaves
# like. Common practice; the answer is a family, no more.
BUD_TELLS: dict[BudTest, str] = {
    BudTest.WATER: "washable_paint",
    BudTest.WHITE_SPIRIT: "picture_varnish",
    BudTest.ISOPROPANOL: "alcohol_acrylic_colour",
    BudTest.MILD_THINNER: "lacquer_colour",
    BudTest.NONE: "two_pack_clear",
}
BUD_WORDS: dict[BudTest, str] = {
    BudTest.WATER: "a bud with water coloured: it re-opens with water",
    BudTest.WHITE_SPIRIT: "a bud with white spirit coloured: it re-opens with spirit, at any age",
    BudTest.ISOPROPANOL: "a bud with 70 % isopropanol coloured first: an acrylic, and alcohol lifts it",
    BudTest.MILD_THINNER: "only mild lacquer thinner coloured the bud: a lacquer",
    BudTest.NONE: "nothing coloured the bud: two-pack or through-cured alkyd; which of them is not told",
}


def own_coat(k: Knowledge, entry: OwnCoat) -> Coat:
    """A paint of one's own as a coat: like a known one, told by its bud test, or unknown."""
    if entry.like is not None:
        base, rests = k.coats[entry.like], f"entered as being like {k.coats[entry.like].name.lower()}"
    elif entry.bud_test is not None:
        base, rests = k.coats[BUD_TELLS[entry.bud_test]], BUD_WORDS[entry.bud_test]
    else:
        base, rests = k.coats["unknown_paint"], "nothing is known of it"
    change: dict[str, Any] = {"id": entry.id, "name": entry.name, "own": True, "rests_on": rests, "words": "own"}
    if entry.use is not None:
        change["use"] = entry.use.value
    elif entry.like is None:
        change["use"] = "colour"
    for field in ("volume_solids", "dry_film_um", "percent"):
        if (value := getattr(entry, field)) is not None:
            change[field] = value
    if entry.colour is not None:
        change["colour"] = entry.colour.srgb
    if entry.sheen is not None:
        change["sheen"] = entry.sheen
    if entry.bleeds:
        change["traits"] = [*base.traits, "bleeds"]
    if entry.like is None and entry.bud_test is BudTest.NONE:
        change["traits"] = [t for t in change.get("traits", base.traits) if t != "isocyanate"]
    return base.model_copy(update=change)


def _read(name: str) -> str:
    return files(__package__).joinpath(name).read_text(encoding="utf-8")


def _check(k: Knowledge) -> None:
    """Data that names a solvent, family, sphere or system that is not there is refused at load."""
    families = {s.family for s in k.solvents.values()}
    carriers: list[Thinner | Coat] = [*k.thinners.values(), *k.coats.values()]
    for carrier in carriers:
        if unknown := set(carrier.percent) - set(k.solvents):
            raise ValueError(f"materials.toml: {carrier.id} names unknown solvents {sorted(unknown)}")
        total = sum(carrier.percent.values())
        if carrier.percent and abs(total - 100) > 0.01:
            raise ValueError(f"materials.toml: the percent of {carrier.id} add up to {total:g}")
    for opened in [s.opened_by for s in k.systems.values()] + [s.crazed_by for s in k.substrates.values()]:
        if unknown := set(opened) - families:
            raise ValueError(f"unknown solvent families {sorted(unknown)}")
    opened_by = [s.cup_limits for s in k.systems.values()]
    if unknown := {f for limits in opened_by for f in limits} - families:
        raise ValueError(f"systems.toml: cup_limits of unknown families {sorted(unknown)}")
    for system in k.systems.values():
        if unknown := set(system.spheres) - set(k.spheres):
            raise ValueError(f"systems.toml: {system.id} names unknown spheres {sorted(unknown)}")
    for coat in k.coats.values():
        if coat.system not in k.systems or (coat.thin_with and coat.thin_with not in k.thinners):
            raise ValueError(f"materials.toml: {coat.id} names an unknown system or thinner")


@lru_cache(maxsize=1)
def knowledge() -> Knowledge:
    """The default knowledge, read from the package's data files once."""
    solvents = {row["id"]: Solvent(**row) for row in json.loads(_read("solvents.json"))}
    spheres = {
        key: Sphere(delta_d=d, delta_p=p, delta_h=h, radius=r)
        for key, (d, p, h, r) in tomllib.loads(_read("polymers.toml")).items()
    }
    read = tomllib.loads(_read("systems.toml"))
    limits = read.pop("cup_limits")
    systems = {key: System(id=key, cup_limits=limits.pop(key, {}), **row) for key, row in read.items()}
    if limits:
        raise ValueError(f"systems.toml: cup_limits of unknown systems {sorted(limits)}")
    rows: dict[str, list[dict[str, Any]]] = tomllib.loads(_read("materials.toml"))
    found = Knowledge(
        solvents,
        spheres,
        systems,
        {row["id"]: Substrate(**row) for row in rows["substrate"]},
        {row["id"]: Thinner(**row) for row in rows["thinner"]},
        {row["id"]: Coat(**row) for row in rows["coat"]},
        {row["id"]: Touch(**row) for row in rows["touch"]},
    )
    _check(found)
    return found


def unknown_material(material_id: str, own: Iterable[OwnMaterial], kind: str) -> str | None:
    """What is wrong with a material id where a `substrate`, `coat`, `thinner`, `touch` or mix `part` is wanted."""
    known = knowledge()
    coats = {m.id for m in own if isinstance(m, OwnCoat)}
    thinners = {m.id for m in own if isinstance(m, OwnThinner)}
    stores: dict[str, list[Collection[str]]] = {
        "substrate": [known.substrates],
        "touch": [known.touches],
        "coat": [known.coats, coats],
        "thinner": [known.thinners, thinners],
        "part": [known.coats, known.thinners, coats, thinners],
    }
    if any(material_id in store for store in stores[kind]):
        return None
    fitting = {material for store in stores[kind] for material in store}
    if material_id in known.ids | coats | thinners:
        return f"'{material_id}' cannot stand here; a {kind} is wanted"
    from difflib import get_close_matches

    near = get_close_matches(material_id, sorted(fitting), n=1)
    return f"there is no material '{material_id}'" + (f"; is '{near[0]}' meant?" if near else "")


def own_material_problems(own: Iterable[OwnMaterial]) -> list[Problem]:
    known = knowledge()
    problems, seen = [], set()
    for i, entry in enumerate(own):
        where = f"materials[{i}] '{entry.name}'"
        if entry.id in known.ids or entry.id in seen:
            problems.append(Problem(where=where, what=f"the id '{entry.id}' is taken by another material"))
        seen.add(entry.id)
        if isinstance(entry, OwnCoat) and entry.like is not None and entry.like not in known.coats:
            problems.append(Problem(where=f"{where}.like", what=f"there is no coat '{entry.like}' to be like"))
        for solvent in entry.percent or ():
            if solvent not in known.solvents:
                problems.append(
                    Problem(
                        where=f"{where}.percent",
                        what=f"there is no solvent '{solvent}'; known: {', '.join(sorted(known.solvents))}",
                    )
                )
    return problems
