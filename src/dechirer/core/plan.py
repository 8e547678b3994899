"""The one place that works out the stations' parts in their order: a job in, a plan out.

Each part's result is remembered by what it was made from, so an edit works out only what depends on it. A plan is
immutable; views draw it and never compute.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.station import BRIEF
from dechirer.core.card.stack import Stacked
from dechirer.core.construct.station import CARD, CONSTRUCT
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.dress.setting import in_set_papers
from dechirer.core.dress.station import DRESS, STACK, stack_copy
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, sort_findings, verdict_of
from dechirer.core.fold.bulk import Bulk, find_bulk
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.fold.station import FOLD
from dechirer.core.job.model import Job, JobError, read_job_json
from dechirer.core.keep.keeping import KeepPlan
from dechirer.core.keep.station import KEEP
from dechirer.core.lay.guests import Other
from dechirer.core.lay.lay import LayPlan
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.slots import SlotRow, slot_rows
from dechirer.core.lay.station import LAY, find_whole
from dechirer.core.memory import Memory, Same
from dechirer.core.press.station import PRESS
from dechirer.core.run.run import RunPlan
from dechirer.core.run.station import RUN
from dechirer.core.run.steps import MachineStep, Printing, walk_run
from dechirer.core.stations import STATIONS, Cost, Known, Part, Work, figures_of
from dechirer.core.stopping import Stopped, asked_now, may_be_stopped
from dechirer.core.words import plural

Result = TypeVar("Result")


PlanCancelled = Stopped
"""The caller asked to stop: what was made so far is dropped."""


class Plan(Struct, frozen=True):
    """All that follows from a job: the results of all parts by id, the findings and the figures.

    `whole` is the card with every line and piece of the dress.
    """

    job: Job
    made: dict[str, Any]
    findings: tuple[Finding, ...]
    figures: dict[str, Figure]
    whole: ConstructPlan

    def part(self, part: Part[Result]) -> Result:
        """What a part has made.

        Raises:
            KeyError: the plan has no such part.
        """
        found: Result = self.made[part.id]
        return found

    @property
    def brief(self) -> BriefPlan:
        """The brief's figures."""
        return self.part(BRIEF)

    @property
    def construct(self) -> ConstructPlan:
        """The card without its dress, and what goes round it."""
        return self.part(CONSTRUCT)

    @property
    def stacked(self) -> Stacked:
        """The card as it will be: what lies on what, and how it folds."""
        return self.part(STACK)

    @property
    def dress(self) -> DressPlan:
        """What is on the faces."""
        return self.part(DRESS)

    def as_copy(self, number: int) -> Plan:
        """The plan with one kind of copies in front, for looking at it; the same for the first."""
        dress = self.dress.as_copy(number)
        if dress is self.dress:
            return self
        stacked = in_set_papers(stack_copy(self.part(CARD), self.brief, dress), dress, self.job.brief, number)
        return structs.replace(self, made={**self.made, DRESS.id: dress, STACK.id: stacked})

    @property
    def lay(self) -> LayPlan:
        """The mats."""
        return self.part(LAY)

    def slots_of(self, layout: MatLayout) -> tuple[SlotRow, ...]:
        """What lies in which slot of a load of blanks; nothing for a sheet."""
        return slot_rows(layout, self.dress.copies, self.construct.pieces, self.job.brief)

    def machine_steps(self) -> tuple[MachineStep, ...]:
        """The run as steps at the machines."""
        press = self.job.press
        printing = {
            layout.id: Printing(press.dry_minutes, press.film != "none")
            for layout in self.lay.layouts
            if layout.sheet.printable is not None
        }
        papers = {paper.id: paper.name for paper in self.job.brief.papers}
        return walk_run(self.run.mats, self.job.brief.machine.name, papers, printing, self.job.units)

    @property
    def run(self) -> RunPlan:
        """The run."""
        return self.part(RUN)

    @property
    def making_up(self) -> MakingPlan:
        """How the parts are put together."""
        return self.part(FOLD)

    def find_bulk(self) -> Bulk:
        """How thick the closed card is where; worked out when it is looked at."""
        return find_bulk(self.stacked.tree, self.stacked.slabs)

    @property
    def keeping(self) -> KeepPlan:
        """What was learned, and what it comes to."""
        return self.part(KEEP)

    @property
    def known(self) -> Known:
        """What is known, as the stations' own words about themselves are told it."""
        return _known(self.job, self.made, Memory())

    def findings_at(self, station: str) -> tuple[Finding, ...]:
        """The findings that count towards a station's verdict."""
        return tuple(finding for finding in self.findings if finding.station == station)

    def verdict(self, station: str) -> str:
        """`clear`, `look` or `stop`."""
        return verdict_of(self.findings_at(station))

    def live(self, station: str) -> str:
        """The one live figure of a station, in words."""
        return STATIONS[station].live(self.known)

    def costs(self) -> tuple[Cost, ...]:
        """The consequences line, in its order."""
        known = self.known
        found = [cost for spec in STATIONS for cost in spec.costs(known)]
        found.append(Cost("stops", str(self.stops), plural(self.stops, "stop"), 100))
        return tuple(sorted(found, key=lambda cost: cost.order))

    @property
    def stops(self) -> int:
        """How many findings stop the job."""
        return sum(finding.severity == "stop" for finding in self.findings)


class Planner:
    """Makes plans, and remembers what they were made of."""

    def __init__(self) -> None:
        self.memory = Memory()
        self._latest: Plan | None = None

    def plan(
        self,
        job: Job,
        *,
        cancelled: Callable[[], bool] | None = None,
        progress: Callable[[str], None] = lambda station: None,
        doing: Callable[[str, str | None], None] = lambda what, item: None,
        coarse: bool = False,
        dragged_from: Job | None = None,
    ) -> Plan:
        """Make the plan of a job.

        Args:
            job: what the maker decided.
            cancelled: asked between and within parts; None for what this thread's checkpoints ask already.
            progress: told the id of each station as it begins.
            doing: told what long work is at, and the id of the item it is done for (empty: none; None: the same still).
            coarse: outlines of the dress may be rough, for a picture while something is dragged. Only what the eye
                needs is worked out then; mats, run and findings are those of the last plan that was made in full.
            dragged_from: the job before the drag, where it is known: with another one's mats nothing is shown.

        Raises:
            PlanCancelled: `cancelled` said yes.
        """
        cancelled = cancelled or asked_now()
        with may_be_stopped(cancelled, doing):
            latest = self._latest if coarse else None
            if latest is not None and dragged_from is not None and latest.job is not dragged_from:
                latest = None
            return self._plan(job, Work(self.memory, cancelled, coarse, self._plan_other), progress, latest)

    def _plan_other(self, text: str) -> Other:
        """What a job given as text brings; remembered by its text."""

        def make() -> Other:
            try:
                job = read_job_json(text.encode())
            except JobError as error:
                return Other(why=str(error))
            lay = structs.replace(job.lay, guests=())  # a guest brings no guests of its own
            return other_of(make_plan(structs.replace(job, lay=lay)))

        return self.memory.recall(("other job", text), make)

    def _plan(self, job: Job, work: Work, progress: Callable[[str], None], latest: Plan | None) -> Plan:
        """Make it; a sketch takes from the latest plan what is skipped while something is dragged."""
        cancelled = work.cancelled
        made: dict[str, Any] = {}
        known = _known(job, made, work.memory)
        for part in STATIONS.parts():
            if cancelled():
                raise PlanCancelled
            if latest is not None and part.skipped_while_dragged:
                made[part.id] = latest.made[part.id]
                continue
            progress(part.station)
            made[part.id] = self._make(part, known, work)
            if part.revises is not None:
                earlier, revised = part.revises
                made[earlier] = revised(made[part.id])
        figures, whole = figures_of(made.values()), find_whole(known)
        if latest is not None:
            return Plan(job, made, latest.findings, figures, whole)
        plan = Plan(job, made, find_findings(known), figures, whole)
        if not work.coarse:
            self._latest = plan
        return plan

    def _make(self, part: Part[Any], known: Known, work: Work) -> Any:
        """A part's result, from memory where nothing it reads has changed."""
        read = part.reads(known)

        def make() -> Any:
            result = part.make(*read, work)
            if work.cancelled():  # a part that was told to stop gives half a result, not to be remembered
                raise PlanCancelled
            return result

        return self.memory.recall((part.id, work.coarse, *(_key(value) for value in read)), make)


def _key(value: Any) -> Any:
    """A decision by its content, a result by itself: telling large results apart in depth would cost more."""
    return Same(value) if hasattr(value, "figures") else value


def _known(job: Job, made: dict[str, Any], memory: Memory) -> Known:
    return Known(job.units, {spec.decisions: getattr(job, spec.id) for spec in STATIONS}, made, memory)


def find_findings(known: Known) -> tuple[Finding, ...]:
    """The findings of every part, worst first, otherwise in the order of the stations."""
    checks = [part.check for spec in STATIONS for part in spec.parts if part.check is not None]
    return sort_findings(finding for check in checks for finding in check(known))


def other_of(plan: Plan) -> Other:
    """What a planned job brings when it is laid with another."""
    return Other(plan.part(PRESS).pieces, plan.stops)


def make_plan(job: Job) -> Plan:
    """Make the plan of a job once, from nothing."""
    return Planner().plan(job)
