"""The picked piece of a mat: where it lies and why, and what can be done with it and with its mat."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QCheckBox, QMenu, QPushButton, QVBoxLayout, QWidget

from dechirer.core.card.placed import Placement
from dechirer.core.lay.lay import lay_along_grain
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.moving import Moved, is_locked, lock, move_across, swap, unlock
from dechirer.core.lay.pinning import name_of, unpin_layout
from dechirer.core.lay.wanted import spoil
from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document

BLANK_STAYS = "A blank lies where its slot or the mat’s corner is."


class PiecePanel(QWidget):
    """Edits pins and locks.

    Signals:
        turn_wanted(): the picked piece is to be turned.
        said(words, refused): what there is to say below the mat.
    """

    turn_wanted = pyqtSignal()
    said = pyqtSignal(str, bool)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._plan: Plan | None = None
        self._layout: MatLayout | None = None
        self._placed: Placement | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("The picked piece"))
        self.words = small()
        self.words.setObjectName("piece-words")
        column.addWidget(self.words)
        self.turn = _button("Turn the piece", "turn-piece", self.turn_wanted.emit)
        self.swap, swaps = _menu_button("Swap with", "swap-piece")
        swaps.aboutToShow.connect(lambda: self._fill_swaps(swaps))
        self.move_to, moves = _menu_button("Put on another mat", "move-piece")
        moves.aboutToShow.connect(lambda: self._fill_moves(moves))
        self.spoiled = _button("Spoiled: cut it again", "spoiled", self._spoil)
        self.spoiled.setToolTip("Lay, print and run only what was spoiled")
        for button in (self.turn, self.swap, self.move_to, self.spoiled):
            column.addWidget(button)
        column.addSpacing(4)
        column.addWidget(heading("This mat"))
        self.locked = QCheckBox("Keep it just as it is")
        self.locked.setObjectName("lock-mat")
        self.locked.clicked.connect(self._lock)
        self.unpin = _button("Place its pieces again", "unpin", self._unpin)
        column.addWidget(self.locked)
        column.addWidget(self.unpin)

    def show_piece(self, plan: Plan, layout: MatLayout | None, placed: Placement | None) -> None:
        """Show a piece of a layout, or what can be picked."""
        self._plan, self._layout, self._placed = plan, layout, placed
        is_sheet = layout is not None and not layout.is_blank
        self.turn.setEnabled(placed is not None and is_sheet)
        self.spoiled.setEnabled(placed is not None)
        self.swap.setEnabled(placed is not None and is_sheet and len(layout.placements) > 1)  # type: ignore[union-attr]
        self.move_to.setEnabled(placed is not None and is_sheet and len(self._targets()) > 0)
        self.locked.setEnabled(is_sheet)
        self.locked.setChecked(layout is not None and is_locked(plan.job.lay, layout))
        self.unpin.setEnabled(layout is not None and layout.is_pinned)
        if layout is None or placed is None:
            words = (
                "Click a piece, drag it to pin it elsewhere, or to another mat in the list. R or its handle turns it."
            )
            self.words.setText(BLANK_STAYS if layout is not None and layout.is_blank else words)
            return
        units, turned = plan.job.units, ", turned" if placed.turned else ""
        turned += f", {placed.angle:.4g}° askew" if placed.angle else ""
        across = format_length(placed.box.left - layout.sheet.left, units)
        down = format_length(placed.box.top - layout.sheet.top, units)
        where = f"{name_of(placed)}{turned}: {across} from the sheet's left, {down} from its top."
        self.words.setText(f"{where} {why_here(plan, layout, placed)}")

    def put_on(self, row: int) -> None:
        """Put the picked piece on the mat of a row of the list."""
        plan, source, placed = self._plan, self._layout, self._placed
        if plan is None or source is None or placed is None or not self.document.is_current:
            return
        target = plan.lay.layouts[row]
        if target is not source:
            lay, paper = self.document.job.lay, plan.brief.paper(source.paper).paper
            stands = paper.stands_upright
            may_turn = not stands and not (placed.piece.folds and lay_along_grain(lay, paper))
            self._do(
                f"{name_of(placed).capitalize()} put on mat {target.number}",
                move_across(lay, source, target, placed, may_turn=may_turn),
            )

    def _targets(self) -> list[tuple[int, MatLayout]]:
        layout, plan = self._layout, self._plan
        if layout is None or plan is None:
            return []
        return [
            (row, each)
            for row, each in enumerate(plan.lay.layouts)
            if each is not layout and each.paper == layout.paper and each.face == layout.face and not each.is_blank
        ]

    def _fill_moves(self, menu: QMenu) -> None:
        menu.clear()
        for row, target in self._targets():
            action = menu.addAction(f"Mat {target.number}")
            if action is not None:
                action.triggered.connect(lambda _=False, row=row: self.put_on(row))

    def _fill_swaps(self, menu: QMenu) -> None:
        menu.clear()
        layout, placed = self._layout, self._placed
        for other in layout.placements if layout is not None and placed is not None else ():
            if placed is not None and other.id != placed.id:
                action = menu.addAction(name_of(other))
                if action is not None:
                    action.triggered.connect(lambda _=False, other=other: self._swap(other))

    def _swap(self, other: Placement) -> None:
        layout, placed = self._layout, self._placed
        if layout is not None and placed is not None:
            words = f"{name_of(placed).capitalize()} and {name_of(other)} exchanged"
            self._do(words, swap(self.document.job.lay, layout, placed, other, self.document.job.units))

    def _do(self, words: str, moved: Moved) -> None:
        if isinstance(moved, str):
            self.said.emit(f"{moved} It stays where it was.", True)
        elif self.document.edit(words, moved):
            self.said.emit(f"{words}. Place again lets Dechirer choose.", False)

    def _lock(self, on: bool) -> None:
        layout = self._layout
        if layout is not None:
            own = self.document.job.lay
            words = f"Mat {layout.number} kept as it is" if on else f"Mat {layout.number} laid again"
            self.document.edit(words, lock(own, layout) if on else unlock(own, layout))

    def _unpin(self) -> None:
        layout = self._layout
        if layout is not None:
            own = self.document.job.lay
            changes = unlock(own, layout) if is_locked(own, layout) else (unpin_layout(own, layout),)
            self.document.edit(f"Mat {layout.number} placed again", changes)
            self.said.emit("", False)

    def _spoil(self) -> None:
        if self._placed is not None:
            piece = self._placed.piece
            self.document.edit(f"{piece.name.capitalize()} cut again", [spoil(self.document.job.lay, piece.id)])


def why_here(plan: Plan, layout: MatLayout, placed: Placement) -> str:
    """Why a piece lies where it does, in a sentence."""
    if layout.sheet.slots:
        return "It is pushed to its slot’s side and upper line."
    if layout.is_blank:
        return "Its front lies in the mat’s corner."
    if placed.pinned:
        return "You put it there."
    if any(each.paper == layout.paper and each.face == layout.face for each in plan.job.lay.closer):
        return "A closer lay was looked for, and has it there."
    return "Of the ways that were tried this one fills the sheet most; pieces begin at its upper left."


def _button(words: str, name: str, run: Callable[[], object]) -> QPushButton:
    button = QPushButton(words)
    button.setObjectName(name)
    button.clicked.connect(lambda: run())
    return button


def _menu_button(words: str, name: str) -> tuple[QPushButton, QMenu]:
    button = QPushButton(words)
    button.setObjectName(name)
    menu = QMenu(button)
    button.setMenu(menu)
    return button, menu
