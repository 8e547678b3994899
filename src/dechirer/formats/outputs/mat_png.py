"""A picture of each loaded mat, to be looked at beside the machine."""

from __future__ import annotations

import io

from dechirer.core.lay.mat import MatLayout
from dechirer.core.plan import Plan
from dechirer.drawing.scenes.mat import make_mat_scene
from dechirer.formats.output import OUTPUTS, unless_skipped
from dechirer.formats.pdf_sink import PdfSink

WIDE_PT = 420.0
PNG_SCALE = 2.0


@OUTPUTS.add(
    "mats/{mat}.png",
    wanted=unless_skipped("png"),
    each="mat",
    order=13,
    about="a picture of the loaded mat",
)
def write_mat_png(layout: MatLayout, plan: Plan) -> bytes:
    """One loaded mat as PNG."""
    import pypdfium2
    from reportlab.pdfgen.canvas import Canvas

    high = WIDE_PT * layout.sheet.mat.height / layout.sheet.mat.width
    page = io.BytesIO()
    canvas = Canvas(page, pagesize=(WIDE_PT, high), invariant=1, pageCompression=0)
    PdfSink(canvas, high).draw(make_mat_scene(plan, layout), 0.0, 0.0, WIDE_PT, high)
    canvas.save()
    document = pypdfium2.PdfDocument(page.getvalue())
    try:
        picture = document[0].render(scale=PNG_SCALE).to_pil().convert("RGB")
    finally:
        document.close()
    out = io.BytesIO()
    picture.save(out, "PNG", compress_level=1)
    return out.getvalue()
