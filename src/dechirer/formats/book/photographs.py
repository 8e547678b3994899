"""Photographs for the book: upright, small, and without what cameras write into them (place, time, owner)."""

from __future__ import annotations

import io
import warnings
from pathlib import Path

from msgspec import Struct

LONGEST_PX, QUALITY = 1280, 80
MOST_BYTES, MOST_PIXELS = 60_000_000, 120_000_000
MOST_KEPT = 1_500_000
FORMATS = ("JPEG", "PNG", "WEBP", "TIFF")
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
    from PIL import Image, ImageOps, UnidentifiedImageError

    name = path.name
    if path.is_dir():
        raise PhotoError(f"{name}: is a folder")
    if path.stat().st_size > MOST_BYTES:
        raise PhotoError(f"{name}: is {path.stat().st_size / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} MB is read")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            image = Image.open(io.BytesIO(path.read_bytes()), formats=FORMATS)
            if image.width * image.height > MOST_PIXELS:
                raise PhotoError(
                    f"{name}: has {image.width} x {image.height} pixels; up to {MOST_PIXELS / 1e6:.0f} million are read"
                )
            image.draft("RGB", (LONGEST_PX, LONGEST_PX))
            upright = ImageOps.exif_transpose(image)
            if "A" in upright.getbands() or "transparency" in upright.info:
                clear = upright.convert("RGBA")
                upright = Image.alpha_composite(Image.new("RGBA", clear.size, "white"), clear)
            small = upright.convert("RGB")
    except PhotoError:
        raise
    except UnidentifiedImageError:
        raise PhotoError(f"{name}: is no JPEG, PNG, WebP or TIFF picture") from None
    except Exception as error:  # noqa: BLE001 - readers are not ours, and files come from strangers
        raise PhotoError(f"{name}: the picture is damaged ({type(error).__name__})") from None
    small.thumbnail((LONGEST_PX, LONGEST_PX), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    small.save(out, "JPEG", quality=QUALITY, optimize=True)
    return Small(out.getvalue(), small.width, small.height)


def is_small_picture(data: bytes) -> bool:
    """Whether it looks like a picture that was kept in a book."""
    return data.startswith(JPEG) and len(data) <= MOST_KEPT
