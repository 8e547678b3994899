"""What is put on each card besides: added, named, counted, taken off."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QPushButton, QVBoxLayout, QWidget

from dechirer.core.decide.change import Change
from dechirer.core.fold.decisions import Trinket
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.widgets.choices import heading
from dechirer.desk.widgets.taken_off import Row, TakeOffList
from dechirer.desk.work.document import Document


class TrinketsPanel(QWidget):
    """Edits `fold.trinkets`."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._shown: tuple[str, ...] | None = None
        self.panels: list[FieldPanel] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.addWidget(heading("Put on each card besides"))
        self._list = TakeOffList()
        self._column.addLayout(self._list)
        self._fields = QVBoxLayout()
        self._column.addLayout(self._fields)
        self.add = QPushButton("Add gems, bows, buttons…")
        self.add.setObjectName("add-trinket")
        self.add.clicked.connect(self._add)
        self._column.addWidget(self.add)

    def show_job(self) -> None:
        """Show what the job has."""
        trinkets = self.document.job.fold.trinkets
        ids = tuple(each.id for each in trinkets)
        if ids != self._shown:
            self._shown = ids
            for panel in self.panels:
                panel.setParent(None)
                panel.deleteLater()
            self.panels = [FieldPanel(self.document, f"fold.trinkets.{id}", shape="grid") for id in ids]
            for panel in self.panels:
                self._fields.addWidget(panel)
        for panel in self.panels:
            panel.show_job()
        self._list.show_rows([self._row(each) for each in trinkets])

    def _row(self, each: Trinket) -> Row:
        words = f"{each.count} × {each.name}"
        return Row(f"trinket-off-{each.id}", words, f"Take off {each.name}", partial(self._drop, each.id))

    def _add(self) -> None:
        trinkets = self.document.job.fold.trinkets
        taken = {each.id for each in trinkets}
        number = next(number for number in range(1, 200) if f"gem-{number}" not in taken)
        new = Trinket(f"gem-{number}", "gems" if number == 1 else f"gems {number}")
        self.document.edit("Put on besides", [Change("fold.trinkets", (*trinkets, new))])

    def _drop(self, id: str) -> None:
        left = tuple(each for each in self.document.job.fold.trinkets if each.id != id)
        self.document.edit("Taken off", [Change("fold.trinkets", left)])
