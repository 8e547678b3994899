"""Press: the pages as they come from the printer, why an edge has bleed, and how well print and cut will fit."""

from __future__ import annotations

from functools import partial
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.lay.wanted import wanted
from dechirer.core.length import format_size
from dechirer.core.plan import Plan
from dechirer.core.press.decisions import BLEEDS, keep_calibrations, set_bleed
from dechirer.core.press.pages import Page
from dechirer.core.press.records import Calibration
from dechirer.core.press.station import PAGES, PRESS
from dechirer.core.words import plural
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.panels.fit_panel import EdgeStrip, FitPanel
from dechirer.desk.panels.ticket_panel import TicketPanel
from dechirer.desk.stations.base import Station
from dechirer.desk.widgets.choice_column import ChoiceColumn, title_line
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.picture_list import PictureList
from dechirer.desk.work.document import Document
from dechirer.desk.work.recording import recording
from dechirer.drawing.display import Display
from dechirer.drawing.scenes.page import make_edge_scene, make_page_scene, name_on_page

NOTHING = (
    "Nothing of this card is printed. In Dress, make an item “printed”, or a piece “printed in its colours”: its page "
    "then stands here, at true size, with the marks the machine cuts by."
)


class PressStation(Station):
    """The pages."""

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(document, parent)
        self._row, self._back, self._piece = 0, False, ""
        self.pages = PictureList("press-pages", "Pages")
        self.pages.setMinimumWidth(182)
        self.pages.chosen.connect(self._choose_page)
        self.page = self.take_view(DrawingView("press-page"))
        self.page.element_picked.connect(self._pick)
        self.page.element_hovered.connect(self._name)
        self._about = ""
        self.edge = EdgeStrip()
        self.turned = QPushButton("Other side")
        self.turned.setObjectName("press-back")
        self.turned.setCheckable(True)
        self.turned.clicked.connect(self._turn)
        self.why = small()
        self.why.setObjectName("press-why")
        self.bleed = QComboBox()
        self.bleed.setObjectName("press-bleed")
        self.bleed.setAccessibleName("Bleed of the picked piece")
        for way, words in BLEEDS.items():
            self.bleed.addItem(f"bleed: {words}", way)
        self.bleed.activated.connect(self._choose_bleed)
        self.nothing = QLabel(NOTHING)
        self.nothing.setObjectName("press-nothing")
        self.nothing.setWordWrap(True)
        self.nothing.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.choices_of_press = FieldPanel(document, "press", shape="column")
        self.cost = small()
        self.cost.setObjectName("press-cost")
        self.ticket = TicketPanel(document)
        self.rehearse = QPushButton("Print and read…")
        self.rehearse.setObjectName("press-rehearse")
        self.rehearse.setToolTip("Print this page on a simulated printer, and see whether the machine finds its marks")
        self.rehearse.clicked.connect(lambda: self.open_box("read"))
        self.calibrate = QPushButton("Calibrate…")
        self.calibrate.setObjectName("press-calibrate")
        self.calibrate.setToolTip("A page to print, cut and scan, that tells how far print and cut really are off")
        self.calibrate.clicked.connect(lambda: self.open_box("calibrate"))
        self.printer = FieldPanel(document, "brief.printer", shape="column")
        self.fit = FitPanel()
        self.fit.figure_picked.connect(self.figure_picked.emit)
        self.title, self.under = heading(""), small()
        self._arrange()

    def _arrange(self) -> None:
        line = QHBoxLayout(self)
        line.setContentsMargins(12, 10, 14, 8)
        left = QVBoxLayout()
        left.addWidget(heading("Pages"))
        left.addWidget(self.pages, 1)
        line.addLayout(left, 22)
        middle = QVBoxLayout()
        middle.setSpacing(4)
        middle.addLayout(title_line(self.title, self.under, self.turned))
        middle.addWidget(self.nothing, 1)
        middle.addWidget(self.page, 1)
        about = QHBoxLayout()
        about.addWidget(self.why, 1)
        about.addWidget(self.bleed)
        middle.addLayout(about)
        middle.addWidget(self.edge)
        line.addLayout(middle, 48)
        column = QWidget()
        right = QVBoxLayout(column)
        right.setContentsMargins(0, 0, 6, 0)
        right.setSpacing(6)
        right.addWidget(heading("How well it fits"))
        right.addWidget(self.fit)
        right.addWidget(self.rehearse)
        right.addWidget(self.calibrate)
        right.addSpacing(8)
        right.addWidget(heading("Printing"))
        right.addWidget(self.choices_of_press)
        right.addWidget(self.cost)
        right.addSpacing(8)
        right.addWidget(heading("Set at the printer"))
        right.addWidget(self.ticket)
        right.addSpacing(8)
        right.addWidget(heading("Printer"))
        right.addWidget(self.printer)
        right.addStretch(1)
        self.choices = ChoiceColumn("press-choices", column)
        line.addWidget(self.choices, 30)

    @property
    def page_shown(self) -> Page | None:
        """The page that is open; None when nothing is printed."""
        pages = self.plan.part(PAGES).pages if self.plan else ()
        return pages[min(self._row, len(pages) - 1)] if pages else None

    def refresh(self) -> None:
        plan = self.plan
        if plan is None:
            return
        pages = plan.part(PAGES).pages
        self._row = min(self._row, max(0, len(pages) - 1))
        self.pages.show_rows(plan, [page_lines(plan, page) for page in pages], self._row, partial(draw_small, plan))
        self.choices_of_press.show_job()
        self.cost.setText(tell_cost(plan))
        self.printer.show_job()
        page = self.page_shown
        self._back = self._back and page is not None and page.back
        self.nothing.setVisible(page is None)
        for widget in (self.page, self.edge, self.why, self.bleed):
            widget.setVisible(page is not None)
        self.turned.setVisible(page is not None and page.back)
        self.turned.setChecked(self._back)
        self.fit.show_fit(plan, page)
        self.ticket.show_ticket(plan, page)
        self.rehearse.setEnabled(page is not None)
        self.calibrate.setEnabled(page is not None)
        self.choices.widen()
        if page is None:
            self.title.setText("Nothing is printed")
            self.under.setText("")
            return
        self.title.setText(f"Page {page.number}" + (", other side" if self._back else ""))
        paper = plan.brief.paper(page.paper).paper
        size = format_size(page.sheet.width, page.sheet.height, plan.job.units)
        self._about = f"print {page.times + page.spoiled} · {paper.name}, {size} · {page.whither}"
        self.under.setText(self._about)
        names = [placed.piece.id for placed in page.placements if placed.piece.prints]
        if self._piece not in names:
            self._piece = names[0] if names else ""
        self.page.set_display(make_page_scene(plan, page, back=self._back, picked=self._piece), page.id)
        self._show_edge(plan)

    def _show_edge(self, plan: Plan) -> None:
        """The evidence of the picked piece."""
        press = plan.part(PRESS)
        evidence = press.evidence_of(self._piece)
        self.edge.setVisible(evidence is not None)
        self.bleed.setVisible(evidence is not None)
        if evidence is None:
            self.why.setText("")
            return
        piece = next(piece for piece in press.pieces if piece.id == self._piece)
        figure = next(each for each in press.figures() if each.key == f"press.bleed.{piece.id}")
        bleed = f"bleed {evidence.bleed:.1f} mm" if evidence.bleed else "no bleed"
        how = figure.source.removeprefix("none: ")
        share = f"{100 * evidence.share:.0f} %"
        self.why.setText(f"{piece.name}: ink at {share} of what is cut, so {bleed}: {how}.")
        self.bleed.setCurrentIndex(self.bleed.findData(plan.job.press.bleed_of(piece.id)))
        self.edge.show_edge(make_edge_scene(plan, evidence))

    def owns(self, element: str) -> bool:
        return self.plan is not None and self.plan.part(PAGES).page(element) is not None

    def point_at(self, element: str) -> None:
        if self.plan is None:
            return
        for row, page in enumerate(self.plan.part(PAGES).pages):
            if element in (page.id, page.mat) or any(placed.piece.id == element for placed in page.placements):
                self._row = row
                self._piece = element if element not in (page.id, page.mat) else self._piece
                self.refresh()
                return

    def _choose_page(self, row: int) -> None:
        if row != self._row:
            self._row, self._back = row, False
            self.refresh()

    def _turn(self) -> None:
        self._back = self.turned.isChecked()
        self.refresh()

    def _pick(self, element: str) -> None:
        page = self.page_shown
        if page is None:
            return
        found = next(
            (placed.piece.id for placed in page.placements if element in (placed.id, f"piece:{placed.piece.id}")), ""
        )
        if found:
            self._piece = found
            self.refresh()

    def _name(self, element: str) -> None:
        """Say what is under the pointer."""
        page = self.page_shown
        if self.plan is not None and page is not None:
            self.under.setText(name_on_page(self.plan, page, element) or self._about)

    def open_box(self, what: str) -> QDialog | None:
        """Open `read` (print and read the page in front) or `calibrate`; None where nothing is printed."""
        box = self._rehearsal() if what == "read" else self._calibration()
        if box is not None:
            box.show()
        return box

    def _rehearsal(self) -> QDialog | None:
        from dechirer.desk.boxes.rehearsal_box import RehearsalBox

        if self.plan is None or self.page_shown is None:
            return None
        return RehearsalBox(self.plan, self.page_shown, self)

    def _calibration(self) -> QDialog | None:
        from dechirer.desk.boxes.calibration_box import CalibrationBox

        page = self.page_shown
        known = self.plan.part(PRESS).paper(page.paper) if self.plan is not None and page is not None else None
        if self.plan is None or known is None:
            return None
        brief = self.plan.job.brief
        by: Literal["marks", "edge"] = "marks" if known.budgets.by_marks else "edge"
        names = (brief.paper(known.paper).name, brief.printer.name, brief.machine.name)
        return CalibrationBox(brief, known, by, recording.calibrations(*names, by), self._keep, self)

    def _keep(self, found: Calibration) -> None:
        recording.keep(found)
        self.document.edit(f"Calibration of {found.paper}", [keep_calibrations(self.document.job.press, (found,))])

    def _choose_bleed(self, row: int) -> None:
        if self._piece:
            change = set_bleed(self.document.job.press, self._piece, self.bleed.itemData(row))
            self.document.edit(f"Bleed of {self._piece}", [change])


def page_lines(plan: Plan, page: Page) -> tuple[str, str, str]:
    """A page in three lines of words."""
    paper = plan.brief.paper(page.paper).paper.name
    return f"Page {page.number} × {page.times + page.spoiled}", page.pieces, paper


def tell_cost(plan: Plan) -> str:
    """What it takes in sheets and minutes to print as many to a page as now, and one to a page."""
    press, pages = plan.job.press, plan.part(PAGES)
    if not pages.pages:
        return ""
    each = plan.job.brief.printer.page_minutes
    now = int(pages.count.value)
    printed = wanted(plan.part(PRESS).printed, plan.job.lay)
    single = sum(piece.count + press.spoiled for piece in printed if piece.prints)
    words = f"{now} {plural(now, 'sheet')}, about {now * each:g} min at the printer."
    return words if single == now else f"{words} One to a page: {single} sheets, {single * each:g} min."


def draw_small(plan: Plan, row: int) -> Display:
    """A page in small."""
    return make_page_scene(plan, plan.part(PAGES).pages[row], small=True)


VIEW = PressStation
