"""What keeps the house small: lengths of files, classes and functions, caches, no circles of imports, docstrings."""

from __future__ import annotations

import ast
import graphlib
import re
import statistics
from collections.abc import Iterator
from pathlib import Path

import grimp
import pytest

from tests.house.rooms import FILES, SOURCE

LONGEST_FILE, MEDIAN_FILE, LONGEST_CLASS, LONGEST_FUNCTION = 500, 150, 300, 60
SMALL_CACHE = 128
HOOKS = frozenset({"agree", "typed", "shown", "refresh", "owns", "point_at", "open_box", "figures"})
"""What a base class has described; a class that fills it in need not say it again."""
QT = re.compile(r"[a-z]+([A-Z][a-z]+)+|count")
"""The methods of Qt that a widget fills in; those of our own are written_so."""


def trees() -> Iterator[tuple[Path, ast.Module]]:
    for path in FILES:
        yield path, ast.parse(path.read_text())


def length(node: ast.stmt) -> int:
    return (node.end_lineno or node.lineno) - node.lineno + 1


def test_files_classes_and_functions_are_short() -> None:
    lines = {path: len(path.read_text().splitlines()) for path in FILES}
    assert max(lines.values()) <= LONGEST_FILE, max(lines, key=lambda path: lines[path])
    assert statistics.median(lines.values()) < MEDIAN_FILE
    for path, tree in trees():
        for node in ast.walk(tree):
            if isinstance(node, ast.ClassDef):
                assert length(node) <= LONGEST_CLASS, f"{path}: {node.name}"
            if isinstance(node, ast.FunctionDef):
                assert length(node) <= LONGEST_FUNCTION, f"{path}: {node.name}"


def test_what_is_remembered_of_jobs_is_forgotten_with_them() -> None:
    """Caches that live as long as the process are small: what fills them for hours lies all over the memory."""
    for path, tree in trees():
        if path.name == "memory.py":
            continue
        for node in ast.walk(tree):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "lru_cache":
                sizes = [word.value.value for word in node.keywords if isinstance(word.value, ast.Constant)]
                assert sizes, f"{path}: line {node.lineno}: say how many"
                assert sizes[0] <= SMALL_CACHE, f"{path}: line {node.lineno}: make it until_forgotten"


def test_imports_go_in_no_circle() -> None:
    graph = grimp.build_graph("dechirer", cache_dir=None)
    order = graphlib.TopologicalSorter({each: graph.find_modules_directly_imported_by(each) for each in graph.modules})
    order.prepare()  # raises CycleError with the circle


def test_no_name_of_a_thing_stands_in_the_frame() -> None:
    """The desk's frame, the plan and the command line know no station, construction or step by name."""
    from dechirer.core.construct.specs import CONSTRUCTIONS
    from dechirer.core.stations import STATIONS

    names = {*STATIONS.ids(), *CONSTRUCTIONS.ids()}
    frame = ("core/plan.py", "core/stations.py", "core/rooms.py", "desk/room.py", "desk/window.py", "desk/views.py")
    for name in frame:
        tree = ast.parse((SOURCE / name).read_text())
        words = {
            node.value for node in ast.walk(tree) if isinstance(node, ast.Constant) and isinstance(node.value, str)
        }
        assert not words & names, f"{name} names {sorted(words & names)}"


@pytest.mark.parametrize("room", ["core", "drawing", "formats", "desk", "."])
def test_public_functions_say_what_they_do_and_raise(room: str) -> None:
    for path, tree in trees():
        parts = path.relative_to(SOURCE).parts
        if (parts[0] if len(parts) > 1 and parts[0] in ("core", "drawing", "formats", "desk") else ".") != room:
            continue
        assert ast.get_docstring(tree) is not None, f"{path} has no docstring"
        for owner, node in public(tree):
            words = ast.get_docstring(node)
            told = node.name in HOOKS or (room == "desk" and owner and QT.fullmatch(node.name))
            assert words or told, f"{path}: {node.name} has no docstring"
            if words and isinstance(node, ast.FunctionDef) and raises(node):
                assert "rais" in words.lower(), f"{path}: {node.name} does not say what it raises"


def public(tree: ast.Module) -> Iterator[tuple[str, ast.FunctionDef | ast.ClassDef]]:
    """Public classes and functions, and the public methods of those classes with the name of the class."""
    for node in tree.body:
        if not isinstance(node, ast.FunctionDef | ast.ClassDef) or node.name.startswith("_"):
            continue
        yield "", node
        if isinstance(node, ast.ClassDef):
            for inner in node.body:
                if isinstance(inner, ast.FunctionDef) and not inner.name.startswith("_") and not is_setter(inner):
                    yield node.name, inner


def is_setter(node: ast.FunctionDef) -> bool:
    return any(isinstance(each, ast.Attribute) and each.attr == "setter" for each in node.decorator_list)


def raises(node: ast.FunctionDef) -> bool:
    names = [each.exc for each in ast.walk(node) if isinstance(each, ast.Raise) and isinstance(each.exc, ast.Call)]
    return any(isinstance(each.func, ast.Name) and each.func.id.endswith("Error") for each in names)
