"""Construct in the window: constructions, what is glued on, and the pictures that follow."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QComboBox, QLineEdit, QPushButton, QToolButton

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.model import Job
from dechirer.demo import DEMOS, load_demo_job
from dechirer.desk.stations.construct import ConstructStation, name_step
from dechirer.desk.widgets.picture_list import PictureList
from dechirer.drawing.display import Dimension, Shape
from tests.desk.conftest import Desk
from tests.helpers import changed, quick_job


def construct(desk: Desk) -> ConstructStation:
    station = desk.room.stations["construct"]
    assert isinstance(station, ConstructStation)
    return station


def choose(desk: Desk, name: str, row: int) -> None:
    """Pick a row of a box as a click would."""
    box = desk.find(name, QComboBox)
    assert isinstance(box, QComboBox)
    box.setCurrentIndex(row)
    box.activated.emit(row)


def add(desk: Desk, title: str) -> None:
    """Choose an entry of the Add menu."""
    menu = construct(desk).add.add_menu
    menu.aboutToShow.emit()
    action = next(each for each in menu.findChildren(QAction) if each.text() == title)
    assert action.isEnabled()
    action.trigger()


def type_line(desk: Desk, name: str, text: str) -> None:
    """Type into a line and press Enter."""
    line = desk.find(name, QLineEdit)
    line.setFocus()
    line.selectAll()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(line, text)
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)


def texts(desk: Desk, view: str) -> list[str]:
    display = desk.view(view).display
    assert display is not None
    return [item.text for item in display.items if isinstance(item, Dimension)]


@pytest.mark.parametrize("kind", CONSTRUCTIONS.ids())
def test_every_construction_is_chosen_from_its_drawing(open_desk: Callable[[Job], Desk], kind: str) -> None:
    desk = open_desk(quick_job("4x5in", fold="flat" if kind != "flat" else "gate"))
    desk.qtbot.waitUntil(lambda: bool(desk.room.document.offers), timeout=15_000)
    assert "sheet" in desk.find(f"kind-{kind}").toolTip()
    desk.click(f"kind-{kind}")
    plan = desk.settle()
    assert plan.job.brief.construction == kind
    desk.station("construct")
    assert not desk.window.grab().isNull()
    slider = desk.find("opening")
    assert slider.isEnabled() == plan.construct.is_folded
    for value in (0, 45, 90, 135, 180):
        slider.setValue(value)  # type: ignore[attr-defined]
        desk.view("construct-folded").repaint()


def test_the_slider_names_each_step_of_folding(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("5x7in", fold="gate"))
    desk.station("construct")
    slider = desk.find("opening")
    said = []
    for value in (0, 60, 120, 180):
        slider.setValue(value)  # type: ignore[attr-defined]
        said.append(desk.words("fold-step"))
    right = "step 2 of 2: close the right door"
    assert said == ["", "step 1 of 2: close the left door", right, right]
    assert name_step(("close the front",), 0.4) == "close the front"
    assert name_step((), 0.4) == ""


def test_a_window_is_added_typed_on_and_taken_off(desk: Desk) -> None:
    desk.station("construct")
    add(desk, "Window in the front")
    plan = desk.settle()
    assert [piece.id for piece in plan.construct.pieces] == ["base", "backer", "liner"]
    desk.type_number("construct-flat", "window.width", "3 in")
    assert desk.settle().figures["backer.width"].value == pytest.approx(3 * 25.4 + 10)
    display = desk.view("construct-folded").display
    assert display is not None
    assert any(isinstance(item, Shape) and len(item.paths) == 2 for item in display.items)  # a hole to look through
    choose(desk, "choice-construct.window.paper", 2)
    assert desk.settle().construct.piece("backer").paper == "kite-orange"  # type: ignore[union-attr]
    desk.click("take-off-construct.window")
    assert desk.settle().construct.piece("backer") is None
    desk.click("button-undo")
    assert desk.settle().construct.piece("backer") is not None


def test_layers_are_stacked_recoloured_and_taken_off(desk: Desk) -> None:
    desk.station("construct")
    add(desk, "Layer on the front")
    desk.settle()
    add(desk, "Layer on the front")
    plan = desk.settle()
    first, second = plan.construct.piece("layer-1"), plan.construct.piece("layer-2")
    assert first is not None
    assert second is not None
    assert second.width.value < first.width.value  # a smaller one on top, so that both can be seen
    desk.type_number("construct-flat", "layer-1.border", "1/4")
    assert desk.settle().figures["layer-1.width"].text() == "4 1/2 in"
    choose(desk, "choice-construct.layers.layer-2.paper", 3)
    assert desk.settle().construct.piece("layer-2").paper == "reed-green"  # type: ignore[union-attr]
    desk.click("take-off-construct.layers.layer-1")
    assert [piece.id for piece in desk.settle().construct.pieces] == ["base", "liner", "layer-2"]


def test_an_insert_in_slits_and_its_style(desk: Desk) -> None:
    desk.station("construct")
    add(desk, "Insert held by corner slits")
    desk.settle()
    desk.type_number("construct-flat", "slits.catch", "15 mm")
    plan = desk.settle()
    assert plan.figures["slits.length"].value == pytest.approx(15 * 2**0.5 + 2)
    straight = next(line for line in plan.construct.pieces[0].lines if line.role == "slit")
    choose(desk, "choice-construct.slits.style", 1)
    scalloped = next(line for line in desk.settle().construct.pieces[0].lines if line.role == "slit")
    assert len(straight.paths[0]) == 2
    assert len(scalloped.paths[0]) > 8
    desk.click("take-off-construct.slits")
    assert desk.settle().construct.piece("insert") is None


def test_an_envelope_is_folded_on_its_own(desk: Desk) -> None:
    desk.station("construct")
    add(desk, "Envelope")
    plan = desk.settle()
    assert desk.find("extra-construct.envelope")
    construct(desk).show_piece("envelope")
    assert construct(desk).folded_title.text() == "Folded envelope"
    desk.find("opening").setValue(90)  # type: ignore[attr-defined]
    assert "step" in desk.words("fold-step")
    display = desk.view("construct-folded").display
    assert display is not None
    assert "folded envelope" in display.description
    glued = plan.figures["envelope.width"].value
    choose(desk, "choice-construct.envelope.style", 1)
    assert desk.settle().figures["envelope.width"].value != glued
    type_line(desk, "line-construct.envelope.ease", "1/2")
    assert desk.settle().figures["envelope.ease"].text() == "1/2 in"
    type_line(desk, "line-construct.envelope.ease", "wide")
    assert desk.words("complaint-construct.envelope.ease")
    assert desk.room.document.job.construct.envelope is not None
    desk.click("take-off-construct.envelope")
    desk.settle()
    assert construct(desk).folded_title.text() == "Folded card"
    add(desk, "Envelope")  # its field is used again after its row was taken away
    desk.settle()
    type_line(desk, "line-construct.envelope.ease", "3/8")
    assert desk.settle().figures["envelope.ease"].text() == "3/8 in"


def test_the_fields_of_a_construction_stand_above_the_drawing(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("4x6in", fold="concertina"))
    desk.station("construct")
    type_line(desk, "line-construct.concertina.panels", "7")
    assert len(desk.settle().construct.tree.panels) == 7
    type_line(desk, "line-construct.concertina.panels", "1")
    assert "from 2 to 40" in desk.words("complaint-construct.concertina.panels")
    assert len(desk.settle().construct.tree.panels) == 7
    desk.room.document.edit("Hinged", [*changes("brief.construction", "hinged-shape")])
    desk.settle()
    type_line(desk, "line-construct.hinged_shape.rim", "20")
    assert "repeats close evenly" in desk.settle().figures["base.width"].note
    choose(desk, "choice-construct.hinged_shape.shape", 1)
    assert desk.settle().job.construct.hinged_shape.shape == "hexagon"
    desk.room.document.undo()
    desk.room.document.undo()
    desk.room.document.undo()
    assert len(desk.settle().construct.tree.panels) == 7


def changes(path: str, value: object) -> list[object]:
    from dechirer.core.decide.change import Change

    return [Change(path, value)]


def test_a_piece_of_the_list_is_shown_large_with_its_choices(desk: Desk) -> None:
    desk.station("construct")
    parts = desk.find("construct-parts", PictureList)
    assert isinstance(parts, PictureList)
    assert parts.rows.lines == [
        ("A base", "× 12 · sea grey", "10 × 7 in"),
        ("B liner", "× 12 · chalk white", "9 7/8 × 6 7/8 in"),
    ]
    assert "9 7/8 in" not in texts(desk, "construct-flat")
    desk.qtbot.waitUntil(lambda: not parts.is_busy)
    assert parts.picture(1) is not None
    box = parts.visualRect(parts.rows.index(1))
    desk.qtbot.mouseClick(parts.viewport(), Qt.MouseButton.LeftButton, pos=box.center())
    assert "9 7/8 in" in texts(desk, "construct-flat")
    desk.click("group-construct.liner")
    assert not desk.find("panel-construct.liner").isVisible()
    desk.click("group-construct.liner")
    assert desk.find("panel-construct.liner").isVisible()


def test_what_can_be_added_is_pictured_on_this_card(desk: Desk) -> None:
    desk.station("construct")
    menu = construct(desk).add.add_menu
    menu.popup(desk.window.mapToGlobal(desk.window.rect().center()))
    desk.qtbot.waitUntil(lambda: not menu._beside.is_busy, timeout=20_000)
    offered = {each.objectName(): each for each in menu.findChildren(QAction) if each.objectName().startswith("add-")}
    assert not offered["add-liner"].isEnabled()  # it has one
    window, layers = offered["add-window"].icon(), offered["add-layers-front"].icon()
    assert not window.isNull()
    assert window.pixmap(92, 72).toImage() != layers.pixmap(92, 72).toImage()
    for tile in menu.findChildren(QToolButton):  # laid out before its picture came, it has room for that and its words
        assert tile.width() >= tile.sizeHint().width(), tile.text()
        assert tile.height() >= tile.sizeHint().height(), tile.text()
    assert offered["add-layers-back"].icon().isNull()  # another face is pictured when it is chosen
    faces = desk.find("add-face", QComboBox)
    choose(desk, "add-face", faces.findText("back"))
    again = {each.objectName(): each for each in menu.findChildren(QAction)}
    desk.qtbot.waitUntil(lambda: not again["add-layers-back"].icon().isNull(), timeout=20_000)
    again["add-layers-back"].trigger()
    assert [layer.face for layer in desk.settle().job.construct.layers] == ["back"]


def test_a_finding_points_at_its_piece(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("5x7in", liner="1/16"))
    desk.room.document.type_field("construct.liner.reveal", "0")
    plan = desk.settle()
    found = next(each for each in plan.findings if each.code == "construct.liner-not-smaller")
    desk.room.show_finding(found)
    assert desk.room.station == "construct"
    desk.find("mend-construct.liner-not-smaller-0", QPushButton).click()  # type: ignore[attr-defined]
    assert not [each for each in desk.settle().findings if each.code == "construct.liner-not-smaller"]


def test_every_demo_is_in_the_menu(desk: Desk) -> None:
    assert {f"demo-{name}" for name in DEMOS} == {id for id in desk.window.actions_by_id if id.startswith("demo-")}


@pytest.mark.parametrize("theme", ["light", "dark"])
@pytest.mark.parametrize("name", list(DEMOS))
def test_every_demo_is_drawn_in_every_station(open_desk: Callable[[Job], Desk], name: str, theme: str) -> None:
    desk = open_desk(load_demo_job(name))
    desk.room.appearance.choose(theme)
    for station in ("brief", "construct", "dress", "lay", "run"):
        desk.station(station)
        picture = desk.window.grab().toImage()
        colours = {picture.pixelColor(x, y).name() for x in range(40, 900, 23) for y in range(130, 700, 19)}
        assert len(colours) > 5, station
    for piece in desk.settle().construct.pieces:
        construct(desk).show_piece(piece.id)
        for text in texts(desk, "construct-flat"):
            assert any(letter.isdigit() for letter in text)


def test_demos_are_opened_from_the_menu(desk: Desk) -> None:
    desk.window.actions_by_id["demo-dunes"].trigger()
    assert desk.settle().job.brief.construction == "concertina"
    assert not desk.room.document.history.undo_label
    desk.window.actions_by_id["new"].trigger()
    assert desk.settle().job.name == "Untitled card"
    assert desk.words("saved-state") == ""


def test_changing_the_construction_keeps_every_decision(desk: Desk) -> None:
    first = desk.room.document.job
    for kind in (*CONSTRUCTIONS.ids(), "side-fold"):
        desk.room.document.edit(kind, [*changes("brief.construction", kind)])
    assert desk.room.document.job == first
    assert desk.settle().job == changed(first)


def test_the_size_is_taken_from_an_envelope_or_a_sheet(desk: Desk) -> None:
    brief = desk.room.stations["brief"]
    menu = brief.start_menu  # type: ignore[attr-defined]
    menu.aboutToShow.emit()
    entries = {action.text(): action for action in menu.actions()}
    next(action for text, action in entries.items() if text.startswith("US A2 envelope")).trigger()
    plan = desk.settle()
    assert plan.construct.bought is not None
    assert plan.construct.bought.name == "US A2"
    entries["2 to a sheet"].trigger()
    assert len(desk.settle().lay.layouts[0].placements) == 2
    desk.click("button-undo")
    desk.click("button-undo")
    assert desk.settle().job.brief.width.mm == 127


def test_taking_a_layer_off_leaves_the_others_as_they_are_now(desk: Desk) -> None:
    desk.station("construct")
    for _ in range(2):
        add(desk, "Layer on the front")
        desk.settle()
    desk.type_number("construct-flat", "layer-1.border", "1/4")
    desk.settle()
    type_line(desk, "line-construct.layers.layer-1.foam", "2 mm")
    desk.settle()
    desk.click("take-off-construct.layers.layer-2")
    (layer,) = desk.settle().job.construct.layers
    assert (layer.id, str(layer.border), str(layer.foam)) == ("layer-1", "1/4 in", "2 mm")


def test_a_mend_of_an_older_plan_waits_for_the_newer_one(desk: Desk) -> None:
    plan = desk.settle()
    finding = plan.findings[0]
    desk.room.document.type_field("brief.count", "30")
    assert not desk.room.document.is_current
    desk.room.findings.mended.emit(finding.mends[0], finding)
    assert desk.room.document.job.run.settings == ()
    assert "Try again in a moment" in desk.window.banners.text("mend")
    desk.settle()
    desk.room.findings.mended.emit(finding.mends[0], finding)
    (setting,) = desk.settle().job.run.settings
    assert (setting.paper, setting.passes) == ("sea-grey", 2)
