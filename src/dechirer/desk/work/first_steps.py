"""The first three edits, walked through on the demo: do it, see what changed."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtCore import QObject

from dechirer.core.job.model import Job
from dechirer.desk.window import MainWindow
from dechirer.desk.work.document import Document
from dechirer.desk.work.settings import Settings


class Lesson(Struct, frozen=True):
    """One edit to try: what to do, how it is seen in the job that it was done, and what has changed by it."""

    do: str
    is_done: Callable[[Job, Job], bool]
    seen: str


def _has_new_words(before: Job, now: Job) -> bool:
    known = {item.id for item in before.dress.items}
    return any(item.words is not None and item.id not in known for item in now.dress.items)


LESSONS = (
    Lesson(
        "Click the 5 in below the card, type 4 1/2 and press Enter.",
        lambda before, now: before.brief.width.mm != now.brief.width.mm,
        "The base, the liner and their folds are all narrower now; the line at the bottom shows what the job costs.",
    ),
    Lesson(
        "Open Dress, press Words, type a name and press Enter.",
        _has_new_words,
        "They are drawn with a pen: where they land on the flat sheet, the pen and its time are in the run now.",
    ),
    Lesson(
        "Go back to Brief, click × copies on the drawing, type 20 and press Enter.",
        lambda before, now: before.brief.count != now.brief.count,
        "Sheets, mats and minutes follow. Undo takes any step back; Export writes the files to cut.",
    ),
)


class FirstSteps(QObject):
    """Shows the lessons one after the other in a banner until they are done or put off."""

    def __init__(self, window: MainWindow, document: Document, settings: Settings) -> None:
        super().__init__(window)
        self._window, self._document, self._settings = window, document, settings
        self._at, self._before = 0, document.job
        self._told = ""
        if not settings.hint_seen:
            document.changed.connect(self._look)
            self._say()

    def _say(self) -> None:
        count = len(LESSONS)
        if self._at < count:
            text, end = f"{self._told}{self._at + 1} of {count}:  {LESSONS[self._at].do}", "Not now"
        else:
            text, end = f"{self._told}That is all there is to it.", "Got it"
        self._window.banners.say("hint", "note", text, [(end, self.drop)])

    def _look(self) -> None:
        """Something was edited: the lesson may be done."""
        if self._settings.hint_seen or self._at >= len(LESSONS):
            return
        if self._document.is_fresh:  # another job: the lesson begins anew on it
            self._before = self._document.job
        elif LESSONS[self._at].is_done(self._before, self._document.job):
            self._told = f"{LESSONS[self._at].seen}   "
            self._at, self._before = self._at + 1, self._document.job
            self._say()

    def drop(self) -> None:
        """No more of it, now or at a later start."""
        self._settings.hint_seen = True
        self._window.banners.drop("hint")
