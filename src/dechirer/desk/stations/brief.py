"""Brief: the finished card with its size to type into, and the choices that have no place on the drawing."""

from __future__ import annotations

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QResizeEvent
from PyQt6.QtWidgets import (
    QComboBox,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.change import Change
from dechirer.core.length import format_size
from dechirer.core.paper.blanks import BoughtBlank, load_blanks
from dechirer.core.paper.standards import StandardSize
from dechirer.core.words import plural
from dechirer.desk.panels.add_button import AddButton
from dechirer.desk.panels.field_edit import FieldEdit
from dechirer.desk.panels.papers import Papers
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choices import KindChooser, heading, menu_button, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.work.card_file import CardFile
from dechirer.desk.work.document import Document
from dechirer.desk.work.machines import load_all_machines
from dechirer.drawing.scenes.card import make_card_scene

CHOOSER_PX, CHOICES_PX = (200, 286), (260, 268)
"""How wide the chooser and the choices are, where there is little room and where there is enough."""
ENOUGH_PX = 800
LEAST_CARD_PX = 222


class BriefStation(Station):
    """What the finished card is."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self.card = self.take_view(DrawingView("brief-card"))
        self.kinds = KindChooser()
        self.kinds.chosen.connect(self._choose_kind)
        document.offered.connect(self._show_offers)
        self.papers = Papers(document)
        self.card_file = CardFile(document, self)
        self.card_file.refused.connect(self.refused.emit)
        self.machine = QComboBox()
        self.machine.setObjectName("machine")
        self.machine.setAccessibleName("Machine")
        self.machine.activated.connect(self._choose_machine)
        self.edit_machine = QPushButton("Edit…")
        self.edit_machine.setObjectName("edit-machine")
        self.edit_machine.clicked.connect(lambda: self.action_wanted.emit("machine"))
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.setSpacing(0)
        line.addWidget(self.card, 1)
        line.addWidget(self._make_chooser())
        line.addWidget(self._make_choices())

    def _make_chooser(self) -> QWidget:
        """Where to start from, and the constructions, which scroll alone."""
        page = self._chooser = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(8, 12, 4, 8)
        column.setSpacing(6)
        column.addWidget(heading("Start from"))
        column.addLayout(self._make_start())
        column.addSpacing(4)
        column.addLayout(self._make_attached())
        column.addSpacing(4)
        column.addWidget(heading("How it folds"))
        self._kinds_area = _scrolling(self.kinds)
        column.addWidget(self._kinds_area, 1)
        return page

    def _make_choices(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(8, 12, 10, 8)
        column.setSpacing(6)
        column.addWidget(self.take_field(FieldEdit("name", "Name of the job")))
        column.addWidget(self.take_field(FieldEdit("about", "What it is")))
        column.addSpacing(6)
        column.addWidget(self.papers)
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
        column.addSpacing(6)
        column.addWidget(self.take_field(FieldEdit("brief.due", "Wanted on", hint="a day, as 2026-05-02")))
        column.addStretch(1)
        self._choices = _scrolling(page)
        return self._choices

    def minimumSizeHint(self) -> QSize:
        """As in a narrow window, into which it goes."""
        return QSize(CHOOSER_PX[0] + CHOICES_PX[0] + LEAST_CARD_PX, super().minimumSizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        enough = self.width() >= ENOUGH_PX
        self.kinds.put_in_rows(3 if enough else 2)
        self._chooser.setFixedWidth(CHOOSER_PX[enough])
        self._choices.setFixedWidth(CHOICES_PX[enough])

    def _make_attached(self) -> QVBoxLayout:
        """What is in the card and on it, and what can be added."""
        column = QVBoxLayout()
        line = QHBoxLayout()
        line.addWidget(heading("In it and on it"), 1)
        self.add = AddButton(self.document, "brief-add")
        self.add.refused.connect(self.refused.emit)
        line.addWidget(self.add)
        column.addLayout(line)
        self.attached = small()
        self.attached.setObjectName("brief-attached")
        column.addWidget(self.attached)
        return column

    def _make_start(self) -> QHBoxLayout:
        """The two ways in: a size, or what the maker has."""
        line = QHBoxLayout()
        line.setSpacing(4)
        self.sizes, sizes = menu_button("A size ▾", "start-size", "A size of card that is known by name")
        self.start, self.start_menu = menu_button(
            "What I have ▾", "start-from", "An envelope it goes into, a sheet it is cut from, a note, a file that is it"
        )
        sizes.aboutToShow.connect(lambda: self._fill_sizes(sizes))
        self.start_menu.aboutToShow.connect(self._fill_start)
        line.addWidget(self.sizes)
        line.addWidget(self.start)
        line.addStretch(1)
        return line

    def _fill_sizes(self, menu: QMenu) -> None:
        from dechirer.core.paper.standards import load_sizes

        menu.clear()
        for size in (each for each in load_sizes() if each.kind == "card"):
            words = format_size(size.width_mm, size.height_mm, self.document.job.units)
            action = menu.addAction(f"{size.name}, {words}")
            if action is not None:
                action.triggered.connect(lambda _=False, size=size: self._start_from_size(size))
        menu.addSeparator()
        typed = menu.addAction("Another: type it on the drawing")
        if typed is not None:
            typed.triggered.connect(lambda: self.card.edit("brief.width"))

    def _start_from_size(self, size: StandardSize) -> None:
        self.document.type_field("brief.width", size.name)

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
        menu.addSection("Bought blanks")
        blanks = menu.addMenu("A folded or flat blank")
        if blanks is not None:
            blanks.setObjectName("start-blanks")
            for blank in load_blanks():
                action = blanks.addAction(blank.name)
                if action is not None:
                    action.triggered.connect(lambda _=False, blank=blank: self._start_from_blank(blank))
        menu.addSection("Something else")
        for words, name, run in (
            ("A note or voucher to give", "start-note", lambda: self._choose_kind("money-holder")),
            ("A file that is the card…", "start-file", self.card_file.ask_file),
        ):
            action = menu.addAction(words)
            if action is not None:
                action.setObjectName(name)
                action.triggered.connect(lambda _=False, run=run: run())

    def _start_from_envelope(self, envelope: StandardSize) -> None:
        from dechirer.core.starting import StartError, fit_envelope

        try:
            changes = fit_envelope(self.document.job, envelope)
        except StartError as error:
            self.refused.emit(str(error))
            return
        self.document.edit(f"Size for a {envelope.name}", changes)

    def _start_from_blank(self, blank: BoughtBlank) -> None:
        from dechirer.core.starting_blank import take_bought

        self.document.edit(f"Blank {blank.name}", lambda job: take_bought(job, blank))

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
        chosen = self.kinds.buttons[job.brief.construction]
        if not chosen.isChecked():
            chosen.setChecked(True)
            self._kinds_area.ensureWidgetVisible(chosen)
        self.add.show_plan(plan)
        names = [
            f"{len(own)} {plural(len(own), 'layer')}" if spec.many else spec.title.lower()
            for spec, own in job.construct.attached()
        ]
        self.attached.setText(", ".join(names) or "nothing yet: a liner, a window, layers, an envelope")
        self._show_offers()
        self.papers.show_plan(plan)
        self._show_machines()

    def _show_offers(self) -> None:
        if self.plan is None:
            return
        paper = self.plan.brief.paper(self.plan.job.brief.base_paper).paper.colour
        for offer in self.document.offers:
            self.kinds.buttons[offer.kind].show_offer(offer, paper, self.plan.job.units)

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

    def _choose_kind(self, kind: str) -> None:
        self.document.edit(CONSTRUCTIONS[kind].title, [Change("brief.construction", kind)])

    def _choose_machine(self, row: int) -> None:
        name = self.machine.itemText(row)
        for machine in load_all_machines():
            if machine.name == name:
                self.document.edit(f"Machine {name}", [Change("brief.machine", machine)])


def _scrolling(page: QWidget) -> QScrollArea:
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setWidget(page)
    return area


VIEW = BriefStation
