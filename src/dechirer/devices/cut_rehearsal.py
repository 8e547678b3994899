"""A whole job rehearsed: its files are written, run by the simulated cutter, and measured against the plan."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

import numpy as np
from msgspec import Struct

from dechirer.core.plan import Plan
from dechirer.core.press.station import PAGES, PRESS
from dechirer.core.run.run import MatRun
from dechirer.core.stopping import checkpoint
from dechirer.devices.cutter import NOMINAL, Faults, MatOutcome, draw_faults, run_mat, run_place
from dechirer.devices.cutter_files import CutterFile, CutterFileError, read_cutter_file
from dechirer.devices.rehearsal import print_and_read
from dechirer.formats.output import OUTPUTS

KINDS = ("svg", "plt")


class Spoils(Struct, frozen=True):
    """What would spoil copies: what, the share of loads it happened in, and its limit in words."""

    what: str
    share: float
    limit: str


class Rehearsal(Struct, frozen=True):
    """How a job came out.

    Attributes:
        nominal: each mat by each kind of its files, on a machine without faults.
        spread: how far pieces lay from their places over the loads that were tried, root mean square, mm each way.
        spoils: what would spoil copies.
        minutes: at the machines, as planned.
    """

    nominal: tuple[tuple[str, MatOutcome], ...]
    runs: int
    spread: float
    spoils: tuple[Spoils, ...]
    minutes: float

    @property
    def troubles(self) -> tuple[str, ...]:
        """What is wrong on a machine without faults, each with its file."""
        return tuple(f"{file}, {why}" for file, mat in self.nominal for why in mat.troubles)


def write_files(plan: Plan, folder: Path) -> None:
    """Write the files a machine runs, and nothing else."""
    (folder / "mats").mkdir(parents=True, exist_ok=True)
    for kind in KINDS:
        spec = OUTPUTS[f"mats/{{mat}}.{kind}"]
        for name, content in spec.files(plan):
            (folder / name).write_bytes(content())


def rehearse(
    plan: Plan,
    *,
    seed: int = 0,
    runs: int = 8,
    folder: Path | None = None,
) -> Rehearsal:
    """Rehearse a job.

    Args:
        seed: the first load; the same loads come out the same.
        runs: how many loads are tried with the faults of the machine's profile.
        folder: an export that is run instead of files written for this.

    Raises:
        CutterFileError: a file cannot be run.
        OSError: a file cannot be read.
        Stopped: it was asked to stop.
    """
    if folder is not None:
        return _rehearse_in(plan, folder, seed, runs)
    with tempfile.TemporaryDirectory(prefix="dechirer-") as made:
        write_files(plan, Path(made))
        return _rehearse_in(plan, Path(made), seed, runs)


def _rehearse_in(plan: Plan, folder: Path, seed: int, runs: int) -> Rehearsal:
    files = [(mat, read) for mat in plan.run.mats for read in _read(mat, folder)]
    if not files and plan.run.mats:
        raise CutterFileError(f"{folder}: there are no files of mats in it")
    nominal = []
    for mat, file in files:
        checkpoint(f"running {file.name}")
        grams = plan.brief.paper(mat.layout.paper).grammage.value
        nominal.append((file.name, run_mat(mat.layout, file, NOMINAL, grams)))
    by_svg = [(mat, file) for mat, file in files if file.name.endswith(".svg")]
    moved: list[Any] = []
    loads: list[tuple[MatRun, Faults]] = []
    for load in range(runs):
        checkpoint(f"load {load + 1}")
        for place, (mat, _) in enumerate(by_svg):
            faults = draw_faults(plan.job.brief.machine, seed + load * 1009 + place)
            loads.append((mat, faults))
            moved += [_shift(placed.box.middle, faults) for placed in mat.layout.placements]
    spread = float(np.sqrt(np.mean(np.square(moved)))) if moved else 0.0
    spoils = (*_slits(plan, loads), *_rims(plan, seed, runs))
    return Rehearsal(tuple(nominal), runs, spread, spoils, plan.run.minutes.value)


def _read(mat: MatRun, folder: Path) -> list[CutterFile]:
    """The files of a mat that are there."""
    operations = tuple(each.operation for each in mat.passes)
    paths = [folder / "mats" / f"{mat.layout.id}.{kind}" for kind in KINDS]
    return [read_cutter_file(path, mat.layout.sheet.mat.height, operations) for path in paths if path.exists()]


def _shift(place: tuple[float, float], faults: Faults) -> tuple[float, float]:
    """How far what belongs at a place of the mat is run from it."""
    x, y = run_place(place, faults)
    return x - place[0], y - place[1]


def _slits(plan: Plan, loads: list[tuple[MatRun, Faults]]) -> list[Spoils]:
    """In how many loads of blanks a slit misses its corner."""
    figure = plan.figures.get("slits.tolerance")
    on_blanks = [(mat, faults) for mat, faults in loads if mat.layout.is_blank]
    if figure is None or not on_blanks:
        return []
    missed = [
        max(np.hypot(*_shift(placed.box.middle, faults)) for placed in mat.layout.placements) > figure.value
        for mat, faults in on_blanks
    ]
    limit = f"a slit may be {figure.value:.2f} mm beside its place"
    return [Spoils("slits that miss their corner", float(np.mean(missed)), limit)]


def _rims(plan: Plan, seed: int, runs: int) -> list[Spoils]:
    """In how many sheets a white rim shows where ink reaches the cut."""
    press, found = plan.part(PRESS), []
    for page in plan.part(PAGES).pages:
        bleeds = [press.bleed_of(placed.piece.id) for placed in page.placements]
        bleed = min((each for each in bleeds if each > 0), default=0.0)
        if not bleed:
            continue
        worst = [print_and_read(plan, page, seed + run).worst for run in range(min(runs, 6))]
        share = float(np.mean([each > bleed for each in worst])) if worst else 0.0
        found.append(Spoils(f"white rims on page {page.number}", share, f"the bleed is {bleed:.2f} mm"))
    return found


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
        "spoils": [{"what": each.what, "share": each.share, "limit": each.limit} for each in rehearsal.spoils],
        "minutes": round(rehearsal.minutes, 2),
    }
