"""The maker's book, opened when it is first asked for; what is written into it is written beside the window."""

from __future__ import annotations

import logging
import threading
from collections.abc import Iterable
from pathlib import Path
from typing import TYPE_CHECKING

from platformdirs import user_data_path

from dechirer.core.keep.entries import Entry

if TYPE_CHECKING:
    from dechirer.formats.book.store import Book


def records_folder() -> Path:
    """Where the book lies."""
    return user_data_path("dechirer")


class Booking:
    """The one book of the application. What was read is remembered until something is written; another window's entries
    are seen when a station is opened anew. `words` says what is wrong with it, or what had to be done, else empty."""

    def __init__(self) -> None:
        self._book: Book | None = None
        self._folder: Path | None = None
        self._lock = threading.RLock()
        self._thread: threading.Thread | None = None
        self._read: dict[tuple[str, ...], tuple[Entry, ...]] = {}
        self.words = ""

    @property
    def book(self) -> Book:
        """The open book, with what earlier versions kept beside it taken over."""
        from dechirer.formats.book.exchange import take_over_records
        from dechirer.formats.book.store import NAME, Book, BookError

        with self._lock:
            folder = records_folder()
            if self._book is None or self._folder != folder:
                if self._book is not None:
                    self._book.close()
                self._book, self._folder = Book(folder / NAME), folder
                self._read.clear()
                try:
                    take_over_records(self._book, folder)
                    self.words = self._book.said
                except BookError as error:
                    self.words = str(error)
            return self._book

    def entries(self, *kinds: str) -> tuple[Entry, ...]:
        """Entries of some kinds, the oldest first; none where the book cannot be read."""
        from dechirer.formats.book.store import BookError

        with self._lock:
            book = self.book
            if kinds not in self._read:
                try:
                    self._read[kinds] = book.entries(*kinds)
                except BookError as error:
                    self.words = str(error)
                    return ()
            return self._read[kinds]

    def forget(self) -> None:
        """Read anew what is asked for next: another window may have written."""
        with self._lock:
            self._read.clear()

    def keep(self, entries: Iterable[Entry]) -> None:
        """Write entries, in a thread of its own, as disks may be slow."""
        fresh = tuple(entries)
        self._thread = threading.Thread(target=self._write, args=(fresh,), name="book")
        self._thread.start()

    def drop(self, kind: str, id: str) -> str:
        """Take an entry out; why that could not be done, or nothing."""
        from dechirer.formats.book.store import BookError

        with self._lock:
            self._read.clear()
            try:
                self.book.drop(kind, id)
            except BookError as error:
                self.words = str(error)
                return self.words
        return ""

    def wait(self) -> None:
        """Wait until what was kept last is written."""
        if self._thread is not None:
            self._thread.join(timeout=60)

    def _write(self, entries: tuple[Entry, ...]) -> None:
        from dechirer.formats.book.store import BookError

        with self._lock:
            self._read.clear()
            try:
                self.book.keep(entries)
            except BookError as error:
                self.words = f"The book could not be written: {error}"
                logging.getLogger(__name__).warning("%s", self.words)


booking = Booking()
"""One for the application."""
