"""What stations are arranged of: the line above what they show, and the column of choices at their right, as wide as
what is in it and scrolled where the window is low."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLabel, QScrollArea, QWidget


class ChoiceColumn(QScrollArea):
    """Scrolls up and down only."""

    def __init__(self, name: str, inside: QWidget) -> None:
        super().__init__()
        self.setObjectName(name)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setWidget(inside)

    def widen(self) -> None:
        """Keep it as wide as what is in it."""
        inside, bar = self.widget(), self.verticalScrollBar()
        if inside is not None and bar is not None:
            self.setMinimumWidth(inside.minimumSizeHint().width() + bar.sizeHint().width() + 2)


def title_line(title: QLabel, under: QLabel, *after: QWidget) -> QHBoxLayout:
    """What is shown and what there is to say of it, in one line, with what stands at its end."""
    line = QHBoxLayout()
    line.addWidget(title)
    under.setWordWrap(False)
    line.addWidget(under)
    line.addStretch(1)
    for widget in after:
        line.addWidget(widget)
    return line
