"""Layer stack: layers of one outline, each set in further than the one below, on border cards with foam between.

Every layer is an even inset of the outline, not a scaling, so the steps are equal all round; each border card is its
layer moved out by the border. They lie in the middle of the card's face, not of a picture (common practice).
"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.construct.attached import FOAM_INSET_MM, Attached
from dechirer.core.construct.making import derive, make_piece
from dechirer.core.construct.panels import Face, Panel, PanelTree
from dechirer.core.construct.piece import Measure, Piece
from dechirer.core.construct.setting import FOAM
from dechirer.core.figure import Figure
from dechirer.core.finding import Finding, Mend
from dechirer.core.job.constructing import Fold, LayerStack
from dechirer.core.job.edit import Change
from dechirer.core.job.model import Job
from dechirer.core.length import format_length, make_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.algebra import Corners, offset
from dechirer.core.shape.outline import bounds, rectangle
from dechirer.core.shape.silhouettes import CURVED, unit_outline

LEAST_MM = 3.0
"""A layer smaller than this is not cut."""


class Level(Struct, frozen=True):
    """One layer of a stack, from the bottom: how far it is set in, its outline and its border card's, on the face."""

    number: int
    inset: float
    outline: Points
    border: Points


def stack_levels(stack: LayerStack, width: float, height: float) -> tuple[Level, ...]:
    """The levels on a face of width x height (mm); those with nothing left of them are not there."""
    corners: Corners = "round" if stack.shape in CURVED else "mitre"
    left, top = (width - stack.width.mm) / 2, (height - stack.height.mm) / 2
    whole = translate(left, top).all(unit_outline(stack.shape, stack.width.mm, stack.height.mm))
    levels = []
    for number in range(stack.count):
        inset = stack.insets[number].mm if stack.insets else number * stack.step.mm
        ring = _inset(stack.shape, whole, -inset, corners)
        if not ring or min(bounds(ring).width, bounds(ring).height) < LEAST_MM:
            continue
        levels.append(Level(number + 1, inset, ring, _inset(stack.shape, ring, stack.border.mm, corners)))
    return tuple(levels)


def _inset(shape: str, ring: Points, by: float, corners: Corners) -> Points:
    """An outline moved out by `by`; a rectangle by arithmetic, which is exact."""
    if shape != "rectangle":
        return offset(ring, by, corners=corners)
    box = bounds(ring).grown(by)
    if min(box.width, box.height) <= 0:
        return ()
    return rectangle(box.width, box.height, at=(box.left, box.top))


def add_stack(attached: Attached, stack: LayerStack) -> None:
    """All layers with their border cards and foam; nothing when the card has no such face."""
    face = next((each for each in attached.made.tree.faces if each.name == stack.face), None)
    if face is None:
        return
    facts = attached.setting.facts
    step = Figure("stack.step", "step", stack.step.mm, field="construct.stack.step")
    border = Figure("stack.border", "stack border", stack.border.mm, field="construct.stack.border")
    foam = Figure("stack.foam", "stack foam", stack.foam.mm, field="construct.stack.foam")
    sizes = [
        Figure(f"stack.{side}", f"stack {side}", getattr(stack, side).mm, field=f"construct.stack.{side}")
        for side in ("width", "height")
    ]
    attached.figures += [step, border, foam, *sizes]
    levels = stack_levels(stack, face.width, face.height)
    for place, level in enumerate(levels):
        if place and stack.foam.mm > 0:
            below = bounds(level.border)
            inset = min(FOAM_INSET_MM, below.width / 4, below.height / 4)
            pad = offset(level.border, -inset)
            attached.figures.append(
                Figure(
                    f"stack-foam-{place}.foam",
                    f"foam under layer {level.number}",
                    foam.value,
                    formula="{stack foam}",
                    inputs=(foam,),
                )
            )
            foam_id = f"stack-foam-{place}"
            attached.assembler.put(
                "foam", FOAM + foam_id, face.panel, face.side, face.to_flat.all(pad or level.outline), foam.value
            )
        inset_by = Figure(
            f"stack-{level.number}.inset",
            f"layer {level.number} set in by",
            level.inset,
            formula="" if stack.insets else f"{level.number - 1} × " + "{step}",
            inputs=() if stack.insets else (step,),
            field="construct.stack.insets" if stack.insets else None,
        )
        for name, ring, paper, given in (
            (f"stack-{level.number}-border", level.border, stack.border_paper, (border,)),
            (f"stack-{level.number}", level.outline, stack.paper, ()),
        ):
            if name.endswith("border") and stack.border.mm <= 0:
                continue
            piece = _make_layer(attached, stack, name, ring, paper, sizes, inset_by, given)
            attached.add(piece)
            attached.assembler.put(
                name, paper, face.panel, face.side, face.to_flat.all(ring), facts.paper(paper).thickness.value
            )
    if not levels:
        return
    outer = bounds(face.to_flat.all(levels[0].outline))
    high, beside = outer.top + outer.height * 0.12, outer.left + outer.width * 0.12
    guide = face.to_flat.all(levels[0].outline)
    attached.measure_on_base(face.panel, Measure(sizes[0], (outer.left, high), (outer.right, high), "", 0.0, guide))
    attached.measure_on_base(face.panel, Measure(sizes[1], (beside, outer.bottom), (beside, outer.top), "", 0.0))
    if len(levels) > 1 and not stack.insets:
        inner = face.to_flat.all(levels[1].outline)
        middle = bounds(inner)
        attached.measure_on_base(
            face.panel,
            Measure(step, (outer.left, middle.middle[1]), (middle.left, middle.middle[1]), "step", 0.0, inner),
        )


def _make_layer(
    attached: Attached,
    stack: LayerStack,
    name: str,
    ring: Points,
    paper: str,
    sizes: list[Figure],
    inset: Figure,
    border: tuple[Figure, ...],
) -> Piece:
    box = bounds(ring)
    outline = translate(-box.left, -box.top).all(ring)
    words = f"border {name.split('-')[1]}" if border else f"layer {name.split('-')[1]}"
    exact = stack.shape in ("rectangle", "disc")
    figures = []
    for size, value in zip(sizes, (box.width, box.height), strict=True):
        side = size.key.rsplit(".", 1)[1]
        formula = "{" + size.name + "} − 2 × {" + inset.name + "}" + (" + 2 × {stack border}" if border else "")
        if not exact:
            formula = "{" + size.name + "} with the outline moved in by {" + inset.name + "}"
            formula += " and out by {stack border}" if border else ""
        figures.append(derive(f"{name}.{side}", f"{words} {side}", value, formula, size, inset, *border))
    tree = PanelTree(
        (Panel(name, words, outline),), (), (Face("front", name, "outside", box.width, box.height, Affine()),)
    )
    return make_piece(
        name,
        attached.letter(),
        words,
        tree,
        outline,
        paper=paper,
        count=attached.setting.brief.count,
        fold=Fold(kind="unmarked"),
        field="",
        width=figures[0],
        height=figures[1],
        at={},
    )


def check_stack(job: Job, tree: PanelTree) -> Iterator[Finding]:
    """Every layer is there, lies on a face the card has, and inside it; the steps leave something to see."""
    stack = job.construct.stack
    if stack is None:
        return
    units = job.units
    off = Mend("No stack", (Change("construct.stack", None),))
    faces = [face.name for face in tree.faces]
    face = next((each for each in tree.faces if each.name == stack.face), None)
    if face is None:
        yield Finding(
            "construct.layer-without-face",
            "look",
            "construct",
            f"The card has no face called {stack.face}",
            f"It has {', '.join(faces)}.",
            "The stack is not cut.",
            "stack-1",
            (Mend(f"Put it on the {faces[0]}", (Change("construct.stack.face", faces[0]),)), off),
        )
        return
    levels = stack_levels(stack, face.width, face.height)
    if len(levels) < stack.count:
        fewer = max(1, len(levels))
        changes = [Change("construct.stack.count", fewer)]
        if stack.insets:
            changes = [Change("construct.stack.insets", ()), *changes]
        yield Finding(
            "construct.stack-vanishes",
            "stop",
            "construct",
            "Not every layer of the stack is there",
            f"{len(levels)} of {stack.count} layers are left: the others are set in by more than the outline holds.",
            "They are not cut.",
            "stack-1",
            (Mend(f"Make it {fewer} layers", tuple(changes)), off),
        )
    outer = bounds([point for level in levels for point in level.border]) if levels else None
    if outer is not None and (outer.width > face.width + 1e-6 or outer.height > face.height + 1e-6):
        scale = min((face.width - 4) / outer.width, (face.height - 4) / outer.height)
        smaller = [make_length(max(6.0, getattr(stack, side).mm * scale - 2), units) for side in ("width", "height")]
        yield Finding(
            "construct.layer-size",
            "stop",
            "construct",
            "The stack is larger than its panel",
            f"With its border it is {format_length(outer.width, units)} wide and {format_length(outer.height, units)} "
            f"high; the {stack.face} is {format_length(face.width, units)} by {format_length(face.height, units)}.",
            "It shows past the edge.",
            "stack-1",
            (
                Mend(
                    "Make it fit",
                    (
                        Change("construct.stack.width", smaller[0]),
                        Change("construct.stack.height", smaller[1]),
                    ),
                ),
                off,
            ),
        )
    if not stack.insets and stack.count > 1 and stack.step.mm <= stack.border.mm:
        wider = make_length(stack.border.mm * 2 + 1, units)
        yield Finding(
            "construct.stack-steps",
            "look",
            "construct",
            "The stack's steps are hidden by its borders",
            f"Each layer is set in by {format_length(stack.step.mm, units)}, and the border card on it reaches out by "
            f"{format_length(stack.border.mm, units)}.",
            "Nothing of the lower layers shows.",
            "stack-1",
            (Mend(f"Step by {format_length(wider.mm, units)}", (Change("construct.stack.step", wider),)),),
        )
