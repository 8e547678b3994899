"""How soon long work stops when it is told: two steps of 60 repeats, and 500 wordings of the dressed demo.

Each job is planned several times and told to stop at another moment; the yardstick is the whole plan in the same run.
"""

from __future__ import annotations

import time

from tests.desk.test_patience import heavy

from bench.table import show, verdict
from bench.wordings import worded
from dechirer.core.job.model import Job
from dechirer.core.plan import PlanCancelled, Planner

MOST_MS = 200.0
MOMENTS = 12


def stop_at(job: Job, after_s: float) -> float | None:
    """How long a plan goes on after it was told to stop, in ms; None when it had ended before."""
    until, asked = time.perf_counter() + after_s, 0.0

    def cancelled() -> bool:
        nonlocal asked
        if not asked and time.perf_counter() > until:
            asked = time.perf_counter()
        return bool(asked)

    try:
        Planner().plan(job, cancelled=cancelled)
    except PlanCancelled:
        return 1000 * (time.perf_counter() - until)
    return None


def main() -> None:
    """Measure and print."""
    rows = []
    for name, job in (
        ("3,600 openings", heavy("window")),
        ("3,600 pen lines", heavy("pen")),
        ("3,600 pieces in one", heavy("piece")),
        ("500 wordings", worded(500)),
    ):
        began = time.perf_counter()
        Planner().plan(job)
        whole = time.perf_counter() - began
        late = [stop_at(job, whole * (number + 0.5) / MOMENTS) for number in range(MOMENTS)]
        worst = max(each for each in late if each is not None)
        rows.append((name, f"slowest stop {worst:.0f} ms", f"whole plan {whole:.1f} s", verdict(worst < MOST_MS)))
    show(f"stopping: under {MOST_MS:.0f} ms", rows)


if __name__ == "__main__":
    main()
