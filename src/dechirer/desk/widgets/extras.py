"""What has no place on Construct's drawing: a construction's choices, and what is glued in or on."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Any

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QFrame,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.construct.checks import remove_layer
from dechirer.core.job.attach import add_motif, remove_motif
from dechirer.core.job.edit import choices_of, has_effect
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import get_field
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
from dechirer.desk.document import Document
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.field_edit import FieldEdit
from dechirer.desk.widgets.flow import FlowLayout

TALLEST_PX = 132
"""The rows take at most this much of the drawing's room; beyond it they scroll."""

ATTACHMENTS: tuple[tuple[str, str, str, tuple[tuple[str, str], ...]], ...] = (
    ("window", "construct.window", "Window backer", (("paper", "paper"), ("margin", "glue margin"))),
    ("insert", "construct.slits", "Insert", (("paper", "paper"), ("style", "slits"))),
    (
        "peel",
        "construct.peel",
        "Peel-away",
        (("shape", "shape"), ("paper", "backer"), ("margin", "backer past it"), ("safe", "stays from edges")),
    ),
    (
        "stack",
        "construct.stack",
        "Layer stack",
        (
            ("shape", "outline"),
            ("paper", "layers"),
            ("border_paper", "borders"),
            ("count", "layers"),
            ("step", "set in by"),
            ("insets", "or by a list"),
            ("border", "border"),
            ("foam", "foam"),
        ),
    ),
    (
        "envelope",
        "construct.envelope",
        "Envelope",
        (
            ("paper", "paper"),
            ("style", "style"),
            ("ease", "larger by"),
            ("inlay", "inlay"),
            ("inlay_margin", "inlay smaller by"),
        ),
    ),
)
"""Each attachment: its name, its place in the job, its title, and its fields with their titles."""


class Extras(QScrollArea):
    """A line of fields for the construction, and a line per attachment with its choices and a button to take it off."""

    def __init__(self, document: Document, take_field: Callable[[FieldEdit], FieldEdit]) -> None:
        super().__init__()
        self.setObjectName("extras")
        self.document, self._take_field = document, take_field
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        self._page = QWidget()
        self._column = QVBoxLayout(self._page)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)
        self.setWidget(self._page)
        self._key: object = None
        self._fields: dict[str, FieldEdit] = {}
        self._boxes: dict[str, QComboBox] = {}

    def sizeHint(self) -> QSize:
        width = max(200, self.width())
        return QSize(width, min(TALLEST_PX, self._wanted_height(width)))

    def _wanted_height(self, width: int) -> int:
        total = 0
        for index in range(self._column.count()):
            item = self._column.itemAt(index)
            widget = item.widget() if item is not None else None
            if widget is not None:
                inner = widget.layout()
                tall = inner.heightForWidth(width - 16) if inner is not None else widget.sizeHint().height()
                total += tall + self._column.spacing()
        return total

    def resizeEvent(self, event: Any) -> None:
        super().resizeEvent(event)
        wanted = self.sizeHint().height()
        if self.height() != wanted:
            self.setFixedHeight(wanted)

    def show_plan(self, plan: Plan) -> None:
        """Show what the job has; rebuilt only when a row or a field came or went."""
        rows = _rows_of(plan)
        key = (rows, [(paper.id, paper.name) for paper in plan.job.brief.papers])
        if key != self._key:
            self._key = key
            self._rebuild(rows, plan.job)
        for path, box in self._boxes.items():
            box.setCurrentIndex(max(0, box.findData(get_field(plan.job, path))))

    def _rebuild(self, rows: tuple[tuple[str, str, tuple[tuple[str, str], ...]], ...], job: Job) -> None:
        for field in self._fields.values():  # the station keeps them, so they outlive their row
            field.setParent(self)
            field.hide()
        self._boxes.clear()
        while self._column.count():
            item = self._column.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for name, title, fields in rows:
            self._column.addWidget(self._make_row(job, name, title, fields))
        self.setVisible(bool(rows))
        self.setFixedHeight(self.sizeHint().height())

    def _make_row(self, job: Job, name: str, title: str, fields: tuple[tuple[str, str], ...]) -> QWidget:
        row = QWidget()
        row.setObjectName(f"extra-{name}")
        line = FlowLayout(row)
        if title:
            words = _words(title, strong=True)
            words.setMinimumHeight(28)
            line.addWidget(words)
        for path, field_title in fields:
            if find_choices(job, path):
                line.addWidget(self._make_box(job, path, field_title))
            else:
                line.addWidget(self._make_field(path, field_title))
        if name == "add-motif":
            add = QPushButton("Add a motif")
            add.setObjectName("motif-add")
            add.clicked.connect(lambda: self.document.edit("Motif", add_motif(self.document.job)))
            line.addWidget(add)
        elif name != "construction":
            off = QPushButton("Take off")
            off.setObjectName(f"extra-off-{name}")
            off.clicked.connect(partial(self._take_off, name, title))
            line.addWidget(off)
        return row

    def _make_box(self, job: Job, path: str, title: str) -> QWidget:
        """A list to choose from, with its title beside it like a field's."""
        holder = QWidget()
        line = QHBoxLayout(holder)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(5)
        box = QComboBox()
        box.setObjectName(f"choice-{path}")
        box.setAccessibleName(title)
        box.setMinimumHeight(28)
        for value, words in find_choices(job, path):
            box.addItem(words, value)
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        box.activated.connect(
            lambda _row: self.document.edit(f"{title} {box.currentText()}", [Change(path, box.currentData())])
        )
        line.addWidget(_words(title))
        line.addWidget(box)
        self._boxes[path] = box
        return holder

    def _make_field(self, path: str, title: str) -> QWidget:
        if path not in self._fields:
            self._fields[path] = self._take_field(FieldEdit(path, title, beside=True))
        field = self._fields[path]
        line = 150 if path.endswith(("widths", "insets", "note")) else 70
        field.setFixedWidth(field.title.sizeHint().width() + 5 + line)
        field.show_text(self.document.field_text(path))
        field.show()
        return field

    def _take_off(self, name: str, title: str) -> None:
        """Of the job as it is when the button is clicked, not as it was when the row was made."""
        job = self.document.job
        path = next((place for known, place, *_ in ATTACHMENTS if known == name), "")
        if path:
            changes = [Change(path, None)]
        elif name == "bought":
            changes = [Change("construct.bought", None)]
        elif name.startswith("motif-"):
            changes = [remove_motif(job, name)]
        else:
            changes = [remove_layer(job, name)]
        self.document.edit(f"{title} off", changes)


def _words(text: str, *, strong: bool = False) -> QLabel:
    label = small(text)
    label.setWordWrap(False)
    if strong:
        label.setProperty("role", "ink")
        label.setAlignment(Qt.AlignmentFlag.AlignVCenter)
    return label


def _rows_of(plan: Plan) -> tuple[tuple[str, str, tuple[tuple[str, str], ...]], ...]:
    """The rows to show: (name, title, fields), the construction's own first."""
    job, kind = plan.job, plan.construct.kind
    rows: list[tuple[str, str, tuple[tuple[str, str], ...]]] = []
    own = tuple(field for field in kind.fields if has_effect(job, field[0]))
    if own:
        rows.append(("construction", "", own))
    if kind.id == "flap-row":
        for motif in job.construct.flap_row.motifs:
            path = f"construct.flap_row.motifs.{motif.id}"
            rows.append((motif.id, motif.id.replace("-", " "), ((f"{path}.shape", "shape"), (f"{path}.cut", "is"))))
        rows.append(("add-motif", "", ()))
    for name, path, title, fields in ATTACHMENTS:
        if get_field(job, path) is not None:
            shown = ((f"{path}.{field}", words) for field, words in fields)
            rows.append((name, title, tuple(each for each in shown if has_effect(job, each[0]))))
    if job.construct.bought is not None:
        rows.append(("bought", "Bought envelope", (("construct.bought", "size"),)))
    for layer in job.construct.layers:
        path = f"construct.layers.{layer.id}"
        rows.append((layer.id, f"Layer on {layer.face}", ((f"{path}.paper", "paper"), (f"{path}.foam", "on foam"))))
    return tuple(rows)
