"""A magnified inset beside the pointer, where a finding points at something too small to be seen in the picture."""

from __future__ import annotations

import math

from msgspec import structs
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from dechirer.core.shape.affine import Point
from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.drawing.display import Dimension, Display, Label
from dechirer.drawing.viewport import MOST_PX_PER_MM, Viewport

SMALL_MM = 2.0
"""What is smaller than this on the screen is magnified."""
REACH_PX = 30.0
RADIUS_PX, GAP_PX = 78.0, 26.0
SHOWN_PX = 18.0
"""So large the small thing is shown."""
LEAST_TIMES = 4.0

Detail = tuple[Point, float]
"""A place in mm, and how large the thing there is, in mm."""


class Loupe:
    """Knows which small thing the pointer is near."""

    def __init__(self) -> None:
        self.shown: Detail | None = None
        self._pointer = QPointF()

    def point(self, pointer: QPointF, details: tuple[Detail, ...], viewport: Viewport, px_per_mm: float) -> bool:
        """The pointer has moved; whether the picture has to be painted anew."""
        before, self._pointer = self.shown, pointer
        near: tuple[float, Detail] | None = None
        for detail in details:
            x, y = viewport.to_px(detail[0])
            away = math.hypot(pointer.x() - x, pointer.y() - y)
            small = detail[1] * viewport.scale < SMALL_MM * px_per_mm
            if small and away < REACH_PX and (near is None or away < near[0]):
                near = away, detail
        self.shown = near[1] if near is not None else None
        return self.shown is not None or before is not None

    def leave(self) -> None:
        """The pointer is elsewhere."""
        self.shown = None

    def paint(self, painter: QPainter, display: Display, viewport: Viewport, wide: int, high: int) -> None:
        """Draw the inset into a window of that size, beside the pointer on the side where there is room."""
        if self.shown is None:
            return
        (x, y), size = self.shown
        scale = min(MOST_PX_PER_MM, max(LEAST_TIMES * viewport.scale, SHOWN_PX / max(size, 0.05)))
        away = RADIUS_PX + GAP_PX
        across = away if self._pointer.x() + away + RADIUS_PX < wide else -away
        down = -away if self._pointer.y() - away - RADIUS_PX > 0 else away
        centre = QPointF(self._pointer.x() + across, min(max(self._pointer.y() + down, RADIUS_PX), high - RADIUS_PX))
        inner = Viewport(scale, centre.x() - x * scale, centre.y() - y * scale)
        ring = QPainterPath()
        ring.addEllipse(centre, RADIUS_PX, RADIUS_PX)
        shapes = tuple(item for item in display.items if not isinstance(item, (Label, Dimension)))
        painter.save()
        painter.setClipPath(ring)
        painter.fillPath(ring, theme.colour("surface"))
        paint_display(painter, structs.replace(display, items=shapes), inner)
        painter.restore()
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.colour("rule-strong"), 2.0))
        painter.drawPath(ring)
        told = f"{size:.2g} mm, × {scale / viewport.scale:.0f}"
        box = QRectF(centre.x() - RADIUS_PX, centre.y() + RADIUS_PX - 26, 2 * RADIUS_PX, 18)
        painter.setFont(theme.font("small"))
        painter.fillRect(box.adjusted(34, 0, -34, 0), theme.colour("surface"))
        painter.setPen(theme.colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, told)
