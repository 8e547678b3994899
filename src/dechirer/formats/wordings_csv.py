"""Reads a table of wordings from CSV, whatever its encoding and its separator."""

from __future__ import annotations

import csv
import io

from dechirer.core.dress.decisions import Wordings

MOST_BYTES = 4_000_000
MOST_ROWS = 2000
MOST_COLUMNS = 20
MOST_LETTERS = 300


class WordingsError(ValueError):
    """A table that cannot be read; the message names the file and the row."""


def read_wordings(data: bytes, name: str) -> Wordings:
    """A table from a CSV file: the first row names the columns.

    Raises:
        WordingsError: not text, too large, no rows, two columns of one name; names the file and the row.
    """
    if len(data) > MOST_BYTES:
        raise WordingsError(f"{name}: is {len(data) / 1e6:.0f} MB; tables up to {MOST_BYTES / 1e6:.0f} MB are read")
    text = _decode(data, name)
    try:
        dialect: type[csv.Dialect] | str = csv.Sniffer().sniff(text[:8192], delimiters=",;\t|")
    except csv.Error:
        dialect = "excel"
    try:
        rows = [[cell.strip() for cell in row] for row in csv.reader(io.StringIO(text), dialect) if any(row)]
    except csv.Error as error:
        raise WordingsError(f"{name}: is not a table ({error})") from None
    if len(rows) < 2:
        raise WordingsError(f"{name}: has no rows under its heading")
    columns = tuple(column or f"column {number}" for number, column in enumerate(rows[0], start=1))
    if len(columns) > MOST_COLUMNS:
        raise WordingsError(f"{name}: has {len(columns)} columns, more than {MOST_COLUMNS}")
    if len(rows) - 1 > MOST_ROWS:
        raise WordingsError(f"{name}: has {len(rows) - 1} rows, more than {MOST_ROWS}")
    made = []
    for number, row in enumerate(rows[1:], start=2):
        if len(row) > len(columns) and any(row[len(columns) :]):
            raise WordingsError(f"{name}, row {number}: has {len(row)} entries for {len(columns)} columns")
        cells = (row + [""] * len(columns))[: len(columns)]
        long = next((cell for cell in cells if len(cell) > MOST_LETTERS), None)
        if long is not None:
            raise WordingsError(f"{name}, row {number}: an entry has {len(long)} letters, more than {MOST_LETTERS}")
        made.append(tuple(cells))
    try:
        return Wordings(tuple(column[:40] for column in columns), tuple(made))
    except ValueError as error:
        raise WordingsError(f"{name}: {error}") from None


def _decode(data: bytes, name: str) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        encodings = ["utf-16"]
    else:
        encodings = ["utf-8-sig"]
    for encoding in encodings:
        try:
            text = data.decode(encoding)
            break
        except UnicodeDecodeError:
            continue
    else:
        from charset_normalizer import from_bytes

        matches = from_bytes(data[:200_000])
        best, western = matches.best(), next((each for each in matches if each.encoding == "cp1252"), None)
        likely = "cp1252" if best is None else best.encoding
        if best is not None and western is not None and western.chaos <= best.chaos + 0.02:
            likely = "cp1252"  # a few accents fit many code pages; this is what spreadsheets write most
        text = data.decode(likely, errors="replace")
    if "\x00" in text:
        raise WordingsError(f"{name}: is not text")
    return text
