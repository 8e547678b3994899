"""Jobs laid together: one is opened, the others are its guests on common mats, in one run."""

from __future__ import annotations

import re
from typing import Any

from msgspec import structs

from dechirer.core.decide.change import Change
from dechirer.core.job.model import Job, write_job_compact
from dechirer.core.job.papers import make_paper_id
from dechirer.core.lay.decisions import MOST_GUESTS, MOST_JOB_LETTERS, Guest, PaperPair
from dechirer.core.lay.guests import Other, same_paper
from dechirer.core.plan import make_plan, other_of


class TogetherError(ValueError):
    """A job that cannot be laid with another; the message says why."""


def plan_other(job: Job) -> Other:
    """What a job would bring, checked."""
    return other_of(make_plan(alone(job)))


def alone(job: Job) -> Job:
    """The job without guests of its own."""
    return structs.replace(job, lay=structs.replace(job.lay, guests=()))


def invite(job: Job, other: Job, brings: Other) -> tuple[Change, ...]:
    """The changes that lay another job with this one. Papers that are the same are shared, others join those on hand.

    Raises:
        TogetherError: it is printed, has findings that stop it, or there are too many guests.
    """
    if brings.is_printed:
        raise TogetherError(f"“{other.name}” is printed; its pages are cut on mats of their own, so plan it by itself")
    if brings.stops:
        told = "a finding that stops" if brings.stops == 1 else f"{brings.stops} findings that stop"
        raise TogetherError(f"“{other.name}” has {told} it; open it and mend that first")
    if len(job.lay.guests) >= MOST_GUESTS:
        raise TogetherError(f"a job is laid with up to {MOST_GUESTS} others")
    text = write_job_compact(alone(other)).decode()
    if len(text) > MOST_JOB_LETTERS:
        raise TogetherError(f"“{other.name}” is too large to be laid with another job")
    papers, pairs = list(job.brief.papers), []
    used = {piece.paper for piece in brings.pieces}
    for paper in other.brief.papers:
        if paper.id not in used:
            continue
        ours = next((each for each in papers if same_paper(each, paper)), None)
        if ours is None:
            trial: Any = structs.replace(job, brief=structs.replace(job.brief, papers=tuple(papers)))
            ours = structs.replace(paper, id=make_paper_id(trial, paper.name))
            papers.append(ours)
        pairs.append(PaperPair(paper.id, ours.id))
    guest = Guest(_make_id(job, other.name), other.name, text, tuple(pairs), _letter(job))
    changes = [Change("lay.guests", (*job.lay.guests, guest))]
    if len(papers) > len(job.brief.papers):
        changes.insert(0, Change("brief.papers", tuple(papers)))
    return tuple(changes)


def send_away(job: Job, guest: str) -> Change:
    """The change that takes a guest off the mats; its papers stay on hand."""
    return Change("lay.guests", tuple(each for each in job.lay.guests if each.id != guest))


def _make_id(job: Job, name: str) -> str:
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:24] or "job"
    stem = stem if stem[0].isalpha() else f"job-{stem}"
    taken = {each.id for each in job.lay.guests}
    return next(each for each in (stem, *(f"{stem}-{number}" for number in range(2, 99))) if each not in taken)


def _letter(job: Job) -> str:
    """A small letter that stands before the letters of a guest's pieces."""
    taken = {each.letter for each in job.lay.guests}
    return next(letter for letter in "bcdefghijklmnopqrstuvwxyz" if letter not in taken)
