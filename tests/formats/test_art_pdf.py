"""PDF pages as art: written by reportlab, read at true size; what cannot be read is refused in words."""

from __future__ import annotations

import io

import pytest
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.pdfgen.canvas import Canvas

from dechirer.core.dress.drawn import draw_art
from dechirer.formats.art.collect import ArtError
from dechirer.formats.art.read import kind_of, read_art

MM = 72 / 25.4


def page(*, pages: int = 1, size: tuple[float, float] = (100.0, 80.0), bare: bool = False, **more: object) -> bytes:
    """A page (mm) with a red rectangle of 40 x 20 mm and a blue one of 10 x 10 mm."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(size[0] * MM, size[1] * MM), **more)  # type: ignore[arg-type]
    for _ in range(pages):
        if not bare:
            canvas.setFillColorRGB(0.8, 0.1, 0.1)
            canvas.rect(10 * MM, 30 * MM, 40 * MM, 20 * MM, stroke=0, fill=1)
            canvas.setFillColorRGB(0.1, 0.1, 0.8)
            canvas.rect(70 * MM, 30 * MM, 10 * MM, 10 * MM, stroke=0, fill=1)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def test_what_is_on_a_page_comes_in_at_its_true_size_with_its_pixels() -> None:
    data = page()
    assert kind_of(data) == "pdf"
    art = read_art(data, "page.pdf", set())
    assert not art.doubt
    large, small = sorted(draw_art(art, 1.0).areas, key=lambda area: -area.area)
    left, top, right, bottom = large.bounds
    assert (right - left, bottom - top) == pytest.approx((40.0, 20.0), abs=0.09)
    left, top, right, bottom = small.bounds
    assert (right - left, bottom - top) == pytest.approx((10.0, 10.0), abs=0.09)
    # Bare paper is clear: what stands beside a figure is not printed.
    assert art.width == pytest.approx(70.0, abs=0.1)
    assert art.pixels is not None
    assert art.pixels.width == pytest.approx(100 / 25.4 * 300, abs=2)


def test_further_pages_are_told_of() -> None:
    art = read_art(page(pages=3), "many.pdf", set())
    assert any("2 further pages" in each for each in art.lost)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (page(encrypt=StandardEncryption("secret")), "locked by a password"),
        (b"%PDF-1.7\nnothing", "no PDF that can be read"),
        (page()[:400], "no PDF that can be read"),
        (page(bare=True), "nothing stands out"),
        (page(size=(4000.0, 3000.0)), "up to 80 in"),
    ],
)
def test_pages_that_cannot_be_used_are_refused(data: bytes, said: str) -> None:
    with pytest.raises(ArtError, match=said) as error:
        read_art(data, "page.pdf", set())
    assert str(error.value).startswith("page.pdf:")
