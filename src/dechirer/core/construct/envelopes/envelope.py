"""Envelopes: glued side flaps, half-hexagon flaps, round petals; sized from the closed card, ease and thickness.

Outside up the body is the address side; the flaps fold behind it, so every fold is a mountain. For half-hexagon flaps
(a regular hexagon as wide from corner to corner as the side it sits on) the depth is sqrt(3) / 4 x side. Round petals
are half discs on a square body S: 2 S upright and S (1 + sqrt(2) / 2) turned by 45 degrees (plain geometry).
"""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import Struct, structs

from dechirer.core.card.assembly import Assembler, Made, Slab
from dechirer.core.card.fold import Fold
from dechirer.core.card.making import derive, letter_of, make_piece
from dechirer.core.card.panels import Hinge, PanelTree
from dechirer.core.card.stack import Closed
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.card import Card
from dechirer.core.construct.envelope_shapes import (
    SQUARE_MM,
    Inside,
    Laid,
    fitting_styles,
    lay_out_envelope,
    make_inside,
    map_tree,
    overlap_of,
)
from dechirer.core.construct.inlay import make_inlay
from dechirer.core.construct.specs import ATTACHMENTS, ENVELOPES, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Choices, Field
from dechirer.core.decide.refusal import require
from dechirer.core.decide.values import Identifier, given, made
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, format_size
from dechirer.core.shape.affine import Points, translate
from dechirer.core.shape.outline import bounds

THICK_MM = 5.0
"""From about this thickness many postal services charge more (from memory; the local service's rules count)."""
HAIR_MM = 1e-6


CLOSURES = {"gummed": "gum on its flap", "sticker": "a sticker", "ribbon": "a ribbon round it"}
INLAY_SIZES = {"margin": "smaller all round", "largest": "as large as goes in"}
LEAST_GUM_MM = 8.0
"""How far the top flap has to lie over the bottom one for gum to hold (common practice, no published figure)."""
GUM_STRIP_MM = 6.0
"""How broad the strip along the top flap's edge is that an inlay leaves free for gum (common practice)."""
LEAST_MARGIN_MM = 1.0
"""How much smaller than the body the largest inlay is on each side, so that it goes in without a crease."""
STICKER_MM = 25.0
BOW_MM = 450.0
"""What a bow takes of a ribbon besides its way round the envelope (common practice)."""


def _styles() -> Choices:
    return tuple((spec.id, spec.title) for spec in ENVELOPES)


class Envelope(Decisions, frozen=True):
    """An envelope for the closed card: its style, its paper, and how much larger than the card it is.

    `inlay` is the paper of a piece glued inside it by its rim; it is `inlay_margin` smaller on each side, or as large
    as goes in and leaves the gum free.
    """

    paper: Annotated[Identifier, Field("Paper", takes="paper")]
    style: Annotated[Identifier, Field("Style", choices=_styles)] = "glued"
    ease: Annotated[Length, Field("Larger than the card by", 0, 100)] = given("1/4 in")
    fold: Annotated[Fold, Field("Folds of the envelope")] = made(Fold)
    closure: Annotated[Literal["gummed", "sticker", "ribbon"], Field("Closed by", choices=CLOSURES)] = "gummed"
    inlay: Annotated[Identifier | None, Field("Inlay", takes="paper", none="no inlay")] = None
    inlay_size: Annotated[
        Literal["margin", "largest"],
        Field("Its size", choices=INLAY_SIZES, shows=lambda own: own.inlay is not None),
    ] = "margin"
    inlay_margin: Annotated[
        Length,
        Field(
            "Inlay smaller by, each side",
            1,
            60,
            shows=lambda own: own.inlay is not None and own.inlay_size == "margin",
        ),
    ] = given("6 mm")

    def agree(self) -> None:
        require(self.style in ENVELOPES, f"style “{self.style}” is not one of {', '.join(ENVELOPES.ids())}")


class EnvelopeMade(Struct, frozen=True):
    """The envelope: what is made of it, what lies on what when it is folded, and the styles that would fit."""

    made: Made
    slabs: tuple[Slab, ...]
    fits: tuple[str, ...]


def start_envelope(at: Start) -> Envelope:
    """A glued envelope in the last paper on hand that is not the card's."""
    ids = [paper.id for paper in at.papers if paper.id != at.base_paper]
    return Envelope(ids[-1] if ids else at.base_paper)


@ATTACHMENTS.add(
    "envelope",
    title="Envelope",
    add="Envelope",
    order=80,
    decisions=Envelope,
    start=start_envelope,
    late=True,
    piece="envelope",
)
def add_envelope(attached: Attached, envelope: Envelope, closed: Closed) -> EnvelopeMade:
    """An envelope round the closed card, made and folded on its own."""
    made, fits = make_envelope(attached.card, envelope, closed, len(attached.pieces))
    for piece in made.pieces:
        attached.add(piece)
    attached.figures += made.figures
    assembler = Assembler(made, envelope.paper, attached.card.thickness_of)
    made = structs.replace(made, tree=assembler.finish())
    return EnvelopeMade(made, tuple(assembler.slabs), fits)


def make_envelope(card: Card, envelope: Envelope, closed: Closed, number: int) -> tuple[Made, tuple[str, ...]]:
    """The envelope for a closed card, and the styles that would fit the sheet; `number` pieces come before it."""
    ease = Figure("envelope.ease", "ease", envelope.ease.mm, field="construct.envelope.ease")
    sizes = _size_inside(closed, ease)
    inside, room = make_inside(*sizes), card.room_of(envelope.paper)
    laid = lay_out_envelope(envelope.style, inside, room)
    box = bounds([point for panel in laid.tree.panels for point in panel.outline])
    tree = map_tree(laid.tree, translate(-box.left, -box.top))
    width, height = _size_flat(laid, inside, ENVELOPES[envelope.style].note)
    piece = make_piece(
        "envelope",
        letter_of(number),
        "envelope",
        tree,
        _outline(tree),
        paper=envelope.paper,
        count=card.count,
        fold=envelope.fold,
        field="construct.envelope.fold",
        width=width,
        height=height,
        at=_place_folds(tree),
    )
    styles = fitting_styles(inside, room)
    figures = [*_size_closure(envelope, inside, closed), ease, *sizes, *_measure_laid(laid, inside, styles)]
    pieces, patches = [piece], []
    if envelope.inlay is not None:
        margins = _size_margins(envelope)
        figures += dict.fromkeys(margins)
        inlay = make_inlay(card, envelope.inlay, envelope.fold, tree, margins, letter_of(number + 1))
        if inlay is not None:
            pieces.append(inlay[0])
            patches += inlay[1]
    parts = {panel.id: "envelope" for panel in tree.panels}
    return Made(tree, tuple(pieces), parts, tuple(figures), tuple(patches)), styles


def _size_margins(envelope: Envelope) -> tuple[Figure, Figure]:
    """How much smaller than the body and than the top flap the inlay is on each side."""
    key, name = "envelope.inlay-margin", "inlay margin"
    if envelope.inlay_size == "margin":
        margin = Figure(key, name, envelope.inlay_margin.mm, field="construct.envelope.inlay_margin")
        return margin, margin
    least = Figure(key, name, LEAST_MARGIN_MM, source="what goes into the body without a crease (common practice)")
    if envelope.closure != "gummed":
        return least, least
    source = "the strip that is left free for gum (common practice)"
    return least, Figure("envelope.inlay-gum", "gum strip", GUM_STRIP_MM, source=source)


def _measure_laid(laid: Laid, inside: Inside, styles: tuple[str, ...]) -> tuple[Figure, ...]:
    """The figures of an envelope laid out: its sides, its flaps, how they meet, and the styles that fit."""
    overlap = derive(
        "envelope.overlap",
        "overlap of top and bottom flap",
        overlap_of(laid),
        "{top flap} + {bottom flap} − {" + laid.body.name + "}",
        laid.top,
        laid.bottom,
        laid.body,
    )
    listed = ", ".join(styles) or "none of them"
    fits = Figure("envelope.fits", "styles that fit the sheet", float(len(styles)), "count", source=listed)
    return inside.long, inside.short, laid.side, laid.bottom, laid.top, overlap, fits


def _size_inside(closed: Closed, ease: Figure) -> list[Figure]:
    thick = closed.thickness
    return [
        derive(
            f"envelope.inner-{side}",
            f"inner {side}",
            outer.value + ease.value + thick.value,
            "{" + outer.name + "} + {" + ease.name + "} + {" + thick.name + "}",
            outer,
            ease,
            thick,
        )
        for side, outer in (("width", closed.width), ("height", closed.height))
    ]


def _size_closure(envelope: Envelope, inside: Inside, closed: Closed) -> tuple[Figure, ...]:
    """What closes the envelope besides paper: how long a ribbon is wanted."""
    if envelope.closure != "ribbon":
        return ()
    bow = Figure("envelope.bow", "bow", BOW_MM, source="what a bow takes (common practice)")
    value = 2 * inside.short.value + 2 * closed.thickness.value + bow.value
    formula = "2 × {short side} + 2 × {" + closed.thickness.name + "} + {bow}"
    note = "Once round the short way, and a bow."
    return (derive("envelope.ribbon", "ribbon", value, formula, inside.short, closed.thickness, bow, note=note),)


def _size_flat(laid: Laid, inside: Inside, note: str) -> tuple[Figure, Figure]:
    """The flat envelope's width and height."""
    long, body = inside.long, laid.body

    def side(which: str, value: float, formula: str, *inputs: Figure, note: str = note) -> Figure:
        return derive(f"envelope.{which}", f"envelope flat {which}", value, formula, *inputs, note=note)

    if laid.turned:
        formula, value = "{long side} × (1 + √2 ÷ 2)", long.value * (1 + math.sqrt(2) / 2)
        told = f"Turned by 45° to fit. {note}"
        return side("width", value, formula, long, note=told), side("height", value, formula, long, note=told)
    deep = body.value + laid.bottom.value + laid.top.value
    return (
        side("width", long.value + 2 * laid.side.value, "{long side} + 2 × {side flap}", long, laid.side),
        side("height", deep, "{" + body.name + "} + {bottom flap} + {top flap}", body, laid.bottom, laid.top),
    )


def _place_folds(tree: PanelTree) -> dict[str, tuple[Figure, Figure]]:
    """Where each fold lies and how long it is: from the flat's left where it stands upright, from its top where not."""

    def place(hinge: Hinge) -> tuple[float, str]:
        upright = abs(hinge.start[0] - hinge.end[0]) < abs(hinge.start[1] - hinge.end[1])
        return (hinge.start[0], "left") if upright else (hinge.start[1], "top")

    return {
        hinge.id: (
            Figure(
                f"envelope.{hinge.id}.at",
                f"{hinge.id} of the envelope",
                place(hinge)[0],
                source=f"the body's edge, from the flat's {place(hinge)[1]}",
            ),
            Figure(
                f"envelope.{hinge.id}.edge",
                f"{hinge.id} from end to end",
                math.dist(hinge.start, hinge.end),
                source="the body's side",
            ),
        )
        for hinge in tree.hinges
    }


def _outline(tree: PanelTree) -> Points:
    """One outline round body and flaps."""
    import shapely

    joined = shapely.union_all([shapely.Polygon(panel.outline) for panel in tree.panels], grid_size=1e-7)
    return tuple((float(x), float(y)) for x, y in list(joined.simplify(0).exterior.coords)[:-1])


@CHECKS.add("construct.flaps-apart", "construct.petals-not-square", of=add_envelope)
def find_envelope_that_fails(seen: Seen[Envelope]) -> Iterator[Finding]:
    """Flaps must meet; a style for square cards wants a square card."""
    envelope, units, figure = seen.own, seen.units, seen.plan.value
    usual = next(iter(ENVELOPES))
    works = tuple(
        Mend(f"Use {ENVELOPES[style].use}", (Change("construct.envelope.style", style),))
        for style in seen.plan.envelope_fits
        if style != envelope.style
    ) or (Mend(f"Use {usual.use}", (Change("construct.envelope.style", usual.id),)),)
    overlap = figure("envelope.overlap")
    inner = figure("envelope.inner-width"), figure("envelope.inner-height")
    if overlap < -HAIR_MM:
        yield Finding(
            "construct.flaps-apart",
            "stop",
            "The envelope's flaps do not meet",
            f"A gap of {format_length(-overlap, units)} is left between its top and its bottom flap: half-hexagon "
            "flaps meet only where 0.866 × the width is at least the height.",
            "The card falls out.",
            "envelope",
            works,
        )
    if ENVELOPES[envelope.style].wants_square and abs(inner[0] - inner[1]) > SQUARE_MM:
        yield Finding(
            "construct.petals-not-square",
            "look",
            "The petal envelope is larger than the card one way",
            f"Round petals want a square body; the card asks for {format_size(*inner, units)}.",
            "The card slides about in it.",
            "envelope",
            works,
        )


@CHECKS.add("construct.closure-short", of=add_envelope)
def find_closure_that_does_not_hold(seen: Seen[Envelope]) -> Iterator[Finding]:
    """Gum wants the top flap to lie over the bottom one; a sticker only that they meet."""
    overlap, units = seen.plan.value("envelope.overlap"), seen.units
    if seen.own.closure != "gummed" or overlap >= LEAST_GUM_MM - HAIR_MM or overlap < -HAIR_MM:
        return
    yield Finding(
        "construct.closure-short",
        "look",
        "The top flap hardly reaches for gum",
        f"It lies {format_length(max(overlap, 0.0), units)} over the bottom flap; gum holds from "
        f"{format_length(LEAST_GUM_MM, units)} (common practice).",
        "It springs open in the post.",
        "envelope",
        (
            Mend(
                f"A sticker of {format_length(STICKER_MM, units)}", (Change("construct.envelope.closure", "sticker"),)
            ),
            Mend("A ribbon round it", (Change("construct.envelope.closure", "ribbon"),)),
        ),
    )


@CHECKS.add("construct.postage", of=add_envelope)
def find_dearer_postage(seen: Seen[Envelope]) -> Iterator[Finding]:
    """What the post may say of a thick, square or long envelope."""
    bulk = seen.plan.closed.thickness.value
    inner = [seen.plan.value(f"envelope.inner-{side}") for side in ("width", "height")]
    ratio = max(inner) / min(inner)
    words = [f"it is {bulk:.1f} mm thick"] if bulk > THICK_MM else []
    if ratio < 1.3 or ratio > 2.5:
        words.append("it is nearly square" if ratio < 1.3 else "it is very long")
    if words:
        yield Finding(
            "construct.postage",
            "note",
            "The post may charge more",
            f"Many services do when {' and '.join(words)} (from memory). Ask your own service for its rules.",
            "",
            "envelope",
        )
