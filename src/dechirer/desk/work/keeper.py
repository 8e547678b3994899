"""Keeps unsaved work safe: a thread that writes the journal as soon as something has changed."""

from __future__ import annotations

import threading
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.job.model import Job

if TYPE_CHECKING:
    from dechirer.formats.job.journal import Journal
    from dechirer.formats.job.stamp import FileStamp

    Unsaved = tuple[Job, Path | None, FileStamp | None]

PAUSE_S = 0.25
"""Between two writes: edits that come faster are written together, and none waits for longer than this and a write."""


class Keeper(QObject):
    """Writes a journal. What is asked for last is what is written; nothing is waited for by whoever asks.

    Signals:
        failed(error): an OSError, or a fault of ours; the work since the last write is not safe.
        kept(): a write succeeded after one that had failed.
    """

    failed = pyqtSignal(object)
    kept = pyqtSignal()

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder = folder
        self._condition = threading.Condition()
        self._wanted: Unsaved | None = None
        self._is_asked = self._is_writing = self._is_ended = False
        self._is_failing = False
        self._thread: threading.Thread | None = None
        self._journal: Journal | None = None

    @property
    def is_failing(self) -> bool:
        """Whether the last write did not succeed."""
        return self._is_failing

    def keep(self, job: Job, path: Path | None, stamp: FileStamp | None = None) -> None:
        """Keep the job as it is now, which is unsaved; `stamp` is that of its file when it was read or saved last."""
        self._ask((job, path, stamp))

    def clear(self) -> None:
        """There is nothing unsaved."""
        if self._thread is not None:
            self._ask(None)

    def _ask(self, wanted: Unsaved | None) -> None:
        with self._condition:
            if self._is_ended:
                return
            if self._thread is None:
                self._thread = threading.Thread(target=self._work, name="keeper", daemon=True)
                self._thread.start()
            self._wanted, self._is_asked = wanted, True
            self._condition.notify_all()

    def flush(self, seconds: float = 2.0) -> bool:
        """Wait until what was asked for is on the disk; returns whether it is."""
        with self._condition:
            done = self._condition.wait_for(lambda: not self._is_asked and not self._is_writing, seconds)
            return done and not self._is_failing

    def end(self) -> None:
        """End in good order: the journal is removed, for its window has answered for its work."""
        with self._condition:
            self._is_ended = True
            self._condition.notify_all()
        if self._thread is not None:
            self._thread.join(timeout=10)

    def _work(self) -> None:
        from dechirer.formats.job.journal import Journal

        while True:
            with self._condition:
                self._condition.wait_for(lambda: self._is_asked or self._is_ended)
                if not self._is_asked:
                    break
                wanted, self._is_asked, self._is_writing = self._wanted, False, True
            try:
                if wanted is not None:
                    self._journal = self._journal or Journal(self._folder)
                    self._journal.record(*wanted)
                elif self._journal is not None:
                    self._journal.clear()
                self._tell(None)
            except Exception as error:  # noqa: BLE001 - the outermost boundary of this thread
                self._tell(error)
            finally:
                with self._condition:
                    self._is_writing = False
                    self._condition.notify_all()
            with self._condition:
                self._condition.wait_for(lambda: self._is_ended, PAUSE_S)
        if self._journal is not None:
            with suppress(OSError):  # an old journal that stays is offered once more, better than losing work
                self._journal.close()

    def _tell(self, error: Exception | None) -> None:
        was, self._is_failing = self._is_failing, error is not None
        if error is not None and not was:
            self.failed.emit(error)
        elif error is None and was:
            self.kept.emit()
