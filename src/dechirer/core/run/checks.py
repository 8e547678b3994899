"""Checks of the run: are the tools there, and is the stock scored as its weight wants?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.brief.machine import find_holder
from dechirer.core.card.operations import OPERATION
from dechirer.core.card.piece import Piece
from dechirer.core.card.tools import EASILY_HELD, TOOLS
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Dress
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.memory import Memory
from dechirer.core.paper.weight import DOUBLE_SCORE_FROM_GSM
from dechirer.core.run.decisions import BEST, Run, keep_setting
from dechirer.core.run.run import RunPlan, find_order, make_run
from dechirer.core.run.settings import Setting, setting_of
from dechirer.core.run.tools import ToolChoice
from dechirer.core.stations import Work
from dechirer.core.words import plural


class RunSeen(Struct, frozen=True):
    """The decisions up to here, what is known of the papers, the dressed card (`whole`) and the run."""

    brief: Brief
    run: Run
    facts: BriefPlan
    whole: ConstructPlan
    plan: RunPlan
    dress: Dress


@CHECKS.add("run.tool-missing", of=make_run)
def find_missing_tools(seen: RunSeen) -> Iterator[Finding]:
    """A tool the plan asks for that the maker does not own, or that no holder of the machine takes."""
    for choice in seen.plan.choices:
        if not choice.trouble:
            continue
        if choice.trouble == "not-owned":
            title = f"{choice.title} is not among your tools"
            reason = f"The plan asks for it to {OPERATION[choice.operation].verb} with."
        else:
            title = f"No holder takes the {choice.title.lower()}"
            reason = (
                f"The {seen.brief.machine.name} has {', '.join(holder.name for holder in seen.brief.machine.holders)}."
            )
        yield Finding(
            "run.tool-missing",
            "stop",
            title,
            reason,
            f"Nothing can be {OPERATION[choice.operation].done}.",
            choice.tool,
            tuple(_mends_for_tool(seen, choice)),
        )


def _mends_for_tool(seen: RunSeen, choice: ToolChoice) -> Iterator[Mend]:
    for other in OPERATION[choice.operation].tools:
        if other != choice.tool and other in seen.run.tools and find_holder(seen.brief.machine, other):
            yield Mend(f"Use the {TOOLS[other].lower()}", (Change("run.score_with", BEST),))
    if choice.operation == "score":
        # Scores that were drawn, and not made by a fold, have no field to be marked otherwise.
        paths = dict.fromkeys(piece.fold_field for piece in seen.whole.pieces if piece.folds and piece.fold_field)
        if paths:
            yield Mend("Perforate the folds", tuple(Change(f"{path}.kind", "perforate") for path in paths))
    if choice.operation == "foil" and "pen" in seen.run.tools and find_holder(seen.brief.machine, "pen"):
        drawn = tuple(_drawn_instead(seen.dress))
        if drawn:
            yield Mend("Draw it with a pen instead", drawn)
    if choice.trouble == "no-holder" and choice.tool in EASILY_HELD:
        # Machine profiles written before pens were planned for do not list them.
        first = seen.brief.machine.holders[0]
        others = tuple(holder for holder in seen.brief.machine.holders if holder is not first)
        taught = structs.replace(first, takes=(*first.takes, choice.tool))
        yield Mend(f"The {first.name} takes it", (Change("brief.machine.holders", (taught, *others)),))
    if choice.trouble == "not-owned" and find_holder(seen.brief.machine, choice.tool):
        yield Mend("I have one", (Change("run.tools", (*seen.run.tools, choice.tool)),))


def _drawn_instead(dress: Dress) -> Iterator[Change]:
    """The changes after which all that is foiled is drawn."""
    for item in dress.items:
        if item.made == "foil":
            yield Change(f"dress.items.{item.id}.made", "pen")
    used = {item.art for item in dress.items if item.made == "art"}
    for art in dress.art:
        for group in art.groups if art.id in used else ():
            if group.role == "foil":
                yield Change(f"dress.art.{art.id}.groups.{group.id}.role", "pen")


@CHECKS.add("run.kiss-untested", of=make_run)
def find_kiss_cuts_that_were_not_tried(seen: RunSeen) -> Iterator[Finding]:
    """A kiss cut on a paper whose depth was never set after a test cut."""
    told: set[str] = set()
    for mat in seen.plan.mats:
        blade = next((each.tool.tool for each in mat.passes if each.operation == "kiss"), None)
        paper = mat.layout.paper
        setting = setting_of(seen.run.settings, paper, blade) if blade is not None else None
        if blade is None or paper in told or (setting is not None and setting.depth is not None):
            continue
        told.add(paper)
        yield Finding(
            "run.kiss-untested",
            "note",
            f"How deep {seen.facts.paper(paper).paper.name} is kiss-cut has not been tried",
            "Cut the test of Settings on it, look at what lies behind for a scratch and no more, and type in how far "
            "the blade stood out.",
            "Too deep, and what peels away takes its backing along; not deep enough, and it tears.",
            mat.layout.id,
        )


@CHECKS.add("run.single-score", of=make_run)
def find_single_score_on_heavy_stock(seen: RunSeen) -> Iterator[Finding]:
    """Heavy stock is scored twice, or it cracks along the fold."""
    tool = next((choice.tool for choice in seen.plan.choices if choice.operation == "score"), "")
    scored = [piece for piece in seen.whole.pieces if any(line.operation == "score" for line in piece.run_lines)]
    all_heavy = all(_is_heavy(seen, piece) for piece in scored)
    told: set[str] = set()
    for piece in scored:
        facts = seen.facts.paper(piece.paper)
        if piece.paper in told or not _is_heavy(seen, piece):  # once for a paper, however many pieces are of it
            continue
        setting = setting_of(seen.run.settings, piece.paper, tool)
        if (setting.passes if setting is not None else seen.run.score_passes) > 1:
            continue
        told.add(piece.paper)
        twice = structs.replace(setting or Setting(piece.paper, tool or "creasing-point"), passes=2)
        yield Finding(
            "run.single-score",
            "look",
            f"{facts.paper.name} is heavy for a single score",
            f"It weighs {facts.grammage.value:.0f} g/m²; from about {DOUBLE_SCORE_FROM_GSM:.0f} g/m² a fold is scored "
            "twice (common practice).",
            "The fold may crack or stand off its line. Try one on an offcut.",
            f"{piece.id}-fold",
            (
                Mend("Score twice", (Change("run.score_passes", 2),))
                if setting is None and all_heavy
                else Mend("Score this paper twice", (keep_setting(seen.run, twice),)),
            ),
        )


def _is_heavy(seen: RunSeen, piece: Piece) -> bool:
    """Whether a piece is of a paper whose folds are scored twice."""
    return seen.facts.paper(piece.paper).grammage.value >= DOUBLE_SCORE_FROM_GSM


@CHECKS.add("run.tool-would-spare", of=make_run)
def find_tools_that_would_spare_changes(seen: RunSeen) -> Iterator[Finding]:
    """A tool that is not owned, and with which tools would be changed less often."""
    now = int(seen.plan.changes.value)
    if not now or any(choice.trouble for choice in seen.plan.choices):
        return
    present = {choice.operation for choice in seen.plan.choices}
    others = dict.fromkeys(tool for operation in present for tool in OPERATION[operation].tools)
    work = Work(Memory())
    for tool in others:
        if tool in seen.run.tools or find_holder(seen.brief.machine, tool) is None:
            continue
        with_it = structs.replace(seen.run, tools=(*seen.run.tools, tool), score_with=BEST)
        found, _ = find_order(seen.plan.lay, with_it, seen.brief.machine, work)
        spared = now - found.changes
        if spared <= 0:
            continue
        minutes = spared * seen.brief.machine.pace.change_tool_s / 60
        yield Finding(
            "run.tool-would-spare",
            "note",
            f"A {TOOLS[tool].lower()} would spare {spared} tool {plural(spared, 'change')}",
            f"That is about {max(1.0, minutes):.0f} {plural(max(1.0, minutes), 'minute')} of this run.",
            "",
            tool,
            (Mend("I have one", (Change("run.tools", with_it.tools), Change("run.score_with", BEST))),),
        )
