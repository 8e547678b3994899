"""Steps that turn outlines into lines to be drawn or foiled: dashes, stitches set in from the edge, fills."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from typing import Annotated, Any

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.decide.values import given
from dechirer.core.dress.drawn import Drawn, Part
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import Length
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.webs import grow

MOST_LINES = 4000
LEAST_MM = 0.2


class Dashes(Step, frozen=True, tag="dashes"):
    """Every line in dashes, as many as close evenly."""

    dash: Annotated[Length, Field("dash", 0.3, 100)] = given("3 mm")
    gap: Annotated[Length, Field("gap", 0.2, 100)] = given("2 mm")


@STEPS.add(
    "dashes",
    decisions=Dashes,
    title="dashes",
    about="Breaks every line into dashes that close evenly.",
    group="Lines",
    order=60,
    whole=True,
    in_mm=(("dash", "3 mm"), ("gap", "2 mm")),
)
def break_into_dashes(drawn: Drawn, step: Dashes, _others: dict[str, Drawn]) -> Drawn:
    """Every line in dashes."""
    return _each_part(drawn, lambda part: _dash_all(_edges(part), step.dash.mm, step.gap.mm))


class Stitch(Step, frozen=True, tag="stitch"):
    """Stitches set in from the edge, by as much as a safe zone may be: dashes along it, as many as close evenly."""

    by: Annotated[Length, Field("set in by", 0, 100)] = given("2.5 mm")
    dash: Annotated[Length, Field("stitch", 0.3, 100)] = given("3 mm")
    gap: Annotated[Length, Field("gap", 0.2, 100)] = given("2 mm")


@STEPS.add(
    "stitch",
    decisions=Stitch,
    title="stitches",
    about="Dashes along the edge, set in from it.",
    group="Lines",
    order=61,
    whole=True,
    may_lose=True,
)
def stitch_along(drawn: Drawn, step: Stitch, _others: dict[str, Drawn]) -> Drawn:
    """Stitches along every edge."""

    def stitches(part: Part) -> list[Any]:
        inner = [each for area in part.areas for each in polygons_of(grow(area, -step.by.mm))]
        return _dash_all([*_rings(inner), *part.lines], step.dash.mm, step.gap.mm)

    return _each_part(drawn, stitches)


class Hatch(Step, frozen=True, tag="hatch"):
    """Areas filled with lines beside each other."""

    by: Annotated[Length, Field("lines apart", 0.1, 50)] = given("1 mm")
    turn_deg: Annotated[float, Field("turned, degrees", -180, 180)] = 45.0
    edge: Annotated[bool, Field("with its edge")] = True


@STEPS.add(
    "hatch",
    decisions=Hatch,
    title="hatch",
    about="Fills areas with lines beside each other.",
    group="Lines",
    order=62,
    whole=True,
)
def hatch(drawn: Drawn, step: Hatch, _others: dict[str, Drawn]) -> Drawn:
    """Areas filled with lines."""
    import shapely

    def fill(part: Part) -> list[Any]:
        found: list[Any] = list(part.lines)
        for area in part.areas:
            found += _hatch_one(area, step.by.mm, step.turn_deg)
            found += [_open(ring) for ring in _rings((area,))] if step.edge else []
        return found[:MOST_LINES]

    done = _each_part(drawn, fill)
    count = sum(len(part.lines) for part in done.parts)
    if count >= MOST_LINES:
        middle = shapely.box(*drawn.box()).centroid
        return done.with_remark("few", f"only the first {MOST_LINES} lines are drawn", (middle.x, middle.y))
    return done


class Contours(Step, frozen=True, tag="contours"):
    """Areas filled with lines that follow their edge."""

    by: Annotated[Length, Field("lines apart", 0.1, 50)] = given("1 mm")


@STEPS.add(
    "contours",
    decisions=Contours,
    title="contours",
    about="Fills areas with lines that follow their edge inwards.",
    group="Lines",
    order=63,
    whole=True,
)
def fill_with_contours(drawn: Drawn, step: Contours, _others: dict[str, Drawn]) -> Drawn:
    """Areas filled with lines along their edge."""

    def fill(part: Part) -> list[Any]:
        found: list[Any] = list(part.lines)
        for area in part.areas:
            number = 0
            left = [area]
            while left and len(found) < MOST_LINES:
                found += [_open(ring) for ring in _rings(left)]
                number += 1
                left = list(polygons_of(grow(area, -number * step.by.mm)))
        return found

    return _each_part(drawn, fill)


def _each_part(drawn: Drawn, lines: Callable[[Part], list[Any]]) -> Drawn:
    """Every part as the lines that are made of it."""
    parts = tuple(structs.replace(part, areas=(), lines=tuple(lines(part))) for part in drawn.parts)
    return structs.replace(drawn, parts=tuple(part for part in parts if not part.is_empty))


def _edges(part: Part) -> list[Any]:
    return [*(_open(ring) for ring in _rings(part.areas)), *part.lines]


def _rings(areas: Iterable[Any]) -> list[Any]:
    return [ring for area in areas for ring in (area.exterior, *area.interiors)]


def _open(ring: Any) -> Any:
    """A ring as a line that ends where it begins."""
    import shapely

    return shapely.LineString(ring.coords)


def _dash_all(lines: Iterable[Any], dash: float, gap: float) -> list[Any]:
    found: list[Any] = []
    for line in lines:
        if len(found) >= MOST_LINES:
            break
        found += dashes_of(line, dash, gap)
    return found[:MOST_LINES]


def dashes_of(line: Any, dash: float, gap: float) -> list[Any]:
    """A line in dashes of that length (mm): a closed one in as many as close evenly, an open one with a dash at both
    ends. The gaps give way, not the dashes."""
    from shapely.ops import substring

    length = line.length
    closed = bool(line.is_closed)
    if closed:
        count = max(1, round(length / (dash + gap)))
        pitch = length / count
        long = min(dash, pitch - LEAST_MM) if pitch > LEAST_MM else pitch
    else:
        count = max(1, round((length + gap) / (dash + gap)))
        long = min(dash, length)
        pitch = (length - long) / (count - 1) if count > 1 else 0.0
        if count > 1 and pitch - long < LEAST_MM:
            count -= 1
            pitch = (length - long) / (count - 1) if count > 1 else 0.0
    return [substring(line, number * pitch, number * pitch + long) for number in range(count)]


def _hatch_one(area: Any, apart: float, turn_deg: float) -> list[Any]:
    """Parallel lines over a polygon, to and fro so that a pen goes short ways."""
    import shapely

    centre = area.centroid
    level = shapely.affinity.rotate(area, -turn_deg, origin=centre) if turn_deg else area
    left, top, right, bottom = level.bounds
    rows = min(MOST_LINES, math.floor((bottom - top) / apart))
    start = (top + bottom - (rows - 1) * apart) / 2 if rows else 0.0
    found: list[Any] = []
    for row in range(rows):
        y = start + row * apart
        met = shapely.intersection(level, shapely.LineString([(left - 1, y), (right + 1, y)]))
        lines = [each for each in shapely.get_parts(met).tolist() if each.geom_type == "LineString"]
        found += [each.reverse() for each in reversed(lines)] if row % 2 else lines
    return [shapely.affinity.rotate(line, turn_deg, origin=centre) for line in found] if turn_deg else found
