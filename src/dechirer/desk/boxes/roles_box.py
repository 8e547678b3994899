"""An import looked over: what is done with each group of its lines, and how large it really is."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QIcon, QPainter, QPixmap
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QHeaderView,
    QLabel,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.brought import LICENCE_WORDS, ROLES, Art, Role
from dechirer.core.decide.change import Change
from dechirer.core.dress.drawn import draw_art
from dechirer.core.dress.edits import correct_scale
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.tidying import tidy
from dechirer.core.length import LengthError, format_length, format_size, parse_length
from dechirer.core.shape.affine import Points
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.document import Document
from dechirer.drawing.display import Dimension, Display, Item, Shape

ROLE_TITLES: dict[Role, str] = {
    "cut": "cut",
    "kiss": "kiss-cut",
    "score": "scored",
    "perforate": "perforated",
    "pen": "drawn",
    "foil": "foiled",
    "print": "printed",
    "off": "left out",
    "unassigned": "not decided",
}
ROLE_FORMS: dict[str, str] = {
    "cut": "cut",
    "kiss": "kiss",
    "score": "valley",
    "perforate": "cut",
    "pen": "pen",
    "foil": "foil",
    "print": "edge",
    "off": "guide",
    "unassigned": "guide",
}


class RolesBox(QDialog):
    """The groups of an import in a short list with counts, beside its picture; its size, settled by what you know."""

    def __init__(self, document: Document, art_id: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.document, self.art_id = document, art_id
        self.setObjectName("roles-box")
        self.setWindowTitle("Roles and size")
        self.setMinimumSize(860, 560)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self._feature: tuple[float, str] | None = None
        page = QVBoxLayout(self)
        self.title = heading("")
        page.addWidget(self.title)
        middle = QHBoxLayout()
        self.view = DrawingView("roles-view")
        self.view.element_picked.connect(self._pick_feature)
        middle.addWidget(self.view, 4)
        middle.addLayout(self._right(), 5)
        page.addLayout(middle, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.close)
        page.addWidget(buttons)
        document.changed.connect(self.refresh)
        self.finished.connect(lambda _: document.changed.disconnect(self.refresh))
        self.refresh()

    def _right(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.addWidget(heading("What is done with its lines"))
        column.addWidget(self._make_table(), 1)
        column.addLayout(self._bulk_line())
        self.tidy_words = small()
        self.tidy_words.setObjectName("tidy-words")
        column.addWidget(self.tidy_words)
        column.addWidget(heading("How large it really is"))
        self.size_words = small()
        self.size_words.setObjectName("size-words")
        column.addWidget(self.size_words)
        column.addLayout(self._size_line())
        self.complaint = QLabel()
        self.complaint.setObjectName("roles-complaint")
        self.complaint.setProperty("role", "stop")
        self.complaint.hide()
        column.addWidget(self.complaint)
        column.addLayout(self._terms_line())
        return column

    def _make_table(self) -> QTableWidget:
        self.table = QTableWidget(0, 4)
        self.table.setObjectName("roles-table")
        self.table.setAccessibleName("The groups of the file, and what each is")
        self.table.setHorizontalHeaderLabels(["group", "lines", "role", "because"])
        self.table.verticalHeader().setVisible(False)  # type: ignore[union-attr]
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        header = self.table.horizontalHeader()
        assert header is not None
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        header.setSectionResizeMode(3, QHeaderView.ResizeMode.Stretch)
        self.table.itemSelectionChanged.connect(self._draw)
        return self.table

    def _bulk_line(self) -> QHBoxLayout:
        """One role for all chosen rows, and what tidying would do."""
        line = QHBoxLayout()
        line.addWidget(QLabel("The chosen rows are"))
        self.bulk = QComboBox()
        self.bulk.setObjectName("roles-bulk")
        self.bulk.setAccessibleName("A role for all that are marked")
        for role in ROLES:
            self.bulk.addItem(ROLE_TITLES[role], role)
        self.bulk.activated.connect(lambda _row: self._set_roles(str(self.bulk.currentData())))
        line.addWidget(self.bulk)
        line.addStretch(1)
        self.tidy_button = QPushButton("What would tidying do?")
        self.tidy_button.setObjectName("roles-tidy")
        self.tidy_button.clicked.connect(self._try_tidy)
        line.addWidget(self.tidy_button)
        return line

    def _size_line(self) -> QHBoxLayout:
        """The true width of a part that was clicked."""
        line = QHBoxLayout()
        self.feature_words = QLabel("Click a part whose width you know: it is")
        line.addWidget(self.feature_words)
        self.true_width = QLineEdit()
        self.true_width.setObjectName("true-width")
        self.true_width.setAccessibleName("How wide it really is")
        self.true_width.setPlaceholderText("3 1/4 in")
        self.true_width.setMaximumWidth(110)
        self.true_width.returnPressed.connect(self._settle)
        line.addWidget(self.true_width)
        line.addWidget(QLabel("wide"))
        self.locked = QCheckBox("locked")
        self.locked.setObjectName("art-locked")
        self.locked.setToolTip("It is not scaled before it is unlocked")
        self.locked.clicked.connect(
            lambda on: self.document.edit("Size locked", [Change(f"dress.art.{self.art_id}.locked", on)])
        )
        line.addWidget(self.locked)
        line.addStretch(1)
        return line

    def _terms_line(self) -> QHBoxLayout:
        """How the file may be used, and whether copies are sold."""
        line = QHBoxLayout()
        line.addWidget(QLabel("How it may be used"))
        self.licence = QComboBox()
        self.licence.setObjectName("art-licence")
        self.licence.setAccessibleName("What its licence allows")
        for data, words in LICENCE_WORDS:
            self.licence.addItem(words, data)
        self.licence.activated.connect(
            lambda _row: self.document.edit(
                "Licence", [Change(f"dress.art.{self.art_id}.licence", self.licence.currentData())]
            )
        )
        line.addWidget(self.licence)
        self.for_sale = QCheckBox("these copies are for sale")
        self.for_sale.setObjectName("for-sale")
        self.for_sale.clicked.connect(lambda on: self.document.edit("For sale", [Change("dress.for_sale", on)]))
        line.addWidget(self.for_sale)
        line.addStretch(1)
        return line

    @property
    def art(self) -> Art | None:
        """The import as the job has it now."""
        return next((art for art in self.document.job.dress.art if art.id == self.art_id), None)

    def refresh(self) -> None:
        """Show the job as it is."""
        art = self.art
        if art is None:
            self.close()
            return
        units = self.document.job.units
        size = format_size(art.width * art.scale, art.height * art.scale, units)
        self.title.setText(f"{art.name} · {size}")
        self.locked.setChecked(art.locked)
        doubt = f" But {art.doubt}." if art.doubt else ""
        lost = f" Left out: {'; '.join(art.lost)}." if art.lost else ""
        self.size_words.setText(f"Its size is settled {art.settled}.{doubt}{lost}")
        self.licence.setCurrentIndex(self.licence.findData(art.licence))
        self.for_sale.setChecked(self.document.job.dress.for_sale)
        chosen = {index.row() for index in self.table.selectedIndexes()}
        self.table.blockSignals(True)
        self.table.setRowCount(len(art.groups))
        for row, group in enumerate(art.groups):
            entries = (group.name, str(len(group.paths)), ROLE_TITLES[group.role], group.reason)
            for column, words in enumerate(entries):
                entry = QTableWidgetItem(words)
                entry.setToolTip(words)
                if column == 0:
                    entry.setIcon(_swatch(group.colour, bool(group.stroke)))
                if column == 2 and group.role == "unassigned":
                    entry.setForeground(theme.colour("look"))
                self.table.setItem(row, column, entry)
        self.table.setIconSize(QSize(22, 14))
        self.table.resizeColumnToContents(1)
        self.table.resizeColumnToContents(2)
        for row in chosen:
            self.table.selectRow(row)
        self.table.blockSignals(False)
        self._draw()

    def _draw(self) -> None:
        """The import with its groups in the forms of their roles; the chosen ones stand out."""
        art = self.art
        if art is None:
            return
        chosen = {index.row() for index in self.table.selectedIndexes()}
        items: list[Item] = []
        rings_all: list[Points] = []
        for row, group in enumerate(art.groups):
            drawn = draw_art(
                _only(art, row), art.scale, role=group.role if group.role != "off" else "cut", tolerance=0.05
            )
            strong = row in chosen
            form = ROLE_FORMS[group.role]
            for number, area in enumerate(items_of(drawn)[:300]):
                rings = tuple(tuple(ring.coords[:-1]) for ring in (area.exterior, *area.interiors))
                rings_all.append(rings[0])
                items.append(
                    Shape(
                        rings,
                        fill="accent-wash" if strong else "" if group.role == "off" else group.colour,
                        form=form,
                        role="accent" if strong else "ink",
                        on="#ffffff",
                        element=f"feature:{row}:{number}",
                        weight=1.6 if strong else 1.0,
                    )
                )
            for number, line in enumerate(drawn.lines[:2000]):
                points = tuple(line.coords)
                rings_all.append(points)
                items.append(
                    Shape(
                        (points,),
                        closed=False,
                        form=form,
                        role="accent" if strong else "ink",
                        on="#ffffff",
                        element=f"line:{row}:{number}",
                        weight=1.6 if strong else 1.0,
                    )
                )
        if not rings_all:
            return
        from dechirer.core.shape.outline import bounds

        box = bounds([point for ring in rings_all for point in ring])
        if self._feature is not None:
            picked = next(
                (item for item in items if isinstance(item, Shape) and item.element == self._feature[1]), None
            )
            if picked is not None:
                own = bounds([point for ring in picked.paths for point in ring])
                text = format_length(own.width, self.document.job.units)
                items.append(Dimension((own.left, own.bottom), (own.right, own.bottom), 16.0, text))
        self.view.set_display(Display(tuple(items), box, (20.0, 20.0, 20.0, 44.0), f"{art.name} by groups"))

    def _set_roles(self, role: str) -> None:
        art = self.art
        rows = sorted({index.row() for index in self.table.selectedIndexes()})
        if art is None or not rows:
            self._complain("Choose rows of the list first.")
            return
        changes = [Change(f"dress.art.{art.id}.groups.{art.groups[row].id}.role", role) for row in rows]
        self.complaint.hide()
        self.document.edit(f"{len(rows)} {'group' if len(rows) == 1 else 'groups'}: {role}", changes)

    def _pick_feature(self, element: str) -> None:
        """A part whose true width is known; its row is chosen too."""
        if not element:
            return
        row = int(element.split(":")[1])
        self.table.selectRow(row)
        display = self.view.display
        shape = (
            next((item for item in display.items if isinstance(item, Shape) and item.element == element), None)
            if (display is not None)
            else None
        )
        if shape is None:
            return
        from dechirer.core.shape.outline import bounds

        width = bounds([point for ring in shape.paths for point in ring]).width
        self._feature = (width, element)
        self.feature_words.setText(f"The picked part, now {format_length(width, self.document.job.units)}, is really")
        self.true_width.setFocus()
        self._draw()

    def _settle(self) -> None:
        art = self.art
        if art is None:
            return
        if self._feature is None or self._feature[0] <= 0:
            self._complain("Click a part of the picture first.")
            return
        try:
            length = parse_length(self.true_width.text(), unit=self.document.job.units)
        except LengthError as error:
            self._complain(str(error))
            return
        if not 0.1 <= length.mm <= 3000:
            self._complain(f"A part from 0.1 mm to 3 m wide, got {length}")
            return
        self.complaint.hide()
        why = self.document.try_edit(
            f"Size of {art.name}", correct_scale(self.document.job, art, self._feature[0], length.mm)
        )
        if why:
            self._complain(why)
        self._feature = None
        self.true_width.clear()
        self.feature_words.setText("Click a part whose width you know: it is")

    def _try_tidy(self) -> None:
        art = self.art
        if art is None:
            return
        _, counts = tidy(draw_art(art, art.scale), 0.3)
        self.tidy_words.setText(
            f"A “tidy” step within 0.3 mm: nodes {counts['nodes before']} › {counts['nodes after']}, outlines "
            f"{counts['items before']} › {counts['items after']}, open lines {counts['lines before']} › "
            f"{counts['lines after']}. Add it to the recipe with “Step”."
        )

    def _complain(self, why: str) -> None:
        self.complaint.setText(why)
        self.complaint.show()


def _only(art: Art, row: int) -> Art:
    """The art with one group, put on if it is off."""
    from msgspec import structs

    group = art.groups[row]
    shown = structs.replace(group, role="cut") if group.role == "off" else group
    return structs.replace(art, groups=(shown,))


def _swatch(colour: str, line: bool) -> QIcon:
    picture = QPixmap(22, 14)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    if line:
        painter.fillRect(0, 5, 22, 4, theme.colour(colour))
    else:
        painter.fillRect(3, 0, 16, 14, theme.colour(colour))
    painter.setPen(theme.colour("rule-strong"))
    painter.drawRect(3 if not line else 0, 0 if not line else 4, 15 if not line else 21, 13 if not line else 5)
    painter.end()
    icon = QIcon(picture)
    icon.addPixmap(picture, QIcon.Mode.Selected)  # its colour is what it is for, chosen or not
    return icon
