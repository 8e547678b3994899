"""Jobs laid together in the window, and pieces moved from mat to mat by hand."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtWidgets import QCheckBox, QLabel, QPushButton

from dechirer.core.job.model import Job
from dechirer.core.lay.pinning import move_placement, pin_layout
from dechirer.desk.stations.lay import LayStation
from dechirer.drawing.scenes.mat import handle_of
from dechirer.formats.job.archive import write_archive
from tests.core.test_press_catalogue import card, red
from tests.desk.conftest import Desk
from tests.helpers import changed, quick_job

Open = Callable[[Job], Desk]


def lay_of(desk: Desk) -> LayStation:
    desk.station("lay")
    station = desk.room.stations["lay"]
    assert isinstance(station, LayStation)
    return station


def names(desk: Desk) -> set[str]:
    return {placed.piece.name for layout in desk.settle().lay.layouts for placed in layout.placements}


def test_another_job_is_laid_with_this_one_and_taken_off_again(open_desk: Open, tmp_path: Path) -> None:
    desk = open_desk(quick_job("4x4in"))
    station = lay_of(desk)
    write_archive(tmp_path / "notes.dechirer", changed(quick_job("3x3in"), name="Notes"))
    station.guests.lay_with(tmp_path / "notes.dechirer")
    desk.qtbot.waitUntil(lambda: "Notes: base" in names(desk), timeout=20_000)
    assert not desk.room.window.banners.text("fault")
    desk.click("guest-off-notes")
    assert names(desk) == {"base"}
    desk.room.do("undo")
    assert names(desk) == {"base", "Notes: base"}


def test_a_file_that_cannot_be_laid_with_it_is_told_why(open_desk: Open, tmp_path: Path) -> None:
    desk = open_desk(quick_job("4x4in"))
    station = lay_of(desk)
    said = desk.find("lay-with-said", QLabel)
    write_archive(tmp_path / "printed.dechirer", changed(card(red()), name="Printed"))
    (tmp_path / "broken.dechirer").write_bytes(b"PK nothing")
    for name, words in (("printed", "is printed"), ("broken", "is damaged"), ("gone", "No such file")):
        station.guests.lay_with(tmp_path / f"{name}.dechirer")
        desk.qtbot.waitUntil(lambda words=words: words in said.text(), timeout=20_000)  # type: ignore[attr-defined, misc]
    assert not desk.settle().job.lay.guests


def test_a_piece_is_dragged_to_another_mat_of_the_list(open_desk: Open) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat", count=13))
    station = lay_of(desk)
    placed = station.layout_shown.placements[4]  # type: ignore[union-attr]
    view, viewport = station.mat, station.mats.viewport()
    assert viewport is not None
    x, y = view.viewport_now.to_px(placed.box.middle)
    start = QPoint(round(x) + 12, round(y) + 12)
    row = station.mats.visualRect(station.mats.rows.index(1, 0)).center()
    end = view.mapFromGlobal(viewport.mapToGlobal(row))
    desk.qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for at in (start + QPoint(-20, 0), end):
        desk.qtbot.mouseMove(view, at)
    desk.qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)
    plan = desk.settle()
    assert [len(each.placements) for each in plan.lay.layouts] == [8, 5]
    assert desk.find("lock-mat", QCheckBox).isChecked()  # type: ignore[attr-defined]
    desk.click("unpin")
    desk.settle()
    station._choose_mat(1)
    desk.click("lock-mat")
    assert [len(each.placements) for each in desk.settle().lay.layouts] == [9, 4]


def test_a_picked_piece_is_put_on_another_mat_and_swapped_by_menus(open_desk: Open) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat", count=13))
    station = lay_of(desk)
    station._choose_mat(1)
    station._pick_piece(station.layout_shown.placements[0].id)  # type: ignore[union-attr]
    assert "fills the sheet" in desk.find("piece-words", QLabel).text()  # type: ignore[attr-defined]
    menu = desk.find("move-piece", QPushButton).menu()  # type: ignore[attr-defined]
    menu.aboutToShow.emit()
    menu.actions()[0].trigger()
    assert "no room" in desk.find("lay-said", QLabel).text()  # type: ignore[attr-defined]
    swaps = desk.find("swap-piece", QPushButton).menu()  # type: ignore[attr-defined]
    swaps.aboutToShow.emit()
    swaps.actions()[0].trigger()
    plan = desk.settle()
    assert plan.lay.layouts[1].is_pinned
    assert "You put it there" in desk.find("piece-words", QLabel).text()  # type: ignore[attr-defined]


def test_a_piece_is_turned_by_its_handle_and_escape_takes_it_back(open_desk: Open) -> None:
    desk = open_desk(quick_job("3x3in", fold="flat", count=1))
    station = lay_of(desk)
    placed = station.layout_shown.placements[0]  # type: ignore[union-attr]
    desk.room.document.edit("pinned", [pin_layout(desk.room.document.job.lay, station.layout_shown, moved_in(station))])  # type: ignore[arg-type]
    desk.settle()
    placed = station.layout_shown.placements[0]  # type: ignore[union-attr]
    station._pick_piece(placed.id)
    view = station.mat
    start = QPoint(*(round(each) for each in view.viewport_now.to_px(handle_of(placed))))
    x, y = placed.box.middle
    arm = y - handle_of(placed)[1]
    end = QPoint(*(round(each) for each in view.viewport_now.to_px((x + arm * 0.7071, y - arm * 0.7071))))
    desk.qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for at in (start + QPoint(12, 4), end):
        desk.qtbot.mouseMove(view, at)
    desk.qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)
    turned = desk.settle().lay.layouts[0].placements[0]
    assert turned.angle == 45.0
    assert "45° askew" in desk.find("piece-words", QLabel).text()  # type: ignore[attr-defined]


def moved_in(station: LayStation) -> object:
    """The first piece, in the middle of its sheet."""
    layout = station.layout_shown
    assert layout is not None
    return move_placement(layout, layout.placements[0].id, 110.0, 110.0)
