"""Peel-away: a shape of the front, kiss cut, over an adhesive backer that sits inside.

Only the front's own layer is cut, so the middles of letters and rings stay put on the backer and are allowed. The
backer reaches past the shape all round and stays off the fold and the edges (common practice).
"""

from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import structs

from dechirer.core.card.panels import Face
from dechirer.core.card.piece import Line, Measure
from dechirer.core.construct.attached import Attached, more
from dechirer.core.construct.paper_left import mend_smaller, paper_left
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, make_length
from dechirer.core.shape.affine import Points, translate
from dechirer.core.shape.outline import bounds, rectangle
from dechirer.core.shape.silhouettes import unit_outline

LEAST_PEEL_MM = 8.0
"""Finer shapes tear when they are peeled (common practice, no published figure)."""


Shape = Literal["rectangle", "disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud"]


class PeelAway(Decisions, frozen=True):
    """A shape of the front to be peeled off an adhesive backer inside: only the front is cut, by a kiss cut.

    `drop` moves it down from the middle, `margin` is what the backer reaches past it on each side, `safe` how far it
    stays from the fold and the edges.
    """

    width: Annotated[Length, Field("Width of what peels away", 2, 600, drawn=True)]
    height: Annotated[Length, Field("Height of what peels away", 2, 600, drawn=True)]
    paper: Annotated[Identifier, Field("Backer", takes="paper")]
    shape: Annotated[Shape, Field("Shape")] = "disc"
    drop: Annotated[Length, Field("Below the middle by", -300, 300)] = given("0 mm")
    margin: Annotated[Length, Field("The backer reaches past it by", 0, 100)] = given("6 mm")
    safe: Annotated[Length, Field("Stays from fold and edges", 0, 100)] = given("10 mm")


def start_peel(at: Start) -> PeelAway:
    """A disc half as wide as its face to be peeled away, on a backer of another paper."""
    size = make_length(min(at.width, at.height) * 0.5, at.units)
    return PeelAway(size, size, at.other_paper())


def peel_outline(face: Face, peel: PeelAway) -> Points:
    """The shape on its face as seen: in the middle, lower by its drop (mm)."""
    left = (face.width - peel.width.mm) / 2
    top = (face.height - peel.height.mm) / 2 + peel.drop.mm
    return translate(left, top).all(unit_outline(peel.shape, peel.width.mm, peel.height.mm))


@ATTACHMENTS.add(
    "peel",
    title="Peel-away",
    add="Peel-away shape in the {face}",
    order=50,
    decisions=PeelAway,
    start=start_peel,
    piece="peel-backer",
    line="peel",
)
def add_peel(attached: Attached, peel: PeelAway) -> None:
    """The kiss cut in the front, and the adhesive backer behind it."""
    face = attached.front
    typed = {
        key: Figure(f"peel.{key}", words, getattr(peel, key).mm, field=f"construct.peel.{key}")
        for key, words in (
            ("width", "peeled width"),
            ("height", "peeled height"),
            ("margin", "backer past it"),
            ("safe", "safe distance"),
            ("drop", "below the middle by"),
        )
    }
    attached.figures += typed.values()
    ring = peel_outline(face, peel)
    on_sheet = face.to_flat.all(ring)
    attached.add_line(face.panel, Line("peel", "peel-away", "kiss", (on_sheet,), closed=True, role="peel"))
    attached.assembler.cut_hole(face.panel, on_sheet)
    slabs = attached.assembler.slabs
    base = next(slab for slab in slabs if slab.panel == face.panel and slab.bottom == 0.0)
    slabs.append(structs.replace(base, outline=on_sheet, holes=(), bottom=0.0, top=base.top))
    width = more(typed["width"], typed["margin"], "peel-backer.width", "peel backer width")
    height = more(typed["height"], typed["margin"], "peel-backer.height", "peel backer height")
    m = peel.margin.mm
    box = bounds(ring).grown(m)
    around = rectangle(box.width, box.height, at=(box.left, box.top))
    attached.put("peel-backer", peel.paper, face.panel, attached.behind(face), face.to_flat.all(around))
    guide = translate(m - bounds(ring).left, m - bounds(ring).top).all(ring)
    ends = (width.value - m, height.value / 2), (width.value, height.value / 2)
    margin = Measure(typed["margin"], *ends, "margin", 0.0, guide)
    attached.add_flat("peel-backer", "adhesive backer", peel.paper, width, height, (margin,), before="peel")
    seen = bounds(on_sheet)
    level, beside = seen.top + seen.height * 0.62, seen.left + seen.width * 0.38
    across = Measure(typed["width"], (seen.left, level), (seen.right, level), "", 0.0)
    down = Measure(typed["height"], (beside, seen.bottom), (beside, seen.top), "", 0.0)
    for measure in (across, down):
        attached.measure_on_base(face.panel, measure)


def _smaller(seen: Seen[PeelAway]) -> tuple[Mend, ...]:
    peel, face = seen.own, seen.plan.tree.faces[0]
    need = max(peel.safe.mm, peel.margin.mm + 1.0)
    return mend_smaller(
        "Make it smaller",
        "construct.peel",
        peel,
        (min(peel.width.mm, face.width - 2 * need), min(peel.height.mm, face.height - 2 * (need + abs(peel.drop.mm)))),
        2.0,
        seen.units,
        lambda peel: paper_left(seen.plan.tree, face, peel_outline(face, peel)) >= need - 1e-6,
    )


@CHECKS.add("construct.backer-over-edge", "construct.peel-unsafe", of=add_peel)
def find_peel_without_room(seen: Seen[PeelAway]) -> Iterator[Finding]:
    """What peels stays in the safe zone, and its backer on its panel."""
    peel, units, face = seen.own, seen.units, seen.plan.tree.faces[0]
    free = paper_left(seen.plan.tree, face, peel_outline(face, peel))
    off = Mend("No peel-away", (Change("construct.peel", None),))
    if free < peel.margin.mm - 1e-6:
        mends = [*_smaller(seen), off]
        if free > 2.0:
            narrower = make_length(free - 1.0, units)
            label = f"Use a margin of {format_length(narrower.mm, units)}"
            mends.insert(0, Mend(label, (Change("construct.peel.margin", narrower),)))
        yield Finding(
            "construct.backer-over-edge",
            "stop",
            "The adhesive backer reaches past its panel",
            f"A margin of {format_length(peel.margin.mm, units)} needs more than the "
            f"{format_length(max(free, 0.0), units)} there is beside what peels.",
            "It sticks over the fold or shows at the edge.",
            "peel-backer",
            tuple(mends),
        )
    elif free < peel.safe.mm - 1e-6:
        yield Finding(
            "construct.peel-unsafe",
            "look",
            "What peels away is close to the fold or an edge",
            f"{format_length(free, units)} is left; it was to stay {format_length(peel.safe.mm, units)} away.",
            "The frame bends and tears while it is peeled.",
            "base-peel",
            (*_smaller(seen), off),
        )


@CHECKS.add("construct.peel-fine", of=add_peel)
def find_fine_peel(seen: Seen[PeelAway]) -> Iterator[Finding]:
    """What peels away is large enough not to tear."""
    peel, units = seen.own, seen.units
    if min(peel.width.mm, peel.height.mm) < LEAST_PEEL_MM:
        larger = make_length(LEAST_PEEL_MM + 2, units)
        yield Finding(
            "construct.peel-fine",
            "look",
            "What peels away is fine",
            f"It is {format_length(min(peel.width.mm, peel.height.mm), units)}; shapes peel well from "
            f"{LEAST_PEEL_MM:.0f} mm (common practice). Where the backer lifts, peel from the other side.",
            "It tears while it is peeled.",
            "base-peel",
            (
                Mend(
                    "Make it larger",
                    tuple(
                        Change(f"construct.peel.{side}", larger)
                        for side in ("width", "height")
                        if getattr(peel, side).mm < LEAST_PEEL_MM
                    ),
                ),
            ),
        )
