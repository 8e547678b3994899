"""A painted drawing whose numbers can be picked and typed into. It translates events; it computes nothing."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from dechirer.core.shape.affine import Point
from dechirer.desk.painter import measure, paint_display
from dechirer.desk.theme import theme
from dechirer.desk.widgets.strip import KEYBOARD_REASONS
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Dimension, Display, Label
from dechirer.drawing.hit import Hit, hit_test
from dechirer.drawing.viewport import Viewport, fit_viewport

DRAG_FROM_PX = 4


class DrawingView(QWidget):
    """Shows a display list, fitted to the widget.

    Signals:
        figure_picked(key): a number was clicked.
        element_picked(id): a shape was clicked; empty when the ground was.
        element_hovered(id): the pointer is over a shape; empty when over none.
        field_typed(path, text): Enter was pressed in a number's editor; answer with `accept` or `refuse`.
        resized(): the space for the picture changed.
        drag_began(id), drag_moved(dx mm, dy mm), drag_ended(): a shape is dragged; only when `draggable`.
        drag_aborted(): Escape was pressed while it was dragged, in place of drag_ended().
    """

    figure_picked = pyqtSignal(str)
    element_picked = pyqtSignal(str)
    element_hovered = pyqtSignal(str)
    field_typed = pyqtSignal(str, str)
    drag_began = pyqtSignal(str)
    drag_moved = pyqtSignal(float, float)
    drag_ended = pyqtSignal()
    drag_aborted = pyqtSignal()
    resized = pyqtSignal()

    def __init__(self, name: str, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName(name)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumSize(220, 160)
        self.draggable = False
        self.show_field: Callable[[str], str] = lambda path: ""
        self._display: Display | None = None
        self._picked = ""
        self._hovered = Hit()
        self._pressed: tuple[QPointF, str] | None = None
        self._dragging = False
        self._editing = ""
        self._ring = False
        self._editor = QLineEdit(self)
        self._editor.setObjectName(f"{name}-editor")
        self._editor.hide()
        self._editor.installEventFilter(self)
        self._complaint = QLabel(self)
        self._complaint.setObjectName(f"{name}-complaint")
        self._complaint.setWordWrap(True)
        self._complaint.hide()

    # --- what is shown ---------------------------------------------------------------------------------------

    def set_display(self, display: Display) -> None:
        """Show a picture. The same box keeps the view still."""
        self._display = display
        self.setAccessibleName(display.description)
        if self._editing:
            self._place_editor()
        self.update()

    def set_picked(self, figure: str) -> None:
        """Mark the number that is shown in Working."""
        if figure != self._picked:
            self._picked = figure
            self.update()

    @property
    def display(self) -> Display | None:
        """The picture shown."""
        return self._display

    @property
    def viewport_now(self) -> Viewport:
        """How the drawing's mm lie on the widget's pixels now."""
        if self._display is None:
            return Viewport(1.0, 0.0, 0.0)
        return fit_viewport(self._display.box, self.width(), self.height(), self._display.room_px)

    def place_of(self, figure: str) -> Point | None:
        """Where the number of a figure stands, in pixels, or None when it is not in the picture."""
        viewport = self.viewport_now
        for item in self._display.items if self._display else ():
            if isinstance(item, Dimension) and item.figure == figure:
                return shape_dimension(item, viewport, measure(item.text, "strong")).centre
            if isinstance(item, Label) and item.figure == figure:
                x, y = viewport.to_px(item.at)
                wide = measure(item.text, item.style)
                left = {"start": wide / 2, "middle": 0.0, "end": -wide / 2}[item.anchor]
                return x + item.shift_px[0] + left, y + item.shift_px[1]
        return None

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        if self._display is not None:
            paint_display(painter, self._display, self.viewport_now, picked=self._picked, hovered=self._hovered.figure)
        if self.hasFocus() and self._ring and not self._editing:
            painter.setPen(theme.colour("accent"))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    # --- editing a number where it is drawn ------------------------------------------------------------------

    def edit(self, figure: str) -> bool:
        """Open the editor on a figure's number. Returns whether it can be typed into."""
        field = self._field_of(figure)
        if not field:
            return False
        self._editing = figure
        self._complaint.hide()
        self._editor.setText(self.show_field(field))
        self._editor.setAccessibleName(f"{figure}: type a new value")
        self._place_editor()
        self._editor.show()
        self._editor.setFocus(Qt.FocusReason.OtherFocusReason)
        self._editor.selectAll()
        return True

    def accept(self) -> None:
        """The typed text was taken."""
        self._close_editor()

    def refuse(self, why: str) -> None:
        """The typed text was not taken: say why beside it and keep the old value."""
        self._complaint.setText(why)
        self._complaint.setStyleSheet(
            f"background: {theme.colour('stop-wash').name()}; color: {theme.colour('ink').name()};"
            f"border-left: 3px solid {theme.colour('stop').name()}; padding: 5px 8px;"
        )
        self._complaint.setFixedWidth(min(280, max(120, self.width() - 20)))
        self._complaint.adjustSize()
        place = self._editor.geometry()
        left = max(6, min(place.left(), self.width() - self._complaint.width() - 6))
        below = place.bottom() + 4
        if below + self._complaint.height() > self.height():
            below = max(0, place.top() - 4 - self._complaint.height())
        self._complaint.move(left, below)
        self._complaint.show()
        self._complaint.raise_()

    def _field_of(self, figure: str) -> str:
        for item in self._display.items if self._display else ():
            if isinstance(item, Dimension) and item.figure == figure and item.field:
                return item.field
            if isinstance(item, Label) and item.figure == figure and item.field:
                return item.field
        return ""

    def _place_editor(self) -> None:
        centre = self.place_of(self._editing)
        if centre is None:
            self._close_editor()
            return
        width = max(96, min(220, int(measure(self._editor.text(), "strong")) + 40))
        left = int(max(2, min(centre[0] - width / 2, self.width() - width - 2)))
        self._editor.setGeometry(QRect(left, int(centre[1]) - 15, width, 30))

    def _enter(self) -> None:
        self.field_typed.emit(self._field_of(self._editing), self._editor.text())

    def _close_editor(self) -> None:
        self._editing = ""
        self._editor.hide()
        self._complaint.hide()
        self.setFocus(Qt.FocusReason.OtherFocusReason)
        self.update()

    def eventFilter(self, watched: object, event: QEvent | None) -> bool:
        if watched is self._editor and event is not None:
            if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress:
                if event.key() == Qt.Key.Key_Escape:
                    self._close_editor()
                    return True
                if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                    # Taken here: a line edit passes Enter on, and the drawing would open the editor again.
                    self._enter()
                    return True
                self._complaint.hide()
            elif event.type() == QEvent.Type.FocusOut and self._editing and not self._complaint.isVisible():
                self._editing = ""
                self._editor.hide()
                self.update()
        return super().eventFilter(watched, event)  # type: ignore[arg-type]

    # --- pointer and keys ------------------------------------------------------------------------------------

    def _hit(self, px: QPointF) -> Hit | None:
        if self._display is None:
            return None
        return hit_test(self._display, self.viewport_now, (px.x(), px.y()), measure)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            return
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        hit = self._hit(event.position())
        if hit is not None and hit.figure:
            self.figure_picked.emit(hit.figure)
            self.edit(hit.figure)
            return
        element = hit.element if hit is not None else ""
        self.element_picked.emit(element)
        if self.draggable and element:
            self._pressed = (event.position(), element)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._pressed is not None:
            moved = event.position() - self._pressed[0]
            if not self._dragging and moved.manhattanLength() >= DRAG_FROM_PX:
                self._dragging = True
                self.drag_began.emit(self._pressed[1])
            if self._dragging:
                scale = self.viewport_now.scale
                self.drag_moved.emit(moved.x() / scale, moved.y() / scale)
            return
        hit = self._hit(event.position()) or Hit()
        if hit != self._hovered:
            if hit.element != self._hovered.element:
                self.element_hovered.emit(hit.element)
            self._hovered = hit
            number = bool(hit.figure)
            grab = self.draggable and bool(hit.element)
            shape = Qt.CursorShape.OpenHandCursor if grab else Qt.CursorShape.ArrowCursor
            self.setCursor(Qt.CursorShape.PointingHandCursor if number else shape)
            self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self.drag_ended.emit()
        self._pressed, self._dragging = None, False

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self._ring = event is not None and event.reason() in KEYBOARD_REASONS

    def leaveEvent(self, event: QEvent | None) -> None:
        self._hovered = Hit()
        self.element_hovered.emit("")
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        figures = self.figures()
        if self._dragging and event.key() == Qt.Key.Key_Escape:
            self._pressed, self._dragging = None, False
            self.drag_aborted.emit()
        elif event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up) and figures:
            step = 1 if event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1
            at = figures.index(self._picked) if self._picked in figures else (-1 if step > 0 else 0)
            self.figure_picked.emit(figures[(at + step) % len(figures)])
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_F2) and self._picked in figures:
            self.edit(self._picked)
        else:
            super().keyPressEvent(event)

    def figures(self) -> list[str]:
        """Keys of the numbers in the picture, in reading order of the list."""
        found: list[str] = []
        for item in self._display.items if self._display else ():
            if isinstance(item, (Dimension, Label)) and item.figure and item.figure not in found:
                found.append(item.figure)
        return found

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        if self._editing:
            self._place_editor()
        super().resizeEvent(event)
        self.resized.emit()
