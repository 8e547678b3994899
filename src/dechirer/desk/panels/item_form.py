"""What the picked item is made as, in what, how large, and where it is kept: for what has no place in the drawing."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, cast

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QColorDialog,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change, PathError
from dechirer.core.dress.decisions import AT_HAND, WAYS, Item, Made
from dechirer.core.dress.edits import INK, keep_colour, make_as, palette_of, ways_for
from dechirer.core.job.edit import has_effect
from dechirer.core.paper.colours import name_colour
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_panel import FieldPanel, rows_of
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import small
from dechirer.desk.work.document import Document

SECTIONS: tuple[tuple[str, str, tuple[str, ...]], ...] = (
    ("own", "Backer and weight", ("margin", "backer", "backer_size", "thick", "grams")),
    ("size", "Size", ("width", "height", "fit_in", "same_as")),
    ("place", "Place", ("place", "anchor")),
    ("more", "More", ("foam", "spares", "at_hand", "group", "part", "mate", "locked")),
)
"""The fields of an item in sections that fold away; the last one is folded at first."""


class Section(QWidget):
    """Some fields under a title, folded away by a click on it; the fields are made when they are first shown."""

    def __init__(
        self,
        document: Document,
        name: str,
        title: str,
        only: tuple[str, ...],
        items: Callable[[], tuple[tuple[str, str], ...]],
    ) -> None:
        super().__init__()
        self.document, self._title, self._only, self._items = document, title, only, items
        self._path = ""
        self.panel: FieldPanel | None = None
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(2)
        self.head = QToolButton()
        self.head.setObjectName(f"section-{name}")
        self.head.setFont(theme.font("strong"))
        self.head.setProperty("quiet", True)
        self.head.setStyleSheet("padding: 2px; text-align: left;")
        self.head.clicked.connect(lambda _=False: self.open(not self.is_open))
        self._column.addWidget(self.head)
        self._making = QTimer(self)
        self._making.setSingleShot(True)
        self._making.setInterval(0)
        self._making.timeout.connect(self._make)
        self.is_open = name != "more"
        self._say()

    def open(self, is_open: bool) -> None:
        """Show the fields, or fold them away."""
        self.is_open = is_open
        self._say()
        self.show_path(self._path)

    def show_path(self, path: str) -> None:
        """Show the fields of the item at a path of the job; a section of which none applies is not there."""
        self._path = path
        if not path:
            return
        job = self.document.job
        try:
            rows = [row for row in rows_of(job, path, self._only) if has_effect(job, row.path)]
        except PathError:  # it has just been taken off
            rows = []
        self.setVisible(bool(rows))
        if self.is_open and self.panel is None and rows:
            self._making.start()  # one section after the other: what is made for the first time takes long
        if self.panel is not None:
            self.panel.setVisible(self.is_open)
            if self.is_open:
                self.panel.set_path(path)

    def _make(self) -> None:
        if self.panel is None and self.is_open and self._path:
            self.panel = FieldPanel(self.document, self._path, only=self._only, shape="grid", items=self._items)
            self._column.addWidget(self.panel)

    def _say(self) -> None:
        self.head.setText(f"{'▾' if self.is_open else '▸'} {self._title}")
        self.head.setAccessibleName(f"{self._title}: {'fold away' if self.is_open else 'show'}")


class ItemForm(QWidget):
    """The picked item's choices. What it is made as, on and in holds for all that are picked; the rest for that one.

    Signals:
        wanted(what): `words` or `roles` of the picked item.
    """

    wanted = pyqtSignal(str)

    def __init__(self, document: Document, chosen: Callable[[], list[Item]]) -> None:
        """`chosen` gives all picked items as the job has them now."""
        super().__init__()
        self.document, self._chosen = document, chosen
        self._item: Item | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.made = self._combo("made", "How it is made", self._choose_made)
        self.paper = self._combo("item-paper", "Its paper", lambda value: self._edit("Paper", "paper", value))
        self.ink = QPushButton()
        self.ink.setObjectName("item-ink")
        self.ink.setAccessibleName("Its ink")
        self.ink.clicked.connect(self._choose_ink)
        self.paper_words = small("on")
        self.tip = FieldPanel(document, "dress", only=("pen_tip",))
        self.islands = QCheckBox("keep loose middles")
        self.islands.setObjectName("islands")
        self.islands.clicked.connect(lambda on: self._edit("Loose middles", "islands", "keep" if on else "drop"))
        self.more = QPushButton()
        self.more.setObjectName("item-more")
        self.more.clicked.connect(lambda: self.wanted.emit("words" if self._item and self._item.words else "roles"))
        self.palette_button = self._make_palette()
        self._add(column)

    def _add(self, column: QVBoxLayout) -> None:
        for widgets in ((self.made, self.more), (self.paper_words, self.paper, self.ink, self.palette_button)):
            line = QHBoxLayout()
            line.setSpacing(5)
            for widget in widgets:
                line.addWidget(widget, 0 if isinstance(widget, QLabel | QToolButton) or widget is self.more else 1)
            column.addLayout(line)
        column.addWidget(self.islands)
        column.addWidget(self.tip)
        self.sections = [Section(self.document, name, title, only, self._others) for name, title, only in SECTIONS]
        for section in self.sections:
            column.addWidget(section)
        column.addStretch(1)

    def _make_palette(self) -> QToolButton:
        button = QToolButton()
        button.setObjectName("item-palette")
        button.setText("▾")
        button.setToolTip("A colour that the job has already, or one kept with it")
        button.setAccessibleName("A colour of this job")
        button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.colours = QMenu(button)
        self.colours.aboutToShow.connect(self._fill_colours)
        button.setMenu(self.colours)
        return button

    def _combo(self, name: str, title: str, choose: Callable[[Any], None]) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        box.setAccessibleName(title)
        box.setMinimumContentsLength(5)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.activated.connect(lambda _row: choose(box.currentData()))
        return box

    # --- showing ---------------------------------------------------------------------------------------------

    def show_item(self, plan: Plan, item: Item | None) -> None:
        """Show an item's choices; None: nothing is picked."""
        self._item = item
        self.setEnabled(item is not None)
        if item is None:
            return
        self.made.clear()
        for made in ways_for(item):
            self.made.addItem(WAYS[made].title, made)
        self.made.setCurrentIndex(self.made.findData(item.made))
        self.paper.clear()
        if item.made == "window":
            self.paper.addItem("no backer", None)
        for paper in plan.job.brief.papers:
            self.paper.addItem(swatch(paper.colour), paper.name, paper.id)
        self.paper.setCurrentIndex(max(0, self.paper.findData(item.paper)))
        papered, inked = item.made in ("piece", "window"), WAYS[item.made].inked
        self.paper.setVisible(papered)
        self.paper_words.setVisible(papered or inked)
        self.paper_words.setText("backer" if item.made == "window" else "in" if inked else "on")
        self.ink.setVisible(inked)
        self.palette_button.setVisible(inked or item.made in AT_HAND)
        self.ink.setText(name_colour(item.colour) if item.colour else "its own colours")
        self.ink.setIcon(swatch(item.colour or ""))
        self.islands.setVisible(item.made in ("window", "art"))
        self.islands.setChecked(item.islands == "keep")
        self.tip.setVisible(item.made == "pen")
        self.tip.show_job()
        self.more.setText("Words…" if item.words else "Roles…")
        self.more.setToolTip("Typeface, size and fit" if item.words else "What each part of the art is, and its size")
        self.more.setVisible(item.of is None)
        for section in self.sections:
            section.show_path(f"dress.items.{item.id}")

    def _others(self) -> tuple[tuple[str, str], ...]:
        """The other items, for what asks for one."""
        mine = self._item.id if self._item is not None else ""
        return tuple((each.id, each.name) for each in self.document.job.dress.items if each.id != mine)

    # --- editing ---------------------------------------------------------------------------------------------

    def _edit(self, label: str, field: str, value: Any) -> None:
        self.document.edit(label, [Change(f"dress.items.{item.id}.{field}", value) for item in self._chosen()])

    def _choose_made(self, made: Any) -> None:
        """What is picked is made so; an item that cannot be is left as it is."""
        way = cast(Made, made)
        items = [item for item in self._chosen() if way in ways_for(item)]
        names = items[0].name if len(items) == 1 else f"{len(items)} items"
        changes = [change for item in items for change in make_as(self.document.job, item, way)]
        if changes:
            self.document.edit(f"{names} {WAYS[way].title}", changes)

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
            action = self.colours.addAction(swatch(colour), name_colour(colour))
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


def swatch(colour: str) -> QIcon:
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
