"""Walks an SVG document: what is painted where, in the order it is painted."""

from __future__ import annotations

import math
from typing import Any
from xml.etree.ElementTree import Element

from msgspec import Struct, structs

from dechirer.core.shape.affine import Affine
from dechirer.formats.art.collect import (
    MOST_CROSSINGS,
    ArtError,
    Collector,
    FourSides,
    Key,
    Segments,
    count_crossings,
)
from dechirer.formats.art.path_data import write_path
from dechirer.formats.art.svg_clip import Clip, Clips, shown_in
from dechirer.formats.art.svg_paint import mix_stops, read_colour, resolve_paint, split_reference
from dechirer.formats.art.svg_shapes import DRAWERS, Pen, fit_view, numbers, read_transform, stretches
from dechirer.formats.art.svg_style import START, StyleSheets, inherited, local, parse_length, style_of

MOST_DEPTH = 120
MOST_USES = 20_000
MOST_VISITED = 100_000
MM_PER_PX = 25.4 / 96
HREF = "{http://www.w3.org/1999/xlink}href"
LAYER = ("{http://www.inkscape.org/namespaces/inkscape}label",)
SHAPES = frozenset(DRAWERS) | {"path"}
MARKERS = ("marker", "marker-start", "marker-mid", "marker-end")
HOLDERS = frozenset({"g", "a", "switch"})
SILENT = frozenset(
    [
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
    ]
) | {""}


class Place(Struct, frozen=True):
    """Where the walk is: the map to mm, the style and the name above, what is seen through, and how deep."""

    map: Affine
    style: dict[str, str]
    name: str = ""
    clips: tuple[Clip, ...] = ()
    depth: int = 1


class Walker:
    """Collects what a document paints."""

    def __init__(self, root: Element, name: str) -> None:
        self.root, self.name = root, name
        self.collector = Collector(name)
        self.sheets = StyleSheets(root, self.collector.budget, self.collector.lose)
        self.by_id: dict[str, Element] = {}
        for each in root.iter():
            found = each.get("id")
            if found:
                self.by_id.setdefault(found, each)
        self.box: FourSides = (math.inf, math.inf, -math.inf, -math.inf)
        self.clips = Clips(self)
        self.uses = self.visited = 0
        self._page: FourSides | None = None
        self._beside: list[tuple[Key, str, FourSides]] = []
        self.view = (100.0, 100.0)

    def view_box(self) -> tuple[float, float]:
        """The size of the root's view box, or of the usual one."""
        view = numbers(self.root.get("viewBox"))
        return (view[2], view[3]) if len(view) == 4 else (100.0, 100.0)

    def walk(self, mm_per_px: float, size: tuple[float, float]) -> None:
        """Collect everything; `size` is the page's in px. What lies wholly beside the page is not seen, and is left
        out, unless there is nothing on it."""
        width, height = size
        self.view = self.view_box()
        fitted = fit_view(self.root, width, height).then(Affine(a=mm_per_px, d=mm_per_px))
        if any(self.root.get(each) for each in ("viewBox", "width", "height")):
            self._page = (0.0, 0.0, width * mm_per_px, height * mm_per_px)
        style = style_of(self.root, START, self.sheets)
        if style.get("display") != "none":
            self._children(self.root, Place(fitted, style))
        if self._beside and not self.collector.bundles:
            for key, path, box in self._beside:
                self._take(key, path, box, anywhere=True)
        elif self._beside:
            self.collector.lose("a shape beside the page", len(self._beside))

    def _children(self, element: Element, at: Place) -> None:
        if at.depth > MOST_DEPTH:
            raise ArtError(f"{self.name}: groups are nested deeper than {MOST_DEPTH}")
        base = inherited(at.style)
        for child in element:
            self._element(child, at, base)

    def _element(self, element: Element, at: Place, base: dict[str, str] | None = None) -> None:
        self.collector.budget.spend()
        self.visited += 1
        if self.visited > MOST_VISITED:
            raise ArtError(f"{self.name}: draws over {MOST_VISITED:,} shapes, counting those that are used again")
        kind = local(element.tag)
        if kind in SILENT:
            return
        style = style_of(element, at.style, self.sheets, base)
        if style.get("display") == "none" or ("opacity" in style and parse_length(style["opacity"], 1.0, 1.0) <= 0):
            return
        if kind in ("text", "tspan", "image", "foreignObject"):
            names = {"text": "text (turn it to outlines first)", "image": "a picture inside"}
            self.collector.lose(names.get(kind, kind))
            return
        transform = element.get("transform")
        map = read_transform(transform).then(at.map) if transform else at.map
        if not all(math.isfinite(each) for each in (map.a, map.b, map.c, map.d, map.e, map.f)):
            raise ArtError(f"{self.name}: a transform of “{element.get('id') or kind}” is not finite")
        if style.get("filter", "none") != "none":
            self.collector.lose("a filter (drawn without it)")
        clips = at.clips
        if "clip-path" in style or "mask" in style:
            clips = self.clips.of(element, style, map, clips)
        own = next((element.get(key) for key in LAYER if element.get(key)), None) or element.get("class") or ""
        here = Place(map, style, _join(at.name, own), clips, at.depth)
        if kind in HOLDERS:
            label = own or (element.get("id") or "" if at.depth <= 3 else "")
            if parse_length(style.get("opacity"), 1.0, 1.0) < 1:
                self.collector.lose("a group seen through (taken as solid)")
            self._children(element, structs.replace(here, name=_join(at.name, label), depth=at.depth + 1))
        elif kind == "svg":
            self._nested(element, here, None)
        elif kind == "use":
            self._use(element, here)
        elif kind in SHAPES:
            if style.get("visibility") not in ("hidden", "collapse"):
                self._shape(element, kind, here)
        else:
            self.collector.lose(kind)

    def _nested(self, element: Element, at: Place, use: Element | None) -> None:
        wide, high = self.view
        source = use if use is not None else element
        width = parse_length(source.get("width") or element.get("width"), wide, wide)
        height = parse_length(source.get("height") or element.get("height"), high, high)
        x, y = (
            (0.0, 0.0)
            if use is not None
            else (parse_length(element.get("x"), wide), parse_length(element.get("y"), high))
        )
        view = numbers(element.get("viewBox"))
        clips = at.clips
        sized = len(view) == 4 or source.get("width") or element.get("width")
        if at.style.get("overflow", "hidden") not in ("visible", "auto") and sized and width > 0 and height > 0:
            clips = (*clips, Clips.rectangle((x, y, x + width, y + height), at.map))
        inner = fit_view(element, width, height).then(Affine(e=x, f=y)).then(at.map)
        outer_view = self.view
        self.view = (view[2], view[3]) if len(view) == 4 else (width, height)
        self._children(element, structs.replace(at, map=inner, clips=clips, depth=at.depth + 1))
        self.view = outer_view

    def _use(self, element: Element, at: Place) -> None:
        self.uses += 1
        if self.uses > MOST_USES:
            raise ArtError(f"{self.name}: uses shapes over {MOST_USES} times, or in a circle")
        if at.depth > MOST_DEPTH:
            raise ArtError(f"{self.name}: “use” refers to itself or is nested deeper than {MOST_DEPTH}")
        target = self.target(element)
        if target is None:
            self.collector.lose("a use of something that is not in the file")
            return
        wide, high = self.view
        shift = Affine(e=parse_length(element.get("x"), wide), f=parse_length(element.get("y"), high))
        here = structs.replace(at, map=shift.then(at.map), depth=at.depth + 1)
        if local(target.tag) in ("symbol", "svg"):
            inner = style_of(target, at.style, self.sheets)
            self._nested(target, structs.replace(here, style=inner), element)
        else:
            self._element(target, here)

    def target(self, element: Element) -> Element | None:
        """What an element refers to within the document, or None."""
        reference = element.get("href") or element.get(HREF) or ""
        if not reference.startswith("#"):
            if reference:
                self.collector.lose("a reference to another file")
            return None
        return self.by_id.get(reference[1:])

    # --- shapes ----------------------------------------------------------------------------------------------

    def draw(self, element: Element, kind: str, map: Affine) -> Pen | None:
        """A shape as canonical text; None when it has no extent. Raises ArtError for one that cannot be read."""
        pen = Pen(map)
        if kind == "path":
            d = element.get("d") or ""
            if not d.strip():
                return None
            try:
                if not write_path(d, map, pen.out):
                    self.collector.lose("a path with an error (drawn up to it)")
            except ArtError as error:
                raise ArtError(f"{self.name}: path “{element.get('id') or d[:24]}”: {error}") from None
        else:
            try:
                DRAWERS[kind](element, pen, self.view)
            except ArtError as error:
                raise ArtError(f"{self.name}: {kind} “{element.get('id') or ''}”: {error}") from None
        return pen if len(pen.out.parts) > 1 else None

    def _shape(self, element: Element, kind: str, at: Place) -> None:
        pen = self.draw(element, kind, at.map)
        if pen is None:
            return
        style = at.style
        if any(style.get(each, "none") != "none" for each in MARKERS):
            self.collector.lose("markers on lines")
        fill = self._paint(style["fill"], style)
        solid = parse_length(style["opacity"], 1.0, 1.0) if "opacity" in style else 1.0
        through = _opacity(style["fill-opacity"])
        if fill and has_area(pen) and through > 0:
            if count_crossings(pen.out.parts) > MOST_CROSSINGS:
                place = element.get("id") or kind
                raise ArtError(f"{self.name}: “{place}” crosses itself over {MOST_CROSSINGS:,} times")
            self._say_if_through(solid * through)
            key = Key(at.name, fill, 0.0, rule="evenodd" if style["fill-rule"] == "evenodd" else "nonzero")
            self._keep(key, pen.out, at.clips)
        stroke = self._paint(style["stroke"], style)
        if not stroke:
            return
        width = parse_length(style["stroke-width"], math.hypot(*self.view) / math.sqrt(2), 1.0)
        through = _opacity(style["stroke-opacity"])
        if width > 0 and through > 0:
            self._say_if_through(solid * through)
            self._stroke(element, kind, at, stroke, width, pen)

    def _say_if_through(self, opacity: float) -> None:
        if opacity < 1:
            self.collector.lose("see-through paint (taken as solid)")

    def _stroke(self, element: Element, kind: str, at: Place, colour: str, width: float, pen: Pen) -> None:
        style = at.style
        caps = {"round": "round", "square": "square"}.get(style["stroke-linecap"], "flat")
        corners = {"round": "round", "bevel": "bevel"}.get(style["stroke-linejoin"], "mitre")
        key = Key(at.name, colour, 0.0, caps, corners)
        if style.get("vector-effect") == "non-scaling-stroke":
            factor = MM_PER_PX
        else:
            long, short = stretches(at.map)
            if short > 0 and long / short > 1.01:
                self._uneven_stroke(element, kind, at, key, width)
                return
            factor = math.sqrt(abs(at.map.determinant))
        self._keep(
            structs.replace(key, stroke=round(width * factor, 4), dash=_dashes(style["stroke-dasharray"], factor)),
            pen.out,
            at.clips,
        )

    def _uneven_stroke(self, element: Element, kind: str, at: Place, key: Key, width: float) -> None:
        """A line drawn with a squeezed pen: its outline, made before the squeeze."""
        from dechirer.core.shape.curves import flatten, outline_of_lines

        plain = self.draw(element, kind, Affine())
        if plain is None:
            return
        fine = 0.01 / max(stretches(at.map)[0], 1e-9)
        covered = outline_of_lines(flatten(plain.out.text(), fine), width, key.caps, key.corners)
        for text, box in write_polygons(shown_in(covered, at.map, at.clips)):
            self._take(Key(key.name, key.colour, 0.0), text, box)

    def _paint(self, value: str, style: dict[str, str]) -> str | None:
        """A paint as `#rrggbb`; None where nothing is painted. A gradient is taken as its mean colour."""
        if value == "none":
            return None
        if value == "currentcolor":
            found = style["color"]
            return found if found.startswith("#") else "#000000" if found == "currentcolor" else None
        reference = split_reference(value)
        if reference is None:
            return value
        id, fallback = reference
        source, stops = self.by_id.get(id), None
        for _ in range(8):
            if source is None:
                break
            stops = mix_stops(
                (
                    _offset(stop),
                    read_colour(style_of(stop, START, self.sheets).get("stop-color", "#000000")) or "#000000",
                )
                for stop in source.iter()
                if local(stop.tag) == "stop"
            )
            if stops is not None:
                self.collector.lose("a gradient (taken as its mean colour)")
                return stops
            source = self.target(source)
        if id in self.by_id:
            self.collector.lose("a pattern (taken as grey)")
            return "#808080"
        # SVG 2, section 13.2: the fallback, or none.
        self.collector.lose("a paint that is not in the file" + ("" if fallback else " (nothing is painted)"))
        plain = resolve_paint(fallback, style, self.collector.lose) if fallback else None
        return self._paint(plain, style) if plain and not plain.startswith("url(") else None

    def _keep(self, key: Key, out: Segments, clips: tuple[Clip, ...]) -> None:
        half = key.stroke / 2
        box = (out.left - half, out.top - half, out.right + half, out.bottom + half)
        clips = tuple(clip for clip in clips if not clip.holds(box))
        if not clips:
            self._take(key, out.text(), box)
            return
        from dechirer.core.shape.curves import areas_of, flatten, outline_of_lines

        self.collector.budget.spend(16)
        runs = flatten(out.text())
        shape = outline_of_lines(runs, key.stroke, key.caps, key.corners) if key.stroke else areas_of(runs, key.rule)
        for text, part in write_polygons(shown_in(shape, Affine(), clips)):
            self._take(Key(key.name, key.colour, 0.0), text, part)

    def _take(self, key: Key, text: str, box: FourSides, *, anywhere: bool = False) -> None:
        page = self._page
        if (
            page is not None
            and not anywhere
            and (box[0] >= page[2] or box[2] <= page[0] or box[1] >= page[3] or box[3] <= page[1])
        ):
            self.collector.budget.spend()
            self._beside.append((key, text, box))
            return
        a = self.box
        self.box = (min(a[0], box[0]), min(a[1], box[1]), max(a[2], box[2]), max(a[3], box[3]))
        self.collector.add(key, text, box)


def write_polygons(shape: Any) -> list[tuple[str, FourSides]]:
    """Every polygon of a geometry as canonical text with its box."""
    import shapely

    found = []
    for part in shapely.get_parts(shape):
        if part.geom_type != "Polygon" or part.is_empty:
            continue
        out = Segments()
        for ring in (part.exterior, *part.interiors):
            points = ring.coords[:-1]
            out.add("M", points[0])
            for point in points[1:]:
                out.add("L", point)
            out.close()
        found.append((out.text(), (out.left, out.top, out.right, out.bottom)))
    return found


def has_area(pen: Pen) -> bool:
    """Whether a path encloses anything: a straight line has a fill in SVG, but nothing of it is painted."""
    out = pen.out
    if out.right - out.left < 1e-9 or out.bottom - out.top < 1e-9:
        return False
    return len(out.parts) > 2 or any(part.startswith("C") for part in out.parts)


def _dashes(text: str, factor: float) -> tuple[float, ...]:
    """Dashes in mm; a list with a length below zero is none at all (SVG 1.1, section 11.4)."""
    found = [] if text == "none" else [each * factor for each in numbers(text)[:16]]
    if not any(each > 0 for each in found) or min(found) < 0 or max(found) > LONGEST_DASH_MM:
        return ()
    return tuple(round(each, 3) for each in found)


LONGEST_DASH_MM = 20_000.0


def _opacity(text: str) -> float:
    return 1.0 if text == "1" else parse_length(text, 1.0, 1.0)


def _offset(stop: Element) -> float:
    return min(1.0, max(0.0, parse_length(stop.get("offset"), 1.0)))


def _join(above: str, own: str) -> str:
    if not own or own == above:
        return above
    return f"{above}/{own}"[-100:].strip("/") if above else own[:100]
