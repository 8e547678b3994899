"""What is on a face, topmost first: a picture and a name each, picked several at once, put in order by dragging."""

from __future__ import annotations

from collections.abc import Iterable

from PyQt6.QtCore import QModelIndex, QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QDropEvent, QKeyEvent, QPainter, QPen, QPixmap
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
)

from dechirer.core.dress.decisions import WAYS, Item
from dechirer.core.paper.colours import name_colour
from dechirer.core.plan import Plan
from dechirer.desk.theme import theme
from dechirer.desk.widgets.picture_list import make_picture
from dechirer.drawing.scenes.item import make_item_scene

ROW_PX, WIDE_PX, HIGH_PX = 38, 44, 30
ID = Qt.ItemDataRole.UserRole
UNDER = Qt.ItemDataRole.UserRole + 1
TOGETHER = Qt.ItemDataRole.UserRole + 2


class ItemList(QListWidget):
    """The items of a face.

    Signals:
        picked(item): another one is the current one, by its id.
        several_picked(): others are picked with it.
        ordered(items): they were dragged into another order, topmost first.
    """

    picked = pyqtSignal(str)
    several_picked = pyqtSignal()
    ordered = pyqtSignal(list)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("face-items")
        self.setAccessibleName("What is on this face, topmost first")
        self.setToolTip("Drag to put in order; Shift or Ctrl picks several")
        self.setItemDelegate(_Delegate(self))
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        self.setDragDropMode(QAbstractItemView.DragDropMode.InternalMove)
        self.setDefaultDropAction(Qt.DropAction.MoveAction)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setMinimumHeight(2 * ROW_PX + 4)
        self.currentItemChanged.connect(self._move_on)
        self.itemSelectionChanged.connect(self.several_picked.emit)
        self._plan: Plan | None = None
        self._pictures: dict[str, tuple[object, QPixmap]] = {}
        self._wanted: list[str] = []
        self._next = QTimer(self)  # one picture after the other: art with many nodes would hold up the window
        self._next.setSingleShot(True)
        self._next.timeout.connect(self._make_next)
        self._tell = QTimer(self)
        self._tell.setSingleShot(True)
        self._tell.timeout.connect(lambda: self.ordered.emit(self.ids))

    # --- showing ---------------------------------------------------------------------------------------------

    def show_items(self, plan: Plan, spot: str, current: str, chosen: Iterable[str]) -> None:
        """List a face's items; `current` is the one that is picked, `chosen` are all that are."""
        self._plan = plan
        own = [each for each in reversed(plan.job.dress.items) if each.face == spot]
        self.blockSignals(True)
        if [entry.data(ID) for entry in self._entries()] != [each.id for each in own]:
            self.clear()
            for _ in own:
                self.addItem(QListWidgetItem())
        for item, entry in zip(own, self._entries(), strict=True):
            entry.setText(item.name)
            entry.setData(ID, item.id)
            entry.setData(UNDER, under_words(plan, item))
            entry.setData(TOGETHER, item.together or "")
            said = f"{item.name}: {entry.data(UNDER)}"
            entry.setData(Qt.ItemDataRole.AccessibleTextRole, said)
            entry.setToolTip(said)
        self.choose(current, chosen)
        self.blockSignals(False)
        self.setMaximumHeight(max(2, len(own)) * ROW_PX + 6)

    def choose(self, current: str, chosen: Iterable[str]) -> None:
        """Pick items without telling it."""
        before = self.blockSignals(True)
        self.clearSelection()
        wanted = set(chosen)
        for entry in self._entries():
            if entry.data(ID) == current:
                self.setCurrentItem(entry)
                self.scrollToItem(entry)
        for entry in self._entries():
            entry.setSelected(entry.data(ID) in wanted)
        self.blockSignals(before)

    def _entries(self) -> list[QListWidgetItem]:
        return [entry for row in range(self.count()) if (entry := self.item(row)) is not None]

    @property
    def ids(self) -> list[str]:
        """The items as they are listed."""
        return [str(entry.data(ID)) for entry in self._entries()]

    @property
    def chosen(self) -> list[str]:
        """The picked items as they are listed."""
        return [str(entry.data(ID)) for entry in self._entries() if entry.isSelected()]

    @property
    def is_busy(self) -> bool:
        """Whether a picture is still to be made."""
        return bool(self._wanted)

    def sizeHint(self) -> QSize:
        return QSize(super().sizeHint().width(), max(2, min(5, self.count())) * ROW_PX + 4)

    def picture(self, item: str) -> QPixmap | None:
        """An item in small as it was last drawn; None when it has not been yet. What has changed is made anew next."""
        key = self._key(item)
        made = self._pictures.get(item)
        if (made is None or made[0] != key) and item not in self._wanted:
            self._wanted.append(item)
            self._next.start(0)
        return made[1] if made is not None else None

    def _key(self, item: str) -> object:
        dressed = self._plan.dress.item(item) if self._plan is not None else None
        return dressed and (dressed.placed.serial, dressed.item.made, dressed.item.paper, theme.name())

    def _make_next(self) -> None:
        if self._plan is None or not self._wanted:
            return
        item = self._wanted.pop(0)
        scene = make_item_scene(self._plan, item)
        self._pictures[item] = (
            self._key(item),
            make_picture(scene, WIDE_PX, HIGH_PX, self.devicePixelRatioF()),
        )
        for entry in self._entries():
            if entry.data(ID) == item:
                self.update(self.indexFromItem(entry))
        if self._wanted:
            self._next.start(0)

    # --- picking and moving ----------------------------------------------------------------------------------

    def _move_on(self, entry: QListWidgetItem | None) -> None:
        if entry is not None:
            self.picked.emit(str(entry.data(ID)))

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Let what is dragged lie where it is dropped, and tell the order after the event."""
        before = self.ids
        self.blockSignals(True)
        super().dropEvent(event)
        self.blockSignals(False)
        if self.ids != before:
            self._tell.start(0)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Alt with an arrow moves the current one up or down."""
        if (
            event is not None
            and event.modifiers() & Qt.KeyboardModifier.AltModifier
            and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down)
        ):
            ids, at = self.ids, self.currentRow()
            to = at + (-1 if event.key() == Qt.Key.Key_Up else 1)
            if at >= 0 and 0 <= to < len(ids):
                ids.insert(to, ids.pop(at))
                self.ordered.emit(ids)
            return
        super().keyPressEvent(event)


class _Delegate(QStyledItemDelegate):
    def __init__(self, view: ItemList) -> None:
        super().__init__(view)
        self.view = view

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(80, ROW_PX)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        if painter is None:
            return
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(option.rect).adjusted(1, 1, -1, -1)
        if option.state & QStyle.StateFlag.State_Selected:
            here = self.view.hasFocus() and index.row() == self.view.currentRow()
            painter.setPen(QPen(theme.colour("accent"), 2.0 if here else 1.0))
            painter.setBrush(theme.colour("accent-wash"))
            painter.drawRoundedRect(box, 4, 4)
        if index.data(TOGETHER):  # a bar along what is kept together
            painter.fillRect(QRectF(box.left() + 1, box.top() + 3, 3, box.height() - 6), theme.colour("accent"))
        picture = self.view.picture(str(index.data(ID)))
        if picture is not None:
            painter.drawPixmap(int(box.left()) + 6, int(box.top()) + 3, picture)
        left = box.left() + WIDE_PX + 14
        wide = box.right() - left - 4
        for text, style, role, top in (
            (index.data(Qt.ItemDataRole.DisplayRole), "body", "ink", 1.0),
            (index.data(UNDER), "small", "soft", 18.0),
        ):
            painter.setFont(theme.font(style))
            painter.setPen(theme.colour(role))
            shown = painter.fontMetrics().elidedText(str(text), Qt.TextElideMode.ElideRight, int(wide))
            painter.drawText(QRectF(left, box.top() + top, wide, 17), Qt.AlignmentFlag.AlignVCenter, shown)
        painter.restore()


def under_words(plan: Plan, item: Item) -> str:
    """What an item is made as and of, in a line."""
    words = [WAYS[item.made].short]
    if item.made in ("piece", "window") and item.paper is not None:
        names = {paper.id: paper.name for paper in plan.job.brief.papers}
        words.append(f"{'backed with ' if item.made == 'window' else ''}{names.get(item.paper, item.paper)}")
    elif WAYS[item.made].inked and item.colour:
        words.append(name_colour(item.colour))
    if item.together:
        words.append("kept together")
    return ", ".join(words)
