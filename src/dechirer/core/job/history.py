"""Undo and redo as a list of jobs, without Qt, so that a failing edit reaches whoever made it."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.job.model import Job


class Edit(Struct, frozen=True):
    """One edit: what it is called, the job after it, and the key by which it merges with the last one."""

    label: str
    job: Job
    merge_key: str = ""


class History:
    """The steps of one open job and the place in them. A drag is one step: same merge key, one entry."""

    MOST_STEPS = 500

    def __init__(self, job: Job) -> None:
        self._steps = [Edit("Open", job)]
        self._at = 0
        self._saved: Job | None = job

    @property
    def job(self) -> Job:
        """The job as it is now."""
        return self._steps[self._at].job

    @property
    def is_saved(self) -> bool:
        """Whether the job now is the one that was saved last."""
        return self._saved is not None and self._saved == self.job

    @property
    def undo_label(self) -> str:
        """What undo would take back, or an empty text."""
        return self._steps[self._at].label if self._at else ""

    @property
    def redo_label(self) -> str:
        """What redo would do again, or an empty text."""
        return self._steps[self._at + 1].label if self._at + 1 < len(self._steps) else ""

    def commit(self, label: str, job: Job, *, merge_key: str = "") -> bool:
        """Add a step; drops what could be redone. Returns whether anything changed."""
        if job == self.job:
            return False
        del self._steps[self._at + 1 :]
        last = self._steps[self._at]
        if merge_key and last.merge_key == merge_key and self._at and last.job is not self._saved:
            self._steps[self._at] = Edit(label, job, merge_key)
            return True
        self._steps.append(Edit(label, job, merge_key))
        if len(self._steps) > self.MOST_STEPS:
            del self._steps[0]
        self._at = len(self._steps) - 1
        return True

    def end_merge(self) -> None:
        """A drag is over: what comes next is a step of its own."""
        last = self._steps[self._at]
        if last.merge_key:
            self._steps[self._at] = Edit(last.label, last.job)

    def undo(self) -> Job:
        """Go one step back (or stay at the first) and return the job there."""
        self._at = max(0, self._at - 1)
        return self.job

    def redo(self) -> Job:
        """Go one step on (or stay at the last) and return the job there."""
        self._at = min(len(self._steps) - 1, self._at + 1)
        return self.job

    def mark_saved(self) -> None:
        """Remember that the job as it is now stands in its file."""
        self._saved = self.job

    def mark_unsaved(self) -> None:
        """Remember that no file holds this job (a recovered or a new one)."""
        self._saved = None
