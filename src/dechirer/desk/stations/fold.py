"""Fold: the card taken apart with a film of its making up, the steps beside it, and what each step wants."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QSlider,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.figure import format_minutes
from dechirer.core.fold.adhesives import ADHESIVES
from dechirer.core.fold.bulk import Bulk
from dechirer.core.fold.decisions import OnHand
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.fold.step import STAGES, MakeStep
from dechirer.core.plan import Plan
from dechirer.desk.panels.joint_panel import JointPanel
from dechirer.desk.panels.ways_panel import WaysPanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choice_column import title_line
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.folded_view import FoldedView
from dechirer.desk.widgets.kit_table import KitTable
from dechirer.desk.widgets.schedule_chart import ScheduleChart
from dechirer.desk.widgets.segments import Segments
from dechirer.desk.widgets.time_bar import TimeBar
from dechirer.desk.work.document import Document
from dechirer.drawing.scenes.making import make_bulk_scene, make_joint_scene, make_weeding_scene
from dechirer.drawing.solid.apart import Apart
from dechirer.drawing.solid.eye import FRONT, INSIDE, OUTSIDE

CLOSED = 0.5
"""A card that is closed farther is looked at from its front."""
FILM = 12
"""The slider has so many places for each step."""
TABS = (("step", "This step"), ("kit", "Kit list"), ("time", "Time"), ("bulk", "Thickness"), ("ways", "How it is done"))
CARE = "Blades, picks and hot tips hurt; spray glue only in a draught; keep small parts from small children."


class FoldStation(Station):
    """Making up."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._row, self._tab = 0, "step"
        self.steps = QListWidget()
        self.steps.setObjectName("making-steps")
        self.steps.setAccessibleName("Steps of making up")
        self.steps.setWordWrap(True)
        self.steps.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.steps.currentRowChanged.connect(self._choose_row)
        self.earlier, self.later, self.leave = (QPushButton(words) for words in ("Earlier", "Later", "Leave out"))
        for button, name in ((self.earlier, "step-earlier"), (self.later, "step-later"), (self.leave, "step-leave")):
            button.setObjectName(name)
        self.earlier.clicked.connect(lambda: self._move(-1))
        self.later.clicked.connect(lambda: self._move(1))
        self.leave.clicked.connect(self._leave_out)
        self.working = QPushButton("At the table…")
        self.working.setObjectName("at-the-table")
        self.working.setToolTip("Work from it while making up: one step at a time, kept where you are")
        self.working.clicked.connect(lambda: self.open_box("table-view"))
        self.back = QPushButton("As proposed")
        self.back.setObjectName("steps-proposed")
        self.back.clicked.connect(self._as_proposed)
        self.view = FoldedView("making-view", plain=True)
        self.take_view(self.view)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("making-film")
        self.slider.setAccessibleName("From flat parts to the closed card")
        self.slider.valueChanged.connect(self._slide)
        self.joint_view = self.take_view(DrawingView("making-joint"))
        self.bulk_view = self.take_view(DrawingView("making-bulk"))
        self.words, self.why = QLabel(), small()
        for label, name in ((self.words, "making-words"), (self.why, "making-why")):
            label.setObjectName(name)
            label.setWordWrap(True)
        self.joint_panel = JointPanel(document)
        self.kit = KitTable()
        self.kit.counted.connect(self._count)
        self.bar, self.chart, self.time_words = TimeBar("making-bar"), ScheduleChart(), small()
        self.time_words.setObjectName("making-time")
        self.time_words.setWordWrap(True)
        self.bulk_words = small()
        self.bulk_words.setObjectName("making-bulk-words")
        self.bulk_words.setWordWrap(True)
        self.ways = WaysPanel(document)
        self.tabs = Segments("making-tab", list(TABS))
        self.tabs.show_chosen("step")
        self.tabs.chosen.connect(self._show_tab)
        self.pages = QStackedWidget()
        self.title, self.under = heading("Making up"), small()
        self._arrange()

    def _arrange(self) -> None:
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 10, 14, 8)
        line.setSpacing(10)
        left = QVBoxLayout()
        left.setSpacing(5)
        left.addWidget(heading("Steps"))
        left.addWidget(self.steps, 1)
        row = QHBoxLayout()
        row.setSpacing(4)
        for button in (self.earlier, self.later, self.leave):
            row.addWidget(button)
        left.addLayout(row)
        left.addWidget(self.back)
        line.addLayout(left, 31)
        right = QVBoxLayout()
        right.setSpacing(5)
        right.addLayout(title_line(self.title, self.under, self.working))
        right.addWidget(self.view, 5)
        ends = QHBoxLayout()
        ends.addWidget(small("flat parts"))
        ends.addWidget(self.slider, 1)
        ends.addWidget(small("closed"))
        right.addLayout(ends)
        right.addWidget(self.tabs)
        for page in (self._step_page(), self.kit, self._time_page(), self._bulk_page(), _scrolled(self.ways)):
            self.pages.addWidget(page)
        right.addWidget(self.pages, 4)
        self.care = small(CARE)
        right.addWidget(self.care)
        line.addLayout(right, 69)

    def _step_page(self) -> QWidget:
        page = QWidget()
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        self.joint_view.setMinimumSize(220, 130)
        row.addWidget(self.joint_view, 6)
        column = QVBoxLayout()
        column.addWidget(self.words)
        column.addWidget(self.why)
        column.addWidget(self.joint_panel)
        column.addStretch(1)
        side = QWidget()
        side.setLayout(column)
        column.setContentsMargins(0, 0, 6, 0)
        row.addWidget(_scrolled(side), 5)
        return page

    def _time_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(self.time_words)
        column.addWidget(self.bar)
        column.addWidget(_scrolled(self.chart), 1)
        return page

    def _bulk_page(self) -> QWidget:
        page = QWidget()
        row = QHBoxLayout(page)
        row.setContentsMargins(0, 0, 0, 0)
        self.bulk_view.setMinimumSize(220, 130)
        row.addWidget(self.bulk_view, 3)
        column = QVBoxLayout()
        column.addWidget(self.bulk_words)
        column.addStretch(1)
        row.addLayout(column, 2)
        return page

    @property
    def making(self) -> MakingPlan | None:
        """The plan's making up, or None before there is one."""
        return self.plan.making_up if self.plan is not None else None

    @property
    def step_shown(self) -> MakeStep | None:
        """The step that is chosen, or None."""
        making = self.making
        return making.steps[self._row] if making is not None and self._row < len(making.steps) else None

    def refresh(self) -> None:
        plan, making = self.plan, self.making
        if plan is None or making is None:
            return
        self._row = min(self._row, max(0, len(making.steps) - 1))
        self._list_steps(making)
        schedule = making.schedule
        self.under.setText(
            f"{len(making.steps)} steps · {format_minutes(schedule.minutes.value)} for {plan.job.brief.count}"
        )
        own = plan.job.fold
        self.back.setVisible(bool(own.order or own.skipped))
        last = max(1, len(making.steps)) * FILM
        self.slider.blockSignals(True)
        self.slider.setRange(0, last)
        self.slider.setValue(min(last, self._row * FILM + FILM // 2))
        self.slider.blockSignals(False)
        self.kit.show_kit(making.kit)
        self.bar.show_minutes(schedule.minutes)
        self.chart.show_schedule(schedule)
        self.time_words.setText(time_words(plan, making))
        self._draw_bulk()
        self.ways.show_job()
        self._draw()
        self._show_step()

    def _list_steps(self, making: MakingPlan) -> None:
        self.steps.blockSignals(True)
        self.steps.clear()
        stage = ""
        for number, step in enumerate(making.steps, start=1):
            mark = f"{STAGES[step.stage]}  " if step.stage != stage else ""
            stage = step.stage
            entry = QListWidgetItem(f"{number}. {step.words}")
            entry.setToolTip(f"{mark.strip()}: {step.more}" if mark else step.more)
            self.steps.addItem(entry)
        self.steps.setCurrentRow(self._row)
        self.steps.blockSignals(False)

    def _choose_row(self, row: int) -> None:
        if row < 0 or row == self._row:
            return
        self._row = row
        self.slider.blockSignals(True)
        self.slider.setValue(row * FILM + FILM // 2)
        self.slider.blockSignals(False)
        self._draw()
        self._show_step()

    def _slide(self, value: int) -> None:
        making = self.making
        if making is None or not making.steps:
            return
        row = min(value // FILM, len(making.steps) - 1)
        if row != self._row:
            self._row = row
            self.steps.blockSignals(True)
            self.steps.setCurrentRow(row)
            self.steps.blockSignals(False)
            self._show_step()
        self._draw()

    def _draw(self) -> None:
        making = self.making
        if self.plan is None or making is None:
            return
        apart = Apart(self.plan, self.slider.value() / FILM)
        step = apart.moment.step
        joint = making.joint(step.joint) if step is not None and step.joint else None
        if joint is None and apart.closed < CLOSED:  # it is looked at as the next part goes on
            later = (making.joint(each.joint) for each in making.steps[self._row :] if each.joint)
            joint = next((each for each in later if each is not None and each.model == "card"), None)
        look = FRONT if joint is None or apart.closed >= CLOSED else INSIDE if joint.side == "inside" else OUTSIDE
        self.view.show_model(apart, apart.lit, look)

    def _show_step(self) -> None:
        plan, making, step = self.plan, self.making, self.step_shown
        if plan is None or making is None or step is None:
            return
        joint = making.joint(step.joint) if step.joint else None
        self.words.setText(f"<b>{escape(step.words)}</b><br>{escape(step.more)}")
        care = ADHESIVES[joint.adhesive].care if joint is not None else ""
        self.why.setText("\n".join(each for each in (step.why, care) if each))
        self.why.setVisible(bool(step.why or care))
        self.joint_panel.show_joint(making, joint)
        mats = plan.run.mats
        if joint is not None:
            self.joint_view.set_display(make_joint_scene(plan, making, joint), joint.id)
        elif step.stage == "weed" and mats:
            self.joint_view.set_display(make_weeding_scene(plan, mats[0], making.weeding[0]), "weeding")
        self.joint_view.setVisible(joint is not None or (step.stage == "weed" and bool(mats)))
        count = len(making.steps)
        self.earlier.setEnabled(self._row > 0)
        self.later.setEnabled(self._row < count - 1)

    def _show_tab(self, tab: str) -> None:
        self._tab = tab
        self.tabs.show_chosen(tab)
        self.pages.setCurrentIndex([id for id, _ in TABS].index(tab))
        self._draw_bulk()

    def _draw_bulk(self) -> None:
        """Draw how thick the card is, once that is looked at."""
        if self.plan is not None and self._tab == "bulk":
            bulk = self.plan.find_bulk()
            self.bulk_view.set_display(make_bulk_scene(self.plan.stacked.tree, bulk), "bulk")
            self.bulk_words.setText(bulk_words(self.plan, bulk))

    def open_box(self, what: str) -> QDialog | None:
        """Open `table-view`, to work from; None where there is nothing to make up."""
        from dechirer.desk.boxes.table_view import TableView

        if what != "table-view" or self.plan is None or not self.plan.making_up.steps:
            return None
        box = TableView(self.plan, self.document, self)
        box.show()
        return box

    def point_at(self, element: str) -> None:
        making = self.making
        if making is None:
            return
        for number, step in enumerate(making.steps):
            if element in (step.id, step.joint, *step.parts):
                self._show_tab("step")
                self.steps.setCurrentRow(number)
                return
        if any(row.id == element for row in making.kit):
            self._show_tab("kit")
        elif element == "due":
            self._show_tab("ways")

    def _move(self, by: int) -> None:
        """Do the chosen step earlier or later."""
        making = self.making
        if making is None or not 0 <= self._row + by < len(making.steps):
            return
        order = [step.id for step in making.steps]
        row = self._row
        order[row], order[row + by] = order[row + by], order[row]
        self._row = row + by
        words = making.steps[row].words
        self.document.edit(f"“{words}” {'later' if by > 0 else 'earlier'}", [Change("fold.order", tuple(order))])

    def _leave_out(self) -> None:
        step = self.step_shown
        if step is not None:
            skipped = (*self.document.job.fold.skipped, step.id)
            self.document.edit(f"“{step.words}” left out", [Change("fold.skipped", tuple(dict.fromkeys(skipped)))])

    def _as_proposed(self) -> None:
        self.document.edit("Steps as proposed", [Change("fold.order", ()), Change("fold.skipped", ())])

    def _count(self, id: str, text: str) -> None:
        """Keep how many are there of a row of the kit list."""
        others = tuple(each for each in self.document.job.fold.on_hand if each.id != id)
        if not text:
            self.document.edit("Not counted", [Change("fold.on_hand", others)])
            return
        if not text.isdigit() or len(text) > 7:
            self.refused.emit(f"“{text}” is not a number of things that are there.")
            self.refresh()
            return
        self.document.edit("Counted", [Change("fold.on_hand", (*others, OnHand(id, int(text))))])


def _scrolled(widget: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidget(widget)
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
    return area


def time_words(plan: Plan, making: MakingPlan) -> str:
    """The schedule in words."""
    schedule = making.schedule
    line, each = format_minutes(schedule.line), format_minutes(schedule.each)
    way = "one step for all, then the next" if schedule.way == "line" else "one card after the other"
    count = plan.job.brief.count
    told = f"{format_minutes(schedule.minutes.value)} for {count}, {way}"
    if count > 1:
        told += f" (as a line of work {line}, one after the other {each})"
    told += ". Minutes are from memory; glue sets while others are worked on (hatched)."
    if schedule.start_by:
        told += f" Wanted on {plan.job.brief.due}: begin by {schedule.start_by}, machines included."
    return told


def bulk_words(plan: Plan, bulk: Bulk) -> str:
    """What the thickness comes to, in words."""
    closed = plan.construct.closed
    lines = [
        f"Thickest {bulk.most:.2f} mm, thinnest {bulk.least:.2f} mm, pressed flat and before glue.",
        f"{closed.weight.text(plan.job.units)}, of {closed.layers} layers at the thickest place.",
    ]
    lines.append("It rocks when it lies down: its high places stand to one side." if bulk.rocks else "It lies level.")
    made, bought = plan.construct.envelope, plan.construct.bought
    if made is not None:
        lines.append("Its envelope is made with room for that.")
    elif bought is not None:
        lines.append(f"It goes into a {bought.name} envelope.")
    return "\n".join(lines)


VIEW = FoldStation
