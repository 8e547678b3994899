"""Small choosers: constructions as drawings, papers as swatches."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QGridLayout,
    QLabel,
    QMenu,
    QPushButton,
    QSizePolicy,
    QToolButton,
    QWidget,
)

from dechirer.core.construct.specs import CONSTRUCTIONS, GROUPS, ConstructionSpec
from dechirer.core.length import format_size
from dechirer.core.shape.outline import bounds
from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.drawing.display import Display, Item, Shape
from dechirer.drawing.viewport import fit_viewport

if TYPE_CHECKING:
    from dechirer.core.offers import Offer


class KindButton(QAbstractButton):
    """A construction drawn flat from its own builder at the present size, with the sheets it would cost."""

    def __init__(self, kind: ConstructionSpec, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.kind = kind
        self.under = ""
        self._display: Display | None = None
        self.setObjectName(f"kind-{kind.id}")
        self.setText(kind.title)
        self.setMinimumHeight(104)
        self.setCheckable(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_offer(self, offer: Offer, paper: str, units: str) -> None:
        """Draw it flat on a paper colour, with what it would cost."""
        items: list[Item] = [Shape((ring,), fill=paper, form="edge", role="soft", on=paper) for ring in offer.panels]
        items += [
            Shape(((start, end),), closed=False, form=sense, role="fold", on=paper) for start, end, sense in offer.folds
        ]
        self._display = Display(tuple(items), bounds([point for ring in offer.panels for point in ring]), (6, 6, 6, 6))
        size = format_size(offer.width, offer.height, units)
        folds = f"{len(offer.folds)} fold" + ("" if len(offer.folds) == 1 else "s")
        sheets = f"{offer.sheets} sheet" + ("" if offer.sheets == 1 else "s")
        self.under = sheets if offer.fits else "does not fit"
        words = f"{offer.title}: {size} flat, {folds}, {offer.pieces} pieces, {self.under}"
        self.setAccessibleName(words)
        self.setToolTip(words)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(84, 104)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setBrush(theme.colour("accent-wash" if chosen else "surface"))
        strong = chosen or self.hasFocus() or self.underMouse()
        painter.setPen(QPen(theme.colour("accent" if strong else "rule"), 2 if chosen or self.hasFocus() else 1))
        painter.drawRoundedRect(box, 5, 5)
        if self._display is not None:
            painter.save()
            painter.translate(4, 4)
            view = fit_viewport(self._display.box, self.width() - 8, 60, self._display.room_px)
            paint_display(painter, self._display, view)
            painter.restore()
        painter.setPen(theme.colour("accent" if chosen else "ink"))
        wide = QFontMetricsF(theme.font("strong")).horizontalAdvance(self.text()) > self.width() - 6
        painter.setFont(theme.font("small" if wide else "strong"))
        painter.drawText(QRectF(0, 64, self.width(), 18), Qt.AlignmentFlag.AlignCenter, self.text())
        painter.setPen(theme.colour("soft" if not chosen else "ink"))
        painter.setFont(theme.font("small"))
        painter.drawText(QRectF(0, 81, self.width(), 16), Qt.AlignmentFlag.AlignCenter, self.under)
        painter.end()


class KindChooser(QWidget):
    """All constructions, in groups. Emits `chosen(id)`."""

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("kinds")
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 6, 0)
        self._grid.setSpacing(6)
        group = QButtonGroup(self)
        self.buttons: dict[str, KindButton] = {}
        self._heads = {id: small(title) for id, title in GROUPS.items()}
        for kind in CONSTRUCTIONS:
            button = KindButton(kind)
            button.clicked.connect(lambda _=False, id=kind.id: self.chosen.emit(id))
            group.addButton(button)
            self.buttons[kind.id] = button
        self._in_a_row = 0
        self.put_in_rows(3)

    def put_in_rows(self, in_a_row: int) -> None:
        """So many beside each other, each group under its heading."""
        if in_a_row == self._in_a_row:
            return
        self._in_a_row, line = in_a_row, 0
        while self._grid.count():
            self._grid.takeAt(0)
        for id, head in self._heads.items():
            mine = [button for button in self.buttons.values() if button.kind.group == id]
            self._grid.addWidget(head, line, 0, 1, in_a_row)
            for place, button in enumerate(mine):
                self._grid.addWidget(button, line + 1 + place // in_a_row, place % in_a_row)
            line += 1 - (-len(mine) // in_a_row)
        for row in range(self._grid.rowCount() + 1):
            self._grid.setRowStretch(row, 1 if row == line else 0)


class PaperButton(QAbstractButton):
    """A paper: its swatch, name, weight and sheet."""

    def __init__(self, paper_id: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.paper_id = paper_id
        self.swatch, self.under = "#ffffff", ""
        self.setObjectName(f"paper-{paper_id}")
        self.setMinimumHeight(42)
        self.setCheckable(True)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_paper(self, name: str, swatch: str, under: str) -> None:
        """Set the name, colour and the line below."""
        self.setText(name)
        self.swatch, self.under = swatch, under
        self.setAccessibleName(f"{name}, {under}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(200, 42)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        chosen = self.isChecked()
        box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        if chosen or self.underMouse() or self.hasFocus():
            painter.setBrush(theme.colour("accent-wash" if chosen else "surface"))
            painter.setPen(QPen(theme.colour("accent" if chosen or self.hasFocus() else "rule"), 1))
            painter.drawRoundedRect(box, 5, 5)
        swatch = QRectF(9, 9, 24, 24)
        painter.setPen(QPen(theme.colour("rule-strong"), 1))
        painter.setBrush(theme.colour(self.swatch))
        painter.drawRoundedRect(swatch, 3, 3)
        painter.setPen(theme.colour("accent" if chosen else "ink"))
        painter.setFont(theme.font("strong"))
        wide = self.width() - 50
        painter.drawText(QRectF(43, 4, wide, 18), Qt.AlignmentFlag.AlignVCenter, self.text())
        painter.setPen(theme.colour("ink" if chosen else "soft"))
        painter.setFont(theme.font("small"))
        under = painter.fontMetrics().elidedText(self.under, Qt.TextElideMode.ElideRight, int(wide))
        painter.drawText(QRectF(43, 21, wide, 16), Qt.AlignmentFlag.AlignVCenter, under)
        painter.end()


def menu_button(words: str, name: str, about: str = "") -> tuple[QToolButton, QMenu]:
    """A quiet button that opens a menu at once, and the menu."""
    button = QToolButton()
    button.setObjectName(name)
    button.setText(words)
    button.setToolTip(about)
    button.setProperty("quiet", True)
    button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
    menu = QMenu(button)
    button.setMenu(menu)
    return button, menu


def push_button(words: str, name: str, tip: str, run: Callable[[], object]) -> QPushButton:
    """A button with its name, what it says when it is pointed at, and what it does."""
    button = QPushButton(words)
    button.setObjectName(name)
    button.setToolTip(tip)
    button.clicked.connect(lambda _=False: run())
    return button


def heading(text: str) -> QLabel:
    """A heading inside a station."""
    label = QLabel(text)
    label.setTextFormat(Qt.TextFormat.PlainText)  # a name from a stranger's job is no markup
    label.setFont(theme.font("title"))
    return label


def small(text: str = "") -> QLabel:
    """A small soft text that wraps."""
    label = QLabel(text)
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.setFont(theme.font("small"))
    label.setWordWrap(True)
    label.setProperty("role", "soft")
    return label
