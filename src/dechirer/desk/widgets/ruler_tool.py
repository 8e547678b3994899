"""The ruler on a drawing: two clicks, a distance; drawn to corners and lines nearby."""

from __future__ import annotations

import math
from collections.abc import Callable

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from dechirer.core.shape.affine import Point
from dechirer.desk.painter import measure
from dechirer.desk.theme import theme
from dechirer.drawing.display import Display
from dechirer.drawing.ruler import Place, snap
from dechirer.drawing.viewport import Viewport

DOT_PX = 4.0


class RulerTool:
    """What the ruler is laid on. `write` gives a length in the job's units."""

    def __init__(self) -> None:
        self.is_on = False
        self.write: Callable[[float], str] = lambda mm: f"{mm:.2f} mm"
        self._first: Place | None = None
        self._last: Place | None = None
        self._is_laid = False

    def turn(self, on: bool) -> None:
        """Take the ruler up, or put it away."""
        self.is_on = on
        self._first = self._last = None
        self._is_laid = False

    @property
    def distance(self) -> float | None:
        """What is measured, in mm."""
        if self._first is None or self._last is None:
            return None
        return math.dist(self._first.at, self._last.at)

    def point(self, display: Display, viewport: Viewport, px: Point) -> None:
        """The pointer is over a place."""
        if not self._is_laid:
            self._last = snap(display, viewport, px)

    def click(self, display: Display, viewport: Viewport, px: Point) -> None:
        """The first click lays one end, the second the other; the third begins anew."""
        place = snap(display, viewport, px)
        if self._first is None or self._is_laid:
            self._first, self._last, self._is_laid = place, place, False
        else:
            self._last, self._is_laid = place, True

    def words(self) -> str:
        """The distance, and how far across and down."""
        if self._first is None or self._last is None:
            return "click where to measure from" if self._last is None or not self._last.to else f"a {self._last.to}"
        (x0, y0), (x1, y1) = self._first.at, self._last.at
        across, down = abs(x1 - x0), abs(y1 - y0)
        if min(across, down) < 0.005:
            return self.write(math.hypot(across, down))
        return f"{self.write(math.hypot(across, down))}  (across {self.write(across)}, down {self.write(down)})"

    def paint(self, painter: QPainter, viewport: Viewport, width: int, height: int) -> None:
        """Draw the ends, the line and the words."""
        if not self.is_on or self._last is None:
            return
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        last = QPointF(*viewport.to_px(self._last.at))
        painter.setPen(QPen(theme.colour("accent"), 1.6))
        if self._first is not None:
            first = QPointF(*viewport.to_px(self._first.at))
            painter.drawLine(first, last)
            painter.setBrush(theme.colour("accent"))
            painter.drawEllipse(first, DOT_PX, DOT_PX)
        painter.setBrush(theme.colour("accent") if self._last.to else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(last, DOT_PX, DOT_PX)
        words = self.words()
        wide = measure(words, "strong") + 16
        left = min(max(last.x() + 12, 4), width - wide - 4)
        top = min(max(last.y() + 12, 4), height - 28)
        box = QRectF(left, top, wide, 24)
        painter.setPen(QPen(theme.colour("accent"), 1.0))
        painter.setBrush(theme.colour("surface"))
        painter.drawRoundedRect(box, 4, 4)
        painter.setFont(theme.font("strong"))
        painter.setPen(theme.colour("ink"))
        painter.drawText(box, Qt.AlignmentFlag.AlignCenter, words)
