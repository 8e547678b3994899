"""Flap row: a topper with a row of motifs, some cut out whole, some as pairs of flaps that lift like wings.

The motifs are spread over the whole length by equal gaps, not by equal centres (common practice), and the topper's
upper edge follows them at an even distance. A flap's cut stops short of the strip it hangs on and stays an open line.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.construct.making import derive, make_piece
from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.piece import Line, Measure
from dechirer.core.construct.setting import Made, Setting
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.constructing import FlapRow, Motif
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, make_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.algebra import keep_within, merge, offset
from dechirer.core.shape.outline import bounds, rectangle
from dechirer.core.shape.silhouettes import unit_outline

LEAST_GAP_MM = 2.0
"""Paper between two motifs: less tears when it is weeded (common practice for light card: webs from 1 mm)."""
LEAST_STRIP_MM = 5.0
"""Paper left below the row."""
LEAST_FLAP_MM = 14.0
"""Smaller flaps are better cut out whole (common practice: at 12 mm)."""
LEAST_HINGE_MM = 4.0
"""A narrower neck tears when the flap is lifted (common practice, no published figure)."""
NOTCH_MM = 2.0
"""Inner corners of the edge between two motifs are rounded by this, so that the paper does not tear there."""


class Spot(Struct, frozen=True):
    """A motif at its place on the topper: its outline, and the middle of its strip."""

    motif: Motif
    outline: Points
    middle: float


def place_motifs(row: FlapRow, width: float, height: float) -> tuple[Spot, ...]:
    """Each motif at its place on a topper of width x height (mm): equal gaps, all on one level below the edge."""
    total = sum(motif.width.mm for motif in row.motifs)
    inner = width - 2 * row.edge.mm
    gap = (inner - total) / (len(row.motifs) - 1) if len(row.motifs) > 1 else 0.0
    x = row.edge.mm if len(row.motifs) > 1 else (width - total) / 2
    level = row.edge.mm + max(motif.height.mm for motif in row.motifs) / 2
    spots = []
    for motif in row.motifs:
        ring = unit_outline(motif.shape, motif.width.mm, motif.height.mm)
        moved = translate(x, level - motif.height.mm / 2).all(ring)
        spots.append(Spot(motif, moved, x + motif.width.mm / 2))
        x += motif.width.mm + gap
    return tuple(spots)


def edge_outline(row: FlapRow, spots: tuple[Spot, ...], width: float, height: float) -> Points:
    """The topper's outline: everything below the motifs' middles, and round them at the edge's distance."""
    level = row.edge.mm + max(motif.height.mm for motif in row.motifs) / 2
    below = rectangle(width, max(1.0, height - level), at=(0.0, level))
    round_them = [offset(spot.outline, row.edge.mm) for spot in spots]
    whole = merge(below, *round_them)
    softened = offset(offset(whole, NOTCH_MM), -NOTCH_MM) or whole
    return keep_within(merge(softened, *(_apex(spot.outline, row.edge.mm) for spot in spots)), rectangle(width, height))


def _apex(outline: Points, edge: float) -> Points:
    """A sliver that puts the highest point of a flattened offset exactly where the true one's is."""
    x, y = min(outline, key=lambda point: point[1])
    half = edge / 4
    foot = y - math.sqrt(edge * edge - half * half)
    return (x - half, foot), (x, y - edge), (x + half, foot)


def split_flaps(spot: Spot, strip: float) -> tuple[tuple[str, Points], ...]:
    """The two flaps of a motif: what of it lies left and right of the strip down its middle."""
    box = bounds(spot.outline).grown(1.0)
    found = []
    for side, ring in (
        ("left", rectangle(spot.middle - strip / 2 - box.left, box.height, at=(box.left, box.top))),
        ("right", rectangle(box.right - spot.middle - strip / 2, box.height, at=(spot.middle + strip / 2, box.top))),
    ):
        flap = keep_within(spot.outline, ring) if bounds(ring).width > 0 else ()
        if flap:
            found.append((side, flap))
    return tuple(found)


def open_at(ring: Points, x: float) -> Points:
    """A ring as an open path that begins and ends where it meets the upright line at x; empty when it has no such edge.

    The edge along the line is the hinge, and is not cut.
    """
    count = len(ring)
    on_line = [abs(point[0] - x) < 1e-6 for point in ring]
    for index in range(count):
        if (
            on_line[index]
            and on_line[(index + 1) % count]
            and abs(ring[index][1] - ring[(index + 1) % count][1]) > 1e-6
        ):
            start = (index + 1) % count
            return ring[start:] + ring[:start]
    return ()


def make_flap_row(setting: Setting) -> Made:
    """A topper in one piece."""
    row, facts = setting.construct.row, setting.facts
    wide, high = facts.width.value, facts.height.value
    spots = place_motifs(row, wide, high)
    outline = edge_outline(row, spots, wide, high)
    panels: list[Panel] = []
    hinges: list[Hinge] = []
    lines: list[Line] = []
    holes: list[Points] = []
    for spot in spots:
        motif = spot.motif
        if motif.cut == "whole":
            lines.append(Line(f"base-{motif.id}", motif.id, "cut", (spot.outline,), closed=True, role="hole"))
            holes.append(spot.outline)
            continue
        for side, ring in split_flaps(spot, row.strip.mm):
            path = open_at(ring, spot.middle + (row.strip.mm / 2 if side == "right" else -row.strip.mm / 2))
            if not path:
                continue
            id = f"{motif.id}-{side}"
            lines.append(Line(f"base-{id}", f"{side} flap of {motif.id}", "cut", (path,), role="flap"))
            holes.append(ring)
            panels.append(Panel(id, f"{motif.shape} {side}", ring))
            hinges.append(
                Hinge(
                    f"fold-{id}",
                    "strip",
                    id,
                    path[0],
                    path[-1],
                    "valley",
                    closed_deg=float(row.lift_deg),
                    step="lift the flaps",
                    lifts=True,
                )
            )
    root = Panel("strip", "topper", outline, tuple(holes))
    faces = (
        Face("front", "strip", "outside", wide, high, Affine()),
        Face("back", "strip", "inside", wide, high, Affine(a=-1.0, e=wide)),
    )
    tree = PanelTree((root, *panels), tuple(hinges), faces)
    figures, measures = _measure(row, spots, facts.width, facts.height)
    width = derive("base.width", "base width", wide, "{finished width}", facts.width)
    height = derive("base.height", "base height", high, "{finished height}", facts.height)
    at = {
        hinge.id: (
            Figure(f"base.{hinge.id}.at", f"fold of {hinge.child}", hinge.start[0], source="beside the motif's strip"),
            Figure(
                f"base.{hinge.id}.edge",
                f"hinge of {hinge.child}",
                math.dist(hinge.start, hinge.end),
                source="where the motif's outline meets its strip",
            ),
        )
        for hinge in hinges
    }
    base = make_piece(
        "base",
        "A",
        "topper",
        tree,
        outline,
        paper=setting.brief.base_paper,
        count=setting.brief.count,
        fold=setting.construct.fold,
        field="construct.fold",
        width=width,
        height=height,
        at=at,
        inner=tuple(lines),
        measures=measures,
    )
    return Made(tree, (base,), {panel.id: "base" for panel in tree.panels}, figures)


def _measure(
    row: FlapRow, spots: tuple[Spot, ...], width: Figure, height: Figure
) -> tuple[tuple[Figure, ...], tuple[Measure, ...]]:
    """The row's figures, and the sizes of its motifs as dimensions."""
    edge = Figure("row.edge", "edge", row.edge.mm, field="construct.row.edge")
    widths = [
        Figure(
            f"row.{each.id}.width", f"width of {each.id}", each.width.mm, field=f"construct.row.motifs.{each.id}.width"
        )
        for each in row.motifs
    ]
    heights = [
        Figure(
            f"row.{each.id}.height",
            f"height of {each.id}",
            each.height.mm,
            field=f"construct.row.motifs.{each.id}.height",
        )
        for each in row.motifs
    ]
    count = len(row.motifs)
    gaps = max(1, count - 1)
    gap = derive(
        "row.gap",
        "gap",
        (width.value - 2 * edge.value - sum(each.value for each in widths)) / gaps,
        "({finished width} − 2 × {edge} − " + " − ".join("{" + each.name + "}" for each in widths) + f") ÷ {gaps}",
        width,
        edge,
        *widths,
        note="Equal gaps between the motifs, whatever their widths.",
    )
    tallest = max(heights, key=lambda each: each.value)
    below = derive(
        "row.below",
        "paper below the row",
        height.value - edge.value - tallest.value,
        "{finished height} − {edge} − {" + tallest.name + "}",
        height,
        edge,
        tallest,
    )
    bottom = edge.value + tallest.value
    measures = []
    for spot, wide, high in zip(spots, widths, heights, strict=True):
        foot = (spot.middle, bottom)
        measures.append(Measure(wide, foot, foot, "", 10.0, as_words=True))
        measures.append(Measure(high, foot, foot, "by", 25.0, as_words=True))
    if count > 1:
        first, second = (bounds(spots[place].outline) for place in ((count - 1) // 2, (count - 1) // 2 + 1))
        measures.append(Measure(gap, (first.right, height.value), (second.left, height.value), "gap", 22.0))
    return (edge, gap, below, *widths, *heights), tuple(measures)


def check_flap_row(job: Job, made: Made) -> Iterator[Finding]:
    """The row fits its length and height, and its flaps are large enough to lift."""
    row, units = job.construct.row, job.units
    figures = {figure.key: figure for figure in made.figures}
    gap, below = figures["row.gap"].value, figures["row.below"].value
    least = LEAST_GAP_MM if len(row.motifs) > 1 else 0.0
    if gap < least - 1e-9:
        gaps = max(1, len(row.motifs) - 1)
        need = make_length(math.ceil(job.brief.width.mm + (least + 1.0 - gap) * gaps), units)
        yield Finding(
            "construct.motifs-too-close",
            "stop",
            "construct",
            "The motifs run into each other",
            f"Gaps of {format_length(gap, units)} are left; the paper between holds from {LEAST_GAP_MM:.0f} mm.",
            "The topper falls apart along the row.",
            "base",
            (Mend(f"Make it {format_length(need.mm, units)} long", (Change("brief.width", need),)),),
        )
    if below < LEAST_STRIP_MM - 1e-9:
        need = make_length(math.ceil(job.brief.height.mm + LEAST_STRIP_MM + 1.0 - below), units)
        yield Finding(
            "construct.row-too-high",
            "stop",
            "construct",
            "No paper is left below the row",
            f"{format_length(below, units)} is left below the tallest motif; it holds from {LEAST_STRIP_MM:.0f} mm.",
            "There is nothing to glue the topper by.",
            "base",
            (Mend(f"Make it {format_length(need.mm, units)} high", (Change("brief.height", need),)),),
        )
    for spot in place_motifs(row, job.brief.width.mm, job.brief.height.mm):
        yield from _check_motif(job, made, spot)


def _check_motif(job: Job, made: Made, spot: Spot) -> Iterator[Finding]:
    motif, row, units = spot.motif, job.construct.row, job.units
    if motif.cut != "flaps":
        return
    whole = Mend("Cut it out whole", (Change(f"construct.row.motifs.{motif.id}.cut", "whole"),))
    mine = [hinge for hinge in made.tree.hinges if hinge.child.startswith(f"{motif.id}-")]
    shortest = min((math.dist(hinge.start, hinge.end) for hinge in mine), default=0.0)
    if row.strip.mm >= motif.width.mm - 2.0 or len(mine) < 2:
        yield Finding(
            "construct.no-flap",
            "stop",
            "construct",
            f"Nothing of {motif.id} is left to lift",
            f"Its strip is {format_length(row.strip.mm, units)} of {format_length(motif.width.mm, units)}.",
            "No flap is cut.",
            f"base-{motif.id}",
            (whole,),
        )
    elif min(motif.width.mm, motif.height.mm) < LEAST_FLAP_MM:
        yield Finding(
            "construct.flap-small",
            "look",
            "construct",
            f"The flaps of {motif.id} are small",
            f"It is {format_length(min(motif.width.mm, motif.height.mm), units)}; at 12 mm a motif is better cut out "
            "whole (common practice).",
            "They curl or tear when they are lifted.",
            f"base-{motif.id}",
            (whole,),
        )
    elif shortest < LEAST_HINGE_MM:
        yield Finding(
            "construct.neck-narrow",
            "look",
            "construct",
            f"The flaps of {motif.id} hang on a narrow neck",
            f"It is {format_length(shortest, units)}; card holds from {LEAST_HINGE_MM:.0f} mm (common practice).",
            "They tear off when they are lifted.",
            f"base-{motif.id}",
            (whole,),
        )
