"""What the table of copies sets for the pieces of a copy: their paper, the colour they are drawn in, their slot."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.brief.decisions import Brief, Paper
from dechirer.core.card.piece import Piece
from dechirer.core.card.stack import Stacked
from dechirer.core.construct.bought import as_bought
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.dress.words.copies import Copy
from dechirer.core.paper.colours import colour_called


def is_entry(kind: str, entry: str, brief: Brief) -> bool:
    """Whether an entry of a column can be set: a paper of the job by its id, a colour by its name or as
    `#rrggbb`, a number from 1."""
    if kind == "paper":
        return any(paper.id == entry for paper in brief.papers)
    if kind == "pen":
        return colour_called(entry) is not None
    return entry.isdecimal() and 0 < int(entry) <= 99


def paper_of(piece: Piece, copy: Copy, brief: Brief) -> Paper | None:
    """The paper that a copy has a piece of the card of, where the table says one of the job."""
    for kind, of, entry in copy.sets:
        if kind == "paper" and of == piece.id and is_entry(kind, entry, brief):
            return brief.paper(entry)
    return None


def pieces_set(pieces: tuple[Piece, ...], copies: tuple[Copy, ...]) -> set[str]:
    """The pieces of the card that differ from copy to copy by what is set."""
    found = set()
    for copy in copies:
        for kind, of, _ in copy.sets:
            if kind == "paper":
                found.add(of)
            elif kind == "pen":
                found |= {piece.id for piece in pieces if any(line.operation == "pen" for line in piece.lines)}
            else:
                found |= {piece.id for piece in pieces[:1]}
    return found & {piece.id for piece in pieces}


def as_set(piece: Piece, copy: Copy, brief: Brief, *, is_base: bool) -> Piece:
    """A piece of the card as a copy has it; what cannot be set leaves it as it is."""
    paper = paper_of(piece, copy, brief)
    if paper is not None and paper.id != piece.paper:
        stated = brief.blank if is_base else None
        size = None if stated is None else (stated.width.mm, stated.height.mm)
        piece = as_bought(structs.replace(piece, paper=paper.id), paper, size)
    pens = [colour_called(entry) for kind, _, entry in copy.sets if kind == "pen"]
    if pens and pens[0] and any(line.operation == "pen" for line in piece.lines):
        lines = (structs.replace(line, colour=pens[0]) if line.operation == "pen" else line for line in piece.lines)
        piece = structs.replace(piece, lines=tuple(lines))
    slots = [int(entry) for kind, _, entry in copy.sets if kind == "slot" and is_entry(kind, entry, brief)]
    return structs.replace(piece, slot=slots[0]) if slots and is_base else piece


def in_set_papers(stacked: Stacked, dress: DressPlan, brief: Brief, number: int) -> Stacked:
    """The card as one kind of copies has it, each piece in the paper that was set for it."""
    copy = next((each for each in dress.copies if each.number == number), None)
    papers = {
        of: entry for kind, of, entry in (copy.sets if copy else ()) if kind == "paper" and is_entry(kind, entry, brief)
    }
    if not papers:
        return stacked
    slabs = tuple(structs.replace(slab, paper=papers.get(slab.piece, slab.paper)) for slab in stacked.slabs)
    return structs.replace(stacked, slabs=slabs)
