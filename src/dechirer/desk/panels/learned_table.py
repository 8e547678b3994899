"""What was learned, a row each, ticked where the job is planned with it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QTableWidgetItem

from dechirer.core.decide.change import Change
from dechirer.core.learned import Learned
from dechirer.desk.widgets.plain_table import PlainTable
from dechirer.desk.work.document import Document

COLUMNS = ("", "What", "Value", "Between", "Seen")
WHAT = 1


class LearnedTable(PlainTable):
    """Edits which learned values a job uses."""

    def __init__(self, document: Document) -> None:
        super().__init__("keep-values", "Learned values", COLUMNS, WHAT)
        self.document = document
        self._values: tuple[Learned, ...] = ()
        self.itemChanged.connect(self._switch)

    def show_values(self, values: tuple[Learned, ...]) -> None:
        """Show what the book teaches, or what the job was planned with."""
        keep = self.document.job.keep
        have = {each.key for each in keep.learned}
        self._values = values
        with self.filling(len(values)):
            for row, each in enumerate(values):
                used = self.put(row, 0, "", tip="Whether the job is planned with it")
                used.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsUserCheckable)
                on = each.key in have and each.key not in keep.off
                used.setCheckState(Qt.CheckState.Checked if on else Qt.CheckState.Unchecked)
                used.setData(Qt.ItemDataRole.UserRole, each.key)
                between = f"{_bare(each, each.low)} – {_bare(each, each.high)}"
                tip = f"{each.words}: {each.rests_on}; held before: {value_words(each, each.before)}"
                for column, text in enumerate(
                    (each.words, value_words(each, each.value), between, str(each.count)), WHAT
                ):
                    self.put(row, column, text, tip=tip)

    def _switch(self, cell: QTableWidgetItem) -> None:
        """Use a learned value, or no longer."""
        if cell.column():
            return
        key, on = str(cell.data(Qt.ItemDataRole.UserRole)), cell.checkState() == Qt.CheckState.Checked
        keep = self.document.job.keep
        off = tuple(each for each in keep.off if each != key)
        changes = [Change("keep.off", off if on else (*off, key))]
        value = next((each for each in self._values if each.key == key), None)
        if on and value is not None and all(each.key != key for each in keep.learned):
            changes.append(Change("keep.learned", (*keep.learned, value)))
        self.document.edit("Used" if on else "Not used", changes)


def _bare(learned: Learned, value: float) -> str:
    """A value without its unit; shares in hundredths."""
    return f"{100 * value:.1f}" if learned.key == "spoiled" else f"{value:.2f}"


def value_words(learned: Learned, value: float) -> str:
    """A value of what was learned, with its unit."""
    return f"{_bare(learned, value)} {'%' if learned.key == 'spoiled' else learned.unit}"
