"""Records are kept whole: what is there stays, strange lines included; the same record is kept once."""

from __future__ import annotations

from pathlib import Path

import pytest
from msgspec.structs import replace

from dechirer.core.press.records import Calibration, Ticket
from dechirer.formats.records import MOST_BYTES, NAME, RecordsError, add_records, read_records

ONE = Calibration("c-1", "2026-11-20", "card", "Desk printer", "Heron 12", "marks", right=0.1, spread=0.04)
TWO = Ticket("t-1", "2026-11-21", "card", "Desk printer", "plain", "normal", "rear", 215.9, 279.4)


def test_records_are_read_as_they_were_kept(tmp_path: Path) -> None:
    assert read_records(tmp_path / "none").records == ()
    add_records(tmp_path / "new", [ONE])
    kept = add_records(tmp_path / "new", [TWO])
    assert kept.records == (ONE, TWO)
    assert read_records(tmp_path / "new").records == (ONE, TWO)
    assert kept.of(Ticket) == (TWO,)
    changed = replace(ONE, right=0.3)
    assert add_records(tmp_path / "new", [changed]).records == (TWO, changed)


def test_what_cannot_be_read_is_kept_and_told(tmp_path: Path) -> None:
    add_records(tmp_path, [ONE])
    path = tmp_path / NAME
    strange = ['{"kind": "calibration", "id": "c-2"}', "{", '{"kind": "later", "id": "x"}', "[]", "null"]
    path.write_text(path.read_text() + "\n".join(strange) + "\n")
    kept = read_records(tmp_path)
    assert kept.records == (ONE,)
    assert list(kept.strange) == strange
    add_records(tmp_path, [TWO])
    again = read_records(tmp_path)
    assert list(again.strange) == strange
    assert again.records == (ONE, TWO)


def test_a_file_that_is_not_ours_is_left_alone(tmp_path: Path) -> None:
    with (tmp_path / NAME).open("wb") as out:
        out.truncate(MOST_BYTES + 1)
    with pytest.raises(RecordsError, match="MB"):
        add_records(tmp_path, [ONE])
    assert (tmp_path / NAME).stat().st_size == MOST_BYTES + 1
