"""A painted picture, fitted or magnified, with its bar and its ruler: what is shown, without what a hand does to it."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent
from PyQt6.QtWidgets import QWidget

from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box
from dechirer.desk.marks import paint_verdict
from dechirer.desk.painter import measure, paint_display
from dechirer.desk.screen import screen
from dechirer.desk.theme import theme
from dechirer.desk.widgets.loupe import Detail, Loupe
from dechirer.desk.widgets.ruler_tool import RulerTool
from dechirer.desk.widgets.view_bar import ViewBar
from dechirer.desk.widgets.view_motion import Motion
from dechirer.desk.work.pixel_store import store
from dechirer.drawing.display import Dimension, Display, Label
from dechirer.drawing.hit import Hit, box_of_what, hit_test
from dechirer.drawing.placing import box_of, place_words
from dechirer.drawing.viewport import Viewport, describe_scale

ROOM_FOR_BAR_PX = 340
"""Narrower pictures show their bar while the pointer is over them."""


Spot = tuple[str, str, str]
"""What a finding is about: an element's id, how bad it is, and its title."""


class Picture(QWidget):
    """Shows a display list.

    Signals:
        resized(): the space for the picture, or its scale, changed.
        screen_wanted(): the maker wants to measure the screen.
    """

    resized = pyqtSignal()
    screen_wanted = pyqtSignal()

    def __init__(self, name: str, parent: QWidget | None = None, *, flat: bool = True) -> None:
        """`flat`: distances in the picture are distances on paper, so that a ruler can be laid on it."""
        super().__init__(parent)
        self.setObjectName(name)
        self.setMinimumSize(220, 160)
        self.flat = flat
        self._display: Display | None = None
        self._placed: tuple[object, Display] | None = None
        self._paths: dict[int, QPainterPath] = {}
        self._spots: tuple[Spot, ...] = ()
        self._subject = ""
        self._picked = ""
        self._hovered = Hit()
        self._ring = False
        self.ruler = RulerTool()
        self.loupe = Loupe()
        self.motion = Motion(self)
        self.motion.changed.connect(self._lie_anew)
        self.bar = ViewBar(name, self, flat=flat)
        self.bar.stepped.connect(self.motion.step)
        self.bar.fit_wanted.connect(self.motion.fit)
        self.bar.true_size_wanted.connect(self.show_true_size)
        self.bar.measuring_wanted.connect(self.screen_wanted.emit)
        self.bar.ruled.connect(self.lay_ruler)
        self.bar.hide()
        store.ready.connect(self.update)

    def set_display(self, display: Display, subject: str = "") -> None:
        """Show a picture. The same box keeps the view still; another subject is shown whole."""
        self._display = display
        self._paths, self._placed = {}, None
        self.motion.box, self.motion.room = display.box, display.room_px
        if subject != self._subject:
            self._subject = subject
            self.motion.fit()
        self.setAccessibleName(display.description)
        self._show_scale()
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
        return self.motion.viewport if self._display is not None else Viewport(1.0, 0.0, 0.0)

    @property
    def shown(self) -> Display | None:
        """The picture with its numbers and names where they stand now."""
        display, viewport = self._display, self.viewport_now
        if display is None:
            return None
        bar = self.bar.geometry()
        taken = (Box(bar.left(), bar.top(), bar.right(), bar.bottom()),) if self.width() >= ROOM_FOR_BAR_PX else ()
        key = (id(display), viewport, self.width(), self.height(), taken)
        if self._placed is None or self._placed[0] != key:
            placed = place_words(display, viewport, self.width(), self.height(), measure, taken=taken)
            self._placed = (key, placed)
        return self._placed[1]

    def set_spots(self, spots: tuple[Spot, ...]) -> None:
        """Mark what findings are about: each a tuple of element, severity and title."""
        if spots != self._spots:
            self._spots = spots
            self.update()

    def _spot_places(self) -> list[tuple[float, float, Spot]]:
        """Where the marks of findings stand, in px: at the upper right corner of what each is about."""
        display, viewport = self._display, self.viewport_now
        found: list[tuple[float, float, Spot]] = []
        if display is None:
            return found
        for spot in self._spots:
            box = box_of_what(display, spot[0])
            if box is None:
                continue
            x, y = viewport.to_px((box.right, box.top))
            # Marks of one thing stand beside each other.
            x -= 12 + 18 * sum(abs(x - 12 - other) < 200 and other_y == y + 12 for other, other_y, _ in found)
            found.append((min(max(x, 12), self.width() - 12), min(max(y + 12, 12), self.height() - 12), spot))
        return found

    def _paint_spots(self, painter: QPainter) -> None:
        for x, y, (_, severity, _) in self._spot_places():
            painter.setPen(theme.colour("rule-strong"))
            painter.setBrush(theme.colour("surface"))
            painter.drawEllipse(QPointF(x, y), 9, 9)
            paint_verdict(painter, severity, x, y)

    def details(self) -> tuple[Detail, ...]:
        """The small things findings are about: places of the picture, and whatever is marked that is small itself."""
        if self._display is None:
            return ()
        marked = []
        for element, _, _ in self._spots:
            box = box_of_what(self._display, element)
            if box is not None:
                marked.append((((box.left + box.right) / 2, (box.top + box.bottom) / 2), max(box.width, box.height)))
        return (*self._display.details, *marked)

    def spot_at(self, px: QPointF) -> str:
        """The title of the finding whose mark is under a pixel, or empty."""
        for x, y, (_, _, title) in self._spot_places():
            if (px.x() - x) ** 2 + (px.y() - y) ** 2 <= 100:
                return title
        return ""

    def show_true_size(self) -> None:
        """As large as it is, as far as the screen's size is known."""
        self.motion.to_scale(screen.px_per_mm)

    def lay_ruler(self, on: bool) -> None:
        """Take up the ruler, or put it away."""
        self.ruler.turn(on and self.flat)
        self.bar.rule.setChecked(self.ruler.is_on)
        self.setCursor(Qt.CursorShape.CrossCursor if self.ruler.is_on else Qt.CursorShape.ArrowCursor)
        self.update()

    def place_of(self, figure: str) -> Point | None:
        """Where the number of a figure stands, in pixels, or None when it is not in the picture."""
        shown = self.shown
        for item in shown.items if shown is not None else ():
            if isinstance(item, Dimension | Label) and item.figure == figure:
                box = box_of(item, self.viewport_now, measure)
                return (box.left + box.right) / 2, (box.top + box.bottom) / 2
        return None

    def figures(self) -> list[str]:
        """Keys of the numbers in the picture, in reading order of the list."""
        found: list[str] = []
        for item in self._display.items if self._display else ():
            if isinstance(item, (Dimension, Label)) and item.figure and item.figure not in found:
                found.append(item.figure)
        return found

    def _lie_anew(self) -> None:
        """The picture lies otherwise on the screen than it did."""
        self._show_scale()
        self.update()
        self.resized.emit()

    def _show_scale(self) -> None:
        words = describe_scale(self.viewport_now.scale, screen.px_per_mm) if self.flat else "fit"
        if not self.flat and not self.motion.zoom.is_fitted:
            words = f"× {self.motion.zoom.times:.2g}"
        self.bar.show_scale(words)
        self.bar.setVisible(self.isVisible() and (self.width() >= ROOM_FOR_BAR_PX or self.underMouse()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        viewport = self.viewport_now
        shown = self.shown
        if shown is not None:
            paint_display(
                painter, shown, viewport, picked=self._picked, hovered=self._hovered.figure, paths=self._paths
            )
        self._paint_spots(painter)
        self.ruler.paint(painter, viewport, self.width(), self.height())
        if shown is not None:
            self.loupe.paint(painter, shown, viewport, self.width(), self.height())
        if self.hasFocus() and self._ring:
            painter.setPen(theme.colour("accent"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))
        painter.end()

    def _field_of(self, figure: str) -> str:
        for item in self._display.items if self._display else ():
            if isinstance(item, (Dimension, Label)) and item.figure == figure and item.field:
                return item.field
        return ""

    def _hit(self, px: QPointF) -> Hit | None:
        shown = self.shown
        return hit_test(shown, self.viewport_now, (px.x(), px.y()), measure) if shown is not None else None
