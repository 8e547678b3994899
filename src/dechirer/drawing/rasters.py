"""Pixels of pictures as sinks draw them: decoded small enough for a screen or a proof, a few kept at a time."""

from __future__ import annotations

import io
import threading
from collections import OrderedDict
from typing import Any

from dechirer.core.brought import Pixels

SHOWN_PX = 1600
"""A picture is shown with at most so many pixels along its longer side."""
MOST_KEPT = 16


class Previews:
    """Decoded pictures by what they are decoded from; the ones not asked for longest are dropped."""

    def __init__(self) -> None:
        self._kept: OrderedDict[int, tuple[Pixels, Any]] = OrderedDict()
        self._lock = threading.Lock()

    def find(self, pixels: Pixels) -> Any | None:
        """The picture if it is decoded already."""
        with self._lock:
            kept = self._kept.get(id(pixels))
            if kept is None:
                return None
            self._kept.move_to_end(id(pixels))
            return kept[1]

    def keep(self, pixels: Pixels, shown: Any) -> None:
        """Keep a decoded picture."""
        with self._lock:
            self._kept[id(pixels)] = (pixels, shown)
            while len(self._kept) > MOST_KEPT:
                self._kept.popitem(last=False)


def decode_small(pixels: Pixels, longest: int = SHOWN_PX) -> Any:
    """The picture as a Pillow image, RGBA, no longer than that; a clear one of a pixel where it cannot be read."""
    from PIL import Image

    try:
        image: Any = Image.open(io.BytesIO(pixels.data), formats=("PNG", "JPEG"))
        image.draft("RGB", (longest, longest))
        image.load()
        step = -(-max(image.size) // longest)
        return (image.reduce(step) if step > 1 else image).convert("RGBA")
    except (OSError, ValueError, SyntaxError, MemoryError, Image.DecompressionBombError):
        return Image.new("RGBA", (1, 1), (0, 0, 0, 0))
