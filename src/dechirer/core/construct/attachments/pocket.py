"""Pockets: a piece glued on a face by three of its edges, open at its top, that holds what is put in."""

from collections.abc import Iterator
from typing import Annotated

from msgspec import Meta, structs

from dechirer.core.card.assembly import Bare
from dechirer.core.card.panels import Face
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.paper_left import largest_share, past_shape, say_past_shape
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_size, make_length, make_length_from
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import rectangle

LEAST_MM, MOST_MM = 15.0, 500.0
LEAST_RIM_MM = 3.0


class Pocket(Decisions, frozen=True):
    """A piece glued on a face by its sides and its lower edge, by a rim of that width, in the middle across."""

    id: Identifier
    face: Annotated[str, Meta(min_length=1, max_length=40)]
    width: Annotated[Length, Field("Width of the pocket", LEAST_MM, MOST_MM, drawn=True)]
    height: Annotated[Length, Field("Height of the pocket", LEAST_MM, MOST_MM, drawn=True)]
    paper: Annotated[Identifier, Field("Paper", takes="paper")]
    up: Annotated[Length, Field("From the lower edge", 0, 500)] = given("0 mm")
    rim: Annotated[Length, Field("Glued rim", 1, 40)] = given("6 mm")


def start_pocket(at: Start) -> Pocket:
    """A pocket as wide as most of its face and half as high."""
    width, height = _start_length(at.width - 12.7, at.units), _start_length(at.height / 2, at.units)
    return Pocket(at.new_id("pocket"), at.face, width, height, at.other_paper())


def _start_length(mm: float, units: str) -> Length:
    """A round length that a pocket may have; the least one where rounding goes below it."""
    return make_length_from(LEAST_MM, min(MOST_MM, mm), units)


@ATTACHMENTS.add(
    "pockets",
    title="Pocket on {face}",
    add="Pocket on the {face}",
    order=60,
    decisions=Pocket,
    start=start_pocket,
    many=True,
)
def add_pockets(attached: Attached, pockets: tuple[Pocket, ...]) -> None:
    """Each pocket on its face; none where the card has no such face or it is larger than that."""
    for pocket in pockets:
        face = attached.face(pocket.face)
        if face is None or pocket.width.mm > face.width or pocket.height.mm + pocket.up.mm > face.height:
            continue
        path = f"construct.pockets.{pocket.id}"
        width = Figure(f"{pocket.id}.width", f"{pocket.id} width", pocket.width.mm, field=f"{path}.width")
        height = Figure(f"{pocket.id}.height", f"{pocket.id} height", pocket.height.mm, field=f"{path}.height")
        rim = Figure(f"{pocket.id}.rim", f"glued rim of {pocket.id}", pocket.rim.mm, field=f"{path}.rim")
        room = Figure(
            f"{pocket.id}.room",
            f"room in {pocket.id}",
            width.value - 2 * rim.value,
            formula="{" + width.name + "} − 2 × {" + rim.name + "}",
            inputs=(width, rim),
            note="Between the glued edges; what is put in wants its width and its thickness.",
        )
        attached.figures += [width, height, rim, room]
        ring = pocket_outline(face, pocket)
        left, top = ring[0]
        attached.put(pocket.id, pocket.paper, face.panel, face.side, face.to_flat.all(ring))
        inner = rectangle(room.value, height.value - rim.value, at=(left + rim.value, top))
        attached.bare.append(Bare(face.panel, face.to_flat.all(inner), "the pocket's inside", pocket.id))
        attached.add_flat(pocket.id, f"pocket on {face.name}", pocket.paper, width, height)


def has_room_in(pocket: Pocket) -> bool:
    """Whether there is room between a pocket's rims."""
    return pocket.width.mm - 2 * pocket.rim.mm >= LEAST_MM


def pocket_outline(face: Face, pocket: Pocket) -> Points:
    """A pocket on its face as seen: in the middle across, so far above the lower edge (mm)."""
    left, top = (face.width - pocket.width.mm) / 2, face.height - pocket.up.mm - pocket.height.mm
    return rectangle(pocket.width.mm, pocket.height.mm, at=(left, top))


@CHECKS.add("construct.pocket-size", of=add_pockets)
def find_pocket_that_does_not_go(seen: Seen[tuple[Pocket, ...]]) -> Iterator[Finding]:
    """A pocket must lie on a face the card has, and leave room between its rims."""
    faces = {face.name: face for face in seen.plan.tree.faces}
    for pocket in seen.own:
        path = f"construct.pockets.{pocket.id}"
        drop = Mend("Take the pocket off", (Change("construct.pockets", tuple(p for p in seen.own if p != pocket)),))
        face = faces.get(pocket.face)
        mends = []
        if face is None:
            reason = f"A {seen.plan.kind.title.lower()} has {', '.join(faces)}."
            title = f"The card has no face called {pocket.face}"
        elif seen.plan.piece(pocket.id) is None:
            title = "The pocket is larger than its face"
            reason = f"The {face.name} is {format_size(face.width, face.height, seen.units)}."
            if min(face.width, face.height) >= LEAST_MM:
                sized = (
                    Change(f"{path}.width", make_length(min(face.width, pocket.width.mm), "mm")),
                    Change(f"{path}.height", make_length(min(face.height, pocket.height.mm), "mm")),
                    Change(f"{path}.up", make_length(0.0, "mm")),
                )
                mends.append(Mend("As large as its face", sized))
        elif not has_room_in(pocket):
            title, reason = "No room is left between the pocket's rims", "Its glued rims take all its width."
            mends.append(Mend("A rim of 3 mm", (Change(f"{path}.rim", make_length(LEAST_RIM_MM, "mm")),)))
            if pocket.width.mm - 2 * LEAST_RIM_MM < LEAST_MM:
                mends.clear()
        else:
            yield from _find_past_the_shape(seen, pocket, face, drop)
            continue
        yield Finding("construct.pocket-size", "stop", title, reason, "It holds nothing.", pocket.id, (*mends, drop))


def _find_past_the_shape(seen: Seen[tuple[Pocket, ...]], pocket: Pocket, face: Face, drop: Mend) -> Iterator[Finding]:
    """A pocket is a rectangle; at the lower edge of a disc its corners stand out."""
    past = past_shape(seen.plan.tree, face, pocket_outline(face, pocket))
    if not past:
        return

    def moved(share: float) -> dict[str, Length]:
        """A share of its size, in the middle of the face."""
        width, height = (_start_length(share * size.mm, seen.units) for size in (pocket.width, pocket.height))
        return {"width": width, "height": height, "up": make_length((face.height - height.mm) / 2, seen.units)}

    def fits(share: float) -> bool:
        made = structs.replace(pocket, **moved(share))
        return not past_shape(seen.plan.tree, face, pocket_outline(face, made))

    share = largest_share(fits)
    path = f"construct.pockets.{pocket.id}"
    changes = tuple(Change(f"{path}.{name}", value) for name, value in moved(share).items())
    roomy = has_room_in(structs.replace(pocket, **moved(share)))
    mends = (Mend("Smaller, and in the middle", changes), drop) if share and roomy else (drop,)
    yield say_past_shape("construct.pocket-size", "pocket", pocket.id, face, past, mends, seen.units)
