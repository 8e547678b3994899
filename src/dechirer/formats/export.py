"""Every output file of a job, written into a folder."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from dechirer.core.plan import Plan
from dechirer.formats.atomic import write_atomically
from dechirer.formats.cut_list import write_cut_list
from dechirer.formats.plan_json import write_plan_json
from dechirer.formats.run_sheet import write_run_sheet
from dechirer.formats.svg_mat import write_mat_svg


class ExportCancelledError(Exception):
    """The maker stopped the export; files already written stay."""


def export_plan(
    plan: Plan,
    folder: Path,
    *,
    progress: Callable[[int, int], None] = lambda done, all: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> list[Path]:
    """Write `mats/*.svg`, `run-sheet.pdf`, `cut-list.csv` and `plan.json`.

    Mats of an earlier export that this plan no longer has are removed, so that nobody cuts a stale one; other
    files in the folder are left alone.

    Returns:
        The files written, in order.

    Raises:
        OSError: the folder cannot be made or written to.
        ExportCancelledError: `cancelled` said yes.
    """
    mats = folder / "mats"
    mats.mkdir(parents=True, exist_ok=True)
    total = len(plan.lay.layouts) + 3
    written: list[Path] = []

    def put(path: Path, content: bytes) -> None:
        if cancelled():
            raise ExportCancelledError
        write_atomically(path, content)
        written.append(path)
        progress(len(written), total)

    for layout in plan.lay.layouts:
        title = f"{plan.job.name}: mat {layout.number}, cut {layout.repeats} times"
        put(mats / f"{layout.id}.svg", write_mat_svg(layout, plan.job.brief.machine, title=title).encode())
    put(folder / "cut-list.csv", write_cut_list(plan).encode())
    put(folder / "run-sheet.pdf", write_run_sheet(plan))
    put(folder / "plan.json", write_plan_json(plan).encode())
    for stale in mats.glob("mat-*.svg"):
        if stale not in written and stale.stem.removeprefix("mat-").isdigit():
            stale.unlink()
    return written
