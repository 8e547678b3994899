"""Saving loses nothing: what a save replaces is kept, changes on disk are noticed, old versions come back."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random

import pytest
from msgspec import structs

from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.formats.job.archive import read_archive, write_archive
from dechirer.formats.job.journal import Journal, find_recovered, let_go
from dechirer.formats.job.saving import save_job
from dechirer.formats.job.stamp import has_changed, take_stamp
from dechirer.formats.job.version_changes import describe_changes
from dechirer.formats.job.versions import (
    DAYS_KEPT,
    LAST_KEPT,
    Version,
    VersionError,
    VersionStore,
    choose_kept,
    keep_replaced,
)
from tests.dressing import art, dressed, item
from tests.helpers import changed, quick_job

ID = "0123456789abcdef"


@pytest.fixture(autouse=True)
def own(own_folders: None) -> None:
    """Versions of a test stay in the test."""


def names(store: VersionStore) -> list[str]:
    return [version.name for version in store.list_versions()]


def test_every_save_keeps_the_version_before_it(tmp_path: Path, demo: Job) -> None:
    path = tmp_path / "a.dechirer"
    for number in range(4):
        save_job(path, changed(demo, name=f"card {number}"), ID)
    store = VersionStore(ID)
    assert names(store) == ["card 2", "card 1", "card 0"]
    assert store.read(2).name == "card 1"
    assert read_archive(path).name == "card 3"
    assert read_archive(path).id == ID
    assert structs.replace(store.read(1), id="") == changed(demo, name="card 0")


def test_a_job_saved_over_another_keeps_that_one_among_its_own(tmp_path: Path, demo: Job) -> None:
    path = tmp_path / "a.dechirer"
    save_job(path, demo, ID)
    save_job(path, changed(demo, name="another"), "ffff")
    assert names(VersionStore(ID)) == [demo.name]
    assert names(VersionStore("ffff")) == []


@pytest.mark.parametrize("content", [b"no zip at all", b"PK\x05\x06" + bytes(18), b""])
def test_a_file_that_is_no_job_is_kept_as_it_is(tmp_path: Path, demo: Job, content: bytes) -> None:
    path = tmp_path / "a.dechirer"
    path.write_bytes(content)
    save_job(path, demo, ID)
    store = VersionStore(ID)
    (version,) = store.list_versions()
    assert not version.is_job
    with pytest.raises(VersionError, match="is not a job"):
        store.read(version.number)
    assert store._load(store._read_record(store.root / "000001.version")[1]) == content


def test_twenty_versions_of_a_job_with_pictures_cost_little(tmp_path: Path, demo: Job) -> None:
    """Content-addressed: its outlines, here 600 kB that hardly pack, are stored once."""
    random = Random(3)
    outline = "M 0 0 " + " ".join(f"L {random.uniform(0, 99):.5f} {random.uniform(0, 99):.5f}" for _ in range(30_000))
    job, path = dressed(item(art="art"), arts=(art(outline),)), tmp_path / "a.dechirer"
    for number in range(21):
        save_job(path, changed(job, brief__count=number + 1), ID)
    store = VersionStore(ID)
    room = sum(each.stat().st_size for each in store.root.rglob("*") if each.is_file())
    assert len(store.list_versions()) == LAST_KEPT
    assert path.stat().st_size > 200_000
    assert room < 1.5 * path.stat().st_size


def test_the_last_stay_and_one_a_day_for_a_month() -> None:
    now = datetime(2026, 6, 30, 12, tzinfo=UTC)
    versions = [
        Version(number, (now - timedelta(hours=6 * (200 - number))).isoformat(timespec="seconds"), "a", "", "")
        for number in range(1, 201)
    ]
    kept = choose_kept(versions, now)
    assert [version.number for version in kept[:LAST_KEPT]] == list(range(200, 200 - LAST_KEPT, -1))
    days = [version.saved[:10] for version in kept[LAST_KEPT:]]
    assert len(days) == len(set(days))
    assert DAYS_KEPT - 7 <= len(days) <= DAYS_KEPT
    assert min(days) >= (now - timedelta(days=DAYS_KEPT)).date().isoformat()


def test_numbers_are_never_used_twice_and_damage_loses_one_version_only(tmp_path: Path, demo: Job) -> None:
    path = tmp_path / "a.dechirer"
    for number in range(5):
        save_job(path, changed(demo, name=f"card {number}"), ID)
    store = VersionStore(ID)
    (store.root / "000004.version").write_bytes(b"torn")
    (store.root / "000002.version").write_bytes(b"")
    assert names(store) == ["card 2", "card 0"]
    save_job(path, changed(demo, name="last"), ID)
    assert store.list_versions()[0].number == 5


def test_a_save_goes_on_when_nothing_can_be_kept(tmp_path: Path, demo: Job, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "a.dechirer"
    save_job(path, demo, ID)
    (tmp_path / "file").write_text("in the way")
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "file"))
    saved = save_job(path, changed(demo, name="b"), ID)
    assert saved.not_kept
    assert read_archive(path).name == "b"


def test_a_link_stays_one_and_its_target_is_kept(tmp_path: Path, demo: Job) -> None:
    real, link = tmp_path / "real.dechirer", tmp_path / "link.dechirer"
    save_job(real, demo, ID)
    link.symlink_to(real)
    save_job(link, changed(demo, name="b"), ID)
    assert link.is_symlink()
    assert read_archive(real).name == "b"
    assert names(VersionStore(ID)) == [demo.name]


# --- changes on disk ------------------------------------------------------------------------------------------------


def test_a_file_changed_meanwhile_is_noticed_by_its_content(tmp_path: Path, demo: Job) -> None:
    path = tmp_path / "a.dechirer"
    stamp = save_job(path, demo, ID).stamp
    assert not has_changed(path, stamp)
    os.utime(path, (1, 1))
    assert not has_changed(path, stamp)  # touched, and the same
    write_archive(path, changed(demo, name="b"))
    assert has_changed(path, stamp)
    assert has_changed(path, None)
    path.unlink()
    assert not has_changed(path, stamp)  # there is nothing to overwrite
    assert take_stamp(path) is None


def test_a_journal_keeps_what_the_file_was(tmp_path: Path, demo: Job) -> None:
    path, folder = tmp_path / "a.dechirer", tmp_path / "journal"
    stamp = save_job(path, demo, ID).stamp
    journal = Journal(folder)
    journal.record(changed(demo, name="unsaved"), path, stamp)
    assert journal._lock is not None
    journal._lock.close()  # as when the window is killed
    (recovered,) = find_recovered(folder)
    assert recovered.stamp == stamp
    let_go(recovered)


# --- the command line -----------------------------------------------------------------------------------------------


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "dechirer", *arguments], capture_output=True, text=True, check=False)


def test_versions_are_listed_with_what_changed_and_restored(tmp_path: Path) -> None:
    path = tmp_path / "a.dechirer"
    save_job(path, quick_job(), ID)
    save_job(path, changed(quick_job(), brief__count=9), ID)
    listed = run("versions", str(path))
    assert listed.returncode == 0
    assert "pieces 1 › 9" in listed.stdout
    assert json.loads(run("versions", str(path), "--json").stdout)[0]["number"] == 1
    assert run("versions", str(path), "--restore", "1").returncode == 0
    assert read_archive(path).brief.count == 1
    assert VersionStore(ID).read(2).brief.count == 9  # what was replaced is kept too
    missing = run("versions", str(path), "--restore", "77")
    assert missing.returncode == 2
    assert "version 77 does not exist" in missing.stderr


def test_a_job_never_saved_has_no_versions(tmp_path: Path) -> None:
    path = tmp_path / "a.dechirer"
    write_archive(path, quick_job())
    assert "no earlier versions" in run("versions", str(path)).stdout
    assert keep_replaced(tmp_path / "none.dechirer", ID) is None


def test_changes_are_told_in_the_numbers_cards_are_compared_by() -> None:
    old, new = make_plan(quick_job()), make_plan(changed(quick_job(liner="1/16in"), name="b", brief__count=4))
    words = describe_changes(old, new)
    assert "name “Quick card” › “b”" in words or "› “b”" in words
    assert "pieces 1 › 8" in words
    assert describe_changes(old, old) == "the same as now"
