"""Every whole job from an empty start to files: by the command line and in the window, the same files from both, no
stop on the right job."""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from pathlib import Path

import pypdf
import pytest
import svgelements

from dechirer.cli import run_command_line
from dechirer.core.audit import audit
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.core.press.station import PAGES
from dechirer.core.stations import STATIONS
from dechirer.formats.job.archive import read_archive, write_archive
from tests.desk.conftest import Desk, open_desk
from tests.formats.test_typed_out import read_back
from tests.helpers import changed
from tests.jobs.made import GOOD as CUT
from tests.jobs.made_printed import PRINTED_GOOD

__all__ = ["open_desk"]
GOOD = {**CUT, **PRINTED_GOOD}
EVERY_KIND = ("2", "10 printed")
"""Jobs whose mats are written in every kind of file."""


@pytest.mark.parametrize("name", list(GOOD))
def test_a_job_goes_through_from_start_to_files(
    name: str, tmp_path: Path, open_desk: Callable[[Job], Desk], capsys: pytest.CaptureFixture[str]
) -> None:
    job = GOOD[name]()
    if name not in EVERY_KIND:
        job = changed(job, run__skip=("dxf", "png"))  # they say the same; it spares half of the time
    plan = make_plan(job)
    assert [each.title for each in plan.findings if each.severity == "stop"] == []
    assert audit(plan, again=True) == ()
    read_back(plan)

    saved, by_command = tmp_path / "job.dechirer", tmp_path / "command"
    write_archive(saved, job)
    assert read_archive(saved) == job
    assert run_command_line(["check", str(saved)]) == 0
    assert run_command_line(["plan", str(saved), "--out", str(by_command)]) == 0
    assert "stop:" not in capsys.readouterr().out
    files = {path.relative_to(by_command): path.read_bytes() for path in by_command.rglob("*") if path.is_file()}
    assert {"cut-list.csv", "run-sheet.pdf", "plan.json"} <= {path.name for path in files}
    assert len([path for path in files if path.suffix == ".svg"]) == len(plan.lay.layouts)
    assert len([path for path in files if path.parts[0] == "press"]) == 2 * len(plan.part(PAGES).pages)
    assert json.loads(files[Path("plan.json")])["totals"]["stops"] == 0
    assert len(pypdf.PdfReader(io.BytesIO(files[Path("run-sheet.pdf")])).pages) >= 1
    for path, content in files.items():
        if path.suffix == ".svg":
            svgelements.SVG.parse(io.StringIO(content.decode()))

    desk = open_desk(read_archive(saved))
    for station in STATIONS.ids():
        desk.station(station)
        assert desk.settle().stops == 0
    by_window = tmp_path / "window"
    desk.room.exports.export_to(by_window)
    desk.qtbot.waitUntil(lambda: "files written" in desk.window.banners.text("export"), timeout=30_000)
    same = {path.relative_to(by_window): path.read_bytes() for path in by_window.rglob("*") if path.is_file()}
    dated = Path("export.json")  # the manifest carries the time
    assert same.keys() == files.keys()
    assert all(
        same[path] == files[path] for path in files if path.suffix != ".pdf" and path != dated
    )  # a PDF carries the time
