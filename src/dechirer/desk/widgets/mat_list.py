"""The list of mats."""

from __future__ import annotations

from functools import partial

from msgspec import structs
from PyQt6.QtWidgets import QWidget

from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Points
from dechirer.desk.widgets.picture_list import PICTURE_PX, Line, PictureList
from dechirer.drawing.display import Display, Shape
from dechirer.drawing.scenes.mat import make_mat_scene

MOST_CORNERS = 32


class MatList(PictureList):
    """Emits `chosen(row)` when another mat is picked."""

    def __init__(self, name: str, parent: QWidget | None = None, *, with_picture: bool = True) -> None:
        super().__init__(name, "Mats", parent, picture_px=PICTURE_PX if with_picture else 0)
        self.setMinimumWidth(182)

    def show_mats(self, plan: Plan, lines: list[Line], row: int) -> None:
        """List the mats: a title and two lines of words each. `row` stays chosen."""
        self.show_rows(plan, lines, row, partial(draw_mat, plan))


def draw_mat(plan: Plan, row: int) -> Display:
    """A mat in small: of its curves only as many corners as can be seen there."""
    display = make_mat_scene(plan, plan.lay.layouts[row], bare=True, wordless=True)
    items = tuple(
        structs.replace(item, paths=tuple(_thinned(path) for path in item.paths)) if isinstance(item, Shape) else item
        for item in display.items
    )
    return structs.replace(display, items=items)


def _thinned(path: Points) -> Points:
    """Every so many points of a path, its ends among them."""
    step = len(path) // MOST_CORNERS
    return path if step < 2 else (*path[::step], path[-1])
