"""Keeps the pixels of a picture: upright, eight bits to a channel, PNG or JPEG, bounded.

What is done to them is said: colours for four inks become red, green and blue without their profile, sixteen bits
become eight, and a picture with more pixels than any page of ours prints is made smaller.
"""

from __future__ import annotations

import io
from typing import Any

from msgspec import Struct

from dechirer.core.brought import MOST_PICTURE_BYTES

MOST_KEPT = 36_000_000
"""A letter page at 600 px to the inch has 33.7 million pixels; more of them print no finer."""
JPEG_QUALITY = 95
PLAIN_JPEG = ("RGB", "L")


class Packed(Struct, frozen=True):
    """A picture as it is kept: its file, its size in px, how much smaller it was made (1: as it was), what was done."""

    data: bytes
    width: int
    height: int
    smaller: float
    said: tuple[str, ...]


def pack(image: Any, original: bytes, was: Any) -> Packed:
    """Pack a picture.

    Args:
        image: the first picture of the file, upright (Pillow).
        original: the file it came in, kept as it is where that is a plain JPEG.
        was: the picture as it was opened, for its mode and whether it has been turned.
    """
    said = []
    if was.mode == "CMYK":
        said.append("its four inks were turned into red, green and blue")
    if was.info.get("icc_profile"):
        said.append("its colour profile is not used")
    small, smaller = _bounded(image)
    if smaller < 1:
        said.append(f"made smaller, from {image.width} to {small.width} px across")
    is_plain = was.format == "JPEG" and was.mode in PLAIN_JPEG and image is was and smaller == 1
    if is_plain and len(original) <= MOST_PICTURE_BYTES:
        return Packed(original, small.width, small.height, 1.0, tuple(said))
    has_alpha = small.mode in ("RGBA", "LA", "PA") or "transparency" in small.info
    plain = to_eight_bits(small).convert("RGBA" if has_alpha else "RGB")
    data = _write(plain, "PNG")
    while len(data) > MOST_PICTURE_BYTES:
        if not has_alpha:
            data = _write(plain, "JPEG")
            if len(data) <= MOST_PICTURE_BYTES:
                break
        plain = plain.reduce(2)
        smaller /= 2
        data = _write(plain, "PNG")
        said = [each for each in said if not each.startswith("made smaller")]
        said.append(f"made smaller, from {image.width} to {plain.width} px across")
    return Packed(data, plain.width, plain.height, plain.width / image.width, tuple(said))


def _bounded(image: Any) -> tuple[Any, float]:
    """The picture with no more pixels than are kept, and how much smaller it was made."""
    count = image.width * image.height
    if count <= MOST_KEPT:
        return image, 1.0
    share = (MOST_KEPT / count) ** 0.5
    size = (max(1, int(image.width * share)), max(1, int(image.height * share)))
    return to_eight_bits(image).resize(size, reducing_gap=2.0), size[0] / image.width


def to_eight_bits(image: Any) -> Any:
    """A picture of sixteen bits of grey as one of eight: a plain conversion would cut them off at 255."""
    if not image.mode.startswith("I") and image.mode != "F":
        return image
    import numpy as np
    from PIL import Image

    deep = np.asarray(image).astype(np.float64)
    top = 65535.0 if deep.max() > 255 else 255.0
    return Image.fromarray((np.clip(deep / top, 0, 1) * 255).astype(np.uint8))


def _write(image: Any, format: str) -> bytes:
    out = io.BytesIO()
    if format == "PNG":
        image.save(out, "PNG", compress_level=4)
    else:
        image.save(out, "JPEG", quality=JPEG_QUALITY, subsampling=0)
    return out.getvalue()
