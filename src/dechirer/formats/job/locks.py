"""Locks that the system drops when their process ends, however it ends; and that of a job open in a window."""

from __future__ import annotations

import fcntl
import hashlib
import os
from contextlib import suppress
from pathlib import Path
from typing import IO

TRIES = 20


def take(path: Path) -> IO[bytes] | None:
    """An open, locked file, or None when another process has the lock.

    Raises:
        OSError: the file cannot be made.
    """
    for _ in range(TRIES):
        handle = path.open("ab")
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            handle.close()
            return None
        try:
            # Whoever had it before may have removed the file between opening and locking it.
            if os.fstat(handle.fileno()).st_ino == path.stat().st_ino:
                return handle
        except FileNotFoundError:
            pass
        handle.close()
    return None


def drop(handle: IO[bytes], path: Path) -> None:
    """Remove a lock's file and let the lock go."""
    with suppress(OSError):  # a lock that stays behind is taken by the next who asks
        path.unlink(missing_ok=True)
    handle.close()


class JobLock:
    """Held while a window has a job file open. `taken` says that another window has it; that one is told so.

    Raises:
        OSError: the folder cannot be made or written to.
    """

    def __init__(self, folder: Path, job_file: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        name = hashlib.sha256(os.fsencode(os.path.realpath(job_file))).hexdigest()[:32]
        self.folder = folder
        self._path = folder / f"{name}.open"
        self._asked = folder / f"{name}.asked"
        self._handle = take(self._path)
        if self._handle is None:
            self._asked.touch()
        else:
            self._asked.unlink(missing_ok=True)

    @property
    def taken(self) -> bool:
        """Whether another window holds the job."""
        return self._handle is None

    def was_asked(self) -> bool:
        """Tell whether another window opened the job since this was last asked."""
        if self._handle is None or not self._asked.exists():
            return False
        self._asked.unlink(missing_ok=True)
        return True

    def release(self) -> None:
        """Let another window have it."""
        if self._handle is not None:
            drop(self._handle, self._path)
            self._handle = None
