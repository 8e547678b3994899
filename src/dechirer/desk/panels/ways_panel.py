"""How cards are made up: glue, creasing, hands and days, what is put on besides; and what to do when it goes wrong."""

from __future__ import annotations

from PyQt6.QtWidgets import QVBoxLayout, QWidget

from dechirer.core.fold.repairs import REPAIRS
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.panels.trinkets_panel import TrinketsPanel
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document


class WaysPanel(QWidget):
    """Edits the fields of `fold` and its trinkets, and the day the cards are wanted."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 6, 0)
        self.fields = FieldPanel(document, "fold", shape="grid")
        self.due = FieldPanel(document, "brief", only=("due",), shape="grid")
        self.trinkets = TrinketsPanel(document)
        column.addWidget(self.fields)
        column.addWidget(self.due)
        column.addWidget(self.trinkets)
        column.addWidget(heading("If something goes wrong"))
        for repair in REPAIRS:
            told = small(f"{repair.what}: {repair.do}")
            told.setWordWrap(True)
            column.addWidget(told)
        column.addStretch(1)

    def show_job(self) -> None:
        """Show what the job has."""
        self.fields.show_job()
        self.due.show_job()
        self.trinkets.show_job()
