"""What the cards name as a trap, fallen into: each is named, and matters of taste are listed as such."""

from typing import Any, ClassVar
from unittest import TestCase

from emvar_core.assess import assess
from emvar_core.knowledge import knowledge
from emvar_core.plan import apply, parse_edits

from .test_waits import WET, coat, field, put_on

Edits = list[dict[str, Any]]
SIDE = {"id": "side", "name": "Side", "area_cm2": 100}
DAMP = {"edit": "set_air", "air": {"day": {**WET, "rh_pct": 85}}}
COLD = {"edit": "set_air", "air": {"day": {**WET, "temp_c": 8, "rh_pct": 50}}}
BARE_PLASTER = [
    *({"edit": "remove_step", "step_id": step} for step in ("primer", "grey", "clear")),
    {"edit": "set_zone", "zone": {**SIDE, "base_material": "plaster_bare"}},
]
HOT = [{"kind": "warm_air", "duration_min": 30, "temp_c": 55}]


def instead(step: str, material: str) -> Edits:
    """Another material in the place of a coat's."""
    return [field(step, "material", material), field(step, "mix", None), field(step, "sheen", None)]


def on(base: str) -> Edits:
    return [{"edit": "set_zone", "zone": {**SIDE, "base_material": base}}]


def over(technique: str, material: str, **more: Any) -> Edits:
    """Another coat on top, weeks later."""
    step = coat("over", material, **{"wait_min": 20000, **more}) | {"wait_by": "person"}
    return [{"edit": "add_step", "step": step, "index": len(put_on(technique).steps)}]


def handled(technique: str) -> Edits:
    step = {"kind": "fitting", "id": "handled", "name": "Handled", "zones": ["side"], "action": "handle"}
    return [{"edit": "add_step", "step": step, "index": len(put_on(technique).steps)}]


def mixed(step: str, material: str, parts: float, role: str = "paint") -> Edits:
    """So many parts of water to one of the material."""
    both = [(material, role, 1.0), ("water", "thinner", parts)]
    return [field(step, "mix", {"parts": [{"material": m, "role": r, "amount": a} for m, r, a in both]})]


def scale(to: int) -> Edits:
    return [{"edit": "set_build", "build": {"name": "x", "scale": to, "starts_at": "2026-12-01T19:00:00+00:00"}}]


# Matters of the hand and the eye, which no figure of a plan shows; and tips that are no mistakes.
TASTE = {
    "a hard edge", "too even", "interiors come first and are closed with masks", "a scatter of ants", "cross-hatching",
    "sheen alone does not read as wet", "tide marks", "softener marks (they vanish under the next clear)", "overdone",
    "old sheets: try a spare; if it shatters, clear the sheet and cut close", "knives cut to the plastic",
    "prick with a stick to start", "it lightens what it covers", "a wet brush erases", "too red", "big blobs",
    "a new-looking stripe on an old side", "tide marks: wet the whole panel or fade its edges at once",
    "it darkens while wet and comes back when dry", "a soaked brush floods", "the same strength everywhere",
    "spirit that stands in joints", "wash the residue off, it draws damp", "grains are huge at small scales",
    "each clear adds 8–20 µm", "glue creeps up and shines: matt it afterwards",
    "every panel the same looks like a quilt", "crossing scratches", "every rivet streaked", "equal lengths",
    "not vertical", "a single bare coat lifts off completely", "mirrored left and right",
    "on large smooth panels it looks chalky below 1:35", "pooled at the wrong end",
    "half dry and touched again it tears",     "the bed was not sealed: it bubbles and leaks", "waves of one height",
    "steps that show from arm's length", "planks that run on into each other", "glue spots stay pale",
    "a straight upper edge", "the same green everywhere", "it creeps up the edges by 1 to 3 mm", "through at an edge",
    "the cup thickens: thrown away, never thinned",
    # told by the map of Mix and spray, which knows the gun
    "pools do not level", "too high a pressure ripples", "at base-coat pressure it comes out rough",
    "dusty from too far away",
}  # fmt: skip
CHIPPED, FLOODED = "colour-to-be-chipped", "clear-over-the-decals"
NO_CHIPS = "a thick or lacquer-thinned top coat: water cannot get in and nothing chips"
BARE = "bare brass wants a metal primer, unwashed resin wants washing"
SHINY = "shiny spots vanish under a later matt clear: put them after it"
MATT = {"sheen": "matt"}
WET_SPOTS = [
    {"edit": "add_step", "index": 3, "step": coat("wet", "enamel_clear", sheen="gloss", coverage=0.05)},
    field("matt-clear", "wait_min", 20000),
]


class Traps(TestCase):
    # Technique, the trap in the card's words, what is done, the word (or the caution) that tells it.
    TABLE: ClassVar[list[tuple[str, str, Edits, str]]] = [
        ("alkyd_mud", "no warmth before the spirit is gone", [field("alkyd-mud", "aids", HOT)], "heat"),
        ("base_colour", "one heavy coat", [field("base-colour", "dry_film_um", 90)], "film too thick"),
        ("base_colour", "water-borne past half water", mixed("base-colour", "waterborne_colour", 3), "too thin"),
        ("clay_wash", "never lick the wipe", [], "lick"),
        ("clay_wash", "a live chipping medium below re-opens", instead("clear", "chipping_medium"), "dissolves"),
        ("damp_and_wet", "a later matt clear takes it away", over("damp_and_wet", "lacquer_clear", **MATT), "vanishes"),
        ("decals", "silvering on matt", [field("clear", "sheen", "matt")], "silvers"),
        ("filter", "pooling", [field("filter", "dry_film_um", 6)], "too thick"),
        ("fit_late_parts", "super glue fogs clear parts",
         [*on("glazing"), field("fit-the-late-parts", "material", "super_glue")], "fogs"),
        ("fit_late_parts", "solvent cement eats the paint and does not reach the plastic",
         [field("fit-the-late-parts", "material", "plastic_cement")], "dissolves"),
        ("grease_fuel_soot", SHINY,
         [field("grease-and-fuel", "sheen", "gloss"), *over("grease_fuel_soot", "waterborne_clear", **MATT)],
         "vanishes"),
        ("grime_in_recesses", "alcohol lifts an acrylic base", instead("clear", "waterborne_clear"), "dissolves"),
        ("hairspray_chipping", NO_CHIPS, instead(CHIPPED, "lacquer_colour"), "never opens"),
        ("hairspray_chipping", NO_CHIPS, [field(CHIPPED, "dry_film_um", 60)], "never opens"),
        ("hide_decal_edges", "one flood coat wrinkles the film",
         [field(FLOODED, "method", "flood"), field(FLOODED, "passes", 1), field(FLOODED, "wait_min", 300)], "softens"),
        ("masking", "tape lifts soft or unprimed paint", [field("mask", "wait_min", 5)], "too early"),
        ("masking", "putty slumps after half an hour: one section at a time",
         [field("mask", "material", "putty_roll"), field("take-the-mask-off", "wait_min", 60)], "left on long"),
        ("masking", "liquid mask past two years tears",
         [field("mask", "material", "liquid_mask_old"), field("take-the-mask-off", "wait_min", 400)], "left on long"),
        ("matt_clear", "thick, wet or damp it frosts white in recesses",
         [field("matt-clear", "method", "wet_spray"), DAMP], "frosts"),
        ("matt_clear", "it takes wet spots away", WET_SPOTS, "vanishes"),
        ("medium_chipping", "the medium beads when it is flooded on",
         [field("chipping-medium", "method", "flood"), field("chipping-medium", "passes", 1)], "runs together"),
        ("foil", "every grain below shows", [field("clear", "sheen", "matt")], "shows grain"),
        ("gold_leaf", "too early it drowns, too late it does not hold", [field("leaf", "wait_min", 20000)], "no tack"),
        ("mortar_wash", "unsealed plaster drinks it at once", BARE_PLASTER, "soaks in"),
        ("poured_resin", "above 100 g in one cup it runs away: fumes, over 100 °C, melted foam", [], "sensitises"),
        ("ready_water", "thick or cold it stays milky", [COLD], "powdery"),
        ("slime", "a later matt clear takes the wetness away", over("slime", "waterborne_clear", sheen="matt"),
         "vanishes"),
        ("metal_edges", "over pigment it turns to mud", instead("clear", "dry_pigment"), "mud"),
        ("metal_edges", "a clear over it kills the shine", over("metal_edges", "alcohol_acrylic_clear"), "dulls"),
        ("oil_dots", "oil that was not rested stays wet for ages",
         [*instead("oil-dots", "artists_oil"), *over("oil_dots", "alcohol_acrylic_clear", wait_min=900)],
         "runs together"),
        ("pigment_loose", "a clear kills it", over("pigment_loose", "alcohol_acrylic_clear"), "vanishes"),
        ("pigment_loose", "it comes off on fingers", handled("pigment_loose"), "rubs off"),
        ("pigment_tacky", "too early it turns to paste, too late it does not hold",
         [field("pigment-on-the-tack", "wait_min", 20000)], "no tack"),
        ("pin_wash", "left over a day it hardly comes off",
         [field("wipe-the-wash-back", "wait_min", 3000)], "window missed"),
        ("pre_wetting", "stressed plastic", on("polystyrene_stressed"), "cracks"),
        ("prime", "one flood coat hides rivets", [field("primer-2", "dry_film_um", 90)], "film too thick"),
        ("prime", BARE, on("brass"), "peels"),
        ("prime", BARE, on("resin_unwashed"), "crawls"),
        ("salt_chipping", "salt rusts bare metal parts", on("steel"), "peels"),
        ("seal_between", "sealing solvent in gives soft paint and later crazing",
         [field("seal-satin", "wait_min", 1)], "runs"),
        ("shading", "a heavy coat hides it", [field("lighter-centres", "dry_film_um", 40)], "too thick"),
        ("sludge_wash", "stains decals and rough texture", [field("clear", "sheen", "matt")], "stains"),
        ("sludge_wash", "no heat while spirit can be smelt", [field("sludge-wash", "aids", HOT)], "heat"),
        ("speckle", "water as the carrier: surface tension makes beads",
         mixed("speckle", "enamel_wash", 9), "wrong carrier"),
        ("splashes", "water beads into blobs", mixed("splashes", "dry_pigment", 3, "pigment"), "wrong carrier"),
        ("sponge_chips", "too large for the scale", scale(350), "too coarse"),
        ("texture_paste", "it catches every later wash",
         over("texture_paste", "enamel_wash", method="wash"), "stains"),
    ]  # fmt: skip

    def test_each_is_told(self) -> None:
        for technique, trap, edits, word in self.TABLE:
            with self.subTest(technique, trap=trap):
                told = assess(apply(put_on(technique), parse_edits(edits))[0])
                words = {s.word for s in told.stories} | {n.caution for n in told.notes}
                self.assertTrue(any(word in w for w in words), words)

    def test_every_trap_of_a_card_is_one_of_these_or_a_matter_of_taste(self) -> None:
        provoked = {(technique, trap) for technique, trap, _, _ in self.TABLE}
        for t in knowledge().techniques.values():
            for trap in t.traps:
                if trap not in TASTE:
                    self.assertIn((t.id, trap), provoked)
