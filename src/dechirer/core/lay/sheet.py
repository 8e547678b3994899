"""Loading a sheet: how it is turned to fit the mat, and what of it the machine reaches."""

from __future__ import annotations

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import Machine
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


def load_sheet(size: Size, lay: Lay, machine: Machine) -> LoadedSheet:
    """Lay a sheet on the mat: upright when it fits so, else the way that leaves the larger room."""
    choices = [_load(size.width.mm, size.height.mm, False, lay.margin.mm, machine)]
    if size.width.mm != size.height.mm:
        choices.append(_load(size.height.mm, size.width.mm, True, lay.margin.mm, machine))
    return min(choices, key=lambda sheet: (sheet.trimmed, -_open_area(sheet.room), sheet.turned))


def load_further_in(size: Size, lay: Lay, machine: Machine) -> LoadedSheet | None:
    """The same sheet moved away from the mat's corner until its own margin begins where the machine's reach does: both
    are lost only once. None where that gains nothing, or where it would not lie on the mat."""
    choices = []
    for width, height, turned in ((size.width.mm, size.height.mm, False), (size.height.mm, size.width.mm, True)):
        left, top = max(0.0, machine.cut_left - lay.margin.mm), max(0.0, machine.cut_top - lay.margin.mm)
        left, top = min(left, machine.mat_width - width), min(top, machine.mat_height - height)
        if min(left, top) < 0 or max(left, top) < LEAST_SHIFT_MM:
            continue
        choices.append(_load(width, height, turned, lay.margin.mm, machine, left, top))
    best = min(choices, key=lambda sheet: (-_open_area(sheet.room), sheet.turned), default=None)
    corner = load_sheet(size, lay, machine)
    return best if best is not None and _open_area(best.room) > _open_area(corner.room) + 1.0 else None


def ways_to_lie(lay: Lay, paper: Paper, machine: Machine) -> list[LoadedSheet]:
    """Where a sheet may lie on the mat, as the maker wants it: the corner first, the larger room last."""
    size, lies = sheet_set(lay, paper), loading_of(lay, paper.id).lies
    corner, further = load_sheet(size, lay, machine), load_further_in(size, lay, machine)
    if further is None or lies == "corner":
        return [corner]
    return [further] if lies == "further-in" else [corner, further]


def load_blank(width: float, height: float, machine: Machine) -> LoadedSheet | None:
    """Lay a bought blank of that size (mm) in the mat's corner, the way the machine reaches most of it; None when it
    does not go on the mat."""
    choices = [_load(width, height, False, 0.0, machine), _load(height, width, True, 0.0, machine)]
    whole = [sheet for sheet in choices if not sheet.trimmed]
    return min(whole, key=lambda sheet: (-_open_area(sheet.room), sheet.turned), default=None)


def _load(
    width: float, height: float, turned: bool, margin: float, machine: Machine, left: float = 0.0, top: float = 0.0
) -> LoadedSheet:
    trimmed = width > machine.mat_width + 0.01 or height > machine.mat_height + 0.01
    across, down = max(1, int(width / machine.mat_width + 1e-9)), max(1, int(height / machine.mat_height + 1e-9))
    width, height = min(width, machine.mat_width), min(height, machine.mat_height)
    room = Box(left, top, left + width, top + height).grown(-margin).within(machine.reach)
    return LoadedSheet(width, height, turned, trimmed, room, across * down, left=left, top=top)


def _open_area(room: Box) -> float:
    return max(0.0, room.width) * max(0.0, room.height)
