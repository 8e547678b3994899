"""Words typed where they stand on a face: seen there as they are typed, in their own typeface and ink."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QPlainTextEdit

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.seen import remove_items
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Point
from dechirer.desk.theme import theme
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.document import Document
from dechirer.drawing.hit import box_of_element

WIDE_PX, LINE_PX, GAP_PX = 190, 20, 6
MOST_LINES = 6


class FaceWords(QObject):
    """A line that opens below words on a face. Enter keeps what was typed, Shift with Enter begins a new row, Escape
    takes it back. Words that were just put there and are left empty go again.

    Signals:
        closed(): the line was put away.
    """

    closed = pyqtSignal()

    def __init__(self, document: Document, view: DrawingView) -> None:
        super().__init__(view)
        self.document, self._view = document, view
        self._item, self._is_new = "", False
        self.line = QPlainTextEdit(view)
        self.line.setObjectName("face-words")
        self.line.setAccessibleName("The words: Enter keeps them, Shift and Enter begins a row")
        self.line.setPlaceholderText("Type the words")
        self.line.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.line.setFont(theme.font("body"))
        self.line.setStyleSheet("padding: 4px 6px; border-width: 2px;")
        self.line.hide()
        self.line.installEventFilter(self)
        self.line.textChanged.connect(self._type)
        view.resized.connect(self.lie)

    @property
    def is_open(self) -> bool:
        """Whether words are being typed."""
        return bool(self._item)

    def open(self, item: Item, *, is_new: bool = False) -> bool:
        """Begin typing an item's words; whether it has any."""
        if item.words is None:
            return False
        self._item, self._is_new = item.id, is_new
        self.line.blockSignals(True)
        self.line.setPlainText(item.words.text)
        self.line.blockSignals(False)
        self.line.selectAll()
        self.line.show()
        self.lie()
        self.line.setFocus(Qt.FocusReason.OtherFocusReason)
        return True

    def lie(self) -> None:
        """Lie below the words, or above them where there is no room."""
        display = self._view.display
        if self._item and self.document.job.dress.item(self._item) is None:
            self._close()  # it has been taken off, or undone
        if not self._item or display is None:
            return
        box = box_of_element(display, f"item:{self._item}") or display.box
        viewport, view = self._view.viewport_now, self._view
        left, top = viewport.to_px((box.left, box.top))
        right, bottom = viewport.to_px((box.right, box.bottom))
        rows = min(MOST_LINES, self.line.blockCount())
        wide, high = max(WIDE_PX, min(int(right - left), 420)), 14 + LINE_PX * rows
        x = int(max(2, min((left + right - wide) / 2, view.width() - wide - 2)))
        y = int(bottom + GAP_PX)
        if y + high > view.height() - 2:
            y = int(max(2, top - GAP_PX - high))
        self.line.setGeometry(QRect(x, min(y, max(2, view.height() - high - 2)), wide, high))

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and self._item:
            if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
                shifted = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
                if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not shifted:
                    self.keep()
                    return True
                if event.key() == Qt.Key.Key_Escape:
                    self.take_back()
                    return True
            if event.type() in (QEvent.Type.FocusOut, QEvent.Type.Hide):  # another station may have come in front
                self.keep()
        return super().eventFilter(watched, event)

    def _type(self) -> None:
        """Show what is typed on the face."""
        self.lie()
        text = self.line.toPlainText()
        if self._item and text.strip():
            self.document.preview("Words", [Change(f"dress.items.{self._item}.words.text", text)])

    def keep(self) -> None:
        """Keep what was typed. Nothing typed is no words: new ones go again, others stay as they were."""
        item, text, is_new = self._close(), self.line.toPlainText(), self._is_new
        if item is None or item.words is None:
            return
        if text.strip() and text != item.words.text:
            changes = [Change(f"dress.items.{item.id}.words.text", text)]
            if item.name == _name_of(item.words.text):
                changes.append(Change(f"dress.items.{item.id}.name", _name_of(text)))
            self.document.edit(f"Words “{_name_of(text)}”", changes)
        elif is_new and not text.strip():
            self.document.edit("Words taken off", remove_items(self.document.job, [item]))

    def take_back(self) -> None:
        """Leave the words as they were."""
        self._close()

    def _close(self) -> Item | None:
        item = self.document.job.dress.item(self._item) if self._item else None
        self._item = ""
        self.line.hide()
        self.document.abort()
        self._view.setFocus(Qt.FocusReason.OtherFocusReason)
        self.closed.emit()
        return item


def words_at(plan: Plan | None, face: str, at: Point) -> str:
    """The topmost words of a face whose box has a place in it, by their id; empty for none."""
    for dressed in reversed(plan.dress.on(face) if plan is not None else ()):
        left, top, right, bottom = dressed.placed.drawn.box()
        if dressed.item.words is not None and left <= at[0] <= right and top <= at[1] <= bottom:
            return dressed.item.id
    return ""


def _name_of(text: str) -> str:
    return text.strip().split("\n")[0][:24].strip() or "Words"
