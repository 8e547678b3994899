"""Where numbers and names stand: clear of lines and of each other, near their places, hidden when there is no room."""

from __future__ import annotations

import itertools

import pytest
import shapely

from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.plan import make_plan
from dechirer.core.shape.outline import Box
from dechirer.drawing import placing
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Dimension, Display, Item, Label, Shape
from dechirer.drawing.hit import hit_test
from dechirer.drawing.placing import box_of, place_words
from dechirer.drawing.scenes.flat import make_flat_scene
from dechirer.drawing.viewport import Viewport, fit_viewport
from tests.helpers import quick_job

HERE = Viewport(4.0, 100.0, 100.0)


def measure(text: str, style: str) -> float:
    return 7.0 * len(text)


def placed(*items: Item, width: float = 500, height: float = 500) -> list[Item]:
    display = Display(items, Box(0, 0, 100, 100))
    return list(place_words(display, HERE, width, height, measure).items)


def px(box: Box) -> shapely.Polygon:
    return shapely.box(box.left, box.top, box.right, box.bottom)


def line(*points: tuple[float, float]) -> Shape:
    return Shape((points,), closed=False, form="cut")


def test_what_is_clear_stays_where_it_was_meant_to_be() -> None:
    number = Dimension((0, 0), (80, 0), 20.0, "80 mm", "a")
    name = Label((40, 30), "front", yields=True)
    assert placed(number, name, line((0, 60), (80, 60))) == [number, name, line((0, 60), (80, 60))]


def test_two_numbers_at_one_place_stand_apart() -> None:
    first = Dimension((0, 0), (80, 0), 20.0, "80 mm", "a")
    second = Dimension((10, 0), (70, 0), 20.0, "60 mm", "b", may_move=True)
    one, other = placed(first, second)
    assert one == first
    assert isinstance(other, Dimension)
    assert not other.hidden
    assert not px(box_of(one, HERE, measure)).intersects(px(box_of(other, HERE, measure)))
    strokes = shape_dimension(other, HERE, measure("60 mm", "strong")).strokes
    assert not any(shapely.LineString(stroke).intersects(px(box_of(one, HERE, measure))) for stroke in strokes)


def test_a_number_slides_along_its_line_off_a_line_that_crosses_it() -> None:
    number = Dimension((0, 0), (80, 0), 20.0, "80 mm", "a")
    crossing = line((40, -20), (40, 60))
    moved = placed(number, crossing)[0]
    assert isinstance(moved, Dimension)
    assert moved.shift_px == number.shift_px
    assert abs(moved.slide_px) == 26.0  # half of its width and a little more
    assert not px(box_of(moved, HERE, measure)).intersects(shapely.LineString([(260, 20), (260, 340)]))


def test_a_number_without_room_is_led_to() -> None:
    grid = [line((-10, y), (90, y)) for y in range(-12, 13, 4)]
    number = Dimension((38, 0), (42, 0), 4.0, "4 mm wide", "a")
    moved = placed(number, *grid)[0]
    assert isinstance(moved, Dimension)
    assert not moved.hidden
    shaped = shape_dimension(moved, HERE, measure(moved.text, "strong"))
    assert moved.led_px is not None or moved.shift_px != number.shift_px
    box = px(box_of(moved, HERE, measure))
    assert not any(box.intersects(shapely.LineString([HERE.to_px(p) for p in each.paths[0]])) for each in grid)
    assert shaped.lead is None or shapely.LineString(shaped.lead).length > 5


def test_what_finds_no_place_is_hidden_and_shown_where_it_is_pointed_at() -> None:
    full = [line((-30, y / 2), (140, y / 2)) for y in range(-60, 260, 4)]
    number = Dimension((20, 20), (60, 20), 8.0, "40 mm", "a", "field")
    name = Label((40, 50), "front", yields=True)
    items = placed(number, name, *full)
    assert [getattr(item, "hidden", False) for item in items[:2]] == [True, True]
    display = Display(tuple(items), Box(0, 0, 100, 100))
    hit = hit_test(display, HERE, HERE.to_px((40, 21)), measure)
    assert hit is not None
    assert (hit.figure, hit.field) == ("a", "field")
    assert hit_test(display, HERE, HERE.to_px((40, 40)), measure) is None


def test_words_that_hang_on_one_point_keep_together() -> None:
    rows = [Label((10, 10), words, anchor="start", shift_px=(0.0, 17.0 * n)) for n, words in enumerate("abc")]
    moved = [item for item in placed(*rows, line((0, 11), (60, 11))) if isinstance(item, Label)]
    shifts = [(item.shift_px[0], item.shift_px[1] - 17.0 * n) for n, item in enumerate(moved)]
    assert len(set(shifts)) == 1
    assert shifts[0] != (0.0, 0.0)


def test_nothing_stands_past_the_window() -> None:
    number = Dimension((0, 0), (30, 0), -98.0, "30 mm", "a")
    moved = placed(number)[0]
    assert isinstance(moved, Dimension)
    assert shapely.box(0, 0, 500, 500).covers(px(box_of(moved, HERE, measure)))


@pytest.mark.parametrize("fold", CONSTRUCTIONS.ids())
@pytest.mark.parametrize(("width", "height"), [(560, 560), (900, 480), (420, 640)])
def test_numbers_of_a_piece_keep_clear_of_each_other(fold: str, width: int, height: int) -> None:
    plan = make_plan(quick_job("5x5in", fold=fold, liner="1/16"))
    for piece in plan.construct.pieces:
        display = make_flat_scene(plan, width, height, piece.id)
        viewport = fit_viewport(display.box, width, height, display.room_px)
        assert viewport.scale == pytest.approx(display.scale)
        shown = place_words(display, viewport, width, height, measure)
        words = [item for item in shown.items if isinstance(item, Dimension | Label) and not item.hidden]
        boxes = [(item.text, px(box_of(item, viewport, measure))) for item in words]
        for (text, one), (_, other) in itertools.combinations(boxes, 2):
            assert not one.buffer(-1.5).intersects(other), text  # rows of one name may touch
        hidden = [item for item in shown.items if isinstance(item, Dimension) and item.hidden]
        assert len(hidden) <= len(boxes) / 4  # most are seen at once, even in a small window


def test_a_crowd_without_room_is_placed_once_and_not_anew(monkeypatch: pytest.MonkeyPatch) -> None:
    """Of eighty numbers on a full picture each tries every place: thrice that would hold up what is being painted. What
    a number looks like at a place is reckoned once for all rounds."""
    full = [line((-30, y / 2), (140, y / 2)) for y in range(-60, 260, 4)]
    is_free = placing._Ground.is_free
    asked, measured = [0, 0], [0, 0]
    for turn, many in enumerate((10, 80)):

        def counting(text: str, style: str, turn: int = turn) -> float:
            measured[turn] += 1
            return measure(text, style)

        def asking(ground: placing._Ground, box: Box, turn: int = turn) -> bool:
            asked[turn] += 1
            return is_free(ground, box)

        monkeypatch.setattr(placing._Ground, "is_free", asking)
        crowd = [Dimension((n % 9, n), (60, n), 8.0, f"{n} mm", f"f{n}") for n in range(many)]
        display = Display((*crowd, *full), Box(0, 0, 100, 100))
        shown = place_words(display, HERE, 500, 500, counting).items[:many]
        assert all(isinstance(item, Dimension) and item.hidden for item in shown)
    few, crowded = asked[0] / 10, asked[1] / 80
    assert measured[0] / 10 == pytest.approx(measured[1] / 80, rel=0.1)
    assert few == pytest.approx(3 * crowded, rel=0.1)
