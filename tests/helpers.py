"""Short ways to make jobs, and assertions with readable differences."""

from __future__ import annotations

import os

from hypothesis import settings
from msgspec.structs import replace

from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.finding import Finding
from dechirer.core.job.attach import attach
from dechirer.core.job.edit import apply_changes, read_field
from dechirer.core.job.model import Job
from dechirer.core.job.new import make_job
from dechirer.core.length import parse_length
from dechirer.core.paper.standards import parse_size
from dechirer.core.plan import Plan, make_plan

IN = 25.4
FUZZ = bool(os.environ.get("DECHIRER_FUZZ"))
"""Whether bin/fuzz is looking for new examples."""


def examples(number: int) -> settings:
    """So many examples of a property that is slow to try; bin/fuzz tries more of them."""
    return settings(max_examples=number * (8 if FUZZ else 1))


def quick_job(size: str = "5x7in", *, fold: str = "side-fold", liner: str = "", **more: object) -> Job:
    """A job from a size text; `liner` is a reveal text."""
    reveal = parse_length(liner, unit="in") if liner else None
    return make_job(construction=fold, size=parse_size(size, unit="in"), liner=reveal, **more)  # type: ignore[arg-type]


def typed(job: Job, path: str, text: str) -> Job:
    """The job after a text was typed into a field."""
    return apply_changes(job, read_field(job, path, text))


def changed(job: Job, **values: object) -> Job:
    """The job with fields set; `__` stands for a dot."""
    return apply_changes(job, [Change(path.replace("__", "."), value) for path, value in values.items()])


def codes(plan: Plan) -> list[str]:
    """The codes of a plan's findings."""
    return [finding.code for finding in plan.findings]


def finding(plan: Plan, code: str) -> Finding:
    """The first finding of a code."""
    found = [each for each in plan.findings if each.code == code]
    assert found, f"no finding {code} among {codes(plan)}"
    return found[0]


def mended(job: Job, code: str, number: int = 0) -> Plan:
    """The plan after a finding's mend was taken."""
    mend = finding(make_plan(job), code).mends[number]
    return make_plan(apply_changes(job, mend.changes))


def sizes_in(plan: Plan) -> dict[str, tuple[float, float]]:
    """Each piece's width and height in inches."""
    return {piece.id: (piece.width.value / IN, piece.height.value / IN) for piece in plan.construct.pieces}


def add(kind: str, job: Job, face: str = "") -> tuple[Change, ...]:
    """The changes that glue something on: on the front, or on the face of that name, be it there or not."""
    faces = make_plan(job).construct.tree.faces
    found = [each for each in faces if not face or each.name == face] or [replace(faces[0], name=face)]
    return attach(job, kind, found[0])


def attached(job: Job, *kinds: str) -> Job:
    """The job with things glued on its front."""
    for kind in kinds:
        job = apply_changes(job, add(kind, job))
    return job


def sheets_of(job: Job, width: str, height: str) -> Job:
    """A job all of whose papers come in sheets of that size."""
    size = Size(parse_length(width), parse_length(height))
    return changed(job, brief__papers=tuple(replace(paper, sheet=size) for paper in job.brief.papers))
