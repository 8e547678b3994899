"""What a cutting machine reads of a DXF: a reader of its own, which shares nothing with what writes such files.

It understands lines, polylines with straight sides and arcs, circles, arcs, and splines that are one cubic curve; a
layer is an operation, named as in our files. Group codes are those of the DXF reference (Autodesk, release 2010).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from typing import Any

import numpy as np
from msgspec import Struct

from dechirer.devices.strokes import FLAT_MM, OPERATIONS, CutterFile, CutterFileError, Stroke, flatten_cubic

MILLIMETRES = {0: 1.0, 1: 25.4, 4: 1.0, 5: 10.0, 6: 1000.0}
"""Millimetres of a unit by `$INSUNITS`; 0 is not stated."""
SKIPPED = ("VIEWPORT", "INSERT_END", "SEQEND")
JOINED_MM = 1e-4


class _Entity(Struct, frozen=True):
    kind: str
    layer: str
    codes: tuple[tuple[int, str], ...]

    def all(self, code: int) -> list[float]:
        return [float(value) for each, value in self.codes if each == code]

    def first(self, code: int, default: float = 0.0) -> float:
        return next(iter(self.all(code)), default)


def read_dxf(text: str, name: str, height: float) -> CutterFile:
    """Read the strokes of a DXF in their order.

    Args:
        height: of the mat in mm; DXF counts upwards from its lower edge.

    Raises:
        CutterFileError: it is not a DXF, or holds what cannot be run; names the place.
    """
    lines = text.splitlines()
    pairs = list(_pairs(lines, name))
    unit = MILLIMETRES.get(_units_of(pairs), 0.0)
    if not unit:
        raise CutterFileError(f"{name}: its unit is not millimetres")
    strokes: list[Stroke] = []
    for entity in _entities(pairs):
        operation = entity.layer.lower().partition("-")[0]
        if operation not in OPERATIONS:
            raise CutterFileError(f"{name}: layer “{entity.layer[:30]}” is not an operation")
        for points in _points(entity, name):
            flipped = np.column_stack([points[:, 0] * unit, height - points[:, 1] * unit])
            if not np.isfinite(flipped).all():
                raise CutterFileError(f"{name}: a {entity.kind.lower()} has no place")
            _append(strokes, operation, flipped)
    closed = tuple(_closed(stroke) for stroke in strokes)
    return CutterFile(name, 0.0, height, closed)


def _pairs(lines: list[str], name: str) -> Iterator[tuple[int, str]]:
    for at in range(0, len(lines) - 1, 2):
        try:
            yield int(lines[at]), lines[at + 1].strip()
        except ValueError:
            raise CutterFileError(f"{name}, line {at + 1}: not a DXF group code") from None


def _units_of(pairs: list[tuple[int, str]]) -> int:
    for at, (code, value) in enumerate(pairs):
        if code == 9 and value == "$INSUNITS" and at + 1 < len(pairs):
            try:
                return int(pairs[at + 1][1])
            except ValueError:
                return -1
    return 0


def _entities(pairs: list[tuple[int, str]]) -> Iterator[_Entity]:
    """The entities of the model, in their order."""
    inside, kind = False, ""
    codes: list[tuple[int, str]] = []
    for at, (code, value) in enumerate(pairs):
        if code != 0:
            if inside and kind:
                codes.append((code, value))
            elif code == 2 and pairs[at - 1] == (0, "SECTION"):
                inside = value == "ENTITIES"
            continue
        if inside and kind:
            layer = next((text for number, text in codes if number == 8), "")
            yield _Entity(kind, layer, tuple(codes))
        codes, kind = [], value if inside and value != "ENDSEC" else ""
        if value == "ENDSEC":
            inside = False


def _points(entity: _Entity, name: str) -> Iterator[Any]:
    """The points of an entity, flattened; arrays of shape (n, 2) in the drawing's own unit."""
    kind = entity.kind
    if kind == "LINE":
        yield np.array([[entity.first(10), entity.first(20)], [entity.first(11), entity.first(21)]])
    elif kind == "LWPOLYLINE":
        yield _polyline(entity)
    elif kind == "SPLINE":
        yield _spline(entity, name)
    elif kind in ("CIRCLE", "ARC"):
        start = math.radians(entity.first(50)) if kind == "ARC" else 0.0
        end = math.radians(entity.first(51)) if kind == "ARC" else math.tau
        yield _arc(entity.first(10), entity.first(20), entity.first(40), start, end if end > start else end + math.tau)
    elif kind not in SKIPPED:
        raise CutterFileError(f"{name}: a machine cannot run “{kind[:30]}”; make polylines of it")


def _arc(x: float, y: float, radius: float, start: float, end: float) -> Any:
    steps = max(8, math.ceil(abs(end - start) / (2 * math.acos(1 - min(0.5, FLAT_MM / max(radius, 0.01))))))
    turn = np.linspace(start, end, steps + 1)
    return np.column_stack([x + radius * np.cos(turn), y + radius * np.sin(turn)])


def _polyline(entity: _Entity) -> Any:
    """A polyline; a side with a bulge is an arc, the bulge the tangent of a quarter of its angle."""
    corners: list[list[float]] = []
    for code, value in entity.codes:
        if code == 10:
            corners.append([float(value), 0.0, 0.0])
        elif code == 20 and corners:
            corners[-1][1] = float(value)
        elif code == 42 and corners:
            corners[-1][2] = float(value)
    if int(entity.first(70)) & 1 and corners:
        corners.append([*corners[0][:2], 0.0])
    points = [np.array([corner[:2]]) for corner in corners[:1]]
    for (x0, y0, bulge), (x1, y1, _) in itertools.pairwise(corners):
        if bulge:
            angle, chord = 4 * math.atan(bulge), math.dist((x0, y0), (x1, y1))
            radius = chord / (2 * math.sin(angle / 2))
            middle_x, middle_y, off = (x0 + x1) / 2, (y0 + y1) / 2, radius * math.cos(angle / 2)
            cx, cy = middle_x - off * (y1 - y0) / chord, middle_y + off * (x1 - x0) / chord
            start = math.atan2(y0 - cy, x0 - cx)
            points.append(_arc(cx, cy, abs(radius), start, start + angle)[1:])
        else:
            points.append(np.array([[x1, y1]]))
    return np.concatenate(points) if points else np.empty((0, 2))


def _spline(entity: _Entity, name: str) -> Any:
    controls = list(zip(entity.all(10), entity.all(20), strict=False))
    knots = entity.all(40)
    if int(entity.first(71)) != 3 or len(controls) != 4 or len(set(knots)) != 2:
        raise CutterFileError(f"{name}: a spline is not a single cubic curve; make polylines of it")
    return np.array([controls[0], *flatten_cubic(controls, FLAT_MM)])


def _append(strokes: list[Stroke], operation: str, points: Any) -> None:
    """Add points as a stroke, or to the last one where they go on from its end."""
    if len(points) < 2:
        return
    last = strokes[-1] if strokes else None
    goes_on = last is not None and last.operation == operation and math.dist(last.points[-1], points[0]) < JOINED_MM
    if last is not None and goes_on and math.dist(last.points[0], last.points[-1]) > JOINED_MM:
        strokes[-1] = Stroke(operation, "", np.concatenate([last.points, points[1:]]), False)
        return
    strokes.append(Stroke(operation, "", points, False))


def _closed(stroke: Stroke) -> Stroke:
    ends_meet = len(stroke.points) > 3 and math.dist(stroke.points[0], stroke.points[-1]) < JOINED_MM
    return Stroke(stroke.operation, "", stroke.points[:-1], True) if ends_meet else stroke
