"""Reads SVG into groups of paths in mm: units, view boxes, transforms, groups, use, shapes, style sheets, clips.

Files come from strangers: no entities but plain words, no external references, bounded depth, size, work and number of
paths. What cannot be cut (text, images, filters) is left out by name.
"""

from __future__ import annotations

import re
import zlib
from xml.etree.ElementTree import Element

from dechirer.core.brought import Art
from dechirer.formats.art.collect import ArtError, Sheet, make_art
from dechirer.formats.art.svg_style import PX_PER, local, parse_length, unit_of
from dechirer.formats.art.svg_walk import Walker

MOST_BYTES = 60_000_000
MM_PER_PX = 25.4 / 96
MOST_ENTITIES, MOST_ENTITY = 100, 2000

_DOCTYPE = re.compile(rb"<!DOCTYPE[^\[>]*(?:\[(?P<inside>.*?)\]\s*)?>", re.DOTALL)
_ENTITY = re.compile(rb"<!ENTITY\s+([A-Za-z_][\w.-]*)\s+(?:\"([^\"&<%]*)\"|'([^'&<%]*)')\s*>")
_COMMENT = re.compile(rb"<!--.*?-->", re.DOTALL)


def read_svg(data: bytes, name: str, id: str = "art", *, px_per_inch: float | None = None) -> Art:
    """Read an SVG, compressed or not.

    Args:
        data: the file's bytes.
        name: its name, for messages.
        px_per_inch: what its pixels are, when the maker knows better than 96.

    Raises:
        ArtError: not SVG, an entity that is more than words, an external reference, too deep, too large, too involved,
            or nothing to cut in it.
    """
    root = _parse(unpack(data, name), name)
    walker = Walker(root, name)
    settled, doubt, factor = _settle_size(walker.root, px_per_inch)
    view = walker.view_box()
    walker.walk(factor, _root_size(root, *view))
    sheet = Sheet(walker.collector.groups(), settled, doubt, walker.collector.losses())
    return make_art(id, name, sheet, walker.box)


def unpack(data: bytes, name: str) -> bytes:
    """The bytes of a compressed file unpacked, up to what is read; others as they are. Raises ArtError for more."""
    if data[:2] == b"\x1f\x8b":
        try:
            data = zlib.decompressobj(wbits=31).decompress(data, MOST_BYTES + 1)
        except zlib.error:
            raise ArtError(f"{name}: is damaged") from None
    if len(data) > MOST_BYTES:
        raise ArtError(f"{name}: is over {MOST_BYTES / 1e6:.0f} MB; up to that is read")
    return data


def put_in_words(data: bytes) -> bytes:
    """A document with the entities it defines as plain words put in, and its document type taken out, as drawing
    programs write their namespaces; unchanged where an entity is anything more."""
    match = _DOCTYPE.search(data[: MOST_ENTITIES * MOST_ENTITY])
    if match is None or not match["inside"]:
        return data
    inside = _COMMENT.sub(b"", match["inside"])
    words = {name: one or other for name, one, other in _ENTITY.findall(inside)}
    if (
        _ENTITY.sub(b"", inside).strip()
        or len(words) > MOST_ENTITIES
        or max(map(len, words.values()), default=0) > MOST_ENTITY
    ):
        return data
    rest = data[: match.start()] + data[match.end() :]
    if sum(rest.count(b"&" + name + b";") * len(text) for name, text in words.items()) > len(rest) + 1_000_000:
        return data
    return re.sub(rb"&([A-Za-z_][\w.-]*);", lambda found: words.get(found[1], found[0]), rest)


def _parse(data: bytes, name: str) -> Element:
    from xml.etree.ElementTree import ParseError

    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import fromstring

    if b"<!ENTITY" in data[:200_000]:
        data = put_in_words(data)
    try:
        root: Element = fromstring(data, forbid_entities=True, forbid_external=True)
    except ParseError as error:
        line, column = error.position
        raise ArtError(f"{name}: is not well-formed XML at line {line}, column {column}") from None
    except DefusedXmlException:
        raise ArtError(f"{name}: defines entities or refers to other files; such files are not read") from None
    except (ValueError, LookupError, RecursionError, MemoryError):
        raise ArtError(f"{name}: is not valid XML") from None
    if local(root.tag) != "svg":
        raise ArtError(f"{name}: its root is “{local(root.tag)}”, not “svg”")
    return root


def _settle_size(root: Element, px_per_inch: float | None) -> tuple[str, str, float]:
    """How the size is settled, what speaks against it, and mm per px."""
    units = {unit_of(_given_side(root, side)) for side in ("width", "height")} - {"?"}
    if units & (PX_PER.keys() - {"", "px"}):
        return f"by the file: its size is given in {', '.join(sorted(units))}", "", MM_PER_PX
    given = px_per_inch or 96.0
    factor = 25.4 / given
    if px_per_inch:
        return f"by you: {given:g} px to the inch", "", factor
    where = "in pixels" if units - {"%"} else "only by its view box"
    return (
        "at 96 px to the inch, as the web has it",
        f"the file gives its size {where}; drawing programs also mean 90 or 72 px to the inch",
        factor,
    )


def _given_side(root: Element, side: str) -> str | None:
    """The width or height of the root: by its style, which goes before its attribute; None for none, or a share."""
    styled = re.search(rf"(?:^|;)\s*{side}\s*:\s*([^;!]+)", root.get("style") or "")
    text = styled[1].strip() if styled else root.get(side)
    return None if text is None or unit_of(text) in ("?", "%") else text


def _root_size(root: Element, wide: float, high: float) -> tuple[float, float]:
    """Width and height of the root in px. When one is missing it follows from the other by the ratio of the view box
    (CSS Images 3, the default sizing algorithm); when both are, they are those of the view box."""
    width, height = (_given_side(root, side) for side in ("width", "height"))
    across, down = parse_length(width, wide, 0.0), parse_length(height, high, 0.0)
    if across <= 0 and down <= 0:
        return wide, high
    if across <= 0:
        return down * wide / max(high, 1e-12), down
    return across, down if down > 0 else across * high / max(wide, 1e-12)
