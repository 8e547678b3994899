"""The strip: a zigzag-folded strip of paper, one panel per station, with one live figure and a verdict each."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QAbstractButton, QButtonGroup, QHBoxLayout, QSizePolicy, QWidget

from dechirer.core.rooms import Room, list_rooms
from dechirer.desk.marks import paint_verdict
from dechirer.desk.theme import theme
from dechirer.desk.theme.tokens import STRIP_HEIGHT

SLANT_PX = 9.0
KEYBOARD_REASONS = (
    Qt.FocusReason.TabFocusReason,
    Qt.FocusReason.BacktabFocusReason,
    Qt.FocusReason.ShortcutFocusReason,
)
"""Ways focus comes by that want a ring to be seen."""


class StationButton(QAbstractButton):
    """One panel of the strip."""

    def __init__(self, room: Room, number: int, parent: QWidget) -> None:
        super().__init__(parent)
        self.station, self.number = room.id, number
        self.figure, self.verdict = "", ""
        self._ring = False
        self.setObjectName(f"station-{room.id}")
        self.setCheckable(True)
        self.setText(room.title)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def sizeHint(self) -> QSize:
        return QSize(150, STRIP_HEIGHT)

    def show_state(self, figure: str, verdict: str) -> None:
        """Set the live figure and the verdict (`clear`, `look`, `stop` or empty while unknown)."""
        self.figure, self.verdict = figure, verdict
        self.setAccessibleName(f"{self.text()}, {figure}, {verdict}")
        self.setToolTip(f"{self.text()}: {figure} (Alt+{self.number + 1})")
        self.update()

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self._ring = event is not None and event.reason() in KEYBOARD_REASONS

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        wide, high = self.width(), self.height()
        down = self.number % 2 == 0
        left, right = (SLANT_PX, 0.0) if down else (0.0, SLANT_PX)
        body = QPolygonF(
            [
                QPointF(0, left + 0.5),
                QPointF(wide, right + 0.5),
                QPointF(wide, high - SLANT_PX + right - 1),
                QPointF(0, high - SLANT_PX + left - 1),
            ]
        )
        chosen = self.isChecked()
        fill = "accent-fill" if chosen else "surface" if down else "sunken"
        painter.setBrush(theme.colour(fill))
        painter.setPen(QPen(theme.colour("accent" if chosen or self.underMouse() else "rule"), 1))
        painter.drawPolygon(body)
        if self.number:
            # The crease: valley and mountain in turn, as the strip folds.
            pen = QPen(theme.colour("fold"), 1.2)
            pen.setDashPattern([5, 3] if not down else [8, 2.5, 1.2, 2.5])
            painter.setPen(pen)
            painter.drawLine(QPointF(0.5, left), QPointF(0.5, high - SLANT_PX + left))
        middle = (left + right) / 2
        painter.setFont(theme.font("title"))
        painter.setPen(theme.colour("on-accent" if chosen else "ink"))
        painter.drawText(QRectF(16, middle + 5, wide - 50, 20), Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.setFont(theme.font("small"))
        painter.setPen(theme.colour("on-accent" if chosen else "soft"))
        elided = painter.fontMetrics().elidedText(self.figure, Qt.TextElideMode.ElideRight, int(wide) - 50)
        painter.drawText(QRectF(16, middle + 25, wide - 50, 18), Qt.AlignmentFlag.AlignVCenter, elided)
        if self.verdict:
            paint_verdict(painter, self.verdict, wide - 22, middle + 25, "on-accent" if chosen else "")
        if self.hasFocus() and self._ring:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(theme.colour("on-accent" if chosen else "accent"), 1, Qt.PenStyle.DotLine))
            painter.drawRect(QRectF(5, middle + 5, wide - 11, high - SLANT_PX - 11))
        painter.end()


class Strip(QWidget):
    """All stations. Emits `chosen(station)`."""

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("strip")
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 2, 16, 0)
        line.setSpacing(0)
        self._group = QButtonGroup(self)
        self.buttons: dict[str, StationButton] = {}
        for number, room in enumerate(list_rooms()):
            button = StationButton(room, number, self)
            button.clicked.connect(lambda _checked=False, station=room.id: self.chosen.emit(station))
            self._group.addButton(button)
            line.addWidget(button)
            self.buttons[room.id] = button

    def show_chosen(self, station: str) -> None:
        """Mark the station that is open."""
        self.buttons[station].setChecked(True)
