"""A test square: cut once on a machine, its two sides measured, and its files come out true from then on."""

from __future__ import annotations

from datetime import date
from pathlib import Path

from msgspec import structs
from PyQt6.QtWidgets import QComboBox, QWidget

from dechirer.core.brief.files import CORNERS, Corner, FilesTaken, correction, mended_origin, square_side, told_by
from dechirer.core.decide.change import Change
from dechirer.core.length import LengthError, format_length, parse_length
from dechirer.desk.boxes.measuring_box import MeasuringBox
from dechirer.desk.work.document import Document
from dechirer.formats.test_square import write_square_plt, write_square_svg

UNITS = "mm"
"""It is written in whole mm, so it is measured in mm whatever the job counts in."""


class SquareBox(MeasuringBox):
    """Writes the square, takes its measured sides, and keeps what they say in the machine's profile, undoably."""

    def __init__(self, document: Document, parent: QWidget) -> None:
        machine = document.job.brief.machine
        side = square_side(machine.reach)
        right = format_length(side, UNITS)
        super().__init__(
            "square",
            "square",
            parent,
            asks=f"{machine.name}: does it draw true?",
            told="1. Save the square, as the kind of file you send to the machine, and cut it from a scrap in the "
            "corner of the mat.\n"
            f"2. Measure it as it lies on the mat: across, and down the way the mat goes in. True would be {right} "
            "both ways.\n"
            "3. Say in which corner of the square its small triangle lies. As written, that is the upper left.",
            keep="Keep in the machine’s profile",
        )
        self.setWindowTitle("Test square")
        self.document, self._side = document, side
        self.across = self.add_line("across", "Measured across", right)
        self.down = self.add_line("down", "Measured down", right)
        self.tick = QComboBox()
        self.tick.setObjectName("square-tick")
        self.tick.setAccessibleName("Where the small triangle lies")
        for corner in ("top-left", "top-right", "bottom-left", "bottom-right"):
            self.tick.addItem(CORNERS[corner], corner)
        self.tick.currentIndexChanged.connect(lambda _: self._show())
        self.form.addRow("Triangle lies", self.tick)
        self.changed.connect(self._show)
        self.save_button.clicked.connect(self._ask_file)
        self.take.clicked.connect(self._take)
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
        path = self.ask_path("test-square.svg", "SVG (*.svg);;Plotter file (*.plt)")
        if path is not None:
            self.save(path)

    def save(self, path: Path) -> None:
        """Write the square, as a plotter's file where its name ends in .plt."""
        write = write_square_plt if path.suffix.lower() == ".plt" else write_square_svg
        self.write(path, write(self.document.job.brief.machine))

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
