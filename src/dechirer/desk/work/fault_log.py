"""The log of faults of Dechirer itself: where in the program they happened, and nothing of the maker's job.

A line of a traceback names a file of ours and a line in it. What an error says of itself may repeat words of the job,
so it is shown to the maker and not written.
"""

from __future__ import annotations

import time
import traceback
from pathlib import Path
from types import TracebackType

from msgspec import Struct

MOST_LOG_BYTES = 256 * 1024
KEPT_LOGS = 3
AGAIN_S = 60.0
"""The same fault is written once in this time, however often it happens."""
ROOT = Path(__file__).resolve().parents[2]


class Fault(Struct, frozen=True):
    """One fault: what it is, where, and what it says of itself (for the screen alone)."""

    kind: str
    frames: tuple[str, ...]
    words: str
    doing: str = ""

    @property
    def place(self) -> str:
        """Where it happened, as far in as can be told."""
        return self.frames[-1] if self.frames else "an unknown place"

    def tell(self, *, whole: bool) -> str:
        """The fault in lines; `whole` with what it says of itself."""
        head = f"{self.kind}: {self.words}" if whole and self.words else self.kind
        during = [f"while: {self.doing}"] if self.doing else []
        return "\n".join([head, *during, *(f"  {frame}" for frame in self.frames)])


def make_fault(error: BaseException, doing: str = "", trace: TracebackType | None = None) -> Fault:
    """A fault of an exception; its frames name files within the program, others by their last part."""
    frames = []
    for frame in traceback.extract_tb(trace or error.__traceback__):
        path = Path(frame.filename)
        name = path.relative_to(ROOT).as_posix() if path.is_relative_to(ROOT) else path.name
        frames.append(f"{name}:{frame.lineno} in {frame.name}")
    return Fault(type(error).__name__, tuple(frames[-40:]), _words(error), doing)


def _words(error: BaseException) -> str:
    try:
        return str(error)[:400]
    except Exception:  # noqa: BLE001 - an error that cannot even say itself is still told by its place
        return ""


class FaultLog:
    """A file of faults, turned over when it is full. Without a folder to write to it writes nothing."""

    def __init__(self, folder: Path) -> None:
        self.path = folder / "faults.log"
        self._last: dict[tuple[str, ...], float] = {}

    def write(self, fault: Fault) -> bool:
        """Append a fault; returns whether it is in the file."""
        now = time.monotonic()
        key = (fault.kind, *fault.frames)
        if now - self._last.get(key, -AGAIN_S) < AGAIN_S:
            return True
        text = f"{time.strftime('%Y-%m-%d %H:%M:%S')} {fault.tell(whole=False)}\n"
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            self._turn_over(len(text))
            with self.path.open("a", encoding="utf-8", errors="replace") as out:
                out.write(text)
        except OSError:
            return False
        if len(self._last) > 200:
            self._last.clear()
        self._last[key] = now
        return True

    def _turn_over(self, more: int) -> None:
        if not self.path.exists() or self.path.stat().st_size + more <= MOST_LOG_BYTES:
            return
        for number in range(KEPT_LOGS - 1, 0, -1):
            older = self.path.with_suffix(f".{number}.log")
            if older.exists():
                older.replace(self.path.with_suffix(f".{number + 1}.log"))
        self.path.replace(self.path.with_suffix(".1.log"))
