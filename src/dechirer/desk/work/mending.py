"""Fixes from the list of checks: one by one, or all that choose nothing for the user."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct
from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.finding import Finding, Mend
from dechirer.core.fixing import find_harm, next_safe_fix
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan
from dechirer.core.words import count, plural
from dechirer.desk.widgets.banner import Banners
from dechirer.desk.work.document import Document

MOST_MENDS = 40
"""So many are made in one go: a fix may bring another finding to light."""
LABEL = "Fix all"


class _Single(Struct, frozen=True):
    """One fix that was made: the fix, its finding, the plan before it and the job after it."""

    mend: Mend
    finding: Finding
    before: Plan
    after: Job


class Mending(QObject):
    """Makes fixes, each a step of the job that can be undone; all of them are one step.

    Signals:
        choice_wanted(finding): the user has to choose the fix of this finding.
    """

    choice_wanted = pyqtSignal(object)

    def __init__(self, document: Document, banners: Banners, parent: QObject) -> None:
        super().__init__(parent)
        self._document, self._banners = document, banners
        self._tried: set[tuple[str, str]] | None = None
        self._made = self._runs = 0
        self._left_at: Job | None = None
        self._before: Plan | None = None
        self._trying: Finding | None = None
        self._next = 0
        self._single: _Single | None = None
        document.planned.connect(self._watch_single)
        document.planned.connect(self._go_on)

    def mend(self, mend: Mend, finding: Finding) -> None:
        """Make one fix of a finding that is shown; one that does more than it says is taken back and explained."""
        if not self._document.is_current:
            # The fix was made for a job that has changed since; its finding is about to be renewed.
            self._banners.say("mend", "look", "Still updating. Try again in a moment.", seconds=5)
            return
        before, plan = self._document.job, self._document.plan
        why = self._document.try_edit(mend.label, mend.changes)
        if why:
            self._banners.say("mend", "stop", f"“{mend.label}” is not possible: {why}", seconds=10)
        elif self._document.job is not before and plan is not None:
            self._single = _Single(mend, finding, plan, self._document.job)

    def _watch_single(self) -> None:
        """Look at what one fix came to."""
        single, plan = self._single, self._document.plan
        if single is None or plan is None or not self._document.is_current:
            return
        self._single = None
        if self._document.job is not single.after:
            return  # the user went on working
        harm = find_harm(single.before, plan, single.finding, may_change_pieces=not single.mend.restores)
        if not harm:
            return
        self._document.undo()
        self._banners.say(
            "mend",
            "look",
            f"“{single.mend.label}” was taken back: {harm}.",
            [("Do it all the same", self._insist(single)), ("Close", self._close)],
        )

    def _insist(self, single: _Single) -> Callable[[], None]:
        def act() -> None:
            self._close()
            self._document.try_edit(single.mend.label, single.mend.changes)

        return act

    def mend_all(self) -> None:
        """Make every fix that restores what was asked for, one after the other; leave the others to the user."""
        self._tried, self._made, self._left_at, self._before = set(), 0, None, None
        self._runs += 1
        self._go_on()

    def _go_on(self) -> None:
        plan = self._document.plan
        if self._tried is None or plan is None or not self._document.is_current:
            return
        if self._left_at is not None and self._left_at is not self._document.job:
            self._tried = None  # the user went on working: what is left is theirs to fix
            return
        if self._before is not None and find_harm(self._before, plan, self._trying):
            # The fix did more than it says: the job before it comes back, and the user decides.
            job, self._before = self._before.job, None
            self._made -= 1
            self._document.history.commit(LABEL, job, merge_key=self._key)
            self._left_at = self._document.job
            self._document.renew()
            return
        self._before = None
        while len(self._tried) < MOST_MENDS:
            chosen = next_safe_fix(plan.findings, self._tried)
            if chosen is None:
                break
            finding, fix = chosen
            self._trying = finding
            self._tried.add((finding.code, finding.element))
            before = self._document.job
            self._document.try_edit(LABEL, fix.changes, merge_key=self._key)
            if self._document.job != before:
                self._made += 1
                self._before, self._left_at = plan, self._document.job
                return  # the next one when its plan is there
        self._tried = None
        self._report(plan)

    @property
    def _key(self) -> str:
        return f"fix all {self._runs}"

    def _report(self, plan: Plan) -> None:
        waiting = [each for each in plan.findings if each.mends]
        others = len(plan.findings) - len(waiting)
        parts = [f"{count(self._made, 'fix', 'fixes')} made"]
        if waiting:
            parts.append(f"{len(waiting)} {plural(len(waiting), 'waits', 'wait')} for your choice")
        if others:
            parts.append(f"{others} left to check")
        self._next = 0
        buttons = [("Undo", self._take_back)] if self._made else []
        if waiting:
            buttons.append(("Show the first choice", self.show_next))
        buttons.append(("Close", self._close))
        kind = "look" if waiting or others else "note"
        self._banners.say("mend", kind, f"{'; '.join(parts)}.", buttons, seconds=0 if waiting else 20)

    def show_next(self) -> None:
        """Open the next finding whose fix the user has to choose."""
        plan = self._document.plan
        waiting = [each for each in plan.findings if each.mends] if plan is not None else []
        if not waiting:
            self._banners.say("mend", "note", "No choices are left.", seconds=10)
            return
        finding = waiting[self._next % len(waiting)]
        number = self._next % len(waiting) + 1
        self._next += 1
        self.choice_wanted.emit(finding)
        text = f"Choice {number} of {len(waiting)}: {finding.title}. Choose a fix in the list, or go on."
        buttons = [("Next choice", self.show_next)] if len(waiting) > 1 else []
        self._banners.say("mend", "look", text, [*buttons, ("Close", self._close)])

    def _take_back(self) -> None:
        self._close()
        if self._document.history.undo_label == LABEL:
            self._document.undo()

    def _close(self) -> None:
        self._banners.drop("mend")
