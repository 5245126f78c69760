"""The house: arrows go one way, no material is known to code by its id, and one threshold stands in one place."""

import ast
import re
import subprocess
import sys
from pathlib import Path
from typing import Any, get_args
from unittest import TestCase

from emvar_core.knowledge import knowledge
from emvar_core.plan import Plan
from emvar_core.vocabulary import Model

ROOT = Path(__file__).resolve().parent.parent.parent
CORE = ROOT / "core" / "emvar_core"
K = knowledge()

# Each room may look into those before it, and not into those beside or after it.
ROOMS = [
    {"vocabulary"},
    {"errors"},
    {"ids", "memory"},
    {"keys"},
    {"knowledge"},
    {"plan"},
    {"physics"},
    {"seams"},
    {"judging"},
    {"remarks"},
    {"assess"},
    {"ways", "mix_and_spray", "schedule", "reading"},
    {"at_the_bench"},
]
RANK = {room: i for i, rooms in enumerate(ROOMS) for room in rooms}
# Server: apps do not know each other; the API brings them together; settings and addresses come last.
APPS = {"builds": 0, "sittings": 0, "journal": 0, "vault": 1, "api": 2, "emvar_server": 3}
WEB = {"drawing": 1, "api": 0, "model": 2, "parts": 3, "views": 4, "app": 5}


def imports(path: Path) -> list[tuple[int, str]]:
    """What a module imports, as (how many dots, dotted name), wherever in it that is done; types alone too."""
    found: list[tuple[int, str]] = []
    for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
        if isinstance(node, ast.ImportFrom):
            if node.module is None:
                found += [(node.level, alias.name) for alias in node.names]
            else:
                found.append((node.level, node.module))
        elif isinstance(node, ast.Import):
            found += [(0, alias.name) for alias in node.names]
    return found


def rooms_of(path: Path) -> set[str]:
    """The rooms of the core that a module of the core looks into."""
    inside = path.relative_to(CORE).parts[:-1]
    found = set()
    for dots, name in imports(path):
        if dots:
            parts = [*inside[: len(inside) - dots + 1], *name.split(".")]
            found.add(parts[0])
        elif name.startswith("emvar_core"):
            found.add(name.split(".")[1])
    return found


class Arrows(TestCase):
    def test_every_room_of_the_core_looks_only_into_those_before_it(self) -> None:
        self.assertEqual({p.stem if p.suffix else p.name for p in CORE.iterdir()
                          if p.name[0] not in "_." and (p.suffix or any(p.glob("*.py")))} - {"py"},
                         set(RANK))  # fmt: skip
        for path in CORE.rglob("*.py"):
            here = path.relative_to(CORE).with_suffix("").parts[0]
            for room in rooms_of(path) - {here}:
                if here != "__init__":
                    self.assertLess(RANK[room], RANK[here], f"{path.relative_to(CORE)} looks into {room}")

    def test_the_core_knows_neither_django_nor_the_server(self) -> None:
        for path in CORE.rglob("*.py"):
            for dots, name in imports(path):
                if not dots:
                    self.assertNotIn(name.split(".")[0], {"django", "ninja", "tests", "commands", *APPS}, path)

    def test_the_core_and_its_tests_run_without_django(self) -> None:
        for folder in ("core", "reference"):
            for path in (ROOT / "tests" / folder).glob("*.py"):
                for _, name in imports(path):
                    self.assertNotEqual(name.split(".")[0], "django", path.name)
        code = (
            "import sys; sys.modules['django'] = None\n"
            "import tests.core.test_assess, emvar_core.ways.mend, emvar_core.schedule.changes\n"
            "import emvar_core.mix_and_spray.card"
        )
        path = [str(ROOT / "core"), str(ROOT)]
        done = subprocess.run(
            [sys.executable, "-c", code],
            env={"PYTHONPATH": ":".join(path)},
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.returncode, 0, done.stderr)

    def test_the_apps_of_the_server_do_not_know_each_other(self) -> None:
        for path in (ROOT / "server").rglob("*.py"):
            here = path.relative_to(ROOT / "server").parts[0]
            if "management" in path.parts:
                continue  # commands start the whole
            for dots, name in imports(path):
                other = name.split(".")[0]
                if not dots and other in APPS and other != here:
                    self.assertLess(APPS[other], APPS[here], f"{path.relative_to(ROOT)} looks into {other}")

    def test_the_folders_of_the_web_look_one_way_and_views_not_into_each_other(self) -> None:
        source = ROOT / "web" / "src"
        for path in [*source.rglob("*.ts"), *source.rglob("*.tsx")]:
            if len(path.relative_to(source).parts) == 1:
                continue
            here = path.relative_to(source).parts[0]
            for target in re.findall(r'from "(\.[^"]*)"', path.read_text(encoding="utf-8")):
                there = (path.parent / target).resolve().relative_to(source).parts
                if there[0] in WEB and there[0] != here:
                    self.assertLess(WEB[there[0]], WEB[here], f"{path.relative_to(source)} looks into {there[0]}")
                elif here == "views" and there[0] == "views":
                    mine = path.relative_to(source).parts[1]
                    self.assertEqual(there[1], mine, f"{path.relative_to(source)} looks into another view")


class ReadByBoth(TestCase):
    """What is added in one place has to stand in another, too."""

    def test_every_field_of_the_plan_stands_in_the_page_of_the_format(self) -> None:
        page = (ROOT / "docs/format.md").read_text(encoding="utf-8")
        named = {word for code in re.findall(r"`([^`]+)`", page) for word in re.findall(r"\w+", code)}
        for model in models_in(Plan):
            for field in model.model_fields:
                self.assertTrue(field in named, f"{model.__name__}.{field} has to stand in docs/format.md")

    def test_every_view_is_in_the_list_that_sizes_and_axe_go_by(self) -> None:
        app = (ROOT / "web/src/app/App.tsx").read_text(encoding="utf-8")
        sizes = (ROOT / "tests/e2e/test_every_size.py").read_text(encoding="utf-8")
        listed = re.search(r"VIEWS = \{(.*?)\n\}", sizes, re.DOTALL)
        assert listed is not None
        gone_to = re.findall(r'"(?:\{TUG\}|/build/[\w-]+)?(/[^"{]*)"', re.sub(r'\bf"', '"', listed[1]))
        there = {path.strip("/").split("/")[0].split("#")[0] for path in gone_to} | {""}
        for path, element in re.findall(r'<Route path="([^"*]+)" element=\{<(\w+)', app):
            if element in ("Navigate", "Moved"):
                continue
            view = path.removeprefix("/build/:id").strip("/").split("/")[0]
            self.assertTrue(view in there, f"{path} has to stand in VIEWS of tests/e2e/test_every_size.py")


def models_in(annotation: Any) -> set[type[Model]]:
    """The models that a plan is made of, all the way down."""
    found: set[type[Model]] = set()

    def look(of: Any) -> None:
        if isinstance(of, type) and issubclass(of, Model) and of not in found:
            found.add(of)
            for field in of.model_fields.values():
                look(field.annotation)
        for part in get_args(of):
            look(part)

    look(annotation)
    return found


class Ids(TestCase):
    """Materials, systems and techniques are asked for by role, trait or family: a new one needs no change of code."""

    # Words that are ids and also a word of the trade: an enum's value, a field, a solvent family.
    ALSO_WORDS = {"water", "decal", "wash", "filter", "prime", "masking", "unknown", "salt", "oil", "clay", "enamel",
                  "pigment", "speckle"}  # fmt: skip

    def strings(self, path: Path) -> set[str]:
        """The text constants of a module; docstrings and enum values are no knowledge of a material."""
        tree = ast.parse(path.read_text(encoding="utf-8"))
        docs = {
            id(n.body[0].value)
            for n in ast.walk(tree)
            if isinstance(n, ast.Module | ast.ClassDef | ast.FunctionDef) and n.body and isinstance(n.body[0], ast.Expr)
        }
        return {n.value for n in ast.walk(tree) if isinstance(n, ast.Constant) and isinstance(n.value, str)
                and id(n) not in docs}  # fmt: skip

    def test_no_id_of_a_material_a_system_or_a_technique_stands_in_code(self) -> None:
        ids = {*K.ids, *K.systems, *K.techniques} - self.ALSO_WORDS
        # The format's own default base, and the solvent to which rates refer; vocabulary.py holds enums only.
        allowed = {"knowledge/types.py": {"polystyrene"}}
        for path in CORE.rglob("*.py"):
            name = str(path.relative_to(CORE))
            if name == "vocabulary.py":
                continue
            found = (self.strings(path) & ids) - allowed.get(name, set()) - {path.stem}  # a mechanism has its own id
            self.assertEqual(found, set(), name)

    def test_the_browser_knows_no_material_by_its_id(self) -> None:
        ids = {*K.ids, *K.systems} - self.ALSO_WORDS
        for path in [*(ROOT / "web" / "src").rglob("*.ts"), *(ROOT / "web" / "src").rglob("*.tsx")]:
            if path.name == "schema.d.ts" or ".test." in path.name:
                continue
            texts = set(re.findall(r"[\"'`]([a-z0-9_]+)[\"'`]", path.read_text(encoding="utf-8")))
            self.assertEqual(texts & ids, set(), path.name)


class OnePlace(TestCase):
    def test_a_threshold_of_severity_stands_in_one_place(self) -> None:
        """Whatever compares a severity does it by a name of severity.py, never by a figure."""
        bare = re.compile(r"severity\s*[<>]=?\s*0?\.\d|\.severity\s*[<>]=?\s*0?\.\d")
        for path in CORE.rglob("*.py"):
            found = bare.findall(path.read_text(encoding="utf-8"))
            self.assertEqual(found, [], path.relative_to(CORE))

    def test_a_bare_key_error_leaves_no_public_face(self) -> None:
        for path in CORE.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if (
                    isinstance(node, ast.Raise)
                    and isinstance(node.exc, ast.Call)
                    and isinstance(node.exc.func, ast.Name)
                ):
                    self.assertNotIn(node.exc.func.id, {"KeyError", "IndexError"}, path.relative_to(CORE))
