"""The table of copies: how many of each, their words, what stands in an item's place; typed or from a file."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QGuiApplication, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.decide.letters import clean
from dechirer.core.dress.decisions import WITHOUT, Column, Copies, Row
from dechirer.core.dress.words.copies import find_blanks
from dechirer.core.job.model import Job
from dechirer.core.words import plural
from dechirer.desk.boxes.copies_columns import ColumnsMenu, heading_of
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document
from dechirer.formats.copies_csv import ENCODINGS, MOST_BYTES, TableError, read_copies
from dechirer.formats.untrusted_files import read_regular

SETS_HINTS = {
    "pen": "The colour of the pen: a plain name such as navy, or #1f3a8a",
    "slot": "The number of the slot on the card mat, from 1",
}
SPARE_ROWS = 1
MOST_COLUMNS, MOST_ROWS = 20, 2000
COUNT = "copies"
"""The heading of the first column; empty, a row takes its share of what is left."""


class _Table(QTableWidget):
    @property
    def is_open(self) -> bool:
        """Whether a cell is being typed into."""
        return bool(self.state() == QTableWidget.State.EditingState)


class CopiesBox(QDialog):
    """One row for copies that are alike: how many, their words, and what stands for an item."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self._path: Path | None = None
        self.setObjectName("copies-box")
        self.setWindowTitle("Copies")
        self.setMinimumSize(640, 440)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        page = QVBoxLayout(self)
        page.addWidget(heading("What differs from copy to copy"))
        told = small(
            "A column of words goes where its name stands in curly brackets, such as “Dear {name}”. A column for an "
            "item says what stands in its place: the other takes over its place, its size and its recipe."
        )
        told.setWordWrap(True)
        page.addWidget(told)
        self.table = _Table()
        self.table.setObjectName("copies-table")
        self.table.setAccessibleName("What differs from copy to copy")
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(QHeaderView.ResizeMode.Stretch)
        self.table.cellChanged.connect(self._take_cell)
        self._typed_at = (0, 0)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._go_down)
        page.addWidget(self.table, 1)
        self.said = QLabel()
        self.said.setObjectName("copies-said")
        self.said.setWordWrap(True)
        page.addWidget(self.said)
        page.addLayout(self._make_buttons())
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.close)
        page.addWidget(buttons)
        document.changed.connect(self.refresh)
        self.finished.connect(lambda _: document.changed.disconnect(self.refresh))
        paste = QShortcut(QKeySequence(QKeySequence.StandardKey.Paste), self.table)
        paste.setContext(Qt.ShortcutContext.WidgetShortcut)
        paste.activated.connect(self._paste)
        self._begin()
        self.refresh()
        if self.table.columnCount() > 1:
            self.table.setCurrentCell(len(document.job.dress.copies.rows), 1)
            self.table.setFocus()

    def _begin(self) -> None:
        """An empty table begins with a column for each blank of the words."""
        dress = self.document.job.dress
        blanks = dict.fromkeys(
            blank for item in dress.items if item.words is not None for blank in find_blanks(item.words.text)
        )
        if blanks and not dress.copies.columns:
            self._set(Copies(tuple(Column(blank) for blank in list(blanks)[:MOST_COLUMNS])))

    def _paste(self) -> None:
        """Rows of another table, or a list of names, from the cell that is picked on: tabs part columns."""
        clipboard = QGuiApplication.clipboard()
        table, cell = self.document.job.dress.copies, (self.table.currentRow(), self.table.currentColumn() - 1)
        if clipboard is not None and clipboard.text().strip() and table.columns:
            self._set(put_in(table, clipboard.text(), max(0, cell[0]), max(0, cell[1])))

    def _make_buttons(self) -> QHBoxLayout:
        line = QHBoxLayout()
        self.column = QPushButton("Column")
        self.column.setObjectName("copies-column")
        self.columns = ColumnsMenu(self.document, self._set, self._say, self.column)
        self.column.setMenu(self.columns)
        line.addWidget(self.column)
        for words, name, run in (
            ("From a CSV file…", "copies-csv", self._ask_csv),
            ("Empty the table", "copies-clear", lambda: self._set(Copies())),
        ):
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, run=run: run())
            line.addWidget(button)
        self.encoding = QComboBox()
        self.encoding.setObjectName("copies-encoding")
        self.encoding.setAccessibleName("How the file's letters are written")
        self.encoding.setToolTip("If letters of the file read wrong, say here how they are written")
        for encoding, words in ENCODINGS.items():
            self.encoding.addItem(f"letters: {words}", encoding)
        self.encoding.activated.connect(lambda _: self._read_again())
        self.encoding.hide()
        line.addWidget(self.encoding)
        line.addStretch(1)
        self.count = QPushButton("As many copies")
        self.count.setObjectName("copies-count")
        self.count.clicked.connect(self._match_count)
        line.addWidget(self.count)
        return line

    # --- showing ---------------------------------------------------------------------------------------------

    def refresh(self) -> None:
        """Show the job's table, with a row to spare for typing."""
        table = self.document.job.dress.copies
        self.table.blockSignals(True)
        self.table.setColumnCount(len(table.columns) + bool(table.columns))
        if table.columns:
            self.table.setHorizontalHeaderLabels(
                [COUNT, *(heading_of(column, self.document.job.dress) for column in table.columns)]
            )
        self.table.setRowCount(len(table.rows) + (SPARE_ROWS if table.columns else 0))
        for number in range(self.table.rowCount()):
            row = table.rows[number] if number < len(table.rows) else None
            count = QTableWidgetItem(str(row.count) if row is not None and row.count else "")
            count.setToolTip("How many of these; empty: a share of the copies that are left")
            if table.columns:
                self.table.setItem(number, 0, count)
            for place, column in enumerate(table.columns, start=1):
                self._show_entry(number, place, column, row.entries[place - 1] if row is not None else "")
        self.table.blockSignals(False)
        wanted = _count_rows(table)
        self.count.setEnabled(bool(table.rows) and wanted != self.document.job.brief.count)
        self.count.setText(f"Make {wanted} {plural(wanted, 'copy', 'copies')}" if table.rows else "As many copies")
        self.said.setText(_tell_state(self.document.job, table))

    def _say(self, words: str) -> None:
        self.said.setText(words)

    def _show_entry(self, row: int, place: int, column: Column, entry: str) -> None:
        if column.is_words or column.sets in ("pen", "slot"):
            self.table.removeCellWidget(row, place)
            cell = QTableWidgetItem(entry)
            if column.sets:
                cell.setToolTip(SETS_HINTS[column.sets])
            self.table.setItem(row, place, cell)
            return
        box = QComboBox()
        box.setObjectName(f"copies-entry-{row}-{place}")
        box.setAccessibleName(f"What stands for {column.name} in row {row + 1}")
        for words, value in self._stand_ins(column.carries) if column.carries else self._papers():
            box.addItem(words, value)
        if box.findData(entry) < 0:
            box.addItem(f"{entry} (gone)", entry)
        box.setCurrentIndex(box.findData(entry))
        box.activated.connect(lambda _: self._keep())
        self.table.setCellWidget(row, place, box)

    def _papers(self) -> list[tuple[str, str]]:
        """The papers a piece may be of: (words, entry)."""
        return [("as it is", ""), *((paper.name, paper.id) for paper in self.document.job.brief.papers)]

    def _stand_ins(self, carries: str) -> list[tuple[str, str]]:
        """What may stand in an item's place: (words, entry)."""
        dress = self.document.job.dress
        found = [("as it is", ""), ("without it", WITHOUT)]
        found += [(art.name, art.id) for art in dress.art]
        found += [
            (f"{item.name} (on {item.face})", item.id)
            for item in dress.items
            if item.id != carries and carries not in item.needs()
        ]
        return found

    # --- reading ---------------------------------------------------------------------------------------------

    def _read(self) -> Copies | None:
        """The table as it is typed; None where a count is no whole number."""
        table = self.document.job.dress.copies
        rows = []
        for number in range(self.table.rowCount()):
            entries = tuple(self._entry(number, place) for place in range(1, len(table.columns) + 1))
            cell = self.table.item(number, 0)
            typed = cell.text().strip() if cell is not None else ""
            if typed and not (typed.isdecimal() and 0 < int(typed) <= 2000):
                self.said.setText(f"Row {number + 1}: “{typed}” is no number of copies; a whole number up to 2000 is.")
                return None
            if any(entries) or typed or number < len(table.rows) - 1:
                rows.append(Row(entries, int(typed or 0)))
        while rows and not any(rows[-1].entries) and not rows[-1].count:
            rows.pop()
        return Copies(table.columns, tuple(rows))

    def _entry(self, row: int, place: int) -> str:
        box = self.table.cellWidget(row, place)
        if isinstance(box, QComboBox):
            return str(box.currentData() or "")
        cell = self.table.item(row, place)
        return cell.text().strip()[:300] if cell is not None else ""

    def _take_cell(self, row: int, column: int) -> None:
        """Keep what was typed. A cell that is still open is let close before the table is made anew, and the next
        entry is typed below it."""
        if not self.table.is_open:
            self._keep()
            return
        self._typed_at = (row, column)
        self._later.start(0)

    def _go_down(self) -> None:
        self._keep()
        row, column = self._typed_at
        self.table.setCurrentCell(min(row + 1, self.table.rowCount() - 1), column)
        self.table.setFocus()

    def _keep(self) -> None:
        table = self._read()
        if table is not None:
            self._set(table)

    def _set(self, table: Copies) -> None:
        changes = [Change("dress.copies", table)]
        if len(table.rows) > self.document.job.brief.count:  # each row is one card at least
            changes.append(Change("brief.count", _count_rows(table)))
        why = self.document.try_edit("Copies", changes)
        if why:
            self.said.setText(why)

    # --- files -----------------------------------------------------------------------------------------------

    def _ask_csv(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Copies", "", "Tables (*.csv *.tsv *.txt);;All files (*)")
        if name:
            self.read_file(Path(name))

    def read_file(self, path: Path) -> None:
        """Take the table of a CSV file."""
        self._path = path
        self.encoding.show()
        try:
            table = read_copies(read_regular(path, MOST_BYTES, TableError), path.name, self.encoding.currentData())
        except (TableError, OSError) as error:
            self.said.setText(str(error))
            return
        self._set(table)

    def _read_again(self) -> None:
        """Read the file once more, its letters as the maker says."""
        if self._path is not None:
            self.read_file(self._path)

    def _match_count(self) -> None:
        count = _count_rows(self.document.job.dress.copies)
        self.document.edit(f"{count} copies", [Change("brief.count", count)])


def _tell_state(job: Job, table: Copies) -> str:
    """How many rows there are for how many copies, and which blanks and columns miss each other."""
    blanks = {blank for item in job.dress.items if item.words for blank in find_blanks(item.words.text)}
    rows, count, columns = len(table.rows), job.brief.count, set(table.words)
    said = [f"{rows} {plural(rows, 'row')} for {count} {plural(count, 'copy', 'copies')}."]
    if not table.columns:
        said.append("Begin with a column.")
    unused = sorted(columns - blanks)
    if unused:
        said.append(f"No words use {', '.join('{' + each + '}' for each in unused)} yet.")
    unknown = sorted(blanks - columns)
    if unknown:
        said.append(f"No column for {', '.join('{' + each + '}' for each in unknown)}.")
    return " ".join(said)


def put_in(table: Copies, text: str, first: int, place: int) -> Copies:
    """A table with the lines of a text in it from a row and a column on; what goes past the last column is left out."""
    rows = [list(row.entries) for row in table.rows]
    counts = [row.count for row in table.rows]
    for number, line in enumerate(text.splitlines()[: MOST_ROWS - first], start=first):
        while len(rows) <= number:
            rows.append([""] * len(table.columns))
            counts.append(0)
        for column, entry in enumerate(line.split("\t"), start=place):
            if column < len(table.columns):
                rows[number][column] = clean(entry.strip())[:300]
    return Copies(table.columns, tuple(Row(tuple(row), count) for row, count in zip(rows, counts, strict=True)))


def _count_rows(table: Copies) -> int:
    """How many copies the table asks for: what its rows say, one where they say nothing."""
    return sum(row.count or 1 for row in table.rows)
