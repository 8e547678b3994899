"""Lay: what goes on each mat, which way the sheet goes in, and pieces to drag."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QKeySequence, QShortcut
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QVBoxLayout, QWidget

from dechirer.core.card.placed import Placement
from dechirer.core.lay.decisions import FACES
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.pinning import explain_obstacle, move_placement, name_of, pin_layout, snap_to, turn_towards
from dechirer.core.length import format_size
from dechirer.core.plan import Plan
from dechirer.core.words import plural
from dechirer.desk.panels.closer_panel import CloserPanel
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.panels.guests_panel import GuestsPanel
from dechirer.desk.panels.loading_panel import LoadingPanel
from dechirer.desk.panels.piece_panel import BLANK_STAYS, PiecePanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choice_column import ChoiceColumn, title_line
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.mat_list import ExportMatButton, MatList
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.mat import TURN_HANDLE, handle_of, make_mat_scene

SNAP_PX = 7


class LayStation(Station):
    """The mats."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._row = 0
        self._picked_piece = ""
        self._moved: Placement | None = None
        self._dragged_in: Plan | None = None
        self._obstacle, self._turning = "", False
        self.mats = MatList("lay-mats")
        self.mats.chosen.connect(self._choose_mat)
        self.mats.export_wanted.connect(lambda number: self.action_wanted.emit(f"export-mat-{number}"))
        self.export = ExportMatButton("lay-export-mat")
        self.export.export_wanted.connect(lambda number: self.action_wanted.emit(f"export-mat-{number}"))
        self.mat = self.take_view(DrawingView("lay-mat"))
        self.mat.draggable = True
        self.mat.element_picked.connect(self._pick_piece)
        self.mat.drag_began.connect(self._pick_piece)
        self.mat.drag_moved.connect(self._drag)
        self.mat.drag_ended.connect(self._drop)
        self.mat.drag_aborted.connect(self._take_back)
        turn_key = QShortcut(QKeySequence("R"), self.mat)
        turn_key.setContext(Qt.ShortcutContext.WidgetShortcut)
        turn_key.activated.connect(self.turn_picked)
        self.all_mats = FieldPanel(document, "lay", shape="column")
        self.loading = LoadingPanel(document)
        self.take_field(self.loading.sheet)
        self.take_field(self.loading.most)
        self.guests = GuestsPanel(document)
        self.closer = CloserPanel(document, lambda: self._moved is not None)
        self.piece = PiecePanel(document)
        self.piece.turn_wanted.connect(self.turn_picked)
        self.piece.said.connect(lambda words, refused: self._say(words, refused=refused))
        self.said = QLabel()
        self.said.setObjectName("lay-said")
        self.said.setWordWrap(True)
        self.title = heading("")
        self.under = small()
        self._arrange()

    def _arrange(self) -> None:
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 10, 14, 8)
        left = QVBoxLayout()
        left.addWidget(heading("Mats"))
        left.addWidget(self.mats, 1)
        left.addWidget(self.export)
        line.addLayout(left, 25)
        middle = QVBoxLayout()
        middle.setSpacing(4)
        middle.addLayout(title_line(self.title, self.under))
        middle.addWidget(self.mat, 1)
        middle.addWidget(self.said)
        line.addLayout(middle, 57)
        column = QWidget()
        right = QVBoxLayout(column)
        right.setContentsMargins(0, 0, 6, 0)
        right.setSpacing(6)
        right.addWidget(self.loading)
        right.addSpacing(10)
        right.addWidget(heading("All mats"))
        right.addWidget(self.all_mats)
        right.addWidget(self.closer)
        right.addSpacing(10)
        right.addWidget(self.guests)
        right.addSpacing(10)
        right.addWidget(self.piece)
        right.addStretch(1)
        self.choices = ChoiceColumn("lay-choices", column)
        line.addWidget(self.choices, 20)

    @property
    def layout_shown(self) -> MatLayout | None:
        """The layout that is open, or None when there is nothing to cut."""
        layouts = self.plan.lay.layouts if self.plan else ()
        return layouts[min(self._row, len(layouts) - 1)] if layouts else None

    def refresh(self) -> None:
        plan = self.plan
        if plan is None:
            return
        if self._moved is not None and self._dragged_in is not plan:
            self._moved, self._obstacle = None, ""  # another plan came in the middle of a drag, perhaps another job's
        self._row = min(self._row, max(0, len(plan.lay.layouts) - 1))
        self.mats.show_mats(
            plan,
            [mat_lines(plan, layout) for layout in plan.lay.layouts],
            self._row,
            [layout.number for layout in plan.lay.layouts],
        )
        self.all_mats.show_job()
        self.closer.show_plan(plan)
        self.guests.show_job(plan.job)
        self.choices.widen()
        layout = self.layout_shown
        self.export.show_mat(layout.number if layout is not None else 0)
        self.loading.show_layout(plan, layout)
        if layout is None:
            self.title.setText("Nothing lies on a mat")
            self.under.setText("see the findings")
            return
        paper = plan.brief.paper(layout.paper).paper
        times = "once" if layout.repeats == 1 else f"{layout.repeats} times"
        self.title.setText(f"Mat {layout.number}")
        what = f"an offcut of {paper.name}" if layout.sheet.offcut else paper.name
        if layout.sheet.slots:
            count, sheet = len(layout.placements), layout.sheet
            size = format_size(sheet.width, sheet.height, plan.job.units)
            what = plural(count, "blank")
            self.under.setText(f"{times} · {count} {what} of {size} in slots, outside up, backs under the mat")
        elif layout.is_blank:
            self.under.setText(f"{times} · a bought blank of {paper.name}, opened flat, {FACES[layout.face]}")
        else:
            self.under.setText(f"cut {times} · {what}, {FACES[layout.face]} · {layout.share.text()} of the sheet used")
        self._draw()

    def _draw(self) -> None:
        plan, layout = self.plan, self.layout_shown
        if plan is None or layout is None:
            return
        moved = self._moved
        scene = make_mat_scene(plan, layout, picked=self._picked_piece, moved=moved, refused=bool(self._obstacle))
        self.mat.set_display(scene, layout.id)
        placed = moved or next((each for each in layout.placements if each.id == self._picked_piece), None)
        self.piece.show_piece(plan, layout, placed)

    def end(self) -> None:
        """The window closes: what is looked for is given up."""
        self.closer.end()
        self.guests.end()

    def owns(self, element: str) -> bool:
        return self.plan is not None and any(layout.id == element for layout in self.plan.lay.layouts)

    def point_at(self, element: str) -> None:
        layout_id, _, piece = element.partition("/")
        for row, layout in enumerate(self.plan.lay.layouts if self.plan else ()):
            if layout.id == layout_id:
                self._row = row
                self._picked_piece = piece
                self.refresh()

    def _choose_mat(self, row: int) -> None:
        if row != self._row:
            self._row = row
            self._picked_piece = ""
            self._say("")
            self.refresh()

    def _pick_piece(self, placement: str) -> None:
        self._turning = placement == TURN_HANDLE
        if not self._turning:
            self._picked_piece = placement
        self._draw()

    # --- dragging: begin, preview, then commit or refuse; a preview never enters the history -----------------

    def _drag(self, dx: float, dy: float) -> None:
        layout = self.layout_shown
        if layout is None or self.plan is None:
            return
        start = next((each for each in layout.placements if each.id == self._picked_piece), None)
        if start is None:
            return
        if layout.is_blank:
            self._say(BLANK_STAYS, refused=True)
            return
        spacing = self.plan.job.lay.spacing.mm
        if self._turning:
            self._moved = turn_towards(layout, start, handle_of(start), (dx, dy))
        else:
            moved = move_placement(layout, start.id, start.box.left + dx, start.box.top + dy)
            x, y = snap_to(layout, moved, spacing, SNAP_PX / self.mat.viewport_now.scale)
            self._moved = move_placement(layout, start.id, x, y)
        self._dragged_in = self.plan
        self._obstacle = explain_obstacle(layout, self._moved, spacing, self.plan.job.units)
        self._say(self._obstacle, refused=bool(self._obstacle))
        self._draw()

    def _drop(self) -> None:
        moved, self._moved = self._moved, None
        row = self._row_under_pointer() if not self._turning else None
        self._turning = False
        if row is not None and moved is not None:
            self.piece.put_on(row)
        elif moved is not None:
            self._put(moved)
        self._obstacle = ""
        self._draw()

    def _row_under_pointer(self) -> int | None:
        """The mat of the list that a piece is let go over."""
        viewport = self.mats.viewport()
        if viewport is None:
            return None
        at = viewport.mapFromGlobal(self.mat.mapToGlobal(self.mat.pointer.toPoint()))
        index = self.mats.indexAt(at)
        return index.row() if index.isValid() and viewport.rect().contains(at) else None

    def _take_back(self) -> None:
        """Escape: the piece lies where it lay."""
        self._moved, self._obstacle = None, ""
        self._say("")
        self._draw()

    def _put(self, moved: Placement) -> None:
        """Pin a piece where it was put, or say why not."""
        layout = self.layout_shown
        if layout is not None and layout.is_blank:
            self._say(BLANK_STAYS, refused=True)
            return
        if layout is None or self.plan is None or not self.document.is_current:
            self._say("Still updating. Drop it again in a moment.", refused=True)
            return
        why = explain_obstacle(layout, moved, self.plan.job.lay.spacing.mm, self.plan.job.units)
        if why:
            self._say(f"{why} It stays where it was.", refused=True)
            return
        self.document.edit(f"{name_of(moved).capitalize()} pinned", [pin_layout(self.document.job.lay, layout, moved)])
        self._say("Pinned. Place again lets Dechirer choose.")

    def turn_picked(self) -> None:
        """Turn the picked piece by 90 degrees about its corner."""
        layout = self.layout_shown
        if layout is None:
            return
        start = next((each for each in layout.placements if each.id == self._picked_piece), None)
        if start is not None:
            self._put(move_placement(layout, start.id, start.box.left, start.box.top, turned=not start.turned))

    def _say(self, words: str, *, refused: bool = False) -> None:
        self.said.setProperty("role", "stop" if refused else "soft")
        style = self.said.style()
        if style is not None:
            style.polish(self.said)  # makes Qt read the property again
        self.said.setText(words)


def mat_lines(plan: Any, layout: MatLayout) -> tuple[str, str, str]:
    """A mat in three lines of words."""
    counts: dict[str, int] = {}
    for placed in layout.placements:
        counts[placed.piece.name] = counts.get(placed.piece.name, 0) + 1
    pieces = ", ".join(f"{count} × {name}" for name, count in counts.items())
    paper = plan.brief.paper(layout.paper).paper.name
    return f"Mat {layout.number} × {layout.repeats}", pieces, f"{paper} · {layout.share.text()}"


VIEW = LayStation
