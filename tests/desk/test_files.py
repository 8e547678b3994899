"""Opening, saving and leaving through the window's own dialogs, and what the desk remembers."""

from __future__ import annotations

import json
import os
from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QRect, Qt
from PyQt6.QtWidgets import (
    QApplication,
    QColorDialog,
    QFileDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QPushButton,
    QToolButton,
)

from dechirer.core.decide.change import Change
from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.desk.start import fit_to_screen, has_display, remembered, scale_everything
from dechirer.desk.theme import theme
from dechirer.desk.work.files import SUFFIX
from dechirer.desk.work.machines import load_all_machines, machines_folder
from dechirer.desk.work.settings import Settings
from dechirer.formats.job.archive import read_archive, write_archive
from dechirer.formats.job.atomic import write_atomically
from tests.desk.conftest import Desk
from tests.helpers import quick_job

Answer = QMessageBox.StandardButton


def answer_with(monkeypatch: pytest.MonkeyPatch, answer: Answer) -> list[str]:
    """Answer every question alike; returns what was asked."""
    asked: list[str] = []

    def question(_parent: object, _title: str, text: str, *_: object) -> Answer:
        asked.append(text)
        return answer

    monkeypatch.setattr(QMessageBox, "question", question)
    return asked


def pick_open(monkeypatch: pytest.MonkeyPatch, path: Path | str) -> None:
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))


def pick_save(monkeypatch: pytest.MonkeyPatch, path: Path | str) -> None:
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))


def test_opening_asks_about_unsaved_work_first(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / f"other{SUFFIX}"
    write_archive(path, quick_job("6x4in", fold="top-fold"))
    pick_open(monkeypatch, path)
    desk.type_number("brief-card", "brief.count", "5")
    asked = answer_with(monkeypatch, Answer.Cancel)
    desk.window.actions_by_id["open"].trigger()
    assert asked == ["Save the changes to Saltmarsh Kite Day?"]
    assert desk.room.document.job.brief.count == 5
    answer_with(monkeypatch, Answer.Discard)
    desk.window.actions_by_id["open"].trigger()
    assert desk.settle().job.brief.construction == "top-fold"
    assert desk.words("saved-state") == f"saved in other{SUFFIX}"
    assert Settings().folder == str(tmp_path)


def test_saving_from_the_question_saves_and_goes_on(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk.type_number("brief-card", "brief.count", "7")
    answer_with(monkeypatch, Answer.Save)
    pick_save(monkeypatch, tmp_path / "kites")
    desk.window.actions_by_id["new"].trigger()
    assert read_archive(tmp_path / f"kites{SUFFIX}").brief.count == 7
    assert desk.settle().job.name == "Untitled card"


def test_a_save_that_is_called_off_keeps_the_window(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    desk.type_number("brief-card", "brief.count", "7")
    answer_with(monkeypatch, Answer.Save)
    pick_save(monkeypatch, "")
    assert not desk.room.may_close()
    pick_open(monkeypatch, "")
    answer_with(monkeypatch, Answer.Discard)
    desk.window.actions_by_id["open"].trigger()
    assert desk.room.document.job.brief.count == 7


def test_save_goes_to_the_same_file_and_save_as_to_another(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    first, second = tmp_path / f"a{SUFFIX}", tmp_path / f"b{SUFFIX}"
    pick_save(monkeypatch, first)
    desk.window.actions_by_id["save"].trigger()
    pick_save(monkeypatch, second)
    desk.type_number("brief-card", "brief.count", "9")
    assert "changes not saved" in desk.words("saved-state")
    desk.window.actions_by_id["save"].trigger()
    assert read_archive(first).brief.count == 9
    desk.type_number("brief-card", "brief.count", "10")
    desk.window.actions_by_id["save-as"].trigger()
    assert (read_archive(first).brief.count, read_archive(second).brief.count) == (9, 10)
    assert desk.room.document.path == second


def test_a_name_without_an_ending_does_not_overwrite_unasked(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    there = tmp_path / f"kites{SUFFIX}"
    write_archive(there, quick_job())
    pick_save(monkeypatch, tmp_path / "kites")
    asked = answer_with(monkeypatch, Answer.No)
    assert not desk.room.files.save_as()
    assert "Replace it?" in asked[0]
    assert read_archive(there) == quick_job()
    answer_with(monkeypatch, Answer.Yes)
    assert desk.room.files.save_as()
    assert read_archive(there).name == "Saltmarsh Kite Day"


def test_undone_back_to_what_was_saved_is_saved(desk: Desk, tmp_path: Path) -> None:
    assert desk.room.files.save_to(tmp_path / f"a{SUFFIX}")
    desk.type_number("brief-card", "brief.count", "9")
    assert "not saved" in desk.words("saved-state")
    desk.click("button-undo")
    assert desk.words("saved-state") == f"saved in a{SUFFIX}"


def test_the_journal_is_there_only_while_there_is_something_to_lose(desk: Desk, tmp_path: Path) -> None:
    folder = tmp_path / "xdg_state_home" / "dechirer" / "journal"
    assert not folder.exists()
    desk.type_number("brief-card", "brief.count", "9")
    assert desk.room.files.keeper.flush()
    record = json.loads(next(folder.glob("*.journal")).read_text())
    assert record["job"]["brief"]["count"] == 9
    assert desk.room.files.save_to(tmp_path / f"a{SUFFIX}")
    assert desk.room.files.keeper.flush()
    assert not list(folder.glob("*.journal"))


def test_recovered_work_can_be_declined(desk: Desk, open_desk: Callable[[Job], Desk], demo: Job) -> None:
    desk.type_number("brief-card", "brief.count", "77")
    assert desk.room.files.keeper.flush()
    journal = desk.room.files.keeper._journal
    assert journal is not None
    journal._lock.close()  # type: ignore[union-attr] - what the system does when a process is killed
    other = open_desk(demo)
    other.room.files.offer_recovered()
    other.qtbot.waitUntil(lambda: bool(other.window.banners.text("recovered")), timeout=5000)
    other.click("banner-recovered-1")
    assert other.window.banners.text("recovered") == ""
    assert not journal.path.exists()
    assert other.room.document.job == demo


def test_export_asks_for_a_folder_and_can_be_called_off(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk.click("button-export")
    desk.find("export-dialog").close()  # type: ignore[attr-defined]
    assert desk.window.banners.text("export") == ""
    QApplication.processEvents()
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *_: str(tmp_path))
    desk.click("button-export")
    desk.click("export-choose")
    desk.click("export-go")
    desk.qtbot.waitUntil(lambda: "files written" in desk.window.banners.text("export"), timeout=120_000)
    assert (tmp_path / "run-sheet.pdf").exists()


def test_an_export_of_a_stopped_job_warns(desk: Desk, tmp_path: Path) -> None:
    desk.room.document.type_field("construct.liner.reveal", "0")
    desk.room.exports.export_to(tmp_path)
    desk.qtbot.waitUntil(lambda: "files written" in desk.window.banners.text("export"), timeout=20_000)
    assert "1 problem would still spoil the card" in desk.window.banners.text("export")


def test_papers_are_added_coloured_and_removed_in_brief(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    desk.find("paper-add", QToolButton).click()  # type: ignore[attr-defined]
    plan = desk.settle()
    assert [paper.id for paper in plan.job.brief.papers][-1] == "sea-grey-2"
    assert plan.job.brief.base_paper == "sea-grey"  # the card stays on its own
    line = desk.find("line-brief.papers.sea-grey-2.name", QLineEdit)
    assert line.isVisible()
    line.setFocus()
    line.selectAll()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(line, "dusk blue")
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    from PyQt6.QtGui import QColor

    monkeypatch.setattr(QColorDialog, "getColor", lambda *_: QColor(30, 40, 90))
    desk.click("paper-colour")
    paper = desk.settle().job.brief.papers[-1]
    assert (paper.name, paper.colour) == ("dusk blue", "#1e285a")
    monkeypatch.setattr(QColorDialog, "getColor", lambda *_: QColor())
    desk.click("paper-colour")
    assert desk.settle().job.brief.papers[-1].colour == "#1e285a"
    desk.find("paper-remove", QPushButton).click()  # type: ignore[attr-defined]
    assert [each.id for each in desk.settle().job.brief.papers] == ["sea-grey", "chalk", "kite-orange", "reed-green"]
    desk.click("paper-edit-chalk")  # any paper is edited without making the card of it
    assert desk.find("line-brief.papers.chalk.name", QLineEdit).text() == "chalk white"
    assert desk.settle().job.brief.base_paper == "sea-grey"
    assert not desk.find("paper-remove").isEnabled()  # the liner is made of it
    desk.click("paper-edit-chalk")
    assert not desk.find("paper-details").isVisible()
    desk.click("paper-chalk")
    assert desk.settle().job.brief.base_paper == "chalk"


def test_machines_of_ones_own_stand_beside_the_shipped_ones(desk: Desk) -> None:
    assert [machine.name for machine in load_all_machines()] == ["Heron 12", "Wren card machine"]
    desk.click("edit-machine")
    line = desk.find("line-brief.machine.name", QLineEdit)
    line.setFocus()
    line.selectAll()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(line, "Kitchen table")
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    desk.find("holder-0-thin-card-blade").click()  # type: ignore[attr-defined]
    assert desk.settle().job.brief.machine.holders[0].takes == ("thin-card-blade", "creasing-point", "pen")
    desk.click("keep-machine")
    assert [machine.name for machine in load_all_machines()][-1] == "Kitchen table"
    (machines_folder() / "broken.json").write_text("{")
    assert len(load_all_machines()) == 3
    box = desk.find("machine")
    box.setCurrentIndex(1)  # type: ignore[attr-defined]
    box.activated.emit(1)  # type: ignore[attr-defined]
    plan = desk.settle()
    assert plan.job.brief.machine.name == "Wren card machine"
    assert plan.verdict("lay") == "stop"  # a 10 x 7 in blank does not fit it


def test_settings_outlive_a_start_and_a_broken_file(desk: Desk) -> None:
    desk.room.appearance.choose("dark")
    desk.room.do("scale-125")
    assert (Settings().theme, Settings().scale) == ("dark", 125)
    assert remembered() == {"theme": "dark", "scale": "125"}
    path = Settings()._path
    path.write_text("[1")
    assert (Settings().theme, Settings().scale) == ("", 100)
    path.write_bytes(b"\xff\xfe")
    assert remembered() == {}
    desk.room.appearance.choose("light")


def test_the_theme_of_the_system_is_followed_until_one_is_chosen(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    appearance = desk.room.appearance
    monkeypatch.setattr("dechirer.desk.work.appearance.theme_of_system", lambda: "dark")
    appearance.follow_system()
    assert theme.name() == "dark"
    appearance.choose("light")
    appearance.follow_system()
    assert theme.name() == "light"
    desk.room.do("theme-system")
    assert theme.name() == "dark"
    assert desk.window.actions_by_id["theme-system"].isChecked()
    appearance.choose("light")
    assert not desk.window.actions_by_id["theme-system"].isChecked()


@pytest.mark.parametrize(("own", "percent", "wanted"), [("", "150", "1.5"), ("2", "125", "2.5"), ("x", "80", "0.8")])
def test_everything_is_scaled_beside_what_the_environment_asks(
    own: str, percent: str, wanted: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("QT_SCALE_FACTOR", own)
    scale_everything(percent)
    assert os.environ["QT_SCALE_FACTOR"] == wanted


def test_the_window_is_no_larger_than_the_screen(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    class Screen:
        def availableGeometry(self) -> QRect:
            return QRect(0, 0, 1024, 720)

    monkeypatch.setattr(desk.window, "screen", Screen)
    fit_to_screen(desk.window)
    assert desk.window.width() <= 1024
    assert desk.window.height() <= 720


def test_settings_that_cannot_be_written_do_no_harm(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    blocker = tmp_path / "blocker"
    blocker.write_text("a file where a folder should be")
    monkeypatch.setenv("XDG_CONFIG_HOME", str(blocker))
    settings = Settings()
    settings.theme = "dark"
    assert settings.theme == "dark"


def test_the_kind_of_display_is_seen_from_the_environment(monkeypatch: pytest.MonkeyPatch) -> None:
    for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM"):
        monkeypatch.delenv(name, raising=False)
    assert not has_display()
    monkeypatch.setenv("WAYLAND_DISPLAY", "wayland-0")
    assert has_display()


def test_permissions_of_a_saved_file_are_kept(tmp_path: Path) -> None:
    path = tmp_path / "a"
    write_atomically(path, b"one")
    path.chmod(0o640)
    write_atomically(path, b"two")
    assert path.read_bytes() == b"two"
    assert path.stat().st_mode & 0o777 == 0o640
    with pytest.raises(FileNotFoundError):
        write_atomically(tmp_path / "none" / "a", b"x")


def test_a_new_card_has_nothing_to_complain_about(desk: Desk) -> None:
    desk.room.do("new")
    assert desk.settle().findings == ()


def test_recent_jobs_are_listed_and_open_again(desk: Desk, tmp_path: Path) -> None:
    first, second = tmp_path / "first.dechirer", tmp_path / "second.dechirer"
    assert desk.room.files.save_to(first)
    desk.room.document.edit("x", [Change("name", "Second")])
    assert desk.room.files.save_to(second)
    menu = desk.find("recent-jobs", QMenu)
    menu.aboutToShow.emit()  # type: ignore[attr-defined]
    assert [action.text() for action in menu.actions()] == ["second.dechirer", "first.dechirer"]
    menu.actions()[1].trigger()
    desk.qtbot.waitUntil(lambda: desk.room.document.path == first, timeout=10_000)
    assert desk.settle().job.name != "Second"
    first.unlink()
    menu.aboutToShow.emit()  # type: ignore[attr-defined]
    assert [action.text() for action in menu.actions()] == ["second.dechirer"]  # what is gone is not offered
    assert [path.name for path in Settings().recent] == ["second.dechirer"]  # remembered for the next start


def test_a_job_file_dropped_on_the_window_is_opened(desk: Desk, tmp_path: Path) -> None:
    from PyQt6.QtCore import QMimeData, QPoint, QPointF, QUrl
    from PyQt6.QtGui import QDragEnterEvent, QDropEvent

    path = tmp_path / "dropped.dechirer"
    write_archive(path, load_demo_job("stack"))
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    action, button = Qt.DropAction.CopyAction, Qt.MouseButton.LeftButton
    none = Qt.KeyboardModifier.NoModifier
    enter = QDragEnterEvent(QPoint(300, 300), action, mime, button, none)
    QApplication.sendEvent(desk.window, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(desk.window, QDropEvent(QPointF(300, 300), action, mime, button, none))
    desk.qtbot.waitUntil(lambda: desk.room.document.path == path, timeout=10_000)
    assert desk.settle().job == load_demo_job("stack")
