"""A test square: cut once on a machine, its two sides measured, and its files come out true from then on."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from msgspec import structs
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QFormLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.brief.files import CORNERS, Corner, FilesTaken, correction, mended_origin, square_side, told_by
from dechirer.core.decide.change import Change
from dechirer.core.length import LengthError, format_length, parse_length
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.document import Document
from dechirer.formats.test_square import write_square_plt, write_square_svg

UNITS = "mm"
"""It is written in whole mm, so it is measured in mm whatever the job counts in."""


class SquareBox(QDialog):
    """Writes the square, takes its measured sides, and keeps what they say in the machine's profile, undoably."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.setObjectName("square-box")
        self.setWindowTitle("Test square")
        self.setMinimumWidth(540)
        machine = document.job.brief.machine
        self._side = square_side(machine.reach)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addWidget(heading(f"{machine.name}: does it draw true?"))
        told = small(
            "1. Save the square, as the kind of file you send to the machine, and cut it from a scrap in the corner of "
            "the mat.\n"
            f"2. Measure it as it lies on the mat: across, and down the way the mat goes in. True would be "
            f"{format_length(self._side, UNITS)} both ways.\n"
            "3. Say in which corner of the square its small triangle lies. As written, that is the upper left."
        )
        told.setWordWrap(True)
        column.addWidget(told)
        save = QPushButton("Save the square…")
        save.setObjectName("square-save")
        save.clicked.connect(self._ask_file)
        column.addWidget(save)
        form = QFormLayout()
        self.across, self.down = QLineEdit(), QLineEdit()
        for line, name, words in (
            (self.across, "square-across", "Measured across"),
            (self.down, "square-down", "Measured down"),
        ):
            line.setObjectName(name)
            line.setAccessibleName(words)
            line.setPlaceholderText(format_length(self._side, UNITS))
            line.textChanged.connect(lambda _: self._show())
            form.addRow(words, line)
        self.tick = QComboBox()
        self.tick.setObjectName("square-tick")
        self.tick.setAccessibleName("Where the small triangle lies")
        for corner in ("top-left", "top-right", "bottom-left", "bottom-right"):
            self.tick.addItem(CORNERS[corner], corner)
        self.tick.currentIndexChanged.connect(lambda _: self._show())
        form.addRow("Triangle lies", self.tick)
        column.addLayout(form)
        self.said = QLabel()
        self.said.setObjectName("square-said")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        self.take = QPushButton("Keep in the machine’s profile")
        self.take.setObjectName("square-keep")
        self.take.clicked.connect(self._take)
        buttons.addButton(self.take, QDialogButtonBox.ButtonRole.ActionRole)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        for button in buttons.findChildren(QPushButton):
            button.setAutoDefault(False)
        self._show()

    def measured(self) -> tuple[float, float] | str:
        """Both sides in mm, or why that cannot be told."""
        found = []
        for line in (self.across, self.down):
            if not line.text().strip():
                return "Type in both sides."
            try:
                side = parse_length(line.text(), unit=UNITS).mm
                correction(self._side, side)
            except (LengthError, ValueError) as error:
                return f"{line.accessibleName()}: {error}."
            found.append(side)
        return found[0], found[1]

    def _show(self) -> None:
        found = self.measured()
        self.take.setEnabled(not isinstance(found, str))
        if isinstance(found, str):
            proved = self.document.job.brief.machine.files.proved
            empty = not self.across.text() and not self.down.text()
            self.said.setText(f"Measured last on {proved}." if proved and empty else found)
            return
        corner = self.tick.currentData()
        turned = "" if corner == "top-left" else f" Plotter files will count from the {CORNERS[self._origin(corner)]}."
        self.said.setText(told_by(self._side, *found) + turned)

    def _origin(self, tick: Corner) -> Corner:
        return mended_origin(self.document.job.brief.machine.files.origin, tick)

    def _ask_file(self) -> None:
        kinds = "SVG (*.svg);;Plotter file (*.plt)"
        name, _ = QFileDialog.getSaveFileName(self, "The square", "test-square.svg", kinds)
        if name:
            self.save(Path(name))

    def save(self, path: Path) -> None:
        """Write the square, as a plotter's file where its name ends in .plt."""
        machine = self.document.job.brief.machine
        write = write_square_plt if path.suffix.lower() == ".plt" else write_square_svg
        try:
            path.write_bytes(write(machine))
        except OSError as error:
            self.said.setText(f"{path.name} was not written: {error.strerror or error}.")
        else:
            self.said.setText(f"The square is {path}.")

    def _take(self) -> None:
        found = self.measured()
        if isinstance(found, str):
            return
        across, down = (round(correction(self._side, side), 6) for side in found)
        now: FilesTaken = self.document.job.brief.machine.files
        kept = structs.replace(
            now, across=across, down=down, origin=self._origin(self.tick.currentData()), proved=date.today().isoformat()
        )
        self.document.edit("Test square measured", [Change("brief.machine.files", kept)])
        self.accept()
