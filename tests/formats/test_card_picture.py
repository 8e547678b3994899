"""The card's picture read back: the page by pypdf, the pixels by Pillow."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from pypdf import PdfReader

from dechirer.cli import run_command_line
from dechirer.core.plan import make_plan
from dechirer.demo import DEMOS, load_demo_job
from dechirer.drawing.scenes.portrait import View
from dechirer.drawing.solid.eye import Look
from dechirer.formats.card_picture import PictureError, make_page, write_picture
from dechirer.formats.job.archive import write_archive
from tests.helpers import quick_job


@pytest.mark.parametrize("name", list(DEMOS))
def test_every_demo_has_a_page(name: str) -> None:
    plan = make_plan(load_demo_job(name))
    page = make_page(plan)
    assert page == make_page(plan)
    reader = PdfReader(io.BytesIO(page))
    (sheet,) = reader.pages
    assert (float(sheet.mediabox.width), float(sheet.mediabox.height)) == pytest.approx((841.89, 595.28))  # ISO 216 A4
    text = sheet.extract_text()
    assert plan.job.name in text
    for title in ("the front", "the back"):
        assert title in text
    assert ("inside" in text.split("\n")) == bool(plan.stacked.tree.hinges)


def test_the_picture_shows_the_papers_in_their_colours(tmp_path: Path) -> None:
    plan = make_plan(load_demo_job("kites"))
    path = tmp_path / "card.png"
    # Seen from where the light comes from, the front is as bright as it is.
    write_picture(plan, path, View("as turned", 1.0, Look(15.0, 25.0)))
    with Image.open(path) as opened:
        picture = opened.convert("RGB")
    assert picture.size == (2105, 1489)
    colours = {colour: count for count, colour in picture.getcolors(picture.width * picture.height)}
    assert colours.get((255, 255, 255), 0) > 0.3 * picture.width * picture.height  # the page
    papers = [paper for paper in plan.job.brief.papers if paper.id in ("sea-grey", "reed-green")]
    for paper in papers:
        wanted = tuple(int(paper.colour[at : at + 2], 16) for at in (1, 3, 5))
        near = min(sum(abs(a - b) for a, b in zip(colour, wanted, strict=True)) for colour in colours)
        assert near <= 45, paper.name  # hardly shaded


def test_turned_by_hand_it_is_on_the_page_as_it_was_turned() -> None:
    plan = make_plan(quick_job("5x7in"))
    page = make_page(plan, View("as turned", 0.5, Look(70.0, 5.0)))
    assert "as turned" in PdfReader(io.BytesIO(page)).pages[0].extract_text()
    assert page != make_page(plan)


def test_another_ending_is_refused_and_nothing_is_written(tmp_path: Path) -> None:
    with pytest.raises(PictureError, match=r"ends in .png or .pdf"):
        write_picture(make_plan(quick_job()), tmp_path / "card.bmp")
    assert not list(tmp_path.iterdir())


def test_a_name_the_page_cannot_write_does_not_stop_it(tmp_path: Path) -> None:
    from msgspec import structs

    plan = make_plan(structs.replace(quick_job(), name="凧 Kite"))
    assert "Kite" in PdfReader(io.BytesIO(make_page(plan))).pages[0].extract_text()


def test_the_command_line_writes_it_as_well(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    job, out, other = (tmp_path / name for name in ("a.dechirer", "out", "other"))
    write_archive(job, quick_job("5x7in"))
    assert run_command_line(["plan", str(job), "--out", str(out), "--picture", str(tmp_path / "a.png")]) == 0
    with Image.open(tmp_path / "a.png") as picture:
        assert picture.size == (2105, 1489)
    assert run_command_line(["card", "--size", "A6", "--out", str(other), "--picture", str(tmp_path / "b.pdf")]) == 0
    assert len(PdfReader(tmp_path / "b.pdf").pages) == 1
    assert run_command_line(["card", "--size", "A6", "--out", str(other), "--picture", str(tmp_path / "b.gif")]) == 2
    assert "--picture: b.gif: a picture ends in .png or .pdf" in capsys.readouterr().err
