"""Brief: the finished card with its size to type into, and the choices that have no place on the drawing."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QColorDialog,
    QComboBox,
    QFrame,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QScrollArea,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.change import Change
from dechirer.core.job.papers import add_paper, remove_paper, why_kept
from dechirer.core.length import format_size
from dechirer.core.paper.standards import StandardSize
from dechirer.desk.panels.field_edit import FieldEdit
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choices import KindChooser, PaperButton, heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.document import Document
from dechirer.desk.work.machines import load_all_machines
from dechirer.drawing.scenes.card import make_card_scene


class BriefStation(Station):
    """What the finished card is."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self.card = self.take_view(DrawingView("brief-card"))
        self.kinds = KindChooser()
        self.kinds.chosen.connect(self._choose_kind)
        document.offered.connect(self._show_offers)
        self.papers: dict[str, PaperButton] = {}
        self._paper_column = QVBoxLayout()
        self._paper_column.setSpacing(2)
        self.machine = QComboBox()
        self.machine.setObjectName("machine")
        self.machine.setAccessibleName("Machine")
        self.machine.activated.connect(self._choose_machine)
        self.edit_machine = QPushButton("Edit…")
        self.edit_machine.setObjectName("edit-machine")
        self.edit_machine.clicked.connect(lambda: self.action_wanted.emit("machine"))
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self.card, 1)
        line.addWidget(self._make_choices())

    def _make_choices(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(14, 12, 14, 12)
        column.setSpacing(6)
        names = QHBoxLayout()
        names.addWidget(self.take_field(FieldEdit("name", "Name of the job")), 1)
        names.addWidget(self.take_field(FieldEdit("about", "What it is")), 1)
        column.addLayout(names)
        column.addSpacing(6)
        column.addLayout(self._make_start())
        column.addWidget(self.kinds)
        column.addSpacing(8)
        column.addWidget(heading("Paper of the card"))
        column.addLayout(self._paper_column)
        self._add_paper_tools(column)
        column.addWidget(self._make_details())
        column.addSpacing(8)
        column.addWidget(heading("Machine"))
        machine = QHBoxLayout()
        machine.addWidget(self.machine, 1)
        machine.addWidget(self.edit_machine)
        column.addLayout(machine)
        self.reach = small()
        column.addWidget(self.reach)
        column.addSpacing(8)
        column.addWidget(heading("Bought blank"))
        self.blank = self.take_field(
            FieldEdit("brief.blank", "Its flat size, if you use one", hint="none: the base is cut")
        )
        column.addWidget(self.blank)
        column.addStretch(1)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFixedWidth(304)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(page)
        return area

    def _add_paper_tools(self, column: QVBoxLayout) -> None:
        self.more = QToolButton()
        self.more.setObjectName("paper-more")
        self.more.setText("Edit this paper ▸")
        self.more.setCheckable(True)
        self.more.toggled.connect(self._show_details)
        self.add = QToolButton()
        self.add.setObjectName("paper-add")
        self.add.setText("Add a paper")
        self.add.clicked.connect(self._add_paper)
        for button in (self.more, self.add):
            button.setProperty("quiet", True)
        tools = QHBoxLayout()
        tools.addWidget(self.more)
        tools.addWidget(self.add)
        tools.addStretch(1)
        column.addLayout(tools)

    def _make_details(self) -> QFrame:
        """All that is known of the card's paper, to be changed."""
        self.details = QFrame()
        self.details.setObjectName("paper-details")
        column = QVBoxLayout(self.details)
        column.setContentsMargins(10, 4, 0, 4)
        column.setSpacing(5)
        self.paper: FieldPanel | None = None  # made when it is first shown
        self.colour, self.remove = QPushButton("Colour…"), QPushButton("Remove")
        self.colour.setObjectName("paper-colour")
        self.remove.setObjectName("paper-remove")
        self.colour.clicked.connect(self._choose_colour)
        self.remove.clicked.connect(self._remove_paper)
        buttons = QHBoxLayout()
        self.back = QToolButton()
        self.back.setObjectName("paper-back")
        self.back.setText("Back ▾")
        self.back.setToolTip("The colour of the paper's other side")
        self.back.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self.back)
        for words, run in (("Another colour…", self._choose_back), ("As its front", lambda: self._set_back(None))):
            action = menu.addAction(words)
            if action is not None:
                action.triggered.connect(lambda _=False, run=run: run())
        self.back.setMenu(menu)
        buttons.addWidget(self.colour)
        buttons.addWidget(self.back)
        buttons.addWidget(self.remove)
        buttons.addStretch(1)
        column.addLayout(buttons)
        self.kept = small()
        column.addWidget(self.kept)
        self.details.hide()
        return self.details

    def _make_start(self) -> QHBoxLayout:
        """The heading of the constructions, and a menu to start from an envelope or a sheet."""
        line = QHBoxLayout()
        line.addWidget(heading("How it folds"))
        line.addStretch(1)
        self.start = QToolButton()
        self.start.setObjectName("start-from")
        self.start.setText("Size from ▾")
        self.start.setToolTip("The largest card that goes into an envelope, or so many to a sheet")
        self.start.setProperty("quiet", True)
        self.start.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.start_menu = QMenu(self.start)
        self.start_menu.aboutToShow.connect(self._fill_start)
        self.start.setMenu(self.start_menu)
        line.addWidget(self.start)
        return line

    def _fill_start(self) -> None:
        from dechirer.core.starting import list_envelopes

        menu, units = self.start_menu, self.document.job.units
        menu.clear()
        menu.addSection("The largest that goes into")
        for envelope in list_envelopes():
            name = envelope.name.removesuffix(" envelope")
            action = menu.addAction(f"{name} envelope, {format_size(envelope.width_mm, envelope.height_mm, units)}")
            if action is not None:
                action.triggered.connect(lambda _=False, envelope=envelope: self._start_from_envelope(envelope))
        menu.addSection("The largest of its proportions")
        for number in (1, 2, 3, 4, 6, 8):
            action = menu.addAction(f"{number} to a sheet")
            if action is not None:
                action.triggered.connect(lambda _=False, number=number: self._start_from_sheet(number))

    def _start_from_envelope(self, envelope: StandardSize) -> None:
        from dechirer.core.starting import StartError, fit_envelope

        try:
            changes = fit_envelope(self.document.job, envelope)
        except StartError as error:
            self.refused.emit(str(error))
            return
        self.document.edit(f"Size for a {envelope.name}", changes)

    def _start_from_sheet(self, number: int) -> None:
        from dechirer.core.starting import StartError, fit_sheet

        try:
            changes = fit_sheet(self.document.job, number)
        except StartError as error:
            self.refused.emit(str(error))
            return
        self.document.edit(f"{number} to a sheet", changes)

    def refresh(self) -> None:
        plan = self.plan
        if plan is None:
            return
        job = plan.job
        self.card.set_display(make_card_scene(plan))
        self.kinds.buttons[job.brief.construction].setChecked(True)
        self._show_offers()
        self._show_papers()
        self._show_machines()

    def _show_offers(self) -> None:
        if self.plan is None:
            return
        paper = self.plan.brief.paper(self.plan.job.brief.base_paper).paper.colour
        for offer in self.document.offers:
            self.kinds.buttons[offer.kind].show_offer(offer, paper, self.plan.job.units)

    def _show_papers(self) -> None:
        assert self.plan is not None
        job = self.plan.job
        wanted = [paper.id for paper in job.brief.papers]
        if list(self.papers) != wanted:
            for button in self.papers.values():
                button.deleteLater()
            self.papers = {}
            for paper_id in wanted:
                button = PaperButton(paper_id)
                button.clicked.connect(lambda _=False, paper_id=paper_id: self._choose_paper(paper_id))
                self._paper_column.addWidget(button)
                self.papers[paper_id] = button
        for facts in self.plan.brief.papers:
            paper = facts.paper
            size = format_size(paper.sheet.width.mm, paper.sheet.height.mm, job.units)
            stock = "" if paper.on_hand is None else f" · {paper.on_hand} on hand"
            self.papers[paper.id].show_paper(paper.name, paper.colour, f"{paper.weight} · {size}{stock}")
            self.papers[paper.id].setChecked(paper.id == job.brief.base_paper)
        if self.paper is not None:
            self.paper.set_path(f"brief.papers.{job.brief.base_paper}")
        why = why_kept(job, job.brief.base_paper)
        self.remove.setEnabled(not why)
        self.kept.setText(why and f"It cannot be removed: {why[0].lower()}{why[1:]}")
        self.kept.setVisible(bool(why))

    def _show_machines(self) -> None:
        assert self.plan is not None
        job = self.plan.job
        names = [machine.name for machine in load_all_machines()]
        mine = job.brief.machine
        if mine.name not in names:
            names.append(mine.name)
        if [self.machine.itemText(row) for row in range(self.machine.count())] != names:
            self.machine.clear()
            self.machine.addItems(names)
        self.machine.setCurrentText(mine.name)
        holders = "; ".join(holder.name for holder in mine.holders)
        self.reach.setText(f"Cuts up to {format_size(mine.cut_width, mine.cut_height, job.units)} · {holders}")

    def _show_details(self, shown: bool) -> None:
        column = self.details.layout()
        if self.paper is None and isinstance(column, QVBoxLayout):
            self.paper = FieldPanel(self.document, f"brief.papers.{self.document.job.brief.base_paper}", shape="grid")
            column.insertWidget(0, self.paper)
        self.details.setVisible(shown)
        self.more.setText("Edit this paper ▾" if shown else "Edit this paper ▸")

    def _choose_kind(self, kind: str) -> None:
        self.document.edit(CONSTRUCTIONS[kind].title, [Change("brief.construction", kind)])

    def _choose_paper(self, paper_id: str) -> None:
        paper = next((each for each in self.document.job.brief.papers if each.id == paper_id), None)
        self.document.edit(f"Card on {paper.name if paper else paper_id}", [Change("brief.base_paper", paper_id)])

    def _add_paper(self) -> None:
        self.document.edit("Another paper", lambda job: add_paper(job, job.brief.base_paper))
        self.more.setChecked(True)

    def _remove_paper(self) -> None:
        self.document.edit("Paper removed", lambda job: remove_paper(job, job.brief.base_paper))

    def _choose_colour(self) -> None:
        paper = self.document.job.brief.paper(self.document.job.brief.base_paper)
        chosen = QColorDialog.getColor(QColor(paper.colour), self, "Colour of the paper")
        if chosen.isValid():
            self.document.edit("Colour of the paper", [Change(f"brief.papers.{paper.id}.colour", chosen.name())])

    def _choose_back(self) -> None:
        paper = self.document.job.brief.paper(self.document.job.brief.base_paper)
        chosen = QColorDialog.getColor(QColor(paper.back or paper.colour), self, "Colour of its back")
        if chosen.isValid():
            self._set_back(chosen.name())

    def _set_back(self, colour: str | None) -> None:
        paper_id = self.document.job.brief.base_paper
        self.document.edit("Back of the paper", [Change(f"brief.papers.{paper_id}.back", colour)])

    def _choose_machine(self, row: int) -> None:
        name = self.machine.itemText(row)
        for machine in load_all_machines():
            if machine.name == name:
                self.document.edit(f"Machine {name}", [Change("brief.machine", machine)])


VIEW = BriefStation
