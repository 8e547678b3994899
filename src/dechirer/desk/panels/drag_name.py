"""The name of a measure; dragging it to the side changes the measure."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QLabel

from dechirer.desk.theme import theme

MM_PER_PX = 0.05
"""How far a measure goes for each pixel its name is dragged."""


class DragName(QLabel):
    """A label that can be dragged sideways.

    Signals:
        dragged(mm): by how much since the drag began.
        ended(): the button was let go after a drag.
        taken_back(): Escape was pressed while it was dragged.
    """

    dragged = pyqtSignal(float)
    ended = pyqtSignal()
    taken_back = pyqtSignal()

    def __init__(self, text: str) -> None:
        super().__init__(f"↔ {text}")
        self.setCursor(Qt.CursorShape.SizeHorCursor)
        self.setToolTip("Drag to the side to change it; Escape takes it back")
        self.setFont(theme.font("small"))
        self._from: QPointF | None = None
        self._moved = False

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self._from, self._moved = event.globalPosition(), False
            self.grabKeyboard()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._from is not None:
            self._moved = True
            self.dragged.emit((event.globalPosition().x() - self._from.x()) * MM_PER_PX)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._from is not None:
            self._let_go()
            if self._moved:
                self.ended.emit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Escape and self._from is not None:
            self._let_go()
            self.taken_back.emit()
            return
        super().keyPressEvent(event)

    def _let_go(self) -> None:
        self._from = None
        self.releaseKeyboard()
