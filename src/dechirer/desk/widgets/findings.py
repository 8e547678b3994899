"""Findings: what is wrong, why, and a button that mends it."""

from __future__ import annotations

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from dechirer.core.finding import Finding, Mend
from dechirer.desk.marks import paint_verdict
from dechirer.desk.theme import theme

MOST_SHOWN = 40


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
            button = QPushButton(mend.label)
            button.setObjectName(f"mend-{finding.code}-{finding.mends.index(mend)}")
            button.setFont(theme.font("small"))
            button.clicked.connect(lambda _=False, mend=mend: self.mended.emit(mend))
            line.addWidget(button)
            line.addStretch(1)
            column.addLayout(line)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        self.pointed.emit(self.finding)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        role = {"stop": "stop", "look": "look", "note": "soft"}[self.finding.severity]
        painter.fillRect(4, 4, 3, self.height() - 10, theme.colour(role))
        paint_verdict(painter, self.finding.severity, 20, 14)
        painter.end()


class Findings(QWidget):
    """The list of findings, worst first. Emits `mended(mend, finding)` and `pointed(finding)`."""

    mended = pyqtSignal(object, object)
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
        box.addWidget(self._head)
        box.addWidget(self._area)
        self._shown: tuple[tuple[Finding, ...], str] | None = None

    def show_findings(self, findings: tuple[Finding, ...]) -> None:
        """List the findings; nothing is rebuilt when they are the ones already shown."""
        if self._shown == (findings, theme.name()):
            return
        self._shown = (findings, theme.name())
        ink, soft = theme.colour("ink").name(), theme.colour("soft").name()
        self._head.setText(
            f'<span style="font-size:15px;font-weight:600;color:{ink}">Findings</span>'
            f'&nbsp;&nbsp;<span style="color:{soft}">{count_words(findings)}</span>'
        )
        page = QWidget()
        page.setObjectName("findings-page")
        column = QVBoxLayout(page)
        column.setContentsMargins(4 if findings else 8, 4, 8, 4)
        column.setSpacing(6)
        for finding in findings[:MOST_SHOWN]:
            card = FindingCard(finding, page)
            card.mended.connect(lambda mend, finding=finding: self._mend(mend, finding))
            card.pointed.connect(self.pointed.emit)
            column.addWidget(card)
        if not findings:
            column.addWidget(_words("Nothing to complain about. Cut a test piece all the same.", "body", "soft"))
        elif len(findings) > MOST_SHOWN:
            column.addWidget(_words(f"… and {len(findings) - MOST_SHOWN} more of them.", "small", "soft"))
        column.addStretch(1)
        self._area.setWidget(page)

    def _mend(self, mend: Mend, finding: Finding) -> None:
        self.mended.emit(mend, finding)


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
