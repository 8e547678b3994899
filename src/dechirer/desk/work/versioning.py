"""Earlier versions of the open job: restored as one step to undo, or opened in a window of their own."""

from __future__ import annotations

import sys
from pathlib import Path

from PyQt6.QtCore import QProcess

from dechirer.core.decide.letters import make_file_name
from dechirer.desk.window import MainWindow
from dechirer.desk.work.document import Document
from dechirer.desk.work.settings import state_folder
from dechirer.formats.job.archive import write_archive
from dechirer.formats.job.versions import Version, VersionStore


def show_versions(window: MainWindow, document: Document) -> None:
    """Open the dialog with the versions of the open job."""
    from dechirer.desk.boxes.versions_dialog import VersionsDialog

    if document.plan is None:
        return
    store = VersionStore(document.job_id)

    def restore(version: Version) -> bool:
        return document.replace_job(
            f"Version of {version.saved[:16].replace('T', ' ')} restored", store.read(version.number)
        )

    def open_beside(version: Version) -> None:
        QProcess.startDetached(sys.executable, ["-m", "dechirer", str(write_beside(store, version))])

    VersionsDialog(store, document.plan, window, restore=restore, open_beside=open_beside).show()


def write_beside(store: VersionStore, version: Version) -> Path:
    """Write a version as a job of its own into the state folder; returns the file.

    Raises:
        VersionError: it cannot be read.
        OSError: it cannot be written.
    """
    job = store.read(version.number)
    folder = state_folder() / "versions"
    folder.mkdir(parents=True, exist_ok=True)
    when = version.saved[:16].replace("T", " ").replace(":", "-")
    path = folder / f"{make_file_name(job.name)} of {when}.dechirer"
    write_archive(path, job)
    return path
