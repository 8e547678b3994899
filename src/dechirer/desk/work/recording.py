"""The maker's records: read when they are first asked for, written beside the window."""

from __future__ import annotations

import logging
import threading
from pathlib import Path

from platformdirs import user_data_path

from dechirer.core.press.records import Calibration, CornerTrial, Record, Ticket


def records_folder() -> Path:
    """Where records lie."""
    return user_data_path("dechirer")


class Recording:
    """What has been measured and noted up to now. `words` says why it could not be read or written, else empty."""

    def __init__(self) -> None:
        self._records: tuple[Record, ...] = ()
        self._folder: Path | None = None
        self._thread: threading.Thread | None = None
        self._lock = threading.Lock()
        self.words = ""

    @property
    def records(self) -> tuple[Record, ...]:
        """All of them, the oldest first."""
        if self._folder != records_folder():
            from dechirer.formats.records import RecordsError, read_records

            self._folder = records_folder()
            try:
                self._records = read_records(self._folder).records
            except (OSError, RecordsError) as error:
                self.words, self._records = f"The records could not be read: {error}.", ()
        return self._records

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
        """Keep one; it is written in a thread of its own, as disks may be slow."""
        others = tuple(each for each in self.records if (type(each), each.id) != (type(record), record.id))
        self._records = (*others, record)
        self._thread = threading.Thread(target=self._write, args=(records_folder(), record), name="records")
        self._thread.start()

    def wait(self) -> None:
        """Wait until what was kept last is written."""
        if self._thread is not None:
            self._thread.join(timeout=60)

    def _write(self, folder: Path, record: Record) -> None:
        from dechirer.formats.records import RecordsError, add_records

        with self._lock:
            try:
                add_records(folder, [record])
            except (OSError, RecordsError) as error:
                self.words = f"The records could not be written: {error}."
                logging.getLogger(__name__).warning("%s", self.words)


recording = Recording()
"""One for the application."""
