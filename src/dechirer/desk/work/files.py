"""Opening, saving, exporting and recovering: everything between the open job and the disk."""

from __future__ import annotations

import re
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from dechirer.core.job.model import Job
from dechirer.core.job.new import make_job
from dechirer.demo import load_demo_job
from dechirer.desk.window import MainWindow
from dechirer.desk.work.document import Document
from dechirer.desk.work.exporting import ExportWorker
from dechirer.desk.work.keeper import Keeper
from dechirer.desk.work.opening import Opening
from dechirer.desk.work.recovery import Recovery
from dechirer.desk.work.settings import Settings, state_folder

if TYPE_CHECKING:
    from dechirer.formats.job.journal import Recovered
    from dechirer.formats.job.locks import JobLock

SUFFIX = ".dechirer"
FILTER = f"Dechirer jobs (*{SUFFIX})"


class Files(QObject):
    """The job's file, its lock, its journal, and the export under way.

    Signals:
        failed(error, doing): a fault of ours that was caught here.
    """

    failed = pyqtSignal(object, str)

    def __init__(self, window: MainWindow, document: Document, settings: Settings) -> None:
        super().__init__(window)
        self.window, self.document, self.settings = window, document, settings
        self._lock: JobLock | None = None
        self._export: ExportWorker | None = None
        self._export_waits: Path | None = None
        self.keeper = Keeper(state_folder() / "journal", self)
        self.keeper.failed.connect(self._say_no_journal)
        self.keeper.kept.connect(lambda: window.banners.drop("journal"))
        self.opening = Opening(self)
        self.opening.slow.connect(self._say_slow)
        self.recovery = Recovery(state_folder() / "journal", window.banners, self._take_up, self)
        self.recovery.failed.connect(
            lambda error: self._complain("recovered", f"Unsaved work of before cannot be looked for: {error.strerror}.")
        )
        document.changed.connect(self._record)
        document.planned.connect(self._export_when_current)

    # --- saying ----------------------------------------------------------------------------------------------

    @property
    def is_worth_saving(self) -> bool:
        """Whether there is anything to lose: an untouched demo or new card is not."""
        return self.document.path is not None or bool(self.document.history.undo_label) or self._recovered

    _recovered = False

    def state_words(self) -> str:
        """What has become of the job's file, in words."""
        path, saved = self.document.path, self.document.history.is_saved
        safe = "" if self.keeper.is_failing else ", but kept safe"
        if path is None:
            return f"not saved yet{safe}" if self.is_worth_saving else ""
        return f"saved in {path.name}" if saved else f"{path.name}, changes not saved yet{safe}"

    def _complain(self, key: str, text: str) -> None:
        self.window.banners.say(key, "stop", text)

    # --- opening ---------------------------------------------------------------------------------------------

    def new(self) -> None:
        """Begin a plain card."""
        if self._may_leave():
            # A weight that folds well by one score, so that a new card begins without a complaint.
            self._open_job(make_job(units=self.document.job.units, weight=NEW_WEIGHT), None)

    def open_demo(self, name: str = "invitations") -> None:
        """Open a demo job."""
        if self._may_leave():
            self._open_job(load_demo_job(name), None)

    def ask_open(self) -> None:
        """Ask for a file and open it."""
        if not self._may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self.window, "Open a job", self.settings.folder, FILTER)
        if name:
            self.open_file(Path(name))

    def open_file(self, path: Path) -> bool:
        """Open a job file; when it cannot be read, say why and leave the open job as it is.

        Returns whether it is open now; one that takes long to read is opened when it is there.
        """
        asked_with = self.document.job
        return self.opening.read(path, lambda found: self._take_opened(path, found, asked_with))

    def _take_opened(self, path: Path, found: object, asked_with: Job) -> bool:
        self.window.banners.drop("opening")
        if self.document.job is not asked_with and not self._may_leave():
            return False  # it took long, and the maker has gone on meanwhile
        if not isinstance(found, tuple):
            why = f"{path.name}: {found.strerror or found}" if isinstance(found, OSError) else str(found)
            self._complain("open", f"{why}. The open job is untouched.")
            return False
        job, cleaned = found
        self._recovered = False
        self.document.open_job(job, path, saved=not cleaned)
        self.window.banners.drop("open")
        if cleaned:
            words = f"{cleaned} texts of {path.name} had" if cleaned > 1 else f"A text of {path.name} had"
            self.window.banners.say("open", "look", f"{words} signs in it that are no letters; they are left out.")
        self.settings.folder = str(path.parent)
        self.settings.remember(path)
        self._take_lock(path)
        return True

    def leave_and_open(self, path: Path) -> None:
        """Open a job file in place of this job, which is asked for first."""
        if self._may_leave():
            self.open_file(path)

    def _say_slow(self, path: Path) -> None:
        def stop() -> None:
            self.opening.stop()
            self.window.banners.drop("opening")

        self.window.banners.say("opening", "note", f"Opening {path.name}…", [("Stop", stop)])

    def _open_job(self, job: Job, path: Path | None) -> None:
        self._recovered = False
        self._release_lock()
        self.document.open_job(job, path, saved=True)
        self.window.banners.drop("open")

    def _may_leave(self) -> bool:
        room = self.window.room
        return room is None or room.may_close()

    def _take_lock(self, path: Path) -> None:
        from dechirer.formats.job.locks import JobLock

        self._release_lock()
        try:
            lock = JobLock(state_folder() / "open", path)
        except OSError:
            return  # without a state folder there is nothing to compare with
        if lock.taken:
            self.window.banners.say(
                "second",
                "look",
                f"{path.name} is open in another window as well. Saving here overwrites what is saved there.",
            )
            return
        self.window.banners.drop("second")
        self._lock = lock

    def _release_lock(self) -> None:
        if self._lock is not None:
            self._lock.release()
            self._lock = None
        self.window.banners.drop("second")

    # --- saving ----------------------------------------------------------------------------------------------

    def save(self) -> bool:
        """Save to the job's file, or ask for one. Returns whether it is saved now."""
        path = self.document.path
        return self.save_to(path) if path is not None else self.save_as()

    def save_as(self) -> bool:
        """Ask for a file and save to it."""
        path = self._ask_where("Save the job")
        return path is not None and self.save_to(path)

    def _ask_where(self, title: str) -> Path | None:
        """Ask for a file to write a job to; None when the maker thinks better of it."""
        start = Path(self.settings.folder) / f"{file_name_of(self.document.job.name)}{SUFFIX}"
        name, _ = QFileDialog.getSaveFileName(self.window, title, str(start), FILTER)
        if not name:
            return None
        path = Path(name)
        named = path if path.suffix.lower() == SUFFIX else path.with_name(path.name + SUFFIX)
        if named != path and named.exists() and not self._may_overwrite(named):
            return None
        return named

    def save_copy(self) -> bool:
        """Ask for a file and write the job there as well; its own file and what is unsaved stay as they are."""
        from dechirer.formats.job.archive import write_archive

        path = self._ask_where("Save a copy of the job")
        if path is None:
            return False
        try:
            write_archive(path, self.document.job)
        except OSError as error:
            self._say_unsaved(path, error)
            return False
        self.window.banners.say("copy", "note", f"A copy is in {path}.", seconds=10)
        return True

    def _say_unsaved(self, path: Path, error: OSError) -> None:
        try:
            old = " The old file is whole." if path.exists() else ""
        except OSError:  # a name the file system does not take
            old = ""
        self._complain("save", f"{path.name[:60]} was not saved: {error.strerror or error}.{old}")

    def _may_overwrite(self, path: Path) -> bool:
        answer = QMessageBox.question(self.window, "Dechirer", f"{path.name} is there already. Replace it?")
        return answer == QMessageBox.StandardButton.Yes

    def save_to(self, path: Path) -> bool:
        """Save to a file; when it cannot be written, say so. The old file is whole either way."""
        other = path != self.document.path
        try:
            self.document.save(path)
        except OSError as error:
            self._say_unsaved(path, error)
            return False
        self._recovered = False
        self.window.banners.drop("save")
        self.settings.folder = str(path.parent)
        self.settings.remember(path)
        if other:
            self._take_lock(path)
        return True

    # --- the journal -----------------------------------------------------------------------------------------

    def offer_recovered(self) -> None:
        """Offer the unsaved work of a window that is gone."""
        self.recovery.look()

    def _take_up(self, recovered: Recovered) -> bool:
        if not self._may_leave():
            return False
        self._release_lock()
        self._recovered = True
        self.document.open_job(recovered.job, recovered.path, saved=False)
        if recovered.path is not None:
            self._take_lock(recovered.path)
        # The work is in a journal of this window before that of the other one goes.
        return self.keep_safe()

    def _record(self) -> None:
        """Ask for the journal to be brought up to date; it is begun when there is first something to lose."""
        if self.document.is_dragging:
            return  # what is dragged is kept when it is let go
        if self.document.history.is_saved or not self.is_worth_saving:
            self.keeper.clear()
        else:
            self.keeper.keep(self.document.job, self.document.path)

    def keep_safe(self, seconds: float = 2.0) -> bool:
        """Bring the journal up to date and wait for it so long; returns whether it is."""
        self._record()
        return self.keeper.flush(seconds)

    def _say_no_journal(self, error: Exception) -> None:
        if not isinstance(error, OSError):
            self.failed.emit(error, "journal")
        why = (error.strerror or str(error)) if isinstance(error, OSError) else "a mistake in Dechirer itself"
        self._complain("journal", f"Unsaved work cannot be kept safe: {why}. Save often.")

    # --- exporting -------------------------------------------------------------------------------------------

    def ask_export(self) -> None:
        """Ask for a folder and export into it."""
        name = QFileDialog.getExistingDirectory(self.window, "Export into a folder", self.settings.folder)
        if name:
            self.export_to(Path(name))

    def export_to(self, folder: Path) -> None:
        """Export into a folder as soon as the plan is the plan of the job as it is now."""
        if self._export is not None:
            return
        self.settings.folder = str(folder)
        self._export_waits = folder
        self.document.resume()
        self._export_when_current()

    def _export_when_current(self) -> None:
        if self._export_waits is None or not self.document.is_current or self._export is not None:
            return
        plan, folder, self._export_waits = self.document.plan, self._export_waits, None
        assert plan is not None
        worker = ExportWorker(plan, folder, self)
        self._export = worker
        self.window.banners.say("export", "note", f"Writing into {folder.name}…", [("Stop", worker.stop)])
        worker.moved.connect(
            lambda done, all: self.window.banners.set_text(
                "export", f"Writing into {folder.name}: {done} of {all} files"
            )
        )
        worker.ended.connect(lambda files, why: self._export_ended(folder, files, why, plan.stops))
        worker.failed.connect(lambda error: self.failed.emit(error, "export"))
        worker.start()

    def _export_ended(self, folder: Path, files: int, why: str, stops: int) -> None:
        if self._export is not None:
            self._export.wait()
            self._export = None
        if why:
            self._complain("export", f"The export did not finish: {why}.")
            return
        warning = "" if not stops else f" Mind: {stops} finding{'s' if stops > 1 else ''} would still spoil the job."
        self.window.banners.say("export", "look" if stops else "note", f"{files} files written into {folder}.{warning}")

    def end(self) -> None:
        """Stop the export, drop the lock, and end the journal in good order."""
        if self._export is not None:
            self._export.stop()
            self._export.wait()
        if self._lock is not None:
            self._lock.release()
        self.recovery.end()
        self.keeper.end()


NEW_WEIGHT = "80 lb cover"
MOST_NAME_BYTES = 200
"""File systems take 255 bytes; the ending and a number must have room."""


def file_name_of(name: str) -> str:
    """A job's name as the name of a file: without what file systems refuse, not hidden, not too long."""
    plain = re.sub(r'[\x00-\x1f/\\:*?"<>|]', "-", name).lstrip(". ").rstrip(". ")
    return plain.encode("utf-8", "ignore")[:MOST_NAME_BYTES].decode("utf-8", "ignore") or "card"
