"""The list of mats."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QWidget

from dechirer.core.plan import Plan
from dechirer.desk.widgets.picture_list import PICTURE_PX, Line, PictureList
from dechirer.drawing.display import Display
from dechirer.drawing.scenes.mat import make_mat_scene


class MatList(PictureList):
    """Emits `chosen(row)` when another mat is picked."""

    def __init__(self, name: str, parent: QWidget | None = None, *, with_picture: bool = True) -> None:
        super().__init__(name, "Mats", parent, picture_px=PICTURE_PX if with_picture else 0)
        self.setMinimumWidth(190)

    def show_mats(self, plan: Plan, lines: list[Line], row: int) -> None:
        """List the mats: a title and two lines of words each. `row` stays chosen."""
        self.show_rows(plan, lines, row, partial(draw_mat, plan))


def draw_mat(plan: Plan, row: int) -> Display:
    """A mat in small."""
    return make_mat_scene(plan, plan.lay.layouts[row], bare=True, wordless=True)
