"""Gluing something on or in: the change that adds it with sizes that make sense from the start."""

from __future__ import annotations

from dechirer.core.card.panels import Face
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.decide.change import Change
from dechirer.core.decide.papers import papers_in
from dechirer.core.job.model import Job


def attach(job: Job, kind: str, face: Face) -> tuple[Change, ...]:
    """The change that adds an attachment on a face of the card as it is made now.

    Args:
        kind: the id of the attachment.

    Raises:
        UnknownIdError: there is no such attachment.
    """
    spec = ATTACHMENTS[kind]
    own = getattr(job.construct, spec.id)
    brief = job.brief
    used = {brief.base_paper, *(paper for _, paper in papers_in(job.construct, "construct"))}
    start = Start(
        face.name,
        face.width,
        face.height,
        brief.width.mm,
        brief.height.mm,
        brief.papers,
        brief.base_paper,
        frozenset(used),
        job.units,
        sum(each.face == face.name for each in own) if spec.many else 0,
        frozenset(each.id for each in own) if spec.many else frozenset(),
    )
    new = spec.start(start)
    return (Change(spec.path, (*own, new) if spec.many else new),)
