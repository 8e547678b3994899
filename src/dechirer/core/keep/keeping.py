"""What of the book matters to a job: how long it will really take, how many spares to cut, what its papers hold."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.figure import Figure
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.keep.decisions import Keep
from dechirer.core.keep.estimates import SPOILED_BEFORE, SPOILED_WEIGHT, spares_for
from dechirer.core.learned import Learned, find_learned
from dechirer.core.run.run import RunPlan
from dechirer.core.stations import Work

NOTHING_YET = "Nothing is learned yet: work from the views at the machine and at the table, and the book learns."


class KeepPlan(Struct, frozen=True):
    """What a job is told by what it has learned.

    Attributes:
        minutes: machines and making up together; `low` and `high` are the band it lies in.
        spares: how many cards more to cut.
        webs: of papers of the job, the narrowest web that was learned, by the paper's id.
    """

    minutes: Figure
    low: float
    high: float
    spares: Figure
    webs: dict[str, Learned]

    def figures(self) -> tuple[Figure, ...]:
        """Its figures."""
        return (self.minutes, *self.minutes.inputs, self.spares)


def make_keeping(count: int, facts: BriefPlan, run: RunPlan, making: MakingPlan, own: Keep, work: Work) -> KeepPlan:
    """What the learned values of a job come to."""
    machine, table = run.minutes, making.schedule.minutes
    used = own.used
    total = Figure(
        "keep.minutes",
        "time in all",
        machine.value + table.value,
        "minutes",
        formula="{" + machine.name + "} + {" + table.name + "}",
        inputs=(machine, table),
        note="With what was learned of your own pace." if used else NOTHING_YET,
    )
    low, high = _band(used, machine.value, "time"), _band(used, table.value, "making")
    known = find_learned(used, "spoiled")
    return KeepPlan(
        total,
        low[0] + high[0],
        low[1] + high[1],
        _spares(count, known, own.certainty),
        {
            paper.paper.id: found
            for paper in facts.papers
            if (found := find_learned(used, f"web.{paper.paper.name}")) is not None
        },
    )


def _band(used: tuple[Learned, ...], minutes: float, prefix: str) -> tuple[float, float]:
    """The least and the most minutes by the intervals of what was learned; a third either way where nothing was."""
    own = [each for each in used if each.key.startswith(f"{prefix}.") and each.value > 0]
    if not own:
        return minutes / 1.33, minutes * 1.33
    low = sum(each.low / each.value for each in own) / len(own)
    high = sum(each.high / each.value for each in own) / len(own)
    return minutes * low, minutes * high


def _spares(count: int, known: Learned | None, certainty: float) -> Figure:
    of = known.count if known is not None else 0
    share = known.value if known is not None else SPOILED_BEFORE
    bad = max(0, round(share * (SPOILED_WEIGHT + of) - SPOILED_BEFORE * SPOILED_WEIGHT))
    spares = spares_for(count, bad, of, certainty)
    rests = known.rests_on if known is not None else "from memory; nothing was counted yet"
    return Figure(
        "keep.spares",
        "spares to cut",
        float(spares),
        "count",
        source=f"{100 * share:.1f} % of sheets are spoiled ({rests}); with {count + spares} cut, {count} are good in "
        f"{100 * certainty:.0f} of 100 cases",
    )
