"""Plans are made off the GUI thread: one worker, a waiting request replaced by a newer one, a running one told
to stop. A response echoes its request's number, so a stale plan is never mistaken for the latest."""

from __future__ import annotations

import threading
from typing import TYPE_CHECKING

from PyQt6.QtCore import QObject, pyqtSignal

if TYPE_CHECKING:
    from dechirer.core.job.model import Job
    from dechirer.core.plan import Plan


QUIET_S = 0.4
"""How long nothing newer must be asked for before the offers are worked out."""


class PlanWorker(QObject):
    """Makes plans of jobs. Signals arrive on the thread of the receiver.

    `doing` says what it is at, and the id of the item that is for (empty: none).

    Signals:
        planned(number, plan): a plan newer than any sent before.
        offered(offers): what each construction would cost, once no newer plan is wanted.
        failed(number, error): the plan, or an offer, could not be made; a fault of ours, said rather than hidden.
    """

    planned = pyqtSignal(int, object)
    offered = pyqtSignal(object)
    failed = pyqtSignal(int, object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._condition = threading.Condition()
        self._waiting: tuple[int, Job, Job | None] | None = None
        self._newest = 0
        self._ended = self._is_stale = False
        self._offered_for: object = None
        self.doing = ("", "")
        self._thread = threading.Thread(target=self._work, name="planner", daemon=True)
        self._thread.start()

    def request(self, job: Job, dragged_from: Job | None = None) -> int:
        """Ask for the plan of a job, roughly while something is dragged from another one; returns the request's number.
        Supersedes every request before it."""
        with self._condition:
            self._newest += 1
            self._waiting = (self._newest, job, dragged_from)
            self._condition.notify()
            return self._newest

    def forget(self) -> None:
        """Drop what is remembered of the job so far: another one is opened."""
        with self._condition:
            self._is_stale = True

    def stop(self) -> None:
        """Give up what is being worked out and what waits: nothing comes of it. The worker is free for the next."""
        with self._condition:
            self._newest += 1
            self._waiting = None

    def _tell(self, what: str, item: str | None) -> None:
        self.doing = (what, self.doing[1] if item is None else item)

    def end(self) -> None:
        """Stop the worker and wait for it."""
        with self._condition:
            self._ended = True
            self._newest += 1
            self._condition.notify()
        self._thread.join(timeout=10)

    def _work(self) -> None:
        from dechirer.core.plan import PlanCancelled, Planner

        planner = Planner()
        while True:
            with self._condition:
                while self._waiting is None and not self._ended:
                    self._condition.wait()
                if self._ended:
                    return
                assert self._waiting is not None
                (number, job, before), self._waiting = self._waiting, None
                is_stale, self._is_stale = self._is_stale, False
            if is_stale:
                planner = Planner()
            self.doing = ("", "")
            try:
                plan: Plan = planner.plan(
                    job,
                    cancelled=lambda n=number: n != self._newest,  # type: ignore[misc]
                    doing=self._tell,
                    coarse=before is not None,
                    dragged_from=before,
                )
            except PlanCancelled:
                continue
            except Exception as error:  # noqa: BLE001 - the outermost boundary of this thread
                planner = Planner()  # what it remembers may be what is wrong
                self._fail(number, error)
                continue
            if not self._ended:
                self.planned.emit(number, plan)
                if before is None:
                    try:
                        self._offer(number, job)
                    except Exception as error:  # noqa: BLE001 - the outermost boundary of this thread
                        self._fail(number, error)
            planner.memory.trim()

    def _fail(self, number: int, error: Exception) -> None:
        if not self._ended:
            self.failed.emit(number, error)

    def _offer(self, number: int, job: Job) -> None:
        """Work out the offers while nothing newer is waiting; they only depend on brief, construct and lay."""
        key = (job.brief, job.construct, job.lay, job.units)
        with self._condition:
            # Only when the maker pauses: offers are six builds, and an edit or the first picture should not wait.
            self._condition.wait_for(lambda: number != self._newest, timeout=QUIET_S)
        if key == self._offered_for or number != self._newest:
            return
        from dechirer.core.offers import make_offers
        from dechirer.core.stopping import Stopped, may_be_stopped

        try:
            with may_be_stopped(lambda: number != self._newest):
                offers = make_offers(job, lambda: number != self._newest)
        except Stopped:
            return
        if number == self._newest and not self._ended:
            self._offered_for = key
            self.offered.emit(offers)
