"""Reads SVG into groups of paths in mm: units, view boxes, transforms, groups, use, shapes, style sheets, clips.

Files come from strangers: no entities, no external references, bounded depth, size and number of paths. What cannot
be cut (text, images, masks, filters) is left out by name.
"""

from __future__ import annotations

import math
import re
from typing import Any
from xml.etree.ElementTree import Element

from dechirer.core.dress.brought import Art
from dechirer.core.shape.affine import Affine
from dechirer.formats.art.collect import ArtError, Collector, Key, Segments, Sheet, make_art
from dechirer.formats.art.svg_shapes import DRAWERS, Pen, fit_view, numbers, read_transform, stretches
from dechirer.formats.art.svg_style import PX_PER, START, StyleSheets, parse_length, read_colour, style_of, unit_of

MOST_BYTES = 60_000_000
MOST_DEPTH = 120
MOST_USES = 20_000
MM_PER_PX = 25.4 / 96
HREF = "{http://www.w3.org/1999/xlink}href"
LAYER = ("{http://www.inkscape.org/namespaces/inkscape}label",)

_URL = re.compile(r"url\(\s*['\"]?#([^)'\"]+)['\"]?\s*\)")
SHAPES = frozenset({"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"})
HOLDERS = frozenset({"g", "a", "switch"})
SILENT = frozenset(
    {
        "defs",
        "style",
        "title",
        "desc",
        "metadata",
        "symbol",
        "clipPath",
        "marker",
        "linearGradient",
        "radialGradient",
        "pattern",
        "script",
        "namedview",
        "mask",
        "filter",
        "view",
        "stop",
        "",
    }
)


def read_svg(data: bytes, name: str, id: str = "art", *, px_per_inch: float | None = None) -> Art:
    """Read an SVG.

    Args:
        data: the file's bytes.
        name: its name, for messages.
        px_per_inch: what its pixels are, when the maker knows better than 96.

    Raises:
        ArtError: not SVG, an entity or external reference, too deep, too large, or nothing to cut in it.
    """
    root = _parse(data, name)
    walker = _Walker(root, name)
    settled, doubt, factor = _settle_size(walker.root, px_per_inch)
    walker.walk(factor)
    sheet = Sheet(walker.collector.groups(), settled, doubt, walker.collector.losses())
    return make_art(id, name, sheet, walker.box)


def _parse(data: bytes, name: str) -> Element:
    if len(data) > MOST_BYTES:
        raise ArtError(f"{name}: is {len(data) / 1e6:.0f} MB; up to {MOST_BYTES / 1e6:.0f} MB is read")
    from xml.etree.ElementTree import ParseError

    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import fromstring

    try:
        root: Element = fromstring(data, forbid_entities=True, forbid_external=True)
    except ParseError as error:
        line, column = error.position
        raise ArtError(f"{name}: is not well-formed XML at line {line}, column {column}") from None
    except DefusedXmlException:
        raise ArtError(f"{name}: defines entities or refers to other files; such files are not read") from None
    except (ValueError, LookupError, RecursionError, MemoryError) as error:
        raise ArtError(f"{name}: cannot be read as XML ({error})") from None
    if _local(root.tag) != "svg":
        raise ArtError(f"{name}: its root is “{_local(root.tag)}”, not “svg”")
    return root


def _local(tag: Any) -> str:
    return tag.rpartition("}")[2] if isinstance(tag, str) else ""


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


class _Walker:
    def __init__(self, root: Element, name: str) -> None:
        self.root, self.name = root, name
        self.collector = Collector(name)
        self.sheets = StyleSheets(root)
        self.by_id: dict[str, Element] = {}
        for each in root.iter():
            found = each.get("id")
            if found:
                self.by_id.setdefault(found, each)
        self.box = (math.inf, math.inf, -math.inf, -math.inf)
        self.uses = 0

    # --- walking ---------------------------------------------------------------------------------------------

    def walk(self, mm_per_px: float) -> None:
        view = numbers(self.root.get("viewBox"))
        wide, high = (view[2], view[3]) if len(view) == 4 else (100.0, 100.0)
        width, height = _root_size(self.root, wide, high)
        self.view = (wide, high)
        start = Affine(a=mm_per_px, d=mm_per_px)
        fitted = fit_view(self.root, width, height).then(start)
        style = style_of(self.root, START, self.sheets)
        if style.get("display") != "none":
            self._children(self.root, fitted, style, "", (), 1)

    def _children(
        self, element: Element, map: Affine, style: dict[str, str], name: str, clips: tuple[Any, ...], depth: int
    ) -> None:
        if depth > MOST_DEPTH:
            raise ArtError(f"{self.name}: groups are nested deeper than {MOST_DEPTH}")
        for child in element:
            self._element(child, map, style, name, clips, depth)

    def _element(
        self, element: Element, map: Affine, above: dict[str, str], name: str, clips: tuple[Any, ...], depth: int
    ) -> None:
        kind = _local(element.tag)
        if kind in SILENT:
            return
        style = style_of(element, above, self.sheets)
        if style.get("display") == "none":
            return
        if kind in ("text", "tspan", "image", "foreignObject"):
            names = {"text": "text (turn it to outlines first)", "image": "a picture inside"}
            self.collector.lose(names.get(kind, kind))
            return
        transform = element.get("transform")
        if transform:
            map = read_transform(transform).then(map)
        if not all(math.isfinite(each) for each in (map.a, map.b, map.c, map.d, map.e, map.f)):
            raise ArtError(f"{self.name}: a transform of “{element.get('id') or kind}” is not finite")
        for what in ("mask", "filter"):
            if style.get(what, "none") != "none":
                self.collector.lose(f"a {what} (drawn without it)")
        clips = self._clip(element, style, map, clips, depth)
        own = next((element.get(key) for key in LAYER if element.get(key)), None) or element.get("class") or ""
        if kind in HOLDERS:
            label = own or (element.get("id") or "" if depth <= 3 else "")
            self._children(element, map, style, _join(name, label), clips, depth + 1)
        elif kind == "svg":
            self._nested(element, map, style, _join(name, own), clips, depth, None)
        elif kind == "use":
            self._use(element, map, style, _join(name, own), clips, depth)
        elif kind in SHAPES:
            if style.get("visibility") in ("hidden", "collapse"):
                return
            self._shape(element, kind, map, style, _join(name, own), clips)
        else:
            self.collector.lose(kind)

    def _nested(
        self,
        element: Element,
        map: Affine,
        style: dict[str, str],
        name: str,
        clips: tuple[Any, ...],
        depth: int,
        use: Element | None,
    ) -> None:
        wide, high = self.view
        source = use if use is not None else element
        width = parse_length(source.get("width") or element.get("width"), wide, wide)
        height = parse_length(source.get("height") or element.get("height"), high, high)
        x, y = (
            (0.0, 0.0)
            if use is not None
            else (parse_length(element.get("x"), wide), parse_length(element.get("y"), high))
        )
        inner = fit_view(element, width, height).then(Affine(e=x, f=y)).then(map)
        outer_view, view = self.view, numbers(element.get("viewBox"))
        self.view = (view[2], view[3]) if len(view) == 4 else (width, height)
        self._children(element, inner, style, name, clips, depth + 1)
        self.view = outer_view

    def _use(
        self, element: Element, map: Affine, style: dict[str, str], name: str, clips: tuple[Any, ...], depth: int
    ) -> None:
        self.uses += 1
        if self.uses > MOST_USES:
            raise ArtError(f"{self.name}: uses shapes over {MOST_USES} times, or in a circle")
        if depth > MOST_DEPTH:
            raise ArtError(f"{self.name}: “use” refers to itself or is nested deeper than {MOST_DEPTH}")
        target = self._target(element.get("href") or element.get(HREF) or "")
        if target is None:
            self.collector.lose("a use of something that is not in the file")
            return
        wide, high = self.view
        shifted = Affine(e=parse_length(element.get("x"), wide), f=parse_length(element.get("y"), high)).then(map)
        if _local(target.tag) in ("symbol", "svg"):
            inner = style_of(target, style, self.sheets)
            self._nested(target, shifted, inner, name, clips, depth + 1, element)
        else:
            self._element(target, shifted, style, name, clips, depth + 1)

    def _target(self, reference: str) -> Element | None:
        if not reference.startswith("#"):
            if reference:
                self.collector.lose("a reference to another file")
            return None
        return self.by_id.get(reference[1:])

    # --- clips -----------------------------------------------------------------------------------------------

    def _clip(
        self, element: Element, style: dict[str, str], map: Affine, clips: tuple[Any, ...], depth: int
    ) -> tuple[Any, ...]:
        match = _URL.match(style.get("clip-path", ""))
        if match is None:
            return clips
        source = self.by_id.get(match[1])
        if source is None or _local(source.tag) != "clipPath" or depth > MOST_DEPTH:
            return clips
        if source.get("clipPathUnits") == "objectBoundingBox":
            kind = _local(element.tag)
            own = self._draw(element, kind, Affine()) if kind in SHAPES else None
            if own is None:
                self.collector.lose("a clip in units of its group (drawn without it)")
                return clips
            out = own.out
            map = Affine(out.right - out.left, 0, 0, out.bottom - out.top, out.left, out.top).then(map)
        import shapely

        from dechirer.core.shape.curves import areas_of, flatten

        inner = read_transform(source.get("transform")).then(map)
        parts = []
        for child in source:
            kind, child_map = _local(child.tag), read_transform(child.get("transform")).then(inner)
            if kind == "use":
                target = self._target(child.get("href") or child.get(HREF) or "")
                if target is None:
                    continue
                shift = Affine(e=parse_length(child.get("x")), f=parse_length(child.get("y")))
                child_map = read_transform(target.get("transform")).then(shift).then(child_map)
                child, kind = target, _local(target.tag)
            if kind in SHAPES:
                pen = self._draw(child, kind, child_map)
                rule = style_of(child, START, self.sheets).get("clip-rule", "nonzero")
                if pen is not None:
                    parts.append(areas_of(flatten(pen.out.text()), rule))
        return (*clips, shapely.union_all(parts))

    # --- shapes ----------------------------------------------------------------------------------------------

    def _draw(self, element: Element, kind: str, map: Affine) -> Pen | None:
        """A shape as canonical text; None when it has no extent."""
        pen = Pen(map)
        if kind == "path":
            d = element.get("d") or ""
            if not d.strip():
                return None
            from fontTools.svgLib.path.parser import parse_path

            try:
                parse_path(d, pen)
            except ArtError as error:
                raise ArtError(f"{self.name}: path “{element.get('id') or d[:24]}”: {error}") from None
            except (ValueError, IndexError, TypeError, ZeroDivisionError, OverflowError):
                self.collector.lose("a path with an error (drawn up to it)")
        else:
            try:
                DRAWERS[kind](element, pen, self.view)
            except ArtError as error:
                raise ArtError(f"{self.name}: {kind} “{element.get('id') or ''}”: {error}") from None
        return pen if len(pen.out.parts) > 1 else None

    def _shape(
        self, element: Element, kind: str, map: Affine, style: dict[str, str], name: str, clips: tuple[Any, ...]
    ) -> None:
        pen = self._draw(element, kind, map)
        if pen is None:
            return
        if any(style.get(f"marker{end}", "none") != "none" for end in ("", "-start", "-mid", "-end")):
            self.collector.lose("markers on lines")
        current = read_colour(style["color"], "#000000") or "#000000"
        fill = self._paint(style["fill"], current)
        if fill and _has_area(pen) and parse_length(style["fill-opacity"], 1.0, 1.0) > 0 and _is_there(style):
            key = Key(name, fill, 0.0, rule="evenodd" if style["fill-rule"] == "evenodd" else "nonzero")
            self._keep(key, pen.out, clips)
        stroke = self._paint(style["stroke"], current)
        width = parse_length(style["stroke-width"], math.hypot(*self.view) / math.sqrt(2), 1.0)
        if stroke and width > 0 and parse_length(style["stroke-opacity"], 1.0, 1.0) > 0 and _is_there(style):
            self._stroke(element, kind, map, style, name, clips, stroke, width, pen)

    def _stroke(
        self,
        element: Element,
        kind: str,
        map: Affine,
        style: dict[str, str],
        name: str,
        clips: tuple[Any, ...],
        colour: str,
        width: float,
        pen: Pen,
    ) -> None:
        caps = {"round": "round", "square": "square"}.get(style["stroke-linecap"], "flat")
        corners = {"round": "round", "bevel": "bevel"}.get(style["stroke-linejoin"], "mitre")
        dashes = [] if style["stroke-dasharray"] == "none" else numbers(style["stroke-dasharray"])
        if style.get("vector-effect") == "non-scaling-stroke":
            factor = MM_PER_PX
        else:
            long, short = stretches(map)
            if short > 0 and long / short > 1.01:
                self._uneven_stroke(element, kind, map, name, colour, width, caps, corners, clips)
                return
            factor = math.sqrt(abs(map.determinant))
        dash = tuple(round(each * factor, 3) for each in dashes[:16]) if any(each > 0 for each in dashes) else ()
        self._keep(Key(name, colour, round(width * factor, 4), caps, corners, dash=dash), pen.out, clips)

    def _uneven_stroke(
        self,
        element: Element,
        kind: str,
        map: Affine,
        name: str,
        colour: str,
        width: float,
        caps: str,
        corners: str,
        clips: tuple[Any, ...],
    ) -> None:
        """A line drawn with a squeezed pen: its outline, made before the squeeze."""
        from dechirer.core.shape.curves import flatten, outline_of_lines

        plain = self._draw(element, kind, Affine())
        if plain is None:
            return
        fine = 0.01 / max(stretches(map)[0], 1e-9)
        covered = outline_of_lines(flatten(plain.out.text(), fine), width, caps, corners)
        for text, box in _write_polygons(covered, map):
            self._grow(box)
            self.collector.add(Key(name, colour, 0.0), text)

    def _paint(self, value: str, current: str) -> str | None:
        if value.startswith("url("):
            match = _URL.match(value)
            source = self.by_id.get(match[1]) if match else None
            self.collector.lose("a gradient or pattern (taken as one colour)")
            for _ in range(8):
                if source is None:
                    break
                for stop in source.iter():
                    if _local(stop.tag) == "stop":
                        found = style_of(stop, START, self.sheets).get("stop-color", "#000000")
                        return read_colour(found, current) or "#808080"
                source = self.by_id.get((source.get("href") or source.get(HREF) or "").removeprefix("#"))
            return "#808080"
        return read_colour(value, current)

    def _keep(self, key: Key, out: Segments, clips: tuple[Any, ...]) -> None:
        if not clips:
            half = key.stroke / 2
            self._grow((out.left - half, out.top - half, out.right + half, out.bottom + half))
            self.collector.add(key, out.text())
            return
        import shapely

        from dechirer.core.shape.curves import areas_of, flatten, outline_of_lines

        runs = flatten(out.text())
        shape = outline_of_lines(runs, key.stroke, key.caps, key.corners) if key.stroke else areas_of(runs, key.rule)
        for clip in clips:
            shape = shapely.intersection(shape, clip)
        for text, box in _write_polygons(shape, Affine()):
            self._grow(box)
            self.collector.add(Key(key.name, key.colour, 0.0), text)

    def _grow(self, box: tuple[float, float, float, float]) -> None:
        a, b = self.box, box
        self.box = (min(a[0], b[0]), min(a[1], b[1]), max(a[2], b[2]), max(a[3], b[3]))


def _write_polygons(shape: Any, map: Affine) -> list[tuple[str, tuple[float, float, float, float]]]:
    """Every polygon of a geometry as canonical text, mapped, with its box."""
    import shapely

    found = []
    for part in shapely.get_parts(shape):
        if part.geom_type != "Polygon" or part.is_empty:
            continue
        out = Segments()
        for ring in (part.exterior, *part.interiors):
            points = [map((x, y)) for x, y in ring.coords[:-1]]
            out.add("M", points[0])
            for point in points[1:]:
                out.add("L", point)
            out.close()
        found.append((out.text(), (out.left, out.top, out.right, out.bottom)))
    return found


def _has_area(pen: Pen) -> bool:
    """Whether a path encloses anything: a straight line has a fill in SVG, but nothing of it is painted."""
    out = pen.out
    if out.right - out.left < 1e-9 or out.bottom - out.top < 1e-9:
        return False
    return len(out.parts) > 2 or any(part.startswith("C") for part in out.parts)


def _is_there(style: dict[str, str]) -> bool:
    return parse_length(style.get("opacity"), 1.0, 1.0) > 0


def _join(above: str, own: str) -> str:
    if not own or own == above:
        return above
    return f"{above}/{own}"[-100:].strip("/") if above else own[:100]
