"""Calibrating: the page to print and cut, a scan of it that is measured, or what was read off by hand."""

from __future__ import annotations

import zlib
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QDoubleSpinBox,
    QFileDialog,
    QFormLayout,
    QLabel,
    QMessageBox,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.brief.decisions import Brief, Paper
from dechirer.core.press.calibration import CalibrationPage, make_calibration_page, record_of
from dechirer.core.press.press import PrintedPaper
from dechirer.core.press.records import Calibration
from dechirer.desk.widgets.choices import heading, small
from dechirer.desk.work.beside import Beside

SCANS = "Scans (*.png *.jpg *.jpeg *.tif *.tiff *.webp *.pdf);;All files (*)"
TYPED = (
    ("right", "Print lies to the right by, mm", 20.0, 2),
    ("down", "Print lies lower by, mm", 20.0, 2),
    ("wide", "Too wide, %", 5.0, 2),
    ("high", "Too long, %", 5.0, 2),
    ("skew_deg", "Askew, clockwise, degrees", 5.0, 2),
    ("spread", "Single places stray by, mm", 5.0, 2),
)


class CalibrationBox(QDialog):
    """Calls `keep` with what was measured, once it is taken."""

    def __init__(
        self,
        brief: Brief,
        known: PrintedPaper,
        by: Literal["marks", "edge"],
        earlier: tuple[Calibration, ...],
        keep: Callable[[Calibration], None],
        parent: QWidget,
    ) -> None:
        """`earlier` is what the records have of this paper, printer, machine and way of cutting, the newest first."""
        super().__init__(parent)
        self._brief, self._keep, self._by = brief, keep, by
        self.paper: Paper = brief.paper(known.paper)
        self.page: CalibrationPage | None = None
        self._found: Calibration | None = None
        self._earlier = earlier
        self.setObjectName("calibration-box")
        self.setWindowTitle("Calibrate print and cut")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setAcceptDrops(True)
        self.setMinimumWidth(560)
        self.said = QLabel()
        self.said.setObjectName("calibration-said")
        self.said.setWordWrap(True)
        self.save = _button("Save the calibration page…", "calibration-save", self._ask_folder)
        self.scan = _button("Measure a scan…", "calibration-scan", self._ask_scans)
        self.use_earlier = _button("", "calibration-earlier", self._take_earlier)
        self.use_typed = _button("Use what I typed", "calibration-typed", self._take_typed)
        self.typed: dict[str, QDoubleSpinBox] = {}
        self.beside = Beside(self)
        self.beside.done.connect(self._show)
        self.beside.refused.connect(self._refuse)
        self.beside.failed.connect(lambda error: self._refuse(f"It could not be measured ({type(error).__name__})."))
        self._buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        self.take = _button("Use this measurement", "calibration-take", self._take)
        self._buttons.rejected.connect(self.reject)
        try:
            self.page = make_calibration_page(known.sheet, brief.machine.reader)
        except ValueError as error:
            self.said.setText(f"There can be no calibration page: {error}.")
        self._arrange()
        self._allow()

    def _arrange(self) -> None:
        column = QVBoxLayout(self)
        column.setSpacing(8)
        way = "cut by its marks" if self._by == "marks" else "cut by its edge"
        column.addWidget(heading(f"{self.paper.name} on {self._brief.printer.name}, {way}"))
        told = small(
            "1. Save the page, run the printer’s nozzle check, and print it on this paper at 100 %.\n"
            "2. Cut the squares of the file beside it.\n"
            "3. Leave the squares out, lay black card behind, and scan it at 300 pixels to the inch.\n"
            "4. Drop the scan here. A second scan, turned by half, cancels a shadow."
        )
        told.setWordWrap(True)
        column.addWidget(told)
        column.addWidget(self.save)
        column.addWidget(self.scan)
        if self._earlier:
            last = self._earlier[0]
            self.use_earlier.setText(f"Use what was measured on {last.made}: {summary(last)}")
            column.addWidget(self.use_earlier)
        column.addWidget(self.said)
        column.addWidget(self.take)
        column.addWidget(heading("Read off by hand"))
        form = QFormLayout()
        for name, title, most, decimals in TYPED:
            box = QDoubleSpinBox()
            box.setObjectName(f"calibration-{name}")
            box.setAccessibleName(title)
            line = box.lineEdit()
            if line is not None:
                line.setAccessibleName(title)
            box.setDecimals(decimals)
            box.setSingleStep(0.05)
            box.setRange(0.0 if name == "spread" else -most, most)
            box.setValue(0.05 if name == "spread" else 0.0)
            form.addRow(title, box)
            self.typed[name] = box
        column.addLayout(form)
        column.addWidget(self.use_typed)
        column.addWidget(self._buttons)

    def _allow(self) -> None:
        there = self.page is not None and not self.beside.is_busy
        self.save.setEnabled(there)
        self.scan.setEnabled(there)
        self.take.setEnabled(self._found is not None and not self.beside.is_busy)

    @property
    def _names(self) -> tuple[str, str, str]:
        return self.paper.name, self._brief.printer.name, self._brief.machine.name

    # --- the page --------------------------------------------------------------------------------------------------

    def _ask_folder(self) -> None:
        name = QFileDialog.getExistingDirectory(self, "Folder for the calibration page")
        if name:
            self.write(Path(name))

    def write(self, folder: Path) -> None:
        """Write the page and its squares into a folder; ask before a file there is replaced."""
        from dechirer.formats.job.atomic import write_atomically
        from dechirer.formats.pages.calibration import calibration_files

        if self.page is None:
            return
        files = calibration_files(self.page, self._brief.machine, self.paper.name)
        try:
            there = [name for name in files if (folder / name).exists()]
            if there and not self._may_replace(there):
                return
            folder.mkdir(parents=True, exist_ok=True)
            for name, content in files.items():
                write_atomically(folder / name, content)
        except OSError as error:
            self._refuse(f"{error.filename or folder}: {error.strerror or error}")
            return
        self._say(f"Written: {', '.join(files)}, in {folder}.")

    def _may_replace(self, names: list[str]) -> bool:
        answer = QMessageBox.question(self, "Dechirer", f"{' and '.join(names)} exists. Replace it?")
        return answer == QMessageBox.StandardButton.Yes

    # --- scans -----------------------------------------------------------------------------------------------------

    def _ask_scans(self) -> None:
        names, _ = QFileDialog.getOpenFileNames(self, "Scans of the cut page", "", SCANS)
        if names:
            self.measure([Path(name) for name in names])

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and any(url.isLocalFile() for url in data.urls()):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        data = event.mimeData() if event is not None else None
        if data is not None:
            self.measure([Path(url.toLocalFile()) for url in data.urls() if url.isLocalFile()])

    def measure(self, paths: list[Path]) -> None:
        """Measure a scan, or two of the same page."""
        page = self.page
        if page is None or not paths:
            return

        def work() -> object:
            from dechirer.formats.scans.reading import read_scans

            return read_scans(paths, page)

        self._found = None
        self._say(f"Measuring {paths[0].name} …")
        self.beside.run(work)
        self._allow()

    def _show(self, told: object) -> None:
        from dechirer.formats.scans.reading import Told, describe

        assert isinstance(told, Told)
        self._say("\n".join(describe(told)))
        self._found = record_of(told.measured, self._names, self._by, date.today().isoformat(), "scan")
        self._allow()

    def _refuse(self, words: str) -> None:
        self._say(words)
        self._allow()

    def _say(self, words: str) -> None:
        """Say something, with room for all of it."""
        self.said.setText(words)
        layout = self.layout()
        if layout is not None:
            self.resize(self.width(), max(self.height(), layout.totalHeightForWidth(self.width())))

    # --- what is kept ----------------------------------------------------------------------------------------------

    def _take(self) -> None:
        if self._found is not None:
            self._keep(self._found)
            self.accept()

    def _take_earlier(self) -> None:
        self._keep(self._earlier[0])
        self.accept()

    def _take_typed(self) -> None:
        today = date.today().isoformat()
        values = {name: box.value() for name, box in self.typed.items()}
        seal = f"typed-{zlib.crc32(repr((today, self._names, self._by, values)).encode()):08x}"
        self._keep(Calibration(seal, today, *self._names, self._by, **values, places=1, how="typed"))  # type: ignore[arg-type]
        self.accept()

    def done(self, result: int) -> None:
        """The box closes: what is under way is given up."""
        self.beside.stop()
        super().done(result)


def _button(words: str, name: str, run: Callable[[], None]) -> QPushButton:
    button = QPushButton(words)
    button.setObjectName(name)
    button.clicked.connect(lambda: run())
    return button


def summary(found: Calibration) -> str:
    """What was measured, in a few words."""
    return f"{found.right:+.2f} mm across, {found.down:+.2f} mm down, places stray by {found.spread:.2f} mm"
