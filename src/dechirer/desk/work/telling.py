"""Tells the maker of faults: the unsaved work is kept safe first, then a banner says in plain words what happened."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from dechirer.desk.window import MainWindow
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document
from dechirer.desk.work.exports import Exports
from dechirer.desk.work.fault_log import Fault
from dechirer.desk.work.files import Files
from dechirer.desk.work.guard import Guard
from dechirer.desk.work.messenger import Messenger


class Telling(QObject):
    """Joins the guard, and what can fail for itself, to the window's banners."""

    def __init__(self, window: MainWindow, document: Document, disk: tuple[Files, Exports], guard: Guard) -> None:
        super().__init__(window)
        self.files, _ = disk
        self.window, self.document, self.guard = window, document, guard
        document.plan_failed.connect(self._tell_no_plan)
        for each in disk:
            each.failed.connect(guard.report)
        guard.caught.connect(self._tell_fault)
        self._outcome = booking.outcome = Messenger()
        self._outcome.told.connect(self._tell_book)

    def _tell_book(self, why: object) -> None:
        """Show that an entry of the logbook could not be written, until one was."""
        if why:
            self.window.banners.say("book", "stop", f"{why} It is tried again with the next entry.")
        else:
            self.window.banners.drop("book")

    def _tell_fault(self, fault: Fault) -> None:
        self.files.keep_safe(0.15)
        banners = self.window.banners
        banners.say(
            "fault",
            "stop",
            "Internal error. Your work is saved for recovery; the last action may be missing.",
            [
                ("Save a copy", self._save_copy),
                ("Details", lambda: self.show_details(fault)),
                ("Close", lambda: banners.drop("fault")),
            ],
        )

    def _save_copy(self) -> None:
        self.files.save_copy()

    def _tell_no_plan(self, error: Exception) -> None:
        self.guard.report(error, "planning")
        banners = self.window.banners
        banners.say(
            "plan",
            "stop",
            "The job as it is now could not be worked out: what you see is the plan of before. Undo the last edit.",
            [("Undo", self.document.undo), ("Close", lambda: banners.drop("plan"))],
        )

    def show_details(self, fault: Fault) -> None:
        """Show where in the program it happened."""
        from dechirer.desk.boxes.fault_box import FaultBox

        FaultBox(fault, self.guard.log.path, self.window).show()
