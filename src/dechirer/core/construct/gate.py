"""Gate: two half doors that meet in the middle of the front, a small gap apart.

Outside up the sheet is: the door at the reader's right | the back | the door at the reader's left. The back is the
root. Seen from the front the sheet is mirrored, so the flat's right door covers the left half.
"""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.construct.making import derive, make_piece
from dechirer.core.construct.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.construct.piece import Measure
from dechirer.core.construct.setting import Made, Setting
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, make_length, parse_length
from dechirer.core.shape.affine import Affine, translate
from dechirer.core.shape.outline import rectangle

LEAST_DOOR_MM = 20.0
"""A narrower door does not stay folded (common practice: no hinge part under 20 mm)."""


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


def make_gate(setting: Setting) -> Made:
    """A gate base in one piece."""
    facts = setting.facts
    gap = Figure("gate.gap", "gap", setting.construct.gate.gap.mm, field="construct.gate.gap")
    door = derive(
        "gate.door",
        "door width",
        (facts.width.value - gap.value) / 2,
        "({finished width} − {gap}) ÷ 2",
        facts.width,
        gap,
        note="Two doors of this width meet a gap apart.",
    )
    width = derive(
        "base.width",
        "base width",
        facts.width.value + 2 * door.value,
        "{finished width} + 2 × {door width}",
        facts.width,
        door,
    )
    height = derive("base.height", "base height", facts.height.value, "{finished height}", facts.height)
    second = derive(
        "base.fold-left.at",
        "second fold",
        door.value + facts.width.value,
        "{door width} + {finished width}",
        door,
        facts.width,
    )
    first = derive("base.fold-right.at", "first fold", door.value, "{door width}", door)
    tree = make_gate_tree(facts.width.value, facts.height.value, gap.value)
    middle = facts.height.value * 0.62
    centre = door.value + facts.width.value / 2
    measure = Measure(gap, (centre - gap.value / 2, middle), (centre + gap.value / 2, middle), "gap", 0.0, ())
    base = make_piece(
        "base",
        "A",
        "base",
        tree,
        rectangle(width.value, height.value),
        paper=setting.brief.base_paper,
        count=setting.brief.count,
        fold=setting.construct.fold,
        field="construct.fold",
        width=width,
        height=height,
        at={"fold-left": (second, height), "fold-right": (first, height)},
        measures=(measure,),
    )
    return Made(tree, (base,), {panel.id: "base" for panel in tree.panels}, (door, gap))


def check_gate(job: Job, made: Made) -> Iterator[Finding]:
    """The doors must be wide enough to fold, and the gap no wider than what it is for."""
    door = next(figure for figure in made.figures if figure.key == "gate.door")
    if door.value < LEAST_DOOR_MM:
        wide = make_length(2 * LEAST_DOOR_MM + job.construct.gate.gap.mm + 26.0, job.units)
        mend = Mend(f"Make the card {format_length(wide.mm, job.units)} wide", (Change("brief.width", wide),))
        if (job.brief.width.mm - 1.0) / 2 >= LEAST_DOOR_MM:
            mend = Mend("Use a gap of 1 mm", (Change("construct.gate.gap", parse_length("1 mm")),))
        yield Finding(
            "construct.door-narrow",
            "stop",
            "construct",
            "The doors are too narrow to fold",
            f"Each is {format_length(door.value, job.units)} wide; under {LEAST_DOOR_MM:.0f} mm a door does not stay "
            "folded (common practice).",
            "They spring open or tear.",
            "base",
            (mend,),
        )
