"""What the documents say is true of the tree."""

from __future__ import annotations

import ast
import re
import tomllib
from pathlib import Path

import pytest

from dechirer.core.job.schema import schema_text

ROOT = Path(__file__).parent.parent
SOURCES = sorted((ROOT / "src" / "dechirer").rglob("*.py"))


def test_the_published_schema_is_the_models() -> None:
    assert (ROOT / "docs" / "job.schema.json").read_text() == schema_text()


def test_screenshots_are_few_and_linked() -> None:
    pictures = list((ROOT / "docs" / "screenshots").glob("*.png"))
    readme = (ROOT / "README.md").read_text()
    assert 5 <= len(pictures) < 20
    for picture in pictures:
        assert f"docs/screenshots/{picture.name}" in readme


@pytest.mark.parametrize("name", ["README.md", "CONTRIBUTING.md", "docs/architecture.md", "docs/job-format.md"])
def test_links_and_paths_lead_somewhere(name: str) -> None:
    page = ROOT / name
    for target in re.findall(r"\]\(([^)#:]+)\)", page.read_text()):
        assert (page.parent / target).exists(), target


def test_pins_have_no_urls_and_cover_what_is_imported() -> None:
    pins = (ROOT / "requirements.txt").read_text() + (ROOT / "requirements-dev.txt").read_text()
    assert "://" not in pins
    wanted = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    for requirement in wanted:
        assert re.match(r"[\w-]+", requirement)[0].lower() in pins.lower()  # type: ignore[index]


def test_public_functions_of_core_say_what_they_do_and_raise() -> None:
    for source in SOURCES:
        if "core" not in source.parts and "formats" not in source.parts and "drawing" not in source.parts:
            continue
        tree = ast.parse(source.read_text())
        assert ast.get_docstring(tree), source
        classes = [each for each in tree.body if isinstance(each, ast.ClassDef)]
        tops = [*tree.body, *(each for owner in classes for each in owner.body)]
        for node in ast.walk(tree):
            if not isinstance(node, ast.FunctionDef | ast.ClassDef) or node.name.startswith("_"):
                continue
            words = ast.get_docstring(node)
            inner = isinstance(node, ast.FunctionDef) and node not in tops
            if not inner and not _inside_private(tree, node):
                assert words, f"{source}: {node.name} has no docstring"
            if words and isinstance(node, ast.FunctionDef) and _raises(node):
                assert "rais" in words.lower(), f"{source}: {node.name} does not say what it raises"


def _raises(node: ast.FunctionDef) -> bool:
    names = [each.exc for each in ast.walk(node) if isinstance(each, ast.Raise) and isinstance(each.exc, ast.Call)]
    return any(isinstance(each.func, ast.Name) and each.func.id.endswith("Error") for each in names)


def _inside_private(tree: ast.Module, node: ast.AST) -> bool:
    return any(
        isinstance(each, ast.ClassDef | ast.FunctionDef) and each.name.startswith("_") and node in ast.walk(each)
        for each in tree.body
    )


def test_files_stay_short() -> None:
    for source in SOURCES:
        assert len(source.read_text().splitlines()) <= 500, source


def test_no_literal_colours_in_widgets() -> None:
    for source in (ROOT / "src" / "dechirer" / "desk").rglob("*.py"):
        if source.name != "tokens.py":
            found = set(re.findall(r'"(#[0-9a-fA-F]{6})"', source.read_text())) - {"#ffffff"}
            assert not found, f"{source}: {found}"
