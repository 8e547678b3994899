"""Check of printed sheets: bleed that meets a neighbour or a mark. Only what was put down by hand can lie so."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.card.placed import Placement
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.lay.checks import LaySeen
from dechirer.core.lay.lay import make_lay
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.pinning import name_of, unpin_layout
from dechirer.core.length import format_length

SLACK_MM = 0.02


@CHECKS.add("lay.bleed-meets", of=make_lay)
def find_bleed_that_meets(seen: LaySeen) -> Iterator[Finding]:
    """Bleed that is printed on another piece, on a mark or its bare ground, or where the printer does not reach."""
    for layout in seen.plan.layouts:
        if not layout.is_pinned or layout.sheet.printable is None:
            continue
        for placed in layout.placements:
            met = _what_it_meets(placed, layout)
            if met is None:
                continue
            what, cost = met
            bleed = max((_depth(placed, layout.face), 0.0))
            yield Finding(
                "lay.bleed-meets",
                "stop",
                f"Mat {layout.number}: the bleed of {name_of(placed)} {what}",
                f"Its ink goes on {format_length(bleed, seen.units)} past the cut.",
                cost,
                f"{layout.id}/{placed.id}",
                (Mend("Place this mat again", (unpin_layout(seen.lay, layout),)),),
            )
            break


def _bleed(placed: Placement, side: str) -> Any:
    """The bleed of a placed piece as one geometry on the sheet."""
    import shapely

    areas = [area for part in placed.prints() if part.side == side for area in part.bleed]
    shapes = [shapely.Polygon(outer, holes) for outer, *holes in areas]
    return shapely.union_all([each if each.is_valid else shapely.make_valid(each) for each in shapes])


def _depth(placed: Placement, side: str) -> float:
    """How far the bleed goes past the cut, in mm."""
    import shapely

    places = shapely.points(shapely.get_coordinates(_bleed(placed, side)))
    return float(shapely.distance(shapely.Polygon(placed.outline), places).max()) if len(places) else 0.0


def _what_it_meets(placed: Placement, layout: MatLayout) -> tuple[str, str] | None:
    import shapely

    bleed = _bleed(placed, layout.face)
    if bleed.is_empty:
        return None
    inner = shapely.buffer(bleed, -SLACK_MM)
    for other in layout.placements:
        if other is placed:
            continue
        theirs = shapely.union(shapely.Polygon(other.outline), _bleed(other, layout.face))
        if shapely.intersects(inner, theirs):
            return f"meets {name_of(other)}", "A strip of the wrong ink shows at its rim."
    marks = layout.sheet.registration
    for zone in marks.zones() if marks is not None else ():
        if shapely.intersects(inner, shapely.box(zone.left, zone.top, zone.right, zone.bottom)):
            return "lies on a mark", "The mark is not found, and the machine refuses the sheet."
    area = layout.sheet.printable
    if area is not None and not shapely.box(area.left, area.top, area.right, area.bottom).covers(inner):
        return "goes past what the printer reaches", "A bare rim shows there."
    return None
