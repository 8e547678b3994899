"""Peel-away: a shape of the front, kiss cut, over an adhesive backer that sits inside.

Only the front's own layer is cut, so the middles of letters and rings stay put on the backer and are allowed. The
backer reaches past the shape all round and stays off the fold and the edges (common practice).
"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import structs

from dechirer.core.construct.attached import Attached
from dechirer.core.construct.making import make_flat_piece
from dechirer.core.construct.panels import Face, PanelTree, Side
from dechirer.core.construct.piece import Line, Measure
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.constructing import PeelAway
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, make_length
from dechirer.core.shape.affine import Points, translate
from dechirer.core.shape.outline import bounds, rectangle
from dechirer.core.shape.silhouettes import unit_outline

LEAST_PEEL_MM = 8.0
"""Finer shapes tear when they are peeled (common practice, no published figure)."""


def peel_outline(face: Face, peel: PeelAway) -> Points:
    """The shape on its face as seen: in the middle, lower by its drop (mm)."""
    left = (face.width - peel.width.mm) / 2
    top = (face.height - peel.height.mm) / 2 + peel.drop.mm
    return translate(left, top).all(unit_outline(peel.shape, peel.width.mm, peel.height.mm))


def add_peel(attached: Attached, peel: PeelAway) -> None:
    """The kiss cut in the front, and the adhesive backer behind it."""
    face = attached.made.tree.faces[0]
    given = {
        key: Figure(f"peel.{key}", words, getattr(peel, key).mm, field=f"construct.peel.{key}")
        for key, words in (
            ("width", "peeled width"),
            ("height", "peeled height"),
            ("margin", "backer past it"),
            ("safe", "safe distance"),
            ("drop", "below the middle by"),
        )
    }
    attached.figures += given.values()
    ring = peel_outline(face, peel)
    on_sheet = face.to_flat.all(ring)
    attached.add_line(face.panel, Line("peel", "peel-away", "kiss", (on_sheet,), closed=True, role="peel"))
    attached.assembler.cut_hole(face.panel, on_sheet)
    slabs = attached.assembler.slabs
    base = next(slab for slab in slabs if slab.panel == face.panel and slab.bottom == 0.0)
    slabs.append(structs.replace(base, outline=on_sheet, holes=(), bottom=0.0, top=base.top))
    width = attached.more(given["width"], given["margin"], "peel-backer.width", "peel backer width")
    height = attached.more(given["height"], given["margin"], "peel-backer.height", "peel backer height")
    box = bounds(ring).grown(peel.margin.mm)
    thickness = attached.setting.facts.paper(peel.paper).thickness.value
    inside: Side = "inside" if face.side == "outside" else "outside"
    around = rectangle(box.width, box.height, at=(box.left, box.top))
    attached.assembler.put("peel-backer", peel.paper, face.panel, inside, face.to_flat.all(around), thickness)
    m = peel.margin.mm
    guide = translate(m - bounds(ring).left, m - bounds(ring).top).all(ring)
    margin = Measure(
        given["margin"], (width.value - m, height.value / 2), (width.value, height.value / 2), "margin", 0.0, guide
    )
    attached.add(
        make_flat_piece(
            "peel-backer",
            attached.letter(),
            "adhesive backer",
            paper=peel.paper,
            count=attached.setting.brief.count,
            width=width,
            height=height,
            measures=(margin,),
        )
    )
    seen = bounds(on_sheet)
    level, beside = seen.top + seen.height * 0.62, seen.left + seen.width * 0.38
    attached.measure_on_base(face.panel, Measure(given["width"], (seen.left, level), (seen.right, level), "", 0.0))
    attached.measure_on_base(face.panel, Measure(given["height"], (beside, seen.bottom), (beside, seen.top), "", 0.0))


def check_peel(job: Job, tree: PanelTree) -> Iterator[Finding]:
    """What peels stays in the safe zone, and its backer on its panel."""
    peel = job.construct.peel
    if peel is None:
        return
    face, units = tree.faces[0], job.units
    box = bounds(peel_outline(face, peel))
    free = min(box.left, box.top, face.width - box.right, face.height - box.bottom)
    off = Mend("No peel-away", (Change("construct.peel", None),))
    need = max(peel.safe.mm, peel.margin.mm + 1.0)
    smaller = Mend(
        "Make it smaller",
        (
            Change("construct.peel.width", make_length(max(2.0, min(peel.width.mm, face.width - 2 * need)), units)),
            Change(
                "construct.peel.height",
                make_length(max(2.0, min(peel.height.mm, face.height - 2 * need - 2 * abs(peel.drop.mm))), units),
            ),
        ),
    )
    if free < peel.margin.mm - 1e-6:
        mends = [smaller, off]
        if free > 2.0:
            narrower = make_length(free - 1.0, units)
            label = f"Use a margin of {format_length(narrower.mm, units)}"
            mends.insert(0, Mend(label, (Change("construct.peel.margin", narrower),)))
        yield Finding(
            "construct.backer-over-edge",
            "stop",
            "construct",
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
            "construct",
            "What peels away is close to the fold or an edge",
            f"{format_length(free, units)} is left; it was to stay {format_length(peel.safe.mm, units)} away.",
            "The frame bends and tears while it is peeled.",
            "base-peel",
            (smaller, off),
        )
    if min(peel.width.mm, peel.height.mm) < LEAST_PEEL_MM:
        larger = make_length(LEAST_PEEL_MM + 2, units)
        yield Finding(
            "construct.peel-fine",
            "look",
            "construct",
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
