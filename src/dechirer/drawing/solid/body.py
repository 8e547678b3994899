"""What one slab of a folded card looks like from a side: its faces, its walls, and what is drawn on it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import TYPE_CHECKING, Any

from dechirer.core.card.folding import Vector, dot, unit_normal
from dechirer.core.shape.affine import Affine, Points
from dechirer.drawing.display import Item, Shape
from dechirer.drawing.scenes.skin import colour_of, stripes_on
from dechirer.drawing.solid.depth import Loose, Slice
from dechirer.drawing.solid.eye import Eye, shade
from dechirer.drawing.solid.model import Folded

if TYPE_CHECKING:
    from dechirer.core.dress.mark import Mark

MANY_CORNERS = 12
THICK_MM = 0.8
"""Walls of many corners are drawn from this thickness on; below it they are slivers."""
WALL = 0.8
"""How bright a wall is beside a face in the same light."""


def draw_slice(folded: Folded, one: Slice, eye: Eye, picked: str) -> list[Item]:
    """A slab, or the part of it that a plane has left: from its far side to what is drawn on its near one."""
    plan, slab = folded.plan, one.slab
    element = f"{slab.piece}/{slab.panel}"
    normal = one.normal
    facing = eye.facing(normal)
    outside = facing > 0
    paper = colour_of(plan, slab, upper=outside)
    light = eye.light(normal)
    levels = (slab.bottom, slab.top) if outside else (slab.top, slab.bottom)
    far, near = (eye.over(one.pose, level) for level in levels)
    items: list[Item] = _face(one, far, shade(paper, WALL * light), paper, element)
    items += _walls(one, eye, paper, element)
    fill = "accent-wash" if picked == element else shade(paper, light)
    items += _face(one, near, fill, paper, element)
    items += stripes_on(plan, slab, one.rings, near, upper=outside)
    side, keep = "outside" if outside else "inside", _keeper(one)
    for spot, mark in folded.marks.get(one.index, ()):
        if spot.side == side and spot.to_card is not None:
            items += _draw_mark(mark, spot.to_card, near, paper, keep, light)
    for line, path in folded.slits(slab):
        paths = tuple(near.all(part) for part in keep([path], closed=False))
        items.append(Shape(paths, closed=False, form="edge", role="ink", on=paper, element=line))
    return items


def draw_strip(folded: Folded, strip: Loose, eye: Eye) -> list[Item]:
    """A strip of a bend, when its outside is seen."""
    base, hinge, normal = strip.what
    if eye.facing(normal) <= 0:
        return []
    paper = colour_of(folded.plan, base)
    flat = tuple(eye(point)[:2] for point in strip.ring)
    return [Shape((flat,), fill=shade(paper, eye.light(normal)), on=paper, element=f"{base.piece}/{hinge}")]


def _face(one: Slice, map: Affine, fill: str, paper: str, element: str) -> list[Item]:
    flat = tuple(map.all(ring) for ring in one.rings)
    if one.edges is None:
        return [Shape(flat, fill=fill, form="edge", role="soft", on=paper, element=element, weight=0.8)]
    edges = tuple(map.all(path) for path in one.edges)
    face = Shape(flat, fill=fill, on=paper, element=element)
    return [face, Shape(edges, closed=False, form="edge", role="soft", on=paper, weight=0.8)] if edges else [face]


def _walls(one: Slice, eye: Eye, paper: str, element: str) -> Iterator[Item]:
    """The sides that are turned to the eye; of a thin slab with many corners none, its far face shows there."""
    slab = one.slab
    rings = [ring for ring in one.rings if len(ring) <= MANY_CORNERS or one.thickness >= THICK_MM]
    if one.edges is not None:
        return  # only true edges have walls; those of a part are too few to tell apart
    for number, ring in enumerate(rings):
        sign = -_turn(ring) if number == 0 and ring is one.rings[0] else _turn(ring)
        lower, upper = ([one.pose((x, y, level)) for x, y in ring] for level in (slab.bottom, slab.top))
        for index in range(len(ring)):
            following = (index + 1) % len(ring)
            side: tuple[Vector, ...] = (upper[index], upper[following], lower[following], lower[index])
            normal = unit_normal(side)
            if sign * dot(normal, eye.near) <= 0:
                continue
            flat = tuple(eye(point)[:2] for point in side)
            colour = shade(paper, WALL * eye.light(normal))
            yield Shape((flat,), fill=colour, form="edge", role="soft", on=paper, element=element, weight=0.6)


def _turn(ring: Points) -> float:
    """1 for a ring whose walls' normals (upper, following upper, lower) point into it, else -1."""
    total = 0.0
    for (x0, y0), (x1, y1) in zip(ring, ring[1:] + ring[:1], strict=True):
        total += x0 * y1 - x1 * y0
    return 1.0 if total >= 0 else -1.0


def _keeper(one: Slice) -> Callable[..., list[Points]]:
    """What keeps of some paths on the flat sheet those parts that lie on a slice; all of them for a whole slab."""
    if one.edges is None:
        return lambda paths, *, closed: list(paths)
    area = one.area()

    def keep(paths: Sequence[Points], *, closed: bool) -> list[Points]:
        import shapely

        found: list[Points] = []
        if closed:
            from dechirer.core.shape.algebra import polygon

            for part in shapely.get_parts(polygon(paths[0], paths[1:]) & area):
                if part.geom_type == "Polygon":
                    found += [tuple(map(tuple, ring.coords[:-1])) for ring in (part.exterior, *part.interiors)]
            return found
        for path in paths:
            line: Any = shapely.LineString(path) & area
            found += [tuple(map(tuple, part.coords)) for part in shapely.get_parts(line) if len(part.coords) > 1]
        return found

    return keep


def _draw_mark(
    mark: Mark, to_card: Affine, near: Affine, paper: str, keep: Callable[..., list[Points]], light: float
) -> list[Item]:
    """Something on a face: a print or a piece in its colour, lines in their ink."""
    items: list[Item] = []
    role = mark.colour if mark.form in ("pen", "foil") else "soft" if mark.form == "paper" else "ink"
    fill = mark.colour if mark.form in ("paper", "print") else ""
    fill = shade(fill, light) if fill.startswith("#") else fill
    form = "" if mark.form == "print" else "edge"
    for rings in mark.rough:
        paths = tuple(near.all(ring) for ring in keep([to_card.all(ring) for ring in rings], closed=True))
        if paths:
            raster = mark.raster.moved(to_card.then(near)) if mark.raster is not None else None
            items.append(Shape(paths, fill=fill, form=form, role=role, on=paper, weight=0.6, raster=raster))
    if mark.rough_lines:
        lines = keep([to_card.all(line) for line in mark.rough_lines], closed=False)
        role = mark.colour if mark.form in ("pen", "foil") else "ink"
        items.append(
            Shape(tuple(near.all(line) for line in lines), closed=False, form="edge", role=role, on=paper, weight=0.8)
        )
    return items
