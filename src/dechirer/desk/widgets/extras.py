"""What has no place on Build's drawing: a construction's counts and shape, and what is glued in or on."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from dechirer.core.build.checks import remove_layer
from dechirer.core.job.edit import Change
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
        key = (
            plan.build.kind.id, [layer.id for layer in job.build.layers], job.build.window is None,
            [(paper.id, paper.name) for paper in job.brief.papers], job.build.hinged.shape,
            [layer.paper for layer in job.build.layers], job.build.window and job.build.window.paper,
            [layer.face for layer in job.build.layers],
        )  # fmt: skip
        if key == self._key:
            return
        self._key = key
        while self._column.count():
            item = self._column.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                if not isinstance(widget, _Fields):
                    widget.deleteLater()
        self._add_fields(plan)
        if job.build.window is not None:
            self._add_row(plan, "window", "Window backer", "build.window.paper", Change("build.window", None))
        for layer in job.build.layers:
            path = f"build.layers.{layer.id}.paper"
            self._add_row(plan, layer.id, f"Layer on {layer.face}", path, remove_layer(job, layer.id))

    def _add_fields(self, plan: Plan) -> None:
        kind = plan.build.kind
        if not kind.fields:
            return
        row = _Fields()
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

    def _add_row(self, plan: Plan, name: str, title: str, path: str, removal: Change) -> None:
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
        shown = plan.job.build.window.paper if name == "window" and plan.job.build.window else ""
        shown = shown or next((layer.paper for layer in plan.job.build.layers if layer.id == name), "")
        box.setCurrentIndex(box.findData(shown))
        box.activated.connect(
            lambda _row: self.document.edit(f"{title} in {box.currentText()}", [Change(path, box.currentData())])
        )
        line.addWidget(box)
        off = QPushButton("Take off")
        off.setObjectName(f"extra-off-{name}")
        off.clicked.connect(lambda: self.document.edit(f"{title} off", [removal]))
        line.addWidget(off)
        line.addStretch(1)
        self._column.addWidget(row)


class _Fields(QWidget):
    """The line of a construction's fields; its fields outlive it."""
