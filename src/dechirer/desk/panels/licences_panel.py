"""Art and typefaces of the job: how each may be used and where it comes from; whether the copies are sold."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QComboBox, QTableWidgetItem, QVBoxLayout, QWidget

from dechirer.core.brought import LICENCE_WORDS, Art, FontFile
from dechirer.core.decide.change import Change
from dechirer.core.dress.words.typefaces import SHIPPED
from dechirer.core.job.model import Job
from dechirer.core.words import plural
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.plain_table import PlainTable
from dechirer.desk.work.document import Document

HEADINGS = ("What", "Kind", "It may be used", "Where it comes from")
USE, SOURCE = 2, 3
ROW_PX = 32


class LicencesPanel(QWidget):
    """A row for each part that was brought in, then one for each typeface that ships and is used."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._parts: list[tuple[str, Art | FontFile]] = []
        self._shown: tuple[object, ...] = ()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        self.sold = QCheckBox("These copies are for sale")
        self.sold.setObjectName("keep-for-sale")
        self.sold.clicked.connect(lambda on: self.document.edit("For sale", [Change("dress.for_sale", on)]))
        column.addWidget(self.sold)
        self.told = small()
        self.told.setObjectName("licences-told")
        self.told.setWordWrap(True)
        column.addWidget(self.told)
        self.table = PlainTable("licences", "Art and typefaces", HEADINGS, SOURCE)
        self.table.itemChanged.connect(self._typed)
        side = self.table.verticalHeader()
        if side is not None:
            side.setDefaultSectionSize(ROW_PX)
        column.addWidget(self.table, 1)

    def show_job(self, job: Job) -> None:
        """Show what the job has; what is being typed or chosen is left alone where nothing changed."""
        dress = job.dress
        self.sold.setChecked(dress.for_sale)
        seen = (dress.art, dress.fonts, dress.items, dress.for_sale)
        if seen == self._shown:
            return
        self._shown = seen
        self._parts = [("art", art) for art in dress.art] + [("fonts", font) for font in dress.fonts]
        faces = {item.words.face for item in dress.items if item.words is not None}
        ships = [face for face in SHIPPED if face.id in faces]
        with self.table.filling(len(self._parts) + len(ships)):
            for row, (kind, part) in enumerate(self._parts):
                self.table.put(row, 0, part.name, tip=part.name)
                self.table.put(row, 1, "art" if kind == "art" else "typeface")
                self.table.setCellWidget(row, USE, self._choice(row, part.licence))
                self.table.put(
                    row, SOURCE, part.source, edited=True, tip="The shop, the artist or the file: type it in"
                )
            for row, face in enumerate(ships, start=len(self._parts)):
                self.table.put(row, 0, face.title)
                self.table.put(row, 1, "typeface")
                self.table.removeCellWidget(row, USE)
                self.table.put(row, USE, "free for any use")
                self.table.put(row, SOURCE, f"ships with Dechirer, {face.licence}", tip=face.licence)
        self._tell(job)

    def _choice(self, row: int, licence: str) -> QComboBox:
        box = QComboBox()
        box.setObjectName(f"licence-{row}")
        box.setAccessibleName(f"How {self._parts[row][1].name} may be used")
        for value, words in LICENCE_WORDS:
            box.addItem(words, value)
        box.setCurrentIndex(box.findData(licence))
        box.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        box.activated.connect(partial(self._choose, row, box))
        return box

    def _choose(self, row: int, box: QComboBox, _index: int) -> None:
        self._change(row, "Licence", "licence", box.currentData())

    def _typed(self, cell: QTableWidgetItem) -> None:
        if cell.column() == SOURCE:
            self._change(cell.row(), "Where it comes from", "source", " ".join(cell.text().split())[:200])

    def _change(self, row: int, label: str, name: str, value: object) -> None:
        """Change one field of the part a row was made for, as long as the job has it."""
        if row >= len(self._parts):
            return
        kind, part = self._parts[row]
        own = self.document.job.dress.art if kind == "art" else self.document.job.dress.fonts
        if any(each.id == part.id for each in own):
            self.document.edit(label, [Change(f"dress.{kind}.{part.id}.{name}", value)])

    def _tell(self, job: Job) -> None:
        if not self._parts:
            self.told.setText("Nothing was brought in: what is drawn here, and the typefaces that ship, may be sold.")
            return
        barred = [part.name for _, part in self._parts if part.licence == "personal"]
        open_ = sum(part.licence == "unknown" for _, part in self._parts)
        words = "The book knows a file again in the next job. "
        if barred:
            words += f"For personal use only: {', '.join(barred[:4])}. "
        if open_:
            words += f"Not noted: {open_} {plural(open_, 'part')}. "
        self.told.setText(words.strip())
        bad = job.dress.for_sale and bool(barred)
        self.told.setStyleSheet(f"color: {theme.colour('stop').name()}" if bad else "")
