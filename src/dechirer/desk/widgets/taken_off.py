"""A list of a few things, each in words with a button that takes it off."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec import Struct
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QToolButton, QVBoxLayout, QWidget


class Row(Struct, frozen=True):
    """One thing: the name of its button, what is said of it, what its button does in words, and does."""

    name: str
    words: str
    off: str
    take_off: Callable[[], object]


class TakeOffList(QVBoxLayout):
    """The rows, made anew each time they are shown."""

    def __init__(self) -> None:
        super().__init__()
        self._rows: list[QWidget] = []

    def show_rows(self, rows: list[Row]) -> None:
        """Show these in place of those of before."""
        for old in self._rows:
            old.hide()
            old.deleteLater()
        self._rows = [_make_row(row) for row in rows]
        for widget in self._rows:
            self.addWidget(widget)


def _make_row(row: Row) -> QWidget:
    widget = QWidget()
    line = QHBoxLayout(widget)
    line.setContentsMargins(0, 0, 0, 0)
    words = QLabel(row.words)
    words.setWordWrap(True)
    off = QToolButton()
    off.setObjectName(row.name)
    off.setText("×")
    off.setProperty("quiet", True)
    off.setAccessibleName(row.off)
    off.setToolTip(row.off)
    off.clicked.connect(partial(_press, row))
    line.addWidget(words, 1)
    line.addWidget(off)
    return widget


def _press(row: Row, _checked: bool = False) -> None:
    row.take_off()
