"""The list of mats."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial

from msgspec import structs
from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QMenu, QPushButton, QWidget

from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Points
from dechirer.desk.theme import theme
from dechirer.desk.widgets.picture_list import PICTURE_PX, Line, PictureList
from dechirer.drawing.display import Display, Shape
from dechirer.drawing.scenes.mat import make_mat_scene

MOST_CORNERS = 32


class MatList(PictureList):
    """Emits `chosen(row)` when another mat is picked, and `export_wanted(number)` from a mat's context menu."""

    export_wanted = pyqtSignal(int)

    def __init__(self, name: str, parent: QWidget | None = None, *, with_picture: bool = True) -> None:
        super().__init__(name, "Mats", parent, picture_px=PICTURE_PX if with_picture else 0)
        self.setMinimumWidth(182)
        self._numbers: Sequence[int] = ()
        self.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        self.customContextMenuRequested.connect(self._open_menu)

    def _open_menu(self, at: QPoint) -> None:
        index = self.indexAt(at)
        if index.isValid() and index.row() < len(self._numbers):
            self.make_menu(index.row()).popup(self.mapToGlobal(at))

    def make_menu(self, row: int) -> QMenu:
        """Return the context menu of a mat."""
        menu = QMenu(self)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.setObjectName("mat-menu")
        number = self._numbers[row]
        export = menu.addAction(f"Export mat {number}")
        assert export is not None
        export.triggered.connect(lambda: self.export_wanted.emit(number))
        return menu

    def show_mats(self, plan: Plan, lines: list[Line], row: int, numbers: Sequence[int] = ()) -> None:
        """List the mats: a title and two lines of words each, and their numbers. `row` stays chosen."""
        self._numbers = numbers
        self.show_rows(plan, lines, row, partial(draw_mat, plan))


class ExportMatButton(QPushButton):
    """Emits `export_wanted(number)` of the mat that is shown."""

    export_wanted = pyqtSignal(int)

    def __init__(self, name: str) -> None:
        super().__init__("Export this mat")
        self.setObjectName(name)
        self.setFont(theme.font("small"))
        self.setToolTip("Write the files of this mat alone into the job's export folder")
        self._number = 0
        self.clicked.connect(lambda: self.export_wanted.emit(self._number))

    def show_mat(self, number: int) -> None:
        """Show which mat it exports; 0 for none."""
        self._number = number
        self.setEnabled(bool(number))
        self.setAccessibleName(f"Export mat {number}" if number else "Export this mat")


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
