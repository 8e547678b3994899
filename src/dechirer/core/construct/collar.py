"""Collar and strap: a side fold whose back carries flaps along its top edge and a strap between them.

The front closes first, then the flaps fold down over it, then the strap, whose end passes a slit in the front and so
keeps the card shut. The slit is as long as the strap is broad, with a clearance and the thickness of what passes it.
Outside up, the sheet is the back | the front, with flaps and strap above the back.
"""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.construct.foldline import perforation_starts
from dechirer.core.construct.making import derive, make_piece, times
from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.piece import Line, Measure, Piece
from dechirer.core.construct.setting import Made, Patch, Setting, Threaded
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.constructing import Collar, Fold
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, make_length, parse_length
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


def make_collar(setting: Setting) -> Made:
    """A collar card, and the strap's facing when it has one."""
    wanted, facts = setting.construct.collar, setting.facts
    thickness = facts.paper(setting.brief.base_paper).thickness
    given = {
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
    tree = make_collar_tree(wanted, facts.width.value, facts.height.value)
    wide, high = facts.width.value, facts.height.value
    through = [thickness]
    if wanted.facing is not None:
        through.append(facts.paper(wanted.facing).thickness)
    slit = derive(
        "collar.slit",
        "slit length",
        wanted.strap.mm + wanted.clearance.mm + sum(each.value for each in through),
        "{strap} + {clearance} + " + " + ".join("{" + each.name + "}" for each in through),
        given["strap"],
        given["clearance"],
        *through,
        note="Long enough for the strap and what is glued on it.",
    )
    length = derive(
        "collar.length",
        "strap length",
        wanted.slit_at.mm + wanted.tuck.mm,
        "{slit below top} + {tuck}",
        given["slit below top"],
        given["tuck"],
    )
    outline = merge(*(panel.outline for panel in tree.panels))
    top = bounds(tree.panel("back").outline).top
    width = times(2, facts.width, "base.width", "base width", note="2 panels side by side, joined at the fold.")
    above = length if length.value >= top - 1e-9 else given["flap depth"]
    height = derive(
        "base.height", "base height", high + top, "{finished height} + {" + above.name + "}", facts.height, above
    )
    at = {"fold": (derive("base.fold.at", "base fold", wide, "{finished width}", facts.width), facts.height)}
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
    y, middle = top + wanted.slit_at.mm, wide * 1.5
    path = ((middle - slit.value / 2, y), (middle + slit.value / 2, y))
    strap = bounds(tree.panel("strap").outline)
    measures = [
        Measure(given["slit below top"], (middle + slit.value * 0.7, y), (middle + slit.value * 0.7, top), "slit at"),
        Measure(
            given["strap"],
            (wide / 2 - wanted.strap.mm / 2, top - length.value * 0.55),
            (wide / 2 + wanted.strap.mm / 2, top - length.value * 0.55),
            "strap",
            0.0,
        ),
        Measure(
            given["neck"],
            (wide / 2 - wanted.neck.mm / 2, top + 2.0),
            (wide / 2 + wanted.neck.mm / 2, top + 2.0),
            "neck",
            12.0,
        ),
        Measure(given["tuck"], (strap.right, strap.top + wanted.tuck.mm), (strap.right, strap.top), "tuck", 14.0),
    ]
    if wanted.flap.mm and flap_breadth(wanted, wide):
        measures.append(Measure(given["flap depth"], (0.0, top), (0.0, top - wanted.flap.mm), "flap", -14.0))
    base = make_piece(
        "base",
        "A",
        "base",
        tree,
        outline,
        paper=setting.brief.base_paper,
        count=setting.brief.count,
        fold=setting.construct.fold,
        field="construct.fold",
        width=width,
        height=height,
        at=at,
        inner=(Line("base-slit", "slit", "cut", (path,), role="slit"),),
        measures=tuple(measures),
    )
    pieces, patches = [base], []
    if wanted.facing is not None:
        facing, patch = _make_facing(setting, tree, top)
        if facing is not None and patch is not None:
            pieces.append(facing)
            patches.append(patch)
    return Made(
        tree,
        tuple(pieces),
        {panel.id: "base" for panel in tree.panels},
        (slit, length, *given.values()),
        tuple(patches),
        _thread(wanted, tree, top),
    )


def _thread(wanted: Collar, tree: PanelTree, top: float) -> tuple[Threaded, ...]:
    """The strap's end beyond the slit lies behind the front."""
    strap = tree.panel("strap").outline
    box = bounds(strap).grown(1.0)
    level = top - wanted.slit_at.mm
    rest = keep_within(strap, rectangle(box.width, box.bottom - level, at=(box.left, level)))
    end = keep_within(strap, rectangle(box.width, level - box.top, at=(box.left, box.top)))
    return (Threaded("strap", rest, end, -2, spread="front"),) if rest and end else ()


def _make_facing(setting: Setting, tree: PanelTree, top: float) -> tuple[Piece | None, Patch | None]:
    """The strap's facing: the strap without its fold, smaller by the reveal; nothing when none of it is left."""
    wanted = setting.construct.collar
    assert wanted.facing is not None
    reveal = Figure("collar.reveal", "facing reveal", wanted.reveal.mm, field="construct.collar.reveal")
    strap = tree.panel("strap").outline
    ring = offset(strap, -wanted.reveal.mm, corners="mitre")
    if not ring:
        return None, None
    box = bounds(ring)
    move = translate(-box.left, -box.top)
    broad = Figure("collar.strap", "strap", wanted.strap.mm, field="construct.collar.strap")
    width = derive("facing.width", "facing width", box.width, "{strap} − 2 × {facing reveal}", broad, reveal)
    height = derive("facing.height", "facing height", box.height, "the strap less {facing reveal} all round", reveal)
    outline = move.all(ring)
    # It lies as it is read: the strap's outside, folded down.
    panel = PanelTree(
        (Panel("facing", "strap facing", outline),),
        (),
        (Face("front", "facing", "outside", box.width, box.height, Affine(-1, 0, 0, -1, box.width, box.height)),),
    )
    piece = make_piece(
        "facing",
        "B",
        "strap facing",
        panel,
        outline,
        paper=wanted.facing,
        count=setting.brief.count,
        fold=Fold(kind="unmarked"),
        field="",
        width=width,
        height=height,
        at={},
    )
    return piece, Patch("facing", "strap", ring, wanted.facing, "outside")


def check_collar(job: Job, made: Made) -> Iterator[Finding]:
    """Slit, neck and flaps hold, and the strap reaches."""
    wanted, units = job.construct.collar, job.units
    slit = next(figure for figure in made.figures if figure.key == "collar.slit").value
    if wanted.clearance.mm < 0:
        yield Finding(
            "construct.strap-wider-than-slot",
            "stop",
            "construct",
            "The strap is wider than its slit",
            f"A strap of {format_length(wanted.strap.mm, units)} has to pass a slit of {format_length(slit, units)}.",
            "It creases, or tears the slit open.",
            "base-slit",
            (Mend("Give it 1 mm clearance", (Change("construct.collar.clearance", parse_length("1 mm")),)),),
        )
    width, height = job.brief.width.mm, job.brief.height.mm
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
            "construct",
            "The slit is too near an edge or fold",
            f"{format_length(max(beside, 0.0), units)} of paper is left beside it; it holds from "
            f"{LEAST_SLIT_MM:.0f} mm.",
            "The front tears when the strap is pulled.",
            "base-slit",
            (Mend("Move it in", tuple(changes)),),
        )
    if wanted.slit_at.mm + wanted.tuck.mm > height:
        usual = make_length(max(5.0, height - wanted.slit_at.mm - 5.0), units)
        yield Finding(
            "construct.strap-too-long",
            "stop",
            "construct",
            "The strap reaches past the bottom of the card",
            f"It is {format_length(wanted.slit_at.mm + wanted.tuck.mm, units)} long; the card is "
            f"{format_length(height, units)} high.",
            "Its end sticks out below.",
            "base-fold-strap",
            (Mend(f"Tuck in {format_length(usual.mm, units)}", (Change("construct.collar.tuck", usual),)),),
        )
    yield from _check_neck(job)
    if wanted.flap.mm and not flap_breadth(wanted, width):
        yield Finding(
            "construct.no-room-for-flaps",
            "look",
            "construct",
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
    """How much paper holds across a fold of that length (mm): all of it, or what a perforation leaves."""
    if fold.kind != "perforate":
        return length
    dashes = perforation_starts(length, fold.ends.mm, fold.dash.mm, fold.land.mm)
    return length - len(dashes) * fold.dash.mm


def _check_neck(job: Job) -> Iterator[Finding]:
    wanted, fold = job.construct.collar, job.construct.fold
    left = paper_left(fold, wanted.neck.mm)
    perforated = fold.kind == "perforate"
    if left >= LEAST_NECK_MM - 1e-9 and not perforated:
        return
    wider = make_length(max(LEAST_NECK_MM, min(wanted.strap.mm, 20.0)), job.units)
    mends = []
    if perforated:
        mends.append(Mend("Score the folds", (Change("construct.fold.kind", "score"),)))
    if wanted.neck.mm < LEAST_NECK_MM:
        score = (Change("construct.fold.kind", "score"),) if perforated else ()
        broader = Mend(
            f"Make it {format_length(wider.mm, job.units)}", (Change("construct.collar.neck", wider), *score)
        )
        mends.insert(0, broader)
    yield Finding(
        "construct.neck-narrow",
        "stop" if left < LEAST_NECK_MM / 2 else "look",
        "construct",
        "The strap's neck is weak",
        f"{format_length(left, job.units)} of paper holds it; it lasts from {LEAST_NECK_MM:.0f} mm (common practice)."
        + (" Its fold is perforated, and perforated necks tear." if perforated else ""),
        "The strap tears off when it is folded.",
        "base-fold-strap",
        tuple(mends),
    )
