"""Settings of each tool for each paper of the run, and a test cut whose outcome becomes the paper's own limits."""

from __future__ import annotations

from datetime import date
from functools import partial
from pathlib import Path

from msgspec import structs
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QGridLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QSpinBox,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.card.tools import BLADES, TOOLS
from dechirer.core.decide.change import Change
from dechirer.core.length import LengthError, parse_length
from dechirer.core.plan import Plan
from dechirer.core.run.decisions import drop_setting, keep_setting
from dechirer.core.run.settings import Setting, neighbour_of, setting_of, suggest
from dechirer.core.webs_tried import ladder_id, ladder_tried
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document
from dechirer.formats.test_cut import WEBS_MM, place_of, write_test_cut

WAIT_MS = 60
COLUMNS = ("Tool", "Times over", "Blade stands out", "Speed, mm/s", "Pressure", "")


class SettingsBox(QDialog):
    """Edits `run.settings`, undoably; what is left empty is as suggested."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.setObjectName("settings-box")
        self.setWindowTitle("Settings and test cuts")
        self.resize(920, 600)
        column = QVBoxLayout(self)
        told = small(
            "Machines differ: what is suggested is from memory. Cut the test on each paper once, and type in what held."
        )
        column.addWidget(told)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        column.addWidget(self._area, 1)
        self.said = QLabel("Blades cut: switch the machine off before a tool is changed.")
        self.said.setObjectName("settings-said")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self._shown: object = None
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self._fill)
        document.changed.connect(self._fill_soon)
        self.finished.connect(lambda _: document.changed.disconnect(self._fill_soon))
        self._fill()

    def _fill_soon(self) -> None:
        self._later.start(0)

    def _fill(self) -> None:
        plan = self.document.plan
        if plan is None or not self.document.is_current:
            self._later.start(WAIT_MS)  # the plan of what was typed is still to come
            return
        pairs = _pairs(plan)
        now = (pairs, self.document.job.run.settings, self.document.job.brief.papers, self.document.job.brief.machine)
        if now == self._shown:
            return
        self._shown = now
        page = QWidget()
        column = QVBoxLayout(page)
        for paper, tools in pairs.items():
            column.addWidget(heading(plan.brief.paper(paper).paper.name))
            column.addWidget(self._make_paper(plan, paper, tools))
        column.addStretch(1)
        old = self._area.takeWidget()
        self._area.setWidget(page)
        if old is not None:
            old.deleteLater()  # what was typed into may be just telling of it

    def _make_paper(self, plan: Plan, paper: str, tools: tuple[str, ...]) -> QWidget:
        box = QWidget()
        grid = QGridLayout(box)
        for place, words in enumerate(COLUMNS):
            grid.addWidget(small(words), 0, place)
        facts, run, pace = plan.brief.paper(paper), plan.job.run, plan.job.brief.machine.pace
        for row, tool in enumerate(tools, start=1):
            setting, found = setting_of(run.settings, paper, tool), suggest(facts, tool, pace)
            grid.addWidget(QLabel(TOOLS[tool].title), row, 0)
            times = QSpinBox()
            times.setRange(1, 6)
            now = setting.passes if setting else run.score_passes if tool.startswith("creasing") else 1
            times.setValue(now)
            times.setObjectName(f"times-{paper}-{tool}")
            times.setAccessibleName(f"How often the {TOOLS[tool].title.lower()} goes over {facts.paper.name}")
            times.editingFinished.connect(partial(self._take, paper, tool, "passes", times))
            grid.addWidget(times, row, 1)
            hints = {
                "depth": f"{found.depth:.2f} mm" if tool in BLADES else "—",
                "speed": f"{found.speed:.0f}",
                "pressure": "the machine’s own",
            }
            for place, (name, hint) in enumerate(hints.items(), start=2):
                line = QLineEdit()
                line.setObjectName(f"{name}-{paper}-{tool}")
                line.setAccessibleName(f"{COLUMNS[place]} of the {TOOLS[tool].title.lower()} on {facts.paper.name}")
                line.setPlaceholderText(hint)
                line.setText(_shown(setting, name))
                line.setEnabled(name != "depth" or tool in BLADES)
                line.editingFinished.connect(partial(self._take, paper, tool, name, line))
                grid.addWidget(line, row, place)
            near = neighbour_of(run.settings, facts, tool, plan.brief.papers) if setting is None else None
            words = found.why if setting is None else "your own"
            if setting is None and found.passes > now:
                words = f"{found.passes} times {words}"
            if near is not None:
                words += f"; nearest: {near[1]}"
            why = small(words)
            why.setWordWrap(True)
            grid.addWidget(why, row, 5)
            if setting is not None:
                off = QPushButton("As suggested")
                off.setObjectName(f"drop-{paper}-{tool}")
                off.clicked.connect(partial(self._drop, paper, tool))
                grid.addWidget(off, row, 6)
        grid.addWidget(self._make_test(plan, paper), len(tools) + 1, 0, 1, 7)
        return box

    def _make_test(self, plan: Plan, paper: str) -> QWidget:
        """The test cut of a paper: its file, and the narrowest web that held."""
        box = QWidget()
        grid = QGridLayout(box)
        grid.setContentsMargins(0, 0, 0, 8)
        save = QPushButton("Save a test cut…")
        save.setObjectName(f"test-save-{paper}")
        save.clicked.connect(partial(self._ask_file, paper))
        grid.addWidget(save, 0, 0)
        grid.addWidget(small("Narrowest web that held"), 0, 1)
        held = QComboBox()
        held.setObjectName(f"held-{paper}")
        held.setAccessibleName(f"Narrowest web of {plan.brief.paper(paper).paper.name} that held")
        held.addItem("not tried", None)
        for web in WEBS_MM:
            held.addItem(f"{web:g} mm", web)
        now = plan.brief.paper(paper).paper.holds
        held.setCurrentIndex(next((row for row, web in enumerate(WEBS_MM, 1) if now and abs(now.mm - web) < 1e-6), 0))
        held.activated.connect(partial(self._hold, paper, held))
        grid.addWidget(held, 0, 2)
        grid.setColumnStretch(3, 1)
        return box

    def _take(self, paper: str, tool: str, name: str, widget: QSpinBox | QLineEdit) -> None:
        """Keep one value that was typed."""
        run, plan = self.document.job.run, self.document.plan
        if plan is None:
            return
        now = run.score_passes if tool.startswith("creasing") else 1
        setting = setting_of(run.settings, paper, tool) or Setting(paper, tool, now)
        try:
            value = widget.value() if isinstance(widget, QSpinBox) else _read(name, widget.text())
            changed = structs.replace(setting, **{name: value})
        except (LengthError, ValueError) as error:
            self.said.setText(f"{TOOLS[tool].title}: {error}.")
            return
        fresh = setting_of(run.settings, paper, tool)
        if changed != (fresh or Setting(paper, tool, now)):
            why = self.document.try_edit(f"{TOOLS[tool].title} on {paper}", [keep_setting(run, changed)])
            self.said.setText(why)

    def _drop(self, paper: str, tool: str) -> None:
        self.document.edit(f"{TOOLS[tool].title} as suggested", lambda job: (drop_setting(job.run, paper, tool),))

    def _hold(self, paper: str, held: QComboBox, _row: int) -> None:
        web = held.currentData()
        value = None if web is None else parse_length(f"{web:g} mm")
        plan, day = self.document.plan, date.today().isoformat()
        if self.document.edit("What a web holds", [Change(f"brief.papers.{paper}.holds", value)]) and plan is not None:
            if web is not None:
                booking.keep(ladder_tried(plan, paper, web, WEBS_MM, day))
                return
            name = plan.brief.paper(paper).paper.name
            for width in WEBS_MM:
                booking.drop("webtried", ladder_id(name, width, day))

    def _ask_file(self, paper: str) -> None:
        name, _ = QFileDialog.getSaveFileName(self, "Test cut", f"test-cut-{paper}.svg", "SVG (*.svg)")
        if name:
            self.save_test(paper, Path(name))

    def save_test(self, paper: str, path: Path) -> None:
        """Write the file of a paper's test cut, in the waste of its first mat where there is room."""
        plan = self.document.plan
        layout = next((each for each in plan.lay.layouts if each.paper == paper), None) if plan is not None else None
        if plan is None or layout is None:
            return
        place = place_of(layout, plan.job.lay.spacing.mm)
        at = place or (layout.sheet.room.left, layout.sheet.room.top)
        try:
            path.write_bytes(write_test_cut(layout, at))
        except OSError as error:
            self.said.setText(f"{path.name} was not written: {error.strerror or error}.")
            return
        where = f"in the waste of mat {layout.number}" if place else "in the corner of a spare sheet"
        self.said.setText(f"The test cut is {path}; it lies {where}.")


def _pairs(plan: Plan) -> dict[str, tuple[str, ...]]:
    """The tools that are run on each paper."""
    found: dict[str, dict[str, None]] = {}
    for mat in plan.run.mats:
        own = found.setdefault(mat.layout.paper, {})
        own |= dict.fromkeys(each.tool.tool for each in mat.passes)
    return {paper: tuple(tools) for paper, tools in found.items()}


def _shown(setting: Setting | None, name: str) -> str:
    value = getattr(setting, name) if setting is not None else None
    if value is None or value == "":
        return ""
    return f"{value:g} mm" if name == "depth" else f"{value:g}" if name == "speed" else str(value)


def _read(name: str, text: str) -> float | str | None:
    """What was typed: a depth as a length in mm, a speed as a number, a pressure as words; None for an empty line."""
    text = text.strip()
    if name == "pressure":
        return text[:60]
    if not text:
        return None
    value = parse_length(text, unit="mm").mm if name == "depth" else float(text.replace(",", "."))
    least, most = (0.05, 5.0) if name == "depth" else (0.1, 5000.0)
    if not least <= value <= most:
        raise ValueError(f"it lies between {least:g} and {most:g}")
    return value
