"""The book's store: SQLite with a write-ahead log, whole after a kill or a full disk, safe with two windows.

It is opened when it is first asked for. A file that is damaged is set aside under a name that says so, and a fresh one
begun; what can be read of it is offered. Every value goes in as a parameter: text from strangers never runs as SQL.
"""

from __future__ import annotations

import contextlib
import sqlite3
import time
from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path
from types import MappingProxyType
from typing import Any

import msgspec

from dechirer.core.keep.entries import Entry, EntryError, kind_of, read_entry, words_of
from dechirer.formats.book.migrations import migrate
from dechirer.formats.book.schema import SQLITE, BookError, open_strange, refuse_strange_schema, trust_nothing
from dechirer.formats.untrusted_files import open_regular, quote

NAME = "book.sqlite"
BUSY_S = 5.0
MOST_FOUND = 500
MOST_BYTES = 2_000_000_000
NO_PICTURES: Mapping[str, bytes] = MappingProxyType({})


def check_named(path: Path) -> None:
    """Refuse a file of another kind that was named by mistake: it is not set aside as a damaged book would be.

    Raises:
        BookError: there is such a file, or it cannot be read.
    """
    try:
        with open_regular(path, MOST_BYTES, BookError) as file:
            begins = file.read(len(SQLITE))
    except FileNotFoundError:
        return
    except OSError as error:
        raise BookError(f"{path}: {error.strerror or error}") from None
    if begins and begins != SQLITE:
        raise BookError(f"{quote(path.name)} is not a logbook.")


class Book:
    """Entries by kind and id. `said` tells what had to be done when it was opened, else empty."""

    def __init__(self, path: Path) -> None:
        """`path` is that of the file; its folder is made when something is first written."""
        self.path = path
        self.said = ""
        self._open: sqlite3.Connection | None = None

    def close(self) -> None:
        """Let go of the file."""
        if self._open is not None:
            self._open.close()
            self._open = None

    @property
    def connection(self) -> sqlite3.Connection:
        """The open file.

        Raises:
            BookError: it is of a newer version, or cannot be opened or made.
        """
        if self._open is None:
            try:
                self._open = self._connect()
            except (sqlite3.DatabaseError, UnicodeDecodeError) as error:
                self._set_aside(error)
                try:
                    self._open = self._connect()
                except (sqlite3.Error, OSError) as again:
                    raise BookError(f"{self.path.name}: {again}") from None
            except OSError as error:
                raise BookError(f"{self.path.parent}: {error.strerror or error}") from None
        return self._open

    def _connect(self) -> sqlite3.Connection:
        self.path.parent.mkdir(parents=True, exist_ok=True)
        made = sqlite3.connect(self.path, timeout=BUSY_S, isolation_level=None, check_same_thread=False)
        try:
            made.execute("PRAGMA journal_mode = WAL")
            made.execute("PRAGMA synchronous = FULL")
            made.execute("PRAGMA foreign_keys = ON")
            trust_nothing(made)
            (version,) = made.execute("PRAGMA user_version").fetchone()
            if version:  # version 0 is a new file; another window may be about to make its tables
                refuse_strange_schema(made, self.path.name, version)
            migrate(made, version)
        except sqlite3.OperationalError as error:
            made.close()
            raise BookError(f"{self.path.name}: {error}") from None
        except BaseException:
            made.close()
            raise
        return made

    def _set_aside(self, error: Exception) -> None:
        """Keep a damaged file under a name of its own."""
        name = f"{self.path.stem}-damaged-{_now()}{self.path.suffix}"
        aside = self.path.with_name(name)
        try:
            self.path.rename(aside)
        except OSError as why:
            raise BookError(f"{self.path.name} is damaged ({error}) and cannot be set aside: {why.strerror}") from None
        for ending in ("-wal", "-shm"):
            self.path.with_name(self.path.name + ending).unlink(missing_ok=True)
        self.said = (
            f"The logbook was damaged. It is kept as {name}, and a new one was begun. Import that file to take "
            "in what can be read of it."
        )

    def keep(self, entries: Iterable[Entry], pictures: Mapping[str, bytes] = NO_PICTURES) -> int:
        """Keep entries, all of them or none; one with the kind and id of another takes its place. How many.

        Args:
            pictures: of photographs, by their ids.

        Raises:
            BookError: they could not be written: the disk is full, or nothing may be written there.
        """
        rows = [
            (kind_of(each), each.id, each.made, words_of(each), msgspec.json.encode(each).decode()) for each in entries
        ]
        with self._at_once() as made:
            made.executemany(
                "INSERT INTO entries (kind, id, made, words, body) VALUES (?, ?, ?, ?, ?) ON CONFLICT (kind, id) "
                "DO UPDATE SET made = excluded.made, words = excluded.words, body = excluded.body",
                rows,
            )
            made.executemany("INSERT OR REPLACE INTO pictures (id, picture) VALUES (?, ?)", tuple(pictures.items()))
        return len(rows)

    def last_counted(self, item: str) -> str:
        """The day an item of the stock was last counted, empty for none; later than today where a clock was wrong.

        Raises:
            BookError: the book cannot be opened.
        """
        rows = self._ask(
            "SELECT max(made) FROM entries WHERE kind = 'stockmoved' AND json_extract(body, '$.item') = ? "
            "AND json_extract(body, '$.counted') IS NOT NULL",
            (item,),
        )
        return str(rows[0][0] or "") if rows else ""

    def picture(self, id: str) -> bytes | None:
        """The picture of a photograph; None where there is none.

        Raises:
            BookError: the book cannot be opened.
        """
        rows = self._ask("SELECT picture FROM pictures WHERE id = ?", (id,))
        return bytes(rows[0][0]) if rows else None

    def drop(self, kind: str, id: str) -> None:
        """Take an entry out.

        Raises:
            BookError: it could not be written.
        """
        with self._at_once() as made:
            made.execute("DELETE FROM entries WHERE kind = ? AND id = ?", (kind, id))

    @contextlib.contextmanager
    def _at_once(self) -> Iterator[sqlite3.Connection]:
        """One transaction: what is in it is written as a whole."""
        made = self.connection
        try:
            made.execute("BEGIN IMMEDIATE")
            try:
                yield made
            except BaseException:
                made.execute("ROLLBACK")
                raise
            made.execute("COMMIT")
        except sqlite3.Error as error:
            if made.in_transaction:
                with contextlib.suppress(sqlite3.Error):
                    made.execute("ROLLBACK")
            raise BookError(f"{self.path.name} could not be written: {error}") from None

    def entries(self, *kinds: str) -> tuple[Entry, ...]:
        """All entries, or those of some kinds, the oldest first; what cannot be read is left out.

        Raises:
            BookError: the book cannot be opened.
        """
        where = f"WHERE kind IN ({', '.join('?' * len(kinds))})" if kinds else ""
        rows = self._ask(f"SELECT kind, body FROM entries {where} ORDER BY made, rowid", kinds)
        return tuple(read_rows(rows))

    def find(self, text: str, most: int = MOST_FOUND) -> tuple[Entry, ...]:
        """Entries in whose words every word of a text is, the newest first.

        Raises:
            BookError: the book cannot be opened.
        """
        words = [word for word in text.lower().split() if word]
        where = " AND ".join(["instr(words, ?) > 0"] * len(words)) or "1"
        rows = self._ask(
            f"SELECT kind, body FROM entries WHERE {where} ORDER BY made DESC, rowid DESC LIMIT ?", (*words, most)
        )
        return tuple(read_rows(rows))

    def around(self, kind: str, id: str, most: int = MOST_FOUND) -> tuple[Entry, ...]:
        """An entry and those made before it, the newest first; none where it is gone.

        Raises:
            BookError: the book cannot be opened.
        """
        rows = self._ask(
            "SELECT kind, body FROM entries WHERE (made, rowid) <= (SELECT made, rowid FROM entries WHERE kind = ? AND "
            "id = ?) ORDER BY made DESC, rowid DESC LIMIT ?",
            (kind, id, most),
        )
        return tuple(read_rows(rows))

    def count(self) -> int:
        """How many entries there are.

        Raises:
            BookError: the book cannot be opened.
        """
        if not self.is_begun:
            return 0
        try:
            (count,) = self.connection.execute("SELECT count(*) FROM entries").fetchone()
        except sqlite3.Error as error:
            raise BookError(f"{self.path.name}: {error}") from None
        return int(count)

    @property
    def is_begun(self) -> bool:
        """Whether there is a book: nothing is made on the disk by looking into it."""
        return self._open is not None or self.path.exists()

    def _ask(self, words: str, values: tuple[object, ...]) -> list[tuple[Any, ...]]:
        if not self.is_begun:
            return []
        try:
            return self.connection.execute(words, values).fetchall()
        except sqlite3.Error as error:
            raise BookError(f"{self.path.name}: {error}") from None

    def back_up(self, to: Path) -> None:
        """Copy the book as it is now, while it may be in use.

        Raises:
            BookError: it cannot be copied there.
        """
        try:
            with contextlib.closing(sqlite3.connect(to)) as other:
                self.connection.backup(other)
        except sqlite3.Error as error:
            raise BookError(f"{to.name}: {error}") from None

    def restore(self, backup: Path) -> Path | None:
        """Replace the logbook by a backup; the replaced one is kept beside it. Returns where, if it had entries.

        Other windows that have the logbook open continue with the restored one.

        Raises:
            BookError: it is not a whole logbook, of a newer version, or has another schema; or it cannot be written.
                The logbook stays as it is.
        """
        with contextlib.closing(_open_whole(backup)) as source:
            aside = None
            if self.count():
                aside = self.path.with_name(f"{self.path.stem}-before-{_now()}{self.path.suffix}")
                self.back_up(aside)
            try:
                source.backup(self.connection)
                self.close()  # to be opened as the version it is of, and brought to this one's
                self.count()
            except sqlite3.Error as error:
                raise BookError(f"{self.path.name} could not be written: {error}") from None
        return aside

    def count_unreadable(self) -> int:
        """Count the entries that are kept but cannot be read.

        Raises:
            BookError: the logbook cannot be opened.
        """
        return self.count() - len(self.entries())


def _now() -> str:
    return time.strftime("%Y%m%d-%H%M%S")


def _open_whole(path: Path) -> sqlite3.Connection:
    """Open a backup for reading and look through it.

    Raises:
        BookError: it is not a logbook, is damaged, of a newer version, or has another schema.
    """
    try:
        made = open_strange(path)
    except OSError as error:
        raise BookError(f"{quote(path.name)}: {error.strerror or error}") from None
    try:
        (version,) = made.execute("PRAGMA user_version").fetchone()
        refuse_strange_schema(made, path.name, version)
        (said,) = made.execute("PRAGMA integrity_check(1)").fetchone()
        if said != "ok":
            raise BookError(f"{quote(path.name)} is damaged. Import it instead; readable entries are taken over.")
    except (sqlite3.Error, UnicodeDecodeError):  # SQLite quotes a damaged schema as it is
        made.close()
        raise BookError(f"{quote(path.name)} is damaged. Import it instead; readable entries are taken over.") from None
    except BaseException:
        made.close()
        raise
    return made


def read_rows(rows: Iterable[tuple[Any, ...]]) -> Iterator[Entry]:
    """The entries of rows of kind and body; what cannot be read is left out."""
    for kind, body in rows:
        with contextlib.suppress(EntryError):
            yield read_entry(str(kind), str(body).encode())
