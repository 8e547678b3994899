"""Where the paper is too weak: narrow webs, islands that fall out, crowded pen lines. Worked out once per dress."""

from __future__ import annotations

from collections.abc import Container, Iterable
from functools import partial
from typing import Any

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.dress.dressed import Dressed, Weak
from dechirer.core.dress.mark import rings_of
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.spots import Spot
from dechirer.core.memory import Memory
from dechirer.core.paper.strength import web_it_holds
from dechirer.core.shape.affine import translate
from dechirer.core.shape.algebra import polygon, polygons_of
from dechirer.core.shape.outline import Box
from dechirer.core.shape.webs import Narrow, find_narrow
from dechirer.core.stopping import checkpoint

MOST_PLACES = 60
REACH = 4
"""So many times as far round an opening as its paper holds it is looked for narrow places."""
CUT_OUT = ("window", "art")
"""Ways of being made that open the face."""
NOT_CUT = ("print", "pen", "foil", "hand", "guide", "score", "perforate")
HOLE_SHARE = 0.5
"""An opening narrower than this share of what the paper holds cannot be weeded (common practice)."""


def holds_of(paper_id: str, brief: Brief, facts: BriefPlan) -> float:
    """The narrowest web a paper of the job holds, in mm: the maker's own value, else by its weight."""
    paper = next((paper for paper in brief.papers if paper.id == paper_id), None)
    if paper is not None and paper.holds is not None:
        return paper.holds.mm
    gsm = facts.paper(paper_id).grammage.value
    return web_it_holds(gsm) if gsm > 0 else 1.0


def find_weak(
    items: tuple[Dressed, ...],
    brief: Brief,
    facts: BriefPlan,
    memory: Memory,
    only: Container[str] | None = None,
) -> tuple[Weak, ...]:
    """The weak places of every item that is cut, on the first copy of each.

    Args:
        only: the ids of those that are looked at among the others; all of them when it is None.
    """
    found = []
    seen: set[str] = set()
    for dressed in items:
        item, spot = dressed.item, dressed.spot
        if spot is None or item.id in seen or item.made in NOT_CUT or (only is not None and item.id not in only):
            continue
        seen.add(item.id)
        paper = (item.paper or brief.base_paper) if item.made == "piece" else spot.paper
        holds = holds_of(paper, brief, facts)
        opened = _opened_near(dressed, spot, holds, items)
        key = (dressed.placed.serial, item.made, holds, spot, tuple(other.placed.serial for other in opened))
        kept = memory.recall(("weak", *key), partial(_look, dressed, spot, holds, opened, memory))
        if kept.narrow or kept.slim or kept.islands:
            found.append(kept)
    return tuple(found)


def _opened_near(dressed: Dressed, spot: Spot, holds: float, items: Iterable[Dressed]) -> list[Dressed]:
    """What is cut out of the face so near to an opening that little paper may be left between them, itself as well."""
    if dressed.item.made in ("piece", "kiss") or dressed.placed.drawn.is_empty:
        return []
    round_it = Box(*dressed.placed.drawn.box()).grown(REACH * holds)
    return [
        other
        for other in items
        if other.spot is not None and other.spot.id == spot.id and other.item.made in CUT_OUT
        if not other.placed.drawn.is_empty and round_it.overlaps(Box(*other.placed.drawn.box()))
    ]


def _cut_areas(dressed: Dressed) -> list[Any]:
    return [area for part in dressed.placed.drawn.parts if part.role == "cut" and not part.folds for area in part.areas]


def _look(dressed: Dressed, spot: Spot, holds: float, opened: list[Dressed], memory: Memory) -> Weak:
    import shapely

    item = dressed.item
    checkpoint("looking for narrow places", item.id)
    if item.made == "piece":
        narrow = [each for part in items_of(dressed.placed.drawn) for each in _look_at_piece(part, holds, memory)]
        return Weak(item.id, spot.id, holds, tuple(sorted(narrow, key=lambda each: each.width)[:MOST_PLACES]))
    peels = item.made == "kiss"
    areas = [area for part in dressed.placed.drawn.parts for area in part.areas] if peels else _cut_areas(dressed)
    if not areas:
        return Weak(item.id, spot.id, holds)
    opening = shapely.union_all(areas)
    slim = find_narrow(opening, holds * HOLE_SHARE)
    if peels:
        return Weak(item.id, spot.id, holds, (), tuple(slim[:MOST_PLACES]))
    islands = [ring for area in polygons_of(opening) for ring in area.interiors]
    middles = tuple((p.x, p.y) for p in (shapely.Polygon(ring).centroid for ring in islands))
    # The paper that is left round it: the face without every opening on it, islands counted out.
    others = [shapely.Polygon(area.exterior) for other in opened for area in _cut_areas(other)]
    gone = shapely.union_all([*others, *(polygon(hole) for hole in spot.holes)])
    near = shapely.box(*opening.bounds).buffer(REACH * holds, join_style="mitre")
    left = shapely.intersection(shapely.difference(polygon(spot.outline), gone), near)
    narrow = [each for each in find_narrow(left, holds) if _is_by(each, opening, holds)]
    return Weak(item.id, spot.id, holds, tuple(narrow[:MOST_PLACES]), tuple(slim[:MOST_PLACES]), middles)


def _look_at_piece(part: Any, holds: float, memory: Memory) -> list[Narrow]:
    """The narrow places of one outline of a piece, which has them wherever it lies."""
    left, top, _, _ = part.bounds
    rings = rings_of(part, translate(-left, -top))
    found = memory.recall(("narrow", rings, holds), lambda: find_narrow(polygon(rings[0], rings[1:]), holds))
    return [each.moved(translate(left, top)) for each in found]


def _is_by(narrow: Narrow, opening: Any, holds: float) -> bool:
    """Whether a narrow place of the paper lies against an opening, and not at the cut-off of the look."""
    import shapely

    return bool(shapely.distance(shapely.Polygon(narrow.outline), opening) < holds / 2)
