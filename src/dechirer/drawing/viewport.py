"""From mm on the drawing to pixels on the screen and back."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box


class Viewport(Struct, frozen=True):
    """`px = mm * scale + offset`."""

    scale: float
    left_px: float
    top_px: float

    def to_px(self, point: Point) -> Point:
        """Where a place of the drawing is on the screen."""
        return point[0] * self.scale + self.left_px, point[1] * self.scale + self.top_px

    def to_mm(self, px: Point) -> Point:
        """Where a place of the screen is on the drawing."""
        return (px[0] - self.left_px) / self.scale, (px[1] - self.top_px) / self.scale


def fit_viewport(
    box: Box, width_px: float, height_px: float, room_px: tuple[float, float, float, float], *, most: float = 12.0
) -> Viewport:
    """Fit a box into a window, centred, with room left, top, right and bottom of it in pixels.

    Args:
        box: in mm; an empty one is shown at a scale of 1.
        most: the largest scale in px per mm.
    """
    left, top, right, bottom = room_px
    wide, high = max(width_px - left - right, 20.0), max(height_px - top - bottom, 20.0)
    scale = min(wide / box.width if box.width > 0 else most, high / box.height if box.height > 0 else most, most)
    return Viewport(
        scale,
        left + (wide - box.width * scale) / 2 - box.left * scale,
        top + (high - box.height * scale) / 2 - box.top * scale,
    )
