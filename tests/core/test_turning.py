"""The smallest turn against a sweep in shapely, silhouettes, and what hides what."""

from __future__ import annotations

import math

import numpy as np
import pytest
import shapely
from hypothesis import assume, given
from hypothesis import strategies as st
from shapely import affinity

from dechirer.core.card.assembly import Slab
from dechirer.core.card.folding import fold
from dechirer.core.card.hidden import find_collision, hidden_share, visible_part
from dechirer.core.card.panels import Face, Hinge, Panel, PanelTree
from dechirer.core.job.edit import apply_changes
from dechirer.core.plan import make_plan
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.algebra import cut_away, keep_within, merge, offset
from dechirer.core.shape.outline import area, bounds, clockwise, rectangle
from dechirer.core.shape.silhouettes import unit_outline
from dechirer.core.shape.turning import find_best_turn, find_smallest_square
from tests.helpers import add, codes, quick_job, typed

SHAPES = ("rectangle", "disc", "hexagon", "octagon", "kite", "heart", "hut", "cloud", "gull", "tag", "bar")
points = st.lists(st.tuples(st.floats(-100, 100), st.floats(-100, 100)), min_size=3, max_size=25)


@given(points, st.floats(0.4, 2.5))
def test_no_turn_of_a_sweep_is_better(ring: list[tuple[float, float]], ratio: float) -> None:
    assume(shapely.MultiPoint(ring).convex_hull.area > 1.0)
    found = find_best_turn(tuple(ring), ratio, 1.0)
    need = max(found.width / ratio, found.height)
    hull = shapely.MultiPoint(ring).convex_hull
    for angle in np.arange(0, 180, 1.5):
        left, top, right, bottom = affinity.rotate(hull, angle).bounds
        assert max((right - left) / ratio, bottom - top) >= need - 1e-6
    turned = bounds(found.affine.all(ring))
    assert (turned.width, turned.height) == pytest.approx((found.width, found.height), abs=1e-6)


def test_known_turns() -> None:
    # Plain geometry: a square on its corner needs side x sqrt 2; a thin strip fits its diagonal square at 45 degrees.
    square = Affine(math.cos(0.3), math.sin(0.3), -math.sin(0.3), math.cos(0.3), 0, 0).all(rectangle(50, 50))
    assert find_smallest_square(square).width == pytest.approx(50.0)
    strip = find_smallest_square(rectangle(100, 1))
    assert strip.angle_deg == pytest.approx(45.0)
    assert strip.width == pytest.approx(101 / math.sqrt(2))
    for bad in (((0.0, 0.0), (1.0, 1.0)), ((0.0, 0.0), (1.0, 1.0), (2.0, 2.0))):
        with pytest.raises(ValueError, match="outline"):
            find_smallest_square(bad)


@pytest.mark.parametrize("shape", SHAPES)
def test_silhouettes_fill_their_box_and_run_clockwise(shape: str) -> None:
    ring = unit_outline(shape, 60.0, 45.0)
    box = bounds(ring)
    assert (box.left, box.top, box.width, box.height) == pytest.approx((0, 0, 60, 45), abs=1e-6)
    assert shapely.Polygon(ring).is_valid
    assert clockwise(ring) == ring
    assert clockwise(tuple(reversed(ring))) != tuple(reversed(ring))
    left, right = (shapely.Polygon(ring).intersection(shapely.box(x, -1, x + 30, 99)).area for x in (0.0, 30.0))
    if shape not in ("tag", "cloud"):
        assert left == pytest.approx(right, rel=1e-3)
    with pytest.raises(ValueError, match="dragon"):
        unit_outline("dragon", 1, 1)


def test_a_disc_grown_is_a_larger_disc() -> None:
    # Steiner's formula: a convex outline grown by d has area A + P d + pi d^2.
    ring = unit_outline("hexagon", 60, 50)
    grown = offset(ring, 7.0)
    perimeter = shapely.LinearRing(ring).length
    assert area(grown) == pytest.approx(area(ring) + perimeter * 7 + math.pi * 49, rel=1e-4)
    assert offset(ring, -60.0) == ()
    assert offset(ring, 0.0) == ring
    mitred = bounds(offset(rectangle(10, 10), 2.0, corners="mitre"))
    assert (mitred.width, mitred.height) == (14.0, 14.0)


def test_algebra_keeps_to_its_outlines() -> None:
    one, other = rectangle(40, 20), rectangle(40, 20, at=(20.0, 10.0))
    assert area(merge(one, other)) == pytest.approx(800 * 2 - 200)
    assert area(keep_within(one, other)) == pytest.approx(200)
    assert area(cut_away(one, other)) == pytest.approx(600)
    assert keep_within(one, rectangle(5, 5, at=(100.0, 0.0))) == ()
    for made in (merge(one, other), keep_within(one, other), cut_away(one, other)):
        assert clockwise(made) == made


def test_a_lower_panel_in_front_hides_the_foot_of_the_one_behind() -> None:
    job = typed(quick_job("4x6in", fold="concertina"), "construct.concertina.step", "1/2")
    construct = make_plan(job).construct
    third = construct.tree.face("panel 3")
    part = rectangle(third.width, third.height)
    hidden, seen = hidden_share(construct.tree, construct.slabs, third, part, 1.0)
    # Plain geometry: panels are 4.5, 5, 5.5 and 6 in high; behind the second (5) the third (5.5) shows half an inch.
    assert seen == pytest.approx(0.5 / 5.5, abs=2e-3)
    assert hidden == pytest.approx(5 / 5.5, abs=2e-3)
    rings = visible_part(construct.tree, construct.slabs, third, 1.0)
    # Inner panels are narrower by a thickness, so a sliver shows beside them as well; without it:
    _, top, _, bottom = shapely.Polygon(rings[0]).buffer(-1.0, join_style="mitre").bounds
    assert (top, bottom) == pytest.approx((1.0, 11.7), abs=1e-3)
    assert visible_part(construct.tree, construct.slabs, construct.tree.face("front"), 1.0)
    assert not visible_part(construct.tree, construct.slabs, construct.tree.face("behind front"), 1.0)


def test_visible_parts_against_a_rendering() -> None:
    """What is seen of a face, measured by casting rays at a half folded gate."""
    construct = make_plan(quick_job("5x7in", fold="gate")).construct
    face, closed = construct.tree.face("inside centre"), 0.8
    rings = [shapely.Polygon(ring) for ring in visible_part(construct.tree, construct.slabs, face, closed)]
    poses = fold(construct.tree, closed)
    rng = np.random.default_rng(7)
    seen = shapely.union_all(rings)
    for x, y in rng.uniform((1, 1), (face.width - 1, face.height - 1), (300, 2)):
        at = np.array(poses[face.panel]((*face.to_flat((x, y)), 0.0)))
        out = np.array([0.0, 0.0, -1.0])
        blocked = False
        for panel in ("door-left", "door-right"):
            corners = [np.array(poses[panel]((*point, 0.2))) for point in construct.tree.panel(panel).outline]
            normal = np.cross(corners[1] - corners[0], corners[2] - corners[0])
            if abs(normal @ out) < 1e-9:
                continue
            way = normal @ (corners[0] - at) / (normal @ out)
            hit = at + way * out
            if way > 0 and shapely.Polygon([c[:2] for c in corners]).contains(shapely.Point(hit[:2])):
                blocked = True
        if seen.boundary.distance(shapely.Point(x, y)) > 0.5:
            assert seen.contains(shapely.Point(x, y)) != blocked


def test_panels_that_run_through_each_other_are_found() -> None:
    face = Face("front", "a", "outside", 100, 50, Affine())
    tree = PanelTree(
        (
            Panel("a", "a", rectangle(100, 50)),
            Panel("b", "b", rectangle(60, 50, at=(-60.0, 0.0))),
            Panel("c", "c", rectangle(60, 50, at=(100.0, 0.0))),
        ),
        (
            Hinge("fb", "a", "b", (0.0, 0.0), (0.0, 50.0), "mountain", order=1),
            Hinge("fc", "a", "c", (100.0, 0.0), (100.0, 50.0), "mountain", order=1),
        ),
        (face,),
    )
    slabs = [Slab("p", "card", panel.id, panel.outline, 0.0, 0.3) for panel in tree.panels]
    assert find_collision(tree, slabs, 0.2) is None
    assert find_collision(tree, slabs, 0.9) == ("b", "c")  # both at once, and together longer than the back


def test_a_layer_behind_the_skyline_is_said() -> None:
    job = typed(quick_job("4x6in", fold="concertina"), "construct.concertina.step", "1/2")
    hidden = apply_changes(job, add("layers", job, "panel 3"))
    assert "construct.layer-hidden" in codes(make_plan(hidden))
    level = typed(hidden, "construct.concertina.step", "0")  # all equal: it is read opened, so nothing is said
    assert "construct.layer-hidden" not in codes(make_plan(level))
