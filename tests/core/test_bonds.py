"""Orders that mean something are kept: by what the program offers always, by a person's moves with the reason told."""

from __future__ import annotations

from typing import Any
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.plan import Plan, apply, bonds, check_moves, crossed, parse_edits
from emvar_core.vocabulary import Verdict
from emvar_core.ways.mend import mend
from emvar_core.ways.remedies import remedies

from tests.builders import DAY, coat, plan, tug


def fitting(step_id: str, action: str, wait_min: float = 0, **more: Any) -> dict[str, Any]:
    base = {"kind": "fitting", "id": step_id, "name": step_id, "zones": ["side"], "action": action}
    return base | {"wait_min": wait_min} | more


def masked(wait_min: float = 5) -> Plan:
    return plan(
        [
            coat("below", "waterborne_colour", hands_on_min=20),
            fitting("tape", "mask", wait_min, material="low_tack_tape"),
            coat("band", "alcohol_acrylic_colour", 10, coverage=0.3),
            fitting("off", "unmask", 40),
            coat("medium", "hairspray", DAY),
            coat("top", "waterborne_colour", 10, dry_film_um=8),
            {
                "kind": "working", "id": "chip", "name": "chip", "zones": ["side"], "action": "chip", "acts_on": "top",
                "carrier": "water", "wait_min": 10,
            },
        ],
        build={"base_material": "resin"},
    )  # fmt: skip


def move(step_id: str, to: int) -> list[Any]:
    return parse_edits([{"edit": "move_step", "step_id": step_id, "to_index": to}])


class Bonds(TestCase):
    def test_masks_media_and_work_are_bound(self) -> None:
        pairs = {(b.first, b.then) for b in bonds(masked())}
        self.assertEqual(
            pairs,
            {("below", "tape"), ("tape", "band"), ("tape", "off"), ("band", "off"), ("medium", "top"), ("top", "chip")},
        )

    def test_a_move_that_turns_one_round_is_refused_with_the_reason(self) -> None:
        made = masked()
        for edits, words in (
            (move("band", 1), "“tape” has to stay before “band”: “band” is laid while “tape” is on"),
            (move("off", 2), "“band” has to stay before “off”"),
            (move("medium", 5), "“chip” needs “medium” under what it chips"),
        ):
            with self.assertRaisesRegex(PlanError, words):
                check_moves(made, apply(made, edits)[0], edits)

    def test_a_mask_that_was_put_on_too_late_can_be_moved_by_hand_but_is_not_by_the_program(self) -> None:
        made, edits = masked(), move("tape", 0)
        moved, _ = apply(made, edits)
        check_moves(made, moved, edits)
        self.assertIsNotNone(crossed(made, moved, edits))

    def test_a_mask_that_comes_too_early_waits_and_is_never_moved_under_what_it_protects(self) -> None:
        made = masked()
        seam = next(s for s in assess(made).seams.values() if s.upper_step == "tape" and s.verdict is not Verdict.SOUND)
        offered = remedies(made, seam.id)
        self.assertTrue(offered)
        for remedy in offered:
            self.assertIsNone(crossed(made, apply(made, parse_edits(remedy.edits))[0], parse_edits(remedy.edits)))
        self.assertFalse([r for r in offered if r.title.startswith("Before")])

    def test_mending_turns_no_bond_round(self) -> None:
        for made in (masked(), tug()):
            edits = parse_edits(mend(made).edits)
            after, _ = apply(made, edits)
            self.assertIsNone(crossed(made, after, edits))
