"""Bringing things onto a face: art and typefaces from files, drops and the clipboard, words, what is made of one."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QMimeData, QObject, QTimer, pyqtSignal
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QFileDialog, QWidget

from dechirer.core.brought import Art, FontFile
from dechirer.core.decide.change import Change
from dechirer.core.dress.apart import take_apart
from dechirer.core.dress.at_hand import list_things, place_thing
from dechirer.core.dress.carry import put_kept, put_papers, put_recipe
from dechirer.core.dress.decisions import FACE, Item
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.edits import forget_unused, place_again, place_art, place_made_of, place_words
from dechirer.core.dress.gather import gather
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.shapes import SHAPES, place_face_outline, place_shape
from dechirer.core.dress.spots import Spot
from dechirer.desk.work.card_file import CardFile
from dechirer.desk.work.document import Document
from dechirer.desk.work.importing import Importer, contents, takes
from dechirer.formats.shelf import SUFFIX, ArchiveError, Shelved, read_kept

MOST_FILES = 20
"""So many files dropped together are read one after the other."""


class Bringing(QObject):
    """Makes the edits that put something on the face in front.

    Signals:
        added(item): an item was added, by its id; it is to be picked when its plan is there.
        refused(text): something could not be brought in.
    """

    added = pyqtSignal(str)
    refused = pyqtSignal(str)

    def __init__(
        self, document: Document, spot: Callable[[], Spot | None], picked: Callable[[], Item | None], parent: QWidget
    ) -> None:
        """`spot` gives the face in front, `picked` the picked item."""
        super().__init__(parent)
        self.document, self._spot, self._picked, self._window = document, spot, picked, parent
        self.card_file = CardFile(document, parent)
        self.card_file.refused.connect(self.refused.emit)
        self.importer = Importer(parent)
        self.importer.art_read.connect(self.take_art)
        self.importer.font_read.connect(self.take_font)
        self.importer.refused.connect(self.refused.emit)
        self._waiting: list[Path] = []
        self._several = False
        # After what was read has been put on the face: its id is taken then.
        following = QTimer(self)
        following.setSingleShot(True)
        following.timeout.connect(self._read_next)
        for done in (self.importer.art_read, self.importer.font_read, self.importer.refused):
            done.connect(lambda *_: following.start(0))

    # --- from outside ----------------------------------------------------------------------------------------

    def ask_art(self) -> None:
        """Ask for a file and bring it in."""
        from dechirer.formats.art.read import ART_FILTER

        name, _ = QFileDialog.getOpenFileName(self._window, "Bring in art", "", ART_FILTER)
        if name:
            self.bring_in(Path(name))

    def bring_in(self, path: Path) -> None:
        """Read a file of art or a typeface and put it on the face."""
        self._waiting, self._several = [], False
        self.importer.read_file(path, *self._taken())

    def paste(self) -> None:
        """Bring in what is on the clipboard: SVG, a picture, or files."""
        clipboard = QGuiApplication.clipboard()
        mime = clipboard.mimeData() if clipboard is not None else None
        if mime is None or not takes(mime):
            self.refused.emit("There is no SVG, picture or file on the clipboard.")
            return
        self.bring(mime)

    def bring(self, mime: QMimeData) -> None:
        """Bring in what was dropped or pasted."""
        files, data, name = contents(mime)
        if not files:
            self.importer.read_data(data, name, *self._taken())
            return
        kept = [path for path in files if path.suffix == SUFFIX]
        for path in kept:
            self._put_kept_file(path)
        files = [path for path in files if path not in kept]
        if not files:
            return
        self._waiting, self._several = files[1:MOST_FILES], len(files) > 1
        self.importer.read_file(files[0], *self._taken())
        if len(files) > MOST_FILES:
            self.refused.emit(f"{MOST_FILES} files at a time: {len(files) - MOST_FILES} more are not read.")

    def _read_next(self) -> None:
        """Read the next of the files that came together."""
        if self._waiting and not self.importer.is_busy:
            self.importer.read_file(self._waiting.pop(0), *self._taken())

    def _taken(self) -> tuple[set[str], set[str]]:
        dress = self.document.job.dress
        return {art.id for art in dress.art}, {font.id for font in dress.fonts}

    def take_art(self, art: Art) -> None:
        """Put art that was read on the face; on an empty job it is asked whether it is the card, unless it came with
        others."""
        if not self._several and self.card_file.is_asked(art):
            self.card_file.ask(art, self.put_art)
        else:
            self.put_art(art)

    def put_art(self, art: Art) -> None:
        """Put art on the face in front."""
        spot = self._spot()
        if spot is not None:
            self._add(f"{art.name} brought in", place_art(self.document.job, art, spot))

    def take_font(self, font: FontFile) -> None:
        """Keep a typeface that was read; the picked words are set in it."""
        changes = [Change("dress.fonts", (*self.document.job.dress.fonts, font))]
        item = self._picked()
        if item is not None and item.words is not None:
            changes.append(Change(f"dress.items.{item.id}.words.face", font.id))
        self.document.edit(f"Typeface {font.name}", changes)

    # --- from the shelf --------------------------------------------------------------------------------------

    def _put_kept_file(self, path: Path) -> None:
        try:
            self.put_shelved(read_kept(path))
        except (ArchiveError, OSError) as error:
            self.refused.emit(str(error))

    def put_shelved(self, shelved: Shelved) -> None:
        """Put what was kept on the face in front; papers beside those on hand."""
        spot = self._spot()
        if shelved.is_paper:
            changes = put_papers(self.document.job, shelved.kept.papers)
            if not changes:
                self.refused.emit(f"{shelved.name} is among your papers already.")
            else:
                self.document.edit(f"Paper {shelved.name}", changes)
        elif spot is not None:
            self._add(f"{shelved.name} from the shelf", put_kept(self.document.job, shelved.kept, spot))

    def give_recipe(self, shelved: Shelved) -> None:
        """Give the picked item the recipe of what was kept."""
        item = self._picked()
        changes = put_recipe(self.document.job, item, shelved.kept) if item is not None else ()
        if item is None:
            self.refused.emit("Pick what is to have the recipe first.")
        elif not changes:
            self.refused.emit(f"{shelved.name} has no recipe.")
        else:
            self.document.edit(f"Recipe of {shelved.name}", changes)

    # --- from what is there ----------------------------------------------------------------------------------

    def add_words(self, at: tuple[float, float] | None = None) -> None:
        """Words in the middle of the face, or at a place of it (mm), to be typed at once."""
        spot = self._spot()
        if spot is not None:
            self._add("Words", place_words(self.document.job, spot, at=at))

    def add_address(self) -> None:
        """An address and a sender on the envelope."""
        from dechirer.core.dress.addressed import address_envelope

        spot = self._spot()
        if spot is not None:
            self._add("Address", address_envelope(self.document.job, spot))

    def add_shape(self, shape: str) -> None:
        """A shape that needs no file, in the middle of the face."""
        spot = self._spot()
        if spot is not None and shape == FACE:
            self._add("Stitches along the edge", place_face_outline(self.document.job, spot))
        elif spot is not None:
            self._add(SHAPES[shape][0].capitalize(), place_shape(self.document.job, shape, spot))

    def add_thing(self, thing: str) -> None:
        """Something at hand, in the middle of the face."""
        spot = self._spot()
        if spot is not None:
            self._add(list_things()[thing].title.capitalize(), place_thing(self.document.job, thing, spot))

    def add_made_of(self, words: str, kind: str) -> None:
        """Another item made of the picked one: `border`, `window` or `frame`."""
        item = self._picked()
        if item is not None:
            self._add(words, place_made_of(self.document.job, item, kind))

    def add_again(self, art_id: str) -> None:
        """Art of the job once more."""
        spot = self._spot()
        art = next((each for each in self.document.job.dress.art if each.id == art_id), None)
        if spot is not None and art is not None:
            self._add(f"{art.name} again", place_again(self.document.job, art, spot))

    def forget(self) -> None:
        """Drop art and typefaces that nothing uses."""
        self.document.edit("Unused art dropped", forget_unused(self.document.job))

    def may_forget(self) -> bool:
        """Whether there is anything that nothing uses."""
        return bool(forget_unused(self.document.job))

    def take_apart(self, dressed: Dressed) -> None:
        """Make each outline of an item an item of its own."""
        item = dressed.item
        if len(items_of(dressed.placed.start)) < 2:
            self.refused.emit(f"{item.name} is one outline already.")
            return
        self.document.edit(f"{item.name} taken apart", take_apart(self.document.job, dressed))

    def gather(self, dressed: Dressed) -> None:
        """Bring what is of the same file on this face to where the file has it, beside an item."""
        changes = gather(self.document.job, dressed)
        if not changes:
            self.refused.emit(f"Nothing else on this face, unless it is locked, is of the file of {dressed.item.name}.")
            return
        self.document.edit(f"Gathered round {dressed.item.name}", changes)

    def _add(self, label: str, changes: tuple[Change, ...]) -> None:
        """Make an edit that adds an item, and tell which."""
        before = {item.id for item in self.document.job.dress.items}
        if self.document.edit(label, changes):
            new = [item.id for item in self.document.job.dress.items if item.id not in before]
            if new:
                self.added.emit(new[-1])
