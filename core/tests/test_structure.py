"""What holds the shape of the core: packages with public names, an action in one module."""

import ast
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path
from typing import get_args
from unittest import TestCase

from core.deciding import Action, RuleAction, SourceKind
from core.sequences import LaneStep, Step
from core.sources import KINDS

ROOT = Path(__file__).resolve().parents[2]
PACKAGES = sorted(one.parent.name for one in (ROOT / "core").glob("*/__init__.py"))


def modules() -> Iterator[tuple[str, str, ast.Module]]:
    """Every module of the project: its name, the name of its package, and what stands in it."""
    for top in ("core", "server", "bench", "demo", "tests"):
        for path in (ROOT / top).rglob("*.py"):
            if "migrations" in path.parts:
                continue
            parts = path.relative_to(ROOT).with_suffix("").parts
            is_package = parts[-1] == "__init__"
            name = ".".join(parts[:-1] if is_package else parts)
            yield name, name if is_package else name.rpartition(".")[0], ast.parse(path.read_text())


def imported(package: str, node: ast.ImportFrom) -> str:
    """The module that is imported from, by its whole name."""
    if not node.level:
        return node.module or ""
    above = package.split(".")
    base = above[: len(above) - node.level + 1]
    return ".".join([*base, *([node.module] if node.module else [])])


class Packages(TestCase):
    def test_only_public_names_are_imported_from_outside(self) -> None:
        looked_at = 0
        for name, package, tree in modules():
            for node in ast.walk(tree):
                if not isinstance(node, ast.ImportFrom):
                    continue
                parts = imported(package, node).split(".")
                if parts[0] != "core" or len(parts) < 2 or parts[1] not in PACKAGES:
                    continue
                own = ("core.tests", f"core.{parts[1]}")
                if parts[1] == "tests" or name.startswith(own):
                    continue
                looked_at += 1
                self.assertEqual(len(parts), 2, f"{name} imports from inside: {'.'.join(parts)}")
                public = import_module(f"core.{parts[1]}").__all__
                for one in node.names:
                    self.assertIn(one.name, public, f"{name} imports from core.{parts[1]}")
        self.assertGreater(looked_at, 300)


class Actions(TestCase):
    def test_each_is_a_module_with_all_of_it(self) -> None:
        kinds = get_args(get_args(Action)[0])
        self.assertEqual(len(kinds), 15)
        files = {one.stem for one in (ROOT / "core/deciding/actions").glob("*.py")}
        names = {one.model_fields["kind"].default for one in kinds}
        self.assertEqual(files - {"__init__", "base"}, names)
        for kind in kinds:
            self.assertTrue(issubclass(kind, RuleAction))
            for method in ("carry_out", "describe"):
                self.assertIsNot(getattr(kind, method), getattr(RuleAction, method), kind)


class Sources(TestCase):
    def test_each_is_a_module_with_all_of_it(self) -> None:
        files = {one.stem for one in (ROOT / "core/sources").glob("*.py")}
        self.assertEqual(files - {"__init__", "base"}, set(get_args(SourceKind)))
        self.assertEqual(set(KINDS), set(get_args(SourceKind)))

    def test_who_sends_it_themself(self) -> None:
        """Only an opt-in of their own brings somebody back: common practice of consent."""
        own = {kind for kind, rules in KINDS.items() if rules.own}
        self.assertEqual(own, {"form", "posted"})
        self.assertEqual({kind for kind, rules in KINDS.items() if rules.states_consent}, {"file"})


class Steps(TestCase):
    def test_each_is_a_module_with_all_of_it(self) -> None:
        kinds = get_args(get_args(Step)[0])
        files = {one.stem for one in (ROOT / "core/sequences/steps").glob("*.py")}
        names = {one.model_fields["kind"].default for one in kinds}
        self.assertEqual(files - {"__init__", "base"}, names)
        for kind in kinds:
            self.assertTrue(issubclass(kind, LaneStep))
            self.assertIsNot(kind.describe, LaneStep.describe, kind)
