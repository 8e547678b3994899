"""Every output file of a job, written into a folder: all of them, or none.

The files are first written beside those that are there, and flushed to the disk. Only then do they take their places,
and while they do a note in the folder says that it is not finished. So a full disk, a stop or a kill leaves the files
of before, or the new ones, or the note.
"""

from __future__ import annotations

import os
from collections.abc import Callable
from pathlib import Path

from dechirer.core.plan import Plan
from dechirer.formats.job.atomic import PART, flush_folder, put_in_place, write_beside
from dechirer.formats.output import OUTPUTS

UNFINISHED = "EXPORT-NOT-FINISHED.txt"
NOTE = b"Dechirer was ended while it wrote into this folder: some files are of this export, some of the one before.\n"
NOTE += b"Export once more before you cut anything.\n"


class ExportCancelledError(Exception):
    """The maker stopped the export; the files of before stay."""


def export_plan(
    plan: Plan,
    folder: Path,
    *,
    progress: Callable[[int, int], None] = lambda done, all: None,
    cancelled: Callable[[], bool] = lambda: False,
    only: str = "",
) -> list[Path]:
    """Write every registered output, or those alone whose path begins with `only`.

    Files of an earlier export that this plan no longer has (a mat fewer) are removed, so that nobody cuts a stale one;
    other files in the folder are left alone.

    Returns:
        The files written, in order.

    Raises:
        OSError: the folder cannot be made or written to; the files of before stay.
        ExportCancelledError: `cancelled` said yes; the files of before stay.
    """
    known = [spec for spec in OUTPUTS if spec.id.startswith(only)]
    files = [file for spec in known if spec.wanted(plan) for file in spec.files(plan)]
    ready: list[tuple[Path, Path]] = []
    folder.mkdir(parents=True, exist_ok=True)
    _remove_parts(folder)
    try:
        for name, content in files:
            if cancelled():
                raise ExportCancelledError
            path = folder / name
            path.parent.mkdir(parents=True, exist_ok=True)
            ready.append((write_beside(path, content()), path))
            progress(len(ready), len(files))
        if cancelled():
            raise ExportCancelledError
        os.replace(write_beside(folder / UNFINISHED, NOTE), folder / UNFINISHED)
        flush_folder(folder)
    except BaseException:
        for temporary, _ in ready:
            temporary.unlink(missing_ok=True)
        raise
    written = [path for _, path in ready]
    for temporary, path in ready:
        put_in_place(temporary, path)
    for spec in known:
        if spec.each:
            _remove_stale(folder, spec.pattern(), written)
    for inner in {path.parent for path in written}:
        flush_folder(inner)
    (folder / UNFINISHED).unlink(missing_ok=True)
    flush_folder(folder)
    return written


def _remove_stale(folder: Path, pattern: str, written: list[Path]) -> None:
    """Remove numbered files of an earlier export that were not written now."""
    for path in folder.glob(pattern):
        if path not in written and path.stem.removesuffix("-back").rpartition("-")[2].isdigit():
            path.unlink()


def _remove_parts(folder: Path) -> None:
    """Remove what an export that was killed had written beside."""
    for inner in {folder, *((folder / name).parent for name in (spec.pattern() for spec in OUTPUTS if spec.each))}:
        for path in inner.glob(f"{PART}*.part"):
            path.unlink(missing_ok=True)
