"""A column of choices at the right of a station: as wide as what is in it, and scrolled where the window is low."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFrame, QScrollArea, QWidget


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
