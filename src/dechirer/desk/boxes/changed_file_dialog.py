"""Asks what becomes of a job file that somebody else changed since it was read."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import Literal

from PyQt6.QtWidgets import QMessageBox, QWidget

Choice = Literal["both", "theirs", "overwrite", "cancel"]
LABELS: dict[Choice, str] = {
    "both": "Keep both",
    "theirs": "Open the changed file",
    "overwrite": "Replace it",
    "cancel": "Cancel",
}


def ask_about_changed(parent: QWidget, path: Path) -> Choice:
    """Ask whether to keep both versions, open the other one, or replace it; the safe choice is the default."""
    box = QMessageBox(parent)
    box.setObjectName("changed-file")
    box.setIcon(QMessageBox.Icon.Warning)
    box.setWindowTitle("The file has changed")
    when = ""
    with suppress(OSError):  # it is gone again
        when = f" It was changed on {datetime.fromtimestamp(path.stat().st_mtime):%Y-%m-%d at %H:%M}."
    box.setText(f"{path.name} was changed by another program since you opened or saved it.{when}")
    box.setInformativeText(
        "Keep both: your card is saved beside it under a new name.\n"
        "Open the changed file: your card is kept among its versions.\n"
        "Replace it: the changed file is kept among the versions."
    )
    buttons = {}
    for choice, label in LABELS.items():
        role = QMessageBox.ButtonRole.RejectRole if choice == "cancel" else QMessageBox.ButtonRole.AcceptRole
        button = box.addButton(label, role)
        assert button is not None
        button.setObjectName(f"changed-{choice}")
        buttons[button] = choice
        if choice == "both":
            box.setDefaultButton(button)
    box.exec()
    return next((choice for button, choice in buttons.items() if button is box.clickedButton()), "cancel")
