"""Opening scans: pictures and PDF pages as grey, with what they say of their pixels. Files come from strangers."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from msgspec import Struct

from dechirer.formats.art.pixels import to_eight_bits
from dechirer.formats.scans.finding import ScanError
from dechirer.formats.strange_pictures import on_white, open_upright, read_within

MOST_BYTES = 200_000_000
MOST_PIXELS = 150_000_000
"""A tabloid page at 900 px to the inch."""
MOST_PAGES = 2
"""One page, or the same one again turned by half."""
RENDER_PPI = 300
LEAST_PX = 400


class Glass(Struct, frozen=True):
    """What lay on the glass: grey (h, w), 0 to 255, and the pixels to the inch its file tells, None where it is
    silent."""

    grey: Any
    px_per_inch: float | None


def open_scan(path: Path) -> list[Glass]:
    """A scan's pages: one of a picture, one or two of a PDF.

    Raises:
        ScanError: it is no picture or PDF, damaged, locked, or too large; the message begins with its name.
        OSError: it cannot be read.
    """
    name = path.name
    data = read_within(path, MOST_BYTES, ScanError)
    if not data:
        raise ScanError(f"{name}: is empty")
    found = _open_pdf(data, name) if data[:1024].lstrip()[:5] == b"%PDF-" else [_open_picture(data, name)]
    for each in found:
        if min(each.grey.shape) < LEAST_PX:
            high, wide = each.grey.shape
            raise ScanError(f"{name}: has {wide} x {high} pixels, too few for a scan of a page")
    return found


def _open_picture(data: bytes, name: str) -> Glass:
    upright, dpi = open_upright(data, name, MOST_PIXELS, ScanError, or_else=", and no PDF")
    try:
        grey = np.asarray(_in_grey(to_eight_bits(upright)))
    except Exception as error:  # noqa: BLE001 - pixels are decoded here, by a reader that is not ours
        raise ScanError(f"{name}: is damaged ({type(error).__name__})") from None
    return Glass(grey, _told(dpi))


def _in_grey(image: Any) -> Any:
    """A picture in grey, what is clear of it white."""
    whole = on_white(image)
    return whole if whole.mode == "L" else whole.convert("RGB").convert("L")


def _told(dpi: Any) -> float | None:
    try:
        across, down = float(dpi[0]), float(dpi[1])
    except (TypeError, ValueError, IndexError):
        return None
    return across if 60 <= across <= 1300 and abs(across / max(down, 1) - 1) < 0.01 else None


def _open_pdf(data: bytes, name: str) -> list[Glass]:
    import pypdfium2

    try:
        document = pypdfium2.PdfDocument(data)
    except pypdfium2.PdfiumError as error:
        locked = "password" in str(error).lower()
        raise ScanError(f"{name}: {'is locked by a password' if locked else 'is no PDF that can be read'}") from None
    try:
        count = len(document)
        if not 1 <= count <= MOST_PAGES:
            raise ScanError(f"{name}: has {count} pages; one is wanted, or two of the same page turned by half")
        return [_render(document[number], name) for number in range(count)]
    except pypdfium2.PdfiumError:
        raise ScanError(f"{name}: its page cannot be read") from None
    finally:
        document.close()


def _render(page: Any, name: str) -> Glass:
    """A page at the resolution of the picture on it where it is one picture, as scans are; else at 300."""
    wide, high = page.get_size()
    ppi = float(RENDER_PPI)
    for thing in page.get_objects(max_depth=2):
        if thing.type == 3:  # a picture, as PDFium numbers kinds of things
            across = getattr(thing, "get_px_size", lambda: (0, 0))()[0]
            ppi = max(ppi, min(across / max(wide / 72, 1e-6), 600.0))
    if wide * high * (ppi / 72) ** 2 > MOST_PIXELS:
        raise ScanError(f"{name}: its page is {wide / 72:.0f} x {high / 72:.0f} in, too large for a scan")
    return Glass(np.asarray(page.render(scale=ppi / 72, grayscale=True).to_pil().convert("L")), ppi)
