"""Layer stack: layers of one outline, each set in further than the one below, on border cards with foam between.

Every layer is an even inset of the outline, not a scaling, so the steps are equal all round; each border card is its
layer moved out by the border. They lie in the middle of the card's face, not of a picture (common practice).
"""

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from msgspec import Meta, Struct

from dechirer.core.card.assembly import FOAM
from dechirer.core.card.fold import Fold
from dechirer.core.card.making import derive, make_piece
from dechirer.core.card.panels import Face, Panel, PanelTree
from dechirer.core.card.piece import Measure, Piece
from dechirer.core.construct.art_outline import FROM_FILE, outline_of
from dechirer.core.construct.attached import FOAM_INSET_MM, Attached
from dechirer.core.construct.card import Card
from dechirer.core.construct.paper_left import mend_smaller, past_shape
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, make_length
from dechirer.core.shape.affine import Affine, Points, translate
from dechirer.core.shape.algebra import Corners, offset
from dechirer.core.shape.outline import bounds, rectangle
from dechirer.core.shape.silhouettes import CURVED

LEAST_MM = 3.0
"""A layer smaller than this is not cut."""


Shape = Literal["rectangle", "disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud", "file"]


class LayerStack(Decisions, frozen=True):
    """Layers of one outline, each smaller than the one below, in the middle of a face, with foam between them.

    Every layer is set in by `step` more than the one below, or by what `insets` lists, and lies on a border card that
    stands out by `border` all round.
    """

    face: Annotated[str, Meta(min_length=1, max_length=40)]
    width: Annotated[Length, Field("Width of the largest layer", 5, 600, drawn=True)]
    height: Annotated[Length, Field("Height of the largest layer", 5, 600, drawn=True)]
    paper: Annotated[Identifier, Field("Layers", takes="paper")]
    border_paper: Annotated[Identifier, Field("Border cards", takes="paper")]
    shape: Annotated[Shape, Field("Outline")] = "rectangle"
    art: Annotated[
        Identifier | None,
        Field("File of the outline", takes="art", none="none yet", shows=lambda own: own.shape == "file"),
    ] = None
    count: Annotated[int, Field("How many layers", 1, 8)] = 3
    step: Annotated[Length, Field("Each layer set in by", 0.5, 100, shows=lambda own: not own.insets)] = given("10 mm")
    insets: Annotated[tuple[Length, ...], Meta(max_length=8), Field("Set in by a list", 0, 300)] = ()
    border: Annotated[Length, Field("Border round each layer", 0, 50)] = given("2 mm")
    foam: Annotated[Length, Field("Foam between the layers", 0, 10)] = given("2 mm")

    def agree(self) -> None:
        require(
            not self.insets or len(self.insets) == self.count, f"insets: {len(self.insets)} for {self.count} layers"
        )

    def typed(self, name: str, text: str, units: str) -> dict[str, Any]:
        """As for any decisions; the number of layers and the list of their insets follow each other."""
        found = Decisions.typed(self, name, text, units)
        if found.get("insets"):
            found["count"] = len(found["insets"])
        elif self.insets and found.get("count", len(self.insets)) != len(self.insets):
            found["insets"] = (*self.insets, *(self.insets[-1:] * found["count"]))[: found["count"]]
        return found


def start_stack(at: Start) -> LayerStack:
    """Three layers in the middle of a face, four fifths as large as it, in two papers that differ."""
    width, height = make_length(at.width * 0.8, at.units), make_length(at.height * 0.8, at.units)
    others = [paper.id for paper in at.papers if paper.id != at.base_paper] or [at.base_paper]
    step = make_length(min(width.mm, height.mm) * 0.12, at.units)
    paper = at.other_paper()
    border = others[0] if paper != others[0] else others[-1]
    return LayerStack(at.face, width, height, paper, border, step=step)


class Level(Struct, frozen=True):
    """One layer of a stack, from the bottom: how far it is set in, its outline and its border card's, on the face."""

    number: int
    inset: float
    outline: Points
    border: Points


def stack_levels(stack: LayerStack, width: float, height: float, card: Card) -> tuple[Level, ...]:
    """The levels on a face of width x height (mm); those with nothing left of them are not there."""
    corners: Corners = "round" if stack.shape in (*CURVED, FROM_FILE) else "mitre"
    left, top = (width - stack.width.mm) / 2, (height - stack.height.mm) / 2
    whole = translate(left, top).all(outline_of(card, stack.shape, stack.art, stack.width.mm, stack.height.mm))
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


@ATTACHMENTS.add(
    "stack",
    title="Layer stack",
    add="Layer stack on the {face}",
    order=60,
    decisions=LayerStack,
    start=start_stack,
)
def add_stack(attached: Attached, stack: LayerStack) -> None:
    """All layers with their border cards and foam; nothing when the card has no such face."""
    face = attached.face(stack.face)
    if face is None:
        return
    typed = {
        key: Figure(f"stack.{key}", f"stack {key}", getattr(stack, key).mm, field=f"construct.stack.{key}")
        for key in ("border", "foam", "width", "height")
    }
    step = Figure("stack.step", "step", stack.step.mm, field="construct.stack.step")
    attached.figures += [step, *typed.values()]
    levels = stack_levels(stack, face.width, face.height, attached.card)
    for place, level in enumerate(levels):
        if place and stack.foam.mm > 0:
            _put_foam(attached, face, level, place, typed["foam"])
        _put_level(attached, stack, face, level, (step, typed))
    if levels:
        _measure(attached, face, levels, (step, typed), given_by_list=bool(stack.insets))


def _put_foam(attached: Attached, face: Face, level: Level, place: int, foam: Figure) -> None:
    below = bounds(level.border)
    pad = offset(level.border, -min(FOAM_INSET_MM, below.width / 4, below.height / 4)) or level.outline
    id = f"stack-foam-{place}"
    attached.figures.append(
        Figure(f"{id}.foam", f"foam under layer {level.number}", foam.value, formula="{stack foam}", inputs=(foam,))
    )
    attached.assembler.put("foam", FOAM + id, face.panel, face.side, face.to_flat.all(pad), foam.value)


def _put_level(
    attached: Attached, stack: LayerStack, face: Face, level: Level, figures: tuple[Figure, dict[str, Figure]]
) -> None:
    """A layer on its border card."""
    step, typed = figures
    inset = Figure(
        f"stack-{level.number}.inset",
        f"layer {level.number} set in by",
        level.inset,
        formula="" if stack.insets else f"{level.number - 1} × " + "{step}",
        inputs=() if stack.insets else (step,),
        field="construct.stack.insets" if stack.insets else None,
    )
    sizes = [typed["width"], typed["height"]]
    name = f"stack-{level.number}"
    parts: list[tuple[str, Points, str, tuple[Figure, ...]]] = [(name, level.outline, stack.paper, ())]
    if stack.border.mm > 0:
        parts.insert(0, (f"{name}-border", level.border, stack.border_paper, (typed["border"],)))
    for id, ring, paper, border in parts:
        attached.add(_make_layer(attached, stack, id, ring, paper, sizes, inset, border))
        attached.put(id, paper, face.panel, face.side, face.to_flat.all(ring))


def _measure(
    attached: Attached,
    face: Face,
    levels: tuple[Level, ...],
    figures: tuple[Figure, dict[str, Figure]],
    *,
    given_by_list: bool,
) -> None:
    """The stack's measures where they lie on the base."""
    step, typed = figures
    guide = face.to_flat.all(levels[0].outline)
    outer = bounds(guide)
    high, beside = outer.top + outer.height * 0.12, outer.left + outer.width * 0.12
    measures = [
        Measure(typed["width"], (outer.left, high), (outer.right, high), "", 0.0, guide),
        Measure(typed["height"], (beside, outer.bottom), (beside, outer.top), "", 0.0),
    ]
    if len(levels) > 1 and not given_by_list:
        inner = face.to_flat.all(levels[1].outline)
        level = bounds(inner).middle[1]
        measures.append(Measure(step, (outer.left, level), (bounds(inner).left, level), "step", 0.0, inner))
    for measure in measures:
        attached.measure_on_base(face.panel, measure)


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
    """One layer or border card as a flat piece; `ring` lies on the face, in mm."""
    box = bounds(ring)
    outline = translate(-box.left, -box.top).all(ring)
    words = f"border {name.split('-')[1]}" if border else f"layer {name.split('-')[1]}"
    exact = stack.shape in ("rectangle", "disc")
    figures = []
    for size, value in zip(sizes, (box.width, box.height), strict=True):
        side = size.key.rsplit(".", 1)[1]
        key, title, inputs = f"{name}.{side}", f"{words} {side}", (size, inset, *border)
        if exact:
            formula = "{" + size.name + "} − 2 × {" + inset.name + "}" + (" + 2 × {stack border}" if border else "")
            figures.append(derive(key, title, value, formula, *inputs))
        else:
            source = "the outline moved in" + (" and out again by the border" if border else "")
            figures.append(Figure(key, title, value, source=source, inputs=inputs))
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
        count=attached.card.count,
        fold=Fold(kind="unmarked"),
        field="",
        width=figures[0],
        height=figures[1],
        at={},
    )


@CHECKS.add("construct.layer-without-face", "construct.stack-vanishes", "construct.layer-size", of=add_stack)
def find_stack_without_room(seen: Seen[LayerStack]) -> Iterator[Finding]:
    """Every layer is there, lies on a face the card has, and inside it."""
    stack, units, tree = seen.own, seen.units, seen.plan.tree
    off = Mend("No stack", (Change("construct.stack", None),))
    faces = [face.name for face in tree.faces]
    face = next((each for each in tree.faces if each.name == stack.face), None)
    if face is None:
        yield Finding(
            "construct.layer-without-face",
            "look",
            f"The card has no face called {stack.face}",
            f"It has {', '.join(faces)}.",
            "The stack is not cut.",
            "stack-1",
            (Mend(f"Put it on the {faces[0]}", (Change("construct.stack.face", faces[0]),)), off),
        )
        return
    levels = stack_levels(stack, face.width, face.height, seen.card)
    if len(levels) < stack.count:
        fewer = max(1, len(levels))
        changes = [Change("construct.stack.count", fewer)]
        if stack.insets:
            changes = [Change("construct.stack.insets", ()), *changes]
        yield Finding(
            "construct.stack-vanishes",
            "stop",
            "Not every layer of the stack is there",
            f"{len(levels)} of {stack.count} layers are left: the others are set in by more than the outline holds.",
            "They are not cut.",
            "stack-1",
            (Mend(f"Make it {fewer} layers", tuple(changes)), off),
        )
    oversize = tuple(_find_oversize(stack, levels, face, units, off))
    yield from oversize or _find_past_the_shape(seen, levels, face, off)


def _find_oversize(
    stack: LayerStack, levels: tuple[Level, ...], face: Face, units: str, off: Mend
) -> Iterator[Finding]:
    outer = bounds([point for level in levels for point in level.border]) if levels else None
    if outer is not None and (outer.width > face.width + 1e-6 or outer.height > face.height + 1e-6):
        scale = min((face.width - 4) / outer.width, (face.height - 4) / outer.height)
        smaller = [make_length(max(6.0, getattr(stack, side).mm * scale - 2), units) for side in ("width", "height")]
        yield Finding(
            "construct.layer-size",
            "stop",
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


def _find_past_the_shape(seen: Seen[LayerStack], levels: tuple[Level, ...], face: Face, off: Mend) -> Iterator[Finding]:
    """A stack on a face that is no rectangle lies within its shape."""
    tree, stack = seen.plan.tree, seen.own

    def past(levels: tuple[Level, ...]) -> float:
        return max((past_shape(tree, face, level.border) for level in levels), default=0.0)

    def fits(stack: LayerStack) -> bool:
        found = stack_levels(stack, face.width, face.height, seen.card)
        return len(found) == len(levels) and not past(found)

    over = past(levels)
    if over:
        size = min(stack.width.mm, face.width), min(stack.height.mm, face.height)
        yield Finding(
            "construct.layer-size",
            "look",
            f"The stack shows past the edge of the {face.name}",
            f"The {face.name} is no rectangle; with its border the stack reaches out of it by "
            f"{format_length(over, seen.units)}.",
            "It shows past the edge.",
            "stack-1",
            (*mend_smaller("Make it fit", "construct.stack", stack, size, 5.0, seen.units, fits), off),
        )


@CHECKS.add("construct.stack-steps", of=add_stack)
def find_hidden_steps(seen: Seen[LayerStack]) -> Iterator[Finding]:
    """The steps leave something to see of the lower layers."""
    stack, units = seen.own, seen.units
    if not stack.insets and stack.count > 1 and stack.step.mm <= stack.border.mm:
        wider = make_length(stack.border.mm * 2 + 1, units)
        yield Finding(
            "construct.stack-steps",
            "look",
            "The stack's steps are hidden by its borders",
            f"Each layer is set in by {format_length(stack.step.mm, units)}, and the border card on it reaches out by "
            f"{format_length(stack.border.mm, units)}.",
            "Nothing of the lower layers shows.",
            "stack-1",
            (Mend(f"Step by {format_length(wider.mm, units)}", (Change("construct.stack.step", wider),)),),
        )
