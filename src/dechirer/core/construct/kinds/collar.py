"""Collar and strap: a side fold whose back carries flaps along its top edge and a strap between them.

The front closes first, then the flaps fold down over it, then the strap, whose end passes a slit in the front and so
keeps the card shut. The slit is as long as the strap is broad, with a clearance and the thickness of what passes it.
Outside up, the sheet is the back | the front, with flaps and strap above the back.
"""

from collections.abc import Iterator
from typing import Annotated

from msgspec import structs

from dechirer.core.card.assembly import Made, Patch, Threaded
from dechirer.core.card.fold import FOLD_KINDS, Fold
from dechirer.core.card.foldline import TICK_MM, perforation_starts
from dechirer.core.card.making import derive, letter_of, make_piece, times
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Line, Measure, Piece
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.rim import chord_at
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, make_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.algebra import keep_within, merge, offset
from dechirer.core.shape.outline import bounds, rectangle

GAP_MM = 3.0
"""Between the strap and the flap beside it, so that both fold freely."""
SHOULDER_MM = 12.0
"""Over this much of its length the strap broadens from its neck."""
LEAST_SLIT_MM = 6.0
LEAST_NECK_MM = 12.0
"""Paper a neck needs to last: less tears at the fold (common practice; perforated necks tear first)."""


class Collar(Decisions, frozen=True):
    """Two flaps along the top edge, and a strap between them that folds down over the front and passes a slit.

    `flap` is how deep the flaps are (0: none); `strap` how broad the strap is, `neck` how broad at its fold; `slit_at`
    how far below the top the slit lies, and `tuck` how far the strap goes in behind it. `facing` is the paper of a
    piece glued on the strap, `flap_facing` of one on each flap, smaller than that by `reveal` on each side.
    """

    flap: Annotated[Length, Field("Depth of the flaps (0: none)", 0, 300, drawn=True)] = given("30 mm")
    strap: Annotated[Length, Field("Width of the strap", 4, 300, drawn=True)] = given("26 mm")
    neck: Annotated[Length, Field("Neck of the strap", 2, 300, drawn=True)] = given("20 mm")
    slit_at: Annotated[Length, Field("Slit below the top", 5, 500, drawn=True)] = given("60 mm")
    tuck: Annotated[Length, Field("The strap goes in by", 3, 200, drawn=True)] = given("20 mm")
    facing: Annotated[Identifier | None, Field("Strap faced with", takes="paper", none="not faced")] = None
    flap_facing: Annotated[Identifier | None, Field("Flaps faced with", takes="paper", none="not faced")] = None
    reveal: Annotated[
        Length,
        Field(
            "Facing smaller by, each side",
            0,
            50,
            shows=lambda own: own.facing is not None or own.flap_facing is not None,
        ),
    ] = given("2 mm")
    clearance: Annotated[Length, Field("Clearance of the slit", -20, 50)] = given("1 mm")


def strap_outline(wanted: Collar, middle: float, fold: float) -> Points:
    """The strap above a fold at that height, pointed at its end (mm)."""
    neck, half, length = wanted.neck.mm / 2, wanted.strap.mm / 2, wanted.slit_at.mm + wanted.tuck.mm
    shoulder = min(SHOULDER_MM, length / 4)
    point = min(half, wanted.tuck.mm)
    return (
        (middle - neck, fold),
        (middle - half, fold - shoulder),
        (middle - half, fold - length + point),
        (middle, fold - length),
        (middle + half, fold - length + point),
        (middle + half, fold - shoulder),
        (middle + neck, fold),
    )


def broadest_in_slit(wanted: Collar) -> float:
    """How wide the strap is at most from the slit to its end (mm): near its fold it widens or narrows to the neck."""
    strap = strap_outline(wanted, 0.0, 0.0)
    below = [(x, -y) for x, y in strap if -y >= wanted.slit_at.mm]
    at_slit = chord_at(tuple((x, -y) for x, y in strap), wanted.slit_at.mm)
    return max([2 * abs(x) for x, _ in below] + [at_slit])


def flap_breadth(wanted: Collar, width: float) -> float:
    """How broad each flap is along the top edge (mm); 0 when there are none or no room is left beside the strap."""
    free = (width - max(wanted.strap.mm, wanted.neck.mm)) / 2 - GAP_MM
    return free if wanted.flap.mm > 0 and free > GAP_MM else 0.0


def make_collar_tree(wanted: Collar, width: float, height: float) -> PanelTree:
    """Panels of a collar card of width x height closed (mm)."""
    broad = flap_breadth(wanted, width)
    depth = wanted.flap.mm if broad else 0.0
    top = max(depth, wanted.slit_at.mm + wanted.tuck.mm)
    panels = [
        Panel("back", "back", rectangle(width, height, at=(0.0, top))),
        Panel("front", "front", rectangle(width, height, at=(width, top))),
    ]
    hinges = [
        Hinge("fold", "back", "front", (width, top), (width, top + height), "mountain", order=1, step="close the front")
    ]
    if broad:
        left = ((0.0, top), (0.0, top - depth * 0.55), (broad * 0.55, top - depth), (broad, top))
        right = tuple((width - x, y) for x, y in reversed(left))
        panels += [Panel("flap-left", "left flap", left), Panel("flap-right", "right flap", right)]
        hinges += [
            Hinge(
                f"fold-flap-{side}",
                "back",
                f"flap-{side}",
                start,
                end,
                "mountain",
                order=2,
                step="fold the collar down",
            )
            for side, start, end in (("left", (0.0, top), (broad, top)), ("right", (width - broad, top), (width, top)))
        ]
    middle, neck = width / 2, wanted.neck.mm / 2
    panels.append(Panel("strap", "strap", strap_outline(wanted, middle, top)))
    hinges.append(
        Hinge(
            "fold-strap",
            "back",
            "strap",
            (middle - neck, top),
            (middle + neck, top),
            "mountain",
            order=3,
            step="strap down and into the slit",
        )
    )
    length = wanted.slit_at.mm + wanted.tuck.mm
    half = max(wanted.strap.mm, wanted.neck.mm) / 2
    faces = (
        Face("front", "front", "outside", width, height, translate(width, top)),
        Face("inside left", "front", "inside", width, height, Affine(a=-1.0, e=2 * width, f=top)),
        Face("inside right", "back", "inside", width, height, Affine(a=-1.0, e=width, f=top)),
        Face("back", "back", "outside", width, height, translate(0.0, top)),
        # Folded down, the strap's outside is read upside down on the sheet.
        Face("strap", "strap", "outside", 2 * half, length, Affine(-1.0, 0.0, 0.0, -1.0, middle + half, top)),
    )
    return PanelTree(tuple(panels), tuple(hinges), faces)


@CONSTRUCTIONS.add("collar", title="Collar card", group="locks", order=80, decisions=Collar, liner="centre")
def make_collar(wanted: Collar, card: Card) -> Made:
    """A collar card, and the strap's facing when it has one."""
    wide, high = card.width.value, card.height.value
    typed = {
        name: Figure(f"collar.{key}", name, getattr(wanted, key).mm, field=f"construct.collar.{key}")
        for name, key in (
            ("flap depth", "flap"),
            ("strap", "strap"),
            ("neck", "neck"),
            ("slit below top", "slit_at"),
            ("tuck", "tuck"),
            ("clearance", "clearance"),
        )
    }
    tree = make_collar_tree(wanted, wide, high)
    slit, length = _size_slit(wanted, card, typed), _size_strap(wanted, typed)
    top = bounds(tree.panel("back").outline).top
    width = times(2, card.width, "base.width", "base width", note="2 panels side by side, joined at the fold.")
    above = length if length.value >= top - 1e-9 else typed["flap depth"]
    height = derive(
        "base.height", "base height", high + top, "{finished height} + {" + above.name + "}", card.height, above
    )
    y, middle = top + wanted.slit_at.mm, wide * 1.5
    path = ((middle - slit.value / 2, y), (middle + slit.value / 2, y))
    base = make_base(
        card,
        tree,
        merge(*(panel.outline for panel in tree.panels)),
        width=width,
        height=height,
        at=_place_folds(card, tree, above, top),
        inner=(Line("base-slit", "slit", "cut", (path,), role="slit"),),
        measures=_measure(wanted, card, tree, typed, slit.value, length.value),
    )
    pieces, patches = [base], []
    for panel, paper in _faced(wanted, tree):
        facing, patch = _make_facing(wanted, card, tree, panel, paper, letter_of(len(pieces)))
        if facing is not None and patch is not None:
            pieces.append(facing)
            patches.append(patch)
    return Made(
        tree,
        tuple(pieces),
        {panel.id: "base" for panel in tree.panels},
        (slit, length, *typed.values()),
        tuple(patches),
        _thread(wanted, tree, top),
    )


def _size_slit(wanted: Collar, card: Card, typed: dict[str, Figure]) -> Figure:
    through = [card.thickness]
    if wanted.facing is not None:
        through.append(card.facts.paper(wanted.facing).thickness)
    return derive(
        "collar.slit",
        "slit length",
        wanted.strap.mm + wanted.clearance.mm + sum(each.value for each in through),
        "{strap} + {clearance} + " + " + ".join("{" + each.name + "}" for each in through),
        typed["strap"],
        typed["clearance"],
        *through,
        note="Long enough for the strap and what is glued on it.",
    )


def _size_strap(wanted: Collar, typed: dict[str, Figure]) -> Figure:
    return derive(
        "collar.length",
        "strap length",
        wanted.slit_at.mm + wanted.tuck.mm,
        "{slit below top} + {tuck}",
        typed["slit below top"],
        typed["tuck"],
    )


def _place_folds(card: Card, tree: PanelTree, above: Figure, top: float) -> dict[str, tuple[Figure, Figure]]:
    """Where each fold lies and how long it is; `top` is how far below the sheet's edge the back begins."""
    fold = derive("base.fold.at", "base fold", card.width.value, "{finished width}", card.width)
    at = {"fold": (fold, card.height)}
    for hinge in tree.hinges[1:]:
        name = hinge.id.removeprefix("fold-").replace("-", " ")
        at[hinge.id] = (
            derive(f"base.{hinge.id}.at", f"fold of the {name}", top, "{" + above.name + "}", above),
            Figure(
                f"base.{hinge.id}.edge",
                f"{name} from edge to edge",
                abs(hinge.end[0] - hinge.start[0]),
                source="the top edge beside the strap" if "flap" in name else "the neck",
                field="construct.collar.neck" if name == "strap" else None,
            ),
        )
    return at


def _measure(
    wanted: Collar, card: Card, tree: PanelTree, typed: dict[str, Figure], slit: float, length: float
) -> tuple[Measure, ...]:
    """What was typed where it lies on the base."""
    wide = card.width.value
    top = bounds(tree.panel("back").outline).top
    y, middle = top + wanted.slit_at.mm, wide * 1.5
    strap, half, neck = bounds(tree.panel("strap").outline), wanted.strap.mm / 2, wanted.neck.mm / 2
    level = top - length * 0.55
    measures = [
        Measure(typed["slit below top"], (middle + slit * 0.7, y), (middle + slit * 0.7, top), "slit at"),
        Measure(typed["strap"], (wide / 2 - half, level), (wide / 2 + half, level), "strap", 0.0),
        Measure(typed["neck"], (wide / 2 - neck, top + 2.0), (wide / 2 + neck, top + 2.0), "neck", 12.0),
        Measure(typed["tuck"], (strap.right, strap.top + wanted.tuck.mm), (strap.right, strap.top), "tuck", 14.0),
    ]
    if wanted.flap.mm and flap_breadth(wanted, wide):
        measures.append(Measure(typed["flap depth"], (0.0, top), (0.0, top - wanted.flap.mm), "flap", -14.0))
    return tuple(measures)


def _thread(wanted: Collar, tree: PanelTree, top: float) -> tuple[Threaded, ...]:
    """The strap's end beyond the slit lies behind the front."""
    strap = tree.panel("strap").outline
    box = bounds(strap).grown(1.0)
    level = top - wanted.slit_at.mm
    rest = keep_within(strap, rectangle(box.width, box.bottom - level, at=(box.left, level)))
    end = keep_within(strap, rectangle(box.width, level - box.top, at=(box.left, box.top)))
    return (Threaded("strap", rest, end, -2, spread="front"),) if rest and end else ()


def _faced(wanted: Collar, tree: PanelTree) -> list[tuple[str, str]]:
    """The panels that are faced, and with which paper."""
    found = [("strap", wanted.facing)] if wanted.facing is not None else []
    if wanted.flap_facing is not None:
        found += [(panel.id, wanted.flap_facing) for panel in tree.panels if panel.id.startswith("flap-")]
    return found


def _make_facing(
    wanted: Collar, card: Card, tree: PanelTree, on: str, paper: str, letter: str
) -> tuple[Piece | None, Patch | None]:
    """The facing of the strap or a flap: that without its fold, smaller by the reveal; nothing when none is left."""
    id = "facing" if on == "strap" else f"facing-{on.removeprefix('flap-')}"
    name = f"{tree.panel(on).name} facing"
    reveal = Figure("collar.reveal", "facing reveal", wanted.reveal.mm, field="construct.collar.reveal")
    ring = offset(tree.panel(on).outline, -wanted.reveal.mm, corners="mitre")
    if not ring:
        return None, None
    box = bounds(ring)
    move = translate(-box.left, -box.top)
    broad = Figure("collar.strap", "strap", wanted.strap.mm, field="construct.collar.strap")
    source = f"the {tree.panel(on).name}, less the facing reveal all round"
    width = Figure(f"{id}.width", f"{name} width", box.width, source=source, inputs=(reveal,))
    if on == "strap":
        width = derive("facing.width", "facing width", box.width, "{strap} − 2 × {facing reveal}", broad, reveal)
    height = Figure(f"{id}.height", f"{name} height", box.height, source=source, inputs=(reveal,))
    outline = move.all(ring)
    # It lies as it is read: the outside, folded down.
    panel = PanelTree(
        (Panel(id, name, outline),),
        (),
        (Face("front", id, "outside", box.width, box.height, Affine(-1, 0, 0, -1, box.width, box.height)),),
    )
    piece = make_piece(
        id,
        letter,
        name,
        panel,
        outline,
        paper=paper,
        count=card.count,
        fold=Fold(kind="unmarked"),
        field="",
        width=width,
        height=height,
        at={},
    )
    return piece, Patch(id, on, ring, paper, "outside")


@CHECKS.add("construct.strap-wider-than-slot", "construct.slit-near-edge", of=make_collar)
def find_slit_that_fails(seen: Seen[Collar]) -> Iterator[Finding]:
    """The slit must take the strap and have paper round it."""
    wanted, units, slit = seen.own, seen.units, seen.value("collar.slit")
    broad = broadest_in_slit(wanted)
    if broad > wanted.strap.mm + max(wanted.clearance.mm, 0.0) or wanted.clearance.mm < 0:
        ease = (Change("construct.collar.clearance", parse_length("1 mm")),) if wanted.clearance.mm < 0 else ()
        neck = (Change("construct.collar.neck", wanted.strap),) if broad > wanted.strap.mm else ()
        label = "Make its neck no wider than the strap" if neck else "Give it 1 mm clearance"
        yield Finding(
            "construct.strap-wider-than-slot",
            "stop",
            "The strap is wider than its slit",
            f"Where it passes the slit it is {format_length(broad, units)} wide; the slit is "
            f"{format_length(slit, units)} long.",
            "It creases, or tears the slit open.",
            "base-slit",
            (Mend(label, (*neck, *ease)),),
        )
    width, height = seen.card.width.value, seen.card.height.value
    beside = min((width - slit) / 2, wanted.slit_at.mm, height - wanted.slit_at.mm)
    if beside < LEAST_SLIT_MM - 1e-9:
        narrower = make_length(max(6.0, width - 2 * LEAST_SLIT_MM - 6.0), units)
        changes = [
            Change("construct.collar.slit_at", make_length(min(max(12.0, wanted.slit_at.mm), height / 2), units))
        ]
        if (width - slit) / 2 < LEAST_SLIT_MM:
            changes += [Change("construct.collar.strap", narrower), Change("construct.collar.neck", narrower)]
        yield Finding(
            "construct.slit-near-edge",
            "stop" if beside < 1.0 else "look",
            "The slit is too near an edge or fold",
            f"{format_length(max(beside, 0.0), units)} of paper is left beside it; it holds from "
            f"{LEAST_SLIT_MM:.0f} mm.",
            "The front tears when the strap is pulled.",
            "base-slit",
            (Mend("Move it in", tuple(changes)),),
        )


@CHECKS.add("construct.strap-too-long", "construct.no-room-for-flaps", of=make_collar)
def find_strap_and_flaps_without_room(seen: Seen[Collar]) -> Iterator[Finding]:
    """The strap must end on the card, and the flaps want room beside it."""
    wanted, units = seen.own, seen.units
    width, height = seen.card.width.value, seen.card.height.value
    if wanted.slit_at.mm + wanted.tuck.mm > height:
        usual = make_length(max(5.0, height - wanted.slit_at.mm - 5.0), units)
        yield Finding(
            "construct.strap-too-long",
            "stop",
            "The strap reaches past the bottom of the card",
            f"It is {format_length(wanted.slit_at.mm + wanted.tuck.mm, units)} long; the card is "
            f"{format_length(height, units)} high.",
            "Its end sticks out below.",
            "base-fold-strap",
            (Mend(f"Tuck in {format_length(usual.mm, units)}", (Change("construct.collar.tuck", usual),)),),
        )
    if wanted.flap.mm and not flap_breadth(wanted, width):
        yield Finding(
            "construct.no-room-for-flaps",
            "look",
            "There is no room for flaps beside the strap",
            f"The strap takes {format_length(max(wanted.strap.mm, wanted.neck.mm), units)} of "
            f"{format_length(width, units)}.",
            "No flaps are cut.",
            "base-fold-strap",
            (
                Mend(
                    "Make the strap a third as wide",
                    (
                        Change("construct.collar.strap", make_length(width / 3, units)),
                        Change("construct.collar.neck", make_length(width / 4, units)),
                    ),
                ),
            ),
        )


def paper_left(fold: Fold, length: float) -> float:
    """How much paper holds across a fold of that length (mm): all of it, or what ticks or a perforation leave."""
    if fold.kind == "ticks":
        return max(0.0, length - 2 * min(TICK_MM, max(0.0, length / 2 - fold.ends.mm)))
    if fold.kind != "perforate":
        return length
    dashes = perforation_starts(length, fold.ends.mm, fold.dash.mm, fold.land.mm)
    return length - len(dashes) * fold.dash.mm


@CHECKS.add("construct.neck-narrow", of=make_collar)
def find_weak_neck(seen: Seen[Collar]) -> Iterator[Finding]:
    """The strap's neck must have paper enough to hold it."""
    wanted, units = seen.own, seen.units
    base = seen.plan.piece("base")
    kind = next((mark.kind for mark in base.folds if mark.hinge == "fold-strap"), "") if base is not None else ""
    fold = structs.replace(seen.card.fold, kind=kind) if kind in FOLD_KINDS else seen.card.fold
    score_it = Change("construct.fold.kind", "score"), Change("construct.folds.base-fold-strap.kind", "as-others")
    left = paper_left(fold, wanted.neck.mm)
    perforated, cut = fold.kind == "perforate", left < wanted.neck.mm
    if left >= LEAST_NECK_MM - 1e-9 and not perforated:
        return
    wider = make_length(max(LEAST_NECK_MM, min(wanted.strap.mm, 20.0)), units)
    mends = []
    if cut:
        mends.append(Mend("Score the folds", score_it))
    if wanted.neck.mm < LEAST_NECK_MM:
        score = score_it if cut else ()
        broader = Mend(f"Make it {format_length(wider.mm, units)}", (Change("construct.collar.neck", wider), *score))
        mends.insert(0, broader)
    yield Finding(
        "construct.neck-narrow",
        "stop" if left < LEAST_NECK_MM / 2 else "look",
        "The strap's neck is weak",
        f"{format_length(left, units)} of paper holds it; it lasts from {LEAST_NECK_MM:.0f} mm (common practice)."
        + (" Its fold is perforated, and perforated necks tear." if perforated else "")
        + (" Ticks are cut into both its edges." if cut and not perforated else ""),
        "The strap tears off when it is folded.",
        "base-fold-strap",
        tuple(mends),
    )
