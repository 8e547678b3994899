"""Moving what is picked on a face by dragging it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QObject, Qt

from dechirer.core.decide.change import Change
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import place_at, place_in_middle
from dechirer.core.dress.several import may_move, move_several
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.document import Document

MIDDLE_MM = 1.0
"""What is dragged this near the middle is kept there."""


class FaceDrag(QObject):
    """Moves the picked item, and what is picked with it by as much, while the pointer drags one of them."""

    def __init__(
        self, document: Document, view: DrawingView, picked: Callable[[], tuple[Dressed | None, list[Dressed]]]
    ) -> None:
        """`picked` gives the picked item and all that are picked, as the plan has them."""
        super().__init__(view)
        self.document, self.view, self._picked = document, view, picked
        self._first: Dressed | None = None
        self._others: list[Dressed] = []
        view.drag_moved.connect(self._move)
        view.drag_ended.connect(self._end)
        view.drag_aborted.connect(self._take_back)

    def begin(self, element: str) -> None:
        """The pointer has taken hold of an element, which has been picked."""
        first, all_picked = self._picked()
        self._first = first if first is not None and element.startswith("item:") and may_move(first.item) else None
        self._others = [each for each in all_picked if first is not None and each.item.id != first.item.id]

    def _move(self, dx: float, dy: float) -> None:
        """Move with the pointer; near the middle a single item is kept there."""
        start = self._first
        item = self.document.job.dress.item(start.item.id) if start is not None else None
        if start is None or item is None:
            return
        self.view.setCursor(Qt.CursorShape.ClosedHandCursor)
        left, top, right, bottom = start.placed.source
        region = start.placed.region
        changes = place_at(item, left + dx, top + dy, (region[0], region[1]), self.document.job.units)
        if self._others:
            self.document.preview(f"{len(self._others) + 1} items moved", self._with_others(start, changes))
            return
        off_x = (left + right) / 2 + dx - (region[0] + region[2]) / 2
        off_y = (top + bottom) / 2 + dy - (region[1] + region[3]) / 2
        if abs(off_x) < MIDDLE_MM and abs(off_y) < MIDDLE_MM:
            changes = place_in_middle(item)
        self.document.preview(f"{item.name} moved", changes)

    def _with_others(self, start: Dressed, changes: tuple[Change, ...]) -> tuple[Change, ...]:
        """The others moved by as much as the first comes to be moved by, which is a round length."""
        place = changes[0].value
        dx = place.x.mm - (start.placed.source[0] - start.placed.region[0])
        dy = place.y.mm - (start.placed.source[1] - start.placed.region[1])
        return (*changes, *move_several(self._others, dx, dy))

    def _end(self) -> None:
        if self._first is not None:
            self._first = None
            self.document.commit()

    def _take_back(self) -> None:
        self._first = None
        self.document.abort()
