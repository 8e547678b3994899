"""Photographs for the book: upright, small, and without what cameras write into them (place, time, owner)."""

from __future__ import annotations

import io
from pathlib import Path

from msgspec import Struct

from dechirer.formats.strange_pictures import on_white, open_upright, read_within

LONGEST_PX, QUALITY = 1280, 80
MOST_BYTES, MOST_PIXELS = 60_000_000, 120_000_000
MOST_KEPT = 1_500_000
JPEG = b"\xff\xd8\xff"


class PhotoError(ValueError):
    """A photograph that cannot be read; the message begins with the file's name."""


class Small(Struct, frozen=True):
    """A photograph made small: the content of a JPEG file, and its size (pixels)."""

    data: bytes
    width: int
    height: int


def make_small(path: Path) -> Small:
    """A photograph at most LONGEST_PX long.

    Raises:
        PhotoError: it is no picture, damaged or too large.
        OSError: it cannot be read.
    """
    from PIL import Image

    data = read_within(path, MOST_BYTES, PhotoError)
    upright, _ = open_upright(data, path.name, MOST_PIXELS, PhotoError, about=LONGEST_PX)
    small = on_white(upright).convert("RGB")
    small.thumbnail((LONGEST_PX, LONGEST_PX), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    small.save(out, "JPEG", quality=QUALITY, optimize=True)
    return Small(out.getvalue(), small.width, small.height)


def is_small_picture(data: bytes) -> bool:
    """Whether it looks like a picture that was kept in a book."""
    return data.startswith(JPEG) and len(data) <= MOST_KEPT
