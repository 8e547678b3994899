"""What an item is drawn as: parts in the order they are painted, each with areas and open lines, in mm.

A *part* keeps the role and colour of the group it comes from. Areas of a part may overlap each other (letters set one
by one); a join makes them one.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from typing import TYPE_CHECKING, Any

from msgspec import Struct, structs

from dechirer.core.brought import Art, ArtGroup, Pixels, Role
from dechirer.core.card.operations import OPERATION
from dechirer.core.card.print import Raster
from dechirer.core.dress.roles import HAIRLINE_MM
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.curves import FLAT_MM, Run, areas_of, cut_into_dashes, flatten_all, outline_of_lines

if TYPE_CHECKING:
    from shapely import LineString, Polygon

LINE_ROLES = frozenset(spec.id for spec in OPERATION.values() if spec.on_middle)
"""Roles that follow the middle of a drawn line; the others take its outline, if it is more than a hairline."""


EDGE_ROLES = frozenset({"cut", "kiss"})
"""Roles that cut along a line."""
KEPT_ROLES = frozenset({"print", *(spec.id for spec in OPERATION.values() if spec.on_middle or spec.has_colour)})
"""Roles that stay when the art is cut out as a piece or a window."""


class Part(Struct, frozen=True):
    """One part: its areas (valid polygons) and its open lines, in mm; its role, its colour, the group's id.

    `folds` are lines to be scored where something lifts; `raster` are the pixels its areas show. `breadth` is how broad
    its lines were drawn (mm; 0 where that is not told).
    """

    role: Role
    colour: str
    areas: tuple[Polygon, ...] = ()
    lines: tuple[LineString, ...] = ()
    group: str = ""
    folds: tuple[LineString, ...] = ()
    raster: Raster | None = None
    breadth: float = 0.0

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing in it."""
        return not self.areas and not self.lines and not self.folds


class Remark(Struct, frozen=True):
    """What a step had to say: a code, its words, the place (mm) and the step's id."""

    code: str
    words: str
    place: tuple[float, float]
    step: str = ""


class Drawn(Struct, frozen=True):
    """The parts of an item, and what steps had to say about them."""

    parts: tuple[Part, ...] = ()
    remarks: tuple[Remark, ...] = ()

    @property
    def areas(self) -> tuple[Polygon, ...]:
        """The areas of every part, in painter's order."""
        return tuple(area for part in self.parts for area in part.areas)

    @property
    def lines(self) -> tuple[LineString, ...]:
        """The open lines of every part."""
        return tuple(line for part in self.parts for line in (*part.lines, *part.folds))

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing to see."""
        return all(part.is_empty for part in self.parts)

    def box(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom of the ink, in mm; all 0 for nothing."""
        import shapely

        whole: list[Any] = [*self.areas, *self.lines]
        if not whole:
            return (0.0, 0.0, 0.0, 0.0)
        left, top, right, bottom = shapely.total_bounds(whole).tolist()
        return (left, top, right, bottom)

    def moved(self, map: Affine) -> Drawn:
        """The same, mapped; rings stay valid under any map that does not flatten the plane."""
        change = mapper(map)
        remarks = tuple(structs.replace(remark, place=map(remark.place)) for remark in self.remarks)
        return Drawn(tuple(map_part(part, map, change) for part in self.parts), remarks)

    def with_remark(self, code: str, words: str, place: tuple[float, float]) -> Drawn:
        """With something more to say."""
        return structs.replace(self, remarks=(*self.remarks, Remark(code, words, place)))


def mapper(map: Affine) -> Callable[[Iterable[Any]], tuple[Any, ...]]:
    """A function that maps shapely geometries by an affine map."""
    import numpy as np
    import shapely

    matrix = np.array([[map.a, map.b], [map.c, map.d]])
    shift = np.array([map.e, map.f])

    def change(shapes: Iterable[Any]) -> tuple[Any, ...]:
        found = list(shapes)
        return tuple(shapely.transform(found, lambda points: points @ matrix + shift)) if found else ()

    return change


def map_part(part: Part, map: Affine, change: Callable[[Iterable[Any]], tuple[Any, ...]]) -> Part:
    """A part mapped; `change` maps its geometries."""
    raster = part.raster.moved(map) if part.raster is not None else None
    lies = {"areas": change(part.areas), "lines": change(part.lines), "folds": change(part.folds)}
    return structs.replace(part, raster=raster, **lies)


def draw_group(group: ArtGroup, scale: float, *, role: Role | None = None, tolerance: float = FLAT_MM) -> Part:
    """A group of an import as a part, at its final size.

    Areas follow the group's fill rule, path by path. A drawn line gives its middle where it is to be drawn, scored,
    perforated, foiled or cut, and where it is a hairline; otherwise it is artwork and gives its outline. Whether it is
    a hairline is told by the file, so that it does not change with the size it is used at. Printed, a line is as broad
    as it is. Of a piece or a window, an open line that is broad is artwork too: its middle would cut out nothing.

    Args:
        scale: from the art's own size to the final one.
        role: in place of the group's own.
    """
    import shapely

    wanted = role or group.role
    if group.stroke == 0:
        areas: list[Any] = []
        for path in group.paths:
            areas += polygons_of(areas_of(flatten_all((path,), tolerance, scale), group.rule))
        return Part(wanted, group.colour, tuple(areas), (), group.id)
    runs = list(flatten_all(group.paths, tolerance, scale))
    if wanted in LINE_ROLES or (wanted != "print" and (group.stroke <= HAIRLINE_MM or group.dash)):
        middles = _draw_middles(group, wanted, runs)
        return structs.replace(middles, breadth=group.stroke * scale) if group.stroke > HAIRLINE_MM else middles
    if wanted in EDGE_ROLES and group.role in EDGE_ROLES:
        if role is None:
            return _draw_middles(group, wanted, runs)
        closed = _draw_middles(group, wanted, [run for run in runs if run.closed])
        runs = [run for run in runs if not run.closed]
        if not runs:
            return closed
        covered = outline_of_lines(runs, group.stroke * scale, group.caps, group.corners, tolerance)
        return structs.replace(closed, areas=(*closed.areas, *polygons_of(shapely.make_valid(covered))))
    if group.dash:
        lengths = [each * scale for each in group.dash]
        runs = [Run(list(dash), False) for run in runs for dash in cut_into_dashes(run.points, run.closed, lengths)]
    covered = outline_of_lines(runs, group.stroke * scale, group.caps, group.corners, tolerance)
    return Part(wanted, group.colour, polygons_of(shapely.make_valid(covered)), (), group.id)


def _draw_middles(group: ArtGroup, role: Role, runs: list[Run]) -> Part:
    """Closed lines enclose an area whose edge is followed; open ones stay open."""
    import shapely

    areas: list[Any] = []
    lines: list[Any] = []
    for run in runs:
        if run.closed and role not in LINE_ROLES:
            areas += polygons_of(areas_of([run], "evenodd"))
        elif len(run.points) > 1:
            lines.append(shapely.LineString([*run.points, run.points[0]] if run.closed else run.points))
    return Part(role, group.colour, tuple(areas), tuple(lines), group.id)


def draw_art(
    art: Art, scale: float, *, role: Role | None = None, tolerance: float = FLAT_MM, keeping: bool = False
) -> Drawn:
    """An import as it is drawn at a scale; groups that are off are left out.

    Args:
        role: what every group becomes, in place of its own role.
        keeping: groups that are drawn, scored, foiled or printed stay so whatever `role` says.
    """
    parts = [
        draw_group(group, scale, role=None if keeping and group.role in KEPT_ROLES else role, tolerance=tolerance)
        for group in art.groups
        if group.role != "off"
    ]
    if art.pixels is not None:
        raster = raster_of(art.pixels, scale)
        parts = [structs.replace(part, raster=raster) if part.role == "print" else part for part in parts]
    return Drawn(tuple(part for part in parts if not part.is_empty))


def raster_of(pixels: Pixels, scale: float) -> Raster:
    """The pixels of art as they lie at a scale of it."""
    across, down = pixels.wide * scale, pixels.high * scale
    return Raster(pixels, Affine(across, 0.0, 0.0, down, pixels.left * scale, pixels.top * scale))


def join_copies(copies: Sequence[Drawn]) -> tuple[Part, ...]:
    """The parts of equal things that lie at different places: each part with what it is in all of them. Pixels lie
    elsewhere in each, so those stay parts of their own."""
    found: list[Part] = []
    for same in zip(*(copy.parts for copy in copies), strict=True):
        if same[0].raster is not None:
            found += same
            continue
        areas = tuple(area for part in same for area in part.areas)
        lines = tuple(line for part in same for line in part.lines)
        folds = tuple(line for part in same for line in part.folds)
        found.append(structs.replace(same[0], areas=areas, lines=lines, folds=folds))
    return tuple(found)
