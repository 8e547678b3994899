"""Reads any file of art by what is in it, not by its name's ending; and font files."""

from __future__ import annotations

import logging
from contextlib import nullcontext
from pathlib import Path

from msgspec import structs

from dechirer.core.brought import MOST_FONT_BYTES, Art, FontFile
from dechirer.core.decide.letters import clean
from dechirer.core.stopping import Stopped
from dechirer.formats.art.collect import ArtError, make_id
from dechirer.formats.strange_pictures import read_within
from dechirer.formats.untrusted_files import quiet_libraries

TIFF_STARTS = (b"II*\x00", b"MM\x00*")
"""TIFF 6.0, the order of bytes and 42."""
ENDINGS = "svg svgz dxf png jpg jpeg webp tif tiff pdf ttf otf"
ART_FILTER = f"Art and typefaces ({' '.join(f'*.{each}' for each in ENDINGS.split())});;All files (*)"
MOST_BYTES = 110_000_000
FONT_STARTS = (b"\x00\x01\x00\x00", b"OTTO", b"true", b"ttcf")


def kind_of(data: bytes) -> str:
    """`svg`, `dxf`, `picture`, `pdf`, `font` or empty, from a file's first bytes."""
    head = data[:4096]
    if head[:8] == b"\x89PNG\r\n\x1a\n" or head[:3] == b"\xff\xd8\xff":
        return "picture"
    if (head[:4] == b"RIFF" and head[8:12] == b"WEBP") or head[:4] in TIFF_STARTS:
        return "picture"
    if head[:1024].lstrip()[:5] == b"%PDF-":
        return "pdf"
    if head[:4] in FONT_STARTS:
        return "font"
    if head[:2] == b"\x1f\x8b":
        return "svg"
    plain = head.lstrip(b"\xef\xbb\xbf \t\r\n")
    if head[:2] in (b"\xff\xfe", b"\xfe\xff") or plain[:1] == b"<":
        return "svg"
    if b"SECTION" in data[:20_000] or head[:18] == b"AutoCAD Binary DXF":
        return "dxf"
    return ""


def _read_svg(data: bytes, name: str, id: str, px_per_inch: float | None) -> Art:
    from dechirer.formats.art.svg import read_svg

    return read_svg(data, name, id, px_per_inch=px_per_inch)


def _read_dxf(data: bytes, name: str, id: str, px_per_inch: float | None) -> Art:
    from dechirer.formats.art.dxf import read_dxf

    return read_dxf(data, name, id, mm_per_unit=25.4 / px_per_inch if px_per_inch else None)


def _read_picture(data: bytes, name: str, id: str, px_per_inch: float | None) -> Art:
    from dechirer.formats.art.picture import read_picture

    return read_picture(data, name, id, px_per_inch=px_per_inch)


def _read_pdf(data: bytes, name: str, id: str, px_per_inch: float | None) -> Art:
    from dechirer.formats.art.pdf import read_pdf

    return read_pdf(data, name, id)


COMPILED = ("picture", "pdf")
"""Kinds whose readers are compiled libraries, which print what they think of a file."""
READERS = {"svg": _read_svg, "dxf": _read_dxf, "picture": _read_picture, "pdf": _read_pdf}


def read_bytes(path: Path) -> bytes:
    """A file's bytes. Raises ArtError when it is too large, a folder, or cannot be opened."""
    try:
        return read_within(path, MOST_BYTES, ArtError)
    except OSError as error:
        raise ArtError(f"{path.name}: cannot be opened ({error.strerror})") from None


def read_art(data: bytes, name: str, taken: set[str], *, px_per_inch: float | None = None) -> Art:
    """Art from a file's bytes, with an id that is not taken.

    Raises:
        ArtError: it is no art that is read, is damaged or hostile; the message begins with its name.
    """
    kind = kind_of(data)
    stem = name.rsplit(".", 1)[0]
    id = make_id(stem, set(taken))
    if kind in READERS:
        try:
            with quiet_libraries() if kind in COMPILED else nullcontext():
                return _cleaned(READERS[kind](data, name, id, px_per_inch))
        except (ArtError, Stopped):
            raise
        except Exception as error:  # noqa: BLE001 - see below
            # Files come from strangers and readers are not all ours: a fault in one spoils an import, not the session.
            logging.getLogger(__name__).info("%s: %r", name, error)
            raise ArtError(f"{name}: is damaged, or not as such a file should be ({type(error).__name__})") from None
    if kind == "font":
        raise ArtError(f"{name}: is a typeface, not art")
    if not data:
        raise ArtError(f"{name}: is empty")
    raise ArtError(f"{name}: is not SVG, DXF, PNG, JPEG, WebP, TIFF or PDF")


def _cleaned(art: Art) -> Art:
    """Art whose names hold letters only; what was left out is told with the rest that was lost."""
    groups = tuple(structs.replace(group, name=clean(group.name) or "a group") for group in art.groups)
    name, source = clean(art.name) or "art", clean(art.source)
    count = sum(before.name != after.name for before, after in zip(art.groups, groups, strict=True))
    count += (name != art.name) + (source != art.source)
    if not count:
        return art
    told = f"signs that are no letters, in {count} {'name' if count == 1 else 'names'}"
    return structs.replace(art, name=name, source=source, groups=groups, lost=(*art.lost, told)[-50:])


def read_font(data: bytes, name: str, taken: set[str]) -> FontFile:
    """A typeface of the maker's, tried before it is kept.

    Raises:
        ArtError: not a font, damaged, too large, or without letters.
    """
    from dechirer.core.dress.words.typefaces import FontError, open_font

    if len(data) > MOST_FONT_BYTES:
        raise ArtError(f"{name}: is {len(data) / 1e6:.0f} MB; typefaces up to {MOST_FONT_BYTES / 1e6:.0f} MB are kept")
    if kind_of(data) != "font":
        raise ArtError(f"{name}: is not a TrueType or OpenType font")
    try:
        face = open_font(data, name)
        title = face.title()
        if not face.has("A") and not face.has("a"):
            raise ArtError(f"{name}: the typeface has no letters")
        for shaped in face.shape("Aa", ()):
            face.path(shaped.glyph)
    except FontError as error:
        raise ArtError(str(error)) from None
    return FontFile(make_id(title or name.rsplit(".", 1)[0], set(taken)), (title or name)[:120], data)
