"""A folder of exported files, changed all at once or not at all.

New files are written into a hidden stage inside the folder and flushed to the disk. A journal in the stage then lists
every rename, a note in the folder says that the export is not finished, and the files change places: each old one moves
into the stage, each new one out of it. When a rename fails, or at the next export after a kill, the journal is undone
backwards. One writer at a time holds a lock on the folder; the system drops it when the process ends, however it ends.
"""

from __future__ import annotations

import errno
import fcntl
import json
import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from msgspec import Struct

from dechirer.formats.export_manifest import digest_file
from dechirer.formats.job.atomic import flush_folder

STAGE = ".dechirer-export"
JOURNAL, DONE = "journal.json", "done"
UNFINISHED = "EXPORT-NOT-FINISHED.txt"
NOTE = b"Dechirer was stopped while it changed this folder: some files are of the new export, some of the one before.\n"
NOTE += b"Export once more before you cut anything.\n"


class ExportBusyError(OSError):
    """Another export is writing into the folder."""


class Change(Struct, frozen=True):
    """One rename of the journal: the path, the hash of the new file (empty: the file is removed), and whether an old
    file was there."""

    path: str
    new: str
    replaces: bool


@contextmanager
def locked(folder: Path) -> Iterator[None]:
    """Hold the lock of a folder.

    Raises:
        ExportBusyError: another export holds it.
        OSError: the folder cannot be opened.
    """
    handle = os.open(folder, os.O_RDONLY)
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            if error.errno in (errno.EWOULDBLOCK, errno.EACCES):
                raise ExportBusyError(errno.EBUSY, "another export is writing into this folder", str(folder)) from None
            # Some network file systems have no locks; an export there goes on without one.
        yield
    finally:
        os.close(handle)


class Stage:
    """The hidden folder in which an export is prepared. To be used under `locked`."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.root = folder / STAGE
        self.new, self.old = self.root / "new", self.root / "old"
        self._changes: list[Change] = []

    def write(self, path: str, content: bytes) -> None:
        """Write a new file into the stage, flushed to the disk.

        Raises:
            OSError: the disk is full, or the folder is read-only.
        """
        target = self.new / path
        target.parent.mkdir(parents=True, exist_ok=True)
        with target.open("wb") as out:
            out.write(content)
            out.flush()
            os.fsync(out.fileno())
        self._changes.append(Change(path, digest_file(target), (self.folder / path).exists()))

    def remove(self, path: str) -> None:
        """Note a file of the folder for removal."""
        self._changes.append(Change(path, "", True))

    def commit(self) -> None:
        """Let all files change places; when one cannot, put back those that did.

        Raises:
            OSError: a file could not be renamed; the folder is as it was.
        """
        self._write_journal()
        note = self.folder / UNFINISHED
        try:
            _write_flushed(note, NOTE)
            flush_folder(self.folder)
            for change in self._changes:
                self._apply(change)
            for inner in {(self.folder / change.path).parent for change in self._changes}:
                flush_folder(inner)
        except BaseException:
            undo(self.folder)
            raise
        _write_flushed(self.root / DONE, b"")
        flush_folder(self.root)
        finish(self.folder)

    def discard(self) -> None:
        """Drop the stage; the folder is as it was."""
        shutil.rmtree(self.root, ignore_errors=True)

    def _write_journal(self) -> None:
        record = [{"path": each.path, "new": each.new, "replaces": each.replaces} for each in self._changes]
        self.root.mkdir(parents=True, exist_ok=True)
        _write_flushed(self.root / JOURNAL, json.dumps(record).encode())
        flush_folder(self.root)

    def _apply(self, change: Change) -> None:
        target, kept = self.folder / change.path, self.old / change.path
        mode = None
        if change.replaces:
            mode = target.stat().st_mode & 0o777
            kept.parent.mkdir(parents=True, exist_ok=True)
            os.rename(target, kept)
        if change.new:
            target.parent.mkdir(parents=True, exist_ok=True)
            if mode is not None:
                os.chmod(self.new / change.path, mode)
            os.rename(self.new / change.path, target)


def _write_flushed(path: Path, content: bytes) -> None:
    with path.open("wb") as out:
        out.write(content)
        out.flush()
        os.fsync(out.fileno())


def recover(folder: Path) -> bool:
    """Bring a folder to rest that an ended process left behind: undo a change under way, or clean up a finished one.

    Returns:
        Whether a change was undone.

    Raises:
        OSError: a file cannot be put back.
    """
    root = folder / STAGE
    if not root.is_dir() or root.is_symlink():
        return False
    if (root / DONE).exists() or not (root / JOURNAL).exists():
        finish(folder)
        return False
    undo(folder)
    return True


def undo(folder: Path) -> None:
    """Put back what a journal says has changed places, the last change first.

    A file that somebody changed since is left as it is.
    """
    root = folder / STAGE
    try:
        record = json.loads((root / JOURNAL).read_bytes())
        changes = [Change(each["path"], each["new"], each["replaces"]) for each in record]
    except (OSError, ValueError, KeyError, TypeError):
        changes = []  # The journal is flushed before the first rename: without one nothing has moved.
    for change in reversed(changes):
        target, kept = folder / change.path, root / "old" / change.path
        is_ours = bool(change.new) and digest_file(target) == change.new and not (root / "new" / change.path).exists()
        if kept.exists():
            if is_ours or not target.exists():
                os.replace(kept, target)
        elif is_ours and not change.replaces:
            target.unlink()
            _remove_empty(target.parent, folder)
    finish(folder)


def finish(folder: Path) -> None:
    """Remove the stage and the note."""
    root = folder / STAGE
    # The note goes first: without a stage nothing could tell whether the folder is whole.
    with suppress(FileNotFoundError):
        (folder / UNFINISHED).unlink()
    shutil.rmtree(root, ignore_errors=True)
    with suppress(OSError):
        flush_folder(folder)


def _remove_empty(inner: Path, folder: Path) -> None:
    if inner != folder:
        with suppress(OSError):  # it holds something else
            inner.rmdir()
