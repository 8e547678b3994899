"""Rehearses each export in a process of its own, beside the window; a new edit stops it."""

from __future__ import annotations

import json
import shutil
import sys
import uuid
from pathlib import Path

from PyQt6.QtCore import QObject, QProcess, pyqtSignal

from dechirer.core.words import count
from dechirer.desk.work.document import Document
from dechirer.desk.work.settings import state_folder

MOST_NAMED = 6


class Rehearsing(QObject):
    """Runs `dechirer rehearse` over an export.

    Signals:
        said(text, role, details): what the bottom line says of the last export; empty when there is nothing to say.
    """

    said = pyqtSignal(str, str, str)

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self._process: QProcess | None = None
        self._job_file: Path | None = None
        self._job = document.job
        document.changed.connect(self._stop_for_edit)

    @property
    def is_busy(self) -> bool:
        """Whether an export is being rehearsed."""
        return self._process is not None

    def start(self, folder: Path) -> None:
        """Rehearse the export in a folder, of the job as it is now."""
        from dechirer.formats.job.archive import write_archive

        self.stop()
        self._job = self._document.job
        path = state_folder() / "rehearsal" / f"{uuid.uuid4().hex}.dechirer"
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            write_archive(path, self._document.identified_job)
        except OSError as error:
            self.said.emit("not rehearsed", "soft", f"The export could not be rehearsed: {error.strerror or error}.")
            return
        self._job_file = path
        process = QProcess(self)
        process.finished.connect(lambda code, _status: self._ended(process, code))
        arguments = ["-m", "dechirer", "rehearse", str(path), "--files", str(folder), "--runs", "0", "--json"]
        nice = shutil.which("nice")
        if nice is not None:
            process.start(nice, ["-n", "10", sys.executable, *arguments])
        else:
            process.start(sys.executable, arguments)
        self._process = process
        self.said.emit("rehearsing the export…", "soft", "The files are run on a simulated cutter.")

    def stop(self) -> None:
        """Stop what is under way; nothing is said of it."""
        if self._process is not None:
            process, self._process = self._process, None
            process.kill()
            process.waitForFinished(5000)
            process.deleteLater()
        if self._job_file is not None:
            self._job_file.unlink(missing_ok=True)
            self._job_file = None

    def _stop_for_edit(self) -> None:
        if self._document.job is not self._job:
            self._job = self._document.job
            self.stop()
            self.said.emit("", "soft", "")

    def _ended(self, process: QProcess, code: int) -> None:
        if process is not self._process:
            return
        output = bytes(process.readAllStandardOutput().data())
        errors = bytes(process.readAllStandardError().data()).decode("utf-8", "replace").strip()
        self.stop()
        try:
            troubles: list[str] = json.loads(output)["troubles"]
        except (ValueError, KeyError):
            why = errors.splitlines()[-1][:200] if errors else f"it ended with {code}"
            self.said.emit("not rehearsed", "look", f"The export could not be rehearsed: {why}")
            return
        if not troubles:
            self.said.emit(
                "rehearsed: as planned", "clear", "Every file, run on a simulated cutter, comes out as planned."
            )
            return
        more = [f"and {len(troubles) - MOST_NAMED} more"] if len(troubles) > MOST_NAMED else []
        text = f"rehearsed: {count(len(troubles), 'problem')}"
        self.said.emit(text, "stop", "\n".join([*troubles[:MOST_NAMED], *more]))
