"""Reads a table of copies from CSV, whatever its encoding and its separator."""

from __future__ import annotations

import csv
import io
import re

from dechirer.core.decide.letters import clean
from dechirer.core.dress.decisions import Copies, Row, table_of

MOST_BYTES = 4_000_000
MOST_ROWS = 2000
MOST_COLUMNS = 20
MOST_LETTERS = 300
ENCODINGS: dict[str, str] = {
    "": "as it seems",
    "utf-8-sig": "Unicode (UTF-8)",
    "cp1252": "western, Windows",
    "mac_roman": "western, Mac",
    "cp1250": "central European",
    "cp1251": "Cyrillic",
    "cp1253": "Greek",
    "cp1254": "Turkish",
    "gb18030": "Chinese",
    "shift_jis": "Japanese",
}
"""How the letters of a table may be written, with words for them."""
ACCENTS = frozenset("àáâãäåæçèéêëìíîïñòóôõöøœùúûüýÿßšžÀÁÂÃÄÅÆÇÈÉÊËÌÍÎÏÑÒÓÔÕÖØŒÙÚÛÜÝŸŠŽ")
MARKS = frozenset("‘’“”‚„–—…€°·«»¡¿ ")
_SEPARATOR = re.compile(r"sep=(.)[^\n]*\n", re.IGNORECASE)


class TableError(ValueError):
    """A table that cannot be read; the message names the file and the row."""


def read_copies(data: bytes, name: str, encoding: str = "") -> Copies:
    """A table from a CSV file: the first row names the columns; a line such as `sep=;` before it, the separator.

    Args:
        encoding: how its letters are written, when the maker knows better; one of `ENCODINGS`.

    Raises:
        TableError: not text, too large, no rows, two columns of one name; names the file and the row.
    """
    if len(data) > MOST_BYTES:
        raise TableError(f"{name}: is {len(data) / 1e6:.0f} MB; tables up to {MOST_BYTES / 1e6:.0f} MB are read")
    text = (data.decode(encoding, errors="replace") if encoding else _decode(data, name)).lstrip("\ufeff")
    text = clean(text.replace("\r\n", "\n").replace("\r", "\n"))
    told = _SEPARATOR.match(text)
    if told is not None:
        text = text[told.end() :]
    try:
        if told is not None:
            raise csv.Error
        dialect: type[csv.Dialect] | str = csv.Sniffer().sniff(text[:8192], delimiters=",;\t|")
    except csv.Error:
        dialect = "excel"
    try:
        lines = csv.reader(io.StringIO(text), delimiter=told[1]) if told else csv.reader(io.StringIO(text), dialect)
        rows = [[cell.strip() for cell in row] for row in lines if any(row)]
    except csv.Error:
        raise TableError(f"{name}: is not a table") from None
    if len(rows) < 2:
        raise TableError(f"{name}: has no rows under its heading")
    columns = tuple(column or f"column {number}" for number, column in enumerate(rows[0], start=1))
    if len(columns) > MOST_COLUMNS:
        raise TableError(f"{name}: has {len(columns)} columns, more than {MOST_COLUMNS}")
    if len(rows) - 1 > MOST_ROWS:
        raise TableError(f"{name}: has {len(rows) - 1} rows, more than {MOST_ROWS}")
    made = []
    for number, row in enumerate(rows[1:], start=2):
        if len(row) > len(columns) and any(row[len(columns) :]):
            raise TableError(f"{name}, row {number}: has {len(row)} entries for {len(columns)} columns")
        cells = (row + [""] * len(columns))[: len(columns)]
        long = next((cell for cell in cells if len(cell) > MOST_LETTERS), None)
        if long is not None:
            raise TableError(f"{name}, row {number}: an entry has {len(long)} letters, more than {MOST_LETTERS}")
        made.append(tuple(cells))
    try:
        return _with_counts(table_of(tuple(column[:40] for column in columns), tuple(made)))
    except ValueError as error:
        raise TableError(f"{name}: {error}") from None


COUNTS = ("copies", "count", "how many")
"""A column of one of these names that holds whole numbers says how many of each row are made."""
MOST_COPIES = 2000


def _with_counts(table: Copies) -> Copies:
    """The table with its column of counts taken as such, if it has one."""
    place = next((place for place, column in enumerate(table.columns) if column.name.lower() in COUNTS), None)
    if place is None or not all(row.entries[place].isdecimal() for row in table.rows):
        return table
    if any(not 1 <= int(row.entries[place]) <= MOST_COPIES for row in table.rows):
        return table
    columns = tuple(column for number, column in enumerate(table.columns) if number != place)
    rows = tuple(
        Row(tuple(e for number, e in enumerate(row.entries) if number != place), int(row.entries[place]))
        for row in table.rows
    )
    return Copies(columns, rows)


def _decode(data: bytes, name: str) -> str:
    text = data.decode(guess_encoding(data), errors="replace")
    if "\x00" in text:
        raise TableError(f"{name}: is not text")
    return text


def guess_encoding(data: bytes) -> str:
    """How the letters of a table are most likely written: as it says, as UTF-8, or as its few accents read best.

    Short tables tell too little for statistics: where most letters are plain, one of the two ways in which
    spreadsheets write western letters is taken, Windows's before the other when both read well.
    """
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        return "utf-16"
    try:
        data.decode("utf-8-sig")
    except UnicodeDecodeError:
        pass
    else:
        return "utf-8-sig"
    plain = sum(byte < 128 and chr(byte).isalpha() for byte in data)
    accents = sum(byte >= 128 for byte in data)
    if accents <= plain:
        shares = {each: _how_western(data, each) for each in ("cp1252", "mac_roman")}
        best = max(shares, key=lambda each: shares[each])
        if shares[best] > 0.8:
            return best
    from charset_normalizer import from_bytes

    # A guess that swallows the ends of lines is none.
    lines = data.count(b"\n") + data.count(b"\r")
    for found in from_bytes(data[:200_000]):
        text = str(found)
        if not lines or "\n" in text or "\r" in text:
            return found.encoding
    return "cp1252"


def _how_western(data: bytes, encoding: str) -> float:
    """The share of a text's letters beyond ASCII that western words use, where they use them."""
    text = data.decode(encoding, errors="replace")
    good = total = 0
    for place, letter in enumerate(text):
        if letter < "\x80":
            continue
        total += 1
        inside = place > 0 and text[place - 1].islower()
        good += letter in MARKS or (letter in ACCENTS and not (inside and letter.isupper()))
    return good / total if total else 1.0
