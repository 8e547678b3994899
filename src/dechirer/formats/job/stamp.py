"""What a file was when it was read or written last, to notice that somebody else changed it since."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

from msgspec import Struct

CHUNK_BYTES = 1 << 20


class FileStamp(Struct, frozen=True):
    """A file's size in bytes, its time of change (ns), and the SHA-256 of its content."""

    size: int
    changed_ns: int
    sha256: str


def take_stamp(path: Path) -> FileStamp | None:
    """Return the stamp of a file; None where there is none that can be read."""
    digest = hashlib.sha256()
    try:
        with path.open("rb") as handle:
            found = os.fstat(handle.fileno())
            while chunk := handle.read(CHUNK_BYTES):
                digest.update(chunk)
    except OSError:
        return None
    return FileStamp(found.st_size, found.st_mtime_ns, digest.hexdigest())


def has_changed(path: Path, stamp: FileStamp | None) -> bool:
    """Tell whether a file holds something else than when its stamp was taken.

    A file that is gone has not changed: nothing can be overwritten. Without a stamp any file counts as changed. Where
    size and time are the same the content is not read; a file that was only touched has not changed.
    """
    try:
        found = path.stat()
    except OSError:
        return False
    if stamp is None:
        return True
    if (found.st_size, found.st_mtime_ns) == (stamp.size, stamp.changed_ns):
        return False
    now = take_stamp(path)
    return now is not None and now.sha256 != stamp.sha256
