"""How much paper is left round what is cut in a face, whatever the shape of its panel; and what is small enough."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from msgspec import structs

from dechirer.core.card.panels import Face, PanelTree
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.finding import Mend
from dechirer.core.length import Length, make_length, parse_length
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import bounds, is_rectangle

STEP_MM = 0.5
"""A path is looked at so often when it leaves its panel: how far is told to a part of that."""
SEEN_MM = 0.05
"""What reaches out by less is not seen, and may be a rounding."""
HALVINGS = 30

Sized = TypeVar("Sized", bound=Decisions)


def paper_left(tree: PanelTree, face: Face, *paths: Points, closed: bool = True) -> float:
    """Millimetres of paper between paths on a face, as seen, and the nearest edge or fold of it; below zero by how far
    they run past it.

    Raises:
        ValueError: there are no points.
    """
    box = bounds([point for path in paths for point in path])
    beside = min(box.left, box.top, face.width - box.right, face.height - box.bottom)
    outline = tree.panel(face.panel).outline
    if is_rectangle(outline) or beside < 0:
        return beside
    import shapely  # a plain card does without it

    panel, edge = shapely.Polygon(outline), shapely.LinearRing(outline)
    for path in paths:
        flat = face.to_flat.all((*path, path[0]) if closed else path)
        drawn = shapely.segmentize(shapely.LineString(flat), STEP_MM)
        out = shapely.distance(shapely.points(shapely.get_coordinates(drawn)), panel).max()
        beside = min(beside, -float(out) if out > 0 else float(shapely.distance(edge, drawn)))
    return beside


def past_shape(tree: PanelTree, face: Face, outline: Points) -> float:
    """How far what lies on a face, as seen, reaches out of a panel that is no rectangle, in mm; 0 for one that is: what
    is larger than the box of its face is told as such."""
    if is_rectangle(tree.panel(face.panel).outline):
        return 0.0
    past = -paper_left(tree, face, outline)
    return past if past > SEEN_MM else 0.0


def round_up(mm: float, units: str) -> Length:
    """A round length at or just above a value: see `make_length`."""
    found = make_length(mm, units)
    return found if found.mm >= mm else make_length(mm + (25.4 / 16 if units == "in" else 0.5), units)


def largest_share(fits: Callable[[float], bool]) -> float:
    """The largest share up to 1 of a size that fits, when all that is smaller does, too; 0 when nothing was found."""
    if fits(1.0):
        return 1.0
    low, high = 0.0, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if fits(middle) else (low, middle)
    return low


def mend_smaller(
    label: str,
    path: str,
    own: Sized,
    most: tuple[float, float],
    least: float,
    units: str,
    fits: Callable[[Sized], bool],
) -> tuple[Mend, ...]:
    """The mend that makes what is cut at a path as large as `most` (mm) at most, and smaller in the same shape until it
    fits; nothing when not even the least does."""

    def sizes(share: float) -> dict[str, Length]:
        round_ones = (make_length(max(least, share * size), units) for size in most)
        made = (each if each.mm >= least else parse_length(f"{least:g} mm") for each in round_ones)
        return dict(zip(("width", "height"), made, strict=True))

    share = largest_share(lambda share: fits(structs.replace(own, **sizes(share))))
    if not share:
        return ()
    return (Mend(label, tuple(Change(f"{path}.{name}", size) for name, size in sizes(share).items())),)
