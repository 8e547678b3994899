"""Export off the GUI thread, with progress and a way to stop it."""

from __future__ import annotations

import threading
from collections.abc import Collection
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.plan import Plan

if TYPE_CHECKING:
    from dechirer.formats.export import Choice

STOPPED = "Stopped. The previous files are unchanged."


class ExportWorker(QObject):
    """Writes the files of one plan.

    Signals:
        moved(done, all): a file was written.
        ended(files, why): all is written (`why` empty), or it failed or was stopped (`why` says so).
        refused(error): files are in the way; an `ExportConflictError` names them. Nothing was written.
        failed(error): an internal error; `ended` says it in plain words.
    """

    moved = pyqtSignal(int, int)
    ended = pyqtSignal(int, str)
    refused = pyqtSignal(object)
    failed = pyqtSignal(object)

    def __init__(
        self,
        plan: Plan,
        folder: Path,
        parent: QObject | None = None,
        *,
        choice: Choice | None = None,
        replace: Collection[str] = (),
        job_id: str = "",
    ) -> None:
        super().__init__(parent)
        self._plan, self._folder = plan, folder
        self._choice, self._replace, self._job_id = choice, replace, job_id
        self._stopped = threading.Event()
        self._thread = threading.Thread(target=self._work, name="export", daemon=True)

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def stop(self) -> None:
        """Stop at the next checkpoint, or after the file under way."""
        self._stopped.set()

    def wait(self) -> None:
        """Wait until it has ended."""
        self._thread.join(timeout=60)

    def _work(self) -> None:
        from dechirer.core.stopping import Stopped, may_be_stopped

        try:
            with may_be_stopped(self._stopped.is_set):
                self._write()
        except Stopped:
            self.ended.emit(0, STOPPED)
        except Exception as error:  # noqa: BLE001 - the outermost boundary of this thread
            self.failed.emit(error)
            self.ended.emit(0, "An internal error stopped the export.")

    def _write(self) -> None:
        from dechirer.core.audit import audit
        from dechirer.formats.export import (
            EVERYTHING,
            ExportCancelledError,
            ExportConflictError,
            export_plan,
        )

        faults = () if self._plan.stops else audit(self._plan, again=True)
        if faults:
            more = f" (and {len(faults) - 1} more)" if len(faults) > 1 else ""
            self.ended.emit(0, f"The audit stopped the export: {faults[0].place}: {faults[0].words}{more}.")
            return
        try:
            files = export_plan(
                self._plan,
                self._folder,
                progress=self.moved.emit,
                cancelled=self._stopped.is_set,
                choice=self._choice or EVERYTHING,
                replace=self._replace,
                job_id=self._job_id,
            )
        except ExportCancelledError:
            self.ended.emit(0, STOPPED)
        except ExportConflictError as error:
            self.refused.emit(error)
        except OSError as error:
            self.ended.emit(0, f"The export failed: {error.strerror or error} ({error.filename or self._folder}).")
        else:
            self.ended.emit(len(files), "")
