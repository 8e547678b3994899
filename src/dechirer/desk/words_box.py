"""The words editor: the text, its typeface and how it is fitted, seen as it will be cut or drawn while you type."""

from __future__ import annotations

from msgspec import structs
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QHBoxLayout,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.dress.words.lettering import find_tightest
from dechirer.core.dress.words.typefaces import FEATURES, FontError, find_typeface, list_typefaces
from dechirer.core.dress.decisions import Words
from dechirer.core.decide.change import Change
from dechirer.core.length import fine_length
from dechirer.desk.document import Document
from dechirer.desk.importing import Importer
from dechirer.desk.roles_box import LICENCES
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.field_edit import FieldEdit
from dechirer.desk.widgets.flow import FlowLayout
from dechirer.drawing.display import Display, Item, Label, Shape

FITS = (
    ("size", "at a size"),
    ("band", "into a band"),
    ("circle", "into a circle"),
    ("shape", "into an item’s outline"),
    ("arc", "along an arc"),
)
STYLES = {
    "yours": "Yours",
    "script": "Script",
    "upright": "Upright",
    "display": "Display",
    "line": "Single line, for pens",
}
FIELDS: dict[str, tuple[tuple[str, str], ...]] = {
    "size": (("size", "size"),),
    "band": (("width", "width"), ("height", "height")),
    "circle": (("width", "across"),),
    "shape": (),
    "arc": (("size", "size"), ("width", "circle, across")),
}
TYPING_MS = 250


class WordsBox(QDialog):
    """Edits the words of one item; every change is a step of the job and can be undone."""

    def __init__(self, document: Document, item_id: str, importer: Importer, parent: QWidget) -> None:
        super().__init__(parent)
        self.document, self.item_id, self.importer = document, item_id, importer
        self.setObjectName("words-box")
        self.setWindowTitle("Words")
        self.setMinimumSize(760, 560)
        self._filling = False
        self._typing = QTimer(self)
        self._typing.setSingleShot(True)
        self._typing.setInterval(TYPING_MS)
        self._typing.timeout.connect(self._keep_text)
        self.fields: dict[str, FieldEdit] = {}
        page = QVBoxLayout(self)
        self.view = DrawingView("words-view")
        page.addWidget(self.view, 3)
        self.said = small()
        self.said.setObjectName("words-said")
        page.addWidget(self.said)
        page.addLayout(self._form(), 2)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.close)
        page.addWidget(buttons)
        document.changed.connect(self.refresh)
        document.planned.connect(self._draw)
        self.finished.connect(self._leave)
        self.refresh()
        self._draw()

    def _form(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        self.text = QPlainTextEdit()
        self.text.setObjectName("words-text")
        self.text.setAccessibleName("The words; a new line is a new row")
        self.text.setTabChangesFocus(True)
        self.text.setMaximumHeight(110)
        self.text.textChanged.connect(self._typing.start)
        grid.addWidget(self.text, 0, 0, 3, 1)
        self.face = QComboBox()
        self.face.setObjectName("words-face")
        self.face.setAccessibleName("Typeface")
        self.face.activated.connect(lambda _row: self._set("face", self.face.currentData()))
        own = QPushButton("Your typeface…")
        own.setObjectName("words-own-face")
        own.clicked.connect(lambda: self._ask_face())
        line = QHBoxLayout()
        line.setSpacing(8)
        line.addWidget(self.face, 1)
        self.licence = QComboBox()
        self.licence.setObjectName("font-licence")
        self.licence.setAccessibleName("How your typeface may be used")
        for data, title in LICENCES:
            self.licence.addItem(title, data)
        self.licence.activated.connect(lambda _row: self._note_licence())
        line.addWidget(self.licence)
        line.addWidget(own)
        grid.addLayout(line, 0, 1)
        self.fit = QComboBox()
        self.fit.setObjectName("words-fit")
        self.fit.setAccessibleName("Fitted")
        for data, words in FITS:
            self.fit.addItem(words, data)
        self.fit.activated.connect(lambda _row: self._choose_fit(str(self.fit.currentData())))
        self.shape = QComboBox()
        self.shape.setObjectName("words-shape")
        self.shape.setAccessibleName("The item whose outline they fill")
        self.shape.activated.connect(lambda _row: self._set("shape", self.shape.currentData()))
        self.align = QComboBox()
        self.align.setObjectName("words-align")
        self.align.setAccessibleName("Rows")
        for data, words in (
            ("middle", "rows centred by ink"),
            ("left", "rows flush left"),
            ("right", "rows flush right"),
        ):
            self.align.addItem(words, data)
        self.align.activated.connect(lambda _row: self._set("align", self.align.currentData()))
        fits = QHBoxLayout()
        fits.setSpacing(8)
        fits.addWidget(self.fit)
        fits.addWidget(self.shape)
        fits.addWidget(self.align)
        fits.addStretch(1)
        grid.addLayout(fits, 1, 1)
        measures = QWidget()
        flow = FlowLayout(measures)
        for name, title in (
            ("size", "size"),
            ("width", "width"),
            ("height", "height"),
            ("rows", "between rows"),
            ("spacing", "between letters"),
            ("overlap", "overlap"),
        ):
            field = FieldEdit(f"dress.items.{self.item_id}.words.{name}", title, beside=True)
            field.line.setFixedWidth(78)
            field.typed.connect(lambda path, text, field=field: field.answer(self.document, path, text))
            self.fields[name] = field
            flow.addWidget(field)
        self.joined = QCheckBox("letters joined, to be cut in one")
        self.joined.setObjectName("words-joined")
        self.joined.clicked.connect(lambda on: self._set("joined", on))
        flow.addWidget(self.joined)
        self.tight = QPushButton("Tightest that keeps counters")
        self.tight.setObjectName("words-tight")
        self.tight.clicked.connect(self._tighten)
        flow.addWidget(self.tight)
        grid.addWidget(measures, 2, 1)
        self.features = QWidget()
        self.features.setObjectName("words-features")
        self._feature_flow = FlowLayout(self.features)
        grid.addWidget(self.features, 3, 0, 1, 2)
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        return grid

    @property
    def words(self) -> Words | None:
        """The words as the job has them now."""
        item = self.document.job.dress.item(self.item_id)
        return item.words if item is not None else None

    def refresh(self) -> None:
        """Show the job as it is."""
        words = self.words
        if words is None:
            self.close()
            return
        self._filling = True
        if self.text.toPlainText() != words.text and not self._typing.isActive():
            self.text.blockSignals(True)
            self.text.setPlainText(words.text)
            self.text.blockSignals(False)
        self.face.clear()
        for id, title, style in list_typefaces(self.document.job.dress):
            self.face.addItem(f"{title}   · {STYLES[style].lower()}", id)
        self.face.setCurrentIndex(max(0, self.face.findData(words.face)))
        mine = next((font for font in self.document.job.dress.fonts if font.id == words.face), None)
        self.licence.setVisible(mine is not None)
        if mine is not None:
            self.licence.setCurrentIndex(self.licence.findData(mine.licence))
        self.fit.setCurrentIndex(self.fit.findData(words.fit))
        self.shape.clear()
        item = self.document.job.dress.item(self.item_id)
        for other in self.document.job.dress.items:
            if item is not None and other.face == item.face and other.id != item.id:
                self.shape.addItem(other.name, other.id)
        self.shape.setVisible(words.fit == "shape")
        self.shape.setCurrentIndex(max(0, self.shape.findData(words.shape)))
        self.align.setCurrentIndex(self.align.findData(words.align))
        shown = dict(FIELDS[words.fit]) | {"rows": "between rows", "spacing": "between letters"}
        if words.joined:
            shown["overlap"] = "overlap"
        for name, field in self.fields.items():
            field.setVisible(name in shown)
            field.title.setText(shown.get(name, name))
            field.show_text(self.document.field_text(field.path))
        self.joined.setChecked(words.joined)
        line = words.face.startswith("line-")
        self.joined.setEnabled(not line)
        self.tight.setEnabled(not line)
        self._show_features(words)
        self._filling = False

    def _show_features(self, words: Words) -> None:
        try:
            known = find_typeface(words.face, self.document.job.dress.fonts).features()
        except FontError:
            known = ()
        if self.features.property("known") == (words.face, known):
            return
        self.features.setProperty("known", (words.face, known))
        while self._feature_flow.count():
            entry = self._feature_flow.takeAt(0)
            widget = entry.widget() if entry is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for tag in known:
            if tag in ("kern",):
                continue
            box = QCheckBox(FEATURES[tag])
            box.setObjectName(f"feature-{tag}")
            normal = tag in ("liga", "calt", "init", "fina")
            box.setChecked(tag in words.features or (normal and f"-{tag}" not in words.features))
            box.clicked.connect(lambda on, tag=tag, normal=normal: self._set_feature(tag, on, normal))
            self._feature_flow.addWidget(box)

    # --- editing ---------------------------------------------------------------------------------------------

    def _set(self, field: str, value: object) -> None:
        if self._filling:
            return
        why = self.document.edit(f"Words: {field}", [Change(f"dress.items.{self.item_id}.words.{field}", value)])
        if why:
            self.said.setText(why)

    def _note_licence(self) -> None:
        words = self.words
        if words is not None:
            self.document.edit("Licence", [Change(f"dress.fonts.{words.face}.licence", self.licence.currentData())])

    def _choose_fit(self, fit: str) -> None:
        words = self.words
        if words is None:
            return
        shape = words.shape or (self.shape.itemData(0) if self.shape.count() else None)
        if fit == "shape" and shape is None:
            self.said.setText("There is nothing else on this face whose outline they could fill.")
            self.fit.setCurrentIndex(self.fit.findData(words.fit))
            return
        item = self.document.job.dress.item(self.item_id)
        assert item is not None
        fitted = structs.replace(words, fit=fit, shape=shape if fit == "shape" else words.shape)
        self.document.edit(
            f"Words {dict(FITS)[fit]}",
            [
                Change(
                    "dress.items",
                    tuple(
                        structs.replace(item, words=fitted, width=None if fit != "size" else item.width)
                        if each.id == item.id
                        else each
                        for each in self.document.job.dress.items
                    ),
                )
            ],
        )

    def _set_feature(self, tag: str, on: bool, normal: bool) -> None:
        words = self.words
        if words is None:
            return
        others = tuple(each for each in words.features if each.removeprefix("-") != tag)
        if on and not normal:
            others = (*others, tag)
        elif not on and normal:
            others = (*others, f"-{tag}")
        self._set("features", others)

    def _keep_text(self) -> None:
        text = self.text.toPlainText()
        words = self.words
        if words is None or text == words.text:
            return
        if not text.strip():
            self.said.setText("Type the words.")
            return
        path = f"dress.items.{self.item_id}.words.text"
        why = self.document.edit("Words typed", [Change(path, text)], merge_key=f"type-{path}")
        if why:
            self.said.setText(why)

    def _tighten(self) -> None:
        words = self.words
        if words is None:
            return
        found = find_tightest(words, words.text, self.document.job.dress.fonts)
        if found is None:
            self.said.setText("No spacing joins every letter and keeps every counter open.")
            return
        path = f"dress.items.{self.item_id}.words"
        length = fine_length(found, "mm")
        self.document.edit(
            f"Letters spaced by {length}", [Change(f"{path}.spacing", length), Change(f"{path}.joined", False)]
        )

    def _ask_face(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Your typeface", "", "Typefaces (*.ttf *.otf)")
        if name:
            from pathlib import Path

            fonts = {font.id for font in self.document.job.dress.fonts}
            self.importer.read_file(Path(name), set(), fonts)

    def _leave(self) -> None:
        self._typing.stop()
        self._keep_text()
        self.document.history.end_merge()
        self.document.changed.disconnect(self.refresh)
        self.document.planned.disconnect(self._draw)

    # --- showing ---------------------------------------------------------------------------------------------

    def _draw(self) -> None:
        """The words as the plan has them, large, with their trouble said below."""
        plan = self.document.plan
        dressed = plan.dress.item(self.item_id) if plan is not None else None
        if dressed is None or plan is None or dressed.spot is None:
            return
        paper = plan.brief.paper(dressed.spot.paper).paper.colour
        inked = dressed.item.made in ("pen", "foil")
        fill = plan.brief.paper(dressed.item.paper).paper.colour if dressed.item.paper else "sunken"
        fill = "" if inked else dressed.item.colour or "ink" if dressed.item.made == "print" else fill
        items: list[Item] = []
        left, top, right, bottom = dressed.placed.drawn.box()
        pad = 0.06 * max(right - left, bottom - top, 1.0)
        ground = (
            (left - pad, top - pad),
            (right + pad, top - pad),
            (right + pad, bottom + pad),
            (left - pad, bottom + pad),
        )
        items.append(Shape((ground,), fill=paper, on=paper, shadow=True))
        for area in dressed.placed.drawn.areas:
            rings = tuple(tuple(ring.coords[:-1]) for ring in (area.exterior, *area.interiors))
            items.append(
                Shape(
                    rings,
                    fill=fill,
                    form="pen" if inked else "cut",
                    role=dressed.item.colour or "ink" if inked else "ink",
                    on=paper,
                )
            )
        role = dressed.item.colour or "ink"
        for line in dressed.placed.drawn.lines:
            items.append(Shape((tuple(line.coords),), closed=False, form="pen", role=role, on=paper))
        if dressed.placed.drawn.is_empty:
            items.append(Label(((left + right) / 2, (top + bottom) / 2), "nothing is set", "body", "stop"))
        from dechirer.core.shape.outline import bounds

        self.view.set_display(Display(tuple(items), bounds(ground), (16.0, 16.0, 16.0, 16.0), "The words as set"))
        self.said.setText(self._trouble())

    def _trouble(self) -> str:
        plan = self.document.plan
        dressed = plan.dress.item(self.item_id) if plan is not None else None
        if dressed is None:
            return ""
        if dressed.placed.trouble:
            return dressed.placed.trouble
        lettering, words = dressed.placed.lettering, dressed.item.words
        if lettering is None or words is None:
            return ""
        units = self.document.job.units
        said = [f"{dressed.width.text(units)} × {dressed.height.text(units)}, {lettering.size:.1f} mm to the em."]
        if words.joined and lettering.apart:
            said.append(f"Do not join: {', '.join(lettering.apart[:8])}.")
        if words.joined and lettering.loose:
            said.append(f"Loose dots or accents: {', '.join(lettering.loose[:8])}.")
        if lettering.filled:
            said.append(f"Counters close in {', '.join(lettering.filled[:8])}.")
        if lettering.missing:
            said.append(f"The typeface has no {', '.join(lettering.missing[:8])}.")
        return "  ".join(said)

    def keyPressEvent(self, event: object) -> None:
        """Enter makes a new row in the text and nothing else."""
        if getattr(event, "key", lambda: 0)() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return
        super().keyPressEvent(event)  # type: ignore[arg-type]
