"""Steps that choose a part: fill holes, keep outermost, take item."""

from typing import Annotated, Any

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.outline import items_of, keep_one, middle_of, with_outline
from dechirer.core.dress.step import STEPS, Step


class Fill(Step, frozen=True, tag="fill"):
    """Holes filled."""


@STEPS.add("fill", decisions=Fill, title="fill holes", about="Fills the holes.", group="Which part", order=40)
def fill(drawn: Drawn, _step: Fill, _others: dict[str, Drawn]) -> Drawn:
    """Holes filled."""
    import shapely

    parts = tuple(
        structs.replace(part, areas=tuple(shapely.Polygon(area.exterior) for area in part.areas))
        for part in drawn.parts
    )
    return structs.replace(drawn, parts=parts)


class Outermost(Step, frozen=True, tag="outermost"):
    """The outermost outlines only, without holes."""


@STEPS.add(
    "outermost",
    decisions=Outermost,
    title="keep outermost",
    about="Keeps the outermost outlines only, without holes.",
    group="Which part",
    order=41,
)
def outermost(drawn: Drawn, _step: Outermost, _others: dict[str, Drawn]) -> Drawn:
    """The outermost outlines only, without holes."""
    import shapely

    return with_outline(drawn, shapely.union_all([shapely.Polygon(item.exterior) for item in items_of(drawn)]))


def _take_words(step: Any, _names: dict[str, str]) -> str:
    return str(step.count)


class Take(Step, frozen=True, tag="item"):
    """One item of several, the largest being the first."""

    count: Annotated[int, Field("number", 1, 400)] = 1


@STEPS.add(
    "item",
    decisions=Take,
    title="take item",
    about="Takes one item of several, the largest being the first.",
    group="Which part",
    order=42,
    whole=True,
    words=_take_words,
)
def take(drawn: Drawn, step: Take, _others: dict[str, Drawn]) -> Drawn:
    """One item of several, the largest being the first, with what is drawn on it."""
    items = items_of(drawn)
    if not items:
        return drawn
    found = keep_one(drawn, items, min(max(step.count, 1), len(items)) - 1)
    if step.count > len(items):
        found = found.with_remark("few", f"there are only {len(items)} items", middle_of(drawn))
    return found


class Nested(Step, frozen=True, tag="nested"):
    """The outlines at one depth: 1 are the outermost, 2 those inside them, and so on; each filled."""

    depth: Annotated[int, Field("depth", 1, 40)] = 2


@STEPS.add(
    "nested",
    decisions=Nested,
    title="take nested",
    about="Takes the outlines that lie so deep in others: 1 the outermost, 2 those in them.",
    group="Which part",
    order=43,
    words=lambda step, _names: str(step.depth),
)
def take_nested(drawn: Drawn, step: Nested, _others: dict[str, Drawn]) -> Drawn:
    """The outlines at one depth, filled."""
    import shapely

    rings = [shapely.Polygon(ring) for item in items_of(drawn) for ring in (item.exterior, *item.interiors)]
    if not rings:
        return drawn
    tree = shapely.STRtree(rings)
    deep = [1] * len(rings)
    spots = [ring.representative_point() for ring in rings]
    # A ring is as deep as there are larger ones round it.
    for inner, outer in tree.query(spots, predicate="within").T.tolist():
        deep[inner] += inner != outer and rings[outer].area > rings[inner].area
    found = [ring for ring, depth in zip(rings, deep, strict=True) if depth == step.depth]
    if not found:
        deepest = max(deep, default=0)
        return drawn.with_remark("few", f"outlines lie no deeper than {deepest}", middle_of(drawn))
    return with_outline(drawn, shapely.MultiPolygon(found) if len(found) > 1 else found[0])
