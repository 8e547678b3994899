"""The command line of Lay: a closer lay looked for before files are written."""

from __future__ import annotations

from msgspec import structs

from dechirer.cli.saying import BadInput, say
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.closer import as_closer, keep_closer, least_sheets, sheets_now
from dechirer.core.lay.lay import asks_for
from dechirer.core.lay.wanted import wanted
from dechirer.core.laying_together import TogetherError, invite, plan_other
from dechirer.core.plan import make_plan
from dechirer.core.press.station import PRESS


def lay_closer(job: Job, rounds: int) -> Job:
    """The job with the closer layouts that so many rounds find; the same ones on any machine."""
    from dechirer.core.lay.nesting.worker import look_for, sheets_of

    made = make_plan(job)
    pieces = wanted((*made.part(PRESS).pieces, *made.lay.guest_pieces), job.lay)
    lay = job.lay
    for ask in asks_for(pieces, job.brief.papers, job.lay, job.brief.machine, made.lay.layouts):
        now, least = sheets_now(made.lay.layouts, ask), least_sheets(ask)
        if now <= least:
            continue
        *_, best = look_for(ask, rounds)
        name = job.brief.paper(ask.paper).name
        if len(best.sheets) < now:
            lay = structs.replace(lay, closer=keep_closer(lay, as_closer(ask, sheets_of(best))))
        say(f"{name}: {min(now, len(best.sheets))} sheets, {now} as boxes, at least {least}", err=True)
    return apply_changes(job, [Change("lay.closer", lay.closer)])


def lay_together(job: Job, others: list[Job]) -> Job:
    """The job with others as its guests on common mats.

    Raises:
        BadInput: one of them is printed, or has findings that stop it.
    """
    for other in others:
        try:
            job = apply_changes(job, invite(job, other, plan_other(other)))
        except TogetherError as error:
            raise BadInput(str(error)) from None
    return job
