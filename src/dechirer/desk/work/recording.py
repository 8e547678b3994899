"""Records of calibrations, tickets and trial cuts: what of the book Press and Lay ask for."""

from __future__ import annotations

from pathlib import Path

from dechirer.core.press.records import Calibration, CornerTrial, Record, Ticket
from dechirer.desk.work.booking import booking

MOST_FRESH = 20
KINDS = ("calibration", "ticket", "cornertrial")


class Recording:
    """What has been measured and noted up to now; what was just kept is there before it is written."""

    def __init__(self) -> None:
        self._fresh: list[tuple[Path, Record]] = []

    @property
    def records(self) -> tuple[Record, ...]:
        """All of them, the oldest first."""
        found = [each for each in booking.entries(*KINDS) if isinstance(each, Calibration | Ticket | CornerTrial)]
        self._fresh = [(path, each) for path, each in self._fresh if each not in found][-MOST_FRESH:]
        return (*found, *(each for path, each in self._fresh if path == booking.path))

    @property
    def words(self) -> str:
        """Why the book could not be read or written; else empty."""
        return booking.words

    def calibrations(self, paper: str, printer: str, machine: str, by: str) -> tuple[Calibration, ...]:
        """What was measured for them, the newest first."""
        own = [each for each in self.records if isinstance(each, Calibration)]
        return tuple(each for each in reversed(own) if each.is_of(paper, printer, machine, by))

    def ticket(self, paper: str, printer: str) -> Ticket | None:
        """What was set last for a paper at a printer."""
        own = [each for each in self.records if isinstance(each, Ticket)]
        return next((each for each in reversed(own) if each.is_of(paper, printer)), None)

    def trial(self, machine: str, mat: str) -> CornerTrial | None:
        """The last trial cut in the corner of a machine's mat."""
        own = [each for each in self.records if isinstance(each, CornerTrial)]
        return next((each for each in reversed(own) if (each.machine, each.mat) == (machine, mat)), None)

    def keep(self, record: Record) -> None:
        """Keep one in the book."""
        key = (type(record), record.id)
        self._fresh = [kept for kept in self._fresh if (type(kept[1]), kept[1].id) != key]
        self._fresh.append((booking.path, record))
        booking.keep([record])

    def wait(self) -> None:
        """Wait until what was kept last is written."""
        booking.wait()


recording = Recording()
"""One for the application."""
