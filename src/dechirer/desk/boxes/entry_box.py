"""An entry of the book put right: each of its fields as a line to type into or a choice."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.keep.entries import TITLES, Entry, EntryError, about_of, as_plain, kind_of
from dechirer.core.keep.putting_right import EntryRow, put_right, rows_of_entry
from dechirer.desk.widgets.choices import heading


class EntryBox(QDialog):
    """Calls `keep` with the entry as it was put right."""

    def __init__(self, entry: Entry, units: str, keep: Callable[[Entry], None], parent: QWidget) -> None:
        super().__init__(parent)
        self._entry, self._units, self._keep = entry, units, keep
        self.setObjectName("entry-box")
        self.setWindowTitle("Put right")
        self.setMinimumWidth(480)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addWidget(heading(f"{TITLES[kind_of(entry)].capitalize()}: {about_of(as_plain(entry))}"))
        form = QFormLayout()
        column.addLayout(form)
        self.rows = {row.name: row for row in rows_of_entry(entry, units)}
        self.lines: dict[str, QLineEdit | QComboBox] = {}
        for row in self.rows.values():
            line = _make_line(row)
            self.lines[row.name] = line
            form.addRow(row.title, line)
        self.said = QLabel()
        self.said.setObjectName("entry-said")
        self.said.setTextFormat(Qt.TextFormat.PlainText)
        self.said.setWordWrap(True)
        self.said.setProperty("role", "stop")
        self.said.hide()
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.take = QPushButton("Put it right")
        self.take.setObjectName("entry-keep")
        buttons.addButton(self.take, QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.accepted.connect(self._take)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)

    def typed(self) -> dict[str, str]:
        """What differs from what stood there, by the rows' names."""
        found = {}
        for name, line in self.lines.items():
            text = str(line.currentData()) if isinstance(line, QComboBox) else line.text()
            if text != self.rows[name].text:
                found[name] = text
        return found

    def _take(self) -> None:
        try:
            made = put_right(self._entry, self.typed(), self._units)
        except EntryError as error:
            self.said.setText(str(error))
            self.said.show()
            return
        if made != self._entry:
            self._keep(made)
        self.accept()


def _make_line(row: EntryRow) -> QLineEdit | QComboBox:
    if row.choices:
        box = QComboBox()
        for value, words in row.choices:
            box.addItem(words, str(value))
        box.setCurrentIndex(max(0, box.findData(row.text)))
        box.setObjectName(f"entry-{row.name}")
        box.setAccessibleName(row.title)
        return box
    line = QLineEdit(row.text)
    line.setObjectName(f"entry-{row.name}")
    line.setAccessibleName(row.title)
    return line
