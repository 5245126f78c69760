"""A step judged against its mix and its technique: what the cup does, what the recipe allows, what the scale bears.

These are remarks on a step, not seams: nothing below decides them. Limits are common practice.
"""

from __future__ import annotations

from collections.abc import Iterator

from ..knowledge import Coat, Knowledge, System, Technique
from ..physics.blend import Blend, Cup, carrier_share
from ..physics.cup import cup_of
from ..plan import CoatStep, coverage_of, method_of, technique_of
from ..vocabulary import PRACTICE, Basis, FilmClass, Kind, Method, Role, School, SolventFamily, ThinnerRole, Verdict
from .remark import Said

MOST_RETARDER, MOST_RETARDER_SPECKS, FOR_GOOD = 0.10, 0.25, 1 / 3  # share of the mix (common practice)
LEAST_CARRIER = 0.45  # share of what a technique is carried by from which it is that
MUCH = 0.3  # coverage from which a dry brush is more than relief
TRACE = 0.05  # share of the liquid up to which a foreign solvent is not told (assumption)
SPECKS = {Method.SPONGE, Method.SPECKLE, Method.DRY_BRUSH}


def cup_remarks(k: Knowledge, step: CoatStep, coat: Coat, cup: Cup) -> Iterator[Said]:
    """Whether the cup itself holds together."""
    system = k.systems[coat.system]
    if system.film is FilmClass.UNKNOWN:
        if step.mix is not None:
            yield Said(
                "cup",
                Verdict.CAUTION,
                "unknown",
                f"What {coat.name.lower()} bears in the cup is not known.",
                "Try a few drops of each in a spare cup and wait ten minutes: no grains, no threads, no two layers.",
                basis=Basis.UNKNOWN,
                rests_on="nothing: an unnamed paint is never taken to bear a thinner",
            )
        return
    if (said := _foreign(k, coat, system, cup) or _untried(k, coat, system, cup)) is not None:
        yield said
        return
    others = {k.coats[p.material].system for p in (step.mix.parts if step.mix else ()) if p.material in k.coats}
    if others - {coat.system}:
        names = " and ".join(sorted(k.systems[s].name.lower() for s in others | {coat.system}))
        yield Said(
            "systems",
            Verdict.CAUTION,
            "two systems",
            f"Two paint systems in one cup: {names}. How the mixed film hardens is not known.",
            "Keep a cup to one system.",
            basis=Basis.UNKNOWN,
            rests_on="nothing measured; the film is judged as the step's own material",
        )


def _foreign(k: Knowledge, coat: Coat, system: System, cup: Cup) -> Said | None:
    """A solvent family that is known to do it harm, past what it bears."""
    shares = cup.carrier.family_shares(k)
    limits = sorted(system.cup.limits.items(), key=lambda f: -shares.get(f[0], 0) / max(f[1][1], 1e-9))
    for family, (doubtful, fails) in limits:
        share = shares.get(family, 0.0)
        if share <= doubtful + 1e-9:
            continue
        failed = share > fails
        word = _goes(system)
        return Said(
            "cup",
            Verdict.CLASH if failed else Verdict.CAUTION,
            word if failed else f"may {word.removesuffix('s')}",
            f"{coat.name} {word if failed else 'may ' + word.removesuffix('s')} in the cup: {share:.0%} of its liquid "
            f"is {_family(family)}, and it bears about {doubtful:.0%}.",
            "Use the thinner of its own system; try any other in a spare cup first and wait ten minutes.",
            basis=Basis.RULE,
            rests_on=f"share of a foreign solvent family in the liquid of the mix; {PRACTICE}",
        )
    return None


def _untried(k: Knowledge, coat: Coat, system: System, cup: Cup) -> Said | None:
    """A solvent family of which nothing is known in this paint, beyond what its usual mix holds of it anyway."""
    shares = cup.carrier.family_shares(k)
    usual = _usual_liquid(k, coat).family_shares(k)
    beyond = {f: shares.get(f, 0.0) - usual.get(f, 0.0) for f in system.cup.untried}
    family = max(beyond, key=lambda f: beyond[f], default=None)
    if family is None or beyond[family] <= TRACE:
        return None
    return Said(
        "cup",
        Verdict.CAUTION,
        "not known",
        f"What {coat.name.lower()} does with {_family(family)} in the cup is not known: it is {shares[family]:.0%} of "
        "its liquid.",
        "Try it in a cup: a few drops of each, and wait ten minutes; no grains, no threads, no two layers.",
        basis=Basis.UNKNOWN,
        rests_on="nothing: no limit for this solvent family is known in this paint system",
    )


def _usual_liquid(k: Knowledge, coat: Coat) -> Blend:
    """The liquid of a paint as it is usually mixed."""
    return cup_of(k, CoatStep(id="usual", name="usual", zones=["usual"], material=coat.id)).carrier


def _goes(system: System) -> str:
    if system.film is FilmClass.DISPERSION:
        return "curdles"
    return "splits" if system.film is FilmClass.OXIDISING else "clouds"


def _family(family: SolventFamily) -> str:
    return "white spirit" if family is SolventFamily.ALIPHATIC else family.value.replace("_", " ")


def limit_remarks(k: Knowledge, step: CoatStep, coat: Coat, cup: Cup) -> Iterator[Said]:
    """Water and retarder past what the paint bears, as shares of the mix."""
    system = k.systems[coat.system]
    limit = system.water_limit
    if limit is not None and cup.water_share > limit + 0.005:
        yield Said(
            "water",
            Verdict.CAUTION,
            "too thin",
            f"{cup.water_share:.0%} water is past the {limit:.0%} that it bears: its binder thins out and it crawls or "
            "rubs off.",
            "Use thinning medium for the rest.",
        )
    parts = step.mix.parts if step.mix else ()
    retarders = {t.id for t in k.thinners_that(ThinnerRole.RETARDS)}
    slow = sum(p.amount for p in parts if p.role is Role.RETARDER or p.material in retarders)
    whole = sum(p.amount for p in parts) or 1.0
    most = MOST_RETARDER_SPECKS if method_of(k, step) in SPECKS else MOST_RETARDER
    if slow / whole > most + 0.005 and coat.coverage * (step.coverage or 1) > 0.1:
        yield Said(
            "retarder",
            Verdict.CLASH if slow / whole > FOR_GOOD else Verdict.CAUTION,
            "stays tacky",
            f"{slow / whole:.0%} retarder: films with more than about {most:.0%} stay tacky for days, and with more "
            f"than {FOR_GOOD:.0%} for good.",
            "Use less, or a slower thinner.",
        )


def technique_remarks(
    k: Knowledge, step: CoatStep, coat: Coat, cup: Cup, film_um: float, scale: int, schools: dict[School, str]
) -> Iterator[Said]:
    """A coat against the technique it is said to be."""
    technique = technique_of(k, step)
    if step.technique and technique is None:
        yield Said(
            "technique",
            Verdict.SOUND,
            "unknown technique",
            f"'{step.technique}' is no technique that is known here: nothing is judged by it.",
            "Choose one from the compendium, or leave it out.",
            basis=Basis.UNKNOWN,
            rests_on="nothing",
        )
    if technique is None or not technique.is_main(coat.use):
        return
    yield from _recipe(k, step, cup, film_um, technique)
    if technique.mark_mm is not None and technique.real_mm is not None:
        real = technique.mark_mm * scale
        if real > technique.real_mm * 1.001:
            yield Said(
                "scale",
                Verdict.CAUTION,
                "too coarse",
                f"At 1:{scale} its finest mark, about {technique.mark_mm:g} mm, stands for {_size(real)} on the real "
                f"thing; more than {_size(technique.real_mm)} is not believed.",
                "Use a finer way of making the mark, fewer of them, or a tint instead.",
                kind=Kind.LOOK,
                rests_on="mark size times scale; the largest believable size is an assumption",
            )
    chalky = technique.chalky_from_scale
    if chalky is not None and scale >= chalky and coverage_of(step, coat) > MUCH:
        yield Said(
            "scale",
            Verdict.SOUND,
            "chalky",
            f"At 1:{scale} a dry brush over large smooth panels looks chalky.",
            "Keep it to crisp relief.",
            kind=Kind.LOOK,
        )
    if technique.school is not None:
        pair, side = technique.school
        taken = schools.get(pair)
        if taken is not None and taken != side:
            yield Said(
                "school",
                Verdict.SOUND,
                "other school",
                f"“{technique.name}” belongs to the school “{side.replace('_', ' ')}”; this build follows "
                f"“{taken.replace('_', ' ')}”.",
                "Both work; the build's school can be changed.",
                kind=Kind.LOOK,
                rests_on=f"the schools differ; {PRACTICE}",
                school=pair,
            )


def _recipe(k: Knowledge, step: CoatStep, cup: Cup, film_um: float, technique: Technique) -> Iterator[Said]:
    by = technique.carried_by
    if by is not None and cup.carrier.parts and carrier_share(k, cup.carrier, by) < LEAST_CARRIER:
        yield Said(
            "carrier",
            Verdict.CAUTION,
            "wrong carrier",
            f"“{technique.name}” wants {by} as its carrier: {technique.else_}.",
            f"Thin it with {k.carriers[by].words}.",
        )
    if technique.thinner is not None and step.mix is not None:
        least, most = technique.thinner
        if not least - 0.02 <= cup.thinner_share <= most + 0.02:
            much = cup.thinner_share > most
            yield Said(
                "thinning",
                Verdict.CAUTION,
                "too thin" if much else "too thick",
                f"{cup.thinner_share:.0%} thinner is {'more' if much else 'less'} than “{technique.name}” wants: "
                f"{least:.0%} to {most:.0%}.",
                "Mix it to the recipe: " + technique.recipe + ".",
            )
    if technique.film_um is not None:
        least, most = technique.film_um
        if not least <= film_um <= most:
            yield Said(
                "film",
                Verdict.CAUTION,
                "too thick" if film_um > most else "too thin a film",
                f"{film_um:g} µm dry is outside the {least:g} to {most:g} µm that “{technique.name}” wants.",
                "Change the film, the passes or the thinning.",
            )


def _size(mm: float) -> str:
    return f"{mm / 10:.0f} cm" if mm >= 100 else f"{mm:.0f} mm"
