"""What is on a face, and what the picked item is made as and where it is kept: for what has no place in the drawing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, cast

from PyQt6.QtCore import QEvent, QObject, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QColorDialog,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import AT_HAND, WAYS, Item, Made
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import INK, keep_colour, make_as, move_item, palette_of, ways_for
from dechirer.core.dress.seen import remove_item
from dechirer.core.paper.colours import name_colour
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import small
from dechirer.desk.work.document import Document

FIELDS = (
    "width",
    "height",
    "fit_in",
    "group",
    "part",
    "anchor",
    "place",
    "margin",
    "backer",
    "backer_size",
    "foam",
    "spares",
    "mate",
    "locked",
    "at_hand",
    "thick",
    "grams",
)


class ItemPanel(QWidget):
    """A list of the face's items, topmost first, and the picked one's choices.

    Signals:
        picked(item): an item was chosen. `wanted(what)`: `words`, `roles`, `apart` or `gather` of the picked item.
    """

    picked = pyqtSignal(str)
    wanted = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._item: Item | None = None
        self._plan: Plan | None = None
        self.list = QListWidget()
        self.list.setObjectName("face-items")
        self.list.setAccessibleName("What is on this face, topmost first")
        self.list.setIconSize(QSize(14, 14))
        self.list.setMinimumHeight(60)
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
            button = _quiet_button(words, name, tip, run)
            button.setAccessibleName(tip)
            buttons.addWidget(button)
        tip = "Each outline of it becomes an item of its own"
        self.apart = _quiet_button("Take apart", "take-apart", tip, lambda: self.wanted.emit("apart"))
        tip = "What else is of its file on this face comes to where the file has it, at the scale of this one"
        self.gather = _quiet_button("Gather", "gather", tip, lambda: self.wanted.emit("gather"))
        buttons.addWidget(self.apart)
        buttons.addWidget(self.gather)
        buttons.addStretch(1)
        column.addLayout(buttons)
        column.addWidget(_Scrolled(self._make_form()))

    def _make_form(self) -> QWidget:
        self.form = QWidget()
        column = QVBoxLayout(self.form)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.made = self._combo("made", "How it is made", self._choose_made)
        self.paper = self._combo("item-paper", "Its paper", lambda value: self._edit("Paper", "paper", value))
        self.ink = QPushButton()
        self.ink.setObjectName("item-ink")
        self.ink.setAccessibleName("Its ink")
        self.ink.clicked.connect(self._choose_ink)
        self.paper_words = small("on")
        self.fields: FieldPanel | None = None
        self.places = QVBoxLayout()
        self.tip = FieldPanel(self.document, "dress", only=("pen_tip",))
        self.islands = QCheckBox("keep loose middles")
        self.islands.setObjectName("islands")
        self.islands.clicked.connect(lambda on: self._edit("Loose middles", "islands", "keep" if on else "drop"))
        self.more = QPushButton()
        self.more.setObjectName("item-more")
        self.more.clicked.connect(lambda: self.wanted.emit("words" if self._item and self._item.words else "roles"))
        self.palette_button = QToolButton()
        self.palette_button.setObjectName("item-palette")
        self.palette_button.setText("▾")
        self.palette_button.setToolTip("A colour that the job has already, or one kept with it")
        self.palette_button.setAccessibleName("A colour of this job")
        self.palette_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.colours = QMenu(self.palette_button)
        self.colours.aboutToShow.connect(self._fill_colours)
        self.palette_button.setMenu(self.colours)
        for widgets in ((self.made,), (self.paper_words, self.paper, self.ink, self.palette_button)):
            line = QHBoxLayout()
            line.setSpacing(5)
            for widget in widgets:
                line.addWidget(widget, 0 if isinstance(widget, QLabel | QToolButton) else 1)
            column.addLayout(line)
        column.addLayout(self.places)
        column.addWidget(self.islands)
        column.addWidget(self.tip)
        column.addWidget(self.more)
        column.addStretch(1)
        return self.form

    def _combo(self, name: str, title: str, choose: Callable[[Any], None]) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        box.setAccessibleName(title)
        box.setMinimumContentsLength(5)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.activated.connect(lambda _row: choose(box.currentData()))
        return box

    # --- showing ---------------------------------------------------------------------------------------------

    def show_item(self, plan: Plan, spot: str, dressed: Dressed | None) -> None:
        """Show a face's items and the picked one."""
        self._plan, self._item = plan, dressed.item if dressed else None
        self.list.blockSignals(True)
        self.list.clear()
        papers = {paper.id: paper.colour for paper in plan.job.brief.papers}
        for item in reversed([each for each in plan.job.dress.items if each.face == spot]):
            colour = papers.get(item.paper or "", "") if item.made in ("piece", "window") else item.colour or ""
            entry = QListWidgetItem(_swatch(colour), f"{item.name}  ·  {WAYS[item.made].short}")
            entry.setData(Qt.ItemDataRole.UserRole, item.id)
            self.list.addItem(entry)
            if self._item is not None and item.id == self._item.id:
                self.list.setCurrentItem(entry)
                self.list.scrollToItem(entry)
        self.list.blockSignals(False)
        self.form.setEnabled(dressed is not None)
        if self._item is not None:
            self._show_form(plan, self._item)

    def _show_form(self, plan: Plan, item: Item) -> None:
        self.made.clear()
        for made in ways_for(item):
            self.made.addItem(WAYS[made].title, made)
        self.made.setCurrentIndex(self.made.findData(item.made))
        self.paper.clear()
        if item.made == "window":
            self.paper.addItem("no backer", None)
        for paper in plan.job.brief.papers:
            self.paper.addItem(_swatch(paper.colour), paper.name, paper.id)
        self.paper.setCurrentIndex(max(0, self.paper.findData(item.paper)))
        papered, inked = item.made in ("piece", "window"), WAYS[item.made].inked
        self.paper.setVisible(papered)
        self.paper_words.setVisible(papered or inked)
        self.paper_words.setText("backer" if item.made == "window" else "in" if inked else "on")
        self.ink.setVisible(inked)
        self.palette_button.setVisible(inked or item.made in AT_HAND)
        self.ink.setText(name_colour(item.colour) if item.colour else "its own colours")
        self.ink.setIcon(QIcon(_swatch(item.colour or "")))
        self.islands.setVisible(item.made in ("window", "art"))
        self.islands.setChecked(item.islands == "keep")
        self.tip.setVisible(item.made == "pen")
        self.tip.show_job()
        self.more.setText("Edit the words…" if item.words else "Roles and size…")
        self.more.setVisible(item.of is None)
        self.apart.setEnabled(item.words is None)
        self.gather.setEnabled(item.art is not None)
        path = f"dress.items.{item.id}"
        if self.fields is None:
            self.fields = FieldPanel(self.document, path, only=FIELDS, shape="grid", items=self._others)
            self.places.addWidget(self.fields)
        else:
            self.fields.set_path(path)

    def _others(self) -> tuple[tuple[str, str], ...]:
        """The other items, for what asks for one."""
        mine = self._item.id if self._item is not None else ""
        return tuple((each.id, each.name) for each in self.document.job.dress.items if each.id != mine)

    # --- editing ---------------------------------------------------------------------------------------------

    def _edit(self, label: str, field: str, value: Any) -> None:
        item = self._now()
        if item is not None:
            self.document.edit(label, [Change(f"dress.items.{item.id}.{field}", value)])

    def _choose_made(self, made: Any) -> None:
        item = self._now()
        if item is not None:
            self.document.edit(f"{item.name} {WAYS[cast(Made, made)].title}", make_as(self.document.job, item, made))

    def _now(self) -> Item | None:
        """The picked item as the job has it now; None when it is gone."""
        return self.document.job.dress.item(self._item.id) if self._item is not None else None

    def _choose_ink(self) -> None:
        if self._item is None:
            return
        found = QColorDialog.getColor(QColor(self._item.colour or INK), self, "Ink")
        if found.isValid():
            self._edit("Ink", "colour", found.name())

    def _fill_colours(self) -> None:
        """The colours of the job, and a way to keep the one in use."""
        self.colours.clear()
        for colour in palette_of(self.document.job):
            action = self.colours.addAction(_swatch(colour), name_colour(colour))
            if action is not None:
                action.triggered.connect(lambda _=False, colour=colour: self._edit("Ink", "colour", colour))
        item = self._now()
        self.colours.addSeparator()
        keep = self.colours.addAction("Keep this colour with the job")
        if keep is not None:
            keep.setEnabled(item is not None and item.colour is not None)
            keep.triggered.connect(self._keep_colour)

    def _keep_colour(self) -> None:
        item = self._now()
        if item is not None and item.colour is not None:
            self.document.edit("Colour kept", keep_colour(self.document.job, item.colour))

    def _move(self, by: int) -> None:
        item = self._now()
        if item is not None:
            self.document.edit(f"{item.name} moved", move_item(self.document.job, item, by))

    def _remove(self) -> None:
        item = self._now()
        if item is not None:
            self.document.edit(f"{item.name} taken off", remove_item(self.document.job, item))

    def _list_moved(self, entry: QListWidgetItem | None) -> None:
        if entry is not None:
            self.picked.emit(str(entry.data(Qt.ItemDataRole.UserRole)))


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


def _quiet_button(words: str, name: str, tip: str, run: Callable[[], None]) -> QToolButton:
    button = QToolButton()
    button.setText(words)
    button.setObjectName(name)
    button.setToolTip(tip)
    button.setProperty("quiet", True)
    button.clicked.connect(lambda _=False: run())
    return button
