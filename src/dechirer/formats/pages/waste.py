"""What stands in the waste of a page: what it is, a bar to check its scale by, and which edge goes in first."""

from __future__ import annotations

import math
from typing import Any

from dechirer.core.press.pages import Page
from dechirer.core.shape.outline import Box

BAR_MM = 100.0
BAR_HIGH_MM = 5.8
TEXT_MM = 2.8
LINE_MM = 0.25
STEP_MM = 2.0
NEAR_MM = 1.0
"""So far from what is printed anything in the waste stays."""
Place = tuple[float, float, bool]
"""Where something lies: its corner in mm, and whether it stands upright."""


def draw_waste(canvas: Any, page: Page, *, front: bool) -> None:
    """Name the page, draw the bar and the arrow, each where there is room outside pieces, bleed and marks' zones."""
    taken = _taken(page)
    canvas.setFillGray(0)
    canvas.setStrokeGray(0)
    canvas.setLineWidth(LINE_MM)
    place = find_place(page, BAR_MM + 2, BAR_HIGH_MM, taken)
    if place is not None:
        _at(canvas, place, draw_bar, BAR_HIGH_MM)
        taken.append(_box(place, BAR_MM + 2, BAR_HIGH_MM))
    side = "" if front else ", other side"
    times = f"print {page.times + page.spoiled}" if page.times + page.spoiled > 1 else "print once"
    words = f"page {page.number}{side} · {times} · {page.whither} · {page.pieces}"
    words = shown(words)[:110]
    long = _width(words) + 8.0
    place = find_place(page, long, TEXT_MM + 1.6, taken)
    if place is None:
        words = shown(f"page {page.number}{side}")
        place = find_place(page, _width(words) + 8.0, TEXT_MM + 1.6, taken)
    if place is not None:
        _at(canvas, place, lambda canvas: draw_words(canvas, words), TEXT_MM + 1.6)


def _taken(page: Page) -> list[Box]:
    """What must stay free: pieces with their bleed, and the marks with what is bare round them."""
    boxes = []
    for placed in page.placements:
        points = [point for part in placed.piece.prints for area in part.bleed for ring in area for point in ring]
        own = placed.to_sheet.all(points)
        xs = [placed.box.left, placed.box.right, *(x for x, _ in own)]
        ys = [placed.box.top, placed.box.bottom, *(y for _, y in own)]
        boxes.append(Box(min(xs) - NEAR_MM, min(ys) - NEAR_MM, max(xs) + NEAR_MM, max(ys) + NEAR_MM))
    marks = page.sheet.registration
    return boxes + (list(marks.zones()) if marks is not None else [])


def find_place(page: Page, wide: float, high: float, taken: list[Box]) -> Place | None:
    """A place for something of that size (mm): level if it can be, the lowest first; None where there is none."""
    room = page.sheet.printable
    assert room is not None
    for upright in (False, True):
        across, down = (high, wide) if upright else (wide, high)
        y = room.bottom - down
        while y >= room.top - 1e-9:
            x = room.left
            while x + across <= room.right + 1e-9:
                if not any(
                    x < box.right and box.left < x + across and y < box.bottom and box.top < y + down for box in taken
                ):
                    return x, y, upright
                x += STEP_MM
            y -= STEP_MM
    return None


def _box(place: Place, wide: float, high: float) -> Box:
    x, y, upright = place
    return Box(x, y, x + (high if upright else wide), y + (wide if upright else high))


def _at(canvas: Any, place: Place, draw: Any, high: float) -> None:
    """Draw something level from its own corner, turned by a quarter where it stands upright."""
    x, y, upright = place
    canvas.saveState()
    if upright:
        canvas.transform(0, 1, -1, 0, x + high, y)
    else:
        canvas.translate(x, y)
    draw(canvas)
    canvas.restoreState()


def draw_bar(canvas: Any) -> None:
    """A bar of exactly 100 mm between its outer edges, a tick every 10 mm, and what it measures."""
    canvas.rect(1, BAR_HIGH_MM - 1.6, BAR_MM, 1.2, stroke=0, fill=1)
    for step in range(11):
        x = 1 + 10 * step
        inner = min(max(x, 1 + LINE_MM / 2), 1 + BAR_MM - LINE_MM / 2)
        canvas.line(inner, BAR_HIGH_MM - 2.6, inner, BAR_HIGH_MM - 1.6)
    write(canvas, 26, BAR_HIGH_MM - 3.5, "measures 100 mm, or the page was scaled")


def draw_words(canvas: Any, words: str) -> None:
    """An arrow to the edge that goes in first, and the words."""
    path = canvas.beginPath()
    path.moveTo(1.5, 0.4)
    path.lineTo(3.0, 2.6)
    path.lineTo(0.0, 2.6)
    path.close()
    canvas.drawPath(path, stroke=0, fill=1)
    canvas.rect(1.2, 2.4, 0.6, 1.6, stroke=0, fill=1)
    write(canvas, 5.0, TEXT_MM + 0.6, words)


def write(canvas: Any, x: float, y: float, words: str, size: float = TEXT_MM, room: float = math.inf) -> None:
    """Words on a plane whose y runs down, smaller where they would be longer than the room they have (mm)."""
    canvas.saveState()
    canvas.transform(1, 0, 0, -1, x, y)
    canvas.setFont("Helvetica", size * min(1.0, room / max(_width(words) * size / TEXT_MM, 1e-6)))
    canvas.drawString(0, 0, words)
    canvas.restoreState()


def _width(words: str) -> float:
    from reportlab.pdfbase.pdfmetrics import stringWidth

    return float(stringWidth(words, "Helvetica", TEXT_MM))


def shown(text: str) -> str:
    """What the page's own typeface has; anything else as a question mark."""
    return text.encode("cp1252", "replace").decode("cp1252")
