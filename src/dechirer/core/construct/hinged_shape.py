"""A shape hinged on itself: one outline above, the same mirrored below, joined where they overlap.

For a disc of diameter D with a hinge h the centres are d = sqrt(D^2 - h^2) apart, the flat height is D + d and the
folded height (D + d) / 2 (plain geometry). Other outlines are cut where they are as wide as the hinge.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from dechirer.core.construct.making import derive, make_piece
from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.piece import Measure
from dechirer.core.construct.rim import find_hinge_height, with_rim
from dechirer.core.construct.setting import Made, Setting
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.outline import bounds
from dechirer.core.shape.silhouettes import unit_outline

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


def make_hinged_shape(setting: Setting) -> Made:
    """A hinged shape in one piece. A hinge wider than the shape is brought down to it; the check says so."""
    wanted, facts = setting.construct.hinged, setting.facts
    plain = unit_outline(wanted.shape, facts.width.value, facts.height.value)
    hinge = Figure("hinged.hinge", "hinge", wanted.hinge.mm, field="construct.hinged.hinge")
    level = find_fold_height(wanted.shape, facts.width.value, facts.height.value, hinge.value)
    if level is None:
        level = find_fold_height(wanted.shape, facts.width.value, facts.height.value, facts.width.value * 0.6)
    if level is None:
        level = facts.height.value
    folded = _folded_height(wanted.shape, facts.width, facts.height, hinge, level)
    outline = with_rim(plain, wanted.rim, wanted.proud.mm)
    box = bounds(outline)
    shift = translate(-box.left, -box.top)
    outline, line = shift.all(outline), level - box.top
    tree = make_hinged_tree(outline, line, hinge.value)
    figures = [hinge, folded]
    proud = Figure("hinged.proud", "stands proud by", wanted.proud.mm, field="construct.hinged.proud")
    if wanted.rim >= 3:
        figures.append(proud)
        width = derive(
            "base.width",
            "base width",
            box.width,
            "{finished width} + 2 × {stands proud by}",
            facts.width,
            proud,
            note=f"{wanted.rim} repeats close evenly round the rim.",
        )
        height = derive(
            "base.height", "base height", 2 * line, "2 × ({folded height} + {stands proud by})", folded, proud
        )
    else:
        width = derive("base.width", "base width", box.width, "{finished width}", facts.width)
        height = derive("base.height", "base height", 2 * line, "2 × {folded height}", folded)
    at = derive("base.fold.at", "base fold", line, "{base height} ÷ 2", height)
    overlap = derive(
        "hinged.overlap",
        "overlap",
        2 * (facts.height.value - level),
        "2 × ({finished height} − {folded height})",
        facts.height,
        folded,
        note="How far the two shapes run into each other at the hinge.",
    )
    start, end = tree.hinges[0].start, tree.hinges[0].end
    middle = (start[0] + end[0]) / 2
    ends = (middle - hinge.value / 2, line), (middle + hinge.value / 2, line)
    measures = (Measure(hinge, *ends, "hinge", 26.0),)
    back, front = tree.panels
    base = make_piece(
        "base",
        "A",
        "base",
        tree,
        _join(back.outline, front.outline, line),
        paper=setting.brief.base_paper,
        count=setting.brief.count,
        fold=setting.construct.fold,
        field="construct.fold",
        width=width,
        height=height,
        at={
            "fold": (
                at,
                Figure(
                    "base.fold.edge",
                    "hinge from edge to edge",
                    math.dist(start, end),
                    source="where the outline meets the fold",
                ),
            )
        },
        measures=measures,
    )
    return Made(tree, (base,), {"back": "base", "front": "base"}, (*figures, overlap))


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


def check_hinged_shape(job: Job, made: Made) -> Iterator[Finding]:
    """The hinge must be there, and wide enough to hold."""
    wanted, width = job.construct.hinged, job.brief.width.mm
    hinge = wanted.hinge.mm
    least = max(LEAST_HINGE_MM, LEAST_HINGE_SHARE * width)
    step = 25.4 / 16 if job.units == "in" else 1.0
    rounded = math.ceil(least / step - 1e-9)
    usual = parse_length(f"{rounded}/16 in" if job.units == "in" else f"{rounded} mm")
    mend = Mend(f"Make it {format_length(usual.mm, job.units)}", (Change("construct.hinged.hinge", usual),))
    if find_fold_height(wanted.shape, width, job.brief.height.mm, hinge) is None:
        yield Finding(
            "construct.hinge-too-wide",
            "stop",
            "construct",
            "The hinge is wider than the shape",
            f"A hinge of {format_length(hinge, job.units)} was asked for on a shape "
            f"{format_length(width, job.units)} wide.",
            "There is nothing to hinge on; the drawing shows the widest that works.",
            "base-fold",
            (mend,),
        )
    elif hinge < least - 1e-6:
        yield Finding(
            "construct.hinge-narrow",
            "look" if hinge >= LEAST_HINGE_MM / 2 else "stop",
            "construct",
            "The hinge is narrow",
            f"It is {format_length(hinge, job.units)}; a hinge holds from a quarter of the width, "
            f"{format_length(least, job.units)} here (common practice).",
            "The card twists or tears at the hinge.",
            "base-fold",
            (mend,),
        )
