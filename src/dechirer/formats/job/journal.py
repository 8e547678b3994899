"""The journal: unsaved work outlives a kill.

A journal is a file of lines, each a JSON object. The first holds the whole job and the file it came from; each one
after it what an edit changed. A line is flushed to the disk before the next is begun, so a kill can tear the last line
and no other; a torn line is left out. When the edits take as much room as the job, the journal is begun anew.

Each running window keeps one journal, locked while it lives. The system drops a lock when its process ends, however it
ends, so a journal that can be locked belongs to a window that is gone; whoever looks at it holds its lock meanwhile.
"""

from __future__ import annotations

import json
import os
import uuid
from pathlib import Path
from typing import IO, Any

import msgspec
from msgspec import Struct

from dechirer.core.job.model import Job, JobError, read_job_json, write_job_compact
from dechirer.formats.job.atomic import write_atomically
from dechirer.formats.job.differences import find_differences, put_in
from dechirer.formats.job.locks import drop, take
from dechirer.formats.job.stamp import FileStamp

MOST_JOURNAL_BYTES = 128 * 1024 * 1024
ROOM_FOR_EDITS = 256 * 1024
"""Edits may take this much, or as much as the job, before the journal is begun anew."""
DAMAGE = (ValueError, KeyError, IndexError, TypeError, AttributeError, RecursionError, JobError)


class Recovered(Struct, frozen=True):
    """Unsaved work of a window that is gone: the job, the file it came from, its journal and that one's lock, and what
    the file was when the window read or saved it last."""

    job: Job
    path: Path | None
    journal: Path
    lock: IO[bytes]
    stamp: FileStamp | None = None


class Journal:
    """The journal of one window. `folder` is made when it is missing.

    Raises:
        OSError: the folder cannot be made or written to.
    """

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.path = folder / f"{uuid.uuid4().hex}.journal"
        self._lock = take(self.path.with_suffix(".lock"))
        self._last: tuple[Job, Path | None] | None = None
        self._edits = self._room = 0

    def record(self, job: Job, path: Path | None, stamp: FileStamp | None = None) -> None:
        """Keep an unsaved job: what changed since the last record, or the whole of it.

        Raises:
            OSError: the disk is full or gone; what was kept before stays.
        """
        if self._last is not None and self._last[1] == path:
            changed = find_differences(self._last[0], job)
            if not changed:
                return
            line = msgspec.json.encode({"edit": changed}) + b"\n"
            if self._edits + len(line) <= self._room:
                self._append(line)
                self._last = (job, path)
                return
        self._begin(job, path, stamp)

    def _begin(self, job: Job, path: Path | None, stamp: FileStamp | None) -> None:
        head = json.dumps(str(path) if path else None).encode()
        head += b', "stamp": ' + msgspec.json.encode(stamp)
        whole = b'{"path": ' + head + b', "job": ' + write_job_compact(job) + b"}\n"
        write_atomically(self.path, whole)
        self._last, self._edits, self._room = (job, path), 0, max(ROOM_FOR_EDITS, len(whole))

    def _append(self, line: bytes) -> None:
        before = self.path.stat().st_size
        try:
            with self.path.open("ab") as out:
                out.write(line)
                out.flush()
                os.fsync(out.fileno())
        except OSError:
            # Half a line must not stand before the next one.
            os.truncate(self.path, before)
            raise
        self._edits += len(line)

    def clear(self) -> None:
        """Nothing is unsaved any more."""
        self.path.unlink(missing_ok=True)
        self._last = None

    def close(self) -> None:
        """End in good order: remove the journal and its lock."""
        self.clear()
        if self._lock is not None:
            drop(self._lock, self.path.with_suffix(".lock"))
            self._lock = None


def find_recovered(folder: Path) -> list[Recovered]:
    """Unsaved work of windows that are gone, newest first; each stays locked until it is forgotten or let go.

    Journals that cannot be read are left alone.
    """
    found: list[tuple[float, Recovered]] = []
    for path in sorted(folder.glob("*.journal")):
        lock_file = path.with_suffix(".lock")
        lock = take(lock_file)
        if lock is None:
            continue  # its window is still open, or another one is looking at it
        try:
            written = path.stat()
            if written.st_size <= MOST_JOURNAL_BYTES:
                data = path.read_bytes()
                job, origin = read_journal(data)
                found.append((written.st_mtime, Recovered(job, origin, path, lock, _read_stamp(data))))
                continue
        except (OSError, *DAMAGE):
            pass
        drop(lock, lock_file)
    return [each for _, each in sorted(found, key=lambda pair: -pair[0])]


def read_journal(data: bytes) -> tuple[Job, Path | None]:
    """The job that a journal keeps, up to its last whole line.

    Raises:
        ValueError, KeyError, TypeError, AttributeError: its first line is not that of a journal.
        JobError: the job in it is not valid.
    """
    first, *rest = data.split(b"\n")
    head = json.loads(first)
    origin = Path(head["path"]) if head.get("path") else None
    edits = []
    for line in rest:
        try:
            edits.append(json.loads(line)["edit"])
        except DAMAGE:
            break
    try:
        return _read_job(first, edits), origin
    except DAMAGE:
        # Something in the middle is wrong: as many edits as still make a job.
        job = _read_job(first, [])
        for count in range(1, len(edits)):
            try:
                job = _read_job(first, edits[:count])
            except DAMAGE:
                break
        return job, origin


def _read_stamp(data: bytes) -> FileStamp | None:
    try:
        return msgspec.convert(json.loads(data.split(b"\n", 1)[0]).get("stamp"), FileStamp | None)
    except DAMAGE:
        return None


def _read_job(first: bytes, edits: list[Any]) -> Job:
    plain = json.loads(first)["job"]
    for edit in edits:
        put_in(plain, edit)
    return read_job_json(msgspec.json.encode(plain))


def let_go(recovered: Recovered) -> None:
    """Leave a journal where it is, for the next window to offer."""
    recovered.lock.close()


def forget(recovered: Recovered) -> None:
    """Drop a journal once its work is taken up or declined."""
    recovered.journal.unlink(missing_ok=True)
    drop(recovered.lock, recovered.journal.with_suffix(".lock"))
