"""Checks of the lay: does every piece fit what the machine reaches, on the sheets there really are?"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.construct.construct import ConstructPlan
from dechirer.core.construct.envelope_checks import TITLES
from dechirer.core.construct.envelope_shapes import STYLES
from dechirer.core.construct.piece import Piece
from dechirer.core.finding import CheckList, Finding, Mend
from dechirer.core.job.edit import Change, set_loading
from dechirer.core.job.model import Job, Paper
from dechirer.core.job.values import Size
from dechirer.core.lay.lay import LayPlan
from dechirer.core.lay.pinning import name_of, unpin_layout
from dechirer.core.lay.sheet import LoadedSheet, load_sheet, sheet_set
from dechirer.core.length import Length, format_length, format_size, parse_length
from dechirer.core.shape.outline import Box, bounds, outlines_overlap


class LayContext(Struct, frozen=True):
    """What the lay's checks look at."""

    job: Job
    construct: ConstructPlan
    lay: LayPlan


CHECKS: CheckList[LayContext] = CheckList("lay")


def _paper(job: Job, paper_id: str) -> Paper:
    return next(paper for paper in job.brief.papers if paper.id == paper_id)


@CHECKS.register
def find_piece_too_large(context: LayContext) -> Iterator[Finding]:
    """A flat piece larger than what the machine reaches on its sheet."""
    job = context.job
    for piece_id, _count in context.lay.unplaced:
        piece = context.construct.piece(piece_id)
        if piece is None:
            continue
        paper = _paper(job, piece.paper)
        sheet = load_sheet(sheet_set(job.lay, paper), job.lay, job.brief.machine)
        box = bounds(piece.outline)
        yield Finding(
            "lay.piece-too-large",
            "stop",
            "lay",
            f"The {piece.name} does not fit on its sheet",
            f"It is {format_size(box.width, box.height, job.units)} flat{_smallest(job, piece, sheet)}; on "
            f"{paper.name} of {format_size(sheet.width, sheet.height, job.units)} the {job.brief.machine.name} reaches "
            f"{_room(sheet, job.units)}.",
            "It cannot be cut.",
            piece.id,
            (*_mends_for_envelope(context, piece), *_mends_for_size(job, piece, paper, sheet)),
        )


def _smallest(job: Job, piece: Piece, sheet: LoadedSheet) -> str:
    """How small it gets at its best turn, where turning is allowed and changes anything."""
    from dechirer.core.shape.turning import find_best_turn  # it brings numpy, which a plain card does without

    room = sheet.room
    if not job.lay.may_turn or min(room.width, room.height) <= 0:
        return ""
    turn = find_best_turn(piece.outline, room.width, room.height)
    box = bounds(piece.outline)
    if min(abs(turn.angle_deg - quarter) for quarter in (0, 90, 180)) < 0.01:
        return ", and no turn makes it smaller"
    if (
        max(turn.width / room.width, turn.height / room.height)
        >= min(
            max(box.width / room.width, box.height / room.height), max(box.height / room.width, box.width / room.height)
        )
        - 1e-9
    ):
        return ", and no turn makes it smaller"
    return f" and at best, turned by {turn.angle_deg:.1f}°, {format_size(turn.width, turn.height, job.units)}"


def _mends_for_envelope(context: LayContext, piece: Piece) -> Iterator[Mend]:
    """Other styles of envelope that close over the same card and fit the sheet."""
    fits = context.construct.figure("envelope.fits")
    envelope = context.job.construct.envelope
    if piece.id != "envelope" or fits is None or envelope is None:
        return
    for style in STYLES:
        if style in fits.source and style != envelope.style:
            yield Mend(f"Use {TITLES[style]}", (Change("construct.envelope.style", style),))


@CHECKS.register
def find_piece_turned_askew(context: LayContext) -> Iterator[Finding]:
    """A piece that fits only askew: said, because its grain and its pattern turn with it."""
    for piece_id, angle in context.lay.turned:
        piece = context.construct.piece(piece_id)
        if piece is not None:
            yield Finding(
                "lay.turned-to-fit",
                "note",
                "lay",
                f"The {piece.name} is turned by {angle:.1f}° to fit",
                "Upright it is larger than what the machine reaches; at this turn it takes the least room.",
                "The paper's grain and pattern run askew on it.",
                piece.id,
            )


def _room(sheet: LoadedSheet, units: str) -> str:
    if min(sheet.room.width, sheet.room.height) <= 0:
        return "nothing"
    return format_size(sheet.room.width, sheet.room.height, units)


def _mends_for_size(job: Job, piece: Piece, paper: Paper, sheet: LoadedSheet) -> Iterator[Mend]:
    box = bounds(piece.outline)
    if not job.lay.may_turn and _fits(box.height, box.width, sheet.room):
        yield Mend("Allow turning", (Change("lay.may_turn", True),))
    offered = [other.sheet for other in job.brief.papers] + [
        Size(parse_length(w), parse_length(h))
        for w, h in (("12 in", "12 in"), ("12 in", "24 in"), ("210 mm", "297 mm"))
    ]
    for size in offered:
        room = load_sheet(size, job.lay, job.brief.machine).room
        if _fits(box.width, box.height, room) or (job.lay.may_turn and _fits(box.height, box.width, room)):
            shown = format_size(size.width.mm, size.height.mm, job.units)
            yield Mend(
                f"Use sheets of {shown}",
                (Change(f"brief.papers.{paper.id}.sheet", size), set_loading(job, paper.id, sheet=None)),
            )
            break
    largest = find_largest_size(job, piece, sheet.room)
    if largest is not None:
        width, height = largest
        yield Mend(
            f"Make the card {format_size(width.mm, height.mm, job.units)}",
            (Change("brief.width", width), Change("brief.height", height)),
        )


def _fits(width: float, height: float, room: Box) -> bool:
    return width <= room.width + 1e-6 and height <= room.height + 1e-6


def find_largest_size(job: Job, piece: Piece, room: Box) -> tuple[Length, Length] | None:
    """The largest finished size of the same proportions whose piece fits the room, or None when none does.

    Rounded down to a sixteenth of an inch or a millimetre, so that it can be typed and measured.
    """
    box = bounds(piece.outline)
    step = 25.4 / 16 if job.units == "in" else 1.0
    scales = [min(room.width / box.width, room.height / box.height)]
    if job.lay.may_turn:
        scales.append(min(room.width / box.height, room.height / box.width))
    scale = max(scales)
    # A liner shrinks by the same reveal at every size, so scaling by its own bounds errs on the small side only.
    width = math.floor(job.brief.width.mm * scale / step + 1e-9)
    height = math.floor(job.brief.height.mm * scale / step + 1e-9)
    if min(width, height) * step < 20 or scale >= 1:
        return None
    unit = "/16 in" if job.units == "in" else " mm"
    return parse_length(f"{width}{unit}"), parse_length(f"{height}{unit}")


@CHECKS.register
def find_sheet_that_differs(context: LayContext) -> Iterator[Finding]:
    """The sheet size set at the machine must be the size of the sheets there are."""
    job = context.job
    for paper in job.brief.papers:
        if not any(piece.paper == paper.id for piece in context.construct.pieces):
            continue
        size = sheet_set(job.lay, paper)
        if _same(size, paper.sheet):
            continue
        stated = format_size(size.width.mm, size.height.mm, job.units)
        real = format_size(paper.sheet.width.mm, paper.sheet.height.mm, job.units)
        yield Finding(
            "lay.sheet-differs",
            "stop",
            "lay",
            f"{paper.name}: the sheet set is not the sheet on hand",
            f"The machine is set to {stated}, the sheets on hand are {real}.",
            "Pieces may be cut off the paper, into the mat.",
            f"brief.papers.{paper.id}.sheet",
            (
                Mend(f"Set {real}", (set_loading(job, paper.id, sheet=None),)),
                Mend(f"My sheets are {stated}", (Change(f"brief.papers.{paper.id}.sheet", size),)),
            ),
        )


def _same(first: Size, second: Size) -> bool:
    def sides(size: Size) -> list[float]:
        return sorted((size.width.mm, size.height.mm))

    return all(abs(a - b) < 0.5 for a, b in zip(sides(first), sides(second), strict=True))


@CHECKS.register
def find_too_few_sheets(context: LayContext) -> Iterator[Finding]:
    """More sheets are needed than are on hand."""
    for paper in context.job.brief.papers:
        needed = next((each for each in context.lay.sheets if each.key == f"lay.sheets.{paper.id}"), None)
        if needed is None or paper.on_hand is None or needed.value <= paper.on_hand:
            continue
        yield Finding(
            "lay.too-few-sheets",
            "look",
            "lay",
            f"{paper.name}: {needed.value - paper.on_hand:.0f} sheets short",
            f"The job needs {needed.value:.0f} sheets; {paper.on_hand} are on hand.",
            "The run stops half way.",
            f"brief.papers.{paper.id}.on_hand",
        )


@CHECKS.register
def find_sheet_larger_than_mat(context: LayContext) -> Iterator[Finding]:
    """A sheet larger than the mat has to be trimmed first."""
    told = set()
    for layout in context.lay.layouts:
        if layout.sheet.trimmed and layout.paper not in told:
            told.add(layout.paper)
            size = format_size(layout.sheet.width, layout.sheet.height, context.job.units)
            yield Finding(
                "lay.sheet-larger-than-mat",
                "note",
                "lay",
                f"{_paper(context.job, layout.paper).name}: trim the sheets to {size}",
                "The sheets are larger than the mat; the layout is made for the trimmed size.",
                "",
                layout.id,
            )


@CHECKS.register
def find_pinned_trouble(context: LayContext) -> Iterator[Finding]:
    """A pinned piece may have come to lie off the sheet or on another when sizes changed."""
    job, spacing = context.job, context.job.lay.spacing.mm
    for layout in context.lay.layouts:
        if not layout.is_pinned:
            continue
        mend = (Mend("Place this mat again", (unpin_layout(job, layout),)),)
        for index, placed in enumerate(layout.placements):
            if not layout.sheet.room.holds(placed.box, slack=0.01):
                yield Finding(
                    "lay.piece-off-sheet",
                    "stop",
                    "lay",
                    f"Mat {layout.number}: {name_of(placed)} lies outside what the machine reaches",
                    f"It was pinned {format_length(placed.box.left, job.units)} from the left and "
                    f"{format_length(placed.box.top, job.units)} from the top of the sheet.",
                    "Part of it is not cut.",
                    f"{layout.id}/{placed.id}",
                    mend,
                )
            for other in layout.placements[index + 1 :]:
                if outlines_overlap(placed.outline, other.outline):
                    yield Finding(
                        "lay.pieces-overlap",
                        "stop",
                        "lay",
                        f"Mat {layout.number}: {name_of(placed)} lies on {name_of(other)}",
                        "Two pieces cannot be cut from the same paper.",
                        "Both are spoilt.",
                        f"{layout.id}/{placed.id}",
                        mend,
                    )
                elif outlines_overlap(placed.outline, other.outline, gap=max(0.0, spacing - 0.02)):
                    yield Finding(
                        "lay.pieces-too-close",
                        "look",
                        "lay",
                        f"Mat {layout.number}: {name_of(placed)} is too close to {name_of(other)}",
                        f"The spacing is {format_length(spacing, job.units)}.",
                        "The strip between may lift and catch.",
                        f"{layout.id}/{placed.id}",
                        mend,
                    )
