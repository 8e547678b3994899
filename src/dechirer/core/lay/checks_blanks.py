"""Checks of how bought blanks are loaded: slots that take them, mats the machine has, a corner that was tried."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.piece import Piece
from dechirer.core.decide.change import Change
from dechirer.core.dress.checks.copies_set import without_entries
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.lay.blanks import Blank, front_of, is_front_alone, slots_for
from dechirer.core.lay.checks import LaySeen
from dechirer.core.lay.decisions import set_loading
from dechirer.core.lay.lay import make_lay
from dechirer.core.lay.sheet import loading_of
from dechirer.core.length import format_size


def _run_blanks(seen: LaySeen) -> Iterator[tuple[Piece, Paper]]:
    """The blanks something is run on, one of each paper and size."""
    told = set()
    papers = {paper.id: paper for paper in seen.brief.papers}
    for layout in seen.plan.layouts:
        for placed in layout.placements if layout.is_blank else ():
            key = (placed.piece.paper, placed.piece.width.value, placed.piece.height.value)
            if key not in told:
                told.add(key)
                yield placed.piece, papers[placed.piece.paper]


@CHECKS.add("lay.mat-missing", of=make_lay)
def find_mat_that_is_missing(seen: LaySeen) -> Iterator[Finding]:
    """A paper that is to be loaded on a mat the machine does not have."""
    known = {mat.id for mat in seen.brief.machine.all_mats}
    for loading in seen.lay.loadings:
        if loading.mat is None or loading.mat in known:
            continue
        paper = next((each for each in seen.brief.papers if each.id == loading.paper), None)
        if paper is None or not any(piece.paper == paper.id for piece in seen.pieces):
            continue
        yield Finding(
            "lay.mat-missing",
            "look",
            f"The {seen.brief.machine.name} has no mat “{loading.mat}”",
            f"{paper.name} was to be loaded on it; the machine’s own mat is taken.",
            "The layout is for another mat than you think.",
            f"brief.papers.{paper.id}.sheet",
            (Mend("Take the machine’s own mat", (set_loading(seen.lay, paper.id, mat=None),)),),
        )


@CHECKS.add("lay.no-slot", of=make_lay)
def find_blanks_that_go_into_no_slot(seen: LaySeen) -> Iterator[Finding]:
    """A blank that was to go on a mat with slots, and goes into none of them."""
    for piece, paper in _run_blanks(seen):
        mat = seen.brief.machine.mat(loading_of(seen.lay, paper.id).mat)
        if not mat.slots or slots_for(Blank(piece, paper, piece.face), seen.lay, seen.brief.machine) is not None:
            continue
        front, largest = front_of(piece), max(mat.slots, key=lambda slot: slot.width * slot.height)
        if piece.prints:
            why = "What is printed is loaded opened flat, as it was printed."
        elif piece.face != "outside-up" or not is_front_alone(piece):
            why = "Something is run elsewhere than on its front, and in a slot only the front lies on the mat."
        else:
            why = (
                f"Its front is {format_size(front.width, front.height, seen.units)}, the largest slot takes "
                f"{format_size(largest.width, largest.height, seen.units)}."
            )
        yield Finding(
            "lay.no-slot",
            "look",
            f"{paper.name}: no slot of the {mat.name} takes it",
            f"{why} It is opened flat on the machine’s own mat instead, one by one.",
            "Each is loaded by itself.",
            piece.id,
            (Mend("Take the machine’s own mat", (set_loading(seen.lay, paper.id, mat="main"),)),),
        )


@CHECKS.add("lay.slot-missing", of=make_lay)
def find_slots_that_are_not_there(seen: LaySeen) -> Iterator[Finding]:
    """A slot that a copy is to go into, and that its mat does not have."""
    for layout in seen.plan.layouts:
        slots = len(layout.sheet.mat.slots)
        late = [placed.piece for placed in layout.placements if placed.piece.slot > slots] if layout.is_blank else []
        if not late:
            continue
        where = f"The {layout.sheet.mat.name} has {slots}" if slots else "It is loaded on a mat without slots"
        yield Finding(
            "lay.slot-missing",
            "look",
            f"There is no slot {late[0].slot} for {late[0].name}",
            f"{where}; it goes where there is room.",
            "It lies elsewhere than the table says.",
            f"{layout.id}",
            tuple(_forget_slots(seen)),
        )
        return


def _forget_slots(seen: LaySeen) -> Iterator[Mend]:
    table = seen.dress.copies
    for place, column in enumerate(table.columns):
        if column.sets == "slot":
            yield Mend("Let the slots be chosen", (Change("dress.copies.rows", without_entries(table, place, None)),))


@CHECKS.add("lay.corner-untried", of=make_lay)
def find_corner_that_was_not_tried(seen: LaySeen) -> Iterator[Finding]:
    """A blank in the corner of a plain mat, on a machine on which none was cut on trial."""
    tried = {(each.machine, each.mat) for each in seen.lay.trials}
    for layout in seen.plan.layouts:
        if not layout.is_blank or layout.sheet.slots or layout.sheet.printable is not None:
            continue
        if (seen.brief.machine.name, layout.sheet.mat.id) in tried:
            continue
        yield Finding(
            "lay.corner-untried",
            "note",
            "Where a blank in the mat’s corner is cut has not been tried",
            f"Each {seen.brief.machine.name} is off by a little. Cut the cross of “Trial cut…” on a spare blank "
            "once, and type in the two distances.",
            "Slits and lines may lie a millimetre or two beside their places.",
            layout.id,
        )
        return
