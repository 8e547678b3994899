"""Whether the tests would notice: small faults put into the core one at a time, and those that no test finds listed.

    bin/bench mutants            # 20 mutants, seed 1
    bin/bench mutants 200 7      # 200 mutants, seed 7

Each mutant is one change of one expression, made in a copy of the project. One run beforehand tells which tests without
a window come past which line; of those the quickest run, a minute of them at most. A test that never ends has found the
fault as well. What survives is a line that no test holds to its meaning, or one whose meaning does not depend on it;
reading tells which.
"""

from __future__ import annotations

import ast
import copy
import json
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
TESTS = ("tests/core", "tests/drawing", "tests/formats", "tests/jobs", "tests/test_cli.py")
QUICK_S, REST_S = 8.0, 60.0
"""Of the tests that come past a fault the quickest run first, so many seconds of them; then more."""
SLOWER = 6.0
"""A run may take so many times what its tests took before, and LEAST_S at least; then one of them never ends."""
LEAST_S = 90.0
ENDS_OF_NO_FAULT = {0, 5}  # of pytest: all passed, or there was none; 4 when what the tests begin with cannot be read
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


class Covering(NamedTuple):
    """Which tests run which lines: the tests with their seconds, and by file and line their numbers."""

    tests: list[tuple[str, float]]
    lines: dict[str, dict[str, list[int]]]

    def past(self, mutant: Mutant) -> list[tuple[str, float]]:
        """The tests that come past a fault, the quickest first; those of one function together."""
        functions: dict[str, float] = {}
        for number in self.lines.get(str(mutant.path.relative_to(ROOT)), {}).get(str(mutant.line), []):
            test, seconds = self.tests[number]
            name = test.partition("[")[0]
            functions[name] = functions.get(name, 0.0) + seconds
        return sorted(functions.items(), key=lambda test: test[1])


def find_covering(home: Path) -> Covering:
    """Run every test without a window once, in a copy of the project, and read what each came past."""
    table = home / "covering.json"
    done = run_tests(home, list(TESTS), "-p", "bench.covering", covering=str(table), seconds=3600)
    if done != 0:
        raise SystemExit("the tests fail without any mutant")
    read = json.loads(table.read_text())
    return Covering([(test, seconds) for test, seconds in read["tests"]], read["lines"])


def is_found(mutant: Mutant, home: Path, covering: Covering) -> bool:
    """Whether any test fails with the mutant in a copy of the project."""
    place = home / mutant.path.relative_to(ROOT)
    good = place.read_text()
    place.write_text(mutant.text)
    quick, spent, rest, more = [], 0.0, [], 0.0
    for test, seconds in covering.past(mutant):
        if spent + seconds < QUICK_S:
            quick, spent = [*quick, test], spent + seconds
        elif more + seconds < REST_S:
            rest, more = [*rest, test], more + seconds
    try:
        return any(
            run_tests(home, tests, seconds=LEAST_S + SLOWER * lasts) not in ENDS_OF_NO_FAULT
            for tests, lasts in ((quick, spent), (rest, more))
            if tests
        )
    finally:
        place.write_text(good)


def run_tests(home: Path, tests: list[str], *more: str, seconds: float, covering: str = "") -> int:
    """How pytest ends on some tests: 0 when they pass; 1 too when they take longer than `seconds`."""
    chosen = home / "chosen.txt"
    chosen.write_text("\n".join(tests))
    try:
        return subprocess.run(
            [sys.executable, "-m", "pytest", "-x", "-q", "-n", "0", "-p", "no:cacheprovider", *more, f"@{chosen}"],
            cwd=home,
            env={
                **os.environ,
                "PYTHONPATH": f"{home / 'src'}{os.pathsep}{home}",
                "QT_QPA_PLATFORM": "offscreen",
                "PYTHONDONTWRITEBYTECODE": "1",
                "COVERING": covering,
            },
            capture_output=True,
            timeout=seconds,
        ).returncode
    except subprocess.TimeoutExpired:
        return 1


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
        covering = find_covering(home)
        for mutant in chosen:
            found = is_found(mutant, home, covering)
            where = f"{mutant.path.relative_to(ROOT / 'src/dechirer')}:{mutant.line}"
            print(f"  {'found   ' if found else 'SURVIVES'}  {where}  {mutant.words}", flush=True)
            left += [] if found else [where]
    share = 100 * (number - len(left)) / number
    print(f"{number - len(left)} of {number} found ({share:.0f} %), {time.monotonic() - began:.0f} s")


if __name__ == "__main__":
    main(*(int(each) for each in sys.argv[1:3]))
