"""What can still be read of a damaged book, row by row."""

from __future__ import annotations

import contextlib
import sqlite3
from pathlib import Path

from msgspec import Struct

from dechirer.core.keep.entries import Entry, Photo
from dechirer.formats.book.photographs import is_small_picture
from dechirer.formats.book.schema import BookError, open_strange
from dechirer.formats.book.store import read_rows
from dechirer.formats.untrusted_files import quote


class Taken(Struct, frozen=True):
    """Entries that were read from a file, and the pictures of those that are photographs, by their ids;
    `unreadable` counts entries that were there and could not be read."""

    entries: tuple[Entry, ...]
    pictures: dict[str, bytes]
    unreadable: int = 0


def salvage(path: Path) -> Taken:
    """Read what can still be read of a logbook.

    Raises:
        BookError: nothing can be read, or its entries are not a table as a logbook has it.
    """
    found: list[Entry] = []
    asked = 0
    pictures: dict[str, bytes] = {}
    with contextlib.closing(open_strange(path)) as made:
        try:
            _refuse_strange_table(made, path.name)
            (last,) = made.execute("SELECT max(rowid) FROM entries").fetchone()
            for row in range(1, (last or 0) + 1):
                try:
                    rows = made.execute("SELECT kind, body FROM entries WHERE rowid = ?", (row,)).fetchall()
                except sqlite3.Error:
                    asked += 1
                    continue
                asked += len(rows)
                found += read_rows(rows)
        except (sqlite3.Error, UnicodeDecodeError):  # SQLite quotes a damaged schema as it is
            if not found:
                raise BookError(f"{quote(path.name)} is damaged; nothing of it can be read.") from None
        photos = {each.id for each in found if isinstance(each, Photo)}
        for id in photos:
            with contextlib.suppress(sqlite3.Error):  # a book of the first version has none
                for (data,) in made.execute("SELECT picture FROM pictures WHERE id = ?", (id,)):
                    if isinstance(data, bytes) and is_small_picture(data):
                        pictures[id] = data
    return Taken(tuple(found), pictures, max(0, asked - len(found)))


def _refuse_strange_table(opened: sqlite3.Connection, name: str) -> None:
    """Refuse a file whose entries are a view, or have other columns; `sqlite3.Error` where that cannot be told."""
    kinds = [kind for (kind,) in opened.execute("SELECT type FROM sqlite_master WHERE name = 'entries'")]
    columns = {str(row[1]) for row in opened.execute("PRAGMA table_info(entries)")}
    if kinds != ["table"] or not {"kind", "id", "made", "words", "body"} <= columns:
        raise BookError(f"{quote(name)} is not a logbook of this program: it has no table of entries as a logbook has.")
