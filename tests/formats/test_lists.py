"""The run sheet, the cut list, plan.json and the whole export, each read back by another library."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import pypdf
import pypdfium2
import pytest

from dechirer.core.plan import Plan, make_plan
from dechirer.formats.export import ExportCancelledError, export_plan
from dechirer.formats.outputs.cut_list import write_cut_list
from dechirer.formats.outputs.run_sheet import write_run_sheet
from tests.helpers import changed, quick_job, typed


def test_the_run_sheet_has_a_page_per_mat_with_what_the_maker_needs(demo_plan: Plan) -> None:
    pages = pypdf.PdfReader(io.BytesIO(write_run_sheet(demo_plan))).pages
    assert len(pages) == 1 + 2
    ready = pages[0].extract_text()
    assert all(words in ready for words in ("get ready", "12 × sea grey", "film off", "Creasing point", "Mat 2, 12 ×"))
    text = pages[1].extract_text()
    for words in (
        "mat 1",
        "cut 12 times",
        "sea grey, 110 lb cover",
        "goes in first",
        "outside up",
        "creasing point",
        "light holder",
        "thin-card blade",
        "driven holder",
        "10 × 7 in",
        "folds 5 in from the left",
        "Do not unload",
        "manual",
    ):
        assert words in text, words
    assert [round(float(each)) for each in pages[0].mediabox[2:]] == [595, 842]  # ISO 216 A4 in points


def test_the_run_sheet_draws_the_mat_on_the_page(demo_plan: Plan) -> None:
    page = pypdfium2.PdfDocument(write_run_sheet(demo_plan))[1]
    picture = page.render(scale=1).to_pil().convert("RGB")
    paper = tuple(int("#CFE0E2"[place : place + 2], 16) for place in (1, 3, 5))
    count = sum(number for number, colour in picture.getcolors(1 << 20) if colour == paper)
    assert count > 20_000  # the sheet fills a good part of the picture
    words = page.get_textpage().get_text_range()
    assert "sheet 12 in" in words


def test_a_run_sheet_for_nothing_says_so() -> None:
    plan = make_plan(quick_job("11x11in"))
    text = pypdf.PdfReader(io.BytesIO(write_run_sheet(plan))).pages[0].extract_text()
    assert "Nothing can be cut yet" in text


def test_the_cut_list_opens_as_a_table() -> None:
    job = changed(quick_job("5x7in", liner="1/16", count=3), brief__papers__card__name="=HYPERLINK(1)")
    base, liner = csv.DictReader(io.StringIO(write_cut_list(make_plan(job)).decode()))
    assert (base["width"], base["height"], base["count"]) == ("10 in", "7 in", "3")
    assert base["fold at"] == "5 in from the left"
    assert base["fold sense, outside up"] == "mountain"  # a card opens like a book: its outside is over the spine
    assert float(liner["width mm"]) == pytest.approx(250.825, abs=0.0051)
    assert liner["mats"] == "2"
    assert base["paper"].startswith("'=")  # a spreadsheet must not run it


def test_an_export_is_whole(tmp_path: Path, demo_plan: Plan) -> None:
    seen: list[tuple[int, int]] = []
    files = export_plan(demo_plan, tmp_path, progress=lambda done, all: seen.append((done, all)))
    names = sorted(str(path.relative_to(tmp_path)) for path in tmp_path.rglob("*") if path.is_file())
    assert names == [
        "cut-list.csv",
        "export.json",
        "kit-list.csv",
        "making-up.pdf",
        *(f"mats/mat-{number}.{kind}" for number in (1, 2) for kind in ("dxf", "plt", "png", "svg")),
        "plan.json",
        "run-sheet.pdf",
    ]
    assert seen[-1] == (len(files), len(files)) == (13, 13)
    record = json.loads((tmp_path / "plan.json").read_text())
    assert record["totals"] == {
        "pieces": 24,
        "sheets": 24,
        "mats": 24,
        "tool_changes": 0,
        "minutes": record["totals"]["minutes"],
        "paper_used": pytest.approx(0.4788, abs=1e-3),
        "stops": 0,
    }
    assert record["pieces"][1]["width_mm"] == pytest.approx(250.825)
    assert [mat["file"] for mat in record["mats"]] == ["mats/mat-1.svg", "mats/mat-2.svg"]


def test_equal_plans_give_equal_files(demo_plan: Plan) -> None:
    assert write_run_sheet(demo_plan) == write_run_sheet(make_plan(demo_plan.job))


def test_an_export_can_be_stopped_and_says_where_it_cannot_write(tmp_path: Path, demo_plan: Plan) -> None:
    with pytest.raises(ExportCancelledError):
        export_plan(demo_plan, tmp_path, cancelled=lambda: True)
    (tmp_path / "file").write_text("in the way")
    with pytest.raises(OSError, match="file"):
        export_plan(demo_plan, tmp_path / "file")


def test_millimetre_jobs_speak_millimetres() -> None:
    job = changed(typed(quick_job("A6"), "brief.count", "2"), units="mm")
    assert "210 mm" in write_cut_list(make_plan(job)).decode()
