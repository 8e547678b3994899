"""Press's pictures: a page as it comes from the printer, and the ink along one edge of a piece."""

from __future__ import annotations

import math

from dechirer.core.card.placed import Placement
from dechirer.core.card.registration import Registration
from dechirer.core.length import format_length
from dechirer.core.plan import Plan
from dechirer.core.press.bleed import Edge, Evidence
from dechirer.core.press.pages import Page, prints_of_side
from dechirer.core.press.station import PRESS
from dechirer.core.shape.affine import Affine, Point, Points, mirror_x
from dechirer.core.shape.outline import Box, rectangle
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.scenes.hatching import hatch

MARK = "#23262b"
RING_STEPS = 48


def make_page_scene(plan: Plan, page: Page, *, back: bool = False, picked: str = "", small: bool = False) -> Display:
    """A page: its ink, the bleed hatched, marks with what is kept bare round them, the printer's margin and the room.

    Args:
        back: the other side of its sheet.
        picked: the piece whose edges are looked at.
        small: a picture in a list, without words.
    """
    sheet, units = page.sheet, plan.job.units
    stock = plan.brief.paper(page.paper).paper
    side = page.face if not back else ("inside-up" if page.face == "outside-up" else "outside-up")
    paper = stock.face(good=not back)
    whole = rectangle(sheet.width, sheet.height)
    items: list[Item] = [Shape((whole,), fill=paper, form="edge", role="soft", on=paper, shadow=True, element="sheet")]
    items += _limits(page, paper, small=small)
    over = mirror_x(sheet.width) if back else Affine()
    for placed in page.placements:
        items += _draw_piece(placed, over, side, paper, lit=picked == placed.piece.id)
    if not back and sheet.registration is not None:
        items += _draw_marks(sheet.registration, page.number, paper)
    if not small:
        items += [
            Dimension((0.0, sheet.height), (sheet.width, sheet.height), 22.0, format_length(sheet.width, units)),
            Dimension((sheet.width, 0.0), (sheet.width, sheet.height), -22.0, format_length(sheet.height, units)),
        ]
        items += _measure_room(plan, page, paper)
    room = (4.0, 4.0, 4.0, 4.0) if small else (30.0, 16.0, 58.0, 46.0)
    words = f"Page {page.number}, printed {page.times} times: {page.pieces}."
    return Display(tuple(items), Box(0.0, 0.0, sheet.width, sheet.height), room, words)


def _draw_marks(marks: Registration, number: int, paper: str) -> list[Item]:
    """The rings, what is kept bare round them, and the bars that tell the page."""
    bars = tuple(_ring(bar) for bar in marks.sign_bars(number))
    items: list[Item] = [Shape(bars, fill=MARK, on=paper, element="page-sign")]
    for place, (x, y) in enumerate(marks.places):
        name = f"mark-{place + 1}"
        items.append(Shape((_circle((x, y), marks.clear),), form="guide", role="soft", on=paper, element=name))
        rings = (_circle((x, y), marks.outer), _circle((x, y), marks.inner))
        items.append(Shape(rings, fill=MARK, on=paper, element=name))
        if not place:
            items.append(Shape((_circle((x, y), marks.dot),), fill=MARK, on=paper, element=name))
    return items


def name_on_page(plan: Plan, page: Page, element: str) -> str:
    """What something on a page is, in words; empty for nothing."""
    marks = len(page.sheet.registration.places) if page.sheet.registration is not None else 0
    names = {
        "sheet": f"{plan.job.brief.paper(page.paper).name}: bare paper",
        "printable": f"what the {plan.job.brief.printer.name} reaches of the sheet",
        "room": "the room to print: pieces and their bleed stay inside it",
        "page-sign": f"bars that tell the machine this is page {page.number}",
        "mark-1": f"mark 1 of {marks}, with a dot, so that a turned sheet is known; the ring round it stays bare",
    }
    if element in names:
        return names[element]
    if element.startswith("mark-"):
        return f"mark {element[5:]} of {marks}; the ring round it stays bare"
    kind, _, rest = element.partition(":")
    id = rest or kind
    for placed in page.placements:
        if id in (placed.id, placed.piece.id):
            copy = placed.id.removeprefix(f"{placed.piece.id}-")
            name = f"{placed.piece.name} {copy}" if kind != "piece" else placed.piece.name
            says = {"piece": "where it is cut", "bleed": "bleed: ink past the cut"}
            return f"{name}: {says.get(kind, 'ink') if rest else 'ink'}"
    return ""


def _limits(page: Page, paper: str, *, small: bool) -> list[Item]:
    """What the printer cannot reach, and the room to print."""
    sheet = page.sheet
    items: list[Item] = []
    if sheet.printable is not None:
        items.append(Shape((_ring(sheet.printable),), form="guide", role="soft", on=paper, element="printable"))
    if sheet.room.width > 0 and sheet.room.height > 0:
        items.append(Shape((_ring(sheet.room),), form="reach", role="soft", on=paper, element="room"))
        if not small:
            at = (sheet.room.right, sheet.room.top)
            items.append(Label(at, "room to print", "small", "soft", paper, "end", shift_px=(-4.0, -9.0), yields=True))
    return items


def _measure_room(plan: Plan, page: Page, paper: str) -> list[Item]:
    """The room's own measures, whose working can be looked at."""
    known = plan.part(PRESS).paper(page.paper)
    room = page.sheet.room
    if known is None or abs(known.sheet.room.width - room.width) > 0.01 or room.width <= 0:
        return []
    corner, units = (room.right, room.bottom), plan.job.units
    sides = (((room.left, room.bottom), corner, known.width), (corner, (room.right, room.top), known.height))
    return [
        Dimension(start, end, 13.0, figure.text(units), figure.key, may_move=True, on=paper)
        for start, end, figure in sides
    ]


def _draw_piece(placed: Placement, over: Affine, side: str, paper: str, *, lit: bool) -> list[Item]:
    """A piece's ink and hatched bleed, and where it is cut."""
    items: list[Item] = []
    hatched: list[tuple[Points, ...]] = []
    for part in prints_of_side(placed, side):
        part = part.moved(over)
        for area in (*part.rings, *part.bleed):
            items.append(Shape(area, fill=part.colour, on=paper, raster=part.raster, element=placed.id))
        hatched += part.bleed
    strokes = tuple(stroke for area in hatched for stroke in hatch(area))
    if strokes:
        bleed = f"bleed:{placed.id}"
        items.append(Shape(strokes, closed=False, form="edge", role="accent", on=paper, weight=0.6, element=bleed))
    outline = over.all(placed.outline)
    items.append(
        Shape(
            (outline,),
            form="edge",
            role="accent" if lit else "soft",
            on=paper,
            element=f"piece:{placed.piece.id}",
            weight=1.8 if lit else 0.8,
        )
    )
    return items


def _ring(box: Box) -> Points:
    return rectangle(box.width, box.height, at=(box.left, box.top))


def _circle(centre: Point, radius: float) -> Points:
    return tuple(
        (
            centre[0] + radius * math.cos(math.tau * step / RING_STEPS),
            centre[1] + radius * math.sin(math.tau * step / RING_STEPS),
        )
        for step in range(RING_STEPS)
    )


STRIP_MM, BAND_MM = 120.0, 5.0


def make_edge_scene(plan: Plan, evidence: Evidence, number: int = 0) -> Display:
    """The ink along one edge of a piece, stretched out straight: dark where it reaches the cut, and the bleed above it.

    Args:
        number: 0 for the outline, from 1 on its openings.
    """
    edge: Edge = evidence.edges[min(number, len(evidence.edges) - 1)]
    count = len(edge.inked)
    items: list[Item] = [Shape((rectangle(STRIP_MM, BAND_MM),), fill="surface", form="edge", role="soft")]
    start = 0
    for place in range(1, count + 1):
        if place < count and edge.inked[place] == edge.inked[start]:
            continue
        left, right = STRIP_MM * start / count, STRIP_MM * place / count
        if edge.inked[start]:
            items.append(Shape((rectangle(right - left, BAND_MM, at=(left, 0.0)),), fill="ink"))
            if evidence.bleed:
                above = rectangle(right - left, 2.0, at=(left, -2.6))
                items.append(Shape((above,), fill="accent-wash", form="edge", role="accent", weight=0.6))
        start = place
    around = sum(math.dist(a, b) for a, b in zip(edge.ring, (*edge.ring[1:], edge.ring[0]), strict=True))
    words = f"once round, {format_length(around, plan.job.units)}; dark where ink reaches the cut"
    items.append(Label((0.0, BAND_MM), words, "small", "soft", anchor="start", shift_px=(0.0, 12.0)))
    box = Box(0.0, -3.0, STRIP_MM, BAND_MM)
    return Display(tuple(items), box, (6.0, 4.0, 6.0, 22.0), f"Ink at {100 * edge.share:.0f} % of this edge.")
