"""The stack: the one definition of how large and how thick the closed card is, from what lies on what."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from typing import TYPE_CHECKING, Any

from msgspec import Struct

from dechirer.core.card.assembly import FOAM, THING, Slab
from dechirer.core.card.folding import Pose, fold, pressed
from dechirer.core.card.panels import PanelTree
from dechirer.core.figure import Figure
from dechirer.core.memory import until_forgotten
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.divide import without
from dechirer.core.shape.outline import Box, area, bounds

if TYPE_CHECKING:
    from shapely.geometry.base import BaseGeometry

SLIVER_MM = 0.05
FEW_CORNERS = 16
ROUGH_MM = 0.02
"""Outlines are as fine as this where it is looked what lies over each other; narrower places do not count anyway."""
FOAM_G_PER_CM3 = 0.07
"""What foam tape weighs (from memory)."""
MOST_BOXES = 24
SAME_MM = 0.01
"""A closed card within this of its finished size is as large as was asked."""


class AtHand(Struct, frozen=True):
    """Something that is there already and is not cut: its size and thickness in mm, and how many are wanted in all.

    `loose` is put in, not stuck on; `on` tells where.
    """

    id: str
    name: str
    width: float
    height: float
    thickness: float
    count: int
    on: str = ""
    loose: bool = False


class Closed(Struct, frozen=True):
    """The closed card as it is put away: its size with all that stands proud of it, how thick it is (mm), and what it
    weighs (g).

    `layers` is how many slabs lie over each other at the thickest place.
    """

    width: Figure
    height: Figure
    thickness: Figure
    layers: int
    weight: Figure

    def figures(self) -> tuple[Figure, ...]:
        """All of them."""
        return self.width, self.height, self.thickness, self.weight


class Stacked(Struct, frozen=True):
    """The card with all that is glued on it and put in: what lies on what on its first copy, how it folds with that,
    and how large, thick and heavy the largest copy is closed."""

    closed: Closed
    slabs: tuple[Slab, ...]
    tree: PanelTree
    extra: tuple[Figure, ...] = ()

    def figures(self) -> tuple[Figure, ...]:
        """Every figure of it."""
        return *self.closed.figures(), *self.extra


class Matter(Struct, frozen=True):
    """What is known of what a card is made of, to tell how thick and how heavy it is.

    Attributes:
        thickness_of: the figure of a paper's thickness in mm, by the paper's id.
        weight_of: its name and its weight in g/m2.
        figures: where the thicknesses of foam (`{id}.foam`) and of things at hand (`{id}.thick`) are found.
        bulk: what the card holds that is not paper, in mm.
        grams: what things at hand weigh together, by their names.
    """

    thickness_of: Callable[[str], Figure]
    weight_of: Callable[[str], tuple[str, float]]
    figures: tuple[Figure, ...] = ()
    bulk: Figure | None = None
    grams: tuple[Figure, ...] = ()


def measure_closed(tree: PanelTree, slabs: tuple[Slab, ...], asked: tuple[Figure, Figure], matter: Matter) -> Closed:
    """The closed card's size, thickness and weight.

    Args:
        asked: the finished width and height that were asked for, in mm; where the card closes to them they are named.
    """
    box = find_closed_box(tree, slabs)
    stack = find_thickest_stack(tree, slabs)
    return Closed(
        _side("width", box.width, asked[0]),
        _side("height", box.height, asked[1]),
        measure_closed_thickness(stack, matter),
        len(stack),
        weigh(slabs, matter),
    )


def weigh(slabs: Iterable[Slab], matter: Matter, key: str = "card.weight", name: str = "weight") -> Figure:
    """What a card or an envelope weighs, in grams: its paper by area, its foam by volume, what is at hand as told."""
    areas: dict[str, float] = {}
    foam = 0.0
    for slab in slabs:
        covers = abs(area(slab.outline)) - sum(abs(area(hole)) for hole in slab.holes)
        if slab.paper.startswith(FOAM):
            foam += covers * (slab.top - slab.bottom)
        elif not slab.paper.startswith(THING):
            areas[slab.paper] = areas.get(slab.paper, 0.0) + covers
    parts = []
    for paper, covers in areas.items():
        called, gsm = matter.weight_of(paper)
        told = f"its {covers / 100:.0f} cm² at {gsm:.0f} g/m²"
        parts.append(Figure(f"{key}.{paper}", called, covers * gsm / 1e6, "mass", source=told))
    if foam:
        told = f"its {foam / 1000:.1f} cm³ at {FOAM_G_PER_CM3} g/cm³ (from memory)"
        parts.append(Figure(f"{key}.foam", "foam", foam / 1000 * FOAM_G_PER_CM3, "mass", source=told))
    parts += matter.grams
    formula = " + ".join("{" + each.name + "}" for each in parts)
    note = "Without glue and ink."
    return Figure(key, name, sum(each.value for each in parts), "mass", formula=formula, inputs=tuple(parts), note=note)


def _side(side: str, value: float, asked: Figure) -> Figure:
    key, name = f"card.closed-{side}", f"closed {side}"
    if abs(value - asked.value) < SAME_MM:
        return Figure(key, name, asked.value, formula="{" + asked.name + "}", inputs=(asked,))
    return Figure(key, name, value, source="the folded card from edge to edge")


def find_closed_box(tree: PanelTree, slabs: tuple[Slab, ...] = ()) -> Box:
    """The box round the closed card as it is put away, with what lies on its panels, in mm."""
    poses = fold(pressed(tree), 1.0)
    corners = [(panel.id, 0.0, panel.outline) for panel in tree.panels]
    corners += [(slab.panel, slab.bottom, slab.outline) for slab in slabs]
    found: list[Point] = []
    for panel, z, outline in corners:
        if len(outline) <= FEW_CORNERS:
            found += [poses[panel]((x, y, z))[:2] for x, y in outline]
        else:
            laid = _lay(outline, z, poses[panel])
            found += [tuple(laid.min(axis=0)), tuple(laid.max(axis=0))]
    return bounds(found)


def measure_closed_thickness(stack: list[Slab], matter: Matter) -> Figure:
    """The thickest place of the closed card: its layers by paper, the foam between them, and what it holds.

    Args:
        stack: the slabs that lie over each other there.
    """
    counts = Counter(slab.paper for slab in stack)
    found = {figure.key: figure for figure in matter.figures}

    def thickness_of(paper: str) -> Figure:
        for mark, ending in ((FOAM, "foam"), (THING, "thick")):
            if paper.startswith(mark):
                return found[f"{paper.removeprefix(mark)}.{ending}"]
        return matter.thickness_of(paper)

    bulk = matter.bulk
    inputs = tuple(thickness_of(paper) for paper in counts)
    formula = " + ".join(
        f"{number} × " + "{" + given.name + "}" for given, number in zip(inputs, counts.values(), strict=True)
    )
    total = sum(slab.top - slab.bottom for slab in stack)
    if bulk is not None:
        total, inputs, formula = total + bulk.value, (*inputs, bulk), formula + " + {" + bulk.name + "}"
    return Figure(
        "card.thickness",
        "closed thickness",
        total,
        formula=formula,
        inputs=inputs,
        note=f"{len(stack)} layers pressed flat at the thickest place, before glue.",
    )


def find_thickest_stack(tree: PanelTree, slabs: tuple[Slab, ...]) -> list[Slab]:
    """The slabs that lie over each other at the thickest place of the closed card, pressed flat.

    Their outlines, less their openings, cut the plane into cells; a place inside each cell tells what lies there.
    Places narrower than 2 `SLIVER_MM` do not count: panels that meet at a fold overlap by a rounding error.
    """
    poses = fold(pressed(tree), 1.0)
    slabs = tuple(slab for slab in slabs if len(slab.outline) > 2)  # of a flap that a cut has taken nothing is left
    boxes = [_as_box(slab, poses[slab.panel]) for slab in slabs]
    if len(slabs) <= MOST_BOXES and all(box is not None for box in boxes):
        return _thickest_of_boxes(slabs, [box for box in boxes if box is not None])
    return _thickest_of_areas(slabs, poses)


def _thickest_of_boxes(slabs: tuple[Slab, ...], boxes: list[Box]) -> list[Slab]:
    """The same for upright rectangles, whose sides cut the plane into a grid: no geometry library is needed."""
    small = [box.grown(-SLIVER_MM) for box in boxes]
    across = sorted({side for box in small for side in (box.left, box.right)})
    down = sorted({side for box in small for side in (box.top, box.bottom)})
    best: list[Slab] = []
    for left, right in itertools.pairwise(across):
        for top, bottom in itertools.pairwise(down):
            point = ((left + right) / 2, (top + bottom) / 2)
            stack = [slab for slab, box in zip(slabs, small, strict=True) if box.has(point)]
            if _height(stack) > _height(best) + 1e-9:
                best = stack
    return best


def _thickest_of_areas(slabs: tuple[Slab, ...], poses: dict[str, Pose]) -> list[Slab]:
    best: list[Slab] = []
    for _, stack in _cells(slabs, poses):
        if _height(stack) > _height(best) + 1e-9:
            best = stack
    return best


def _cells(slabs: tuple[Slab, ...], poses: dict[str, Pose]) -> Iterator[tuple[BaseGeometry, list[Slab]]]:
    """The cells that the slabs' outlines cut the closed card into, each with the slabs that lie over each other in
    it."""
    import shapely

    areas = [_shrunk(slab, poses[slab.panel]) for slab in slabs]
    rings = shapely.union_all([shapely.boundary(area) for area in areas], grid_size=1e-4)
    tree_of = shapely.STRtree(areas)
    for cell in shapely.polygonize([rings]).geoms:
        point = cell.representative_point()
        yield cell, [slabs[index] for index in sorted(tree_of.query(point, predicate="intersects"))]


def stack_cells(tree: PanelTree, slabs: tuple[Slab, ...]) -> list[tuple[BaseGeometry, float, int]]:
    """The closed card, pressed flat, in cells: the area of each in mm, how thick it is there, and of how many layers;
    cells without paper are left out."""
    poses = fold(pressed(tree), 1.0)
    slabs = tuple(slab for slab in slabs if len(slab.outline) > 2)
    return [(cell, _height(stack), len(stack)) for cell, stack in _cells(slabs, poses) if stack]


@until_forgotten(256)
def _shrunk(slab: Slab, pose: Pose) -> BaseGeometry:
    """As `_lie_flat`, without its slivers: most slabs of a card are those of before the last edit."""
    return _lie_flat(slab, pose).buffer(-SLIVER_MM, join_style="mitre")


def _as_box(slab: Slab, pose: Pose) -> Box | None:
    """The box of a slab that is an upright rectangle without openings in the closed card; None for another."""
    if slab.holes or len(slab.outline) != 4:
        return None
    corners = [pose((x, y, slab.bottom))[:2] for x, y in slab.outline]
    box = bounds(corners)
    upright = all(
        min(abs(x - box.left), abs(x - box.right)) < 1e-6 and min(abs(y - box.top), abs(y - box.bottom)) < 1e-6
        for x, y in corners
    )
    return box if upright else None


def _lie_flat(slab: Slab, pose: Pose) -> BaseGeometry:
    """A slab's area as it lies in the closed card, in mm, no finer than SLIVER_MM."""
    import shapely

    def laid(ring: Points) -> BaseGeometry:
        area = shapely.Polygon(_lay(ring, slab.bottom, pose))
        return shapely.make_valid(
            area.simplify(SLIVER_MM, preserve_topology=False) if len(ring) > FEW_CORNERS else area
        )

    area, openings = laid(slab.outline), [laid(hole) for hole in slab.holes if len(hole) > 2]
    if area.geom_type != "Polygon" or any(hole.geom_type != "Polygon" for hole in openings):
        return area.difference(shapely.union_all(openings)) if openings else area
    return without(area, openings)


def _lay(ring: Points, z: float, pose: Pose) -> Any:
    """The points of a ring as they lie in the closed card."""
    import numpy as np

    turn, (dx, dy, _) = np.array(pose.rows)[:2], pose.offset
    return np.array(ring) @ turn[:, :2].T + turn[:, 2] * z + (dx, dy)


def _height(stack: list[Slab]) -> float:
    return sum(slab.top - slab.bottom for slab in stack)
