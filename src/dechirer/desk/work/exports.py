"""Exports of the open job: where to, what, what is in the way, and what can be done with the files afterwards."""

from __future__ import annotations

from collections.abc import Collection
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, QUrl, pyqtSignal
from PyQt6.QtGui import QDesktopServices

from dechirer.core.words import count
from dechirer.desk.work.document import Document
from dechirer.desk.work.exporting import ExportWorker
from dechirer.desk.work.rehearsing import Rehearsing
from dechirer.desk.work.settings import Settings

if TYPE_CHECKING:
    from dechirer.desk.window import MainWindow
    from dechirer.formats.export import Choice, ExportConflictError

RUN_SHEET = "run-sheet.pdf"
SHEETS = (RUN_SHEET, "making-up.pdf")
"""What is printed to have at the machine and at the table."""


class Exports(QObject):
    """Exports one at a time, each of the plan of the job as it is when it is asked for.

    Signals:
        failed(error, doing): an internal error.
        written(folder): an export is complete.
    """

    failed = pyqtSignal(object, str)
    written = pyqtSignal(object)

    def __init__(self, window: MainWindow, document: Document, settings: Settings) -> None:
        super().__init__(window)
        self.window, self.document, self.settings = window, document, settings
        self._worker: ExportWorker | None = None
        self._waiting: tuple[Path, Choice | None, Collection[str]] | None = None
        self._folder: Path | None = None
        self._history = document.history
        self.rehearsing = Rehearsing(document, self)
        self.written.connect(self.rehearsing.start)
        self.rehearsing.said.connect(window.consequences.say_rehearsed)
        window.consequences.details_wanted.connect(self._say_details)
        document.planned.connect(self._start_when_current)
        document.changed.connect(self._forget_other_job)

    @property
    def folder(self) -> Path:
        """The folder the job was exported into last, else the one proposed for it."""
        from dechirer.formats.export import default_folder

        known = self._folder or self.settings.export_folder(self.document.job_id)
        return known or default_folder(self.document.job.name, self.document.path)

    def ask(self) -> None:
        """Ask what to export and where, and export."""
        from dechirer.desk.boxes.export_dialog import ExportDialog

        if self._worker is None and self.document.plan is not None:
            dialog = ExportDialog(self.document.plan, self.folder, self.window)
            dialog.chosen.connect(self.export_to)
            dialog.show()

    def export_mat(self, number: int) -> None:
        """Export the files of one mat, beside those that are there."""
        from dechirer.formats.export import Choice

        self.export_to(self.folder, Choice(mats=(number,)))

    def export_to(self, folder: Path, choice: Choice | None = None, replace: Collection[str] = ()) -> None:
        """Export into a folder as soon as the plan is the plan of the job as it is now.

        Args:
            replace: paths of files in the folder that the user agreed to replace.
        """
        if self._worker is not None:
            return
        self._waiting = (folder, choice, replace)
        self.document.resume()
        self._start_when_current()

    def _start_when_current(self) -> None:
        if self._waiting is None or not self.document.is_current or self._worker is not None:
            return
        plan, (folder, choice, replace), self._waiting = self.document.plan, self._waiting, None
        assert plan is not None
        worker = ExportWorker(plan, folder, self, choice=choice, replace=replace, job_id=self.document.job_id)
        self._worker, self._history = worker, self.document.history
        self.window.banners.say("export", "note", f"Writing into {folder.name}…", [("Stop", worker.stop)])
        worker.moved.connect(
            lambda done, all: self.window.banners.set_text(
                "export", f"Writing into {folder.name}: {done} of {all} files"
            )
        )
        worker.ended.connect(lambda files, why: self._ended(folder, choice, files, why, plan.stops))
        worker.refused.connect(lambda error: self._ask_about(folder, choice, error))
        worker.failed.connect(lambda error: self.failed.emit(error, "export"))
        worker.start()

    def _finish(self) -> None:
        if self._worker is not None:
            self._worker.wait()
            self._worker = None

    def _ended(self, folder: Path, choice: Choice | None, files: int, why: str, problems: int) -> None:
        self._finish()
        banners = self.window.banners
        if why:
            banners.say("export", "stop", why)
            return
        self._folder = folder
        self.settings.remember_export(self.document.job_id, folder)
        buttons = [("Open the folder", lambda: open_path(folder))]
        if (folder / RUN_SHEET).exists():
            buttons.append(("Open the run sheet", lambda: open_path(folder / RUN_SHEET)))
        if any((folder / name).exists() for name in SHEETS):
            buttons.append(("Print the sheets…", lambda: self.print_sheets(folder)))
        buttons.append(("Close", lambda: banners.drop("export")))
        mats = choice.mats if choice is not None else ()
        what = f"Mat {mats[0]}: {count(files, 'file')}" if mats else count(files, "file")
        warning = f" {count(problems, 'problem')} would still spoil the card." if problems else ""
        banners.say("export", "look" if problems else "note", f"{what} written into {folder}.{warning}", buttons)
        self.written.emit(folder)

    def _ask_about(self, folder: Path, choice: Choice | None, error: ExportConflictError) -> None:
        """Ask what becomes of files that are in the way."""
        from dechirer.desk.boxes.export_conflict_dialog import ask_about_conflict

        self._finish()
        self.window.banners.drop("export")
        answer = ask_about_conflict(self.window, error)
        if answer == "replace":
            self.export_to(folder, choice, tuple(conflict.path for conflict in error.conflicts))
        elif isinstance(answer, Path):
            self.export_to(answer, choice)
        else:
            text = f"Nothing was exported; {folder.name} is unchanged."
            self.window.banners.say("export", "note", text, seconds=10)

    def _say_details(self, text: str) -> None:
        """Say what the rehearsal of the last export found; nothing for an empty text."""
        if text:
            self.window.banners.say("rehearsed", "look", text)
        else:
            self.window.banners.drop("rehearsed")

    def print_sheets(self, folder: Path) -> None:
        """Print the run sheet and the assembly sheets of an export."""
        from dechirer.desk.work.sheet_printing import ask_and_print

        ask_and_print(self.window, [folder / name for name in SHEETS if (folder / name).exists()], self.failed.emit)

    def _forget_other_job(self) -> None:
        """Another job was opened: what was said of the last export is not of this one."""
        if self.document.history is not self._history:
            self._history, self._folder = self.document.history, None
            if self._worker is None:
                self.window.banners.drop("export")

    def end(self) -> None:
        """Stop the export under way and wait for it."""
        self._waiting = None
        self.rehearsing.stop()
        if self._worker is not None:
            self._worker.stop()
            self._worker.wait()


def open_path(path: Path) -> None:
    """Open a file or folder with the desktop's own program."""
    QDesktopServices.openUrl(QUrl.fromLocalFile(str(path)))
