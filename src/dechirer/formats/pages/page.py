"""A page as PDF: its size is the sheet's, nothing on it is scaled, and ink stays within a piece and its bleed.

What is cut, scored or perforated is never on it, nor guides, backers, or a piece's white body.
"""

from __future__ import annotations

import io
from typing import Any

from dechirer.core.card.print import Print
from dechirer.core.card.registration import Registration
from dechirer.core.press.pages import Page, prints_of_side
from dechirer.core.shape.affine import Affine, Points, mirror_x
from dechirer.formats.pages.pictures import draw_picture
from dechirer.formats.pages.waste import draw_waste

POINTS_PER_MM = 72 / 25.4
WHITE = 0.99
"""A colour this near to white is not printed: a printer has no white ink."""


def make_page(page: Page, side: str, title: str) -> bytes:
    """One side of a page as PDF bytes; equal pages give equal bytes.

    Args:
        side: `outside-up` or `inside-up`. The side that does not lie up on the mat is mirrored about the upright
            middle, as the sheet is turned about it, and has no marks.
        title: what the document is called.
    """
    out = io.BytesIO()
    canvas = begin_page(out, page.sheet.width, page.sheet.height, title)
    front = side == page.face
    for part in prints_on(page, side):
        if part.raster is not None:
            draw_picture(canvas, part)
        else:
            _draw_areas(canvas, part)
    if front and page.sheet.registration is not None:
        draw_marks(canvas, page.sheet.registration, page.number)
    if not page.is_blank:
        draw_waste(canvas, page, front=front)
    end_page(canvas)
    return out.getvalue()


def begin_page(out: io.BytesIO, width: float, height: float, title: str) -> Any:
    """A canvas of a page in mm, y down from the top left corner, as on the mat; it is not scaled when it is printed."""
    from reportlab import rl_config
    from reportlab.pdfgen.canvas import Canvas

    # Its ASCII form of binary data takes most of the time and a quarter more room.
    rl_config.useA85 = 0
    size = (width * POINTS_PER_MM, height * POINTS_PER_MM)
    canvas = Canvas(out, pagesize=size, invariant=1, pageCompression=1)
    canvas.setTitle(title)
    canvas.setCreator("Dechirer")
    canvas.setViewerPreference("PrintScaling", "None")
    canvas.transform(POINTS_PER_MM, 0, 0, -POINTS_PER_MM, 0, size[1])
    return canvas


def end_page(canvas: Any) -> None:
    """Write a canvas out."""
    canvas.showPage()
    canvas.save()


def prints_on(page: Page, side: str) -> list[Print]:
    """What is printed on one side of a page, in the order it is printed, as it lies on that page (mm)."""
    over = Affine() if side == page.face else mirror_x(page.sheet.width)
    return [part.moved(over) for placed in page.placements for part in prints_of_side(placed, side)]


def is_white(colour: str) -> bool:
    """Whether a colour is none to a printer."""
    return min(int(colour[place : place + 2], 16) for place in (1, 3, 5)) / 255 >= WHITE


def _draw_areas(canvas: Any, part: Print) -> None:
    from reportlab.lib.colors import HexColor

    if is_white(part.colour):
        return
    canvas.setFillColor(HexColor(part.colour))
    path = canvas.beginPath()
    for area in (*part.rings, *part.bleed):
        for ring in area:
            trace(path, ring)
    # Areas of a print and its bleed meet along the cut; each is filled by its own rule, and they do not overlap.
    canvas.drawPath(path, stroke=0, fill=1, fillMode=0)


def trace(path: Any, ring: Points) -> None:
    """A ring as a closed path."""
    first, *rest = ring
    path.moveTo(*first)
    for point in rest:
        path.lineTo(*point)
    path.close()


def draw_marks(canvas: Any, marks: Registration, number: int) -> None:
    """The registration marks, solid black, and the bars that tell the page's number."""
    canvas.setFillGray(0)
    for bar in marks.sign_bars(number):
        canvas.rect(bar.left, bar.top, bar.width, bar.height, stroke=0, fill=1)
    for place, (x, y) in enumerate(marks.places):
        path = canvas.beginPath()
        path.circle(x, y, marks.outer)
        path.circle(x, y, marks.inner)
        canvas.drawPath(path, stroke=0, fill=1, fillMode=0)
        if not place:
            canvas.circle(x, y, marks.dot, stroke=0, fill=1)
