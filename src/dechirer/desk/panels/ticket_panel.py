"""The ticket of a paper: what is set at the printer for it, and what was set the last time."""

from __future__ import annotations

import zlib
from datetime import date
from typing import Any

from msgspec import structs
from PyQt6.QtWidgets import QComboBox, QFormLayout, QLabel, QPushButton, QVBoxLayout, QWidget

from dechirer.core.plan import Plan
from dechirer.core.press.decisions import EVER, keep_ticket
from dechirer.core.press.pages import Page
from dechirer.core.press.records import PAPER_TYPES, Ticket
from dechirer.desk.widgets.choices import small
from dechirer.desk.work.document import Document
from dechirer.desk.work.recording import recording

CHOICES: tuple[tuple[str, str, dict[str, str]], ...] = (
    ("paper_type", "Paper type", {"photo": "photo paper", "plain": "plain paper"}),
    ("quality", "Quality", {"best": "best", "normal": "normal"}),
    ("feed", "Fed from", {"tray": "the tray", "rear": "the rear, straight"}),
)


class TicketPanel(QWidget):
    """Three choices, why, and a button for the ticket of before."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._document = document
        self._ticket: Ticket | None = None
        self._size = (0.0, 0.0)
        self.boxes: dict[str, QComboBox] = {}
        form = QFormLayout()
        form.setContentsMargins(0, 0, 0, 0)
        for name, title, choices in CHOICES:
            box = QComboBox()
            box.setObjectName(f"ticket-{name}")
            box.setAccessibleName(f"{title} at the printer")
            for key, words in choices.items():
                box.addItem(words, key)
            box.activated.connect(lambda _row, name=name: self._choose(name))
            form.addRow(title, box)
            self.boxes[name] = box
        self.why = small()
        self.why.setObjectName("ticket-why")
        self.why.setWordWrap(True)
        self.again = QPushButton()
        self.again.setObjectName("ticket-again")
        self.again.clicked.connect(self._take_last)
        self.fixed = QLabel("Scaling off, no borderless, nothing fitted to the page.")
        self.fixed.setWordWrap(True)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addLayout(form)
        column.addWidget(self.why)
        column.addWidget(self.fixed)
        column.addWidget(self.again)

    def show_ticket(self, plan: Plan, page: Page | None) -> None:
        """Show the ticket of a page's paper."""
        self.setEnabled(page is not None)
        if page is None:
            self._ticket = None
            self.again.hide()
            return
        brief, press = plan.job.brief, plan.job.press
        paper, printer = brief.paper(page.paper).name, brief.printer.name
        self._size = (page.sheet.width, page.sheet.height)
        ticket = self._ticket = press.ticket_of(paper, printer)
        for name, box in self.boxes.items():
            box.setCurrentIndex(box.findData(getattr(ticket, name)))
        side = "outside" if page.face == "outside-up" else "inside"
        self.why.setText(f"{PAPER_TYPES[ticket.paper_type].capitalize()}. Printed side: the {side}.")
        last = recording.ticket(paper, printer)
        self.again.setVisible(last is not None and ticket.made == EVER)
        if last is not None:
            self.again.setText(f"As on {last.made}: {words_of(last)}")

    def _choose(self, name: str) -> None:
        self._set(**{name: self.boxes[name].currentData()})

    def _take_last(self) -> None:
        ticket = self._ticket
        last = recording.ticket(ticket.paper, ticket.printer) if ticket is not None else None
        if last is not None:
            self._set(paper_type=last.paper_type, quality=last.quality, feed=last.feed)

    def _set(self, **fields: Any) -> None:
        if self._ticket is None:
            return
        today = date.today().isoformat()
        wide, high = self._size
        ticket = structs.replace(self._ticket, made=today, width=wide, height=high, **fields)
        change = keep_ticket(self._document.job.press, ticket)
        self._document.edit(f"Ticket of {ticket.paper}", [change])
        # One for each paper and printer: a later one takes its place.
        seal = f"ticket-{zlib.crc32(repr((ticket.paper, ticket.printer)).encode()):08x}"
        recording.keep(structs.replace(ticket, id=seal))


def words_of(ticket: Ticket) -> str:
    """A ticket in a few words."""
    return ", ".join(choices[getattr(ticket, name)] for name, _, choices in CHOICES)
