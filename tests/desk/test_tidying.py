"""Values in circles are looked for in pauses; memory is one heap."""

from __future__ import annotations

import gc
import subprocess
import sys
import threading
import time
import weakref
from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import QEvent, QObject
from PyQt6.QtGui import QPixmap, QPixmapCache
from PyQt6.QtWidgets import QApplication, QDialog
from pytestqt.qtbot import QtBot

from dechirer.core.job.model import Job
from dechirer.core.memory import until_forgotten
from dechirer.core.stopping import checkpoint
from dechirer.desk.work.beside import Beside
from dechirer.desk.work.small_pictures import SmallPictures
from dechirer.desk.work.tidying import MOST_PLANS, MOST_S, Tidier, count_new, give_back
from tests.desk.conftest import Desk
from tests.helpers import quick_job


class Ring:
    """Something that holds itself."""

    def __init__(self) -> None:
        self.own = self


@pytest.fixture
def as_before() -> Iterator[None]:
    yield
    gc.unfreeze()
    gc.enable()


def test_circles_go_in_a_pause_after_a_plan_and_not_before(open_desk: Callable[[Job], Desk], as_before: None) -> None:
    desk = open_desk(quick_job("5x7in"))
    holder = QObject(desk.window)
    tidier = Tidier(desk.room.document, holder)
    assert not gc.isenabled()  # no other thread comes upon a widget
    for pause in tidier._pauses:
        pause.setInterval(60)
    old = Ring()
    gone = weakref.ref(old)
    gc.collect()  # it is among the oldest now, which are not looked through by themselves
    del old
    for _ in range(3):
        desk.type_number("brief-card", "brief.width", "6 in" if _ % 2 else "5 1/2 in")
        desk.settle()
    desk.qtbot.waitUntil(lambda: gone() is None, timeout=3_000)
    assert gc.get_freeze_count() > 0  # what was looked through once is left alone
    holder.deleteLater()


def test_many_plans_without_a_pause_leave_no_circles(open_desk: Callable[[Job], Desk], as_before: None) -> None:
    desk = open_desk(quick_job("5x7in"))
    holder = QObject(desk.window)
    tidier = Tidier(desk.room.document, holder)
    for pause in tidier._pauses:
        pause.setInterval(3_600_000)
    ring = Ring()
    gone = weakref.ref(ring)
    del ring
    for _ in range(MOST_PLANS - 1):
        desk.room.document.planned.emit()
    assert gone() is not None
    desk.room.document.planned.emit()
    assert gone() is None
    holder.deleteLater()


def test_values_of_a_large_job_are_not_looked_through_while_the_maker_may_come_back(
    open_desk: Callable[[Job], Desk], as_before: None
) -> None:
    desk = open_desk(quick_job("5x7in"))
    holder = QObject(desk.window)
    tidier = Tidier(desk.room.document, holder)
    looks: list[str] = []

    def tell(phase: str, _about: dict[str, int]) -> None:
        looks.append(phase)

    gc.callbacks.append(tell)
    try:
        tidier.tidy()
        assert "start" in looks
        looks.clear()
        many = [[number] for number in range(round(1.2 * MOST_S / tidier._s_each))]
        tidier.tidy()
        assert not looks
        assert gc.get_freeze_count() > len(many)  # they do not stand in the way of what comes next
        ring = Ring()
        gone = weakref.ref(ring)
        del ring
        tidier.tidy_all()
        assert gone() is None
        assert gc.get_freeze_count() > len(many)
    finally:
        gc.callbacks.remove(tell)
    old = Ring()
    gone = weakref.ref(old)
    gc.freeze()
    del old, many
    tidier._s_each = 1e-9  # a quick machine
    tidier.tidy_all()
    assert gone() is None
    holder.deleteLater()


def test_what_follows_from_a_job_is_forgotten_in_a_long_pause_and_when_it_is_closed(
    open_desk: Callable[[Job], Desk], as_before: None
) -> None:
    made: list[int] = []

    @until_forgotten(8)
    def note(number: int) -> int:
        made.append(number)
        return number

    desk = open_desk(quick_job("5x7in"))
    holder = QObject(desk.window)
    tidier = Tidier(desk.room.document, holder)
    note(1)
    tidier.tidy()
    note(1)
    assert made == [1]
    tidier.tidy_all()
    note(1)
    assert made == [1, 1]
    desk.room.end()
    note(1)
    assert made == [1, 1, 1]
    holder.deleteLater()


def test_counting_values_leaves_those_alone_that_are_just_being_made() -> None:
    failed: list[SystemError] = []
    over = threading.Event()

    def work() -> None:
        while not over.is_set():
            try:
                assert tuple(number for number in range(40))
            except SystemError as error:
                failed.append(error)

    before = sys.getswitchinterval()
    threads = [threading.Thread(target=work) for _ in range(2)]
    sys.setswitchinterval(1e-6)
    try:
        for thread in threads:
            thread.start()
        until = time.monotonic() + 2
        while time.monotonic() < until:
            assert count_new() > 0
    finally:
        over.set()
        for thread in threads:
            thread.join()
        sys.setswitchinterval(before)
    assert not failed


def test_threads_share_one_heap() -> None:
    """Four threads that allocate make no heaps besides the first: told by glibc itself."""
    program = """
import ctypes, sys, threading
from dechirer.desk.work.tidying import use_one_heap
if sys.argv[1] == "one":
    use_one_heap()
def work():
    held = [bytes(1000) for _ in range(20000)]
threads = [threading.Thread(target=work) for _ in range(4)]
[thread.start() for thread in threads]
[thread.join() for thread in threads]
ctypes.CDLL("libc.so.6").malloc_stats()
"""
    heaps = {}
    for many in ("one", "own"):
        done = subprocess.run(
            [sys.executable, "-W", "ignore", "-c", program, many], capture_output=True, text=True, check=False
        )
        heaps[many] = done.stderr.count("Arena ")
    if not heaps["own"]:
        pytest.skip("another C library than glibc")
    assert heaps["one"] == 1
    assert heaps["own"] > 1


def test_work_beside_a_box_that_is_gone_ends_and_ends_nothing_else(qtbot: QtBot) -> None:
    """A box that is collected in another thread is deleted later by Qt: what hung on its `destroyed` was gone by then,
    and calling it ended the process (found by whole jobs in one process)."""
    ended: list[str] = []

    def work() -> None:
        try:
            while True:
                checkpoint("waiting")
                time.sleep(0.01)
        finally:
            ended.append("work")

    for _ in range(20):
        box = QDialog()
        beside, pictures = Beside(box), SmallPictures([], lambda _key, _display: None, box)
        box.hear = lambda box=box: box  # type: ignore[attr-defined] # as boxes hold themselves by their slots
        beside.run(work)
        del box, beside, pictures
        collector = threading.Thread(target=gc.collect)
        collector.start()
        collector.join()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
        QApplication.processEvents()
    qtbot.waitUntil(lambda: len(ended) == 20, timeout=20_000)


def test_what_was_freed_between_things_in_use_goes_back_to_the_system() -> None:
    """Told by the kernel (proc(5), statm): of 100 MB every thousandth block stays."""
    program = """
import os
from dechirer.desk.work.tidying import give_back, use_one_heap
def held():
    with open("/proc/self/statm") as statm:
        return int(statm.read().split()[1]) * os.sysconf("SC_PAGE_SIZE") / 1e6
use_one_heap()
blocks = [bytes(1000) for _ in range(100_000)]
kept = blocks[::1000]
blocks.clear()
before = held()
give_back()
print(round(before - held()), len(kept))
"""
    done = subprocess.run([sys.executable, "-c", program], capture_output=True, text=True, check=True)
    given, kept = (int(word) for word in done.stdout.split())
    assert kept == 100
    assert given > 60


def test_names_that_were_made_for_one_call_do_not_stay() -> None:
    """NumPy's C code makes a name anew for each call, and Python's cache of methods keeps 4,096 of them; told by what
    Python has allocated after five more plans."""
    program = """
import gc, tracemalloc
from dechirer.core.memory import forget
from dechirer.core.plan import make_plan
from dechirer.demo import load_demo_job
from dechirer.desk.work.tidying import give_back
def held():
    forget()
    gc.collect()
    give_back()
    return tracemalloc.get_traced_memory()[0]
job = load_demo_job("invitations")
for _ in range(3):
    make_plan(job)
tracemalloc.start()
make_plan(job)
before = held()
for _ in range(5):
    make_plan(job)
print(held() - before)
"""
    done = subprocess.run([sys.executable, "-W", "ignore", "-c", program], capture_output=True, text=True, check=True)
    assert int(done.stdout) < 2_000  # 6,000 to 30,000 where they stay


def test_pixmaps_that_were_painted_do_not_stay(qtbot: QtBot) -> None:
    QPixmapCache.clear()
    key = QPixmapCache.insert(QPixmap(100, 100))
    assert QPixmapCache.find(key) is not None
    give_back()
    assert QPixmapCache.find(key) is None
