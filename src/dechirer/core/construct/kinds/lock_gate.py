"""Gate with a lock: two doors that meet or cross in the middle, a tongue of one through a slot in the other.

Outside up the sheet is: the right door | the back | the left door with its tongue, and the flap above the back, so the
flat's right end covers the reader's left half. The slot is as long as the neck is broad, with a clearance and the
paper's thickness (common practice: about 1 mm and the thickness); the head is broader, so that it holds.
"""

from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import Struct

from dechirer.core.card.assembly import Made, Threaded
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Line, Measure
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.doors import LEAST_DOOR_MM, door_too_narrow
from dechirer.core.construct.rim import chord_at
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, make_length, parse_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.algebra import keep_within, merge
from dechirer.core.shape.outline import Box, bounds, rectangle
from dechirer.core.shape.silhouettes import unit_outline

TAPER_MM = 6.0
LEAST_NECK_LENGTH_MM = 1.0
LEAST_SLOT_MM = 6.0
"""Paper left between the slot and the door's edges (common practice, no published figure)."""
LEAST_NECK_MM = 6.0
HOLD_MM = 4.0
"""How much broader than its slot the head is at least, both sides together, or it slips out."""
TONGUES = {"heart": 0.92, "disc": 1.0, "bar": 0.5}
"""How far each head reaches along the tongue, for a breadth of 1 across it."""


class LockGate(Decisions, frozen=True):
    """Two doors that meet or overlap, and a tongue of the left one that passes a slot in the right one.

    `neck` is how broad the tongue is in the slot and `head` how broad it is beyond; `set_in` is how far the slot lies
    from the right door's edge. `first` is the door that closes first; with its head `outside` the tongue comes up
    through the slot from below. `flap` is how deep a flap at the top edge is (0: none), and when it closes.
    """

    tongue: Annotated[Literal["heart", "disc", "bar"], Field("Tongue")] = "heart"
    neck: Annotated[Length, Field("Neck of the tongue", 2, 200, drawn=True)] = given("12 mm")
    head: Annotated[Length, Field("Head of the tongue", 2, 300, drawn=True)] = given("32 mm")
    set_in: Annotated[Length, Field("The slot lies in by", 1, 300, drawn=True)] = given("12 mm")
    overlap: Annotated[Length, Field("The doors overlap by", 0, 300, drawn=True)] = given("4 mm")
    first: Annotated[
        Literal["left", "right"],
        Field("Closes first", choices={"left": "left door", "right": "right door"}),
    ] = "left"
    head_shows: Annotated[
        Literal["outside", "inside"],
        Field("Its head lies", choices={"outside": "on the front", "inside": "behind the door"}),
    ] = "outside"
    clearance: Annotated[Length, Field("Clearance of the slot", -20, 50)] = given("1 mm")
    flap: Annotated[Length, Field("Depth of the top flap (0: none)", 0, 400)] = given("0 mm")
    flap_closes: Annotated[Literal["last", "first"], Field("Top flap closes", shows=lambda own: own.flap.mm > 0)] = (
        "last"
    )


def make_head(wanted: LockGate) -> Points:
    """The tongue's head, upright as it is read, its left side at x = 0 and its middle at y = 0 (mm)."""
    across = wanted.head.mm
    along = across * TONGUES[wanted.tongue]
    return translate(0.0, -across / 2).all(unit_outline(wanted.tongue, along, across))


def broadest_slice(head: Points) -> float:
    """How broad a head is where it is broadest across the slot (mm): what has to pass it at one time.

    A heart's lobes and its point do not lie over each other, so this is less than its height from edge to edge.
    """
    turned = tuple((y, x) for x, y in head)
    return max(chord_at(turned, x + step) for x, _ in head for step in (-1e-6, 1e-6))


class _Sizes(Struct, frozen=True):
    """The lock's figures: what was typed, and what follows for doors, slot, neck and tongue."""

    given: dict[str, Figure]
    door: Figure
    slot: Figure
    reach: Figure
    tongue: Figure
    holds: Figure

    @property
    def all(self) -> tuple[Figure, ...]:
        """Every figure of the lock."""
        return (self.door, self.slot, self.reach, self.tongue, self.holds, *self.given.values())


def _size(wanted: LockGate, card: Card) -> _Sizes:
    typed = {
        name: Figure(f"lock.{key}", name, getattr(wanted, key).mm, field=f"construct.lock_gate.{key}")
        for name, key in (
            ("overlap", "overlap"),
            ("neck", "neck"),
            ("head", "head"),
            ("slot set in", "set_in"),
            ("clearance", "clearance"),
            ("top flap", "flap"),
        )
    }
    overlap, neck, set_in, clearance = (typed[name] for name in ("overlap", "neck", "slot set in", "clearance"))
    thickness = card.thickness
    door = derive(
        "lock.door",
        "door width",
        (card.width.value + overlap.value) / 2,
        "({finished width} + {overlap}) ÷ 2",
        card.width,
        overlap,
        note="Two doors of this width cover the front and the overlap.",
    )
    slot = derive(
        "lock.slot",
        "slot length",
        neck.value + clearance.value + thickness.value,
        "{neck} + {clearance} + {" + thickness.name + "}",
        neck,
        clearance,
        thickness,
        note="Long enough for the neck to pass, too short for the head to slip back.",
    )
    least = set_in.value - overlap.value + clearance.value < LEAST_NECK_LENGTH_MM
    reach = derive(
        "lock.neck-length",
        "neck length",
        LEAST_NECK_LENGTH_MM if least else set_in.value - overlap.value + clearance.value,
        f"{LEAST_NECK_LENGTH_MM:g} mm" if least else "{slot set in} − {overlap} + {clearance}",
        *(() if least else (set_in, overlap, clearance)),
        note="From the left door's edge to just beyond the slot.",
    )
    share = TONGUES[wanted.tongue]
    tongue = derive(
        "lock.tongue",
        "tongue",
        reach.value + share * wanted.head.mm,
        "{neck length} + " + f"{share:g} × " + "{head}",
        reach,
        typed["head"],
        note="From the left door's edge to the tongue's end.",
    )
    broad = broadest_slice(make_head(wanted))
    holds = Figure("lock.head-across", "head at its broadest", broad, source=f"the {wanted.tongue} across the slot")
    return _Sizes(typed, door, slot, reach, tongue, holds)


def _shrink_head(wanted: LockGate, card: Card) -> tuple[Mend, ...]:
    """What makes the packet close square: a head that does not reach past the card."""
    small = make_length(min(wanted.head.mm, card.width.value * 0.25), card.units)
    neck = make_length(min(wanted.neck.mm, small.mm * 0.4), card.units)
    changes = (Change("construct.lock_gate.head", small), Change("construct.lock_gate.neck", neck))
    return (Mend(f"Make the head {format_length(small.mm, card.units)}", changes),)


@CONSTRUCTIONS.add(
    "lock-gate",
    title="Locking gate",
    group="locks",
    order=50,
    decisions=LockGate,
    liner="centre",
    to_close_square=_shrink_head,
)
def make_lock_gate(wanted: LockGate, card: Card) -> Made:
    """A locking gate in one piece."""
    sizes = _size(wanted, card)
    door, slot, reach = sizes.door, sizes.slot, sizes.reach
    set_in, overlap, flap = (sizes.given[name].value for name in ("slot set in", "overlap", "top flap"))
    wide, high = card.width.value, card.height.value
    tree, _ = make_lock_tree(wanted, wide, high, flap, reach.value)
    middle = flap + high / 2
    slot_path = ((set_in, middle - slot.value / 2), (set_in, middle + slot.value / 2))
    outline = merge(*(panel.outline for panel in tree.panels))
    box = bounds(outline)
    width = derive(
        "base.width",
        "base width",
        box.width,
        "{finished width} + 2 × {door width} + {tongue}",
        card.width,
        door,
        sizes.tongue,
    )
    height = derive(
        "base.height",
        "base height",
        box.height,
        "{finished height}" + (" + {top flap}" if flap else ""),
        card.height,
        *((sizes.given["top flap"],) if flap else ()),
    )
    base = make_base(
        card,
        tree,
        outline,
        width=width,
        height=height,
        at=_place_folds(card, sizes),
        inner=(Line("base-slot", "slot", "cut", (slot_path,), role="slit"),),
        measures=_measure(wanted, card, sizes, box),
    )
    left_edge = 2 * door.value + wide
    return Made(
        tree,
        (base,),
        {panel.id: "base" for panel in tree.panels},
        sizes.all,
        threaded=_thread(wanted, tree, left_edge + max(0.0, set_in - overlap), box),
    )


def _place_folds(card: Card, sizes: _Sizes) -> dict[str, tuple[Figure, Figure]]:
    """Where each fold lies and how long it is."""
    door, flap = sizes.door, sizes.given["top flap"]
    first = derive("base.fold-right.at", "first fold", door.value, "{door width}", door)
    second = derive(
        "base.fold-left.at",
        "second fold",
        door.value + card.width.value,
        "{door width} + {finished width}",
        door,
        card.width,
    )
    at = {"fold-left": (second, card.height), "fold-right": (first, card.height)}
    if flap.value:
        at["fold-flap"] = (derive("base.fold-flap.at", "top fold", flap.value, "{top flap}", flap), card.width)
    return at


def _measure(wanted: LockGate, card: Card, sizes: _Sizes, box: Box) -> tuple[Measure, ...]:
    """The lock's measures where they lie on the base."""
    wide, high = card.width.value, card.height.value
    door, slot, reach = sizes.door.value, sizes.slot.value, sizes.reach.value
    set_in, neck, overlap, flap = (sizes.given[name] for name in ("slot set in", "neck", "overlap", "top flap"))
    left_edge, middle, low = 2 * door + wide, flap.value + high / 2, flap.value + high * 0.86
    across = left_edge + reach * 0.5
    half = wanted.head.mm / 2
    measures = [
        Measure(set_in, (0.0, middle - slot), (set_in.value, middle - slot), "slot in"),
        Measure(neck, (across, middle + neck.value / 2), (across, middle - neck.value / 2), "neck", 18.0),
        Measure(sizes.given["head"], (box.right, middle + half), (box.right, middle - half), "head", 14.0),
        Measure(overlap, (left_edge - overlap.value, low), (left_edge, low), "overlap"),
    ]
    if flap.value:
        measures.append(Measure(flap, (door + wide * 0.3, flap.value), (door + wide * 0.3, 0.0), "flap"))
    return tuple(measures)


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


@CHECKS.add("construct.order-impossible", of=make_lock_gate)
def find_impossible_order(seen: Seen[LockGate]) -> Iterator[Finding]:
    """The doors close in an order that is possible."""
    wanted = seen.own
    if not is_possible(wanted):
        under = "left" if wanted.head_shows == "outside" else "right"
        other = "inside" if wanted.head_shows == "outside" else "outside"
        yield Finding(
            "construct.order-impossible",
            "stop",
            "The doors cannot close in this order",
            f"The {wanted.first} door closes first, but the tongue passes the slot from "
            f"{'below' if other == 'inside' else 'above'}, so the {under} door has to lie underneath.",
            "The tongue cannot be threaded; the card stays open.",
            "base-fold-left",
            (
                Mend(f"Close the {under} door first", (Change("construct.lock_gate.first", under),)),
                Mend(f"Put the head {other}", (Change("construct.lock_gate.head_shows", other),)),
            ),
        )


@CHECKS.add("construct.strap-wider-than-slot", "construct.lock-slips", "construct.neck-narrow", of=make_lock_gate)
def find_lock_that_fails(seen: Seen[LockGate]) -> Iterator[Finding]:
    """Slot, neck and head hold."""
    wanted, units, slot = seen.own, seen.units, seen.value("lock.slot")
    if wanted.clearance.mm < 0:
        yield Finding(
            "construct.strap-wider-than-slot",
            "stop",
            "The tongue is wider than its slot",
            f"A neck of {format_length(wanted.neck.mm, units)} has to pass a slot of {format_length(slot, units)}.",
            "It creases, or tears the slot open.",
            "base-slot",
            (Mend("Give it 1 mm clearance", (Change("construct.lock_gate.clearance", parse_length("1 mm")),)),),
        )
    broad = seen.value("lock.head-across")
    if broad < slot + HOLD_MM:
        wider = make_length((slot + 3 * HOLD_MM) * wanted.head.mm / broad, units)
        yield Finding(
            "construct.lock-slips",
            "stop",
            "The tongue's head slips through its slot",
            f"The head is {format_length(broad, units)} at its broadest, the slot {format_length(slot, units)} long; "
            f"it holds from {HOLD_MM:.0f} mm more.",
            "The card does not stay closed.",
            "base-slot",
            (Mend(f"Make the head {format_length(wider.mm, units)}", (Change("construct.lock_gate.head", wider),)),),
        )
    if wanted.neck.mm < LEAST_NECK_MM:
        yield Finding(
            "construct.neck-narrow",
            "look",
            "The tongue's neck is narrow",
            f"It is {format_length(wanted.neck.mm, units)}; card holds from {LEAST_NECK_MM:.0f} mm (common "
            "practice, no published figure).",
            "It tears when the card is opened.",
            "base-slot",
            (
                Mend(
                    "Make it 10 mm",
                    (
                        Change("construct.lock_gate.neck", parse_length("10 mm")),
                        Change("construct.lock_gate.head", make_length(max(wanted.head.mm, 30.0), units)),
                    ),
                ),
            ),
        )


@CHECKS.add("construct.door-narrow", of=make_lock_gate)
def find_narrow_doors(seen: Seen[LockGate]) -> Iterator[Finding]:
    """The doors must be wide enough to fold."""
    door, units = seen.value("lock.door"), seen.units
    if door < LEAST_DOOR_MM:
        yield door_too_narrow(
            door, units, Mend("Make the card 60 mm wide", (Change("brief.width", parse_length("60 mm")),))
        )


@CHECKS.add("construct.slot-covered", "construct.slot-near-edge", of=make_lock_gate)
def find_misplaced_slot(seen: Seen[LockGate]) -> Iterator[Finding]:
    """The slot must lie where the tongue reaches it, with paper round it."""
    wanted, units, height = seen.own, seen.units, seen.card.height.value
    slot, door = seen.value("lock.slot"), seen.value("lock.door")
    usual = make_length(max(wanted.overlap.mm, 0.0) + LEAST_SLOT_MM + 2.0, units)
    mend = (Mend(f"Set it in by {format_length(usual.mm, units)}", (Change("construct.lock_gate.set_in", usual),)),)
    if wanted.set_in.mm <= wanted.overlap.mm:
        yield Finding(
            "construct.slot-covered",
            "stop",
            "The slot lies under the other door",
            f"It is {format_length(wanted.set_in.mm, units)} from the edge, and the doors overlap by "
            f"{format_length(wanted.overlap.mm, units)}.",
            "The tongue cannot reach it.",
            "base-slot",
            mend,
        )
        return
    frame = min(wanted.set_in.mm, door - wanted.set_in.mm, (height - slot) / 2)
    if frame < LEAST_SLOT_MM - 1e-9:
        smaller = make_length(max(8.0, min(wanted.neck.mm, height - 2 * LEAST_SLOT_MM - 4.0)), units)
        if wanted.set_in.mm >= LEAST_SLOT_MM and (height - slot) / 2 < LEAST_SLOT_MM:
            mend = (
                Mend(
                    f"Make the neck {format_length(smaller.mm, units)}", (Change("construct.lock_gate.neck", smaller),)
                ),
            )
        yield Finding(
            "construct.slot-near-edge",
            "stop" if frame < 2.0 else "look",
            "The slot is too near an edge or fold",
            f"{format_length(max(frame, 0.0), units)} of paper is left beside it; it holds from "
            f"{LEAST_SLOT_MM:.0f} mm.",
            "The slot tears out when the tongue is pulled.",
            "base-slot",
            mend,
        )


@CHECKS.add("construct.flap-covers-lock", of=make_lock_gate)
def find_flap_over_lock(seen: Seen[LockGate]) -> Iterator[Finding]:
    """A top flap that closes last must not lie on the tongue's head."""
    wanted, units, height = seen.own, seen.units, seen.card.height.value
    covers = wanted.flap.mm > height / 2 - wanted.head.mm / 2
    if wanted.flap.mm and wanted.flap_closes == "last" and wanted.head_shows == "outside" and covers:
        shorter = make_length(max(10.0, height / 2 - wanted.head.mm / 2 - 5.0), units)
        yield Finding(
            "construct.flap-covers-lock",
            "look",
            "The top flap covers the lock",
            f"It is {format_length(wanted.flap.mm, units)} deep and closes last, over the tongue's head.",
            "The lock is hidden, and the flap does not lie flat on it.",
            "base-fold-flap",
            (
                Mend(f"Make it {format_length(shorter.mm, units)}", (Change("construct.lock_gate.flap", shorter),)),
                Mend("Close it first", (Change("construct.lock_gate.flap_closes", "first"),)),
            ),
        )
