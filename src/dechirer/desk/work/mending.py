"""Mends from the list of findings: one, or the first of each."""

from __future__ import annotations

from PyQt6.QtCore import QObject

from dechirer.core.finding import Finding, Mend
from dechirer.core.job.model import Job
from dechirer.core.words import plural
from dechirer.desk.widgets.banner import Banners
from dechirer.desk.work.document import Document

MOST_MENDS = 40
"""So many are made in one go: a mend may bring another finding to light."""


class Mending(QObject):
    """Makes mends, each a step of the job that can be undone; all of them are one step."""

    def __init__(self, document: Document, banners: Banners, parent: QObject) -> None:
        super().__init__(parent)
        self._document, self._banners = document, banners
        self._tried: set[tuple[str, str]] | None = None
        self._made = self._runs = 0
        self._left_at: Job | None = None
        document.planned.connect(self._go_on)

    def mend(self, mend: Mend, finding: Finding) -> None:
        """Make one mend of a finding that is shown."""
        if not self._document.is_current:
            # The mend was made for a job that has changed since; its finding is about to be told anew.
            self._banners.say("mend", "look", "Still working out the last edit; press it once more.", seconds=5)
            return
        why = self._document.try_edit(mend.label, mend.changes)
        if why:
            self._banners.say("mend", "stop", f"“{mend.label}” was not possible: {why}", seconds=10)

    def mend_all(self) -> None:
        """Make the first mend of every finding that has one, one after the other, until none is left to try."""
        self._tried, self._made, self._left_at = set(), 0, None
        self._runs += 1
        self._go_on()

    def _go_on(self) -> None:
        plan = self._document.plan
        if self._tried is None or plan is None or not self._document.is_current:
            return
        if self._left_at is not None and self._left_at is not self._document.job:
            self._tried = None  # somebody has gone on working: what is left is theirs to mend
            return
        for finding in plan.findings:
            key = (finding.code, finding.element)
            if not finding.mends or key in self._tried or len(self._tried) >= MOST_MENDS:
                continue
            self._tried.add(key)
            before = self._document.job
            self._document.try_edit("Mended", finding.mends[0].changes, merge_key=f"mend all {self._runs}")
            if self._document.job != before:
                self._made += 1
                self._left_at = self._document.job
                return  # the next one when its plan is there
        left, self._tried = len(plan.findings), None
        made = f"{self._made} {plural(self._made, 'mend')} made"
        told = f"{made}; nothing is left to mend." if not left else f"{made}; {left} left, to be looked at."
        self._banners.say(
            "mend",
            "note" if not left else "look",
            told,
            [("Undo", self._take_back), ("Close", self._close)],
            seconds=20,
        )

    def _take_back(self) -> None:
        self._close()
        if self._document.history.undo_label == "Mended":
            self._document.undo()

    def _close(self) -> None:
        self._banners.drop("mend")
