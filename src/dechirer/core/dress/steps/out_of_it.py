"""Steps that take something out: cut out, relief, bridge."""

from typing import Annotated, Any, Literal

from msgspec import structs

from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.dress.drawn import Drawn, polygons_of
from dechirer.core.dress.outline import SPECK_MM2, middle_of, union_of, with_outline
from dechirer.core.dress.step import STEPS, Step
from dechirer.core.length import Length
from dechirer.core.shape.webs import even_webs, grow, tie_islands


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
