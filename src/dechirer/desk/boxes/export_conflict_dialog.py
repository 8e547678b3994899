"""Asks what becomes of files that an export would replace and that it did not write."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Literal

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from dechirer.core.words import count

if TYPE_CHECKING:
    from dechirer.formats.export import ExportConflictError

Answer = Path | Literal["replace", "cancel"]
MOST_LISTED = 12


def ask_about_conflict(parent: QWidget, error: ExportConflictError) -> Answer:
    """List the files; return another folder, `replace` or `cancel`."""
    from dechirer.formats.export import WHYS

    conflicts = error.conflicts
    box = QMessageBox(parent)
    box.setObjectName("export-conflict")
    box.setIcon(QMessageBox.Icon.Warning)
    box.setWindowTitle("Files are in the way")
    others = f" It holds the export of “{error.job_name}”." if any(each.why == "other" for each in conflicts) else ""
    box.setText(f"{error.folder.name} has files that this export would replace or remove.{others}")
    lines = [f"{each.path}: {WHYS[each.why]}" for each in conflicts]
    more = [f"and {len(lines) - MOST_LISTED} more"] if len(lines) > MOST_LISTED else []
    box.setInformativeText("\n".join([*lines[:MOST_LISTED], *more]))
    if more:
        box.setDetailedText("\n".join(lines))
    other = box.addButton("Another folder…", QMessageBox.ButtonRole.AcceptRole)
    replace = box.addButton(f"Replace {count(len(conflicts), 'file')}", QMessageBox.ButtonRole.DestructiveRole)
    cancel = box.addButton(QMessageBox.StandardButton.Cancel)
    for button, name in ((other, "other"), (replace, "replace"), (cancel, "cancel")):
        assert button is not None
        button.setObjectName(f"conflict-{name}")
    box.setDefaultButton(other)
    box.exec()
    if box.clickedButton() is replace:
        return "replace"
    if box.clickedButton() is other:
        name = QFileDialog.getExistingDirectory(parent, "Export into a folder", str(error.folder.parent))
        if name:
            return Path(name)
    return "cancel"
