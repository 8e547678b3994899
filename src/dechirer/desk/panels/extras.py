"""What has no place on Construct's drawing: a construction's choices, and what is glued in or on."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.change import value_at
from dechirer.core.decide.decisions import Decisions
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_panel import FieldPanel, lists_of, make_take_off, rows_of, words_label
from dechirer.desk.work.document import Document

TALLEST_PX = 138
"""The rows take at most this much of the drawing's room; beyond it they scroll."""


class Extras(QScrollArea):
    """Rows of fields: how the base is folded, what its construction asks, and one per attachment, to be taken off.

    Signals:
        wanted(what): `file` to be brought in as the card, or the `roles` of the one it is.
    """

    wanted = pyqtSignal(str)

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.setObjectName("extras")
        self.document = document
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
        self._panels: dict[str, FieldPanel] = {}
        self._made: dict[tuple[str, str, bool], QWidget] = {}

    def sizeHint(self) -> QSize:
        width = max(200, self.width())
        return QSize(width, min(TALLEST_PX, self._wanted_height(width)))

    def _wanted_height(self, width: int) -> int:
        total = 0
        for index in range(self._column.count()):
            item = self._column.itemAt(index)
            widget = item.widget() if item is not None else None
            if widget is not None:
                tall = widget.heightForWidth(width - 16)
                total += (tall if tall > 0 else widget.sizeHint().height()) + self._column.spacing()
        return total

    def resizeEvent(self, event: Any) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        wanted = self.sizeHint().height()
        if self.height() != wanted:
            self.setFixedHeight(wanted)

    def show_plan(self, plan: Plan) -> None:
        """Show what the job has; rebuilt only when a row came or went."""
        rows = tuple(_rows_of(self.document.job, folded=plan.construct.is_folded))
        if rows != self._key:
            self._key = rows
            self._rebuild(rows)
        for panel in self._panels.values():
            panel.show_job()
        self._fit()

    def _rebuild(self, rows: tuple[tuple[str, str, bool], ...]) -> None:
        """Rows that stay are kept: making them is what takes long."""
        while self._column.count():
            self._column.takeAt(0)
        for row in [row for row in self._made if row not in rows]:
            widget = self._made.pop(row)
            del self._panels[row[0]]
            widget.hide()
            widget.deleteLater()
        for row in rows:
            if row not in self._made:
                self._made[row] = self._make_row(*row)
            self._column.addWidget(self._made[row])
        self.setVisible(bool(rows))

    def _make_file_buttons(self) -> QVBoxLayout:
        """What a card that is a file wants besides its fields: another file, and what its lines are."""
        column = QVBoxLayout()
        for words, name, what in (("Bring in…", "card-file", "file"), ("Roles and size…", "card-roles", "roles")):
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, what=what: self.wanted.emit(what))
            column.addWidget(button)
        column.addStretch(1)
        return column

    def _make_row(self, path: str, title: str, removable: bool) -> QWidget:
        panel = self._panels[path] = FieldPanel(self.document, path)
        row = QWidget()
        row.setObjectName(f"extra-{path}")
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        row.setSizePolicy(policy)
        line = QHBoxLayout(row)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(8)
        words = words_label(title, strong=True)
        words.setMinimumHeight(28)
        line.addWidget(words, 0, Qt.AlignmentFlag.AlignTop)
        line.addWidget(panel, 1)
        if path == FILE_PATH:
            line.addLayout(self._make_file_buttons())
        if removable:
            line.addWidget(make_take_off(self.document, path, title), 0, Qt.AlignmentFlag.AlignTop)
        return row


FILE_PATH = "construct.from_file"


def _rows_of(job: Job, *, folded: bool) -> Iterator[tuple[str, str, bool]]:
    """The rows to show: (path, title, whether it can be taken off), what the card itself asks first."""
    kind = CONSTRUCTIONS[job.brief.construction]
    path = f"construct.{kind.field}"
    if folded:
        yield "construct.fold", "Base", False
    if kind.decisions is not Decisions and (any(rows_of(job, path)) or any(lists_of(job, path))):
        yield path, kind.title, False
    for spec, own in job.construct.attached():
        if spec.many:
            for entry in own:
                place = f"{spec.path}.{entry.id}"
                yield place, spec.title.format(face=value_at(job, place).face), True
        else:
            yield spec.path, spec.title, True
