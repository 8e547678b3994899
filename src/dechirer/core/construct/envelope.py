"""Envelopes: glued side flaps, half-hexagon flaps, round petals; sized from the closed card, ease and thickness.

Outside up the body is the address side; the flaps fold behind it, so every fold is a mountain. For half-hexagon flaps
(a regular hexagon as wide from corner to corner as the side it sits on) the depth is sqrt(3) / 4 x side. Round petals
are half discs on a square body S: 2 S upright and S (1 + sqrt(2) / 2) turned by 45 degrees (plain geometry).
"""

from __future__ import annotations

import math

from dechirer.core.construct.envelope_shapes import fitting_styles, lay_out_envelope, map_tree, reach_of
from dechirer.core.construct.making import derive, make_piece
from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.piece import Piece
from dechirer.core.construct.setting import Made, Patch, Setting
from dechirer.core.figure import Figure
from dechirer.core.job.constructing import Envelope
from dechirer.core.shape.affine import Affine, Point, Points, translate
from dechirer.core.shape.outline import bounds


def make_envelope(
    setting: Setting, envelope: Envelope, card_width: float, card_height: float, bulk: float, letter: str
) -> Made:
    """The envelope for a closed card of card_width x card_height x bulk (mm), in one piece."""
    ease = Figure("envelope.ease", "ease", envelope.ease.mm, field="construct.envelope.ease")
    thickness = Figure("envelope.bulk", "thickness of the card", bulk, source="the closed card at its thickest")
    sizes = []
    for side, value in (("width", card_width), ("height", card_height)):
        closed = Figure(f"envelope.card-{side}", f"closed {side}", value, source="the closed card")
        sizes.append(
            derive(
                f"envelope.inner-{side}",
                f"inner {side}",
                value + ease.value + bulk,
                "{closed " + side + "} + {ease} + {thickness of the card}",
                closed,
                ease,
                thickness,
            )
        )
    tree, turned, high = lay_out_envelope(envelope.style, sizes[0].value, sizes[1].value, setting.longest_mm)
    box = bounds([point for panel in tree.panels for point in panel.outline])
    tree = map_tree(tree, translate(-box.left, -box.top))
    words = _words(envelope.style, turned)
    width = derive("envelope.width", "envelope flat width", box.width, words[0], *sizes, note=words[1])
    height = derive("envelope.height", "envelope flat height", box.height, words[0], *sizes)
    top, bottom = (reach_of(tree, name) for name in ("top", "bottom"))
    overlap = Figure(
        "envelope.overlap", "overlap of top and bottom flap", top + bottom - high, source=f"the {envelope.style} flaps"
    )
    at = {
        hinge.id: (
            Figure(
                f"envelope.{hinge.id}.at",
                f"{hinge.id} of the envelope",
                min(hinge.start[0], hinge.end[0]),
                source="the body's edge, from the flat's left",
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
    piece = make_piece(
        "envelope",
        letter,
        "envelope",
        tree,
        _outline(tree),
        paper=envelope.paper,
        count=setting.brief.count,
        fold=envelope.fold,
        field="construct.envelope.fold",
        width=width,
        height=height,
        at=at,
    )
    fits = Figure(
        "envelope.fits",
        "styles that fit the sheet",
        float(len(fitting_styles(sizes, setting.longest_mm))),
        "count",
        source=", ".join(fitting_styles(sizes, setting.longest_mm)) or "none of them",
    )
    figures = [ease, thickness, *sizes, overlap, fits]
    pieces, patches = [piece], []
    if envelope.inlay is not None:
        margin = Figure(
            "envelope.inlay-margin", "inlay margin", envelope.inlay_margin.mm, field="construct.envelope.inlay_margin"
        )
        figures.append(margin)
        made = _make_inlay(setting, envelope, tree, margin, chr(min(ord(letter) + 1, ord("Z"))))
        if made is not None:
            pieces.append(made[0])
            patches += made[1]
    return Made(tree, tuple(pieces), {panel.id: "envelope" for panel in tree.panels}, tuple(figures), tuple(patches))


def _make_inlay(
    setting: Setting, envelope: Envelope, tree: PanelTree, margin: Figure, letter: str
) -> tuple[Piece, list[Patch]] | None:
    """The inlay: body and top flap, smaller by the margin all round, folded where the flap is; None when too small."""
    from dechirer.core.shape.algebra import keep_within, merge, offset

    assert envelope.inlay is not None
    body, top = tree.panel("body").outline, tree.panel("top").outline
    whole = offset(merge(body, top), -margin.value, corners="mitre")
    lower, upper = keep_within(whole, body), keep_within(whole, top)
    if not lower or not upper:
        return None
    hinge = next(each for each in tree.hinges if each.child == "top")
    length = math.dist(hinge.start, hinge.end)
    along = [
        (
            (x - hinge.start[0]) * (hinge.end[0] - hinge.start[0])
            + (y - hinge.start[1]) * (hinge.end[1] - hinge.start[1])
        )
        / length
        for x, y in upper
        if _off_line(hinge, (x, y)) < 0.01
    ]
    if len(along) < 2:
        return None
    ends = [
        (
            hinge.start[0] + (hinge.end[0] - hinge.start[0]) * at / length,
            hinge.start[1] + (hinge.end[1] - hinge.start[1]) * at / length,
        )
        for at in (min(along), max(along))
    ]
    box = bounds(whole)
    move = translate(-box.left, -box.top)
    panels = (Panel("inlay-body", "inlay", move.all(lower)), Panel("inlay-top", "inlay flap", move.all(upper)))
    fold = Hinge(
        "fold-top",
        "inlay-body",
        "inlay-top",
        move(ends[0]),
        move(ends[1]),
        "mountain",
        step="fold it with the top flap",
    )
    inner = bounds(lower)
    face = Face("inlay", "inlay-body", "inside", inner.width, inner.height, Affine(a=-1.0, e=box.width))
    width = derive(
        "inlay.width", "inlay width", box.width, "the body and its top flap less {inlay margin} all round", margin
    )
    height = derive(
        "inlay.height", "inlay height", box.height, "the body and its top flap less {inlay margin} all round", margin
    )
    level = Figure("inlay.fold-top.at", "fold of the inlay", abs(move(ends[0])[1]), source="the envelope's own fold")
    edge = Figure("inlay.fold-top.edge", "inlay fold from edge to edge", math.dist(*ends), source="the inlay's width")
    piece = make_piece(
        "inlay",
        letter,
        "envelope inlay",
        PanelTree(panels, (fold,), (face,)),
        move.all(whole),
        paper=envelope.inlay,
        count=setting.brief.count,
        fold=envelope.fold,
        field="construct.envelope.fold",
        width=width,
        height=height,
        at={"fold-top": (level, edge)},
    )
    return piece, [Patch("inlay", "body", lower, envelope.inlay), Patch("inlay", "top", upper, envelope.inlay)]


def _off_line(hinge: Hinge, point: Point) -> float:
    (x0, y0), (x1, y1) = hinge.start, hinge.end
    return abs((point[0] - x0) * (y1 - y0) - (point[1] - y0) * (x1 - x0)) / math.dist(hinge.start, hinge.end)


def _words(style: str, turned: bool) -> tuple[str, str]:
    match style:
        case "hexagon":
            return "{inner width} and {inner height} with flaps √3 ÷ 4 deep on each side", "Half-hexagon flaps."
        case "petal":
            turn = " × (1 + √2 ÷ 2), turned by 45°" if turned else " × 2"
            note = "Opposite petals meet in one point: close it with a sticker or a band."
            return "the larger of {inner width} and {inner height}" + turn, note
        case "fold-over":
            return (
                "{inner width} and {inner height} with side flaps, a back nearly as high, and a top flap",
                "Glue the side flaps, fold the back up over them, close the top flap.",
            )
        case _:
            return (
                "{inner width} and {inner height} with side, bottom and top flaps",
                "Side flaps in, bottom flap up over them.",
            )


def _outline(tree: PanelTree) -> Points:
    """One outline round body and flaps."""
    import shapely

    joined = shapely.union_all([shapely.Polygon(panel.outline) for panel in tree.panels], grid_size=1e-7)
    return tuple((float(x), float(y)) for x, y in list(joined.simplify(0).exterior.coords)[:-1])
