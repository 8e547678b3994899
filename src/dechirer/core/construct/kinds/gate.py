"""Gate: two half doors that meet in the middle of the front, a small gap apart.

Outside up the sheet is: the door at the reader's right | the back | the door at the reader's left. The back is the
root. Seen from the front the sheet is mirrored, so the flat's right door covers the left half.
"""

from collections.abc import Iterator
from typing import Annotated

from dechirer.core.card.assembly import Made
from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.card.piece import Measure
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
from dechirer.core.shape.affine import Affine, translate
from dechirer.core.shape.outline import rectangle


def make_gate_tree(width: float, height: float, gap: float) -> PanelTree:
    """Panels of a gate card whose closed size is width x height, doors a gap apart (mm)."""
    door = (width - gap) / 2
    far = door + width
    return PanelTree(
        panels=(
            Panel("back", "back", rectangle(width, height, at=(door, 0.0))),
            Panel("door-right", "right door", rectangle(door, height)),
            Panel("door-left", "left door", rectangle(door, height, at=(far, 0.0))),
        ),
        hinges=(
            Hinge(
                "fold-left",
                "back",
                "door-left",
                (far, 0.0),
                (far, height),
                "mountain",
                order=1,
                step="close the left door",
            ),
            Hinge(
                "fold-right",
                "back",
                "door-right",
                (door, 0.0),
                (door, height),
                "mountain",
                order=2,
                step="close the right door",
            ),
        ),
        faces=(
            Face("front left", "door-left", "outside", door, height, translate(far, 0.0)),
            Face("front right", "door-right", "outside", door, height, Affine()),
            Face("inside left", "door-left", "inside", door, height, Affine(a=-1.0, e=far + door)),
            Face("inside centre", "back", "inside", width, height, Affine(a=-1.0, e=far)),
            Face("inside right", "door-right", "inside", door, height, Affine(a=-1.0, e=door)),
            Face("back", "back", "outside", width, height, translate(door, 0.0)),
        ),
    )


class Gate(Decisions, frozen=True):
    """Two half doors that meet in the middle with a gap between them."""

    gap: Annotated[Length, Field("Gap between the doors", 0, 50, drawn=True)] = given("1 mm")


@CONSTRUCTIONS.add("gate", title="Gate", order=40, decisions=Gate, liner="centre")
def make_gate(gate: Gate, card: Card) -> Made:
    """A gate base in one piece."""
    gap = Figure("gate.gap", "gap", gate.gap.mm, field="construct.gate.gap")
    door = derive(
        "gate.door",
        "door width",
        (card.width.value - gap.value) / 2,
        "({finished width} − {gap}) ÷ 2",
        card.width,
        gap,
        note="Two doors of this width meet a gap apart.",
    )
    width = derive(
        "base.width",
        "base width",
        card.width.value + 2 * door.value,
        "{finished width} + 2 × {door width}",
        card.width,
        door,
    )
    height = derive("base.height", "base height", card.height.value, "{finished height}", card.height)
    second = derive(
        "base.fold-left.at",
        "second fold",
        door.value + card.width.value,
        "{door width} + {finished width}",
        door,
        card.width,
    )
    first = derive("base.fold-right.at", "first fold", door.value, "{door width}", door)
    tree = make_gate_tree(card.width.value, card.height.value, gap.value)
    middle = card.height.value * 0.62
    centre = door.value + card.width.value / 2
    measure = Measure(gap, (centre - gap.value / 2, middle), (centre + gap.value / 2, middle), "gap", 0.0, ())
    base = make_base(
        card,
        tree,
        rectangle(width.value, height.value),
        width=width,
        height=height,
        at={"fold-left": (second, height), "fold-right": (first, height)},
        measures=(measure,),
    )
    return Made(tree, (base,), {panel.id: "base" for panel in tree.panels}, (door, gap))


@CHECKS.add("construct.door-narrow", of=make_gate)
def find_narrow_doors(seen: Seen[Gate]) -> Iterator[Finding]:
    """The doors must be wide enough to fold."""
    door, gap, units = seen.value("gate.door"), seen.own.gap.mm, seen.units
    if door >= LEAST_DOOR_MM:
        return
    wide = make_length(2 * LEAST_DOOR_MM + gap + 26.0, units)
    mend = Mend(f"Make the card {format_length(wide.mm, units)} wide", (Change("brief.width", wide),))
    if (seen.card.width.value - 1.0) / 2 >= LEAST_DOOR_MM:
        mend = Mend("Use a gap of 1 mm", (Change("construct.gate.gap", parse_length("1 mm")),))
    yield door_too_narrow(door, units, mend)
