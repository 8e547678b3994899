"""The schedule as bars: a row for each step, hands at work plain, what sets meanwhile hatched."""

from __future__ import annotations

import math

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QFontMetricsF, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from dechirer.core.figure import format_minutes
from dechirer.core.fold.schedule import Bar, Schedule
from dechirer.desk.theme import theme

ROW_PX, WORDS_SHARE, TOP_PX = 19, 0.42, 18
TICKS = (1, 2, 5, 10, 15, 30, 60, 120, 240, 480, 960, 2400)
MOST_TICKS = 8


class ScheduleChart(QWidget):
    """Shows the bars of a schedule."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("schedule-chart")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self._bars: tuple[Bar, ...] = ()

    def sizeHint(self) -> QSize:
        return QSize(420, TOP_PX + ROW_PX * max(1, len(self._bars)) + 6)

    def show_schedule(self, schedule: Schedule) -> None:
        """Show the steps of the way that is followed."""
        self._bars = schedule.bars
        self.setAccessibleName("; ".join(_words(bar) for bar in self._bars))
        self.setFixedHeight(self.sizeHint().height())
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Say what is under the pointer."""
        if event is not None:
            row = int((event.position().y() - TOP_PX) // ROW_PX)
            self.setToolTip(_words(self._bars[row]) if 0 <= row < len(self._bars) else "")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setFont(theme.font("small"))
        metrics = QFontMetricsF(theme.font("small"))
        left = self.width() * WORDS_SHARE
        end = max((bar.end + bar.wait for bar in self._bars), default=1.0) or 1.0
        scale = (self.width() - left - 12) / end
        self._rule(painter, left, scale, end)
        for row, bar in enumerate(self._bars):
            y = TOP_PX + row * ROW_PX
            painter.setPen(theme.colour("ink"))
            words = metrics.elidedText(bar.words, Qt.TextElideMode.ElideRight, left - 10)
            painter.drawText(QRectF(0, y, left - 8, ROW_PX), Qt.AlignmentFlag.AlignVCenter, words)
            box = QRectF(left + bar.start * scale, y + 4, max(2.0, (bar.end - bar.start) * scale), ROW_PX - 8)
            painter.setPen(QPen(theme.colour("accent"), 1.0))
            painter.setBrush(theme.colour("accent-wash"))
            painter.drawRect(box)
            if bar.wait:
                self._hatch(painter, QRectF(box.right(), box.top(), bar.wait * scale, box.height()))
        painter.end()

    def _rule(self, painter: QPainter, left: float, scale: float, end: float) -> None:
        """Minutes along the top, with thin lines down."""
        step = next((each for each in TICKS if end / each <= MOST_TICKS), TICKS[-1])
        painter.setPen(QPen(theme.colour("rule"), 1.0))
        for number in range(math.floor(end / step) + 1):
            x = left + number * step * scale
            painter.setPen(QPen(theme.colour("rule"), 1.0))
            painter.drawLine(QPointF(x, TOP_PX), QPointF(x, self.height()))
            painter.setPen(theme.colour("soft"))
            words = format_minutes(number * step) if number else "0"
            if x + 40 <= self.width() or not number:
                painter.drawText(QRectF(x + 2, 0, 70, TOP_PX), Qt.AlignmentFlag.AlignVCenter, words)

    def _hatch(self, painter: QPainter, box: QRectF) -> None:
        painter.save()
        painter.setClipRect(box)
        painter.setPen(QPen(theme.colour("soft"), 0.9))
        x = box.left() - box.height()
        while x < box.right():
            painter.drawLine(QPointF(x, box.bottom()), QPointF(x + box.height(), box.top()))
            x += 5.0
        painter.setClipping(False)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)
        painter.restore()


def _words(bar: Bar) -> str:
    sets = f", then {bar.wait:g} min to set" if bar.wait else ""
    return f"{bar.words}: from {format_minutes(bar.start)} to {format_minutes(bar.end)}{sets}"
