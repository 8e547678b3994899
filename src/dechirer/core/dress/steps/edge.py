"""Steps along the edge: border, round corners, tidy."""

from typing import Annotated, Any, Literal

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.decide.values import given
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.outline import SPECK_MM2, first_part, items_of, union_of, with_outline
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.dress.tidying import tidy
from dechirer.core.length import Length
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.webs import grow


def _border_words(step: Any, _names: dict[str, str]) -> str:
    return str(step.by) + (" all edges" if step.edges == "all" else "")


class Border(Step, frozen=True, tag="border"):
    """The outline moved by the same distance everywhere."""

    by: Annotated[Length, Field("out by", -200, 2000)] = given("1/8 in")
    edges: Annotated[Literal["outer", "all"], Field("of", choices={"outer": "the outer edge", "all": "all edges"})] = (
        "outer"
    )
    corners: Annotated[Literal["round", "mitre"], Field("corners", choices={"round": "round", "mitre": "pointed"})] = (
        "round"
    )
    each: Annotated[bool, Field("each item its own")] = False


@STEPS.add(
    "border",
    decisions=Border,
    title="border",
    about="Moves the outline out by the same distance everywhere, or in.",
    group="Edge",
    order=10,
    may_lose=True,
    may_break=True,
    words=_border_words,
    in_mm=(("by", "3 mm"),),
)
def border(drawn: Drawn, step: Border, _others: dict[str, Drawn]) -> Drawn:
    """The outline moved by the same distance everywhere."""
    import shapely

    by, corners = step.by.mm, step.corners
    items = items_of(drawn) if drawn.areas else []
    if step.edges == "outer":
        items = [offset_outer(item, by, corners) for item in items]
    else:
        items = [grow(item, by, corners) for item in items]
    loose = [grow(line, by, corners) for line in drawn.lines if by > 0]
    if step.each:
        parts = [part for item in (*items, *loose) for part in polygons_of(item, SPECK_MM2)]
        first = first_part(drawn)
        plain = structs.replace(first, areas=tuple(parts), lines=(), folds=(), raster=None)
        shown = tuple(part for part in drawn.parts if part.raster is not None)
        return structs.replace(drawn, parts=(plain, *shown))
    whole = shapely.union_all([*items, *loose])
    if step.edges == "outer" and by > 0:
        whole = shapely.union_all([shapely.Polygon(part.exterior, part.interiors) for part in polygons_of(whole)])
    return structs.replace(
        with_outline(drawn, whole),
        parts=with_outline(
            structs.replace(drawn, parts=tuple(structs.replace(part, lines=()) for part in drawn.parts)), whole
        ).parts,
    )


def offset_outer(item: Any, by: float, corners: str) -> Any:
    """The outer edge of a polygon moved by `by` mm; the holes as they are."""
    import shapely

    moved = grow(shapely.Polygon(item.exterior), by, corners)
    holes = [shapely.Polygon(ring) for ring in item.interiors]
    return shapely.difference(moved, shapely.union_all(holes)) if holes else moved


class Round(Step, frozen=True, tag="round"):
    """Every corner rounded."""

    by: Annotated[Length, Field("radius", 0, 200)] = given("0.5 mm")


@STEPS.add(
    "round",
    decisions=Round,
    title="round corners",
    about="Rounds every corner, outer and inner.",
    group="Edge",
    order=11,
    may_lose=True,
    may_break=True,
)
def round_corners(drawn: Drawn, step: Round, _others: dict[str, Drawn]) -> Drawn:
    """Every corner rounded."""
    radius = abs(step.by.mm)
    whole = grow(grow(grow(union_of(drawn), -radius), 2 * radius), -radius)
    return with_outline(drawn, whole)


class Tidy(Step, frozen=True, tag="tidy"):
    """Specks, spurs and needless points removed."""

    by: Annotated[Length, Field("up to", 0, 50)] = given("0.3 mm")


@STEPS.add(
    "tidy",
    decisions=Tidy,
    title="tidy",
    about="Removes specks, spurs and needless points, closes hairline gaps.",
    group="Edge",
    order=12,
    may_lose=True,
)
def tidy_up(drawn: Drawn, step: Tidy, _others: dict[str, Drawn]) -> Drawn:
    """Specks, spurs and needless points removed."""
    return tidy(drawn, max(step.by.mm, 1e-3))[0]
