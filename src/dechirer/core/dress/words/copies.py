"""Copies: what differs from copy to copy by one table: words filled into blanks, what stands in an item's place."""

from __future__ import annotations

import re

from msgspec import Struct, structs

from dechirer.core.dress.decisions import WITHOUT, Copies, Dress, Item, Row

_BLANK = re.compile(r"\{([^{}]{1,40})\}")


class Copy(Struct, frozen=True):
    """Copies that are alike: the number of their kind from 0, their entries by column, and how many are made of it.

    Attributes:
        row: the first row of the table that has them, from 0.
        stands: what stands in which item's place, by the item's id.
        sets: what is set for it: (`paper`, `pen` or `slot`, the piece or nothing, the entry).
        is_blank: copies beyond the table, whose blanks stay empty.
    """

    number: int
    entries: tuple[tuple[str, str], ...]
    count: int
    is_blank: bool = False
    row: int = 0
    stands: tuple[tuple[str, str], ...] = ()
    sets: tuple[tuple[str, str, str], ...] = ()

    @property
    def name(self) -> str:
        """Its first entry, or what stands for an item in it."""
        given = [(piece, entry) for kind, piece, entry in self.sets if kind == "paper"]
        told = [entry for _, entry in (*self.entries, *self.stands, *given) if entry and entry != WITHOUT]
        return told[0] if told else ""


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


def item_on(item: Item, copy: Copy, dress: Dress) -> Item | None:
    """An item as a copy has it: drawn from what stands in its place, with its own place, size, recipe and joins; None
    where the copy is without it. What cannot be found leaves it as it is."""
    entry = dict(copy.stands).get(item.id, "")
    if not entry:
        return item
    if entry == WITHOUT:
        return None
    if any(art.id == entry for art in dress.art):
        return structs.replace(item, art=entry, words=None, of=None, part=None)
    other = dress.item(entry)
    if other is None or item.id in other.needs():
        return item
    return structs.replace(
        item, art=other.art, words=other.words, of=other.of, part=other.part, colour=other.colour or item.colour
    )


def list_copies(dress: Dress, count: int) -> tuple[Copy, ...]:
    """The copies of a job by what they carry: one kind when nothing differs.

    Rows that are equal in all that is used come together. A row is made as often as it says. Rows that say nothing
    share what is left: as many of each as divide it evenly, otherwise one of each; what is left over then is as the
    items are, with empty blanks.
    """
    table = dress.copies
    used = _used(table, dress)
    if not table.rows or not used:
        return (Copy(0, (), count),)
    rows = table.rows if any(row.count for row in table.rows) else table.rows[:count]
    told = sum(row.count for row in rows if row.count)
    silent = sum(not row.count for row in rows)
    left = max(0, count - told)
    each = left // silent if silent and left % silent == 0 else 1
    kinds: dict[tuple[str, ...], Copy] = {}
    room = count
    for number, row in enumerate(rows):
        many = min(row.count or each, room)
        if many < 1:
            continue
        room -= many
        key = tuple(row.entries[column] for column in used)
        if key in kinds:
            kinds[key] = structs.replace(kinds[key], count=kinds[key].count + many)
        else:
            kinds[key] = _make_copy(len(kinds), table, row, many, number)
    if room:
        blank = Row(("",) * len(table.columns))
        kinds[("", "left over")] = structs.replace(
            _make_copy(len(kinds), table, blank, room, len(table.rows)), is_blank=True
        )
    return tuple(kinds.values())


def _make_copy(number: int, table: Copies, row: Row, count: int, place: int) -> Copy:
    pairs = list(zip(table.columns, row.entries, strict=True))
    entries = tuple((column.name, entry) for column, entry in pairs if column.is_words)
    sets = tuple((column.sets, column.piece or "", entry) for column, entry in pairs if column.sets and entry)
    stands = tuple((column.carries, entry) for column, entry in pairs if column.carries is not None and entry)
    return Copy(number, entries, count, False, place, stands, sets)


def makes_difference(dress: Dress) -> bool:
    """Whether anything on the faces follows the table."""
    return bool(dress.copies.rows and _used(dress.copies, dress))


def _used(table: Copies, dress: Dress) -> list[int]:
    """The columns that make a difference: those whose blank some words have, whose item is there, or that set
    anything."""
    names = {blank for item in dress.items if item.words is not None for blank in find_blanks(item.words.text)}
    ids = {item.id for item in dress.items}
    return [
        place
        for place, column in enumerate(table.columns)
        if (
            any(row.entries[place] for row in table.rows)
            if column.sets
            else column.carries in ids
            if column.carries is not None
            else column.name in names
        )
    ]
