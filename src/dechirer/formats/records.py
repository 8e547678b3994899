"""What was measured and noted at the machines, kept from job to job: one record a line, as JSON, in the data folder.

The file is read and written whole. A line that cannot be read is left as it is and told of: nothing is lost.
"""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import get_args

import msgspec
from msgspec import Struct

from dechirer.core.press.records import Record, tag_of
from dechirer.formats.job.atomic import write_atomically
from dechirer.formats.untrusted_files import read_regular

NAME = "records.jsonl"
MOST_BYTES = 20_000_000
KINDS: dict[str, type[Record]] = {tag_of(kind): kind for kind in get_args(Record)}


class Kept(Struct, frozen=True):
    """The records of a file, the oldest first, and the lines that could not be read, as they are."""

    records: tuple[Record, ...] = ()
    strange: tuple[str, ...] = ()

    def of(self, kind: type[Record]) -> tuple[Record, ...]:
        """Those of one kind, the newest first."""
        return tuple(each for each in reversed(self.records) if isinstance(each, kind))


class RecordsError(Exception):
    """The file of records cannot be used; the message says why."""


def read_records(folder: Path) -> Kept:
    """The records kept in a folder; none where there is no file.

    Raises:
        RecordsError: the file is too large to be one of ours.
        OSError: it cannot be read.
    """
    path = folder / NAME
    if not path.exists():
        return Kept()
    records, strange = [], []
    for line in read_regular(path, MOST_BYTES, RecordsError).decode("utf-8", "replace").splitlines():
        if line.strip():
            found = _read_line(line)
            if found is None:
                strange.append(line)
            else:
                records.append(found)
    return Kept(tuple(records), tuple(strange))


def _read_line(line: str) -> Record | None:
    try:
        plain = msgspec.json.decode(line)
        kind = KINDS[plain.pop("kind")]
        found: Record = msgspec.convert(plain, kind)
    except (msgspec.DecodeError, ValueError, KeyError, AttributeError, TypeError):
        return None
    return found


def add_records(folder: Path, new: Iterable[Record]) -> Kept:
    """Keep records beside those that are there; a record with the id of another takes its place.

    Raises:
        RecordsError: the file there is not ours.
        OSError: it cannot be written; what was there is untouched.
    """
    kept = read_records(folder)
    fresh = list(new)
    ids = {(type(each), each.id) for each in fresh}
    records = (*(each for each in kept.records if (type(each), each.id) not in ids), *fresh)
    plain = [{"kind": tag_of(type(each)), **msgspec.to_builtins(each)} for each in records]
    lines = [msgspec.json.encode(each).decode() for each in plain]
    folder.mkdir(parents=True, exist_ok=True)
    write_atomically(folder / NAME, ("\n".join([*kept.strange, *lines]) + "\n").encode())
    return Kept(records, kept.strange)
