"""A job to begin with, from a few words: for the command line's quick job and for a new card in the window."""

from __future__ import annotations

from dechirer.core.brief.decisions import Brief, Paper
from dechirer.core.brief.machine import load_machines
from dechirer.core.card.fold import Fold
from dechirer.core.construct.attachments.liner import Liner
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.letters import find_unfit
from dechirer.core.decide.values import Size
from dechirer.core.job.model import Job, JobError, Units, from_plain, to_plain
from dechirer.core.length import Length, parse_length
from dechirer.core.run.decisions import Run

CARD_PAPER = "card"
LINER_PAPER = "liner-paper"
TOOLS_AT_FIRST = ("thin-card-blade", "creasing-point", "pen")
"""What a maker is taken to own: words are drawn with a pen at first, and hardly anybody has none."""


def make_job(
    *,
    construction: str = "",
    size: tuple[Length, Length] | None = None,
    count: int = 1,
    liner: Length | None = None,
    weight: str = "110 lb cover",
    sheet: tuple[Length, Length] | None = None,
    machine: str = "heron-12",
    fold: str = "score",
    units: Units = "in",
    name: str = "Untitled card",
) -> Job:
    """Make a job; what is not said is a 5 x 7 in folded card on 12 x 12 in sheets of 110 lb cover.

    Args:
        construction: the id of a construction; the first one when it is empty.
        liner: reveal on each side, or None for no liner.
        fold: how folds are marked.

    Raises:
        JobError: a value is out of range; an unknown machine or construction lists the right ones.
    """
    unfit = find_unfit(name)
    if unfit:
        raise JobError(f"field name: character {unfit} is not supported")
    machines = load_machines()
    if machine not in machines:
        raise JobError(f"machine “{machine}” is not one of {', '.join(machines)}")
    width, height = size or (parse_length("5 in"), parse_length("7 in"))
    sheet_size = sheet or (parse_length("12 in"), parse_length("12 in"))
    try:
        papers = (
            Paper(CARD_PAPER, "card", "#E9E1D0", weight, Size(*sheet_size)),
            Paper(LINER_PAPER, "liner paper", "#FBFBF6", "80 lb text", Size(*sheet_size)),
        )
        construction = construction or next(iter(CONSTRUCTIONS)).id
        brief = Brief(construction, width, height, count, papers, CARD_PAPER, machines[machine])
        lined = Liner(liner, LINER_PAPER) if liner is not None else None
        construct = Construct(fold=Fold(kind=fold), liner=lined)  # type: ignore[arg-type,call-arg]
        run = Run(tools=TOOLS_AT_FIRST)
        job = Job(name=name, brief=brief, units=units, construct=construct, run=run)  # type: ignore[call-arg]
    except ValueError as error:
        raise JobError(str(error)) from None
    return from_plain(to_plain(job))
