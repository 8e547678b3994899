"""Gate held by its top flap: half a head on each door passes a slot in the flap, and both are folded back over it.

Outside up the sheet is: a half | the right door | the back | the left door | a half, and the flap above the back. The
halves hang on the doors' inner edges by a neck and are cut free beside it. The flap turns about the top fold as it
comes down over the standing halves, so a point of a half that is d below that fold and z out from the door passes the
flap at √(d² + z²) from it (plain geometry); the slot reaches from the least of these to the greatest.
"""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import Struct, structs

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree, Stand
from dechirer.core.card.piece import Line, Measure
from dechirer.core.construct.base import make_base
from dechirer.core.construct.card import Card
from dechirer.core.construct.doors import LEAST_DOOR_MM, door_too_narrow
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
from dechirer.core.shape.outline import bounds, rectangle
from dechirer.core.shape.silhouettes import unit_outline

TAPER_MM = 6.0
LEAST_PAPER_MM = 6.0
"""Paper left between the slot and the flap's fold and edge (common practice, no published figure)."""
LEAST_NECK_MM = 6.0
HOLD_MM = 8.0
"""How far each half lies over the flap beside its slot at least, or it lifts off (common practice, from memory)."""
HEADS = {"heart": 0.92, "disc": 1.0, "star": 0.95, "kite": 1.05}
"""How high each head is for a breadth of 1."""


class FlapLock(Decisions, frozen=True):
    """Two doors a gap apart, a flap over both, and a head in two halves that pass its slot and are folded back.

    `breadth` is that of the whole head, `down` how far its middle lies below the card's top edge, `flap` how deep the
    flap is and `neck` how much of the doors' edges the halves hang on.
    """

    head: Annotated[Literal["heart", "disc", "star", "kite"], Field("Head")] = "heart"
    breadth: Annotated[Length, Field("Breadth of the head", 4, 300, drawn=True)] = given("36 mm")
    neck: Annotated[Length, Field("Neck of each half", 2, 200, drawn=True)] = given("14 mm")
    down: Annotated[Length, Field("Its middle lies below the top by", 2, 400, drawn=True)] = given("26 mm")
    flap: Annotated[Length, Field("Depth of the top flap", 10, 400, drawn=True)] = given("54 mm")
    gap: Annotated[Length, Field("Gap between the doors", 0, 50)] = given("1 mm")
    clearance: Annotated[Length, Field("Clearance of the slot", -20, 50)] = given("1 mm")


class Half(Struct, frozen=True):
    """The right half of a head: the door's edge at x = 0, the card's top edge at y = 0 (mm).

    `chord` is where it meets the door's edge, from top to bottom; `near` and `far` are how far from the top fold it
    passes the flap.
    """

    outline: Points
    chord: tuple[float, float]
    near: float
    far: float


def make_half(wanted: FlapLock) -> Half:
    """The right half of the head."""
    broad = wanted.breadth.mm
    high = broad * HEADS[wanted.head]
    top = wanted.down.mm - high / 2
    whole = translate(-broad / 2, top).all(unit_outline(wanted.head, broad, high))
    half = keep_within(whole, rectangle(broad, high + 2, at=(0.0, top - 1)))
    ends = [y for x, y in half if abs(x) < 1e-6]
    passes = [math.hypot(x, y) for x, y in half]
    return Half(half, (min(ends), max(ends)), min(passes), max(passes))


class _Sizes(Struct, frozen=True):
    """The figures: what was typed, and what follows for doors, halves and slot."""

    given: dict[str, Figure]
    door: Figure
    half: Figure
    near: Figure
    far: Figure
    slot: Figure
    breadth: Figure
    chord: Figure

    @property
    def all(self) -> tuple[Figure, ...]:
        """Every figure of the lock."""
        derived = (self.door, self.half, self.near, self.far, self.slot, self.breadth, self.chord)
        return (*derived, *self.given.values())


def _size(wanted: FlapLock, card: Card, shape: Half) -> _Sizes:
    typed = {
        name: Figure(f"flap-lock.{key}", name, getattr(wanted, key).mm, field=f"construct.flap_lock.{key}")
        for name, key in (
            ("gap", "gap"),
            ("head's breadth", "breadth"),
            ("neck", "neck"),
            ("head's middle", "down"),
            ("top flap", "flap"),
            ("clearance", "clearance"),
        )
    }
    gap, clearance, thickness = typed["gap"], typed["clearance"], card.thickness
    paper = "{" + thickness.name + "}"
    door = derive(
        "flap-lock.door",
        "door width",
        (card.width.value - gap.value) / 2,
        "({finished width} − {gap}) ÷ 2",
        card.width,
        gap,
        note="Two doors of this width meet a gap apart.",
    )
    half = derive("flap-lock.half", "half", wanted.breadth.mm / 2, "{head's breadth} ÷ 2", typed["head's breadth"])
    turning = "the flap turns about the top fold: √(d² + z²) of each point, d below the fold and z out from the door"
    near = Figure("flap-lock.near", "nearest to the fold", shape.near, source=turning)
    far = Figure("flap-lock.far", "farthest from the fold", shape.far, source=turning)
    slot = derive(
        "flap-lock.slot",
        "slot length",
        far.value - near.value + clearance.value + thickness.value,
        "{farthest from the fold} − {nearest to the fold} + {clearance} + " + paper,
        far,
        near,
        clearance,
        thickness,
        note="Both halves pass it standing, laid together.",
    )
    breadth = derive(
        "flap-lock.slot-breadth",
        "slot breadth",
        gap.value + 2 * thickness.value,
        "{gap} + 2 × " + paper,
        gap,
        thickness,
        note="Two papers stand in it.",
    )
    chord = Figure("flap-lock.chord", "head's middle line", shape.chord[1] - shape.chord[0], source="the head")
    return _Sizes(typed, door, half, near, far, slot, breadth, chord)


def _fit_in(wanted: FlapLock, card: Card) -> tuple[Mend, ...]:
    """What makes the packet close square: a head and a flap that do not reach past the card."""
    broad = make_length(min(wanted.breadth.mm, card.width.value * 0.5), card.units)
    deep = make_length(min(wanted.flap.mm, card.height.value * 0.8), card.units)
    changes = (Change("construct.flap_lock.breadth", broad), Change("construct.flap_lock.flap", deep))
    label = f"Head {format_length(broad.mm, card.units)}, flap {format_length(deep.mm, card.units)}"
    return (Mend(label, changes),)


@CONSTRUCTIONS.add(
    "flap-lock",
    title="Flap lock",
    group="locks",
    order=55,
    decisions=FlapLock,
    liner="centre",
    to_close_square=_fit_in,
)
def make_flap_lock(wanted: FlapLock, card: Card) -> Made:
    """A gate in one piece, with a head in two halves and a slotted flap."""
    shape = make_half(wanted)
    sizes = _size(wanted, card, shape)
    tree = make_flap_lock_tree(wanted, card.width.value, card.height.value, shape, _ring_of_slot(card, sizes))
    outline = merge(*(panel.outline for panel in tree.panels))
    box = bounds(outline)
    width = derive(
        "base.width",
        "base width",
        box.width,
        "{finished width} + 2 × {door width} + 2 × {half}",
        card.width,
        sizes.door,
        sizes.half,
    )
    flap = sizes.given["top flap"]
    if abs(box.height - card.height.value - flap.value) < 1e-6:
        height = derive("base.height", "base height", box.height, "{finished height} + {top flap}", card.height, flap)
    else:
        source = "from the highest point of flap and halves to the lowest of card and halves: a half reaches past them"
        height = Figure("base.height", "base height", box.height, source=source, inputs=(card.height, flap))
    base = make_base(
        card,
        tree,
        outline,
        width=width,
        height=height,
        at=_place_folds(card, sizes, tree),
        inner=(
            Line("base-slot", "slot", "cut", tree.panel("flap").holes, closed=True, role="hole"),
            *_free(wanted, shape, tree),
        ),
        measures=_measure(wanted, sizes, tree),
    )
    return Made(tree, (base,), {panel.id: "base" for panel in tree.panels}, sizes.all)


def _ring_of_slot(card: Card, sizes: _Sizes) -> Points:
    """The slot on the flat sheet."""
    middle = sizes.half.value + sizes.door.value + card.width.value / 2
    fold, broad, long = sizes.given["top flap"].value, sizes.breadth.value, sizes.slot.value
    centre = (sizes.near.value + sizes.far.value) / 2
    return rectangle(broad, max(long, 0.1), at=(middle - broad / 2, fold - centre - max(long, 0.1) / 2))


def _free(wanted: FlapLock, shape: Half, tree: PanelTree) -> Iterator[Line]:
    """The slits that free the halves from the doors' edges, above and below their necks."""
    for side in ("left", "right"):
        hinge = next(each for each in tree.hinges if each.child == f"half-{side}")
        x, high, low = hinge.start[0], hinge.start[1], hinge.end[1]
        top, bottom = (wanted.flap.mm + end for end in shape.chord)
        paths = tuple(path for path in (((x, top), (x, high)), ((x, low), (x, bottom))) if path[1][1] > path[0][1])
        if paths:
            yield Line(f"base-free-{side}", f"slits beside the {side} neck", "cut", paths, role="slit")


def _place_folds(card: Card, sizes: _Sizes, tree: PanelTree) -> dict[str, tuple[Figure, Figure]]:
    """Where each fold lies and how long it is."""
    door, half, flap, neck = sizes.door, sizes.half, sizes.given["top flap"], sizes.given["neck"]
    of = {hinge.id: hinge.start[0] for hinge in tree.hinges}
    first = derive("base.fold-right.at", "first fold", of["fold-right"], "{half} + {door width}", half, door)
    second = derive(
        "base.fold-left.at",
        "second fold",
        of["fold-left"],
        "{half} + {door width} + {finished width}",
        half,
        door,
        card.width,
    )
    last = derive(
        "base.fold-half-left.at",
        "fold of the left half",
        of["fold-half-left"],
        "{half} + 2 × {door width} + {finished width}",
        half,
        door,
        card.width,
    )
    return {
        "fold-right": (first, card.height),
        "fold-left": (second, card.height),
        "fold-flap": (derive("base.fold-flap.at", "top fold", flap.value, "{top flap}", flap), card.width),
        "fold-half-right": (
            derive("base.fold-half-right.at", "fold of the right half", half.value, "{half}", half),
            neck,
        ),
        "fold-half-left": (last, neck),
    }


def _measure(wanted: FlapLock, sizes: _Sizes, tree: PanelTree) -> tuple[Measure, ...]:
    """The lock's measures where they lie on the base."""
    slot, back = bounds(tree.panel("flap").holes[0]), bounds(tree.panel("back").outline)
    half, neck = bounds(tree.panel("half-left").outline), sizes.given["neck"]
    hinge = next(each for each in tree.hinges if each.child == "half-left")
    beside = back.left + wanted.breadth.mm * 0.4
    return (
        Measure(sizes.half, (half.left, half.bottom), (half.right, half.bottom), "half", 10.0),
        Measure(neck, hinge.end, hinge.start, "neck", 14.0),
        Measure(
            sizes.given["head's middle"],
            (half.right, back.top),
            (half.right, back.top + wanted.down.mm),
            "middle down",
            12.0,
        ),
        Measure(sizes.slot, (slot.right, slot.bottom), (slot.right, slot.top), "slot", 12.0),
        Measure(sizes.given["top flap"], (beside, back.top), (beside, 0.0), "flap"),
    )


def make_flap_lock_tree(wanted: FlapLock, width: float, height: float, shape: Half, slot: Points) -> PanelTree:
    """Panels of such a gate of width x height closed (mm), with that half and that slot in its flap."""
    flap, half = wanted.flap.mm, wanted.breadth.mm / 2
    door = (width - wanted.gap.mm) / 2
    near, far, edge = half + door, half + door + width, half + 2 * door + width
    inset = min(TAPER_MM, width / 4)
    left = translate(edge, flap).all(shape.outline)
    right = Affine(a=-1.0, e=half, f=flap).all(shape.outline)[::-1]
    panels = (
        Panel("back", "back", rectangle(width, height, at=(near, flap))),
        Panel("door-right", "right door", rectangle(door, height, at=(half, flap))),
        Panel("door-left", "left door", rectangle(door, height, at=(far, flap))),
        Panel("flap", "top flap", ((near, flap), (near + inset, 0.0), (far - inset, 0.0), (far, flap)), (slot,)),
        Panel("half-left", "left half", left),
        Panel("half-right", "right half", right),
    )
    top, high = bounds(left).top, bounds(left).height
    faces = (
        Face("front left", "door-left", "outside", door, height, translate(far, flap)),
        Face("front right", "door-right", "outside", door, height, translate(half, flap)),
        # Folded down, the flap's outside is upside down on the sheet; a half folded back shows its inside.
        Face("flap", "flap", "outside", width, flap, Affine(-1.0, 0.0, 0.0, -1.0, far, flap)),
        Face("left half", "half-left", "inside", half, high, Affine(a=-1.0, e=edge + half, f=top)),
        Face("right half", "half-right", "inside", half, high, Affine(a=-1.0, e=half, f=top)),
        Face("inside left", "door-left", "inside", door, height, Affine(a=-1.0, e=far + door, f=flap)),
        Face("inside centre", "back", "inside", width, height, Affine(a=-1.0, e=far, f=flap)),
        Face("inside right", "door-right", "inside", door, height, Affine(a=-1.0, e=half + door, f=flap)),
        Face("back", "back", "outside", width, height, translate(near, flap)),
    )
    return PanelTree(panels, _make_hinges(wanted, height, shape, (half, near, far, edge)), faces)


def _make_hinges(
    wanted: FlapLock, height: float, shape: Half, at: tuple[float, float, float, float]
) -> tuple[Hinge, ...]:
    """The five folds; `at` is where the upright ones lie from left to right (mm)."""
    flap, (half, near, far, edge) = wanted.flap.mm, at
    middle = flap + sum(shape.chord) / 2
    neck = min(wanted.neck.mm, shape.chord[1] - shape.chord[0]) / 2
    up = Stand(1, "fold both halves up")
    down, back = "top flap down, the halves through its slot", "fold both halves back over the flap"
    return (
        Hinge(
            "fold-left",
            "back",
            "door-left",
            (far, flap),
            (far, flap + height),
            "mountain",
            order=2,
            step="close the left door",
        ),
        Hinge(
            "fold-right",
            "back",
            "door-right",
            (near, flap),
            (near, flap + height),
            "mountain",
            order=3,
            step="close the right door",
        ),
        Hinge("fold-flap", "back", "flap", (near, flap), (far, flap), "mountain", order=4, step=down),
        *(
            Hinge(
                f"fold-half-{side}",
                f"door-{side}",
                f"half-{side}",
                (x, middle - neck),
                (x, middle + neck),
                "valley",
                order=5,
                step=back,
                stands=up,
            )
            for side, x in (("left", edge), ("right", half))
        ),
    )


@CHECKS.add("construct.door-narrow", of=make_flap_lock)
def find_narrow_doors(seen: Seen[FlapLock]) -> Iterator[Finding]:
    """The doors must be wide enough to fold."""
    door, units = seen.value("flap-lock.door"), seen.units
    if door < LEAST_DOOR_MM:
        wide = make_length(2 * LEAST_DOOR_MM + seen.own.gap.mm + 2.0, units)
        label = f"Make the card {format_length(wide.mm, units)} wide"
        yield door_too_narrow(door, units, Mend(label, (Change("brief.width", wide),)))


def _paper_beside_slot(wanted: FlapLock, thickness: float) -> tuple[float, float]:
    """How much of the flap is left between its fold and the slot, and between the slot and its edge (mm)."""
    shape, play = make_half(wanted), (wanted.clearance.mm + thickness) / 2
    return shape.near - play, wanted.flap.mm - shape.far - play


def _make_room(wanted: FlapLock, card: Card) -> tuple[Length, Length]:
    """How far down the head's middle and how deep the flap have to be for its slot."""
    for _ in range(20):  # the slot moves a little less than the head does
        above, below = _paper_beside_slot(wanted, card.thickness.value)
        if min(above, below) >= LEAST_PAPER_MM:
            break
        down = wanted.down.mm + max(0.0, LEAST_PAPER_MM + 1.0 - above)
        wanted = structs.replace(wanted, down=make_length(down, card.units))
        _, below = _paper_beside_slot(wanted, card.thickness.value)
        deep = wanted.flap.mm + max(0.0, LEAST_PAPER_MM + 1.0 - below)
        wanted = structs.replace(wanted, flap=make_length(deep, card.units))
    return wanted.down, wanted.flap


@CHECKS.add("construct.flap-too-shallow", of=make_flap_lock)
def find_slot_off_the_flap(seen: Seen[FlapLock]) -> Iterator[Finding]:
    """The slot must lie in the flap, with paper between it and the fold, and between it and the edge."""
    wanted, units, slot = seen.own, seen.units, seen.value("flap-lock.slot")
    above, below = _paper_beside_slot(wanted, seen.card.thickness.value)
    left = min(above, below)
    if left >= LEAST_PAPER_MM - 1e-9:
        return
    lower, deeper = _make_room(wanted, seen.card)
    changes = (Change("construct.flap_lock.down", lower), Change("construct.flap_lock.flap", deeper))
    label = f"Flap {format_length(deeper.mm, units)}, middle {format_length(lower.mm, units)} down"
    where = "its fold" if above < below else "its edge"
    yield Finding(
        "construct.flap-too-shallow",
        "stop" if left < 2.0 else "look",
        "The flap is too shallow for its slot",
        f"A slot {format_length(slot, units)} long leaves {format_length(max(left, 0.0), units)} of paper to {where}; "
        f"it holds from {LEAST_PAPER_MM:.0f} mm.",
        "The flap tears where the halves pull on it.",
        "base-slot",
        (Mend(label, changes),),
    )


@CHECKS.add("construct.strap-wider-than-slot", "construct.halves-narrow", of=make_flap_lock)
def find_halves_that_fail(seen: Seen[FlapLock]) -> Iterator[Finding]:
    """The halves pass the slot, and lie far enough over the flap beside it."""
    wanted, units, slot = seen.own, seen.units, seen.value("flap-lock.slot")
    if wanted.clearance.mm < 0:
        needs = seen.value("flap-lock.far") - seen.value("flap-lock.near")
        yield Finding(
            "construct.strap-wider-than-slot",
            "stop",
            "The halves are higher than their slot",
            f"{format_length(needs, units)} has to pass a slot of {format_length(slot, units)}.",
            "They crease, or tear the slot open.",
            "base-slot",
            (Mend("Give it 1 mm clearance", (Change("construct.flap_lock.clearance", parse_length("1 mm")),)),),
        )
    over = (wanted.breadth.mm + wanted.gap.mm - seen.value("flap-lock.slot-breadth")) / 2
    if over < HOLD_MM:
        least = make_length(2 * HOLD_MM + seen.value("flap-lock.slot-breadth") - wanted.gap.mm + 1.0, units)
        change = Change("construct.flap_lock.breadth", least)
        yield Finding(
            "construct.halves-narrow",
            "stop",
            "The halves are too narrow to hold the flap",
            f"Each lies {format_length(over, units)} over the flap beside its slot; it holds from {HOLD_MM:.0f} mm "
            "(common practice, from memory).",
            "The flap lifts off.",
            "base-fold-half-left",
            (Mend(f"Make the head {format_length(least.mm, units)} broad", (change,)),),
        )


@CHECKS.add("construct.neck-too-long", "construct.neck-narrow", of=make_flap_lock)
def find_neck_that_fails(seen: Seen[FlapLock]) -> Iterator[Finding]:
    """The halves hang on necks that hold, no longer than the head's middle line."""
    wanted, units, chord = seen.own, seen.units, seen.value("flap-lock.chord")
    if wanted.neck.mm > chord + 1e-9:
        usual = make_length(max(chord * 0.5, min(chord, LEAST_NECK_MM)), units)
        yield Finding(
            "construct.neck-too-long",
            "stop",
            "The neck is longer than the head",
            f"The head is {format_length(chord, units)} along it, the neck {format_length(wanted.neck.mm, units)}.",
            "There is nothing to hang the halves on.",
            "base-fold-half-left",
            (Mend(f"Make it {format_length(usual.mm, units)}", (Change("construct.flap_lock.neck", usual),)),),
        )
    elif wanted.neck.mm < LEAST_NECK_MM:
        usual = make_length(min(chord, 10.0), units)
        yield Finding(
            "construct.neck-narrow",
            "look",
            "The halves' necks are narrow",
            f"Each is {format_length(wanted.neck.mm, units)}; card holds from {LEAST_NECK_MM:.0f} mm (common practice,"
            "no published figure).",
            "They tear when the card is opened.",
            "base-fold-half-left",
            (Mend(f"Make them {format_length(usual.mm, units)}", (Change("construct.flap_lock.neck", usual),)),),
        )
