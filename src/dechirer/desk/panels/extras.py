"""What has no place on Construct's drawing: a construction's choices, and what is glued in or on."""

from __future__ import annotations

from collections.abc import Iterator

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QScrollArea, QToolButton, QVBoxLayout, QWidget

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.change import value_at
from dechirer.core.decide.decisions import Decisions
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_panel import FieldPanel, lists_of, make_take_off, rows_of
from dechirer.desk.theme import theme
from dechirer.desk.widgets.flow import FlowLayout
from dechirer.desk.work.document import Document


class Group(QWidget):
    """The fields of one thing under its name, folded away by a click on it."""

    def __init__(self, document: Document, path: str, title: str, *, removable: bool) -> None:
        super().__init__()
        self.setObjectName(f"extra-{path}")
        self._title = title
        self.panel = FieldPanel(document, path, shape="grid")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        head = QHBoxLayout()
        head.setSpacing(4)
        self.name = QToolButton()
        self.name.setObjectName(f"group-{path}")
        self.name.setFont(theme.font("strong"))
        self.name.setCheckable(False)
        self.name.setStyleSheet("padding: 3px 2px; text-align: left;")
        self.name.clicked.connect(self._turn)
        head.addWidget(self.name)
        head.addStretch(1)
        if removable:
            head.addWidget(make_take_off(document, path, title, small=True))
        column.addLayout(head)
        column.addWidget(self.panel)
        self._say()

    @property
    def is_open(self) -> bool:
        """Whether its fields are shown."""
        return not self.panel.isHidden()

    def _turn(self) -> None:
        self.panel.setVisible(not self.is_open)
        self._say()

    def _say(self) -> None:
        self.name.setText(f"{'▾' if self.is_open else '▸'} {self._title}")
        self.name.setAccessibleName(f"{self._title}: {'fold away' if self.is_open else 'show'}")


class Extras(QScrollArea):
    """Groups of fields: how the base is folded, what its construction asks, and one per attachment, to be taken off.

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
        self.setMinimumWidth(LEAST_PX)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        page = QWidget()
        self._column = QVBoxLayout(page)
        self._column.setContentsMargins(0, 0, 6, 4)
        self._column.setSpacing(8)
        self._column.addStretch(1)
        self.setWidget(page)
        self._key: object = None
        self._made: dict[tuple[str, str, bool], Group] = {}
        self._wanted = ""
        self._reveal = QTimer(self)  # a group's place is known when the layout has settled
        self._reveal.setSingleShot(True)
        self._reveal.timeout.connect(self._show_wanted)

    def show_plan(self, plan: Plan) -> None:
        """Show what the job has; rebuilt only when a group came or went."""
        rows = tuple(_rows_of(self.document.job, folded=plan.construct.is_folded))
        if rows != self._key:
            self._key = rows
            self._rebuild(rows)
        for group in self._made.values():
            group.panel.show_job()

    def show_group(self, path: str) -> None:
        """Bring a group into sight."""
        self._wanted = path
        self._reveal.start()

    def _show_wanted(self) -> None:
        for (own, _, _), group in self._made.items():
            if own == self._wanted or own.startswith(f"{self._wanted}."):
                self.ensureWidgetVisible(group)
                return

    def _rebuild(self, rows: tuple[tuple[str, str, bool], ...]) -> None:
        """Groups that stay are kept: making them is what takes long."""
        while self._column.count():
            self._column.takeAt(0)
        for row in [row for row in self._made if row not in rows]:
            widget = self._made.pop(row)
            widget.hide()
            widget.deleteLater()
        for row in rows:
            if row not in self._made:
                self._made[row] = self._make_group(*row)
            self._column.addWidget(self._made[row])
        self._column.addStretch(1)

    def _make_group(self, path: str, title: str, removable: bool) -> Group:
        group = Group(self.document, path, title, removable=removable)
        if path == FILE_PATH:
            layout = group.layout()
            assert isinstance(layout, QVBoxLayout)
            layout.addLayout(self._make_file_buttons())
        return group

    def _make_file_buttons(self) -> FlowLayout:
        """What a card that is a file wants besides its fields: another file, and what its lines are."""
        line = FlowLayout(gap=6)
        for words, name, what in (("Bring in…", "card-file", "file"), ("Roles and size…", "card-roles", "roles")):
            button = QPushButton(words)
            button.setObjectName(name)
            button.clicked.connect(lambda _=False, what=what: self.wanted.emit(what))
            line.addWidget(button)
        return line


LEAST_PX = 206
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
