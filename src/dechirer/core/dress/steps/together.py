"""Steps that bring items together: join, merge, spread, repeat."""

import math
from typing import Annotated, Any

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.dress.drawn import Drawn, join_copies
from dechirer.core.dress.outline import items_of, middle_of, union_of, with_outline
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import Length
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.webs import grow, joining_offset
from dechirer.core.stopping import checkpoint


class Join(Step, frozen=True, tag="join"):
    """Everything that touches made one outline."""

    of: Annotated[Identifier | None, Field("with", takes="item", none="nothing")] = None


@STEPS.add(
    "join", decisions=Join, title="join", about="Makes everything that touches one outline.", group="Together", order=20
)
def join(drawn: Drawn, step: Join, others: dict[str, Drawn]) -> Drawn:
    """Everything that touches made one outline."""
    import shapely

    other = others.get(step.of or "")
    extra = list(other.areas) if other else []
    whole = shapely.union_all([*drawn.areas, *extra])
    if other is not None and not shapely.intersects(union_of(drawn), shapely.union_all(extra)):
        drawn = drawn.with_remark("apart", "what is to be joined does not touch", middle_of(drawn))
    return with_outline(drawn, whole)


class Merge(Step, frozen=True, tag="merge"):
    """The least border at which all items become one piece."""

    by: Annotated[Length, Field("and more by", 0, 200)] = given("0.2 mm")


@STEPS.add(
    "merge",
    decisions=Merge,
    title="merge",
    about="Finds the least border at which all items become one piece; adds a little more.",
    group="Together",
    order=21,
)
def merge(drawn: Drawn, step: Merge, _others: dict[str, Drawn]) -> Drawn:
    """The least border at which all items become one piece."""
    import shapely

    items = items_of(drawn)
    least = joining_offset(items)
    if least <= 0:
        return with_outline(drawn, shapely.union_all(items))
    grown = shapely.union_all([grow(item, least + max(step.by.mm, 1e-3)) for item in items])
    found = with_outline(drawn, grown)
    words = f"the least border that joins all {len(items)} items is {least:.2f} mm"
    return found.with_remark("merged", words, middle_of(found))


class Spread(Step, frozen=True, tag="spread"):
    """The items over a length by equal gaps."""

    by: Annotated[Length, Field("over", 1, 2000)] = given("80 mm")


@STEPS.add(
    "spread",
    decisions=Spread,
    title="spread",
    about="Spreads the items over a length by equal gaps.",
    group="Together",
    order=22,
)
def spread(drawn: Drawn, step: Spread, _others: dict[str, Drawn]) -> Drawn:
    """Items from left to right with equal gaps, so that the whole is as long as asked for; none is taken apart."""
    import numpy as np
    import shapely

    items = sorted(items_of(drawn), key=lambda item: item.bounds[0])
    if len(items) < 2:
        return drawn.with_remark("few", "there is only one item to spread", middle_of(drawn))
    widths = [item.bounds[2] - item.bounds[0] for item in items]
    gap = (step.by.mm - sum(widths)) / (len(items) - 1)
    left = middle_of(drawn)[0] - step.by.mm / 2
    moved = []
    for item, wide in zip(items, widths, strict=True):
        moved.append(shapely.transform(item, lambda p, dx=left - item.bounds[0]: np.add(p, (dx, 0.0))))
        left += wide + gap
    found = with_outline(drawn, shapely.union_all(moved))
    if gap < 0:
        found = found.with_remark("tight", f"the items overlap by {-gap:.1f} mm at that length", middle_of(drawn))
    return found


def _repeat_words(step: Any, names: dict[str, str]) -> str:
    way = f"along {names.get(step.of, step.of)}" if step.of else f"round {step.by!s}"
    return f"{step.count} times {way}"


class Repeat(Step, frozen=True, tag="repeat"):
    """Copies evenly round a circle, or along another outline."""

    count: Annotated[int, Field("times", 1, 400)] = 8
    by: Annotated[Length, Field("radius", -200, 2000)] = given("20 mm")
    of: Annotated[Identifier | None, Field("along", takes="item", none="a circle")] = None
    each: Annotated[bool, Field("keep upright")] = False


@STEPS.add(
    "repeat",
    decisions=Repeat,
    title="repeat",
    about="Repeats it evenly round a circle, or along another item's outline.",
    group="Together",
    order=23,
    whole=True,
    words=_repeat_words,
)
def repeat(drawn: Drawn, step: Repeat, others: dict[str, Drawn]) -> Drawn:
    """Copies at equal distances along a closed path, upright to it; it closes evenly for any whole number."""
    count = max(1, step.count)
    x, y = middle_of(drawn)
    home = Affine(e=-x, f=-y)
    along = others.get(step.of or "")
    maps = []
    if along is not None and along.areas:
        ring = max((area.exterior for area in along.areas), key=lambda each: each.length)
        for number in range(count):
            at = ring.length * number / count
            here, ahead = ring.interpolate(at), ring.interpolate((at + 0.05) % ring.length)
            angle = 0.0 if step.each else math.atan2(ahead.y - here.y, ahead.x - here.x)
            maps.append(home.then(turn(angle)).then(Affine(e=here.x, f=here.y)))
    else:
        radius = step.by.mm
        for number in range(count):
            angle = math.tau * number / count
            place = Affine(e=x + radius * math.sin(angle), f=y - radius * math.cos(angle))
            maps.append(home.then(turn(0.0 if step.each else angle)).then(place))
    return copy_all(drawn, maps)


def turn(angle: float) -> Affine:
    """The map that turns by an angle in radians about the origin."""
    c, s = math.cos(angle), math.sin(angle)
    return Affine(c, s, -s, c)


def copy_all(drawn: Drawn, maps: list[Affine]) -> Drawn:
    """Copies of every part, each mapped."""
    made = []
    for map in maps:
        checkpoint()
        made.append(drawn.moved(map))
    return structs.replace(drawn, parts=join_copies(made))
