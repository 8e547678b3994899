"""The job rehearsed: its files run by the simulated cutter, each sheet as it fell apart, and what would be wrong."""

from __future__ import annotations

import math
from collections import Counter

from PyQt6.QtCore import QPointF, QSize, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QHBoxLayout,
    QLabel,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.desk.theme import theme
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.beside import Beside
from dechirer.devices.cut_rehearsal import Rehearsal, rehearse
from dechirer.devices.cutter import MatOutcome, PieceOutcome

WORDS_PX = 330
RUNS = 40
MOST_LINES = 9


class SheetPicture(QWidget):
    """The parts a sheet fell into: pieces that came out, what hangs on, and the waste."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("cut-picture")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(300, 320)
        self._mat: MatOutcome | None = None

    def sizeHint(self) -> QSize:
        return QSize(480, 520)

    def show_mat(self, mat: MatOutcome | None, words: str) -> None:
        """Show a mat that was run; None while it is."""
        self._mat = mat
        self.setAccessibleName(words)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), theme.colour("sunken"))
        mat = self._mat
        if mat is None or not mat.parts:
            painter.setPen(theme.colour("soft"))
            words = "Cutting…" if mat is None else "The sheet is as it was"
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, words)
            painter.end()
            return
        boxes = [part.bounds for part in mat.parts]
        left, top = min(box[0] for box in boxes), min(box[1] for box in boxes)
        wide, high = max(box[2] for box in boxes) - left, max(box[3] for box in boxes) - top
        scale = min((self.width() - 24) / wide, (self.height() - 24) / high)
        painter.translate((self.width() - wide * scale) / 2, (self.height() - high * scale) / 2)
        painter.scale(scale, scale)
        painter.translate(-left, -top)
        for part in sorted(mat.parts, key=lambda each: -each.area):
            piece = next((each for each in mat.pieces if _is_of(each, part)), None)
            self._draw(painter, part, piece)
        painter.end()

    def _draw(self, painter: QPainter, part: object, piece: PieceOutcome | None) -> None:
        good = piece is not None and not piece.troubles
        role = "surface" if good else "stop-wash" if piece is not None else "ground"
        painter.setBrush(theme.colour(role))
        pen = QPen(theme.colour("clear" if good else "stop" if piece is not None else "rule"), (1.8 if piece else 0.8))
        pen.setCosmetic(True)
        painter.setPen(pen)
        path = QPainterPath()  # what is cut out of a part is not its own
        for ring in (part.exterior, *part.interiors):  # type: ignore[attr-defined]
            path.addPolygon(QPolygonF([QPointF(x, y) for x, y in ring.coords]))
        painter.drawPath(path)


def _is_of(piece: PieceOutcome, part: object) -> bool:
    """Whether a part of the sheet is a piece, by the size that was measured."""
    if piece.state in ("missing", "blank"):
        return False
    left, top, right, bottom = part.bounds  # type: ignore[attr-defined]
    return bool(abs(right - left - piece.size[0]) < 0.01 and abs(bottom - top - piece.size[1]) < 0.01)


class CutRehearsalBox(QDialog):
    """Rehearses the job that is open, beside the window, with Stop."""

    def __init__(self, plan: Plan, parent: QWidget) -> None:
        super().__init__(parent)
        self._plan = plan
        self._found: Rehearsal | None = None
        self.setObjectName("cut-rehearsal-box")
        self.setWindowTitle("Rehearsal: cut on a simulated machine")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.resize(960, 640)
        self.picture = SheetPicture()
        self.files = QListWidget()
        self.files.setObjectName("cut-files")
        self.files.setAccessibleName("Files that were run")
        self.files.setMinimumHeight(120)
        self.files.currentRowChanged.connect(self._show_file)
        self.said = QLabel("The files are written and run…")
        self.said.setObjectName("cut-said")
        self.said.setWordWrap(True)
        self.pieces = small()
        self.pieces.setObjectName("cut-pieces")
        self.spoils = small()
        self.spoils.setObjectName("cut-spoils")
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.stop = QPushButton("Stop")
        self.stop.setObjectName("cut-stop")
        self.stop.clicked.connect(self._stop)
        self.beside = Beside(self)
        self.beside.done.connect(self._show)
        self.beside.refused.connect(self._refuse)
        self.beside.failed.connect(lambda error: self._refuse(f"It could not be run ({type(error).__name__})."))
        self.finished.connect(lambda _code: self.beside.stop())
        self._arrange()
        self.progress.setRange(0, 100)
        self.beside.told.connect(self._show_share)
        self.beside.run_telling(lambda tell: rehearse(plan, runs=RUNS, told=tell))

    def _arrange(self) -> None:
        line = QHBoxLayout()
        line.addWidget(self.picture, 1)
        side = QWidget()
        side.setFixedWidth(WORDS_PX)
        column = QVBoxLayout(side)
        column.setContentsMargins(8, 0, 0, 0)
        column.addWidget(self.said)
        column.addWidget(self.progress)
        column.addWidget(heading("Files"))
        column.addWidget(self.files, 1)
        column.addWidget(heading("Planned and measured"))
        column.addWidget(self.pieces)
        column.addWidget(heading("What would spoil"))
        column.addWidget(self.spoils)
        line.addWidget(side)
        page = QVBoxLayout(self)
        page.addLayout(line, 1)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.addButton(self.stop, QDialogButtonBox.ButtonRole.ActionRole)
        buttons.rejected.connect(self.reject)
        page.addWidget(buttons)

    def _show_share(self, share: float) -> None:
        self.progress.setValue(round(100 * share))

    def _stop(self) -> None:
        self.beside.stop()
        self._refuse("Stopped.")

    def _refuse(self, why: str) -> None:
        self.said.setText(why)
        self.progress.hide()
        self.stop.setEnabled(False)

    def _show(self, found: Rehearsal) -> None:
        self._found = found
        self.progress.hide()
        self.stop.setEnabled(False)
        wrong = len(found.troubles)
        count = sum(len(mat.pieces) for _, mat in found.nominal)
        self.said.setText(
            f"All {count} pieces of {len(found.nominal)} files come out as planned on a machine without faults."
            if not wrong
            else f"{wrong} things would be wrong even on a machine without faults."
        )
        for name, mat in found.nominal:
            entry = QListWidgetItem(f"{name}: " + (f"{len(mat.troubles)} wrong" if mat.troubles else "as planned"))
            entry.setForeground(theme.colour("stop" if mat.troubles else "ink"))
            self.files.addItem(entry)
        spread, budget = format_length(found.spread, "mm"), format_length(found.budget, "mm")
        told = [f"{100 * each.share:.0f} % of the loads: {each.what} ({each.limit})." for each in found.spoils]
        self.spoils.setText(
            "\n".join(
                [
                    f"Over {found.runs} loads a place lies {spread} off each way ({budget} by the machine’s profile).",
                    *told,
                ]
            )
        )
        self.files.setCurrentRow(0)

    def _show_file(self, row: int) -> None:
        if self._found is None or not (0 <= row < len(self._found.nominal)):
            return
        name, mat = self._found.nominal[row]
        self.picture.show_mat(mat, f"{name}: the sheet fell into {len(mat.parts)} parts")
        lines = [f"• {why}" for why in (*self._found.blades, *mat.troubles)[:8]]
        found = Counter(_told(piece) for piece in mat.pieces if not piece.troubles)
        lines += [f"{count} × {words}" if count > 1 else words for words, count in found.items()]
        left = len(lines) - MOST_LINES
        self.pieces.setText("\n".join([*lines[:MOST_LINES], *([f"… and {left} more"] if left > 0 else [])]))


def _told(piece: PieceOutcome) -> str:
    """A good piece in words: its size, how far that is off, and its lines."""
    worst = max((line.off for line in piece.lines if math.isfinite(line.off)), default=0.0)
    lines = f"its lines within {worst:.3f} mm" if piece.lines else ""
    if piece.state == "blank":
        return f"{piece.name}: {lines or 'nothing on it'}"
    off = max(abs(a - b) for a, b in zip(piece.size, piece.planned, strict=True))
    size = f"{piece.name}, {piece.planned[0]:.2f} × {piece.planned[1]:.2f} mm: within {max(off, piece.off):.3f} mm"
    return f"{size}, {lines}" if lines else size
