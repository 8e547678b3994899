"""A whole job rehearsed: its files are written, run by the simulated cutter, and measured against the plan."""

from __future__ import annotations

import math
import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import numpy as np
from msgspec import Struct, to_builtins

from dechirer.core.brief.files import FilesTaken
from dechirer.core.brief.machine import Machine
from dechirer.core.card.placed import Placement
from dechirer.core.plan import Plan
from dechirer.core.run.run import MatRun
from dechirer.core.stopping import checkpoint
from dechirer.devices.cutter import LEVER_MM, NOMINAL, Faults, MatOutcome, draw_faults, run_mat
from dechirer.devices.cutter_files import Counting, read_cutter_file
from dechirer.devices.receipt import Receipt, find_faults, take_receipt
from dechirer.devices.spoiling import (
    Spoils,
    find_bad_blades,
    find_missed_slits,
    find_rims,
    find_torn,
    goes_through,
    shift_at,
)
from dechirer.devices.strokes import CutterFile, CutterFileError
from dechirer.formats.output import OUTPUTS

KINDS = ("svg", "plt")
"""The kinds that are written and run without an export."""
RUN_KINDS = ("svg", "dxf", "plt")
"""The kinds that are run in an export."""
LOADS_AS_ONE = 20
"""So many loads take about as long as one file."""


class Rehearsal(Struct, frozen=True):
    """How a job came out.

    Attributes:
        nominal: each mat by each kind of its files, on a machine without faults.
        spread: how far pieces lay from their places over the loads that were tried, root mean square, mm each way.
        budget: the same by the machine's profile.
        blades: blades that do not go through, or through too much, in words.
        spoils: what would spoil copies.
        minutes: at the machines, as planned.
        receipt: what the export holds beside what it should; None where none was given.
        faults: lines that are run twice, or in another order than planned, each with its file.
    """

    nominal: tuple[tuple[str, MatOutcome], ...]
    runs: int
    spread: float
    spoils: tuple[Spoils, ...]
    minutes: float
    budget: float = 0.0
    blades: tuple[str, ...] = ()
    receipt: Receipt | None = None
    faults: tuple[str, ...] = ()

    @property
    def troubles(self) -> tuple[str, ...]:
        """What is wrong on a machine without faults, each with its file."""
        receipt = self.receipt.troubles if self.receipt is not None else ()
        return (
            *receipt,
            *self.faults,
            *self.blades,
            *(f"{file}, {why}" for file, mat in self.nominal for why in mat.troubles),
        )


def write_files(plan: Plan, folder: Path) -> None:
    """Write the files a machine runs, and nothing else."""
    (folder / "mats").mkdir(parents=True, exist_ok=True)
    for kind in KINDS:
        spec = OUTPUTS[f"mats/{{mat}}.{kind}"]
        for file in spec.files(plan):
            (folder / file.path).write_bytes(file.write())


def rehearse(
    plan: Plan,
    *,
    seed: int = 0,
    runs: int = 8,
    folder: Path | None = None,
    told: Callable[[float], None] = lambda share: None,
) -> Rehearsal:
    """Rehearse a job.

    Args:
        seed: the first load; the same loads come out the same.
        runs: how many loads are tried with the faults of the machine's profile.
        folder: an export that is run instead of files written for this.
        told: hears now and then what share of it is done, 0 to 1.

    Raises:
        CutterFileError: a file cannot be run.
        OSError: a file cannot be read.
        Stopped: it was asked to stop.
    """
    if folder is not None:
        return _rehearse_in(plan, folder, seed, runs, told, take_receipt(plan, folder))
    with tempfile.TemporaryDirectory(prefix="dechirer-") as made:
        write_files(plan, Path(made))
        return _rehearse_in(plan, Path(made), seed, runs, told)


def _rehearse_in(
    plan: Plan, folder: Path, seed: int, runs: int, told: Callable[[float], None], receipt: Receipt | None = None
) -> Rehearsal:
    takes = plan.job.brief.machine.files
    kinds = RUN_KINDS if receipt is not None else KINDS
    files = [(mat, read) for mat in plan.run.mats for read in _read(mat, folder, takes, kinds)]
    if not files and plan.run.mats:
        raise CutterFileError(f"{folder} holds no files of mats.")
    run_faults = tuple(f"{file.name}, {why}" for mat, file in files for why in find_faults(mat, file))
    steps, nominal = len(files) + max(1, runs // LOADS_AS_ONE), []
    for number, (mat, file) in enumerate(files):
        checkpoint(f"running {file.name}")
        told((number + 1) / steps)
        grams = plan.brief.paper(mat.layout.paper).grammage.value
        nominal.append((file.name, run_mat(mat.layout, file, NOMINAL, grams, goes_through(plan, mat))))
    by_svg = list({mat.layout.id: (mat, file) for mat, file in reversed(files)}.values())[::-1]
    moved: list[Any] = []
    loads: list[tuple[MatRun, Faults]] = []
    for load in range(runs):
        checkpoint(f"load {load + 1}")
        told((len(files) + load / LOADS_AS_ONE) / steps)
        for place, (mat, _) in enumerate(by_svg):
            faults = draw_faults(plan.job.brief.machine, seed + load * 1009 + place)
            loads.append((mat, faults))
            moved += [shift_at(placed.box.middle, faults) for placed in mat.layout.placements]
    spread = float(np.sqrt(np.mean(np.square(moved)))) if moved else 0.0
    spoils = (*find_missed_slits(plan, loads), *find_torn(plan, nominal, loads, seed), *find_rims(plan, seed, runs))
    blades = tuple(dict.fromkeys(words for mat in plan.run.mats for words in find_bad_blades(plan, mat)))
    budget = placing_budget(plan.job.brief.machine, [each for mat, _ in by_svg for each in mat.layout.placements])
    minutes = plan.run.minutes.value
    return Rehearsal(tuple(nominal), runs, spread, spoils, minutes, budget, blades, receipt, run_faults)


def placing_budget(machine: Machine, placements: Sequence[Placement]) -> float:
    """How far places lie from where they belong by a machine's profile: root mean square each way, mm.

    The errors are independent, so their squares add: how the sheet is laid, and by how far a place lies from the corner
    its skew and the carriage's scale. The carriage's play moves lines, not whole pieces.
    """
    if not placements:
        return 0.0
    far = float(np.mean([x**2 + y**2 for x, y in (placed.box.middle for placed in placements)])) / 2
    shares = (machine.laid_to / LEVER_MM) ** 2 + (machine.cuts_to / LEVER_MM) ** 2
    return math.sqrt(machine.laid_to**2 + shares * far)


def _read(mat: MatRun, folder: Path, takes: FilesTaken, kinds: Sequence[str]) -> list[CutterFile]:
    """The files of a mat that are there, as its machine takes them."""
    on, draws = mat.layout.sheet.mat, (1 / takes.across, 1 / takes.down)
    counting = Counting(on.width, on.height, takes.origin, takes.turned, takes.per_mm, draws)
    operations = tuple(each.operation for each in mat.passes)
    paths = [folder / "mats" / f"{mat.layout.id}.{kind}" for kind in kinds]
    return [read_cutter_file(path, counting, operations) for path in paths if path.exists()]


def as_record(rehearsal: Rehearsal) -> dict[str, Any]:
    """A rehearsal as plain data."""
    return {
        "files": [
            {
                "file": name,
                "parts": len(mat.parts),
                "pieces": [
                    {
                        "id": piece.placement,
                        "name": piece.name,
                        "state": piece.state,
                        "planned_mm": [round(each, 4) for each in piece.planned],
                        "measured_mm": [round(each, 4) for each in piece.size],
                        "outline_off_mm": round(piece.off, 4) if np.isfinite(piece.off) else None,
                        "lines": [
                            {
                                "name": line.name,
                                "operation": line.operation,
                                "off_mm": round(line.off, 4) if np.isfinite(line.off) else None,
                            }
                            for line in piece.lines
                        ],
                    }
                    for piece in mat.pieces
                ],
                "troubles": list(mat.troubles),
            }
            for name, mat in rehearsal.nominal
        ],
        "loads": rehearsal.runs,
        "spread_mm": round(rehearsal.spread, 4),
        "spread_by_profile_mm": round(rehearsal.budget, 4),
        "blades": list(rehearsal.blades),
        "receipt": None if rehearsal.receipt is None else to_builtins(rehearsal.receipt),
        "faults": list(rehearsal.faults),
        "troubles": list(rehearsal.troubles),
        "as_planned": not rehearsal.troubles,
        "spoils": [{"what": each.what, "share": each.share, "limit": each.limit} for each in rehearsal.spoils],
        "minutes": round(rehearsal.minutes, 2),
    }
