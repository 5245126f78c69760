"""What must hold of attack whatever the materials: cure, barriers, distance, wetness, all else equal."""

from dataclasses import replace
from unittest import TestCase

from emvar_core.judging import conditions_of, lay
from emvar_core.knowledge import knowledge
from emvar_core.physics.blend import Blend, blend_of
from emvar_core.physics.hansen import log_d_of_red, power_of_red, power_on
from emvar_core.plan import step_times
from emvar_core.seams.meeting import Meeting
from emvar_core.seams.reach import bite_um
from emvar_core.seams.registry import REGISTRY
from emvar_core.seams.severity import level_of
from emvar_core.seams.situation import METHODS, Landing, Layer
from emvar_core.vocabulary import Contact, Edge, FilmClass
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from tests.builders import DAY, plan
from tests.lengths import at_length

K = knowledge()
THINNERS = sorted(K.thinners)
FILMS = sorted(m for m in K.coats if K.system_of(m).film not in (FilmClass.LOOSE, FilmClass.UNKNOWN))


def layer(material: str, film_um: float = 15) -> Layer:
    """A coat as a plan lays it, on resin, ended at minute 0 in reference air."""
    from tests.builders import coat

    made = plan([coat("a", material, dry_film_um=film_um)], build={"base_material": "resin"})
    times = step_times(made)
    laid = lay(conditions_of(made, times), made.steps[0], times["a"])  # type: ignore[arg-type]
    return replace(laid.layer, coverage=1.0)


def landing(thinner: str, wet_s: float = 60, rub: float = 0.3, liquid_um: float = 25) -> Landing:
    blend = blend_of(K.thinners[thinner])
    return Landing(
        contact=Contact.WORK, method=None, liquid_um=liquid_um, wet_s=wet_s, rub=rub,
        **Landing.liquid(K, blend),
    )  # fmt: skip


# What the carrier itself does to a film that it gets into.
ATTACKS = [REGISTRY.by_id[i] for i in ("craze", "lift", "reopen", "swell", "wrinkle", "unknown_opened")]
BASE = Layer(None, "Resin", 1000, 1.0, None, substrate=K.substrates["resin"])


def worst(top: Landing, *layers: Layer, at: float, on: int | None = None) -> float:
    m = Meeting(K, top, (*layers, BASE), 0, at)
    found = [f for x in ATTACKS for f in x.judge(m.view(x.reads), at, Edge.LATE)]
    return max((f.severity for f in found if on is None or f.layer == on), default=0.0)


class Attack(TestCase):
    @settings(max_examples=at_length(15, 60))
    @given(st.sampled_from(FILMS), st.sampled_from(THINNERS), st.floats(14, 200), st.floats(1.1, 5))
    def test_above_the_half_cured_band_more_cure_never_raises_it(
        self, below: str, thinner: str, days: float, more: float
    ) -> None:
        film = layer(below)
        assume(film.degree(days * DAY, Edge.LATE) > 0.9)
        young, old = (worst(landing(thinner), film, at=d * DAY) for d in (days, days * more))
        self.assertLessEqual(old, young + 1e-9)

    @settings(max_examples=at_length(15, 60))
    @given(st.sampled_from(FILMS), st.sampled_from(THINNERS), st.floats(0.02, 40), st.floats(1.1, 8))
    def test_wetter_for_longer_is_never_milder(self, below: str, thinner: str, days: float, more: float) -> None:
        film = layer(below)
        short, long = (worst(landing(thinner, wet_s=s), film, at=days * DAY, on=0) for s in (20, 20 * more))
        self.assertGreaterEqual(long, short - 1e-9)

    @settings(max_examples=at_length(15, 60))
    @given(st.sampled_from(FILMS), st.sampled_from(THINNERS), st.floats(0.02, 40), st.floats(0.05, 0.9))
    def test_rubbing_harder_is_never_milder(self, below: str, thinner: str, days: float, rub: float) -> None:
        film = layer(below)
        gentle, hard = (worst(landing(thinner, rub=r), film, at=days * DAY) for r in (rub, min(rub * 1.5, 1.0)))
        self.assertGreaterEqual(hard, gentle - 1e-9)

    @settings(max_examples=at_length(15, 60))
    @given(
        st.sampled_from(FILMS),
        st.sampled_from(["lacquer_clear", "alcohol_acrylic_clear", "waterborne_clear"]),
        st.sampled_from(THINNERS),
        st.floats(0.5, 30),
    )
    def test_an_intact_cured_barrier_never_raises_attack_on_what_lies_below(
        self, below: str, barrier: str, thinner: str, days: float
    ) -> None:
        film, between = layer(below), layer(barrier)
        assume(K.system_of(below).film is not FilmClass.WATER_SOLUBLE)
        bare = worst(landing(thinner), film, at=days * DAY, on=0)
        covered = worst(landing(thinner), between, film, at=days * DAY, on=1)
        self.assertLessEqual(covered, bare + 1e-9)

    def test_a_lower_red_never_opens_less(self) -> None:
        values = [i / 50 for i in range(20, 100)]
        for nearer, farther in zip(values, values[1:], strict=False):
            self.assertGreaterEqual(power_of_red(nearer), power_of_red(farther))
            self.assertGreaterEqual(log_d_of_red(nearer), log_d_of_red(farther))

    def test_breakthrough_takes_the_square_of_the_thickness(self) -> None:
        """t = L²/2D: at D = 1e-13 m²/s, 10 µm are crossed in 500 s."""
        self.assertAlmostEqual(bite_um(-13, 500), 10, places=6)
        self.assertAlmostEqual(bite_um(-13, 2000), 20, places=6)

    def test_oxidising_films_show_their_bump(self) -> None:
        for material in ("enamel_colour", "artists_oil"):
            film = layer(material)
            ages = [0.002, 0.5, 2, 60, 600]
            found = [worst(landing("hot_thinner", rub=0.1), film, at=d * DAY) for d in ages]
            peak = found.index(max(found))
            self.assertTrue(0 < peak < len(ages) - 1, (material, found))

    def test_evaporating_films_never_become_safe_for_their_own_solvent(self) -> None:
        for material, own in [("lacquer_colour", "mild_thinner"), ("alcohol_acrylic_colour", "isopropanol")]:
            self.assertGreater(worst(landing(own, rub=0.6), layer(material), at=365 * DAY), 0.4)

    def test_nothing_wet_attacks_nothing(self) -> None:
        dry = replace(landing("hot_thinner"), blend=Blend(()), wet_s=0, liquid_um=0)
        for material in FILMS:
            self.assertEqual(worst(dry, layer(material), at=10), 0)

    def test_water_leaves_every_set_film_alone_but_the_soluble_ones(self) -> None:
        for material in FILMS:
            system = K.system_of(material)
            power = power_on(K, Blend.of({"water": 1}), system).power
            wet = system.film is FilmClass.WATER_SOLUBLE or "water" in system.opened_by
            self.assertEqual(power > 0, wet, material)


class Methods(TestCase):
    def test_every_method_has_its_facts_and_they_rank(self) -> None:
        for facts in METHODS.values():
            self.assertTrue(0 <= facts.arrives <= 1 and 0 <= facts.rub <= 1)
        rubs = [METHODS[m].rub for m in ("mist", "spray", "wet_spray", "brush", "scrub")]  # type: ignore[index]
        self.assertEqual(rubs, sorted(rubs))


class Unknown(TestCase):
    @settings(max_examples=at_length(30, 120))
    @given(
        st.sampled_from(FILMS),
        st.sampled_from(THINNERS),
        st.floats(0.01, 60),
        st.floats(20, 600),
        st.floats(4, 60),
        st.floats(0.05, 1.0),
    )
    def test_unknown_never_beats_known(
        self, below: str, thinner: str, days: float, wet_s: float, liquid_um: float, rub: float
    ) -> None:
        """Whatever a film turns out to be, taking it as unknown has not been the safer verdict."""
        top = landing(thinner, wet_s=wet_s, liquid_um=liquid_um, rub=rub)
        known, unknown = (worst(top, layer(m), at=days * DAY) for m in (below, "unknown_paint"))
        self.assertLessEqual(level_of(known).grave, level_of(unknown).grave)
