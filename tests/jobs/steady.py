"""What every known job comes to, in a few numbers: so that no change of the core goes by unseen.

These numbers say nothing of what is right: that is measured elsewhere, from outside. They say that a result is what it
was. When a change is meant, look at what moved and write the numbers anew: `python -m tests.jobs.steady`.
"""

from __future__ import annotations

import json
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

import shapely
from msgspec import Struct, structs

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.finding import Mend
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, JobError
from dechirer.core.length import Length
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import DEMOS, load_demo_job
from tests.core import test_catalogue, test_dress_catalogue
from tests.jobs import made
from tests.jobs.test_twenty import good
from tests.jobs.wandering import wander

WANDERERS = 130
FILE = Path(__file__).with_name("steady.json")
PARTS = ("brief", "construct", "stacked", "dress", "lay", "run")
PASSED_OVER = ("serial", "stages")
"""What counts the results a process has made, and differs from process to process; and the steps on the way to what is
measured anyway."""
Totals = dict[str, list[float]]


def list_jobs() -> dict[str, Callable[[], Job]]:
    """The demos, the whole jobs, one of every construction, jobs that were edited at random, and every job that some
    check complains of."""
    jobs: dict[str, Callable[[], Job]] = {f"demo {name}": (lambda name=name: load_demo_job(name)) for name in DEMOS}
    jobs |= {name: getattr(made, name) for name in dir(made) if name.startswith("job_")}
    jobs |= {f"good {kind}": (lambda kind=kind: good(kind, "mm")) for kind in CONSTRUCTIONS.ids()}
    jobs |= {f"wandered {seed}": (lambda seed=seed: wander(seed)) for seed in range(WANDERERS)}
    for catalogue in (test_catalogue.CATALOGUE, test_dress_catalogue.CATALOGUE):
        jobs |= {f"found {code}": make for code, make in catalogue.items()}
    return jobs


def total(value: Any) -> tuple[float, int, int]:
    """All numbers in something as one, each weighed by where it stands; how many they are; and its words as one."""
    numbers, count, words = 0.0, 0, 0
    waiting: list[tuple[Any, str]] = [(value, "")]
    while waiting:
        here, name = waiting.pop()
        if isinstance(here, Length):
            waiting.append((here.mm, f"{name}.mm"))
        elif isinstance(here, bool | int | float):
            numbers += float(here) * weigh(name)
            count += 1
        elif isinstance(here, str):
            words = zlib.crc32(f"{name} {here}".encode("utf-8", "replace"), words)
        elif isinstance(here, Struct):
            fields = structs.asdict(here).items()
            waiting += [(each, f"{name}.{field}") for field, each in fields if field not in PASSED_OVER]
        elif isinstance(here, dict):
            waiting += [(each, f"{name}.{key}") for key, each in sorted(here.items(), key=lambda pair: str(pair[0]))]
        elif isinstance(here, tuple | list):
            waiting += [(each, f"{name}.{number % 50}") for number, each in enumerate(here)]
        elif isinstance(here, shapely.Geometry):
            waiting.append(((here.area, here.length, *here.bounds), f"{name}.shape"))
    return numbers, count, words


def weigh(name: str) -> float:
    """A number from 0.5 to 1.5 for a place, so that what one number gains another cannot lose unseen."""
    return 0.5 + zlib.crc32(name.encode()) / 2**32


def measure(plan: Plan) -> Totals:
    """A plan's parts and findings, each as its three totals; and the jobs that its mends make of it."""
    parts = {name: list(total(getattr(plan, name))) for name in PARTS} | {"findings": list(total(plan.findings))}
    mended = [mended_by(plan.job, mend) for finding in plan.findings for mend in finding.mends]
    return parts | {"mended": list(total(mended))}


def mended_by(job: Job, mend: Mend) -> Any:
    """The job as a mend makes it, or why it cannot; without what was brought."""
    try:
        made = apply_changes(job, mend.changes)
    except JobError as error:
        return str(error)
    return made.brief, made.construct, made.dress.items, made.dress.copies, made.lay, made.run


def main() -> None:
    """Write the numbers anew."""
    lines = [f"{json.dumps(name)}: {json.dumps(measure(make_plan(make())))}" for name, make in list_jobs().items()]
    FILE.write_text("{\n" + ",\n".join(lines) + "\n}\n", encoding="utf-8")
    print(f"{len(lines)} jobs in {FILE.name}")


if __name__ == "__main__":
    main()
