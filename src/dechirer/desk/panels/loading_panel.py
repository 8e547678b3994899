"""How the paper of a mat is loaded: the sheet set, on which mat, in which slots, which side up, and where it lies."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QComboBox, QPushButton, QVBoxLayout, QWidget

from dechirer.core.lay.blanks import front_of
from dechirer.core.lay.decisions import FACES, LIES, keep_trial, set_loading
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.sheet import loading_of
from dechirer.core.plan import Plan
from dechirer.core.press.records import CornerTrial
from dechirer.desk.panels.field_edit import FieldEdit
from dechirer.desk.panels.offcuts_button import OffcutsButton, paper_now
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document
from dechirer.desk.work.recording import recording

if TYPE_CHECKING:
    from dechirer.desk.boxes.trial_box import TrialBox


class LoadingPanel(QWidget):
    """Shows and changes `lay.loadings` of the paper that is on a mat; the line of the sheet belongs to its station."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self._plan: Plan | None = None
        self._layout: MatLayout | None = None
        self.sheet = FieldEdit("lay.loadings.?.sheet", "Sheet set at the machine")
        self.sheet.setObjectName("field-sheet-set")
        self.sheet.line.setObjectName("line-sheet-set")
        self.face = _box("face", "Which side of this paper lies up", FACES)
        self.face.activated.connect(lambda row: self._choose("face", self.face, row, "Sheets"))
        self.lies = _box("lies", "Where sheets of this paper lie on the mat", LIES)
        self.lies.activated.connect(lambda row: self._choose("lies", self.lies, row, "Sheets"))
        self.mat_kind = _box("mat-kind", "Which mat this paper is loaded on", {})
        self.mat_kind.activated.connect(lambda row: self._choose("mat", self.mat_kind, row, "On"))
        self.trial = QPushButton("Trial cut…")
        self.trial.setObjectName("trial-cut")
        self.trial.setToolTip("Find out where a blank in the mat’s corner is really cut")
        self.trial.clicked.connect(self.open_trial)
        self.slots = small()
        self.slots.setObjectName("lay-slots")
        self.most = FieldEdit("lay.loadings.?.most", "Pieces to a sheet, at most")
        self.most.setObjectName("field-most")
        self.most.line.setObjectName("line-most")
        self.offcuts = OffcutsButton(document)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(6)
        column.addWidget(heading("This paper"))
        column.addWidget(self.sheet)
        column.addWidget(small("On which mat"))
        column.addWidget(self.mat_kind)
        column.addWidget(self.slots)
        column.addWidget(self.trial)
        column.addWidget(small("Which side lies up"))
        column.addWidget(self.face)
        column.addWidget(small("Where it lies on the mat"))
        column.addWidget(self.lies)
        column.addWidget(self.most)
        column.addWidget(self.offcuts)

    def show_layout(self, plan: Plan, layout: MatLayout | None) -> None:
        """Show how the paper of a layout is loaded; nothing can be chosen without one."""
        self._plan, self._layout = plan, layout
        for widget in (self.face, self.lies, self.sheet, self.mat_kind, self.most, self.offcuts):
            widget.setEnabled(layout is not None)
        if layout is None:
            self.slots.hide()
            self.trial.hide()
            return
        paper, loading = plan.brief.paper(layout.paper).paper, loading_of(plan.job.lay, layout.paper)
        path = f"lay.loadings.{layout.paper}.sheet"
        self.sheet.set_path(path)
        self.sheet.line.setPlaceholderText(f"{paper.sheet.width} x {paper.sheet.height}")
        self.sheet.show_text(self.document.field_text(path))
        most = f"lay.loadings.{layout.paper}.most"
        self.most.set_path(most)
        self.most.line.setPlaceholderText("as many as fit")
        self.most.show_text(self.document.field_text(most))
        self.most.setEnabled(layout.sheet.printable is None and not layout.is_blank)
        self.offcuts.show_paper(plan, layout)
        self.offcuts.setEnabled(not layout.is_blank)
        self.face.setCurrentIndex(self.face.findData(loading.face))
        self.lies.setCurrentIndex(self.lies.findData(loading.lies))
        self.lies.setEnabled(layout.sheet.printable is None and not layout.is_blank)
        self._show_mats(plan, layout, loading.mat)
        self._show_slots(plan, layout)

    def _show_mats(self, plan: Plan, layout: MatLayout, chosen: str | None) -> None:
        first = "one with slots, where they fit" if layout.is_blank else "the machine’s own"
        wanted = [(first, None), *((mat.name, mat.id) for mat in plan.job.brief.machine.all_mats)]
        if [self.mat_kind.itemText(row) for row in range(self.mat_kind.count())] != [words for words, _ in wanted]:
            self.mat_kind.clear()
            for words, id in wanted:
                self.mat_kind.addItem(words, id)
        self.mat_kind.setCurrentIndex(max(0, self.mat_kind.findData(chosen)))

    def _show_slots(self, plan: Plan, layout: MatLayout) -> None:
        """What lies in which slot; a trial cut where a blank lies in the corner instead."""
        found = plan.slots_of(layout)
        alike = len({row.blank for row in found}) == 1
        rows = [
            f"{row.slot}: {row.design}"
            + ("" if alike else f", on {row.blank}")
            + (f", insert {row.insert}" if row.insert else "")
            for row in found
        ]
        self.slots.setText("\n".join(rows))
        self.slots.setVisible(bool(rows))
        self.trial.setVisible(layout.is_blank and not rows)

    def _choose(self, name: str, box: QComboBox, row: int, said: str) -> None:
        if self._layout is not None and paper_now(self.document, self._layout) is not None:
            fields: dict[str, Any] = {name: box.itemData(row)}
            change = set_loading(self.document.job.lay, self._layout.paper, **fields)
            self.document.edit(f"{said} {box.itemText(row)}", [change])

    def open_trial(self) -> TrialBox | None:
        """Open the box of the trial cut for the blank that is shown; None where none is."""
        from dechirer.desk.boxes.trial_box import TrialBox

        layout, plan = self._layout, self._plan
        if layout is None or plan is None or not layout.is_blank:
            return None
        placed, mat, machine = layout.placements[0], layout.sheet.mat, plan.job.brief.machine.name
        front = front_of(placed.piece)
        size = (front.height, front.width) if placed.turned else (front.width, front.height)
        earlier = recording.trial(machine, mat.id)
        box = TrialBox(machine, mat, size, plan.job.units, self._keep_trial, self, earlier)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.show()
        return box

    def _keep_trial(self, found: CornerTrial) -> None:
        recording.keep(found)
        self.document.edit(f"Trial cut on {found.machine}", [keep_trial(self.document.job.lay, found)])


def _box(name: str, words: str, choices: dict[Any, str]) -> QComboBox:
    box = QComboBox()
    box.setObjectName(name)
    box.setAccessibleName(words)
    for value, title in choices.items():
        box.addItem(title, value)
    return box
