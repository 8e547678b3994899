"""A shape hinged on itself: one outline above, the same mirrored below, joined where they overlap.

For a disc of diameter D with a hinge h the centres are d = sqrt(D^2 - h^2) apart, the flat height is D + d and the
folded height (D + d) / 2 (plain geometry). Other outlines are cut where they are as wide as the hinge.
"""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Measure
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.rim import find_hinge_height, with_rim
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require
from dechirer.core.decide.values import given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.outline import bounds
from dechirer.core.shape.silhouettes import unit_outline

Shape = Literal["disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud"]

LEAST_HINGE_MM = 20.0
LEAST_HINGE_SHARE = 0.25
"""A hinge is at least a quarter of the width and never under 20 mm (common practice)."""
NEAR_MM = 0.2
"""A flattened curve may meet the fold this far from where the true one does; it is then put right."""


def make_hinged_tree(outline: Points, hinge_y: float, hinge: float = 0.0) -> PanelTree:
    """Two panels: the outline above `hinge_y` as the back, the same mirrored at that line as the front.

    Where the outline is nearly `hinge` wide at the line, its ends there are put at exactly that width.
    """
    import shapely

    box = bounds(outline)
    upper = shapely.Polygon(outline).intersection(shapely.box(box.left - 1, box.top - 1, box.right + 1, hinge_y))
    if upper.geom_type != "Polygon":
        upper = max(upper.geoms, key=lambda part: part.area)
    back = tuple((float(x), float(y)) for x, y in list(upper.exterior.coords)[:-1])
    on_line = [x for x, y in back if abs(y - hinge_y) < 1e-6]
    left, right = min(on_line), max(on_line)
    if abs(right - left - hinge) < NEAR_MM:
        middle = (left + right) / 2
        exact = {left: middle - hinge / 2, right: middle + hinge / 2}
        back = tuple((exact.get(x, x), y) if abs(y - hinge_y) < 1e-6 else (x, y) for x, y in back)
        left, right = exact[left], exact[right]
    front = tuple((x, 2 * hinge_y - y) for x, y in reversed(back))
    height = hinge_y - box.top
    return PanelTree(
        panels=(Panel("back", "back", back), Panel("front", "front", front)),
        hinges=(Hinge("fold", "back", "front", (left, hinge_y), (right, hinge_y), "mountain"),),
        faces=(
            Face("front", "front", "outside", box.width, height, translate(box.left, hinge_y)),
            Face("inside top", "front", "inside", box.width, height, Affine(d=-1.0, e=box.left, f=hinge_y + height)),
            Face("inside bottom", "back", "inside", box.width, height, Affine(d=-1.0, e=box.left, f=hinge_y)),
            Face(
                "back", "back", "outside", box.width, height, Affine(a=-1.0, d=-1.0, e=box.left + box.width, f=hinge_y)
            ),
        ),
    )


def find_fold_height(shape: str, width: float, height: float, hinge: float) -> float | None:
    """Where a shape in a box of width x height (mm) is as wide as the hinge, from its top; None when it never is.

    Exact for a disc, by its equation; by bisection on the outline for the others.
    """
    if shape == "disc":
        return height / 2 * (1 + math.sqrt(1 - (hinge / width) ** 2)) if hinge <= width else None
    return find_hinge_height(unit_outline(shape, width, height), hinge)


class HingedShape(Decisions, frozen=True):
    """A shape hinged on itself: its outline, how wide the hinge is, and a rim of repeats round it.

    `rim` is how many round repeats stand on the outline (0: none), `proud` how far they stand out.
    """

    shape: Annotated[Shape, Field("Shape")] = "disc"
    hinge: Annotated[Length, Field("Hinge width", 1, 600, drawn=True)] = given("1 1/2 in")
    rim: Annotated[int, Field("Repeats of the rim (0: none)", 0, 200)] = 0
    proud: Annotated[Length, Field("The rim stands proud by", 0.5, 50, shows=lambda own: own.rim > 0)] = given("4 mm")

    def agree(self) -> None:
        require(self.rim == 0 or self.rim >= 3, f"rim must be 0 or at least 3 repeats, got {self.rim}")


@CONSTRUCTIONS.add("hinged-shape", title="Hinged shape", order=60, decisions=HingedShape)
def make_hinged_shape(wanted: HingedShape, card: Card) -> Made:
    """A hinged shape in one piece. A hinge wider than the shape is brought down to it; the check says so."""
    wide, high = card.width.value, card.height.value
    hinge = Figure("hinged.hinge", "hinge", wanted.hinge.mm, field="construct.hinged_shape.hinge")
    level = find_fold_height(wanted.shape, wide, high, hinge.value)
    if level is None:
        level = find_fold_height(wanted.shape, wide, high, wide * 0.6)
    if level is None:
        level = high
    folded = _folded_height(wanted.shape, card.width, card.height, hinge, level)
    outline = with_rim(unit_outline(wanted.shape, wide, high), wanted.rim, wanted.proud.mm)
    box = bounds(outline)
    shift = translate(-box.left, -box.top)
    outline, line = shift.all(outline), level - box.top
    tree = make_hinged_tree(outline, line, hinge.value)
    width, height, figures = _measure(wanted, card, folded, box.width, line)
    at = derive("base.fold.at", "base fold", line, "{base height} ÷ 2", height)
    overlap = derive(
        "hinged.overlap",
        "overlap",
        2 * (high - level),
        "2 × ({finished height} − {folded height})",
        card.height,
        folded,
        note="How far the two shapes run into each other at the hinge.",
    )
    start, end = tree.hinges[0].start, tree.hinges[0].end
    middle = (start[0] + end[0]) / 2
    ends = (middle - hinge.value / 2, line), (middle + hinge.value / 2, line)
    edge = Figure(
        "base.fold.edge",
        "hinge from edge to edge",
        math.dist(start, end),
        source="where the outline meets the fold",
    )
    back, front = tree.panels
    base = make_base(
        card,
        tree,
        _join(back.outline, front.outline, line),
        width=width,
        height=height,
        at={"fold": (at, edge)},
        measures=(Measure(hinge, *ends, "hinge", 26.0),),
    )
    return Made(tree, (base,), {"back": "base", "front": "base"}, (hinge, folded, *figures, overlap))


def _measure(
    wanted: HingedShape, card: Card, folded: Figure, wide: float, line: float
) -> tuple[Figure, Figure, tuple[Figure, ...]]:
    """The base's width and height, and the rim's own figure when there is a rim."""
    if wanted.rim < 3:
        width = derive("base.width", "base width", wide, "{finished width}", card.width)
        return width, derive("base.height", "base height", 2 * line, "2 × {folded height}", folded), ()
    proud = Figure("hinged.proud", "stands proud by", wanted.proud.mm, field="construct.hinged_shape.proud")
    width = derive(
        "base.width",
        "base width",
        wide,
        "{finished width} + 2 × {stands proud by}",
        card.width,
        proud,
        note=f"{wanted.rim} repeats close evenly round the rim.",
    )
    formula = "2 × ({folded height} + {stands proud by})"
    return width, derive("base.height", "base height", 2 * line, formula, folded, proud), (proud,)


def _folded_height(shape: str, width: Figure, height: Figure, hinge: Figure, level: float) -> Figure:
    if shape == "disc" and abs(width.value - height.value) < 1e-9 and hinge.value <= width.value:
        return derive(
            "hinged.folded",
            "folded height",
            level,
            "({finished width} + √({finished width}² − {hinge}²)) ÷ 2",
            width,
            hinge,
            note="Two equal discs whose rims cross at the ends of the hinge.",
        )
    return derive(
        "hinged.folded", "folded height", level, "where {finished height} of outline is {hinge} wide", height, hinge
    )


def _join(back: Points, front: Points, line: float) -> Points:
    """The outline of both panels: round the back from one end of the hinge to the other, then round the front."""
    import shapely

    joined = shapely.union_all([shapely.Polygon(back), shapely.Polygon(front)], grid_size=1e-7)
    ring = joined.exterior if joined.geom_type == "Polygon" else max(joined.geoms, key=lambda part: part.area).exterior
    return tuple((float(x), float(y)) for x, y in list(ring.coords)[:-1])


@CHECKS.add("construct.hinge-too-wide", "construct.hinge-narrow", of=make_hinged_shape)
def find_weak_hinge(seen: Seen[HingedShape]) -> Iterator[Finding]:
    """The hinge must be there, and wide enough to hold."""
    wanted, card, units = seen.own, seen.card, seen.units
    hinge, width = wanted.hinge.mm, card.width.value
    least = max(LEAST_HINGE_MM, LEAST_HINGE_SHARE * width)
    step = 25.4 / 16 if units == "in" else 1.0
    rounded = math.ceil(least / step - 1e-9)
    usual = parse_length(f"{rounded}/16 in" if units == "in" else f"{rounded} mm")
    mend = Mend(f"Make it {format_length(usual.mm, units)}", (Change("construct.hinged_shape.hinge", usual),))
    if find_fold_height(wanted.shape, width, card.height.value, hinge) is None:
        yield Finding(
            "construct.hinge-too-wide",
            "stop",
            "The hinge is wider than the shape",
            f"A hinge of {format_length(hinge, units)} was asked for on a shape {format_length(width, units)} wide.",
            "There is nothing to hinge on; the drawing shows the widest that works.",
            "base-fold",
            (mend,),
        )
    elif hinge < least - 1e-6:
        yield Finding(
            "construct.hinge-narrow",
            "look" if hinge >= LEAST_HINGE_MM / 2 else "stop",
            "The hinge is narrow",
            f"It is {format_length(hinge, units)}; a hinge holds from a quarter of the width, "
            f"{format_length(least, units)} here (common practice).",
            "The card twists or tears at the hinge.",
            "base-fold",
            (mend,),
        )
