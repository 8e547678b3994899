"""Corner slits: a slit across each corner of a loose insert holds it on the front."""

import math
from collections.abc import Iterator
from typing import Annotated, Literal

from dechirer.core.card.making import derive
from dechirer.core.card.panels import Face
from dechirer.core.card.piece import Line, Measure
from dechirer.core.construct.attached import Attached
from dechirer.core.construct.paper_left import mend_smaller, paper_left, past_shape, say_past_shape
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
from dechirer.core.shape.outline import rectangle

LEAST_SLIT_MM = 6.0
"""Paper left between a slit and the edge or fold (common practice, no published figure)."""
LEAST_INSERT_MM = 10.0
SCALLOP_RISE = 0.1
SCALLOP_RADIUS = (1 / 4 + SCALLOP_RISE**2) / (2 * SCALLOP_RISE)
"""Radius of a scallop over its chord, from the rise over its chord (plain geometry): 1.3."""
SCALLOP_HALF = math.asin(1 / (2 * SCALLOP_RADIUS))
"""Half the angle of a scallop's arc, in radians."""
PLACING_MM = 1.0
"""How far a machine and an eye misplace a bought blank: 0.5 to 1 mm (common practice)."""


class CornerSlits(Decisions, frozen=True):
    """An insert held by a slit across each of its corners, on the front or behind it.

    `catch` is how far along the insert's edges the slits cross them; `ease` how much longer each slit is at both ends.
    An insert on the front has its corners tucked behind; one behind the front shows through the openings, and only its
    corners come through.
    """

    width: Annotated[Length, Field("Width of the insert", LEAST_INSERT_MM, 600, drawn=True)]
    height: Annotated[Length, Field("Height of the insert", LEAST_INSERT_MM, 600, drawn=True)]
    paper: Annotated[Identifier, Field("Paper", takes="paper")]
    style: Annotated[Literal["straight", "scalloped"], Field("Slits")] = "straight"
    catch: Annotated[Length, Field("The slits catch", 1, 100, drawn=True)] = given("12 mm")
    ease: Annotated[Length, Field("Each end is longer by", 0, 20)] = given("1 mm")
    lies: Annotated[Literal["on-front", "behind-front"], Field("The insert lies")] = "on-front"


def start_slits(at: Start) -> CornerSlits:
    """An insert that leaves a fifth of its face free on each side, held by straight slits."""
    width, height = make_length(at.width * 0.6, at.units), make_length(at.height * 0.6, at.units)
    return CornerSlits(width, height, at.other_paper())


def slit_paths(face: Face, slits: CornerSlits) -> tuple[Points, ...]:
    """The four slits on the face as seen, each across a corner of the insert in its middle.

    Measured from the corner, every slit crosses the insert's two edges at the catch. A straight one lies on
    x + y = catch; a scalloped one is the arc of a circle that bulges towards the corner by a tenth of its chord. Both
    run on by the ease at each end, in the direction they have there.
    """
    left, top = (face.width - slits.width.mm) / 2, (face.height - slits.height.mm) / 2
    right, bottom = left + slits.width.mm, top + slits.height.mm
    own = _scallop(slits.catch.mm, slits.ease.mm) if slits.style == "scalloped" else _straight(slits)
    corners = ((left, top, 1, 1), (right, top, -1, 1), (right, bottom, -1, -1), (left, bottom, 1, -1))
    return tuple(tuple((x + sx * px, y + sy * py) for px, py in own) for x, y, sx, sy in corners)


def _straight(slits: CornerSlits) -> Points:
    catch, over = slits.catch.mm, slits.ease.mm / math.sqrt(2)
    return (catch + over, -over), (-over, catch + over)


def _scallop(catch: float, ease: float) -> Points:
    """A scalloped slit across a corner at (0, 0) with its edges along +x and +y, flattened at 0.01 mm."""
    radius = SCALLOP_RADIUS * math.sqrt(2) * catch
    half = SCALLOP_HALF
    # The circle's centre lies on the diagonal, on the far side of the chord.
    away = catch / 2 + radius * math.cos(half) / math.sqrt(2)
    steps = max(4, math.ceil(half / math.acos(1 - 0.01 / max(radius, 0.02))))
    angles = [-3 * math.pi / 4 + half * (1 - step / steps) for step in range(2 * steps + 1)]
    arc = [(away + radius * math.cos(angle), away + radius * math.sin(angle)) for angle in angles]
    run, drop = ease * math.cos(math.pi / 4 - half), ease * math.sin(math.pi / 4 - half)
    return ((catch + run, -drop), *arc, (-drop, catch + run))


def insert_parts(face: Face, slits: CornerSlits) -> tuple[Points, tuple[Points, ...]]:
    """The insert's middle and its four corners, which lie on different sides of the front."""
    left, top = (face.width - slits.width.mm) / 2, (face.height - slits.height.mm) / 2
    right, bottom = left + slits.width.mm, top + slits.height.mm
    c = min(slits.catch.mm, slits.width.mm / 2 - 0.1, slits.height.mm / 2 - 0.1)
    middle = (
        (left + c, top),
        (right - c, top),
        (right, top + c),
        (right, bottom - c),
        (right - c, bottom),
        (left + c, bottom),
        (left, bottom - c),
        (left, top + c),
    )
    corners = ((left, top, c, c), (right, top, -c, c), (right, bottom, -c, -c), (left, bottom, c, -c))
    return middle, tuple(((x, y), (x + dx, y), (x, y + dy)) for x, y, dx, dy in corners)


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
    length, tolerance = _measure(slits, catch, ease)
    attached.figures += [width, height, catch, ease, length, tolerance]
    paths = tuple(face.to_flat.all(path) for path in slit_paths(face, slits))
    attached.add_line(face.panel, Line("slits", "corner slits", "cut", paths, role="slit"))
    middle, corners = insert_parts(face, slits)
    over, under = face.side, attached.behind(face)
    on_front = slits.lies == "on-front"
    attached.put("insert", slits.paper, face.panel, over if on_front else under, face.to_flat.all(middle))
    attached.put_level(
        "insert", slits.paper, face.panel, under if on_front else over, [face.to_flat.all(each) for each in corners]
    )
    attached.add_flat("insert", "insert", slits.paper, width, height)
    left, top = (face.width - width.value) / 2, (face.height - height.value) / 2
    corner, crossing = face.to_flat.all(((left, top + height.value), (left + catch.value, top + height.value)))
    guide = face.to_flat.all(rectangle(width.value, height.value, at=(left, top)))
    attached.measure_on_base(face.panel, Measure(catch, corner, crossing, "catch", 0.0, guide))


def _measure(slits: CornerSlits, catch: Figure, ease: Figure) -> tuple[Figure, Figure]:
    """A slit's length, and how far it may be misplaced along or across itself before it fails."""
    across = "Across the corner: it crosses both edges of the insert at the catch and runs on at each end."
    note = "How far a slit may be misplaced, along or across itself: compare it with your machine's error. "
    if slits.style == "straight":
        long = math.sqrt(2) * catch.value + 2 * ease.value
        length = derive("slits.length", "slit length", long, "√2 × {catch} + 2 × {ease}", catch, ease, note=across)
        slips, ends, shares = catch.value / math.sqrt(2), ease.value, []
        terms = "{catch} ÷ √2", "{ease}"
    else:
        arc, rise = 2 * SCALLOP_RADIUS * SCALLOP_HALF * math.sqrt(2), SCALLOP_RISE * math.sqrt(2)
        apex, run = 1 / math.sqrt(2) - rise, math.sqrt(2) * math.sin(math.pi / 4 - SCALLOP_HALF)
        why = "a circle that rises by a tenth of its chord (plain geometry)"
        shares = [
            Figure(f"slits.{key}", words, value, "plain", source=why)
            for key, words, value in (
                ("arc", "scallop over catch", arc),
                ("apex", "its middle from the corner over catch", apex),
                ("run", "its ends beyond the edges over ease", run),
            )
        ]
        slips, ends = apex * catch.value, run * ease.value
        formula = "{scallop over catch} × {catch} + 2 × {ease}"
        long = arc * catch.value + 2 * ease.value
        length = derive("slits.length", "slit length", long, formula, shares[0], catch, ease, note=across)
        terms = "{" + shares[1].name + "} × {catch}", "{" + shares[2].name + "} × {ease}"
    if slips <= ends:
        formula, used, what = terms[0], (catch, *shares[1:2]), "Further, and the corner slips out."
    else:
        formula, used, what = (
            terms[1],
            (ease, *shares[2:]),
            "Further, and its end lies under the insert: the corner does not go in.",
        )
    tolerance = derive("slits.tolerance", "tolerance", min(slips, ends), formula, *used, note=note + what)
    return length, tolerance


def _paper_beside(seen: Seen[CornerSlits], slits: CornerSlits) -> float:
    face = seen.plan.tree.faces[0]
    return paper_left(seen.plan.tree, face, *slit_paths(face, slits), closed=False)


def _insert_past(seen: Seen[CornerSlits], slits: CornerSlits) -> float:
    """How far the insert's own corners reach out of a shaped front, in mm."""
    face = seen.plan.tree.faces[0]
    at = (face.width - slits.width.mm) / 2, (face.height - slits.height.mm) / 2
    return past_shape(seen.plan.tree, face, rectangle(slits.width.mm, slits.height.mm, at=at))


def _smaller(seen: Seen[CornerSlits]) -> tuple[Mend, ...]:
    slits, face, room = seen.own, seen.plan.tree.faces[0], 2 * (LEAST_SLIT_MM + seen.own.ease.mm)
    return mend_smaller(
        "Make the insert smaller",
        "construct.slits",
        slits,
        (min(slits.width.mm, face.width - room), min(slits.height.mm, face.height - room)),
        LEAST_INSERT_MM,
        seen.units,
        lambda slits: _paper_beside(seen, slits) >= LEAST_SLIT_MM - 1e-6 and not _insert_past(seen, slits),
    )


@CHECKS.add("construct.slit-near-edge", "construct.slit-catch", "construct.slits-meet", of=add_slits)
def find_slit_trouble(seen: Seen[CornerSlits]) -> Iterator[Finding]:
    """Slits must leave paper at the edge, and catch more than the machine misplaces."""
    slits, units, face = seen.own, seen.units, seen.plan.tree.faces[0]
    frame = _paper_beside(seen, slits)
    off = Mend("No insert", (Change("construct.slits", None),))
    if frame < LEAST_SLIT_MM - 1e-6:
        yield Finding(
            "construct.slit-near-edge",
            "stop" if frame < 1.0 else "look",
            f"A slit {'runs past' if frame < 0 else 'is too near'} the edge of the {face.name}",
            f"{format_length(max(frame, 0.0), units)} of paper is left; it holds from {LEAST_SLIT_MM:.0f} mm.",
            "The corner tears out when the insert is put in.",
            "base-slits",
            (*_smaller(seen), off),
        )
    elif past := _insert_past(seen, slits):
        yield say_past_shape("construct.slit-near-edge", "insert", "insert", face, past, (*_smaller(seen), off), units)
    figure = seen.plan.figure("slits.tolerance")
    tolerance = figure.value if figure is not None else PLACING_MM
    if figure is not None and tolerance < PLACING_MM - 1e-6:
        by_ease = figure.inputs[0].key == "slits.ease"
        field, now = ("ease", slits.ease.mm) if by_ease else ("catch", slits.catch.mm)
        enough = parse_length(f"{math.ceil(10 * now * PLACING_MM / max(tolerance, 0.01)) / 10:g} mm")
        words = "Make each end longer by" if by_ease else "Catch"
        yield Finding(
            "construct.slit-catch",
            "look",
            "The slits hardly forgive an error of place",
            f"They may be {tolerance:.1f} mm out before a corner slips or does not go in; a blank is easily misplaced "
            f"by {PLACING_MM:.0f} mm (common practice).",
            "A corner of the insert stays outside.",
            "base-slits",
            (Mend(f"{words} {format_length(enough.mm, 'mm')}", (Change(f"construct.slits.{field}", enough),)),),
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
