"""Dress's pictures through their display lists: what is on a face, its measures, its weak places, where it lands."""

from __future__ import annotations

import math

import pytest
import shapely

from dechirer.core.card.folding import fold
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import load_demo_job
from dechirer.drawing.display import Dimension, Display, Label, Shape
from dechirer.drawing.forms import FORMS
from dechirer.drawing.scenes.face import describe_landing, make_face_scene, make_landing_scene
from dechirer.drawing.scenes.solid import make_folded_scene
from dechirer.drawing.solid.eye import look_at, shade
from tests.core.test_dress_catalogue import CATALOGUE
from tests.dressing import art, box_path, dressed, item, step, words
from tests.helpers import quick_job


def shapes(display: Display, element: str = "") -> list[Shape]:
    return [each for each in display.items if isinstance(each, Shape) and (not element or each.element == element)]


def labels(display: Display) -> list[str]:
    return [each.text for each in display.items if isinstance(each, Label)]


def dimensions(display: Display) -> dict[str, Dimension]:
    return {each.figure: each for each in display.items if isinstance(each, Dimension)}


def scene(plan: Plan, face: str = "front", picked: str = "thing") -> Display:
    return make_face_scene(plan, face, picked)


@pytest.mark.parametrize(
    ("made", "form"),
    [
        ("window", "cut"),
        ("kiss", "kiss"),
        ("score", "valley"),
        ("pen", "pen"),
        ("foil", "foil"),
        ("perforate", "perforate"),
        ("piece", "cut"),
    ],
)
def test_lines_are_drawn_in_the_forms_of_their_operation(made: str, form: str) -> None:
    plan = make_plan(dressed(item(made=made, paper="liner-paper", colour="#aa2200")))
    forms = {each.form for each in shapes(scene(plan), "item:thing")}
    assert form in forms
    assert form in FORMS
    inks = {each.role for each in shapes(scene(plan), "item:thing")}
    assert ("#aa2200" in inks) == (made in ("pen", "foil"))


def test_an_opening_shows_its_backer_and_a_piece_its_paper() -> None:
    plan = make_plan(
        dressed(
            item("hole", made="window", paper="liner-paper", down="top", y="10 mm"),
            item("bare", made="window", down="bottom", y="10 mm"),
            item("leaf", paper="liner-paper"),
        )
    )
    display = scene(plan, picked="leaf")
    dark = plan.brief.paper("liner-paper").paper.colour
    assert {each.fill for each in shapes(display, "item:hole")} == {dark}
    assert {each.fill for each in shapes(display, "item:bare")} == {"sunken"}
    assert {each.fill for each in shapes(display, "item:leaf")} == {dark}
    assert any(each.shadow for each in shapes(display, "item:leaf"))


def test_printed_areas_are_soft_fills_in_their_own_colours() -> None:
    plan = make_plan(load_demo_job("kites"))
    display = scene(plan, "liner/inside right", "when")
    inks = [each for each in shapes(display, "item:hut") if not each.form]
    assert {"#c9573c", "#6b3f66", "#e8a24c"} <= {each.fill for each in inks}
    assert [each.form for each in shapes(display, "item:hut") if each.form] == ["cut"]


def test_the_picked_items_measures_can_be_typed_into() -> None:
    plan = make_plan(dressed(item(across="left", x="30 mm", down="top", y="40 mm", paper="liner-paper")))
    found = dimensions(scene(plan))
    assert found["thing.ink-width"].field == "dress.items.thing.width"
    assert found["thing.left"].field == "dress.items.thing.place.left"
    assert found["thing.top"].field == "dress.items.thing.place.top"
    width = found["thing.ink-width"]
    assert width.end[0] - width.start[0] == pytest.approx(20)
    # The chain of measures lies below the face and beside it, clear of what is on it.
    face = plan.construct.tree.face("front")
    assert width.start[1] + width.shift_px / 3.0 > face.height
    assert dimensions(scene(plan, picked="")) == {}


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"words": words("Kite", fit="band", width="60 mm", height="20 mm")}, "dress.items.thing.words.width"),
        ({"words": words("Kite", fit="circle", width="60 mm")}, "dress.items.thing.words.width"),
        ({"words": words("Kite", size="12 mm")}, "dress.items.thing.width"),
        ({"turn_deg": 30.0}, ""),
    ],
)
def test_the_width_is_typed_where_the_size_comes_from(more: dict, field: str) -> None:
    plan = make_plan(dressed(item(made="print", **more)))
    assert dimensions(scene(plan))["thing.ink-width"].field == field


def test_weak_places_are_hot_and_the_worst_is_measured() -> None:
    display = scene(make_plan(CATALOGUE["dress.web-narrow"]()))
    assert [each for each in shapes(display) if each.fill in ("stop", "look")]
    assert "0.4 mm" in labels(display)
    rings = [each for each in shapes(display) if each.form == "edge" and each.role in ("stop", "look")]
    assert rings
    at = shapely.Polygon(rings[0].paths[0]).centroid
    thing = make_plan(CATALOGUE["dress.web-narrow"]()).dress.item("thing")
    assert thing is not None
    left, top, right, bottom = thing.placed.source
    assert left < at.x < right
    assert top < at.y < bottom


def test_islands_are_marked_and_counted() -> None:
    display = scene(make_plan(CATALOGUE["dress.island"]()))
    assert "falls out" in labels(display)
    two = art(f"{box_path(30, 20)} M 4 4 L 4 16 L 10 16 L 10 4 Z M 16 4 L 16 16 L 24 16 L 24 4 Z", width=30.0)
    assert "2 middles fall out" in labels(scene(make_plan(dressed(item(made="window"), arts=(two,)))))


def test_folds_and_the_safe_zone_are_drawn() -> None:
    display = scene(make_plan(dressed(item(paper="liner-paper"))))
    assert "fold" in labels(display)
    guides = [each for each in shapes(display) if each.form == "guide"]
    box = shapely.Polygon(guides[0].paths[0]).bounds
    assert box == pytest.approx((5, 5, 122, 172.8))


def test_what_is_glued_over_a_face_is_shown_on_it() -> None:
    plan = make_plan(dressed(item(face="inside right", made="print"), job=quick_job("5x7in", liner="1/16")))
    assert "liner" in labels(scene(plan, "inside right"))


@pytest.mark.parametrize(
    ("face", "words_of_it"),
    [
        ("front", "upright"),
        ("back", "turned 180°"),
        ("inside top", "mirrored"),
    ],
)
def test_the_flat_view_says_which_way_a_face_is_turned(face: str, words_of_it: str) -> None:
    plan = make_plan(dressed(item(face=face, made="pen"), job=quick_job("6x4in", fold="top-fold")))
    assert words_of_it in describe_landing(plan, face)
    spot = plan.dress.spot(face)
    assert spot is not None
    display = make_landing_scene(plan, face, "thing")
    letter = next(each for each in shapes(display) if each.form == "done")
    stem, bar = letter.paths[0], letter.paths[1]
    # An F read from its own face: the stem runs down to its left, and both bars to its right.
    back = spot.to_piece.inverse()
    foot, head, end = (back(point) for point in stem)
    assert foot[0] == pytest.approx(head[0])
    assert foot[1] > head[1]
    assert end[0] > head[0]
    assert back(bar[1])[0] > back(bar[0])[0]


def test_prints_are_seen_where_they_land() -> None:
    plan = make_plan(dressed(item(made="print", colour="#aa2200")))
    assert [each for each in shapes(make_landing_scene(plan, "front", "thing")) if each.fill == "#aa2200"]


def test_the_folded_card_wears_its_dress_and_turns_it_away() -> None:
    front = item(made="print", colour="#aa2200")
    within = item("on", face="inside right", made="print", colour="#2244aa")
    plan = make_plan(dressed(front, within, job=quick_job("5x7in")))
    order = [(each.fill, each.element) for each in shapes(make_folded_scene(plan, 1.0))]
    fills = [fill for fill, _ in order]
    eye = look_at(plan.stacked.tree)
    poses = fold(plan.stacked.tree, 1.0)
    on_front, within_right = (
        shade(colour, eye.light(poses[plan.stacked.tree.face(name).panel].turn((0.0, 0.0, 1.0))))
        for colour, name in (("#aa2200", "front"), ("#2244aa", "inside right"))
    )
    face = max(index for index, (_, element) in enumerate(order) if element == "base/front")
    assert fills.index(on_front) > face  # on the front, over its paper
    assert within_right not in fills or fills.index(within_right) < face  # inside the closed card, behind it
    area = next(
        shapely.Polygon(each.paths[0]).area for each in shapes(make_folded_scene(plan, 1.0)) if each.fill == on_front
    )
    assert area == pytest.approx(400 * math.cos(math.radians(24)) * math.cos(math.radians(30)), rel=0.05)


def test_an_opening_of_the_dress_is_a_hole_in_the_folded_card() -> None:
    plan = make_plan(dressed(item(made="window")))
    front = [
        each for each in shapes(make_folded_scene(plan, 1.0)) if each.element == "base/front" and len(each.paths) > 1
    ]
    assert front


def test_a_face_that_is_not_there_gives_an_empty_picture() -> None:
    plan = make_plan(dressed())
    assert not scene(plan, "no such face").items
    assert not make_landing_scene(plan, "no such face").items
    assert describe_landing(plan, "no such face") == ""


def test_recipes_show_what_is_left_of_them() -> None:
    gone = make_plan(dressed(item(steps=(step("border", by="-15 mm", edges="all"),), paper="liner-paper")))
    assert not shapes(scene(gone), "item:thing")
