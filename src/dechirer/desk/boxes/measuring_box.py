"""A box for a shape that is cut once and measured: it writes the shape's file and takes two measured lengths."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.desk.widgets.choices import heading, small


class MeasuringBox(QDialog):
    """What the boxes of shapes that are measured have alike; `changed` when a length was typed."""

    changed = pyqtSignal()

    def __init__(self, name: str, shape: str, parent: QWidget, *, asks: str, told: str, keep: str) -> None:
        """
        Args:
            name: of the box; its widgets are called `name-save` and so on.
            shape: what is cut, as in "Save the square…".
            asks, told: the heading, and what is to be done.
            keep: the words of the button that keeps what was measured.
        """
        super().__init__(parent)
        self._name, self._shape = name, shape
        self.setObjectName(f"{name}-box")
        self.setMinimumWidth(540)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addWidget(heading(asks))
        words = small(told)
        words.setWordWrap(True)
        column.addWidget(words)
        self.save_button = QPushButton(f"Save the {shape}…")
        self.save_button.setObjectName(f"{name}-save")
        column.addWidget(self.save_button)
        self.form = QFormLayout()
        column.addLayout(self.form)
        self.said = QLabel()
        self.said.setObjectName(f"{name}-said")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        self.take = QPushButton(keep)
        self.take.setObjectName(f"{name}-keep")
        buttons.addButton(self.take, QDialogButtonBox.ButtonRole.ActionRole)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        for button in buttons.findChildren(QPushButton):
            button.setAutoDefault(False)

    def add_line(self, name: str, words: str, right: str) -> QLineEdit:
        """A line for a measured length; `right` is what it would be if all were true."""
        line = QLineEdit()
        line.setObjectName(f"{self._name}-{name}")
        line.setAccessibleName(words)
        line.setPlaceholderText(right)
        line.textChanged.connect(lambda _: self.changed.emit())
        self.form.addRow(words, line)
        return line

    def ask_path(self, usual: str, kinds: str) -> Path | None:
        """Ask where the shape's file goes; None when that was called off."""
        name, _ = QFileDialog.getSaveFileName(self, f"The {self._shape}", usual, kinds)
        return Path(name) if name else None

    def write(self, path: Path, content: bytes) -> None:
        """Write the shape's file and say so, or why not."""
        try:
            path.write_bytes(content)
        except OSError as error:
            self.said.setText(f"{path.name} was not written: {error.strerror or error}.")
        else:
            self.said.setText(f"The {self._shape} is {path}.")
