"""Details of a fault: where in Dechirer it happened, and where that is written down."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QLabel, QPlainTextEdit, QPushButton, QVBoxLayout, QWidget

from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading
from dechirer.desk.work.fault_log import Fault


class FaultBox(QDialog):
    """Shows a fault; closes with Escape."""

    def __init__(self, fault: Fault, log: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("fault-box")
        self.setWindowTitle("Dechirer: what went wrong")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(620, 420)
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addWidget(heading("A mistake in Dechirer"))
        words = QLabel(
            "This is where in the program it happened. If you report it, these lines are what is wanted; the first "
            "one may repeat words of your job, so read it before you send it."
        )
        words.setWordWrap(True)
        column.addWidget(words)
        self.text = QPlainTextEdit(fault.tell(whole=True))
        self.text.setObjectName("fault-text")
        self.text.setReadOnly(True)
        self.text.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap)
        column.addWidget(self.text, 1)
        kept = QLabel(f"Written, without that first line's words, in {log}")
        kept.setWordWrap(True)
        kept.setFont(theme.font("small"))
        column.addWidget(kept)
        line = QHBoxLayout()
        line.addStretch(1)
        for label, name, act in (("Copy", "fault-copy", self.copy), ("Close", "fault-close", self.close)):
            button = QPushButton(label)
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, act=act: act())
            line.addWidget(button)
        column.addLayout(line)

    def copy(self) -> None:
        """Put the lines on the clipboard."""
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setText(self.text.toPlainText())
