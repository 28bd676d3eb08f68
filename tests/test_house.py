"""The house itself: linter, import rules, public faces, sizes, and nothing that reaches out."""

import ast
import importlib
import os
import pkgutil
import re
import subprocess
import sys
import unittest
from pathlib import Path

import pneumen.core

ROOT = Path(__file__).resolve().parents[1]
SOURCE = ROOT / "src" / "pneumen"


FIELD_NAMES = ("height over the mouth", "pop screen before the capsule", "the following arguments are required: (.*)")
"""What is refused by such a name finds its field by it; the last is the argument parser's own."""


def _face_order(name):
    """Constants, then classes, then functions, each by name: the order the linter asks for."""
    return (not name.isupper(), name[0].islower(), name)


def _sentences_in(tree):
    """Yield the texts of a module that read as sentences: docstrings and what errors are raised with are none."""
    passed_over = set()
    for node in ast.walk(tree):
        docstring = isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
        if docstring or isinstance(node, ast.Raise):
            passed_over.update(map(id, ast.walk(node)))
    for node in ast.walk(tree):
        text = node.value if isinstance(node, ast.Constant) and id(node) not in passed_over else None
        if isinstance(text, str) and re.search(r"\w( \S+){3,}[.!:]$", text):
            yield node.lineno, text


def _past_gettext(tree):
    """Yield the sentences of a module, written out or in a format string, that do not go through gettext."""
    passed_over = set()
    for node in ast.walk(tree):
        docstring = isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant)
        if isinstance(node, ast.Dict):
            passed_over.update(map(id, node.keys))
        through = isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "_"
        logged = isinstance(node, ast.Call) and ast.unparse(node.func).startswith("log.")
        if docstring or through or logged:
            passed_over.update(map(id, ast.walk(node)))
    for node in ast.walk(tree):
        if id(node) in passed_over or not isinstance(node, ast.Constant | ast.JoinedStr):
            continue
        parts = node.values if isinstance(node, ast.JoinedStr) else [node]
        text = "".join(one.value if isinstance(getattr(one, "value", None), str) else "x" for one in parts)
        if text in FIELD_NAMES or text.startswith("SELECT"):
            continue
        if re.search(r"([A-Za-z’]{2,}[,;:]? ){3,}[A-Za-z’]{2,}", text):
            yield node.lineno, text


def run(*command):
    environment = {**os.environ, "PYTHONPATH": str(ROOT / "src")}
    return subprocess.run(command, cwd=ROOT, env=environment, capture_output=True, text=True, check=False)


class Rules(unittest.TestCase):
    def test_linter(self):
        for arguments in (["check", "."], ["format", "--check", "."]):
            result = run(sys.executable, "-m", "ruff", *arguments)
            self.assertEqual(result.returncode, 0, result.stdout + result.stderr)

    def test_types(self):
        result = run(sys.executable, "-m", "mypy")
        self.assertEqual(result.returncode, 0, result.stdout + result.stderr)
        ignores = sum(path.read_text().count("type: ignore") for path in SOURCE.rglob("*.py"))
        self.assertLessEqual(ignores, 40)

    def test_import_rules(self):
        result = run(str(Path(sys.executable).with_name("lint-imports")), "--no-cache")
        self.assertEqual(result.returncode, 0, result.stdout + result.stderr)
        self.assertIn("0 broken", result.stdout)

    def test_templates_are_indented_by_their_formatter(self):
        tool = str(Path(sys.executable).with_name("djhtml"))
        result = run(tool, "--check", "--tabwidth", "2", "-b", "partialdef,endpartialdef", str(SOURCE))
        self.assertEqual(result.returncode, 0, result.stdout + result.stderr)

    def test_the_core_returns_kinds_and_quantities_not_sentences(self):
        told = ("gain/schools.py",)  # what a school says for itself is part of the school
        sentences = [
            f"{path.relative_to(SOURCE)}:{line}: {text}"
            for path in (SOURCE / "core").rglob("*.py")
            if not str(path).endswith(told)
            for line, text in _sentences_in(ast.parse(path.read_text()))
        ]
        self.assertEqual(sentences, [])

    def test_what_is_told_goes_through_gettext(self):
        """All but the catalogue's format, for whoever writes one."""
        told = [path for floor in ("wording", "web", "cli") for path in (SOURCE / floor).rglob("*.py")]
        bare = [
            f"{path.relative_to(SOURCE)}:{line}: {text}"
            for path in told
            if not {"migrations", "catalogue.py"} & set(path.parts)
            for line, text in _past_gettext(ast.parse(path.read_text()))
        ]
        self.assertEqual(bare, [])

    def test_every_room_shows_exactly_its_public_face(self):
        rooms = [module for module in pkgutil.iter_modules(pneumen.core.__path__, "pneumen.core.") if module.ispkg]
        for room in rooms:
            module = importlib.import_module(room.name)
            if not hasattr(module, "__all__"):
                continue
            tree = ast.parse(Path(module.__file__).read_text())
            shown = {a.asname or a.name for n in tree.body if isinstance(n, ast.ImportFrom) for a in n.names}
            self.assertEqual(sorted(module.__all__), sorted(shown), room.name)
            self.assertEqual(list(module.__all__), sorted(module.__all__, key=_face_order))

    def test_rooms_are_entered_by_their_public_face_only(self):
        inside = re.compile(r"from pneumen\.core\.(\w+)\.\w+ import")
        for path in SOURCE.rglob("*.py"):
            for room in inside.findall(path.read_text()):
                self.assertEqual(path.parent.name, room, f"{path} reaches into {room}")


class Sizes(unittest.TestCase):
    def test_test_files_stay_readable(self):
        for path in (ROOT / "tests").rglob("*.py"):
            self.assertLessEqual(len(path.read_text().splitlines()), 350, path)

    def test_files_and_functions_stay_readable(self):
        for path in SOURCE.rglob("*.py"):
            if "migrations" in path.parts:
                continue
            text = path.read_text()
            self.assertLessEqual(len(text.splitlines()), 350, path)
            for node in ast.walk(ast.parse(text)):
                if isinstance(node, ast.FunctionDef):
                    self.assertLessEqual(node.end_lineno - node.lineno, 60, f"{path}: {node.name}")

    def test_templates_stay_small(self):
        sizes = sorted(len(path.read_text().splitlines()) for path in SOURCE.rglob("*.html"))
        self.assertLessEqual(sizes[-1], 120)
        self.assertLess(sizes[len(sizes) // 2], 30)

    def test_no_line_of_a_template_is_over_160(self):
        for path in SOURCE.rglob("*.html"):
            for number, line in enumerate(path.read_text().splitlines(), start=1):
                self.assertLessEqual(len(line), 160, f"{path}: line {number}")


class NothingReachesOut(unittest.TestCase):
    def test_no_address_but_our_own(self):
        allowed = ("http://www.w3.org/", "http://127.0.0.1", "http://{ADDRESS}")
        for path in [*SOURCE.rglob("*.html"), *SOURCE.rglob("*.py"), *(SOURCE / "web/static/js").glob("*.js")]:
            for address in re.findall(r"https?://[^\s\"')]+", path.read_text()):
                self.assertTrue(address.startswith(allowed), f"{path}: {address}")

    def test_licences_ship_beside_what_they_cover(self):
        static = SOURCE / "web" / "static"
        for path in ("fonts/LICENSE-atkinson-hyperlegible-next.txt", "fonts/LICENSE-bricolage-grotesque.txt"):
            self.assertTrue((static / path).exists())
        self.assertTrue((static / "vendor/bootstrap/LICENSE").exists())
