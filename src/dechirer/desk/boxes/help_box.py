"""Help (F1): what this screen does, how lines look, the words of the trade, and the usual care."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QLabel,
    QLineEdit,
    QSizePolicy,
    QStackedWidget,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.stations import STATIONS
from dechirer.desk.boxes.trade_words import WORDS
from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.desk.widgets.segments import Segments
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
DRESSING = (
    "On a face: a double click on bare paper begins words there, on words it lets you type them (F2 does too); Shift "
    "picks several things, Delete takes them off, Alt with an arrow in the list puts one further forward or back."
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

    def __init__(self, station: str, parent: QWidget, word: str = "") -> None:
        """With a `word` the index of words is in front, at that word."""
        super().__init__(parent)
        self.setObjectName("help-box")
        spec = STATIONS[station]
        self.setWindowTitle(f"Dechirer: {spec.title}")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.pages = QStackedWidget()
        self.choice = Segments("help-page", [("screen", spec.title), ("lines", "How lines look"), ("words", "Words")])
        self.choice.chosen.connect(self.show_page)
        for page in (_make_screen_page(spec.about), _make_lines_page(), self._make_words_page()):
            self.pages.addWidget(page)
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addWidget(self.choice, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(self.pages, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.setFixedWidth(500)
        self.show_page("words" if word else "screen")
        if word:
            self.line.setText(word)

    def show_page(self, id: str) -> None:
        """Turn to `screen`, `lines` or `words`."""
        self.choice.show_chosen(id)
        self.pages.setCurrentIndex(list(self.choice.buttons).index(id))
        if id == "words":
            self.line.setFocus()

    def _make_words_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        self.line = QLineEdit()
        self.line.setObjectName("help-word")
        self.line.setPlaceholderText("A word to look up")
        self.line.setAccessibleName("A word to look up")
        self.line.textChanged.connect(self._look_up)
        self.told = QTextBrowser()
        self.told.setObjectName("help-words")
        self.told.setAccessibleName("Words and what they mean")
        column.addWidget(self.line)
        column.addWidget(self.told, 1)
        self._look_up("")
        return page

    def _look_up(self, text: str) -> None:
        """Words that have the text in them first, then those explained with it."""
        wanted = text.strip().lower()
        named = [word for word in WORDS if wanted in word.lower()]
        told = [word for word in WORDS if word not in named and wanted in WORDS[word].lower()]
        found = [f"<p><b>{escape(word)}</b><br>{escape(WORDS[word])}</p>" for word in (*named, *told)]
        self.told.setHtml("".join(found) or "<p>No such word here.</p>")


def _make_screen_page(about: str) -> QWidget:
    page, column = _page()
    for words in (about, COMMON.format(last=len(STATIONS)), MOVING, DRESSING):
        label = QLabel(words)
        label.setWordWrap(True)
        column.addWidget(label)
    care = QLabel(CARE)
    care.setWordWrap(True)
    care.setFont(theme.font("small"))
    column.addWidget(care)
    column.addStretch(1)
    return page


def _make_lines_page() -> QWidget:
    page, column = _page()
    column.addWidget(Legend())
    column.addStretch(1)
    return page


def _page() -> tuple[QWidget, QVBoxLayout]:
    page = QWidget()
    column = QVBoxLayout(page)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(10)
    return page, column
