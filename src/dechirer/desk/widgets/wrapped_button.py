"""A button whose words continue in a second line where there is little room."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtGui import QPaintEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QStyle, QStyleOptionButton, QStylePainter, QWidget

SIDES_PX, LEAST_PX = 26, 90
RESTYLED = (QEvent.Type.FontChange, QEvent.Type.StyleChange, QEvent.Type.Polish, QEvent.Type.ApplicationFontChange)


class WrappedButton(QPushButton):
    """As wide as its words where it may be; narrower and higher where not.

    Its layout asks how high it is for a width; nothing is set when it is resized, so no resize causes another one.
    """

    def __init__(self, words: str, parent: QWidget | None = None) -> None:
        super().__init__(words, parent)
        self._words = words
        self._wrapped: dict[int, list[str]] = {}
        self._one_line: QSize | None = None
        self.setAccessibleName(words)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)

    def changeEvent(self, event: QEvent | None) -> None:
        """Forget sizes when the font or the style changes."""
        super().changeEvent(event)
        if event is not None and event.type() in RESTYLED:
            self._wrapped.clear()
            self._one_line = None

    def event(self, event: QEvent | None) -> bool:
        """Forget sizes when the style sheet reaches the button."""
        if event is not None and event.type() == QEvent.Type.Polish:
            self._wrapped.clear()
            self._one_line = None
        return super().event(event)

    def sizeHint(self) -> QSize:
        if self._one_line is None:
            wide = self.fontMetrics().horizontalAdvance(self._words) + SIDES_PX
            self._one_line = QSize(wide, super().sizeHint().height())
        return self._one_line

    def minimumSizeHint(self) -> QSize:
        hint = self.sizeHint()
        return QSize(min(LEAST_PX, hint.width()), hint.height())

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self.sizeHint().height() + (len(self.lines(width)) - 1) * self.fontMetrics().lineSpacing()

    def lines(self, width: int) -> list[str]:
        """Return the words as they are wrapped at a width (px)."""
        known = self._wrapped.get(width)
        if known is None:
            known = self._wrapped[width] = self._wrap(width - SIDES_PX)
        return known

    def paintEvent(self, event: QPaintEvent | None) -> None:
        option = QStyleOptionButton()
        self.initStyleOption(option)
        option.text = "\n".join(self.lines(self.width()))
        painter = QStylePainter(self)
        painter.drawControl(QStyle.ControlElement.CE_PushButton, option)
        painter.end()

    def _wrap(self, room: int) -> list[str]:
        metrics = self.fontMetrics()
        lines: list[str] = []
        for word in self._words.split(" "):
            if lines and metrics.horizontalAdvance(f"{lines[-1]} {word}") <= room:
                lines[-1] += f" {word}"
            else:
                lines.append(word)
        return lines
