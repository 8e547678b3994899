"""Pictures from strangers: read within bounds, turned upright, and refused in words."""

from __future__ import annotations

import io
import warnings
from pathlib import Path
from typing import Any

from dechirer.formats.untrusted_files import quiet_libraries, read_regular

FORMATS = ("PNG", "JPEG", "TIFF", "WEBP")


def read_within(path: Path, most_bytes: float, refused: type[Exception]) -> bytes:
    """Read the content of a file.

    Raises:
        refused: not a regular file, or larger than `most_bytes`; the message begins with its name.
        OSError: it cannot be read.
    """
    return read_regular(path, int(most_bytes), refused)


def open_upright(
    data: bytes, name: str, most_pixels: float, refused: type[Exception], *, about: int = 0, or_else: str = ""
) -> tuple[Any, Any]:
    """The picture in a file, turned as it was taken, and the pixels per inch that the file states (None: none).

    Args:
        about: how long it is wanted at least (px), where less will do than is in the file; 0 for all there is.
        or_else: what else the file might have been, for the words of the refusal.

    Raises:
        refused: it is no picture, damaged, or has more than `most_pixels`; the message begins with `name`.
    """
    from PIL import Image, ImageOps, UnidentifiedImageError

    try:
        with warnings.catch_warnings(), quiet_libraries():
            warnings.simplefilter("ignore")
            image = Image.open(io.BytesIO(data), formats=FORMATS)
            if image.width * image.height > most_pixels:
                raise refused(
                    f"{name}: has {image.width} x {image.height} pixels; up to {most_pixels / 1e6:.0f} million are read"
                )
            dpi = image.info.get("dpi")
            if about:
                image.draft("RGB", (about, about))
            return ImageOps.exif_transpose(image), dpi
    except refused:
        raise
    except UnidentifiedImageError:
        raise refused(f"{name}: is no PNG, JPEG, TIFF or WebP picture{or_else}") from None
    except Exception as error:  # noqa: BLE001 - readers are not ours, and files come from strangers
        raise refused(f"{name}: is damaged ({type(error).__name__})") from None


def on_white(image: Any) -> Any:
    """A picture without transparency: what is clear of it white."""
    from PIL import Image

    if "A" not in image.getbands() and "transparency" not in image.info:
        return image
    clear = image.convert("RGBA")
    return Image.alpha_composite(Image.new("RGBA", clear.size, "white"), clear)
