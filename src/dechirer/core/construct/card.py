"""The card as a builder is given it: its finished size, its paper and how it is folded, and nothing of the job."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan, PaperFacts
from dechirer.core.brief.decisions import Brief, Paper
from dechirer.core.brought import Art
from dechirer.core.card.fold import Fold
from dechirer.core.figure import Figure


def make_anew(_key: Any, make: Callable[[], Any]) -> Any:
    """What is made, remembered by nobody."""
    return make()


class Card(Struct, frozen=True):
    """What is asked for.

    Attributes:
        width, height: the finished size as figures, in mm.
        count: how many.
        paper: the id of the base's paper.
        fold: how the folds of the base are marked.
        facts: what is known of the papers on hand.
        units: `in` or `mm`, for words.
        blank: the flat size (mm) of a bought blank it is made from, if any.
        rooms: how much of each paper's sheet the machine cuts, by the paper's id: width and height in mm.
        arts: the files that outlines are taken from.
        recall: what is dear to make, from memory by its key where that has it.
    """

    width: Figure
    height: Figure
    count: int
    paper: str
    fold: Fold
    facts: BriefPlan
    units: str = "in"
    blank: tuple[float, float] | None = None
    rooms: dict[str, tuple[float, float]] = {}
    arts: tuple[Art, ...] = ()
    recall: Callable[[Any, Callable[[], Any]], Any] = make_anew

    @property
    def thickness(self) -> Figure:
        """The thickness of the base's paper, in mm."""
        return self.facts.paper(self.paper).thickness

    def thickness_of(self, paper: str) -> float:
        """The thickness of a paper, in mm.

        Raises:
            KeyError: no such paper.
        """
        return self.facts.paper(paper).thickness.value

    @property
    def longest_mm(self) -> float:
        """The longest straight piece the machine cuts from the base's sheet."""
        return max(self.room_of(self.paper))

    def room_of(self, paper: str) -> tuple[float, float]:
        """How much of a paper's sheet the machine cuts: width and height in mm; a foot each way when it is not said."""
        return self.rooms.get(paper, (292.1, 292.1))

    def paper_facts(self) -> PaperFacts:
        """What is known of the base's paper."""
        return self.facts.paper(self.paper)


def make_card(
    brief: Brief,
    fold: Fold,
    facts: BriefPlan,
    units: str,
    margin_mm: float,
    arts: tuple[Art, ...] = (),
    recall: Callable[[Any, Callable[[], Any]], Any] = make_anew,
) -> Card:
    """The card that a brief asks for; `margin_mm` is kept round each sheet."""
    rooms = {paper.id: find_room(brief, paper, margin_mm) for paper in brief.papers}
    stated = brief.stated_blank
    blank = None if stated is None else (stated.width.mm, stated.height.mm)
    return Card(
        facts.width, facts.height, brief.count, brief.base_paper, fold, facts, units, blank, rooms, arts, recall
    )


def find_room(brief: Brief, paper: Paper, margin_mm: float) -> tuple[float, float]:
    """How much of a paper's sheet the machine cuts, less the margin round it: width and height in mm."""
    machine, sheet = (
        brief.machine,
        max((paper.sheet, *paper.other_sheets), key=lambda size: size.area),
    )
    across = min(machine.cut_left + machine.cut_width, sheet.width.mm - margin_mm) - max(machine.cut_left, margin_mm)
    down = min(machine.cut_top + machine.cut_height, sheet.height.mm - margin_mm) - max(machine.cut_top, margin_mm)
    return across, down
