"""The line in which a number of a drawing is typed, where it is drawn, and what is said when it is not taken."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QObject, QRect, Qt
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from dechirer.core.shape.affine import Point
from dechirer.desk.painter import measure
from dechirer.desk.theme import theme


class NumberEditor(QObject):
    """Sits on a drawing. `entered` is called with the figure's key and the text, `left` when the editor closes."""

    def __init__(self, host: QWidget, name: str) -> None:
        super().__init__(host)
        self._host = host
        self.figure = ""
        self.entered: Callable[[str, str], None] = lambda figure, text: None
        self.left: Callable[[bool], None] = lambda focus: None
        self.line = QLineEdit(host)
        self.line.setObjectName(f"{name}-editor")
        self.line.hide()
        self.line.installEventFilter(self)
        self.complaint = QLabel(host)
        self.complaint.setObjectName(f"{name}-complaint")
        self.complaint.setWordWrap(True)
        self.complaint.hide()

    def open(self, figure: str, text: str) -> None:
        """Begin typing a figure's number."""
        self.figure = figure
        self.complaint.hide()
        self.line.setText(text)
        self.line.setAccessibleName(f"{figure}: type a new value")
        self.line.show()
        self.line.setFocus(Qt.FocusReason.OtherFocusReason)
        self.line.selectAll()

    def place(self, centre: Point | None) -> None:
        """Lie over a place in px; a number that is gone from the picture closes the editor."""
        if centre is None:
            self.close()
            return
        room = self._host.width()
        width = max(96, min(220, int(measure(self.line.text(), "strong")) + 40))
        left = int(max(2, min(centre[0] - width / 2, room - width - 2)))
        top = int(max(2, min(centre[1] - 15, self._host.height() - 32)))
        self.line.setGeometry(QRect(left, top, width, 30))

    def close(self) -> None:
        """Put the line away."""
        self.figure = ""
        self.line.hide()
        self.complaint.hide()
        self.left(True)

    def refuse(self, why: str) -> None:
        """The typed text was not taken: say why beside it and keep the old value."""
        said, host = self.complaint, self._host
        said.setText(why)
        said.setStyleSheet(
            f"background: {theme.colour('stop-wash').name()}; color: {theme.colour('ink').name()};"
            f"border-left: 3px solid {theme.colour('stop').name()}; padding: 5px 8px;"
        )
        said.setFixedWidth(min(280, max(120, host.width() - 20)))
        said.adjustSize()
        place = self.line.geometry()
        left = max(6, min(place.left(), host.width() - said.width() - 6))
        below = place.bottom() + 4
        if below + said.height() > host.height():
            below = max(0, place.top() - 4 - said.height())
        said.move(left, below)
        said.show()
        said.raise_()

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if watched is self.line and event is not None:
            if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
                if event.key() == Qt.Key.Key_Escape:
                    self.close()
                    return True
                if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                    # Taken here: a line edit passes Enter on, and the drawing would open the editor again.
                    self.entered(self.figure, self.line.text())
                    return True
                self.complaint.hide()
            elif event.type() == QEvent.Type.FocusOut and self.figure and not self.complaint.isVisible():
                self.figure = ""
                self.line.hide()
                self.left(False)
        return super().eventFilter(watched, event)
