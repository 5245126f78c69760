"""What is known is loaded strictly: whoever adds a material or a technique learns at once what is wrong, and where."""

import re
from unittest import TestCase

from emvar_core.errors import KnowledgeError
from emvar_core.knowledge import knowledge
from emvar_core.knowledge.load import Source, load
from emvar_core.reading import words as told_words
from emvar_core.vocabulary import (
    AidKind,
    Event,
    FilmClass,
    FilmState,
    Rescued,
    Role,
    SolventFamily,
    SprayZone,
    SystemRole,
    Unit,
    Urgency,
    Use,
)

K = knowledge()
SOURCE = Source()


class Strict(TestCase):
    def refused(self, name: str, old: str, new: str, place: str, words: str) -> None:
        """Loading with one change in one file is refused, naming the place and what is wrong."""
        text = SOURCE.text(name)
        self.assertIn(old, text)
        with self.assertRaises(KnowledgeError) as caught:
            load(Source({name: text.replace(old, new, 1)}))
        self.assertIn(place, caught.exception.where)
        self.assertRegex(caught.exception.what, words)

    def test_a_second_entry_of_the_same_id_is_refused_across_files(self) -> None:
        self.refused("systems/enamel.toml", 'id = "enamel_primer"', 'id = "lacquer_primer"', "lacquer_primer", "taken")

    def test_an_id_that_a_thinner_has_is_refused_for_a_coat(self) -> None:
        self.refused("systems/enamel.toml", 'id = "enamel_primer"', 'id = "white_spirit"', "white_spirit", "taken")

    def test_an_unknown_role_use_trait_or_method_is_refused(self) -> None:
        lacquer = "systems/lacquer.toml"
        self.refused(lacquer, 'roles = ["seals"', 'roles = ["shines"', lacquer, "roles")
        self.refused(lacquer, 'use = "primer"', 'use = "undercoat"', "lacquer_primer", "use")
        self.refused(lacquer, 'traits = ["keeps_way_back"]', 'traits = ["lovely"]', "lacquer_clear", "traits")
        self.refused("systems/oil.toml", 'method = "brush"', 'method = "broom"', "artists_oil", "method")

    def test_an_unknown_solvent_family_is_refused(self) -> None:
        self.refused("systems/lacquer.toml", "alcohol = [", "spirits = [", "lacquer", "cup")
        self.refused("solvents.json", '"family": "ketone"', '"family": "ketones"', "solvents.json", "family")

    def test_a_hole_in_cup_limits_is_refused_by_the_family_that_is_missing(self) -> None:
        self.refused("systems/lacquer.toml", 'untried = ["glycol", "acid"]', 'untried = ["glycol"]', "lacquer", "acid")

    def test_a_family_that_stands_twice_in_the_cup_is_refused(self) -> None:
        old = 'untried = ["glycol", "acid"]'
        self.refused(
            "systems/lacquer.toml", old, 'untried = ["glycol", "acid", "water"]', "lacquer", "water stands twice"
        )

    def test_an_unknown_solvent_and_percent_that_do_not_add_up_are_refused(self) -> None:
        old = "{ water = 90, acetic_acid = 5, isopropanol = 5 }"
        for new, words in (
            ("{ water = 90, moonshine = 10 }", "moonshine"),
            ("{ water = 90, acetic_acid = 5 }", "add up to 95"),
        ):
            self.refused("thinners.toml", old, new, "decal_softener_mild", words)

    def test_figures_that_contradict_each_other_are_refused(self) -> None:
        self.refused("systems/lacquer.toml", "touch = [5, 20]", "touch = [50, 20]", "lacquer", "touch")
        self.refused("systems/oil.toml", "opens = [3, 4, 6]", "opens = [6, 4, 3]", "oil", "early to late")

    def test_an_oxidising_film_has_to_say_that_its_rags_heat_themselves(self) -> None:
        self.refused("systems/oil.toml", '"self_heating_rags", ', "", "oil", "self_heating_rags")

    def test_a_field_that_is_not_known_is_refused(self) -> None:
        self.refused("systems/oil.toml", "hardness = 0.35", "hardness = 0.35\nshyness = 1", "oil", "shyness|[Ee]xtra")

    def test_a_technique_with_an_unknown_tag_material_step_or_side_is_refused(self) -> None:
        wash = "techniques/pin_wash.toml"
        text = SOURCE.text(wash)
        tags = re.search(r"tags = \[.*?\]", text)
        assert tags is not None
        self.refused(wash, tags[0], 'tags = ["wishy"]', wash, "tags")
        self.refused(wash, 'material = "enamel_wash"', 'material = "moonshine"', wash, "moonshine")
        self.refused(wash, 'main = "Pin wash"', 'main = "Nothing"', wash, "none of its steps")
        side = '[technique]\nschool = ["filter", "loose"]'
        self.refused(wash, "[technique]", side, wash, "no such side")

    def test_a_recipe_that_states_a_figure_of_its_own_is_refused(self) -> None:
        name = "techniques/dry_brush.toml"
        self.refused(name, 'recipe = "enamel', 'recipe = "9 : 1, enamel', name, "figure")

    def test_a_technique_that_is_not_toml_is_refused_by_its_file(self) -> None:
        with self.assertRaises(KnowledgeError) as caught:
            load(Source({"techniques/new.toml": "[technique\n"}))
        self.assertEqual(caught.exception.where, "techniques/new.toml")

    def test_a_cause_that_asks_for_a_system_that_is_not_there_is_refused(self) -> None:
        text = SOURCE.text("faults.toml")
        found = re.search(r"needs = \{[^}]*\}", text)
        assert found is not None
        self.refused("faults.toml", found[0], 'needs = { system = ["moonshine"] }', "faults.toml", "moonshine")


class Complete(TestCase):
    def test_every_system_answers_for_every_solvent_family_in_the_cup(self) -> None:
        for s in K.systems.values():
            said = {*s.cup.bears, *s.cup.limits, *s.cup.untried}
            self.assertEqual(said, set(SolventFamily), s.id)

    def test_no_untried_family_stands_in_a_paint_s_own_usual_mix_for_the_most_part(self) -> None:
        """A system that did not know its own carrier would call its own thinner unknown."""
        for c in K.coats.values():
            s = K.systems[c.system]
            if s.film is FilmClass.UNKNOWN or not c.percent:
                continue
            families: dict[SolventFamily, float] = {}
            for solvent, percent in c.percent.items():
                family = K.solvents[solvent].family
                families[family] = families.get(family, 0.0) + percent
            self.assertNotIn(max(families, key=lambda f: families[f]), s.cup.untried, c.id)

    def test_roles_that_the_rules_ask_for_are_held_by_someone(self) -> None:
        for role in SystemRole:
            self.assertTrue(any(s.is_a(role) for s in K.systems.values()), role)

    def test_a_recipe_tells_a_ratio_in_its_least_figures(self) -> None:
        name = "techniques/clay_wash.toml"
        text = SOURCE.text(name).replace('recipe = "', 'recipe = "{mix}; ', 1)
        found = re.search(r"mix = \{[^}]*\}", text)
        changed = 'mix = { with = "water", paint = 3, thinner = 6 }'
        text = text.replace(found[0], changed) if found else text.replace("[[step]]\n", f"[[step]]\n{changed}\n", 1)
        self.assertIn("1 : 2 with water", load(Source({name: text})).techniques["clay_wash"].recipe)

    def test_recipes_state_the_figures_of_the_steps_that_they_make(self) -> None:
        prime = K.techniques["prime"]
        coat = K.coats[prime.steps[0].material or ""]
        assert coat.thin_ratio is not None
        self.assertIn(f"{coat.thin_ratio[0]:g} : {coat.thin_ratio[1]:g}", prime.recipe)


class Told(TestCase):
    def test_every_use_event_aid_and_stage_that_a_screen_shows_has_words(self) -> None:
        told = told_words.words(knowledge())
        for list_, values in (
            (told.uses, Use), (told.events, Event), (told.ready, Event), (told.aids, AidKind),
            (told.films, FilmState), (told.rescued, Rescued), (told.parked, Urgency), (told.sprayed, SprayZone),
            (told.roles, Role), (told.units, Unit),
            (told.stages, sorted({str(t.stage) for t in K.techniques.values()}, key=int)),
        ):  # fmt: skip
            self.assertEqual(sorted(w.id for w in list_), sorted(str(v) for v in values))
            self.assertTrue(all(w.words for w in list_))

    def test_a_technique_of_a_stage_without_a_name_is_refused(self) -> None:
        name = next(n for n in SOURCE.folder("techniques") if "stage = 11" in SOURCE.text(n))
        with self.assertRaises(KnowledgeError):
            load(Source({name: SOURCE.text(name).replace("stage = 11", "stage = 12")}))
