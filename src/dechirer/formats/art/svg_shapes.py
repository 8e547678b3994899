"""SVG's shapes, transforms, arcs and view boxes, written down as canonical text in mm."""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any
from xml.etree.ElementTree import Element

from dechirer.core.shape.affine import Affine, Point
from dechirer.formats.art.collect import Segments
from dechirer.formats.art.svg_style import parse_length

KAPPA = 0.5522847498307936
"""Length of a quarter circle's control arm: 4/3 (sqrt 2 - 1), plain geometry."""

_NUMBER = re.compile(r"[+-]?(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?")
_TRANSFORM = re.compile(r"([a-zA-Z]+)\s*\(([^)]*)\)")


def numbers(text: str | None) -> list[float]:
    """Every number of a text."""
    return [float(each) for each in _NUMBER.findall(text or "")]


def read_transform(text: str | None) -> Affine:
    """An SVG transform list as one map. What is not understood is left out."""
    if not text:
        return Affine()
    whole = Affine()
    for kind, inside in _TRANSFORM.findall(text):
        n = numbers(inside)
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
    """Draws the outline of a shape and writes it down, mapped, as canonical text."""

    __slots__ = ("here", "map", "out", "start")

    def __init__(self, map: Affine) -> None:
        self.map, self.out = map, Segments()
        self.here = self.start = (0.0, 0.0)

    def moveTo(self, p: Any) -> None:
        """Begin a subpath."""
        self.here = self.start = p
        self.out.add("M", self.map(p))

    def lineTo(self, p: Any) -> None:
        """A straight line."""
        self.here = p
        self.out.add("L", self.map(p))

    def curveTo(self, *points: Any) -> None:
        """A cubic curve."""
        self.here = points[-1]
        self.out.add("C", *(self.map(p) for p in points))

    def closePath(self) -> None:
        """Close the subpath."""
        self.here = self.start
        self.out.close()


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


def stretches(map: Affine) -> tuple[float, float]:
    """The largest and the smallest factor a map stretches lengths by: its singular values."""
    e, f = (map.a + map.d) / 2, (map.a - map.d) / 2
    g, h = (map.b + map.c) / 2, (map.b - map.c) / 2
    q, r = math.hypot(e, h), math.hypot(f, g)
    return q + r, abs(q - r)


def fit_view(element: Element, width: float, height: float) -> Affine:
    """The map of a view box onto its viewport, by preserveAspectRatio (SVG 1.1, section 7.8)."""
    view = numbers(element.get("viewBox"))
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
    if element.tag.rpartition("}")[2] == "circle":
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
    n = numbers(element.get("points"))
    points = list(zip(n[::2], n[1::2], strict=False))
    if len(points) < 2:
        return
    pen.moveTo(points[0])
    for point in points[1:]:
        pen.lineTo(point)
    if element.tag.rpartition("}")[2] == "polygon":
        pen.closePath()


DRAWERS: dict[str, Callable[[Element, Pen, tuple[float, float]], None]] = {
    "rect": _draw_rect,
    "circle": _draw_round,
    "ellipse": _draw_round,
    "line": _draw_line,
    "polyline": _draw_poly,
    "polygon": _draw_poly,
}
