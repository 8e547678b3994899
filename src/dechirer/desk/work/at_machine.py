"""Where a maker is in a run at the machines: kept on the disk after every step, so that a kill or a closed lid loses
nothing."""

from __future__ import annotations

import time
import zlib
from pathlib import Path
from typing import Any

import msgspec
from msgspec import Struct

from dechirer.core.run.steps import MachineStep
from dechirer.desk.work.settings import state_folder
from dechirer.formats.job.atomic import write_atomically

NAME = "at-the-machine.json"
MOST_BYTES = 2_000_000


class Spoiled(Struct, frozen=True):
    """A sheet that was spoiled: at which step, and what happened in the maker's words."""

    step: int
    why: str


class Progress(Struct, frozen=True):
    """How far a run is: the seal of its steps, the step in front, the seconds spent on each, what was
    spoiled, whether it was written into the book, and whether what is left of the sheets was kept."""

    seal: str
    step: int = 0
    seconds: tuple[float, ...] = ()
    spoiled: tuple[Spoiled, ...] = ()
    booked: bool = False
    kept_offcuts: bool = False

    @property
    def minutes(self) -> float:
        """Minutes spent until now."""
        return sum(self.seconds) / 60


def seal_of(name: str, steps: tuple[MachineStep, ...]) -> str:
    """Tells one run from another."""
    return f"{zlib.crc32(repr((name, steps)).encode()):08x}"


def read_progress(seal: str, folder: Path | None = None, name: str = NAME) -> Progress:
    """How far the run of a seal is; at its start where nothing is kept, or what is kept is of another run."""
    path = (folder or state_folder()) / name
    try:
        if path.stat().st_size > MOST_BYTES:
            return Progress(seal)
        kept = msgspec.json.decode(path.read_bytes(), type=Progress)
    except (OSError, msgspec.DecodeError):
        return Progress(seal)
    return kept if kept.seal == seal and kept.step >= 0 else Progress(seal)


def keep_progress(progress: Progress, folder: Path | None = None, name: str = NAME) -> str:
    """Keep how far a run is; why it could not be kept, or nothing."""
    place = folder or state_folder()
    try:
        place.mkdir(parents=True, exist_ok=True)
        write_atomically(place / name, msgspec.json.encode(progress))
    except OSError as error:
        return error.strerror or str(error)
    return ""


class Watch:
    """Counts the seconds of the step in front; a pause of the machine (a closed lid) counts for an hour at most."""

    MOST_S = 3600.0

    def __init__(self, clock: Any = time.monotonic) -> None:
        self._clock = clock
        self.begin()

    def begin(self) -> None:
        """A step comes to the front."""
        self._began = self._clock()

    @property
    def seconds(self) -> float:
        """How long it has been there."""
        return float(min(self._clock() - self._began, self.MOST_S))
