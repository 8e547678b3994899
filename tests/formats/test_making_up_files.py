"""The making-up on paper and the kit list, read back: words by pypdf, templates measured by PDFium's own reading."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import numpy as np
import pypdf
import pypdfium2
import pytest
from click.testing import CliRunner

from dechirer.cli import command
from dechirer.core.plan import make_plan
from dechirer.demo import load_demo_job
from dechirer.formats.job.archive import write_archive
from dechirer.formats.outputs.kit_list import write_kit_list
from dechirer.formats.outputs.making_up import write_making_up
from tests.dressing import art, box_path, dressed, item
from tests.helpers import changed, quick_job

PAPER = {"paper": "liner-paper"}


def text_of(content: bytes) -> str:
    return "\n".join(page.extract_text() for page in pypdf.PdfReader(io.BytesIO(content)).pages)


def test_every_step_and_every_row_of_the_kit_is_on_paper() -> None:
    plan = make_plan(load_demo_job("stack"))
    text = " ".join(text_of(write_making_up(plan)).split())
    for step in plan.making_up.steps:
        assert step.words in text
    for row in plan.making_up.kit:
        assert row.name in text
    assert "small children" in text
    assert "If something goes wrong" in text
    assert write_making_up(plan) == write_making_up(make_plan(load_demo_job("stack")))


def test_a_template_is_at_true_size_with_its_openings_where_the_parts_go() -> None:
    """Two squares of 20 mm, 50 mm apart, on a front of 5 x 7 in: rendered and measured."""
    two = art(f"{box_path(20, 20)} {box_path(20, 20, 70, 0)}", id="two", width=90, height=20)
    plan = make_plan(dressed(item(art="two", **PAPER), arts=(two,)))
    document = pypdfium2.PdfDocument(write_making_up(plan))
    page = document[len(document) - 1]
    px_per_mm = 8.0
    seen = np.asarray(page.render(scale=px_per_mm * 25.4 / 72).to_pil().convert("L"))
    document.close()
    below = seen[int(30 * px_per_mm) :]  # under the words
    across = np.flatnonzero((below < 140).sum(0) > 15 * px_per_mm) / px_per_mm
    runs = [across[0], *across[np.flatnonzero(np.diff(across) > 1) + 1]]
    inner = runs[1:-1]  # of the upright lines the outermost are the panel's
    assert np.diff(runs)[0] == pytest.approx((127.0 - 90.0) / 2, abs=0.3)
    assert np.diff(inner) == pytest.approx([20.0, 50.0, 20.0], abs=0.3)
    assert runs[-1] - runs[0] == pytest.approx(127.0, abs=0.3)


def test_the_kit_list_opens_in_a_spreadsheet_and_no_name_is_a_formula() -> None:
    job = changed(dressed(item(**PAPER, name="=HYPERLINK(1)")), brief__count=3)
    rows = list(csv.DictReader(io.StringIO(write_kit_list(make_plan(job)).decode())))
    named = {row["what"]: row for row in rows}
    assert named["base"]["in all"] == "3"
    assert "'=HYPERLINK(1)" in named


def test_the_command_line_writes_both_and_tells_the_steps(tmp_path: Path) -> None:
    job = tmp_path / "card.dechirer"
    write_archive(job, quick_job("5x7in", count=3, liner="1/16"))
    out = tmp_path / "out"
    told = CliRunner().invoke(command, ["making-up", str(job), "--out", str(out)])
    assert told.exit_code == 0, told.output
    assert "Close the front" in told.output
    assert sorted(path.name for path in out.iterdir()) == ["export.json", "kit-list.csv", "making-up.pdf"]
    plain = CliRunner().invoke(command, ["making-up", str(job), "--out", str(out), "--json"])
    record = json.loads(plain.stdout)
    assert [joint["part"] for joint in record["joints"]] == ["liner", "liner"]
    assert record["schedule"]["way"] == "line"
    assert {row["name"] for row in record["kit"]} >= {"base", "liner", "wet glue"}
    stopped = tmp_path / "stopped.dechirer"
    write_archive(stopped, changed(quick_job("5x7in", liner="1/16"), fold__skipped=("glue-liner-on-back",)))
    assert CliRunner().invoke(command, ["making-up", str(stopped), "--out", str(out)]).exit_code == 1
    assert CliRunner().invoke(command, ["making-up", str(tmp_path / "none"), "--out", str(out)]).exit_code == 2


def test_many_cards_are_counted_on_a_line_and_a_flat_card_has_pages_too() -> None:
    text = text_of(write_making_up(make_plan(quick_job("5x7in", count=200))))
    assert "done: ____ of 200" in text
    assert "making up" in text_of(write_making_up(make_plan(quick_job("5x7in", fold="flat"))))
