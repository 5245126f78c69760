"""Answers are written straight from the core's models: whole, or in pieces where they are long."""

import json
from unittest import mock

from api import answers
from django.test import SimpleTestCase
from emvar_core.assess import assess
from emvar_core.judging import Assessment
from pydantic import TypeAdapter

from tests.builders import tug


class Pieces(SimpleTestCase):
    def test_a_long_answer_in_pieces_is_the_same_as_whole(self) -> None:
        value = assess(tug())
        whole = TypeAdapter(Assessment).dump_json(value)
        self.assertEqual(list(answers.written(Assessment, value)), [whole])
        for size in (1, 7, 40):
            with mock.patch.object(answers, "SLICE", size):
                pieces = list(answers.written(Assessment, value))
            self.assertGreater(len(pieces), 10)
            self.assertEqual(b"".join(pieces), whole)

    def test_an_empty_part_of_a_long_answer_is_empty(self) -> None:
        value = assess(tug()).model_copy(update={"cups": {}})
        with mock.patch.object(answers, "SLICE", 3):
            self.assertEqual(json.loads(b"".join(answers.written(Assessment, value)))["cups"], {})
