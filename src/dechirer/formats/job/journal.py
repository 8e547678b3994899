"""The autosave journal: unsaved work outlives a kill. And the lock that tells of a second window on one job.

Each running window keeps one journal file, locked while it lives. The system drops a lock when its process
ends, however it ends, so a journal that can be locked belongs to a window that is gone.
"""

from __future__ import annotations

import fcntl
import hashlib
import json
import os
import uuid
from pathlib import Path
from typing import IO

from msgspec import Struct

from dechirer.core.job.model import Job, JobError, read_job_json, write_job_compact
from dechirer.formats.job.atomic import write_atomically

MOST_JOURNAL_BYTES = 128 * 1024 * 1024


class Recovered(Struct, frozen=True):
    """Unsaved work of a window that is gone: the job, the file it came from, and its journal."""

    job: Job
    path: Path | None
    journal: Path


class Journal:
    """The journal of one window. `folder` is made when it is missing."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.path = folder / f"{uuid.uuid4().hex}.journal"
        self._lock: IO[bytes] | None = _lock(self.path.with_suffix(".lock"))

    def record(self, job: Job, path: Path | None) -> None:
        """Keep an unsaved job. Raises OSError when the disk is full; the last record stays."""
        head = json.dumps(str(path) if path else None).encode()
        write_atomically(self.path, b'{"path": ' + head + b', "job": ' + write_job_compact(job) + b"}")

    def clear(self) -> None:
        """Nothing is unsaved any more."""
        self.path.unlink(missing_ok=True)

    def close(self) -> None:
        """End in good order: remove the journal and its lock."""
        self.clear()
        if self._lock is not None:
            self.path.with_suffix(".lock").unlink(missing_ok=True)
            self._lock.close()
            self._lock = None


def find_recovered(folder: Path) -> list[Recovered]:
    """Unsaved work of windows that are gone, newest first. Journals that cannot be read are left alone."""
    found: list[tuple[float, Recovered]] = []
    for path in folder.glob("*.journal"):
        lock = _lock(path.with_suffix(".lock"))
        if lock is None:
            continue  # its window is still open
        lock.close()
        try:
            if path.stat().st_size > MOST_JOURNAL_BYTES:
                continue
            record = json.loads(path.read_bytes())
            job = read_job_json(json.dumps(record["job"]).encode())
            origin = Path(record["path"]) if record.get("path") else None
            found.append((path.stat().st_mtime, Recovered(job, origin, path)))
        except (OSError, ValueError, KeyError, TypeError, AttributeError, JobError):
            continue
    return [each for _, each in sorted(found, key=lambda pair: -pair[0])]


def forget(recovered: Recovered) -> None:
    """Drop a journal once its work is taken up or declined."""
    recovered.journal.unlink(missing_ok=True)
    recovered.journal.with_suffix(".lock").unlink(missing_ok=True)


class JobLock:
    """Held while a window has a job file open. `taken` says that another window has it."""

    def __init__(self, folder: Path, job_file: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        name = hashlib.sha256(os.path.realpath(job_file).encode()).hexdigest()[:32]
        self._handle = _lock(folder / f"{name}.open")

    @property
    def taken(self) -> bool:
        """Whether another window holds the job."""
        return self._handle is None

    def release(self) -> None:
        """Let another window have it."""
        if self._handle is not None:
            self._handle.close()
            self._handle = None


def _lock(path: Path) -> IO[bytes] | None:
    """An open, locked file, or None when another process has the lock."""
    handle = path.open("ab")
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        handle.close()
        return None
    return handle
