"""What is noted of the licences of art and typefaces goes into the book, and comes back with the same file."""

from __future__ import annotations

from datetime import date

from PyQt6.QtCore import QObject

from dechirer.core.brought import Art, FontFile
from dechirer.core.job.model import Job
from dechirer.core.keep.entries import Licence
from dechirer.core.keep.licences import Part, licence_of, with_licence
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document

Noted = dict[tuple[str, str], tuple[str, str]]


def as_known(part: Part) -> Part:
    """A part that was read, with what the book knows of it. Not for the window's thread."""
    known = [each for each in booking.entries("licence") if isinstance(each, Licence)]
    return with_licence(part, known) if known else part


class Licensing(QObject):
    """Writes into the book what the maker notes of a part of the open job."""

    def __init__(self, document: Document, parent: QObject) -> None:
        super().__init__(parent)
        self._document = document
        self._job = document.job
        document.changed.connect(self._look)

    def _look(self) -> None:
        before, self._job = self._job, self._document.job
        dress, last = self._job.dress, before.dress
        if dress.art is last.art and dress.fonts is last.fonts:
            return
        noted, day = _noted(before), date.today().isoformat()
        fresh = [
            licence_of(part, day)
            for part in _parts(self._job)
            if (part.id, part.name) in noted
            and part.licence != "unknown"
            and (part.licence, part.source) != noted[part.id, part.name]
        ]
        if fresh:
            booking.keep(fresh)


def _parts(job: Job) -> tuple[Art | FontFile, ...]:
    return (*job.dress.art, *job.dress.fonts)


def _noted(job: Job) -> Noted:
    return {(part.id, part.name): (part.licence, part.source) for part in _parts(job)}
