"""Four plots of the book: minutes planned and taken, places over time, webs that held and tore, stock over time.

pyqtgraph draws them; it is imported when a plot is first shown.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from typing import Any

from msgspec import Struct
from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtWidgets import QSizePolicy, QVBoxLayout, QWidget

from dechirer.core.keep.entries import Entry, MadeUp, RunDone, StockMoved, WebTried
from dechirer.core.keep.stock import on_shelf
from dechirer.core.press.records import Calibration, CornerTrial
from dechirer.desk.theme import theme

PLOTS = {
    "minutes": ("Planned and taken", "planned, min", "taken, min"),
    "places": ("Error of place", "day", "mm"),
    "webs": ("Webs held and torn", "width, mm", ""),
    "stock": ("Stock", "day", "there"),
}
MARKS = ("o", "t", "s", "d", "+", "x")
"""Series are told apart by their marks as well as by their tones."""
TONES = ("accent", "fold", "clear", "look", "stop", "ink")


class Dot(Struct, frozen=True):
    """A point of a plot: where it lies, the entry it stands for as kind and id, and its words."""

    x: float
    y: float
    kind: str
    id: str
    words: str


def dots_of(plot: str, entries: Iterable[Entry], item: str = "") -> dict[str, list[Dot]]:
    """The points of a plot by their series.

    Args:
        item: of which thing stock is shown.
    """
    found: dict[str, list[Dot]] = {}
    moves: list[StockMoved] = []
    for each in entries:
        if plot == "minutes" and isinstance(each, RunDone | MadeUp) and each.planned:
            series = "at the machine" if isinstance(each, RunDone) else "at the table"
            kind = "rundone" if isinstance(each, RunDone) else "madeup"
            words = f"{each.job}, {each.made}: {each.minutes:.0f} min, {each.planned:.0f} planned"
            found.setdefault(series, []).append(Dot(each.planned, each.minutes, kind, each.id, words))
        elif plot == "places" and isinstance(each, CornerTrial | Calibration):
            name = f"{each.machine}, {each.mat if isinstance(each, CornerTrial) else each.paper}"
            kind = "cornertrial" if isinstance(each, CornerTrial) else "calibration"
            for side, value in (("right", each.right), ("down", each.down)):
                words = f"{name}, {each.made}: {value:.2f} mm {side}"
                found.setdefault(f"{name}, {side}", []).append(Dot(_day(each.made), value, kind, each.id, words))
        elif plot == "webs" and isinstance(each, WebTried):
            series = "held" if each.held else "tore"
            words = f"{each.paper}, {each.made}: {each.width:.2f} mm {series}"
            level = 1.0 if each.held else 0.0
            found.setdefault(series, []).append(Dot(each.width, level, "webtried", each.id, words))
        elif plot == "stock" and isinstance(each, StockMoved) and each.item == item:
            moves.append(each)
            amount = on_shelf(moves)[item].amount
            words = f"{item}, {each.made}: {amount:g}"
            found.setdefault(item, []).append(Dot(_day(each.made), amount, "stockmoved", each.id, words))
    return found


def _day(made: str) -> float:
    return float(date.fromisoformat(made).toordinal())


class BookPlot(QWidget):
    """One plot.

    Signals:
        picked(kind, id): the entry of a point that was clicked.
    """

    picked = pyqtSignal(str, str)

    def __init__(self, plot: str) -> None:
        super().__init__()
        self.plot = plot
        self.setObjectName(f"plot-{plot}")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(200, 150)
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._made: Any = None
        self.series: dict[str, list[Dot]] = {}

    def sizeHint(self) -> QSize:
        return QSize(300, 200)

    def show_series(self, series: dict[str, list[Dot]]) -> None:
        """Show points by their series."""
        self.series = series
        title = PLOTS[self.plot][0]
        count = sum(len(dots) for dots in series.values())
        self.setAccessibleName(f"{title}: {count} points of {', '.join(series) or 'nothing yet'}")
        made = self._widget()
        made.clear()
        made.setBackground(theme.colour("surface"))
        item = made.getPlotItem()
        item.setTitle(f"{title}" if count else f"{title}: nothing yet", color=theme.colour("ink").name(), size="10pt")
        self._label_axes(item, [dot for dots in series.values() for dot in dots])
        for number, (name, dots) in enumerate(series.items()):
            self._draw(item, number, name, dots)

    def _widget(self) -> Any:
        if self._made is None:
            import pyqtgraph

            pyqtgraph.setConfigOptions(antialias=True)
            self._made = pyqtgraph.PlotWidget()
            self._made.setMenuEnabled(False)
            self._made.setMouseEnabled(x=False, y=False)
            self._made.hideButtons()
            self._made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self._made.getPlotItem().getViewBox().setDefaultPadding(0.14)
            ink, ground = theme.colour("ink").name(), theme.colour("surface")
            self._made.addLegend(offset=(8, 4), labelTextSize="8pt", labelTextColor=ink, brush=ground)
            self._column.addWidget(self._made)
        return self._made

    def _label_axes(self, item: Any, dots: Sequence[Dot]) -> None:
        _, across, up = PLOTS[self.plot]
        ink = theme.colour("soft").name()
        for side, words in (("bottom", across), ("left", up)):
            axis = item.getAxis(side)
            axis.setPen(ink)
            axis.setTextPen(ink)
            axis.setTicks(None)
            axis.enableAutoSIPrefix(False)
            item.setLabel(side, words, color=ink)
        if across == "day" and dots:
            days = sorted({int(dot.x) for dot in dots})
            shown = dict.fromkeys((days[0], days[len(days) // 2], days[-1]))
            item.getAxis("bottom").setTicks([[(day, date.fromordinal(day).strftime("%Y-%m")) for day in shown]])
        if self.plot == "webs":
            item.getAxis("left").setTicks([[(0.0, "tore"), (1.0, "held")]])
        if self.plot == "minutes" and dots:
            import pyqtgraph

            most = max(max(dot.x, dot.y) for dot in dots)
            pen = pyqtgraph.mkPen(theme.colour("rule").name(), width=1.2, style=Qt.PenStyle.DashLine)
            item.plot([0, most], [0, most], pen=pen)

    def _draw(self, item: Any, number: int, name: str, dots: list[Dot]) -> None:
        import pyqtgraph

        tone = theme.colour(TONES[number % len(TONES)]).name()
        line = pyqtgraph.mkPen(tone, width=1.2) if self.plot in ("stock", "places") else None
        drawn = item.plot(
            [dot.x for dot in dots],
            [dot.y for dot in dots],
            pen=line,
            symbol=MARKS[number % len(MARKS)],
            symbolBrush=tone,
            symbolPen=theme.colour("surface").name(),
            symbolSize=9,
            name=name,
        )
        drawn.scatter.setData(
            x=[dot.x for dot in dots],
            y=[dot.y for dot in dots],
            data=dots,
            hoverable=True,
            tip=lambda x, y, data: data.words,
            brush=tone,
            pen=theme.colour("surface").name(),
            symbol=MARKS[number % len(MARKS)],
            size=9,
        )
        drawn.scatter.sigClicked.connect(self._clicked)

    def _clicked(self, _scatter: object, points: Any, *_more: object) -> None:
        for point in points:
            self.picked.emit(point.data().kind, point.data().id)
            return
