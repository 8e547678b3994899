"""The folded card from every side: what is drawn last at a place is what a ray from the eye meets first."""

from __future__ import annotations

import math
from random import Random

import numpy as np
import pytest
import shapely

from dechirer.core.card.assembly import Slab
from dechirer.core.card.folding import STILL, Pose, Vector, fold, rotation
from dechirer.core.plan import Plan, make_plan
from dechirer.core.shape.outline import rectangle
from dechirer.demo import load_demo_job
from dechirer.drawing.display import Dimension, Label, Shape
from dechirer.drawing.scenes.solid import draw_folded, make_folded_scene
from dechirer.drawing.solid.depth import Slice, divide_space
from dechirer.drawing.solid.eye import BACK, DARKEST, FRONT, INSIDE, OPEN, Eye, Look, look_at, shade
from dechirer.drawing.solid.model import Folded, find_model

LOOKS = (FRONT, BACK, INSIDE, OPEN, Look(70.0, 20.0), Look(-60.0, 55.0), Look(130.0, -35.0), Look(-150.0, 10.0))
CLOSED = (0.0, 0.18, 0.5, 0.72, 0.93, 1.0)
NEAR_MM = 1.6
"""Places nearer than this to an edge are not asked for: a bend, a wall or a line may be seen there."""


def ray(slabs: tuple[Slab, ...], poses: dict[str, Pose], eye: Eye, at: tuple[float, float]) -> tuple[str, bool]:
    """What a ray through a place of the picture meets first, and whether it passes near no edge on its way.

    Worked in the eye's axes with NumPy and shapely alone: each slab's middle plane is met, then its outline asked.
    """
    basis = np.array([eye.right, eye.down, eye.near])
    best, clear = (-math.inf, ""), True
    for slab in slabs:
        pose = poses[slab.panel]
        turn = basis @ np.array(pose.rows)
        foot = basis @ np.array(pose.offset) + turn[:, 2] * (slab.bottom + slab.top) / 2
        if abs(np.linalg.det(turn[:2, :2])) < 0.08:  # seen on edge: its walls hide more than its face
            shown = shapely.LineString([(turn[:2, :2] @ np.array(p) + foot[:2]) for p in slab.outline])
            clear = clear and shown.distance(shapely.Point(at)) > NEAR_MM
            continue
        x, y = np.linalg.solve(turn[:2, :2], np.array(at) - foot[:2])
        area = shapely.Polygon(slab.outline, slab.holes)
        seen = shapely.transform(area.boundary, lambda p, turn=turn, foot=foot: p @ turn[:2, :2].T + foot[:2])
        clear = clear and seen.distance(shapely.Point(at)) > NEAR_MM
        if area.contains(shapely.Point(x, y)):
            depth = float(turn[2, 0] * x + turn[2, 1] * y + foot[2])
            best = max(best, (depth, f"{slab.piece}/{slab.panel}"))
    return best[1], clear


def drawn_last(items: tuple[object, ...], at: tuple[float, float]) -> str:
    """The element of the last filled shape over a place, by shapely."""
    found = ""
    for item in items:
        if isinstance(item, Shape) and item.fill and item.element:
            area = shapely.Polygon(item.paths[0], item.paths[1:])
            if area.contains(shapely.Point(at)):
                found = item.element
    return found


@pytest.mark.parametrize(
    "name", ["kites", "dunes", "gate", "lock", "corner", "collar", "prize", "stack", "topper", "boathouse", "helpers"]
)
def test_what_a_ray_meets_first_is_what_is_drawn_last(name: str) -> None:
    plan, random = make_plan(load_demo_job(name)), Random(name)
    model = find_model(plan)
    asked = 0
    for closed in CLOSED:
        folded, poses = Folded(plan, closed), fold(model.tree, closed)
        for look in random.sample(LOOKS, 4):
            eye = look_at(model.tree, look, closed=closed)
            display = draw_folded(folded, look)
            box = display.box
            for _ in range(12):
                at = random.uniform(box.left, box.right), random.uniform(box.top, box.bottom)
                expected, clear = ray(model.slabs, poses, eye, at)
                if clear:
                    asked += 1
                    assert drawn_last(display.items, at) == expected, (closed, look, at)
    assert asked > 40


def test_a_card_that_passes_through_another_is_divided_there() -> None:
    flat = Slab("flat", "p", "flat", rectangle(100, 60), 0.0, 0.3)
    upright = Slab("upright", "p", "upright", rectangle(40, 50, at=(30, 5)), 0.0, 0.3)
    poses = {"flat": STILL, "upright": rotation((1.0, 0.0, 0.0), 70.0, (0.0, 30.0, 0.0))}
    eye = Eye((1.0, 0.0, 0.0), (0.0, 0.8, -0.6), (0.0, 0.6, 0.8))
    order = [thing for thing in divide_space((flat, upright), poses).walk(eye) if isinstance(thing, Slice)]
    assert [one.slab.piece for one in order] == ["upright", "flat", "upright"]
    parts = [shapely.Polygon(one.rings[0]) for one in order if one.slab.piece == "upright"]
    whole = shapely.Polygon(upright.outline)
    assert shapely.union_all(parts).symmetric_difference(whole).area < 1e-6
    assert sum(part.area for part in parts) == pytest.approx(whole.area, rel=0.01)  # they reach over the cut a little
    # The line where they part is no edge of the paper.
    drawn = sum(shapely.LineString(path).length for one in order if one.edges for path in one.edges)
    assert drawn == pytest.approx(whole.length, abs=0.3)


def test_three_that_hide_each_other_in_a_ring_are_drawn_right() -> None:
    # Each beam lies over the next at one end and under it at the other, so that no order of whole beams is right.
    slabs, poses = [], {}
    for number in range(3):
        name = f"beam {number}"
        slabs.append(Slab(name, "p", name, rectangle(120, 20, at=(-60, -40)), 0.0, 0.2))
        spin = rotation((0.0, 0.0, 1.0), 120.0 * number, (0.0, 0.0, 0.0))
        poses[name] = spin.after(rotation((0.0, 1.0, 0.0), 8.0, (0.0, -30.0, 0.0)))
    eye = Eye((1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0))
    things = [thing for thing in divide_space(tuple(slabs), poses).walk(eye) if isinstance(thing, Slice)]
    assert len(things) > 3
    asked = 0
    random = Random(3)
    for _ in range(400):
        at = random.uniform(-70, 70), random.uniform(-70, 70)
        expected, clear = ray(tuple(slabs), poses, eye, at)
        hit = ""
        for one in things:
            ring = eye.over(one.pose, one.middle).all(one.rings[0])
            hit = f"{one.slab.piece}/{one.slab.panel}" if shapely.Polygon(ring).contains(shapely.Point(at)) else hit
        if clear and expected:
            asked += 1
            assert hit == expected
    assert asked > 60


def test_the_eye_turns_round_the_card_and_keeps_sizes() -> None:
    tree = make_plan(load_demo_job("kites")).stacked.tree
    for look in LOOKS:
        eye = look_at(tree, look, closed=0.5)
        axes = np.array([eye.right, eye.down, eye.near])
        assert axes @ axes.T == pytest.approx(np.eye(3), abs=1e-9)  # right angles, no stretch
        assert np.linalg.det(axes) == pytest.approx(np.linalg.det(np.array(list(axes_of(look_at(tree))))), abs=1e-9)
    assert FRONT.turned(400.0, 0.0).turn_deg == pytest.approx(70.0)
    assert FRONT.turned(0.0, 500.0).tilt_deg == pytest.approx(89.0)
    front, back = look_at(tree, Look(0.0, 0.0)), look_at(tree, Look(180.0, 0.0))
    assert front.near == pytest.approx(tuple(-part for part in back.near))


def axes_of(eye: Eye) -> tuple[Vector, Vector, Vector]:
    return eye.right, eye.down, eye.near


def test_panels_at_an_angle_differ_in_brightness() -> None:
    plan = make_plan(load_demo_job("kites"))
    eye = look_at(plan.stacked.tree)
    lights = {round(eye.light(pose.turn((0.0, 0.0, 1.0))), 2) for pose in fold(plan.stacked.tree, 0.5).values()}
    assert len(lights) == 2
    assert max(lights) - min(lights) > 0.08
    assert all(DARKEST <= light <= 1.0 for light in lights)
    assert shade("#80ff40", 0.5) == "#408020"


def test_measures_stand_on_the_usual_view_alone(demo_plan: Plan) -> None:
    assert [item for item in make_folded_scene(demo_plan, 0.7).items if isinstance(item, Dimension)]
    turned = make_folded_scene(demo_plan, 0.7, look=FRONT.turned(10.0, 0.0))
    assert not [item for item in turned.items if isinstance(item, Dimension)]
    assert "back" in [item.text for item in make_folded_scene(gate(), 1.0, look=BACK).items if isinstance(item, Label)]


def gate() -> Plan:
    return make_plan(load_demo_job("gate"))
