"""The widgets by themselves: what they show, what they say, and how they answer keys and pointer."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt, QUrl
from PyQt6.QtGui import QColor, QImage, QPainter, QPalette
from PyQt6.QtWidgets import QAbstractButton, QApplication, QComboBox, QLineEdit, QPushButton, QSlider
from pytestqt.qtbot import QtBot

from dechirer.core.finding import Finding, Mend
from dechirer.core.plan import Plan, Planner
from dechirer.core.stations import Cost
from dechirer.demo import load_demo_job
from dechirer.desk.marks import paint_verdict
from dechirer.desk.painter import paint_display
from dechirer.desk.panels.field_edit import FieldEdit
from dechirer.desk.theme import theme
from dechirer.desk.theme.tokens import DARK, LIGHT, THEMES
from dechirer.desk.widgets.banner import Banners
from dechirer.desk.widgets.consequences import Consequences
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.findings import MOST_SHOWN, Findings, count_words
from dechirer.desk.widgets.plain_table import PlainTable
from dechirer.desk.widgets.strip import Strip
from dechirer.desk.widgets.working import Working
from dechirer.drawing.display import Arrow, Display, Label, Shape
from dechirer.drawing.forms import FORMS
from dechirer.drawing.scenes import card
from dechirer.drawing.scenes.card import make_card_scene
from dechirer.drawing.scenes.mat import make_mat_scene
from dechirer.drawing.viewport import Viewport
from tests.desk.conftest import Desk


@pytest.fixture(autouse=True)
def themed(qtbot: QtBot) -> None:
    app = QApplication.instance()
    assert isinstance(app, QApplication)
    theme.load_fonts()
    theme.apply_theme(app, "light")


def paint(display: Display, scale: float = 1.0, size: int = 120, shift: tuple[float, float] = (0.0, 0.0)) -> QImage:
    image = QImage(size, size, QImage.Format.Format_RGB32)
    image.fill(theme.colour("surface"))
    painter = QPainter(image)
    paint_display(painter, display, Viewport(scale, *shift))
    painter.end()
    return image


def picture_of(*items: Shape | Label | Arrow) -> QImage:
    from dechirer.core.shape.outline import Box

    return paint(Display(tuple(items), Box(0, 0, 120, 120)))


def dark_runs(image: QImage, y: int) -> int:
    """How many separate dark stretches a row of pixels has."""
    dark = [image.pixelColor(x, y).lightness() < 160 for x in range(image.width())]
    return sum(now and not before for before, now in zip([False, *dark], dark, strict=False))


def test_lines_are_told_apart_by_their_form() -> None:
    row = (((5.0, 60.5), (115.0, 60.5)),)
    runs = {
        form: dark_runs(picture_of(Shape(row, closed=False, form=form, role="ink")), 60)
        for form in ("cut", "valley", "mountain", "guide")
    }
    assert runs["cut"] == 1
    assert 8 <= runs["valley"] <= 12
    assert runs["mountain"] > runs["valley"]  # a dot between the dashes
    assert runs["guide"] > runs["mountain"]


def test_perforations_have_short_ticks_across() -> None:
    dashes = tuple(((x, 60.0), (x + 10.0, 60.0)) for x in (10.0, 40.0, 70.0))
    image = picture_of(Shape(dashes, closed=False, form="perforate", role="ink"))
    assert dark_runs(image, 60) == 3
    assert dark_runs(image, 58) == 3  # the ticks stand above the line
    assert FORMS["perforate"].tick > 0


def test_papers_keep_their_colour_in_both_themes() -> None:
    square = (((10.0, 10.0), (90.0, 10.0), (90.0, 90.0), (10.0, 90.0)),)
    shape = Shape(square, fill="#CFE0E2", on="#CFE0E2", form="cut")
    seen = {}
    for name in THEMES:
        theme.apply_theme(QApplication.instance(), name)  # type: ignore[arg-type]
        seen[name] = picture_of(shape).pixelColor(50, 50).name()
    assert set(seen.values()) == {"#cfe0e2"}
    assert theme.colour("ink", "#FBFBF6") == QColor(LIGHT["ink"])
    assert theme.colour("ink", "#202030") == QColor(DARK["ink"])
    theme.apply_theme(QApplication.instance(), "light")  # type: ignore[arg-type]


def test_a_hole_in_a_shape_shows_what_is_behind() -> None:
    outer = ((10.0, 10.0), (90.0, 10.0), (90.0, 90.0), (10.0, 90.0))
    inner = ((40.0, 40.0), (60.0, 40.0), (60.0, 60.0), (40.0, 60.0))
    behind = Shape((outer,), fill="#ff8800")
    image = picture_of(behind, Shape((outer, inner), fill="#CFE0E2"))
    assert image.pixelColor(50, 50).name() == "#ff8800"
    assert image.pixelColor(20, 20).name() == "#cfe0e2"


def test_verdicts_differ_in_form() -> None:
    masks = set()
    for verdict in ("clear", "look", "stop", "note"):
        image = QImage(20, 20, QImage.Format.Format_RGB32)
        image.fill(theme.colour("surface"))
        painter = QPainter(image)
        paint_verdict(painter, verdict, 10, 10, "ink")
        painter.end()
        masks.add(tuple(image.pixelColor(x, y).lightness() < 128 for x in range(20) for y in range(20)))
    assert len(masks) == 4


@pytest.mark.parametrize("name", list(THEMES))
def test_the_palette_has_every_role(name: str) -> None:
    theme.apply_theme(QApplication.instance(), name)  # type: ignore[arg-type]
    palette = theme.make_palette()
    tokens = THEMES[name]
    assert palette.color(QPalette.ColorRole.Window) == QColor(tokens["ground"])
    assert palette.color(QPalette.ColorRole.Text) == QColor(tokens["ink"])
    assert palette.color(QPalette.ColorGroup.Disabled, QPalette.ColorRole.Text) == QColor(tokens["soft"])
    assert "{" not in theme._style_sheet().replace("{ ", "").replace(" {", "").split("QToolTip")[0]
    theme.apply_theme(QApplication.instance(), "light")  # type: ignore[arg-type]


def test_the_shipped_typeface_is_used() -> None:
    from PyQt6.QtGui import QFontInfo

    assert QFontInfo(theme.font("body")).family() == "Figtree"


# --- fields ------------------------------------------------------------------------------------------------------


def test_a_field_asks_once_and_keeps_a_refused_text(qtbot: QtBot) -> None:
    field = FieldEdit("lay.margin", "Margin")
    qtbot.addWidget(field)
    field.show()
    asked: list[tuple[str, str]] = []
    field.typed.connect(lambda path, text: asked.append((path, text)))
    field.show_text("1/8 in")
    field.line.setFocus()
    field.line.selectAll()
    qtbot.keyClicks(field.line, "wide")
    qtbot.keyClick(field.line, Qt.Key.Key_Return)
    field.refuse("no")
    field.line.editingFinished.emit()  # the loss of focus that follows is the same question
    assert asked == [("lay.margin", "wide")]
    field.show_text("1/4 in")  # a newer plan does not wipe what is being mended
    assert field.line.text() == "wide"
    qtbot.keyClick(field.line, Qt.Key.Key_Escape)
    assert field.line.text() == "1/4 in"
    assert not field.complaint.isVisible()
    field.line.editingFinished.emit()
    assert len(asked) == 1


# --- the drawing view --------------------------------------------------------------------------------------------


def open_view(qtbot: QtBot, display: Display) -> DrawingView:
    view = DrawingView("test-view")
    qtbot.addWidget(view)
    view.resize(600, 700)
    view.show()
    view.set_display(display)
    return view


def test_arrow_keys_walk_through_the_numbers(qtbot: QtBot, demo_plan: Plan) -> None:
    view = open_view(qtbot, make_card_scene(demo_plan))
    picked: list[str] = []
    view.figure_picked.connect(picked.append)
    view.figure_picked.connect(view.set_picked)
    for key in (Qt.Key.Key_Right, Qt.Key.Key_Down, Qt.Key.Key_Right, Qt.Key.Key_Right, Qt.Key.Key_Left):
        qtbot.keyClick(view, key)
    assert view.figures() == ["brief.width", "brief.height", "brief.count"]
    assert picked == ["brief.width", "brief.height", "brief.count", "brief.width", "brief.count"]
    assert "5 in wide" in view.accessibleName()


def test_a_number_without_a_field_is_picked_and_not_edited(qtbot: QtBot, demo_plan: Plan) -> None:
    view = open_view(qtbot, make_card_scene(demo_plan))
    assert view.edit("brief.width")
    assert not view.edit("base.width")
    assert view.place_of("nothing") is None


def test_an_editor_follows_the_drawing_when_it_is_resized(qtbot: QtBot, demo_plan: Plan) -> None:
    view = open_view(qtbot, make_card_scene(demo_plan))
    view.edit("brief.height")
    editor = view.findChild(QLineEdit, "test-view-editor")
    assert editor is not None
    before = editor.pos()
    view.resize(900, 420)
    qtbot.waitUntil(lambda: editor.pos() != before)
    centre = view.place_of("brief.height")
    assert centre is not None
    assert editor.geometry().contains(QPoint(round(centre[0]), round(centre[1])))


def test_pointing_and_dragging_are_told_in_millimetres(qtbot: QtBot, demo_plan: Plan) -> None:
    view = open_view(qtbot, make_mat_scene(demo_plan, demo_plan.lay.layouts[0]))
    told: list[object] = []
    view.element_hovered.connect(lambda element: told.append(("over", element)))
    view.drag_began.connect(lambda element: told.append(("drag", element)))
    moves: list[tuple[float, float]] = []
    view.drag_moved.connect(lambda dx, dy: moves.append((dx, dy)))
    view.drag_ended.connect(lambda: told.append("end"))
    x, y = view.viewport_now.to_px((60.0, 60.0))
    start = QPoint(round(x), round(y))
    qtbot.mouseMove(view, start)
    assert ("over", "base-1") in told
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(view, start + QPoint(40, 20))
    assert not moves  # not draggable unless it is said
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=start)
    view.draggable = True
    qtbot.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    qtbot.mouseMove(view, start + QPoint(2, 1))
    assert not moves  # a tremble is no drag
    qtbot.mouseMove(view, start + QPoint(40, 20))
    qtbot.mouseRelease(view, Qt.MouseButton.LeftButton, pos=start + QPoint(40, 20))
    scale = view.viewport_now.scale
    assert moves[-1] == pytest.approx((40 / scale, 20 / scale))
    assert told[-2:] == [("drag", "base-1"), "end"]


# --- lists and lines ---------------------------------------------------------------------------------------------


def test_consequences_show_a_change_and_forget_it(qtbot: QtBot) -> None:
    line = Consequences()
    qtbot.addWidget(line)
    line.resize(1200, 46)
    line.show()
    values = [Cost("lay.mats", "3", "mats", 1), Cost("stops", "0", "stops", 2)]
    line.show_values(values, "", fresh=True)
    line.show_values([Cost("lay.mats", "4", "mats", 1), values[1]], "width 5 › 6", fresh=False)
    assert [button.change for button in line._buttons] == ["3 › 4", ""]
    assert "3 › 4" in line._buttons[0].accessibleName()
    assert not line.grab().isNull()
    line._forget_changes()
    assert [button.change for button in line._buttons] == ["", ""]
    line.show_values(values, "", fresh=True)  # another job: nothing has changed
    assert line._buttons[0].change == ""
    with qtbot.waitSignal(line.picked) as caught:
        qtbot.mouseClick(line._buttons[0], Qt.MouseButton.LeftButton)
    assert caught.args == ["lay.mats", "lay"]


def test_banners_replace_each_other_by_key_and_go_by_themselves(qtbot: QtBot) -> None:
    banners = Banners()
    qtbot.addWidget(banners)
    banners.show()
    banners.say("save", "stop", "first")
    banners.say("save", "stop", "second", seconds=1)
    assert banners.text("save") == "second"
    banners.set_text("save", "third")
    assert banners.text("save") == "third"
    assert not banners.grab().isNull()
    qtbot.waitUntil(lambda: banners.text("save") == "", timeout=3000)
    assert not banners.isVisible()
    banners.drop("never there")


def many_findings(number: int) -> tuple[Finding, ...]:
    return tuple(
        Finding(f"test.{n}", "look", "construct", f"Finding {n}", "Because.", mends=(Mend("Mend it", ()),))
        for n in range(number)
    )


def test_a_long_list_of_findings_is_cut_and_says_so(qtbot: QtBot) -> None:
    findings = Findings()
    qtbot.addWidget(findings)
    findings.show_findings(many_findings(MOST_SHOWN + 7))
    page = findings.findChild(object, "findings-page")
    assert len(page.findChildren(QPushButton)) == MOST_SHOWN  # type: ignore[attr-defined]
    findings.show_findings(many_findings(MOST_SHOWN + 7))
    assert findings.findChild(object, "findings-page") is page  # the same list is not built again
    assert count_words(many_findings(2)) == "2 looks"
    assert count_words(()) == "all clear"


def test_the_working_leads_on_to_what_a_number_comes_from(qtbot: QtBot, demo_plan: Plan) -> None:
    working = Working()
    qtbot.addWidget(working)
    assert "Click any number" in working.text()
    working.show_figure(demo_plan.figures["liner.width"], "in")
    assert "250.8 mm" in working.text()  # the other unit beside it
    with qtbot.waitSignal(working.figure_picked) as caught:
        working._page.anchorClicked.emit(QUrl("figure:base.width"))
    assert caught.args == ["base.width"]
    working.show_figure(demo_plan.figures["lay.mats"], "mm")
    assert "mat 1" in working.text()


def test_the_strip_has_a_panel_per_station_and_says_its_verdict(qtbot: QtBot) -> None:
    strip = Strip()
    qtbot.addWidget(strip)
    strip.resize(1000, 60)
    strip.show()
    for button in strip.buttons.values():
        button.show_state("24 mats", "look")
        assert button.accessibleName() == f"{button.text()}, 24 mats, look"
    with qtbot.waitSignal(strip.chosen) as caught:
        qtbot.keyClick(strip.buttons["lay"], Qt.Key.Key_Space)
    assert caught.args == ["lay"]
    assert not strip.grab().isNull()


def test_everything_that_can_be_used_has_a_name(desk: Desk) -> None:
    """For readers of the screen: buttons, boxes, sliders and lines have words, and focus reaches them."""
    desk.click("paper-more")
    for station in desk.room.ids:
        desk.station(station)
    kinds = (QAbstractButton, QComboBox, QSlider, QLineEdit, DrawingView)
    for widget in (each for kind in kinds for each in desk.window.findChildren(kind)):
        if not widget.isVisible() or widget.objectName().startswith("qt_"):
            continue
        words = widget.accessibleName() or (widget.text() if isinstance(widget, QAbstractButton) else "")
        assert words, f"{type(widget).__name__} {widget.objectName()}"


def test_tab_leads_through_the_window_and_back(desk: Desk) -> None:
    desk.window.activateWindow()
    first = desk.find("station-brief")
    first.setFocus()
    seen: list[str] = []
    for _ in range(200):
        here = QApplication.focusWidget()
        assert here is not None
        if seen and here is first:
            break
        seen.append(here.objectName())
        qtbot_key(desk, here)
    # Of a group of choices Tab takes the chosen one; the arrow keys walk within the group.
    assert {"brief-card", "kind-side-fold", "paper-sea-grey", "machine", "job-menu", "button-export"} <= set(seen)
    assert seen.index("brief-card") < seen.index("kind-side-fold") < seen.index("machine")


def qtbot_key(desk: Desk, widget: object) -> None:
    desk.qtbot.keyClick(widget, Qt.Key.Key_Tab)


def test_banners_end_with_their_time_or_with_the_window(desk: Desk) -> None:
    banners = desk.window.banners
    banners.say("a", "note", "first", seconds=60)
    first = banners._shown["a"]
    banners.say("a", "note", "second", seconds=60)
    assert not first.time.isActive()  # the first one's time must not take the second away
    banners._shown["a"].leave()
    assert banners.text("a") == ""
    banners.say("b", "look", "third", seconds=60)
    third = banners._shown["b"]
    desk.room.window.banners.clear()
    assert not third.time.isActive()
    assert not banners.isVisible()


def test_a_long_table_that_is_seen_fits_its_columns_once_and_not_at_every_cell(qtbot: QtBot) -> None:
    """Found by random work: six hundred rows of stock held the window for the better part of a minute."""

    class Counting(PlainTable):
        asked = 0

        def sizeHintForColumn(self, column: int) -> int:
            Counting.asked += 1
            return super().sizeHintForColumn(column)

    table = Counting("long", "A long table", ("What", "There", "Costs"), 0)
    qtbot.addWidget(table)
    table.resize(400, 300)
    table.show()
    QApplication.processEvents()
    Counting.asked = 0
    heard: list[object] = []
    table.itemChanged.connect(heard.append)
    with table.filling(600):
        for row in range(600):
            for column in range(3):
                table.put(row, column, f"{row} {column}", edited=True)
    QApplication.processEvents()
    assert Counting.asked < 30
    assert heard == []
    assert table.columnWidth(1) < 120 < table.columnWidth(0)  # the others are as wide as their words
    cell = table.item(5, 1)
    assert cell is not None
    cell.setText("typed")
    assert heard == [cell]


@pytest.mark.parametrize("name", ["kites", "stack", "winners"])
def test_what_is_left_out_of_a_stack_of_cards_was_not_seen(name: str, monkeypatch: pytest.MonkeyPatch) -> None:
    plan = Planner().plan(load_demo_job(name))
    kept = make_card_scene(plan)
    ways = iter((card._visible, lambda items: items))  # of one card what is seen, of the stack everything
    monkeypatch.setattr(card, "_visible", lambda items: next(ways)(items))
    whole = make_card_scene(plan)
    assert len(kept.items) < 0.6 * len(whole.items)
    shift = (20 - 2 * kept.box.left, 20 - 2 * kept.box.top)
    one, other = paint(kept, 2.0, 600, shift), paint(whole, 2.0, 600, shift)
    places = [(x, y) for x in range(0, 600) for y in range(0, 600, 3)]
    apart = [abs(one.pixelColor(*place).lightness() - other.pixelColor(*place).lightness()) for place in places]
    assert max(apart) < 64  # the soft edge of a line that lay on itself
    assert sum(each > 0 for each in apart) < 0.01 * len(places)
