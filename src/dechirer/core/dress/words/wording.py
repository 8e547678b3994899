"""Wordings: words that differ from copy to copy, filled into their blanks."""

from __future__ import annotations

import re

from msgspec import Struct

from dechirer.core.dress.decisions import Dress

_BLANK = re.compile(r"\{([^{}]{1,40})\}")


class Copy(Struct, frozen=True):
    """Copies with the same words: the row's number from 0, its entries by column, and how many are cut of it.

    `is_blank` marks copies beyond the table, whose blanks stay empty.
    """

    number: int
    entries: tuple[tuple[str, str], ...]
    count: int
    is_blank: bool = False

    @property
    def name(self) -> str:
        """The row's first entry."""
        return self.entries[0][1] if self.entries else ""


def has_blanks(text: str, columns: tuple[str, ...]) -> bool:
    """Whether a text has a blank for one of some columns."""
    return any(found in columns for found in _BLANK.findall(text))


def find_blanks(text: str) -> tuple[str, ...]:
    """The names of the blanks of a text."""
    return tuple(_BLANK.findall(text))


def fill_in(text: str, copy: Copy) -> str:
    """A text with its blanks filled; blanks the table does not have stay as they are written."""
    entries = dict(copy.entries)
    if not entries:
        return text
    return _BLANK.sub(lambda match: entries.get(match[1], match[0]), text)


def list_copies(dress: Dress, count: int) -> tuple[Copy, ...]:
    """The copies of a job by their words: one kind when no words differ.

    As many copies of each row as divide the count evenly, otherwise one of each; what is left over has empty blanks.
    """
    table = dress.wordings
    used = any(item.words is not None and has_blanks(item.words.text, table.columns) for item in dress.items)
    if not table.rows or not used:
        return (Copy(0, (), count),)
    rows = table.rows[:count]
    each = count // len(rows) if count % len(rows) == 0 else 1
    copies = [Copy(number, tuple(zip(table.columns, row, strict=True)), each) for number, row in enumerate(rows)]
    left = count - each * len(rows)
    if left:
        copies.append(Copy(len(rows), tuple((column, "") for column in table.columns), left, True))
    return tuple(copies)
