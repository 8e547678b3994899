"""What has no place on Build's drawing: a construction's counts and shape, and what is glued in or on."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dechirer.core.build.checks import remove_layer
from dechirer.core.job.edit import Change, get_field
from dechirer.core.plan import Plan
from dechirer.desk.document import Document
from dechirer.desk.widgets.choices import small
from dechirer.desk.widgets.field_edit import FieldEdit

SHAPES = {"disc": "disc", "hexagon": "hexagon", "octagon": "octagon"}


class Extras(QWidget):
    """A line of fields for the construction, and a line per attachment with its paper and a button to take it off."""

    def __init__(self, document: Document, take_field: Callable[[FieldEdit], FieldEdit]) -> None:
        super().__init__()
        self.setObjectName("extras")
        self.document, self._take_field = document, take_field
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(3)
        self._key: object = None
        self._fields: dict[str, FieldEdit] = {}

    def show_plan(self, plan: Plan) -> None:
        """Show what the job has; rebuilt only when something was added or taken off."""
        job = plan.job
        build = job.build
        key = (
            plan.build.kind.id, [(paper.id, paper.name) for paper in job.brief.papers], build.hinged.shape,
            [(layer.id, layer.face, layer.paper) for layer in build.layers], build.window and build.window.paper,
            build.slits and (build.slits.paper, build.slits.style),
            build.envelope and (build.envelope.paper, build.envelope.style),
        )  # fmt: skip
        if key == self._key:
            return
        self._key = key
        for field in self._fields.values():  # the station keeps them, so they outlive their row
            field.setParent(self)
            field.hide()
        while self._column.count():
            item = self._column.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self._add_fields(plan)
        if job.build.window is not None:
            self._add_row(plan, "window", "Window backer", "build.window.paper", lambda: Change("build.window", None))
        if job.build.slits is not None:
            self._add_row(
                plan, "insert", "Insert", "build.slits.paper", lambda: Change("build.slits", None),
                style=("build.slits.style", ("straight", "scalloped"), job.build.slits.style),
            )  # fmt: skip
        if job.build.envelope is not None:
            self._add_row(
                plan, "envelope", "Envelope", "build.envelope.paper", lambda: Change("build.envelope", None),
                style=("build.envelope.style", ("glued", "hexagon", "petal"), job.build.envelope.style),
                field=("build.envelope.ease", "Larger by"),
            )  # fmt: skip
        for layer in job.build.layers:
            path = f"build.layers.{layer.id}.paper"
            self._add_row(
                plan, layer.id, f"Layer on {layer.face}", path,
                partial(self._removal_of, layer.id),
                field=(f"build.layers.{layer.id}.foam", "on foam"),
            )  # fmt: skip

    def _add_fields(self, plan: Plan) -> None:
        kind = plan.build.kind
        if not kind.fields:
            return
        row = QWidget()
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        if kind.id == "hinged-shape":
            box = QComboBox()
            box.setObjectName("hinged-shape")
            box.setAccessibleName("Shape")
            for shape, title in SHAPES.items():
                box.addItem(title, shape)
            box.setCurrentIndex(list(SHAPES).index(plan.job.build.hinged.shape))
            box.activated.connect(
                lambda _row: self.document.edit(box.currentText(), [Change("build.hinged.shape", box.currentData())])
            )
            line.addWidget(box)
        for path, title in kind.fields:
            if path not in self._fields:
                self._fields[path] = self._take_field(FieldEdit(path, title))
            field = self._fields[path]
            field.show_text(self.document.field_text(path))
            field.setMaximumWidth(150)
            line.addWidget(field)
            field.show()
        line.addStretch(1)
        self._column.addWidget(row)

    def _add_row(
        self, plan: Plan, name: str, title: str, path: str, removal: Callable[[], Change], *,
        style: tuple[str, tuple[str, ...], str] | None = None, field: tuple[str, str] | None = None,
    ) -> None:  # fmt: skip
        row = QWidget()
        row.setObjectName(f"extra-{name}")
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        label = small(title)
        label.setWordWrap(False)
        line.addWidget(label)
        box = QComboBox()
        box.setObjectName(f"extra-paper-{name}")
        box.setAccessibleName(f"Paper of {title.lower()}")
        for paper in plan.job.brief.papers:
            box.addItem(paper.name, paper.id)
        box.setCurrentIndex(box.findData(get_field(plan.job, path)))
        box.activated.connect(
            lambda _row: self.document.edit(f"{title} in {box.currentText()}", [Change(path, box.currentData())])
        )
        line.addWidget(box)
        if style is not None:
            styles = QComboBox()
            styles.setObjectName(f"extra-style-{name}")
            styles.setAccessibleName(f"Style of {title.lower()}")
            styles.addItems(style[1])
            styles.setCurrentText(style[2])
            styles.activated.connect(
                lambda _row: self.document.edit(
                    f"{title} {styles.currentText()}", [Change(style[0], styles.currentText())]
                )
            )
            line.addWidget(styles)
        if field is not None:
            words = small(field[1])
            words.setWordWrap(False)
            line.addWidget(words)
            if field[0] not in self._fields:
                self._fields[field[0]] = self._take_field(FieldEdit(field[0], ""))
            edit = self._fields[field[0]]
            edit.title.hide()
            edit.line.setAccessibleName(field[1])
            edit.setMaximumWidth(90)
            edit.show_text(self.document.field_text(field[0]))
            line.addWidget(edit)
            edit.show()
        off = QPushButton("Take off")
        off.setObjectName(f"extra-off-{name}")
        off.clicked.connect(lambda: self.document.edit(f"{title} off", [removal()]))
        line.addWidget(off)
        line.addStretch(1)
        self._column.addWidget(row)

    def _choose_style(self, title: str, path: str, style: str) -> None:
        self.document.edit(f"{title} {style}", [Change(path, style)])

    def _removal_of(self, layer_id: str) -> Change:
        """Of the job as it is when the button is clicked, not as it was when the row was made."""
        return remove_layer(self.document.job, layer_id)
