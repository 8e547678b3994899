"""Brightness between pixels."""

from __future__ import annotations

from typing import Any

import numpy as np


def sample_grey(grey: Any, x: Any, y: Any) -> Any:
    """Brightness at places of a picture, bilinear; the corner of its first pixel is (0, 0). Past it, its rim's."""
    high, wide = grey.shape
    x, y = np.clip(x - 0.5, 0, wide - 1.001), np.clip(y - 0.5, 0, high - 1.001)
    column, row = x.astype(np.int32), y.astype(np.int32)
    fx, fy = (x - column).astype(np.float32), (y - row).astype(np.float32)
    upper = grey[row, column] * (1 - fx) + grey[row, column + 1] * fx
    lower = grey[row + 1, column] * (1 - fx) + grey[row + 1, column + 1] * fx
    return upper * (1 - fy) + lower * fy
