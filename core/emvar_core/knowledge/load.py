"""Reads the data files, strictly: what is wrong is refused with its file and entry, and nothing is guessed."""

from __future__ import annotations

import json
import math
import re
import tomllib
from collections.abc import Callable, Iterable, Mapping
from functools import lru_cache
from importlib.resources import files
from typing import Any, TypeVar

from pydantic import ValidationError

from ..errors import KnowledgeError
from ..vocabulary import (
    AIRBRUSHED,
    SCHOOL_SIDES,
    WHILE_WET,
    BudTest,
    Carrier,
    Event,
    FilmClass,
    FittingAction,
    Method,
    Model,
    SolventFamily,
    Trait,
    WorkAction,
)
from .store import Knowledge
from .types import (
    EVER_MIN,
    USUAL_BASE,
    WATER,
    ByHand,
    CarrierFacts,
    CauseData,
    Coat,
    Fault,
    Means,
    Solvent,
    Sphere,
    StepTemplate,
    Substrate,
    System,
    Technique,
    Thinner,
    Touch,
    Window,
    WorkFacts,
)

M = TypeVar("M", bound=Model)
SPANS = (("min", 1.0, 119.0), ("h", 60.0, 2880.0), ("days", 1440.0, math.inf))  # up to how many minutes a unit is used
HELD = [m for m in Method if m not in AIRBRUSHED]
SYSTEM_TABLES = {"system", "coat", "thinner"}
EXISTING = "existing"  # what an alias calls a finish that is there already
PLACEHOLDER = re.compile(r"\{(\w+)(?::([^}]+))?\}")


class Source:
    """The data files by name, as text; the package's own, or others in their place for a trial."""

    def __init__(self, instead: Mapping[str, str] | None = None) -> None:
        self.instead = dict(instead or {})

    def text(self, name: str) -> str:
        if name in self.instead:
            return self.instead[name]
        return files(__package__).joinpath(name).read_text(encoding="utf-8")

    def folder(self, name: str) -> list[str]:
        """The data files of a folder, by name."""
        own = [f"{name}/{f.name}" for f in files(__package__).joinpath(name).iterdir() if f.name.endswith(".toml")]
        return sorted({*own, *(n for n in self.instead if n.startswith(f"{name}/"))})

    def toml(self, name: str) -> dict[str, Any]:
        try:
            return tomllib.loads(self.text(name))
        except tomllib.TOMLDecodeError as error:
            raise KnowledgeError(name, str(error)) from None


def _made(kind: type[M], where: str, row: Any) -> M:
    """An entry from its row. What does not validate is refused with its place."""
    try:
        return kind.model_validate(row)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        field = ".".join(str(part) for part in first["loc"])
        what = first["msg"].removeprefix("Value error, ")
        raise KnowledgeError(where, f"{field}: {what}" if field else what) from None


def _by_id(kind: type[M], entries: Iterable[tuple[str, Any]]) -> dict[str, M]:
    """Entries by id, each with the file that it comes from; a second one of the same id is refused."""
    by_id: dict[str, M] = {}
    places: dict[str, str] = {}
    for name, row in entries:
        key = str(row.get("id", "?")) if isinstance(row, dict) else "?"
        entry = _made(kind, f"{name}: {key}", row)
        if key in by_id:
            raise KnowledgeError(f"{name}: {key}", f"the id is taken by an entry of {places[key]}")
        by_id[key], places[key] = entry, name
    return by_id


def _rows(source: Source, name: str, table: str) -> list[tuple[str, Any]]:
    read = source.toml(name)
    if unknown := set(read) - {table}:
        raise KnowledgeError(name, f"unknown tables {sorted(unknown)}")
    return [(name, row) for row in read.get(table, [])]


def load(source: Source | None = None) -> Knowledge:
    """Everything that is known, checked as a whole. Raises KnowledgeError naming file and entry."""
    source = source or Source()
    solvents = _by_id(Solvent, [("solvents.json", row) for row in json.loads(source.text("solvents.json"))])
    activities: dict[tuple[str, str], float] = {}
    for a, b, one, other in json.loads(source.text("activities.json")):
        if stray := [x for x in (a, b) if x not in solvents]:
            raise KnowledgeError("activities.json", f"there is no solvent '{stray[0]}'")
        activities[a, b], activities[b, a] = float(one), float(other)
    spheres = {
        key: _made(Sphere, f"polymers.toml: {key}", dict(zip(Sphere.model_fields, row, strict=True)))
        for key, row in source.toml("polymers.toml").items()
    }
    systems: list[tuple[str, Any]] = []
    coats: list[tuple[str, Any]] = []
    thinners = _rows(source, "thinners.toml", "thinner")
    for name in source.folder("systems"):
        read, stem = source.toml(name), name.rpartition("/")[2].removesuffix(".toml")
        if unknown := set(read) - SYSTEM_TABLES:
            raise KnowledgeError(name, f"unknown tables {sorted(unknown)}")
        if "system" not in read:
            raise KnowledgeError(name, "there is no [system]")
        systems.append((name, {"id": stem, **read["system"]}))
        coats += [(name, {"system": stem, **row}) for row in read.get("coat", [])]
        thinners += [(name, row) for row in read.get("thinner", [])]
    coats_by_id = _by_id(Coat, coats)
    work, aliases, hand = source.toml("work.toml"), source.toml("aliases.toml"), source.toml("by_hand.toml")
    k = Knowledge(
        solvents=solvents,
        activities=activities,
        spheres=spheres,
        systems=_by_id(System, systems),
        substrates=_by_id(Substrate, _rows(source, "substrates.toml", "substrate")),
        thinners=_by_id(Thinner, thinners),
        coats=dict(sorted(coats_by_id.items(), key=lambda c: (c[1].rank, c[1].name))),
        touches=_by_id(Touch, _rows(source, "touches.toml", "touch")),
        carriers={c: _made(CarrierFacts, f"work.toml: carrier.{c}", work["carrier"].get(c.value)) for c in Carrier},
        work={a: _made(WorkFacts, f"work.toml: work.{a}", work["work"].get(a.value)) for a in WorkAction},
        by_hand={w: _made(ByHand, f"by_hand.toml: {w}", hand.pop(w.value, None)) for w in (*HELD, *WorkAction)},
        means=tuple(_by_id(Means, [("work.toml", row) for row in work["means"]]).values()),
        bud_words={b: str(work["bud"][b.value]) for b in BudTest},
        called={key: str(word) for key, word in work["called"].items()},
        techniques={},
        tools=tuple(str(t) for t in work["tools"]),
        chipping={key: _made(Window, f"work.toml: chipping.{key}", row) for key, row in work["chipping"].items()},
        spelt={key: str(word) for key, word in aliases["spelt"].items()},
        meant={key: tuple(str(i) for i in ids) for key, ids in aliases["means"].items()},
        cautions=source.toml("cautions.toml"),
        faults={
            key: _made(Fault, f"faults.toml: {key}", {"id": key, **row})
            for key, row in source.toml("faults.toml").items()
        },
    )
    if hand:
        raise KnowledgeError("by_hand.toml", f"nothing is laid or worked by {', '.join(sorted(hand))}")
    _check(k)
    k = k.with_techniques(_techniques(source, k))
    named = set(k.techniques) | k.ids | {a.value for a in (*WorkAction, *FittingAction)} | {EXISTING}
    for phrase, ids in k.meant.items():
        if nobody := sorted(set(ids) - named):
            raise KnowledgeError(f"aliases.toml: {phrase}", f"nothing is called {', '.join(nobody)}")
    for fault in k.faults.values():
        for cause in fault.causes:
            check_cause(k, f"faults.toml: {fault.id}.{cause.id}", cause)
    return k


def _check(k: Knowledge) -> None:
    """What names something has to find it."""

    def known(where: str, ids: Iterable[str], among: Mapping[str, Any], what: str) -> None:
        if unknown := sorted(set(ids) - set(among)):
            raise KnowledgeError(where, f"unknown {what} {', '.join(unknown)}")

    if WATER not in k.solvents or k.solvents[WATER].family is not SolventFamily.WATER:
        raise KnowledgeError("solvents.json", "there is no water")
    stores: dict[str, Mapping[str, Any]] = {
        "coat": k.coats, "thinner": k.thinners, "touch": k.touches, "substrate": k.substrates
    }  # fmt: skip
    seen: dict[str, str] = {}
    for kind, entries in stores.items():
        for key in entries:
            if key in seen:
                raise KnowledgeError(f"{kind}: {key}", f"the id is taken by a {seen[key]}")
            seen[key] = kind
    for coat in k.coats.values():
        if coat.hardener is not None:
            known(f"coat {coat.id}: hardener", [coat.hardener.with_], k.thinners, "hardener")
    carriers: list[Thinner | Coat | Touch] = [*k.thinners.values(), *k.coats.values(), *k.touches.values()]
    for carrier in carriers:
        known(carrier.id, carrier.percent, k.solvents, "solvents")
        total = sum(carrier.percent.values())
        if carrier.percent and abs(total - 100) > 0.01:
            raise KnowledgeError(carrier.id, f"the percent add up to {total:g}")
    for system in k.systems.values():
        known(f"systems/{system.id}.toml", system.spheres, k.spheres, "spheres")
        known(f"systems/{system.id}.toml", system.milder_thinners, k.thinners, "thinners")
    for substrate in k.substrates.values():
        known(f"substrates.toml: {substrate.id}", [substrate.sphere] if substrate.sphere else [], k.spheres, "spheres")
        better = [substrate.prepared_as] if substrate.prepared_as else []
        known(f"substrates.toml: {substrate.id}", better, k.substrates, "materials")
    for coat in k.coats.values():
        where = f"systems/{coat.system}.toml: {coat.id}"
        known(where, [coat.system], k.systems, "systems")
        known(where, [t for t in (coat.thin_with, coat.let_down_with) if t], k.thinners, "thinners")
        if (coat.thin_with is None) != (coat.thin_ratio is None):
            raise KnowledgeError(where, "thin_with and thin_ratio go together")
        if coat.sheens and coat.sheen not in coat.sheens:
            raise KnowledgeError(where, "its usual sheen is none of its sheens")
    known("work.toml: called", k.called, k.solvents, "solvents")
    for carrier_facts in k.carriers.values():
        known("work.toml: carrier", [carrier_facts.usual], k.thinners, "thinners")
    known("work.toml: means", [m.carrier for m in k.means if m.carrier], k.thinners, "thinners")
    if sum(t.usual for t in k.touches.values()) != 1:
        raise KnowledgeError("touches.toml", "exactly one mask is the usual one")
    if USUAL_BASE not in k.substrates:
        raise KnowledgeError("substrates.toml", f"there is no {USUAL_BASE}")
    for test in BudTest:
        if sum(c.bud_test is test for c in k.coats.values()) != 1:
            raise KnowledgeError("systems", f"exactly one coat stands for the bud test {test.value}")
    if sum(k.systems[c.system].film is FilmClass.UNKNOWN for c in k.coats.values()) != 1:
        raise KnowledgeError("systems", "exactly one coat is the unknown one")
    for trait in (Trait.BARRIER, Trait.KEEPS_WAY_BACK, Trait.CHIPPING, Trait.KEYS_METAL):
        if not any(c.has(trait) for c in k.coats.values()):
            raise KnowledgeError("systems", f"no coat has the trait {trait.value}")


# --- techniques ------------------------------------------------------------------------------------------------


def _techniques(source: Source, k: Knowledge) -> dict[str, Technique]:
    techniques: list[Technique] = []
    for name in source.folder("techniques"):
        read, stem = source.toml(name), name.rpartition("/")[2].removesuffix(".toml")
        if unknown := set(read) - {"technique", "step"}:
            raise KnowledgeError(name, f"unknown tables {sorted(unknown)}")
        row = {"id": stem, **read.get("technique", {}), "steps": read.get("step", [])}
        techniques.append(technique_of_row(k, name, row))
    return {t.id: t for t in sorted(techniques, key=lambda t: (t.rank, t.name))}


def technique_of_row(k: Knowledge, where: str, row: dict[str, Any]) -> Technique:
    """A technique from its data, checked, its recipe in words. Raises KnowledgeError naming the place."""
    technique = _made(Technique, where, row)
    if technique.school is not None and technique.school[1] not in SCHOOL_SIDES[technique.school[0]]:
        pair, side = technique.school
        raise KnowledgeError(where, f"no such side of a school: {pair.value}, {side.value}")
    names: set[str] = set()
    for step in technique.steps:
        stores: dict[str, Mapping[str, Any]] = {"coat": k.coats, "fitting": k.touches}
        if step.material is not None and step.material not in stores.get(step.kind, {}):
            raise KnowledgeError(where, f"unknown material {step.material}")
        if step.kind == "coat" and step.material is None:
            raise KnowledgeError(where, f"the coat '{step.name}' has no material")
        thinners = [t for t in (step.carrier, step.mix.with_ if step.mix else None) if t is not None]
        if unknown := [t for t in thinners if t not in k.thinners]:
            raise KnowledgeError(where, f"unknown thinner {unknown[0]}")
        if step.on is not None and step.on not in names:
            raise KnowledgeError(where, f"'{step.on}' is no earlier step of it")
        names.add(step.name)
    if technique.main is not None and technique.main not in names:
        raise KnowledgeError(where, f"'{technique.main}' is none of its steps")
    main = technique.main_template
    use = k.coats[main.material].use if main is not None and main.material is not None else None
    said = {"recipe": _recipe(k, where, technique), "window": _window(k, where, technique)}
    return technique.model_copy(update={"main_use": use, **said})


def _amounts(a: float, b: float) -> str:
    """A ratio as people say it: `3 : 3` is `1 : 1`."""
    if a == int(a) and b == int(b):
        whole = math.gcd(int(a), int(b))
        a, b = a / whole, b / whole
    return f"{a:g} : {b:g}"


def _filled(where: str, field: str, text: str, kinds: Mapping[str, Callable[[str | None], str]]) -> str:
    """Words with their figures put in. Raises KnowledgeError where a figure stands in the words themselves."""
    if any(c.isdigit() for c in PLACEHOLDER.sub("", text)):
        raise KnowledgeError(where, f"{field}: a figure stands in the words; it is made from the steps' own figures")

    def put(match: re.Match[str]) -> str:
        if match[1] not in kinds:
            raise KnowledgeError(where, f"{field}: '{{{match[1]}}}' is not known; known: {', '.join(kinds)}")
        return kinds[match[1]](match[2])

    made = PLACEHOLDER.sub(put, text)
    return made[:1].lower() + made[1:]


def span_words(early: float, late: float) -> str:
    """A range of minutes as people say it.

    >>> span_words(3, 15), span_words(720, 2160), span_words(300, 300)
    ('3 to 15 min', '12 to 36 h', '5 h')
    >>> span_words(45, 360)
    '45 min to 6 h'
    """
    (a, first), (b, last) = _in_unit(early), _in_unit(late)
    if a == b and first == last:
        return f"{b} {last}"
    return f"{a} to {b} {last}" if first == last else f"{a} {first} to {b} {last}"


def _in_unit(minutes: float) -> tuple[str, str]:
    unit, size = next((u, s) for u, s, upto in SPANS if minutes <= upto)
    return f"{minutes / size:.2g}", unit


def _window(k: Knowledge, where: str, t: Technique) -> str:
    """When it can be done, in words, its figures those that the work and the coats are judged by."""

    def named(name: str | None, kind: str) -> StepTemplate:
        found = next((s for s in t.steps if s.kind == kind and name in (None, s.name)), None)
        if found is None:
            raise KnowledgeError(where, f"window: there is no {kind} step '{name or 'at all'}' to take figures from")
        return found

    def work(name: str | None) -> str:
        step = named(name, "working")
        target = named(step.on, "coat")
        windows = k.system_of(target.material or "").windows
        w = k.chipping["water"] if step.action is WorkAction.CHIP else windows.get(WorkAction(step.action or ""))
        if w is None:
            raise KnowledgeError(where, f"window: '{target.name}' has no window for '{step.name}'")
        opens = "at once" if step.action in WHILE_WET else f"from {span_words(w.opens[0], w.opens[2])} after it is laid"
        if w.closes[0] >= EVER_MIN:
            return f"{opens}, at any time"
        easily = span_words(w.easy_until, w.easy_until)
        return f"{opens}, easily for {easily}, at the latest after {span_words(w.closes[0], w.closes[2])}"

    def event(which: Event) -> Callable[[str | None], str]:
        return lambda name: span_words(*k.system_of(named(name, "coat").material or "").event(which))

    return _filled(where, "window", t.window, {"work": work, **{e.value: event(e) for e in Event}})


def _recipe(k: Knowledge, where: str, t: Technique) -> str:
    """The recipe in words, its figures taken from what the technique puts in."""

    def step(name: str | None) -> StepTemplate:
        template = next((s for s in t.steps if s.name == name), None) if name else t.main_template
        if template is None or template.material is None:
            raise KnowledgeError(where, f"recipe: there is no coat '{name or 'at all'}' to take figures from")
        return template

    def ratio(s: StepTemplate) -> tuple[str, float, str, float]:
        coat = k.coats[s.material or ""]
        if s.mix is not None:
            return coat.name, s.mix.paint, s.mix.with_, s.mix.thinner
        if coat.thin_with is None or coat.thin_ratio is None:
            raise KnowledgeError(where, f"recipe: '{s.name}' is used as it comes")
        return coat.name, coat.thin_ratio[0], coat.thin_with, coat.thin_ratio[1]

    def words(name: str, paint: float, thinner: str, amount: float) -> str:
        return f"{name.lower()} {_amounts(paint, amount)} with {k.thinners[thinner].name.lower()}"

    def usual(material: str | None) -> str:
        if material not in k.coats:
            raise KnowledgeError(where, f"recipe: unknown material {material}")
        template = StepTemplate(kind="coat", name=material or "", material=material)
        return words(*ratio(template))

    def shares(s: StepTemplate) -> str:
        _, paint, thinner, amount = ratio(s)
        share = paint / (paint + amount)
        return f"{share * 100:.0f} % paint to {100 - share * 100:.0f} % {k.thinners[thinner].name.lower()}"

    def rest(_: str | None) -> str:
        if t.rest_h is None:
            raise KnowledgeError(where, "recipe: rest_h is not given")
        return f"{t.rest_h[0]:g}–{t.rest_h[1]:g} hours"

    kinds: dict[str, Callable[[str | None], str]] = {
        "mix": lambda name: words(*ratio(step(name))),
        "shares": lambda name: shares(step(name)),
        "passes": lambda name: f"{step(name).passes or k.coats[step(name).material or ''].passes:g}",
        "usual": usual,
        "rest": rest,
    }

    return _filled(where, "recipe", t.recipe, kinds)


def check_cause(k: Knowledge, where: str, cause: CauseData) -> None:
    """A cause asks for what there is: films, systems, methods, uses, sheens by their words."""
    from ..vocabulary import BaseSurface, Method, Sheen, Use

    allowed: dict[str, set[str]] = {
        "film": {f.value for f in FilmClass},
        "system": set(k.systems),
        "method": {m.value for m in Method},
        "use": {u.value for u in Use},
        "sheen": {s.value for s in Sheen},
        "base": {"clear", *(surface.value for surface in BaseSurface)},
    }
    for what, values in cause.needs.items():
        if unknown := sorted(set(values) - allowed[what]):
            raise KnowledgeError(where, f"needs.{what}: unknown {', '.join(unknown)}")


@lru_cache(maxsize=1)
def knowledge() -> Knowledge:
    """The default knowledge, read from the package's data files once."""
    return load()
