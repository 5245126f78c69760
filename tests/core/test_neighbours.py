"""Neighbours: a gentler method is never told graver, a thicker barrier never worse, an older film never more in danger.

No published source: what must hold whatever the figures are. Random stacks of the shipped materials.
"""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.judging.outcome import SeamOut
from emvar_core.knowledge import knowledge
from emvar_core.physics.blend import Blend
from emvar_core.physics.hansen import crazing
from emvar_core.seams.severity import level_of
from emvar_core.vocabulary import FilmClass
from hypothesis import assume, example, given, settings
from hypothesis import strategies as st

from tests.builders import DAY, coat, mix, plan
from tests.lengths import at_length

K = knowledge()
FILMS = sorted(m for m in K.coats if K.system_of(m).film not in (FilmClass.LOOSE, FilmClass.UNKNOWN, FilmClass.RUBBED))
DRIES = [m for m in FILMS if K.system_of(m).film in (FilmClass.EVAPORATING, FilmClass.DISPERSION)]
BARRIERS = ["lacquer_primer", "waterborne_clear", "alcohol_acrylic_clear", "pu_acrylic_primer", "enamel_primer"]
TOPS = [
    ("lacquer_colour", "hot_thinner"), ("lacquer_clear", "mild_thinner"), ("enamel_colour", "white_spirit"),
    ("alcohol_acrylic_colour", "alcohol_acrylic_thinner"), ("waterborne_colour", "water_flow"),
    ("picture_varnish", "white_spirit"),
]  # fmt: skip
GENTLE_FIRST = ["mist", "spray", "wet_spray", "flood"]


def gravest(steps: list[dict[str, Any]], temp_c: float = 20.0, base: str = "resin") -> SeamOut:
    """The gravest thing that the last step meets."""
    made = plan(steps, build={"base_material": base}, air={"day": {"temp_c": temp_c, "rh_pct": 50}})
    seams = [s for s in assess(made).seams.values() if s.upper_step == steps[-1]["id"]]
    return max(seams, key=lambda s: (s.verdict.grave, max((f.severity for f in s.findings), default=0)))


class Neighbours(TestCase):
    @settings(max_examples=at_length(38, 150))
    @given(st.sampled_from(FILMS), st.floats(0.04, 40), st.sampled_from(TOPS), st.floats(8, 30))
    def test_a_gentler_method_is_never_told_graver(
        self, below: str, days: float, top: tuple[str, str], temp: float
    ) -> None:
        paint, thinner = top
        told = []
        for method in GENTLE_FIRST:
            step = coat("b", paint, days * DAY, method=method, mix=mix(paint, thinner, 1, 2))
            told.append(gravest([coat("a", below, coverage=1.0), step], temp))
        graves = [s.verdict.grave for s in told]
        self.assertEqual(graves, sorted(graves), [(s.verdict.value, s.word) for s in told])

    @settings(max_examples=at_length(20, 80))
    @given(
        st.sampled_from(BARRIERS), st.sampled_from([None, ("artists_oil", 12, 4), ("enamel_colour", 18, 3)]),
        st.sampled_from(TOPS), st.sampled_from(["spray", "wet_spray"]),
    )  # fmt: skip
    def test_a_thicker_barrier_is_never_worse_for_what_lies_under_it(
        self, barrier: str, under: tuple[str, float, float] | None, top: tuple[str, str], method: str
    ) -> None:
        paint, thinner = top
        under_it = []  # how grave it is for what lies under the barrier, whatever befalls the barrier itself
        for film in (3, 6, 12, 20, 30):
            steps = [coat("a", barrier, under[2] * DAY if under else 0, dry_film_um=film)]
            if under:
                steps = [coat("u", under[0], dry_film_um=under[1], coverage=1.0), *steps]
            step = coat("b", paint, 30 * DAY, method=method, mix=mix(paint, thinner, 1, 2))
            seam = gravest([*steps, step], base="polystyrene")
            below = [f.severity for f in seam.findings if f.step_id != "a"]
            under_it.append(level_of(max(below, default=0.0)).grave)
        self.assertEqual(under_it, sorted(under_it, reverse=True))

    @settings(max_examples=at_length(20, 80))
    @given(st.sampled_from(DRIES), st.sampled_from(TOPS), st.sampled_from([*GENTLE_FIRST, "brush"]))
    def test_what_dries_by_itself_is_never_in_more_danger_when_older(
        self, below: str, top: tuple[str, str], method: str
    ) -> None:
        paint, thinner = top
        graves = []
        for age in (30, 120, 480, DAY, 3 * DAY, 10 * DAY, 40 * DAY):
            step = coat("b", paint, age, method=method, mix=mix(paint, thinner, 1, 2))
            graves.append(gravest([coat("a", below, coverage=1.0), step]).verdict.grave)
        self.assertEqual(graves, sorted(graves, reverse=True))

    @settings(max_examples=at_length(15, 60))
    @given(st.sampled_from(sorted(K.substrates)), st.floats(0, 1), st.floats(0, 1))
    def test_more_of_a_stronger_solvent_never_crazes_less(self, base: str, one: float, other: float) -> None:
        less, more = sorted((one, other))
        found = [
            crazing(K, Blend.of({"toluene": share, "decane": 1.001 - share}), K.substrates[base])
            for share in (less, more)
        ]
        if K.substrates[base].crazed_by.get("aromatic", 0) >= K.substrates[base].crazed_by.get("aliphatic", 0):  # type: ignore[call-overload]
            self.assertLessEqual(found[0], found[1] + 1e-9)

    @settings(max_examples=at_length(15, 60))
    @given(st.sampled_from(FILMS), st.floats(5, 30), st.floats(0.5, 8))
    def test_a_warmer_bench_never_makes_a_wait_longer(self, below: str, temp: float, more: float) -> None:
        steps = [coat("a", below, coverage=1.0), coat("b", "waterborne_colour", 5)]
        cold, warm = (gravest(steps, here) for here in (temp, temp + more))
        if (
            (cold.word, cold.eventual) == (warm.word, warm.eventual)
            and cold.opens_careful_min
            and warm.opens_careful_min
        ):
            self.assertLessEqual(warm.opens_careful_min, cold.opens_careful_min * 1.04 + 2)


class NoJumps(TestCase):
    """A small change of any input, two per cent, makes nothing that is told much graver or milder."""

    MOST = 0.25  # of severity: one step, from nothing to a caution, and a little
    # Rules of practice for before and after an instant, such as "not before it is dry to the touch": they step there,
    # and the instants themselves are tested for jumps where they are made.
    AT_AN_INSTANT = frozenset({"still_wet", "too_early"})

    def told(self, materials: tuple[str, str], base: str, **x: float) -> dict[tuple[str | None, str], float]:
        lower, upper = materials
        steps = [coat("a", lower, dry_film_um=x["lower_um"]), coat("b", upper, x["wait"], dry_film_um=x["upper_um"])]
        air = {"day": {"temp_c": x["temp_c"], "rh_pct": x["rh_pct"]}}
        found: dict[tuple[str | None, str], float] = {}
        for seam in assess(plan(steps, build={"base_material": base}, air=air), opens=False).seams.values():
            for f in seam.findings if seam.upper_step == "b" else ():
                key = (seam.lower_step, f.mechanism)
                found[key] = max(found.get(key, 0.0), f.severity)
        return found

    @settings(max_examples=at_length(60, 1_500))
    @example("waterborne_colour", "waterborne_colour", "resin", 1.0, 1.0, 4.0, 14.9, 50.0)  # just too cold
    @example("lacquer_clear", "alcohol_acrylic_colour", "resin", 1.0, 1.0, 4.0, 20.0, 67.5)  # just too damp
    @given(
        st.sampled_from(FILMS), st.sampled_from(FILMS), st.sampled_from(["resin", "polystyrene"]),
        st.floats(0.5, 2), st.floats(0.5, 2), st.floats(0.5, 4.5), st.floats(12, 29), st.floats(25, 80),
    )  # fmt: skip
    def test_nothing_told_jumps(
        self, lower: str, upper: str, base: str, thick: float, thicker: float, wait: float, temp: float, rh: float
    ) -> None:
        x = {
            "lower_um": K.coats[lower].dry_film_um * thick, "upper_um": K.coats[upper].dry_film_um * thicker,
            "wait": 10**wait, "temp_c": temp, "rh_pct": rh,
        }  # fmt: skip
        assume(all(x[f] < 900 for f in ("lower_um", "upper_um")))
        # The same system over itself: the early window closes at an instant too.
        own = {"wrinkle"} if K.system_of(lower) is K.system_of(upper) else set()
        here = self.told((lower, upper), base, **x)
        for what, value in x.items():
            there = self.told((lower, upper), base, **x | {what: value * 1.02})
            for key in here.keys() | there.keys():
                if key[1] not in self.AT_AN_INSTANT | own:
                    change = abs(here.get(key, 0.0) - there.get(key, 0.0))
                    self.assertLessEqual(change, self.MOST, (what, key))
