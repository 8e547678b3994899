"""A file that is the card: asked for, read off the GUI thread, and taken; and the one question an empty job asks."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from dechirer.core.brought import Art
from dechirer.core.length import format_size
from dechirer.desk.work.document import Document
from dechirer.desk.work.importing import Importer

FROM_FILE = "from-file"


class CardFile(QObject):
    """Makes the edits that take a file as the card.

    Signals:
        refused(text): why a file was not taken. taken(): a file is the card now.
    """

    refused = pyqtSignal(str)
    taken = pyqtSignal()

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__(window)
        self.document, self._window = document, window
        self.importer = Importer(window)
        self.importer.art_read.connect(self.take)
        self.importer.font_read.connect(lambda font: self.refused.emit(f"{font.name} is a typeface, not a card."))
        self.importer.refused.connect(self.refused.emit)

    def ask_file(self) -> None:
        """Ask for a file and take it as the card."""
        name, _ = QFileDialog.getOpenFileName(self._window, "The card's file", "", "Drawings (*.svg *.svgz *.dxf)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Read a file and take it as the card."""
        dress = self.document.job.dress
        self.importer.read_file(path, {art.id for art in dress.art}, {font.id for font in dress.fonts})

    def take(self, art: Art) -> None:
        """Make the card what a file draws."""
        from dechirer.core.starting import take_card

        if self.document.edit(f"{art.name} is the card", take_card(self.document.job, art)):
            self.taken.emit()

    def is_asked(self, art: Art) -> bool:
        """Whether it has to be asked what a file is: the job is empty, and the file has something that is cut."""
        job = self.document.job
        empty = not job.dress.items and not job.dress.art and job.brief.construction != FROM_FILE
        return empty and any(group.role == "cut" for group in art.groups) and not art.name.lower().endswith(PICTURES)

    def ask(self, art: Art, as_art: Callable[[Art], None]) -> None:
        """Ask whether a file is the card, or art for it."""
        box = QMessageBox(self._window)
        box.setObjectName("card-or-art")
        box.setWindowTitle("Dechirer")
        box.setText(f"Is {art.name} the card, or art for it?")
        size = format_size(art.width * art.scale, art.height * art.scale, self.document.job.units)
        box.setInformativeText(
            f"The card: its outlines, cuts and folds become the pieces, {size} flat.\n"
            "Art: it is put on the face in front of you."
        )
        card = box.addButton("It is the card", QMessageBox.ButtonRole.AcceptRole)
        put = box.addButton("Art for it", QMessageBox.ButtonRole.AcceptRole)
        box.addButton("Neither", QMessageBox.ButtonRole.RejectRole)
        for button, name in ((card, "it-is-the-card"), (put, "it-is-art")):
            if button is not None:
                button.setObjectName(name)
        box.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)

        def answered() -> None:
            if box.clickedButton() is card:
                self.take(art)
            elif box.clickedButton() is put:
                as_art(art)

        box.buttonClicked.connect(lambda _: answered())
        box.open()


PICTURES = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff")
