"""What every station shares: it shows a plan, passes edits to the document, and can point at an element."""

from __future__ import annotations

from PyQt6.QtCore import QMimeData, pyqtSignal
from PyQt6.QtWidgets import QDialog, QWidget

from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.desk.panels.field_edit import FieldEdit
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.folded_view import FoldedView
from dechirer.desk.work.document import Document


class Station(QWidget):
    """A station's view.

    Signals:
        figure_picked(key): a number was clicked; the window shows its working.
        refused(text): something could not be done; the window says why.
        action_wanted(id): a button of the station stands for one of the window's actions.
        element_wanted(id): a piece, an item or a mat is to be shown where it is made.
    """

    takes_drops = False
    """Whether what is dropped on the window is brought in by this station."""
    figure_picked = pyqtSignal(str)
    action_wanted = pyqtSignal(str)
    element_wanted = pyqtSignal(str)
    refused = pyqtSignal(str)

    def __init__(self, document: Document, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.document = document
        self.id = ""
        self.plan: Plan | None = None
        self._views: list[DrawingView] = []
        self._fields: list[FieldEdit] = []

    def show_plan(self, plan: Plan) -> None:
        """Show a newer plan."""
        self.plan = plan
        mine = [each for each in plan.findings if each.station == self.id and each.element]
        spots = tuple((each.element, each.severity, each.title) for each in mine)
        for view in self._views:
            view.set_spots(spots)
        for field in self._fields:
            field.show_text(self.document.field_text(field.path))
        self.refresh()

    def refresh(self) -> None:
        """Draw again from the plan shown, where a station draws something of it."""

    def set_picked(self, figure: str) -> None:
        """Mark the number that is shown in Working."""
        for view in self._views:
            view.set_picked(figure)

    def owns(self, element: str) -> bool:
        """Whether an element that is looked for (a piece, an item, a mat) is shown here."""
        return False

    def point_at(self, element: str) -> None:
        """Light up the element a finding is about, where the station draws it."""

    def open_box(self, what: str) -> QDialog | None:
        """Open one of the station's dialogs by name; the one that was opened, None for none of that name."""
        return None

    def end(self) -> None:
        """The window closes: what is under way beside it is stopped."""

    def end_typing(self) -> None:
        """Keep what is being typed on a drawing: the job is about to be saved, or something made of it."""

    def take_drop(self, mime: QMimeData | None) -> None:
        """Bring in what was dropped on the window."""

    def figures(self) -> list[str]:
        """Keys of the numbers this station draws."""
        return [key for view in self._views for key in view.figures()]

    @property
    def folded_views(self) -> list[FoldedView]:
        """Its drawings of the folded card."""
        return [view for view in self._views if isinstance(view, FoldedView)]

    def take_view(self, view: DrawingView) -> DrawingView:
        """Wire a drawing's numbers to Working and to the document."""
        view.figure_picked.connect(self.figure_picked.emit)
        view.show_field = self.document.field_text
        view.ruler.write = lambda mm: format_length(mm, self.document.job.units)
        view.screen_wanted.connect(lambda: self.action_wanted.emit("screen"))
        view.field_typed.connect(lambda path, text, view=view: self._typed(view, path, text))
        self._views.append(view)
        return view

    def take_field(self, field: FieldEdit) -> FieldEdit:
        """Wire a line's field to the document."""
        field.typed.connect(lambda path, text, field=field: self._typed(field, path, text))
        self._fields.append(field)
        return field

    def _typed(self, asker: DrawingView | FieldEdit, path: str, text: str) -> None:
        if isinstance(asker, FieldEdit):
            asker.answer(self.document, path, text)
            return
        why = self.document.type_field(path, text)
        if why:
            asker.refuse(why)
        else:
            asker.accept()
