"""What each construction would cost at the present size: for the chooser in Brief."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from msgspec import Struct

from dechirer.core.brief.brief import make_brief
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.constructions import KINDS
from dechirer.core.job.model import Construction, Job
from dechirer.core.lay.lay import make_lay
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import bounds


class Offer(Struct, frozen=True):
    """One construction: its flat card as panels and folds (mm), and what it would cost.

    `sheets` is 0 when a piece does not fit (`fits` false).
    """

    kind: str
    title: str
    width: float
    height: float
    panels: tuple[Points, ...]
    folds: tuple[tuple[Point, Point, str], ...]
    pieces: int
    sheets: int
    fits: bool


def make_offers(job: Job, cancelled: Callable[[], bool] = lambda: False) -> tuple[Offer, ...]:
    """Make and lay every construction with the job's own size, papers and attachments; stops early when cancelled."""
    facts = make_brief(job.brief)
    offers = []
    for kind in KINDS.values():
        if cancelled():
            break
        construction: Construction = kind.id  # type: ignore[assignment]
        brief = msgspec.structs.replace(job.brief, construction=construction)
        construct = make_construct(brief, job.construct, facts, job.units, job.lay.margin.mm)
        pins_off = msgspec.structs.replace(job.lay, pins=())
        lay = make_lay(construct.pieces, brief.papers, pins_off, brief.machine, cancelled)
        box = bounds([point for panel in construct.tree.panels for point in panel.outline])
        offers.append(
            Offer(
                kind.id,
                kind.title,
                box.width,
                box.height,
                tuple(panel.outline for panel in construct.tree.panels),
                tuple((hinge.start, hinge.end, hinge.sense) for hinge in construct.tree.hinges),
                int(construct.piece_count.value),
                int(lay.sheet_count.value),
                not lay.unplaced,
            )
        )
    return tuple(offers)
