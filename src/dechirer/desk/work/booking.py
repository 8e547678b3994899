"""The maker's book, opened when it is first asked for; what is written into it is written beside the window."""

from __future__ import annotations

import logging
import threading
from collections.abc import Callable, Iterable, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from platformdirs import user_data_path

from dechirer.core.keep.entries import Entry, StockMoved
from dechirer.core.keep.stock import after_count
from dechirer.desk.work.messenger import Messenger

if TYPE_CHECKING:
    from dechirer.formats.book.store import Book

Found = TypeVar("Found")
NOT_WRITTEN = "The logbook could not be written"


def records_folder() -> Path:
    """Where the book lies."""
    return user_data_path("dechirer")


class Booking:
    """The one book of the application. What was read is remembered until something is written; another window's entries
    are seen when a station is opened anew. `words` says what is wrong with it, or what had to be done, else empty."""

    def __init__(self) -> None:
        self._book: Book | None = None
        self._at: Path | None = None
        self._named: Path | None = None
        self._lock = threading.RLock()
        self._writer: ThreadPoolExecutor | None = None
        self._unwritten: list[tuple[tuple[Entry, ...], Mapping[str, bytes], bool]] = []
        """What could not be written yet, the oldest first; it is tried again with what is kept next."""
        self._read: dict[tuple[str, ...], tuple[Entry, ...]] = {}
        self.words = ""
        self.outcome: Messenger | None = None
        """Tells why an entry could not be written, or an empty text once one was; for the window to show."""

    def use(self, path: Path) -> None:
        """Work on another book than the maker's own."""
        self._named = path

    @property
    def path(self) -> Path:
        """Where the book lies."""
        from dechirer.formats.book.store import NAME

        return self._named or records_folder() / NAME

    @property
    def book(self) -> Book:
        """The open book, with what earlier versions kept beside it taken over."""
        from dechirer.formats.book.exchange import take_over_records
        from dechirer.formats.book.schema import BookError
        from dechirer.formats.book.store import Book

        with self._lock:
            path = self.path
            if self._book is None or self._at != path:
                if self._book is not None:
                    self._book.close()
                self._book, self._at = Book(path), path
                self._read.clear()
                try:
                    if self._named is None:
                        take_over_records(self._book, path.parent)
                    self.words = self._book.said
                except BookError as error:
                    self.words = str(error)
            return self._book

    def entries(self, *kinds: str) -> tuple[Entry, ...]:
        """Entries of some kinds, the oldest first; none where the book cannot be read."""
        with self._lock:
            book = self.book  # another folder's is not remembered
            if kinds not in self._read:
                found = self._looked(lambda _: book.entries(*kinds), None)
                if found is None:
                    return ()
                self._read[kinds] = found
            return self._read[kinds]

    def find(self, text: str) -> tuple[Entry, ...]:
        """Entries in whose words all of a text is, the newest first; none where the book cannot be read."""
        return self._looked(lambda book: book.find(text), ())

    def around(self, kind: str, id: str) -> tuple[Entry, ...]:
        """An entry and those made before it, the newest first."""
        return self._looked(lambda book: book.around(kind, id), ())

    def picture(self, id: str) -> bytes | None:
        """The picture of a photograph; None where there is none, or the book cannot be read."""
        return self._looked(lambda book: book.picture(id), None)

    def _looked(self, look: Callable[[Book], Found], otherwise: Found) -> Found:
        """What is found in the book; something else, and why in `words`, where it cannot be read."""
        from dechirer.formats.book.schema import BookError

        with self._lock:
            try:
                return look(self.book)
            except BookError as error:
                self.words = str(error)
                return otherwise

    def forget(self) -> None:
        """Read anew what is asked for next: another window may have written."""
        with self._lock:
            self._read.clear()

    def keep(
        self, entries: Iterable[Entry], pictures: Mapping[str, bytes] | None = None, *, just_now: bool = False
    ) -> Future[str]:
        """Write entries, in a thread of its own, as disks may be slow; tells why they could not be, or nothing.

        What could not be written stays in mind and is tried again with what is kept next. Stock that moved `just_now`
        comes after every count of it, wherever a clock stood then.
        """
        with self._lock:
            self._unwritten.append((tuple(entries), pictures or {}, just_now))
        return self._beside(self._write)

    def drop(self, kind: str, id: str) -> Future[str]:
        """Take an entry out, as `keep` writes one."""
        return self._beside(lambda: self._try(lambda book: book.drop(kind, id)))

    def wait(self) -> None:
        """Wait until all that was kept is written, or could not be."""
        if self._writer is not None:
            self._writer.submit(lambda: None).result(timeout=60)

    def _beside(self, work: Callable[[], str]) -> Future[str]:
        if self._writer is None:
            self._writer = ThreadPoolExecutor(1, thread_name_prefix="book")
        return self._writer.submit(work)

    def _write(self) -> str:
        with self._lock:
            while self._unwritten:
                why = self._try(partial(_keep, *self._unwritten[0]))
                if why:
                    return why
                del self._unwritten[0]
        return ""

    def _report(self, why: str) -> None:
        if self.outcome is not None:
            self.outcome.told.emit(why)

    def _try(self, write: Callable[[Book], object]) -> str:
        """Write something; why it could not be, or nothing."""
        from dechirer.formats.book.schema import BookError

        with self._lock:
            self._read.clear()
            try:
                write(self.book)
            except BookError as error:
                self.words = f"{NOT_WRITTEN}: {error}"
                logging.getLogger(__name__).warning("%s", self.words)
                self._report(self.words)
                return self.words
            if self.words.startswith(NOT_WRITTEN):
                self.words = ""
                self._report("")
        return ""


def _keep(entries: tuple[Entry, ...], pictures: Mapping[str, bytes], just_now: bool, book: Book) -> None:
    if just_now:
        entries = tuple(
            after_count(each, book.last_counted(each.item)) if isinstance(each, StockMoved) else each
            for each in entries
        )
    book.keep(entries, pictures)


booking = Booking()
"""One for the application."""
