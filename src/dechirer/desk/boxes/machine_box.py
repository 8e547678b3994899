"""The machine's profile: its mat drawn with what it reaches, numbers typed on the drawing; its holders, its pace. It
edits the open job, undoably."""

from __future__ import annotations

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.brief.machine import Reader
from dechirer.core.card.tools import HELD
from dechirer.core.decide.change import Change
from dechirer.desk.boxes.square_box import SquareBox
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.panels.mats_panel import MatsPanel
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.document import Document
from dechirer.desk.work.machines import keep_machine
from dechirer.drawing.scenes.machine import make_machine_scene

MARGIN_MM = 25.4
"""How much smaller than what the carriage reaches a reader's area is at first."""


class MachineBox(QDialog):
    """Edits `brief.machine` field by field."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.setObjectName("machine-box")
        self.setWindowTitle("Machine profile")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        column = QVBoxLayout(self)
        halves = QHBoxLayout()
        halves.setSpacing(14)
        self.view = DrawingView("machine-mat")
        self.view.setMinimumSize(300, 300)
        self.view.show_field = document.field_text
        self.view.field_typed.connect(self._typed)
        halves.addWidget(self.view, 5)
        halves.addWidget(self._make_side(), 4)
        column.addLayout(halves, 1)
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
        self.resize(920, 620)
        self._show()

    def _make_side(self) -> QScrollArea:
        """What has no place on the drawing: the name, the reader, the holders, the pace."""
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 8, 0)
        self.panels = [FieldPanel(self.document, "brief.machine", only=("name",), shape="column")]
        column.addWidget(self.panels[0])
        column.addWidget(small("Lengths are typed on the drawing: click a number."))
        self.reads = QCheckBox("It reads printed marks")
        self.reads.setObjectName("machine-reads")
        self.reads.clicked.connect(self._let_read)
        column.addWidget(self.reads)
        self.boxes: dict[tuple[int, str], QCheckBox] = {}
        for number, holder in enumerate(self.document.job.brief.machine.holders):
            column.addWidget(heading(f"The {holder.name} takes"))
            grid = QGridLayout()
            for place, (tool, title) in enumerate(HELD.items()):
                box = QCheckBox(title)
                box.setObjectName(f"holder-{number}-{tool}")
                box.clicked.connect(lambda on, number=number, tool=tool: self._take(number, tool, on))
                self.boxes[number, tool] = box
                grid.addWidget(box, *divmod(place, 2))
            column.addLayout(grid)
        self.mats = MatsPanel(self.document)
        column.addWidget(self.mats)
        self.panels.append(
            FieldPanel(
                self.document,
                "brief.machine",
                only=("blade_offset", "kerf", "overcut", "files_for_holder"),
                shape="column",
            )
        )
        column.addWidget(heading("The blade"))
        column.addWidget(self.panels[1])
        column.addWidget(heading("How it takes files"))
        self.panels.append(FieldPanel(self.document, "brief.machine.files", shape="column"))
        column.addWidget(self.panels[2])
        self.proved = small()
        self.proved.setObjectName("files-proved")
        self.proved.setWordWrap(True)
        column.addWidget(self.proved)
        square = QPushButton("Test square…")
        square.setObjectName("test-square")
        square.setToolTip("Cut a square, measure it, and have every file come out true")
        square.clicked.connect(self.open_square)
        column.addWidget(square)
        column.addWidget(heading("Pace, for the time estimate"))
        self.panels.append(FieldPanel(self.document, "brief.machine.pace", shape="grid"))
        column.addWidget(self.panels[3])
        column.addStretch(1)
        area = QScrollArea()
        area.setWidget(page)
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setMinimumWidth(330)
        return area

    def _typed(self, path: str, text: str) -> None:
        why = self.document.type_field(path, text)
        if why:
            self.view.refuse(why)
        else:
            self.view.accept()

    def _let_read(self, on: bool) -> None:
        """Give the machine a mark reader that sees what the carriage reaches, less a margin; or take it away."""
        machine = self.document.job.brief.machine
        sees = Reader(max(20.0, machine.cut_width - MARGIN_MM), max(20.0, machine.cut_height - MARGIN_MM))
        label = "It reads printed marks" if on else "It reads no marks"
        self.document.edit(label, [Change("brief.machine.reader", sees if on else None)])

    def _show(self) -> None:
        for panel in self.panels:
            panel.show_job()
        self.mats.show_job()
        machine = self.document.job.brief.machine
        self.reads.setChecked(machine.reader is not None)
        self.view.set_display(make_machine_scene(machine, self.document.job.units), machine.name)
        files = machine.files
        if not files.proved:
            told = "Whether it draws true has not been tried."
        elif files.stretch is None:
            told = f"It draws true: a test square was measured on {files.proved}."
        else:
            told = f"Lines are written {files.across:.4g} × {files.down:.4g} as large (measured on {files.proved})."
        self.proved.setText(told)
        holders = machine.holders
        for (number, tool), box in self.boxes.items():
            box.setChecked(number < len(holders) and tool in holders[number].takes)

    def _take(self, number: int, tool: str, on: bool) -> None:
        """Let a holder take a tool, or no longer."""
        holders = list(self.document.job.brief.machine.holders)
        takes = [each for each in HELD if (each in holders[number].takes and each != tool) or (on and each == tool)]
        holders[number] = msgspec.structs.replace(holders[number], takes=tuple(takes))
        verb = "takes" if on else "no longer takes"
        self.document.edit(
            f"The {holders[number].name} {verb} the {HELD[tool].lower()}",
            [Change("brief.machine.holders", tuple(holders))],
        )

    def open_square(self) -> SquareBox:
        """Open the box of the test square."""
        box = SquareBox(self.document, self)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        box.open()
        return box

    def _keep(self) -> None:
        try:
            path = keep_machine(self.document.job.brief.machine)
        except OSError as error:
            self.said.setText(f"Could not keep it: {error.strerror or error}")
            return
        self.said.setText(f"Kept as {path.name}; it is on the list of machines now.")
