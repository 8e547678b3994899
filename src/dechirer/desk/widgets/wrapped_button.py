"""A button whose words go on in a second line where there is little room."""

from __future__ import annotations

from PyQt6.QtCore import QSize
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QWidget

SIDES_PX, LEAST_PX = 26, 90
MOST_FITS = 4


class WrappedButton(QPushButton):
    """As wide as its words where it may be; narrower and higher where not."""

    def __init__(self, words: str, parent: QWidget | None = None) -> None:
        super().__init__(words, parent)
        self._words = words
        self._is_fitting = False
        self.setAccessibleName(words)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def sizeHint(self) -> QSize:
        wide = self.fontMetrics().horizontalAdvance(self._words) + SIDES_PX
        return QSize(wide, self._high(1))

    def minimumSizeHint(self) -> QSize:
        return QSize(min(LEAST_PX, self.sizeHint().width()), self._high(1))

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._high(len(self._lines(width)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Set the words anew. A new height may bring or take a scroll bar, and with it another width: what would go to
        and fro stays as high as it was highest."""
        super().resizeEvent(event)
        if self._is_fitting:
            return
        self._is_fitting, highest = True, 0
        try:
            for _ in range(MOST_FITS):
                lines = self._lines(self.width())
                if "\n".join(lines) == self.text() or len(lines) < highest:
                    break
                highest, high = len(lines), self._high(len(lines))
                self.setText("\n".join(lines))
                self.setFixedHeight(high)
        finally:
            self._is_fitting = False

    def _high(self, lines: int) -> int:
        return super().sizeHint().height() + (lines - 1 - self.text().count("\n")) * self.fontMetrics().lineSpacing()

    def _lines(self, width: int) -> list[str]:
        room, metrics = width - SIDES_PX, self.fontMetrics()
        lines: list[str] = []
        for word in self._words.split(" "):
            if lines and metrics.horizontalAdvance(f"{lines[-1]} {word}") <= room:
                lines[-1] += f" {word}"
            else:
                lines.append(word)
        return lines
