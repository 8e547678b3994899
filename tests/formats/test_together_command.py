"""`dechirer plan A B --together`: common mats, one run, one list; and what cannot be is refused with exit code 2."""

from __future__ import annotations

import csv
import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from dechirer.cli import command
from dechirer.formats.job.archive import write_archive
from tests.blanks import blank_job, in_words
from tests.core.test_press_catalogue import card, red
from tests.helpers import changed, quick_job


def run(*arguments: str) -> tuple[int, str]:
    result = CliRunner().invoke(command, list(arguments), standalone_mode=True)
    return result.exit_code, result.output


@pytest.fixture
def jobs(tmp_path: Path) -> dict[str, str]:
    made = {
        "small": changed(in_words(blank_job("a2-side")), name="Small ones"),
        "large": changed(in_words(blank_job("a7-side")), name="Large ones"),
        "printed": changed(card(red()), name="Printed"),
        "plain": quick_job("3x3in", fold="flat"),
    }
    for name, job in made.items():
        write_archive(tmp_path / f"{name}.dechirer", job)
    return {name: str(tmp_path / f"{name}.dechirer") for name in made}


def test_two_jobs_are_written_as_one_run(jobs: dict[str, str], tmp_path: Path) -> None:
    out = tmp_path / "out"
    code, words = run("plan", jobs["small"], jobs["large"], "--together", "--out", str(out))
    assert code == 0, words
    record = json.loads((out / "plan.json").read_text())
    assert record["laid_with"] == ["Large ones"]
    assert [len(mat["slots"]) for mat in record["mats"] if mat["slots"]] == [4, 4]
    assert len(list((out / "mats").glob("*.svg"))) == len(record["mats"]) == 3
    rows = list(csv.DictReader((out / "cut-list.csv").read_text().splitlines()))
    assert {row["name"].split(":")[0] for row in rows if ":" in row["name"]} == {"Large ones"}


@pytest.mark.parametrize(
    ("names", "options", "words"),
    [
        (("plain", "printed"), ("--together",), "is printed"),
        (("plain", "small"), (), "one by one, or --together"),
        (("plain", "gone"), ("--together",), "No such file"),
    ],
)
def test_what_cannot_be_laid_together_is_said(
    jobs: dict[str, str], tmp_path: Path, names: tuple[str, str], options: tuple[str, ...], words: str
) -> None:
    paths = [jobs.get(name, str(tmp_path / name)) for name in names]
    code, told = run("plan", *paths, *options, "--out", str(tmp_path / "out"))
    assert code == 2
    assert words in told
    assert not (tmp_path / "out").exists()
