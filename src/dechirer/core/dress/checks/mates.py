"""Check of mates: two outlines that lie on each other have to be the same."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from dechirer.core.decide.change import Change
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.seen import DressSeen, path_of
from dechirer.core.dress.spots import Spot
from dechirer.core.finding import CHECKS, Finding, Mend

MATED_MM = 0.1
"""Outlines that differ by more than this do not lie on each other."""


@CHECKS.add("dress.mates-differ", of=make_dress)
def find_mates_that_differ(seen: DressSeen) -> Iterator[Finding]:
    """Two outlines that were declared mates and are not the same."""
    import shapely

    for dressed in seen.first_of_each():
        item, other = dressed.item, seen.plan.item(dressed.item.mate or "")
        if other is None or dressed.spot is None or other.spot is None:
            continue
        mine, theirs = outer_of(dressed), outer_of(other)
        if mine is None or theirs is None:
            continue
        apart = min(
            float(shapely.hausdorff_distance(mine.boundary, way.boundary))
            for way in ways_of(theirs, dressed.spot, other.spot)
        )
        if apart <= MATED_MM:
            continue
        follow = (
            Change(path_of(item, "art"), None),
            Change(path_of(item, "words"), None),
            Change(path_of(item, "part"), None),
            Change(path_of(item, "of"), other.item.id),
            Change(path_of(item, "steps"), ()),
            Change(path_of(item, "width"), None),
            Change(path_of(item, "height"), None),
            Change(path_of(item, "fit_in"), None),
            Change(path_of(item, "same_as"), None),
            Change(path_of(item, "locked"), False),
        )
        mends = [Mend("Nothing mates", (Change(path_of(item, "mate"), None),))]
        if item.id not in other.item.needs():
            mends.insert(0, Mend(f"Follow {other.item.name}"[:46], follow))
        yield Finding(
            "dress.mates-differ",
            "stop",
            f"{item.name} and {other.item.name} do not mate",
            f"Their outlines differ by {apart:.1f} mm; up to {MATED_MM} mm does not show.",
            "One shows past the other when they are put together.",
            item.id,
            tuple(mends),
        )


def outer_of(dressed: Dressed) -> Any:
    """All that an item's outlines enclose, its middle at the origin; None for nothing."""
    import shapely

    whole = shapely.union_all([shapely.Polygon(area.exterior) for area in items_of(dressed.placed.drawn)])
    if whole.is_empty:
        return None
    left, top, right, bottom = whole.bounds
    return shapely.transform(whole, lambda points: points - ((left + right) / 2, (top + bottom) / 2))


def ways_of(outline: Any, spot: Spot, other: Spot) -> list[Any]:
    """How an outline may lie on its mate: as it is, or mirrored where one is seen from the other side or their papers
    have two good sides."""
    import shapely

    mirrored = shapely.transform(outline, lambda points: points * (-1.0, 1.0))
    return [mirrored] if spot.side != other.side and spot.panel == other.panel else [outline, mirrored]
