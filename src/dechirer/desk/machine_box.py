"""The machine's profile: cut area, mat, speeds and holders, in a dialog that edits the open job, undoably."""

from __future__ import annotations

import msgspec
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.card.tools import TOOLS
from dechirer.desk.document import Document
from dechirer.desk.machines import keep_machine
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.field_edit import FieldEdit

ROWS: tuple[tuple[str, tuple[tuple[str, str], ...]], ...] = (
    (
        "Mat and what the carriage reaches",
        (
            ("mat_width", "Mat width"),
            ("mat_height", "Mat length"),
            ("cut_width", "Cut width"),
            ("cut_height", "Cut length"),
            ("cut_left", "Cut area starts from the left"),
            ("cut_top", "Cut area starts from the top"),
        ),
    ),
    (
        "Pace, for the time estimate",
        (
            ("pace.cut_mm_s", "Cutting, mm/s"),
            ("pace.score_mm_s", "Scoring, mm/s"),
            ("pace.travel_mm_s", "Travel, mm/s"),
            ("pace.acceleration_mm_s2", "Acceleration, mm/s²"),
            ("pace.load_mat_s", "Loading a mat, s"),
            ("pace.change_tool_s", "Changing a tool, s"),
            ("pace.lift_s", "Lifting the tool, s"),
        ),
    ),
    ("Mark reader", (("reader.width", "Area width"), ("reader.height", "Area length"))),
)


class MachineBox(QDialog):
    """Edits `brief.machine` field by field."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.setObjectName("machine-box")
        self.setWindowTitle("Machine profile")
        self.setMinimumWidth(520)
        column = QVBoxLayout(self)
        self.fields: list[FieldEdit] = []
        machine = document.job.brief.machine
        column.addWidget(self._field("name", "Name"))
        for title, rows in ROWS:
            if title == "Mark reader" and machine.reader is None:
                continue
            column.addWidget(heading(title))
            grid = QGridLayout()
            for number, (name, words) in enumerate(rows):
                grid.addWidget(self._field(name, words), number // 2, number % 2)
            column.addLayout(grid)
        column.addWidget(heading("Holders"))
        self.boxes: dict[tuple[int, str], QCheckBox] = {}
        for number, holder in enumerate(machine.holders):
            column.addWidget(small(f"The {holder.name} takes"))
            line = QHBoxLayout()
            for tool, title in TOOLS.items():
                box = QCheckBox(title)
                box.setObjectName(f"holder-{number}-{tool}")
                box.clicked.connect(lambda on, number=number, tool=tool: self._take(number, tool, on))
                self.boxes[number, tool] = box
                line.addWidget(box)
            line.addStretch(1)
            column.addLayout(line)
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

    def _field(self, name: str, title: str) -> FieldEdit:
        field = FieldEdit(f"brief.machine.{name}", title)
        field.typed.connect(lambda path, text, field=field: field.answer(self.document, path, text))
        self.fields.append(field)
        return field

    def _show(self) -> None:
        for field in self.fields:
            field.show_text(self.document.field_text(field.path))

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
