"""A pytest plugin that writes which test runs which lines of the core, and how long each test takes.

`-p bench.covering` with COVERING naming the file to write: JSON, {"lines": {file: {line: [number of a test, ...]}},
"tests": [[node id, seconds], ...]}. What a shared fixture ran counts for the first test that asked for it.
"""

from __future__ import annotations

import json
import os
import time
from collections.abc import Iterator
from pathlib import Path

import coverage
import pytest

CORE = Path(__file__).parents[1] / "src/dechirer/core"
seconds: dict[str, float] = {}
watching = coverage.Coverage(data_file=None, source=[str(CORE)], check_preimported=True)
watching.start()


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Iterator[None]:
    """Each test, with its fixtures, is a context of its own."""
    watching.switch_context(item.nodeid)
    began = time.monotonic()
    yield
    seconds[item.nodeid] = time.monotonic() - began
    watching.switch_context("")


def pytest_sessionfinish() -> None:
    """The table of lines and tests is written."""
    watching.stop()
    data = watching.get_data()
    number = {test: index for index, test in enumerate(seconds)}
    lines = {
        str(Path(file).relative_to(CORE.parents[2])): {
            line: sorted(number[test] for test in tests if test in number)
            for line, tests in data.contexts_by_lineno(file).items()
        }
        for file in data.measured_files()
    }
    table = {"tests": list(seconds.items()), "lines": lines}
    Path(os.environ["COVERING"]).write_text(json.dumps(table))
