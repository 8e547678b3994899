"""The step that leaves a hinge: lift."""

from typing import Annotated, Any, Literal

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.decide.values import given
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.outline import first_part, items_of, middle_of
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import Length


class Lift(Step, frozen=True, tag="lift"):
    """All cut but a hinge, so that it lifts; the hinge is scored."""

    by: Annotated[Length, Field("hinge", 0.5, 2000)] = given("8 mm")
    side: Annotated[Literal["left", "right", "top", "bottom"], Field("at the")] = "top"


@STEPS.add(
    "lift",
    decisions=Lift,
    title="lift",
    about="Cuts all but a hinge, so that it lifts; the hinge is scored.",
    group="Out of it",
    order=33,
)
def lift(drawn: Drawn, step: Lift, _others: dict[str, Drawn]) -> Drawn:
    """The outline left open along a hinge at one side: what is cut is an open line, and the hinge is scored.

    The hinge is a straight line, `by` long, at the place nearest that side where the outline is that wide.
    """
    import shapely

    items = items_of(drawn)
    lines: list[Any] = []
    folds: list[Any] = []
    remark = drawn
    for item in items:
        found = open_at(item, step.by.mm, step.side)
        if found is None:
            remark = remark.with_remark("no-hinge", "it is nowhere as wide as its hinge", middle_of(drawn))
            lines.append(shapely.LineString(item.exterior.coords))
            continue
        cut, hinge = found
        lines.append(cut)
        folds.append(hinge)
    first = first_part(drawn)
    part = structs.replace(first, areas=(), lines=tuple(lines), folds=tuple(folds))
    return structs.replace(remark, parts=(part,))


def open_at(item: Any, hinge: float, side: str) -> tuple[Any, Any] | None:
    """The open cut round a polygon that stays joined along a line `hinge` mm in from a side, and that fold; None when
    the line does not meet it."""
    import shapely

    left, top, right, bottom = item.bounds
    flat = side in ("top", "bottom")
    low, high = (top, bottom) if flat else (left, right)
    way = 1.0 if side in ("top", "left") else -1.0
    start = low if way > 0 else high

    def chord(depth: float) -> Any:
        at = start + way * depth
        line = [(left - 1, at), (right + 1, at)] if flat else [(at, top - 1), (at, bottom + 1)]
        met = shapely.intersection(shapely.Polygon(item.exterior), shapely.LineString(line))
        parts = [part for part in shapely.get_parts(met) if part.geom_type == "LineString"]
        return max(parts, key=lambda part: part.length, default=None)

    reach = high - low
    depth = None
    for number in range(1, 201):  # the first depth at which it is wide enough, then closed in on
        here = chord(reach * number / 201)
        if here is not None and here.length >= hinge - 1e-9:
            lowest, highest = reach * (number - 1) / 201, reach * number / 201
            for _ in range(30):
                middle = (lowest + highest) / 2
                found = chord(middle)
                if found is not None and found.length >= hinge - 1e-9:
                    highest = middle
                else:
                    lowest = middle
            depth = highest
            break
    if depth is None:
        return None
    line = chord(depth)
    if line is None:
        return None
    ring = item.exterior
    (x0, y0), (x1, y1) = line.coords[0], line.coords[-1]
    a, b = ring.project(shapely.Point(x0, y0)), ring.project(shapely.Point(x1, y1))
    one, other = between(ring, a, b), between(ring, b, a)

    # What lies on the far side of the hinge lifts; the short way round on the near side stays uncut.
    def far(path: Any) -> float:
        middle = path.interpolate(0.5, normalized=True)
        return way * (float(middle.y if flat else middle.x) - float(start))

    cut = one if far(one) > far(other) else other
    return cut, shapely.LineString([(x0, y0), (x1, y1)])


def between(ring: Any, a: float, b: float) -> Any:
    """The part of a ring from one distance along it (mm) on to another, over its start when the second is less."""
    from shapely.ops import substring

    if a <= b:
        return substring(ring, a, b)
    import shapely

    first, second = substring(ring, a, ring.length), substring(ring, 0.0, b)
    return shapely.LineString([*first.coords, *list(second.coords)[1:]])
