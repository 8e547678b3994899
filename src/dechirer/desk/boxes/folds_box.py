"""Every fold of every piece, where it lies and how it is marked: as the others of its piece, or otherwise."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QGridLayout, QLabel, QScrollArea, QVBoxLayout, QWidget

from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_panel import FieldPanel, words_label
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document

PANEL_PX = 330
"""Wide enough for how a fold is marked and how often, side by side."""


class FoldsBox(QDialog):
    """A row for each fold; pieces with more folds than can be told apart by their names are in it as well."""

    def __init__(self, document: Document, plan_of: Callable[[], Plan | None], parent: QWidget) -> None:
        """`plan_of` gives the plan that is shown now."""
        super().__init__(parent)
        self.document, self._plan_of = document, plan_of
        self.setObjectName("folds-box")
        self.setWindowTitle("Folds")
        self.setMinimumSize(760, 380)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        page = QVBoxLayout(self)
        page.addWidget(heading("How each fold is marked"))
        told = small(
            "Scored, perforated, ticked or left unmarked, where a fold is not as the others of its piece; scored as "
            "often as the run says, where no times are given."
        )
        told.setWordWrap(True)
        page.addWidget(told)
        self._inner = QWidget()
        self._grid = QGridLayout(self._inner)
        self._grid.setColumnStretch(2, 1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(self._inner)
        page.addWidget(area, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.close)
        page.addWidget(buttons)
        self._panels: dict[str, FieldPanel] = {}
        self._places: dict[str, QLabel] = {}
        self._rows: tuple[str, ...] = ()
        # After the station has been drawn, not with it: both at one time would hold up the window.
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(0)
        self._later.timeout.connect(self.refresh)
        document.planned.connect(self._later.start)
        self.refresh()

    def refresh(self) -> None:
        """Show the folds there are now; rebuilt only when a fold came or went."""
        plan = self._plan_of()
        if plan is None:
            return
        folds = [(piece, mark) for piece in plan.construct.pieces for mark in piece.folds]
        rows = tuple(f"{piece.id}-{mark.hinge}" for piece, mark in folds)
        if rows != self._rows:
            self._rows = rows
            self._rebuild([(row, piece.name, mark.hinge) for row, (piece, mark) in zip(rows, folds, strict=True)])
        for row, (_, mark) in zip(rows, folds, strict=True):
            self._panels[row].show_job()
            place = format_length(mark.at.value, plan.job.units)
            self._places[row].setText(f"{place} from the {mark.edge}, {mark.sense} fold")

    def _rebuild(self, rows: list[tuple[str, str, str]]) -> None:
        while self._grid.count():
            item = self._grid.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        self._panels.clear()
        self._places.clear()
        for number, (row, piece, hinge) in enumerate(rows):
            name = hinge.removeprefix("fold-").replace("-", " ")
            title = words_label(f"{piece}, {name}" if name != "fold" else piece, strong=True)
            title.setMinimumHeight(28)
            self._places[row] = words_label("")
            self._places[row].setMinimumHeight(28)
            self._places[row].setAlignment(Qt.AlignmentFlag.AlignVCenter)
            self._panels[row] = FieldPanel(self.document, f"construct.folds.{row}")
            self._panels[row].setMinimumWidth(PANEL_PX)
            top = Qt.AlignmentFlag.AlignTop
            for column, widget in enumerate((title, self._places[row], self._panels[row])):
                self._grid.addWidget(widget, number, column, top)
        self._grid.setRowStretch(len(rows), 1)
