"""A piece placed on a sheet."""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct, structs

from dechirer.core.card.piece import Line, Piece
from dechirer.core.card.print import Print
from dechirer.core.shape.affine import Affine, Points, rotate, rotate_quarter, translate
from dechirer.core.shape.outline import Box, bounds


class Placement(Struct, frozen=True):
    """One piece on a sheet: where, whether turned by a quarter, by a `half` besides, and pinned. `to_sheet` maps the
    piece, as it lies face up. It lies `within` so many windows of other pieces, and
    is turned by an `angle` (degrees, clockwise) besides."""

    id: str
    piece: Piece
    box: Box
    turned: bool
    pinned: bool
    to_sheet: Affine
    half: bool = False
    within: int = 0
    angle: float = 0.0

    @property
    def outline(self) -> Points:
        """The piece's outline on the sheet."""
        return self.to_sheet.all(self.piece.outline)

    def lines(self) -> Iterator[Line]:
        """The lines that are run, as they lie on the sheet."""
        for line in self.piece.run_lines:
            paths = tuple(self.to_sheet.all(path) for path in line.paths)
            yield structs.replace(line, paths=paths)

    def prints(self) -> Iterator[Print]:
        """What is printed on the side that lies up, as it lies on the sheet."""
        return (each.moved(self.to_sheet) for each in self.piece.prints if each.side == self.piece.face)


def make_placement(
    id: str, piece: Piece, x: float, y: float, *, turned: bool, pinned: bool, half: bool = False, angle: float = 0.0
) -> Placement:
    """A piece put down with the top left corner of its bounding box at (x, y), turned by an angle last."""
    box = bounds(piece.outline)
    turn = rotate_quarter(box.height) if turned else Affine()
    width, height = (box.height, box.width) if turned else (box.width, box.height)
    over = Affine(-1.0, 0.0, 0.0, -1.0, width, height) if half else Affine()
    to_sheet = translate(-box.left, -box.top).then(turn).then(over)
    if angle:
        to_sheet = to_sheet.then(rotate(angle))
        askew = bounds(to_sheet.all(piece.outline))
        to_sheet = to_sheet.then(translate(-askew.left, -askew.top))
        width, height = askew.width, askew.height
    to_sheet = to_sheet.then(translate(x, y))
    return Placement(id, piece, Box(x, y, x + width, y + height), turned, pinned, to_sheet, half, 0, angle)
