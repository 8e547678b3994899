"""Run: the passes of each mat with their tools, and the tool's path to step along."""

from __future__ import annotations

import bisect
from typing import Literal

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QMenu,
    QPushButton,
    QSizePolicy,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.brief.machine import find_holder
from dechirer.core.card.operations import OPERATION
from dechirer.core.card.tools import DOES, TOOLS
from dechirer.core.decide.change import Change
from dechirer.core.figure import format_minutes
from dechirer.core.plan import Plan
from dechirer.core.run.run import MatRun, ToolStep
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choice_column import title_line
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.flow import FlowLayout
from dechirer.desk.widgets.mat_list import ExportMatButton, MatList
from dechirer.desk.widgets.pass_table import PassTable
from dechirer.desk.widgets.time_bar import TimeBar
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.mat import make_run_scene

PLAY_MS = 100
SPEEDS = (("× 20", 20.0), ("true speed", 1.0))
KINDS: tuple[tuple[Literal["svg", "dxf", "plt", "png"], str], ...] = (
    ("svg", "SVG, at true size"),
    ("dxf", "DXF, for other programs"),
    ("plt", "Plotter files"),
    ("png", "Pictures of mats"),
)
CARE = "Blades cut, foil tips burn: switch off, let them cool, and follow the machine's manual."


class RunStation(Station):
    """The run."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._row = 0
        self._shown_mat: MatRun | None = None
        self._make_mats()
        self.path = self.take_view(DrawingView("run-path"))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("step")
        self.slider.setAccessibleName("Step of the tool path")
        self.slider.valueChanged.connect(self._draw)
        self.back, self.on, self.play = QPushButton("Back"), QPushButton("Step"), QPushButton("Play")
        for button, name in ((self.back, "step-back"), (self.on, "step-on"), (self.play, "play")):
            button.setObjectName(name)
        self.back.clicked.connect(lambda: self.slider.setValue(self.slider.value() - 1))
        self.on.clicked.connect(lambda: self.slider.setValue(self.slider.value() + 1))
        self.play.clicked.connect(self._play)
        self._timer = QTimer(self)
        self._timer.setInterval(PLAY_MS)
        self._timer.timeout.connect(self._tick)
        self.words = QLabel()
        self.words.setObjectName("step-words")
        self.words.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
        self.words.setWordWrap(True)
        self.tools: dict[str, QCheckBox] = {}
        for tool, spec in TOOLS.items():
            box = QCheckBox(spec.short)
            box.setObjectName(f"tool-{tool}")
            box.setAccessibleName(spec.title)
            box.setToolTip(spec.title)
            box.clicked.connect(lambda on, tool=tool: self._own(tool, on))
            self.tools[tool] = box
        self.scoring = FieldPanel(document, "run", shape="column")
        self.table = PassTable()
        self.bar = TimeBar()
        self.rehearsing = QPushButton("Rehearse…")
        self.rehearsing.setObjectName("rehearse")
        self.rehearsing.setToolTip("Write the files, run them on a simulated cutter, and measure what comes out")
        self.rehearsing.clicked.connect(lambda: self.open_box("rehearse"))
        self.setting = QPushButton("Settings…")
        self.setting.setObjectName("settings")
        self.setting.setToolTip("How each tool is set for each paper, and test cuts")
        self.setting.clicked.connect(lambda: self.open_box("settings"))
        self.working = QPushButton("At the machine…")
        self.working.setObjectName("at-the-machine")
        self.working.setToolTip("Work from it while cutting: one step at a time, kept where you are")
        self.working.clicked.connect(lambda: self.open_box("machine-view"))
        self.files = QPushButton("Files")
        self.files.setObjectName("run-files")
        menu = QMenu(self.files)
        menu.aboutToShow.connect(lambda: self._fill_files(menu))
        self.files.setMenu(menu)
        self.speed = QComboBox()
        self.speed.setObjectName("play-speed")
        self.speed.setAccessibleName("How fast it is played")
        for words, times in SPEEDS:
            self.speed.addItem(words, times)
        self._clock = 0.0
        self.title, self.under = heading(""), small()
        self._arrange()

    def _make_mats(self) -> None:
        self.mats = MatList("run-mats", with_picture=False)
        self.mats.chosen.connect(self._choose_mat)
        self.export = ExportMatButton("run-export-mat")
        for source in (self.mats, self.export):
            source.export_wanted.connect(lambda number: self.action_wanted.emit(f"export-mat-{number}"))

    def _arrange(self) -> None:
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 10, 14, 8)
        left = QVBoxLayout()
        left.setSpacing(5)
        left.addWidget(heading("Order of mats"))
        left.addWidget(self.mats, 1)
        left.addWidget(heading("Tools you own"))
        left.addLayout(self._arrange_tools())
        left.addWidget(self.scoring)
        line.addLayout(left, 30)
        right = QVBoxLayout()
        right.addLayout(title_line(self.title, self.under))
        right.addWidget(self.bar)
        deeds = FlowLayout()
        for deed in (self.working, self.setting, self.files, self.rehearsing, self.export):
            deeds.addWidget(deed)
        right.addLayout(deeds)
        right.addWidget(self.table)
        right.addWidget(self.path, 1)
        right.addWidget(self.slider)
        steps = QHBoxLayout()
        for button in (self.back, self.on, self.play, self.speed):
            steps.addWidget(button)
        steps.addSpacing(8)
        steps.addWidget(self.words, 1)
        right.addLayout(steps)
        self.care = small(CARE)
        right.addWidget(self.care)
        line.addLayout(right, 70)

    def _arrange_tools(self) -> QGridLayout:
        """The tools in a line for each thing they do."""
        grid = QGridLayout()
        grid.setHorizontalSpacing(8)
        grid.setVerticalSpacing(3)
        grid.setColumnStretch(1, 1)
        for row, (words, tools) in enumerate(DOES.items()):
            grid.addWidget(small(words), row, 0, Qt.AlignmentFlag.AlignTop)
            boxes = FlowLayout()
            for tool in tools:
                boxes.addWidget(self.tools[tool])
            grid.addLayout(boxes, row, 1)
        return grid

    @property
    def mat_shown(self) -> MatRun | None:
        """The mat that is open, or None when there is nothing to cut."""
        mats = self.plan.run.mats if self.plan else ()
        return mats[min(self._row, len(mats) - 1)] if mats else None

    def refresh(self) -> None:
        plan = self.plan
        if plan is None:
            return
        self._row = min(self._row, max(0, len(plan.run.mats) - 1))
        self.mats.show_mats(
            plan,
            [run_lines(plan, mat) for mat in plan.run.mats],
            self._row,
            [mat.layout.number for mat in plan.run.mats],
        )
        shown = self.mat_shown
        self.export.show_mat(shown.layout.number if shown is not None else 0)
        for tool, box in self.tools.items():
            holder = find_holder(plan.job.brief.machine, tool)
            box.setChecked(tool in plan.job.run.tools)
            box.setText(TOOLS[tool].short + ("" if holder else " ✕"))
            box.setToolTip(TOOLS[tool].title + ("" if holder else ": no holder of this machine takes it"))
        self.scoring.show_job()
        self.bar.show_minutes(plan.run.minutes)
        self.rehearsing.setEnabled(bool(plan.run.mats))
        self.working.setEnabled(bool(plan.run.mats))
        mat = self.mat_shown
        if mat is not self._shown_mat:
            self._shown_mat = mat
            steps = len(mat.steps) if mat else 0
            self.slider.blockSignals(True)
            self.slider.setRange(0, steps)
            self.slider.setValue(steps)
            self.slider.blockSignals(False)
        if mat is None:
            self.title.setText("Nothing to run")
            self.under.setText("see the findings")
            self.table.show_passes(None)
            return
        times = "once" if mat.layout.repeats == 1 else f"{mat.layout.repeats} times"
        self.title.setText(f"Mat {mat.layout.number}")
        self.under.setText(f"cut {times} · {format_minutes(mat.seconds / 60)} under way each time")
        self.table.show_passes(mat)
        self._draw()

    def _draw(self) -> None:
        mat = self.mat_shown
        if self.plan is None or mat is None:
            return
        step = self.slider.value()
        self.path.set_display(make_run_scene(self.plan, mat, step), mat.layout.id)
        self.back.setEnabled(step > 0)
        self.on.setEnabled(step < len(mat.steps))
        self.words.setText(step_words(mat.steps, step))

    def point_at(self, element: str) -> None:
        if element in self.tools:
            self.tools[element].setFocus(Qt.FocusReason.OtherFocusReason)

    def _choose_mat(self, row: int) -> None:
        if row != self._row:
            self._row = row
            self._stop()
            self.refresh()

    def _play(self) -> None:
        if self._timer.isActive():
            self._stop()
            return
        if self.slider.value() == self.slider.maximum():
            self.slider.setValue(0)
        mat, step = self.mat_shown, self.slider.value()
        self._clock = mat.steps[step - 1].ends_s if mat is not None and step else 0.0
        self.play.setText("Stop")
        self._timer.start()

    def _stop(self) -> None:
        self._timer.stop()
        self.play.setText("Play")

    def _tick(self) -> None:
        mat = self.mat_shown
        if mat is None or self.slider.value() >= self.slider.maximum():
            self._stop()
            return
        self._clock += PLAY_MS / 1000 * float(self.speed.currentData())
        step = bisect.bisect_right([each.ends_s for each in mat.steps], self._clock)
        self.slider.setValue(max(self.slider.value(), step))

    def open_box(self, what: str) -> QDialog | None:
        """Open `rehearse` (the job cut on a simulated machine), `machine-view` (to work from) or `settings`; None where
        there is nothing to cut."""
        from dechirer.desk.boxes.cut_rehearsal_box import CutRehearsalBox
        from dechirer.desk.boxes.machine_view import MachineView
        from dechirer.desk.boxes.settings_box import SettingsBox

        if self.plan is None or not self.plan.run.mats:
            return None
        box: QDialog
        if what == "settings":
            box = SettingsBox(self.document, self)
            box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            box.show()
            return box
        box = CutRehearsalBox(self.plan, self) if what == "rehearse" else MachineView(self.plan, self.document, self)
        box.show()
        return box

    def _fill_files(self, menu: QMenu) -> None:
        """Which kinds of files of the mats are written."""
        menu.clear()
        skip = self.document.job.run.skip
        for kind, words in KINDS:
            action = menu.addAction(words)
            if action is not None:
                action.setCheckable(True)
                action.setChecked(kind not in skip)
                action.triggered.connect(lambda on, kind=kind, words=words: self._write_kind(kind, words, on))

    def _write_kind(self, kind: Literal["svg", "dxf", "plt", "png"], words: str, on: bool) -> None:
        skip = self.document.job.run.skip
        left = tuple(each for each in skip if each != kind) if on else (*skip, kind)
        self.document.edit(f"{words} {'written' if on else 'left out'}", [Change("run.skip", left)])

    def _own(self, tool: str, owned: bool) -> None:
        tools = self.document.job.run.tools
        changed = (*tools, tool) if owned else tuple(each for each in tools if each != tool)
        verb = "Own" if owned else "Without"
        self.document.edit(f"{verb} the {TOOLS[tool].title.lower()}", [Change("run.tools", changed)])


def step_words(steps: tuple[ToolStep, ...], step: int) -> str:
    """What the tool is doing at a step."""
    if not step:
        return f"At home. {len(steps)} steps to go."
    now = steps[step - 1]
    return (
        f"Step {step} of {len(steps)}: {OPERATION[now.operation].verb} {now.placement.replace('-', ' ')}, "
        f"{now.at_s:.1f} to {now.ends_s:.1f} s"
    )


def run_lines(plan: Plan, mat: MatRun) -> tuple[str, str, str]:
    """A mat of the run in three lines of words."""
    layout = mat.layout
    paper = plan.brief.paper(layout.paper).paper.name
    passes = ", ".join(each.operation for each in mat.passes)
    return f"Mat {layout.number} × {layout.repeats}", paper, f"{passes} · {format_minutes(mat.seconds / 60)} each"


VIEW = RunStation
