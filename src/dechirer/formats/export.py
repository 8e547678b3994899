"""Every output file of a job, written into a folder."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from dechirer.core.plan import Plan
from dechirer.formats.job.atomic import write_atomically
from dechirer.formats.output import OUTPUTS


class ExportCancelledError(Exception):
    """The maker stopped the export; files already written stay."""


def export_plan(
    plan: Plan,
    folder: Path,
    *,
    progress: Callable[[int, int], None] = lambda done, all: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> list[Path]:
    """Write every registered output.

    Files of an earlier export that this plan no longer has (a mat fewer) are removed, so that nobody cuts a stale one;
    other files in the folder are left alone.

    Returns:
        The files written, in order.

    Raises:
        OSError: the folder cannot be made or written to.
        ExportCancelledError: `cancelled` said yes.
    """
    files = [file for spec in OUTPUTS for file in spec.files(plan)]
    written: list[Path] = []
    for name, content in files:
        if cancelled():
            raise ExportCancelledError
        path = folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        write_atomically(path, content())
        written.append(path)
        progress(len(written), len(files))
    for spec in OUTPUTS:
        if spec.each:
            _remove_stale(folder, spec.pattern(), written)
    return written


def _remove_stale(folder: Path, pattern: str, written: list[Path]) -> None:
    """Remove numbered files of an earlier export that were not written now."""
    for path in folder.glob(pattern):
        if path not in written and path.stem.rpartition("-")[2].isdigit():
            path.unlink()
