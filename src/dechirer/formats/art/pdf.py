"""Reads the first page of a PDF as a picture at its true size, its bare ground clear."""

from __future__ import annotations

import io

from msgspec import structs

from dechirer.core.brought import Art
from dechirer.formats.art.collect import ArtError
from dechirer.formats.art.picture import read_picture
from dechirer.formats.art.pixels import MOST_KEPT

PX_PER_INCH = 300.0
MOST_INCHES = 80.0


def read_pdf(data: bytes, name: str, id: str = "art") -> Art:
    """Read a PDF's first page; further ones are told of.

    Raises:
        ArtError: it is locked, damaged, too large, or its page is bare.
    """
    import pypdfium2

    try:
        document = pypdfium2.PdfDocument(data)
    except pypdfium2.PdfiumError as error:
        locked = "password" in str(error).lower()
        raise ArtError(f"{name}: {'is locked by a password' if locked else 'is no PDF that can be read'}") from None
    try:
        count = len(document)
        if not count:
            raise ArtError(f"{name}: has no pages")
        page = document[0]
        wide, high = (side / 72 for side in page.get_size())
        if not 0 < max(wide, high) <= MOST_INCHES:
            raise ArtError(f"{name}: its page is {wide:.0f} x {high:.0f} in; up to {MOST_INCHES:.0f} in is read")
        ppi = min(PX_PER_INCH, (MOST_KEPT / (wide * high)) ** 0.5)
        picture = page.render(scale=ppi / 72, fill_color=(255, 255, 255, 0), rev_byteorder=True).to_pil()
    except pypdfium2.PdfiumError:
        raise ArtError(f"{name}: its page cannot be read") from None
    finally:
        document.close()
    out = io.BytesIO()
    picture.convert("RGBA").save(out, "PNG", compress_level=1)
    try:
        art = read_picture(out.getvalue(), name, id, px_per_inch=picture.width / wide)
    except ArtError as error:
        raise ArtError(str(error).replace("transparent background", "bare page")) from None
    more = (f"{count - 1} further pages of the file",) if count > 1 else ()
    said = f"as its page has it, at {ppi:.0f} px to the inch"
    return structs.replace(art, settled=said, doubt="", lost=(*more, *art.lost))
