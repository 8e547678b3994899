"""A flat piece: its outline, the lines it owns, its panels and its figures. A piece owns its lines."""

from __future__ import annotations

from typing import Any

from msgspec import Struct, structs

from dechirer.core.card.fold import Fold
from dechirer.core.card.operations import Operation
from dechirer.core.card.panels import PanelTree, sense_seen_from
from dechirer.core.card.print import Print
from dechirer.core.decide.change import value_at
from dechirer.core.figure import Figure
from dechirer.core.shape.affine import Affine, Point, Points, mirror_x
from dechirer.core.shape.outline import area, bounds


class Line(Struct, frozen=True):
    """One line of a piece: its operation and the paths it is made of, outside up.

    `role` says what it is for: `outline`, `fold`, `tick`, `hole` (a closed line whose middle falls out), `slit`, `flap`
    (an open line round what lifts), `peel` or `art`. A fold line carries its sense, a drawn one its ink's colour.
    `side` is the side that must lie up for it (`outside-up` or `inside-up`), where that matters; `times` how often it
    is run, where that is not as the run says. What falls out of a `kept` hole is of use. `tip` is how broad the pen or
    foil tip for it is (mm; 0 for what has none).
    """

    id: str
    name: str
    operation: Operation
    paths: tuple[Points, ...]
    closed: bool = False
    role: str = "outline"
    sense: str = ""
    colour: str = ""
    side: str = ""
    times: int = 0
    kept: bool = False
    tip: float = 0.0


GIVEN_ROLES = ("outline", "fold", "tick")
"""The roles of the lines a bought blank comes with."""


class FoldMark(Struct, frozen=True):
    """A fold on the flat piece, marked or not: where it runs, its kind and its sense outside up."""

    hinge: str
    start: tuple[float, float]
    end: tuple[float, float]
    kind: str
    sense: str
    at: Figure
    length: Figure
    settings: tuple[Figure, ...] = ()
    lifts: bool = False

    @property
    def edge(self) -> str:
        """The edge that `at` is measured from, with the piece outside up: `left` for an upright fold, `top` for a
        level one."""
        upright = abs(self.start[0] - self.end[0]) < abs(self.start[1] - self.end[1])
        return "left" if upright else "top"


class Measure(Struct, frozen=True):
    """A parameter drawn on a piece as a dimension: from `start` to `end` on the piece, outside up.

    One given `as_words` stands as a number with its words below `start`, where a line would be one too many.
    """

    figure: Figure
    start: Point
    end: Point
    words: str = ""
    shift_px: float = 0.0
    guide: Points = ()
    as_words: bool = False


class Piece(Struct, frozen=True):
    """A flat piece, seen outside up, with its top left corner at the origin. Lengths in mm.

    A `blank` is bought cut and scored: its outline and its folds are there already, and only what is inside is run,
    less the lines that are `given` by their id. `slot` is the slot it is asked to go into, from 1.
    What is glued on `before` lines of a role are run elsewhere has to be cut on an earlier mat. What is printed on it
    is printed before anything is run.
    """

    id: str
    letter: str
    name: str
    paper: str
    count: int
    tree: PanelTree
    outline: Points
    lines: tuple[Line, ...]
    folds: tuple[FoldMark, ...]
    width: Figure
    height: Figure
    face: str = "outside-up"
    measures: tuple[Measure, ...] = ()
    fold_field: str = ""
    blank: bool = False
    given: tuple[str, ...] = ()
    slot: int = 0
    before: str = ""
    prints: tuple[Print, ...] = ()

    @property
    def run_lines(self) -> tuple[Line, ...]:
        """The lines a machine runs, in running order."""
        return (
            tuple(line for line in self.lines if line.role not in GIVEN_ROLES and line.id not in self.given)
            if self.blank
            else self.lines
        )

    @property
    def wants_up(self) -> str:
        """The side that must lie up for what is printed or drawn on it: `inside-up` where that is all that matters to
        it. Marks are read and cut by on the printed side, so that comes before what is drawn."""
        sides = self.printed_sides or {line.side for line in self.lines} - {""}
        return "inside-up" if sides == {"inside-up"} else "outside-up"

    @property
    def printed_sides(self) -> set[str]:
        """The sides something is printed on, `outside-up` or `inside-up`."""
        return {each.side for each in self.prints}

    @property
    def area(self) -> float:
        """Area of the outline in mm2."""
        return area(self.outline)


def turn_over(piece: Piece, turned: dict[tuple[int, Affine], tuple[Points, ...]] | None = None) -> Piece:
    """The piece as it lies with its inside up: mirrored left to right, mountain and valley exchanged.

    Args:
        turned: paths that are turned already, by their identity and the turn: pieces that share some share them turned.
    """
    box = bounds(piece.outline)
    flip = mirror_x(box.left + box.right)
    turned = {} if turned is None else turned

    def turn(line: Line) -> Line:
        key = (id(line.paths), flip)
        if key not in turned:
            turned[key] = tuple(flip.all(path) for path in line.paths)
        return structs.replace(line, paths=turned[key], sense=_other_sense(line.sense))

    lines = tuple(turn(line) for line in piece.lines)
    folds = tuple(
        structs.replace(mark, start=flip(mark.start), end=flip(mark.end), sense=_other_sense(mark.sense))
        for mark in piece.folds
    )
    return structs.replace(
        piece,
        outline=tuple(reversed(flip.all(piece.outline))),
        prints=tuple(each.moved(flip) for each in piece.prints),
        lines=lines,
        folds=folds,
        face="inside-up" if piece.face == "outside-up" else "outside-up",
    )


def turn_piece(piece: Piece, turn: Affine) -> Piece:
    """The piece turned on its sheet, by any angle; its panels and measures stay as they are read."""
    lines = tuple(structs.replace(line, paths=tuple(turn.all(path) for path in line.paths)) for line in piece.lines)
    folds = tuple(structs.replace(mark, start=turn(mark.start), end=turn(mark.end)) for mark in piece.folds)
    prints = tuple(each.moved(turn) for each in piece.prints)
    return structs.replace(piece, outline=turn.all(piece.outline), lines=lines, folds=folds, prints=prints)


def _other_sense(sense: str) -> str:
    return sense_seen_from(sense, "inside") if sense in ("mountain", "valley") else sense  # type: ignore[arg-type]


def fold_of(decided: Any, piece: Piece) -> Fold | None:
    """How a piece's folds are marked, or None for a piece without folds.

    Args:
        decided: whatever holds the decisions by the names that paths begin with, such as a job.
    """
    if not piece.fold_field:
        return None
    found = value_at(decided, piece.fold_field)
    return found if isinstance(found, Fold) else None
