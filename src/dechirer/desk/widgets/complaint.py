"""Saying why something was refused, at the place it was asked for."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtWidgets import QApplication, QLabel, QWidget

from dechirer.desk.theme import theme

SHOWN_MS = 9000
WIDEST_PX = 340


class Complaint(QLabel):
    """A note beside a control. It leaves by itself, at a click, and when something else is said."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("complaint")
        self.setWordWrap(True)
        self.setFont(theme.font("small"))
        self.hide()
        self._leave = QTimer(self)
        self._leave.setSingleShot(True)
        self._leave.timeout.connect(self.hide)

    def say(self, why: str, at: QPoint) -> None:
        """Show a text with its top left corner near a point of the parent, all of it inside."""
        self.setText(why)
        self.setStyleSheet(
            f"background: {theme.colour('stop-wash').name()}; color: {theme.colour('ink').name()};"
            f"border-left: 3px solid {theme.colour('stop').name()}; padding: 6px 9px;"
        )
        parent = self.parentWidget()
        assert parent is not None
        self.setFixedWidth(min(WIDEST_PX, parent.width() - 20))
        self.adjustSize()
        x = max(6, min(at.x(), parent.width() - self.width() - 6))
        y = at.y() if at.y() + self.height() < parent.height() else max(6, at.y() - self.height() - 34)
        self.move(x, y)
        self.show()
        self.raise_()
        self._leave.start(SHOWN_MS)

    def mousePressEvent(self, event: object) -> None:
        self.hide()


def say_refusal(window: QWidget, why: str) -> Complaint:
    """Say why an edit was refused beside the control that asked for it: the one with the focus, in the dialog that is
    open or else in the window. The note said before is replaced."""
    focus = QApplication.focusWidget()
    asked = QApplication.activeModalWidget() or (focus.window() if focus is not None else window)
    holder = asked if asked is not None and asked.isVisible() else window
    note = holder.findChild(Complaint, options=Qt.FindChildOption.FindDirectChildrenOnly) or Complaint(holder)
    place = QPoint(holder.width() // 2 - WIDEST_PX // 2, 90)
    if focus is not None and focus.window() is holder and focus is not holder:
        place = focus.mapTo(holder, QPoint(0, focus.height() + 4))
    note.say(why, place)
    return note
