"""Which tool does each operation: from the tools owned and the holders of the machine."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.brief.machine import Machine, find_holder
from dechirer.core.card.operations import OPERATION, Operation
from dechirer.core.card.tools import TOOLS
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
    wanted = OPERATION[operation].tools
    if run.score_with in wanted:
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
