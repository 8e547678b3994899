"""Findings: what is wrong, why, and a button that mends it."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QMouseEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.finding import Finding, Mend
from dechirer.core.stations import STATIONS
from dechirer.desk.marks import paint_verdict
from dechirer.desk.theme import theme
from dechirer.desk.widgets.wrapped_button import WrappedButton

MOST_SHOWN = 40
SLACK_PX = 14
BAR_PX = 16
"""Reckoned with a scroll bar, so that none comes for want of a line."""


class FindingCard(QWidget):
    """One finding with its mends. Emits `mended(mend)` and `pointed(element)`."""

    mended = pyqtSignal(object)
    pointed = pyqtSignal(object)

    def __init__(self, finding: Finding, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.finding = finding
        self.setObjectName(f"finding-{finding.code}")
        self.setAccessibleName(f"{finding.severity}: {finding.title}")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        column = QVBoxLayout(self)
        column.setContentsMargins(34, 4, 4, 8)
        column.setSpacing(3)
        column.addWidget(_words(finding.title, "strong", "ink"))
        column.addWidget(_words(finding.reason, "small", "soft"))
        if finding.cost:
            column.addWidget(_words(finding.cost, "small", "soft"))
        for mend in finding.mends:
            line = QHBoxLayout()
            button = WrappedButton(mend.label)
            button.setObjectName(f"mend-{finding.code}-{finding.mends.index(mend)}")
            button.setFont(theme.font("small"))
            button.clicked.connect(lambda _=False, mend=mend: self.mended.emit(mend))
            line.addWidget(button)
            line.addStretch(0)
            column.addLayout(line)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pointed.emit(self.finding)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        role = {"stop": "stop", "look": "look", "note": "soft"}[self.finding.severity]
        painter.fillRect(4, 4, 3, self.height() - 10, theme.colour(role))
        paint_verdict(painter, self.finding.severity, 20, 14)
        if self.finding.colour:
            # The colour the lines have in their file, so that they are found there.
            painter.setPen(theme.colour("soft"))
            painter.setBrush(QColor(self.finding.colour))
            painter.drawRoundedRect(13, 28, 14, 14, 3, 3)
        painter.end()


class Findings(QWidget):
    """The findings of the station in front, worst first, and those of the others folded under its name; as high as
    they need. Emits `mended(mend, finding)`, `all_mended()` and `pointed(finding)`."""

    mended = pyqtSignal(object, object)
    all_mended = pyqtSignal()
    pointed = pyqtSignal(object)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("findings")
        self._head = QLabel(self)
        self._head.setObjectName("findings-head")
        self._head.setContentsMargins(8, 6, 4, 2)
        self._area = QScrollArea(self)
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        box = QVBoxLayout(self)
        box.setContentsMargins(0, 0, 0, 0)
        box.setSpacing(0)
        self.mend_all = QPushButton("Fix all")
        self.mend_all.setObjectName("mend-all")
        self.mend_all.setFont(theme.font("small"))
        self.mend_all.setToolTip("Make every fix that chooses nothing for you, in all stations, as one step to undo")
        self.mend_all.clicked.connect(lambda _=False: self.all_mended.emit())
        top = QHBoxLayout()
        top.addWidget(self._head, 1)
        top.addWidget(self.mend_all)
        box.addLayout(top)
        box.addWidget(self._area)
        self._settled = QTimer(self)  # what is new has its true size when the style has reached it
        self._settled.setSingleShot(True)
        self._settled.timeout.connect(self._take_height)
        self._page = QWidget()
        self._page.setObjectName("findings-page")
        self._column = QVBoxLayout(self._page)
        self._column.setSpacing(6)
        self._area.setWidget(self._page)
        self._cards: dict[Finding, list[FindingCard]] = {}
        self._spare: dict[Finding, list[FindingCard]] = {}
        self._open: set[str] = set()
        self._shown: tuple[tuple[Finding, ...], str, str, frozenset[str]] | None = None

    def show_findings(self, findings: tuple[Finding, ...], station: str = "") -> None:
        """List the findings; nothing is rebuilt when they are the ones already shown.

        Args:
            station: the one in front, whose findings come first; empty: all are shown alike.
        """
        what = (findings, station, theme.name(), frozenset(self._open))
        if self._shown == what:
            return
        self._shown = what
        ink, soft = theme.colour("ink").name(), theme.colour("soft").name()
        self._head.setText(
            f'<span style="font-size:15px;font-weight:600;color:{ink}">Findings</span>'
            f'&nbsp;&nbsp;<span style="color:{soft}">{count_words(findings)}</span>'
        )
        mends = [each for each in findings if each.mends]
        folded = any(station and each.station != station and each.severity != "stop" for each in mends)
        self.mend_all.setVisible(len(mends) > 1 or folded)
        self._clear()
        column = self._column
        column.setContentsMargins(4 if findings else 8, 4, 8, 4)
        # What would spoil the job is never folded away.
        mine = tuple(each for each in findings if not station or station == each.station or each.severity == "stop")
        self._list(mine, column)
        if not findings:
            column.addWidget(_words("No problems found. Make a test cut first.", "body", "soft"))
        for other, title in _titles(findings).items():
            theirs = tuple(each for each in findings if each not in mine and each.station == other)
            if theirs:
                column.addWidget(self._fold(f"{title}: {count_words(theirs)}", other, len(mine) == 0))
                if other in self._open:
                    self._list(theirs, column)
        column.addStretch(1)
        for place in range(column.count()):
            # A widget that is added to a shown page is shown later by itself, and counts for no height until then.
            widget = item.widget() if (item := column.itemAt(place)) is not None else None
            if widget is not None:
                widget.show()
        self._drop_spare()
        self._take_height()
        self._settled.start()

    def _clear(self) -> None:
        """Empty the column; cards are kept for what stays listed."""
        for card in (each for cards in self._cards.values() for each in cards):
            self._column.removeWidget(card)
        self._spare, self._cards = self._cards, {}
        while (item := self._column.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.hide()
                widget.deleteLater()

    def _drop_spare(self) -> None:
        """Remove the cards of findings that are listed no more."""
        for card in (each for cards in self._spare.values() for each in cards):
            card.hide()
            card.deleteLater()
        self._spare = {}

    def _list(self, findings: tuple[Finding, ...], column: QVBoxLayout) -> None:
        """Cards of some findings; those that say the same of several things under the first of them."""
        alike: dict[tuple[str, str, str], list[Finding]] = {}
        for finding in findings:
            alike.setdefault((finding.code, finding.severity, finding.title), []).append(finding)
        shown = 0
        for (code, _, title), (first, *more) in alike.items():
            if shown >= MOST_SHOWN:
                break
            shown += 1
            self._card(first, column)
            if more:
                key = f"{code} {title}"
                column.addWidget(self._fold(f"and {len(more)} more alike", key, False))
                for finding in more[:MOST_SHOWN] if key in self._open else ():
                    shown += 1
                    self._card(finding, column)
        if len(alike) > shown:
            column.addWidget(_words(f"… and {len(alike) - shown} more of them.", "small", "soft"))

    def _card(self, finding: Finding, column: QVBoxLayout) -> None:
        spare = self._spare.get(finding)
        if spare:
            card = spare.pop()
        else:
            card = FindingCard(finding)
            card.mended.connect(lambda mend, finding=finding: self._mend(mend, finding))
            card.pointed.connect(self.pointed.emit)
        self._cards.setdefault(finding, []).append(card)
        column.addWidget(card)

    def _fold(self, words: str, key: str, stands_out: bool) -> QToolButton:
        """A line that folds findings away or out."""
        button = QToolButton()
        button.setObjectName(f"fold-{key.split(' ')[0]}")
        is_open = key in self._open
        button.setText(f"{'▾' if is_open else '▸'} {words}")
        button.setAccessibleName(f"{words}: {'fold away' if is_open else 'show'}")
        button.setFont(theme.font("strong" if stands_out else "small"))
        button.setProperty("quiet", True)
        button.clicked.connect(lambda: self._turn(key))
        return button

    def _turn(self, key: str) -> None:
        if self._shown is not None:
            findings, station, _, _ = self._shown
            self._open ^= {key}
            self.show_findings(findings, station)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._take_height()

    def _take_height(self) -> None:
        """As high as what is listed; the room below belongs to others."""
        page, layout = self._page, self._column
        wide = max(120, self.width() - BAR_PX)
        needed = layout.heightForWidth(wide) if layout.hasHeightForWidth() else layout.sizeHint().height()
        needed = max(needed, page.minimumSizeHint().height())  # the area gives it no less
        self.setMaximumHeight(self._head.sizeHint().height() + needed + SLACK_PX)

    def _mend(self, mend: Mend, finding: Finding) -> None:
        self.mended.emit(mend, finding)


def _titles(findings: tuple[Finding, ...]) -> dict[str, str]:
    """What the stations are called, in their order; one that is not known by its id."""
    known = {id: spec.title for id, spec in STATIONS.find().items()}
    return known | {each.station: each.station for each in findings if each.station not in known}


def count_words(findings: tuple[Finding, ...]) -> str:
    """`1 stop · 2 looks`; `all clear` for none."""
    words = []
    for severity in ("stop", "look", "note"):
        number = sum(finding.severity == severity for finding in findings)
        if number:
            words.append(f"{number} {severity}{'' if number == 1 else 's'}")
    return " · ".join(words) or "all clear"


def _words(text: str, style: str, role: str) -> QLabel:
    label = QLabel(text)
    label.setWordWrap(True)
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.setFont(theme.font(style))
    label.setProperty("role", role)
    label.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Minimum)
    return label
