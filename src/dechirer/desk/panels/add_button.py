"""A button with the menu of what can be glued in or on."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QToolButton

from dechirer.core.card.panels import Face
from dechirer.core.construct.specs import AttachmentSpec
from dechirer.core.job.attach import attach
from dechirer.core.plan import Plan
from dechirer.desk.widgets.add_menu import AddMenu
from dechirer.desk.work.document import Document


class AddButton(QToolButton):
    """Opens the menu for the card shown last. Emits `refused(text)` for what cannot be put on it."""

    refused = pyqtSignal(str)

    def __init__(self, document: Document, name: str) -> None:
        super().__init__()
        self._document = document
        self._plan: Plan | None = None
        self.setObjectName(name)
        self.setText("Add ▾")
        self.setToolTip("What is glued in or on: a liner, a window, layers, an envelope")
        self.setProperty("quiet", True)
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.add_menu = AddMenu(self, self._attach)
        self.add_menu.aboutToShow.connect(self._fill)
        self.setMenu(self.add_menu)

    def show_plan(self, plan: Plan) -> None:
        """The card it is for."""
        self._plan = plan

    def _fill(self) -> None:
        if self._plan is not None:
            self.add_menu.fill(self._plan)

    def _attach(self, spec: AttachmentSpec, face: Face) -> None:
        faces = self._plan.construct.tree.faces if self._plan is not None else ()
        now = next((each for each in faces if each.name == face.name), None)
        if now is None:
            return
        try:
            changes = attach(self._document.job, spec.id, now)
        except ValueError as error:
            self.refused.emit(f"{spec.add.format(face=face.name)}: {error}")
            return
        self._document.edit(spec.add.format(face=face.name), changes)
