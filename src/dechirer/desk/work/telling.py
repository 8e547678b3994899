"""Tells the maker of faults: the unsaved work is kept safe first, then a banner says in plain words what happened."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from dechirer.desk.window import MainWindow
from dechirer.desk.work.document import Document
from dechirer.desk.work.fault_log import Fault
from dechirer.desk.work.files import Files
from dechirer.desk.work.guard import Guard


class Telling(QObject):
    """Joins the guard, and what can fail for itself, to the window's banners."""

    def __init__(self, window: MainWindow, document: Document, files: Files, guard: Guard) -> None:
        super().__init__(window)
        self.window, self.document, self.files, self.guard = window, document, files, guard
        document.plan_failed.connect(self._tell_no_plan)
        files.failed.connect(guard.report)
        guard.caught.connect(self._tell_fault)

    def _tell_fault(self, fault: Fault) -> None:
        self.files.keep_safe(0.15)
        banners = self.window.banners
        banners.say(
            "fault",
            "stop",
            "Something went wrong in Dechirer itself. Your job is still here and its unsaved work is kept; you can go "
            "on. What was done last may not have happened.",
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
