"""Starting from something else than the card: the largest one for a bought envelope, or so many to a sheet."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from dechirer.core.brief.brief import make_brief
from dechirer.core.brought import Art
from dechirer.core.construct.card import make_anew, make_card
from dechirer.core.construct.checks.from_file import NOT_THE_SAME, state_size
from dechirer.core.construct.construct import make_bare, stack_bare
from dechirer.core.construct.drawn_card import read_drawn_card
from dechirer.core.construct.drawn_tree import name_creases
from dechirer.core.construct.kinds.from_file import MOST_PARTS, FileFold, FilePart, FromFile
from dechirer.core.construct.specs import ATTACHMENTS
from dechirer.core.construct.whole import CardPlan
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import laid_alone
from dechirer.core.lay.lay import make_lay
from dechirer.core.length import Length, make_length, parse_length
from dechirer.core.memory import Memory
from dechirer.core.paper.colours import difference
from dechirer.core.paper.envelopes import SPARE_MM
from dechirer.core.paper.standards import StandardSize, load_sizes
from dechirer.core.stations import Work

SEARCH_STEPS = 16
"""Halvings of the search for a scale: 4 / 2^16 of the card's size is finer than any cut."""
LEAST_MM = 20.0
HAIR_MM = 0.05


class StartError(ValueError):
    """Nothing fits; the message says what was tried."""


def list_envelopes() -> tuple[StandardSize, ...]:
    """The bought envelopes that are known, from the smallest to the largest."""
    envelopes = [size for size in load_sizes() if size.kind == "envelope"]
    return tuple(sorted(envelopes, key=lambda size: size.width_mm * size.height_mm))


def fit_envelope(job: Job, envelope: StandardSize) -> tuple[Change, ...]:
    """The changes that make the card the largest one that slides into an envelope, kept upright or lying as it is.

    Room each way is the card's own thickness and SPARE_MM; sizes are rounded down to a sixteenth of an inch or half a
    millimetre.

    Raises:
        StartError: the envelope is too small for any card.
    """
    bulk = stack_bare(_make(job), make_brief(job.brief)).closed.thickness.value
    short, long = sorted((envelope.width_mm - SPARE_MM - bulk, envelope.height_mm - SPARE_MM - bulk))
    if short < LEAST_MM:
        raise StartError(f"No card of {LEAST_MM:.0f} mm or more goes into a {envelope.name}")
    wide, high = (short, long) if job.brief.width.mm <= job.brief.height.mm else (long, short)
    return _size(make_length(wide, job.units), make_length(high, job.units))


def fit_sheet(job: Job, per_sheet: int) -> tuple[Change, ...]:
    """The changes that make the card the largest one of its proportions of which so many fit on one sheet.

    Raises:
        StartError: not even the smallest card fits so often.
    """
    wide, high = job.brief.width.mm, job.brief.height.mm
    least, most = LEAST_MM / min(wide, high), 4.0
    if not _fits(job, wide * least, high * least, per_sheet):
        raise StartError(f"Not even {per_sheet} of the smallest cards fit on this sheet")
    for _ in range(SEARCH_STEPS):
        middle = (least + most) / 2
        least, most = (middle, most) if _fits(job, wide * middle, high * middle, per_sheet) else (least, middle)
    # The search ends a hair below the true limit, which may be a round number that fits exactly.
    for hair in (HAIR_MM, 0.0):
        width, height = (make_length(side * least + hair, job.units) for side in (wide, high))
        if _fits(job, width.mm, height.mm, per_sheet):
            break
    return _size(width, height)


def _size(width: Length, height: Length) -> tuple[Change, ...]:
    return Change("brief.width", width), Change("brief.height", height)


def _fits(job: Job, width: float, height: float, per_sheet: int) -> bool:
    """Whether so many bases of a card of that size lie on one sheet."""
    if max(width, height) > 900:
        return False
    scaled = apply_changes(
        job,
        [
            *_size(_exact(width), _exact(height)),
            Change("brief.count", per_sheet),
            *(Change(spec.path, () if spec.many else None) for spec in ATTACHMENTS),
        ],
    )
    pieces = _make(scaled).pieces
    lay = make_lay(pieces, scaled.brief.papers, laid_alone(scaled.lay), scaled.brief.machine, None, Work(Memory()))
    return not lay.unplaced and lay.sheet_count.value == 1


def take_card(job: Job, art: Art) -> tuple[Change, ...]:
    """The changes that make a file the card: its outline, cuts and folds at its settled size.

    What is smaller or larger than a card may be keeps the stated size, and the checks tell its own. Other outlines get
    the paper on hand that is nearest to their colour, where one is near enough.
    """
    there = any(each.id == art.id for each in job.dress.art)
    memory = Memory()
    read = memory.recall(("drawn card", art, False, FromFile().join.mm), lambda: read_drawn_card(art))
    kinds = read.kinds
    others = []
    for number, kind in enumerate(kinds[1:MOST_PARTS], start=2):
        near = min(job.brief.papers, key=lambda paper: difference(paper.colour, kind.colour))
        same = difference(kind.colour, kinds[0].colour) < NOT_THE_SAME
        close = difference(near.colour, kind.colour) < NOT_THE_SAME
        others.append(FilePart(f"part-{number}", near.id if close and not same else None, kind.count))
    folds = tuple(FileFold(id) for id in name_creases(kinds[0].part)) if kinds else ()
    own = FromFile(art.id, folds=folds, parts=tuple(others))
    changes = (
        *(() if there else (Change("dress.art", (*job.dress.art, art)),)),
        Change("brief.construction", "from-file"),
        Change("construct.from_file", own),
    )
    taken = apply_changes(job, changes)
    closed = stack_bare(_make(taken, memory.recall), make_brief(taken.brief)).closed
    return *changes, *state_size(closed, job.units)


def _make(job: Job, recall: Callable[[Any, Callable[[], Any]], Any] = make_anew) -> CardPlan:
    facts = make_brief(job.brief)
    card = make_card(job.brief, job.construct.fold, facts, job.units, job.lay.margin.mm, job.dress.art, recall)
    return make_bare(job.brief.construction, job.construct, card)


def _exact(mm: float) -> Length:
    return parse_length(f"{mm:.4f} mm")
