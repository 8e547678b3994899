"""Panels of fields: rows for decisions, built from what their fields say of themselves.

A panel shows the decisions at a path of the job. What has a place on the drawing is left out; decisions below become
rows of their own under a heading, entries of a list rows with a way to take one off and to add one.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any, Literal

import msgspec
from msgspec import Struct
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QBoxLayout,
    QCheckBox,
    QComboBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLayout,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change, PathError, key_of, take_off, value_at
from dechirer.core.decide.decisions import Decisions, slots_of
from dechirer.core.decide.field import Slot
from dechirer.core.job.edit import choices_of, has_effect, label_of
from dechirer.core.job.model import Job
from dechirer.core.length import parse_length
from dechirer.desk.panels.drag_name import DragName
from dechirer.desk.panels.field_edit import FieldEdit
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.flow import FlowLayout
from dechirer.desk.work.document import Document

Shape = Literal["flow", "form", "grid", "column"]
"""One after the other with their names beside them; below each other with their names beside them in a column; in two
columns, or one, with their names above them."""
WIDE = frozenset({"lengths", "size", "note", "text", "weight"})
LINE_PX, WIDE_PX = 70, 150
NAMES_PX = 130
"""The widest column of names in a form; longer ones go on in a second line."""


LONG_WORDS, LONG_SWITCH = 12, 16
"""A choice with words of more letters, or a switch, takes the whole line of a grid."""


class Row(Struct, frozen=True):
    """One field in its place in the job."""

    path: str
    slot: Slot


def rows_of(job: Job, path: str, only: tuple[str, ...] = (), *, deep: bool = True) -> Iterator[Row]:
    """The fields of the decisions at a path that a panel shows, those of decisions below included.

    Args:
        only: the names of the fields to show; all of them when it is empty.
        deep: whether decisions below are gone into.

    Raises:
        PathError: there is nothing at the path.
    """
    owner = value_at(job, path)
    for name, slot in slots_of(owner.__class__).items():
        if slot.field.drawn or slot.field.hidden or name not in owner.__struct_fields__ or (only and name not in only):
            continue
        value = getattr(owner, name)
        if isinstance(value, Decisions):
            if deep:
                yield from rows_of(job, f"{path}.{name}")
        elif slot.is_typed or slot.kind in ("choice", "switch", "paper", "art", "group", "item"):
            yield Row(f"{path}.{name}", slot)


def lists_of(job: Job, path: str) -> Iterator[tuple[str, Slot]]:
    """The lists of decisions among the fields at a path: (path, slot)."""
    owner = value_at(job, path)
    for name, slot in slots_of(owner.__class__).items():
        value = getattr(owner, name, None)
        if not slot.field.hidden and isinstance(value, tuple) and value and isinstance(value[0], Decisions):
            yield f"{path}.{name}", slot


class FieldPanel(QWidget):
    """The fields of the decisions at a path, to be typed, chosen and switched.

    Every edit is a step of the job; a text that is refused says why beside its line.
    """

    def __init__(
        self,
        document: Document,
        path: str,
        *,
        shape: Shape = "flow",
        only: tuple[str, ...] = (),
        items: Callable[[], tuple[tuple[Any, str], ...]] = tuple,
        draggable: bool = False,
        parent: QWidget | None = None,
    ) -> None:
        """
        Args:
            only: names the fields to show, all when it is empty.
            items: lists what a field that asks for an item may be.
            draggable: the names of lengths can be dragged to the side.
        """
        super().__init__(parent)
        self.document, self.path = document, path
        self.setObjectName(f"panel-{path}")
        self._shape, self._only, self._items, self._draggable = shape, only, items, draggable
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(4)
        body = QWidget()
        self._layout: QLayout = FlowLayout(body) if shape == "flow" else QGridLayout(body)
        self._layout.setContentsMargins(0, 0, 0, 0)
        if isinstance(self._layout, QGridLayout):
            self._layout.setVerticalSpacing(3)
            for column in range(2 if shape == "grid" else 1):
                self._layout.setColumnStretch(column, 1)
        self._column.addWidget(body)
        self._columns = 2 if shape == "grid" else 1
        self._at = (0, 0)
        self._order: list[tuple[QWidget, bool]] = []
        self._shown: list[QWidget] = []
        self._key: object = None
        self._beside = shape in ("flow", "form")
        self._names: list[QLabel] = []
        self._entries: list[QWidget] = []
        self.widgets: dict[str, QWidget] = {}
        self.show_job()

    def set_path(self, path: str) -> None:
        """Show the decisions at another path."""
        if path != self.path:
            self.path, self._key = path, None
        self.show_job()

    def show_job(self) -> None:
        """Show the values as the job has them now; rebuilt only when other fields are to be shown."""
        job = self.document.job
        try:
            rows = list(rows_of(job, self.path, self._only))
        except PathError:  # what it shows has just been taken off
            self._key = None
            self._clear()
            return
        lists = [] if self._only else list(lists_of(job, self.path))
        choices = {row.path: self._choices(job, row) for row in rows}
        entries = [(path, tuple(key_of(each) for each in value_at(job, path))) for path, _ in lists]
        key = (self.path, choices, entries)
        if key != self._key:
            self._key = key
            self._rebuild(rows, choices, lists)
        for row in rows:
            self._show_row(job, row)
        self._close_gaps()
        for widget in self.widgets.values():
            if isinstance(widget, FieldPanel):
                widget.show_job()

    def _close_gaps(self) -> None:
        """In a grid what applies stands side by side, without gaps where something does not."""
        shown = [widget for widget, _ in self._order if not widget.isHidden()]
        if not isinstance(self._layout, QGridLayout) or shown == self._shown:
            return
        self._shown = shown
        while self._layout.count():
            self._layout.takeAt(0)
        order, self._order = self._order, []
        for widget, whole in order:
            if widget.isHidden():
                self._order.append((widget, whole))
            else:
                self._put(widget, whole=whole)

    # --- building --------------------------------------------------------------------------------------------

    def _choices(self, job: Job, row: Row) -> tuple[tuple[Any, str], ...]:
        if row.slot.kind == "item":
            return ((None, row.slot.field.none), *self._items())
        return choices_of(job, row.path)

    def _clear(self) -> None:
        self.widgets.clear()
        self._names.clear()
        dropped = [widget for widget, _ in self._order]  # what has no effect now stands in no layout
        self._order.clear()
        self._shown = []
        while self._layout.count():
            item = self._layout.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None and widget not in dropped:
                dropped.append(widget)
        for widget in dropped:
            _drop(widget)
        for entry in self._entries:
            self._column.removeWidget(entry)
            _drop(entry)
        self._entries.clear()

    def _rebuild(self, rows: list[Row], choices: dict[str, Any], lists: list[tuple[str, Slot]]) -> None:
        self._clear()
        if not self._beside and not self._only:  # its own fields first, then those of the decisions below it
            rows = sorted(rows, key=lambda row: row.path.rpartition(".")[0] != self.path)
        below = self.path
        for row in rows:
            parent = row.path.rpartition(".")[0]
            if parent != below and not self._beside and not self._only:
                below = parent
                title = heading(self._title(parent))
                title.setWordWrap(True)
                self._put(title, whole=True)
            self.widgets[row.path] = self._make(row, choices[row.path])
            long = row.slot.kind == "switch" and len(row.slot.field.title) > LONG_SWITCH
            self._put(self.widgets[row.path], whole=long or _is_long(choices[row.path]))
        if self._shape == "form":
            widest = max((name.sizeHint().width() for name in self._names), default=0)
            for name in self._names:
                name.setWordWrap(True)
                name.setFixedWidth(min(widest, NAMES_PX))
        for path, slot in lists:
            keys = [key_of(entry) for entry in value_at(self.document.job, path)]
            made = [self._make_entry(f"{path}.{key}", fixed=slot.field.fixed) for key in keys]
            self._entries += made if slot.field.fixed else [*made, self._make_adder(path, slot)]
        for entry in self._entries:
            self._column.addWidget(entry)

    def _title(self, path: str) -> str:
        owner, _, name = path.rpartition(".")
        return slots_of(value_at(self.document.job, owner).__class__)[name].field.title

    def _put(self, widget: QWidget, *, whole: bool = False) -> None:
        """Add a widget: in a flow after the last, in a grid side by side or over the whole line."""
        grid = self._layout
        if not isinstance(grid, QGridLayout):
            grid.addWidget(widget)
            return
        self._order.append((widget, whole))
        line, column = self._at if grid.count() else (0, 0)
        if whole and column:
            line, column = line + 1, 0
        bottom = Qt.AlignmentFlag.AlignBottom if isinstance(widget, QCheckBox) else Qt.AlignmentFlag(0)
        grid.addWidget(widget, line, column, 1, self._columns if whole else 1, bottom)
        full = whole or column + 1 == self._columns
        self._at = (line + 1, 0) if full else (line, column + 1)

    def _make(self, row: Row, choices: tuple[tuple[Any, str], ...]) -> QWidget:
        title = row.slot.field.title
        if row.slot.kind == "switch":
            box = QCheckBox(title)
            box.setObjectName(f"switch-{row.path}")
            box.setMinimumHeight(28)
            box.clicked.connect(lambda on: self._set(row, on, title if on else f"Not {title.lower()}"))
            return box
        if choices:
            return self._make_combo(row, choices)
        drag = self._draggable and row.slot.kind == "length"
        label = DragName(title) if drag else None
        field = FieldEdit(row.path, title, hint=row.slot.field.hint, beside=self._beside, label=label)
        if label is not None:
            label.setObjectName(f"drag-{row.path}")
            label.dragged.connect(lambda mm: self._drag(row, field, mm))
            label.ended.connect(self.document.commit)
            label.taken_back.connect(lambda: self._take_back(field))
        field.typed.connect(lambda path, text: field.answer(self.document, path, text))
        self._names.append(field.title)
        if self._shape == "grid":
            _let_shrink(field.title)
        if self._shape == "flow":
            line = WIDE_PX if row.slot.kind in WIDE else LINE_PX
            field.setFixedWidth(field.title.sizeHint().width() + 5 + line)
        return field

    def _make_combo(self, row: Row, choices: tuple[tuple[Any, str], ...]) -> QWidget:
        """A list to choose from, with its name where a line has it."""
        holder = QWidget()
        beside = self._beside or (self._columns > 1 and _is_long(choices))
        way = QBoxLayout.Direction.LeftToRight if beside else QBoxLayout.Direction.TopToBottom
        line = QBoxLayout(way, holder)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(5 if beside else 2)
        title = words_label(row.slot.field.title)
        title.setProperty("role", "ink")
        self._names.append(title)
        line.addWidget(title)
        if self._shape == "grid":
            _let_shrink(title) if not beside else title.setWordWrap(True)
        combo = QComboBox()
        combo.setObjectName(f"choice-{row.path}")
        combo.setAccessibleName(row.slot.field.title)
        combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        combo.setMinimumHeight(28)
        for value, words in choices:
            combo.addItem(words, value)
        combo.activated.connect(
            lambda _row: self._set(row, combo.currentData(), f"{row.slot.field.title} {combo.currentText()}")
        )
        title.setBuddy(combo)
        if self._shape != "flow":
            combo.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
            combo.setMinimumContentsLength(5)
        line.addWidget(combo, 0 if self._shape == "flow" else 1)
        return holder

    def _make_entry(self, path: str, *, fixed: bool) -> QWidget:
        """One entry of a list: its fields, and a button that takes it off unless the list is fixed."""
        holder = QWidget()
        holder.setObjectName(f"entry-{path}")
        column = QVBoxLayout(holder)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        line = QHBoxLayout()
        line.setSpacing(8)
        column.addLayout(line)
        name = path.rpartition(".")[2]
        label = small(name.replace("-", " "))
        label.setWordWrap(False)
        label.setProperty("role", "ink")
        label.setMinimumHeight(28)
        line.addWidget(label, 0, Qt.AlignmentFlag.AlignTop)
        inner = FieldPanel(self.document, path)
        self.widgets[path] = inner
        if self._beside:
            line.addWidget(inner, 1)
        else:  # a narrow panel: the fields go below the name
            line.addStretch(1)
            column.addWidget(inner)
        if not fixed:
            off = make_take_off(self.document, path, label.text(), small=not self._beside)
            line.addWidget(off, 0, Qt.AlignmentFlag.AlignTop)
        return holder

    def _make_adder(self, path: str, slot: Slot) -> QWidget:
        add = QPushButton(f"Another {slot.field.title.lower()}")
        add.setObjectName(f"add-{path}")
        add.clicked.connect(
            lambda: self.document.edit(f"Another {slot.field.title.lower()}", lambda job: [_another(job, path)])
        )
        return add

    # --- showing and editing ---------------------------------------------------------------------------------

    def _show_row(self, job: Job, row: Row) -> None:
        widget = self.widgets.get(row.path)
        if widget is None:
            return
        try:
            widget.setVisible(has_effect(job, row.path))
            value = None if isinstance(widget, FieldEdit) else value_at(job, row.path)
        except PathError:
            return  # it is gone; the panel is made anew with the next plan
        if isinstance(widget, FieldEdit):
            widget.show_text(self.document.field_text(row.path))
            return
        if isinstance(widget, QCheckBox):
            widget.setChecked(bool(value))
            return
        combo = widget.findChild(QComboBox)
        if combo is not None:
            combo.setCurrentIndex(max(0, combo.findData(value)))
            combo.setToolTip(combo.currentText())  # it may be cut short in a narrow window

    def _drag(self, row: Row, field: FieldEdit, mm: float) -> None:
        """Show a length moved by so much from what the job has, without keeping it."""
        try:
            before = value_at(self.document.job, row.path)
        except PathError:
            return
        length = parse_length(f"{round((before.mm + mm) * 20) / 20:g} mm")
        if self.document.preview(
            f"{label_of(self.document.job, row.path)} {before} › {length}", [Change(row.path, length)]
        ):
            field.line.setText(str(length))

    def _take_back(self, field: FieldEdit) -> None:
        self.document.abort()
        field.accept()

    def _set(self, row: Row, value: Any, label: str) -> None:
        """Edit a field; when it is refused the panel goes back to what the job has."""
        if not self.document.edit(label, [Change(row.path, value)]):
            self._show_row(self.document.job, row)


def _another(job: Job, path: str) -> Change:
    """One entry more at the end of a list, like the last."""
    entries = value_at(job, path)
    last = entries[-1]
    stem = last.id.rstrip("0123456789-") or "entry"
    taken = {entry.id for entry in entries}
    id = next(f"{stem}-{number}" for number in range(1, 1000) if f"{stem}-{number}" not in taken)
    return Change(path, (*entries, msgspec.structs.replace(last, id=id)))


def _is_long(choices: tuple[tuple[Any, str], ...]) -> bool:
    return max((len(words) for _, words in choices), default=0) > LONG_WORDS


def _let_shrink(title: QLabel) -> None:
    """A title over its line takes two rows where there is little room, and no more width than the line."""
    title.setWordWrap(True)
    title.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Minimum)


def _drop(widget: QWidget) -> None:
    widget.hide()
    widget.deleteLater()


def make_take_off(document: Document, path: str, title: str, *, small: bool = False) -> QPushButton:
    """A button that takes off what is at a path of the job, as it is when the button is clicked; a cross if `small`."""
    button = QPushButton("✕" if small else "Take off")
    if small:
        button.setToolTip(f"Take off: {title}")
        button.setFixedWidth(30)
        button.setStyleSheet("padding: 2px;")
    button.setObjectName(f"take-off-{path}")
    button.setAccessibleName(f"Take off: {title}")
    button.clicked.connect(lambda: document.edit(f"{title} off", lambda job: [take_off(job, path)]))
    return button


def words_label(text: str, *, strong: bool = False) -> QLabel:
    """A label in one line, soft or strong."""
    label = small(text)
    label.setWordWrap(False)
    if strong:
        label.setProperty("role", "ink")
        label.setAlignment(Qt.AlignmentFlag.AlignVCenter)
    return label
