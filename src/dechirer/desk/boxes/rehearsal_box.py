"""Print and read: a page comes from the simulated printer, its marks are looked for, and how it fits is told."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PyQt6.QtCore import QPointF, QRectF, QSize, Qt
from PyQt6.QtGui import QImage, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.plan import Plan
from dechirer.core.press.pages import Page
from dechirer.core.press.station import PRESS
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.beside import Beside
from dechirer.devices.rehearsal import TRIALS, Rehearsed, print_and_read

if TYPE_CHECKING:
    from dechirer.core.shape.affine import Affine, Point

WORDS_PX = 290


class SeenPicture(QWidget):
    """What the camera saw, with the marks that were found and the cuts as they would be made."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("rehearsal-picture")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(300, 380)
        self._image: QImage | None = None
        self._found: Rehearsed | None = None
        self._page: Page | None = None

    def show_seen(self, found: Rehearsed | None, page: Page, words: str) -> None:
        """Show a rehearsed page; None while it is being printed."""
        self._found, self._page, self._image = found, page, None
        if found is not None:
            high, wide = found.picture.shape
            # A copy: the array may go before the picture does.
            self._image = QImage(found.picture.data, wide, high, wide, QImage.Format.Format_Grayscale8).copy()
        self.setAccessibleName(words)
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(470, 600)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(self.rect(), theme.colour("sunken"))
        if self._image is None or self._found is None or self._page is None:
            painter.setPen(theme.colour("soft"))
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, "Printing, and looking for the marks…")
            painter.end()
            return
        wide, high = self._found.size
        scale = min((self.width() - 16) / wide, (self.height() - 16) / high)
        left, top = (self.width() - wide * scale) / 2, (self.height() - high * scale) / 2
        painter.drawImage(QRectF(left, top, wide * scale, high * scale), self._image)
        painter.translate(left, top)
        painter.scale(scale, scale)
        if self._found.cut is not None:
            self._draw_cuts(painter, self._found.cut, scale)
        self._draw_marks(painter, scale)
        painter.end()

    def _draw_cuts(self, painter: QPainter, cut: Affine, scale: float) -> None:
        assert self._page is not None
        painter.setPen(QPen(theme.colour("stop"), 1.4 / scale))
        for placed in self._page.placements:
            for line in placed.lines():
                for path in line.paths:
                    painter.drawPolyline(QPolygonF([_point(cut(point)) for point in path]))
                    if line.closed and len(path) > 1:
                        painter.drawLine(_point(cut(path[-1])), _point(cut(path[0])))

    def _draw_marks(self, painter: QPainter, scale: float) -> None:
        reading = self._found.reading if self._found is not None else None
        if reading is None:
            return
        painter.setPen(QPen(theme.colour("accent"), 2.0 / scale))
        for mark in reading.marks:
            painter.drawEllipse(_point(mark.at), 5.5, 5.5)


def _point(at: Point) -> QPointF:
    return QPointF(at[0], at[1])


class RehearsalBox(QDialog):
    """Tries one page on one sheet after the other."""

    def __init__(self, plan: Plan, page: Page, parent: QWidget) -> None:
        super().__init__(parent)
        self._plan, self._page, self._seed = plan, page, 0
        self.setObjectName("rehearsal-box")
        self.setWindowTitle(f"Page {page.number}: print and read")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(860, 640)
        self.picture = SeenPicture()
        self.trial = QComboBox()
        self.trial.setObjectName("rehearsal-trial")
        self.trial.setAccessibleName("What is tried")
        for key, words in TRIALS.items():
            if not key or page.sheet.registration is not None:
                self.trial.addItem(words, key)
        self.trial.activated.connect(lambda _row: self.run())
        self.again = QPushButton("Another sheet")
        self.again.setObjectName("rehearsal-again")
        self.again.clicked.connect(self._another)
        self.said = QLabel()
        self.said.setObjectName("rehearsal-said")
        self.said.setWordWrap(True)
        self.said.setTextFormat(Qt.TextFormat.RichText)
        self.beside = Beside(self)
        self.beside.done.connect(self._show)
        self.beside.refused.connect(self.said.setText)
        self.beside.failed.connect(lambda error: self.said.setText(f"It could not be tried ({error})."))
        self._arrange()
        self.run()

    def _arrange(self) -> None:
        right = QVBoxLayout()
        right.setSpacing(8)
        right.addWidget(heading("On simulated devices"))
        told = small(
            "The page is printed by a printer with faults as your printer’s profile says, looked at by a camera, and "
            "cut where the marks are found. Nothing is printed on paper."
        )
        told.setWordWrap(True)
        right.addWidget(told)
        right.addWidget(self.trial)
        right.addWidget(self.again)
        right.addSpacing(6)
        right.addWidget(self.said)
        right.addStretch(1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        right.addWidget(buttons)
        side = QWidget()
        side.setFixedWidth(WORDS_PX)
        side.setLayout(right)
        line = QHBoxLayout(self)
        line.addWidget(self.picture, 1)
        line.addWidget(side)

    def run(self) -> None:
        """Print and read this sheet."""
        plan, page, seed, trial = self._plan, self._page, self._seed, str(self.trial.currentData())
        self.said.setText(f"Sheet {seed + 1} …")
        self.picture.show_seen(None, page, "A page is being printed")
        self.beside.run(lambda: print_and_read(plan, page, seed, trial))

    def _another(self) -> None:
        self._seed += 1
        self.run()

    def done(self, result: int) -> None:
        """The box closes: what is under way is given up."""
        self.beside.stop()
        super().done(result)

    def _show(self, found: Rehearsed) -> None:
        words = describe(self._plan, self._page, found)
        self.said.setText(f"<b>Sheet {self._seed + 1}</b><br>" + "<br><br>".join(words))
        self.picture.show_seen(found, self._page, " ".join(words))


def describe(plan: Plan, page: Page, found: Rehearsed) -> list[str]:
    """How a page came out, in sentences."""
    faults, reading = found.faults, found.reading
    words = [
        f"The printer shifted it {faults.shift_x:+.2f} mm across and {faults.shift_y:+.2f} mm down, fed it "
        f"{faults.skew_deg:+.2f}° askew and made it {100 * faults.scale_x:+.2f} % wide, {100 * faults.scale_y:+.2f} % "
        "long."
    ]
    if reading is not None and reading.map is None:
        return [*words, f"<b>The machine refuses it: {reading.refused}.</b>", "Nothing is cut."]
    if reading is not None:
        words.append(
            f"The machine found {len(reading.marks)} marks" + (f"; {reading.remark}." if reading.remark else ".")
        )
    else:
        words.append("It is cut by the sheet’s edge; the machine looks for no marks.")
    words.append(
        f"<b>Cut and print lie {found.typical:.2f} mm apart</b>, {found.worst:.2f} mm at most, along what is cut."
    )
    bleed = max((plan.part(PRESS).bleed_of(placed.piece.id) for placed in page.placements), default=0.0)
    if bleed:
        short = found.worst > bleed
        words.append(
            f"The bleed of {bleed:.1f} mm " + ("does not cover that: a rim shows." if short else "covers that.")
        )
    return words
