"""A layout that sets widgets side by side and goes on in a new line when the width is used up."""

from __future__ import annotations

from PyQt6 import sip
from PyQt6.QtCore import QPoint, QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget


class FlowLayout(QLayout):
    """Lines of widgets at their preferred sizes, bottoms aligned in each line."""

    def __init__(self, parent: QWidget | None = None, *, gap: int = 8, line_gap: int = 4) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self._gap, self._line_gap = gap, line_gap
        self.setContentsMargins(0, 0, 0, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        if item is not None:
            sip.transferback(item)  # nobody else deletes what a layout of ours holds when it goes
            self._items.append(item)

    def count(self) -> int:
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        return True

    def heightForWidth(self, width: int) -> int:
        return self._place(QRect(0, 0, width, 0), move=False)

    def setGeometry(self, rect: QRect) -> None:
        super().setGeometry(rect)
        self._place(rect, move=True)

    def sizeHint(self) -> QSize:
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        size = QSize()
        for item in self._items:
            size = size.expandedTo(item.minimumSize())
        return size

    def _place(self, rect: QRect, *, move: bool) -> int:
        """Set the lines out; the height they take."""
        y, line = rect.y(), 0
        row: list[tuple[QLayoutItem, int, QSize]] = []
        x = rect.x()
        for item in self._items:
            widget = item.widget()
            if widget is not None and widget.isHidden():
                continue
            size = item.sizeHint()
            if row and x + size.width() > rect.right() + 1:
                self._finish(row, y, line, move=move)
                y += line + self._line_gap
                x, line, row = rect.x(), 0, []
            row.append((item, x, size))
            x += size.width() + self._gap
            line = max(line, size.height())
        self._finish(row, y, line, move=move)
        return y + line - rect.y()

    def _finish(self, row: list[tuple[QLayoutItem, int, QSize]], y: int, height: int, *, move: bool) -> None:
        for item, x, size in row if move else ():
            item.setGeometry(QRect(QPoint(x, y + height - size.height()), size))
