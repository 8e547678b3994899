"""Bleed by evidence: ink is carried past a cut edge where it reaches that edge, and nowhere else.

Evidence is gathered along every edge that is cut, outline and openings: a place counts where ink lies within the error
budget of it. What a picture shows there is asked of its pixels; a place as pale as the paper is bare.
"""

from __future__ import annotations

from typing import Any

from msgspec import Struct, structs

from dechirer.core.card.piece import Piece
from dechirer.core.card.print import Print
from dechirer.core.paper.colours import difference
from dechirer.core.press.decisions import BleedWay
from dechirer.core.press.pixels import CLEAR, sample
from dechirer.core.shape.affine import Points
from dechirer.core.shape.algebra import regions_of
from dechirer.core.shape.outline import clockwise
from dechirer.core.shape.webs import grow

LEAST_BLEED_MM = 2.0
BUDGETS = 2.0
"""Bleed is so many times the typical error, and at least LEAST_BLEED_MM."""
STEP_MM = 0.5
"""Edges are looked at so closely."""
FAINT = 6.0
"""Colours nearer than this (CIEDE2000) to the paper's leave no ink to be seen."""
DEPTHS = (0.1, 0.5, 1.0)
"""How far inside an edge ink is looked for, as shares of the budget."""
NEAR_MM = 0.02
LEAST_MM2 = 1e-4
"""Smaller areas are errors of rounding."""
COVERS_MM = 0.01


class Edge(Struct, frozen=True):
    """The evidence along one cut edge of a piece: places on it (mm) in order, and whether ink lies at each."""

    ring: Points
    places: Points
    inked: tuple[bool, ...]
    opening: bool = False

    @property
    def share(self) -> float:
        """How much of it has ink at it, from 0 to 1."""
        return sum(self.inked) / len(self.inked) if self.inked else 0.0


class Evidence(Struct, frozen=True):
    """What was found of a piece: its edges, how much of all of them has ink, and the bleed it is given (mm)."""

    piece: str
    edges: tuple[Edge, ...]
    share: float
    bleed: float
    way: BleedWay


Bled = tuple[tuple[Print, ...], Evidence]
"""What is printed on a piece with its bleed, and why it has it."""


def bleed_for(budget_mm: float) -> float:
    """How wide a bleed is, in mm: twice the typical error, and 2 mm at least (common practice)."""
    return max(LEAST_BLEED_MM, BUDGETS * budget_mm)


def give_bleed(piece: Piece, paper: str, budget_mm: float, way: BleedWay) -> Bled:
    """The bleed of a printed piece.

    Args:
        paper: its paper's colour, on the side that is printed.
        budget_mm: the typical error of its sheet, in mm.
    """
    import shapely

    edges = tuple(_look(ring, piece, paper, budget_mm) for ring in _cut_rings(piece))
    looked = [inked for edge in edges for inked in edge.inked]
    share = sum(looked) / len(looked) if looked else 0.0
    wanted = way == "always" or (way == "evidence" and share > 0)
    bleed = bleed_for(budget_mm) if wanted else 0.0
    outer, *holes = (edge.ring for edge in edges)
    stays = shapely.Polygon(outer, holes)
    stays = stays if stays.is_valid else shapely.make_valid(stays)
    reached = _reached(edges, budget_mm) if way == "evidence" else None
    prints = tuple(_with_bleed(each, stays, bleed, reached) for each in piece.prints)
    return prints, Evidence(piece.id, edges, share, bleed, way)


def _cut_rings(piece: Piece) -> list[Points]:
    """The outline, and the openings that are cut in it."""
    return [piece.outline, *(path for line in piece.lines if line.role in ("hole", "window") for path in line.paths)]


def _look(ring: Points, piece: Piece, paper: str, budget: float) -> Edge:
    """Whether there is ink along an edge."""
    import numpy as np
    import shapely

    line = shapely.LinearRing(clockwise(ring))
    count = max(8, int(line.length / STEP_MM))
    at = np.arange(count) * (line.length / count)
    here = shapely.get_coordinates(shapely.line_interpolate_point(line, at))
    ahead = shapely.get_coordinates(shapely.line_interpolate_point(line, (at + NEAR_MM) % line.length))
    along = ahead - here
    length = np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)[:, None]
    opening = ring is not piece.outline
    # Along a clockwise ring on a sheet whose y runs down, the inside is at the right; the paper of an opening outside.
    inward = np.stack([-along[:, 1], along[:, 0]], axis=1) / length * (-1.0 if opening else 1.0)
    inked = np.zeros(count, dtype=bool)
    for each in piece.prints:
        inked |= _ink_at(each, here, inward, paper, budget)
    return Edge(ring, tuple(map(tuple, here.tolist())), tuple(inked.tolist()), opening)


def _ink_at(part: Print, here: Any, inward: Any, paper: str, budget: float) -> Any:
    """Whether a print lies within the budget of each place."""
    import numpy as np
    import shapely

    areas = areas_of(part)
    found = np.zeros(len(here), dtype=bool)
    if areas is None:
        return found
    if part.raster is None:
        if difference(part.colour, paper) < FAINT:
            return found
        shapely.prepare(areas)
        return shapely.dwithin(areas, shapely.points(here), budget)
    shapely.prepare(areas)
    for depth in DEPTHS:
        places = here + inward * (budget * depth)
        inside = shapely.contains_xy(areas, places[:, 0], places[:, 1])
        colours, alphas = sample(part.raster, places)
        pale = {colour: difference(colour, paper) < FAINT for colour in set(colours)}
        found |= inside & (alphas >= CLEAR) & ~np.array([pale[colour] for colour in colours])
    return found


def areas_of(part: Print) -> Any:
    """A print's areas as one geometry; None for none."""
    import shapely

    shapes = [shapely.Polygon(outer, holes) for outer, *holes in part.rings]
    if not shapes:
        return None
    return shapely.union_all([each if each.is_valid else shapely.make_valid(each) for each in shapes])


def _reached(edges: tuple[Edge, ...], budget: float) -> Any:
    """Round the places where ink reaches an edge: beyond it, an edge is bare and stays so."""
    import shapely

    places = [place for edge in edges for place, inked in zip(edge.places, edge.inked, strict=True) if inked]
    if not places:
        return shapely.MultiPolygon()
    return shapely.buffer(shapely.MultiPoint(places), max(STEP_MM, budget) * 1.5, quad_segs=4)


def _with_bleed(part: Print, stays: Any, bleed: float, reached: Any) -> Print:
    """A print clipped to its piece and its bleed: its own ink past the edge first, and the edge's carried on."""
    import shapely

    areas = areas_of(part)
    if areas is None:
        return part
    inside = regions_of(shapely.intersection(areas, stays), LEAST_MM2)
    if bleed <= 0:
        return structs.replace(part, rings=inside, bleed=())
    near = areas if reached is None else shapely.intersection(areas, reached)
    beyond = shapely.difference(shapely.union_all([grow(near, bleed), areas]), stays)
    beyond = shapely.intersection(beyond, grow(stays, bleed, "mitre"))
    raster = part.raster
    if raster is not None and not raster.goes_on and shapely.covers(grow(areas, COVERS_MM), beyond):
        raster = structs.replace(raster, goes_on=True)  # it is larger than its piece: its own pixels are its bleed
    return structs.replace(part, rings=inside, bleed=regions_of(beyond, LEAST_MM2), raster=raster)
