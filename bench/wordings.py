"""Costs that grow with the copies: the dressed demo with a name on each card. The yardstick is the demo with 6 names.

`python -m bench.wordings [how many ...]` also draws the cost per copy, as a line of bars.
"""

from __future__ import annotations

import gc
import sys
import time

from soak.run import memory_mb

from bench.table import show, verdict
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import table_of
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import Planner
from dechirer.demo import load_demo_job

WANTED_S = {500: 2.0, 2000: 10.0}


def worded(count: int) -> Job:
    """The dressed demo with as many cards, and on the back of each another name."""
    job = apply_changes(load_demo_job("kites"), [Change("dress.items.made-by.words.text", "Dear {name}")])
    rows = tuple((f"Guest {number}",) for number in range(count))
    return apply_changes(job, [Change("brief.count", count), Change("dress.copies", table_of(("name",), rows))])


def main() -> None:
    """Measure and print."""
    gc.disable()  # as the window does, see desk/work/tidying.py
    rows, base = [], 0.0
    for count in [6, *(int(each) for each in sys.argv[1:])] if sys.argv[1:] else (6, 100, 250, 500, 1000, 2000):
        job, planner = worded(count), Planner()
        began = time.perf_counter()
        plan = planner.plan(job)
        took = time.perf_counter() - began
        base = base or took
        each = 1000 * (took - base) / count
        bar = "▇" * round(2 * each)
        told = f"{took:.2f} s, {len(plan.lay.layouts)} mats, {memory_mb():.0f} MB; {each:.1f} ms more a copy {bar}"
        rows.append((f"{count} wordings", told, f"{base:.2f} s for 6", verdict(took < WANTED_S.get(count, took + 1))))
    show("copies that differ in words", rows)


if __name__ == "__main__":
    main()
