"""How a drawing is moved under the hand: wheel, pinch, keys and dragging; it keeps the zoom and computes no picture."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QNativeGestureEvent, QWheelEvent
from PyQt6.QtWidgets import QGestureEvent, QPinchGesture, QWidget

from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box
from dechirer.drawing.viewport import STEP, Viewport, Zoom, fit_viewport, zoom_onto

NOTCH = 120.0
"""Of a wheel, in Qt's eighths of a degree."""


class Motion(QObject):
    """The zoom of one drawing. Emits `changed` whenever the picture lies otherwise on the screen."""

    changed = pyqtSignal()

    def __init__(self, host: QWidget) -> None:
        super().__init__(host)
        self._host = host
        self.zoom = Zoom()
        self.box = Box(0.0, 0.0, 0.0, 0.0)
        self.room = (0.0, 0.0, 0.0, 0.0)
        self.holds_space = False
        host.grabGesture(Qt.GestureType.PinchGesture)

    @property
    def fitted(self) -> Viewport:
        """How the picture lies when it fits."""
        return fit_viewport(self.box, self._host.width(), self._host.height(), self.room)

    @property
    def viewport(self) -> Viewport:
        """How the picture lies now."""
        return self.zoom.viewport(self.fitted, self._host.width(), self._host.height())

    def fit(self) -> None:
        """Show the whole picture."""
        self._take(Zoom())

    def step(self, steps: float, at: Point | None = None) -> None:
        """Magnify by so many steps (less than none: the other way) about a place in px, else about the middle."""
        wide, high = self._host.width(), self._host.height()
        self._take(self.zoom.magnified(STEP**steps, at or (wide / 2, high / 2), self.fitted, wide, high))

    def onto(self, box: Box) -> None:
        """Let a part of the picture fill the window."""
        self._take(zoom_onto(box, self.fitted, self._host.width(), self._host.height()))

    def to_scale(self, px_per_mm: float) -> None:
        """Show at a scale about the middle; below what fits, what fits."""
        wide, high = self._host.width(), self._host.height()
        middle = (wide / 2, high / 2)
        by = px_per_mm / self.viewport.scale
        self._take(self.zoom.magnified(by, middle, self.fitted, wide, high))

    def pan(self, dx_px: float, dy_px: float) -> None:
        """Move the picture by some pixels."""
        self._take(self.zoom.moved(dx_px, dy_px, self.fitted, self.box))

    def take_wheel(self, event: QWheelEvent) -> None:
        """The wheel magnifies at the pointer; with Shift it moves sideways."""
        turned = event.angleDelta()
        at = event.position()
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
            self.pan((turned.y() or turned.x()) / 2, 0.0)
        else:
            self.step(turned.y() / NOTCH, (at.x(), at.y()))
        event.accept()

    def take_gesture(self, event: QEvent) -> bool:
        """Two fingers on a screen or a pad; whether the event was one of theirs."""
        if isinstance(event, QNativeGestureEvent):
            if event.gestureType() == Qt.NativeGestureType.ZoomNativeGesture:
                self._by(1.0 + event.value(), event.position())
                event.accept()  # no other widget takes it as well
                return True
            return False
        if isinstance(event, QGestureEvent):
            pinch = event.gesture(Qt.GestureType.PinchGesture)
            if isinstance(pinch, QPinchGesture):
                moved = pinch.centerPoint() - pinch.lastCenterPoint()
                at = QPointF(self._host.mapFromGlobal(pinch.centerPoint().toPoint()))
                self._by(pinch.scaleFactor(), at)
                self.pan(moved.x(), moved.y())
                event.accept()
                return True
        return False

    def take_key(self, event: QKeyEvent) -> bool:
        """+ and - magnify, 0 fits, Space held lets the left button move the picture; whether it was one of them."""
        key = event.key()
        if key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.step(1)
        elif key in (Qt.Key.Key_Minus, Qt.Key.Key_Underscore):
            self.step(-1)
        elif key == Qt.Key.Key_0:
            self.fit()
        elif key == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.holds_space = True
        else:
            return key == Qt.Key.Key_Space
        return True

    def _by(self, factor: float, at: QPointF) -> None:
        wide, high = self._host.width(), self._host.height()
        self._take(self.zoom.magnified(max(0.1, factor), (at.x(), at.y()), self.fitted, wide, high))

    def _take(self, zoom: Zoom) -> None:
        if zoom != self.zoom:
            self.zoom = zoom
            self.changed.emit()
