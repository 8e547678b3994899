"""`dechirer press`: pages written, each rehearsed; what is wrong said in words and by the exit code."""

from __future__ import annotations

import json
from pathlib import Path

import pypdf
import pytest
from click.testing import CliRunner

from dechirer.cli import command
from dechirer.core.job.model import Job
from dechirer.formats.job.archive import write_archive
from tests.core.test_press_catalogue import CATALOGUE, card, red, to_the_edge
from tests.helpers import changed, quick_job, typed


def run(job: Job, folder: Path, *more: str) -> tuple[int, str, str]:
    path = folder / "job.dechirer"
    write_archive(path, job)
    said = CliRunner().invoke(command, ["press", str(path), "--out", str(folder / "out"), *more])
    return said.exit_code, said.stdout, said.stderr


def test_pages_are_written_and_each_is_printed_and_read(tmp_path: Path) -> None:
    code, told, said = run(card(to_the_edge(), count=3), tmp_path, "--json", "--calibration")
    assert code == 0, said
    (page,) = json.loads(told)["pages"]
    assert (page["times"], page["cut_by"], page["refused"]) == (3, "marks", "")
    assert 0 < page["typical_mm"] < 0.15
    assert "cut and print" in said
    names = sorted(path.name for path in (tmp_path / "out/press").iterdir())
    assert names == ["calibration-card.pdf", "calibration-card.svg", "page-1.pdf", "page-1.png"]
    assert len(pypdf.PdfReader(tmp_path / "out/press/page-1.pdf").pages) == 1
    other = json.loads(run(card(to_the_edge(), count=3), tmp_path, "--json", "--sheet", "5")[1])
    assert other["pages"][0]["typical_mm"] != page["typical_mm"]
    again = json.loads(run(card(to_the_edge(), count=3), tmp_path, "--json", "--sheet", "5")[1])
    assert again == other


def test_cut_by_the_edge_it_says_so(tmp_path: Path) -> None:
    code, told, said = run(changed(card(red()), press__cut_by="edge"), tmp_path, "--json")
    assert code == 0, said
    (page,) = json.loads(told)["pages"]
    assert page["cut_by"] == "edge"
    assert page["worst_mm"] > 0.1


def test_a_job_that_stops_exits_with_one_and_one_without_print_with_two(tmp_path: Path) -> None:
    code, _, said = run(CATALOGUE["press.film-over-marks"](), tmp_path)
    assert code == 1
    assert "The film covers the marks" in said
    code, _, said = run(quick_job(), tmp_path)
    assert code == 2
    assert "nothing of this job is printed" in said


@pytest.mark.parametrize("size", ["2 x 3 in", "20 x 20 mm"])
def test_a_sheet_too_small_for_a_calibration_page_is_refused(tmp_path: Path, size: str) -> None:

    code, _, said = run(
        typed(quick_job("20x20mm", fold="flat"), "brief.papers.card.sheet", size), tmp_path, "--calibration"
    )
    assert code == 2
    assert "too small for a calibration page" in said
