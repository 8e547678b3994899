"""Gate with a lock: two doors that meet or cross in the middle, a tongue of one through a slot in the other.

Outside up the sheet is: the right door | the back | the left door with its tongue, and the flap above the back, so the
flat's right end covers the reader's left half. The slot is as long as the neck is broad, with a clearance and the
paper's thickness (common practice: about 1 mm and the thickness); the head is broader, so that it holds.
"""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.construct.making import derive, make_piece
from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.piece import Line, Measure
from dechirer.core.construct.setting import Made, Setting, Threaded
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.constructing import LockGate
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, make_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.algebra import keep_within, merge
from dechirer.core.shape.outline import Box, bounds, rectangle
from dechirer.core.shape.silhouettes import unit_outline

TAPER_MM = 6.0
LEAST_DOOR_MM = 20.0
"""A narrower door does not stay folded (common practice: no hinge part under 20 mm)."""
LEAST_SLOT_MM = 6.0
"""Paper left between the slot and the door's edges (common practice, no published figure)."""
LEAST_NECK_MM = 6.0
HOLD_MM = 4.0
"""How much broader than its slot the head is at least, both sides together, or it slips out."""
TONGUES = {"heart": 0.92, "disc": 1.0, "bar": 0.5}
"""How far each head reaches along the tongue, for a breadth of 1 across it."""


def make_head(wanted: LockGate) -> Points:
    """The tongue's head, upright as it is read, its left side at x = 0 and its middle at y = 0 (mm)."""
    across = wanted.head.mm
    along = across * TONGUES[wanted.tongue]
    return translate(0.0, -across / 2).all(unit_outline(wanted.tongue, along, across))


def make_lock_gate(setting: Setting) -> Made:
    """A locking gate in one piece."""
    wanted, facts = setting.construct.lock, setting.facts
    thickness = facts.paper(setting.brief.base_paper).thickness
    given = {
        name: Figure(f"lock.{key}", name, getattr(wanted, key).mm, field=f"construct.lock.{key}")
        for name, key in (
            ("overlap", "overlap"),
            ("neck", "neck"),
            ("head", "head"),
            ("slot set in", "set_in"),
            ("clearance", "clearance"),
            ("top flap", "flap"),
        )
    }
    overlap, neck, set_in = given["overlap"], given["neck"], given["slot set in"]
    door = derive(
        "lock.door",
        "door width",
        (facts.width.value + overlap.value) / 2,
        "({finished width} + {overlap}) ÷ 2",
        facts.width,
        overlap,
        note="Two doors of this width cover the front and the overlap.",
    )
    slot = derive(
        "lock.slot",
        "slot length",
        neck.value + given["clearance"].value + thickness.value,
        "{neck} + {clearance} + {" + thickness.name + "}",
        neck,
        given["clearance"],
        thickness,
        note="Long enough for the neck to pass, too short for the head to slip back.",
    )
    reach = derive(
        "lock.neck-length",
        "neck length",
        max(1.0, set_in.value - overlap.value + given["clearance"].value),
        "{slot set in} − {overlap} + {clearance}",
        set_in,
        overlap,
        given["clearance"],
        note="From the left door's edge to just beyond the slot.",
    )
    wide, high, flap = facts.width.value, facts.height.value, given["top flap"].value
    tree, _ = make_lock_tree(wanted, wide, high, flap, reach.value)
    middle = flap + high / 2
    slot_path = ((set_in.value, middle - slot.value / 2), (set_in.value, middle + slot.value / 2))
    outline = merge(*(panel.outline for panel in tree.panels))
    box = bounds(outline)
    width = derive(
        "base.width",
        "base width",
        box.width,
        "{finished width} + 2 × {door width} + the tongue",
        facts.width,
        door,
        reach,
        given["head"],
    )
    height = derive(
        "base.height",
        "base height",
        box.height,
        "{finished height}" + (" + {top flap}" if flap else ""),
        facts.height,
        *((given["top flap"],) if flap else ()),
    )
    first = derive("base.fold-right.at", "first fold", door.value, "{door width}", door)
    second = derive(
        "base.fold-left.at", "second fold", door.value + wide, "{door width} + {finished width}", door, facts.width
    )
    at = {"fold-left": (second, facts.height), "fold-right": (first, facts.height)}
    if flap:
        at["fold-flap"] = (derive("base.fold-flap.at", "top fold", flap, "{top flap}", given["top flap"]), facts.width)
    left_edge = door.value + wide + door.value
    low = flap + high * 0.86
    measures = [
        Measure(set_in, (0.0, middle - slot.value), (set_in.value, middle - slot.value), "slot in"),
        Measure(
            neck,
            (left_edge + reach.value * 0.5, middle + neck.value / 2),
            (left_edge + reach.value * 0.5, middle - neck.value / 2),
            "neck",
            18.0,
        ),
        Measure(
            given["head"],
            (box.right, middle + wanted.head.mm / 2),
            (box.right, middle - wanted.head.mm / 2),
            "head",
            14.0,
        ),
        Measure(overlap, (left_edge - overlap.value, low), (left_edge, low), "overlap"),
    ]
    if flap:
        measures.append(
            Measure(given["top flap"], (door.value + wide * 0.3, flap), (door.value + wide * 0.3, 0.0), "flap")
        )
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
        inner=(Line("base-slot", "slot", "cut", (slot_path,), role="slit"),),
        measures=tuple(measures),
    )
    threaded = _thread(wanted, tree, left_edge + max(0.0, set_in.value - overlap.value), box)
    return Made(
        tree,
        (base,),
        {panel.id: "base" for panel in tree.panels},
        (door, slot, reach, *given.values()),
        threaded=threaded,
    )


def make_lock_tree(
    wanted: LockGate, width: float, height: float, flap: float, reach: float
) -> tuple[PanelTree, Points]:
    """Panels of a locking gate of width x height closed (mm) with a flap of that depth, and the outline of its tongue.

    `reach` is how long the neck is.
    """
    door = (width + wanted.overlap.mm) / 2
    far, edge, middle = door + width, 2 * door + width, flap + height / 2
    head = translate(edge + reach, middle).all(make_head(wanted))
    into = reach + wanted.head.mm * TONGUES[wanted.tongue] / 2
    neck = rectangle(into + 1.0, wanted.neck.mm, at=(edge - 1.0, middle - wanted.neck.mm / 2))
    tongue = merge(neck, head)
    left = merge(rectangle(door, height, at=(far, flap)), tongue)
    order = {"door-left": 1, "door-right": 2} if wanted.first == "left" else {"door-right": 1, "door-left": 2}
    if flap:
        order["flap"] = 3 if wanted.flap_closes == "last" else 0
    panels = [
        Panel("back", "back", rectangle(width, height, at=(door, flap))),
        Panel("door-right", "right door", rectangle(door, height, at=(0.0, flap))),
        Panel("door-left", "left door", left),
    ]
    steps = {"door-left": "close the left door", "door-right": "close the right door", "flap": "close the top flap"}
    if wanted.head_shows == "outside":
        steps["door-right"] += ", tongue up through its slot"
    else:
        steps["door-left"] += ", tongue down into the slot"
    ends = {
        "door-left": ((far, flap), (far, flap + height)),
        "door-right": ((door, flap), (door, flap + height)),
        "flap": ((door, flap), (far, flap)),
    }
    hinges = [
        Hinge(
            f"fold-{name.removeprefix('door-')}", "back", name, *ends[name], "mountain", order=place, step=steps[name]
        )
        for name, place in sorted(order.items(), key=lambda each: each[1])
    ]
    faces = [
        Face("front left", "door-left", "outside", door, height, translate(far, flap)),
        Face("front right", "door-right", "outside", door, height, translate(0.0, flap)),
        Face("inside left", "door-left", "inside", door, height, Affine(a=-1.0, e=far + door, f=flap)),
        Face("inside centre", "back", "inside", width, height, Affine(a=-1.0, e=far, f=flap)),
        Face("inside right", "door-right", "inside", door, height, Affine(a=-1.0, e=door, f=flap)),
        Face("back", "back", "outside", width, height, translate(door, flap)),
    ]
    if flap:
        inset = min(TAPER_MM, width / 4)
        panels.append(Panel("flap", "top flap", ((door, flap), (door + inset, 0.0), (far - inset, 0.0), (far, flap))))
        # Folded down over the front its outside is upside down on the sheet.
        faces.append(Face("flap", "flap", "outside", width, flap, Affine(-1.0, 0.0, 0.0, -1.0, far, flap)))
    return PanelTree(tuple(panels), tuple(hinges), tuple(faces)), tongue


def is_possible(wanted: LockGate) -> bool:
    """Whether the doors can close in this order: what lies under the other's slot has to be closed before it."""
    return (wanted.first == "left") == (wanted.head_shows == "outside")


def _thread(wanted: LockGate, tree: PanelTree, through: float, box: Box) -> tuple[Threaded, ...]:
    """The head beyond the slot at x = `through` on the sheet: above the right door, or behind it."""
    panel = tree.panel("door-left").outline
    rest = keep_within(panel, ((box.left, box.top), (through, box.top), (through, box.bottom), (box.left, box.bottom)))
    head = keep_within(
        panel, ((through, box.top), (box.right, box.top), (box.right, box.bottom), (through, box.bottom))
    )
    if not (is_possible(wanted) and rest and head):
        return ()
    if wanted.head_shows == "outside":
        return (Threaded("door-left", rest, head, 2),)
    return (Threaded("door-left", rest, head, -2, spread="door-right"),)


def check_lock_gate(job: Job, made: Made) -> Iterator[Finding]:
    """The doors close in an order that is possible; slot, neck and head hold."""
    wanted, units = job.construct.lock, job.units
    figures = {figure.key: figure for figure in made.figures}
    slot, door = figures["lock.slot"].value, figures["lock.door"].value
    if not is_possible(wanted):
        under = "left" if wanted.head_shows == "outside" else "right"
        other = "inside" if wanted.head_shows == "outside" else "outside"
        yield Finding(
            "construct.order-impossible",
            "stop",
            "construct",
            "The doors cannot close in this order",
            f"The {wanted.first} door closes first, but the tongue passes the slot from "
            f"{'below' if other == 'inside' else 'above'}, so the {under} door has to lie underneath.",
            "The tongue cannot be threaded; the card stays open.",
            "base-fold-left",
            (
                Mend(f"Close the {under} door first", (Change("construct.lock.first", under),)),
                Mend(f"Put the head {other}", (Change("construct.lock.head_shows", other),)),
            ),
        )
    if wanted.clearance.mm < 0:
        yield Finding(
            "construct.strap-wider-than-slot",
            "stop",
            "construct",
            "The tongue is wider than its slot",
            f"A neck of {format_length(wanted.neck.mm, units)} has to pass a slot of {format_length(slot, units)}.",
            "It creases, or tears the slot open.",
            "base-slot",
            (Mend("Give it 1 mm clearance", (Change("construct.lock.clearance", parse_length("1 mm")),)),),
        )
    if wanted.head.mm < slot + HOLD_MM:
        wider = make_length(slot + 3 * HOLD_MM, units)
        yield Finding(
            "construct.lock-slips",
            "stop",
            "construct",
            "The tongue's head slips through its slot",
            f"The head is {format_length(wanted.head.mm, units)} across, the slot {format_length(slot, units)} long; "
            f"it holds from {HOLD_MM:.0f} mm more.",
            "The card does not stay closed.",
            "base-slot",
            (Mend(f"Make the head {format_length(wider.mm, units)}", (Change("construct.lock.head", wider),)),),
        )
    if wanted.neck.mm < LEAST_NECK_MM:
        yield Finding(
            "construct.neck-narrow",
            "look",
            "construct",
            "The tongue's neck is narrow",
            f"It is {format_length(wanted.neck.mm, units)}; card holds from {LEAST_NECK_MM:.0f} mm (common "
            "practice, no published figure).",
            "It tears when the card is opened.",
            "base-slot",
            (
                Mend(
                    "Make it 10 mm",
                    (
                        Change("construct.lock.neck", parse_length("10 mm")),
                        Change("construct.lock.head", make_length(max(wanted.head.mm, 30.0), units)),
                    ),
                ),
            ),
        )
    yield from _check_slot_place(job, slot, door)
    yield from _check_flap(job)
    if door < LEAST_DOOR_MM:
        yield Finding(
            "construct.door-narrow",
            "stop",
            "construct",
            "The doors are too narrow to fold",
            f"Each is {format_length(door, units)} wide; under {LEAST_DOOR_MM:.0f} mm a door does not stay folded "
            "(common practice).",
            "They spring open or tear.",
            "base",
            (Mend("Make the card 60 mm wide", (Change("brief.width", parse_length("60 mm")),)),),
        )


def _check_slot_place(job: Job, slot: float, door: float) -> Iterator[Finding]:
    wanted, units = job.construct.lock, job.units
    usual = make_length(max(wanted.overlap.mm, 0.0) + LEAST_SLOT_MM + 2.0, units)
    mend = (Mend(f"Set it in by {format_length(usual.mm, units)}", (Change("construct.lock.set_in", usual),)),)
    if wanted.set_in.mm <= wanted.overlap.mm:
        yield Finding(
            "construct.slot-covered",
            "stop",
            "construct",
            "The slot lies under the other door",
            f"It is {format_length(wanted.set_in.mm, units)} from the edge, and the doors overlap by "
            f"{format_length(wanted.overlap.mm, units)}.",
            "The tongue cannot reach it.",
            "base-slot",
            mend,
        )
        return
    frame = min(wanted.set_in.mm, door - wanted.set_in.mm, (job.brief.height.mm - slot) / 2)
    if frame < LEAST_SLOT_MM - 1e-9:
        smaller = make_length(max(8.0, min(wanted.neck.mm, job.brief.height.mm - 2 * LEAST_SLOT_MM - 4.0)), units)
        if wanted.set_in.mm >= LEAST_SLOT_MM and (job.brief.height.mm - slot) / 2 < LEAST_SLOT_MM:
            mend = (
                Mend(f"Make the neck {format_length(smaller.mm, units)}", (Change("construct.lock.neck", smaller),)),
            )
        yield Finding(
            "construct.slot-near-edge",
            "stop" if frame < 2.0 else "look",
            "construct",
            "The slot is too near an edge or fold",
            f"{format_length(max(frame, 0.0), units)} of paper is left beside it; it holds from "
            f"{LEAST_SLOT_MM:.0f} mm.",
            "The slot tears out when the tongue is pulled.",
            "base-slot",
            mend,
        )


def _check_flap(job: Job) -> Iterator[Finding]:
    wanted, height = job.construct.lock, job.brief.height.mm
    covers = wanted.flap.mm > height / 2 - wanted.head.mm / 2
    if wanted.flap.mm and wanted.flap_closes == "last" and wanted.head_shows == "outside" and covers:
        shorter = make_length(max(10.0, height / 2 - wanted.head.mm / 2 - 5.0), job.units)
        yield Finding(
            "construct.flap-covers-lock",
            "look",
            "construct",
            "The top flap covers the lock",
            f"It is {format_length(wanted.flap.mm, job.units)} deep and closes last, over the tongue's head.",
            "The lock is hidden, and the flap does not lie flat on it.",
            "base-fold-flap",
            (
                Mend(f"Make it {format_length(shorter.mm, job.units)}", (Change("construct.lock.flap", shorter),)),
                Mend("Close it first", (Change("construct.lock.flap_closes", "first"),)),
            ),
        )
