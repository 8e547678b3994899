"""Corner slits: a slit across each corner of a loose insert holds it on the front."""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face
from dechirer.core.card.piece import Line, Measure
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, make_length, parse_length
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import bounds, rectangle

LEAST_SLIT_MM = 6.0
"""Paper left between a slit and the edge or fold (common practice, no published figure)."""
PLACING_MM = 1.0
"""How far a machine and an eye misplace a bought blank: 0.5 to 1 mm (common practice)."""


class CornerSlits(Decisions, frozen=True):
    """An insert held on the front by a slit across each of its corners.

    `catch` is how far along the insert's edges the slits cross them; `ease` how much longer each slit is at both ends.
    """

    width: Annotated[Length, Field("Width of the insert", 10, 600, drawn=True)]
    height: Annotated[Length, Field("Height of the insert", 10, 600, drawn=True)]
    paper: Annotated[Identifier, Field("Paper", takes="paper")]
    style: Annotated[Literal["straight", "scalloped"], Field("Slits")] = "straight"
    catch: Annotated[Length, Field("The slits catch", 1, 100, drawn=True)] = given("12 mm")
    ease: Annotated[Length, Field("Each slit is longer by", 0, 20)] = given("1 mm")


def start_slits(at: Start) -> CornerSlits:
    """An insert that leaves a fifth of its face free on each side, held by straight slits."""
    width, height = make_length(at.width * 0.6, at.units), make_length(at.height * 0.6, at.units)
    return CornerSlits(width, height, at.other_paper())


def slit_paths(face: Face, slits: CornerSlits) -> tuple[Points, ...]:
    """The four slits on the face as seen, each across a corner of the insert in its middle.

    A straight slit lies on x + y = catch, measured from the corner; a scalloped one is the arc of a circle over the
    same ends that bulges towards the corner by a fifth of its length.
    """
    left, top = (face.width - slits.width.mm) / 2, (face.height - slits.height.mm) / 2
    right, bottom = left + slits.width.mm, top + slits.height.mm
    catch, over = slits.catch.mm, slits.ease.mm / math.sqrt(2)
    paths = []
    for x, y, sx, sy in ((left, top, 1, 1), (right, top, -1, 1), (right, bottom, -1, -1), (left, bottom, 1, -1)):
        start = (x + sx * (catch + over), y - sy * over)
        end = (x - sx * over, y + sy * (catch + over))
        paths.append((start, end) if slits.style == "straight" else _arc(start, end, (x, y)))
    return tuple(paths)


def _arc(start: tuple[float, float], end: tuple[float, float], towards: tuple[float, float]) -> Points:
    """An arc from start to end that bulges towards a point by a fifth of the chord, flattened at 0.01 mm."""
    chord = math.dist(start, end)
    rise = chord / 5
    radius = (chord * chord / 4 + rise * rise) / (2 * rise)
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    reach = math.dist(middle, towards) or 1.0
    ux, uy = (towards[0] - middle[0]) / reach, (towards[1] - middle[1]) / reach
    centre = (middle[0] - ux * (radius - rise), middle[1] - uy * (radius - rise))
    first = math.atan2(start[1] - centre[1], start[0] - centre[0])
    sweep = math.remainder(math.atan2(end[1] - centre[1], end[0] - centre[0]) - first, math.tau)
    steps = max(8, math.ceil(abs(sweep) / (2 * math.acos(1 - 0.01 / max(radius, 0.02)))))
    return tuple(
        (
            centre[0] + radius * math.cos(first + sweep * step / steps),
            centre[1] + radius * math.sin(first + sweep * step / steps),
        )
        for step in range(steps + 1)
    )


def visible_insert(face: Face, slits: CornerSlits) -> Points:
    """What shows of the insert: its corners are tucked behind the front."""
    left, top = (face.width - slits.width.mm) / 2, (face.height - slits.height.mm) / 2
    right, bottom = left + slits.width.mm, top + slits.height.mm
    c = min(slits.catch.mm, slits.width.mm / 2 - 0.1, slits.height.mm / 2 - 0.1)
    return (
        (left + c, top),
        (right - c, top),
        (right, top + c),
        (right, bottom - c),
        (right - c, bottom),
        (left + c, bottom),
        (left, bottom - c),
        (left, top + c),
    )


@ATTACHMENTS.add(
    "slits",
    title="Insert",
    add="Insert held by corner slits",
    order=40,
    decisions=CornerSlits,
    start=start_slits,
    piece="insert",
    line="slits",
)
def add_slits(attached: Attached, slits: CornerSlits) -> None:
    """Four slits in the front and the insert they hold."""
    face = attached.front
    path = "construct.slits"
    width = Figure("insert.width", "insert width", slits.width.mm, field=f"{path}.width")
    height = Figure("insert.height", "insert height", slits.height.mm, field=f"{path}.height")
    catch = Figure("slits.catch", "catch", slits.catch.mm, field=f"{path}.catch")
    ease = Figure("slits.ease", "ease", slits.ease.mm, field=f"{path}.ease")
    length = derive(
        "slits.length",
        "slit length",
        math.sqrt(2) * catch.value + 2 * ease.value,
        "√2 × {catch} + 2 × {ease}",
        catch,
        ease,
        note="Across the corner at 45 degrees, from edge to edge of the insert and a little beyond.",
    )
    tolerance = derive(
        "slits.tolerance",
        "tolerance",
        catch.value / math.sqrt(2),
        "{catch} ÷ √2",
        catch,
        note="How far the slits may be misplaced before a corner slips out: compare it with your machine's error.",
    )
    attached.figures += [width, height, catch, ease, length, tolerance]
    paths = tuple(face.to_flat.all(path) for path in slit_paths(face, slits))
    attached.add_line(face.panel, Line("slits", "corner slits", "cut", paths, role="slit"))
    attached.put("insert", slits.paper, face.panel, face.side, face.to_flat.all(visible_insert(face, slits)))
    attached.add_flat("insert", "insert", slits.paper, width, height)
    left, top = (face.width - width.value) / 2, (face.height - height.value) / 2
    corner, crossing = face.to_flat.all(((left, top + height.value), (left + catch.value, top + height.value)))
    guide = face.to_flat.all(rectangle(width.value, height.value, at=(left, top)))
    attached.measure_on_base(face.panel, Measure(catch, corner, crossing, "catch", 0.0, guide))


@CHECKS.add("construct.slit-near-edge", "construct.slit-catch", "construct.slits-meet", of=add_slits)
def find_slit_trouble(seen: Seen[CornerSlits]) -> Iterator[Finding]:
    """Slits must leave paper at the edge, and catch more than the machine misplaces."""
    slits, units, face = seen.own, seen.units, seen.plan.tree.faces[0]
    box = bounds([point for path in slit_paths(face, slits) for point in path])
    frame = min(box.left, box.top, face.width - box.right, face.height - box.bottom)
    off = Mend("No insert", (Change("construct.slits", None),))
    if frame < LEAST_SLIT_MM - 1e-6:
        room = 2 * (LEAST_SLIT_MM + slits.ease.mm)
        smaller = Mend(
            "Make the insert smaller",
            (
                Change("construct.slits.width", make_length(min(slits.width.mm, max(10.0, face.width - room)), units)),
                Change(
                    "construct.slits.height",
                    make_length(min(slits.height.mm, max(10.0, face.height - room)), units),
                ),
            ),
        )
        yield Finding(
            "construct.slit-near-edge",
            "stop" if frame < 1.0 else "look",
            f"A slit is too near the edge of the {face.name}",
            f"{format_length(max(frame, 0.0), units)} of paper is left; it holds from {LEAST_SLIT_MM:.0f} mm.",
            "The corner tears out when the insert is put in.",
            "base-slits",
            (smaller, off),
        )
    tolerance = seen.plan.figure("slits.tolerance")
    if tolerance is not None and tolerance.value < 2 * PLACING_MM:
        yield Finding(
            "construct.slit-catch",
            "look",
            "The slits hardly catch the insert",
            f"They may be {tolerance.value:.1f} mm out before a corner slips; a blank is easily misplaced by "
            f"{PLACING_MM:.0f} mm (common practice).",
            "A corner of the insert stays outside.",
            "base-slits",
            (Mend("Catch 12 mm", (Change("construct.slits.catch", parse_length("12 mm")),)),),
        )
    if 2 * slits.catch.mm >= min(slits.width.mm, slits.height.mm):
        yield Finding(
            "construct.slits-meet",
            "stop",
            "The slits run into each other",
            f"Each takes {format_length(slits.catch.mm, units)} of a side of "
            f"{format_length(min(slits.width.mm, slits.height.mm), units)}.",
            "The middle of the front falls out.",
            "base-slits",
            (Mend("Catch 6 mm", (Change("construct.slits.catch", parse_length("6 mm")),)), off),
        )
