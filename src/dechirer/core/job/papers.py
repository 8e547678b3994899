"""Adding and removing papers of a job."""

from __future__ import annotations

import re

import msgspec

from dechirer.core.brief.decisions import Paper
from dechirer.core.decide.change import Change, value_at
from dechirer.core.decide.papers import papers_in
from dechirer.core.job.edit import find_slot, title_of
from dechirer.core.job.model import Job
from dechirer.core.stations import STATIONS

BASE = "brief.base_paper"


def add_paper(job: Job, like: str) -> tuple[Change, ...]:
    """The change that adds a paper like another one, with a name and id of its own; the card stays on its own.

    Raises:
        StopIteration: no paper is called `like`.
    """
    model = next(paper for paper in job.brief.papers if paper.id == like)
    names = {paper.name for paper in job.brief.papers}
    name = next(each for each in (f"{model.name} {number}" for number in range(2, 1000)) if each not in names)
    paper = msgspec.structs.replace(model, id=make_paper_id(job, name), name=name, on_hand=None)
    return (Change("brief.papers", (*job.brief.papers, paper)),)


def make_paper_id(job: Job, name: str) -> str:
    """An id from a paper's name that no paper of the job has."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:30] or "paper"
    stem = stem if stem[0].isalpha() else f"paper-{stem}"
    taken = {paper.id for paper in job.brief.papers}
    return next(each for each in (stem, *(f"{stem}-{number}" for number in range(2, 1000))) if each not in taken)


def why_kept(job: Job, paper_id: str) -> str:
    """Why a paper cannot be removed; empty when it can."""
    if len(job.brief.papers) == 1:
        return "A job needs at least one paper."
    for spec in STATIONS:
        for path, paper in papers_in(getattr(job, spec.id), spec.id):
            if paper == paper_id and path != BASE:
                owner = path.rpartition(".")[0]
                return f"{name_of_part(job, owner)} is made of it."
    return ""


def name_of_part(job: Job, path: str) -> str:
    """What stands at a path in words: an item by its name, anything else by its title."""
    value = value_at(job, path)
    name = getattr(value, "name", None)
    if isinstance(name, str):
        return name
    steps = path.split(".")
    while len(steps) > 1:
        title = title_of(job, ".".join(steps))
        slot = find_slot(job, ".".join(steps))
        if slot is not None:
            return title.replace("{face}", str(getattr(value, "face", "the card")))
        steps.pop()
    return path


def remove_paper(job: Job, paper_id: str) -> tuple[Change, ...]:
    """The changes that take a paper out of the job, with its loading and pins; the card goes on another one."""
    left: tuple[Paper, ...] = tuple(paper for paper in job.brief.papers if paper.id != paper_id)
    changes = [
        Change("lay.loadings", tuple(each for each in job.lay.loadings if each.paper != paper_id)),
        Change("lay.pins", tuple(pin for pin in job.lay.pins if pin.paper != paper_id)),
    ]
    if job.brief.base_paper == paper_id:
        changes.append(Change("brief.base_paper", left[0].id))
    return (*changes, Change("brief.papers", left))
