"""Reads SVG into groups of paths in mm: units, view boxes, transforms, groups, use, shapes, style sheets, clips.

Files come from strangers: no entities, no external references, bounded depth, size and number of paths. What cannot
be cut (text, images, masks, filters) is left out by name.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any
from xml.etree.ElementTree import Element

from dechirer.core.job.dressing import Art
from dechirer.core.shape.affine import Affine, Point
from dechirer.formats.art.collect import ArtError, Collector, Key, Segments, Sheet, make_art
from dechirer.formats.art.svg_style import PX_PER, START, StyleSheets, parse_length, read_colour, style_of, unit_of

MOST_BYTES = 60_000_000
MOST_DEPTH = 120
MOST_USES = 20_000
MM_PER_PX = 25.4 / 96
HREF = "{http://www.w3.org/1999/xlink}href"
LAYER = ("{http://www.inkscape.org/namespaces/inkscape}label",)
KAPPA = 0.5522847498307936
"""Length of a quarter circle's control arm: 4/3 (sqrt 2 - 1), plain geometry."""

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
_TRANSFORM = re.compile(r"([a-zA-Z]+)\s*\(([^)]*)\)")
_URL = re.compile(r"url\(\s*['\"]?#([^)'\"]+)['\"]?\s*\)")
SHAPES = frozenset({"path", "rect", "circle", "ellipse", "line", "polyline", "polygon"})
HOLDERS = frozenset({"g", "a", "switch"})
SILENT = frozenset({
    "defs", "style", "title", "desc", "metadata", "symbol", "clipPath", "marker", "linearGradient", "radialGradient",
    "pattern", "script", "namedview", "mask", "filter", "view", "stop", "",
})  # fmt: skip


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
    settled, doubt, factor = walker.settle(px_per_inch)
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


def _numbers(text: str | None) -> list[float]:
    return [float(each) for each in _NUMBER.findall(text or "")]


def read_transform(text: str | None) -> Affine:
    """An SVG transform list as one map. What is not understood is left out."""
    if not text:
        return Affine()
    whole = Affine()
    for kind, inside in _TRANSFORM.findall(text):
        n = _numbers(inside)
        one = Affine()
        if kind == "matrix" and len(n) == 6:
            one = Affine(*n)
        elif kind == "translate" and n:
            one = Affine(e=n[0], f=n[1] if len(n) > 1 else 0.0)
        elif kind == "scale" and n:
            one = Affine(a=n[0], d=n[1] if len(n) > 1 else n[0])
        elif kind == "rotate" and n:
            c, s = math.cos(math.radians(n[0])), math.sin(math.radians(n[0]))
            one = Affine(c, s, -s, c)
            if len(n) >= 3:
                one = Affine(e=-n[1], f=-n[2]).then(one).then(Affine(e=n[1], f=n[2]))
        elif kind == "skewX" and n:
            one = Affine(c=math.tan(math.radians(n[0])))
        elif kind == "skewY" and n:
            one = Affine(b=math.tan(math.radians(n[0])))
        whole = one.then(whole)
    return whole


class Pen:
    """Takes the calls of fontTools' path parser and writes them down, mapped, as canonical text."""

    __slots__ = ("here", "map", "out", "start")

    def __init__(self, map: Affine) -> None:
        self.map, self.out = map, Segments()
        self.here = self.start = (0.0, 0.0)

    def moveTo(self, p: Any) -> None:
        self.here = self.start = p
        self.out.add("M", self.map(p))

    def lineTo(self, p: Any) -> None:
        self.here = p
        self.out.add("L", self.map(p))

    def curveTo(self, *points: Any) -> None:
        self.here = points[-1]
        self.out.add("C", *(self.map(p) for p in points))

    def qCurveTo(self, c: Any, p: Any) -> None:
        x0, y0 = self.here
        one = x0 + 2 / 3 * (c[0] - x0), y0 + 2 / 3 * (c[1] - y0)
        two = p[0] + 2 / 3 * (c[0] - p[0]), p[1] + 2 / 3 * (c[1] - p[1])
        self.curveTo(one, two, p)

    def arcTo(self, rx: float, ry: float, turn: float, large: bool, sweep: bool, end: Any) -> None:
        here = (self.here.real, self.here.imag) if isinstance(self.here, complex) else self.here
        goal = (end.real, end.imag) if isinstance(end, complex) else end
        for points in arc_curves(here, abs(rx), abs(ry), turn, bool(large), bool(sweep), goal):
            self.curveTo(*points)
        if self.here != goal:
            self.lineTo(goal)

    def closePath(self) -> None:
        self.here = self.start
        self.out.close()

    def endPath(self) -> None:
        """An open subpath ends: nothing to write."""


def arc_curves(
    start: Point, rx: float, ry: float, turn_deg: float, large: bool, sweep: bool, end: Point
) -> list[tuple[Point, Point, Point]]:
    """An elliptical arc as cubic curves, none over a quarter turn.

    From the conversion of endpoint to centre parameters in SVG 1.1, appendix F.6. Empty where the arc is a straight
    line or a point.
    """
    if rx <= 0 or ry <= 0 or start == end:
        return []
    c, s = math.cos(math.radians(turn_deg)), math.sin(math.radians(turn_deg))
    dx, dy = (start[0] - end[0]) / 2, (start[1] - end[1]) / 2
    x1, y1 = c * dx + s * dy, -s * dx + c * dy
    too_small = (x1 / rx) ** 2 + (y1 / ry) ** 2
    if too_small > 1:
        rx, ry = rx * math.sqrt(too_small), ry * math.sqrt(too_small)
    under = (rx * ry) ** 2 - (rx * y1) ** 2 - (ry * x1) ** 2
    over = (rx * y1) ** 2 + (ry * x1) ** 2
    if over == 0:
        return []
    root = math.sqrt(max(0.0, under / over)) * (-1 if large == sweep else 1)
    cx1, cy1 = root * rx * y1 / ry, -root * ry * x1 / rx
    cx, cy = c * cx1 - s * cy1 + (start[0] + end[0]) / 2, s * cx1 + c * cy1 + (start[1] + end[1]) / 2
    first = math.atan2((y1 - cy1) / ry, (x1 - cx1) / rx)
    span = math.atan2((-y1 - cy1) / ry, (-x1 - cx1) / rx) - first
    if sweep and span < 0:
        span += math.tau
    elif not sweep and span > 0:
        span -= math.tau
    count = max(1, math.ceil(abs(span) / (math.pi / 2) - 1e-9))
    step = span / count
    arm = 4 / 3 * math.tan(step / 4)

    def at(x: float, y: float) -> Point:
        return cx + c * rx * x - s * ry * y, cy + s * rx * x + c * ry * y

    found = []
    for number in range(count):
        a, b = first + number * step, first + (number + 1) * step
        ca, sa, cb, sb = math.cos(a), math.sin(a), math.cos(b), math.sin(b)
        last = end if number == count - 1 else at(cb, sb)
        found.append((at(ca - arm * sa, sa + arm * ca), at(cb + arm * sb, sb - arm * cb), last))
    return found


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

    # --- true size -------------------------------------------------------------------------------------------

    def settle(self, px_per_inch: float | None) -> tuple[str, str, float]:
        """How the size is settled, what speaks against it, and mm per px."""
        units = {unit_of(self.root.get(side)) for side in ("width", "height")} - {"?"}
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

    # --- walking ---------------------------------------------------------------------------------------------

    def walk(self, mm_per_px: float) -> None:
        view = _numbers(self.root.get("viewBox"))
        wide, high = (view[2], view[3]) if len(view) == 4 else (100.0, 100.0)
        width = parse_length(self.root.get("width"), wide, wide)
        height = parse_length(self.root.get("height"), high, high)
        self.view = (wide, high)
        start = Affine(a=mm_per_px, d=mm_per_px)
        fitted = _fit_view(self.root, width, height).then(start)
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
        self, element: Element, map: Affine, style: dict[str, str], name: str, clips: tuple[Any, ...], depth: int,
        use: Element | None,
    ) -> None:  # fmt: skip
        wide, high = self.view
        source = use if use is not None else element
        width = parse_length(source.get("width") or element.get("width"), wide, wide)
        height = parse_length(source.get("height") or element.get("height"), high, high)
        x, y = (0.0, 0.0) if use is not None else (
            parse_length(element.get("x"), wide), parse_length(element.get("y"), high)
        )  # fmt: skip
        inner = _fit_view(element, width, height).then(Affine(e=x, f=y)).then(map)
        outer_view, view = self.view, _numbers(element.get("viewBox"))
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
            self.collector.lose("a clip in units of its shape (drawn without it)")
            return clips
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
                _DRAWERS[kind](element, pen, self.view)
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
        if fill and kind != "line" and parse_length(style["fill-opacity"], 1.0, 1.0) > 0 and _is_there(style):
            key = Key(name, fill, 0.0, rule="evenodd" if style["fill-rule"] == "evenodd" else "nonzero")
            self._keep(key, pen.out, clips)
        stroke = self._paint(style["stroke"], current)
        width = parse_length(style["stroke-width"], math.hypot(*self.view) / math.sqrt(2), 1.0)
        if stroke and width > 0 and parse_length(style["stroke-opacity"], 1.0, 1.0) > 0 and _is_there(style):
            self._stroke(element, kind, map, style, name, clips, stroke, width, pen)

    def _stroke(
        self, element: Element, kind: str, map: Affine, style: dict[str, str], name: str, clips: tuple[Any, ...],
        colour: str, width: float, pen: Pen,
    ) -> None:  # fmt: skip
        caps = {"round": "round", "square": "square"}.get(style["stroke-linecap"], "flat")
        corners = {"round": "round", "bevel": "bevel"}.get(style["stroke-linejoin"], "mitre")
        dashes = [] if style["stroke-dasharray"] == "none" else _numbers(style["stroke-dasharray"])
        if style.get("vector-effect") == "non-scaling-stroke":
            factor = MM_PER_PX
        else:
            long, short = _stretches(map)
            if short > 0 and long / short > 1.01:
                self._uneven_stroke(element, kind, map, name, colour, width, caps, corners, clips)
                return
            factor = math.sqrt(abs(map.determinant))
        dash = tuple(round(each * factor, 3) for each in dashes[:16]) if any(each > 0 for each in dashes) else ()
        self._keep(Key(name, colour, round(width * factor, 4), caps, corners, dash=dash), pen.out, clips)

    def _uneven_stroke(
        self, element: Element, kind: str, map: Affine, name: str, colour: str, width: float, caps: str, corners: str,
        clips: tuple[Any, ...],
    ) -> None:  # fmt: skip
        """A line drawn with a squeezed pen: its outline, made before the squeeze."""
        from dechirer.core.shape.curves import flatten, outline_of_lines

        plain = self._draw(element, kind, Affine())
        if plain is None:
            return
        fine = 0.01 / max(_stretches(map)[0], 1e-9)
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


def _is_there(style: dict[str, str]) -> bool:
    return parse_length(style.get("opacity"), 1.0, 1.0) > 0


def _join(above: str, own: str) -> str:
    if not own or own == above:
        return above
    return f"{above}/{own}"[-100:].strip("/") if above else own[:100]


def _stretches(map: Affine) -> tuple[float, float]:
    """The largest and the smallest factor a map stretches lengths by: its singular values."""
    e, f = (map.a + map.d) / 2, (map.a - map.d) / 2
    g, h = (map.b + map.c) / 2, (map.b - map.c) / 2
    q, r = math.hypot(e, h), math.hypot(f, g)
    return q + r, abs(q - r)


def _fit_view(element: Element, width: float, height: float) -> Affine:
    """The map of a view box onto its viewport, by preserveAspectRatio (SVG 1.1, section 7.8)."""
    view = _numbers(element.get("viewBox"))
    if len(view) != 4 or view[2] <= 0 or view[3] <= 0 or width <= 0 or height <= 0:
        return Affine()
    x, y, wide, high = view
    across, down = width / wide, height / high
    words = (element.get("preserveAspectRatio") or "xMidYMid meet").split()
    align = words[0] if words and words[0] != "defer" else (words[1] if len(words) > 1 else "xMidYMid")
    if align == "none":
        return Affine(across, 0, 0, down, -x * across, -y * down)
    factor = max(across, down) if "slice" in words else min(across, down)
    left = {"xMin": 0.0, "xMax": 1.0}.get(align[:4], 0.5) * (width - wide * factor)
    top = {"YMin": 0.0, "YMax": 1.0}.get(align[4:8], 0.5) * (height - high * factor)
    return Affine(factor, 0, 0, factor, left - x * factor, top - y * factor)


def _oval(pen: Pen, cx: float, cy: float, rx: float, ry: float) -> None:
    kx, ky = rx * KAPPA, ry * KAPPA
    pen.moveTo((cx + rx, cy))
    pen.curveTo((cx + rx, cy + ky), (cx + kx, cy + ry), (cx, cy + ry))
    pen.curveTo((cx - kx, cy + ry), (cx - rx, cy + ky), (cx - rx, cy))
    pen.curveTo((cx - rx, cy - ky), (cx - kx, cy - ry), (cx, cy - ry))
    pen.curveTo((cx + kx, cy - ry), (cx + rx, cy - ky), (cx + rx, cy))
    pen.closePath()


def _draw_rect(element: Element, pen: Pen, view: tuple[float, float]) -> None:
    wide, high = view
    x, y = parse_length(element.get("x"), wide), parse_length(element.get("y"), high)
    w, h = parse_length(element.get("width"), wide), parse_length(element.get("height"), high)
    if w <= 0 or h <= 0:
        return
    given_x, given_y = element.get("rx"), element.get("ry")
    rx = parse_length(given_x if given_x not in (None, "auto") else given_y, wide)
    ry = parse_length(given_y if given_y not in (None, "auto") else given_x, high)
    rx, ry = min(max(rx, 0.0), w / 2), min(max(ry, 0.0), h / 2)
    if rx <= 0 or ry <= 0:
        pen.moveTo((x, y))
        for point in ((x + w, y), (x + w, y + h), (x, y + h)):
            pen.lineTo(point)
        pen.closePath()
        return
    kx, ky = rx * (1 - KAPPA), ry * (1 - KAPPA)
    pen.moveTo((x + rx, y))
    pen.lineTo((x + w - rx, y))
    pen.curveTo((x + w - kx, y), (x + w, y + ky), (x + w, y + ry))
    pen.lineTo((x + w, y + h - ry))
    pen.curveTo((x + w, y + h - ky), (x + w - kx, y + h), (x + w - rx, y + h))
    pen.lineTo((x + rx, y + h))
    pen.curveTo((x + kx, y + h), (x, y + h - ky), (x, y + h - ry))
    pen.lineTo((x, y + ry))
    pen.curveTo((x, y + ky), (x + kx, y), (x + rx, y))
    pen.closePath()


def _draw_round(element: Element, pen: Pen, view: tuple[float, float]) -> None:
    wide, high = view
    cx, cy = parse_length(element.get("cx"), wide), parse_length(element.get("cy"), high)
    if _local(element.tag) == "circle":
        rx = ry = parse_length(element.get("r"), math.hypot(wide, high) / math.sqrt(2))
    else:
        rx, ry = parse_length(element.get("rx"), wide), parse_length(element.get("ry"), high)
    if rx > 0 and ry > 0:
        _oval(pen, cx, cy, rx, ry)


def _draw_line(element: Element, pen: Pen, view: tuple[float, float]) -> None:
    wide, high = view
    pen.moveTo((parse_length(element.get("x1"), wide), parse_length(element.get("y1"), high)))
    pen.lineTo((parse_length(element.get("x2"), wide), parse_length(element.get("y2"), high)))


def _draw_poly(element: Element, pen: Pen, view: tuple[float, float]) -> None:
    n = _numbers(element.get("points"))
    points = list(zip(n[::2], n[1::2], strict=False))
    if len(points) < 2:
        return
    pen.moveTo(points[0])
    for point in points[1:]:
        pen.lineTo(point)
    if _local(element.tag) == "polygon":
        pen.closePath()


_DRAWERS: dict[str, Callable[[Element, Pen, tuple[float, float]], None]] = {
    "rect": _draw_rect, "circle": _draw_round, "ellipse": _draw_round, "line": _draw_line, "polyline": _draw_poly,
    "polygon": _draw_poly,
}  # fmt: skip
