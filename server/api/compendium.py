"""The API of what is known: materials, techniques, the words of the trade, and what a plan brings with it."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest
from emvar_core.errors import NotThere
from emvar_core.knowledge import USUAL_BASE, Coat, Knowledge, Thinner, knowledge
from emvar_core.mix_and_spray.small_tools import UNITS
from emvar_core.plan import CoatStep, apply, default_mix, edits_json, known_to, put
from emvar_core.reading.compendium import Compendium, compendium
from emvar_core.reading.words import Words, Work, words, works_of
from emvar_core.remarks import replaced
from emvar_core.seams.severity import CAUTION_FROM, CLASH_FROM
from emvar_core.vocabulary import SCHOOL_SIDES, Method, ThinnerRole
from ninja import Router, Schema
from pydantic import Field

from .answers import Problems, answer
from .builds_at_times import plan_of

router = Router()


class MaterialOut(Schema):
    id: str
    name: str
    words: str
    use: str
    system: str
    system_name: str
    film: str
    dry_film_um: float
    sheen: str
    sheens: list[str]
    method: Method
    coverage: float
    colour: str
    passes: int
    mix: dict[str, Any] | None
    works: list[Work]


class ThinnerOut(Schema):
    id: str
    name: str
    words: str


class LiquidOut(ThinnerOut):
    """A liquid for the cup; what hardens goes into its own paint only, and onto nothing."""

    hardens: bool


class TouchOut(ThinnerOut):
    serves: list[str]


class TechniqueOut(Schema):
    """A technique as it is found and told at a step; the compendium has the rest."""

    id: str
    name: str
    words: str
    stage: int
    summary: str
    recipe: str
    tool: str
    window: str
    rescue: str
    traps: list[str]
    swatch: str | None


class SolventOut(Schema):
    id: str
    name: str
    family: str


class AppearanceOut(Schema):
    id: str
    name: str


class KnowledgeOut(Schema):
    coats: list[MaterialOut]
    thinners: list[LiquidOut]
    substrates: list[ThinnerOut]
    touches: list[TouchOut]
    solvents: list[SolventOut]
    appearances: list[AppearanceOut]
    schools: dict[str, list[str]]
    words: Words
    converts: list[str]
    usual_base: str
    caution_from: float
    clash_from: float


class OwnOut(Schema):
    """A plan's own materials, told as the others are."""

    coats: list[MaterialOut]
    thinners: list[LiquidOut]


class PutIn(Schema):
    technique: str = Field(max_length=40)
    zones: list[str] = Field(max_length=64)
    index: int = Field(ge=0, le=2000)


class PutOut(Schema):
    edits: list[dict[str, Any]]


class ReplaceIn(Schema):
    step: str = Field(max_length=40)
    material: str = Field(max_length=40)


class ReplaceOut(Schema):
    """The edits that put another material into a coat's place; what stays, and what cannot, in a few words each."""

    edits: list[dict[str, Any]]
    kept: list[str]
    lost: list[str]


def _material(k: Knowledge, coat: Coat) -> MaterialOut:
    mix, system = default_mix(k, coat.id), k.systems[coat.system]
    plain = {"id", "name", "words", "use", "system", "dry_film_um", "coverage", "colour", "passes"}
    return MaterialOut(
        **coat.model_dump(include=plain),
        system_name=system.name,
        film=system.film.value,
        sheen=coat.sheen.value,
        sheens=[s.value for s in coat.sheens],
        method=coat.method,
        mix=mix.model_dump(mode="json") if mix else None,
        works=works_of(k, coat),
    )


def _liquid(t: Thinner) -> LiquidOut:
    return LiquidOut(id=t.id, name=t.name, words=t.words, hardens=t.is_a(ThinnerRole.HARDENS))


@router.get("/knowledge", response=KnowledgeOut)
def what_is_known(request: HttpRequest) -> Any:
    """What every view needs; the techniques are asked for apart, since nothing is drawn with them."""
    k = knowledge()
    return KnowledgeOut(
        coats=[_material(k, coat) for coat in k.coats.values()],
        thinners=[_liquid(t) for t in k.thinners.values()],
        substrates=[ThinnerOut(id=s.id, name=s.name, words=s.words) for s in k.substrates.values()],
        touches=[
            TouchOut(id=t.id, name=t.name, words=t.words, serves=[a.value for a in t.serves])
            for t in k.touches.values()
        ],
        solvents=[
            SolventOut(id=s.id, name=s.name, family=s.family.value.replace("_", " ")) for s in k.solvents.values()
        ],
        appearances=[AppearanceOut(id=key, name=f.name) for key, f in k.faults.items()],
        schools={pair.value: list(sides) for pair, sides in SCHOOL_SIDES.items()},
        words=words(k),
        converts=list(UNITS),
        usual_base=USUAL_BASE,
        caution_from=CAUTION_FROM,
        clash_from=CLASH_FROM,
    )


@router.get("/techniques", response=list[TechniqueOut])
def list_techniques(request: HttpRequest) -> Any:
    """The techniques, to be found and put into a plan."""
    k = knowledge()
    found = []
    for t in k.techniques.values():
        colours = [k.coats[s.material].colour for s in t.steps if s.kind == "coat" and s.material]
        read = {"id", "name", "words", "stage", "summary", "recipe", "tool", "window", "rescue", "traps"}
        found.append(TechniqueOut(**t.model_dump(include=read), swatch=colours[-1] if colours else None))
    return found


@router.get("/compendium", response=Compendium)
def read_compendium(request: HttpRequest) -> Any:
    """Every material and technique, for reading: the same data that judges."""
    return answer(Compendium, compendium())


@router.get("/builds/{build_id}/materials", response={200: OwnOut, 404: Problems})
def own_materials(request: HttpRequest, build_id: str) -> Any:
    """The materials that a plan brings with it."""
    k = known_to(plan_of(build_id))
    return OwnOut(
        coats=[_material(k, c) for c in k.coats.values() if c.own],
        thinners=[_liquid(t) for t in k.thinners.values() if t.own],
    )


@router.post("/builds/{build_id}/technique", response={200: PutOut, 404: Problems, 422: Problems})
def technique_edits(request: HttpRequest, build_id: str, body: PutIn) -> Any:
    """The edits that would put a technique into the plan; nothing is changed yet."""
    plan = plan_of(build_id)
    edits = put(plan, body.technique, body.zones, body.index)
    apply(plan, edits)
    return PutOut(edits=edits_json(edits))


@router.post("/builds/{build_id}/replace", response={200: ReplaceOut, 404: Problems, 422: Problems})
def replace_edits(request: HttpRequest, build_id: str, body: ReplaceIn) -> Any:
    """The edits that would change a coat's material and keep what can stay; nothing is changed yet."""
    plan = plan_of(build_id)
    step = plan.step(body.step)
    if not isinstance(step, CoatStep):
        raise NotThere("coat", body.step)
    replacing = replaced(known_to(plan), step, body.material)
    apply(plan, replacing.edits)
    return ReplaceOut(edits=edits_json(replacing.edits), kept=list(replacing.kept), lost=list(replacing.lost))
