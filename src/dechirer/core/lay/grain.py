"""The grain of a sheet, and folds across it."""

from __future__ import annotations

from dechirer.core.card.piece import FoldMark
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.shape.affine import Affine

SQUARE_MM = 1.0


def is_across(mark: FoldMark, sheet: LoadedSheet, grain: str, to_sheet: Affine | None = None) -> bool:
    """Whether a fold runs across the grain, as it lies on a sheet; on a square sheet the grain runs up."""
    upright = (sheet.height > sheet.width - SQUARE_MM) == (grain == "long")
    (x1, y1), (x2, y2) = (to_sheet or Affine()).all((mark.start, mark.end))
    return (abs(y2 - y1) > abs(x2 - x1)) != upright
