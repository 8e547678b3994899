"""What has to hold after any work: undone is as it was, saved is as opened, and the plan is that of the job alone."""

from __future__ import annotations

import difflib
import hashlib
import sys
from pathlib import Path

from dechirer.core.audit import audit
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.dressed import Dressed
from dechirer.core.job.model import Job, write_job_json
from dechirer.core.plan import Plan, make_plan
from dechirer.formats.job.archive import read_archive, write_archive

LONGEST, MOST_TOLD = 400, 4000


def parts_of(plan: Plan) -> dict[str, list[object]]:
    """What is compared of a plan between processes, part by part."""
    return {
        "figures": [(key, round(figure.value, 7)) for key, figure in plan.figures.items()],
        "findings": [(each.code, each.severity, each.reason, each.element) for each in plan.findings],
        "pieces": [
            (piece.id, piece.count, [(line.id, line.operation, _near(line.paths)) for line in piece.lines])
            for piece in plan.dress.pieces
        ],
        "mats": [
            (layout.paper, [(each.id, _near((each.outline,)), each.turned) for each in layout.placements])
            for layout in plan.lay.layouts
        ],
        "faces": [
            (
                each.item.id,
                each.copy.number,
                each.placed.trouble,
                [_near((_corners(stage),)) for stage in _stages(each)],
            )
            for each in plan.dress.items
        ],
        "at hand": list(plan.dress.at_hand),
        "joints": [(each.id, each.adhesive, round(each.area, 4), each.free_of) for each in plan.making_up.joints],
        "steps": [(each.id, each.words, each.more, each.why, round(each.hands_s, 4)) for each in plan.making_up.steps],
        "kit": [(each.id, each.name, each.size, each.total) for each in plan.making_up.kit],
        "weeding": [(each.mat, each.fragile, each.corner, each.lift) for each in plan.making_up.weeding],
        "costs": [(cost.figure, cost.number, cost.words) for cost in plan.costs()],
    }


def digest(plan: Plan) -> dict[str, str]:
    """A plan in a few short words, one for each part of it, so that two plans can be compared between processes."""
    return {
        name: hashlib.sha256(repr(part).encode("utf-8", "replace")).hexdigest()[:16]
        for name, part in parts_of(plan).items()
    }


def tell_apart(plan: Plan, other: str) -> str:
    """The first lines in which a plan differs from what `python -m soak.judge FILE --whole` printed of another."""
    mine = [f"{name} {line!r}"[:LONGEST] for name, part in parts_of(plan).items() for line in part]
    return "\n".join(difflib.unified_diff(other.splitlines(), mine, "from nothing", "of edits", lineterm="", n=0))[
        :MOST_TOLD
    ]


def _stages(dressed: Dressed) -> tuple[Drawn, ...]:
    """An item before its recipe and after each of its steps."""
    return (dressed.placed.start, *dressed.placed.stages)


def _corners(drawn: Drawn) -> tuple[tuple[float, float], tuple[float, float]]:
    left, top, right, bottom = drawn.box()
    return (left, top), (right, bottom)


def _near(paths: object) -> object:
    return [[(round(x, 5), round(y, 5)) for x, y in path] for path in paths]  # type: ignore[attr-defined]


def check_saved(job: Job, folder: Path) -> None:
    """A job that is saved and opened is the same, byte for byte."""
    path = folder / "judged.dechirer"
    write_archive(path, job)
    again = read_archive(path)
    assert again == job, "what was opened is not what was saved"
    assert write_job_json(again) == write_job_json(job), "what was opened is written otherwise"


def check_audit(plan: Plan) -> None:
    """A plan without stops is clean."""
    if not plan.stops:
        faults = audit(plan, again=True)
        assert not faults, f"{faults[0].place}: {faults[0].words}"


def main() -> None:
    """Print the digest of the plan of a job file, made from nothing; with --whole, what it is a digest of."""
    plan = make_plan(read_archive(Path(sys.argv[1])))
    if "--whole" in sys.argv[2:]:
        for name, part in parts_of(plan).items():
            for line in part:
                print(f"{name} {line!r}"[:LONGEST].encode("utf-8", "replace").decode())
        return
    for name, words in digest(plan).items():
        print(name, words)


if __name__ == "__main__":
    main()
