"""In the window: files changed meanwhile, two windows, versions, exports into an own folder, fixes, rehearsals."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint
from PyQt6.QtPrintSupport import QPrinter
from PyQt6.QtWidgets import QCheckBox, QDialog, QFileDialog, QLineEdit, QListWidget, QPushButton

from dechirer.core.decide.change import Change
from dechirer.core.job.model import Job
from dechirer.desk.boxes import changed_file_dialog, export_conflict_dialog
from dechirer.desk.work import exports
from dechirer.desk.work.booking import booking
from dechirer.desk.work.files import SUFFIX
from dechirer.desk.work.sheet_printing import print_files
from dechirer.desk.work.versioning import write_beside
from dechirer.formats.export import ExportConflictError
from dechirer.formats.export_folder import locked
from dechirer.formats.export_manifest import MANIFEST, read_manifest
from dechirer.formats.job.archive import read_archive, write_archive
from dechirer.formats.job.versions import VersionStore
from tests.core.test_fixes import card
from tests.desk.conftest import Desk
from tests.helpers import changed, quick_job

LONG_MS = 120_000


def wait_for_export(desk: Desk) -> str:
    room = desk.room
    desk.qtbot.waitUntil(
        lambda: room.exports._worker is None and room.exports._waiting is None and banner(desk) != "", timeout=LONG_MS
    )
    return banner(desk)


def banner(desk: Desk, key: str = "export") -> str:
    return desk.window.banners.text(key)


def export(desk: Desk, folder: Path) -> str:
    desk.window.banners.drop("export")
    desk.settle()
    desk.room.exports.export_to(folder)
    return wait_for_export(desk)


def answer_changed(monkeypatch: pytest.MonkeyPatch, choice: str) -> list[Path]:
    asked: list[Path] = []

    def ask(_parent: object, path: Path) -> str:
        asked.append(path)
        return choice

    monkeypatch.setattr(changed_file_dialog, "ask_about_changed", ask)
    return asked


# --- saving ---------------------------------------------------------------------------------------------------------


@pytest.fixture
def changed_meanwhile(desk: Desk, tmp_path: Path) -> Path:
    """The job of the window is saved, changed on the disk by another program, and edited in the window."""
    path = tmp_path / f"a{SUFFIX}"
    assert desk.room.files.save_to(path)
    write_archive(path, changed(read_archive(path), name="theirs"))
    desk.type_number("brief-card", "brief.count", "9")
    return path


def test_a_file_changed_meanwhile_is_asked_about_and_both_are_kept(
    desk: Desk, changed_meanwhile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked = answer_changed(monkeypatch, "cancel")
    assert not desk.room.files.save()
    assert asked == [changed_meanwhile]
    assert read_archive(changed_meanwhile).name == "theirs"
    answer_changed(monkeypatch, "both")
    assert desk.room.files.save()
    beside = changed_meanwhile.with_name(f"a (2){SUFFIX}")
    assert read_archive(changed_meanwhile).name == "theirs"
    assert read_archive(beside).brief.count == 9
    assert desk.room.document.path == beside
    assert read_archive(beside).id != read_archive(changed_meanwhile).id


def test_what_is_overwritten_on_purpose_is_kept_as_a_version(
    desk: Desk, changed_meanwhile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    answer_changed(monkeypatch, "overwrite")
    assert desk.room.files.save()
    saved = read_archive(changed_meanwhile)
    assert saved.brief.count == 9
    assert VersionStore(saved.id).list_versions()[0].name == "theirs"
    asked = answer_changed(monkeypatch, "cancel")
    desk.type_number("brief-card", "brief.count", "10")
    assert desk.room.files.save()  # nobody changed it since
    assert asked == []


def test_theirs_is_opened_and_mine_is_kept_as_a_version(
    desk: Desk, changed_meanwhile: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    answer_changed(monkeypatch, "theirs")
    assert not desk.room.files.save()
    plan = desk.settle()
    assert plan.job.name == "theirs"
    store = VersionStore(desk.room.document.job_id)
    assert store.read(store.list_versions()[0].number).brief.count == 9


def test_both_windows_of_one_job_are_told_and_the_second_is_made_a_copy(
    desk: Desk, open_desk: Callable[[Job], Desk], tmp_path: Path
) -> None:
    path = tmp_path / f"a{SUFFIX}"
    assert desk.room.files.save_to(path)
    second = open_desk(quick_job())
    assert second.room.files.open_file(path)
    assert "is open in another window too" in banner(second, "second")
    desk.qtbot.waitUntil(lambda: "was opened in another window" in banner(desk, "second"), timeout=LONG_MS)
    second.click("banner-second-0")  # Open as a copy
    assert second.room.document.path is None
    assert "not saved yet" in second.words("saved-state")
    assert second.room.files.save_to(tmp_path / f"copy{SUFFIX}")
    assert read_archive(tmp_path / f"copy{SUFFIX}").id != read_archive(path).id


def test_a_version_is_shown_with_what_changed_and_restored_as_one_step(desk: Desk, tmp_path: Path) -> None:
    path = tmp_path / f"a{SUFFIX}"
    assert desk.room.files.save_to(path)
    desk.type_number("brief-card", "brief.count", "9")
    desk.settle()
    assert desk.room.files.save()
    desk.window.actions_by_id["versions"].trigger()
    dialog = desk.find("versions-dialog", QDialog)
    listed = dialog.findChild(QListWidget, "versions-list")
    assert listed.count() == 1
    desk.qtbot.waitUntil(lambda: "pieces 24 › 18" in listed.item(0).text(), timeout=LONG_MS)
    restore = dialog.findChild(QPushButton, "versions-restore")
    assert not restore.isEnabled()
    listed.setCurrentRow(0)
    restore.click()
    assert desk.settle().job.brief.count == 12
    assert desk.room.document.history.undo_label.startswith("Version of")
    desk.click("button-undo")
    assert desk.settle().job.brief.count == 9
    store = VersionStore(desk.room.document.job_id)
    beside = write_beside(store, store.list_versions()[0])
    assert read_archive(beside).brief.count == 12


def test_a_job_without_versions_says_so(desk: Desk) -> None:
    desk.window.actions_by_id["versions"].trigger()
    assert "There is none yet" in desk.words("versions-said")


# --- exports --------------------------------------------------------------------------------------------------------


def test_the_export_dialog_proposes_a_folder_of_the_jobs_own(desk: Desk, tmp_path: Path) -> None:
    desk.window.actions_by_id["export"].trigger()
    line = desk.find("export-folder", QLineEdit)
    proposed = tmp_path / "xdg_documents_dir" / "Saltmarsh Kite Day"
    assert line.text() == str(proposed)
    go = desk.find("export-go", QPushButton)
    for wrong, why in ((str(Path.home()), "home folder"), ("kites", "whole path"), (__file__, "a file, not a folder")):
        line.setText(wrong)
        assert why in desk.words("export-said")
        assert not go.isEnabled()
    line.setText(str(proposed))
    desk.find("export-kind-mats/{mat}.dxf", QCheckBox).setChecked(False)
    go.click()
    assert "files written into" in wait_for_export(desk)
    manifest = read_manifest(proposed)
    assert manifest is not None
    assert {Path(file.path).suffix for file in manifest.files if file.path.startswith("mats/")} == {
        ".svg",
        ".plt",
        ".png",
    }


def test_the_files_can_be_opened_and_the_export_is_rehearsed(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    opened: list[Path] = []
    monkeypatch.setattr(exports, "open_path", opened.append)
    assert "13 files written into" in export(desk, tmp_path / "out")
    desk.click("banner-export-0")
    desk.click("banner-export-1")
    assert opened == [tmp_path / "out", tmp_path / "out" / "run-sheet.pdf"]
    desk.qtbot.waitUntil(lambda: desk.words("rehearsed") == "rehearsed: as planned", timeout=LONG_MS)
    desk.type_number("brief-card", "brief.count", "9")
    assert desk.words("rehearsed") == ""  # it was of another job


def test_an_edit_stops_the_rehearsal(desk: Desk, tmp_path: Path) -> None:
    export(desk, tmp_path / "out")
    assert desk.room.exports.rehearsing.is_busy
    desk.type_number("brief-card", "brief.count", "9")
    assert not desk.room.exports.rehearsing.is_busy
    assert desk.words("rehearsed") == ""


def test_a_rehearsal_says_what_is_wrong(desk: Desk, tmp_path: Path) -> None:
    out = tmp_path / "out"
    export(desk, out)
    desk.room.exports.rehearsing.stop()
    (out / "mats" / "mat-2.svg").unlink()
    desk.room.exports.rehearsing.start(out)
    desk.qtbot.waitUntil(lambda: desk.words("rehearsed").startswith("rehearsed: 1 problem"), timeout=LONG_MS)
    desk.click("rehearsed")
    assert "mats/mat-2.svg is missing" in banner(desk, "rehearsed")


def test_a_folder_full_of_own_files_is_asked_about(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    out = tmp_path / "out"
    (out / "mats").mkdir(parents=True)
    (out / "run-sheet.pdf").write_text("mine")
    (out / "mats" / "mat-9.svg").write_text("mine")
    asked: list[ExportConflictError] = []
    answers: list[object] = ["cancel", tmp_path / "other", "replace"]

    def ask(_parent: object, error: ExportConflictError) -> object:
        asked.append(error)
        return answers.pop(0)

    monkeypatch.setattr(export_conflict_dialog, "ask_about_conflict", ask)
    assert "Nothing was exported" in export(desk, out)
    assert [each.path for each in asked[0].conflicts] == ["run-sheet.pdf"]
    assert "written into" in export(desk, out)
    assert (tmp_path / "other" / MANIFEST).exists()
    assert (out / "run-sheet.pdf").read_text() == "mine"
    assert "written into" in export(desk, out)
    assert (out / "run-sheet.pdf").read_bytes().startswith(b"%PDF")
    assert (out / "mats" / "mat-9.svg").read_text() == "mine"


def test_another_export_into_the_folder_is_said(desk: Desk, tmp_path: Path) -> None:
    (tmp_path / "out").mkdir()
    with locked(tmp_path / "out"):
        assert "another export is writing into this folder" in export(desk, tmp_path / "out")


def test_a_mat_is_exported_from_its_menu_and_its_button(desk: Desk, tmp_path: Path) -> None:
    out = tmp_path / "out"
    export(desk, out)
    before = {path: path.stat().st_mtime_ns for path in out.rglob("*") if path.is_file()}
    for station, name in (("lay", "lay-mats"), ("run", "run-mats")):
        desk.station(station)
        mats = desk.find(name)
        at = mats.visualRect(mats.model().index(1, 0)).center()  # type: ignore[attr-defined]
        mats.customContextMenuRequested.emit(QPoint(at))
        menu = mats.findChild(QDialog.__mro__[1], "mat-menu")
        (action,) = menu.actions()  # type: ignore[union-attr]
        assert action.text() == "Export mat 2"
        desk.window.banners.drop("export")
        action.trigger()
        assert "Mat 2: 4 files written into" in wait_for_export(desk)
        menu.close()  # type: ignore[union-attr]
    after = {path: path.stat().st_mtime_ns for path in out.rglob("*") if path.is_file()}
    assert {path.name for path in after if after[path] != before[path]} == {
        "mat-2.svg",
        "mat-2.dxf",
        "mat-2.plt",
        "mat-2.png",
        MANIFEST,
    }
    desk.window.banners.drop("export")
    desk.click("run-export-mat")
    assert "Mat 1: 4 files" in wait_for_export(desk)


def test_sheets_are_printed_at_their_own_size(desk: Desk, tmp_path: Path) -> None:
    import pypdfium2

    out = tmp_path / "out"
    export(desk, out)
    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setOutputFormat(QPrinter.OutputFormat.PdfFormat)
    printer.setOutputFileName(str(tmp_path / "printed.pdf"))
    pages, why = print_files(printer, [out / "run-sheet.pdf"])
    assert (pages, why) == (3, "")
    sizes = []
    for path in (out / "run-sheet.pdf", tmp_path / "printed.pdf"):
        with pypdfium2.PdfDocument(path) as document:
            sizes.append([page.get_size() for page in document])
    assert len(sizes[0]) == len(sizes[1]) == 3
    for one, other in zip(*sizes, strict=True):
        assert other == pytest.approx(one, abs=1.5)


# --- fixes ----------------------------------------------------------------------------------------------------------


def fix_all(desk: Desk) -> str:
    desk.settle()
    desk.room.findings.all_mended.emit()
    desk.qtbot.waitUntil(lambda: bool(banner(desk, "mend")), timeout=LONG_MS)
    return banner(desk, "mend")


def test_fix_all_leaves_choices_and_opens_them_one_by_one(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(card("M 147 20 V 190"))
    assert "wait" in fix_all(desk)
    assert any(each.code == "construct.file-unassigned" for each in desk.settle().findings)
    shown: list[str] = []
    desk.room.show_station("brief")
    names = [desk.words(f"banner-mend-{place}") for place in range(2)]
    desk.click(f"banner-mend-{names.index('Show the first choice')}")
    shown.append(banner(desk, "mend"))
    assert shown[0].startswith("Choice 1 of")
    assert desk.room.station == "construct"


def test_a_fix_that_does_more_than_it_says_is_taken_back(open_desk: Callable[[Job], Desk]) -> None:
    from dechirer.core.finding import Finding, Mend

    desk = open_desk(card("M 147 20 V 190"))
    job = desk.settle().job
    art = job.dress.art[0]
    harmful = Mend("Tidy up", (Change(f"dress.art.{art.id}.groups.{art.groups[1].id}.role", "cut"),), "chooses")
    finding = Finding("construct.file-size", "look", "x", "x")
    desk.room.findings.mended.emit(harmful, finding)
    desk.qtbot.waitUntil(lambda: bool(banner(desk, "mend")), timeout=LONG_MS)
    assert "“Tidy up” was taken back: it brings another problem: The base is cut into 2 parts" in banner(desk, "mend")
    assert desk.settle().job == job
    desk.click("banner-mend-0")  # Do it all the same
    assert any(each.code == "construct.severed" for each in desk.settle().findings)


# --- the logbook ----------------------------------------------------------------------------------------------------


def test_an_entry_that_cannot_be_written_is_said(desk: Desk, tmp_path: Path) -> None:
    from dechirer.core.keep.entries import Note

    (tmp_path / "xdg_data_home").write_text("in the way")
    booking.forget()
    booking.keep([Note("note-1", "2026-05-02", "kites", "cut well", "")])
    desk.qtbot.waitUntil(lambda: "could not be written" in banner(desk, "book"), timeout=LONG_MS)
    (tmp_path / "xdg_data_home").unlink()
    booking.keep([Note("note-2", "2026-05-02", "kites", "cut well", "")])
    desk.qtbot.waitUntil(lambda: banner(desk, "book") == "", timeout=LONG_MS)


def test_the_folder_is_chosen_in_a_dialog(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path / "there"))
    desk.window.actions_by_id["export"].trigger()
    desk.click("export-choose")
    assert desk.find("export-folder", QLineEdit).text() == str(tmp_path / "there")
