"""Envelopes: glued side flaps, half-hexagon flaps, round petals; sized from the closed card, ease and thickness.

Outside up the body is the address side; the flaps fold behind it, so every fold is a mountain. For half-hexagon flaps
(a regular hexagon as wide from corner to corner as the side it sits on) the depth is sqrt(3) / 4 x side. Round petals
are half discs on a square body S: 2 S upright and S (1 + sqrt(2) / 2) turned by 45 degrees (plain geometry).
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.build.making import derive, make_piece
from dechirer.core.build.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.build.setting import Made, Setting
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Envelope, Job
from dechirer.core.length import format_length, format_size
from dechirer.core.paper.standards import load_sizes
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.outline import bounds, rectangle

HEXAGON = math.sqrt(3) / 4
"""Depth of half a regular hexagon over its width from corner to corner."""
FLAT_MM = 0.01
SPARE_MM = 2.0
"""Least room each way for a card to slide into a bought envelope, besides its thickness (common sizes leave 1/8 in)."""
THICK_MM = 5.0
"""From about this thickness many postal services charge more (from memory; the local service's rules count)."""


def make_envelope(
    setting: Setting, envelope: Envelope, card_width: float, card_height: float, bulk: float, letter: str
) -> Made:
    """The envelope for a closed card of card_width x card_height x bulk (mm), in one piece."""
    ease = Figure("envelope.ease", "ease", envelope.ease.mm, field="build.envelope.ease")
    thickness = Figure("envelope.bulk", "thickness of the card", bulk, source="the closed card at its thickest")
    sizes = []
    for side, value in (("width", card_width), ("height", card_height)):
        closed = Figure(f"envelope.card-{side}", f"closed {side}", value, source="the closed card")
        sizes.append(
            derive(f"envelope.inner-{side}", f"inner {side}", value + ease.value + bulk,
                   "{closed " + side + "} + {ease} + {thickness of the card}", closed, ease, thickness)
        )  # fmt: skip
    wide, high = sizes[0].value, sizes[1].value
    if envelope.style == "petal":
        wide = high = max(wide, high)
    elif envelope.style == "glued":
        wide, high = max(wide, high), min(wide, high)  # it opens along its long side, which keeps the flat short
    flaps = {"glued": _glued_flaps, "hexagon": _hexagon_flaps, "petal": _petal_flaps}[envelope.style](wide, high)
    tree = _make_tree(wide, high, flaps)
    turned = False
    if envelope.style == "petal" and _span(tree) > setting.longest_mm:
        tree, turned = _turn(tree, math.pi / 4), True
    box = bounds([point for panel in tree.panels for point in panel.outline])
    tree = _map(tree, translate(-box.left, -box.top))
    words = _words(envelope.style, turned)
    width = derive("envelope.width", "envelope flat width", box.width, words[0], *sizes, note=words[1])
    height = derive("envelope.height", "envelope flat height", box.height, words[0], *sizes)
    top, bottom = (_depth(flaps[name]) for name in ("top", "bottom"))
    overlap = Figure(
        "envelope.overlap", "overlap of top and bottom flap", top + bottom - high, source=f"the {envelope.style} flaps"
    )
    at = {
        hinge.id: (
            Figure(f"envelope.{hinge.id}.at", f"{hinge.id} of the envelope", min(hinge.start[0], hinge.end[0]),
                   source="the body's edge, from the flat's left"),
            Figure(f"envelope.{hinge.id}.edge", f"{hinge.id} from end to end", math.dist(hinge.start, hinge.end),
                   source="the body's side"),
        )
        for hinge in tree.hinges
    }  # fmt: skip
    piece = make_piece(
        "envelope", letter, "envelope", tree, _outline(tree), paper=envelope.paper, count=setting.brief.count,
        fold=envelope.fold, field="build.envelope.fold", width=width, height=height, at=at,
    )  # fmt: skip
    return Made(tree, (piece,), {panel.id: "envelope" for panel in tree.panels}, (ease, thickness, *sizes, overlap))


def _words(style: str, turned: bool) -> tuple[str, str]:
    match style:
        case "hexagon":
            return "{inner width} and {inner height} with flaps √3 ÷ 4 deep on each side", "Half-hexagon flaps."
        case "petal":
            turn = " × (1 + √2 ÷ 2), turned by 45°" if turned else " × 2"
            note = "Opposite petals meet in one point: close it with a sticker or a band."
            return "the larger of {inner width} and {inner height}" + turn, note
        case _:
            return (
                "{inner width} and {inner height} with side, bottom and top flaps",
                "Side flaps in, bottom flap up over them.",
            )


def _glued_flaps(wide: float, high: float) -> dict[str, Points]:
    """Flaps in their own frame: along the hinge from (0, 0) to (side, 0), outward in y."""
    side = min(0.22 * wide, 32.0)

    def tapered(length: float, depth: float, inset: float) -> Points:
        return (0.0, 0.0), (length, 0.0), (length - inset, depth), (inset, depth)

    return {
        "left": tapered(high, side, side * 0.5),
        "right": tapered(high, side, side * 0.5),
        "bottom": tapered(wide, high * 0.66, 3.0 + wide * 0.04),
        "top": tapered(wide, high * 0.48, wide * 0.16),
    }


def _hexagon_flaps(wide: float, high: float) -> dict[str, Points]:
    def half(side: float) -> Points:
        return (0.0, 0.0), (side, 0.0), (side * 0.75, side * HEXAGON), (side * 0.25, side * HEXAGON)

    return {"left": half(high), "right": half(high), "bottom": half(wide), "top": half(wide)}


def _petal_flaps(wide: float, high: float) -> dict[str, Points]:
    radius = wide / 2
    steps = 4 * max(8, math.ceil(math.pi / math.acos(1 - FLAT_MM / radius) / 4))
    petal = tuple(
        (radius + radius * math.cos(math.pi * step / steps), radius * math.sin(math.pi * step / steps))
        for step in range(steps, -1, -1)
    )
    return dict.fromkeys(("left", "right", "bottom", "top"), petal)


def _depth(flap: Points) -> float:
    return max(y for _, y in flap)


def _make_tree(wide: float, high: float, flaps: dict[str, Points]) -> PanelTree:
    """The body with its flaps: sides first, bottom, top last. Flap frames are turned so that outward is away."""
    frames = {
        "left": Affine(0.0, 1.0, -1.0, 0.0, 0.0, 0.0),
        "right": Affine(0.0, -1.0, 1.0, 0.0, wide, high),
        "bottom": Affine(-1.0, 0.0, 0.0, 1.0, wide, high),
        "top": Affine(1.0, 0.0, 0.0, -1.0, 0.0, 0.0),
    }
    # Mirrored frames (determinant below zero) only change the order of a symmetric flap's points.
    ends = {
        "left": ((0.0, 0.0), (0.0, high)), "right": ((wide, high), (wide, 0.0)),
        "bottom": ((wide, high), (0.0, high)), "top": ((0.0, 0.0), (wide, 0.0)),
    }  # fmt: skip
    panels = [Panel("body", "address side", rectangle(wide, high))]
    hinges = []
    steps = {"left": "fold the side flaps in", "right": "fold the side flaps in", "bottom": "fold the bottom flap up",
             "top": "close the top flap"}  # fmt: skip
    for order, name in ((1, "left"), (1, "right"), (2, "bottom"), (3, "top")):
        panels.append(Panel(name, f"{name} flap", frames[name].all(flaps[name])))
        start, end = ends[name]
        hinges.append(Hinge(f"fold-{name}", "body", name, start, end, "mountain", order=order, step=steps[name]))
    faces = (
        # The inside first: an envelope is folded and seen from the side of its flaps.
        Face("inside", "body", "inside", wide, high, Affine(a=-1.0, e=wide)),
        Face("address side", "body", "outside", wide, high, Affine()),
    )
    return PanelTree(tuple(panels), tuple(hinges), faces)


def _span(tree: PanelTree) -> float:
    box = bounds([point for panel in tree.panels for point in panel.outline])
    return max(box.width, box.height)


def _turn(tree: PanelTree, angle: float) -> PanelTree:
    cos, sin = math.cos(angle), math.sin(angle)
    return _map(tree, Affine(cos, sin, -sin, cos, 0.0, 0.0))


def _map(tree: PanelTree, move: Affine) -> PanelTree:
    """The whole tree moved or turned on its sheet."""
    return PanelTree(
        tuple(Panel(each.id, each.name, move.all(each.outline)) for each in tree.panels),
        tuple(
            Hinge(each.id, each.parent, each.child, move(each.start), move(each.end), each.sense, each.closed_deg,
                  each.order, each.step, each.axis_z)
            for each in tree.hinges
        ),
        tuple(Face(f.name, f.panel, f.side, f.width, f.height, f.to_flat.then(move)) for f in tree.faces),
    )  # fmt: skip


def _outline(tree: PanelTree) -> Points:
    """One outline round body and flaps."""
    import shapely

    joined = shapely.union_all([shapely.Polygon(panel.outline) for panel in tree.panels], grid_size=1e-7)
    return tuple((float(x), float(y)) for x, y in list(joined.simplify(0).exterior.coords)[:-1])


def check_envelope(job: Job, made: Made) -> Iterator[Finding]:
    """Flaps must meet; a petal envelope wants a square card."""
    envelope = job.build.envelope
    assert envelope is not None
    figures = {figure.key: figure for figure in made.figures}
    overlap = figures["envelope.overlap"].value
    glued = Mend("Use glued side flaps", (Change("build.envelope.style", "glued"),))
    inner = figures["envelope.inner-width"].value, figures["envelope.inner-height"].value
    if envelope.style == "hexagon" and overlap < 0:
        yield Finding(
            "build.flaps-apart", "stop", "build", "The envelope's flaps do not meet",
            f"A gap of {format_length(-overlap, job.units)} is left: half-hexagon flaps meet only where 0.866 × the "
            "width is at least the height.",
            "The card falls out.", "envelope", (glued,),
        )  # fmt: skip
    if envelope.style == "petal" and abs(inner[0] - inner[1]) > 3.0:
        yield Finding(
            "build.petals-not-square", "look", "build", "The petal envelope is larger than the card one way",
            f"Round petals want a square body; the card asks for {format_size(*inner, job.units)}.",
            "The card slides about in it.", "envelope", (glued,),
        )  # fmt: skip


class BoughtEnvelope(Struct, frozen=True):
    """A standard envelope: its name and size in mm."""

    name: str
    width: float
    height: float


def find_bought_envelope(width: float, height: float, bulk: float) -> BoughtEnvelope | None:
    """The smallest standard envelope the closed card goes into, with SPARE_MM and its thickness to spare each way."""
    need = sorted((width + bulk + SPARE_MM, height + bulk + SPARE_MM))
    fits = []
    for size in load_sizes():
        inner = sorted((size.width_mm, size.height_mm))
        if size.kind == "envelope" and inner[0] >= need[0] and inner[1] >= need[1]:
            fits.append((inner[0] * inner[1], size.name, size.width_mm, size.height_mm))
    if not fits:
        return None
    _, name, wide, high = min(fits)
    return BoughtEnvelope(name.removesuffix(" envelope"), wide, high)
