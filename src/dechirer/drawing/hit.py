"""What lies under the pointer: pure, so it is tested without a window."""

from __future__ import annotations

import math
from collections.abc import Callable

from msgspec import Struct

from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box, bounds, foot_on_line, is_inside
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Dimension, Display, Label, Shape
from dechirer.drawing.viewport import Viewport

NEAR_HIDDEN_PX = 9.0


class Hit(Struct, frozen=True):
    """What was found: an element id, and the figure and field when it is a number."""

    element: str = ""
    figure: str = ""
    field: str = ""


def hit_test(display: Display, viewport: Viewport, px: Point, measure: Callable[[str, str], float]) -> Hit | None:
    """Find what is under a pixel: numbers before shapes, front before back.

    Args:
        measure: width in px of a text in a style.
    """
    for item in reversed(display.items):
        if isinstance(item, Dimension | Label) and item.hidden:
            continue
        if isinstance(item, Dimension) and (item.figure or item.field):
            if shape_dimension(item, viewport, measure(item.text, "strong")).holds(px):
                return Hit(item.element, item.figure, item.field)
        elif isinstance(item, Label) and item.figure:
            x, y = viewport.to_px(item.at)
            x, y = x + item.shift_px[0], y + item.shift_px[1]
            wide = measure(item.text, item.style)
            left = {"start": x, "middle": x - wide / 2, "end": x - wide}[item.anchor]
            if left - 4 <= px[0] <= left + wide + 4 and abs(px[1] - y) <= 11:
                return Hit(item.element, item.figure)
    hidden = _find_hidden(display, viewport, px)
    if hidden is not None:
        return hidden
    place = viewport.to_mm(px)
    for item in reversed(display.items):
        if not isinstance(item, Shape) or not (item.element and item.closed and item.fill):
            continue
        if any(is_inside(path, place) for path in item.paths):
            return Hit(item.element)
    return None


def _find_hidden(display: Display, viewport: Viewport, px: Point) -> Hit | None:
    """The number that found no room in the picture and belongs to what is under a pixel: it is shown while it is."""
    for item in display.items:
        if not isinstance(item, Dimension | Label) or not item.hidden or not item.figure:
            continue
        if isinstance(item, Label):
            near = math.dist(viewport.to_px(item.at), px) <= NEAR_HIDDEN_PX
        else:
            start, end = viewport.to_px(item.start), viewport.to_px(item.end)
            near = math.dist(foot_on_line(start, end, px), px) <= NEAR_HIDDEN_PX
        if near:
            return Hit(item.element, item.figure, item.field)
    return None


def box_of_element(display: Display, element: str) -> Box | None:
    """The box of all shapes of an element, in mm; None when the picture has none."""
    return _box_of(display, lambda own: own == element)


def box_of_what(display: Display, element: str) -> Box | None:
    """The box of what a finding is about: a piece with its panels, an item, a line; None when it is not drawn."""
    names = (element, f"item:{element}")
    return _box_of(display, lambda own: own in names or own.startswith(f"{element}/")) if element else None


def _box_of(display: Display, is_meant: Callable[[str], bool]) -> Box | None:
    points = [
        point
        for item in display.items
        if isinstance(item, Shape) and item.element and is_meant(item.element)
        for path in item.paths
        for point in path
    ]
    return bounds(points) if points else None
