"""Another material in a coat's place: what the coat keeps, and what it cannot keep, said in words."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from ..errors import NotThere
from ..knowledge import Coat, Knowledge
from ..physics.cup import cup_of
from ..plan import AnyEdit, CoatStep, Mix, default_mix, renamed, technique_of
from ..plan.edits import SetField
from ..vocabulary import METHOD_WORDS, FilmClass, Method, Role, Unit, Use, Verdict
from .recipe import cup_remarks, limit_remarks

FILM_KEPT = 5.0  # a film is kept if it is not so many times as thick or thin as the new material's usual (assumption)
DRY_METHODS = (Method.DUST, Method.DRY_BRUSH, Method.SPONGE)
THICK_METHODS = (Method.BRUSH, Method.SPONGE, Method.PLACE)


@dataclass(frozen=True)
class Replaced:
    """The edits that put another material into a coat's place, what stays, and what cannot, each in a few words."""

    edits: tuple[AnyEdit, ...]
    kept: tuple[str, ...]
    lost: tuple[str, ...]


def methods_of(k: Knowledge, coat: Coat) -> tuple[Method, ...]:
    """The ways in which a material can be put on at all."""
    if coat.use is Use.MARKING or coat.method is Method.CAN:
        return (coat.method,)
    if k.systems[coat.system].film in (FilmClass.LOOSE, FilmClass.RUBBED) and not coat.percent:
        return tuple(dict.fromkeys((coat.method, *DRY_METHODS)))
    if coat.use in (Use.PASTE, Use.PUTTY):
        return tuple(dict.fromkeys((coat.method, *THICK_METHODS)))
    return tuple(m for m in Method if m not in (Method.CAN, Method.PLACE, Method.DUST))


def replaced(k: Knowledge, step: CoatStep, material_id: str) -> Replaced:
    """Edits that change a coat's material and keep how, where and how much of it the plan says, where that can be.

    Raises NotThere where there is no such material.
    """
    new, old = k.coats.get(material_id), k.coats[step.material]
    if new is None:
        raise NotThere("material", material_id)
    edits: list[AnyEdit] = [SetField(step_id=step.id, field="material", value=new.id)]
    kept: list[str] = []
    lost: list[str] = []

    def settle(field: str, value: Any, stays: bool, words: str, why: str) -> None:
        if value is None:
            return
        if stays:
            kept.append(words)
        else:
            edits.append(SetField(step_id=step.id, field=field, absent=True))
            lost.append(f"{words}: {why}")

    name = new.name.lower()
    method = step.method
    if method is not None:
        change = f"{METHOD_WORDS[method]} before, {METHOD_WORDS[new.method]} now"
        settle("method", method, method in methods_of(k, new), "how it is put on", change)
    film = step.dry_film_um
    fits = film is not None and new.dry_film_um / FILM_KEPT <= film <= new.dry_film_um * FILM_KEPT
    settle("dry_film_um", film, fits, f"{film or 0:g} µm dry", f"{name} is laid at about {new.dry_film_um:g} µm")
    settle("passes", step.passes, True, f"{step.passes} passes", "")
    settle("coverage", step.coverage, True, f"{step.coverage or 0:.0%} of the zone", "")
    if step.coverage_by_zone:
        kept.append("how much of each zone")
    sheens = new.sheens or [new.sheen]
    settle(
        "sheen", step.sheen, step.sheen in sheens, f"{_words(step.sheen)} sheen",
        f"{name} dries {' or '.join(s.value for s in sheens)}",
    )  # fmt: skip
    oily = k.systems[new.system].film is FilmClass.OXIDISING
    settle("pigment_dries", step.pigment_dries, oily, "how its pigment dries", f"no pigment changes how {name} dries")
    settle("measured", step.measured, False, "what was measured in the cup", "it was another mix")
    _settle_mix(k, step, old, new, edits, kept, lost)
    edits += renamed(step, old, new)
    return Replaced(tuple(edits), tuple(kept), tuple(lost))


def _settle_mix(
    k: Knowledge, step: CoatStep, old: Coat, new: Coat, edits: list[AnyEdit], kept: list[str], lost: list[str]
) -> None:
    """The mix stays in its proportions where the new paint bears its liquids; else its own usual mix is taken."""
    if step.mix is None:
        return
    usual = default_mix(k, new.id)
    if _same(step.mix, default_mix(k, old.id)):
        _take(step, usual, edits)
        return
    parts = [p.model_copy(update={"material": new.id}) if p.material == old.id else p for p in step.mix.parts]
    same = step.mix.model_copy(update={"parts": parts})
    if _bears(k, step, new, same):
        _take(step, same, edits)
        kept.append("the mix")
        return
    own = new.thin_with or new.let_down_with
    technique = technique_of(k, step)
    if own is not None and technique is not None and technique.thinner is not None:
        thinned = [
            p.model_copy(update={"material": own}) if p.role is Role.THINNER and p.material in k.thinners else p
            for p in parts
        ]
        other = step.mix.model_copy(update={"parts": thinned})
        if _bears(k, step, new, other):
            _take(step, other, edits)
            lost.append(f"its thinner: {new.name.lower()} is thinned with {k.thinners[own].name.lower()}, as far")
            return
    _take(step, usual, edits)
    lost.append(
        f"its mix: {new.name.lower()} is mixed as usual" if usual else f"its mix: {new.name.lower()} is used neat"
    )


def _take(step: CoatStep, mix: Mix | None, edits: list[AnyEdit]) -> None:
    if mix is None:
        edits.append(SetField(step_id=step.id, field="mix", absent=True))
    else:
        edits.append(SetField(step_id=step.id, field="mix", value=mix.model_dump(mode="json", exclude_unset=True)))


def _same(mix: Mix, other: Mix | None) -> bool:
    return other is not None and mix.model_dump() == other.model_dump()


def _bears(k: Knowledge, step: CoatStep, coat: Coat, mix: Mix) -> bool:
    """Whether nothing is said against a mix in the cup."""
    if mix.parts[0].unit is Unit.GRAMS and len(mix.parts) > 1:
        return False  # weights were of the other paint
    if k.systems[coat.system].film in (FilmClass.DECAL, FilmClass.LOOSE, FilmClass.RUBBED):
        return False
    tried = step.model_copy(update={"material": coat.id, "mix": mix})
    cup = cup_of(k, tried)
    fits = [*cup_remarks(k, tried, coat, cup), *limit_remarks(k, tried, coat, cup)]
    return all(said.verdict is Verdict.SOUND for said in fits)


def _words(value: Any) -> str:
    return str(value or "").replace("_", " ")
