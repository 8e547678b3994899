"""The brief's figures: what was typed, and what each paper weighs and measures."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.brief.decisions import Brief, Paper
from dechirer.core.figure import Figure
from dechirer.core.paper.weight import make_thickness_figure, make_weight_figure, parse_weight


class PaperFacts(Struct, frozen=True):
    """A paper on hand with its grammage (g/m2; value 0 when unknown) and thickness (mm)."""

    paper: Paper
    grammage: Figure
    thickness: Figure


class BriefPlan(Struct, frozen=True):
    """The brief as figures."""

    width: Figure
    height: Figure
    count: Figure
    papers: tuple[PaperFacts, ...]

    def paper(self, paper_id: str) -> PaperFacts:
        """The facts of a paper by id.

        Raises:
            KeyError: no such paper.
        """
        for facts in self.papers:
            if facts.paper.id == paper_id:
                return facts
        raise KeyError(paper_id)

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of the brief."""
        found = [self.width, self.height, self.count]
        for facts in self.papers:
            found += [facts.grammage, facts.thickness]
        return tuple(found)


def make_brief(brief: Brief) -> BriefPlan:
    """Turn what was typed into figures."""
    return BriefPlan(
        width=Figure("brief.width", "finished width", brief.width.mm, field="brief.width"),
        height=Figure("brief.height", "finished height", brief.height.mm, field="brief.height"),
        count=Figure("brief.count", "copies", float(brief.count), "count", field="brief.count"),
        papers=tuple(_facts(paper) for paper in brief.papers),
    )


def _facts(paper: Paper) -> PaperFacts:
    key, field = f"paper.{paper.id}", f"brief.papers.{paper.id}"
    grammage = make_weight_figure(f"{key}.grammage", paper.name, parse_weight(paper.weight), f"{field}.weight")
    measured = None
    if paper.thickness is not None:
        measured = Figure(f"{key}.measured", f"{paper.name} measured", paper.thickness.mm, field=f"{field}.thickness")
    return PaperFacts(paper, grammage, make_thickness_figure(f"{key}.thickness", paper.name, grammage, measured))
