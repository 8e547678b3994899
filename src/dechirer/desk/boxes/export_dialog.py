"""What is exported, and where to."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QDialogButtonBox,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from dechirer.core.plan import Plan
from dechirer.core.words import count
from dechirer.desk.widgets.choices import heading, small
from dechirer.formats.export import EVERYTHING, Choice
from dechirer.formats.output import OUTPUTS


class ExportDialog(QDialog):
    """Asks for a folder and for kinds of files. Emits `chosen(folder, choice)`."""

    chosen = pyqtSignal(object, object)

    def __init__(self, plan: Plan, folder: Path, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("export-dialog")
        self.setWindowTitle("Export")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setMinimumWidth(560)
        column = QVBoxLayout(self)
        column.addWidget(heading("Folder"))
        line = QHBoxLayout()
        self.folder = QLineEdit(str(folder))
        self.folder.setObjectName("export-folder")
        self.folder.setAccessibleName("Folder")
        self.folder.textChanged.connect(lambda _: self._show_state())
        line.addWidget(self.folder, 1)
        choose = QPushButton("Choose…")
        choose.setObjectName("export-choose")
        choose.setAutoDefault(False)
        choose.clicked.connect(self._choose)
        line.addWidget(choose)
        column.addLayout(line)
        self.said = small("")
        self.said.setObjectName("export-said")
        self.said.setWordWrap(True)
        column.addWidget(self.said)
        column.addWidget(heading("Files"))
        self.kinds: dict[str, QCheckBox] = {}
        for spec in OUTPUTS:
            files = list(spec.files(plan)) if spec.wanted(plan) else []
            if not files:
                continue
            box = QCheckBox(f"{_name_kind(spec.id, spec.each)} — {spec.about} ({len(files)})")
            box.setObjectName(f"export-kind-{spec.id}")
            box.setChecked(True)
            box.toggled.connect(lambda _: self._show_state())
            self.kinds[spec.id] = box
            column.addWidget(box)
        if plan.stops:
            warning = small(f"{count(plan.stops, 'problem')} would spoil the card. See the checks.")
            warning.setObjectName("export-warning")
            warning.setProperty("role", "stop")
            column.addWidget(warning)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Cancel)
        self.export = QPushButton("Export")
        self.export.setObjectName("export-go")
        self.export.setDefault(True)
        self.export.setProperty("main", True)
        buttons.addButton(self.export, QDialogButtonBox.ButtonRole.AcceptRole)
        buttons.accepted.connect(self._accept)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self._show_state()

    def choice(self) -> Choice:
        """The kinds that are ticked."""
        ticked = frozenset(id for id, box in self.kinds.items() if box.isChecked())
        return EVERYTHING if len(ticked) == len(self.kinds) else Choice(outputs=ticked)

    def path(self) -> Path:
        """The folder as it was typed."""
        return Path(self.folder.text().strip()).expanduser()

    def _choose(self) -> None:
        start = self.path()
        while not start.is_dir() and start != start.parent:
            start = start.parent
        name = QFileDialog.getExistingDirectory(self, "Export into a folder", str(start))
        if name:
            self.folder.setText(name)

    def _show_state(self) -> None:
        path, text = self.path(), self.folder.text().strip()
        wrong = ""
        if not text or not path.is_absolute():
            wrong = "Give the whole path of a folder."
        elif path == Path.home():
            wrong = "The home folder itself is not used. Give a folder in it."
        elif path.exists() and not path.is_dir():
            wrong = "This is a file, not a folder."
        elif self.kinds and not any(box.isChecked() for box in self.kinds.values()):
            wrong = "Tick at least one kind of file."
        state = "The folder exists; you are asked before a file of yours is replaced."
        self.said.setText(wrong or (state if path.is_dir() else "The folder will be made."))
        self.export.setEnabled(not wrong)

    def _accept(self) -> None:
        self.chosen.emit(self.path(), self.choice())
        self.accept()


def _name_kind(output: str, each: str) -> str:
    """Return an output's path with the number as N: `mats/mat-N.svg`."""
    return output.format(**{each: f"{each}-N"}) if each else output
