"""A labelled line to type a field into, for what has no place in a drawing."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QVBoxLayout, QWidget

from dechirer.desk.theme import theme

if TYPE_CHECKING:
    from dechirer.desk.work.document import Document


class _Line(QLineEdit):
    """A line edit that tells when Escape is pressed."""

    left = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == 0x01000000:  # Qt.Key.Key_Escape
            self.left.emit()
            return
        super().keyPressEvent(event)


class FieldEdit(QWidget):
    """Shows a field's text; emits `typed(path, text)` when it was changed and Enter was pressed or focus left.

    Answer with `accept` or `refuse(why)`; a refused text stays to be mended while the job keeps the old value.
    """

    typed = pyqtSignal(str, str)

    def __init__(
        self,
        path: str,
        title: str,
        parent: QWidget | None = None,
        *,
        hint: str = "",
        beside: bool = False,
        label: QLabel | None = None,
    ) -> None:
        """`beside` puts the title beside the line instead of above it; `label` shows it in place of a plain one."""
        super().__init__(parent)
        self.path = path
        self._shown = ""
        self._asked: str | None = None
        self.setObjectName(f"field-{path}")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        self.title = label or QLabel(title)
        self.title.setFont(theme.font("small"))
        self.line = _Line()
        self.line.setObjectName(f"line-{path}")
        self.line.setPlaceholderText(hint)
        self.line.setAccessibleName(title)
        self.title.setBuddy(self.line)
        self.line.setMinimumSize(48, 28)
        self.complaint = QLabel()
        self.complaint.setObjectName(f"complaint-{path}")
        self.complaint.setWordWrap(True)
        self.complaint.setFont(theme.font("small"))
        self.complaint.setProperty("role", "stop")
        self.complaint.hide()
        if beside:
            line = QHBoxLayout()
            line.setSpacing(5)
            line.addWidget(self.title)
            line.addWidget(self.line, 1)
            column.addLayout(line)
            column.addWidget(self.complaint)
        else:
            for widget in (self.title, self.line, self.complaint):
                column.addWidget(widget)
        self.line.editingFinished.connect(self._finish)
        self.line.left.connect(self.accept)

    def set_path(self, path: str) -> None:
        """Point at another field of the same kind."""
        self.path = path
        self._asked = None

    def show_text(self, text: str) -> None:
        """Show the field's value, unless a refused text is still being mended."""
        self._shown = text
        if not self.complaint.isVisible():
            self.line.setText(text)
            self.line.setCursorPosition(0)  # a long text shows its beginning

    def accept(self) -> None:
        """The text was taken, or given up: show the job's value again."""
        self.complaint.hide()
        self._asked = None
        self.line.setText(self._shown)

    def answer(self, document: Document, path: str, text: str) -> None:
        """Let the document take what was typed, or say why it does not."""
        why = document.type_field(path, text)
        if why:
            self.refuse(why)
            return
        self.show_text(document.field_text(path))
        self.accept()

    def refuse(self, why: str) -> None:
        """Say why beside the field."""
        self.complaint.setText(why)
        self.complaint.show()

    def _finish(self) -> None:
        text = self.line.text()
        if text == self._shown:
            self.accept()
        elif text != self._asked:
            # Enter and the loss of focus that follows are one question, not two.
            self._asked = text
            self.typed.emit(self.path, text)
