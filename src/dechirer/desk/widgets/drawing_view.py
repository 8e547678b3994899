"""A painted drawing that is zoomed and moved, whose numbers can be picked and typed into. It translates events; it
computes nothing."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QEvent, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QFocusEvent, QHelpEvent, QKeyEvent, QMouseEvent, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QToolTip, QWidget

from dechirer.core.shape.affine import Point
from dechirer.desk.screen import screen
from dechirer.desk.widgets.number_editor import NumberEditor
from dechirer.desk.widgets.picture import Picture
from dechirer.desk.widgets.strip import KEYBOARD_REASONS
from dechirer.drawing.display import Display
from dechirer.drawing.hit import Hit, box_of_element

DRAG_FROM_PX = 4
PLAIN = (
    Qt.KeyboardModifier.NoModifier,
    Qt.KeyboardModifier.ShiftModifier,
    Qt.KeyboardModifier.KeypadModifier,
)
"""With these a key is a key of the drawing; with others it is a shortcut."""


class DrawingView(Picture):
    """Shows a display list, fitted to the widget or magnified, and tells what is done to it.

    Signals:
        figure_picked(key): a number was clicked.
        element_picked(id): a shape was clicked; empty when the ground was.
        element_hovered(id): the pointer is over a shape; empty when over none.
        field_typed(path, text): Enter was pressed in a number's editor; answer with `accept` or `refuse`.
        drag_began(id), drag_moved(dx mm, dy mm), drag_ended(): a shape is dragged; only when `draggable`.
        drag_aborted(): Escape was pressed while it was dragged, in place of drag_ended().
        turned(dx px, dy px): what is drawn is turned under the hand; only when `turnable`.
        key_pressed(letter): a letter was pressed that the drawing has no use for.
    """

    figure_picked = pyqtSignal(str)
    element_picked = pyqtSignal(str)
    element_hovered = pyqtSignal(str)
    field_typed = pyqtSignal(str, str)
    drag_began = pyqtSignal(str)
    drag_moved = pyqtSignal(float, float)
    drag_ended = pyqtSignal()
    drag_aborted = pyqtSignal()
    turned = pyqtSignal(float, float)
    key_pressed = pyqtSignal(str)

    def __init__(self, name: str, parent: QWidget | None = None, *, flat: bool = True) -> None:
        """`flat`: distances in the picture are distances on paper, so that a ruler can be laid on it.

        `adds` says whether Shift or Ctrl was held at the last press. `take_double` is told of a double click, on an
        element and at a place in mm, and says whether it has done something with it.
        """
        super().__init__(name, parent, flat=flat)
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.draggable = False
        self.turnable = False
        self.show_field: Callable[[str], str] = lambda path: ""
        self._pressed: tuple[QPointF, str] | None = None
        self._clicked: tuple[QPointF, str] | None = None
        self._panned: QPointF | None = None
        self._dragging = False
        self.pointer = QPointF()
        self.adds = False
        self.take_double: Callable[[str, Point], bool] = lambda element, at: False
        self._editor = NumberEditor(self, name)
        self._editor.entered = lambda figure, text: self.field_typed.emit(self._field_of(figure), text)
        self._editor.left = self._leave_editor

    def set_display(self, display: Display, subject: str = "") -> None:
        """As any picture; a number that is being typed stays under its editor."""
        super().set_display(display, subject)
        self._place_editor()

    def _lie_anew(self) -> None:
        self._place_editor()
        super()._lie_anew()

    def _place_editor(self) -> None:
        if self._editor.figure:
            self._editor.place(self.place_of(self._editor.figure))

    # --- editing a number where it is drawn ------------------------------------------------------------------

    def edit(self, figure: str) -> bool:
        """Open the editor on a figure's number. Returns whether it can be typed into."""
        field = self._field_of(figure)
        if not field:
            return False
        self._editor.open(figure, self.show_field(field))
        self._editor.place(self.place_of(figure))
        return True

    def accept(self) -> None:
        """The typed text was taken."""
        self._editor.close()

    def refuse(self, why: str) -> None:
        """The typed text was not taken: say why beside it and keep the old value."""
        self._editor.refuse(why)

    def _leave_editor(self, focus: bool) -> None:
        if focus:
            self.setFocus(Qt.FocusReason.OtherFocusReason)
        self.update()

    # --- pointer ---------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._display is None:
            return
        left = event.button() == Qt.MouseButton.LeftButton
        if event.button() == Qt.MouseButton.MiddleButton or (left and self.motion.holds_space):
            self._panned = event.position()
            self.setCursor(Qt.CursorShape.ClosedHandCursor)
            return
        if not left:
            return
        self.adds = bool(event.modifiers() & (Qt.KeyboardModifier.ShiftModifier | Qt.KeyboardModifier.ControlModifier))
        self.setFocus(Qt.FocusReason.MouseFocusReason)
        if self.ruler.is_on:
            self.ruler.click(self._display, self.viewport_now, (event.position().x(), event.position().y()))
            self.update()
            return
        hit = self._hit(event.position())
        if hit is not None and hit.figure:
            self.figure_picked.emit(hit.figure)
            self.edit(hit.figure)
            return
        element = hit.element if hit is not None else ""
        if self.draggable and element:
            self.element_picked.emit(element)
            self._pressed = (event.position(), element)
            return
        # Otherwise a click picks when it is let go: pressed and moved, it turns the card or moves the picture.
        self._clicked = (event.position(), element)
        if self.turnable:
            self._pressed = (event.position(), "")
        elif not self.motion.zoom.is_fitted:
            self._panned = event.position()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._display is None:
            return
        here = event.position()
        if self._panned is not None:
            moved, self._panned = here - self._panned, here
            self.motion.pan(moved.x(), moved.y())
        elif self._pressed is not None:
            self._drag_to(here)
        elif self.ruler.is_on:
            self.ruler.point(self._display, self.viewport_now, (here.x(), here.y()))
            self.update()
        else:
            if self.flat and self.loupe.point(here, self.details(), self.viewport_now, screen.px_per_mm):
                self.update()
            self._hover(self._hit(here) or Hit())

    def _drag_to(self, here: QPointF) -> None:
        assert self._pressed is not None
        start, element = self._pressed
        self.pointer = here
        moved = here - start
        if self.turnable and not element:
            self._pressed = (here, "")
            self.turned.emit(moved.x(), moved.y())
            return
        if not self._dragging and moved.manhattanLength() >= DRAG_FROM_PX:
            self._dragging = True
            self.drag_began.emit(element)
        if self._dragging:
            scale = self.viewport_now.scale
            self.drag_moved.emit(moved.x() / scale, moved.y() / scale)

    def _hover(self, hit: Hit) -> None:
        if hit == self._hovered:
            return
        if hit.element != self._hovered.element:
            self.element_hovered.emit(hit.element)
        self._hovered = hit
        grab = self.turnable or (self.draggable and bool(hit.element))
        shape = Qt.CursorShape.OpenHandCursor if grab else Qt.CursorShape.ArrowCursor
        self.setCursor(Qt.CursorShape.PointingHandCursor if hit.figure else shape)
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._dragging:
            self.drag_ended.emit()
        if event is not None and self._clicked is not None:
            start, element = self._clicked
            self._clicked = None
            if (event.position() - start).manhattanLength() < DRAG_FROM_PX:
                self.element_picked.emit(element)
        if self._panned is not None:
            self._panned = None
            self.setCursor(Qt.CursorShape.ArrowCursor)
        self._pressed, self._dragging = None, False

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._display is None or event.button() != Qt.MouseButton.LeftButton or self.ruler.is_on:
            return
        hit = self._hit(event.position())
        at = self.viewport_now.to_mm((event.position().x(), event.position().y()))
        if not (hit is not None and hit.figure) and self.take_double(hit.element if hit is not None else "", at):
            return
        box = box_of_element(self._display, hit.element) if hit is not None and hit.element else None
        if box is None or not self.motion.zoom.is_fitted:
            self.motion.fit()
        else:
            self.motion.onto(box)

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        if event is not None and self._display is not None:
            self.motion.take_wheel(event)

    def event(self, event: QEvent | None) -> bool:
        """Gestures of two fingers and help at the pointer have no handlers of their own in Qt."""
        if isinstance(event, QHelpEvent):
            title = self.spot_at(QPointF(event.pos()))
            QToolTip.showText(event.globalPos(), title, self)
            return True
        if event is not None and event.type() in (QEvent.Type.NativeGesture, QEvent.Type.Gesture):
            return self.motion.take_gesture(event) or super().event(event)
        return super().event(event)

    def enterEvent(self, event: QEvent | None) -> None:
        self._show_scale()

    def leaveEvent(self, event: QEvent | None) -> None:
        self._hovered = Hit()
        self.loupe.leave()
        self.element_hovered.emit("")
        self._show_scale()
        self.update()

    # --- keys ------------------------------------------------------------------------------------------------

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        super().focusInEvent(event)
        self._ring = event is not None and event.reason() in KEYBOARD_REASONS

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        self.motion.holds_space = False
        super().focusOutEvent(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        figures = self.figures()
        key, plain = (
            event.key(),
            event.modifiers()
            in (
                Qt.KeyboardModifier.NoModifier,
                Qt.KeyboardModifier.ShiftModifier,
                Qt.KeyboardModifier.KeypadModifier,
            ),
        )
        if self._dragging and key == Qt.Key.Key_Escape:
            self._pressed, self._dragging = None, False
            self.drag_aborted.emit()
        elif self.ruler.is_on and key == Qt.Key.Key_Escape:
            self.lay_ruler(False)
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Up) and figures:
            step = 1 if key in (Qt.Key.Key_Right, Qt.Key.Key_Down) else -1
            at = figures.index(self._picked) if self._picked in figures else (-1 if step > 0 else 0)
            self.figure_picked.emit(figures[(at + step) % len(figures)])
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_F2) and self._picked in figures:
            self.edit(self._picked)
        elif plain and self.motion.take_key(event):
            pass
        elif plain and key == Qt.Key.Key_1:
            self.show_true_size()
        elif plain and key == Qt.Key.Key_M and self.flat:
            self.lay_ruler(not self.ruler.is_on)
        elif plain and event.text().isalpha():
            self.key_pressed.emit(event.text().lower())
        else:
            super().keyPressEvent(event)

    def keyReleaseEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.motion.holds_space = False
        super().keyReleaseEvent(event)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        self._place_editor()
        super().resizeEvent(event)
        self._show_scale()
        self.bar.lie()
        self.resized.emit()
