"""Who gets a card: the table of copies as a batch sheet, each made, written, posted; kept in the book."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from msgspec import structs
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QTableWidgetItem, QVBoxLayout, QWidget

from dechirer.core.keep.entries import Entry, Recipient, entry_id
from dechirer.core.plan import Plan
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.plain_table import PlainTable
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document

STATES = ("is_made", "is_written", "is_posted")
HEADINGS = ("Who", "made", "written", "posted")
MOST = 500


class RecipientsPanel(QWidget):
    """A row for each kind of copy, three boxes to tick."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._names: list[str] = []
        self._known: dict[str, Recipient] = {}
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.told: QLabel = small()
        self.told.setObjectName("recipients-told")
        column.addWidget(self.told)
        self.table = PlainTable("recipients", "Recipients", HEADINGS, 0)
        self.table.itemChanged.connect(self._ticked)
        column.addWidget(self.table, 1)

    def show_plan(self, plan: Plan, entries: Iterable[Entry]) -> None:
        """Show the copies of a plan, with what the book has of them."""
        self._names = names_of(plan)
        job = plan.job.name
        known = [each for each in entries if isinstance(each, Recipient) and each.job == job]
        self._known = {each.name: each for each in known}
        with self.table.filling(len(self._names)):
            for row, name in enumerate(self._names):
                self.table.put(row, 0, name)
                for column, state in enumerate(STATES, start=1):
                    day = getattr(self._known.get(name), state, "")
                    cell = self.table.put(row, column, day)
                    cell.setFlags(Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsUserCheckable)
                    cell.setCheckState(Qt.CheckState.Checked if day else Qt.CheckState.Unchecked)
        self._tell()

    def _tell(self) -> None:
        posted = sum(bool(self._known[name].is_posted) for name in self._names if name in self._known)
        self.told.setText(f"{posted} of {len(self._names)} posted. Names come from the table of copies in Dress.")

    def _ticked(self, cell: QTableWidgetItem) -> None:
        if not cell.column() or cell.row() >= len(self._names):
            return
        name, job, day = self._names[cell.row()], self.document.job.name, date.today().isoformat()
        now = self._known.get(name) or Recipient(entry_id("recipient", job, name), day, job[:120], name)
        on = cell.checkState() == Qt.CheckState.Checked
        kept = structs.replace(now, **{STATES[cell.column() - 1]: day if on else ""})
        self._known[name] = kept
        booking.keep([kept])
        self.table.blockSignals(True)
        cell.setText(day if on else "")
        self.table.blockSignals(False)
        self._tell()


def names_of(plan: Plan) -> list[str]:
    """Who the cards are for: by the words of each kind of copy, else by number."""
    found: list[str] = []
    for copy in plan.dress.copies:
        words = [entry for _, entry in copy.entries if entry]
        for number in range(copy.count):
            name = ", ".join(words) if words else "card"
            found.append(name if words and copy.count == 1 else f"{name} {len(found) + 1}")
            if len(found) >= MOST or number >= MOST:
                return _apart(found)
    return _apart(found or [f"card {number + 1}" for number in range(min(MOST, plan.job.brief.count))])


def _apart(names: list[str]) -> list[str]:
    """No two of one name: the book tells them apart by it."""
    seen: dict[str, int] = {}
    found = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        found.append((name if seen[name] == 1 else f"{name} ({seen[name]})")[:120])
    return found
