"""Other jobs laid with this one: their pieces on the same mats, each under the name of its job."""

from __future__ import annotations

from collections.abc import Callable

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.card.piece import Piece
from dechirer.core.lay.decisions import Guest
from dechirer.core.paper.weight import parse_weight


class Other(Struct, frozen=True):
    """What another job brings: its pieces, how many findings stop it, and why it could not be planned, if so."""

    pieces: tuple[Piece, ...] = ()
    stops: int = 0
    why: str = ""

    @property
    def is_printed(self) -> bool:
        """Whether something of it is printed: its pages are cut on mats of their own."""
        return any(piece.prints for piece in self.pieces)


class Invited(Struct, frozen=True):
    """A guest with what it brings: its pieces under its name, in the papers of this job."""

    guest: Guest
    other: Other
    pieces: tuple[Piece, ...]


def invited(guests: tuple[Guest, ...], plan: Callable[[str], Other]) -> tuple[Invited, ...]:
    """The guests with their pieces.

    Args:
        plan: plans a job that is given as text.
    """
    found = []
    for guest in guests:
        other = plan(guest.job)
        papers = {pair.id: pair.ours for pair in guest.papers}
        known = [piece for piece in other.pieces if piece.paper in papers] if not other.is_printed else []
        found.append(Invited(guest, other, tuple(_as_guest(piece, guest, papers[piece.paper]) for piece in known)))
    return tuple(found)


def _as_guest(piece: Piece, guest: Guest, paper: str) -> Piece:
    id = f"{guest.id}-{piece.id}"
    lines = tuple(structs.replace(line, id=f"{guest.id}-{line.id}") for line in piece.lines)
    given = tuple(f"{guest.id}-{each}" for each in piece.given)
    letter, name = f"{guest.letter}{piece.letter}", f"{guest.name}: {piece.name}"[:120]
    return structs.replace(
        piece, id=id, letter=letter, name=name, paper=paper, lines=lines, given=given, fold_field="", measures=()
    )


def same_paper(one: Paper, other: Paper) -> bool:
    """Whether two jobs mean the same paper: its name, weight, sheet and how it is bought."""
    weights = [parse_weight(paper.weight).gsm or 0.0 for paper in (one, other)]
    alike = (
        one.sheet.is_like(other.sheet.width.mm, other.sheet.height.mm, within=0.1)
        and abs(weights[0] - weights[1]) < 1.0
    )
    return alike and one.name.casefold() == other.name.casefold() and one.bought == other.bought
