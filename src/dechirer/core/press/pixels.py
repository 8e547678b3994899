"""The pixels of pictures, decoded once: colours at places, and a picture carried past its own edge."""

from __future__ import annotations

import io
from functools import lru_cache
from typing import Any

from dechirer.core.brought import Pixels
from dechirer.core.card.print import Raster

MOST_DECODED = 4
"""So many pictures stay decoded: a full page of 300 px to the inch is 34 MB."""
CLEAR = 128
"""Less alpha than this is no ink."""
LOOKED_AT_PX = 1500
"""Colours are looked up in a picture no longer than that."""


def decode(pixels: Pixels, longest: int = 0) -> Any:
    """A picture as an array (height, width, 4) of red, green, blue and alpha, 0 to 255.

    Args:
        longest: no more pixels than that along its longer side; 0 for all it has.

    Raises:
        ValueError: it cannot be read.
    """
    import numpy as np
    from PIL import Image

    try:
        image: Any = Image.open(io.BytesIO(pixels.data), formats=("PNG", "JPEG"))
        if longest:
            image.draft("RGB", (longest, longest))
        image.load()
        step = -(-max(image.size) // longest) if longest else 1
        return np.asarray((image.reduce(step) if step > 1 else image).convert("RGBA"))
    except (OSError, SyntaxError, MemoryError, Image.DecompressionBombError) as error:
        raise ValueError(f"the picture cannot be read ({error})") from None


@lru_cache(maxsize=MOST_DECODED)
def _small(pixels: Pixels) -> Any:
    return decode(pixels, LOOKED_AT_PX)


def sample(raster: Raster, places: Any) -> tuple[list[str], Any]:
    """The colours `#rrggbb`, in steps of 8, and the alphas (0 to 255) a picture shows at places (n, 2) in mm; it is
    clear past its edge."""
    import numpy as np

    shown = _small(raster.pixels)
    high, wide = shown.shape[:2]
    back = raster.to.inverse()
    x = (places[:, 0] * back.a + places[:, 1] * back.c + back.e) * (wide / raster.pixels.width)
    y = (places[:, 0] * back.b + places[:, 1] * back.d + back.f) * (high / raster.pixels.height)
    column, row = np.floor(x).astype(int), np.floor(y).astype(int)
    inside = (column >= 0) & (column < wide) & (row >= 0) & (row < high)
    found = shown[np.clip(row, 0, high - 1), np.clip(column, 0, wide - 1)]
    steps = np.minimum((found[:, :3].astype(int) + 4) & ~7, 255)
    colours = [f"#{red:02x}{green:02x}{blue:02x}" for red, green, blue in steps.tolist()]
    return colours, np.where(inside, found[:, 3], 0)


def carry_out(colours: Any, own: Any, by_px: int) -> Any:
    """A picture whose own pixels' colours are carried outwards, each place taking that of the nearest one of its own.

    By jumps of halving length (jump flooding): each place asks others for the nearest seed they know of.

    Args:
        colours: (h, w, 3).
        own: (h, w), which pixels are its own.
        by_px: how far they are carried.

    Returns:
        The colours, (h, w, 3); further out they are as they were.
    """
    import numpy as np

    high, wide = own.shape
    if not own.any() or own.all():
        return colours
    rows, columns = np.indices((high, wide), dtype=np.int32)
    far = np.int32(1 << 20)
    seed_row, seed_column = np.where(own, rows, -far), np.where(own, columns, -far)
    away = np.where(own, 0, np.int64(far) ** 2)
    jump = 1 << max(0, (min(by_px, max(high, wide)) - 1).bit_length())
    jumps = []
    while jump >= 1:
        jumps.append(jump)
        jump //= 2
    for jump in (*jumps, 1):
        for down, across in ((-1, -1), (-1, 0), (-1, 1), (0, -1), (0, 1), (1, -1), (1, 0), (1, 1)):
            dy, dx = down * jump, across * jump
            to = np.s_[max(0, dy) : high + min(0, dy), max(0, dx) : wide + min(0, dx)]
            by = np.s_[max(0, -dy) : high + min(0, -dy), max(0, -dx) : wide + min(0, -dx)]
            row, column = seed_row[by], seed_column[by]
            near = (rows[to].astype(np.int64) - row) ** 2 + (columns[to].astype(np.int64) - column) ** 2
            better = near < away[to]
            away[to] = np.where(better, near, away[to])
            seed_row[to] = np.where(better, row, seed_row[to])
            seed_column[to] = np.where(better, column, seed_column[to])
    reach = (away <= np.int64(by_px) ** 2 * 2) & ~own
    found = colours.copy()
    found[reach] = colours[np.clip(seed_row, 0, high - 1)[reach], np.clip(seed_column, 0, wide - 1)[reach]]
    return found
