"""What observations teach: against conjugate Bayes by hand, and against modellers whose true factor is known."""

import math
import random
from unittest import TestCase

from emvar_core.at_the_bench.learning import PAINT_SD, SIGMA, SYSTEM_SD, Quantity, Seen, learn
from emvar_core.errors import OutOfRange
from emvar_core.physics.hardening import pick
from emvar_core.plan.known import known_to
from emvar_core.plan.own import Learned
from emvar_core.vocabulary import Edge

from tests.builders import tug

DRY = Quantity.DRYING
S2 = SIGMA["drying"] ** 2


def seen(ratio: float, bound: str = "", paint: str = "a", system: str = "s") -> Seen:
    return Seen(paint, system, ratio, bound)


class AgainstConjugateBayes(TestCase):
    """With neither wild values nor bounds, normal priors and a normal likelihood have a closed form."""

    def test_one_observation(self) -> None:
        prior = SYSTEM_SD**2 + PAINT_SD**2
        weight = prior / (prior + S2)
        found = learn([seen(2.0)], DRY, wild=0)["a"]
        self.assertAlmostEqual(math.log(found.factor), weight * math.log(2), places=2)
        self.assertAlmostEqual(found.sd, math.sqrt(1 / (1 / prior + 1 / S2)), places=3)

    def test_five_observations_and_their_range(self) -> None:
        ys = [math.log(r) for r in (1.4, 1.5, 1.3, 1.6, 1.45)]
        prior = SYSTEM_SD**2 + PAINT_SD**2
        var = 1 / (1 / prior + len(ys) / S2)
        mean = var * sum(ys) / S2
        found = learn([seen(math.exp(y)) for y in ys], DRY, wild=0)["a"]
        self.assertAlmostEqual(math.log(found.factor), mean, places=2)
        self.assertAlmostEqual(math.log(found.high), mean + 1.645 * math.sqrt(var), places=2)

    def test_what_one_paint_teaches_of_its_kin(self) -> None:
        """A paint nobody has seen takes its system's factor: cov(θ_system, y) / var(y) by hand."""
        found = learn([seen(2.0)], DRY, wild=0)["s"]
        weight = SYSTEM_SD**2 / (SYSTEM_SD**2 + PAINT_SD**2 + S2)
        self.assertAlmostEqual(math.log(found.factor), weight * math.log(2), places=2)

    def test_two_paints_of_a_system_by_matrix(self) -> None:
        """Paint b with one observation at 1, paint a with three at 2: the joint normal, solved by hand (2 × 2)."""
        s, p = SYSTEM_SD**2, PAINT_SD**2
        vaa, vbb, vab = s + p + S2 / 3, s + p + S2, s
        ya, yb = math.log(2), 0.0
        det = vaa * vbb - vab * vab
        # E θ_a = [s + p, s] V⁻¹ [ya, yb]
        mean = ((s + p) * (vbb * ya - vab * yb) + s * (vaa * yb - vab * ya)) / det
        found = learn([seen(2.0)] * 3 + [seen(1.0, paint="b")], DRY, wild=0)["a"]
        self.assertAlmostEqual(math.log(found.factor), mean, places=2)


class SimulatedModellers(TestCase):
    """Somebody whose paint dries by a true factor looks at it, mostly well; sometimes too late, sometimes wildly."""

    NOISE = 0.08

    def looked(self, rng: random.Random, true: float, wild: float, censored: float) -> Seen:
        y = math.log(true) + rng.gauss(0, self.NOISE)
        if rng.random() < wild:
            return seen(math.exp(rng.choice([-1, 1]) * rng.uniform(1.2, 2.2)))
        if rng.random() < censored:  # came to look too early, or only afterwards
            off = rng.uniform(0.05, 0.5)
            return seen(math.exp(y - off), "above") if rng.random() < 0.5 else seen(math.exp(y + off), "below")
        return seen(math.exp(y))

    def found(self, true: float, seed: int, wild: float, censored: float, exact_first: int = 6) -> list[float]:
        rng = random.Random(seed)
        looks: list[Seen] = []
        factors = []
        while len(factors) < 14:
            looks.append(self.looked(rng, true, wild, censored))
            if sum(1 for x in looks if not x.bound) >= exact_first:
                factors.append(learn(looks, DRY)["a"].factor)
        return factors

    def test_the_true_factor_is_found_within_a_tenth_after_six_and_never_left(self) -> None:
        for true in (0.5, 0.7, 1.0, 1.4, 2.0):
            for seed in range(8):
                for factor in self.found(true, seed, 0.0, 0.0):
                    self.assertLess(abs(factor / true - 1), 0.1, (true, seed))

    def test_with_what_was_looked_at_too_early_or_too_late(self) -> None:
        for true in (0.5, 1.0, 2.0):
            for seed in range(8):
                for factor in self.found(true, seed, 0.0, 0.4):
                    self.assertLess(abs(factor / true - 1), 0.1, (true, seed))

    def test_single_wild_values_do_not_run_away_with_it(self) -> None:
        for true in (0.5, 1.0, 2.0):
            good = [seen(true * f) for f in (0.95, 1.02, 1.05, 0.98, 1.0, 1.03)]
            for odd in (8.0, 0.1):
                with_it = learn([*good, seen(true * odd)], DRY)["a"].factor
                self.assertLess(abs(with_it / true - 1), 0.1, (true, odd))
        # One that is only a little off still counts.
        self.assertGreater(
            learn([seen(1.0)] * 6 + [seen(1.2)], DRY)["a"].factor, learn([seen(1.0)] * 7, DRY)["a"].factor
        )

    def test_ranges_shrink_with_what_is_seen_and_hold_the_truth_nine_times_in_ten(self) -> None:
        widths, inside, of = [], 0, 0
        for seed in range(60):
            rng = random.Random(1000 + seed)
            system = rng.gauss(0, SYSTEM_SD)
            true = math.exp(system + rng.gauss(0, PAINT_SD))
            looks = [seen(true * math.exp(rng.gauss(0, SIGMA["drying"]))) for _ in range(6)]
            found = learn(looks, DRY)["a"]
            inside += found.low <= true <= found.high
            of += 1
            widths.append((learn(looks[:1], DRY)["a"].sd, found.sd))
        self.assertTrue(all(b < a for a, b in widths))
        self.assertGreater(inside / of, 0.8)

    def test_still_wet_pushes_up_and_never_down(self) -> None:
        before = learn([seen(1.0)], DRY)["a"].factor
        self.assertGreater(learn([seen(1.0), seen(1.5, "above")], DRY)["a"].factor, before)
        self.assertLess(learn([seen(1.0), seen(0.7, "below")], DRY)["a"].factor, before)
        # That it was dry long after it was expected to be teaches next to nothing.
        late = learn([seen(1.0), seen(10.0, "below")], DRY)["a"].factor
        self.assertLess(abs(late / before - 1), 0.02)

    def test_a_ratio_that_is_none_is_refused(self) -> None:
        for ratio in (0.0, -1.0, math.inf):
            with self.assertRaises(OutOfRange):
                learn([seen(ratio)], DRY)


class InAPlan(TestCase):
    def test_what_was_learned_moves_the_times_and_narrows_the_ranges(self) -> None:
        plan = tug()
        step = next(s for s in plan.steps if s.kind == "coat" and s.existing is None)
        k = known_to(plan)
        slow = plan.model_copy(update={"learned": [Learned(of=step.material, factor=1.5, sd=0.05, seen=8)]})
        was, now = k.system_of(step.material), known_to(slow).system_as_learned(step.material)
        self.assertAlmostEqual(pick(now.touch, Edge.BEST) / pick(was.touch, Edge.BEST), 1.5, places=6)
        self.assertLess(now.touch[1] / now.touch[0], was.touch[1] / was.touch[0])
        self.assertEqual(known_to(slow).drying_factor(step.material), 1.5)
        by_system = plan.model_copy(update={"learned": [Learned(of=was.id, factor=2.0, sd=0.2, seen=3)]})
        self.assertEqual(known_to(by_system).drying_factor(step.material), 2.0)
