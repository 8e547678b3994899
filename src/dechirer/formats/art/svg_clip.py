"""Clips of SVG: clip paths, masks that are one plain shape, and the edges of symbols and documents inside."""

from __future__ import annotations

from typing import Any, Protocol
from xml.etree.ElementTree import Element

from msgspec import Struct

from dechirer.core.shape.affine import Affine
from dechirer.formats.art.collect import Collector, FourSides
from dechirer.formats.art.svg_paint import split_reference
from dechirer.formats.art.svg_shapes import DRAWERS, Pen, read_transform
from dechirer.formats.art.svg_style import START, StyleSheets, local, parse_length, style_of

SHAPES = frozenset(DRAWERS) | {"path"}
MOST_DEPTH = 12


class Clip(Struct, frozen=True):
    """What is seen through: an area in mm."""

    area: Any

    def holds(self, box: FourSides) -> bool:
        """Whether all of a box is seen."""
        import shapely

        return bool(shapely.covers(self.area, shapely.box(*box)))


def shown_in(shape: Any, map: Affine, clips: tuple[Clip, ...]) -> Any:
    """What is seen of a geometry, mapped to mm, through clips."""
    import numpy as np
    import shapely

    if map != Affine():
        matrix, shift = np.array([[map.a, map.b], [map.c, map.d]]), np.array([map.e, map.f])
        shape = shapely.make_valid(shapely.transform(shape, lambda points: points @ matrix + shift))
    for clip in clips:
        shape = shapely.intersection(shape, clip.area)
    return shape


class Document(Protocol):
    """What clips ask of whoever walks the document."""

    by_id: dict[str, Element]
    collector: Collector
    sheets: StyleSheets

    def draw(self, element: Element, kind: str, map: Affine) -> Pen | None:
        """A shape as canonical text; None when it has no extent."""

    def target(self, element: Element) -> Element | None:
        """What an element refers to within the document, or None."""


class Clips:
    """Finds what elements are seen through, each clip once for each place."""

    def __init__(self, walker: Document) -> None:
        self._walker = walker
        self._made: dict[tuple[str, Affine], Any] = {}

    @staticmethod
    def rectangle(sides: FourSides, map: Affine) -> Clip:
        """The clip of a rectangle, mapped."""
        import shapely

        left, top, right, bottom = sides
        corners = [map(point) for point in ((left, top), (right, top), (right, bottom), (left, bottom))]
        return Clip(shapely.Polygon(corners))

    def of(
        self, element: Element, style: dict[str, str], map: Affine, clips: tuple[Clip, ...], depth: int = 0
    ) -> tuple[Clip, ...]:
        """The clips of an element besides those above it."""
        for what in ("clip-path", "mask"):
            reference = split_reference(style.get(what, ""))
            if reference is None:
                continue
            source = self._walker.by_id.get(reference[0])
            if source is None or depth > MOST_DEPTH:
                self._walker.collector.lose(
                    "a mask (drawn without it)" if what == "mask" else "a clip (drawn without it)"
                )
                continue
            kind = local(source.tag)
            if what == "mask" and not self._is_plain(source):
                self._walker.collector.lose("a mask (drawn without it)")
            elif kind in ("clipPath", "mask"):
                area = self._area(source, element, map, depth)
                if area is not None:
                    clips = (*clips, Clip(area))
        return clips

    def _is_plain(self, mask: Element) -> bool:
        """Whether a mask is shapes in white alone: then it shows what they cover, and nothing else."""
        children = [child for child in mask if local(child.tag) not in ("title", "desc", "metadata")]
        for child in children:
            style = style_of(child, style_of(mask, START, self._walker.sheets), self._walker.sheets)
            white = style["fill"] == "#ffffff" and style["stroke"] == "none"
            solid = all(parse_length(style.get(each), 1.0, 1.0) >= 1 for each in ("opacity", "fill-opacity"))
            if local(child.tag) not in SHAPES or not white or not solid:
                return False
        return bool(children)

    def _area(self, source: Element, element: Element, map: Affine, depth: int) -> Any:
        """What a clip path or a plain mask shows of an element, in mm; None when that cannot be told."""
        walker = self._walker
        units = source.get("clipPathUnits") or source.get("maskContentUnits")
        if units == "objectBoundingBox":
            kind = local(element.tag)
            own = walker.draw(element, kind, Affine()) if kind in SHAPES else None
            if own is None:
                walker.collector.lose("a clip in units of its group (drawn without it)")
                return None
            out = own.out
            map = Affine(out.right - out.left, 0, 0, out.bottom - out.top, out.left, out.top).then(map)
        key = (source.get("id") or "", map)
        if key not in self._made:
            self._made[key] = self._make(source, map, depth)
        return self._made[key]

    def _make(self, source: Element, map: Affine, depth: int) -> Any:
        import shapely

        from dechirer.core.shape.curves import areas_of, flatten

        walker = self._walker
        walker.collector.budget.spend(16)
        inner = read_transform(source.get("transform")).then(map)
        parts = []
        for child in source:
            kind, child_map = local(child.tag), inner
            child_map = read_transform(child.get("transform")).then(inner)
            style = style_of(child, style_of(source, START, walker.sheets), walker.sheets)
            if kind == "use":
                target = walker.target(child)
                if target is None:
                    continue
                shift = Affine(e=parse_length(child.get("x")), f=parse_length(child.get("y")))
                child_map = read_transform(target.get("transform")).then(shift).then(child_map)
                child, kind = target, local(target.tag)
            if kind not in SHAPES or style.get("display") == "none":
                continue
            walker.collector.budget.spend(8)
            pen = walker.draw(child, kind, child_map)
            if pen is not None:
                area = areas_of(flatten(pen.out.text()), style.get("clip-rule", "nonzero"))
                parts.append(shown_in(area, Affine(), self.of(child, style, child_map, (), depth + 1)))
        whole = shapely.union_all(parts)
        # A clip path may be seen through another one itself.
        return shown_in(whole, Affine(), self.of(source, style_of(source, START, walker.sheets), map, (), depth + 1))
