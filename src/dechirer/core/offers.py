"""What each construction would cost at the present size: for the chooser in Brief."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct

from dechirer.core.brief.brief import make_brief
from dechirer.core.construct.card import make_card
from dechirer.core.construct.construct import make_bare, make_construct, stack_bare
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import laid_alone
from dechirer.core.lay.lay import make_lay
from dechirer.core.memory import Memory
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import bounds
from dechirer.core.stations import Work


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
    card = make_card(job.brief, job.construct.fold, facts, job.units, job.lay.margin.mm, job.dress.art)
    work = Work(Memory(), cancelled)
    rules = laid_alone(job.lay)
    offers = []
    for kind in CONSTRUCTIONS:
        if cancelled():
            break
        bare = make_bare(kind.id, job.construct, card)
        construct = make_construct(job.construct, card, bare, stack_bare(bare, facts))
        lay = make_lay(construct.pieces, job.brief.papers, rules, job.brief.machine, None, work)
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
