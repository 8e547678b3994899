"""The book to look through: its entries in a list, one of them whole with its photographs, put right or taken out;
notes and photographs are added to it."""

from __future__ import annotations

import time
from collections.abc import Iterable
from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.letters import clean
from dechirer.core.keep.entries import Entry, MadeUp, Note, Photo, RunDone, entry_id, kind_of
from dechirer.core.keep.telling import detail_of, line_of
from dechirer.desk.boxes.entry_box import EntryBox
from dechirer.desk.widgets.choices import push_button, small
from dechirer.desk.widgets.photo_label import PhotoLabel
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document

if TYPE_CHECKING:
    from dechirer.formats.book.photographs import Small

MOST_SHOWN = 300
EMPTY = (
    "Nothing in the book yet.\n\nIt is written by working: “At the machine…” in Run and “At the table…” in Fold walk "
    "through the steps, and leave how long they took, what was spoiled and why, and what was used of the stock. Trial "
    "cuts, calibrations and licences come by themselves as well. Notes and photographs are added below."
)
PHOTOS = "Photographs (*.jpg *.jpeg *.png *.webp *.tif *.tiff)"


class EntriesPanel(QWidget):
    """Shows entries.

    Signals:
        written(): something was written into the book.
        refused(text): a photograph could not be read.
    """

    written = pyqtSignal()
    refused = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._newest: tuple[Entry, ...] = ()
        self._photos: tuple[Photo, ...] = ()
        self._shown: list[Entry] = []
        self._wanted: tuple[str, str] | None = None
        """The entry that is to be shown once it is found."""
        self._before: tuple[Entry, dict[str, bytes]] | None = None
        """The entry as it was before it was put right or taken out, with its picture."""
        self.search = _line("book-search", "Look through the book", "Look for a job, a paper, a cause…")
        self.search.textChanged.connect(self._look)
        self.list = QListWidget()
        self.list.setObjectName("book-entries")
        self.list.setAccessibleName("Entries of the book")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)  # long lines end in dots
        self.list.currentRowChanged.connect(self._show_entry)
        self.empty = small(EMPTY)
        self.empty.setObjectName("book-empty")
        self.empty.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.detail = small()
        self.detail.setObjectName("book-detail")
        self.detail.setWordWrap(True)
        self.photo = PhotoLabel()
        self.right = push_button("Put right…", "book-right", "", self.open_right)
        self.drop = push_button("Take it out", "book-drop", "", self._drop)
        self.back = push_button("Put back", "book-back", "", self._put_back)
        self.about = QComboBox()
        self.about.setObjectName("book-about")
        self.about.setAccessibleName("What the note or photograph is about")
        self.about.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.note = _line("book-note", "A note", "A note, kept with Enter")
        self.note.returnPressed.connect(self._keep_note)
        told = "Kept small, without the place and time that cameras write into it"
        self.picture = push_button("Photograph…", "book-photo", told, self._ask_photo)
        self._reading, self._making, self._searching = Beside(self), Beside(self), Beside(self)
        self._searching.done.connect(self._list)
        self._reading.done.connect(self._show_photo)
        self._making.done.connect(self._keep_photo)
        self._making.refused.connect(self.refused.emit)
        self._making.failed.connect(lambda error: self.refused.emit(f"It cannot be read ({type(error).__name__})."))
        self._arrange()
        self._offer_about()

    def _arrange(self) -> None:
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.search)
        column.addWidget(self.empty, 1)
        column.addWidget(self.list, 1)
        column.addWidget(self.detail)
        column.addWidget(self.photo)
        row = QHBoxLayout()
        for button in (self.right, self.drop, self.back):
            row.addWidget(button)
            button.setEnabled(False)
        row.addStretch(1)
        column.addLayout(row)
        row = QHBoxLayout()
        row.addWidget(self.about)
        row.addWidget(self.note, 1)
        row.addWidget(self.picture)
        column.addLayout(row)

    @property
    def is_busy(self) -> bool:
        """Whether a photograph is made small or fetched, or the book is looked through."""
        return self._making.is_busy or self._reading.is_busy or self._searching.is_busy

    def stop(self) -> None:
        """What is under way beside the window is given up."""
        for each in (self._reading, self._making, self._searching):
            each.stop()

    def show_entries(self, newest: tuple[Entry, ...], photos: tuple[Photo, ...]) -> None:
        """Show the book as it is now: its newest entries, or what is looked for; the entry that is looked at stays so.
        Photographs are all there are."""
        self._newest, self._photos = newest, photos
        self._look()
        self._offer_about()

    def pick(self, kind: str, id: str) -> bool:
        """Show the entry of a kind and id, if it is in the list; whether it is."""
        self._wanted = None
        for row, each in enumerate(self._shown):
            if (kind_of(each), each.id) == (kind, id):
                self.list.setCurrentRow(row)
                return True
        return False

    def look_up(self, kind: str, id: str) -> None:
        """Show an entry, however long ago it was made."""
        self.search.blockSignals(True)
        self.search.clear()
        self.search.blockSignals(False)
        if not self.pick(kind, id):
            self._wanted = (kind, id)
            self._searching.run(partial(booking.around, kind, id))

    @property
    def entry(self) -> Entry | None:
        """The entry that is looked at."""
        row = self.list.currentRow()
        return self._shown[row] if 0 <= row < len(self._shown) else None

    def _look(self) -> None:
        """Look through the book for what is typed, beside the window; what was found before stays meanwhile."""
        text = self.search.text().strip()
        if not text:
            self._searching.stop()
            self._list(self._newest)
            return
        self._searching.run(partial(booking.find, text))

    def _list(self, shown: Iterable[Entry]) -> None:
        chosen = self.entry
        self._shown = list(shown)[:MOST_SHOWN]
        self.list.blockSignals(True)
        self.list.clear()
        for each in self._shown:
            self.list.addItem(QListWidgetItem(line_of(each)))
        self.list.blockSignals(False)
        self.empty.setVisible(not self._newest)
        self.list.setVisible(bool(self._newest))
        self.detail.setText("" if self._shown or not self._newest else "Nothing found.")
        self.photo.show_picture(None)
        for button in (self.right, self.drop):
            button.setEnabled(False)
        self.back.setEnabled(self._before is not None)
        wanted = self._wanted or ((kind_of(chosen), chosen.id) if chosen is not None else None)
        if wanted is not None:
            self.pick(*wanted)

    def _show_entry(self, _row: int) -> None:
        entry = self.entry
        if entry is None:
            return
        self.detail.setText(detail_of(entry, self.document.job.units))
        self.right.setEnabled(True)
        self.drop.setEnabled(True)
        self._offer_about()
        self.photo.show_picture(None)
        photo = entry if isinstance(entry, Photo) else self._photo_of(entry)
        if photo is not None and photo is not entry and photo.words:
            self.detail.setText(f"{self.detail.text()} · photograph: {photo.words}")
        if photo is not None:
            self._reading.run(partial(booking.picture, photo.id))

    def _photo_of(self, entry: Entry) -> Photo | None:
        """The newest photograph of an entry."""
        own = [each for each in self._photos if each.of == entry.id]
        return own[-1] if own else None

    def _show_photo(self, found: bytes | None) -> None:
        pixels = QPixmap()
        if found is not None and pixels.loadFromData(found, "JPEG"):
            self.photo.show_picture(pixels)

    def _offer_about(self) -> None:
        """The job, what is looked at, and the papers: what a note can be about."""
        job, entry, now = self.document.job, self.entry, self.about.currentText()
        self.about.blockSignals(True)
        self.about.clear()
        self.about.addItem("This job", (job.name, ""))
        if isinstance(entry, RunDone | MadeUp):
            what = "run" if isinstance(entry, RunDone) else "making up"
            self.about.addItem(f"The {what} of {entry.made}", (entry.job, entry.id))
        for paper in job.brief.papers:
            self.about.addItem(f"Paper: {paper.name}"[:40], (paper.name, ""))
        self.about.setCurrentIndex(max(0, self.about.findText(now)))
        self.about.blockSignals(False)

    def open_right(self) -> EntryBox | None:
        """Open the box that puts the entry that is looked at right."""
        entry = self.entry
        if entry is None:
            return None
        box = EntryBox(entry, self.document.job.units, partial(self._replace, entry), self)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.show()
        return box

    def _replace(self, before: Entry, made: Entry) -> None:
        self._before = before, {}
        booking.keep([made])
        self.written.emit()

    def _drop(self) -> None:
        entry = self.entry
        if entry is not None:
            picture = booking.picture(entry.id) if isinstance(entry, Photo) else None
            self._before = entry, {entry.id: picture} if picture is not None else {}
            booking.drop(kind_of(entry), entry.id)
            self.written.emit()

    def _put_back(self) -> None:
        if self._before is not None:
            entry, pictures = self._before
            booking.keep([entry], pictures)
            self._before = None
            self.written.emit()

    def _keep_note(self) -> None:
        text = clean(self.note.text()).strip()
        about, of = self.about.currentData()
        if text:
            id = entry_id("note", about, text, str(time.time_ns()))
            booking.keep([Note(id, date.today().isoformat(), about[:120], text[:4000], of)])
            self.note.clear()
            self.written.emit()

    def _ask_photo(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "A photograph", "", PHOTOS)
        if name:
            self.take_photo(Path(name))

    def take_photo(self, path: Path) -> None:
        """Make a photograph small and keep it with what the note would be about."""
        from dechirer.formats.book.photographs import make_small

        about, of = self.about.currentData()
        words = clean(self.note.text()).strip()[:400]
        self._making.run(lambda: (make_small(path), about, of, words))

    def _keep_photo(self, found: tuple[Small, str, str, str]) -> None:
        made, about, of, words = found
        id = entry_id("photo", about, str(time.time_ns()))
        photo = Photo(id, date.today().isoformat(), about[:120], made.width, made.height, words, of)
        booking.keep([photo], {id: made.data})
        if words:
            self.note.clear()
        self.written.emit()


def _line(name: str, words: str, hint: str) -> QLineEdit:
    line = QLineEdit()
    line.setObjectName(name)
    line.setPlaceholderText(hint)
    line.setAccessibleName(words)
    return line
