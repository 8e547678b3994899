"""Steps that take something out: cut out, relief, bridge."""

from typing import Annotated, Any, Literal

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.dress.drawn import Drawn
from dechirer.core.dress.outline import SPECK_MM2, middle_of, union_of, with_outline
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import Length
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.webs import even_webs, grow, tie_islands

SHORT_MM2 = 0.5
"""So much of a frame may stay bare at its corners before it is said."""


def _cut_words(step: Any, names: dict[str, str]) -> str:
    words = names.get(step.of or "", "nothing")
    return f"{words} {step.by!s} larger" if step.by.mm else words


class Cut(Step, frozen=True, tag="cut"):
    """Another item cut out of this one."""

    of: Annotated[Identifier | None, Field("the shape of", takes="item", none="nothing")] = None
    by: Annotated[Length, Field("larger by", -200, 200)] = given("0 mm")


@STEPS.add(
    "cut",
    decisions=Cut,
    title="cut out",
    about="Cuts another item out of this one, as a window or hole.",
    group="Out of it",
    order=30,
    may_break=True,
    words=_cut_words,
    needs_other=True,
)
def cut_out(drawn: Drawn, step: Cut, others: dict[str, Drawn]) -> Drawn:
    """Another item cut out of this one."""
    import shapely

    other = others.get(step.of or "")
    if other is None or not other.areas:
        return drawn
    tool = grow(union_of(other), step.by.mm) if step.by.mm else union_of(other)
    if not shapely.intersects(union_of(drawn), tool):
        drawn = drawn.with_remark("apart", "what is to be cut out does not touch it", middle_of(drawn))
    return with_outline(drawn, shapely.difference(union_of(drawn), tool))


class Crop(Step, frozen=True, tag="crop"):
    """What of it lies within another item's outline."""

    of: Annotated[Identifier | None, Field("to", takes="item", none="nothing")] = None
    by: Annotated[Length, Field("larger by", -200, 200)] = given("0 mm")


@STEPS.add(
    "crop",
    decisions=Crop,
    title="crop",
    about="Keeps what of it lies within another item's outline; move or size it, and it shows another part of itself.",
    group="Out of it",
    order=33,
    may_lose=True,
    words=_cut_words,
    needs_other=True,
    whole=True,
)
def crop(drawn: Drawn, step: Crop, others: dict[str, Drawn]) -> Drawn:
    """What of it lies within another item's outline, with all that is drawn and printed on it."""
    import shapely

    other = others.get(step.of or "")
    if other is None or not other.areas:
        return drawn
    frame = grow(union_of(other), step.by.mm) if step.by.mm else union_of(other)
    parts = []
    for part in drawn.parts:
        areas = tuple(each for area in part.areas for each in polygons_of(shapely.intersection(area, frame), SPECK_MM2))
        lines = tuple(each for line in part.lines for each in lines_of_shape(shapely.intersection(line, frame)))
        raster = structs.replace(part.raster, goes_on=True) if part.raster is not None else None
        parts.append(structs.replace(part, areas=areas, lines=lines, raster=raster))
    found = structs.replace(drawn, parts=tuple(part for part in parts if not part.is_empty))
    bare = shapely.difference(frame, union_of(drawn))
    if bare.area > SHORT_MM2 and not found.is_empty:
        found = found.with_remark("short", "it does not fill what it is cropped to", middle_of(found))
    return found


def lines_of_shape(shape: Any) -> list[Any]:
    """The lines among the parts of a geometry."""
    import shapely

    return [part for part in shapely.get_parts(shape).tolist() if part.geom_type == "LineString" and part.length > 0]


def _relief_words(step: Any, _names: dict[str, str]) -> str:
    return str(step.by) + (" the parts" if step.keep == "parts" else "")


class Relief(Step, frozen=True, tag="relief"):
    """An even web between the inner parts and to the edge."""

    by: Annotated[Length, Field("web", 0, 200)] = given("1.5 mm")
    keep: Annotated[Literal["frame", "parts"], Field("keep the")] = "frame"


@STEPS.add(
    "relief",
    decisions=Relief,
    title="relief",
    about="Leaves an even web between the inner parts and to the edge.",
    group="Out of it",
    order=31,
    may_lose=True,
    words=_relief_words,
)
def relief(drawn: Drawn, step: Relief, _others: dict[str, Drawn]) -> Drawn:
    """An even web between the inner parts and to the edge."""
    if not drawn.areas:
        return drawn
    frame, parts = even_webs(list(drawn.areas), step.by.mm)
    lost = sum(part.is_empty for part in parts)
    if step.keep == "frame":
        found = with_outline(drawn, frame)
    else:
        areas = iter(parts)
        kept = []
        for part in drawn.parts:
            mine = [piece for _ in part.areas for piece in polygons_of(next(areas), SPECK_MM2)]
            kept.append(structs.replace(part, areas=tuple(mine)))
        found = structs.replace(drawn, parts=tuple(kept))
    if lost:
        found = found.with_remark("lost", f"“relief” loses {lost} of {len(parts)} parts", middle_of(drawn))
    return found


def _bridge_words(step: Any, _names: dict[str, str]) -> str:
    return f"{step.by!s} {step.count} {'tie' if step.count == 1 else 'ties'} each"


class Bridge(Step, frozen=True, tag="bridge"):
    """Ties of paper that hold the islands of an opening."""

    by: Annotated[Length, Field("width", 0.1, 200)] = given("1.5 mm")
    count: Annotated[int, Field("ties to each", 1, 40)] = 2


@STEPS.add(
    "bridge",
    decisions=Bridge,
    title="bridge",
    about="Leaves ties of paper that hold the islands of an opening.",
    group="Out of it",
    order=32,
    words=_bridge_words,
)
def bridge(drawn: Drawn, step: Bridge, _others: dict[str, Drawn]) -> Drawn:
    """Ties of paper that hold the islands of an opening."""
    opening, count = tie_islands(union_of(drawn), step.by.mm, max(1, step.count))
    found = with_outline(drawn, opening)
    if not count:
        return found.with_remark("no-islands", "there is no island to be held", middle_of(drawn))
    return found
