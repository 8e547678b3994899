"""The book as JSON lines and CSV, out and in (pictures in JSON only); what `records.jsonl` held, taken over once."""

from __future__ import annotations

import base64
import csv
import io
import json
from collections.abc import Iterable, Iterator, Mapping
from pathlib import Path

import msgspec

from dechirer.core.decide.coding import plainly
from dechirer.core.keep.entries import KINDS, Entry, EntryError, Photo, as_plain, read_entry
from dechirer.formats.book.photographs import is_small_picture
from dechirer.formats.book.salvage import Taken, salvage
from dechirer.formats.book.schema import SQLITE, BookError
from dechirer.formats.book.store import NO_PICTURES, Book
from dechirer.formats.outputs.cut_list import safe_cell
from dechirer.formats.records import NAME as RECORDS
from dechirer.formats.records import RecordsError, read_records
from dechirer.formats.untrusted_files import quote, read_regular

MOST_BYTES = 500_000_000
TAKEN = ".taken"
PICTURE = "picture"


def write_json(entries: Iterable[Entry], pictures: Mapping[str, bytes] = NO_PICTURES) -> str:
    """Entries, one a line; a photograph's picture stands in its line in base 64."""
    lines = []
    for entry in entries:
        plain = as_plain(entry)
        if isinstance(entry, Photo) and entry.id in pictures:
            plain[PICTURE] = base64.b64encode(pictures[entry.id]).decode()
        lines.append(json.dumps(plain, ensure_ascii=False) + "\n")
    return "".join(lines)


def write_export(book: Book, as_table: bool) -> bytes:
    """All of a book as a table, or as JSON lines with its pictures.

    Raises:
        BookError: it cannot be read.
    """
    entries = book.entries()
    if as_table:
        return write_csv(entries).encode()
    found = {each.id: book.picture(each.id) for each in entries if isinstance(each, Photo)}
    return write_json(entries, {id: data for id, data in found.items() if data is not None}).encode()


def write_csv(entries: Iterable[Entry]) -> str:
    """Entries as a table (RFC 4180), every field any of them has a column; no cell is taken for a formula."""
    plain = [as_plain(entry) for entry in entries]
    columns = list(dict.fromkeys(name for each in plain for name in each))
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(columns)
    for each in plain:
        rows.writerow(
            safe_cell(json.dumps(value, ensure_ascii=False) if isinstance(value, list | tuple) else _cell(value))
            for value in (each.get(name, "") for name in columns)
        )
    return out.getvalue()


def _cell(value: object) -> object:
    """A value as it reads back: no value is an empty cell."""
    return "" if value is None else str(value).lower() if isinstance(value, bool) else value


def read_exported(path: Path) -> Taken:
    """The entries of a file that was exported as JSON lines or CSV, or of another book, a damaged one too.

    Raises:
        BookError: a line is none of ours; names it. Nothing of the file is taken then.
        OSError: it cannot be read.
    """
    data = read_regular(path, MOST_BYTES, BookError)
    if data.startswith(SQLITE):
        return salvage(path)
    text = data.decode("utf-8-sig", "replace")
    found = list(_read_table(path.name, text) if path.suffix.lower() == ".csv" else _read_lines(path.name, text))
    return Taken(tuple(entry for entry, _ in found), {entry.id: data for entry, data in found if data})


def _read_lines(name: str, text: str) -> Iterator[tuple[Entry, bytes]]:
    for number, line in enumerate(text.splitlines(), start=1):
        if not line.strip():
            continue
        try:
            plain = msgspec.json.decode(line)
            kind, picture = str(plain.pop("kind")), plain.pop(PICTURE, "")
            data = base64.b64decode(picture, validate=True)
            if data and not is_small_picture(data):
                raise EntryError("its picture is not a small JPEG")
            yield read_entry(kind, msgspec.json.encode(plain)), data
        except (EntryError, KeyError, AttributeError, TypeError, ValueError) as error:
            raise BookError(f"{quote(name)}, line {number}: {_why(error)}") from None


def _read_table(name: str, text: str) -> Iterator[tuple[Entry, bytes]]:
    """Rows of a table as `write_csv` writes them; an empty cell is a field that is not there."""
    rows = csv.DictReader(io.StringIO(text))
    try:
        for number, row in enumerate(rows, start=2):
            plain = {column: _without_guard(cell) for column, cell in row.items() if column and cell}
            kind = str(plain.pop("kind", ""))
            yield _entry_of_cells(kind, plain, f"{name}, row {number}"), b""
    except csv.Error:
        raise BookError(f"{quote(name)} is not a table of entries") from None


def _entry_of_cells(kind: str, cells: dict[str, str], place: str) -> Entry:
    known = KINDS.get(kind)
    if known is None:
        raise BookError(f"{place}: “{quote(kind, 40)}” is not an entry type.")
    lists = {field.name for field in msgspec.structs.fields(known) if field.name == "took"}
    try:
        plain = {name: msgspec.json.decode(cell) if name in lists else cell for name, cell in cells.items()}
        made: Entry = msgspec.convert(plain, known, strict=False)
    except msgspec.ValidationError as error:
        raise BookError(f"{place}: {kind}: {plainly(error)}") from None
    except (msgspec.DecodeError, ValueError):
        raise BookError(f"{place}: {kind}: it cannot be read as an entry") from None
    return made


def _why(error: Exception) -> str:
    """Return our own words of an error; the interpreter's say nothing to a user."""
    return quote(error, 160) if isinstance(error, EntryError) else "it is not an entry of a logbook"


def _without_guard(cell: object) -> str:
    """A cell as it was before it was kept from being taken for a formula."""
    text = str(cell)
    return text[1:] if text.startswith("'") and safe_cell(text[1:]) == text else text


def take_over_records(book: Book, folder: Path) -> int:
    """Take what earlier versions kept beside the book into it, once; the file stays under another name. How many.

    Raises:
        BookError: the book cannot be written; the file is left as it is.
    """
    path = folder / RECORDS
    if not path.exists():
        return 0
    try:
        kept = read_records(folder)
    except (OSError, RecordsError) as error:
        raise BookError(f"{RECORDS}: {error}") from None
    count = book.keep(kept.records)
    path.rename(path.with_name(RECORDS + TAKEN))  # strange lines are still in it
    return count
