"""A card while things are glued on and in: its pieces, what lies on its panels, and the figures that come of it."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.card.assembly import Assembler, Bare, Made
from dechirer.core.card.making import derive, letter_of, make_flat_piece
from dechirer.core.card.panels import Face, Side
from dechirer.core.card.piece import Line, Measure, Piece
from dechirer.core.card.stack import AtHand
from dechirer.core.construct.card import Card
from dechirer.core.figure import Figure
from dechirer.core.length import format_length, format_size
from dechirer.core.shape.affine import Point, Points

LEAST_MM = 1.0
"""A piece smaller than this is not there."""
FOAM_INSET_MM = 4.0
"""Foam is set in from the layer's edges, so that it does not show (common practice)."""


class Attached:
    """Adds pieces to a card one after the other and keeps the pieces, slabs and figures that come of it."""

    def __init__(self, card: Card, made: Made, liner: str = "") -> None:
        """`liner` is what a liner of this construction is: `spread`, `centre` or empty."""
        self.card, self.made, self.liner = card, made, liner
        self.pieces: list[Piece] = list(made.pieces)
        self.figures: list[Figure] = list(made.figures)
        self.at_hand: list[AtHand] = []
        self.bare: list[Bare] = list(made.bare)
        self.assembler = Assembler(made, card.paper, card.thickness_of)

    @property
    def front(self) -> Face:
        """The face a reader meets first."""
        return self.made.tree.faces[0]

    def face(self, name: str) -> Face | None:
        """The face of that name, or None."""
        return next((each for each in self.made.tree.faces if each.name == name), None)

    def letter(self) -> str:
        """The next piece's letter."""
        return letter_of(len(self.pieces))

    def add(self, piece: Piece) -> None:
        """Keep a piece."""
        self.pieces.append(piece)

    def add_flat(
        self,
        id: str,
        name: str,
        paper: str,
        width: Figure,
        height: Figure,
        measures: tuple[Measure, ...] = (),
        *,
        before: str = "",
    ) -> None:
        """Keep a rectangle of that size (mm), one for each card; glued on before lines of a role are run, if any."""
        piece = make_flat_piece(
            id,
            self.letter(),
            name,
            paper=paper,
            count=self.card.count,
            width=width,
            height=height,
            measures=measures,
        )
        self.add(structs.replace(piece, before=before))

    def put(self, piece: str, paper: str, panel: str, side: Side, outline: Points) -> None:
        """Glue a piece of a paper on a side of a panel; the outline lies on the card's flat sheet, in mm."""
        self.assembler.put(piece, paper, panel, side, outline, self.card.thickness_of(paper))

    def put_level(self, piece: str, paper: str, panel: str, side: Side, outlines: list[Points]) -> None:
        """Lay parts of one piece beside each other on a side of a panel, all at one height."""
        self.assembler.put_level(piece, paper, panel, side, outlines, self.card.thickness_of(paper))

    def behind(self, face: Face) -> Side:
        """The other side of a face's panel."""
        return "inside" if face.side == "outside" else "outside"

    def measure_on_base(self, panel: str, measure: Measure) -> None:
        """Draw a parameter on the base piece that has a panel; the measure is in the card's flat coordinates."""
        owner = self.made.parts[panel]
        for index, piece in enumerate(self.pieces):
            if piece.id == owner:
                shift = _shift(piece, self.made, panel)
                moved = structs.replace(
                    measure,
                    start=_move(measure.start, shift),
                    end=_move(measure.end, shift),
                    guide=tuple(_move(point, shift) for point in measure.guide),
                )
                self.pieces[index] = structs.replace(piece, measures=(*piece.measures, moved))

    def add_line(self, panel: str, line: Line) -> None:
        """Give the base piece that has a panel a line before its outline; the line lies on the card's flat sheet."""
        owner = self.made.parts[panel]
        for index, piece in enumerate(self.pieces):
            if piece.id == owner:
                shift = _shift(piece, self.made, panel)
                own = tuple(tuple(_move(point, shift) for point in path) for path in line.paths)
                moved = structs.replace(line, id=f"{piece.id}-{line.id}", paths=own)
                self.pieces[index] = structs.replace(piece, lines=(*piece.lines[:-1], moved, piece.lines[-1]))

    def note_total(
        self, width: Figure, height: Figure, whole: tuple[Figure, Figure], border: Figure
    ) -> tuple[Figure, Figure]:
        """Say the total beside the per-side measure: mixing them up is the commonest slip."""
        units, doubled = self.card.units, 2 * border.value
        total = format_length(doubled, units)
        shown = format_size(whole[0].value - 2 * doubled, whole[1].value - 2 * doubled, units)
        note = f"{total} less in all, {border.text(units)} on each side. "
        note += f"For a border of {total} all round, type {total} a side: {shown}."
        return structs.replace(width, note=note), structs.replace(height, note=note)


def each_side(key: str, name: str, value: float, field: str, counts: str) -> Figure:
    """A measure on each side (mm): as it was typed, or half of what was typed for both sides together."""
    if counts != "total":
        return Figure(key, name, value, field=field)
    whole = Figure(f"{key}.total", f"{name} in all", value, field=field)
    return derive(key, name, value / 2, "{" + whole.name + "} ÷ 2", whole)


def less(whole: Figure, border: Figure, key: str, name: str) -> Figure:
    """A size smaller by a border on both sides, in mm."""
    formula = "{" + whole.name + "} − 2 × {" + border.name + "}"
    return derive(key, name, whole.value - 2 * border.value, formula, whole, border)


def more(inner: Figure, margin: Figure, key: str, name: str) -> Figure:
    """A size larger by a margin on both sides, in mm."""
    formula = "{" + inner.name + "} + 2 × {" + margin.name + "}"
    return derive(key, name, inner.value + 2 * margin.value, formula, inner, margin)


def _shift(piece: Piece, made: Made, panel: str) -> Point:
    """From the card's flat sheet to the piece's own coordinates."""
    card, own = made.tree.panel(panel).outline[0], piece.tree.panel(panel).outline[0]
    return own[0] - card[0], own[1] - card[1]


def _move(point: Point, shift: Point) -> Point:
    return point[0] + shift[0], point[1] + shift[1]
