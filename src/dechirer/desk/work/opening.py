"""Opens a job file off the GUI thread: at once when it is small, with a way to stop it when it takes long."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.job.model import Job
from dechirer.formats.job.stamp import FileStamp

AT_ONCE_S = 0.15
"""So long the window waits: nearly every job is read by then, and nothing flickers."""


class Opening(QObject):
    """Reads one file at a time; a newer one takes the place of what is being read.

    Signals:
        slow(path): it takes longer than AT_ONCE_S.
    """

    slow = pyqtSignal(object)
    _late = pyqtSignal(int, object)

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        self._number = 0
        self._take: Callable[[object], bool] = lambda _found: False
        self._late.connect(self._take_late)

    def read(self, path: Path, take: Callable[[object], bool]) -> bool:
        """Read a job; `take` is called in this thread, with an error or `(job, number of texts cleaned, file's stamp)`.

        Returns what `take` returned, or False when it is not called yet.
        """
        self._number += 1
        number, self._take = self._number, take
        found: list[object] = []
        is_late = threading.Event()
        lock = threading.Lock()

        def work() -> None:
            result = _read(path)
            with lock:
                found.append(result)
                late = is_late.is_set()
            if late:
                self._late.emit(number, result)

        thread = threading.Thread(target=work, name="opening", daemon=True)
        thread.start()
        thread.join(AT_ONCE_S)
        with lock:
            if not found:
                is_late.set()
        if found:
            return take(found[0])
        self.slow.emit(path)
        return False

    def stop(self) -> None:
        """Nothing comes of what is being read."""
        self._number += 1

    def _take_late(self, number: int, found: object) -> None:
        if number == self._number:
            self._take(found)


def _read(path: Path) -> tuple[Job, int, FileStamp | None] | Exception:
    from dechirer.formats.job.archive import ArchiveError, read_archive_told
    from dechirer.formats.job.stamp import take_stamp

    try:
        # Before the job is read: a change in between is then noticed when it is saved.
        stamp = take_stamp(path) if path.is_file() else None
        return (*read_archive_told(path), stamp)
    except (ArchiveError, OSError) as error:
        return error
    except Exception as error:  # noqa: BLE001 - a stranger's file must never take the window down
        return ArchiveError(f"{path.name}: cannot be read ({type(error).__name__})")
