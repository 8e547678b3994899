"""The mats of a machine besides its own: listed with what they take, added from a few numbers, taken off."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QInputDialog, QMenu, QPushButton, QVBoxLayout, QWidget

from dechirer.core.brief.card_mats import make_card_mat, make_long_mat
from dechirer.core.brief.machine import OtherMat
from dechirer.core.decide.change import Change
from dechirer.core.length import format_size
from dechirer.core.paper.standards import parse_size
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.taken_off import Row, TakeOffList
from dechirer.desk.work.document import Document

CARD_MATS = ((1, 1), (2, 1), (2, 2), (2, 3))


class MatsPanel(QWidget):
    """Edits `brief.machine.mats`."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._shown: tuple[OtherMat, ...] | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(heading("Other mats"))
        self._list = TakeOffList()
        column.addLayout(self._list)
        self.add = QPushButton("Add a mat")
        self.add.setObjectName("mat-add")
        menu = QMenu(self.add)
        long = menu.addAction("A longer one")
        if long is not None:
            long.triggered.connect(lambda: self._put(make_long_mat(self.document.job.brief.machine)))
        for across, down in CARD_MATS:
            count = across * down
            action = menu.addAction(f"For {count} folded {'card' if count == 1 else 'cards'}…")
            if action is not None:
                action.triggered.connect(partial(self._ask_front, across, down))
        self.add.setMenu(menu)
        column.addWidget(self.add)
        self.said = small()
        column.addWidget(self.said)
        self.said.hide()

    def show_job(self) -> None:
        """List the mats of the machine as it is."""
        mats, units = self.document.job.brief.machine.mats, self.document.job.units
        if mats == self._shown:
            return
        self._shown = mats
        self._list.show_rows(
            [
                Row(
                    f"mat-off-{mat.id}",
                    _words_of(mat, units),
                    f"Take the {mat.name} off",
                    partial(self._take_off, mat),
                )
                for mat in mats
            ]
        )

    def _ask_front(self, across: int, down: int) -> None:
        text, taken = QInputDialog.getText(self, "Card mat", "The largest front it takes, such as 5 x 7 in")
        if taken:
            self.add_for(across, down, text)

    def add_for(self, across: int, down: int, text: str) -> None:
        """Add a mat with slots for fronts of a size that was typed; say why not where that cannot be."""
        try:
            width, height = parse_size(text.strip(), unit=self.document.job.units)
            mat = make_card_mat(self.document.job.brief.machine, across, down, (width.mm, height.mm))
        except ValueError as error:
            self.said.setText(f"{str(error)[:1].upper()}{str(error)[1:]}.")
            self.said.show()
            return
        self.said.hide()
        self._put(mat)

    def _put(self, mat: OtherMat) -> None:
        mats = self.document.job.brief.machine.mats
        self.document.edit(f"A {mat.name}", [Change("brief.machine.mats", (*mats, mat))])

    def _take_off(self, mat: OtherMat) -> None:
        left = tuple(each for each in self.document.job.brief.machine.mats if each.id != mat.id)
        self.document.edit(f"Without the {mat.name}", [Change("brief.machine.mats", left)])


def _words_of(mat: OtherMat, units: str) -> str:
    """A mat by its name and size, one with slots by how many there are and the largest of them too."""
    takes = ""
    if mat.slots:
        largest = max(mat.slots, key=lambda slot: slot.width * slot.height)
        takes = f", {len(mat.slots)} × {format_size(largest.width, largest.height, units)}"
    return f"{mat.name}, {format_size(mat.width, mat.height, units)}{takes}"
