"""The table of a load of blanks: which slot takes which design, on which blank, with which insert."""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.brief.decisions import Brief
from dechirer.core.card.piece import Piece
from dechirer.core.dress.setting import paper_of
from dechirer.core.dress.words.copies import Copy
from dechirer.core.lay.mat import MatLayout

INSERT = "insert"


class SlotRow(Struct, frozen=True):
    """One slot of a load, from 1: the name of the design, the blank's paper, its insert's paper or nothing."""

    slot: int
    placement: str
    design: str
    blank: str
    insert: str


def slot_rows(
    layout: MatLayout, copies: tuple[Copy, ...], pieces: tuple[Piece, ...], brief: Brief
) -> tuple[SlotRow, ...]:
    """The rows of a load; none where nothing is loaded in slots.

    Args:
        copies: the kinds of copies of the job.
        pieces: the card's pieces before its copies were told apart.
    """
    insert = next((piece for piece in pieces if piece.id == INSERT), None)
    found = []
    for placed, front in zip(layout.placements, layout.sheet.slots, strict=False):
        numbers = [
            number
            for number, slot in enumerate(layout.sheet.mat.slots, start=1)
            if abs(slot.left - front.left) + abs(slot.top - front.top) < 0.1
        ]
        own = ""
        if insert is not None:
            copy = next((each for each in copies if placed.piece.id.endswith(f"-{each.number + 1}")), None)
            paper = paper_of(insert, copy, brief) if copy is not None and len(copies) > 1 else None
            own = (paper or brief.paper(insert.paper)).name
        blank = brief.paper(placed.piece.paper).name
        found.append(SlotRow(numbers[0] if numbers else 0, placed.id, placed.piece.name, blank, own))
    return tuple(found)
