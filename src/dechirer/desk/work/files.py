"""Opening, saving and recovering: everything between the open job and its file."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QFileSystemWatcher, QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMessageBox

from dechirer.core.decide.letters import make_file_name
from dechirer.core.job.model import Job
from dechirer.core.job.new import make_job
from dechirer.core.words import count
from dechirer.demo import load_demo_job
from dechirer.desk.window import MainWindow
from dechirer.desk.work.changed_file import save_changed
from dechirer.desk.work.document import Document
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
    """The job's file, its lock and its journal.

    Signals:
        failed(error, doing): a fault of ours that was caught here.
    """

    failed = pyqtSignal(object, str)

    def __init__(self, window: MainWindow, document: Document, settings: Settings) -> None:
        super().__init__(window)
        self.window, self.document, self.settings = window, document, settings
        self._lock: JobLock | None = None
        self._watcher = QFileSystemWatcher(self)
        self._watcher.directoryChanged.connect(lambda _folder: self._tell_second())
        self.keeper = Keeper(state_folder() / "journal", self)
        self.keeper.failed.connect(self._say_no_journal)
        self.keeper.kept.connect(lambda: window.banners.drop("journal"))
        self.opening = Opening(self)
        self.opening.slow.connect(self._say_slow)
        self.recovery = Recovery(state_folder() / "journal", window.banners, self._take_up, self)
        self.recovery.failed.connect(
            lambda error: self.complain("recovered", f"Could not search for unsaved work: {error.strerror}.")
        )
        document.changed.connect(self._record)

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

    def complain(self, key: str, text: str) -> None:
        """Show what went wrong."""
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
        return self.opening.read(path, lambda found: self.take_opened(path, found, asked_with))

    def take_opened(self, path: Path, found: object, asked_with: Job) -> bool:
        """Put a job that was read into the window, or say why it could not be read."""
        self.window.banners.drop("opening")
        if self.document.job is not asked_with and not self._may_leave():
            return False  # it took long, and the maker has gone on meanwhile
        if not isinstance(found, tuple):
            why = f"{path.name}: {found.strerror or found}" if isinstance(found, OSError) else str(found)
            self.complain("open", f"{why}. The open job is untouched.")
            return False
        job, cleaned, stamp = found
        self._recovered = False
        self.document.open_job(job, path, saved=not cleaned, stamp=stamp)
        self.window.banners.drop("open")
        if cleaned:
            self.window.banners.say(
                "open", "look", f"{path.name}: {count(cleaned, 'text')} had unsupported characters, removed."
            )
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
                f"{path.name} is open in another window too. You are asked before a save here replaces a save there.",
                [("Open as a copy", self.make_copy), ("Close", lambda: self.window.banners.drop("second"))],
            )
            return
        self.window.banners.drop("second")
        self._lock = lock
        self._watcher.addPath(str(lock.folder))

    def _tell_second(self) -> None:
        """Tell that another window has opened the job of this one."""
        if self._lock is not None and self._lock.was_asked() and self.document.path is not None:
            self.window.banners.say(
                "second",
                "look",
                f"{self.document.path.name} was opened in another window too. You are asked before a save here "
                "replaces a save there.",
            )

    def _release_lock(self) -> None:
        if self._lock is not None:
            self._lock.release()
            self._lock = None
            self._watcher.removePaths(self._watcher.directories())
        self.window.banners.drop("second")

    def make_copy(self) -> None:
        """Go on with the open job as a new one that has no file yet."""
        self._release_lock()
        self._recovered = True
        self.document.make_copy()

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
        start = Path(self.settings.folder) / f"{make_file_name(self.document.job.name)}{SUFFIX}"
        name, _ = QFileDialog.getSaveFileName(self.window, title, str(start), FILTER)
        if not name:
            return None
        path = Path(name)
        named = path if path.suffix.lower() == SUFFIX else path.with_name(path.name + SUFFIX)
        if named != path and named.exists() and not self._may_overwrite(named):
            return None
        return named

    def save_copy(self) -> bool:
        """Ask for a file and write the job there too; its own file and unsaved changes stay as they are."""
        from dechirer.formats.job.saving import make_job_id, save_job

        path = self._ask_where("Save a copy of the job")
        if path is None:
            return False
        try:
            save_job(path, self.document.job, make_job_id())
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
        self.complain("save", f"{path.name[:60]} was not saved: {error.strerror or error}.{old}")

    def _may_overwrite(self, path: Path) -> bool:
        answer = QMessageBox.question(self.window, "Dechirer", f"{path.name} is there already. Replace it?")
        return answer == QMessageBox.StandardButton.Yes

    def save_to(self, path: Path) -> bool:
        """Save to a file; ask first when it changed since it was read. When it cannot be written, say so.

        The old file is whole either way, and is kept as a version. Returns whether the job is saved now.
        """
        from dechirer.formats.job.stamp import has_changed

        is_other = path != self.document.path
        if not is_other and has_changed(path, self.document.stamp):
            return save_changed(self, path)
        return self.save_over(path)

    def save_over(self, path: Path) -> bool:
        """Save to a file without asking; what it replaces is kept as a version. Returns whether it is saved now."""
        is_other = path != self.document.path
        try:
            not_kept = self.document.save(path)
        except OSError as error:
            self._say_unsaved(path, error)
            return False
        self._recovered = False
        self.window.banners.drop("save")
        if not_kept:
            text = f"{path.name} is saved. The version it replaced could not be kept: {not_kept}."
            self.window.banners.say("save", "look", text)
        self.settings.folder = str(path.parent)
        self.settings.remember(path)
        if is_other:
            self._take_lock(path)
        return True

    def show_versions(self) -> None:
        """Show the earlier versions of the open job."""
        from dechirer.desk.work.versioning import show_versions

        show_versions(self.window, self.document)

    # --- the journal -----------------------------------------------------------------------------------------

    def offer_recovered(self) -> None:
        """Offer the unsaved work of a window that is gone."""
        self.recovery.look()

    def _take_up(self, recovered: Recovered) -> bool:
        if not self._may_leave():
            return False
        self._release_lock()
        self._recovered = True
        self.document.open_job(recovered.job, recovered.path, saved=False, stamp=recovered.stamp)
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
            self.keeper.keep(self.document.identified_job, self.document.path, self.document.stamp)

    def keep_safe(self, seconds: float = 2.0) -> bool:
        """Bring the journal up to date and wait for it so long; returns whether it is."""
        self._record()
        return self.keeper.flush(seconds)

    def _say_no_journal(self, error: Exception) -> None:
        if not isinstance(error, OSError):
            self.failed.emit(error, "journal")
        why = (error.strerror or str(error)) if isinstance(error, OSError) else "a mistake in Dechirer itself"
        self.complain("journal", f"Unsaved work cannot be kept safe: {why}. Save often.")

    def end(self) -> None:
        """Drop the lock, and end the journal in good order."""
        if self._lock is not None:
            self._lock.release()
        self.recovery.end()
        self.keeper.end()


NEW_WEIGHT = "80 lb cover"
