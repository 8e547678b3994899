"""The book's versions: each step brings a file from one to the next, in one transaction."""

from __future__ import annotations

import sqlite3

STEPS: tuple[tuple[str, ...], ...] = (
    (
        "CREATE TABLE entries (kind TEXT NOT NULL, id TEXT NOT NULL, made TEXT NOT NULL, words TEXT NOT NULL, "
        "body TEXT NOT NULL, PRIMARY KEY (kind, id))",
        "CREATE INDEX entries_by_day ON entries (made)",
    ),
    (
        "CREATE TABLE pictures (kind TEXT NOT NULL DEFAULT 'photo', id TEXT NOT NULL, picture BLOB NOT NULL, "
        "PRIMARY KEY (kind, id), FOREIGN KEY (kind, id) REFERENCES entries (kind, id) ON DELETE CASCADE)",
    ),
)
"""What makes version 1 of nothing, 2 of 1, and so on."""
VERSION = len(STEPS)


def migrate(made: sqlite3.Connection, version: int, to: int = VERSION) -> None:
    """Bring an open logbook from a version to another one, the newest unless told otherwise."""
    for number in range(version, to):
        made.execute("BEGIN IMMEDIATE")
        (now,) = made.execute("PRAGMA user_version").fetchone()
        if now > number:  # another window was first
            made.execute("ROLLBACK")
            continue
        for words in STEPS[number]:
            made.execute(words)
        made.execute(f"PRAGMA user_version = {number + 1}")
        made.execute("COMMIT")
