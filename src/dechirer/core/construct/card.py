"""The card as a builder is given it: its finished size, its paper and how it is folded, and nothing of the job."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan, PaperFacts
from dechirer.core.brief.decisions import Brief
from dechirer.core.card.fold import Fold
from dechirer.core.figure import Figure


class Card(Struct, frozen=True):
    """What is asked for.

    Attributes:
        width, height: the finished size as figures, in mm.
        count: how many.
        paper: the id of the base's paper.
        fold: how the folds of the base are marked.
        facts: what is known of the papers on hand.
        units: `in` or `mm`, for words.
        longest_mm: the longest straight piece the machine cuts from the base's sheet.
    """

    width: Figure
    height: Figure
    count: int
    paper: str
    fold: Fold
    facts: BriefPlan
    units: str = "in"
    longest_mm: float = 292.1

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

    def paper_facts(self) -> PaperFacts:
        """What is known of the base's paper."""
        return self.facts.paper(self.paper)


def make_card(brief: Brief, fold: Fold, facts: BriefPlan, units: str, margin_mm: float) -> Card:
    """The card that a brief asks for; `margin_mm` is kept round each sheet."""
    return Card(
        facts.width, facts.height, brief.count, brief.base_paper, fold, facts, units, find_longest(brief, margin_mm)
    )


def find_longest(brief: Brief, margin_mm: float) -> float:
    """The longest straight piece the machine cuts from the base's sheet, in mm."""
    sheet = next(paper.sheet for paper in brief.papers if paper.id == brief.base_paper)
    machine = brief.machine
    across = min(machine.cut_left + machine.cut_width, sheet.width.mm - margin_mm) - max(machine.cut_left, margin_mm)
    down = min(machine.cut_top + machine.cut_height, sheet.height.mm - margin_mm) - max(machine.cut_top, margin_mm)
    return max(across, down)
