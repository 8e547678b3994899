"""Whether the tests would notice: small faults put into the core one at a time, and those that no test finds listed.

    bin/bench mutants            # 20 mutants, seed 1
    bin/bench mutants 40 7       # 40 mutants, seed 7

Each mutant is one change of one expression, made in a copy of the project. The tests whose files import the changed
module run first, then all that do without a window. What survives is a line that no test holds to its meaning, or one
whose meaning does not depend on it; reading tells which.
"""

from __future__ import annotations

import ast
import copy
import os
import random
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parents[1]
TESTS = ("tests/core", "tests/drawing", "tests/formats")
COMPARE: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
}
ARITHMETIC: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
}


class Mutant(NamedTuple):
    """A fault: the file, the line, the file's text with it, and in words what was changed."""

    path: Path
    line: int
    text: str
    words: str


def changed(node: ast.AST) -> Iterator[tuple[ast.AST, str]]:
    """The faults one expression can have: the changed expression and words for it."""
    made = copy.deepcopy(node)
    if isinstance(made, ast.Compare) and len(made.ops) == 1 and type(made.ops[0]) in COMPARE:
        made.ops = [COMPARE[type(made.ops[0])]()]
        yield made, "compared otherwise"
    elif isinstance(made, ast.BinOp) and type(made.op) in ARITHMETIC:
        made.op = ARITHMETIC[type(made.op)]()
        yield made, "reckoned otherwise"
    elif isinstance(made, ast.BoolOp):
        made.op = ast.Or() if isinstance(made.op, ast.And) else ast.And()
        yield made, "and for or"
    elif isinstance(made, ast.UnaryOp) and isinstance(made.op, ast.USub | ast.Not):
        yield made.operand, "without its sign"
    elif isinstance(made, ast.IfExp):
        made.body, made.orelse = made.orelse, made.body
        yield made, "the other way round"


def mutants_of(path: Path) -> Iterator[Mutant]:
    """Every fault a file can have."""
    source = path.read_text()
    lines = source.splitlines()
    tree = ast.parse(source)
    worded = {id(node) for text in ast.walk(tree) if isinstance(text, ast.JoinedStr) for node in ast.walk(text)}
    for function in (node for node in ast.walk(tree) if isinstance(node, ast.FunctionDef)):
        for node in ast.walk(function):
            if not isinstance(node, ast.expr) or node.end_lineno != node.lineno or id(node) in worded:
                continue
            for new, words in changed(node):
                line = lines[node.lineno - 1].encode()
                text = f"({ast.unparse(new)})"
                edited = line[: node.col_offset] + text.encode() + line[node.end_col_offset :]
                whole = [*lines[: node.lineno - 1], edited.decode(), *lines[node.lineno :]]
                yield Mutant(path, node.lineno, "\n".join(whole) + "\n", f"{words}: {edited.decode().strip()[:100]}")


def is_found(mutant: Mutant, home: Path) -> bool:
    """Whether any test fails with the mutant in a copy of the project."""
    place = home / mutant.path.relative_to(ROOT)
    good = place.read_text()
    place.write_text(mutant.text)
    module = ".".join(mutant.path.relative_to(ROOT / "src").with_suffix("").parts)
    near = [
        str(path.relative_to(home))
        for folder in TESTS
        for path in sorted((home / folder).glob("test_*.py"))
        if f"{module} import" in path.read_text()
    ]
    try:
        return any(fails(home, files) for files in (near, list(TESTS)) if files)
    finally:
        place.write_text(good)


def fails(home: Path, files: list[str]) -> bool:
    """Whether the tests of some files fail."""
    done = subprocess.run(
        [sys.executable, "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *files],
        cwd=home,
        env={**os.environ, "PYTHONPATH": str(home / "src"), "QT_QPA_PLATFORM": "offscreen"},
        capture_output=True,
        timeout=900,
    )
    return done.returncode != 0


def main(number: int = 20, seed: int = 1) -> None:
    """Choose mutants by the seed, try each, and list those that no test found."""
    chance = random.Random(seed)
    every = [mutant for path in sorted((ROOT / "src/dechirer/core").rglob("*.py")) for mutant in mutants_of(path)]
    chosen = chance.sample(every, number)
    print(f"{number} of {len(every)} mutants of the core, seed {seed}")
    left, began = [], time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        home = Path(folder)
        for name in ("src", "tests", "docs", "bench", "soak", "bin"):
            shutil.copytree(ROOT / name, home / name, ignore=shutil.ignore_patterns("__pycache__"))
        for name in ("pyproject.toml", "README.md", "CONTRIBUTING.md"):
            shutil.copy(ROOT / name, home / name)
        if fails(home, list(TESTS)):
            raise SystemExit("the tests fail without any mutant")
        for mutant in chosen:
            found = is_found(mutant, home)
            where = f"{mutant.path.relative_to(ROOT / 'src/dechirer')}:{mutant.line}"
            print(f"  {'found   ' if found else 'SURVIVES'}  {where}  {mutant.words}", flush=True)
            left += [] if found else [where]
    share = 100 * (number - len(left)) / number
    print(f"{number - len(left)} of {number} found ({share:.0f} %), {time.monotonic() - began:.0f} s")


if __name__ == "__main__":
    main(*(int(each) for each in sys.argv[1:3]))
