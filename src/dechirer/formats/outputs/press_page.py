"""Pages to be printed, each with the number of its mat: as PDF, and as a picture of 300 pixels to the inch."""

from __future__ import annotations

import io

from dechirer.core.plan import Plan
from dechirer.core.press.pages import Page
from dechirer.formats.output import OUTPUTS
from dechirer.formats.pages.page import make_page
from dechirer.formats.read_back import check_page

PX_PER_INCH = 300
HAIR = 1e-6
"""The renderer rounds a page's rows up: it is asked for a hair less."""


@OUTPUTS.add(
    "press/{page}.pdf",
    each="page",
    order=14,
    check=check_page,
    about="a page to print at true size, with its marks",
)
def write_page_pdf(side: tuple[Page, str], plan: Plan) -> bytes:
    """One side of a page as PDF."""
    page, face = side
    return make_page(page, face, f"{plan.job.name}: page {page.number}")


@OUTPUTS.add("press/{page}.png", each="page", order=15, about="the same page as a picture, 300 pixels to the inch")
def write_page_png(side: tuple[Page, str], plan: Plan) -> bytes:
    """One side of a page as PNG, with its size in it."""
    import pypdfium2

    document = pypdfium2.PdfDocument(write_page_pdf(side, plan))
    try:
        picture = document[0].render(scale=PX_PER_INCH / 72 * (1 - HAIR)).to_pil().convert("RGB")
    finally:
        document.close()
    out = io.BytesIO()
    picture.save(out, "PNG", dpi=(PX_PER_INCH, PX_PER_INCH), compress_level=1)
    return out.getvalue()
