"""The words editor: the text, its typeface and how it is fitted, seen as it will be cut or drawn while you type."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

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

from dechirer.core.brought import LICENCE_WORDS
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Words
from dechirer.core.dress.words.lettering import find_tightest
from dechirer.core.dress.words.typefaces import FEATURES, FontError, find_typeface, list_typefaces
from dechirer.core.length import fine_length
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.flow import FlowLayout
from dechirer.desk.work.document import Document
from dechirer.desk.work.importing import Importer
from dechirer.drawing.scenes.words import describe_words, make_words_scene

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
ALIGNED = (("middle", "rows centred by ink"), ("left", "rows flush left"), ("right", "rows flush right"))
MEASURES = ("size", "width", "height", "rows", "spacing", "overlap")
TYPING_MS = 250


class WordsBox(QDialog):
    """Edits the words of one item; every change is a step of the job and can be undone."""

    def __init__(self, document: Document, item_id: str, importer: Importer, parent: QWidget) -> None:
        super().__init__(parent)
        self.document, self.item_id, self.importer = document, item_id, importer
        self.setObjectName("words-box")
        self.setWindowTitle("Words")
        self.setMinimumSize(760, 560)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self._filling = False
        self._typing = QTimer(self)
        self._typing.setSingleShot(True)
        self._typing.setInterval(TYPING_MS)
        self._typing.timeout.connect(self._keep_text)
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
        self.text.setMinimumHeight(60)
        self.text.textChanged.connect(self._typing.start)
        grid.addWidget(self.text, 0, 0, 3, 1)
        grid.addLayout(self._typeface_line(), 0, 1)
        grid.addLayout(self._fit_line(), 1, 1)
        grid.addWidget(self._measures(), 2, 1)
        self.features = QWidget()
        self.features.setObjectName("words-features")
        self._feature_flow = FlowLayout(self.features)
        grid.addWidget(self.features, 3, 0, 1, 2)
        grid.setColumnStretch(0, 2)
        grid.setColumnStretch(1, 3)
        return grid

    def _typeface_line(self) -> QHBoxLayout:
        self.face = self._combo("words-face", "Typeface", lambda value: self._set("face", value))
        self.licence = self._combo("font-licence", "How your typeface may be used", self._note_licence)
        for data, title in LICENCE_WORDS:
            self.licence.addItem(title, data)
        own = QPushButton("Your typeface…")
        own.setObjectName("words-own-face")
        own.clicked.connect(lambda: self._ask_face())
        line = QHBoxLayout()
        line.setSpacing(8)
        line.addWidget(self.face, 1)
        line.addWidget(self.licence)
        line.addWidget(own)
        return line

    def _fit_line(self) -> QHBoxLayout:
        self.fit = self._combo("words-fit", "Fitted", lambda value: self._choose_fit(str(value)))
        for data, words in FITS:
            self.fit.addItem(words, data)
        self.shape = self._combo(
            "words-shape", "The item whose outline they fill", lambda value: self._set("shape", value)
        )
        self.align = self._combo("words-align", "Rows", lambda value: self._set("align", value))
        for data, words in ALIGNED:
            self.align.addItem(words, data)
        line = QHBoxLayout()
        line.setSpacing(8)
        for widget in (self.fit, self.shape, self.align):
            line.addWidget(widget)
        line.addStretch(1)
        return line

    def _measures(self) -> QWidget:
        measures = QWidget()
        column = QVBoxLayout(measures)
        column.setContentsMargins(0, 0, 0, 0)
        self.measures = FieldPanel(self.document, f"dress.items.{self.item_id}.words", only=MEASURES, shape="form")
        column.addWidget(self.measures)
        self.joined = QCheckBox("letters joined, to be cut in one")
        self.joined.setObjectName("words-joined")
        self.joined.clicked.connect(lambda on: self._set("joined", on))
        self.tight = QPushButton("Tightest that keeps counters")
        self.tight.setObjectName("words-tight")
        self.tight.clicked.connect(self._tighten)
        line = QHBoxLayout()
        line.addWidget(self.joined)
        line.addWidget(self.tight)
        line.addStretch(1)
        column.addLayout(line)
        return measures

    def _combo(self, name: str, title: str, choose: Callable[[Any], None]) -> QComboBox:
        box = QComboBox()
        box.setObjectName(name)
        box.setAccessibleName(title)
        box.activated.connect(lambda _row: choose(box.currentData()))
        return box

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
        self.measures.show_job()
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
        if not self._filling and self.words is not None:
            self.document.edit(f"Words: {field}", [Change(f"dress.items.{self.item_id}.words.{field}", value)])

    def _note_licence(self, licence: object) -> None:
        words = self.words
        if words is not None:
            self.document.edit("Licence", [Change(f"dress.fonts.{words.face}.licence", licence)])

    def _choose_fit(self, fit: str) -> None:
        words = self.words
        if words is None:
            return
        shape = words.shape or (self.shape.itemData(0) if self.shape.count() else None)
        if fit == "shape" and shape is None:
            self.said.setText("There is nothing else on this face whose outline they could fill.")
            self.fit.setCurrentIndex(self.fit.findData(words.fit))
            return
        path = f"dress.items.{self.item_id}"
        fitted = structs.replace(words, fit=fit, shape=shape if fit == "shape" else words.shape)
        changes = [Change(f"{path}.words", fitted)]
        if fit != "size":
            changes.append(Change(f"{path}.width", None))
        self.document.edit(f"Words {dict(FITS)[fit]}", changes)

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
        why = self.document.try_edit("Words typed", [Change(path, text)], merge_key=f"type-{path}")
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
        if plan is None:
            return
        scene = make_words_scene(plan, self.item_id)
        if scene is not None:
            self.view.set_display(scene)
            self.said.setText(describe_words(plan, self.item_id))

    def keyPressEvent(self, event: object) -> None:
        """Enter makes a new row in the text and nothing else."""
        if getattr(event, "key", lambda: 0)() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return
        super().keyPressEvent(event)  # type: ignore[arg-type]
