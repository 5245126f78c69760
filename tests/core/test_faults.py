"""Faults that weatherers describe: what it looks like, what the plan did, and the likeliest cause; some have two at
once.

Common practice, written by the hand that wrote the causes. Twenty more stand in test_ways.py.
"""

from __future__ import annotations

from typing import Any, ClassVar
from unittest import TestCase

from emvar_core.plan import Plan, step_times
from emvar_core.ways.faults import diagnose

from tests.builders import DAY, coat, mix, plan


def work(action: str, acts_on: str, wait: float, carrier: str) -> dict[str, Any]:
    return {
        "kind": "working", "id": "w", "name": "w", "zones": ["side"], "action": action, "acts_on": acts_on,
        "carrier": carrier, "method": "damp_wipe", "wait_min": wait, "hands_on_min": 10,
    }  # fmt: skip


def on(ground: str, *steps: dict[str, Any], sheen: str = "satin", **more: Any) -> Plan:
    return plan([coat("g", ground, sheen=sheen), *steps], build={"base_material": "resin"}, **more)


MEDIUM = coat("m", "hairspray", 2 * DAY)
THICK = mix("lacquer_colour", "mild_thinner", 1, 2)


class Faults(TestCase):
    # Words, appearance, plan, minutes after the end, the causes that have to stand first (in any order).
    DESCRIBED: ClassVar[list[tuple[str, str, Plan, float, set[str]]]] = [
        ("the grey will not chip, I thinned it with lacquer thinner", "no_chips",
         on("lacquer_clear", MEDIUM, coat("x", "lacquer_colour", 15, mix=THICK, dry_film_um=8),
            work("chip", "x", 20, "water")), 30, {"sealed"}),
        ("nothing chips; the coat is thick and two days old", "no_chips",
         on("lacquer_clear", MEDIUM, coat("x", "waterborne_colour", 15, dry_film_um=30),
            work("chip", "x", 2 * DAY, "water")), 30, {"too_thick", "too_late"}),
        ("it will not chip, and I forgot the hairspray", "no_chips",
         on("lacquer_clear", coat("x", "waterborne_colour", DAY, dry_film_um=8), work("chip", "x", 20, "water")),
         30, {"no_medium"}),
        ("it came off in skins right after spraying", "big_chips",
         on("lacquer_clear", MEDIUM, coat("x", "waterborne_colour", 15, dry_film_um=8)), 1, {"much_medium",
            "too_soon"}),
        ("the dots of last night do not move any more", "no_blend",
         on("lacquer_clear", coat("x", "artists_oil", 2 * DAY, coverage=0.1),
            work("blend", "x", DAY, "odourless_spirit")), 30, {"set"}),
        ("the wash of water stands in drops on the gloss urethane", "wash_beads",
         on("urethane_alkyd_clear", coat("x", "waterborne_colour", 9 * DAY, method="wash", dry_film_um=2, coverage=0.3),
            sheen="gloss"), 5, {"slick"}),
        ("the wash pools in the corners; I flooded it on, very thin", "wash_beads",
         on("lacquer_clear", coat("x", "enamel_wash", 2 * DAY, method="flood", mix=mix("enamel_wash",
            "white_spirit", 1, 9))),
         5, {"too_much", "too_thin"}),
        ("a ring where the fixer ran through the dust", "tide_mark",
         on("lacquer_clear", coat("d", "dry_pigment", 2 * DAY, coverage=0.5),
            coat("x", "waterborne_colour", DAY, method="wash", dry_film_um=2, coverage=0.4)), 60, {"on_pigment"}),
        ("the dust is gone after the clear", "pigment_dark",
         on("lacquer_clear", coat("d", "dry_pigment", 2 * DAY, coverage=0.8), coat("x", "waterborne_clear", DAY)),
         600, {"coat_over"}),
        ("the mud dries far too dark", "pigment_dark",
         on("lacquer_clear", coat("d", "dry_pigment", 2 * DAY, coverage=0.8), coat("x", "pigment_fixer",
            60, coverage=0.8)),
         3 * DAY, {"fixed"}),
        ("the streaks shine", "shiny",
         on("lacquer_clear", coat("x", "artists_oil", 2 * DAY, coverage=0.1), sheen="matt"), 3 * DAY, {"oily"}),
        ("white crystals where the salt was", "salt_ghost",
         on("lacquer_clear", coat("x", "salt", DAY, coverage=0.3)), 600, {"salt_left"}),
        ("one sees the square of the decal film", "decal_shows",
         on("lacquer_clear", coat("x", "decal", DAY, coverage=0.1), sheen="gloss"), DAY, {"no_clear"}),
        ("the dust looks sprayed, the same everywhere", "too_even",
         on("lacquer_clear", coat("x", "alcohol_acrylic_colour", DAY, method="mist", dry_film_um=3, coverage=0.9)),
         60, {"one_coat"}),
        ("too much rust, all over the deck", "too_much",
         on("lacquer_clear", coat("x", "enamel_wash", DAY, method="brush", coverage=0.6)), 60, {"too_many",
            "too_strong"}),
    ]  # fmt: skip

    def test_each_is_told_by_what_the_plan_did(self) -> None:
        for words, appearance, made, later, causes in self.DESCRIBED:
            with self.subTest(words):
                at = max(t.end_min for t in step_times(made).values()) + later
                found = diagnose(made, "x", "side", appearance, at).causes
                first = {c.id for c in found[: len(causes)]}
                self.assertEqual(first, causes, [(c.id, c.weight, c.because) for c in found])
                self.assertTrue(all(c.weight > 0.25 for c in found[: len(causes)]))

    def test_what_lies_below_and_what_was_mixed_are_asked_first(self) -> None:
        """Common practice."""
        masked = [
            {"kind": "fitting", "id": i, "name": i, "zones": ["side"], "action": a, "wait_min": w, "hands_on_min": 5}
            | m
            for i, a, w, m in (("m", "mask", 3 * DAY, {"material": "low_tack_tape"}), ("u", "unmask", 60, {}))
        ]
        glued = [
            {"kind": "fitting", "id": "x", "name": "x", "zones": ["side"], "action": "glue", "material": m,
             "wait_min": 0, "hands_on_min": 5}
            for m in ("super_glue", "plastic_cement")
        ]  # fmt: skip
        two = [coat("p", "lacquer_primer"), coat("x", "waterborne_colour", DAY), *masked]
        for base, steps, appearance, cause in (
            ("resin_unwashed", two, "lifted_edge", "no_hold"),
            ("resin", [two[0], two[1], masked[0] | {"wait_min": 60}, masked[1]], "lifted_edge", "tape_soft"),
            ("soft_vinyl", [coat("x", "enamel_colour")], "tacky", "plasticiser"),
            ("resin", [coat("x", "two_pack_clear", mix=mix("two_pack_clear", "urethane_thinner", 2, 1))], "tacky",
             "hardener"),
            ("resin", [coat("x", "lacquer_colour", mix=mix("lacquer_colour", "mild_thinner", 2, 1))], "orange_peel",
             "thick_mix"),
            ("resin", [coat("x", "lacquer_colour")], "orange_peel", "pressure"),
            ("glazing", glued[:1], "fogged", "fumes"),
            ("glazing", glued[1:], "fogged", "solvent"),
        ):  # fmt: skip
            with self.subTest(base, appearance=appearance, cause=cause):
                made = plan(steps, build={"base_material": base})
                at = max(t.end_min for t in step_times(made).values()) + 2 * DAY
                self.assertEqual(diagnose(made, "x", "side", appearance, at).causes[0].id, cause)

    def test_a_clear_part_alone_fogs(self) -> None:
        made = plan([coat("x", "lacquer_clear")], build={"base_material": "resin"})
        self.assertEqual(diagnose(made, "x", "side", "fogged", 600).causes, [])
