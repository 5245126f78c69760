"""Materials as sourced data: solvents, thinners, coats, substrates, paint systems, and typed access.

The data lives in the files beside this one and is validated when first used. `knowledge()` is the whole of
it; a plan's own thinners are added with `Knowledge.with_own`.
"""

from __future__ import annotations

import json
import math
import tomllib
from collections.abc import Collection, Iterable, Mapping
from enum import StrEnum
from functools import cached_property, lru_cache
from importlib.resources import files
from typing import Annotated, Any

from pydantic import Field

from ..plan import Method, Model, OwnThinner, Problem, Sheen, WorkAction

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


class Solvent(Model):
    """One volatile liquid. Hansen parts in MPa^½; ln(Psat/Pa) = psat_a − psat_b/T(K); D in air at 20 °C."""

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
    opened_by: Fractions = {}
    windows: dict[WorkAction, Window] = {}


class Substrate(Model):
    id: str
    name: str
    words: str
    sphere: str | None = None
    crazed_by: Fractions
    heat_limit_c: float


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
        signature: str = "default",
    ) -> None:
        self.solvents, self.spheres, self.systems = solvents, spheres, systems
        self.substrates, self.thinners, self.coats = substrates, thinners, coats
        self.signature = signature

    def with_own(self, own: Iterable[OwnThinner]) -> Knowledge:
        """The same knowledge with a plan's own thinners added."""
        own = list(own)
        if not own:
            return self
        thinners = dict(self.thinners)
        for entry in own:
            thinners[entry.id] = Thinner(
                id=entry.id, name=entry.name, percent=dict(entry.percent), drop_ml=0.022, own=True
            )
        signature = self.signature + "|" + "|".join(sorted(e.model_dump_json() for e in own))
        return Knowledge(self.solvents, self.spheres, self.systems, self.substrates, thinners, self.coats, signature)

    def coat(self, material_id: str) -> Coat:
        return self.coats[material_id]

    def system_of(self, material_id: str) -> System:
        return self.systems[self.coats[material_id].system]

    @cached_property
    def ids(self) -> set[str]:
        return set(self.substrates) | set(self.thinners) | set(self.coats)


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
    systems = {key: System(id=key, **row) for key, row in tomllib.loads(_read("systems.toml")).items()}
    rows: dict[str, list[dict[str, Any]]] = tomllib.loads(_read("materials.toml"))
    found = Knowledge(
        solvents,
        spheres,
        systems,
        {row["id"]: Substrate(**row) for row in rows["substrate"]},
        {row["id"]: Thinner(**row) for row in rows["thinner"]},
        {row["id"]: Coat(**row) for row in rows["coat"]},
    )
    _check(found)
    return found


def unknown_material(material_id: str, own: set[str], kind: str) -> str | None:
    """What is wrong with a material id where a `substrate`, `coat`, `thinner` or mix `part` is wanted, or None."""
    known = knowledge()
    stores: dict[str, list[Collection[str]]] = {
        "substrate": [known.substrates],
        "coat": [known.coats],
        "thinner": [known.thinners, own],
        "part": [known.coats, known.thinners, own],
    }
    if any(material_id in store for store in stores[kind]):
        return None
    fitting = {material for store in stores[kind] for material in store}
    if material_id in known.ids | own:
        return f"'{material_id}' cannot stand here; a {kind} is wanted"
    from difflib import get_close_matches

    near = get_close_matches(material_id, sorted(fitting), n=1)
    return f"there is no material '{material_id}'" + (f"; is '{near[0]}' meant?" if near else "")


def own_material_problems(own: Iterable[OwnThinner]) -> list[Problem]:
    known = knowledge()
    problems, seen = [], set()
    for i, entry in enumerate(own):
        where = f"materials[{i}] '{entry.name}'"
        if entry.id in known.ids or entry.id in seen:
            problems.append(Problem(where=where, what=f"the id '{entry.id}' is taken by another material"))
        seen.add(entry.id)
        for solvent in entry.percent:
            if solvent not in known.solvents:
                problems.append(
                    Problem(
                        where=f"{where}.percent",
                        what=f"there is no solvent '{solvent}'; known: {', '.join(sorted(known.solvents))}",
                    )
                )
    return problems
