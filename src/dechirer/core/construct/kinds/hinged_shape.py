"""A shape hinged on itself: one outline above, the same mirrored below, joined where they overlap.

For a disc of diameter D with a hinge h the centres are d = sqrt(D^2 - h^2) apart, the flat height is D + d and the
folded height (D + d) / 2 (plain geometry). Other outlines are cut where they are as wide as the hinge.
"""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import structs

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Measure
from dechirer.core.construct.art_outline import outline_of
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.rim import find_hinge_height, with_rim
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.outline import bounds, clockwise

Shape = Literal["disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud", "file"]

LEAST_HINGE_MM = 20.0
LEAST_HINGE_SHARE = 0.25
"""A hinge is at least a quarter of the width and never under 20 mm (common practice)."""
SAME_MM = 0.01
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
        panels=(Panel("back", "back", clockwise(back)), Panel("front", "front", clockwise(front))),
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


class HingedShape(Decisions, frozen=True):
    """A shape hinged on itself: its outline, how wide the hinge is, and a rim of repeats round it.

    `rim` is how many round repeats stand on the outline (0: none), `proud` how far they stand out.
    """

    shape: Annotated[Shape, Field("Shape")] = "disc"
    art: Annotated[
        Identifier | None,
        Field("File of the outline", takes="art", none="none yet", shows=lambda own: own.shape == "file"),
    ] = None
    hinge: Annotated[Length, Field("Hinge width", 1, 600, drawn=True)] = given("1 1/2 in")
    rim: Annotated[int, Field("Repeats of the rim (0: none)", 0, 200)] = 0
    proud: Annotated[Length, Field("The rim stands proud by", 0.5, 50, shows=lambda own: own.rim > 0)] = given("4 mm")

    def agree(self) -> None:
        require(self.rim == 0 or self.rim >= 3, f"rim must be 0 or at least 3 repeats, got {self.rim}")


def find_fold_height(shape: str, outline: Points, hinge: float) -> float | None:
    """Where an outline is as wide as the hinge, from its top (mm); None when it never is.

    Exact for a disc, by its equation; by bisection on the outline for the others.
    """
    if shape == "disc":
        box = bounds(outline)
        return box.height / 2 * (1 + math.sqrt(1 - (hinge / box.width) ** 2)) if hinge <= box.width else None
    return find_hinge_height(outline, hinge)


@CONSTRUCTIONS.add("hinged-shape", title="Hinged shape", group="shapes", order=60, decisions=HingedShape)
def make_hinged_shape(wanted: HingedShape, card: Card) -> Made:
    """A hinged shape in one piece. A hinge wider than the shape is brought down to it; the check says so."""
    wide, high = card.width.value, card.height.value
    asked = Figure("hinged.asked", "hinge asked for", wanted.hinge.mm, field="construct.hinged_shape.hinge")
    outline = outline_of(card, wanted.shape, wanted.art, wide, high)
    with_repeats = with_rim(outline, wanted.rim, wanted.proud.mm)
    level = find_fold_height(wanted.shape, outline, asked.value)
    if level is None:
        level = find_fold_height(wanted.shape, outline, wide * 0.6)
    if level is None:
        level = high
    box = bounds(with_repeats)
    shift = translate(-box.left, -box.top)
    tree = make_hinged_tree(shift.all(with_repeats), level - box.top, asked.value)
    line = level - box.top
    start, end = tree.hinges[0].start, tree.hinges[0].end
    hinge = _cut_hinge(wanted, asked, math.dist(start, end))
    folded = _folded_height(wanted, card, asked, line)
    width, height, figures = _measure(wanted, card, folded, box.width)
    at = derive("base.fold.at", "base fold", height.value / 2, "{base height} ÷ 2", height)
    figures += _overlap(wanted, card, folded)
    edge = Figure(
        "base.fold.edge",
        "hinge from edge to edge",
        math.dist(start, end),
        source="where the outline meets the fold",
    )
    back, front = tree.panels
    drawn = Measure(structs.replace(hinge, field=asked.field), start, end, "hinge", 26.0)
    base = make_base(
        card,
        tree,
        _join(back.outline, front.outline, line),
        width=width,
        height=height,
        at={"fold": (at, edge)},
        measures=(drawn,),
    )
    return Made(tree, (base,), {"back": "base", "front": "base"}, (asked, hinge, folded, *figures))


def _cut_hinge(wanted: HingedShape, asked: Figure, cut: float) -> Figure:
    """The hinge as it is cut: as asked for, but where a flat edge, a rim or the shape's own width settles it."""
    if abs(cut - asked.value) < SAME_MM:
        return derive("hinged.hinge", "hinge", asked.value, "{hinge asked for}", asked)
    what = "with its rim at the fold" if wanted.rim else "at its lowest"
    return Figure("hinged.hinge", "hinge", cut, source=f"as wide as the {wanted.shape} is {what}, so not as asked for")


def _overlap(wanted: HingedShape, card: Card, folded: Figure) -> tuple[Figure, ...]:
    """How far the two shapes run into each other; a shape with a rim has no height that was asked for."""
    if wanted.rim:
        return ()
    return (
        derive(
            "hinged.overlap",
            "overlap",
            2 * (card.height.value - folded.value),
            "2 × ({finished height} − {folded height})",
            card.height,
            folded,
            note="How far the two shapes run into each other at the hinge.",
        ),
    )


def _measure(wanted: HingedShape, card: Card, folded: Figure, wide: float) -> tuple[Figure, Figure, tuple[Figure, ...]]:
    """The base's width and height, and the rim's own figure when there is a rim."""
    height = derive("base.height", "base height", 2 * folded.value, "2 × {folded height}", folded)
    if wanted.rim < 3:
        return derive("base.width", "base width", wide, "{finished width}", card.width), height, ()
    proud = Figure("hinged.proud", "stands proud by", wanted.proud.mm, field="construct.hinged_shape.proud")
    evenly = f"{wanted.rim} repeats close evenly round the rim"
    if abs(wide - card.width.value - 2 * proud.value) < SAME_MM:
        formula, note = "{finished width} + 2 × {stands proud by}", f"{evenly}."
        width = derive("base.width", "base width", card.width.value + 2 * proud.value, formula, card.width, proud)
        return structs.replace(width, note=note), height, (proud,)
    source = f"the outline with its {wanted.rim} repeats, of which no two stand opposite each other across it"
    return Figure("base.width", "base width", wide, source=source, note=f"{evenly}."), height, (proud,)


def _folded_height(wanted: HingedShape, card: Card, asked: Figure, line: float) -> Figure:
    """How high one shape is from the fold, in mm."""
    proud = wanted.proud.mm if wanted.rim else 0.0
    wide, high = card.width, card.height
    if wanted.shape == "disc" and abs(wide.value - high.value) < 1e-9 and asked.value <= wide.value:
        value = (wide.value + math.sqrt(wide.value**2 - asked.value**2)) / 2 + proud
        formula = "({finished width} + √({finished width}² − {hinge asked for}²)) ÷ 2"
        inputs = [wide, asked]
        if wanted.rim:
            formula += " + {stands proud by}"
            inputs.append(Figure("hinged.proud", "stands proud by", proud, field="construct.hinged_shape.proud"))
        if abs(value - line) < SAME_MM:
            note = "Two equal discs whose edges cross at the ends of the hinge."
            return derive("hinged.folded", "folded height", value, formula, *inputs, note=note)
    what = f"the {wanted.shape} with its rim" if wanted.rim else f"the {wanted.shape}"
    source = f"from the top of {what} to where the {wanted.shape} is as wide as the hinge"
    return Figure("hinged.folded", "folded height", line, source=source)


def _join(back: Points, front: Points, line: float) -> Points:
    """The outline of both panels: round the back from one end of the hinge to the other, then round the front."""
    import shapely

    joined = shapely.union_all([shapely.Polygon(back), shapely.Polygon(front)], grid_size=1e-7)
    ring = joined.exterior if joined.geom_type == "Polygon" else max(joined.geoms, key=lambda part: part.area).exterior
    return tuple((float(x), float(y)) for x, y in list(ring.coords)[:-1])


@CHECKS.add("construct.hinge-too-wide", "construct.hinge-narrow", "construct.hinge-not-asked", of=make_hinged_shape)
def find_weak_hinge(seen: Seen[HingedShape]) -> Iterator[Finding]:
    """The hinge must be there, wide enough to hold, and the one that was asked for."""
    wanted, card, units = seen.own, seen.card, seen.units
    asked, cut, width = wanted.hinge.mm, seen.value("hinged.hinge"), card.width.value
    least = max(LEAST_HINGE_MM, LEAST_HINGE_SHARE * width)
    step = 25.4 / 16 if units == "in" else 1.0
    rounded = math.ceil(least / step - 1e-9)
    usual = parse_length(f"{rounded}/16 in" if units == "in" else f"{rounded} mm")
    mend = Mend(f"Make it {format_length(usual.mm, units)}", (Change("construct.hinged_shape.hinge", usual),))
    outline = outline_of(card, wanted.shape, wanted.art, width, card.height.value)
    if find_fold_height(wanted.shape, outline, asked) is None:
        yield Finding(
            "construct.hinge-too-wide",
            "stop",
            "The hinge is wider than the shape",
            f"A hinge of {format_length(asked, units)} was asked for on a shape {format_length(width, units)} wide.",
            "There is nothing to hinge on; the drawing shows the widest that works.",
            "base-fold",
            (mend,),
        )
        return
    if abs(cut - asked) > SAME_MM:
        yield _not_as_asked(wanted, asked, cut, units)
    if cut < least - 1e-6:
        yield Finding(
            "construct.hinge-narrow",
            "look" if cut >= LEAST_HINGE_MM / 2 else "stop",
            "The hinge is narrow",
            f"It is {format_length(cut, units)}; a hinge holds from a quarter of the width, "
            f"{format_length(least, units)} here (common practice).",
            "The card twists or tears at the hinge.",
            "base-fold",
            (mend,),
        )


def _not_as_asked(wanted: HingedShape, asked: float, cut: float, units: str) -> Finding:
    as_cut = parse_length(f"{cut:.3f} mm")
    if wanted.rim:
        why, mend = "The rim's repeats reach the fold", Mend("No rim", (Change("construct.hinged_shape.rim", 0),))
    else:
        why = f"The {wanted.shape} is flat at its lowest edge"
        words = f"Make it {format_length(as_cut.mm, units)}"
        mend = Mend(words, (Change("construct.hinged_shape.hinge", as_cut),))
    return Finding(
        "construct.hinge-not-asked",
        "note" if wanted.rim else "look",
        "The hinge is wider than was asked for",
        f"{why}, so the hinge is {format_length(cut, units)} and not {format_length(asked, units)}.",
        "The whole of that edge is the fold.",
        "base-fold",
        (mend,),
    )
