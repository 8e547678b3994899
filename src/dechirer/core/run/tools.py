"""Which tool does each operation: from the tools owned and the holders of the machine."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.construct.piece import Operation
from dechirer.core.job.machine import TOOLS, Machine, find_holder
from dechirer.core.job.model import Run
from dechirer.core.paper.colours import name_colour

TOOLS_FOR: dict[Operation, tuple[str, ...]] = {
    "pen": ("pen",),
    "score": ("creasing-point", "creasing-wheel"),
    "foil": ("hot-foil-tip",),
    "perforate": ("thin-card-blade", "thick-card-blade"),
    "kiss": ("thin-card-blade",),
    "cut": ("thin-card-blade", "thick-card-blade"),
}
"""Tools that can do an operation, the usual one first. A point spares the blade change of a wheel."""

VERBS: dict[str, tuple[str, str]] = {
    "pen": ("draw", "drawn"),
    "score": ("score", "scored"),
    "foil": ("foil", "foiled"),
    "perforate": ("perforate", "perforated"),
    "kiss": ("kiss-cut", "kiss-cut"),
    "cut": ("cut", "cut"),
}
"""What each operation does, and what is then done."""


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

    @property
    def title(self) -> str:
        """The tool's name, with the ink of a pen or the colour of a foil."""
        return f"{TOOLS[self.tool]}, {name_colour(self.colour)}" if self.colour else TOOLS[self.tool]

    @property
    def fitted(self) -> tuple[str, str]:
        """What must be in the holder: pens of two inks are two tools."""
        return self.tool, self.colour


def tool_options(operation: Operation, run: Run, machine: Machine, colour: str = "") -> list[ToolChoice]:
    """Every tool that can do an operation here; when there is none, the one asked for with its trouble."""
    wanted: tuple[str, ...] = TOOLS_FOR[operation]
    if operation == "score" and run.score_with != "best":
        wanted = (run.score_with,)
    able = []
    for tool in wanted:
        holder = find_holder(machine, tool)
        if tool in run.tools and holder is not None:
            able.append(ToolChoice(operation, tool, holder.name, colour=colour))
    if able:
        return able
    owned = next((tool for tool in wanted if tool in run.tools), None)
    tool = owned or wanted[0]
    holder = find_holder(machine, tool) or machine.holders[0]
    return [ToolChoice(operation, tool, holder.name, "no-holder" if owned else "not-owned", colour)]
