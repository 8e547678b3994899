"""The book as a whole: taken out as a table or as text, taken in, backed up and put back."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMenu, QMessageBox, QPushButton, QWidget

from dechirer.core.words import plural
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.booking import booking

if TYPE_CHECKING:
    from dechirer.formats.book.store import Book

OUT = "JSON, with photographs (*.json);;CSV (*.csv)"
IN = "Exports and books (*.json *.jsonl *.csv *.sqlite);;All files (*)"
BOOK = "Books (*.sqlite);;All files (*)"
RESTORE = "What is in the book now is kept beside it under another name. Put the backup in its place?"


class BookMenu(QPushButton):
    """A button with what is done to the whole book, beside the window.

    Signals:
        said(text): what was done, or why it was not.
        written(): the book is another now.
    """

    said = pyqtSignal(str)
    written = pyqtSignal()

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__("The book", parent)
        self.setObjectName("book-menu")
        menu = QMenu(self)
        for words, run in (
            ("Export…", self._ask_out),
            ("Import…", self._ask_in),
            ("Back up…", self._ask_back_up),
            ("Put a backup back…", self._ask_restore),
        ):
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _=False, run=run: run())
        self.setMenu(menu)
        self.beside = Beside(self)
        self.beside.done.connect(self._done)
        self.beside.refused.connect(self.said.emit)
        self.beside.failed.connect(lambda error: self.said.emit(f"It could not be done ({error})."))

    def take_out(self, path: Path) -> None:
        """Write all of the book to a file, as CSV where its name ends so, else as JSON."""

        def work(book: Book) -> str:
            from dechirer.formats.book.exchange import write_export
            from dechirer.formats.job.atomic import write_atomically

            write_atomically(path, write_export(book, path.suffix.lower() == ".csv"))
            return f"The book is written to {path.name}."

        self._run(work)

    def take_in(self, path: Path) -> None:
        """Take in the entries of a file."""

        def work(_book: Book) -> str:
            from dechirer.formats.book.exchange import read_exported

            taken = read_exported(path)
            why = booking.keep(taken.entries, taken.pictures).result()
            count = len(taken.entries)
            return why or f"{count} {plural(count, 'entry', 'entries')} of {path.name} taken in."

        self._run(work)

    def back_up(self, path: Path) -> None:
        """Copy the book."""

        def work(book: Book) -> str:
            book.back_up(path)
            return f"The book is copied to {path.name}."

        self._run(work)

    def put_back(self, path: Path) -> None:
        """Put a backup in the place of the book."""

        def work(book: Book) -> str:
            aside = book.restore(path)
            booking.forget()
            return f"{path.name} is the book now" + (f"; what was there is {aside.name}." if aside else ".")

        self._run(work)

    def _run(self, work: Callable[[Book], str]) -> None:
        """Run it beside the window, on the book opened once more: what takes a second holds up nobody who reads it."""

        def told() -> str:
            from dechirer.formats.book.schema import BookError
            from dechirer.formats.book.store import Book

            booking.wait()
            book = Book(booking.path)
            try:
                return work(book)
            except BookError as error:
                raise ValueError(str(error)) from None
            finally:
                book.close()

        self.beside.run(told)

    def _done(self, words: str) -> None:
        self.said.emit(words)
        self.written.emit()

    def _ask_out(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Export the book", "book.json", OUT)
        if name:
            self.take_out(Path(name))

    def _ask_in(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Import entries", "", IN)
        if name:
            self.take_in(Path(name))

    def _ask_back_up(self) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Back the book up", "book-backup.sqlite", BOOK)
        if name:
            self.back_up(Path(name))

    def _ask_restore(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Put a backup back", "", BOOK)
        yes = QMessageBox.StandardButton.Yes
        if name and QMessageBox.question(self, "Put a backup back", RESTORE) == yes:
            self.put_back(Path(name))
