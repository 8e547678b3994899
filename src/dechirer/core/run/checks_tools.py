"""Checks of the tools: are they there, is a tip as broad as its lines, and which one would spare changes?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import structs

from dechirer.core.brief.machine import find_holder
from dechirer.core.card.operations import OPERATION
from dechirer.core.card.tools import EASILY_HELD, TOOLS
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Dress
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.run.checks import RunSeen
from dechirer.core.run.decisions import BEST
from dechirer.core.run.run import find_order, make_run
from dechirer.core.run.tools import ToolChoice, tools_for
from dechirer.core.stations import Work
from dechirer.core.words import plural


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
    for other in tools_for(choice.kind, structs.replace(seen.run, score_with=BEST)):
        if other != choice.tool and other in seen.run.tools and find_holder(seen.brief.machine, other):
            yield Mend(f"Use the {TOOLS[other].title.lower()}", (Change("run.score_with", BEST),))
    if choice.operation == "score":
        # Scores that were drawn, and not made by a fold, have no field to be marked otherwise.
        paths = dict.fromkeys(piece.fold_field for piece in seen.whole.pieces if piece.folds and piece.fold_field)
        if paths:
            yield Mend("Perforate the folds", tuple(Change(f"{path}.kind", "perforate") for path in paths))
    if choice.operation == "foil" and "pen" in seen.run.tools and find_holder(seen.brief.machine, "pen"):
        drawn = tuple(_drawn_instead(seen.dress))
        if drawn:
            yield Mend("Draw it with a pen instead", drawn)
    if choice.trouble == "no-holder" and TOOLS[choice.tool].kind in EASILY_HELD:
        # Machine profiles written before pens were planned for do not list them.
        first = seen.brief.machine.holders[0]
        others = tuple(holder for holder in seen.brief.machine.holders if holder is not first)
        taught = structs.replace(first, takes=(*first.takes, TOOLS[choice.tool].fits_as or choice.tool))
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


@CHECKS.add("run.tip-differs", of=make_run)
def find_tips_that_differ(seen: RunSeen) -> Iterator[Finding]:
    """Foil that is run by another tip than is as broad as its lines, because that one is not owned."""
    for choice in seen.plan.choices:
        wanted = tools_for(choice.kind, seen.run)[0]
        if choice.operation != "foil" or choice.trouble or wanted == choice.tool:
            continue
        name, real = TOOLS[wanted].title.lower(), TOOLS[choice.tool]
        mends = [Mend("I have one", (Change("run.tools", (*seen.run.tools, wanted)),))]
        drawn = tuple(_drawn_instead(seen.dress))
        if drawn and "pen" in seen.run.tools and find_holder(seen.brief.machine, "pen"):
            mends.append(Mend("Draw it with a pen instead", drawn))
        yield Finding(
            "run.tip-differs",
            "look",
            f"A {name} is not among your tools",
            f"The {real.title.lower()} is taken: its lines come out about {real.width:g} mm broad, "
            f"{choice.kind.tip:g} mm are wanted.",
            "Letters fill up." if real.width > choice.kind.tip else "Lines come out thin.",
            wanted,
            tuple(mends),
        )


@CHECKS.add("run.tool-would-spare", of=make_run)
def find_tools_that_would_spare_changes(seen: RunSeen) -> Iterator[Finding]:
    """A tool that is not owned, and with which tools would be changed less often."""
    now = int(seen.plan.changes.value)
    if not now or any(choice.trouble for choice in seen.plan.choices):
        return
    present = dict.fromkeys(choice.operation for choice in seen.plan.choices)  # in one order, whatever their hashes are
    others = dict.fromkeys(tool for operation in present for tool in OPERATION[operation].tools)
    work = Work(seen.memory)
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
            f"A {TOOLS[tool].title.lower()} would spare {spared} tool {plural(spared, 'change')}",
            f"That is about {max(1.0, minutes):.0f} {plural(max(1.0, minutes), 'minute')} of this run.",
            "",
            tool,
            (Mend("I have one", (Change("run.tools", with_it.tools), Change("run.score_with", BEST))),),
        )
