"""Dress as a maker drives it: faces, art brought in, words, recipes, roles, copies, mends."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QAction, QDragEnterEvent, QDropEvent, QGuiApplication, QMouseEvent
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QComboBox,
    QDialog,
    QInputDialog,
    QLabel,
    QLineEdit,
    QListWidget,
    QPlainTextEdit,
    QPushButton,
    QTableWidget,
    QToolButton,
    QWidget,
)

from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import Place, Row
from dechirer.core.dress.edits import palette_of
from dechirer.core.dress.words.typefaces import FOLDER
from dechirer.core.paper.colours import name_colour
from dechirer.demo import load_demo_job
from dechirer.desk.panels.drag_name import DragName
from dechirer.desk.panels.field_edit import FieldEdit
from dechirer.desk.stations.dress import DressStation
from tests.desk.conftest import Desk
from tests.dressing import art, box_path, dressed, item, square, step, words
from tests.helpers import codes, quick_job

ART = Path(__file__).parents[2] / "src" / "dechirer" / "demo" / "art"


def opened(desk: Desk, job: object) -> DressStation:
    desk.room.document.open_job(job, None, saved=True)  # type: ignore[arg-type]
    desk.settle()
    desk.station("dress")
    station = desk.room.stations["dress"]
    assert isinstance(station, DressStation)
    return station


def bring(desk: Desk, station: DressStation, path: Path) -> None:
    station.bring_in(path)
    desk.qtbot.waitUntil(lambda: not station.bringing.importer.is_busy, timeout=10_000)
    answer_art(desk)
    desk.settle()


def part_menu(station: DressStation, what: str = "") -> list[QAction]:
    """Open the menu of parts as a click does; with `what`, choose `apart` or `gather` in it."""
    menu = station.panel.parts.menu()
    assert menu is not None
    menu.aboutToShow.emit()
    if what:
        next(action for action in menu.actions() if action.objectName() == f"item-{what}").trigger()
    return list(menu.actions())


def answer_art(desk: Desk) -> None:
    """On an empty job it is asked what a file is: it is art."""
    QApplication.processEvents()
    if desk.window.findChild(QWidget, "card-or-art") is not None:
        desk.click("it-is-art")


def choose(desk: Desk, name: str, data: object) -> None:
    """Choose an entry of a combo box by its data, as a click on it does."""
    box = desk.find(name, QComboBox)
    row = box.findData(data)  # type: ignore[attr-defined]
    assert row >= 0, f"{name} has no {data}"
    box.setCurrentIndex(row)  # type: ignore[attr-defined]
    box.activated.emit(row)  # type: ignore[attr-defined]
    desk.settle()


def type_line(desk: Desk, name: str, text: str) -> None:
    line = desk.find(name, QLineEdit)
    line.setFocus()
    line.selectAll()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(line, text)
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    desk.settle()


def items(desk: Desk) -> list[str]:
    return [each.id for each in desk.room.document.job.dress.items]


def test_art_is_brought_in_placed_bordered_and_cut(desk: Desk) -> None:
    station = opened(desk, quick_job("5x7in", liner="1/16"))
    assert "nothing on the faces" in desk.find("station-dress").toolTip()
    bring(desk, station, ART / "kite.svg")
    assert items(desk) == ["kite"]
    choose(desk, "made", "piece")
    desk.type_number("dress-face", "kite.ink-width", "2 in")
    plan = desk.settle()
    assert plan.dress.item("kite").width.value == pytest.approx(50.8)  # type: ignore[union-attr]
    desk.type_number("dress-face", "kite.left", "1/2 in")
    plan = desk.settle()
    assert plan.dress.item("kite").placed.source[0] == pytest.approx(12.7)  # type: ignore[union-attr]
    menu = desk.find("made-of", QToolButton).menu()  # type: ignore[attr-defined]
    menu.actions()[0].trigger()
    plan = desk.settle()
    assert items(desk) == ["kite-border", "kite"]
    assert {"kite", "kite-border"} <= {piece.id for piece in plan.dress.pieces}
    assert "2 items on 1 face" in desk.find("station-dress").toolTip()
    for _ in range(5):
        desk.window.actions_by_id["undo"].trigger()
    assert desk.settle().job.dress.items == ()


def test_a_step_is_added_typed_dragged_moved_and_taken_out(desk: Desk) -> None:
    station = opened(desk, dressed(item(paper="liner-paper")))
    adder = desk.find("add-step", QToolButton)
    names = {action.objectName(): action for action in adder.menu().actions()}  # type: ignore[attr-defined]
    names["add-step-border"].trigger()
    desk.settle()
    type_line(desk, "line-dress.items.thing.steps.border-1.by", "2 mm")
    plan = desk.settle()
    assert plan.dress.piece("thing").width.value == pytest.approx(24, abs=0.02)  # type: ignore[union-attr]
    type_line(desk, "line-dress.items.thing.steps.border-1.by", "wide")
    assert "wide" in desk.find("complaint-dress.items.thing.steps.border-1.by", QLabel).text()  # type: ignore[attr-defined]
    assert desk.room.document.job.dress.items[0].steps[0].by.mm == 2
    desk.find("line-dress.items.thing.steps.border-1.by", QLineEdit)
    drag = desk.find("drag-dress.items.thing.steps.border-1.by", DragName)
    steps = len(desk.room.document.history._steps)
    drag.dragged.emit(0.5)
    drag.dragged.emit(1.0)
    drag.ended.emit()
    plan = desk.settle()
    assert plan.dress.piece("thing").width.value == pytest.approx(26, abs=0.02)  # type: ignore[union-attr]
    assert len(desk.room.document.history._steps) == steps + 1  # a drag is one step
    adder = desk.find("add-step", QToolButton)
    names = {action.objectName(): action for action in adder.menu().actions()}  # type: ignore[attr-defined]
    names["add-step-round"].trigger()
    desk.settle()
    desk.click("step-earlier-round-1")
    assert [each.kind for each in desk.settle().job.dress.items[0].steps] == ["round", "border"]
    desk.click("step-off-round-1")
    assert [each.kind for each in desk.settle().job.dress.items[0].steps] == ["border"]
    assert station.dressed is not None


def test_a_measure_can_be_dragged_with_the_mouse(desk: Desk) -> None:
    opened(desk, dressed(item(steps=(step("border", by="2 mm"),), paper="liner-paper")))
    drag = desk.find("drag-dress.items.thing.steps.border-1.by", DragName)
    middle = drag.rect().center()
    for kind, dx, buttons in (
        (QMouseEvent.Type.MouseButtonPress, 0, Qt.MouseButton.LeftButton),
        (QMouseEvent.Type.MouseMove, 40, Qt.MouseButton.LeftButton),
        (QMouseEvent.Type.MouseButtonRelease, 40, Qt.MouseButton.NoButton),
    ):
        at = QPointF(middle + QPoint(dx, 0))
        place = QPointF(drag.mapToGlobal(middle + QPoint(dx, 0)))
        QApplication.sendEvent(
            drag, QMouseEvent(kind, at, place, Qt.MouseButton.LeftButton, buttons, Qt.KeyboardModifier.NoModifier)
        )
        desk.qtbot.wait(150)  # the plan comes while the button is held; the name that is dragged stays
        still = desk.window.findChild(DragName, "drag-dress.items.thing.steps.border-1.by")
        assert still is drag or kind == QMouseEvent.Type.MouseButtonRelease
    assert desk.settle().job.dress.items[0].steps[0].by.mm == pytest.approx(4.0)
    assert desk.settle().dress.piece("thing").width.value == pytest.approx(28, abs=0.02)  # type: ignore[union-attr]


def test_an_item_is_dragged_on_its_face_and_snaps_to_the_middle(desk: Desk) -> None:
    station = opened(desk, dressed(item(paper="liner-paper")))
    view = desk.view("dress-face")
    view.drag_began.emit("item:thing")
    view.drag_moved.emit(-20.0, 10.0)
    view.drag_ended.emit()
    plan = desk.settle()
    place = plan.job.dress.items[0].place
    assert (place.across, place.down) == ("left", "top")
    assert plan.dress.item("thing").placed.source[0] == pytest.approx(63.5 - 10 - 20, abs=0.5)  # type: ignore[union-attr]
    view.drag_began.emit("item:thing")
    view.drag_moved.emit(19.6, -9.8)
    view.drag_ended.emit()
    assert desk.settle().job.dress.items[0].place.across == "middle"
    assert not station.document.is_dragging


def test_faces_are_picked_in_the_folded_card_and_from_the_list(desk: Desk) -> None:
    station = opened(desk, load_demo_job("kites"))
    assert station.spot is not None
    desk.view("dress-folded").element_picked.emit("base/front")
    assert station.spot.id in ("front", "inside left")
    first = station.spot.id
    desk.view("dress-folded").element_picked.emit("base/front")
    assert {first, station.spot.id} == {"front", "inside left"}  # clicked again it is turned over
    choose(desk, "dress-faces", "back")
    assert station.spot.id == "back"
    assert "upright" in desk.find("landing", QLabel).text()  # type: ignore[attr-defined]
    choose(desk, "dress-faces", "liner/inside right")
    assert "mirrored" in desk.find("landing", QLabel).text()  # type: ignore[attr-defined]
    names = desk.find("face-items", QListWidget)
    assert names.count() == 3  # type: ignore[attr-defined]
    names.setCurrentRow(1)  # type: ignore[attr-defined]
    assert station.dressed is not None
    assert station.dressed.item.id == "when"


def test_what_is_kept_to_a_side_is_chosen_and_typed(desk: Desk) -> None:
    opened(desk, dressed(item(paper="liner-paper")))
    choose(desk, "choice-dress.items.thing.place.across", "fold")
    type_line(desk, "line-dress.items.thing.place.x", "9 mm")
    choose(desk, "choice-dress.items.thing.place.down", "bottom")
    choose(desk, "choice-dress.items.thing.place.within", "safe")
    plan = desk.settle()
    assert plan.dress.item("thing").placed.source[0] == pytest.approx(14)  # type: ignore[union-attr]
    assert plan.dress.item("thing").placed.source[3] == pytest.approx(177.8 - 5)  # type: ignore[union-attr]
    type_line(desk, "line-dress.items.thing.place.turn_deg", "45")
    box = desk.settle().dress.item("thing").placed.source  # type: ignore[union-attr]
    assert box[2] - box[0] == pytest.approx(20 * 2**0.5)
    type_line(desk, "line-dress.items.thing.fit_in", "3 mm")
    assert desk.settle().dress.item("thing").placed.source[2] > 80  # type: ignore[union-attr]


def test_words_are_typed_and_set_live(desk: Desk) -> None:
    station = opened(desk, dressed(job=quick_job("5x7in", liner="1/16")))
    desk.click("add-words")
    desk.settle()
    assert len(items(desk)) == 1
    desk.click("item-more")
    box = desk.find("words-box", QDialog)
    text = desk.find("words-text", QPlainTextEdit)
    text.selectAll()  # type: ignore[attr-defined]
    desk.qtbot.keyClicks(text, "Kite Day")
    desk.qtbot.waitUntil(lambda: desk.room.document.job.dress.items[0].words.text == "Kite Day", timeout=3000)  # type: ignore[union-attr]
    desk.settle()
    choose(desk, "words-face", "pacifico")
    choose(desk, "words-fit", "band")
    width = next(each for each in box.findChildren(FieldEdit) if each.path.endswith("words.width"))
    width.line.setFocus()
    width.line.setText("3 in")
    desk.qtbot.keyClick(width.line, Qt.Key.Key_Return)
    plan = desk.settle()
    dressed_item = plan.dress.items[0]
    left, _, right, _ = dressed_item.placed.source
    assert right - left <= 76.2 + 1e-3
    desk.find("words-joined", QCheckBox).click()  # type: ignore[attr-defined]
    desk.settle()
    assert "Loose dots" in desk.find("words-said", QLabel).text()  # type: ignore[attr-defined]
    desk.click("words-tight")
    assert desk.settle().job.dress.items[0].words.spacing.mm < 0  # type: ignore[union-attr]
    choose(desk, "words-fit", "shape")
    assert "nothing else" in desk.find("words-said", QLabel).text()  # type: ignore[attr-defined]
    box.close()
    assert station.dressed is not None


def test_ones_own_typeface_and_features(desk: Desk) -> None:
    station = opened(desk, dressed(item(made="pen", words=words("fit affix"))))
    bring(desk, station, FOLDER / "josefin.ttf")
    job = desk.room.document.job
    assert job.dress.fonts[0].name == "Josefin Sans Regular"
    assert job.dress.items[0].words.face == job.dress.fonts[0].id  # type: ignore[union-attr]
    desk.click("item-more")
    box = desk.find("feature-liga", QCheckBox)
    assert box.isChecked()  # type: ignore[attr-defined]
    box.click()  # type: ignore[attr-defined]
    assert desk.settle().job.dress.items[0].words.features == ("-liga",)  # type: ignore[union-attr]
    desk.find("words-box", QDialog).close()  # type: ignore[attr-defined]


def test_roles_are_changed_in_bulk_and_the_size_is_settled_by_a_known_feature(desk: Desk) -> None:
    station = opened(desk, quick_job("5x7in", liner="1/16"))
    bring(desk, station, ART / "kite.svg")
    desk.click("item-more")
    box = desk.find("roles-box", QDialog)
    table = desk.find("roles-table", QTableWidget)
    assert table.rowCount() == 5  # type: ignore[attr-defined]
    for row in (0, 1):
        for column in range(4):
            table.item(row, column).setSelected(True)  # type: ignore[attr-defined]
    choose(desk, "roles-bulk", "foil")
    roles = [group.role for group in desk.room.document.job.dress.art[0].groups]
    assert roles == ["foil", "foil", "cut", "cut", "pen"]
    desk.view("roles-view").element_picked.emit("feature:2:0")
    line = desk.find("true-width", QLineEdit)
    line.setText("nonsense")  # type: ignore[attr-defined]
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    assert desk.find("roles-complaint", QLabel).isVisible()
    line.setText("56 mm")  # type: ignore[attr-defined]
    desk.qtbot.keyClick(line, Qt.Key.Key_Return)
    plan = desk.settle()
    assert plan.job.dress.art[0].scale == pytest.approx(2.0, rel=1e-3)  # 28 mm in the file
    assert "feature" in plan.job.dress.art[0].settled
    desk.click("roles-tidy")
    assert "nodes" in desk.find("tidy-words", QLabel).text()  # type: ignore[attr-defined]
    choose(desk, "art-licence", "personal")
    assert desk.settle().job.dress.art[0].licence == "personal"
    box.close()


def column_menu(desk: Desk, *words: str) -> None:
    """Choose in the menu of columns, down its submenus."""
    menu = desk.find("copies-column", QPushButton).menu()  # type: ignore[attr-defined]
    menu.aboutToShow.emit()
    for word in words[:-1]:
        menu = next(action for action in menu.actions() if action.text() == word).menu()
    next(action for action in menu.actions() if action.text() == words[-1]).trigger()


def test_a_copy_carries_another_numeral_in_the_place_of_the_first(desk: Desk) -> None:
    """Three cards with a one, one with a two and one with none: counted, cut, and each to be looked at."""
    one, two = (
        square(20, id="one", name="one.svg"),
        art(box_path(10, 30), id="two", name="two.svg", width=10, height=30),
    )
    numeral = item("numeral", art="one", width="40 mm", paper="liner-paper", name="numeral")
    border = item("border", of="numeral", steps=(step("border", by="2 mm"),), paper="card")
    opened(desk, dressed(border, numeral, job=quick_job("5x7in", count=5), arts=(one, two)))
    desk.click("copies")
    box = desk.find("copies-box", QDialog)
    column_menu(desk, "What stands for", "numeral (on front)")
    table = desk.find("copies-table", QTableWidget)
    for row, (count, stands) in enumerate((("3", ""), ("1", "two"), ("1", "-"))):
        table.item(row, 0).setText(count)  # type: ignore[attr-defined]
        desk.settle()
        choose(desk, f"copies-entry-{row}-1", stands)
    plan = desk.settle()
    assert [(copy.count, dict(copy.stands)) for copy in plan.dress.copies] == [
        (3, {}),
        (1, {"numeral": "two"}),
        (1, {"numeral": "-"}),
    ]
    sizes = {piece.id: (piece.count, piece.width.value, piece.height.value) for piece in plan.dress.pieces[1:]}
    assert sizes == {
        "border": (3, pytest.approx(44), pytest.approx(44)),
        "numeral": (3, pytest.approx(40), pytest.approx(40)),
        "border-2": (1, pytest.approx(44), pytest.approx(124)),
        "numeral-2": (1, pytest.approx(40), pytest.approx(120)),
    }
    assert plan.whole.piece_count.value == 5 + 3 + 3 + 1 + 1
    choose(desk, "dress-copy", 1)
    station = desk.room.stations["dress"]
    assert isinstance(station, DressStation)
    station.pick("numeral")
    assert station.dressed is not None
    assert station.dressed.height.value == pytest.approx(120)
    choose(desk, "dress-copy", 2)
    station.pick("numeral")
    table.item(0, 0).setText("4")  # type: ignore[attr-defined]
    assert "dress.copies-count" in codes(desk.settle())
    table.item(0, 0).setText("many")  # type: ignore[attr-defined]
    assert "is no number of copies" in desk.words("copies-said")
    box.close()


def test_copies_come_from_typing_and_from_a_table(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    place = item(made="pen", words=words("Dear {name}", face="line-plain", size="6 mm"))
    opened(desk, dressed(place, job=quick_job("3x4in", fold="flat", count=4)))
    assert "dress.blank-unknown" in codes(desk.settle())
    desk.click("copies")
    box = desk.find("copies-box", QDialog)
    monkeypatch.setattr(QInputDialog, "getText", lambda *_: ("name", True))
    column_menu(desk, "Words…")
    table = desk.find("copies-table", QTableWidget)
    table.item(0, 1).setText("Ada")  # type: ignore[attr-defined]
    table.item(1, 1).setText("Bo")  # type: ignore[attr-defined]
    plan = desk.settle()
    assert plan.job.dress.copies.rows == (Row(("Ada",)), Row(("Bo",)))
    assert [piece.count for piece in plan.dress.pieces] == [2, 2]
    path = tmp_path / "guests.csv"
    path.write_text("name;seat\nJürgen;1\nZoë;2\nAda;3\n", encoding="cp1252")
    box.read_file(path)  # type: ignore[attr-defined]
    assert "3 rows for 4 copies" in desk.find("copies-said", QLabel).text()  # type: ignore[attr-defined]
    desk.click("copies-count")
    plan = desk.settle()
    assert plan.job.brief.count == 3
    assert {piece.name.split(", ")[1] for piece in plan.dress.pieces} == {"Jürgen", "Zoë", "Ada"}
    path.write_bytes(b"name\n")
    box.read_file(path)  # type: ignore[attr-defined]
    assert "no rows" in desk.find("copies-said", QLabel).text()  # type: ignore[attr-defined]
    desk.click("copies-clear")
    assert desk.settle().job.dress.copies.rows == ()
    box.close()


def test_dropping_and_pasting_bring_art_in_and_nonsense_is_refused(desk: Desk, tmp_path: Path) -> None:
    station = opened(desk, quick_job("5x7in"))
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(ART / "gulls.svg"))])
    drop = QDropEvent(
        QPointF(50, 50), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    enter = QDragEnterEvent(
        QPoint(50, 50), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    )
    QApplication.sendEvent(desk.window, enter)
    assert enter.isAccepted()
    QApplication.sendEvent(desk.window, drop)
    desk.qtbot.waitUntil(lambda: not station.bringing.importer.is_busy, timeout=10_000)
    answer_art(desk)
    desk.settle()
    assert items(desk) == ["gulls"]
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setText(
        '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><rect width="9" height="9"/></svg>'
    )
    station.bringing.paste()
    desk.qtbot.waitUntil(lambda: not station.bringing.importer.is_busy, timeout=10_000)
    desk.settle()
    assert len(items(desk)) == 2
    said: list[str] = []
    station.refused.connect(said.append)
    clipboard.setText("just words")
    station.bringing.paste()
    broken = tmp_path / "broken.svg"
    broken.write_text("<svg")
    bring(desk, station, broken)
    bring(desk, station, tmp_path / "gone.png")
    assert len(said) == 3
    assert "broken.svg" in said[1]
    assert "gone.png" in said[2]
    assert len(items(desk)) == 2  # the job is as it was


def test_reading_can_be_stopped(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    import threading

    from dechirer.formats.art import read

    station = opened(desk, quick_job("5x7in"))
    going = threading.Event()
    monkeypatch.setattr(read, "read_bytes", lambda _path: going.wait(20) and b"")
    said: list[str] = []
    station.refused.connect(said.append)
    station.bring_in(ART / "kite.svg")
    desk.qtbot.waitUntil(lambda: desk.window.findChild(QDialog, "import-wait") is not None, timeout=5000)
    station.bringing.importer.stop()
    assert not station.bringing.importer.is_busy
    going.set()
    thread = station.bringing.importer._thread
    assert thread is not None
    thread.join(5)
    QApplication.processEvents()
    assert items(desk) == []
    assert said == []


def test_a_finding_leads_to_its_item_and_its_mend_puts_it_right(desk: Desk) -> None:
    ring = item("late", face="back", made="window", across="right", x="-4 mm")
    station = opened(desk, dressed(item(paper="liner-paper"), ring))
    plan = desk.settle()
    finding = next(each for each in plan.findings if each.element == "late")
    desk.room.show_finding(finding)
    assert station.spot is not None
    assert station.spot.id == "back"
    assert station.dressed is not None
    assert station.dressed.item.id == "late"
    desk.room.findings.mended.emit(finding.mends[0], finding)
    assert not [each for each in desk.settle().findings if each.code == finding.code]


def test_art_in_the_job_is_placed_again_and_dropped_when_unused(desk: Desk) -> None:
    station = opened(desk, quick_job("5x7in", liner="1/16"))
    bring(desk, station, ART / "gulls.svg")
    choose(desk, "dress-faces", "back")
    station.bar._again_menu.aboutToShow.emit()
    actions = {action.text(): action for action in station.bar._again_menu.actions()}
    assert not actions["Drop what nothing uses"].isEnabled()
    actions["gulls.svg"].trigger()
    desk.settle()
    assert items(desk) == ["gulls", "gulls-2"]
    assert len(desk.room.document.job.dress.art) == 1
    for _ in range(2):
        station.pick(items(desk)[-1])
        desk.click("item-off")
        desk.settle()
    station.bar._again_menu.aboutToShow.emit()
    {action.text(): action for action in station.bar._again_menu.actions()}["Drop what nothing uses"].trigger()
    assert desk.settle().job.dress.art == ()


def test_items_and_their_pieces_are_found(desk: Desk) -> None:
    station = opened(desk, load_demo_job("kites"))
    desk.station("brief")
    for typed, item_id in (("on back: made by", "made-by"), ("piece: e kite sail", "sail")):
        desk.room.find()
        line = desk.find("find-line", QLineEdit)
        line.setText(typed)  # type: ignore[attr-defined]
        desk.qtbot.keyClick(line, Qt.Key.Key_Return)
        desk.settle()
        assert desk.room.station == "dress"
        assert station.dressed is not None
        assert station.dressed.item.id == item_id


def test_items_are_reordered_taken_apart_and_taken_off(desk: Desk) -> None:
    station = opened(desk, quick_job("5x7in", liner="1/16"))
    bring(desk, station, ART / "gulls.svg")
    bring(desk, station, ART / "dunes.svg")
    assert items(desk) == ["gulls", "dunes"]
    desk.click("item-back")
    desk.settle()
    assert items(desk) == ["dunes", "gulls"]
    station.pick("gulls")
    part_menu(station, "apart")
    desk.settle()
    assert items(desk) == ["dunes", "gulls-1", "gulls-2", "gulls-3"]
    lies = {each.item.id: each.placed.source for each in desk.settle().dress.items}
    desk.room.document.edit("moved", [Change("dress.items.gulls-3.place", Place())])
    desk.settle()
    station.pick("gulls-1")
    part_menu(station, "gather")
    for each in desk.settle().dress.items:
        assert each.placed.source == pytest.approx(lies[each.item.id], abs=0.01)
    station.pick("gulls-2")
    desk.click("item-off")
    desk.settle()
    assert items(desk) == ["dunes", "gulls-1", "gulls-3"]
    station.pick("dunes")
    apart, gathered = part_menu(station)
    assert (apart.text(), apart.isEnabled()) == ("Take apart: it is one outline", False)
    assert (gathered.text(), gathered.isEnabled()) == ("Gather: nothing else of its file", False)


@pytest.mark.parametrize("name", ["kites", "dunes", "gate", "topper", "helpers", "places"])
def test_every_face_is_drawn_with_and_without_something_on_it(desk: Desk, name: str) -> None:
    station = opened(desk, load_demo_job(name))
    for spot in list(desk.settle().dress.spots):
        station.show_face(spot.id)
        display = desk.view("dress-face").display
        assert display is not None
        assert display.items
        assert desk.view("dress-flat").display is not None
    station.slider.setValue(20)
    assert desk.view("dress-folded").display is not None


def test_a_face_that_is_gone_is_said_and_another_is_shown(desk: Desk) -> None:
    station = opened(desk, dressed(item(face="inside right", made="print")))
    desk.room.document.edit("flat", [Change("brief.construction", "flat")])
    plan = desk.settle()
    assert "dress.nothing" in codes(plan)
    assert station.spot is not None


def test_a_table_whose_letters_read_wrong_is_read_again_as_the_maker_says(desk: Desk, tmp_path: Path) -> None:
    """Cyrillic of a spreadsheet: too short for a guess, and one choice puts it right."""
    path = tmp_path / "names.csv"
    path.write_bytes("Имя\nОльга\n".encode("cp1251"))
    desk.station("dress")
    desk.click("copies")
    box = desk.find("copies-box", QDialog)
    assert not box.encoding.isVisible()  # type: ignore[attr-defined]
    box.read_file(path)  # type: ignore[attr-defined]
    choice = desk.find("copies-encoding", QComboBox)
    assert choice.isVisible()
    choice.setCurrentIndex(choice.findData("cp1251"))  # type: ignore[attr-defined]
    choice.activated.emit(choice.currentIndex())  # type: ignore[attr-defined]
    assert desk.room.document.job.dress.copies.rows == (Row(("Ольга",)),)
    assert desk.words("copies-said").startswith("1 row for 12 copies")
    box.close()


def test_a_shape_needs_no_file(desk: Desk) -> None:
    desk.station("dress")
    menu = desk.find("add-shape", QToolButton).menu()  # type: ignore[attr-defined]
    action = next(each for each in menu.actions() if each.text() == "heart")
    action.trigger()
    plan = desk.settle()
    assert [item.name for item in plan.job.dress.items] == ["heart"]
    assert plan.dress.items[0].width.value == pytest.approx(2 * 25.4)  # two fifths of 5 in
    assert plan.stops == 0
    desk.window.actions_by_id["undo"].trigger()
    assert desk.settle().job.dress.items == ()


def test_stitches_along_the_face_and_things_at_hand_come_from_their_menus(desk: Desk) -> None:
    opened(desk, quick_job("5x7in"))
    menu = desk.find("add-shape", QToolButton).menu()  # type: ignore[attr-defined]
    next(action for action in menu.actions() if action.text() == "stitches along this face's edge").trigger()
    plan = desk.settle()
    assert items(desk) == ["edge"]
    assert plan.dress.item("edge").placed.drawn.lines  # type: ignore[union-attr]
    menu = desk.find("add-thing", QToolButton).menu()  # type: ignore[attr-defined]
    next(action for action in menu.actions() if action.text() == "gem").trigger()
    plan = desk.settle()
    assert [(thing.name, thing.count) for thing in plan.dress.at_hand] == [("gem", 1)]
    before = plan.construct.closed.thickness.value
    type_line(desk, "line-dress.items.gem.thick", "5 mm")
    assert desk.settle().construct.closed.thickness.value == pytest.approx(before + 3)


def test_colours_of_the_job_are_taken_again_and_kept(desk: Desk) -> None:
    """The ink of one item for another; a colour kept with the job is still there when nothing uses it."""
    one = item("one", made="pen", colour="#123456")
    two = item("two", made="pen", colour="#654321")
    opened(desk, dressed(one, two, job=quick_job("5x7in")))
    station = desk.room.stations["dress"]
    assert isinstance(station, DressStation)
    station.pick("two")
    menu = station.panel.form.colours
    menu.aboutToShow.emit()
    next(action for action in menu.actions() if action.text() == "Keep this colour with the job").trigger()
    desk.settle()
    menu.aboutToShow.emit()
    wanted = name_colour("#123456")
    next(action for action in menu.actions() if action.text() == wanted).trigger()
    job = desk.settle().job
    assert job.dress.item("two").colour == "#123456"  # type: ignore[union-attr]
    assert job.dress.palette == ("#654321",)
    assert "#654321" in palette_of(job)


def test_an_empty_face_says_what_can_be_put_on_it_and_offers_it(desk: Desk) -> None:
    desk.station("dress")
    assert desk.find("empty-face").isVisible()
    assert not desk.find("face-items").isVisible()
    titles = [label.text() for label in desk.find("empty-face").findChildren(QLabel)]
    assert "Nothing on the front yet" in titles
    shapes = desk.find("empty-shape", QToolButton).menu()  # type: ignore[attr-defined]
    next(action for action in shapes.actions() if action.text() == "heart").trigger()
    assert len(desk.settle().dress.items) == 1
    assert not desk.find("empty-face").isVisible()
    assert desk.find("face-items").isVisible()
    desk.click("item-off")
    desk.settle()
    assert desk.find("empty-face").isVisible()
