"""A trial cut: a cross on a spare blank in the mat's corner, and the two distances that were measured on it."""

from __future__ import annotations

import zlib
from collections.abc import Callable
from datetime import date
from pathlib import Path

from PyQt6.QtWidgets import QWidget

from dechirer.core.card.mat import Mat
from dechirer.core.length import LengthError, format_length, format_size, parse_length
from dechirer.core.press.records import CornerTrial
from dechirer.desk.boxes.measuring_box import MeasuringBox
from dechirer.formats.trial_cut import write_trial_cut

MOST_OFF_MM = 50.0


class TrialBox(MeasuringBox):
    """Calls `keep` with how far off the cross was cut."""

    def __init__(
        self,
        machine: str,
        mat: Mat,
        front: tuple[float, float],
        units: str,
        keep: Callable[[CornerTrial], None],
        parent: QWidget,
        earlier: CornerTrial | None = None,
    ) -> None:
        """`front` is the size of the blank's front (mm); `earlier` what was found the last time."""
        across, down = (format_length(each / 2, units) for each in front)
        super().__init__(
            "trial",
            "cross",
            parent,
            asks=f"{machine}, {mat.name}: where the corner really is",
            told=f"1. Save the cross, and lay a spare blank of {format_size(*front, units)} opened flat, outside up, "
            "its front in the mat’s top left corner.\n"
            "2. Cut the cross, the mat pushed against the same guide as always.\n"
            "3. Measure from the blank’s left edge and from its upper edge, as it lies, to the cross. Just right would "
            f"be {across} and {down}.",
            keep="Keep for this machine and mat",
        )
        self.setWindowTitle("Trial cut")
        self._machine, self._mat, self._front, self._units, self._keep = machine, mat, front, units, keep
        self.across = self.add_line("across", "Left edge to the cross", across)
        self.down = self.add_line("down", "Upper edge to the cross", down)
        self._earlier = earlier
        self.changed.connect(self._show)
        self.save_button.clicked.connect(self._ask_file)
        self.take.clicked.connect(self._take)
        self._show()

    def measured(self) -> tuple[float, float] | str:
        """How far off it was cut, to the right and down (mm), or why that cannot be told."""
        found = []
        for line, right in ((self.across, self._front[0] / 2), (self.down, self._front[1] / 2)):
            try:
                off = parse_length(line.text(), unit=self._units).mm - right
            except LengthError as error:
                return f"{line.accessibleName()}: {error}" if line.text().strip() else "Type in both distances."
            if abs(off) > MOST_OFF_MM:
                return f"{line.accessibleName()}: that is {abs(off):.0f} mm from where it should be; measure once more."
            found.append(off)
        return found[0], found[1]

    def _show(self) -> None:
        found = self.measured()
        self.take.setEnabled(not isinstance(found, str))
        if not isinstance(found, str):
            self.said.setText(f"{_off(found)} All that is cut in this corner is moved by as much the other way.")
        elif self._earlier is not None and not self.across.text() and not self.down.text():
            last = self._earlier
            self.said.setText(f"Measured on {last.made}: {_off((last.right, last.down))}")
        else:
            self.said.setText(found)

    def _ask_file(self) -> None:
        path = self.ask_path("trial-cut.svg", "SVG (*.svg)")
        if path is not None:
            self.save(path)

    def save(self, path: Path) -> None:
        """Write the file of the cross."""
        self.write(path, write_trial_cut(self._mat, *self._front))

    def _take(self) -> None:
        found = self.measured()
        if isinstance(found, str):
            return
        right, down = (round(each, 3) for each in found)
        day = date.today().isoformat()
        seal = zlib.crc32(repr((self._machine, self._mat.id, day, right, down)).encode())  # each trial is an entry
        self._keep(CornerTrial(f"corner-{seal:08x}", day, self._machine, self._mat.id, right, down))
        self.accept()


def _off(off: tuple[float, float]) -> str:
    across = f"{abs(off[0]):.2f} mm to the {'right' if off[0] >= 0 else 'left'}"
    down = f"{abs(off[1]):.2f} mm {'lower' if off[1] >= 0 else 'higher'}"
    return f"It is cut {across} and {down} than it should be."
