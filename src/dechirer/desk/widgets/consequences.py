"""The consequences line: what the job now costs, and for a moment after an edit, what changed."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPaintEvent, QPalette, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QHBoxLayout, QSizePolicy, QToolButton, QWidget

from dechirer.core.stations import Cost
from dechirer.desk.theme import theme
from dechirer.desk.theme.tokens import LINE_HEIGHT
from dechirer.desk.widgets.elided import Elided

CHANGE_SHOWN_MS = 6000
LEVELS = 4
LEAST_PX, LEAST_EDIT_PX = 280, 60


class ConsequenceButton(QAbstractButton):
    """A number with its word, and a chip with what it was before while a change is fresh."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.shown = Cost("", "", "", 0)
        self.change = ""
        self._level = 0
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_value(self, shown: Cost, change: str) -> None:
        """Set the value and what it changed from (`3 › 4`), empty for no change."""
        self.shown, self.change = shown, change
        self.setObjectName(f"consequence-{shown.figure}")
        self.setAccessibleName(f"{shown.number} {shown.words} {change}")
        self.setToolTip(f"{shown.number} {shown.words}: where they come from")
        self.updateGeometry()
        self.update()

    def cut_down(self, level: int) -> None:
        """Show all (0); no more what the number was before (1); what it counts in two lines (2), or not at all (3)."""
        if level != self._level:
            self._level = level
            self.updateGeometry()
            self.update()

    def _lines(self) -> list[str]:
        """What the number counts, as it is shown now: in a line, or in two of much the same length."""
        words = self.shown.words.split(" ")
        if self._level > 2:
            return []
        if self._level < 2 or len(words) == 1:
            return [self.shown.words]
        splits = [(" ".join(words[:place]), " ".join(words[place:])) for place in range(1, len(words))]
        return list(min(splits, key=lambda pair: max(map(len, pair))))

    def _widths(self) -> tuple[float, float, float]:
        number = QFontMetricsF(theme.font("figure")).horizontalAdvance(self.shown.number)
        small = QFontMetricsF(theme.font("small"))
        words = max(map(small.horizontalAdvance, self._lines()), default=0.0)
        chip = small.horizontalAdvance(self.change) + 14 if self.change and self._level < 1 else 0.0
        return number, words, chip

    def sizeHint(self) -> QSize:
        number, words, chip = self._widths()
        return QSize(int(number + words + 18 + (chip + 6 if chip else 0)), LINE_HEIGHT - 8)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        number, words, chip = self._widths()
        high = self.height()
        stopped = self.shown.figure == "stops" and self.shown.number != "0"
        painter.setFont(theme.font("figure"))
        painter.setPen(theme.colour("stop" if stopped else "accent" if self.underMouse() else "ink"))
        painter.drawText(QRectF(4, 0, number + 2, high), Qt.AlignmentFlag.AlignVCenter, self.shown.number)
        painter.setFont(theme.font("small"))
        painter.setPen(theme.colour("stop" if stopped else "soft"))
        told = "\n".join(self._lines())
        painter.drawText(QRectF(number + 10, 1, words + 4, high), Qt.AlignmentFlag.AlignVCenter, told)
        if chip:
            box = QRectF(number + words + 16, high / 2 - 10, chip, 20)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("accent-wash"))
            painter.drawRoundedRect(box, 4, 4)
            painter.setPen(theme.colour("accent"))
            painter.drawText(box, Qt.AlignmentFlag.AlignCenter, self.change)
        if self.hasFocus():
            painter.setPen(theme.colour("accent"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRoundedRect(QRectF(0.5, 2.5, self.width() - 1, high - 5), 4, 4)
        painter.end()


class Consequences(QWidget):
    """The whole line. Emits `picked(key, station)`, and `details_wanted(text)` of the last rehearsal."""

    picked = pyqtSignal(str, str)
    details_wanted = pyqtSignal(str)

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setObjectName("consequences")
        self.setFixedHeight(LINE_HEIGHT)
        self.setAutoFillBackground(True)
        self.setBackgroundRole(QPalette.ColorRole.AlternateBase)
        self._line = QHBoxLayout(self)
        self._line.setContentsMargins(14, 0, 20, 0)
        self._line.setSpacing(14)
        self._buttons: list[ConsequenceButton] = []
        self._line.addStretch(1)
        self._edit = Elided(parent=self)
        self._edit.setObjectName("last-edit")
        self._edit.setFont(theme.font("small"))
        self._line.addWidget(self._edit)
        self._rehearsed = QToolButton()
        self._rehearsed.setObjectName("rehearsed")
        self._rehearsed.setProperty("quiet", True)
        self._rehearsed.setFont(theme.font("small"))
        self._rehearsed.clicked.connect(lambda: self.details_wanted.emit(self._rehearsed.toolTip()))
        self._rehearsed.hide()
        self._line.addWidget(self._rehearsed)
        self._values: dict[str, str] = {}
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._forget_changes)

    def say_rehearsed(self, text: str, role: str, details: str) -> None:
        """Say at the end of the line what came of rehearsing the last export; nothing for an empty text."""
        self._rehearsed.setText(text)
        self._rehearsed.setToolTip(details)
        self._rehearsed.setAccessibleName(f"{text}. {details}" if details else text)
        self._rehearsed.setProperty("role", role)
        style = self._rehearsed.style()
        if style is not None:
            style.polish(self._rehearsed)  # makes Qt read the property again
        self._rehearsed.setVisible(bool(text))
        if not text:
            self.details_wanted.emit("")
        self._fit()

    def show_values(self, values: Sequence[Cost], edit: str, *, fresh: bool) -> None:
        """Show the figures. `edit` names the last edit; `fresh` says the job is another one, so nothing changed."""
        while len(self._buttons) < len(values):
            button = ConsequenceButton(self)
            button.clicked.connect(lambda _=False, button=button: self._pick(button))
            self._line.insertWidget(len(self._buttons), button)
            self._buttons.append(button)
        while len(self._buttons) > len(values):
            # A job of which nothing is printed any more has no pages to count.
            gone = self._buttons.pop()
            self._line.removeWidget(gone)
            gone.hide()
            gone.deleteLater()
        changed = False
        for button, value in zip(self._buttons, values, strict=True):
            before = self._values.get(value.figure)
            differs = not fresh and before is not None and before != value.number
            changed |= differs
            button.show_value(value, f"{before} › {value.number}" if differs else "")
            self._values[value.figure] = value.number
        self._edit.say(edit)
        self._fit()
        if changed or edit:
            self._timer.start(CHANGE_SHOWN_MS)

    def minimumSizeHint(self) -> QSize:
        return QSize(LEAST_PX, LINE_HEIGHT)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def _fit(self) -> None:
        """In a narrow window the last edit goes first, then what a number was before, then the words."""
        beside = self._rehearsed.sizeHint().width() + 12 if self._rehearsed.text() else 0
        for level in range(LEVELS):
            for button in self._buttons:
                button.cut_down(level)
            needs = sum(button.sizeHint().width() + self._line.spacing() for button in self._buttons) + 34 + beside
            if needs <= self.width():
                break
        self._edit.setVisible(level == 0 and self.width() - needs > LEAST_EDIT_PX)

    def _pick(self, button: ConsequenceButton) -> None:
        self.picked.emit(button.shown.figure, button.shown.station)

    def _forget_changes(self) -> None:
        for button in self._buttons:
            button.show_value(button.shown, "")
        self._edit.setText("")
