"""Layers: panels of paper on a face, smaller than it by an equal border all round; glued flat, or raised on foam."""

from collections.abc import Iterator
from typing import Annotated, Literal

from msgspec import Meta

from dechirer.core.card.assembly import FOAM
from dechirer.core.card.hidden import hidden_share, is_in_a_crowd
from dechirer.core.card.panels import Face
from dechirer.core.card.piece import Measure
from dechirer.core.card.stack import AtHand
from dechirer.core.construct.attached import FOAM_INSET_MM, LEAST_MM, Attached, each_side, less
from dechirer.core.construct.paper_left import largest_share, past_shape, say_past_shape
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, Size, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, format_size, make_length_over, parse_length
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import bounds, rectangle


class Layer(Decisions, frozen=True):
    """A panel of paper on a face, smaller than it by an equal border all round; glued flat, or raised on foam.

    One that is `at_hand` in a size lies in the middle of its face and is not cut.
    """

    id: Identifier
    face: Annotated[str, Meta(min_length=1, max_length=40)]
    border: Annotated[
        Length, Field("Border round the layer", -50, 200, drawn=True, shows=lambda own: own.at_hand is None)
    ]
    paper: Annotated[Identifier, Field("Paper", takes="paper")]
    counts: Annotated[
        Literal["each", "total"],
        Field("The border is meant", choices={"each": "on each side", "total": "in all, both sides together"}),
    ] = "each"
    foam: Annotated[Length, Field("On foam of", 0, 10)] = given("0 mm")
    at_hand: Annotated[Size | None, Field("Already there in size", 5, 1000, hint="none: cut one")] = None


def start_layer(at: Start) -> Layer:
    """A layer with a border of 1/8 in (3 mm), in another paper; on a face that has one, a smaller one."""
    border = parse_length(f"{at.before + 1}/8 in" if at.units == "in" else f"{3 * (at.before + 1)} mm")
    return Layer(at.new_id("layer"), at.face, border, at.other_paper())


@ATTACHMENTS.add(
    "layers",
    title="Layer on {face}",
    add="Layer on the {face}",
    order=30,
    decisions=Layer,
    start=start_layer,
    many=True,
)
def add_layers(attached: Attached, layers: tuple[Layer, ...]) -> None:
    """Each layer on its face, in the order they were added."""
    for number, layer in enumerate(layers):
        below = sum(other.face == layer.face for other in layers[:number])
        _add_layer(attached, layer, below)


def _add_layer(attached: Attached, layer: Layer, below: int) -> None:
    """A layer on a face; nothing when the card has no such face or the border leaves nothing of it."""
    face = attached.face(layer.face)
    if face is None:
        return
    if layer.at_hand is not None:
        _put_at_hand(attached, layer, face, layer.at_hand)
        return
    path = f"construct.layers.{layer.id}"
    border = each_side(f"{layer.id}.border", f"border of {layer.id}", layer.border.mm, f"{path}.border", layer.counts)
    attached.figures.append(border)
    wide = Figure(f"{layer.id}.face-width", f"width of {face.name}", face.width, source="the card's panel")
    high = Figure(f"{layer.id}.face-height", f"height of {face.name}", face.height, source="the card's panel")
    width = less(wide, border, f"{layer.id}.width", f"{layer.id} width")
    height = less(high, border, f"{layer.id}.height", f"{layer.id} height")
    if min(width.value, height.value) < LEAST_MM:
        return
    width, height = attached.note_total(width, height, (wide, high), border)
    name = f"layer on {face.name}"
    ring = face.to_flat.all(_ring(face, border.value, border.value))
    _put(attached, layer, face)
    attached.add_flat(layer.id, name, layer.paper, width, height)
    box = bounds(face.to_flat.all(rectangle(face.width, face.height)))
    # One below the other where several layers lie on a face, so that each border can be read and typed into.
    y = box.top + box.height * (0.45 + 0.09 * below)
    typed = border.inputs[0] if border.inputs else border
    measure = Measure(typed, (box.left, y), (box.left + border.value, y), "border", 0.0, ring)
    attached.measure_on_base(face.panel, measure)


def _set_in(layer: Layer, face: Face) -> tuple[float, float]:
    """How far a layer is in from the sides of its face, and from its top and bottom (mm)."""
    if layer.at_hand is not None:
        return (face.width - layer.at_hand.width.mm) / 2, (face.height - layer.at_hand.height.mm) / 2
    return _border(layer), _border(layer)


def _border(layer: Layer) -> float:
    """A layer's border on each side, in mm."""
    return layer.border.mm / (2 if layer.counts == "total" else 1)


def _ring(face: Face, across: float, down: float) -> Points:
    """A layer's outline on its face as seen."""
    return rectangle(face.width - 2 * across, face.height - 2 * down, at=(across, down))


def _put(attached: Attached, layer: Layer, face: Face) -> None:
    """Put a layer on its face, on its foam."""
    across, down = _set_in(layer, face)
    width, height = face.width - 2 * across, face.height - 2 * down
    if layer.foam.mm > 0:
        field = f"construct.layers.{layer.id}.foam"
        foam = Figure(f"{layer.id}.foam", f"foam under {layer.id}", layer.foam.mm, field=field)
        attached.figures.append(foam)
        inset = min(FOAM_INSET_MM, width / 4, height / 4)
        pad = rectangle(width - 2 * inset, height - 2 * inset, at=(across + inset, down + inset))
        lies = face.to_flat.all(pad)
        attached.assembler.put("foam", FOAM + layer.id, face.panel, face.side, lies, foam.value)
    attached.put(layer.id, layer.paper, face.panel, face.side, face.to_flat.all(_ring(face, across, down)))


def _put_at_hand(attached: Attached, layer: Layer, face: Face, size: Size) -> None:
    """A layer that is there already: in the middle of its face, counted and not cut."""
    width, height = size.width.mm, size.height.mm
    thickness = attached.card.thickness_of(layer.paper)
    name = f"layer on {face.name}"
    attached.at_hand.append(AtHand(layer.id, name, width, height, thickness, attached.card.count, face.name))
    _put(attached, layer, face)


def _without(layers: tuple[Layer, ...], layer: Layer) -> Mend:
    left = tuple(each for each in layers if each.id != layer.id)
    return Mend("Take the layer off", (Change("construct.layers", left),))


@CHECKS.add("construct.layer-without-face", "construct.layer-size", of=add_layers)
def find_layer_trouble(seen: Seen[tuple[Layer, ...]]) -> Iterator[Finding]:
    """A layer must lie on a face the card has, and be smaller than it."""
    faces = [face.name for face in seen.plan.tree.faces]
    for layer in seen.own:
        path, drop = f"construct.layers.{layer.id}", _without(seen.own, layer)
        if layer.face not in faces:
            yield Finding(
                "construct.layer-without-face",
                "look",
                f"The card has no face called {layer.face}",
                f"A {seen.plan.kind.title.lower()} has {', '.join(faces)}.",
                "The layer is not cut.",
                layer.id,
                (Mend(f"Put it on the {faces[0]}", (Change(f"{path}.face", faces[0]),)), drop),
            )
        elif layer.at_hand is not None:
            too_large = tuple(_find_at_hand_too_large(seen, layer, layer.at_hand, drop))
            yield from too_large or _find_past_the_shape(seen, layer, drop)
        elif layer.border.mm < 0 or seen.plan.piece(layer.id) is None:
            size = "larger than" if layer.border.mm < 0 else "not there: its border takes all of"
            yield Finding(
                "construct.layer-size",
                "stop",
                f"The layer is {size} its panel",
                f"A border of {format_length(layer.border.mm, seen.units)} on each side of the {layer.face}.",
                "It shows past the edge." if layer.border.mm < 0 else "No layer is cut.",
                layer.id,
                (Mend("Use 1/8 in a side", (Change(f"{path}.border", parse_length("1/8 in")),)), drop),
            )
        else:
            yield from _find_past_the_shape(seen, layer, drop)


def _find_at_hand_too_large(seen: Seen[tuple[Layer, ...]], layer: Layer, size: Size, drop: Mend) -> Iterator[Finding]:
    face = next(each for each in seen.plan.tree.faces if each.name == layer.face)
    if size.width.mm <= face.width and size.height.mm <= face.height:
        return
    shown = format_size(size.width.mm, size.height.mm, seen.units)
    yield Finding(
        "construct.layer-size",
        "stop",
        "The layer is larger than its panel",
        f"It is there in {shown}; the {face.name} is {format_size(face.width, face.height, seen.units)}.",
        "It shows past the edge.",
        layer.id,
        (Mend("Cut one that goes", (Change(f"construct.layers.{layer.id}.at_hand", None),)), drop),
    )


def _find_past_the_shape(seen: Seen[tuple[Layer, ...]], layer: Layer, drop: Mend) -> Iterator[Finding]:
    """A layer is a rectangle; on a disc its corners stand out."""
    tree = seen.plan.tree
    face = next(each for each in tree.faces if each.name == layer.face)
    across, down = _set_in(layer, face)
    past = past_shape(tree, face, _ring(face, across, down))
    if not past:
        return
    mends = [drop]
    most = min(face.width, face.height) / 2 - LEAST_MM
    if layer.at_hand is None and most > across:

        def border(share: float) -> float:
            return most - share * (most - across)

        def fits(share: float) -> bool:
            return not past_shape(tree, face, _ring(face, border(share), border(share)))

        share = largest_share(fits)
        wide = make_length_over(border(share) * (2 if layer.counts == "total" else 1), seen.units)
        if share:
            change = Change(f"construct.layers.{layer.id}.border", wide)
            mends.insert(0, Mend(f"Use a border of {wide}", (change,)))
    yield say_past_shape("construct.layer-size", "layer", layer.id, face, past, tuple(mends), seen.units)


LEAST_HIDDEN = 0.01


@CHECKS.add("construct.layer-hidden", of=add_layers)
def find_layer_behind_something(seen: Seen[tuple[Layer, ...]]) -> Iterator[Finding]:
    """Where a panel stands out above what is in front of it, what is on it must stand out as well.

    A face that is wholly hidden when the card is closed is read opened, so it is left out.
    """
    tree = seen.plan.tree
    front = tree.faces[0]
    for layer in seen.own:
        face = next((each for each in tree.faces if each.name == layer.face), None)
        if face is None or face is front or not is_in_a_crowd(tree, face):
            continue
        hidden, bare = _hidden(seen, face, _border(layer))
        if bare > LEAST_HIDDEN and hidden > LEAST_HIDDEN:
            path = f"construct.layers.{layer.id}.face"
            yield Finding(
                "construct.layer-hidden",
                "look",
                f"The layer on {layer.face} stands behind what is in front",
                f"{100 * hidden:.0f} % of it is hidden when the card is closed, where {100 * bare:.0f} % of the panel "
                "stands out.",
                "It is covered, and its words cannot be read.",
                layer.id,
                (
                    Mend(f"Put it on the {front.name}", (Change(path, front.name),)),
                    _without(seen.own, layer),
                ),
            )


def _hidden(seen: Seen[tuple[Layer, ...]], face: Face, border: float) -> tuple[float, float]:
    """The share of a layer that is hidden when the card is closed, and the share of its panel that is seen."""
    part = rectangle(max(0.1, face.width - 2 * border), max(0.1, face.height - 2 * border), at=(border, border))
    return hidden_share(seen.plan.tree, seen.plan.slabs, face, part, 1.0)
