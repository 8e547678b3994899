"""Four plots of the book: minutes planned and taken, places over time, webs that held and tore, stock over time."""

from __future__ import annotations

import math
from datetime import date

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from dechirer.core.keep.plotting import Dot, Series
from dechirer.desk.theme import theme

PLOTS = {
    "minutes": ("Planned and taken", "planned, min", "taken, min"),
    "places": ("Error of place", "day", "mm"),
    "webs": ("Webs held and torn", "width, mm", ""),
    "stock": ("Stock", "day", "there"),
}
STEPS = tuple(base * 10.0**power for power in range(-3, 6) for base in (1, 2, 5))
MOST_TICKS, NEAR_PX, MARK_PX, ROW_PX = 6, 9.0, 3.6, 15
TONES = ("accent", "fold", "clear", "look", "stop", "ink")


class BookPlot(QWidget):
    """One plot.

    Signals:
        picked(kind, id): the entry of a point that was clicked.
    """

    picked = pyqtSignal(str, str)

    def __init__(self, plot: str) -> None:
        super().__init__()
        self.plot = plot
        self.setObjectName(f"plot-{plot}")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(200, 150)
        self.setMouseTracking(True)
        self.series: Series = {}
        self._dots: list[Dot] = []
        self._span = (0.0, 1.0, 0.0, 1.0)
        """The least and the most across and up, with room round them."""

    def sizeHint(self) -> QSize:
        return QSize(300, 200)

    def show_series(self, series: Series) -> None:
        """Show points by their series."""
        self.series = series
        self._dots = [dot for dots in series.values() for dot in dots]
        self._span = self._find_span()
        count = len(self._dots)
        self.setAccessibleName(f"{PLOTS[self.plot][0]}: {count} points of {', '.join(series) or 'nothing yet'}")
        self.update()

    def _find_span(self) -> tuple[float, float, float, float]:
        xs, ys = [dot.x for dot in self._dots], [dot.y for dot in self._dots]
        if not xs:
            return 0.0, 1.0, 0.0, 1.0
        if self.plot == "minutes":
            xs, ys = [0.0, *xs, *ys], [0.0, *xs, *ys]
        wide, high = max(xs) - min(xs) or 1.0, max(ys) - min(ys) or 1.0
        return min(xs) - 0.06 * wide, max(xs) + 0.06 * wide, min(ys) - 0.12 * high, max(ys) + 0.12 * high

    def place_of(self, dot: Dot) -> QPointF:
        """Where a point lies in the widget."""
        return self._at(dot.x, dot.y)

    def _at(self, x: float, y: float) -> QPointF:
        left, right, low, high = self._span
        frame = self._frame()
        across = frame.left() + (x - left) / (right - left) * frame.width()
        return QPointF(across, frame.bottom() - (y - low) / (high - low) * frame.height())

    def _frame(self) -> QRectF:
        legend = ROW_PX * len(self.series)
        return QRectF(46, 24 + legend, max(20.0, self.width() - 58), max(20.0, self.height() - 62 - legend))

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Say which entry is under the pointer."""
        dot = self._near(event.position()) if event is not None else None
        self.setToolTip(dot.words if dot is not None else "")

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Pick the entry under the pointer."""
        dot = self._near(event.position()) if event is not None else None
        if dot is not None:
            self.picked.emit(dot.kind, dot.id)

    def _near(self, at: QPointF) -> Dot | None:
        away = [(self.place_of(dot) - at, dot) for dot in self._dots]
        near = [(abs(off.x()) + abs(off.y()), number) for number, (off, _) in enumerate(away)]
        best = min(near, default=(NEAR_PX + 1, 0))
        return away[best[1]][1] if best[0] <= NEAR_PX else None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("surface"))
        painter.setFont(theme.font("strong"))
        painter.setPen(theme.colour("ink"))
        title = PLOTS[self.plot][0] + ("" if self._dots else ": nothing yet")
        painter.drawText(QRectF(8, 2, self.width() - 16, 20), Qt.AlignmentFlag.AlignVCenter, title)
        painter.setFont(theme.font("small"))
        if self._dots:
            self._draw_axes(painter)
            for number, (name, dots) in enumerate(self.series.items()):
                self._draw_series(painter, number, name, dots)
        painter.end()

    def _draw_axes(self, painter: QPainter) -> None:
        _, across, up = PLOTS[self.plot]
        frame, (left, right, low, high) = self._frame(), self._span
        for value, words in self._ticks(left, right, up=False):
            x = self._at(value, low).x()
            painter.setPen(QPen(theme.colour("rule"), 1.0))
            painter.drawLine(QPointF(x, frame.top()), QPointF(x, frame.bottom()))
            painter.setPen(theme.colour("soft"))
            start = min(x - 40, self.width() - 80)
            side = Qt.AlignmentFlag.AlignRight if start < x - 40 else Qt.AlignmentFlag.AlignHCenter
            painter.drawText(QRectF(start, frame.bottom() + 2, 78, 14), side | Qt.AlignmentFlag.AlignVCenter, words)
        for value, words in self._ticks(low, high, up=True):
            y = self._at(left, value).y()
            painter.setPen(QPen(theme.colour("rule"), 1.0))
            painter.drawLine(QPointF(frame.left(), y), QPointF(frame.right(), y))
            painter.setPen(theme.colour("soft"))
            end = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
            painter.drawText(QRectF(0, y - 8, frame.left() - 5, 16), end, words)
        painter.drawText(
            QRectF(frame.left(), frame.bottom() + 16, frame.width(), 16), Qt.AlignmentFlag.AlignCenter, across
        )
        end = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter
        painter.drawText(QRectF(0, 2, self.width() - 8, 20), end, f"up: {up}" if up else "")
        if self.plot == "minutes":  # on this line a plan was right
            painter.setPen(QPen(theme.colour("soft"), 1.2, Qt.PenStyle.DashLine))
            most = min(right, high)
            painter.drawLine(self._at(0.0, 0.0), self._at(most, most))

    def _ticks(self, low: float, high: float, *, up: bool) -> list[tuple[float, str]]:
        """Values along an axis with their words."""
        if up and self.plot == "webs":
            return [(0.0, "tore"), (1.0, "held")]
        if not up and PLOTS[self.plot][1] == "day":
            days = sorted({int(dot.x) for dot in self._dots})
            shown = dict.fromkeys((days[0], days[len(days) // 2], days[-1]))
            return [(day, date.fromordinal(day).strftime("%Y-%m")) for day in shown]
        step = next((each for each in STEPS if (high - low) / each <= MOST_TICKS), STEPS[-1])
        first = math.ceil(low / step)
        return [(number * step, f"{number * step:g}") for number in range(first, math.floor(high / step) + 1)]

    def _draw_series(self, painter: QPainter, number: int, name: str, dots: list[Dot]) -> None:
        tone = theme.colour(TONES[number % len(TONES)])
        places = [self.place_of(dot) for dot in dots]
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(tone, 1.2))
        if self.plot in ("stock", "places"):
            painter.drawPolyline(QPolygonF(places))
        legend = QPointF(14, 24 + ROW_PX * number + ROW_PX / 2)
        for place in (*places, legend):
            _mark(painter, place, number, tone)
        painter.setPen(theme.colour("ink"))
        words = QRectF(24, legend.y() - 8, self.width() - 30, 16)
        painter.drawText(words, Qt.AlignmentFlag.AlignVCenter, name)


def _mark(painter: QPainter, at: QPointF, number: int, tone: QColor) -> None:
    """The mark of a series: a disc, a triangle, a square or a cross, so that it is told apart without its tone."""
    painter.setPen(QPen(tone, 1.4))
    painter.setBrush(tone)
    r, kind = MARK_PX, number % 4
    if kind == 0:
        painter.drawEllipse(at, r, r)
    elif kind == 1:
        corners = [at + QPointF(0, -r), at + QPointF(r, r), at + QPointF(-r, r)]
        painter.drawPolygon(QPolygonF(corners))
    elif kind == 2:
        painter.drawRect(QRectF(at.x() - r, at.y() - r, 2 * r, 2 * r))
    else:
        painter.drawLine(at + QPointF(-r, -r), at + QPointF(r, r))
        painter.drawLine(at + QPointF(-r, r), at + QPointF(r, -r))
