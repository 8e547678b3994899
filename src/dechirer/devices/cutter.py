"""A cutting machine that is simulated: it runs the strokes of a file over a sheet, and what comes of it is looked at.

Everything is worked out from the file's strokes and the sheet. The plan is only asked what should have come of it.
"""

from __future__ import annotations

import math
from collections.abc import Collection, Iterator
from typing import Any

import numpy as np
import shapely
from msgspec import Struct

from dechirer.core.brief.machine import Machine
from dechirer.core.card.placed import Placement
from dechirer.core.lay.mat import MatLayout
from dechirer.core.paper.strength import web_it_holds
from dechirer.devices.strokes import CutterFile, Stroke

FREE_SHARE = 1.02
"""A part of the sheet that is this much larger than its piece hangs on to something."""
SAME_MM = 0.06
"""Lines that lie this near are where they should be: curves are refitted, and a plotter's grid is 0.025 mm."""
SHORT_SHARE = 0.01
STEP_MM = 0.5
SLIVER_MM = 0.05
SPECK_MM2 = 4.0
THROUGH = ("cut",)
NEARLY_SHARE = 1.4
"""Webs up to so much broader than what a paper holds are measured."""
WEB_MM = 0.01


LEVER_MM = 300.0
"""What is off by as much as the profile says is off so far from the corner."""


class Faults(Struct, frozen=True):
    """How a machine is off on one load: the sheet lies shifted (mm) and askew (degrees), the carriage goes too far or
    too short (share), lags by its play when it turns back (mm), and the blade trails and takes paper away (mm)."""

    right: float = 0.0
    down: float = 0.0
    skew_deg: float = 0.0
    scale: float = 1.0
    play: float = 0.0
    trails: float = 0.0
    kerf: float = 0.0


NOMINAL = Faults()


def draw_faults(machine: Machine, seed: int) -> Faults:
    """The faults of one load, by the machine's profile; the same ones for the same seed."""
    random = np.random.default_rng(seed + 104_729)
    right, down = random.normal(0, machine.laid_to, 2)
    skew = random.normal(0, math.degrees(machine.laid_to / LEVER_MM))
    scale = 1 + random.normal(0, machine.cuts_to / LEVER_MM)
    return Faults(float(right), float(down), float(skew), float(scale), abs(float(random.normal(0, machine.cuts_to))))


class LineOutcome(Struct, frozen=True):
    """What became of a line: how far it lies from its place on its piece (mm; infinite where it is missing)."""

    name: str
    operation: str
    off: float


class PieceOutcome(Struct, frozen=True):
    """What became of one piece.

    `state` is `free`, `hangs` (not cut out), `torn`, `severed` (only a part of it is left), `missing` (no part of the
    sheet is like it), or `blank` for one that is not cut out. Sizes in mm, across and down as it lies; `off` is how far
    its outline strays from the planned
    one, `moved` how far it lies from its place on the mat, and
    `strays` how much of that the faults of the load do not tell. `web` is its narrowest web, where one is nearly too
    narrow.
    """

    placement: str
    name: str
    state: str
    planned: tuple[float, float]
    size: tuple[float, float]
    off: float
    moved: tuple[float, float]
    lines: tuple[LineOutcome, ...]
    strays: float = 0.0
    web: float = math.inf

    @property
    def troubles(self) -> tuple[str, ...]:
        """What is wrong with it, in words; nothing for a good one."""
        found = []
        if self.state == "hangs":
            found.append("it is not cut free")
        elif self.state == "torn":
            found.append("a web of it tore")
        elif self.state == "missing":
            found.append("it is missing")
        elif self.state == "severed":
            sizes = f"{self.size[0]:.2f} x {self.size[1]:.2f} mm, planned {self.planned[0]:.2f} x {self.planned[1]:.2f}"
            found.append(f"it is cut apart: {sizes}")
        else:
            for side, planned, real in zip(("wide", "high"), self.planned, self.size, strict=True):
                if abs(real - planned) > SAME_MM:
                    found.append(f"it is {real:.2f} mm {side}, planned {planned:.2f}")
            if self.off > SAME_MM and not found:
                found.append(f"its outline strays by {self.off:.2f} mm")
            if self.strays > SAME_MM and not found:
                found.append(f"it lies {self.strays:.2f} mm beside its place")
        for line in self.lines:
            if math.isinf(line.off):
                found.append(f"“{line.name}” is missing")
            elif line.off > SAME_MM:
                found.append(f"“{line.name}” lies {line.off:.2f} mm beside its place")
        return tuple(found)


class MatOutcome(Struct, frozen=True):
    """What became of a mat: the parts the sheet fell into, its pieces, and what else was wrong, in words."""

    mat: str
    parts: tuple[Any, ...]
    pieces: tuple[PieceOutcome, ...]
    loose: tuple[str, ...]

    @property
    def troubles(self) -> tuple[str, ...]:
        """Everything that is wrong, each with its piece."""
        own = [f"{piece.placement}: {why}" for piece in self.pieces for why in piece.troubles]
        return (*own, *self.loose)


def run_mat(
    layout: MatLayout,
    file: CutterFile,
    faults: Faults = NOMINAL,
    grams: float = 0.0,
    through: Collection[str] = THROUGH,
) -> MatOutcome:
    """Run a file over the sheet of a layout.

    Args:
        grams: the paper's weight, g/m2, which says what webs hold; 0 is unknown.
        through: the operations whose blade goes through the paper.
    """
    strokes = [_as_run(stroke, faults) for stroke in file.strokes]
    cuts = [_line(stroke) for stroke in strokes if stroke.operation in through]
    on = layout.sheet.box
    sheet = shapely.box(on.left, on.top, on.right, on.bottom)
    noded = shapely.union_all([sheet.boundary, *cuts]) if cuts else sheet.boundary
    parts = np.array(shapely.get_parts(shapely.polygonize([noded])))
    tree = shapely.STRtree(parts)
    drawn = _by_piece(strokes, layout)
    pieces = tuple(_look_at(placed, parts, tree, drawn[placed.id], faults, grams) for placed in layout.placements)
    return MatOutcome(layout.id, tuple(parts), pieces, tuple(_find_loose(layout, file)))


def _as_run(stroke: Stroke, faults: Faults) -> Stroke:
    """A stroke where the tool really goes."""
    points = stroke.points
    if faults.trails > 0 and stroke.operation in ("cut", "kiss", "perforate"):
        points = trail(points, stroke.closed, faults.trails)
    if faults == Faults(trails=faults.trails, kerf=faults.kerf):
        return Stroke(stroke.operation, stroke.group, points, stroke.closed and faults.trails == 0)
    if faults.play:
        ahead = np.diff(points, axis=0, prepend=points[:1])
        points = points - np.sign(ahead) * faults.play / 2
    c, s = math.cos(math.radians(faults.skew_deg)), math.sin(math.radians(faults.skew_deg))
    turned = faults.scale * (points @ np.array([[c, s], [-s, c]]))
    return Stroke(stroke.operation, stroke.group, turned + np.array([faults.right, faults.down]), stroke.closed)


def trail(points: Any, closed: bool, by: float) -> Any:
    """Where the edge of a blade goes that is dragged behind its holder (a tractrix), in steps of a tenth of that."""
    ring = np.vstack([points, points[:1]]) if closed else points
    line = shapely.get_coordinates(shapely.segmentize(shapely.LineString(ring), max(by / 10, 0.01)))
    first = line[min(1, len(line) - 1)] - line[0]
    edge = line[0] - by * first / (np.hypot(*first) or 1.0)
    found = np.empty_like(line)
    for place, holder in enumerate(line):
        away = edge - holder
        far = math.hypot(away[0], away[1])
        if far > by:
            edge = holder + away * (by / far)
        found[place] = edge
    return found


def _line(stroke: Stroke) -> Any:
    points = np.vstack([stroke.points, stroke.points[:1]]) if stroke.closed else stroke.points
    return shapely.LineString(points)


def _by_piece(strokes: list[Stroke], layout: MatLayout) -> dict[str, list[Stroke]]:
    """The strokes of each piece: by the group they are in, else by where they lie."""
    found: dict[str, list[Stroke]] = {placed.id: [] for placed in layout.placements}
    outlines = {placed.id: shapely.Polygon(placed.outline).buffer(1.0) for placed in layout.placements}
    for placed, front in zip(layout.placements, layout.sheet.slots, strict=False):
        outlines[placed.id] = shapely.box(front.left, front.top, front.right, front.bottom).buffer(1.0)
    for stroke in strokes:
        if stroke.group in found:
            found[stroke.group].append(stroke)
            continue
        line = _line(stroke)
        inside = [id for id, outline in outlines.items() if outline.covers(line)]
        if inside:  # of what lies in a window of another, the smaller one
            found[min(inside, key=lambda id: outlines[id].area)].append(stroke)
    return found


def _look_at(
    placed: Placement, parts: Any, tree: Any, drawn: list[Stroke], faults: Faults, grams: float
) -> PieceOutcome:
    planned = shapely.Polygon(placed.outline)
    wide, high = placed.box.width, placed.box.height
    if placed.piece.blank:
        lines = tuple(_look_at_lines(placed, drawn, (0.0, 0.0)))
        return PieceOutcome(
            placed.id, placed.piece.name, "blank", (wide, high), (wide, high), 0.0, (faults.right, faults.down), lines
        )
    holes = [
        ring
        for line in placed.lines()
        if line.operation == "cut" and line.closed and line.role != "outline"
        for ring in line.paths
    ]
    body = planned
    for ring in holes:
        body = body.difference(shapely.Polygon(ring))
    inside = body.representative_point()
    moved = shapely.Point(*run_place((inside.x, inside.y), faults))
    found = [parts[index] for index in tree.query(moved, predicate="within")]
    if not found:
        return PieceOutcome(placed.id, placed.piece.name, "missing", (wide, high), (0.0, 0.0), math.inf, (0.0, 0.0), ())
    part = found[0]
    whole = shapely.Polygon(part.exterior)
    if faults.kerf:
        whole, part = whole.buffer(-faults.kerf / 2, join_style="mitre"), part.buffer(-faults.kerf / 2)
    left, top, right, bottom = whole.bounds
    state = "hangs" if whole.area > FREE_SHARE * planned.area + SPECK_MM2 else "free"
    if whole.area < planned.area / FREE_SHARE - SPECK_MM2 and not faults.kerf:
        state = "severed"
    web = narrowest_web(part, grams) if state == "free" else math.inf
    if web < 0.98 * web_it_holds(grams):
        state = "torn"
    move = (left - placed.box.left, top - placed.box.top)
    back = shapely.transform(whole.exterior, lambda points: points - move)
    off = _apart(back, planned.exterior) if state != "hangs" else 0.0
    if off > SLIVER_MM and shapely.Polygon(back).symmetric_difference(planned).buffer(-SLIVER_MM / 2).is_empty:
        off = SLIVER_MM  # where two cuts meet a sliver comes off that nobody sees
    shift = move if state != "hangs" else (0.0, 0.0)
    lines = tuple(_look_at_lines(placed, drawn, shift))
    size = (right - left, bottom - top)
    corner = (placed.box.left, placed.box.top)
    wanted = np.array(run_place(corner, faults)) - corner
    strays = float(np.hypot(*(np.array(move) - wanted))) if state == "free" and faults.skew_deg == 0 else 0.0
    return PieceOutcome(placed.id, placed.piece.name, state, (wide, high), size, off, move, lines, strays, web)


def run_place(place: tuple[float, float], faults: Faults) -> tuple[float, float]:
    """Where a place of the mat is run, mm."""
    stroke = _as_run(Stroke("pen", "", np.array([place, place]), False), faults)
    return float(stroke.points[0, 0]), float(stroke.points[0, 1])


def narrowest_web(part: Any, grams: float) -> float:
    """How narrow the narrowest web of a part is (mm), where it is nearly too narrow for its paper; infinite where none
    is, or the paper is unknown. A web is as narrow as what the part falls apart by when it is worn by as much, or two
    of its openings run into one, or one into what lies outside."""
    openings = len(part.interiors)

    def falls_apart(by: float) -> bool:
        worn = [each for each in shapely.get_parts(part.buffer(-by / 2)) if each.area > SPECK_MM2]
        return len(worn) > 1 or sum(len(each.interiors) for each in worn) < openings

    if grams <= 0:
        return math.inf
    low, high = 0.0, NEARLY_SHARE * web_it_holds(grams)
    if not falls_apart(high):
        return math.inf
    while high - low > WEB_MM:
        middle = (low + high) / 2
        low, high = (low, middle) if falls_apart(middle) else (middle, high)
    return high


def _apart(one: Any, other: Any) -> float:
    """How far two lines stray from each other at most: each is looked at every half millimetre from the other."""
    if not (one.length and other.length):
        return math.inf
    return max(float(far_from(one, other).max()), float(far_from(other, one).max()))


def far_from(line: Any, other: Any) -> Any:
    """How far places along a line, at most STEP_MM apart, lie from another, mm."""
    places = shapely.points(shapely.get_coordinates(shapely.segmentize(line, STEP_MM)))
    ends = [shapely.get_coordinates(part) for part in shapely.get_parts(other)]
    pieces = np.concatenate([np.stack([each[:-1], each[1:]], axis=1) for each in ends])
    tree = shapely.STRtree(shapely.linestrings(pieces))
    (asked, _), far = tree.query_nearest(places, return_distance=True, all_matches=False)
    found = np.empty(len(places))
    found[asked] = far
    return found


def _look_at_lines(placed: Placement, drawn: list[Stroke], move: tuple[float, float]) -> Iterator[LineOutcome]:
    """How far each line of a piece lies from its place on it, its outline left out."""
    by_operation: dict[str, Any] = {}
    for stroke in drawn:
        by_operation.setdefault(stroke.operation, []).append(_line(stroke))
    joined = {
        operation: shapely.transform(shapely.MultiLineString(lines), lambda points: points - move)
        for operation, lines in by_operation.items()
    }
    for line in placed.lines():
        if line.role == "outline":
            continue
        paths = [(*path, path[0]) if line.closed else path for path in line.paths]
        planned = shapely.MultiLineString([path if len(path) > 1 else (*path, *path) for path in paths])
        real = joined.get(line.operation)
        if real is None:
            yield LineOutcome(line.name, line.operation, math.inf)
            continue
        far = far_from(planned, real)
        missing = float((far > 5.0).mean()) > SHORT_SHARE and float(far.min()) > 5.0
        yield LineOutcome(line.name, line.operation, math.inf if missing else float(far.max()))
    yield from _find_strange(placed, joined)


def _find_strange(placed: Placement, joined: dict[str, Any]) -> Iterator[LineOutcome]:
    """What is run on a piece and was never planned, or by another operation than it was: a score that is cut."""
    for operation, real in joined.items():
        own = [
            (*path, path[0]) if line.closed else path
            for line in placed.lines()
            if line.operation == operation
            for path in line.paths
            if len(path) > 1
        ]
        if not own:
            yield LineOutcome(f"a line to {operation}", operation, math.inf)
            continue
        far = far_from(real, shapely.MultiLineString(own))
        if float(far.max()) > 10 * SAME_MM:
            yield LineOutcome(f"a line to {operation} that was not planned", operation, float(far.max()))


def _find_loose(layout: MatLayout, file: CutterFile) -> Iterator[str]:
    """Pieces on which something is run after they were cut out: they have shifted by then."""
    ends: dict[str, int] = {}
    outlines = {placed.id: shapely.Polygon(placed.outline) for placed in layout.placements if not placed.piece.blank}
    cuts = [(number, stroke) for number, stroke in enumerate(file.strokes) if stroke.closed]
    for id, outline in outlines.items():
        for number, stroke in cuts:
            if stroke.operation in THROUGH and stroke.group in ("", id):
                ring = shapely.Polygon(stroke.points)
                if abs(ring.area - outline.area) < 0.02 * outline.area and outline.buffer(2.0).covers(ring):
                    ends[id] = number
    for id, last in ends.items():
        inner = outlines[id].buffer(-1.0)
        late = [
            stroke for stroke in file.strokes[last + 1 :] if stroke.group in ("", id) and inner.covers(_line(stroke))
        ]
        if late:
            yield f"{id}: something is run on it after it is cut free"
