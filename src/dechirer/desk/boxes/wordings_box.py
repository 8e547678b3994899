"""The table of wordings: words that differ from copy to copy, typed or from a CSV file."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QInputDialog,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Wordings
from dechirer.core.dress.words.wording import find_blanks
from dechirer.core.words import plural
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document
from dechirer.formats.wordings_csv import ENCODINGS, WordingsError, read_wordings

SPARE_ROWS = 1


class WordingsBox(QDialog):
    """One row a copy; the words on the faces use a column as {name}."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self._path: Path | None = None
        self.setObjectName("wordings-box")
        self.setWindowTitle("Wordings")
        self.setMinimumSize(560, 440)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        page = QVBoxLayout(self)
        page.addWidget(heading("Words that differ from copy to copy"))
        page.addWidget(small("Write a column's name in curly brackets where its words go, such as “Dear {name}”."))
        self.table = QTableWidget()
        self.table.setObjectName("wordings-table")
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.cellChanged.connect(lambda _row, _column: self._keep())
        page.addWidget(self.table, 1)
        self.said = QLabel()
        self.said.setObjectName("wordings-said")
        self.said.setWordWrap(True)
        page.addWidget(self.said)
        line = QHBoxLayout()
        for words, name, run in (
            ("Column…", "wordings-column", self._add_column),
            ("From a CSV file…", "wordings-csv", self._ask_csv),
            ("Empty the table", "wordings-clear", lambda: self._set(Wordings())),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, run=run: run())
            line.addWidget(button)
        self.encoding = QComboBox()
        self.encoding.setObjectName("wordings-encoding")
        self.encoding.setAccessibleName("How the file's letters are written")
        self.encoding.setToolTip("If letters of the file read wrong, say here how they are written")
        for encoding, words in ENCODINGS.items():
            self.encoding.addItem(f"letters: {words}", encoding)
        self.encoding.activated.connect(lambda _: self._read_again())
        self.encoding.hide()
        line.addWidget(self.encoding)
        line.addStretch(1)
        self.count = QPushButton("As many copies")
        self.count.setObjectName("wordings-count")
        self.count.clicked.connect(self._match_count)
        line.addWidget(self.count)
        page.addLayout(line)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.close)
        page.addWidget(buttons)
        document.changed.connect(self.refresh)
        self.finished.connect(lambda _: document.changed.disconnect(self.refresh))
        self.refresh()

    def refresh(self) -> None:
        """Show the job's table, with a row to spare for typing."""
        table = self.document.job.dress.wordings
        self.table.blockSignals(True)
        self.table.setColumnCount(len(table.columns))
        self.table.setHorizontalHeaderLabels(list(table.columns))
        self.table.setRowCount(len(table.rows) + (SPARE_ROWS if table.columns else 0))
        for row in range(self.table.rowCount()):
            for column in range(len(table.columns)):
                words = table.rows[row][column] if row < len(table.rows) else ""
                self.table.setItem(row, column, QTableWidgetItem(words))
        self.table.blockSignals(False)
        count, rows = self.document.job.brief.count, len(table.rows)
        self.count.setEnabled(bool(rows) and rows != count)
        self.count.setText(f"Make {rows} {plural(rows, 'copy', 'copies')}" if rows else "As many copies")
        self.said.setText(self._state(count, rows))

    def _state(self, count: int, rows: int) -> str:
        blanks = {
            blank for item in self.document.job.dress.items if item.words for blank in find_blanks(item.words.text)
        }
        columns = set(self.document.job.dress.wordings.columns)
        said = [f"{rows} {plural(rows, 'row')} for {count} {plural(count, 'copy', 'copies')}."]
        unused = sorted(columns - blanks)
        if unused:
            said.append(f"No words use {', '.join('{' + each + '}' for each in unused)} yet.")
        unknown = sorted(blanks - columns)
        if unknown:
            said.append(f"No column for {', '.join('{' + each + '}' for each in unknown)}.")
        return " ".join(said)

    def _read(self) -> Wordings:
        columns = self.document.job.dress.wordings.columns
        rows = []
        for row in range(self.table.rowCount()):
            cells = [self.table.item(row, column) for column in range(len(columns))]
            words = tuple(cell.text().strip()[:300] if cell is not None else "" for cell in cells)
            if any(words):
                rows.append(words)
        return Wordings(columns, tuple(rows))

    def _keep(self) -> None:
        self._set(self._read())

    def _set(self, wordings: Wordings) -> None:
        why = self.document.try_edit("Wordings", [Change("dress.wordings", wordings)])
        if why:
            self.said.setText(why)

    def _add_column(self) -> None:
        name, taken = QInputDialog.getText(self, "Column", "Name of the column")
        name = name.strip()[:40]
        if not taken or not name:
            return
        table = self.document.job.dress.wordings
        if name in table.columns or "{" in name or "}" in name:
            self.said.setText(f"“{name}” cannot be added: it is there already, or has curly brackets.")
            return
        rows = tuple((*row, "") for row in table.rows)
        self._set(Wordings((*table.columns, name), rows))

    def _ask_csv(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Wordings", "", "Tables (*.csv *.tsv *.txt);;All files (*)")
        if name:
            self.read_file(Path(name))

    def read_file(self, path: Path) -> None:
        """Take the table of a CSV file."""
        self._path = path
        self.encoding.show()
        try:
            table = read_wordings(path.read_bytes(), path.name, self.encoding.currentData())
        except (WordingsError, OSError) as error:
            self.said.setText(str(error))
            return
        self._set(table)

    def _read_again(self) -> None:
        """Read the file once more, its letters as the maker says."""
        if self._path is not None:
            self.read_file(self._path)

    def _match_count(self) -> None:
        rows = len(self.document.job.dress.wordings.rows)
        self.document.edit(f"{rows} copies", [Change("brief.count", rows)])
