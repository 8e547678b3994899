"""The line above a face: which face, and what can be put on it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtGui import QAction, QResizeEvent
from PyQt6.QtWidgets import QComboBox, QPushButton, QWidget

from dechirer.core.dress.addressed import ADDRESS_SIDE
from dechirer.core.dress.at_hand import list_things
from dechirer.core.dress.decisions import FACE, Item
from dechirer.core.dress.edits import describe_made_of
from dechirer.core.dress.landing import MOST_SHOWN
from dechirer.core.dress.shapes import SHAPES
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.widgets.choices import heading, menu_button, push_button
from dechirer.desk.widgets.flow import FlowLayout
from dechirer.desk.work.document import Document

MADE_OF = (
    ("A border card behind it", "border"),
    ("A window of its outline", "window"),
    ("A frame with even webs between its parts", "frame"),
)
"""What can be made of an item, as the step of the job is called, and its kind."""
FIXED = QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon


class DressBar(QWidget):
    """The face in front, and buttons that bring something onto it; `copy` chooses the copy it is seen on, and stands
    where the card is drawn.

    Signals:
        face_chosen(id): another face is wanted. copy_chosen(number): another kind of copies is.
        art_wanted(), words_wanted(), address_wanted(), copies_wanted(): a button was pressed.
        shape_wanted(shape): a shape that needs no file is wanted. thing_wanted(thing): something at hand is.
        made_of_wanted(words, kind): something made of the picked item is wanted.
        again_wanted(art): art of the job is wanted once more, by its id.
        forget_wanted(): what nothing uses shall be dropped.
    """

    face_chosen = pyqtSignal(str)
    art_wanted = pyqtSignal()
    words_wanted = pyqtSignal()
    address_wanted = pyqtSignal()
    copies_wanted = pyqtSignal()
    copy_chosen = pyqtSignal(int)
    shape_wanted = pyqtSignal(str)
    thing_wanted = pyqtSignal(str)
    made_of_wanted = pyqtSignal(str, str)
    again_wanted = pyqtSignal(str)
    forget_wanted = pyqtSignal()

    def __init__(self, document: Document, may_forget: Callable[[], bool]) -> None:
        super().__init__()
        self.document, self._may_forget = document, may_forget
        line = FlowLayout(self, gap=5)
        self.faces = QComboBox()
        self.faces.setObjectName("dress-faces")
        self.faces.setAccessibleName("The face in front of you")
        self.faces.setMinimumContentsLength(9)
        self.faces.setSizeAdjustPolicy(FIXED)
        self.faces.activated.connect(lambda _row: self.face_chosen.emit(str(self.faces.currentData())))
        line.addWidget(heading("Face"))
        line.addWidget(self.faces)
        tip = "SVG, DXF, PNG, JPEG, WebP, TIFF or a typeface; dropping and pasting do too"
        line.addWidget(push_button("Bring in art…", "bring-art", tip, self.art_wanted.emit))
        self.again, self._again_menu = menu_button("▾", "art-again")
        self.again.setToolTip("Art that is in the job already, to be placed once more")
        self.again.setAccessibleName("Art again")
        self._again_menu.aboutToShow.connect(self._fill_again)
        line.addWidget(self.again)
        line.addWidget(push_button("Words", "add-words", "Words in the middle of this face", self.words_wanted.emit))
        line.addWidget(self._make_address())
        self.shape_button, shapes = menu_button("Shape ▾", "add-shape")
        self.shape_button.setToolTip("A shape that needs no file, in the middle of this face")
        for shape, (title, _) in SHAPES.items():
            action = shapes.addAction(title)
            if action is not None:
                action.triggered.connect(lambda _=False, shape=shape: self.shape_wanted.emit(shape))
        shapes.addSeparator()
        edge = shapes.addAction("stitches along this face's edge")
        if edge is not None:
            edge.triggered.connect(lambda _=False: self.shape_wanted.emit(FACE))
        line.addWidget(self.shape_button)
        self.thing_button, things = menu_button("At hand ▾", "add-thing")
        self.thing_button.setToolTip("Something that is there already: stuck on this face, or put into the card")
        made = ""
        for id, thing in list_things().items():
            if thing.made != made:
                made = thing.made
                things.addSection({"stuck": "Stuck on", "held": "Put in"}[made])
            action = things.addAction(thing.title)
            if action is not None:
                action.triggered.connect(lambda _=False, id=id: self.thing_wanted.emit(id))
        line.addWidget(self.thing_button)
        self.of_button, menu = menu_button("Made of it ▾", "made-of")
        self._made_of: dict[str, QAction] = {}
        for words, kind in MADE_OF:
            action = menu.addAction(words)
            if action is not None:
                action.setObjectName(f"made-{kind}")
                action.triggered.connect(lambda _=False, words=words, kind=kind: self.made_of_wanted.emit(words, kind))
                self._made_of[kind] = action
        line.addWidget(self.of_button)
        tip = "What differs from copy to copy: how many, words, what stands in an item's place"
        line.addWidget(push_button("Copies…", "copies", tip, self.copies_wanted.emit))
        self.copy = self._make_copy_choice()
        self.safe = FieldPanel(document, "dress", only=("safe",))
        self.safe.setMinimumWidth(124)
        line.addWidget(self.safe)

    def minimumSizeHint(self) -> QSize:
        """As high as its lines are at the width it has."""
        return QSize(super().minimumSizeHint().width(), self.heightForWidth(self.width()))

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self.updateGeometry()

    def _make_address(self) -> QPushButton:
        tip = "The address from the table of copies, the sender, and the stamp's place kept free"
        self.address = push_button("Address", "add-address", tip, self.address_wanted.emit)
        self.address.setVisible(False)
        return self.address

    def _make_copy_choice(self) -> QComboBox:
        copy = QComboBox()
        copy.setObjectName("dress-copy")
        copy.setAccessibleName("The copy in front of you")
        copy.setMinimumContentsLength(8)
        copy.setSizeAdjustPolicy(FIXED)
        copy.activated.connect(lambda _row: self.copy_chosen.emit(int(copy.currentData())))
        return copy

    def show_plan(self, plan: Plan, face: str, picked: Item | None, copy: int) -> None:
        """Show the faces and kinds of copies there are, and what can be done with the picked item."""
        self.address.setVisible(face == ADDRESS_SIDE)
        kinds = [
            (f"{each.count} × {each.name[:20] or ('the rest' if each.is_blank else 'as it is')}", each.number)
            for each in plan.dress.copies[:MOST_SHOWN]
        ]
        if [(self.copy.itemText(row), self.copy.itemData(row)) for row in range(self.copy.count())] != kinds:
            self.copy.clear()
            for words, number in kinds:
                self.copy.addItem(words, number)
        self.copy.setCurrentIndex(self.copy.findData(copy))
        self.copy.setToolTip(self.copy.currentText())
        self.copy.setVisible(len(kinds) > 1)
        entries = []
        for spot in plan.dress.spots:
            count = sum(item.face == spot.id for item in plan.job.dress.items)
            entries.append((f"{spot.title} ({count})" if count else spot.title, spot.id))
        if [(self.faces.itemText(row), self.faces.itemData(row)) for row in range(self.faces.count())] != entries:
            self.faces.clear()
            for words, id in entries:
                self.faces.addItem(words, id)
        self.faces.setCurrentIndex(self.faces.findData(face))
        self.of_button.setEnabled(picked is not None)
        for words, kind in MADE_OF if picked is not None else ():
            assert picked is not None
            self._made_of[kind].setText(f"{words}: {describe_made_of(plan.job, picked, kind)}")
        self.again.setVisible(bool(plan.job.dress.art or plan.job.dress.fonts))
        self.safe.show_job()

    def _fill_again(self) -> None:
        """What has been brought in before, and a way to drop what nothing uses."""
        menu = self._again_menu
        menu.clear()
        for art in self.document.job.dress.art:
            action = menu.addAction(art.name)
            if action is not None:
                action.triggered.connect(lambda _=False, id=art.id: self.again_wanted.emit(id))
        menu.addSeparator()
        forget = menu.addAction("Drop what nothing uses")
        if forget is not None:
            forget.setEnabled(self._may_forget())
            forget.triggered.connect(self.forget_wanted.emit)
