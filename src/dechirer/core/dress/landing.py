"""Landing: from items on faces as seen to lines on flat pieces, pieces of their own, and what is seen on the card."""

from __future__ import annotations

from msgspec import Struct, structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.brief.decisions import Brief
from dechirer.core.card.making import letter_of
from dechirer.core.card.piece import Line, Piece
from dechirer.core.card.stack import AtHand
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.dress.decisions import AT_HAND, WITHOUT
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.gathered import Gathered, Ground, lines_of, prints_of
from dechirer.core.dress.mark import Mark, make_mark, path_of_line
from dechirer.core.dress.own_pieces import give_at_hand, give_backer, give_own_pieces
from dechirer.core.dress.setting import as_set, paper_of, pieces_set
from dechirer.core.dress.spots import Spot
from dechirer.core.dress.words.copies import Copy
from dechirer.core.memory import Memory
from dechirer.core.stopping import checkpoint

MOST_SHOWN = 60
"""So many kinds of copies can be looked at one by one."""


class Landed(Struct, frozen=True):
    """The dressed pieces, the marks on the faces, and what is at hand and not cut; `others` are the marks of later
    kinds of copies, where they differ."""

    pieces: tuple[Piece, ...]
    marks: tuple[Mark, ...]
    at_hand: tuple[AtHand, ...]
    others: dict[int, tuple[Mark, ...]]


def land(
    card: ConstructPlan,
    facts: BriefPlan,
    brief: Brief,
    items: tuple[Dressed, ...],
    copies: tuple[Copy, ...],
    pen_tip: float,
    memory: Memory,
) -> Landed:
    """Give every piece its lines. A piece whose words differ from copy to copy becomes several, each with its count."""
    marks: list[Mark] = []
    shared = Gathered()
    varied: dict[int, Gathered] = {}
    differs = find_different(items, copies)
    ground = Ground(facts, brief, len(copies) > 1, pen_tip)
    for dressed in items:
        if dressed.spot is None or dressed.item.made == "guide":
            continue
        checkpoint("putting it on its piece", dressed.item.id)
        own = dressed.item.id in differs
        out = varied.setdefault(dressed.copy.number, Gathered()) if own else shared
        # What does not differ is made as often as there are copies, of whatever kind.
        counted = dressed if own else structs.replace(dressed, copy=Copy(0, (), brief.count))
        given = _recall(counted, dressed.spot, ground, memory)
        for piece_id, lines in given.lines.items():
            out.on(piece_id).extend(lines)
        for piece_id, prints in given.prints.items():
            out.print(prints, piece_id)
        out.own += given.own
        out.at_hand += given.at_hand
        if not dressed.copy.number:
            marks += given.marks
        elif dressed.copy.number < MOST_SHOWN:
            out.marks += given.marks
    pieces = _share_out(card, brief, shared, varied, copies)
    at_hand = (*shared.at_hand, *(each for out in varied.values() for each in out.at_hand))
    others = {number: tuple(out.marks) for number, out in varied.items() if number and number < MOST_SHOWN}
    return Landed(_letter(_name_apart(pieces), len(card.pieces)), tuple(marks), at_hand, others)


def find_different(items: tuple[Dressed, ...], copies: tuple[Copy, ...]) -> set[str]:
    """The items that some copies have otherwise, or are without."""
    later = {dressed.item.id for dressed in items if dressed.copy.number}
    return later | {item for copy in copies for item, _ in copy.stands}


def _share_out(
    card: ConstructPlan, brief: Brief, shared: Gathered, varied: dict[int, Gathered], copies: tuple[Copy, ...]
) -> list[Piece]:
    """The card's pieces with their lines, one for each kind of copy where lines differ, and the pieces of the items."""
    changed = {piece for out in varied.values() for kept in (out.lines, out.prints) for piece in kept if kept[piece]}
    with_shared = tuple(_with(piece, [shared]) for piece in card.pieces)
    set_apart = pieces_set(with_shared, copies)
    pieces: list[Piece] = []
    for place, piece in enumerate(card.pieces):
        per_card = piece.count // max(1, brief.count)
        if piece.id not in changed | set_apart:
            pieces.append(with_shared[place])
            continue
        mine = []
        for copy in copies:
            own = [varied[copy.number]] if piece.id in changed and copy.number in varied else []
            mine.append((copy, as_set(_with(piece, [shared, *own]), copy, brief, is_base=not place)))
        if piece.id not in changed:
            mine = _same_ones_once(mine)
        pieces += [_copy_of(each, copy, per_card, brief) for copy, each in mine]
    pieces += shared.own
    for copy in copies:
        pieces += varied[copy.number].own if copy.number in varied else []
    return pieces


def _same_ones_once(mine: list[tuple[Copy, Piece]]) -> list[tuple[Copy, Piece]]:
    """Copies that have a piece alike together, under the first of them."""
    found: dict[tuple[str, int, tuple[Line, ...]], tuple[Copy, Piece]] = {}
    for copy, piece in mine:
        key = (piece.paper, piece.slot, piece.lines)
        if key in found:
            first, same = found[key]
            found[key] = structs.replace(first, count=first.count + copy.count), same
        else:
            found[key] = copy, piece
    return list(found.values())


def _recall(dressed: Dressed, spot: Spot, ground: Ground, memory: Memory) -> Gathered:
    """What an item gives, remembered by what it was made from."""

    def give() -> Gathered:
        out = Gathered()
        _land_item(dressed, spot, out, ground)
        return out

    own = ground.facts.paper(dressed.item.paper or ground.brief.base_paper)
    paper = (own.paper.colour, own.thickness.value, ground.brief.base_paper)
    key = (dressed.item, dressed.placed.serial, spot, dressed.copy, *paper, *ground.way)
    return memory.recall(("landed", *key), give)


def _name_apart(pieces: list[Piece]) -> list[Piece]:
    """No two pieces of one id, whatever items are called."""
    taken: set[str] = set()
    found = []
    for piece in pieces:
        id = piece.id
        number = 1
        while id in taken:
            number += 1
            id = f"{piece.id}-x{number}"
        taken.add(id)
        found.append(piece if id == piece.id else structs.replace(piece, id=id))
    return found


def _with(piece: Piece, gathered: list[Gathered]) -> Piece:
    """A piece with more lines before its outline, and with what is printed on it."""
    lines = [line for each in gathered for line in each.lines.get(piece.id, ())]
    prints = [part for each in gathered for part in each.prints.get(piece.id, ())]
    if prints:
        piece = structs.replace(piece, prints=(*piece.prints, *prints))
    if not lines:
        return piece
    return structs.replace(piece, lines=(*piece.lines[:-1], *lines, piece.lines[-1]))


def _copy_of(piece: Piece, copy: Copy, per_card: int, brief: Brief) -> Piece:
    own = [entry for _, entry in (*copy.entries, *copy.stands) if entry and entry != WITHOUT]
    words = "blank" if copy.is_blank else own[0] if own else ""
    if not words:
        paper = paper_of(piece, copy, brief)
        words = paper.name if paper is not None else f"row {copy.row + 1}"
    id = f"{piece.id}-{copy.number + 1}"
    lines = tuple(structs.replace(line, id=f"{id}{line.id.removeprefix(piece.id)}") for line in piece.lines)
    prints = tuple(structs.replace(part, id=f"{id}{part.id.removeprefix(piece.id)}") for part in piece.prints)
    name, count = f"{piece.name}, {words}"[:120], max(1, per_card) * copy.count
    given = tuple(f"{id}{each.removeprefix(piece.id)}" for each in piece.given)
    return structs.replace(piece, id=id, name=name, count=count, lines=lines, prints=prints, given=given)


def _letter(pieces: list[Piece], known: int) -> tuple[Piece, ...]:
    """Letters for the pieces that were added or multiplied: A to Z, then AA and so on."""
    found = []
    for number, piece in enumerate(pieces):
        letter = letter_of(number)
        found.append(piece if number < known and piece.letter == letter else structs.replace(piece, letter=letter))
    return tuple(found)


def _land_item(dressed: Dressed, spot: Spot, out: Gathered, ground: Ground) -> None:
    item, drawn = dressed.item, dressed.placed.drawn
    if item.made == "piece":
        give_own_pieces(dressed, spot, out, ground)
        return
    if item.made in AT_HAND:
        give_at_hand(dressed, spot, out)
        return
    lines = out.on(spot.piece)
    for number, part in enumerate(drawn.parts):
        colour = item.colour or part.colour
        if part.role in ("off", "unassigned"):
            out.mark(item, spot, "guide", part.colour, part)
            continue
        if part.role == "print":
            out.mark(item, spot, "print", colour, part)
            out.print(prints_of(part, f"{spot.piece}-{item.id}-{number + 1}", item, spot.to_piece), spot.piece)
            continue
        id = f"{spot.piece}-{item.id}-{number + 1}"
        lines += lines_of(part, id, item, spot.to_piece, ground.pen_tip)
        form = "opening" if part.role == "cut" and not part.folds else part.role
        out.mark(item, spot, form, colour, part)
        if part.folds:
            paths = tuple(path_of_line(line, spot.to_piece) for line in part.folds)
            lines.insert(0, Line(f"{id}-hinge", f"{item.name}, hinge", "score", paths, False, "fold", "valley"))
            out.marks.append(make_mark(item.id, spot.id, "score", colour, (), part.folds))
    if item.made == "window" and item.paper is not None and drawn.areas:
        give_backer(dressed, spot, out, ground.facts.paper(item.paper).thickness.value)
