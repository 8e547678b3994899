"""A file that is the card, in the window: dropped on an empty job, asked about once, folded, chosen about, exported."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
import svgelements
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QApplication, QComboBox, QDialog, QFileDialog, QWidget

from dechirer.core.decide.change import Change
from dechirer.desk.stations.construct import ConstructStation
from dechirer.formats.export import export_plan
from tests.card_files import BAD, FILES
from tests.desk.conftest import Desk
from tests.helpers import codes, quick_job


def drop(desk: Desk, path: Path) -> None:
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path))])
    how = (Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
    QApplication.sendEvent(desk.window, QDragEnterEvent(QPoint(40, 40), *how))
    QApplication.sendEvent(desk.window, QDropEvent(QPointF(40, 40), *how))
    bringing = desk.room.stations["dress"].bringing  # type: ignore[attr-defined]
    desk.qtbot.waitUntil(lambda: not bringing.importer.is_busy, timeout=10_000)
    QApplication.processEvents()


def written(tmp_path: Path, name: str) -> Path:
    file, data = FILES[name]
    path = tmp_path / file
    path.write_bytes(data)
    return path


def choose(desk: Desk, name: str, value: object) -> None:
    box = desk.find(name, QComboBox)
    box.setCurrentIndex(box.findData(value))  # type: ignore[attr-defined]
    box.activated.emit(box.currentIndex())  # type: ignore[attr-defined]


def test_a_file_dropped_on_an_empty_job_is_asked_about_and_becomes_the_card(desk: Desk, tmp_path: Path) -> None:
    desk.room.document.open_job(quick_job("5x7in"), None, saved=True)
    desk.settle()
    desk.station("construct")
    drop(desk, written(tmp_path, "gate with a slot"))
    box = desk.find("card-or-art")
    assert "i.svg" in box.text()  # type: ignore[attr-defined]
    desk.click("it-is-the-card")
    plan = desk.settle()
    assert plan.job.brief.construction == "from-file"
    assert plan.construct.closed.width.value == pytest.approx(120)
    assert not plan.stops
    assert desk.room.station == "construct"  # where its folds and sections are to be seen
    choose(desk, "choice-construct.from_file.folds.fold-2.sense", "flat")
    assert desk.settle().construct.closed.width.value == pytest.approx(180)
    desk.room.do("undo")
    plan = desk.settle()
    export_plan(plan, tmp_path / "out")
    drawn = svgelements.SVG.parse(io.StringIO((tmp_path / "out/mats/mat-1.svg").read_text()), ppi=25.4)
    outline = next(e for e in drawn.elements() if isinstance(e, svgelements.Path) and str(e.id).endswith("-outline"))
    left, top, right, bottom = outline.bbox()
    assert sorted((right - left, bottom - top)) == pytest.approx([150, 240], abs=0.02)
    desk.room.do("undo")
    assert desk.settle().job.brief.construction == "side-fold"


def test_it_is_asked_once_and_only_on_an_empty_job(desk: Desk, tmp_path: Path) -> None:
    desk.room.document.open_job(quick_job("5x7in"), None, saved=True)
    desk.settle()
    desk.station("dress")
    drop(desk, written(tmp_path, "no folds"))
    desk.click("it-is-art")
    plan = desk.settle()
    assert [item.art for item in plan.job.dress.items] == ["e"]
    QApplication.processEvents()
    drop(desk, written(tmp_path, "side fold"))
    assert not [box for box in desk.window.findChildren(QWidget, "card-or-art") if box.isVisible()]
    assert len(desk.settle().job.dress.items) == 2


def test_roles_and_size_of_the_file_are_reached_from_the_card(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk.room.document.open_job(quick_job("5x7in", fold="from-file"), None, saved=True)
    assert "construct.file-missing" in codes(desk.settle())
    desk.station("construct")
    station = desk.room.stations["construct"]
    assert isinstance(station, ConstructStation)
    path = tmp_path / "loose.svg"
    path.write_bytes(BAD["construct.file-unassigned"])
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    desk.click("card-file")
    desk.qtbot.waitUntil(lambda: not station.card_file.importer.is_busy, timeout=10_000)
    assert "construct.file-unassigned" in codes(desk.settle())
    desk.click("card-roles")
    box = desk.find("roles-box", QDialog)
    assert box.isVisible()
    box.close()
    mend = next(each for each in desk.settle().findings if each.code == "construct.file-unassigned").mends[0]
    desk.room.document.try_edit(mend.label, mend.changes)
    plan = desk.settle()
    assert len(plan.construct.tree.panels) == 2
    assert not plan.stops
    desk.click("card-roles")
    desk.find("roles-box", QDialog).close()


def test_a_fold_is_marked_by_itself_in_the_window(desk: Desk) -> None:
    desk.room.document.open_job(quick_job("5x7in", fold="gate"), None, saved=True)
    desk.settle()
    desk.station("construct")
    desk.click("each-fold")
    box = desk.find("folds-box", QDialog)
    choose(desk, "choice-construct.folds.base-fold-right.kind", "ticks")
    piece = desk.settle().construct.pieces[0]
    assert {mark.hinge: mark.kind for mark in piece.folds} == {"fold-left": "score", "fold-right": "ticks"}
    desk.room.do("undo")
    assert {mark.kind for mark in desk.settle().construct.pieces[0].folds} == {"score"}
    desk.room.document.edit("flat", [Change("brief.construction", "flat")])
    desk.settle()
    assert desk.window.findChild(QComboBox, "choice-construct.folds.base-fold-right.kind") is None or box.isVisible()
    box.close()
