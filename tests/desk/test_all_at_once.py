"""What is done in one go: every finding mended, a list of names pasted, something added to the card from its brief."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QAction, QGuiApplication
from PyQt6.QtWidgets import QTableWidget, QWidget

from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.demo import load_demo_job
from tests.desk.conftest import Desk
from tests.dressing import dressed, item, words
from tests.helpers import quick_job, typed


def banner(desk: Desk) -> str:
    return desk.window.banners.text("mend")


def mend_all(desk: Desk) -> None:
    desk.click("mend-all")
    desk.qtbot.waitUntil(lambda: bool(banner(desk)), timeout=20_000)


def spoilt() -> Job:
    """Heavy card with a single score, a liner too large, words of a thin script."""
    job = quick_job("5x7in", liner="1/16", weight="110 lb cover")
    script = words("Kite", face="dancing", size="14 mm", spacing="3 mm")
    return dressed(item(made="piece", art=None, words=script, paper="liner-paper"), job=job)


def test_all_findings_are_mended_as_one_step(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(spoilt())
    before = desk.room.document.job
    with_mends = [each.code for each in desk.settle().findings if each.mends]
    assert len(with_mends) > 2
    mend_all(desk)
    left = {each.code for each in desk.settle().findings}
    assert not left & set(with_mends), left
    # The same plan from nothing has no more findings: what is shown is not only forgotten.
    assert {each.code for each in make_plan(desk.room.document.job).findings} == left
    desk.click("banner-mend-0")  # Undo
    assert desk.settle().job == before


def test_mending_all_ends_where_mends_do_not_help(open_desk: Callable[[Job], Desk]) -> None:
    """Mends that bring another finding, or the same again, are not made for ever; what is left is told."""
    desk = open_desk(load_demo_job("winners"))
    if not desk.find("mend-all").isVisible():
        job = typed(load_demo_job("kites"), "brief.papers.sea-grey.weight", "130 lb cover")
        desk.room.document.open_job(job, None, saved=True)
        desk.settle()
    mend_all(desk)
    left = desk.settle().findings
    assert "left to check" in banner(desk) or "for your choice" in banner(desk) if left else "made." in banner(desk)


def test_who_goes_on_working_is_not_mended_behind_their_back(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(spoilt())
    desk.settle()
    desk.click("mend-all")
    first = desk.room.document.job  # one mend is made, and its plan is not there yet
    assert desk.room.document.type_field("brief.count", "7") == ""
    desk.settle()
    desk.qtbot.wait(100)
    assert desk.settle().job.brief.count == 7
    assert banner(desk) == ""
    assert desk.room.document.job.dress == first.dress
    mend_all(desk)  # and pressed again it goes on
    assert "made" in banner(desk)


def test_one_finding_needs_no_button_for_all(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(load_demo_job("places"))
    (only,) = desk.settle().findings
    assert desk.find("mend-all").isVisible()  # it is folded away, and mended from here all the same
    desk.station(only.station)
    assert not desk.find("mend-all").isVisible()


def test_a_list_of_names_is_pasted_into_a_table_that_knows_its_column(open_desk: Callable[[Job], Desk]) -> None:
    place = item(made="pen", art=None, words=words("{name}, table {seat}", face="line-plain", size="6 mm"))
    desk = open_desk(dressed(place, job=quick_job("3x4in", fold="flat")))
    desk.station("dress")
    desk.click("copies")
    table = desk.find("copies-table", QTableWidget)
    assert [column.name for column in desk.room.document.job.dress.copies.columns] == ["name", "seat"]
    assert (table.currentRow(), table.currentColumn()) == (0, 1)  # type: ignore[attr-defined]
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setText("Wren Ashby\t1\nTeal Marsh\t2\nIvo\x07 Sand\n")
    table.window().activateWindow()
    desk.qtbot.waitUntil(table.hasFocus)
    desk.qtbot.keyClick(table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    plan = desk.settle()
    assert [row.entries for row in plan.job.dress.copies.rows] == [
        ("Wren Ashby", "1"),
        ("Teal Marsh", "2"),
        ("Ivo Sand", ""),
    ]
    assert plan.job.brief.count == 3
    assert sorted(copy.name for copy in plan.dress.copies) == ["Ivo Sand", "Teal Marsh", "Wren Ashby"]
    table.setCurrentCell(1, 2)  # type: ignore[attr-defined]
    clipboard.setText("7\tpast the last column\n9")
    desk.qtbot.keyClick(table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    rows = desk.settle().job.dress.copies.rows
    assert [row.entries for row in rows] == [("Wren Ashby", "1"), ("Teal Marsh", "7"), ("Ivo Sand", "9")]
    clipboard.clear()
    desk.qtbot.keyClick(table, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert desk.settle().job.dress.copies.rows == rows


@pytest.mark.parametrize(
    ("what", "told"), [("liner", "liner"), ("window", "window backer"), ("layers-front", "1 layer")]
)
def test_something_is_added_to_the_card_from_its_brief(open_desk: Callable[[Job], Desk], what: str, told: str) -> None:
    desk = open_desk(quick_job("5x7in"))
    assert desk.words("brief-attached").startswith("nothing yet")
    button: QWidget = desk.find("brief-add")
    button.add_menu.aboutToShow.emit()  # type: ignore[attr-defined]
    desk.qtbot.waitUntil(lambda: button.findChild(QAction, f"add-{what}") is not None)
    button.findChild(QAction, f"add-{what}").trigger()  # type: ignore[union-attr]
    desk.settle()
    assert desk.words("brief-attached") == told
