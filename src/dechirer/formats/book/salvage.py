"""What can still be read of a damaged book, row by row."""

from __future__ import annotations

import contextlib
import sqlite3
from pathlib import Path

from msgspec import Struct

from dechirer.core.keep.entries import Entry, Photo
from dechirer.formats.book.photographs import is_small_picture
from dechirer.formats.book.store import BookError, read_rows


class Taken(Struct, frozen=True):
    """Entries that were read from a file, and the pictures of those that are photographs, by their ids."""

    entries: tuple[Entry, ...]
    pictures: dict[str, bytes]


def salvage(path: Path) -> Taken:
    """What can still be read of a book.

    Raises:
        BookError: nothing of it can be.
    """
    found: list[Entry] = []
    pictures: dict[str, bytes] = {}
    try:
        made = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)
    except sqlite3.Error as error:
        raise BookError(f"{path.name}: {error}") from None
    with contextlib.closing(made):
        try:
            (last,) = made.execute("SELECT max(rowid) FROM entries").fetchone()
            for row in range(1, (last or 0) + 1):
                with contextlib.suppress(sqlite3.Error):
                    found += read_rows(
                        made.execute("SELECT kind, body FROM entries WHERE rowid = ?", (row,)).fetchall()
                    )
        except sqlite3.Error as error:
            if not found:
                raise BookError(f"{path.name}: {error}") from None
        photos = {each.id for each in found if isinstance(each, Photo)}
        for id in photos:
            with contextlib.suppress(sqlite3.Error):  # a book of the first version has none
                for (data,) in made.execute("SELECT picture FROM pictures WHERE id = ?", (id,)):
                    if isinstance(data, bytes) and is_small_picture(data):
                        pictures[id] = data
    return Taken(tuple(found), pictures)
