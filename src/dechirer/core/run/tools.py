"""Which tool does each operation: from the tools owned and the holders of the machine."""

from __future__ import annotations

from typing import NamedTuple

from msgspec import Struct

from dechirer.core.brief.machine import Machine, find_holder
from dechirer.core.card.operations import OPERATION, Operation
from dechirer.core.card.piece import Line
from dechirer.core.card.tools import DOUBLE_WHEEL, MEDIUM_MM, TOOLS
from dechirer.core.paper.colours import name_colour
from dechirer.core.run.decisions import Run


class ToolChoice(Struct, frozen=True):
    """The tool for one operation and the holder it sits in; `trouble` says why there is none.

    `trouble` is empty, `not-owned`, or `no-holder`. The plan goes on with the tool all the same, so that times
    and passes can be seen; the finding stops the job.
    """

    operation: Operation
    tool: str
    holder: str
    trouble: str = ""
    colour: str = ""
    tip: float = 0.0

    @property
    def title(self) -> str:
        """The tool's name, with how broad a pen is and its ink, or with the colour of a foil."""
        name = TOOLS[self.tool].title
        if self.tip and not TOOLS[self.tool].width:
            name = f"{self.tip:g} mm {name.lower()}"
        return f"{name}, {name_colour(self.colour)}" if self.colour else name

    @property
    def fitted(self) -> tuple[str, str, float]:
        """What must be in the holder: pens of two inks or two widths are two tools. The colour of foil is that of the
        sheet that is taped on, not of its tip."""
        return self.tool, "" if TOOLS[self.tool].kind == "foil" else self.colour, self.tip_fitted

    @property
    def kind(self) -> Kind:
        """The pass it is for."""
        return Kind(self.operation, self.colour, self.tip)

    @property
    def tip_fitted(self) -> float:
        """How broad the tool in the holder is, mm; 0 for one that has no width."""
        return TOOLS[self.tool].width or self.tip


class Kind(NamedTuple):
    """What makes a pass: the operation, the colour of its ink or foil where it has one, and how broad its tip is."""

    operation: Operation
    colour: str = ""
    tip: float = 0.0


def kind_of(line: Line) -> Kind:
    """The pass that a line belongs to."""
    return Kind(line.operation, line.colour, line.tip)


def tools_for(kind: Kind, run: Run) -> tuple[str, ...]:
    """The tools that do a kind of pass, the one that is asked for first: what folds are scored with where that is set,
    and of foil tips the one that is as broad as is wanted, then those nearest to it."""
    tools = OPERATION[kind.operation].tools
    if kind.operation == "foil":
        return tuple(sorted(tools, key=lambda tool: abs(TOOLS[tool].width - (kind.tip or MEDIUM_MM))))
    if run.score_with in tools:
        return (run.score_with,)
    # A double wheel leaves two grooves, for heavy stock: it is not taken unasked where there is another tool.
    others = tuple(tool for tool in tools if tool != DOUBLE_WHEEL)
    return others if any(tool in run.tools for tool in others) else tools


def tool_options(kind: Kind, run: Run, machine: Machine) -> list[ToolChoice]:
    """Every tool that can do a kind of pass here; when there is none, the one asked for with its trouble."""
    operation, colour, tip = kind
    wanted = tools_for(kind, run)
    able = []
    for tool in wanted:
        holder = find_holder(machine, tool)
        if tool in run.tools and holder is not None:
            able.append(ToolChoice(operation, tool, holder.name, colour=colour, tip=tip))
    if able:
        return able[:1] if operation == "foil" else able
    owned = next((tool for tool in wanted if tool in run.tools), None)
    tool = owned or wanted[0]
    holder = find_holder(machine, tool) or machine.holders[0]
    return [ToolChoice(operation, tool, holder.name, "no-holder" if owned else "not-owned", colour, tip)]
