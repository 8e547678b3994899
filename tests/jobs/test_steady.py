"""No result changes unseen: every known job comes to what it came to (see `steady`, which says how to renew them)."""

from __future__ import annotations

import json

import pytest

from dechirer.core.plan import make_plan
from tests.jobs.steady import FILE, list_jobs, measure

KNOWN = json.loads(FILE.read_text(encoding="utf-8"))
JOBS = list_jobs()


@pytest.mark.parametrize("name", list(JOBS))
def test_a_known_job_comes_to_what_it_came_to(name: str) -> None:
    assert name in KNOWN, "a new job: python -m tests.jobs.steady"
    found, known = measure(make_plan(JOBS[name]())), KNOWN[name]
    for part, (numbers, count, words) in known.items():
        now = found[part]
        assert now[1] == count, f"{part}: another number of numbers"
        # Hardly more than the last digits, in which machines differ: a part has up to 100,000 numbers.
        assert now[0] == pytest.approx(numbers, rel=1e-10, abs=1e-6), f"{part}: other numbers"
        assert now[2] == words, f"{part}: other words"


def test_no_job_is_known_that_is_gone() -> None:
    assert set(KNOWN) == set(JOBS)
