"""Every fix of random jobs, one by one and all at once: bench fixes [how many] [seed].

A fix that does more than it says is listed: another problem, or, where it chooses nothing for the user, a piece lost or
added. Exit 1 when there is one.
"""

from __future__ import annotations

import sys
from collections import Counter

from tests.jobs.wandering import wander

from dechirer.core.fixing import find_harm, fix_all
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import JobError
from dechirer.core.plan import Planner


def main() -> int:
    """Try and print."""
    many = int(sys.argv[1]) if len(sys.argv) > 1 else 500
    first = int(sys.argv[2]) if len(sys.argv) > 2 else 700_000
    counts: Counter[str] = Counter()
    harms: Counter[str] = Counter()
    for seed in range(first, first + many):
        job, planner = wander(seed), Planner()
        plan = planner.plan(job)
        counts["jobs"] += 1
        for finding in plan.findings:
            for fix in finding.mends:
                counts["fixes"] += 1
                counts["safe fixes"] += fix.restores
                try:
                    after = planner.plan(apply_changes(job, fix.changes))
                except JobError as error:
                    harms[f"{finding.code} “{fix.label}”: refused: {error}"[:150]] += 1
                    continue
                harm = find_harm(plan, after, finding, may_change_pieces=not fix.restores)
                if harm:
                    kind = "restores" if fix.restores else "chooses"
                    harms[f"{finding.code} ({kind}) “{fix.label}”: {harm}"[:170]] += 1
                    print(f"  seed {seed}: {finding.code} ({kind}) “{fix.label}”: {harm}", flush=True)
        fixed, made = fix_all(plan, planner)
        counts["made by fix all"] += len(made)
        harm = find_harm(plan, fixed, may_change_pieces=True)
        if harm:
            harms[f"fix all: {harm}"] += 1
            print(f"  seed {seed}: fix all: {harm}", flush=True)
    print(", ".join(f"{number} {what}" for what, number in counts.items()))
    print(f"{sum(harms.values())} did more than they say")
    for harm, number in harms.most_common(40):
        print(f"  {number} x {harm}")
    return int(bool(harms))


if __name__ == "__main__":
    sys.exit(main())
