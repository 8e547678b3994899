"""Drawings under the hand: the wheel, keys, dragging, the ruler, true size; the folded card turned round."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent, QNativeGestureEvent, QPointingDevice, QWheelEvent
from PyQt6.QtWidgets import QApplication, QFileDialog, QPushButton, QSlider, QToolButton

from dechirer.core.job.model import Job
from dechirer.core.shape.outline import Box
from dechirer.demo import load_demo_job
from dechirer.desk.boxes.screen_box import ScreenBox
from dechirer.desk.screen import CARD_MM, screen
from dechirer.desk.widgets.drawing_view import DrawingView
from dechirer.desk.widgets.folded_view import FoldedView
from dechirer.desk.work.settings import Settings
from dechirer.drawing.viewport import describe_scale
from tests.core.test_dress_catalogue import CATALOGUE
from tests.desk.conftest import Desk


@pytest.fixture(autouse=True)
def unmeasured() -> None:
    screen.measured = 0.0


def wheel(view: DrawingView, at: tuple[float, float], notches: float, *, shift: bool = False) -> None:
    modifiers = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
    place = QPointF(*at)
    event = QWheelEvent(
        place,
        QPointF(view.mapToGlobal(place.toPoint())),
        QPoint(),
        QPoint(0, int(120 * notches)),
        Qt.MouseButton.NoButton,
        modifiers,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(view, event)


def drag(view: DrawingView, start: tuple[int, int], by: tuple[int, int], button: Qt.MouseButton) -> None:
    steps = [(QMouseEvent.Type.MouseButtonPress, start, button)]
    steps += [
        (QMouseEvent.Type.MouseMove, (start[0] + by[0] * part // 4, start[1] + by[1] * part // 4), button)
        for part in range(1, 5)
    ]
    steps.append((QMouseEvent.Type.MouseButtonRelease, (start[0] + by[0], start[1] + by[1]), Qt.MouseButton.NoButton))
    for kind, (x, y), held in steps:
        pressed = Qt.MouseButton.NoButton if kind == QMouseEvent.Type.MouseMove else button
        at = QPointF(x, y)
        QApplication.sendEvent(
            view, QMouseEvent(kind, at, QPointF(view.mapToGlobal(at.toPoint())), pressed, held, Qt.KeyboardModifier(0))
        )


def flat_of(desk: Desk) -> DrawingView:
    desk.room.show_station("construct")
    desk.settle()
    return desk.find("construct-flat")


def test_the_wheel_magnifies_at_the_pointer_and_keys_do_it_about_the_middle(desk: Desk) -> None:
    view = flat_of(desk)
    fitted = view.viewport_now
    place = fitted.to_mm((140.0, 120.0))
    wheel(view, (140.0, 120.0), 3)
    now = view.viewport_now
    assert now.scale == pytest.approx(fitted.scale * 1.25**3)
    assert now.to_px(place) == pytest.approx((140.0, 120.0), abs=1e-6)
    assert desk.find("construct-flat-scale").text() == describe_scale(now.scale, screen.px_per_mm)
    view.setFocus()
    desk.qtbot.keyClick(view, Qt.Key.Key_Minus)
    assert view.viewport_now.scale == pytest.approx(fitted.scale * 1.25**2)
    desk.qtbot.keyClick(view, Qt.Key.Key_Plus)
    desk.qtbot.keyClick(view, Qt.Key.Key_0)
    assert view.viewport_now == fitted
    wheel(view, (140.0, 120.0), -4)
    assert view.viewport_now == fitted  # never less than the whole
    desk.click("construct-flat-larger")
    assert view.viewport_now.scale > fitted.scale
    desk.click("construct-flat-smaller")
    assert view.viewport_now == fitted


@pytest.mark.parametrize("how", ["middle", "space", "left", "shift"])
def test_a_magnified_picture_is_moved(desk: Desk, how: str) -> None:
    view = flat_of(desk)
    wheel(view, (200.0, 150.0), 5)
    before = view.viewport_now
    picked: list[str] = []
    view.element_picked.connect(picked.append)
    if how == "space":
        view.setFocus()
        desk.qtbot.keyPress(view, Qt.Key.Key_Space)
    if how == "shift":
        wheel(view, (200.0, 150.0), 1, shift=True)
        assert view.viewport_now.left_px == pytest.approx(before.left_px + 60)
        return
    middle = how == "middle"
    drag(view, (200, 150), (40, -24), Qt.MouseButton.MiddleButton if middle else Qt.MouseButton.LeftButton)
    now = view.viewport_now
    assert (now.left_px - before.left_px, now.top_px - before.top_px) == pytest.approx((40.0, -24.0))
    assert not picked  # moving is not picking


def test_a_number_is_typed_where_it_stands_when_magnified(desk: Desk) -> None:
    desk.room.show_station("brief")
    view = desk.find("brief-card")
    x, y = view.place_of("brief.width")
    wheel(view, (x, y), 1)
    desk.type_number("brief-card", "brief.width", "4 1/4")
    assert desk.settle().figures["base.width"].text("in") == "8 1/2 in"


def test_a_double_click_fits_an_item_and_another_the_whole(open_desk: Callable[[Job], Desk]) -> None:
    desk = open_desk(load_demo_job("kites"))
    desk.room.show_station("dress")
    desk.settle()
    view = desk.find("dress-face")
    fitted = view.viewport_now
    shape = next(each for each in view.display.items if getattr(each, "element", "") == "item:sail")
    xs, ys = [x for x, _ in shape.paths[0]], [y for _, y in shape.paths[0]]
    at = view.viewport_now.to_px((sum(xs) / len(xs), sum(ys) / len(ys)))
    desk.qtbot.mouseDClick(view, Qt.MouseButton.LeftButton, pos=QPoint(int(at[0]), int(at[1])))
    assert view.viewport_now.scale > 1.5 * fitted.scale
    desk.qtbot.mouseDClick(view, Qt.MouseButton.LeftButton, pos=QPoint(4, 4))
    assert view.viewport_now.scale == pytest.approx(fitted.scale, rel=0.05)


def test_another_piece_is_shown_whole(desk: Desk) -> None:
    view = flat_of(desk)
    wheel(view, (200.0, 150.0), 4)
    desk.room.stations["construct"].show_piece("liner")
    assert view.motion.zoom.is_fitted


def test_the_ruler_measures_from_corner_to_corner(desk: Desk) -> None:
    view = flat_of(desk)
    piece = desk.settle().construct.pieces[0]
    left, top = min(piece.outline)
    right, bottom = max(piece.outline)
    view.setFocus()
    desk.qtbot.keyClick(view, Qt.Key.Key_M)
    assert desk.find("construct-flat-ruler").isChecked()
    place = view.viewport_now
    for x, y, beside in ((left, top, -3), (right, top, 3)):
        px = place.to_px((x, y))
        at = QPoint(round(px[0]) + beside, round(px[1]) - 2)
        desk.qtbot.mouseMove(view, at)
        desk.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=at)
    assert view.ruler.distance == pytest.approx(right - left, abs=1e-6)  # 10 in: the open 5 x 7 card
    assert view.ruler.words() == "10 in"
    view.grab()  # it is painted
    px = place.to_px((left, bottom))
    desk.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(px[0]), round(px[1])))
    assert view.ruler.distance == 0.0  # begun anew
    px = place.to_px((right, top))
    desk.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(px[0]), round(px[1])))
    assert "across 10 in, down 7 in" in view.ruler.words()
    desk.qtbot.keyClick(view, Qt.Key.Key_Escape)
    assert not view.ruler.is_on


def test_the_screen_is_measured_and_true_size_is_true(desk: Desk) -> None:
    desk.room.do("screen")
    box = desk.window.findChild(ScreenBox)
    assert box is not None
    box.picture.grab()
    box.findChild(QSlider, "screen-size").setValue(1000)
    assert box.picture.px_per_mm == pytest.approx(5.0)
    box.picture.reached.emit(4.0 * CARD_MM[0])  # the edge dragged to 4 px to the mm
    assert box.picture.px_per_mm == pytest.approx(4.0, abs=0.01)
    desk.qtbot.mouseClick(box.findChild(QPushButton, "screen-keep"), Qt.MouseButton.LeftButton)
    assert screen.px_per_mm == pytest.approx(4.0, abs=0.01)
    assert Settings().px_per_mm == pytest.approx(4.0, abs=0.01)  # and is remembered
    view = flat_of(desk)
    view.setFocus()
    desk.qtbot.keyClick(view, Qt.Key.Key_1)
    assert view.viewport_now.scale == pytest.approx(screen.px_per_mm)
    assert desk.find("construct-flat-scale").text() == "1 : 1"


def test_a_screen_is_measured_anew_or_left_to_what_it_says(desk: Desk) -> None:
    screen.measured = 6.5
    desk.room.do("screen")
    box = desk.window.findChild(ScreenBox)
    assert "measured before" in box.said.text()
    desk.qtbot.mouseClick(box.findChild(QPushButton, "screen-forget"), Qt.MouseButton.LeftButton)
    assert screen.measured == 0.0
    assert Settings().px_per_mm == 0.0


def test_the_folded_card_is_turned_by_dragging_and_looked_at_a_key_apart(desk: Desk) -> None:
    desk.room.show_station("construct")
    desk.settle()
    view: FoldedView = desk.find("construct-folded")
    slider = desk.find("opening", QSlider)
    first, scale = view.display, view.viewport_now.scale
    drag(view, (60, 60), (80, 30), Qt.MouseButton.LeftButton)
    assert view.display != first
    assert view.viewport_now.scale == pytest.approx(scale)  # it does not grow or shrink under the hand
    assert not desk.find("look-front", QToolButton).isChecked()
    view.setFocus()
    for key, id, closed in ((Qt.Key.Key_O, "open", 0), (Qt.Key.Key_I, "inside", 76), (Qt.Key.Key_B, "back", 128)):
        desk.qtbot.keyClick(view, key)
        assert desk.find(f"look-{id}", QToolButton).isChecked()
        assert slider.value() == closed
    words = [getattr(item, "text", "") for item in view.display.items]
    assert "back" in words
    desk.click("look-front")
    assert slider.value() == 128
    assert view.display == first


def test_a_click_on_the_small_folded_card_turns_to_that_face_and_a_drag_does_not(desk: Desk) -> None:
    desk.room.show_station("dress")
    desk.settle()
    view = desk.find("dress-folded")
    picked: list[str] = []
    view.element_picked.connect(picked.append)
    drag(view, (60, 60), (30, 0), Qt.MouseButton.LeftButton)
    assert not picked
    desk.qtbot.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(view.width() // 2, view.height() // 2))
    assert len(picked) == 1


def test_the_cards_picture_is_written_as_it_was_turned(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    desk.room.show_station("construct")
    desk.settle()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "mine"), ""))
    desk.room.do("picture")
    desk.qtbot.waitUntil(lambda: "picture is" in desk.window.banners.text("picture"), timeout=20_000)
    plain = (tmp_path / "mine.png").read_bytes()
    drag(desk.find("construct-folded"), (60, 60), (90, 20), Qt.MouseButton.LeftButton)
    desk.room.do("picture")
    desk.qtbot.waitUntil(lambda: (tmp_path / "mine.png").read_bytes() != plain, timeout=20_000)
    desk.qtbot.waitUntil(lambda: "picture is" in desk.window.banners.text("picture"), timeout=20_000)
    desk.room.picturing.write(tmp_path / "no" / "where.png")
    desk.qtbot.waitUntil(lambda: "was not written" in desk.window.banners.text("picture"), timeout=20_000)


def test_a_small_thing_a_finding_is_about_is_magnified_beside_the_pointer(open_desk: Callable[[Job], Desk]) -> None:
    """A web of 0.4 mm is two pixels wide in the fitted picture, and forty in the inset."""
    desk = open_desk(CATALOGUE["dress.web-narrow"]())
    desk.station("dress")
    view = desk.view("dress-face")
    assert view.display is not None
    (at, size), *_ = view.details()
    assert size == pytest.approx(0.4, abs=0.05)
    x, y = view.viewport_now.to_px(at)
    desk.qtbot.mouseMove(view, QPoint(round(x) + 3, round(y) + 3))
    assert view.loupe.shown is not None
    with_it = view.grab().toImage()
    desk.qtbot.mouseMove(view, QPoint(4, 4))
    assert view.loupe.shown is None
    assert view.grab().toImage() != with_it
    view.motion.onto(Box(at[0] - 2, at[1] - 2, at[0] + 2, at[1] + 2))
    x, y = view.viewport_now.to_px(at)
    desk.qtbot.mouseMove(view, QPoint(round(x), round(y)))
    assert view.loupe.shown is None  # large enough to be seen


def test_two_fingers_magnify_at_the_place_between_them(desk: Desk) -> None:
    """What lies between the fingers stays there, at a scale as many times larger as they have moved apart."""
    desk.station("construct")
    view = desk.view("construct-flat")
    at = QPointF(view.width() / 3, view.height() / 3)
    before = view.viewport_now
    under = before.to_mm((at.x(), at.y()))
    pad = QPointingDevice.primaryPointingDevice()
    for value in (0.2, 0.25):
        pinch = QNativeGestureEvent(
            Qt.NativeGestureType.ZoomNativeGesture, pad, 2, at, at, QPointF(view.mapToGlobal(at)), value, QPointF()
        )
        assert QApplication.sendEvent(view, pinch)
    assert view.viewport_now.scale == pytest.approx(before.scale * 1.2 * 1.25)
    assert view.viewport_now.to_mm((at.x(), at.y())) == pytest.approx(under, abs=1e-6)
    apart = QNativeGestureEvent(
        Qt.NativeGestureType.ZoomNativeGesture, pad, 2, at, at, QPointF(view.mapToGlobal(at)), -0.9, QPointF()
    )
    QApplication.sendEvent(view, apart)
    assert view.viewport_now.scale == pytest.approx(before.scale)  # no smaller than it fits
