"""The papers on hand: which one the card is made of, and an editor for any of them."""

from __future__ import annotations

from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QColorDialog,
    QFrame,
    QHBoxLayout,
    QMenu,
    QPushButton,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.job.papers import add_paper, remove_paper, why_kept
from dechirer.core.length import format_size
from dechirer.core.plan import Plan
from dechirer.core.words import plural
from dechirer.desk.panels.field_panel import FieldPanel
from dechirer.desk.widgets.choices import PaperButton, heading, small
from dechirer.desk.work.document import Document


class Papers(QWidget):
    """A row for each paper: a click on it makes the card of it, the tool beside it opens it in the editor below."""

    def __init__(self, document: Document) -> None:
        super().__init__()
        self.document = document
        self.setObjectName("papers")
        self.edited = ""
        self.buttons: dict[str, PaperButton] = {}
        self._tools: dict[str, QToolButton] = {}
        self._rows: list[QWidget] = []
        self._base = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(2)
        column.addWidget(heading("Papers on hand"))
        column.addWidget(small("Click the one the card is made of."))
        self._list = QVBoxLayout()
        self._list.setSpacing(2)
        column.addLayout(self._list)
        line = QHBoxLayout()
        self.more = self._quiet("paper-more", "Edit this paper ▸")
        self.more.setCheckable(True)
        self.more.toggled.connect(self._show_details)
        self.add = self._quiet("paper-add", "Add a paper")
        self.add.clicked.connect(self._add)
        line.addWidget(self.more)
        line.addWidget(self.add)
        line.addStretch(1)
        column.addLayout(line)
        column.addWidget(self._make_details())

    def _quiet(self, name: str, words: str) -> QToolButton:
        button = QToolButton()
        button.setObjectName(name)
        button.setText(words)
        button.setProperty("quiet", True)
        return button

    def _make_details(self) -> QFrame:
        """All that is known of a paper, to be changed."""
        self.details = QFrame()
        self.details.setObjectName("paper-details")
        column = QVBoxLayout(self.details)
        column.setContentsMargins(0, 4, 0, 4)
        column.setSpacing(5)
        self.panel: FieldPanel | None = None  # made when it is first shown
        self.colour, self.remove = QPushButton("Colour…"), QPushButton("Remove")
        self.colour.setObjectName("paper-colour")
        self.remove.setObjectName("paper-remove")
        self.colour.clicked.connect(self._choose_colour)
        self.remove.clicked.connect(self._remove)
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
        buttons = QHBoxLayout()
        for button in (self.colour, self.back, self.remove):
            buttons.addWidget(button)
        buttons.addStretch(1)
        column.addLayout(buttons)
        self.kept = small()
        column.addWidget(self.kept)
        self.details.hide()
        return self.details

    def show_plan(self, plan: Plan) -> None:
        """Show the papers of a plan's job."""
        job = plan.job
        wanted = [paper.id for paper in job.brief.papers]
        if list(self.buttons) != wanted:
            self._rebuild(wanted)
        if self._base != job.brief.base_paper or self.edited not in wanted:
            self._base = job.brief.base_paper
            if self.edited not in wanted or not self.more.isChecked():
                self.edited = self._base  # the editor follows the card until another paper is opened in it
        for facts in plan.brief.papers:
            paper = facts.paper
            size = format_size(paper.sheet.width.mm, paper.sheet.height.mm, job.units)
            stock = "" if paper.on_hand is None else f" · {paper.on_hand} on hand"
            others = len(paper.other_sheets)
            more = f" and {others} {plural(others, 'other size')}" if others else ""
            self.buttons[paper.id].show_paper(paper.name, paper.colour, f"{paper.weight} · {size}{more}{stock}")
            self.buttons[paper.id].setChecked(paper.id == job.brief.base_paper)
            self._tools[paper.id].setAccessibleName(f"Edit {paper.name}")
            self._tools[paper.id].setToolTip(f"Edit {paper.name}")
        self._show_edited()

    def _show_edited(self) -> None:
        job = self.document.job
        name = next((paper.name for paper in job.brief.papers if paper.id == self.edited), "")
        if self.panel is not None:
            self.panel.set_path(f"brief.papers.{self.edited}")
        self.more.setText(f"Edit {name} {'▾' if self.more.isChecked() else '▸'}")
        for id, tool in self._tools.items():
            tool.setChecked(id == self.edited and self.more.isChecked())
        why = why_kept(job, self.edited) if name else ""
        self.remove.setEnabled(not why)
        self.kept.setText(why and f"It cannot be removed: {why[0].lower()}{why[1:]}")
        self.kept.setVisible(bool(why))

    def _rebuild(self, wanted: list[str]) -> None:
        for row in self._rows:
            row.hide()
            row.deleteLater()
        self.buttons, self._tools, self._rows = {}, {}, []
        for id in wanted:
            row = QWidget()
            line = QHBoxLayout(row)
            line.setContentsMargins(0, 0, 0, 0)
            line.setSpacing(2)
            button = PaperButton(id)
            button.clicked.connect(lambda _=False, id=id: self._choose(id))
            tool = self._quiet(f"paper-edit-{id}", "✎")
            tool.setCheckable(True)
            tool.clicked.connect(lambda _=False, id=id: self._edit(id))
            line.addWidget(button, 1)
            line.addWidget(tool)
            self._list.addWidget(row)
            self.buttons[id], self._tools[id] = button, tool
            self._rows.append(row)

    def _edit(self, id: str) -> None:
        """Open a paper in the editor; the one that is open is closed."""
        close = self.more.isChecked() and self.edited == id
        self.edited = id
        self.more.setChecked(not close)
        self._show_edited()

    def _show_details(self, shown: bool) -> None:
        column = self.details.layout()
        if self.panel is None and isinstance(column, QVBoxLayout):
            self.panel = FieldPanel(self.document, f"brief.papers.{self.edited}", shape="grid")
            column.insertWidget(0, self.panel)
        self.details.setVisible(shown)
        self._show_edited()

    # --- edits -----------------------------------------------------------------------------------------------

    def _choose(self, id: str) -> None:
        paper = next((each for each in self.document.job.brief.papers if each.id == id), None)
        if self.document.edit(f"Card on {paper.name if paper else id}", [Change("brief.base_paper", id)]):
            self.edited = id

    def _add(self) -> None:
        before = {paper.id for paper in self.document.job.brief.papers}
        if self.document.edit("Another paper", lambda job: add_paper(job, self._model())):
            new = [paper.id for paper in self.document.job.brief.papers if paper.id not in before]
            self.edited = new[0] if new else self.edited
            self.more.setChecked(True)
            self._show_edited()

    def _model(self) -> str:
        """The paper a new one begins like: the one in the editor, else the card's."""
        brief = self.document.job.brief
        return self.edited if any(paper.id == self.edited for paper in brief.papers) else brief.base_paper

    def _remove(self) -> None:
        gone = self._model()
        self.document.edit("Paper removed", lambda job: remove_paper(job, gone))

    def _choose_colour(self) -> None:
        paper = self.document.job.brief.paper(self._model())
        chosen = QColorDialog.getColor(QColor(paper.colour), self, "Colour of the paper")
        if chosen.isValid():
            self.document.edit("Colour of the paper", [Change(f"brief.papers.{paper.id}.colour", chosen.name())])

    def _choose_back(self) -> None:
        paper = self.document.job.brief.paper(self._model())
        chosen = QColorDialog.getColor(QColor(paper.back or paper.colour), self, "Colour of its back")
        if chosen.isValid():
            self._set_back(chosen.name())

    def _set_back(self, colour: str | None) -> None:
        self.document.edit("Back of the paper", [Change(f"brief.papers.{self._model()}.back", colour)])
