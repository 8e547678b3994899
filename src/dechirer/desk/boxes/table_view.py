"""To work from at the table: the making up one step at a time in large type, each for all cards, as at the machine."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from PyQt6.QtWidgets import QWidget

from dechirer.core.from_work import making_entries
from dechirer.core.keep.entries import Entry
from dechirer.core.plan import Plan
from dechirer.core.run.steps import MachineStep
from dechirer.desk.boxes.machine_view import MachineView
from dechirer.desk.work.document import Document


class TableView(MachineView):
    """Walks through the steps of making up; where one is, is kept as at the machine."""

    name, where, kept_as = "table", "at the table", "at-the-table.json"

    def __init__(self, plan: Plan, document: Document, parent: QWidget) -> None:
        super().__init__(plan, document, parent)
        self.spoil.hide()

    def walk(self, plan: Plan) -> tuple[tuple[MachineStep, ...], float]:
        """The steps of making up, each for all cards, and how many minutes are planned for them."""
        count = plan.job.brief.count
        times = f" for all {count}" if count > 1 else ""
        steps = tuple(
            MachineStep("make", f"{step.words}{times}", " ".join(each for each in (step.more, step.why) if each))
            for step in plan.making_up.steps
        )
        return steps, plan.making_up.schedule.minutes.value

    def entries(self) -> Iterator[Entry]:
        """What goes into the book once all is done."""
        plan, hands = self._plan, self._plan.job.fold.hands
        proposed = {step.id: step for step in plan.making_up.proposed}
        stages: dict[str, tuple[float, float]] = {}
        for step, real in zip(plan.making_up.steps, self.progress.seconds, strict=False):
            before = stages.get(step.stage, (0.0, 0.0))
            raw = proposed[step.id]  # without what was learned before
            planned = raw.setup_s + plan.job.brief.count * raw.hands_s / hands
            stages[step.stage] = (before[0] + planned, before[1] + real)
        return making_entries(plan, date.today().isoformat(), stages)
