"""Drawings through their display lists: what is drawn, where it can be picked, and the folded view's truth."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.card.folding import fold
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.edit import apply_changes
from dechirer.core.paper.colours import contrast
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.outline import bounds, is_inside
from dechirer.demo import load_demo_job
from dechirer.desk.theme.tokens import THEMES
from dechirer.drawing.dimension import shape_dimension
from dechirer.drawing.display import Dimension, Display, Label, Shape
from dechirer.drawing.forms import FORMS, form_of_line
from dechirer.drawing.hit import hit_test
from dechirer.drawing.scenes.card import make_card_scene
from dechirer.drawing.scenes.flat import make_flat_scene
from dechirer.drawing.scenes.landed import make_small_piece
from dechirer.drawing.scenes.mat import make_mat_scene, make_run_scene
from dechirer.drawing.scenes.solid import make_folded_scene
from dechirer.drawing.solid.eye import look_at
from dechirer.drawing.viewport import fit_viewport
from tests.helpers import add, changed, quick_job


def measure(text: str, style: str) -> float:
    return 7.0 * len(text)


def dimensions(display: Display) -> dict[str, Dimension]:
    return {item.figure: item for item in display.items if isinstance(item, Dimension) and item.figure}


def test_the_card_has_its_size_to_type_into(demo_plan: Plan) -> None:
    found = dimensions(make_card_scene(demo_plan))
    assert {key: item.field for key, item in found.items()} == {
        "brief.width": "brief.width",
        "brief.height": "brief.height",
    }
    assert found["brief.width"].text == "5 in"


@pytest.mark.parametrize("fold", CONSTRUCTIONS.ids())
def test_every_dimension_is_as_long_as_it_says(fold: str) -> None:
    job = quick_job("5x7in", fold=fold, liner="1/16")
    job = apply_changes(job, [*add("window", job), *add("layers", job, make_plan(job).construct.tree.faces[0].name)])
    plan = make_plan(job)
    flats = [make_flat_scene(plan, 560, 560, piece.id) for piece in plan.construct.pieces]
    for display in (make_card_scene(plan), *flats):
        for key, item in dimensions(display).items():
            (x0, y0), (x1, y1) = item.start, item.end
            assert abs(x1 - x0) + abs(y1 - y0) == pytest.approx(plan.figures[key].value, abs=1e-6), key


def test_each_piece_is_shown_large_and_small(demo_plan: Plan) -> None:
    assert "liner.fold.at" in dimensions(make_flat_scene(demo_plan, 560, 560, "liner"))
    piece = demo_plan.construct.pieces[1]
    small = make_small_piece(demo_plan, piece)
    assert not [item for item in small.items if isinstance(item, Label | Dimension)]
    assert small.box == bounds(piece.outline)


def test_the_flat_piece_wears_what_dress_puts_on_it() -> None:
    plan = make_plan(load_demo_job("kites"))
    display = make_flat_scene(plan, 560, 560, "base")
    shapes = [item for item in display.items if isinstance(item, Shape)]
    base, face = plan.construct.pieces[0], next(item for item in shapes if item.element == "base")
    left, top = min(x for x, _ in base.outline), min(y for _, y in base.outline)
    windows = [mark for mark in plan.dress.marks if mark.form == "opening" and mark.spot == "front"]
    spot = plan.dress.spot("front")
    assert windows
    assert spot is not None
    # The gulls are cut through the front: paper is missing there, where the flat sheet has them.
    for mark in windows:
        for rings in mark.rings:
            ring = tuple((x - left, y - top) for x, y in spot.to_piece.all(rings[0]))
            hole = min(face.paths[1:], key=lambda hole: math.dist(bounds(hole).middle, bounds(ring).middle))
            assert bounds(hole).middle == pytest.approx(bounds(ring).middle, abs=0.01)
    inks = {line.colour for line in plan.dress.pieces[0].lines if line.operation == "pen"}
    assert inks
    assert inks <= {item.role for item in shapes if item.form == "pen"}


def test_numbers_are_picked_before_shapes(demo_plan: Plan) -> None:
    display = make_card_scene(demo_plan)
    viewport = fit_viewport(display.box, 600, 700, display.room_px)
    item = dimensions(display)["brief.width"]
    centre = shape_dimension(item, viewport, measure(item.text, "strong")).centre
    hit = hit_test(display, viewport, centre, measure)
    assert hit is not None
    assert (hit.figure, hit.field) == ("brief.width", "brief.width")
    box = display.box
    on_card = hit_test(display, viewport, viewport.to_px((box.left + 40, box.top + 60)), measure)
    assert on_card is not None
    assert (on_card.element, on_card.figure) == ("base/front", "")
    assert hit_test(display, viewport, (2, 2), measure) is None


@given(st.floats(-50, 350), st.floats(-50, 350))
def test_inside_agrees_with_shapely(x: float, y: float) -> None:
    import shapely

    ring = ((0.0, 0.0), (300.0, 0.0), (150.0, 100.0), (300.0, 300.0), (0.0, 300.0))
    if shapely.distance(shapely.LinearRing(ring), shapely.Point(x, y)) > 1e-6:
        assert is_inside(ring, (x, y)) == shapely.Polygon(ring).contains(shapely.Point(x, y))


def test_folds_are_told_apart_by_form_and_follow_the_side_that_is_up(demo_plan: Plan) -> None:
    forms = [item.form for item in make_flat_scene(demo_plan, 560, 560).items if isinstance(item, Shape)]
    assert "mountain" in forms
    assert FORMS["mountain"].dashes != FORMS["valley"].dashes
    assert form_of_line("score", "fold", "valley") == "valley"
    assert form_of_line("cut", "tick", "mountain") == "tick"
    unmarked = make_plan(changed(demo_plan.job, construct__fold__kind="unmarked"))
    assert "guide" in [item.form for item in make_flat_scene(unmarked, 560, 560).items if isinstance(item, Shape)]


@pytest.mark.parametrize("fold_name", CONSTRUCTIONS.ids())
def test_the_folded_view_shows_the_front_upright_and_unmirrored(fold_name: str) -> None:
    plan = make_plan(quick_job("5x7in", fold=fold_name))
    eye = look_at(plan.construct.tree)
    face = plan.construct.tree.faces[0]
    pose = fold(plan.construct.tree, 1.0)[face.panel]
    origin, right, down = (eye(pose((*face.to_flat(at), 0.0))) for at in ((0, 0), (100, 0), (0, 100)))
    assert right[0] - origin[0] > 50
    assert down[1] - origin[1] > 50
    assert abs(down[0] - origin[0]) < 1e-6
    turn = (right[0] - origin[0]) * (down[1] - origin[1]) - (right[1] - origin[1]) * (down[0] - origin[0])
    assert turn > 0


@pytest.mark.parametrize("fold_name", ["side-fold", "top-fold"])
def test_what_lies_in_front_is_drawn_last(fold_name: str) -> None:
    plan = make_plan(quick_job("5x7in", fold=fold_name, liner="1/16"))
    eye = look_at(plan.construct.tree)
    for closed in (0.2, 0.5, 0.8, 0.97, 1.0):
        fills = [item for item in make_folded_scene(plan, closed).items if isinstance(item, Shape) and item.fill]
        poses = fold(plan.construct.tree, closed)
        # Sample the base's panels: whichever is nearer the eye at a place must be the one drawn last there.
        for x in (10.0, 60.0, 110.0):
            for y in (15.0, 90.0, 160.0):
                nearest = None
                for panel in plan.construct.tree.panels:
                    box = bounds(panel.outline)
                    point = (box.left + min(x, box.width - 9), box.top + min(y, box.height - 9), 0.2)
                    seen = eye(poses[panel.id](point))
                    nearest = max(nearest or (seen[2], panel.id, seen), (seen[2], panel.id, seen))
                assert nearest is not None
                hits = [item.element for item in fills if is_inside(item.paths[0], nearest[2][:2])]
                assert hits
                if closed > 0.9 and nearest[1] == "front":
                    assert hits[-1].endswith("/front"), (closed, x, y, hits)


def test_the_fold_has_a_bend_as_thick_as_the_paper(demo_plan: Plan) -> None:
    bends = [i for i in make_folded_scene(demo_plan, 1.0).items if isinstance(i, Shape) and i.element == "base/fold"]
    assert bends
    assert not [i for i in make_folded_scene(demo_plan, 0.0).items if isinstance(i, Shape) and i.element == "base/fold"]


def test_mats_say_which_edge_goes_in_and_the_path_grows_step_by_step(demo_plan: Plan) -> None:
    display = make_mat_scene(demo_plan, demo_plan.lay.layouts[0])
    words = " ".join(item.text for item in display.items if isinstance(item, Label))
    assert "this edge goes in first" in words
    mat = demo_plan.run.mats[0]
    counts = [
        sum(isinstance(item, Shape) and item.form == "done" for item in make_run_scene(demo_plan, mat, step).items)
        for step in range(len(mat.steps) + 1)
    ]
    assert counts == list(range(len(mat.steps) + 1))


@pytest.mark.parametrize("name", list(THEMES))
def test_text_can_be_read_in_both_themes(name: str) -> None:
    from dechirer.desk.theme.tokens import TEXT_PAIRS

    tokens = THEMES[name]
    for ink, ground in TEXT_PAIRS:
        assert contrast(tokens[ink], tokens[ground]) >= 4.5, (ink, ground)  # WCAG 2.2, 1.4.3


def test_contrast_is_the_published_ratio() -> None:
    assert contrast("#000000", "#ffffff") == pytest.approx(21)  # WCAG 2.2
    assert contrast("#777777", "#ffffff") == pytest.approx(4.48, abs=0.01)  # WCAG's well-known near miss, from memory


def test_a_kiss_cut_is_told_apart_by_its_form() -> None:
    job = apply_changes(quick_job(), add("peel", quick_job()))
    display = make_flat_scene(make_plan(job), 560, 560)
    kiss = [item for item in display.items if isinstance(item, Shape) and item.form == "kiss"]
    assert len(kiss) == 1
    assert FORMS["kiss"] != FORMS["cut"]
    assert FORMS["kiss"].dots > 0


def test_level_folds_are_dimensioned_as_upright_ones_are() -> None:
    """An envelope has two of each; where they are cut to is told at the sides they are measured from."""
    plan = make_plan(load_demo_job("lock"))
    envelope = plan.construct.piece("envelope")
    assert envelope is not None
    drawn = {
        item.figure: item for item in make_flat_scene(plan, 600, 500, "envelope").items if isinstance(item, Dimension)
    }
    for mark in envelope.folds:
        dimension = drawn[mark.at.key]
        along = 0 if abs(mark.start[0] - mark.end[0]) < abs(mark.start[1] - mark.end[1]) else 1
        assert abs(dimension.end[along] - dimension.start[along]) == pytest.approx(mark.at.value, abs=1e-6)
    shifts = [drawn[mark.at.key].shift_px for mark in envelope.folds]
    assert len(set(shifts)) == 4  # each in a line of its own
