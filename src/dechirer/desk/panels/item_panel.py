"""What is on a face, what can be done with what is picked there, and the picked item's choices."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QEvent, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMenu, QScrollArea, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from dechirer.core.dress.decisions import Item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import move_item
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.seen import made_with, remove_items
from dechirer.core.dress.several import EDGES, group_of, keep_together, let_apart, line_up, put_in_order, spread
from dechirer.core.plan import Plan
from dechirer.desk.panels.item_form import ItemForm
from dechirer.desk.panels.item_list import ItemList
from dechirer.desk.work.document import Document


class ItemPanel(QWidget):
    """A list of the face's items, topmost first, and the picked one's choices.

    Signals:
        picked(item): an item was chosen. several_picked(): others were picked with it, or no longer.
        wanted(what): `words`, `roles`, `apart` or `gather` of the picked item.
    """

    picked = pyqtSignal(str)
    several_picked = pyqtSignal()
    wanted = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._item: Item | None = None
        self._plan: Plan | None = None
        self._dressed: Dressed | None = None
        self.list = ItemList()
        self.list.picked.connect(self.picked.emit)
        self.list.several_picked.connect(self._pick_several)
        self.list.ordered.connect(self._order)
        self.form = ItemForm(document, self.chosen_items)
        self.form.wanted.connect(self.wanted.emit)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.list.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
        column.addWidget(self.list, 1)
        column.addLayout(self._make_buttons())
        column.addWidget(_Scrolled(self.form), 2)

    def _make_buttons(self) -> QHBoxLayout:
        line = QHBoxLayout()
        line.setSpacing(3)
        for words, name, tip, run in (
            ("▲", "item-forward", "Bring it forward", lambda: self._move(1)),
            ("▼", "item-back", "Put it further back", lambda: self._move(-1)),
            ("Take off", "item-off", "Take it off the face, with what is made of it", self.remove),
        ):
            button = _quiet_button(words, name, tip, run)
            button.setAccessibleName(tip)
            line.addWidget(button)
        self.several = _quiet_button("Line up ▾", "item-several", "Bring what is picked in line, or keep it together")
        self.several.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.several)
        menu.aboutToShow.connect(lambda: self._fill_several(menu))
        self.several.setMenu(menu)
        self.parts = _quiet_button("Parts ▾", "item-parts", "Take it apart, or gather what is of its file")
        self.parts.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        parts = QMenu(self.parts)
        parts.aboutToShow.connect(lambda: self._fill_parts(parts))
        self.parts.setMenu(parts)
        line.addWidget(self.several)
        line.addWidget(self.parts)
        line.addStretch(1)
        return line

    # --- showing ---------------------------------------------------------------------------------------------

    def show_item(self, plan: Plan, spot: str, dressed: Dressed | None, chosen: list[str]) -> None:
        """Show a face's items and the picked one; `chosen` are all that are picked."""
        self._plan, self._dressed, self._item = plan, dressed, dressed.item if dressed else None
        self.list.show_items(plan, spot, self._item.id if self._item is not None else "", chosen)
        self.form.show_item(plan, self._item)
        self._say_off()

    def _say_off(self) -> None:
        """What would go with what is picked stands at the button before it is pressed."""
        off = self.findChild(QToolButton, "item-off")
        items = self.chosen_items()
        more = len(made_with(self.document.job, items)) - len(items)
        self.several.setEnabled(bool(items))
        self.parts.setEnabled(len(items) == 1)
        if off is not None:
            what = f"{len(items)} items" if len(items) > 1 else "it"
            with_it = f", and {more} that {'is' if more == 1 else 'are'} made of {what}" if more else ""
            off.setToolTip(f"Take {what} off the face{with_it}")
            off.setEnabled(bool(items))

    def chosen_items(self) -> list[Item]:
        """The picked items as the job has them now."""
        job = self.document.job
        ids = self.list.chosen or ([self._item.id] if self._item is not None else [])
        return [item for id in ids if (item := job.dress.item(id)) is not None]

    def _chosen_dressed(self) -> list[Dressed]:
        plan = self._plan
        if plan is None:
            return []
        ids = {item.id for item in self.chosen_items()}
        return [each for each in plan.dress.items if each.item.id in ids and not each.placed.drawn.is_empty]

    # --- what can be done ------------------------------------------------------------------------------------

    def _fill_several(self, menu: QMenu) -> None:
        menu.clear()
        dressed, items = self._chosen_dressed(), self.chosen_items()
        menu.addSection(f"{len(items)} picked" if len(items) > 1 else "Pick several: Shift or Ctrl")
        for edge, (title, _) in EDGES.items():
            action = menu.addAction(title)
            if action is not None:
                action.setObjectName(f"line-up-{edge}")
                action.setEnabled(len(dressed) > 1)
                action.triggered.connect(partial(self._line_up, edge))
        menu.addSeparator()
        for title, axis in (("Equal gaps across", 0), ("Equal gaps down", 1)):
            action = menu.addAction(title)
            if action is not None:
                action.setObjectName(f"spread-{axis}")
                action.setEnabled(len(dressed) > 2)
                action.triggered.connect(partial(self._spread, axis))
        menu.addSeparator()
        together = menu.addAction("Keep together: picked and moved as one")
        apart = menu.addAction("No longer together")
        if together is not None and apart is not None:
            together.setObjectName("keep-together")
            together.setEnabled(len(items) > 1)
            together.triggered.connect(self._keep_together)
            apart.setObjectName("let-apart")
            apart.setEnabled(any(item.together for item in items))
            apart.triggered.connect(self._let_apart)

    def _fill_parts(self, menu: QMenu) -> None:
        """What would come of it is said before."""
        menu.clear()
        item, dressed = self._item, self._dressed
        if item is None or dressed is None:
            return
        count = len(items_of(dressed.placed.start)) if item.words is None else 0
        told = f"Take apart: {count} items of one outline each" if count > 1 else "Take apart: it is one outline"
        kin = [
            each
            for each in self.document.job.dress.items
            if item.art and each.art == item.art and each.face == item.face and each.id != item.id and not each.locked
        ]
        gather = f"Gather: {len(kin)} more of its file come beside it" if kin else "Gather: nothing else of its file"
        for title, name, may in ((told, "apart", count > 1), (gather, "gather", bool(kin))):
            action = menu.addAction(title)
            if action is not None:
                action.setObjectName(f"item-{name}")
                action.setEnabled(may)
                action.triggered.connect(lambda _=False, name=name: self.wanted.emit(name))

    def _line_up(self, edge: str) -> None:
        changes = line_up(self._chosen_dressed(), edge)  # type: ignore[arg-type]
        if changes:
            self.document.edit(f"{EDGES[edge][0]} in line", changes)  # type: ignore[index]

    def _spread(self, axis: int) -> None:
        changes = spread(self._chosen_dressed(), axis)
        if changes:
            self.document.edit("Equal gaps", changes)

    def _keep_together(self) -> None:
        items = self.chosen_items()
        if len(items) > 1:
            self.document.edit(f"{len(items)} items together", keep_together(self.document.job, items))

    def _let_apart(self) -> None:
        job = self.document.job
        ids = {id for item in self.chosen_items() for id in group_of(job, item)}
        self.document.edit("No longer together", let_apart([each for each in job.dress.items if each.id in ids]))

    def _pick_several(self) -> None:
        self._say_off()
        self.several_picked.emit()

    def _order(self, ids: list[str]) -> None:
        changes = put_in_order(self.document.job, ids)
        if changes:
            self.document.edit("Another order", changes)

    def _move(self, by: int) -> None:
        item = self.document.job.dress.item(self._item.id) if self._item is not None else None
        if item is not None:
            self.document.edit(f"{item.name} moved", move_item(self.document.job, item, by))

    def remove(self) -> None:
        """Take what is picked off the face."""
        items = self.chosen_items()
        if items:
            names = items[0].name if len(items) == 1 else f"{len(items)} items"
            self.document.edit(f"{names} taken off", remove_items(self.document.job, items))


class _Scrolled(QScrollArea):
    """As high as what it holds where there is room, and scrolled in a low window."""

    def __init__(self, inner: QWidget) -> None:
        super().__init__()
        self.setWidget(inner)
        self.setWidgetResizable(True)
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        inner.installEventFilter(self)

    def sizeHint(self) -> QSize:
        inner = self.widget()
        return inner.sizeHint() if inner is not None else super().sizeHint()

    def minimumSizeHint(self) -> QSize:
        return QSize(super().minimumSizeHint().width(), 60)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()
        return super().eventFilter(watched, event)


def _quiet_button(words: str, name: str, tip: str, run: Callable[[], None] | None = None) -> QToolButton:
    button = QToolButton()
    button.setText(words)
    button.setObjectName(name)
    button.setToolTip(tip)
    button.setProperty("quiet", True)
    if run is not None:
        button.clicked.connect(lambda _=False: run())
    return button
