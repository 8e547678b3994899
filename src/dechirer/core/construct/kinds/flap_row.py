"""Flap row: a topper with a row of motifs, some cut out whole, some as pairs of flaps that lift like wings.

The motifs are spread over the whole length by equal gaps, not by equal centres (common practice), and the topper's
upper edge follows them at an even distance. A flap's cut stops short of the strip it hangs on and stays an open line.
"""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

import msgspec
from msgspec import Meta, Struct

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Line, Measure
from dechirer.core.construct.art_outline import outline_of
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require_own_ids
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, make_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.algebra import keep_within, merge, offset
from dechirer.core.shape.outline import bounds, rectangle

Shape = Literal["kite", "gull", "heart", "disc", "hut", "cloud", "hexagon", "file"]

LEAST_GAP_MM = 2.0
"""Paper between two motifs: less tears when it is weeded (common practice for light card: webs from 1 mm)."""
LEAST_STRIP_MM = 5.0
"""Paper left below the row."""
LEAST_FLAP_MM = 14.0
"""Smaller flaps are better cut out whole (common practice: at 12 mm)."""
LEAST_BODY_MM = 2.0
"""The uncut strip down the middle of a motif, between the folds of its flaps."""
LEAST_HINGE_MM = 4.0
"""A narrower neck tears when the flap is lifted (common practice, no published figure)."""
NOTCH_MM = 2.0
"""Inner corners of the edge between two motifs are rounded by this, so that the paper does not tear there."""


class Motif(Decisions, frozen=True):
    """One motif of a row: its outline and size, cut out `whole` or cut as two lifting `flaps`."""

    id: Identifier
    shape: Annotated[Shape, Field("Shape")]
    width: Annotated[Length, Field("Width of the motif", 3, 300, drawn=True)]
    height: Annotated[Length, Field("Height of the motif", 3, 300, drawn=True)]
    cut: Annotated[
        Literal["flaps", "whole"], Field("Cut as", choices={"flaps": "lifting flaps", "whole": "cut out whole"})
    ] = "flaps"
    art: Annotated[
        Identifier | None,
        Field("File of the outline", takes="art", none="none yet", shows=lambda own: own.shape == "file"),
    ] = None


def _make_motifs() -> tuple[Motif, ...]:
    rows: tuple[tuple[Shape, str, str], ...] = (
        ("gull", "20 mm", "14 mm"),
        ("kite", "26 mm", "34 mm"),
        ("disc", "10 mm", "10 mm"),
        ("kite", "32 mm", "42 mm"),
        ("gull", "24 mm", "17 mm"),
    )
    return tuple(
        Motif(
            f"motif-{number}",
            shape,
            parse_length(width),
            parse_length(height),
            "whole" if shape == "disc" else "flaps",
        )
        for number, (shape, width, height) in enumerate(rows, start=1)
    )


class FlapRow(Decisions, frozen=True):
    """A row of motifs spread by equal gaps over the whole length of a topper whose upper edge follows them.

    The `lower` edge is straight, or the same turned over. `edge` is the paper left round the motifs; `strip` the uncut
    strip down the middle of a motif that its flaps hang on; `lift_deg` how far they are lifted.
    """

    edge: Annotated[Length, Field("Paper round the motifs", 1, 100)] = given("6 mm")
    strip: Annotated[Length, Field("Strip the flaps hang on", 0.5, 100)] = given("3 mm")
    lift_deg: Annotated[int, Field("The flaps lift by, in degrees", 0, 120)] = 50
    lower: Annotated[
        Literal["straight", "as-upper"],
        Field("Lower edge", choices={"straight": "straight", "as-upper": "as the upper edge"}),
    ] = "straight"
    motifs: Annotated[tuple[Motif, ...], Meta(min_length=1, max_length=24), Field("Motif")] = msgspec.field(
        default_factory=_make_motifs
    )

    def agree(self) -> None:
        require_own_ids("motifs", self.motifs)


class PlacedMotif(Struct, frozen=True):
    """A motif at its place on the topper: its outline, and the middle of its strip."""

    motif: Motif
    outline: Points
    middle: float


def place_motifs(row: FlapRow, width: float, height: float, card: Card) -> tuple[PlacedMotif, ...]:
    """Each motif at its place on a topper of width x height (mm): equal gaps, all on one level below the edge."""
    total = sum(motif.width.mm for motif in row.motifs)
    inner = width - 2 * row.edge.mm
    gap = (inner - total) / (len(row.motifs) - 1) if len(row.motifs) > 1 else 0.0
    x = row.edge.mm if len(row.motifs) > 1 else (width - total) / 2
    level = row.edge.mm + max(motif.height.mm for motif in row.motifs) / 2
    spots = []
    for motif in row.motifs:
        ring = outline_of(card, motif.shape, motif.art, motif.width.mm, motif.height.mm)
        moved = translate(x, level - motif.height.mm / 2).all(ring)
        spots.append(PlacedMotif(motif, moved, x + motif.width.mm / 2))
        x += motif.width.mm + gap
    return tuple(spots)


def edge_outline(row: FlapRow, spots: tuple[PlacedMotif, ...], width: float, height: float) -> Points:
    """The topper's outline: everything below the motifs' middles, and round them at the edge's distance."""
    level = row.edge.mm + max(motif.height.mm for motif in row.motifs) / 2
    both = row.lower == "as-upper" and height > 2 * level + LEAST_STRIP_MM
    below = rectangle(width, max(1.0, height - (2 if both else 1) * level), at=(0.0, level))
    round_them = [offset(spot.outline, row.edge.mm) for spot in spots]
    tips = [_apex(spot.outline, row.edge.mm) for spot in spots]
    if both:
        over = Affine(d=-1.0, f=height)
        round_them += [over.all(ring) for ring in tuple(round_them)]
        tips += [over.all(tip) for tip in tuple(tips)]
    whole = merge(below, *round_them)
    softened = offset(offset(whole, NOTCH_MM), -NOTCH_MM) or whole
    # Of a row that is far too large for the card no paper may be left: then it is the card's, and the checks say why.
    return keep_within(merge(softened, *tips), rectangle(width, height)) or rectangle(width, height)


def _apex(outline: Points, edge: float) -> Points:
    """A sliver that puts the highest point of a flattened offset exactly where the true one's is."""
    x, y = min(outline, key=lambda point: point[1])
    half = edge / 4
    foot = y - math.sqrt(edge * edge - half * half)
    return (x - half, foot), (x, y - edge), (x + half, foot)


def split_flaps(spot: PlacedMotif, strip: float) -> tuple[tuple[str, Points], ...]:
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


class _Cuts(Struct, frozen=True):
    """What the motifs give: panels that lift with their hinges, lines, and the holes they leave in the topper."""

    panels: tuple[Panel, ...]
    hinges: tuple[Hinge, ...]
    lines: tuple[Line, ...]
    holes: tuple[Points, ...]


def _cut_motifs(row: FlapRow, placed: tuple[PlacedMotif, ...]) -> _Cuts:
    panels: list[Panel] = []
    hinges: list[Hinge] = []
    lines: list[Line] = []
    holes: list[Points] = []
    for each in placed:
        motif = each.motif
        if motif.cut == "whole":
            lines.append(
                Line(f"base-{motif.id}", motif.id, "cut", (each.outline,), closed=True, role="hole", kept=True)
            )
            holes.append(each.outline)
            continue
        for side, ring in split_flaps(each, row.strip.mm):
            path = open_at(ring, each.middle + (row.strip.mm / 2 if side == "right" else -row.strip.mm / 2))
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
    return _Cuts(tuple(panels), tuple(hinges), tuple(lines), tuple(holes))


@CONSTRUCTIONS.add("flap-row", title="Flap row", group="panels", order=100, decisions=FlapRow)
def make_flap_row(row: FlapRow, card: Card) -> Made:
    """A topper in one piece."""
    wide, high = card.width.value, card.height.value
    placed = place_motifs(row, wide, high, card)
    outline = edge_outline(row, placed, wide, high)
    cuts = _cut_motifs(row, placed)
    faces = (
        Face("front", "strip", "outside", wide, high, Affine()),
        Face("back", "strip", "inside", wide, high, Affine(a=-1.0, e=wide)),
    )
    tree = PanelTree((Panel("strip", "topper", outline, cuts.holes), *cuts.panels), cuts.hinges, faces)
    figures, measures = _measure(row, placed, card.width, card.height)
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
        for hinge in cuts.hinges
    }
    base = make_base(
        card,
        tree,
        outline,
        width=derive("base.width", "base width", wide, "{finished width}", card.width),
        height=derive("base.height", "base height", high, "{finished height}", card.height),
        at=at,
        inner=cuts.lines,
        measures=measures,
        name="topper",
    )
    return Made(tree, (base,), {panel.id: "base" for panel in tree.panels}, figures)


def _measure(
    row: FlapRow, spots: tuple[PlacedMotif, ...], width: Figure, height: Figure
) -> tuple[tuple[Figure, ...], tuple[Measure, ...]]:
    """The row's figures, and the sizes of its motifs as dimensions."""
    edge = Figure("row.edge", "edge", row.edge.mm, field="construct.flap_row.edge")
    widths = [
        Figure(
            f"row.{each.id}.width",
            f"width of {each.id}",
            each.width.mm,
            field=f"construct.flap_row.motifs.{each.id}.width",
        )
        for each in row.motifs
    ]
    heights = [
        Figure(
            f"row.{each.id}.height",
            f"height of {each.id}",
            each.height.mm,
            field=f"construct.flap_row.motifs.{each.id}.height",
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


@CHECKS.add("construct.motifs-too-close", "construct.row-too-high", of=make_flap_row)
def find_row_without_room(seen: Seen[FlapRow]) -> Iterator[Finding]:
    """The row fits its length and height."""
    row, units = seen.own, seen.units
    width, height = seen.card.width.value, seen.card.height.value
    gap, below = seen.value("row.gap"), seen.value("row.below")
    least = LEAST_GAP_MM if len(row.motifs) > 1 else 0.0
    if gap < least - 1e-9:
        gaps = max(1, len(row.motifs) - 1)
        need = make_length(math.ceil(width + (least + 1.0 - gap) * gaps), units)
        yield Finding(
            "construct.motifs-too-close",
            "stop",
            "The motifs run into each other",
            f"Gaps of {format_length(gap, units)} are left; the paper between holds from {LEAST_GAP_MM:.0f} mm.",
            "The topper falls apart along the row.",
            "base",
            (Mend(f"Make it {format_length(need.mm, units)} long", (Change("brief.width", need),)),),
        )
    if below < LEAST_STRIP_MM - 1e-9:
        need = make_length(math.ceil(height + LEAST_STRIP_MM + 1.0 - below), units)
        yield Finding(
            "construct.row-too-high",
            "stop",
            "No paper is left below the row",
            f"{format_length(below, units)} is left below the tallest motif; it holds from {LEAST_STRIP_MM:.0f} mm.",
            "There is nothing to glue the topper by.",
            "base",
            (Mend(f"Make it {format_length(need.mm, units)} high", (Change("brief.height", need),)),),
        )


@CHECKS.add(
    "construct.no-flap",
    "construct.flap-small",
    "construct.neck-narrow",
    "construct.flap-strip-narrow",
    of=make_flap_row,
)
def find_flaps_that_fail(seen: Seen[FlapRow]) -> Iterator[Finding]:
    """Flaps are there, large enough to lift, and hang on a strip that holds."""
    row, units = seen.own, seen.units
    if row.strip.mm < LEAST_BODY_MM - 1e-9 and any(motif.cut == "flaps" for motif in row.motifs):
        usual = parse_length("1/8 in" if units == "in" else "3 mm")
        yield Finding(
            "construct.flap-strip-narrow",
            "stop" if row.strip.mm < LEAST_BODY_MM / 2 else "look",
            "The strip between the flaps is narrow",
            f"It is {format_length(row.strip.mm, units)} between two folds; it holds from "
            f"{format_length(LEAST_BODY_MM, units)} (common practice).",
            "Both flaps tear off together.",
            "base",
            (Mend(f"Make it {usual.typed}", (Change("construct.flap_row.strip", usual),)),),
        )
    for motif in row.motifs:
        yield from _check_motif(seen, motif)


def _check_motif(seen: Seen[FlapRow], motif: Motif) -> Iterator[Finding]:
    row, units = seen.own, seen.units
    if motif.cut != "flaps":
        return
    whole = Mend("Cut it out whole", (Change(f"construct.flap_row.motifs.{motif.id}.cut", "whole"),))
    mine = [hinge for hinge in seen.made.tree.hinges if hinge.child.startswith(f"{motif.id}-")]
    shortest = min((math.dist(hinge.start, hinge.end) for hinge in mine), default=0.0)
    if row.strip.mm >= motif.width.mm - 2.0 or len(mine) < 2:
        yield Finding(
            "construct.no-flap",
            "stop",
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
            f"The flaps of {motif.id} hang on a narrow neck",
            f"It is {format_length(shortest, units)}; card holds from {LEAST_HINGE_MM:.0f} mm (common practice).",
            "They tear off when they are lifted.",
            f"base-{motif.id}",
            (whole,),
        )
