"""Plans off the GUI thread: stale ones are dropped, the latest always comes."""

from __future__ import annotations

from pytestqt.qtbot import QtBot

from dechirer.core.job.model import Job
from dechirer.desk.work.planning import PlanWorker
from tests.helpers import changed


def test_the_last_of_many_requests_is_always_answered(qtbot: QtBot, demo: Job) -> None:
    worker = PlanWorker()
    got: list[tuple[int, int]] = []
    worker.planned.connect(lambda number, plan: got.append((number, plan.job.brief.count)))
    for count in range(1, 60):
        last = worker.request(changed(demo, brief__count=count))
    qtbot.waitUntil(lambda: bool(got) and got[-1][0] == last, timeout=10_000)
    worker.end()
    assert got[-1] == (last, 59)
    assert [number for number, _ in got] == sorted({number for number, _ in got})
    assert len(got) < 59  # waiting requests were replaced, not queued


def test_a_fault_is_said_and_the_worker_goes_on(qtbot: QtBot, demo: Job) -> None:
    worker = PlanWorker()
    with qtbot.waitSignal(worker.failed, timeout=10_000) as caught:
        worker.request("not a job")  # type: ignore[arg-type]
    assert isinstance(caught.args[1], AttributeError)
    with qtbot.waitSignal(worker.planned, timeout=10_000):
        worker.request(demo)
    worker.end()
