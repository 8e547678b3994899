"""Whether an export is whole: every file of every mat, unchanged, of the job as it is; and each run in its order.

What must be there comes from the plan, what was written from the manifest. A kind of file that was never exported is
not missing.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator
from pathlib import Path, PurePosixPath

import shapely
from msgspec import Struct

from dechirer.core.plan import Plan
from dechirer.core.run.run import MatRun
from dechirer.devices.strokes import CutterFile, Stroke
from dechirer.formats.export import list_files
from dechirer.formats.export_folder import UNFINISHED
from dechirer.formats.export_manifest import digest_file, digest_job, read_manifest
from dechirer.formats.output import OUTPUTS, OutputFile

MACHINE_KINDS = (".svg", ".dxf", ".plt")
ROOTS = ("mats/", "passes/")
DOUBLED_MM = 1.0
"""A line that lies on another one of its operation for a shorter way only touches it."""
GRID_MM = 0.001
BESIDE_MM = 0.02


class Receipt(Struct, frozen=True):
    """What an export folder holds beside what it should.

    Attributes:
        missing: files that are not there.
        stale: files of an earlier version of the job.
        extra: files of mats that the job does not have.
        changed: files changed since they were written; they are run as they are.
        unfinished: whether an export into the folder was ended in the middle.
    """

    missing: tuple[str, ...] = ()
    stale: tuple[str, ...] = ()
    extra: tuple[str, ...] = ()
    changed: tuple[str, ...] = ()
    unfinished: bool = False

    @property
    def troubles(self) -> tuple[str, ...]:
        """What is wrong, in words; a changed file is wrong only where running it shows it."""
        return (
            *(("the export was not finished; export once more",) if self.unfinished else ()),
            *(f"{path} is missing" for path in self.missing),
            *(f"{path} was written from an earlier version of the job" for path in self.stale),
            *(f"{path} is of a mat that the job does not have" for path in self.extra),
        )


def take_receipt(plan: Plan, folder: Path) -> Receipt:
    """Compare a folder with what the plan says it must hold."""
    manifest = read_manifest(folder)
    listed = {file.path: file for file in manifest.files} if manifest is not None else {}
    planned = [file for file in list_files(plan) if _is_run(file.path)]
    there = {path for spec in OUTPUTS for path in _glob(folder, spec.pattern()) if _is_run(path)}
    kinds = {_kind_of(path) for path in (*there, *(path for path in listed if _is_run(path)))}
    missing = [file.path for file in planned if file.path not in there and _kind_of(file.path) in kinds]
    names = {file.path for file in planned}
    own_digest = digest_job(plan.job)
    stale, changed = [], []
    for file in planned:
        entry = listed.get(file.path)
        if entry is None or file.path not in there:
            continue
        if digest_file(folder / file.path) != entry.sha256:
            changed.append(file.path)
        elif entry.made_from != own_digest and not _is_as_now(file, folder):
            stale.append(file.path)
    extra = sorted(path for path in there - names if path in listed or _looks_ours(path))
    unfinished = (folder / UNFINISHED).exists()
    return Receipt(tuple(missing), tuple(stale), tuple(extra), tuple(changed), unfinished)


def _is_run(path: str) -> bool:
    return path.startswith(ROOTS) and path.endswith(MACHINE_KINDS)


def _kind_of(path: str) -> str:
    pure = PurePosixPath(path)
    return f"{pure.parts[0]} {pure.suffix}"


def _glob(folder: Path, pattern: str) -> Iterator[str]:
    yield from (path.relative_to(folder).as_posix() for path in folder.glob(pattern))


def _looks_ours(path: str) -> bool:
    """Whether a file without a manifest has a number where our names have one."""
    return all(part.isdigit() for part in PurePosixPath(path).stem.split("-")[1:])


def _is_as_now(file: OutputFile, folder: Path) -> bool:
    """Whether a file holds what would be written now: an edit of words changes no mat."""
    return (folder / file.path).read_bytes() == file.write()


# --- each file -----------------------------------------------------------------------------------------------------


def find_faults(mat: MatRun, file: CutterFile) -> Iterator[str]:
    """Find lines that are run twice and operations that are run in another order than planned, in words."""
    yield from _find_doubled(file)
    yield from _find_order(mat, file)


def _find_doubled(file: CutterFile) -> Iterator[str]:
    if file.name.endswith(".plt"):
        return  # there a second pass is the same stroke again
    for operation in {stroke.operation for stroke in file.strokes}:
        lines = [_line(stroke) for stroke in file.strokes if stroke.operation == operation]
        total = sum(line.length for line in lines)
        once = shapely.union_all(lines, grid_size=GRID_MM).length
        if total - once <= DOUBLED_MM:
            continue
        tree = shapely.STRtree(lines)
        for one, other in tree.query(lines, predicate="dwithin", distance=BESIDE_MM).T.tolist():
            if one < other:
                shared = shapely.intersection(lines[one], lines[other].buffer(BESIDE_MM)).length
                if shared > DOUBLED_MM and shared > 0.5 * min(lines[one].length, lines[other].length):
                    x, y = lines[one].coords[0]
                    yield f"a line to {operation} is run twice, at {x:.0f}, {y:.0f} mm"
                    break


def _find_order(mat: MatRun, file: CutterFile) -> Iterator[str]:
    order: dict[str, int] = {}
    for place, each in enumerate(mat.passes):
        order.setdefault(each.operation, place)
    groups = {stroke.group for stroke in file.strokes} if file.name.endswith(".svg") else {None}
    for group in sorted(groups, key=str):
        run = [stroke.operation for stroke in file.strokes if group is None or stroke.group == group]
        for one, other in itertools.pairwise(run):
            if one in order and other in order and order[other] < order[one] and not _comes_again(mat, one, other):
                where = f" on {group}" if group else ""
                yield f"{other} is run after {one}{where}, planned before it"
                break


def _comes_again(mat: MatRun, one: str, other: str) -> bool:
    """Whether an operation is planned again after another one, as a second foil is."""
    operations: list[str] = [each.operation for each in mat.passes]
    last = max(place for place, operation in enumerate(operations) if operation == other)
    return last > operations.index(one)


def _line(stroke: Stroke) -> shapely.LineString:
    points = stroke.points.tolist()
    return shapely.LineString([*points, points[0]] if stroke.closed else points)
