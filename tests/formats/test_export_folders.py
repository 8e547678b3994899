"""Exports touch their own files alone: manifests, conflicts, one at a time, all or none, single mats."""

from __future__ import annotations

import hashlib
import json
import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.formats import export_folder
from dechirer.formats.export import (
    Choice,
    ExportConflictError,
    default_folder,
    export_plan,
)
from dechirer.formats.export_folder import STAGE, UNFINISHED, ExportBusyError, locked
from dechirer.formats.export_manifest import MANIFEST, read_manifest
from dechirer.formats.job.archive import write_archive
from tests.helpers import changed, quick_job

OWN_FILES = (
    "mats/mat-flowers-2.svg",
    "mats/mat-9.svg",
    "press/page-old-12.pdf",
    "press/page-7.png",
    "passes/pass-mine-3.svg",
)
"""Files of a user's own, named nearly as outputs are (defect S2)."""


def contents(folder: Path) -> dict[str, bytes]:
    return {path.relative_to(folder).as_posix(): path.read_bytes() for path in folder.rglob("*") if path.is_file()}


def put(folder: Path, name: str, content: bytes = b"mine") -> None:
    (folder / name).parent.mkdir(parents=True, exist_ok=True)
    (folder / name).write_bytes(content)


@pytest.fixture(scope="module")
def two_mats() -> Plan:
    """A job of a base and a liner of another paper: two mats."""
    return make_plan(quick_job(liner="1/16in"))


@pytest.fixture(scope="module")
def one_mat() -> Plan:
    """The same job without its liner: a mat fewer."""
    return make_plan(quick_job())


def test_the_manifest_lists_every_file_with_its_hash(tmp_path: Path, two_mats: Plan) -> None:
    files = export_plan(two_mats, tmp_path, job_id="0a")
    record = json.loads((tmp_path / MANIFEST).read_text())
    assert record["job"]["id"] == "0a"
    listed = {each["path"]: each for each in record["files"]}
    assert set(listed) == {path.relative_to(tmp_path).as_posix() for path in files}
    assert set(contents(tmp_path)) == {*listed, MANIFEST}
    for path, each in listed.items():
        data = (tmp_path / path).read_bytes()
        assert (each["size"], each["sha256"]) == (len(data), hashlib.sha256(data).hexdigest())
    assert {each["mat"] for path, each in listed.items() if path.startswith("mats/")} == {1, 2}


def test_files_of_the_users_own_stay(tmp_path: Path, two_mats: Plan, one_mat: Plan) -> None:
    for name in OWN_FILES:
        put(tmp_path, name)
    export_plan(two_mats, tmp_path)
    export_plan(one_mat, tmp_path)
    assert {name for name in OWN_FILES if (tmp_path / name).read_bytes() == b"mine"} == set(OWN_FILES)
    assert not (tmp_path / "mats" / "mat-2.svg").exists()  # a stale one of ours is gone


@pytest.mark.parametrize("name", ["run-sheet.pdf", "mats/mat-1.svg", MANIFEST])
def test_a_file_of_the_users_own_is_not_replaced(tmp_path: Path, two_mats: Plan, name: str) -> None:
    put(tmp_path, name)
    before = contents(tmp_path)
    with pytest.raises(ExportConflictError, match=name) as refused:
        export_plan(two_mats, tmp_path)
    assert [(each.path, each.why) for each in refused.value.conflicts] == [(name, "unknown")]
    assert contents(tmp_path) == before
    export_plan(two_mats, tmp_path, replace=[name])
    assert contents(tmp_path)[name] != b"mine"


def test_a_file_changed_by_hand_is_neither_replaced_nor_removed(tmp_path: Path, two_mats: Plan, one_mat: Plan) -> None:
    export_plan(two_mats, tmp_path)
    put(tmp_path, "mats/mat-2.svg", b"by hand")
    export_plan(one_mat, tmp_path)  # mat 2 is stale, and changed: it stays
    assert (tmp_path / "mats/mat-2.svg").read_bytes() == b"by hand"
    with pytest.raises(ExportConflictError, match=r"mats/mat-2\.svg \(changed since"):
        export_plan(two_mats, tmp_path)


def test_another_jobs_export_is_not_touched_without_consent(tmp_path: Path, two_mats: Plan, demo: Job) -> None:
    export_plan(two_mats, tmp_path, job_id="0a")
    before = contents(tmp_path)
    other = make_plan(changed(quick_job(), name="Another"))
    for id in ("0b", ""):
        with pytest.raises(ExportConflictError) as refused:
            export_plan(other, tmp_path, job_id=id)
        assert {each.why for each in refused.value.conflicts} == {"other"}
        # What it would leave as stale mats is named as well.
        assert "mats/mat-2.svg" in {each.path for each in refused.value.conflicts}
        assert contents(tmp_path) == before
    export_plan(other, tmp_path, job_id="0b", replace=[each.path for each in refused.value.conflicts])
    assert set(contents(tmp_path)) == {*(file.path for file in read_manifest(tmp_path).files), MANIFEST}  # type: ignore[union-attr]
    # The same job under another name is no other job.
    export_plan(make_plan(changed(quick_job(), name="Renamed")), tmp_path, job_id="0b")


def test_a_mat_alone_does_not_disturb_the_rest(tmp_path: Path, two_mats: Plan) -> None:
    export_plan(two_mats, tmp_path)
    before = contents(tmp_path)
    paper = make_plan(changed(two_mats.job, brief__count=40))
    files = export_plan(paper, tmp_path, choice=Choice(mats=(2,)))
    assert {path.stem for path in files} == {"mat-2"}
    same = {name for name, content in contents(tmp_path).items() if before.get(name) == content}
    assert same >= set(before) - {path.relative_to(tmp_path).as_posix() for path in files} - {MANIFEST}
    with pytest.raises(ValueError, match="mat 9 does not exist; the job has"):
        export_plan(two_mats, tmp_path, choice=Choice(mats=(2, 9)))


def test_kinds_can_be_chosen_and_stale_ones_of_the_others_go(tmp_path: Path, two_mats: Plan) -> None:
    export_plan(two_mats, tmp_path)
    svg = Choice(outputs=frozenset({"mats/{mat}.svg"}))
    export_plan(two_mats, tmp_path, choice=svg)
    assert (tmp_path / "mats/mat-1.dxf").exists()  # of the same job as it is: still right
    export_plan(make_plan(changed(two_mats.job, brief__count=9)), tmp_path, choice=svg)
    assert set(contents(tmp_path)) == {"mats/mat-1.svg", "mats/mat-2.svg", MANIFEST}


def test_one_export_into_a_folder_at_a_time(tmp_path: Path, two_mats: Plan) -> None:
    export_plan(two_mats, tmp_path)
    before = contents(tmp_path)
    with locked(tmp_path), pytest.raises(ExportBusyError, match="another export"):
        export_plan(two_mats, tmp_path)
    assert contents(tmp_path) == before
    held = subprocess.Popen(
        [
            sys.executable,
            "-c",
            "import sys, time; from pathlib import Path; from dechirer.formats.export_folder import locked\n"
            "with locked(Path(sys.argv[1])): print('held', flush=True); time.sleep(300)",
            str(tmp_path),
        ],
        stdout=subprocess.PIPE,
    )
    assert held.stdout is not None
    held.stdout.readline()
    with pytest.raises(ExportBusyError):
        export_plan(two_mats, tmp_path)
    held.kill()
    held.communicate()
    export_plan(two_mats, tmp_path)  # a dead process holds no lock


@pytest.mark.parametrize("name", ["making-up.pdf", "mats/mat-2.dxf", "mats", UNFINISHED, MANIFEST])
def test_a_target_that_cannot_be_replaced_is_found_before_anything_changes(
    tmp_path: Path, two_mats: Plan, name: str
) -> None:
    if name == "mats":
        put(tmp_path, "mats")
    else:
        (tmp_path / name / "inner").mkdir(parents=True)
    before = contents(tmp_path)
    with pytest.raises(OSError, match=r"folder|in the way"):
        export_plan(two_mats, tmp_path, replace=lambda conflict: True)
    assert contents(tmp_path) == before
    assert not (tmp_path / STAGE).exists()


def test_what_changed_places_is_put_back_when_a_later_rename_fails(
    tmp_path: Path, two_mats: Plan, one_mat: Plan, monkeypatch: pytest.MonkeyPatch
) -> None:
    export_plan(one_mat, tmp_path)
    put(tmp_path, "notes.txt")
    before = contents(tmp_path)
    real = os.rename
    for failing in range(1, 26, 4):
        calls = 0

        def rename(source: object, target: object, failing: int = failing) -> None:
            nonlocal calls
            calls += 1
            if calls == failing:
                raise OSError(5, "Input/output error")
            real(source, target)  # type: ignore[arg-type]

        with monkeypatch.context() as patch:
            patch.setattr(export_folder.os, "rename", rename)
            if failing < 20:
                with pytest.raises(OSError, match="Input/output"):
                    export_plan(two_mats, tmp_path)
                assert contents(tmp_path) == before, failing


KILLED = """
import os, sys
from pathlib import Path
from dechirer.core.plan import make_plan
from dechirer.formats import export_folder
from dechirer.formats.export import export_plan
from dechirer.formats.job.archive import read_archive
left = int(sys.argv[3])
def counted(real):
    def call(*given, **more):
        global left
        left -= 1
        if left < 0:
            os._exit(9)
        return real(*given, **more)
    return call
for name in ("rename", "replace", "fsync"):
    setattr(os, name, counted(getattr(os, name)))
export_plan(make_plan(read_archive(Path(sys.argv[1]))), Path(sys.argv[2]))
"""


@pytest.mark.parametrize("after", [3, 13, 18, 24, 30, 36, 41])
def test_a_kill_leaves_the_old_export_or_the_new_one_or_says_so(
    tmp_path: Path, two_mats: Plan, one_mat: Plan, after: int
) -> None:
    out, job = tmp_path / "out", tmp_path / "job.dechirer"
    write_archive(job, two_mats.job)
    export_plan(one_mat, out)
    put(out, "notes.txt")
    old = contents(out)
    subprocess.run([sys.executable, "-c", KILLED, str(job), str(out), str(after)], check=False)
    killed = {name: data for name, data in contents(out).items() if not name.startswith(STAGE)}
    if UNFINISHED not in killed:
        new = dict(killed)
        assert killed == old or "mats/mat-2.svg" in new
    export_plan(one_mat, out)  # the next export completes or undoes it
    mine = contents(out)
    assert mine.pop(MANIFEST)
    assert set(mine) == set(old) - {MANIFEST}
    assert all(mine[name] == old[name] for name in mine)


def test_what_is_left_beside_by_a_kill_goes_with_the_next_export(tmp_path: Path, one_mat: Plan) -> None:
    put(tmp_path, f"{STAGE}/new/mats/mat-1.svg", b"half")
    export_plan(one_mat, tmp_path)
    assert not (tmp_path / STAGE).exists()


@pytest.mark.parametrize(
    "path", ["../outside.txt", "/etc/hostname", "notes.txt", "mats/../../outside.txt", "mats\\mat-1.svg"]
)
def test_a_strangers_manifest_removes_nothing(tmp_path: Path, one_mat: Plan, path: str) -> None:
    out = tmp_path / "out"
    export_plan(one_mat, out)
    put(tmp_path, "outside.txt")
    put(out, "notes.txt")
    record = json.loads((out / MANIFEST).read_text())
    record["files"].append({"path": path, "size": 4, "sha256": hashlib.sha256(b"mine").hexdigest()})
    (out / MANIFEST).write_text(json.dumps(record))
    export_plan(one_mat, out)
    assert (tmp_path / "outside.txt").exists()
    assert (out / "notes.txt").exists()


def test_the_folder_is_the_jobs_own(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("dechirer.formats.export.user_documents_path", lambda: tmp_path / "Documents")
    assert default_folder("Kite / Day", None) == tmp_path / "Documents" / "Kite - Day"
    assert default_folder("Kite Day", tmp_path / "jobs" / "a.dechirer") == tmp_path / "jobs" / "Kite Day"
    monkeypatch.setattr("dechirer.formats.export.user_documents_path", Path.home)
    assert default_folder("..", None).parent == Path.home()


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run([sys.executable, "-m", "dechirer", *arguments], capture_output=True, text=True, check=False)


def test_the_command_line_refuses_and_names_the_files(tmp_path: Path, two_mats: Plan) -> None:
    job, out = tmp_path / "job.dechirer", tmp_path / "out"
    write_archive(job, two_mats.job)
    assert run("plan", str(job), "--into", str(out)).returncode == 0
    put(out, "mats/mat-2.svg", b"by hand")
    ended = run("plan", str(job), "--into", str(out))
    assert ended.returncode == 2
    assert "mats/mat-2.svg (changed since it was exported)" in ended.stderr
    assert "--replace" in ended.stderr
    assert run("plan", str(job), "--into", str(out), "--mat", "1").returncode == 0  # that one is as it was
    assert (out / "mats/mat-2.svg").read_bytes() == b"by hand"
    assert run("plan", str(job), "--into", str(out), "--replace").returncode == 0
    assert (out / "mats/mat-2.svg").read_bytes().startswith(b"<?xml")
    shutil.rmtree(out)
    put(out, "run-sheet.pdf")
    ended = run("plan", str(job), "--into", str(out), "--replace")  # not a file this program wrote
    assert ended.returncode == 2
    assert (out / "run-sheet.pdf").read_bytes() == b"mine"


def test_a_name_with_characters_no_file_can_hold_is_refused(tmp_path: Path) -> None:
    for name in ("a\x01b", "a\ufffeb"):
        ended = run("card", "--size", "5x7in", "--name", name, "--into", str(tmp_path / "out"))
        assert ended.returncode == 2
        assert "character U+" in ended.stderr
        assert "Traceback" not in ended.stderr
        assert not (tmp_path / "out").exists()
