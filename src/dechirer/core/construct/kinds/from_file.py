"""A file that is the card: its outline, cuts and folds are taken as they are drawn, at the size that was settled.

The card is the largest outline, or the one that is chosen; outlines that are equal are one kind with a count. Other
outlines are pieces of their own, each with its folds.
"""

from typing import Annotated, Literal

import msgspec
from msgspec import Meta, Struct

from dechirer.core.brought import Art
from dechirer.core.card.assembly import Made
from dechirer.core.card.making import keep_on_paper, letter_of, make_piece
from dechirer.core.card.panels import PanelTree
from dechirer.core.card.piece import Line, Piece
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.drawn_card import DrawnCard, Kind, read_drawn_card
from dechirer.core.construct.drawn_locks import find_locks
from dechirer.core.construct.drawn_sections import SAME_HEIGHT, Strip, join_sections, piece_id, read_section
from dechirer.core.construct.drawn_tree import FoldWay, make_tree
from dechirer.core.construct.kinds.flat import make_flat_tree
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require_own_ids
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.length import Length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.divide import Crease, Part
from dechirer.core.shape.outline import bounds, rectangle

MOST_PARTS = 60
SENSES = {"found": "as it is found", "mountain": "mountain", "valley": "valley", "flat": "not folded"}


class FileFold(Decisions, frozen=True):
    """How one fold of the drawing goes: its sense with the outside up, and when it is folded (0: as it is found)."""

    id: Identifier
    sense: Annotated[Literal["found", "mountain", "valley", "flat"], Field("Fold", choices=SENSES)] = "found"
    order: Annotated[int, Field("Folded as number", 0, 40)] = 0


class FilePart(Decisions, frozen=True):
    """A further outline of the drawing: its paper, and how many of it one card has (0: it is left out)."""

    id: Identifier
    paper: Annotated[Identifier | None, Field("Paper", takes="paper", none="the card's")] = None
    count: Annotated[int, Field("Of it in one card", 0, 200)] = 1


class FromFile(Decisions, frozen=True):
    """The file, which of its outlines is the card, and how its folds go."""

    art: Annotated[Identifier | None, Field("File", takes="art", none="none yet")] = None
    shows: Annotated[
        Literal["outside", "inside"],
        Field("The file shows the", choices={"outside": "outside", "inside": "inside"}),
    ] = "outside"
    card: Annotated[int, Field("Outline that is the card, the largest being 1", 1, MOST_PARTS)] = 1
    sections: Annotated[int, Field("Of it in one card", 1, 40, shows=lambda own: not own.joined)] = 1
    joined: Annotated[bool, Field("Sections joined by tabs")] = False
    join: Annotated[Length, Field("Ends are joined up to", 0, 10)] = given("0.2 mm")
    front: Annotated[int, Field("Panel in front (0: as it is found)", 0, 60)] = 0
    folds: Annotated[tuple[FileFold, ...], Meta(max_length=200), Field("Folds", fixed=True, entry=FileFold)] = ()
    parts: Annotated[
        tuple[FilePart, ...], Meta(max_length=MOST_PARTS), Field("Other outlines", fixed=True, entry=FilePart)
    ] = ()

    def agree(self) -> None:
        require_own_ids("folds of the file", self.folds)
        require_own_ids("outlines of the file", self.parts)


class Read(Struct, frozen=True):
    """What a file gives: all that it holds, the kind that is the card (None when it has no outline), and its art."""

    drawn: DrawnCard
    card: Kind | None
    art: Art

    @property
    def others(self) -> tuple[tuple[str, Kind], ...]:
        """The further kinds, with their ids."""
        rest = [kind for kind in self.drawn.kinds if kind is not self.card]
        return tuple((f"part-{number}", kind) for number, kind in enumerate(rest[:MOST_PARTS], start=2))


def read_file(own: FromFile, card: Card) -> Read | None:
    """What the chosen file gives; None when none is chosen or it is gone."""
    art = next((each for each in card.arts if each.id == own.art), None)
    if art is None:
        return None
    inside, join = own.shows == "inside", own.join.mm
    found: DrawnCard = card.recall(
        ("drawn card", art, inside, join), lambda: read_drawn_card(art, inside=inside, join=join)
    )
    kinds = found.kinds
    return Read(found, kinds[min(own.card, len(kinds)) - 1] if kinds else None, art)


@CONSTRUCTIONS.add("from-file", title="From a file", group="shapes", order=110, decisions=FromFile)
def make_from_file(own: FromFile, card: Card) -> Made:
    """The card of a drawing; a plain card of the stated size while there is none."""
    read = read_file(own, card)
    if read is None or read.card is None:
        return _make_plain(card, read)
    strip = read_strip(read) if own.joined else None
    if strip is not None:
        return _make_strip(strip, card, read)
    ways = {fold.id: FoldWay("" if fold.sense == "found" else fold.sense, fold.order) for fold in own.folds}
    base, tree = _make_card(read.card, card, ways, own)
    pieces = [base]
    choices = {part.id: part for part in own.parts}
    for id, kind in read.others:
        choice = choices.get(id, FilePart(id, None, kind.count))
        if choice.count:
            pieces.append(_make_other(id, kind, card, choice, len(pieces)))
    threaded = tuple(lock.thread(tree) for lock in find_locks(tree, slits_of(read.card)))
    # A panel that passes two slots is drawn in the first of them.
    threaded = tuple({part.panel: part for part in reversed(threaded)}.values())
    return Made(tree, tuple(pieces), {panel.id: "base" for panel in tree.panels}, threaded=threaded, found=read)


def slits_of(kind: Kind) -> tuple[Points, ...]:
    """The open cuts in a kind of outline, on its flat sheet."""
    part, _ = at_origin(kind)
    return part.slits


def read_strip(read: Read) -> Strip | None:
    """The sections of a file joined; None where it has fewer than two."""
    assert read.card is not None
    tall = bounds(read.card.part.outline).height
    found = []
    for kind in read.drawn.singles:
        part, _ = at_origin(kind)
        section = read_section(kind, part)
        if section is not None and abs(section.height - tall) <= SAME_HEIGHT * tall:
            found.append(section)
    return join_sections(tuple(found)) if len(found) > 1 else None


def _make_strip(strip: Strip, card: Card, read: Read) -> Made:
    pieces = []
    for place, (section, tree) in enumerate(strip.sections):
        id = piece_id(place)
        _, lines = at_origin(section.kind)
        width, height = _sides(id, section.part)
        piece = make_base(
            card,
            tree,
            section.part.outline,
            width=width,
            height=height,
            at=_places(id, tree),
            inner=tuple(msgspec.structs.replace(line, id=f"{id}-{line.id}") for line in lines),
            id=id,
            letter=letter_of(place),
            name="base" if not place else f"section {place + 1}",
        )
        pieces.append(keep_on_paper(piece))
    return Made(strip.tree, tuple(pieces), strip.parts, patches=strip.patches, found=read)


def _make_plain(card: Card, read: Read | None) -> Made:
    tree = make_flat_tree(card.width.value, card.height.value)
    width = Figure("base.width", "base width", card.width.value, source="the stated size: no file yet")
    height = Figure("base.height", "base height", card.height.value, source="the stated size: no file yet")
    base = make_base(card, tree, rectangle(width.value, height.value), width=width, height=height, at={})
    return Made(tree, (base,), {"front": "base"}, found=read)


def _make_card(kind: Kind, card: Card, ways: dict[str, FoldWay], own: FromFile) -> tuple[Piece, PanelTree]:
    part, lines = at_origin(kind)
    tree = make_tree(part, ways, own.front)
    width, height = _sides("base", part)
    base = make_base(
        card,
        tree,
        part.outline,
        width=width,
        height=height,
        at=_places("base", tree),
        inner=tuple(msgspec.structs.replace(line, id=f"base-{line.id}") for line in lines),
    )
    return msgspec.structs.replace(keep_on_paper(base), count=card.count * own.sections), tree


def _make_other(id: str, kind: Kind, card: Card, choice: FilePart, number: int) -> Piece:
    part, lines = at_origin(kind)
    tree = make_tree(part, {})
    width, height = _sides(id, part)
    piece = make_piece(
        id,
        letter_of(number),
        f"outline {id[5:]} of the file",
        tree,
        part.outline,
        paper=choice.paper or card.paper,
        count=card.count * choice.count,
        fold=card.fold,
        field="construct.fold",
        width=width,
        height=height,
        at=_places(id, tree),
        inner=tuple(msgspec.structs.replace(line, id=f"{id}-{line.id}") for line in lines),
    )
    return keep_on_paper(piece)


def at_origin(kind: Kind) -> tuple[Part, tuple[Line, ...]]:
    """A kind's part and lines with the outline's top left corner at the origin."""
    part = kind.part
    box = bounds(part.outline)
    move = translate(-box.left, -box.top)
    lines = tuple(
        msgspec.structs.replace(line, paths=tuple(move.all(path) for path in line.paths)) for line in kind.lines
    )
    return _moved(part, move), lines


def _moved(part: Part, move: Affine) -> Part:
    return Part(
        move.all(part.outline),
        tuple(move.all(hole) for hole in part.holes),
        tuple(move.all(slit) for slit in part.slits),
        tuple((move.all(outline), tuple(move.all(hole) for hole in holes)) for outline, holes in part.panels),
        tuple(Crease(each.one, each.other, move(each.start), move(each.end), each.index) for each in part.creases),
        tuple(move.all(line) for line in part.scores),
        part.index,
    )


def _sides(id: str, part: Part) -> tuple[Figure, Figure]:
    box = bounds(part.outline)
    source = "the file, at the size that was settled"
    return (
        Figure(f"{id}.width", f"{id} width", box.width, source=source),
        Figure(f"{id}.height", f"{id} height", box.height, source=source),
    )


def _places(id: str, tree: PanelTree) -> dict[str, tuple[Figure, Figure]]:
    """Where each fold lies and how long it is."""
    found = {}
    for hinge in tree.hinges:
        upright = abs(hinge.start[0] - hinge.end[0]) < abs(hinge.start[1] - hinge.end[1])
        at, edge = (hinge.start[0], "left") if upright else (hinge.start[1], "top")
        length = ((hinge.start[0] - hinge.end[0]) ** 2 + (hinge.start[1] - hinge.end[1]) ** 2) ** 0.5
        found[hinge.id] = (
            Figure(f"{id}.{hinge.id}.at", f"{hinge.id} of {id}", at, source=f"the file, from the {edge}"),
            Figure(f"{id}.{hinge.id}.edge", f"{hinge.id} from end to end", length, source="the file"),
        )
    return found
