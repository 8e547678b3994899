"""The newer constructions in the window: their choices, their numbers on the drawing, what is added and taken off."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QComboBox, QLineEdit

from dechirer.core.job.model import Job
from dechirer.demo import load_demo_job
from dechirer.drawing.display import Dimension, Label, Shape
from tests.desk.conftest import Desk
from tests.helpers import changed, quick_job


def choose(desk: Desk, name: str, value: object) -> None:
    """Choose an entry of a list by its value, as a click on it would."""
    box = desk.find(name, QComboBox)
    row = box.findData(value)  # type: ignore[attr-defined]
    assert row >= 0, value
    box.setCurrentIndex(row)  # type: ignore[attr-defined]
    box.activated.emit(row)  # type: ignore[attr-defined]


def type_line(desk: Desk, name: str, text: str) -> None:
    line = desk.find(name)
    line.clear()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(line, text)
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)


def add(desk: Desk, title: str) -> None:
    menu = desk.room.stations["construct"].add.add_menu  # type: ignore[attr-defined]
    menu.aboutToShow.emit()
    action = next(action for action in menu.findChildren(QAction) if action.text() == title)
    assert action.isEnabled()
    action.trigger()


def test_a_lock_is_set_on_the_drawing_and_its_order_above_it(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(load_demo_job("lock"))
    desk.station("construct")
    desk.type_number("construct-flat", "lock.neck", "14 mm")
    assert desk.settle().figures["lock.slot"].value > 14
    choose(desk, "choice-construct.lock_gate.first", "right")
    assert "construct.order-impossible" in [each.code for each in desk.settle().findings]
    desk.find("mend-construct.order-impossible-1").click()  # type: ignore[attr-defined]
    plan = desk.settle()
    assert plan.job.construct.lock_gate.head_shows == "inside"
    assert "construct.order-impossible" not in [each.code for each in plan.findings]
    slider = desk.find("opening")
    said = set()
    for value in range(0, 181, 20):
        slider.setValue(value)  # type: ignore[attr-defined]
        said.add(desk.words("fold-step"))
    assert len([each for each in said if each.startswith("step")]) == 3
    assert desk.find("choice-construct.lock_gate.flap_closes", QComboBox).isVisible()
    type_line(desk, "line-construct.lock_gate.flap", "0")
    desk.settle()
    assert not desk.find("choice-construct.lock_gate.flap_closes", QComboBox).isVisible()  # nothing to choose without


def test_the_strap_is_faced_with_another_paper(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("4.5x6in", fold="collar"))
    desk.station("construct")
    choose(desk, "choice-construct.collar.facing", "liner-paper")
    assert desk.settle().construct.piece("facing") is not None
    type_line(desk, "line-construct.collar.reveal", "3 mm")
    assert desk.settle().figures["facing.width"].value == pytest.approx(20)
    choose(desk, "choice-construct.collar.facing", None)
    assert desk.settle().construct.piece("facing") is None


def test_a_note_is_named_and_held_in_a_dome(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(quick_job("6x6in", fold="money-holder"))
    desk.station("construct")
    type_line(desk, "line-construct.money_holder.note", "50 euro")
    assert desk.settle().figures["money.note-length"].value == 140
    type_line(desk, "line-construct.money_holder.note", "a lot")
    assert "no size" in desk.words("complaint-construct.money_holder.note")
    type_line(desk, "line-construct.money_holder.note", "20 euro")
    choose(desk, "choice-construct.money_holder.holder", "dome")
    plan = desk.settle()
    assert "construct.small-parts" in [each.code for each in plan.findings]
    desk.type_number("construct-flat", "money.dome", "95 mm")
    assert desk.settle().figures["money.opening"].value == pytest.approx(96)
    assert desk.find("line-construct.money_holder.rim").isVisible()
    type_line(desk, "line-construct.money_holder.dome_length", "120 mm")
    assert desk.settle().figures["money.opening-length"].value == pytest.approx(121)
    desk.type_number("construct-flat", "money.dome_length", "110 mm")
    assert desk.settle().figures["money.opening-length"].value == pytest.approx(111)


def test_motifs_are_sized_on_the_drawing_added_and_taken_out(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(load_demo_job("topper"))
    desk.station("construct")
    view = desk.view("construct-flat")
    display = view.display
    assert display is not None
    words = {item.figure: item.text for item in display.items if isinstance(item, Label) and item.figure}
    assert words["row.motif-2.width"] == "26 mm"
    assert words["row.motif-2.height"] == "by 34 mm"
    desk.type_number("construct-flat", "row.motif-2.height", "30 mm")
    assert desk.settle().figures["row.motif-2.height"].value == 30
    gap = desk.settle().figures["row.gap"].value
    desk.find("add-construct.flap_row.motifs").click()  # type: ignore[attr-defined]
    assert desk.settle().figures["row.gap"].value < gap
    choose(desk, "choice-construct.flap_row.motifs.motif-1.shape", "heart")
    choose(desk, "choice-construct.flap_row.motifs.motif-1.cut", "whole")
    holes = [line for line in desk.settle().construct.pieces[0].lines if line.role == "hole"]
    assert len(holes) == 2
    desk.find("take-off-construct.flap_row.motifs.motif-6").click()  # type: ignore[attr-defined]
    assert desk.settle().figures["row.gap"].value == pytest.approx(gap)
    desk.find("opening").setValue(180)  # type: ignore[attr-defined]
    assert desk.words("fold-step") == "lift the flaps"


def test_a_stack_and_a_peel_away_are_added_and_undone(desk: Desk) -> None:
    desk.station("construct")
    add(desk, "Layer stack on the front")
    plan = desk.settle()
    assert len([piece for piece in plan.construct.pieces if piece.id.startswith("stack-")]) == 6
    desk.type_number("construct-flat", "stack.step", "8 mm")
    assert desk.settle().figures["stack-3.inset"].value == 16
    choose(desk, "choice-construct.stack.shape", "kite")
    desk.settle()
    type_line(desk, "line-construct.stack.insets", "0 mm; 9 mm")
    assert len([piece for piece in desk.settle().construct.pieces if piece.id.startswith("stack-")]) == 4
    desk.find("take-off-construct.stack").click()  # type: ignore[attr-defined]
    desk.settle()
    add(desk, "Peel-away shape in the front")
    plan = desk.settle()
    display = desk.view("construct-flat").display
    assert display is not None
    assert any(isinstance(item, Shape) and item.form == "kiss" for item in display.items)
    desk.type_number("construct-flat", "peel.width", "2 in")
    assert desk.settle().figures["peel-backer.width"].value == pytest.approx(2 * 25.4 + 12)
    for _ in range(2):
        desk.click("button-undo")
    assert desk.settle().construct.piece("peel-backer") is None


def test_a_bought_envelope_is_checked(desk: Desk) -> None:
    desk.station("construct")
    add(desk, "Bought envelope")
    assert desk.settle().job.construct.bought.name == "US A7"
    choose(desk, "choice-construct.bought.name", "C6")
    plan = desk.settle()
    found = next(each for each in plan.findings if each.code == "construct.card-larger-than-envelope")
    assert "C6" in found.title
    desk.find("mend-construct.card-larger-than-envelope-0").click()  # type: ignore[attr-defined]
    assert desk.settle().job.construct.bought.name == "US A7"


def test_an_envelope_gets_an_inlay_and_folds_over(desk: Desk) -> None:
    desk.room.document.type_field("brief.width", "4 1/4")
    desk.room.document.type_field("brief.height", "5 1/2")
    desk.station("construct")
    add(desk, "Envelope")
    desk.settle()
    choose(desk, "choice-construct.envelope.paper", "kite-orange")
    desk.settle()
    choose(desk, "choice-construct.envelope.style", "fold-over")
    desk.settle()
    choose(desk, "choice-construct.envelope.inlay", "chalk")
    plan = desk.settle()
    inlay = plan.construct.piece("inlay")
    assert inlay is not None
    assert [mark.sense for mark in inlay.folds] == ["mountain"]
    assert plan.construct.piece("envelope") is not None
    assert "envelope" not in dict(plan.lay.unplaced)
    assert desk.find("line-construct.envelope.inlay_margin", QLineEdit).isVisible()
    choose(desk, "choice-construct.envelope.inlay_size", "largest")
    larger = desk.settle().construct.piece("inlay")
    assert larger is not None
    assert larger.width.value == pytest.approx(inlay.width.value + 2 * (6.0 - 1.0))
    assert not desk.find("line-construct.envelope.inlay_margin", QLineEdit).isVisible()


def test_the_folded_card_is_typed_into_as_well(desk: Desk) -> None:
    desk.station("construct")
    display = desk.view("construct-folded").display
    assert display is not None
    fields = {item.field: item.text for item in display.items if isinstance(item, Dimension)}
    assert fields == {"brief.width": "5 in", "brief.height": "7 in"}
    desk.type_number("construct-folded", "brief.width", "4 1/2")
    assert desk.settle().job.brief.width.mm == pytest.approx(4.5 * 25.4)
    view = desk.view("construct-folded")
    place = view.place_of("brief.height")
    assert place is not None
    desk.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(place[0]), round(place[1])))


def test_one_good_side_is_a_property_of_the_paper(open_desk: Callable[[Job], Desk]) -> None:
    job = changed(quick_job("5x4in", fold="money-holder"), construct__money_holder__shape="tag")
    desk = open_desk(job)
    before = desk.settle().construct.pieces[1].outline
    desk.find("paper-more").click()  # type: ignore[attr-defined]
    choose(desk, f"choice-brief.papers.{job.brief.base_paper}.good_sides", "one")
    plan = desk.settle()
    assert plan.job.brief.papers[0].good_sides == "one"
    assert plan.construct.pieces[1].outline != before


def test_many_choices_scroll_and_leave_the_drawing_its_room(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(load_demo_job("topper"))
    desk.window.resize(1280, 800)
    desk.station("construct")
    extras = desk.find("extras")
    assert desk.view("construct-flat").height() > 260
    desk.room.document.type_field("brief.width", "9 1/2")
    desk.settle()
    assert extras.verticalScrollBar().maximum() > 0  # type: ignore[attr-defined]
    assert extras.width() < 300
