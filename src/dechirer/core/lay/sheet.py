"""The sheet on the mat: how it is turned to fit, what of it the machine reaches, which edge goes in first."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.job.machine import Machine
from dechirer.core.job.model import Lay, Loading, Paper
from dechirer.core.job.values import Size
from dechirer.core.shape.outline import Box


class LoadedSheet(Struct, frozen=True):
    """A sheet as it lies on the mat, its top left corner in the mat's. Lengths in mm.

    `room` is where pieces may lie: what the carriage reaches, less the margin round the sheet's edge.
    `trimmed` says that the sheet is larger than the mat and has to be cut down to it first.
    """

    width: float
    height: float
    turned: bool
    trimmed: bool
    room: Box

    @property
    def first_edge(self) -> str:
        """Which edge goes in first, in words."""
        if abs(self.width - self.height) < 0.5:
            return "any edge, the sheet is square"
        return "a short edge" if self.width < self.height else "a long edge"


def loading_of(lay: Lay, paper_id: str) -> Loading:
    """How a paper is loaded; the usual way when the job says nothing."""
    return next((each for each in lay.loadings if each.paper == paper_id), Loading(paper_id))


def sheet_set(lay: Lay, paper: Paper) -> Size:
    """The sheet size set at the machine for a paper: the paper's own unless the job says otherwise."""
    return loading_of(lay, paper.id).sheet or paper.sheet


def load_sheet(size: Size, lay: Lay, machine: Machine) -> LoadedSheet:
    """Lay a sheet on the mat: upright when it fits so, else the way that leaves the larger room."""
    choices = [_load(size.width.mm, size.height.mm, False, lay, machine)]
    if size.width.mm != size.height.mm:
        choices.append(_load(size.height.mm, size.width.mm, True, lay, machine))
    return min(choices, key=lambda sheet: (sheet.trimmed, -_open_area(sheet.room), sheet.turned))


def _load(width: float, height: float, turned: bool, lay: Lay, machine: Machine) -> LoadedSheet:
    trimmed = width > machine.mat_width + 0.01 or height > machine.mat_height + 0.01
    width, height = min(width, machine.mat_width), min(height, machine.mat_height)
    margin = lay.margin.mm
    room = Box(
        max(machine.cut_left, margin),
        max(machine.cut_top, margin),
        min(machine.cut_left + machine.cut_width, width - margin),
        min(machine.cut_top + machine.cut_height, height - margin),
    )
    return LoadedSheet(width, height, turned, trimmed, room)


def _open_area(room: Box) -> float:
    return max(0.0, room.width) * max(0.0, room.height)
