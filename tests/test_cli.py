from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from dechirer.__main__ import main
from dechirer.cli import run_command_line
from dechirer.core.job.model import Job
from dechirer.formats.job.archive import write_archive
from tests.card_files import FILES
from tests.helpers import changed


def test_a_quick_card_writes_its_files(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "out"
    code = run_command_line(
        ["card", "--fold", "side", "--size", "5x7in", "--liner", "1/16in", "--count", "4", "--out", str(out), "--json"]
    )
    said = capsys.readouterr()
    record = json.loads(said.out)
    assert code == 0
    assert record["totals"]["pieces"] == 8
    assert [piece["width_mm"] for piece in record["pieces"]] == pytest.approx([254.0, 250.825])
    assert (out / "mats" / "mat-2.svg").exists()
    assert "heavy for a single score" in said.err


def test_a_file_that_is_the_card_goes_to_files(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    name, data = FILES["lines in nested groups, fold overshoots"]
    (tmp_path / name).write_bytes(data)
    code = run_command_line(
        ["card", "--file", str(tmp_path / name), "--count", "3", "--out", str(tmp_path / "out"), "--json"]
    )
    record = json.loads(capsys.readouterr().out)
    assert code == 0
    assert record["pieces"][0]["count"] == 3
    assert record["pieces"][0]["width_mm"] == pytest.approx(200, abs=0.01)
    assert record["closed"]["width_mm"] == pytest.approx(100, abs=0.01)
    assert (tmp_path / "out/mats/mat-1.svg").exists()


@pytest.mark.parametrize(
    ("arguments", "part"),
    [
        (["card", "--out", "x"], "--file"),
        (["card", "--size", "5x7in", "--file", "a.svg", "--out", "x"], "Give either"),
        (["card", "--file", "none.svg", "--out", "x"], "none.svg"),
        (["card", "--size", "big", "--out", "x"], "--size"),
        (["card", "--size", "5x7in", "--liner", "thin", "--out", "x"], "--liner"),
        (["card", "--size", "5x-7in", "--out", "x"], "height"),
        (["card", "--size", "5x7in", "--weight", "heavy", "--out", "x"], "weight"),
        (["card", "--size", "5x7in", "--machine", "anvil", "--out", "x"], "heron-12"),
        (["card", "--size", "5x7in"], "--out"),
        (["plan", "none.dechirer", "--out", "x"], "none.dechirer"),
        (["check", "none.dechirer"], "none.dechirer"),
        (["frobnicate"], "frobnicate"),
    ],
)
def test_bad_input_exits_2_and_says_what(arguments: list[str], part: str, capsys: pytest.CaptureFixture[str]) -> None:
    assert run_command_line(arguments) == 2
    said = capsys.readouterr()
    assert part in said.err
    assert said.out == ""
    assert not Path("x").exists()


def test_check_exits_1_when_something_stops(tmp_path: Path, demo: Job, capsys: pytest.CaptureFixture[str]) -> None:
    fine, bad = tmp_path / "fine.dechirer", tmp_path / "bad.dechirer"
    write_archive(fine, demo)
    write_archive(bad, changed(demo, run__tools=("thin-card-blade",)))
    assert run_command_line(["check", str(fine)]) == 0
    assert "Score this paper twice" in capsys.readouterr().out
    assert run_command_line(["check", str(bad), "--json"]) == 1
    assert json.loads(capsys.readouterr().out)[0]["code"] == "run.tool-missing"
    assert run_command_line(["plan", str(bad), "--out", str(tmp_path / "o")]) == 1


def test_without_a_display_the_demo_is_planned_and_pictured(tmp_path: Path) -> None:
    env = {
        key: value for key, value in os.environ.items() if key not in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    }
    done = subprocess.run(
        [sys.executable, "-m", "dechirer"], cwd=tmp_path, env=env, capture_output=True, text=True, check=False
    )
    assert done.returncode == 0, done.stderr
    assert "No display" in done.stderr
    out = tmp_path / "dechirer-demo"
    assert sorted(path.name for path in (out / "stations").iterdir()) == [
        "brief.png",
        "construct.png",
        "dress.png",
        "fold.png",
        "keep.png",
        "lay.png",
        "press.png",
        "run.png",
    ]
    assert (out / "run-sheet.pdf").read_bytes().startswith(b"%PDF")


def test_inspect_says_what_a_file_holds(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    def told(*arguments: str) -> str:
        assert run_command_line(["inspect", *arguments]) == 0
        return capsys.readouterr().out

    root = Path(__file__).parents[1]
    record = json.loads(told(str(root / "src" / "dechirer" / "demo" / "art" / "kite.svg"), "--json"))
    assert record["width_mm"] == pytest.approx(56, abs=0.01)
    assert record["items"] == 1
    assert record["lines"] == {"cut": 4, "pen": 3}
    assert record["open_lines"] == 3
    assert record["doubts"] == []
    page = (root / "docs" / "files.md").read_text()
    assert all(f"`{key}`" in page for key in record)
    bare = tmp_path / "bare.svg"
    bare.write_text('<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 96 96"><rect width="96" height="96"/></svg>')
    assert "25.4" in told(str(bare), "--units", "mm")
    assert "doubt" in told(str(bare))
    assert json.loads(told(str(bare), "--ppi", "72", "--json"))["width_mm"] == pytest.approx(33.8667, abs=1e-3)


def test_inspect_refuses_what_is_no_art(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    for name, data in (("a.txt", b"words"), ("b.svg", b"<svg"), ("c.png", b"\x89PNG\r\n\x1a\n")):
        path = tmp_path / name
        path.write_bytes(data)
        assert run_command_line(["inspect", str(path), "--json"]) == 2
        said = capsys.readouterr()
        assert said.out == ""
        assert name in said.err
    assert run_command_line(["inspect", str(tmp_path / "gone.svg")]) == 2


def test_the_window_opens_on_another_book_and_not_on_what_is_none(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    opened: list[tuple[Path | None, Path | None]] = []
    monkeypatch.setattr("dechirer.desk.start.run_desk", lambda job=None, book=None: opened.append((job, book)) or 0)
    monkeypatch.setattr("dechirer.desk.start.has_display", lambda: True)
    book, job = tmp_path / "demo.sqlite", tmp_path / "a.dechirer"
    job.write_bytes(b"PK no book")

    def start(*arguments: str) -> int:
        monkeypatch.setattr("sys.argv", ["dechirer", *arguments])
        return main()

    assert start("--book", str(book)) == start(str(job), "--book", str(book)) == start(str(job)) == 0
    assert opened == [(None, book), (job, book), (job, None)]
    assert start("--book", str(job)) == 2
    assert "is not a logbook" in capsys.readouterr().err
    assert start("book", "list", "--book", str(book)) == 0  # a command's own
    assert len(opened) == 3
