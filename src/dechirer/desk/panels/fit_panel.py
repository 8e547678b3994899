"""How well print and cut will fit, in words and as bars: how likely a white rim is, with the bleed and without."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from dechirer.core.plan import Plan
from dechirer.core.press.budget import RIMS_MM, chance_of_rim
from dechirer.core.press.pages import Page
from dechirer.core.press.station import PRESS
from dechirer.desk.painter import paint_display
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import small
from dechirer.drawing.display import Display
from dechirer.drawing.viewport import fit_viewport

ROW_PX, HEAD_PX, STRIP_PX = 22, 18, 54
NAME_PX = 58.0


class FitPanel(QWidget):
    """The fit of the page in front.

    Signals:
        figure_picked(key): a figure is to be explained.
    """

    figure_picked = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.words = small()
        self.words.setObjectName("fit-words")
        self.words.setTextFormat(Qt.TextFormat.RichText)
        self.words.linkActivated.connect(self.figure_picked.emit)
        self.chart = RimChart()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        column.addWidget(self.words)
        column.addWidget(self.chart)

    def show_fit(self, plan: Plan, page: Page | None) -> None:
        """Show the fit of a page, or that there is none."""
        press = plan.part(PRESS)
        known = press.paper(page.paper) if page is not None else None
        self.chart.setVisible(known is not None)
        if known is None or page is None:
            self.words.setText("Known once something is printed.")
            return
        used, other = known.budgets.used, known.budgets.unread if known.budgets.by_marks else known.budgets.read
        way = "the marks" if known.budgets.by_marks else "the sheet’s edge"
        text = f'Cut by {way}: <a href="{used.typical.key}">{used.mm:.2f} mm</a> off, typically'
        text += f', <a href="{used.worst.key}">{used.worst.value:.2f} mm</a> at worst.'
        if known.budgets.by_marks:
            text += f' By the sheet’s edge it would be <a href="{other.typical.key}">{other.mm:.2f} mm</a>.'
        self.words.setText(f"{text} {_since(plan, known.paper, by_marks=known.budgets.by_marks)}")
        bleeds = [press.bleed_of(placed.piece.id) for placed in page.placements]
        self.chart.show_rims(used.mm, max(bleeds, default=0.0))


def _since(plan: Plan, paper: str, *, by_marks: bool) -> str:
    """Since when that is known."""
    brief = plan.job.brief
    names = (brief.paper(paper).name, brief.printer.name, brief.machine.name)
    own = plan.job.press.calibrations_of(*names, "marks" if by_marks else "edge")
    return f"Measured on {own[0].made}." if own else "From the profiles; never measured."


class EdgeStrip(QWidget):
    """The ink along one edge, stretched out straight."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("press-edge")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(STRIP_PX)
        self._display: Display | None = None

    def show_edge(self, display: Display) -> None:
        """Show the picture of an edge."""
        self._display = display
        self.setAccessibleName(display.description)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._display is None:
            return
        painter = QPainter(self)
        view = fit_viewport(self._display.box, self.width(), self.height(), self._display.room_px)
        paint_display(painter, self._display, view)
        painter.end()


class RimChart(QWidget):
    """Bars: the chance of a white rim wider than so much on an edge with ink, without bleed and with it."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("rim-chart")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setFixedHeight(HEAD_PX + ROW_PX * len(RIMS_MM))
        self._rows: list[tuple[str, float, float]] = []
        self._bleed = 0.0

    def show_rims(self, typical: float, bleed: float) -> None:
        """Show what a bleed (mm) buys at that typical error (mm)."""
        self._bleed = bleed
        self._rows = [
            (f"{rim:g} mm", chance_of_rim(typical, rim, 0.0), chance_of_rim(typical, rim, bleed)) for rim in RIMS_MM
        ]
        rows = [f"over {name}: {share(bare)} without bleed, {share(bled)} with it" for name, bare, bled in self._rows]
        told = "; ".join(rows)
        self.setAccessibleName(f"Chance of a white rim. {told}")
        self.update()

    def sizeHint(self) -> QSize:
        return QSize(240, self.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        half = (self.width() - NAME_PX) / 2
        painter.setFont(theme.font("small"))
        painter.setPen(theme.colour("soft"))
        with_it = f"bleed {self._bleed:g} mm" if self._bleed else "as it is"
        for x, words in ((0.0, "rim over"), (NAME_PX, "no bleed"), (NAME_PX + half, with_it)):
            painter.drawText(QRectF(x, 0, half + 20, HEAD_PX), Qt.AlignmentFlag.AlignVCenter, words)
        for row, (name, bare, bled) in enumerate(self._rows):
            top = HEAD_PX + ROW_PX * row
            painter.setPen(theme.colour("ink"))
            painter.drawText(QRectF(0, top, NAME_PX, ROW_PX), Qt.AlignmentFlag.AlignVCenter, name)
            for left, chance in ((NAME_PX, bare), (NAME_PX + half, bled)):
                wide = half - 48
                painter.fillRect(QRectF(left, top + 6, wide, 9), theme.colour("sunken"))
                filled = max(1.0, wide * 2 * min(chance, 0.5))
                painter.fillRect(QRectF(left, top + 6, filled, 9), theme.colour("accent"))
                box = QRectF(left + wide + 4, top, 44, ROW_PX)
                painter.drawText(box, Qt.AlignmentFlag.AlignVCenter, share(chance))
        painter.end()


def share(chance: float) -> str:
    """A chance in words that do not claim too much."""
    if chance < 0.0005:
        return "never"
    if chance < 0.01:
        return f"1 in {1 / chance:.0f}"
    return f"{100 * chance:.0f} %"
