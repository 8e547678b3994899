"""A row of words of which one is chosen."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QGridLayout, QToolButton, QWidget


class Segments(QWidget):
    """A row of words of which one is chosen. Emits `chosen(id)` on a click."""

    chosen = pyqtSignal(str)

    def __init__(
        self, name: str, options: list[tuple[str, str]], parent: QWidget | None = None, *, in_a_row: int = 99
    ) -> None:
        """`options` are ids with their titles; after so many `in_a_row` comes another row."""
        super().__init__(parent)
        self.setObjectName(name)
        line = QGridLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(2)
        self._group = QButtonGroup(self)
        self.buttons: dict[str, QToolButton] = {}
        for id, title in options:
            button = QToolButton()
            button.setObjectName(f"{name}-{id}")
            button.setText(title)
            button.setCheckable(True)
            button.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
            button.clicked.connect(lambda _=False, id=id: self.chosen.emit(id))
            self._group.addButton(button)
            line.addWidget(button, *divmod(len(self.buttons), in_a_row))
            self.buttons[id] = button

    def show_chosen(self, id: str) -> None:
        """Mark the chosen word; none when it is no longer any of them."""
        if id in self.buttons:
            self.buttons[id].setChecked(True)
        elif not id:
            self._group.setExclusive(False)
            for button in self.buttons.values():
                button.setChecked(False)
            self._group.setExclusive(True)
