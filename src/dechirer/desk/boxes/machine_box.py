"""The machine's profile: cut area, mat, speeds and holders, in a dialog that edits the open job, undoably."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.card.tools import TOOLS
from dechirer.core.decide.change import Change
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document
from dechirer.desk.work.machines import keep_machine


class MachineBox(QDialog):
    """Edits `brief.machine` field by field."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.setObjectName("machine-box")
        self.setWindowTitle("Machine profile")
        self.setMinimumWidth(520)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        machine = document.job.brief.machine
        self.panel = FieldPanel(document, "brief.machine", shape="grid")
        column.addWidget(self.panel)
        column.addWidget(heading("Holders"))
        self.boxes: dict[tuple[int, str], QCheckBox] = {}
        for number, holder in enumerate(machine.holders):
            column.addWidget(small(f"The {holder.name} takes"))
            grid = QGridLayout()
            for place, (tool, title) in enumerate(TOOLS.items()):
                box = QCheckBox(title)
                box.setObjectName(f"holder-{number}-{tool}")
                box.clicked.connect(lambda on, number=number, tool=tool: self._take(number, tool, on))
                self.boxes[number, tool] = box
                grid.addWidget(box, *divmod(place, 3))
            column.addLayout(grid)
        self.said = QLabel("")
        self.said.setObjectName("machine-said")
        self.said.setProperty("role", "soft")
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        keep = buttons.addButton("Keep for other jobs", QDialogButtonBox.ButtonRole.ActionRole)
        assert keep is not None
        keep.setObjectName("keep-machine")
        keep.clicked.connect(self._keep)
        for button in buttons.findChildren(QPushButton):
            button.setAutoDefault(False)  # Enter belongs to the line being typed into
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        document.changed.connect(self._show)
        self._show()

    def _show(self) -> None:
        self.panel.show_job()
        holders = self.document.job.brief.machine.holders
        for (number, tool), box in self.boxes.items():
            box.setChecked(number < len(holders) and tool in holders[number].takes)

    def _take(self, number: int, tool: str, on: bool) -> None:
        """Let a holder take a tool, or no longer."""
        holders = list(self.document.job.brief.machine.holders)
        takes = [each for each in TOOLS if (each in holders[number].takes and each != tool) or (on and each == tool)]
        holders[number] = msgspec.structs.replace(holders[number], takes=tuple(takes))
        verb = "takes" if on else "no longer takes"
        self.document.edit(
            f"The {holders[number].name} {verb} the {TOOLS[tool].lower()}",
            [Change("brief.machine.holders", tuple(holders))],
        )

    def _keep(self) -> None:
        try:
            path = keep_machine(self.document.job.brief.machine)
        except OSError as error:
            self.said.setText(f"Could not keep it: {error.strerror or error}")
            return
        self.said.setText(f"Kept as {path.name}; it is on the list of machines now.")
