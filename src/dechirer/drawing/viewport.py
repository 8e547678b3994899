"""From mm on the drawing to pixels on the screen and back; and how far a picture is magnified beyond fitting."""

from __future__ import annotations

from msgspec import Struct, structs

from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box

MOST_PX_PER_MM = 120.0
"""Pictures are magnified no further: a web of 0.4 mm is then 48 px wide."""
STEP = 1.25
"""One step of the wheel, or of a key."""
ROOM_PX = 24.0
"""Round what is magnified to fill the window."""


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


class Zoom(Struct, frozen=True):
    """How a picture is magnified beyond fitting: how many times, and the place in mm that lies in the window's middle.

    `centre` None stands for the middle that fitting gives.
    """

    times: float = 1.0
    centre: Point | None = None

    @property
    def is_fitted(self) -> bool:
        """Whether the whole picture is shown as it fits."""
        return self.times <= 1.0

    def viewport(self, fitted: Viewport, width_px: float, height_px: float) -> Viewport:
        """How the picture lies in a window in which it would fit by `fitted`."""
        if self.is_fitted or self.centre is None:
            return fitted
        scale = fitted.scale * self.times
        x, y = self.centre
        return Viewport(scale, width_px / 2 - x * scale, height_px / 2 - y * scale)

    def magnified(self, by: float, at_px: Point, fitted: Viewport, width_px: float, height_px: float) -> Zoom:
        """Magnified by a factor so that what lies under a pixel stays there; no less than fitting."""
        now = self.viewport(fitted, width_px, height_px)
        times = min(self.times * by, max(1.0, MOST_PX_PER_MM / fitted.scale))
        if times <= 1.0:
            return Zoom()
        scale = fitted.scale * times
        x, y = now.to_mm(at_px)
        return Zoom(times, (x + (width_px / 2 - at_px[0]) / scale, y + (height_px / 2 - at_px[1]) / scale))

    def moved(self, dx_px: float, dy_px: float, fitted: Viewport, box: Box) -> Zoom:
        """With the picture moved by some pixels; its box never leaves the middle. Nothing when it is fitted."""
        if self.is_fitted or self.centre is None:
            return self
        scale = fitted.scale * self.times
        x, y = self.centre[0] - dx_px / scale, self.centre[1] - dy_px / scale
        return structs.replace(self, centre=(min(max(x, box.left), box.right), min(max(y, box.top), box.bottom)))


def zoom_onto(box: Box, fitted: Viewport, width_px: float, height_px: float) -> Zoom:
    """The zoom in which a part of the picture, its box in mm, fills the window."""
    wide, high = max(width_px - 2 * ROOM_PX, 20.0), max(height_px - 2 * ROOM_PX, 20.0)
    scale = min(wide / max(box.width, 1e-6), high / max(box.height, 1e-6), MOST_PX_PER_MM)
    return Zoom(scale / fitted.scale, box.middle) if scale > fitted.scale else Zoom()


def describe_scale(scale: float, px_per_mm: float) -> str:
    """A picture's scale on a screen as makers write it: `2 : 1`, `1 : 1.8`."""
    ratio = scale / px_per_mm
    if ratio <= 0:
        return ""
    if abs(ratio - 1.0) < 0.02:
        return "1 : 1"
    return f"{ratio:.2g} : 1" if ratio > 1 else f"1 : {1 / ratio:.2g}"
