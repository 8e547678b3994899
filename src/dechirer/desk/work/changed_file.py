"""What becomes of a job file that somebody else changed since it was read: both are kept, theirs is opened, or it is
replaced. Nothing is lost either way."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Protocol

from dechirer.desk.window import MainWindow
from dechirer.desk.work.document import Document
from dechirer.desk.work.opening import Opening


class JobFiles(Protocol):
    """What saves and opens the job of a window."""

    window: MainWindow
    document: Document
    opening: Opening

    def save_over(self, path: Path) -> bool:
        """Save without asking."""

    def complain(self, key: str, text: str) -> None:
        """Show what went wrong."""

    def take_opened(self, path: Path, found: object, asked_with: Any) -> bool:
        """Put a job that was read into the window."""


def save_changed(files: JobFiles, path: Path) -> bool:
    """Ask what becomes of a changed file, and do it. Returns whether the open job is saved now."""
    from dechirer.desk.boxes import changed_file_dialog

    choice = changed_file_dialog.ask_about_changed(files.window, path)
    if choice == "both":
        return files.save_over(free_name(path))
    if choice == "theirs":
        open_theirs(files, path)
        return False
    return choice == "overwrite" and files.save_over(path)


def open_theirs(files: JobFiles, path: Path) -> None:
    """Open what somebody else saved; the open job is kept as a version first."""
    from dechirer.core.job.model import write_job_compact
    from dechirer.formats.job.saving import make_job_id
    from dechirer.formats.job.versions import VersionStore

    job = files.document.identified_job
    try:
        VersionStore(job.id or make_job_id()).keep_job(write_job_compact(job), path)
    except OSError as error:
        files.complain("save", f"Your version could not be kept: {error.strerror or error}. Nothing was opened.")
        return
    asked_with = files.document.job
    if files.opening.read(path, lambda found: files.take_opened(path, found, asked_with)):
        files.window.banners.say("versions", "note", "Your own version is kept; see Versions… in the job menu.")


def free_name(path: Path) -> Path:
    """Return a name beside a file that no file has yet: `card (2).dechirer`."""
    number = 2
    while (free := path.with_name(f"{path.stem} ({number}){path.suffix}")).exists():
        number += 1
    return free
