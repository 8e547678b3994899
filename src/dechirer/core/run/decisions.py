"""What the maker decides in Run: the tools owned, and how folds are scored."""

from typing import Annotated, Literal

from msgspec import Meta

from dechirer.core.card.operations import OPERATION
from dechirer.core.card.tools import TOOLS
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Choices, Field
from dechirer.core.decide.refusal import require
from dechirer.core.run.settings import Setting

BEST = "best"
"""Stands for the tool that costs least."""


def _score_tools() -> Choices:
    tools = OPERATION["score"].tools
    return ((BEST, "whichever costs least"), *((tool, f"the {TOOLS[tool].title.lower()}") for tool in tools))


class Run(Decisions, frozen=True):
    """The tools the maker owns, how folds are scored, and which files of the mats are written."""

    tools: tuple[str, ...] = ("thin-card-blade", "creasing-point")
    score_with: Annotated[str, Field("Score with", choices=_score_tools)] = BEST
    settings: Annotated[tuple[Setting, ...], Meta(max_length=200), Field("Settings", hidden=True)] = ()
    skip: Annotated[tuple[Literal["svg", "dxf", "plt", "png"], ...], Field("Files of mats left out", hidden=True)] = ()
    split: Annotated[bool, Field("A file for each pass as well")] = False
    score_passes: Annotated[int, Field("Score passes over each fold", 1, 4)] = 1

    def agree(self) -> None:
        for tool in self.tools:
            require(tool in TOOLS, f"tool “{tool}” is not one of {', '.join(TOOLS)}")
        known = [value for value, _ in _score_tools()]
        pairs = [(each.paper, each.tool) for each in self.settings]
        require(len(set(pairs)) == len(pairs), "two settings are of one paper and tool")
        require(self.score_with in known, f"score_with “{self.score_with}” is not one of {', '.join(known)}")


def keep_setting(run: Run, setting: Setting) -> Change:
    """The change that sets a tool for a paper, in the place of what was set before."""
    others = tuple(each for each in run.settings if (each.paper, each.tool) != (setting.paper, setting.tool))
    return Change("run.settings", (*others, setting))


def drop_setting(run: Run, paper: str, tool: str) -> Change:
    """The change after which a tool is set for a paper as it is suggested."""
    return Change("run.settings", tuple(each for each in run.settings if (each.paper, each.tool) != (paper, tool)))
