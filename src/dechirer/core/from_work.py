"""From work that was done to entries of the book: a run at the machine, cards made up, sheets spoiled, stock used."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterator, Sequence

from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.keep.entries import TORE, Entry, MadeUp, RunDone, Spoilt, StockMoved, Took, entry_id
from dechirer.core.needs import foil_of, offcuts_used, sheets_of
from dechirer.core.plan import Plan
from dechirer.core.run.minutes import besides_seconds
from dechirer.core.run.steps import MachineStep
from dechirer.core.webs_tried import webs_of_run

LONGEST = 120


def run_entries(
    plan: Plan, day: str, steps: Sequence[MachineStep], seconds: Sequence[float], spoiled: Sequence[tuple[int, str]]
) -> Iterator[Entry]:
    """What a run that is over leaves in the book.

    Args:
        day: as 2026-05-02.
        steps, seconds: the steps at the machine and how long each was in front.
        spoiled: at which steps a sheet was spoiled, and why.
    """
    job = plan.job
    took = _took(plan, steps, seconds)
    sheets = sum(mat.layout.repeats for mat in plan.run.mats)
    id = entry_id("run", job.name, day, f"{sum(seconds):.1f}")
    yield RunDone(
        id,
        day,
        job.name[:LONGEST],
        job.brief.machine.name,
        job.brief.count,
        sheets,
        plan.run.minutes.value,
        sum(seconds) / 60,
        took,
    )
    papers = {paper.id: paper.name for paper in job.brief.papers}
    mats = {mat.layout.id: mat.layout for mat in plan.run.mats}
    lost: Counter[str] = Counter()
    torn: set[str] = set()
    for number, (place, why) in enumerate(spoiled):
        layout = mats.get(steps[place].mat) if place < len(steps) else None
        on = layout.paper if layout is not None else ""
        lost[on] += 1
        if TORE in why:
            torn.add(on)
        yield Spoilt(f"{id}-spoilt-{number + 1}"[:80], day, job.name[:LONGEST], papers.get(on, "paper"), why)
    yield from webs_of_run(plan, id, day, torn)
    why = f"cut for {job.name}"[:400]
    for paper, count in (sheets_of(plan) + lost).items():
        yield StockMoved(f"{id}-{paper}"[:80], day, papers.get(paper, paper), -float(count), why=why)
    for number, (foil, area) in enumerate(foil_of(plan).items()):
        yield StockMoved(f"{id}-foil-{number}"[:80], day, foil, -area, why=why)
    yield from offcuts_used(plan, id, day)


def _took(plan: Plan, steps: Sequence[MachineStep], seconds: Sequence[float]) -> tuple[Took, ...]:
    """How long each kind of step was planned to take and took; what no plan reckons with beside a usual measure."""
    pace = plan.job.brief.machine.pace
    usual = {"load": pace.load_mat_s, "fit": pace.change_tool_s}
    planned: dict[str, float] = defaultdict(float)
    real: dict[str, float] = defaultdict(float)
    times: Counter[str] = Counter()
    for step, took in zip(steps, seconds, strict=False):
        wanted = usual.get(step.timed_as, step.seconds) if step.kind in (*usual, "pass", "hold") else 0.0
        planned[step.timed_as] += wanted
        real[step.timed_as] += max(0.0, took)
        times[step.timed_as] += bool(wanted)
    loads = sum(mat.layout.repeats for mat in plan.run.mats)
    planned["besides"], times["besides"] = besides_seconds(loads), 1
    return tuple(
        Took(kind, planned[kind], real[kind], times[kind]) for kind in planned if planned[kind] > 0 and real[kind] > 0
    )


def making_entries(plan: Plan, day: str, stages: dict[str, tuple[float, float]]) -> Iterator[Entry]:
    """What cards that were made up leave in the book.

    Args:
        stages: of each stage the seconds that were planned, and those it took.
    """
    making: MakingPlan = plan.making_up
    total = sum(real for _, real in stages.values())
    id = entry_id("making", plan.job.name, day, f"{total:.1f}")
    yield MadeUp(
        id,
        day,
        plan.job.name[:LONGEST],
        plan.job.brief.count,
        making.schedule.minutes.value,
        total / 60,
        tuple(Took(stage, planned, real) for stage, (planned, real) in stages.items() if planned > 0 and real > 0),
    )
    for row in making.kit:
        if row.is_stocked and row.total:
            why = f"made up for {plan.job.name}"[:400]
            yield StockMoved(f"{id}-{row.id}"[:80], day, row.stock_name[:LONGEST], -row.stock_amount, why=why)
