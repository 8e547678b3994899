"""A picture of the finished card: several views on one page, as PDF, or that page as PNG."""

from __future__ import annotations

import io
from pathlib import Path

from dechirer.core.length import format_size
from dechirer.core.plan import Plan
from dechirer.core.words import plural
from dechirer.drawing.scenes.portrait import View, make_portrait
from dechirer.formats.job.atomic import write_atomically
from dechirer.formats.pdf_sink import PdfSink

PAGE = (841.89, 595.28)
"""A4 lying, in points (ISO 216: 297 x 210 mm)."""
EDGE, HEAD, FOOT = 36.0, 64.0, 30.0
PNG_SCALE = 2.5
"""Pixels to the point: about 2,100 by 1,490 in all."""
KINDS = (".pdf", ".png")


class PictureError(ValueError):
    """The picture cannot be written as asked; the message says why."""


def write_picture(plan: Plan, path: Path, seen: View | None = None) -> None:
    """Write the card's picture into a file whose name ends in .pdf or .png; with it as a maker has turned it.

    Raises:
        PictureError: the name ends otherwise.
        OSError: the file cannot be written.
    """
    kind = path.suffix.lower()
    if kind not in KINDS:
        raise PictureError(f"{path.name}: a picture ends in .png or .pdf")
    page = make_page(plan, seen)
    write_atomically(path, page if kind == ".pdf" else draw_png(page))


def make_page(plan: Plan, seen: View | None = None) -> bytes:
    """The page as PDF bytes; equal plans give equal bytes."""
    from reportlab.lib.colors import HexColor
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out, pagesize=PAGE, invariant=1)
    canvas.setTitle(plan.job.name)
    canvas.setCreator("Dechirer")
    wide, high = PAGE
    canvas.setFillColor(HexColor("#23262b"))
    canvas.setFont("Helvetica-Bold", 17)
    canvas.drawString(EDGE, high - EDGE - 8, _shown(plan.job.name))
    canvas.setFont("Helvetica", 10.5)
    canvas.setFillColor(HexColor("#5f5a50"))
    canvas.drawString(EDGE, high - EDGE - 24, _shown(describe(plan)))
    views = make_portrait(plan, seen)
    sink = PdfSink(canvas, high)
    each = (wide - 2 * EDGE) / len(views)
    tall = high - EDGE - HEAD - FOOT
    for number, (title, display) in enumerate(views):
        left = EDGE + number * each
        sink.draw(display, left + 6, HEAD, each - 12, tall)
        canvas.setFont("Helvetica", 9.5)
        canvas.setFillColor(HexColor("#5f5a50"))
        canvas.drawCentredString(left + each / 2, EDGE, title)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def describe(plan: Plan) -> str:
    """The card in a line: what it is, its size, how many, on what paper."""
    job, closed = plan.job, plan.construct.closed
    size = format_size(closed.width.value, closed.height.value, job.units)
    paper = plan.brief.paper(job.brief.base_paper).paper.name
    about = f"{job.about} · " if job.about else ""
    count = job.brief.count
    return f"{about}{plan.construct.kind.title}, {size}, {count} {plural(count, 'copy', 'copies')}, {paper}"


def _shown(text: str) -> str:
    """What the page's own typeface has; anything else as a question mark."""
    return text.encode("cp1252", "replace").decode("cp1252")


def draw_png(page: bytes) -> bytes:
    """A PDF page as PNG bytes."""
    import pypdfium2

    document = pypdfium2.PdfDocument(page)
    try:
        picture = document[0].render(scale=PNG_SCALE).to_pil()
    finally:
        document.close()
    out = io.BytesIO()
    picture.save(out, "PNG", optimize=True)
    return out.getvalue()
