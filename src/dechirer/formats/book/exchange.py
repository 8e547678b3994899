"""The book as JSON lines and CSV, out and in; and what `records.jsonl` held, taken over once."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterable, Iterator
from pathlib import Path

import msgspec

from dechirer.core.keep.entries import Entry, EntryError, as_plain, read_entry
from dechirer.formats.book.store import Book, BookError, salvage
from dechirer.formats.outputs.cut_list import safe_cell
from dechirer.formats.records import NAME as RECORDS
from dechirer.formats.records import RecordsError, read_records

MOST_BYTES = 100_000_000
TAKEN = ".taken"


def write_json(entries: Iterable[Entry]) -> str:
    """Entries, one a line."""
    return "".join(json.dumps(as_plain(entry), ensure_ascii=False) + "\n" for entry in entries)


def write_csv(entries: Iterable[Entry]) -> str:
    """Entries as a table (RFC 4180), every field any of them has a column; no cell is taken for a formula."""
    plain = [as_plain(entry) for entry in entries]
    columns = list(dict.fromkeys(name for each in plain for name in each))
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(columns)
    for each in plain:
        rows.writerow(
            safe_cell(json.dumps(value, ensure_ascii=False) if isinstance(value, list | tuple) else value)
            for value in (each.get(name, "") for name in columns)
        )
    return out.getvalue()


def read_exported(path: Path) -> tuple[Entry, ...]:
    """The entries of a file that was exported as JSON lines, or of another book, a damaged one too.

    Raises:
        BookError: a line is none of ours; names it. Nothing of the file is taken then.
        OSError: it cannot be read.
    """
    if path.stat().st_size > MOST_BYTES:
        raise BookError(f"{path.name}: is over {MOST_BYTES // 1_000_000} MB")
    with path.open("rb") as file:
        begins = file.read(16)
    if begins.startswith(b"SQLite format 3"):
        return salvage(path)
    return tuple(_read_lines(path))


def _read_lines(path: Path) -> Iterator[Entry]:
    for number, line in enumerate(path.read_text("utf-8", "replace").splitlines(), start=1):
        if not line.strip():
            continue
        try:
            plain = msgspec.json.decode(line)
            kind = plain.pop("kind")
            yield read_entry(str(kind), msgspec.json.encode(plain))
        except (msgspec.DecodeError, EntryError, KeyError, AttributeError, TypeError) as error:
            raise BookError(f"{path.name}, line {number}: {error}") from None


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
