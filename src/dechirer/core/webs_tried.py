"""Webs that held or tore, from a ladder of webs that was cut on trial and from the narrow places of a run."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence

from dechirer.core.keep.entries import WebTried, entry_id
from dechirer.core.plan import Plan

LEAST_MM = 0.05


def ladder_tried(plan: Plan, paper: str, held: float, widths: Sequence[float], day: str) -> Iterator[WebTried]:
    """What a trial cut of webs tells of a paper, by its id: those from `held` (mm) up held, narrower ones tore. Told
    again on a day, it takes the place of what was told before."""
    fact = plan.brief.paper(paper)
    name = fact.paper.name[:120]
    for width in widths:
        yield WebTried(ladder_id(name, width, day), day, name, width, width >= held - 1e-6, fact.grammage.value)


def ladder_id(paper: str, width: float, day: str) -> str:
    """The id of one web of a ladder that was cut on a day."""
    return entry_id("web", paper, day, f"{width:g}")


def webs_of_run(plan: Plan, id: str, day: str, tore: Collection[str]) -> Iterator[WebTried]:
    """The narrowest web of each paper that is narrower than the paper is thought to hold: it held, or it tore.

    Args:
        tore: ids of papers of which a sheet was spoiled by a web that tore.
    """
    narrowest: dict[str, float] = {}
    for weak in plan.dress.weak:
        item = next((each for each in plan.job.dress.items if each.id == weak.item), None)
        spot = plan.dress.spot(weak.spot)
        webs = [each.width for each in weak.narrow if each.kind == "web" and each.width >= LEAST_MM]
        if item is None or spot is None or not webs:
            continue
        paper = (item.paper or plan.job.brief.base_paper) if item.made == "piece" else spot.paper
        narrowest[paper] = min(narrowest.get(paper, webs[0]), *webs)
    for number, (paper, width) in enumerate(narrowest.items()):
        fact = plan.brief.paper(paper)
        own = f"{id}-web-{number}"[:80]
        yield WebTried(own, day, fact.paper.name[:120], round(width, 3), paper not in tore, fact.grammage.value)
