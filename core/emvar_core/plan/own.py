"""A plan's own materials: thinners by their composition, paints like a known one, told by a bud test, or unknown."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from difflib import get_close_matches
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Discriminator, Field, Tag

from ..errors import Problem
from ..knowledge import Coat, Knowledge, Thinner, knowledge
from ..memory import MEMORY
from ..vocabulary import LEAST, BudTest, Film, Id, Model, Name, Sheen, Text, Trait, Use
from .steps import Colour

OWN_DROP_ML = 0.022  # of a thinner that does not say; the usual of spirits and thinners
_OWN = MEMORY.door("knowledge with a plan's own materials", 60)

Percent = Annotated[dict[str, Annotated[float, Field(ge=LEAST, le=100)]], Field(min_length=1, max_length=20)]


def _adds_up(percent: dict[str, float] | None) -> dict[str, float] | None:
    if percent is not None and abs(sum(percent.values()) - 100) > 1:
        raise ValueError(f"percent must add up to 100, not {sum(percent.values()):g}")
    return percent


class OwnThinner(Model):
    """A thinner of one's own, by the composition on its data sheet: percent by volume of named solvents."""

    kind: Literal["thinner"] = "thinner"
    id: Id
    name: Name
    percent: Annotated[Percent, AfterValidator(_adds_up)]
    note: Text = ""


OwnUse = Literal[Use.PRIMER, Use.COLOUR, Use.CLEAR, Use.EFFECT]


class OwnCoat(Model):
    """A paint of one's own: `like` a known coat, or told by its bud test; with neither it stays unknown."""

    kind: Literal["coat"]
    id: Id
    name: Name
    like: Id | None = None
    bud_test: BudTest | None = None
    use: OwnUse | None = None
    percent: Annotated[Percent, AfterValidator(_adds_up)] | None = None
    volume_solids: Annotated[float, Field(gt=0.005, le=1)] | None = None
    dry_film_um: Film | None = None
    sheen: Sheen | None = None
    colour: Colour | None = None
    bleeds: bool = False
    note: Text = ""


class Learned(Model):
    """What was learned of a paint, or of a whole system (`of`), and is used in this plan: a factor on what ships.

    `sd`: of its logarithm. `seen`: from how many observations. `drying`: times are so much longer.
    """

    of: Id
    quantity: Literal["drying", "viscosity"] = "drying"
    factor: Annotated[float, Field(ge=0.05, le=20)]
    sd: Annotated[float, Field(ge=0, le=3)] = 0.0
    seen: Annotated[int, Field(ge=0, le=100_000)] = 0


def _own_kind(data: Any) -> str:
    return str((data.get("kind") if isinstance(data, dict) else getattr(data, "kind", None)) or "thinner")


OwnMaterial = OwnThinner | OwnCoat
AnOwnMaterial = Annotated[
    Annotated[OwnThinner, Tag("thinner")] | Annotated[OwnCoat, Tag("coat")], Discriminator(_own_kind)
]


def own_coat(k: Knowledge, entry: OwnCoat) -> Coat:
    """A paint of one's own as a coat: like a known one, told by its bud test, or unknown."""
    if entry.like is not None:
        base, rests = k.coats[entry.like], f"entered as being like {k.coats[entry.like].name.lower()}"
    elif entry.bud_test is not None:
        base, rests = k.like_bud(entry.bud_test), k.bud_words[entry.bud_test]
    else:
        base, rests = k.unknown_coat, "nothing is known of it"
    # A role that the program reaches for by itself stays with what ships.
    traits = [t for t in base.traits if t not in (Trait.BARRIER, Trait.KEEPS_WAY_BACK, Trait.CHIPPING)]
    if entry.bleeds and Trait.BLEEDS not in traits:
        traits.append(Trait.BLEEDS)
    if entry.like is None:
        # A bud test tells a family, never that a hardener is in it.
        traits = [t for t in traits if t is not Trait.ISOCYANATE]
    change: dict[str, Any] = {
        "id": entry.id, "name": entry.name, "own": True, "rests_on": rests, "words": "own", "bud_test": None,
        "traits": traits,
    }  # fmt: skip
    if entry.use is not None:
        change["use"] = entry.use
    elif entry.like is None:
        change["use"] = Use.COLOUR
    for field in ("volume_solids", "dry_film_um", "percent", "sheen"):
        if (value := getattr(entry, field)) is not None:
            change[field] = value
    if entry.colour is not None:
        change["colour"] = entry.colour.srgb
    return base.model_copy(update=change)


def with_own(k: Knowledge, own: Sequence[OwnMaterial]) -> Knowledge:
    """The same knowledge with a plan's own thinners and paints added."""
    if not own:
        return k
    signature = k.signature + "|" + "|".join(sorted(e.model_dump_json() for e in own))
    return _OWN.once(signature, lambda: _with_own(k, own, signature))


def _with_own(k: Knowledge, own: Sequence[OwnMaterial], signature: str) -> Knowledge:
    thinners, coats = dict(k.thinners), dict(k.coats)
    for entry in own:
        if isinstance(entry, OwnThinner):
            thinners[entry.id] = Thinner(
                id=entry.id, name=entry.name, percent=dict(entry.percent), drop_ml=OWN_DROP_ML, own=True
            )
        else:
            coats[entry.id] = own_coat(k, entry)
    return k.with_materials(coats, thinners, signature)


def with_learned(k: Knowledge, learned: Sequence[Learned]) -> Knowledge:
    """The same knowledge with figures that were learned; what is of a paint goes before what is of its system."""
    if not learned:
        return k
    signature = k.signature + "|learned|" + "|".join(sorted(x.model_dump_json() for x in learned))
    return _OWN.once(
        signature,
        lambda: k.with_learned({(x.quantity, x.of): (x.factor, x.sd) for x in learned}, signature),
    )


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
    near = get_close_matches(material_id, sorted(fitting), n=1)
    return f"there is no material '{material_id}'" + (f"; is '{near[0]}' meant?" if near else "")


def own_material_problems(own: Iterable[OwnMaterial]) -> list[Problem]:
    """What is wrong with a plan's own materials: ids that are taken, solvents and paints that are not there."""
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
                what = f"there is no solvent '{solvent}'; known: {', '.join(sorted(known.solvents))}"
                problems.append(Problem(where=f"{where}.percent", what=what))
    return problems
