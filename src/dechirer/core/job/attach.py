"""Adding windows and layers to a job with sizes that make sense from the start."""

from __future__ import annotations

import msgspec

from dechirer.core.job.constructing import CornerSlits, Envelope, Layer, LayerStack, PeelAway, Window
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import make_length, parse_length
from dechirer.core.paper.standards import load_sizes


def add_window(job: Job) -> tuple[Change, ...]:
    """A window half as wide and high as the card, a quarter for a gate's door, backed with another paper."""
    share = 0.25 if "gate" in job.brief.construction else 0.5
    width = make_length(job.brief.width.mm * share, job.units)
    height = make_length(job.brief.height.mm * 0.5, job.units)
    return (Change("construct.window", Window(width, height, _other_paper(job))),)


def add_layer(job: Job, face: str) -> tuple[Change, ...]:
    """A layer on a face with a border of 1/8 in (3 mm), in another paper; on a face that has one, a smaller one."""
    below = sum(layer.face == face for layer in job.construct.layers)
    border = parse_length(f"{below + 1}/8 in" if job.units == "in" else f"{3 * (below + 1)} mm")
    taken = {layer.id for layer in job.construct.layers}
    name = next(f"layer-{number}" for number in range(1, 1000) if f"layer-{number}" not in taken)
    return (
        Change(
            "construct.layers",
            (*job.construct.layers, Layer(name, face, border, _other_paper(job))),
        ),
    )


def add_slits(job: Job) -> tuple[Change, ...]:
    """An insert that leaves a fifth of the front free on each side, held by straight slits."""
    width = make_length(job.brief.width.mm * (0.3 if "gate" in job.brief.construction else 0.6), job.units)
    height = make_length(job.brief.height.mm * 0.6, job.units)
    return (Change("construct.slits", CornerSlits(width, height, _other_paper(job))),)


def add_envelope(job: Job) -> tuple[Change, ...]:
    """A glued envelope in the last paper on hand that is not the card's."""
    ids = [paper.id for paper in job.brief.papers if paper.id != job.brief.base_paper]
    return (Change("construct.envelope", Envelope(ids[-1] if ids else job.brief.base_paper)),)


def _other_paper(job: Job) -> str:
    """A paper that is not the card's and not yet used, so that it can be told apart."""
    used = {job.brief.base_paper, *(layer.paper for layer in job.construct.layers)}
    used |= {job.construct.liner.paper} if job.construct.liner else set()
    ids = [paper.id for paper in job.brief.papers]
    return next((each for each in ids if each not in used), ids[-1])


def add_peel(job: Job) -> tuple[Change, ...]:
    """A disc half as wide as the front to be peeled away, on a backer of another paper."""
    narrow = min(job.brief.width.mm * (0.5 if "gate" in job.brief.construction else 1.0), job.brief.height.mm)
    size = make_length(narrow * 0.5, job.units)
    return (Change("construct.peel", PeelAway(size, size, _other_paper(job))),)


def add_stack(job: Job, face: str) -> tuple[Change, ...]:
    """Three layers in the middle of a face, four fifths as large as the card, in two papers that differ."""
    share = 0.4 if "gate" in job.brief.construction else 0.8
    width = make_length(job.brief.width.mm * share, job.units)
    height = make_length(job.brief.height.mm * 0.8, job.units)
    others = [paper.id for paper in job.brief.papers if paper.id != job.brief.base_paper] or [job.brief.base_paper]
    step = make_length(min(width.mm, height.mm) * 0.12, job.units)
    stack = LayerStack(face, width, height, _other_paper(job), others[0], step=step)
    if stack.paper == stack.border_paper:
        stack = msgspec.structs.replace(stack, border_paper=others[-1])
    return (Change("construct.stack", stack),)


def add_bought(job: Job) -> tuple[Change, ...]:
    """The smallest standard envelope as large as the card, to be checked against it; the largest when none is."""
    need = sorted((job.brief.width.mm, job.brief.height.mm))
    sizes = [size for size in load_sizes() if size.kind == "envelope"]
    sizes.sort(key=lambda size: size.width_mm * size.height_mm)
    larger = (
        size
        for size in sizes
        if all(a <= b for a, b in zip(need, sorted((size.width_mm, size.height_mm)), strict=True))
    )
    return (Change("construct.bought", next(larger, sizes[-1]).name.removesuffix(" envelope")),)


def add_motif(job: Job) -> tuple[Change, ...]:
    """One motif more at the end of the row, like the last."""
    motifs = job.construct.row.motifs
    taken = {motif.id for motif in motifs}
    name = next(f"motif-{number}" for number in range(1, 1000) if f"motif-{number}" not in taken)
    return (Change("construct.row.motifs", (*motifs, msgspec.structs.replace(motifs[-1], id=name))),)


def remove_motif(job: Job, motif_id: str) -> Change:
    """The change that takes a motif out of the row; the last one stays."""
    left = tuple(motif for motif in job.construct.row.motifs if motif.id != motif_id)
    return Change("construct.row.motifs", left or job.construct.row.motifs)
