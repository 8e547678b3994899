"""The maker's story, driven through the real window."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QFileDialog,
    QLineEdit,
    QListWidget,
    QMessageBox,
    QPushButton,
    QToolButton,
)

from dechirer.core.job.model import Job
from dechirer.desk.theme import theme
from dechirer.formats.job.archive import read_archive
from tests.desk.conftest import Desk
from tests.helpers import changed, quick_job


def chips(desk: Desk) -> dict[str, str]:
    """What the consequences line says has changed."""
    return {each.shown.figure: each.change for each in desk.window.consequences._buttons if each.change}


def test_typing_a_width_changes_everything_and_undo_takes_it_back(desk: Desk) -> None:
    desk.type_number("brief-card", "brief.width", "4 1/4")
    plan = desk.settle()
    assert plan.figures["base.width"].text("in") == "8 1/2 in"
    assert "lay.share" in chips(desk)
    assert "5 in › 4 1/4" in desk.words("last-edit")
    assert "4 1/4 × 7 in" in desk.find("station-brief").accessibleName()
    desk.qtbot.keyClick(desk.window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert desk.settle().figures["base.width"].text("in") == "10 in"
    assert "Undone" in desk.words("last-edit")
    desk.click("button-redo")
    assert desk.settle().figures["base.width"].text("in") == "8 1/2 in"


def test_a_standard_name_on_the_dimension_sets_both(desk: Desk) -> None:
    desk.type_number("brief-card", "brief.height", "a6")
    plan = desk.settle()
    assert (plan.job.brief.width.mm, plan.job.brief.height.mm) == (105, 148)
    assert desk.find("finding-brief.american-namesake")


@pytest.mark.parametrize("text", ["wide", "0", "-3", "900"])
def test_a_bad_number_is_refused_beside_the_field_and_the_old_one_kept(desk: Desk, text: str) -> None:
    desk.type_number("brief-card", "brief.width", text)
    complaint = desk.find("brief-card-complaint")
    assert complaint.isVisible()
    assert desk.words("brief-card-complaint")
    assert desk.room.document.job.brief.width.mm == 127
    editor = desk.find("brief-card-editor", QLineEdit)
    desk.qtbot.keyClick(editor, Qt.Key.Key_Escape)
    assert not complaint.isVisible()
    assert not desk.room.document.history.undo_label


def test_turning_it_to_a_top_fold_and_choosing_another_paper(desk: Desk) -> None:
    desk.click("kind-top-fold")
    plan = desk.settle()
    assert (plan.figures["base.width"].text(), plan.figures["base.height"].text()) == ("5 in", "14 in")
    assert plan.verdict("lay") == "stop"  # 14 in does not fit a 12 in sheet
    assert chips(desk)["stops"].startswith("0")
    desk.click("paper-reed-green")
    assert desk.settle().construct.pieces[0].paper == "reed-green"


def test_every_number_in_build_explains_itself(desk: Desk) -> None:
    desk.station("construct")
    view = desk.view("construct-flat")
    for figure in view.figures():
        place = view.place_of(figure)
        assert place is not None
        desk.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(place[0]), round(place[1])))
        text = desk.room.working.text()
        assert desk.settle().figures[figure].name in text
        desk.qtbot.keyClick(view, Qt.Key.Key_Escape)
    desk.room.pick_figure("liner.width")
    text = desk.room.working.text()
    assert "10 in (base width) − 2 × 1/16 in (reveal)" in text
    assert "typed in Brief" in text
    assert "typed in Construct" in text


def test_the_reveal_is_typed_on_the_drawing(desk: Desk) -> None:
    desk.station("construct")
    desk.type_number("construct-flat", "liner.reveal", "1/8")
    assert desk.settle().figures["liner.width"].text() == "9 3/4 in"


def test_the_card_opens_and_closes_under_the_slider(desk: Desk) -> None:
    desk.station("construct")
    slider, view = desk.find("opening"), desk.view("construct-folded")
    seen = set()
    for value in (0, 60, 120, 180):
        slider.setValue(value)  # type: ignore[attr-defined]
        assert view.display is not None
        seen.add(view.display.box)
    assert len(seen) == 4
    assert "closed" in view.accessibleName()
    assert "1.1 mm thick" in desk.words("closed-words")


def test_pointing_at_a_panel_lights_it_in_both_pictures(desk: Desk) -> None:
    desk.station("construct")
    desk.view("construct-flat").element_hovered.emit("base/front")
    for name in ("construct-flat", "construct-folded"):
        display = desk.view(name).display
        assert display is not None
        assert any(getattr(item, "fill", "") == "accent-wash" for item in display.items)


def test_liner_and_fold_choices(desk: Desk) -> None:
    desk.station("construct")
    desk.click("take-off-construct.liner")
    assert [piece.id for piece in desk.settle().construct.pieces] == ["base"]
    desk.room.stations["construct"].add.add_menu.aboutToShow.emit()  # type: ignore[attr-defined]
    desk.find("add-liner", QAction).trigger()  # type: ignore[attr-defined]
    assert [piece.id for piece in desk.settle().construct.pieces] == ["base", "liner"]
    box = desk.find("choice-construct.fold.kind")
    box.setCurrentIndex(1)  # type: ignore[attr-defined]
    box.activated.emit(1)  # type: ignore[attr-defined]
    assert desk.settle().construct.pieces[0].folds[0].kind == "perforate"


def drag(desk: Desk, piece: str, dx: float, dy: float) -> None:
    """Drag a piece by mm on the mat."""
    view = desk.view("lay-mat")
    layout = desk.room.stations["lay"].layout_shown  # type: ignore[attr-defined]
    box = next(each.box for each in layout.placements if each.id == piece)
    x, y = view.viewport_now.to_px(((box.left + box.right) / 2, (box.top + box.bottom) / 2))
    scale = view.viewport_now.scale
    start, end = QPoint(round(x), round(y)), QPoint(round(x + dx * scale), round(y + dy * scale))
    desk.qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for share in (0.3, 0.7, 1.0):
        desk.qtbot.mouseMove(view, start + (end - start) * share)
    desk.qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)


def test_a_piece_is_dragged_pinned_and_placed_again(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat", count=4))
    desk.station("lay")
    drag(desk, "base-1", 100, 150)
    layout = desk.settle().lay.layouts[0]
    assert layout.is_pinned
    assert len(desk.room.document.history._steps) == 2  # a drag is one step
    moved = next(each for each in layout.placements if abs(each.box.top - 156) < 6)
    assert moved.box.left == pytest.approx(106, abs=6)
    drag(desk, "base-2", 0, -400)
    assert "outside what the machine reaches" in desk.words("lay-said")
    assert desk.settle().lay.layouts[0] == layout
    desk.click("unpin")
    assert not desk.settle().lay.layouts[0].is_pinned


def test_a_collision_is_refused_and_said(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat", count=4))
    desk.station("lay")
    drag(desk, "base-1", 60, 3)
    assert "would lie on base 2. It stays where it was" in desk.words("lay-said")
    assert not desk.settle().lay.layouts[0].is_pinned


def test_r_turns_the_picked_piece(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("3x4in", fold="flat"))
    desk.station("lay")
    layout = desk.settle().lay.layouts[0]
    view, box = desk.view("lay-mat"), layout.placements[0].box
    x, y = view.viewport_now.to_px((box.left + 20, box.top + 40))
    desk.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    desk.qtbot.keyClick(view, Qt.Key.Key_R)
    assert desk.settle().lay.layouts[0].placements[0].turned != layout.placements[0].turned


def test_the_run_is_stepped_through_and_follows_the_tools(desk: Desk) -> None:
    desk.station("run")
    assert "Step 2 of 2" in desk.words("step-words")
    desk.click("step-back")
    assert "score" in desk.words("step-words")
    desk.click("step-back")
    assert "At home" in desk.words("step-words")
    desk.click("play")
    desk.qtbot.waitUntil(lambda: "Step 2 of 2" in desk.words("step-words"), timeout=5000)
    desk.find("tool-creasing-point", QCheckBox).click()
    assert desk.settle().verdict("run") == "stop"
    mend = desk.find("mend-run.tool-missing-1", QPushButton)
    assert mend.text() == "I have one"
    mend.click()
    assert desk.settle().verdict("run") == "look"
    assert desk.room.document.history.undo_label == "I have one"


def test_the_finding_of_the_demo_is_mended_and_the_mend_undone(desk: Desk) -> None:
    desk.click("fold-run")  # the findings of another station are folded under its name
    desk.find("mend-run.single-score-0", QPushButton).click()
    assert not desk.settle().findings
    desk.click("button-undo")
    assert desk.settle().findings


def test_save_close_reopen(
    desk: Desk, open_desk: Callable[[Job], Desk], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "mine"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    desk.type_number("brief-card", "brief.count", "30")
    desk.settle()
    assert "not saved" in desk.words("saved-state")
    desk.qtbot.keyClick(desk.window, Qt.Key.Key_S, Qt.KeyboardModifier.ControlModifier)
    saved = tmp_path / "mine.dechirer"
    assert read_archive(saved) == desk.room.document.identified_job
    assert desk.words("saved-state") == "saved in mine.dechirer"
    other = open_desk(quick_job())
    assert other.room.files.open_file(saved)
    assert other.settle().job == desk.room.document.identified_job
    assert "open in another window" in other.window.banners.text("second")


def test_a_bad_file_leaves_the_open_job_untouched(desk: Desk, tmp_path: Path) -> None:
    bad = tmp_path / "bad.dechirer"
    bad.write_bytes(b"PK nonsense")
    before = desk.room.document.job
    assert not desk.room.files.open_file(bad)
    assert "bad.dechirer" in desk.window.banners.text("open")
    assert "untouched" in desk.window.banners.text("open")
    assert desk.room.document.job is before


def test_a_failed_save_is_said_and_the_job_stays_unsaved(desk: Desk, tmp_path: Path) -> None:
    desk.type_number("brief-card", "brief.count", "30")
    assert not desk.room.files.save_to(tmp_path / "none" / "a.dechirer")
    assert "was not saved" in desk.window.banners.text("save")
    assert not desk.room.document.history.is_saved


def test_work_of_a_killed_window_is_offered_and_taken_up(
    desk: Desk, open_desk: Callable[[Job], Desk], demo: Job
) -> None:
    desk.type_number("brief-card", "brief.count", "77")
    assert desk.room.files.keeper.flush()
    journal = desk.room.files.keeper._journal
    assert journal is not None
    journal._lock.close()  # type: ignore[union-attr] - what the system does when a process is killed
    other = open_desk(demo)
    other.room.files.offer_recovered()
    other.qtbot.waitUntil(lambda: bool(other.window.banners.text("recovered")), timeout=5000)
    assert "Unsaved work" in other.window.banners.text("recovered") or "unsaved work" in other.window.banners.text(
        "recovered"
    )
    other.click("banner-recovered-0")
    assert other.settle().job.brief.count == 77
    assert not other.room.document.history.is_saved
    assert not journal.path.exists()


def test_closing_asks_only_when_there_is_something_to_lose(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[str] = []

    def ask(*_: object) -> QMessageBox.StandardButton:
        asked.append("asked")
        return QMessageBox.StandardButton.Cancel

    monkeypatch.setattr(QMessageBox, "question", ask)
    assert desk.room.may_close()
    desk.type_number("brief-card", "brief.count", "5")
    assert not desk.room.may_close()
    assert asked == ["asked"]


def test_export_writes_the_files_of_the_job_as_it_is(desk: Desk, tmp_path: Path) -> None:
    desk.type_number("brief-card", "brief.width", "4 1/4")
    desk.room.exports.export_to(tmp_path)  # at once, while the plan is still being made
    desk.qtbot.waitUntil(lambda: "files written" in desk.window.banners.text("export"), timeout=20_000)
    assert "8 1/2 in" in (tmp_path / "cut-list.csv").read_text()


def test_an_export_that_fails_says_why(desk: Desk, tmp_path: Path) -> None:
    (tmp_path / "mats").write_text("in the way")
    desk.room.exports.export_to(tmp_path)
    desk.qtbot.waitUntil(lambda: "failed" in desk.window.banners.text("export"), timeout=120_000)


def test_find_goes_to_pieces_numbers_and_actions(desk: Desk) -> None:
    desk.qtbot.keyClick(desk.window, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    line = desk.find("find-line", QLineEdit)
    desk.qtbot.keyClicks(line, "piece liner")
    assert "B liner" in desk.find("find-rows", QListWidget).item(0).text()  # type: ignore[attr-defined]
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert desk.room.station == "construct"
    assert desk.room.picked == "liner.width"
    desk.room.find()
    desk.qtbot.keyClicks(line, "dark theme")
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert theme.name() == "dark"


def test_keyboard_alone_reaches_stations_and_numbers(desk: Desk) -> None:
    desk.qtbot.keyClick(desk.window, Qt.Key.Key_5, Qt.KeyboardModifier.AltModifier)
    assert desk.room.station == "lay"
    desk.qtbot.keyClick(desk.window, Qt.Key.Key_1, Qt.KeyboardModifier.AltModifier)
    view = desk.view("brief-card")
    view.setFocus()
    while desk.room.picked != "brief.width":
        desk.qtbot.keyClick(view, Qt.Key.Key_Right)
    desk.qtbot.keyClick(view, Qt.Key.Key_Return)
    editor = desk.find("brief-card-editor", QLineEdit)
    desk.qtbot.keyClicks(editor, "133 mm")
    desk.qtbot.keyClick(editor, Qt.Key.Key_Return)
    assert desk.settle().job.brief.width.mm == 133


def test_units_change_every_number_and_can_be_undone(desk: Desk) -> None:
    desk.click("units-mm")
    desk.settle()
    display = desk.view("brief-card").display
    assert display is not None
    assert "127 mm" in display.description
    desk.click("button-undo")
    assert desk.settle().job.units == "in"


def test_machine_profile_is_edited_and_kept(desk: Desk) -> None:
    desk.click("edit-machine")
    desk.type_number("machine-mat", "cut_width", "9 in")
    plan = desk.settle()
    assert plan.verdict("lay") == "clear"  # the base is turned to fit
    assert plan.lay.layouts[0].placements[0].turned
    desk.click("keep-machine")
    assert "Kept as heron-12.json" in desk.words("machine-said")
    desk.type_number("machine-mat", "cut_width", "13 in")
    assert "wider than the mat" in desk.words("machine-mat-complaint")
    desk.find("machine-reads", QCheckBox).click()  # type: ignore[attr-defined]
    assert desk.settle().job.brief.machine.reader is None
    desk.find("machine-reads", QCheckBox).click()  # type: ignore[attr-defined]
    reader = desk.settle().job.brief.machine.reader
    assert (reader.width, reader.height) == (pytest.approx(9 * 25.4 - 25.4), pytest.approx(292.1 - 25.4))  # type: ignore[union-attr]


def test_paper_details_are_typed_and_refused(desk: Desk) -> None:
    desk.click("paper-more")
    line = desk.find("line-brief.papers.sea-grey.weight", QLineEdit)
    line.setFocus()
    line.selectAll()
    desk.qtbot.keyClicks(line, "65 lb cover")
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert desk.settle().figures["paper.sea-grey.grammage"].value == pytest.approx(175.8, abs=0.1)
    line.selectAll()
    desk.qtbot.keyClicks(line, "wood")
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert desk.room.document.job.brief.papers[0].weight == "65 lb cover"


def test_a_card_is_started_from_a_size_or_from_what_one_has(desk: Desk) -> None:
    sizes = desk.find("start-size", QToolButton).menu()  # type: ignore[attr-defined]
    sizes.aboutToShow.emit()
    named = {action.text(): action for action in sizes.actions()}
    next(action for words, action in named.items() if words.startswith("A6,")).trigger()
    plan = desk.settle()
    assert (plan.job.brief.width.mm, plan.job.brief.height.mm) == pytest.approx((105, 148), abs=0.01)  # ISO 216
    named["Another: type it on the drawing"].trigger()
    assert desk.find("brief-card-editor").isVisible()
    have = desk.find("start-from", QToolButton).menu()  # type: ignore[attr-defined]
    have.aboutToShow.emit()
    next(action for action in have.actions() if action.objectName() == "start-note").trigger()
    assert desk.settle().job.brief.construction == "money-holder"


def test_help_and_the_hint_can_be_dismissed(desk: Desk) -> None:
    assert "type 4 1/2 and press Enter" in desk.window.banners.text("hint")
    desk.click("banner-hint-0")
    assert desk.window.banners.text("hint") == ""
    assert desk.room.settings.hint_seen
    desk.qtbot.keyClick(desk.window, Qt.Key.Key_F1)
    assert desk.find("help-box").isVisible()


def test_the_demo_in_the_dark_and_a_long_job_draw_without_complaint(
    open_desk: Callable[[Job], Desk], demo: Job
) -> None:
    desk = open_desk(changed(demo, brief__count=5000))
    desk.room.appearance.choose("dark")
    for station in desk.room.ids:
        desk.station(station)
        assert not desk.window.grab().isNull()


def test_an_empty_run_is_said(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("11x11in"))
    for station in ("lay", "run"):
        desk.station(station)
    desk.click("turn-piece")
    desk.click("step-on")
    assert desk.settle().verdict("lay") == "stop"
    QApplication.processEvents()
