"""How much paper is left round what is cut in a face, whatever the shape of its panel; and what is small enough."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from msgspec import structs

from dechirer.core.card.panels import Face, PanelTree
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.finding import Finding, Mend
from dechirer.core.length import Length, format_length, make_length_from
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


def say_past_shape(
    code: str, what: str, element: str, face: Face, past: float, mends: tuple[Mend, ...], units: str
) -> Finding:
    """What is said of a rectangle that reaches out of its face's shape by so much (mm): see `past_shape`."""
    return Finding(
        code,
        "look",
        f"The {what} shows past the edge of the {face.name}",
        f"It is a rectangle, the {face.name} is not: its corners reach out by {format_length(past, units)}.",
        "It shows past the edge.",
        element,
        mends,
    )


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
        width, height = (make_length_from(least, share * size, units) for size in most)
        return {"width": width, "height": height}

    share = largest_share(lambda share: fits(structs.replace(own, **sizes(share))))
    if not share:
        return ()
    return (Mend(label, tuple(Change(f"{path}.{name}", size) for name, size in sizes(share).items())),)
