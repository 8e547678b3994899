"""The open job: its history, its file, its latest plan. Every edit of the desk goes through here.

An edit that is refused is always said: the document tells it, whoever asked. What is dragged is *previewed* and enters
the history only when it is let go, as one step; Escape takes it back.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec import structs
from PyQt6.QtCore import QObject, pyqtSignal

from dechirer.core.decide.change import Change, PathError
from dechirer.core.decide.refusal import FieldError
from dechirer.core.job.edit import apply_changes, explain, label_of, read_field, show_field
from dechirer.core.job.history import History
from dechirer.core.job.model import Job, JobError
from dechirer.core.plan import Plan
from dechirer.desk.work.planning import PlanWorker

if TYPE_CHECKING:
    from dechirer.core.offers import Offer
    from dechirer.formats.job.stamp import FileStamp


Changes = Iterable[Change] | Callable[[Job], Iterable[Change]]


class Document(QObject):
    """One job, open.

    Signals:
        changed(): the job, its file or its saved state changed.
        planned(): a newer plan is there; `is_current` says whether it is of the job as it is now.
        offered(): what each construction would cost is known.
        plan_failed(error): the plan could not be made.
        refused(text): an edit was refused, and why.
    """

    changed = pyqtSignal()
    planned = pyqtSignal()
    offered = pyqtSignal()
    plan_failed = pyqtSignal(object)
    refused = pyqtSignal(str)

    def __init__(self, job: Job, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.history = History(job)
        self.path: Path | None = None
        self.job_id = job.id
        self.stamp: FileStamp | None = None
        self.plan: Plan | None = None
        self.last_edit = ""
        self.is_fresh = True
        self.is_stopped = False
        self._preview: tuple[str, Job] | None = None
        self._worker = PlanWorker(self)
        self.offers: tuple[Offer, ...] = ()
        self._worker.planned.connect(self._take_plan)
        self._worker.offered.connect(self._take_offers)
        self._worker.failed.connect(lambda _number, error: self.plan_failed.emit(error))
        self._shown, self._requested = 0, self._worker.request(job)

    @property
    def job(self) -> Job:
        """The job as it is now, without what is being dragged."""
        return self.history.job

    @property
    def is_current(self) -> bool:
        """Whether the plan shown is the plan of the job as it is now, and no older one is still on its way."""
        return self.plan is not None and self._shown == self._requested and self._preview is None

    @property
    def is_waiting(self) -> bool:
        """Whether a plan is still on its way: that of the job, or of what is being dragged or typed."""
        return self.plan is None or self._shown != self._requested

    @property
    def doing(self) -> tuple[str, str]:
        """What the plan being made is at, and the id of the item that is for."""
        return self._worker.doing

    def stop(self) -> None:
        """Stop making the plan: what is shown stays, and nothing comes until the next edit or `resume`."""
        if not self.is_current:
            self.is_stopped = True
            self._worker.stop()

    def resume(self) -> None:
        """Make the plan after all."""
        if self.is_stopped:
            self._renew()

    @property
    def is_dragging(self) -> bool:
        """Whether something is being dragged."""
        return self._preview is not None

    # --- editing ---------------------------------------------------------------------------------------------

    def edit(self, label: str, changes: Changes, *, merge_key: str = "") -> bool:
        """Make an edit; returns whether it was taken. One that was refused is told by `refused`.

        Args:
            changes: the changes, or what makes them of the job as it is now: what is shown may be older than that, and
                what it shows may be gone.
            merge_key: edits in a row with the same key are one step, as when words are typed.
        """
        why = self.try_edit(label, changes, merge_key=merge_key)
        if why:
            self.refused.emit(why)
        return not why

    def try_edit(self, label: str, changes: Changes, *, merge_key: str = "") -> str:
        """Make an edit; returns why it was refused, or an empty text. For those who say it in a place of their own."""
        self.abort()
        try:
            job = apply_changes(self.job, changes(self.job) if callable(changes) else changes)
        except (JobError, PathError) as error:
            return explain(self.job, str(error))
        if self.history.commit(label, job, merge_key=merge_key):
            self.last_edit = label
            self.is_fresh = False
            self._renew()
        return ""

    def type_field(self, path: str, text: str) -> str:
        """Set a field from what was typed; returns why it was refused, to be said beside it, or an empty text."""
        try:
            changes = read_field(self.job, path, text)
        except FieldError as error:
            return str(error)
        before = self.field_text(path) or "none"
        after = text.strip() or "none"
        return self.try_edit(f"{label_of(self.job, path)} {before} › {after}", changes)

    def field_text(self, path: str) -> str:
        """What stands in a field, for an editor; empty when there is no such field."""
        try:
            return show_field(self.job, path)
        except JobError:
            return ""

    # --- dragging --------------------------------------------------------------------------------------------

    def preview(self, label: str, changes: Changes) -> bool:
        """Show a job with changes without keeping it, while something is dragged; its plan may be rough.

        Returns whether the changes are possible; when they are not, what was shown last stays.
        """
        try:
            job = apply_changes(self.job, changes(self.job) if callable(changes) else changes)
        except (JobError, PathError):
            return False
        self._preview = (label, job)
        self.is_stopped = False
        self._requested = self._worker.request(job, self.job)
        return True

    def commit(self) -> None:
        """What was previewed is let go: it becomes one step, and its plan is made exactly."""
        if self._preview is None:
            return
        (label, job), self._preview = self._preview, None
        if self.history.commit(label, job):
            self.last_edit = label
            self.is_fresh = False
        self._renew()

    def abort(self) -> None:
        """What was previewed is taken back; nothing is kept of it."""
        if self._preview is not None:
            self._preview = None
            self._renew()

    # --- history and files -----------------------------------------------------------------------------------

    def undo(self) -> None:
        """Take the last step back."""
        self.abort()
        label = self.history.undo_label
        if label:
            self.history.undo()
            self.last_edit = f"Undone: {label}"
            self._renew()

    def redo(self) -> None:
        """Do the step again."""
        self.abort()
        label = self.history.redo_label
        if label:
            self.history.redo()
            self.last_edit = f"Done again: {label}"
            self._renew()

    @property
    def identified_job(self) -> Job:
        """The job as it is now, with the id that its file gives it."""
        return structs.replace(self.job, id=self.job_id)

    def replace_job(self, label: str, job: Job) -> bool:
        """Put another version of the job in place of this one, as one step; returns whether anything changed."""
        self.abort()
        if not self.history.commit(label, structs.replace(job, id=self.job.id)):
            return False
        self.last_edit, self.is_fresh = label, False
        self._renew()
        return True

    def make_copy(self) -> None:
        """Let the job be a new one that has no file yet."""
        self.path, self.stamp, self.job_id = None, None, ""
        self.history.mark_unsaved()
        self.changed.emit()

    def open_job(self, job: Job, path: Path | None, *, saved: bool, stamp: FileStamp | None = None) -> None:
        """Put another job in place of this one; `stamp` is that of its file when it was read."""
        self._preview = None
        self._worker.forget()
        self.job_id, self.stamp = job.id, stamp
        self.history = History(job)
        if not saved:
            self.history.mark_unsaved()
        self.path = path
        self.last_edit = ""
        self.is_fresh = True
        self._renew()

    def save(self, path: Path) -> str:
        """Save to a file; what it replaces is kept as a version.

        Another file than that of the job makes it a job of its own, with a new id.

        Returns:
            Why the replaced version could not be kept; empty where it is, or there was none.

        Raises:
            OSError: it cannot be written; the old file is whole and the job stays unsaved.
        """
        from dechirer.formats.job.saving import make_job_id, save_job

        is_other = self.path is not None and path != self.path
        job_id = make_job_id() if is_other or not self.job_id else self.job_id
        saved = save_job(path, self.job, job_id)
        self.path, self.job_id, self.stamp = path, job_id, saved.stamp
        self.history.mark_saved()
        self.changed.emit()
        return saved.not_kept

    def end(self) -> None:
        """Stop the worker."""
        self._worker.end()

    def renew(self) -> None:
        """Make the plan of the job as its history has it now."""
        self._renew()

    def _renew(self) -> None:
        self.is_stopped = False
        self._requested = self._worker.request(self.job)
        self.changed.emit()

    def _take_offers(self, offers: tuple[Offer, ...]) -> None:
        self.offers = offers
        self.offered.emit()

    def _take_plan(self, number: int, plan: Plan) -> None:
        self.plan, self._shown = plan, number
        self.planned.emit()
