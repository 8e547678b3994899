"""Where the time of a run goes: a bar in parts, each with its words below."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from dechirer.core.figure import Figure, format_minutes
from dechirer.desk.theme import theme

HIGH_PX, BAR_PX = 42, 14
HATCH_PX = 6.0
LEAST_SHARE = 0.004


class TimeBar(QWidget):
    """Shows the parts of a figure of minutes. Parts are told apart by their hatching as well as by their tone."""

    def __init__(self, name: str = "time-bar") -> None:
        super().__init__()
        self.setObjectName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setMouseTracking(True)
        self._parts: list[tuple[str, float]] = []

    def sizeHint(self) -> QSize:
        return QSize(300, HIGH_PX)

    def show_minutes(self, minutes: Figure) -> None:
        """Show what a figure is the sum of."""
        total = minutes.value or 1.0
        self._parts = [(each.name, each.value) for each in minutes.inputs if each.value / total > LEAST_SHARE]
        self.setAccessibleName("Where the time goes: " + ", ".join(self._words(part) for part in self._parts))
        self.update()

    def _words(self, part: tuple[str, float]) -> str:
        return f"{part[0]} {format_minutes(part[1])}"

    def _boxes(self) -> list[QRectF]:
        total = sum(value for _, value in self._parts) or 1.0
        left, found = 0.0, []
        for _, value in self._parts:
            wide = self.width() * value / total
            found.append(QRectF(left, 0.5, wide, BAR_PX))
            left += wide
        return found

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Say what is under the pointer."""
        if event is not None:
            boxes = zip(self._parts, self._boxes(), strict=True)
            told = [self._words(part) for part, box in boxes if box.left() <= event.position().x() < box.right()]
            self.setToolTip(told[0] if told else "")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        metrics_font = theme.font("small")
        painter.setFont(metrics_font)
        metrics, end = painter.fontMetrics(), 0.0
        for number, (part, box) in enumerate(zip(self._parts, self._boxes(), strict=True)):
            painter.setPen(QPen(theme.colour("rule"), 1.0))
            painter.setBrush(theme.colour("accent-wash" if number % 2 == 0 else "sunken"))
            painter.drawRect(box)
            self._hatch(painter, box, number)
            words = self._words(part)
            wide = metrics.horizontalAdvance(words)
            at = max(box.left(), end)
            if at + wide <= self.width():
                painter.setPen(theme.colour("soft"))
                painter.drawText(QRectF(at, BAR_PX + 4, wide + 2, 18), Qt.AlignmentFlag.AlignVCenter, words)
                end = at + wide + 14
        painter.end()

    def _hatch(self, painter: QPainter, box: QRectF, number: int) -> None:
        """Strokes of a part's own direction and distance; the first has none."""
        if not number:
            return
        painter.save()
        painter.setClipRect(box)
        painter.setPen(QPen(theme.colour("soft"), 0.8))
        step = HATCH_PX + 2 * (number // 3)
        lean = (BAR_PX, -BAR_PX, 0.0)[number % 3]
        x = box.left() - BAR_PX
        while x < box.right() + BAR_PX:
            painter.drawLine(QPointF(x, box.bottom()), QPointF(x + lean, box.top()))
            x += step
        painter.restore()
