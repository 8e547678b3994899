"""The one place that calls the stations in order: a job in, a plan out.

Each station's result is remembered by the content of what it was made from, so an edit recomputes only what
depends on it. A plan is immutable; views draw it and never compute.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, TypeVar

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan, make_brief
from dechirer.core.brief.checks import CHECKS as BRIEF_CHECKS
from dechirer.core.brief.checks import BriefContext
from dechirer.core.construct.checks import CHECKS as CONSTRUCT_CHECKS
from dechirer.core.construct.checks import ConstructContext
from dechirer.core.construct.construct import ConstructPlan, make_construct
from dechirer.core.dress.dressed import DressPlan, undressed
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, sort_findings, verdict_of
from dechirer.core.job.model import Job
from dechirer.core.lay.checks import CHECKS as LAY_CHECKS
from dechirer.core.lay.checks import LayContext
from dechirer.core.lay.lay import LayPlan, make_lay
from dechirer.core.run.checks import CHECKS as RUN_CHECKS
from dechirer.core.run.checks import RunContext
from dechirer.core.run.run import RunPlan, make_run

STATIONS: tuple[str, ...] = ("brief", "construct", "dress", "lay", "run")
"""The stations that work so far, in the order of work."""

Result = TypeVar("Result")


class PlanCancelled(Exception):  # noqa: N818 - it is not an error: a newer plan is wanted
    """The caller asked to stop: what was made so far is dropped."""


class Plan(Struct, frozen=True):
    """All that follows from a job. `whole` is the construct with every line and piece of the dress."""

    job: Job
    brief: BriefPlan
    construct: ConstructPlan
    dress: DressPlan
    whole: ConstructPlan
    lay: LayPlan
    run: RunPlan
    findings: tuple[Finding, ...]
    figures: dict[str, Figure]

    def findings_at(self, station: str) -> tuple[Finding, ...]:
        """The findings that count towards a station's verdict."""
        return tuple(finding for finding in self.findings if finding.station == station)

    def verdict(self, station: str) -> str:
        """`clear`, `look` or `stop`."""
        return verdict_of(self.findings_at(station))

    @property
    def stops(self) -> int:
        """How many findings stop the job."""
        return sum(finding.severity == "stop" for finding in self.findings)


class Planner:
    """Makes plans and remembers the last few results of each station."""

    REMEMBERED = 24

    def __init__(self) -> None:
        self._memory: dict[tuple[str, Hashable], Any] = {}
        self._latest: Plan | None = None

    def plan(
        self,
        job: Job,
        *,
        cancelled: Callable[[], bool] = lambda: False,
        progress: Callable[[str], None] = lambda station: None,
        coarse: bool = False,
    ) -> Plan:
        """Make the plan of a job.

        Args:
            job: what the maker decided.
            cancelled: asked between and within stations.
            progress: told the name of each station as it begins.
            coarse: outlines of the dress may be rough, for a picture while something is dragged.

        Raises:
            PlanCancelled: `cancelled` said yes.
        """

        def room(name: str, key: Hashable, make: Callable[[], Result]) -> Result:
            if cancelled():
                raise PlanCancelled
            progress(name)
            return self._recall((name, key), make, cancelled)

        brief = room("brief", job.brief, lambda: make_brief(job.brief))
        construct = room(
            "construct",
            (job.brief, job.construct, job.units, job.lay.margin),
            lambda: make_construct(job.brief, job.construct, brief, job.units, job.lay.margin.mm),
        )
        dress = room(
            "dress",
            (job.brief, job.construct, job.units, job.lay.margin, job.dress, coarse),
            lambda: _dress(job, brief, construct, cancelled, coarse),
        )
        machine = job.brief.machine
        if coarse and self._latest is not None:
            # While something is dragged only its own station is worked out; mats and run follow when it is let go.
            return self._sketch(job, brief, construct, dress, self._latest)
        lay = room(
            "lay",
            (dress.pieces, job.brief.papers, job.lay, machine),
            lambda: make_lay(dress.pieces, job.brief.papers, job.lay, machine, cancelled),
        )
        run = room("run", (lay, job.run, machine), lambda: make_run(lay, job.run, machine, cancelled))
        whole = structs.replace(construct, pieces=dress.pieces, piece_count=dress.piece_count)
        findings = sort_findings(
            (
                *BRIEF_CHECKS.run(BriefContext(job, brief)),
                *CONSTRUCT_CHECKS.run(ConstructContext(job, construct)),
                *_check_dress(job, brief, construct, dress),
                *LAY_CHECKS.run(LayContext(job, whole, lay)),
                *RUN_CHECKS.run(RunContext(job, brief, whole, run)),
            )
        )
        self._latest = Plan(
            job, brief, construct, dress, whole, lay, run, findings, _index(brief, construct, dress, lay, run)
        )
        return self._latest

    def _sketch(self, job: Job, brief: BriefPlan, construct: ConstructPlan, dress: DressPlan, before: Plan) -> Plan:
        """A plan for the eye alone: mats, run and findings are those of the last one that was made in full."""
        whole = structs.replace(construct, pieces=dress.pieces, piece_count=dress.piece_count)
        figures = _index(brief, construct, dress, before.lay, before.run)
        return Plan(job, brief, construct, dress, whole, before.lay, before.run, before.findings, figures)

    def _recall(self, key: tuple[str, Hashable], make: Callable[[], Result], cancelled: Callable[[], bool]) -> Result:
        if key in self._memory:
            result: Result = self._memory.pop(key)
        else:
            result = make()
            if cancelled():  # a station that was told to stop gives half a result, not to be remembered
                raise PlanCancelled
        self._memory[key] = result
        while len(self._memory) > self.REMEMBERED:
            del self._memory[next(iter(self._memory))]
        return result


def _dress(
    job: Job, brief: BriefPlan, construct: ConstructPlan, cancelled: Callable[[], bool], coarse: bool
) -> DressPlan:
    """The dress; its room is imported only for a card with something on it."""
    if not job.dress.items:
        return undressed(construct)
    from dechirer.core.dress.dress import make_dress

    return make_dress(job.brief, job.dress, brief, construct, cancelled, coarse)


def _check_dress(job: Job, brief: BriefPlan, construct: ConstructPlan, dress: DressPlan) -> tuple[Finding, ...]:
    if not job.dress.items:
        return ()
    from dechirer.core.dress.checks import CHECKS, DressContext

    return CHECKS.run(DressContext(job, brief, construct, dress))


def make_plan(job: Job) -> Plan:
    """Make the plan of a job once, from nothing."""
    return Planner().plan(job)


def _index(*parts: BriefPlan | ConstructPlan | DressPlan | LayPlan | RunPlan) -> dict[str, Figure]:
    """Every figure by key, those it comes from included."""
    found: dict[str, Figure] = {}
    for part in parts:
        for top in part.figures():
            for _, figure in top.walk():
                found.setdefault(figure.key, figure)
    return found
