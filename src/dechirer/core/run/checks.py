"""Checks of the run: are the tools there, and is the stock scored as its weight wants?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.construct.construct import ConstructPlan
from dechirer.core.finding import CheckList, Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.machine import TOOLS, find_holder
from dechirer.core.job.model import Job
from dechirer.core.paper.weight import DOUBLE_SCORE_FROM_GSM
from dechirer.core.run.run import RunPlan
from dechirer.core.run.tools import TOOLS_FOR, VERBS, ToolChoice


class RunContext(Struct, frozen=True):
    """What the run's checks look at."""

    job: Job
    brief: BriefPlan
    construct: ConstructPlan
    run: RunPlan


CHECKS: CheckList[RunContext] = CheckList("run")

EASILY_HELD = frozenset({"pen", "hot-foil-tip"})
"""Tools that clamp into a holder without parts of the machine's own."""


@CHECKS.register
def find_missing_tools(context: RunContext) -> Iterator[Finding]:
    """A tool the plan asks for that the maker does not own, or that no holder of the machine takes."""
    job = context.job
    for choice in context.run.choices:
        if not choice.trouble:
            continue
        if choice.trouble == "not-owned":
            title = f"{choice.title} is not among your tools"
            reason = f"The plan asks for it to {VERBS[choice.operation][0]} with."
        else:
            title = f"No holder takes the {choice.title.lower()}"
            reason = (
                f"The {job.brief.machine.name} has {', '.join(holder.name for holder in job.brief.machine.holders)}."
            )
        yield Finding(
            "run.tool-missing",
            "stop",
            "run",
            title,
            reason,
            f"Nothing can be {VERBS[choice.operation][1]}.",
            choice.tool,
            tuple(_mends_for_tool(context, choice)),
        )


def _mends_for_tool(context: RunContext, choice: ToolChoice) -> Iterator[Mend]:
    job = context.job
    for other in TOOLS_FOR[choice.operation]:
        if other != choice.tool and other in job.run.tools and find_holder(job.brief.machine, other):
            yield Mend(f"Use the {TOOLS[other].lower()}", (Change("run.score_with", "best"),))
    if choice.operation == "score":
        paths = dict.fromkeys(piece.fold_field for piece in context.construct.pieces if piece.folds)
        yield Mend("Perforate the folds", tuple(Change(f"{path}.kind", "perforate") for path in paths))
    if choice.trouble == "no-holder" and choice.tool in EASILY_HELD:
        # Machine profiles written before pens were planned for do not list them.
        first = job.brief.machine.holders[0]
        others = tuple(holder for holder in job.brief.machine.holders if holder is not first)
        taught = structs.replace(first, takes=(*first.takes, choice.tool))
        yield Mend(f"The {first.name} takes it", (Change("brief.machine.holders", (taught, *others)),))
    if choice.trouble == "not-owned" and find_holder(job.brief.machine, choice.tool):
        yield Mend("I have one", (Change("run.tools", (*job.run.tools, choice.tool)),))


@CHECKS.register
def find_single_score_on_heavy_stock(context: RunContext) -> Iterator[Finding]:
    """Heavy stock is scored twice, or it cracks along the fold."""
    job = context.job
    if job.run.score_passes > 1:
        return
    told: set[str] = set()
    for piece in context.construct.pieces:
        facts = context.brief.paper(piece.paper)
        if piece.paper in told:  # once for a paper, however many pieces are of it
            continue
        if facts.grammage.value < DOUBLE_SCORE_FROM_GSM or not any(line.operation == "score" for line in piece.lines):
            continue
        told.add(piece.paper)
        yield Finding(
            "run.single-score",
            "look",
            "run",
            f"{facts.paper.name} is heavy for a single score",
            f"It weighs {facts.grammage.value:.0f} g/m²; from about {DOUBLE_SCORE_FROM_GSM:.0f} g/m² a fold is scored "
            "twice (common practice).",
            "The fold may crack or stand off its line. Try one on an offcut.",
            f"{piece.id}-fold",
            (Mend("Score twice", (Change("run.score_passes", 2),)),),
        )
