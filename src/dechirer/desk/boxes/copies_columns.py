"""What a column of the table of copies can be for: words, what stands in an item's place, what is set for each copy."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtWidgets import QInputDialog, QMenu, QWidget

from dechirer.core.dress.decisions import Column, Copies, Dress, Row
from dechirer.desk.work.document import Document


def heading_of(column: Column, dress: Dress) -> str:
    """What stands above a column."""
    if column.sets:
        return column.name
    if column.carries is None:
        return f"{{{column.name}}}"
    item = dress.item(column.carries)
    return f"for {item.name}" if item is not None else f"for {column.name} (gone)"


class ColumnsMenu(QMenu):
    """Adds a column, or takes one off. Calls `keep` with the new table, `say` with why there is none."""

    def __init__(
        self, document: Document, keep: Callable[[Copies], None], say: Callable[[str], None], parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._document, self._keep, self._say = document, keep, say
        self.aboutToShow.connect(self._fill)

    @property
    def _table(self) -> Copies:
        return self._document.job.dress.copies

    def _fill(self) -> None:
        self.clear()
        dress = self._document.job.dress
        words = self.addAction("Words…")
        if words is not None:
            words.triggered.connect(self._ask)
        stands = self.addMenu("What stands for")
        carried = {column.carries for column in dress.copies.columns}
        if stands is not None:
            stands.setEnabled(bool(dress.items))
            for item in dress.items:
                action = stands.addAction(f"{item.name} (on {item.face})")
                if action is not None:
                    action.setEnabled(item.id not in carried)
                    action.triggered.connect(lambda _=False, id=item.id, name=item.name: self._carry(id, name))
        self._fill_sets(self.addMenu("What is set"))
        drop = self.addMenu("Take off")
        if drop is not None:
            drop.setEnabled(bool(dress.copies.columns))
            for place, column in enumerate(dress.copies.columns):
                action = drop.addAction(heading_of(column, dress))
                if action is not None:
                    action.triggered.connect(lambda _=False, place=place: self._take_off(place))

    def _fill_sets(self, menu: QMenu | None) -> None:
        """Columns for the paper of a piece, the pen's colour, the slot of a card mat."""
        plan = self._document.plan
        if menu is None:
            return
        wanted: list[tuple[str, Any, str | None]] = [
            (f"paper of the {piece.name}", "paper", piece.id) for piece in (plan.construct.pieces if plan else ())
        ]
        wanted += [("colour of the pen", "pen", None), ("slot of the card mat", "slot", None)]
        taken = {(column.sets, column.piece) for column in self._table.columns}
        for words, sets, piece in wanted:
            action = menu.addAction(words[0].upper() + words[1:])
            if action is not None:
                action.setEnabled((sets, piece) not in taken)
                column = Column(words[:40], sets=sets, piece=piece)
                action.triggered.connect(lambda _=False, column=column: self._add(column))

    def _ask(self) -> None:
        name, taken = QInputDialog.getText(self.parentWidget(), "Column", "Name of the column")
        name = name.strip()[:40]
        if not taken or not name:
            return
        if name in self._names() or "{" in name or "}" in name:
            self._say(f"“{name}” cannot be added: it is there already, or has curly brackets.")
            return
        self._add(Column(name))

    def _carry(self, item: str, name: str) -> None:
        """A column for what stands in an item's place."""
        names, title = self._names(), name[:36]
        while title in names:
            title += "+"
        self._add(Column(title, item))

    def _names(self) -> set[str]:
        return {column.name for column in self._table.columns}

    def _add(self, column: Column) -> None:
        rows = tuple(Row((*row.entries, ""), row.count) for row in self._table.rows)
        self._keep(Copies((*self._table.columns, column), rows))

    def _take_off(self, place: int) -> None:
        table = self._table
        columns = (*table.columns[:place], *table.columns[place + 1 :])
        rows = tuple(Row((*row.entries[:place], *row.entries[place + 1 :]), row.count) for row in table.rows)
        self._keep(Copies(columns, rows if columns else ()))
