"""A label in one line that is cut short where there is little room; the whole of it stands in its tool tip."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QLabel, QSizePolicy, QWidget

LEAST_PX = 40


class Elided(QLabel):
    """As wide as its words where it may be."""

    def __init__(self, words: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setSizePolicy(QSizePolicy.Policy.Maximum, QSizePolicy.Policy.Preferred)
        self.say(words)

    def say(self, words: str) -> None:
        """Show other words."""
        self.setText(words)
        self.setToolTip(words)

    def minimumSizeHint(self) -> QSize:
        whole = super().minimumSizeHint()
        return QSize(min(LEAST_PX, whole.width()), whole.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setFont(self.font())
        painter.setPen(self.palette().color(self.foregroundRole()))
        room = self.contentsRect()
        shown = self.fontMetrics().elidedText(self.text(), Qt.TextElideMode.ElideRight, room.width())
        painter.drawText(room, Qt.AlignmentFlag.AlignVCenter, shown)
        painter.end()
