"""Help (F1): what this screen does, how lines look, and the usual care."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QLabel, QSizePolicy, QVBoxLayout, QWidget

from dechirer.core.stations import STATIONS
from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading
from dechirer.drawing.display import Display, Item, Label, Shape
from dechirer.drawing.forms import FORMS
from dechirer.drawing.viewport import Viewport

COMMON = (
    "Numbers with a dotted underline can be typed into: click one, type 5 1/4, 133 mm, 10/2 - 1/16 or a6, and press "
    "Enter. Every other number can be clicked to see where it comes from. Arrow keys walk through the numbers of a "
    "drawing, Enter edits the marked one, Escape leaves it or takes back what is being dragged. Alt+1 to Alt+{last} "
    "change the station."
)
MOVING = (
    "In a drawing: the wheel, + and - magnify, 0 fits, 1 shows true size, the middle button or Space and dragging move "
    "it, a double click fits an item, M takes up the ruler. The folded card is turned by dragging; F, B, I and O show "
    "its front, back, inside, and it laid open."
)
CARE = (
    "Take care: blades, picks and craft knives cut; foil tips get hot. Switch the machine off before changing a blade, "
    "keep fingers clear of the carriage, and keep small parts from small children. Your machine's manual and local "
    "rules come first."
)
LEGEND = tuple(FORMS)
ROW_PX = 22


class Legend(QWidget):
    """Each form of line with its name."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("; ".join(FORMS[name].title for name in LEGEND))

    def sizeHint(self) -> QSize:
        return QSize(420, ROW_PX * len(LEGEND) + 6)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        items: list[Item] = []
        for row, name in enumerate(LEGEND):
            form, y = FORMS[name], row * ROW_PX + 13.0
            paths = (((0.0, y), (110.0, y)),)
            if name == "perforate":
                paths = tuple(((x, y), (x + 14.0, y)) for x in (4.0, 32.0, 60.0, 88.0))  # type: ignore[assignment]
            items.append(Shape(paths, closed=False, form=name, role=form.role))
            items.append(Label((126.0, y), form.title, anchor="start"))
        painter = QPainter(self)
        paint_display(painter, Display(tuple(items), None), Viewport(1.0, 2.0, 0.0))  # type: ignore[arg-type]
        painter.end()


class HelpBox(QDialog):
    """Stays beside the work; closes with Escape."""

    def __init__(self, station: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("help-box")
        spec = STATIONS[station]
        self.setWindowTitle(f"Dechirer: {spec.title}")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addWidget(heading(spec.title))
        for words in (spec.about, COMMON.format(last=len(STATIONS)), MOVING):
            label = QLabel(words)
            label.setWordWrap(True)
            column.addWidget(label)
        column.addWidget(heading("How lines look"))
        column.addWidget(Legend())
        care = QLabel(CARE)
        care.setWordWrap(True)
        care.setFont(theme.font("small"))
        column.addWidget(care)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.setFixedWidth(480)
