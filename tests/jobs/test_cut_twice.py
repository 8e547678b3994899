"""Every whole job cut and made up twice by a simulated maker at a simulated machine: all that goes into the book comes
of clicks in the views at the machine and at the table, and the second plan is better for it."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

import pytest
from PyQt6.QtWidgets import QInputDialog, QWidget
from pytestqt.qtbot import QtBot

from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.keep.entries import Entry, MadeUp, RunDone, Spoilt, StockMoved
from dechirer.core.keep.learning import learn
from dechirer.core.keep.stock import on_shelf
from dechirer.core.lay.blanks import front_of
from dechirer.core.needs import needs_of, pens_of
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.records import CornerTrial
from dechirer.core.run.steps import MachineStep
from dechirer.desk.boxes.machine_view import MachineView
from dechirer.desk.boxes.table_view import TableView
from dechirer.desk.boxes.trial_box import TrialBox
from dechirer.desk.panels.stock_panel import StockPanel
from dechirer.desk.work.at_machine import Watch
from dechirer.desk.work.booking import booking
from dechirer.desk.work.document import Document
from dechirer.devices.cut_rehearsal import write_files
from dechirer.devices.cutter_files import read_cutter_file
from dechirer.devices.shop import Shop
from dechirer.devices.strokes import CutterFile
from dechirer.formats.trial_cut import write_trial_cut
from tests.helpers import changed
from tests.jobs.made import GOOD as CUT
from tests.jobs.made_printed import PRINTED_GOOD

GOOD = {**CUT, **PRINTED_GOOD}

WITHIN = 0.10
COUNT_AT_FIRST = 500.0
IN_THE_CORNER = "5 without slots"


class Clock:
    """A clock that goes on when work is done."""

    def __init__(self) -> None:
        self.now = 1000.0

    def __call__(self) -> float:
        return self.now


class Bench:
    """The maker's table with the views she works from, and nothing else of the window."""

    def __init__(self, qtbot: QtBot, job: Job, monkeypatch: pytest.MonkeyPatch) -> None:
        self.parent = QWidget()
        qtbot.addWidget(self.parent)
        self.document, self.clock = Document(job), Clock()
        monkeypatch.setattr("dechirer.desk.boxes.machine_view.Watch", partial(Watch, self.clock))
        self._monkeypatch, self._qtbot = monkeypatch, qtbot

    def run(self, plan: Plan, shop: Shop, files: dict[str, CutterFile]) -> None:
        """Work through the steps at the machine."""
        box = MachineView(plan, self.document, self.parent)
        box.anew.click()
        while not box.is_over:
            step = box.steps[box.progress.step]
            self.clock.now += seconds_of(step, shop, files)
            why = shop.spoils() if step.kind == "unload" else ""
            if why:
                self._monkeypatch.setattr(QInputDialog, "getItem", lambda *_, why=why, **__: (why, True))
                box.spoil.click()
            box.done_.click()
        self._close(box)

    def make_up(self, plan: Plan, shop: Shop) -> None:
        """Work through the steps at the table, each for all cards."""
        box = TableView(plan, self.document, self.parent)
        usual = making_seconds(plan)
        box.anew.click()
        while not box.is_over:
            self.clock.now += shop.by_hand(usual[box.progress.step])
            box.done_.click()
        self._close(box)

    def _close(self, box: MachineView) -> None:
        self._qtbot.waitUntil(lambda: "stands in the book" in box.more.text(), timeout=20_000)
        box.close()


def files_of(plan: Plan) -> dict[str, CutterFile]:
    with tempfile.TemporaryDirectory() as folder:
        write_files(plan, Path(folder))
        return {layout.id: read_cutter_file(Path(folder) / "mats" / f"{layout.id}.svg") for layout in plan.lay.layouts}


def count_stock(bench: Bench, plan: Plan) -> None:
    """Type in how much there is of everything the job takes."""
    panel = StockPanel(bench.document)
    panel.show_stock(plan, {})
    for row in range(panel.table.rowCount()):
        cell = panel.table.item(row, 1)
        assert cell is not None
        cell.setText(f"{COUNT_AT_FIRST:g}")
    booking.wait()
    panel.deleteLater()


def try_corner(bench: Bench, plan: Plan, shop: Shop, load: int) -> None:
    """Cut the cross, measure it and type in where it lies."""
    layout = next(each for each in plan.lay.layouts if each.is_blank)
    placed, mat = layout.placements[0], layout.sheet.mat
    front = front_of(placed.piece)
    size = (front.height, front.width) if placed.turned else (front.width, front.height)
    box = TrialBox(shop.machine.name, mat, size, "mm", lambda found: booking.keep([found]), bench.parent)
    across, down = shop.try_corner(write_trial_cut(mat, *size), mat, load)
    box.across.setText(f"{across:.2f}")
    box.down.setText(f"{down:.2f}")
    box.take.click()
    booking.wait()


@pytest.fixture
def bench(qtbot: QtBot, monkeypatch: pytest.MonkeyPatch) -> Iterator[Callable[[Job], Bench]]:
    made: list[Bench] = []

    def begin(job: Job) -> Bench:
        made.append(Bench(qtbot, job, monkeypatch))
        return made[-1]

    yield begin
    for each in made:
        each.document.end()


def seconds_of(step: MachineStep, shop: Shop, files: dict[str, CutterFile]) -> float:
    """How long a step takes; pages were printed the day before, and are dry."""
    return 0.0 if step.words == "Let the print dry" else shop.step_seconds(step, files)


def at_the_cutter(plan: Plan) -> float:
    """How long a plan says the run takes at the cutter."""
    before = ("run.printing", "run.drying", "run.film")
    minutes = plan.run.minutes
    return minutes.value - sum(each.value for each in minutes.inputs if each.key in before)


def at_work(plan: Plan) -> float:
    """How long a plan says the making up takes without waiting for glue: this maker does something else then."""
    minutes = plan.making_up.schedule.minutes
    return minutes.value - sum(each.value for each in minutes.inputs if each.key == "fold.waiting")


def run_minutes(plan: Plan, shop: Shop) -> float:
    """How long the run takes on some other day."""
    files = files_of(plan)
    return sum(seconds_of(step, shop, files) for step in plan.machine_steps()) / 60


def making_seconds(plan: Plan) -> list[float]:
    """How long each step of making up takes others, for all cards."""
    raw, count = {step.id: step for step in plan.making_up.proposed}, plan.job.brief.count
    order = [raw[step.id] for step in plan.making_up.steps]
    return [step.setup_s + count * step.hands_s / plan.job.fold.hands for step in order]


def making_minutes(plan: Plan, shop: Shop) -> float:
    """How long the making up takes on some other day."""
    return sum(shop.by_hand(usual) for usual in making_seconds(plan)) / 60


def minutes_of(kind: type[RunDone | MadeUp]) -> float:
    """How long the last of its kind took."""
    booking.forget()
    found = [each for each in booking.entries() if isinstance(each, kind)]
    return found[-1].minutes


@pytest.mark.parametrize("name", list(GOOD))
def test_the_second_plan_of_a_job_is_better_than_the_first(name: str, bench: Callable[[Job], Bench]) -> None:
    job = GOOD[name]()
    job = changed(job, brief__count=max(4, job.brief.count)) if not job.dress.copies.rows else job
    first, shop = make_plan(job), Shop(job.brief.machine, seed=len(name) + ord(name[0]))
    at = bench(job)
    files = files_of(first)
    count_stock(at, first)
    for load in range(3 if name == IN_THE_CORNER else 0):
        try_corner(at, first, shop, load)
    at.run(first, shop, files)
    at.make_up(first, shop)
    ran, made = minutes_of(RunDone), minutes_of(MadeUp)

    learned = learn(booking.entries())
    second = make_plan(apply_changes(job, [Change("keep.learned", learned)]))
    entries: tuple[Entry, ...] = booking.entries()
    spoilt = sum(each.sheets for each in entries if isinstance(each, Spoilt))
    shelf = on_shelf(each for each in entries if isinstance(each, StockMoved))
    pens = pens_of(first)
    papers = {paper.name for paper in job.brief.papers}
    for item, need in needs_of(first).items():
        used = 0.0 if item in pens else need
        left = COUNT_AT_FIRST - used - shelf[item].amount
        assert left == pytest.approx(0, abs=1e-6) or (item in papers and 0 < left <= spoilt), item
    if not first.run.mats:
        return
    assert second.keeping.spares.value >= first.keeping.spares.value or not spoilt
    assert ("learned from" in second.keeping.spares.source) == bool(ran)

    at.run(second, shop, files_of(second))
    at.make_up(second, shop)
    again, remade = minutes_of(RunDone), minutes_of(MadeUp)
    times = [(again, remade), *((run_minutes(second, shop), making_minutes(second, shop)) for _ in range(7))]
    truly, made_truly = (sum(each) / len(times) for each in zip(*times, strict=True))
    assert at_the_cutter(second) == pytest.approx(truly, rel=WITHIN), (at_the_cutter(first), ran)
    assert at_work(second) == pytest.approx(made_truly, rel=WITHIN), (at_work(first), made)
    if name == IN_THE_CORNER:
        (trial, *_) = (each for each in entries if isinstance(each, CornerTrial))
        assert trial.right == pytest.approx(shop.corner[0], abs=0.3)
        place, before = (
            next(each for each in plan.lay.layouts if each.is_blank).placements[0].box for plan in (second, first)
        )
        moved = (before.left - place.left, before.top - place.top)
        assert moved == pytest.approx(shop.corner, abs=0.15)
