"""What is on a face, and what the picked item is made as and where it is kept: for what has no place in the drawing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QColorDialog,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.dress.edits import INK, MADE_TITLES, make_as, move_item, ways_for
from dechirer.core.dress.seen import remove_item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.decisions import Item
from dechirer.core.decide.change import Change
from dechirer.core.paper.colours import name_colour
from dechirer.core.plan import Plan
from dechirer.desk.document import Document
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.field_edit import FieldEdit

WITHIN = (("panel", "the whole face"), ("visible", "what is seen closed"), ("safe", "the safe zone"))
ACROSS = tuple({"middle": "middle", "left": "left", "right": "right", "fold": "fold", "edge": "open edge"}.items())
DOWN = tuple({"middle": "middle", "top": "top", "bottom": "bottom", "fold": "fold", "edge": "open edge"}.items())
WAYS_SHORT = {
    "art": "by groups",
    "window": "window",
    "piece": "piece",
    "pen": "drawn",
    "print": "printed",
    "foil": "foiled",
    "kiss": "kiss-cut",
    "score": "scored",
    "perforate": "perforated",
    "guide": "guide",
}
SIZE_FIELDS = (("width", "width"), ("fit_in", "fit, less"))


class ItemPanel(QWidget):
    """A list of the face's items, topmost first, and the picked one's choices.

    Signals:
        picked(item): an item was chosen. `wanted(what)`: `words`, `roles` or `apart` of the picked item.
    """

    picked = pyqtSignal(str)
    wanted = pyqtSignal(str)

    def __init__(self, document: Document, take_field: Callable[[FieldEdit], FieldEdit]) -> None:
        super().__init__()
        self.document, self._take_field = document, take_field
        self._item: Item | None = None
        self._plan: Plan | None = None
        self.list = QListWidget()
        self.list.setObjectName("face-items")
        self.list.setAccessibleName("What is on this face, topmost first")
        self.list.setIconSize(QSize(14, 14))
        self.list.setMinimumHeight(72)
        self.list.currentItemChanged.connect(self._list_moved)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(self.list, 1)
        buttons = QHBoxLayout()
        buttons.setSpacing(3)
        for words, name, tip, run in (
            ("▲", "item-forward", "Bring it forward", lambda: self._move(1)),
            ("▼", "item-back", "Put it further back", lambda: self._move(-1)),
            ("Take off", "item-off", "Take it off the face, with what is made of it", self._remove),
        ):
            button = QToolButton()
            button.setText(words)
            button.setObjectName(name)
            button.setToolTip(tip)
            button.setAccessibleName(tip)
            button.setProperty("quiet", True)
            button.clicked.connect(lambda _=False, run=run: run())
            buttons.addWidget(button)
        buttons.addStretch(1)
        column.addLayout(buttons)
        column.addWidget(self._make_form())

    def _make_form(self) -> QWidget:
        self.form = QWidget()
        grid = QGridLayout(self.form)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(1, 1)
        self.made = self._combo("made", "How it is made")
        self.paper = self._combo("item-paper", "Its paper")
        self.within = self._combo("within", "Placed in")
        self.across = self._combo("across", "Kept across")
        self.down = self._combo("down", "Kept down")
        self.ink = QPushButton()
        self.ink.setObjectName("item-ink")
        self.ink.setAccessibleName("Its ink")
        self.ink.clicked.connect(self._choose_ink)
        self.paper_words = small("on")
        for combo, entries in ((self.within, WITHIN), (self.across, ACROSS), (self.down, DOWN)):
            for data, words in entries:
                combo.addItem(words, data)
        self.mirrored = QCheckBox("mirrored")
        self.mirrored.setObjectName("mirrored")
        self.mirrored.clicked.connect(lambda on: self._edit("Mirrored", "place.mirrored", on))
        self.turn = self._field("place.turn_deg", "turned °")
        self.fields = {name: self._field(name, title) for name, title in SIZE_FIELDS}
        self.off_x = self._field("place.x", "by")
        self.off_y = self._field("place.y", "by")
        self.tip = self._take_field(FieldEdit("dress.pen_tip", "tip of the pen", beside=True))
        self.tip.line.setMinimumHeight(26)
        self.islands = QCheckBox("keep loose middles")
        self.islands.setObjectName("islands")
        self.islands.clicked.connect(lambda on: self._edit("Loose middles", "islands", "keep" if on else "drop"))
        self.more = QPushButton()
        self.more.setObjectName("item-more")
        self.more.clicked.connect(lambda: self.wanted.emit("words" if self._item and self._item.words else "roles"))
        self.apart = QPushButton("Take apart")
        self.apart.setObjectName("take-apart")
        self.apart.setToolTip("Each outline of it becomes an item of its own")
        self.apart.clicked.connect(lambda: self.wanted.emit("apart"))
        rows: tuple[tuple[str, tuple[QWidget, ...]], ...] = (
            ("made", (self.made,)),
            ("", (self.paper_words, self.paper, self.ink)),
            ("in", (self.within,)),
            ("across", (self.across, self.off_x)),
            ("down", (self.down, self.off_y)),
            ("size", (*self.fields.values(),)),
            ("", (self.turn, self.mirrored)),
            ("", (self.islands, self.tip)),
            ("", (self.more, self.apart)),
        )
        self._rows: list[tuple[QLabel, tuple[QWidget, ...]]] = []
        for number, (title, widgets) in enumerate(rows):
            label = QLabel(title)
            self._rows.append((label, widgets))
            label.setFont(theme.font("small"))
            label.setProperty("role", "soft")
            grid.addWidget(label, number, 0)
            line = QHBoxLayout()
            line.setSpacing(5)
            for widget in widgets:
                line.addWidget(widget, 1 if isinstance(widget, (QComboBox, QPushButton)) else 0)
            grid.addLayout(line, number, 1)
        return self.form

    def _combo(self, name: str, title: str) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        box.setAccessibleName(title)
        box.setMinimumContentsLength(5)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.activated.connect(lambda _row, box=box: self._choose(name, title, box.currentData()))
        return box

    def _field(self, name: str, title: str) -> FieldEdit:
        field = self._take_field(FieldEdit(f"dress.items.?.{name}", title, beside=True))
        field.setObjectName(f"field-item-{name}")
        field.line.setObjectName(f"line-item-{name}")
        field.line.setMinimumWidth(66)
        field.line.setMinimumHeight(26)
        field.setProperty("item-field", name)
        return field

    # --- showing ---------------------------------------------------------------------------------------------

    def show_item(self, plan: Plan, spot: str, dressed: Dressed | None) -> None:
        """Show a face's items and the picked one."""
        self._plan, self._item = plan, dressed.item if dressed else None
        self.list.blockSignals(True)
        self.list.clear()
        papers = {paper.id: paper.colour for paper in plan.job.brief.papers}
        for item in reversed([each for each in plan.job.dress.items if each.face == spot]):
            colour = papers.get(item.paper or "", "") if item.made in ("piece", "window") else item.colour or ""
            entry = QListWidgetItem(_swatch(colour), f"{item.name}  ·  {WAYS_SHORT[item.made]}")
            entry.setData(Qt.ItemDataRole.UserRole, item.id)
            self.list.addItem(entry)
            if self._item is not None and item.id == self._item.id:
                self.list.setCurrentItem(entry)
        self.list.blockSignals(False)
        self.form.setEnabled(dressed is not None)
        if self._item is not None:
            self._show_form(plan, self._item)

    def _show_form(self, plan: Plan, item: Item) -> None:
        self.made.clear()
        for made in ways_for(item):
            self.made.addItem(MADE_TITLES[made], made)
        self.made.setCurrentIndex(self.made.findData(item.made))
        self.paper.clear()
        if item.made == "window":
            self.paper.addItem("no backer", None)
        for paper in plan.job.brief.papers:
            self.paper.addItem(_swatch(paper.colour), paper.name, paper.id)
        self.paper.setCurrentIndex(max(0, self.paper.findData(item.paper)))
        papered, inked = item.made in ("piece", "window"), item.made in ("pen", "foil", "print")
        self.paper.setVisible(papered)
        self.paper_words.setVisible(papered or inked)
        self.paper_words.setText("backer" if item.made == "window" else "in" if inked else "on")
        self.ink.setVisible(inked)
        self.ink.setText(name_colour(item.colour) if item.colour else "its own colours")
        self.ink.setIcon(QIcon(_swatch(item.colour or "")))
        place = item.place
        self.within.setCurrentIndex(self.within.findData(place.within))
        self.across.setCurrentIndex(self.across.findData(place.across))
        self.down.setCurrentIndex(self.down.findData(place.down))
        self.mirrored.setChecked(place.mirrored)
        self.islands.setVisible(item.made in ("window", "art"))
        self.islands.setChecked(item.islands == "keep")
        self.tip.setVisible(item.made == "pen")
        self.more.setText("Edit the words…" if item.words else "Roles and size…")
        self.more.setVisible(item.of is None)
        self.apart.setVisible(item.words is None)
        fits_words = item.words is not None and item.words.fit != "size"
        self.fields["fit_in"].setVisible(item.of is None and not fits_words)
        self.fields["width"].setVisible(not fits_words)
        for field in (self.turn, self.off_x, self.off_y, *self.fields.values()):
            path = f"dress.items.{item.id}.{field.property('item-field')}"
            field.set_path(path)
            field.show_text(self.document.field_text(path))
        for label, widgets in self._rows:
            label.setVisible(any(not widget.isHidden() for widget in widgets))
        self.fields["width"].line.setPlaceholderText("own")
        self.fields["fit_in"].line.setPlaceholderText("no")

    # --- editing ---------------------------------------------------------------------------------------------

    def _edit(self, label: str, field: str, value: Any) -> None:
        if self._item is not None:
            self.document.edit(label, [Change(f"dress.items.{self._item.id}.{field}", value)])

    def _choose(self, name: str, title: str, value: Any) -> None:
        if self._item is None:
            return
        if name == "made":
            self.document.edit(f"{self._item.name} {MADE_TITLES[value]}", make_as(self.document.job, self._item, value))
            return
        field = {"item-paper": "paper", "within": "place.within", "across": "place.across", "down": "place.down"}[name]
        self._edit(title, field, value)

    def _choose_ink(self) -> None:
        if self._item is None:
            return
        found = QColorDialog.getColor(QColor(self._item.colour or INK), self, "Ink")
        if found.isValid():
            self._edit("Ink", "colour", found.name())

    def _move(self, by: int) -> None:
        if self._item is not None:
            self.document.edit(f"{self._item.name} moved", move_item(self.document.job, self._item, by))

    def _remove(self) -> None:
        if self._item is not None:
            self.document.edit(f"{self._item.name} taken off", remove_item(self.document.job, self._item))

    def _list_moved(self, entry: QListWidgetItem | None) -> None:
        if entry is not None:
            self.picked.emit(str(entry.data(Qt.ItemDataRole.UserRole)))


def _swatch(colour: str) -> QIcon:
    """A small square of a colour; an empty frame for none."""
    picture = QPixmap(14, 14)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setPen(theme.colour("rule-strong"))
    painter.setBrush(theme.colour(colour) if colour else Qt.BrushStyle.NoBrush)
    painter.drawRect(0, 0, 13, 13)
    painter.end()
    icon = QIcon(picture)
    icon.addPixmap(picture, QIcon.Mode.Selected)  # its colour is what it is for, chosen or not
    return icon
