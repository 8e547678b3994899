"""The pixels of pictures, decoded once: colours at places, and a picture carried past its own edge."""

from __future__ import annotations

import io
from typing import Any

from dechirer.core.brought import Pixels
from dechirer.core.card.print import Raster
from dechirer.core.memory import until_forgotten

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


@until_forgotten(MOST_DECODED)
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


AROUND = ((-1, -1), (-1, 0), (-1, 1), (0, -1), (0, 1), (1, -1), (1, 0), (1, 1))


def carry_out(colours: Any, own: Any, by_px: int) -> Any:
    """A picture whose own pixels' colours are carried outwards, each place taking that of the nearest one of its own.

    From the rim outwards, pixel by pixel: each place hands the seed it knows of to those round it that are further from
    theirs. Only what is reached is touched, so a broad picture costs no more than its rim.

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
    most = int(by_px) ** 2
    away = np.full(high * wide, most + 1, dtype=np.int32)
    seed = np.full(high * wide, -1, dtype=np.int32)
    at = _rim(own)
    away[own.ravel()] = 0
    seed[at] = at
    for _ in range(2 * by_px):
        reached = []
        rows, columns = at // wide, at % wide
        from_row, from_column = seed[at] // wide, seed[at] % wide
        for down, across in AROUND:
            y, x = rows + down, columns + across
            near = (y - from_row) ** 2 + (x - from_column) ** 2
            inside = (y >= 0) & (y < high) & (x >= 0) & (x < wide) & (near <= most)
            to = (y * wide + x)[inside]
            better = near[inside] < away[to]
            to = to[better]
            away[to] = near[inside][better]
            seed[to] = seed[at][inside][better]
            reached.append(to)
        at = np.unique(np.concatenate(reached))
        if not len(at):
            break
    carried = (seed >= 0) & ~own.ravel()
    found = colours.reshape(-1, 3).copy()
    found[carried] = found[seed[carried]]
    return found.reshape(colours.shape)


def _rim(own: Any) -> Any:
    """The numbers of those own pixels beside which one is not."""
    import numpy as np

    inner = own.copy()
    inner[1:] &= own[:-1]
    inner[:-1] &= own[1:]
    inner[:, 1:] &= own[:, :-1]
    inner[:, :-1] &= own[:, 1:]
    return np.flatnonzero(own & ~inner)
