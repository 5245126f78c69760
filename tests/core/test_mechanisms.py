"""Mechanisms are whole, look at no more than they say, and change with time as they say."""

import random
from collections.abc import Iterator
from dataclasses import replace
from unittest import TestCase

from emvar_core.judging import base_layer, conditions_of, landing_of, meetings, stand
from emvar_core.judging.contacts import sight
from emvar_core.judging.stack import beside, spot_in
from emvar_core.judging.verdicts import judge
from emvar_core.knowledge import knowledge
from emvar_core.plan import WorkingStep, step_times
from emvar_core.seams.mechanism import ALL_CONTACTS, Course, Incomplete, Mechanism, NoFault, Scrap
from emvar_core.seams.meeting import Meeting
from emvar_core.seams.registry import REGISTRY, Registry, panel_of
from emvar_core.seams.situation import Reads, Undeclared
from emvar_core.vocabulary import Basis, Contact, Edge, Kind, Verdict
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.lengths import at_length
from tests.random_plans import random_plan

K = knowledge()
AGES = (0, 15, 60, 240, 1440, 4320, 14400, 60000)


def some_meetings(seed: int) -> Iterator[tuple[Meeting, float]]:
    """What meets in a random plan, with the instant at which it does."""
    made = random_plan(seed, 12)
    times = step_times(made)
    c = conditions_of(made, times)
    rng = random.Random(seed)
    for step in rng.sample(made.steps, 6):
        wanted = rng.choice(step.zones)
        zone = next(z for z in made.zones if z.id == wanted)
        at = times[step.id].start_min
        here = stand(made, zone.id, at, c).stack
        stack = beside(step, here) if isinstance(step, WorkingStep) else here
        landing = landing_of(c, step, times[step.id])
        for m in meetings(c, landing, sight(spot_in(c.k, step, zone.id, here), stack), base_layer(K, made, zone)):
            yield Meeting(c.k, landing, m.layers, m.index, at), at


class Whole(TestCase):
    def test_each_mechanism_says_what_would_change_it_how_to_prove_it_and_how_to_try_it(self) -> None:
        for m in REGISTRY:
            self.assertTrue(m.says and m.would_change and m.scrap.passes and m.scrap.fails, m.id)
            self.assertTrue(callable(m.check) or (m.check.do and m.check.if_fails), m.id)
            self.assertTrue(isinstance(m.course, Course) and m.on, m.id)

    def test_one_that_leaves_something_out_is_refused_by_name(self) -> None:
        whole = REGISTRY.by_id["craze"]
        for field, value in (
            ("would_change", ""), ("says", ""), ("scrap", Scrap(0, "p", "f")), ("scrap", Scrap(60, "", "f")),
            ("fault", ()), ("on", frozenset()),
        ):  # fmt: skip
            with self.assertRaises(Incomplete, msg=field) as caught:
                replace(whole, **{field: value})  # type: ignore[arg-type]
            self.assertIn("craze", str(caught.exception))

    def test_one_that_looks_at_all_layers_cannot_be_chosen_by_the_film_that_is_met(self) -> None:
        with self.assertRaisesRegex(TypeError, "craze.*looks at all layers"):
            replace(REGISTRY.by_id["craze"], reads=Reads.STACK)

    def test_two_of_one_id_and_a_cause_that_is_not_there_are_refused(self) -> None:
        craze = REGISTRY.by_id["craze"]
        with self.assertRaisesRegex(ValueError, "two mechanisms"):
            Registry([craze, craze])
        with self.assertRaisesRegex(ValueError, "no cause 'nowhere.nothing'"):
            Registry([replace(craze, fault=("nowhere.nothing",))]).check(K)

    def test_every_fault_s_cause_that_names_a_mechanism_is_spoken_for_by_a_registered_one(self) -> None:
        for m in REGISTRY:
            self.assertTrue(isinstance(m.fault, NoFault | tuple) or m.fault.appearance in K.faults, m.id)
            if isinstance(m.fault, NoFault):
                self.assertTrue(m.fault.why, m.id)


class Looks(TestCase):
    @settings(max_examples=at_length(7, 25))
    @given(st.integers(0, 10**6))
    def test_no_mechanism_looks_at_more_than_it_declares(self, seed: int) -> None:
        """A situation shows what is declared; anything else raises Undeclared or lies outside the layers."""
        for m, at in some_meetings(seed):
            for mechanism in REGISTRY:
                if m.landing.contact in mechanism.on:
                    for edge in Edge:
                        list(mechanism.judge(m.view(mechanism.reads), at, edge))

    @settings(max_examples=at_length(7, 25))
    @given(st.integers(0, 10**6))
    def test_a_mechanism_that_is_not_asked_would_have_found_nothing(self, seed: int) -> None:
        for m, at in some_meetings(seed):
            contact = m.landing.contact
            panel, _ = panel_of(m)
            asked = {judge for judge, _ in (*panel.timeless, *panel.moving)}
            for mechanism in REGISTRY:
                if contact in mechanism.on and mechanism.judge not in asked:
                    for edge in Edge:
                        found = list(mechanism.judge(m.view(mechanism.reads), at, edge))
                        self.assertEqual([], [f.sentence for f in found], mechanism.id)

    def test_one_that_looks_further_than_it_says_is_found_out(self) -> None:
        m, _ = next(x for seed in range(40) for x in some_meetings(seed) if x[0].landing.contact is Contact.LAY)
        view = m.view(Reads.MET)
        for look in (
            lambda: view.landing.air.temp_c, lambda: view.base.heat_limit_c, lambda: view.cover_um > 3,
            lambda: bool(view.landing.schools), lambda: view.medium.at,
            lambda: view.layers[m.index + 1], lambda: list(view.layers), lambda: len(view.layers),
            lambda: view.layers[-1], lambda: view.next.words,
        ):  # fmt: skip
            with self.assertRaises(Undeclared):
                look()
        self.assertIs(view.layers[m.index], m.layer)

    @settings(max_examples=at_length(7, 25))
    @given(st.integers(0, 10**6))
    def test_what_time_does_to_a_mechanism_is_what_it_says(self, seed: int) -> None:
        for m, at in some_meetings(seed):
            free = Meeting(m.k, m.landing, m.layers, m.index)
            for mechanism in REGISTRY:
                if m.landing.contact not in mechanism.on:
                    continue
                told = [
                    max(
                        (f.severity for f in mechanism.judge(free.view(mechanism.reads), at + age, Edge.LATE)),
                        default=0,
                    )
                    for age in AGES
                ]
                pairs = list(zip(told, told[1:], strict=False))
                if mechanism.course is Course.NEVER:
                    self.assertEqual(len({round(t, 9) for t in told}), 1, (mechanism.id, told))
                elif mechanism.course is Course.EASES:
                    self.assertTrue(all(b <= a + 1e-6 for a, b in pairs), (mechanism.id, told))
                elif mechanism.course is Course.WORSENS:
                    self.assertTrue(all(b >= a - 1e-6 for a, b in pairs), (mechanism.id, told))

    def test_a_new_mechanism_is_judged_told_and_tried_without_any_other_change(self) -> None:
        """Registered, it leads the verdict where it is the gravest, with its own words, check and scrap test."""
        loud = Mechanism(
            id="loud", says="It is heard.", on=ALL_CONTACTS, course=Course.NEVER,
            judge=lambda s, at, edge: iter([REGISTRY.by_id["loud"].found(Kind.DAMAGE, 0.95, "hums", "It hums.", "Stop.",
                                                                         Basis.PRACTICE)]),
            would_change="less noise", check=REGISTRY.by_id["craze"].check, scrap=Scrap(5, "Quiet.", "It hums."),
            fault=NoFault("nobody sees a noise"),
        )  # fmt: skip
        with_it = Registry([*REGISTRY, loud])
        kept = vars(REGISTRY).copy()
        vars(REGISTRY).update(vars(with_it))
        try:
            m, at = next(some_meetings(3))
            told = judge(Meeting(m.k, m.landing, m.layers, m.index, at), at)
        finally:
            vars(REGISTRY).update(kept)
        self.assertEqual(told.verdict, Verdict.CLASH)
        self.assertEqual(told.findings[0].word, "hums")
        self.assertEqual(told.telling.would_change, "less noise")
