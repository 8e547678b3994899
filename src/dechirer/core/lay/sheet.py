"""Loading a sheet: how it is turned to fit the mat, and what of it the machine reaches."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import Machine
from dechirer.core.card.mat import Mat
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.decide.values import Size
from dechirer.core.lay.decisions import Lay, Loading
from dechirer.core.shape.outline import Box

LEAST_SHIFT_MM = 0.1


def loading_of(lay: Lay, paper_id: str) -> Loading:
    """How a paper is loaded; the usual way when the job says nothing."""
    return next((each for each in lay.loadings if each.paper == paper_id), Loading(paper_id))


def sheet_set(lay: Lay, paper: Paper) -> Size:
    """The sheet size set at the machine for a paper: the paper's own unless the job says otherwise."""
    return loading_of(lay, paper.id).sheet or paper.sheet


def sizes_of(lay: Lay, paper: Paper) -> tuple[Size, ...]:
    """The sheet sizes a paper may be cut from: the one set at the machine, else its own and the others it is at hand
    in."""
    stated = loading_of(lay, paper.id).sheet
    return (stated,) if stated is not None else (paper.sheet, *paper.other_sheets)


def mat_of(lay: Lay, paper: Paper, machine: Machine) -> Mat:
    """The mat that sheets of a paper are loaded on: the machine's own unless the job says otherwise."""
    return machine.mat(loading_of(lay, paper.id).mat)


def load_sheet(size: Size, lay: Lay, mat: Mat) -> LoadedSheet:
    """Lay a sheet on the mat: upright when it fits so, else the way that leaves the larger room."""
    choices = [_load(size.width.mm, size.height.mm, False, lay.margin.mm, mat)]
    if size.width.mm != size.height.mm:
        choices.append(_load(size.height.mm, size.width.mm, True, lay.margin.mm, mat))
    return min(choices, key=lambda sheet: (sheet.trimmed, -_open_area(sheet.room), sheet.turned))


def load_further_in(size: Size, lay: Lay, mat: Mat) -> LoadedSheet | None:
    """The same sheet moved away from the mat's corner until its own margin begins where the machine's reach does: both
    are lost only once. None where that gains nothing, or where it would not lie on the mat."""
    choices = []
    for width, height, turned in ((size.width.mm, size.height.mm, False), (size.height.mm, size.width.mm, True)):
        left, top = max(0.0, mat.reach.left - lay.margin.mm), max(0.0, mat.reach.top - lay.margin.mm)
        left, top = min(left, mat.width - width), min(top, mat.height - height)
        if min(left, top) < 0 or max(left, top) < LEAST_SHIFT_MM:
            continue
        choices.append(_load(width, height, turned, lay.margin.mm, mat, left, top))
    best = min(choices, key=lambda sheet: (-_open_area(sheet.room), sheet.turned), default=None)
    corner = load_sheet(size, lay, mat)
    return best if best is not None and _open_area(best.room) > _open_area(corner.room) + 1.0 else None


def ways_to_lie(lay: Lay, paper: Paper, machine: Machine, size_number: int = 0) -> list[LoadedSheet]:
    """Where a sheet may lie on the mat, as the maker wants it: the corner first, the larger room last.

    Args:
        size_number: which of the sizes the paper is at hand in.
    """
    sizes, lies = sizes_of(lay, paper), loading_of(lay, paper.id).lies
    size_number = min(size_number, len(sizes) - 1)
    found = _ways_of(sizes[size_number], lies, lay, mat_of(lay, paper, machine))
    return [structs.replace(sheet, size_number=size_number) for sheet in found] if size_number else found


def _ways_of(size: Size, lies: str, lay: Lay, mat: Mat) -> list[LoadedSheet]:
    corner, further = load_sheet(size, lay, mat), load_further_in(size, lay, mat)
    if further is None or lies == "corner":
        return [corner]
    return [further] if lies == "further-in" else [corner, further]


def load_blank(width: float, height: float, mat: Mat) -> LoadedSheet | None:
    """Lay a bought blank of that size (mm) in the mat's corner, the way the machine reaches most of it; None when it
    does not go on the mat."""
    choices = [_load(width, height, False, 0.0, mat), _load(height, width, True, 0.0, mat)]
    whole = [sheet for sheet in choices if not sheet.trimmed]
    return min(whole, key=lambda sheet: (-_open_area(sheet.room), sheet.turned), default=None)


def _load(
    width: float, height: float, turned: bool, margin: float, mat: Mat, left: float = 0.0, top: float = 0.0
) -> LoadedSheet:
    trimmed = width > mat.width + 0.01 or height > mat.height + 0.01
    across, down = max(1, int(width / mat.width + 1e-9)), max(1, int(height / mat.height + 1e-9))
    width, height = min(width, mat.width), min(height, mat.height)
    room = Box(left, top, left + width, top + height).grown(-margin).within(mat.reach)
    return LoadedSheet(width, height, turned, trimmed, room, mat, across * down, left=left, top=top)


def _open_area(room: Box) -> float:
    return max(0.0, room.width) * max(0.0, room.height)
