"""A button whose words continue in a second line where there is little room."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QSize
from PyQt6.QtGui import QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QPushButton, QSizePolicy, QStyle, QStyleOptionButton, QStylePainter, QWidget

SIDES_PX, LEAST_PX = 26, 90
SCROLL_BAR_PX = 24
RESTYLED = (QEvent.Type.FontChange, QEvent.Type.StyleChange, QEvent.Type.Polish, QEvent.Type.ApplicationFontChange)


class WrappedButton(QPushButton):
    """As wide as its words where it may be; narrower and higher where not.

    Its layout asks how high it is for a width. When a resize needs another number of lines the layout is asked to lay
    out once more, later: no resize causes another one while it lasts.
    """

    def __init__(self, words: str, parent: QWidget | None = None) -> None:
        super().__init__(words, parent)
        self._words = words
        self._wrapped: dict[int, list[str]] = {}
        self._one_line: QSize | None = None
        self._least = (1, 0)
        """The lines it needs at least, and the width (px) at which it needed them."""
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
        return QSize(min(LEAST_PX, hint.width()), self._high(self._least[0]))

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._high(len(self.lines(width)))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Ask for another height where the new width needs one.

        A new height may bring or take a scroll bar, and with it a little width: the lines stay as many as they were
        until there is clearly more room.
        """
        super().resizeEvent(event)
        needed = len(self.lines(self.width()))
        least, width = self._least
        if needed > least or (needed < least and self.width() > width + SCROLL_BAR_PX):
            self._least = (needed, self.width())
            self.updateGeometry()

    def _high(self, lines: int) -> int:
        return self.sizeHint().height() + (lines - 1) * self.fontMetrics().lineSpacing()

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
