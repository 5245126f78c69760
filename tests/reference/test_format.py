"""The plan format against JSON Schema's own reference validator."""

import json
from unittest import TestCase

from jsonschema import Draft202012Validator

from tests.builders import ROOT, coat, plan_json, tug_json


class Schema(TestCase):
    def setUp(self) -> None:
        schema = json.loads((ROOT / "docs" / "plan.schema.json").read_text(encoding="utf-8"))
        Draft202012Validator.check_schema(schema)
        self.validator = Draft202012Validator(schema)

    def test_every_demo_is_valid(self) -> None:
        for path in (ROOT / "demo").glob("*.json"):
            self.assertTrue(self.validator.is_valid(json.loads(path.read_text(encoding="utf-8"))), path.name)

    def test_what_the_core_refuses_by_shape_the_schema_refuses(self) -> None:
        for bad in (
            plan_json([coat("a", "lacquer_primer", wait_hours=1)]),
            plan_json([], air={"day": {"temp_c": 900}}),
            tug_json() | {"colour": "red"},
        ):
            self.assertFalse(self.validator.is_valid(bad))
