"""Adding windows and layers to a job with sizes that make sense from the start."""

from __future__ import annotations

from dechirer.core.job.edit import Change
from dechirer.core.job.model import CornerSlits, Envelope, Job, Layer, Window
from dechirer.core.length import make_length, parse_length


def add_window(job: Job) -> tuple[Change, ...]:
    """A window half as wide and high as the card, a quarter for a gate's door, backed with another paper."""
    share = 0.25 if job.brief.construction == "gate" else 0.5
    width = make_length(job.brief.width.mm * share, job.units)
    height = make_length(job.brief.height.mm * 0.5, job.units)
    return (Change("build.window", Window(width, height, _other_paper(job))),)


def add_layer(job: Job, face: str) -> tuple[Change, ...]:
    """A layer on a face with a border of 1/8 in (3 mm), in another paper; on a face that has one, a smaller one."""
    below = sum(layer.face == face for layer in job.build.layers)
    border = parse_length(f"{below + 1}/8 in" if job.units == "in" else f"{3 * (below + 1)} mm")
    taken = {layer.id for layer in job.build.layers}
    name = next(f"layer-{number}" for number in range(1, 1000) if f"layer-{number}" not in taken)
    return (
        Change(
            "build.layers",
            (*job.build.layers, Layer(name, face, border, _other_paper(job))),
        ),
    )


def add_slits(job: Job) -> tuple[Change, ...]:
    """An insert that leaves a fifth of the front free on each side, held by straight slits."""
    width = make_length(job.brief.width.mm * (0.3 if job.brief.construction == "gate" else 0.6), job.units)
    height = make_length(job.brief.height.mm * 0.6, job.units)
    return (Change("build.slits", CornerSlits(width, height, _other_paper(job))),)


def add_envelope(job: Job) -> tuple[Change, ...]:
    """A glued envelope in the last paper on hand that is not the card's."""
    ids = [paper.id for paper in job.brief.papers if paper.id != job.brief.base_paper]
    return (Change("build.envelope", Envelope(ids[-1] if ids else job.brief.base_paper)),)


def _other_paper(job: Job) -> str:
    """A paper that is not the card's and not yet used, so that it can be told apart."""
    used = {job.brief.base_paper, *(layer.paper for layer in job.build.layers)}
    used |= {job.build.liner.paper} if job.build.liner else set()
    ids = [paper.id for paper in job.brief.papers]
    return next((each for each in ids if each not in used), ids[-1])
