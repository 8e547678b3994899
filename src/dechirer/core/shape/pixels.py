"""What is read of pictures as arrays: brightness between pixels, and the even map of least squares between places."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np

from dechirer.core.shape.affine import Affine, Point


def sample_grey(grey: Any, x: Any, y: Any) -> Any:
    """Brightness at places of a picture, bilinear; the corner of its first pixel is (0, 0). Past it, its rim's."""
    high, wide = grey.shape
    x, y = np.clip(x - 0.5, 0, wide - 1.001), np.clip(y - 0.5, 0, high - 1.001)
    column, row = x.astype(np.int32), y.astype(np.int32)
    fx, fy = (x - column).astype(np.float32), (y - row).astype(np.float32)
    upper = grey[row, column] * (1 - fx) + grey[row, column + 1] * fx
    lower = grey[row + 1, column] * (1 - fx) + grey[row + 1, column + 1] * fx
    return upper * (1 - fy) + lower * fy


def fit_affine(wanted: Sequence[Point], found: Sequence[Point], weights: Any = None) -> tuple[Affine, Any]:
    """The affine map of least squares, and how far each place lies off it; `weights`, one for each place, say how much
    it counts."""
    rows = np.array([[x, y, 1.0] for x, y in wanted])
    places = np.array(found)
    root = np.sqrt(np.ones(len(rows)) if weights is None else weights)[:, None]
    solved = np.linalg.lstsq(rows * root, places * root, rcond=None)[0]
    (a, b), (c, d), (e, f) = solved.tolist()
    return Affine(a, b, c, d, e, f), np.hypot(*(rows @ solved - places).T)
