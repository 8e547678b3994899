"""The schema of a logbook: a file with other tables, columns, triggers or views is not opened.

A trigger or a view in a stranger's file would run when entries are read or written.
"""

from __future__ import annotations

import contextlib
import re
import sqlite3
import time
from functools import lru_cache
from pathlib import Path

from dechirer.formats.book.migrations import STEPS, VERSION, migrate
from dechirer.formats.untrusted_files import open_regular, quote

SQLITE = b"SQLite format 3\0"
MOST_BYTES = 2_000_000_000
MOST_SECONDS = 60.0
"""CPU time that statements of one reading may take."""
STEPS_BETWEEN = 100_000
Schema = frozenset[tuple[str, str, str]]


class BookError(Exception):
    """The logbook cannot be used; the message says why."""


def open_strange(path: Path) -> sqlite3.Connection:
    """Open a logbook from somewhere else for reading; its schema runs nothing, and its statements take limited time.

    Raises:
        BookError: it is not a regular file, or not a database.
        OSError: it cannot be opened.
    """
    with open_regular(path, MOST_BYTES, BookError) as file:
        if file.read(len(SQLITE)) != SQLITE:
            raise BookError(f"{quote(path.name)} is not a logbook.")
    try:
        opened = sqlite3.connect(f"{path.absolute().as_uri()}?mode=ro", uri=True)
    except sqlite3.Error as error:
        raise BookError(f"{quote(path.name)} cannot be opened: {error}.") from None
    trust_nothing(opened)
    until = time.thread_time() + MOST_SECONDS
    opened.set_progress_handler(lambda: int(time.thread_time() > until), STEPS_BETWEEN)
    return opened


def trust_nothing(opened: sqlite3.Connection) -> None:
    """Let functions in a schema do nothing (SQLite documentation, PRAGMA trusted_schema)."""
    opened.execute("PRAGMA trusted_schema = OFF")


def read_schema(opened: sqlite3.Connection) -> Schema:
    """Return the schema: (kind, name, statement) of each table, index, trigger and view but SQLite's own."""
    rows = opened.execute("SELECT type, name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite~_%' ESCAPE '~'")
    return frozenset((str(kind), str(name), _plain(sql)) for kind, name, sql in rows)


@lru_cache(maxsize=8)
def expected_schema(version: int) -> Schema:
    """Return the schema that a logbook of a version has."""
    with contextlib.closing(sqlite3.connect(":memory:", isolation_level=None)) as made:
        migrate(made, 0, min(version, len(STEPS)))
        return read_schema(made)


def refuse_strange_schema(opened: sqlite3.Connection, name: str, version: int) -> None:
    """Refuse a logbook with another schema than its version has, or of a newer version.

    Raises:
        BookError: names what is in it too many or missing.
        sqlite3.Error: it is damaged.
    """
    if version > VERSION:
        raise BookError(f"{quote(name)} is of version {version}; this program reads up to version {VERSION}.")
    found, ours = read_schema(opened), expected_schema(max(0, version))
    if found == ours:
        return
    strange = sorted(f"{kind} “{quote(each, 30)}”" for kind, each, _ in found - ours)
    missing = sorted(f"{kind} “{each}”" for kind, each, _ in ours - found)
    what = f"it has a different {strange[0]}" if strange else f"its {missing[0]} is missing"
    raise BookError(f"{quote(name)} is not a logbook of this program: {what}.")


def _plain(statement: object) -> str:
    return re.sub(r"\s+", " ", str(statement or "")).strip()
