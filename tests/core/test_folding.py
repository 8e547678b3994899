"""Folding against an independent rotation library, and the faces against the folded state itself."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs
from scipy.spatial.transform import Rotation

from dechirer.core.card.folding import fold, fold_steps, hinge_axis, pressed, rotation
from dechirer.core.card.panels import Face, PanelTree, sense_seen_from
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.job.edit import apply_changes
from dechirer.core.plan import make_plan
from dechirer.core.shape.outline import area, bounds
from tests.helpers import add, quick_job

AXIS_Z = -0.2


def tree_of(name: str) -> PanelTree:
    """A construction's panels at 127 x 177.8 mm, axes a little inside the sheet."""
    tree = make_plan(quick_job("5x7in", fold=name)).construct.tree
    hinges = tuple(
        structs.replace(hinge, axis_z=AXIS_Z if hinge.sense == "mountain" else -AXIS_Z) for hinge in tree.hinges
    )
    return structs.replace(tree, hinges=hinges)


TREES = {name: tree_of(name) for name in CONSTRUCTIONS.ids()}
FOLDED = [name for name in CONSTRUCTIONS.ids() if name != "flat"]


@given(st.sampled_from(FOLDED), st.floats(0, 1), st.floats(-300, 300), st.floats(-300, 300), st.floats(-5, 5))
def test_poses_agree_with_scipy(name: str, closed: float, x: float, y: float, z: float) -> None:
    """Each panel's pose is the chain of turns about the hinges above it, made by scipy.spatial.transform."""
    tree = TREES[name]
    poses = fold(tree, closed)
    stands = {hinge.id: hinge.stands.order for hinge in tree.hinges if hinge.stands}
    orders = sorted({hinge.order for hinge in tree.hinges} | set(stands.values()))
    above = {hinge.child: hinge for hinge in tree.hinges}
    for panel in tree.panels:
        point, here = np.array([x, y, z]), panel.id
        while here in above:
            hinge = above[here]
            steps = (stands.get(hinge.id, hinge.order), hinge.order)  # half in each; mostly they are one step
            share = sum(min(1.0, max(0.0, closed * len(orders) - orders.index(order))) for order in steps) / 2
            height = hinge.axis_z
            if hinge.stands:  # what goes over the standing panel raises its axis while it is folded back
                last = min(1.0, max(0.0, closed * len(orders) - orders.index(hinge.order)))
                height = hinge.stands.axis_z + (hinge.axis_z - hinge.stands.axis_z) * last
            through = np.array([*hinge.start, height])
            turn = Rotation.from_rotvec(np.radians(hinge.closed_deg * share) * np.array(hinge_axis(tree, hinge)))
            point, here = turn.apply(point - through) + through, hinge.parent
        assert poses[panel.id]((x, y, z)) == pytest.approx(point, abs=1e-8)


@pytest.mark.parametrize("name", FOLDED)
def test_closed_panels_lie_within_the_closed_outline(name: str) -> None:
    plan = make_plan(quick_job("5x7in", fold=name))
    tree = plan.construct.tree
    poses = fold(tree, 1.0)
    root = bounds(tree.root.outline)
    for panel in tree.panels:
        for point in panel.outline:
            x, y, _ = poses[panel.id]((*point, 0.0))
            assert root.left - 0.001 <= x <= root.right + 0.001, panel.id
            assert root.top - 0.001 <= y <= root.bottom + 0.001, panel.id


@pytest.mark.parametrize("name", FOLDED)
def test_closed_layers_do_not_run_through_each_other(name: str) -> None:
    """Where two slabs of the closed card lie over each other, their heights do not overlap."""
    job = quick_job("5x7in", fold=name, liner="1/16")
    window = () if name == "money-holder" else add("window", job)  # it would cut through the straps
    construct = make_plan(apply_changes(job, [*window, *add("layers", job, "back")])).construct
    poses = fold(pressed(construct.tree), 1.0)
    placed = []
    for slab in construct.slabs:
        ring, *holes = (
            [poses[slab.panel]((x, y, slab.bottom)) for x, y in each] for each in (slab.outline, *slab.holes)
        )
        heights = sorted((ring[0][2], poses[slab.panel]((*slab.outline[0], slab.top))[2]))
        flat = shapely.Polygon([(x, y) for x, y, _ in ring], [[(x, y) for x, y, _ in hole] for hole in holes])
        placed.append((shapely.make_valid(flat), heights, slab))
    for index, (one, (low, high), slab) in enumerate(placed):
        for other, (other_low, other_high), other_slab in placed[index + 1 :]:
            if shapely.intersection(one, other, grid_size=1e-6).area > 1.0:
                assert high <= other_low + 1e-6 or other_high <= low + 1e-6, (slab.piece, other_slab.piece)


@pytest.mark.parametrize("name", FOLDED)
def test_area_is_kept(name: str) -> None:
    plan = make_plan(quick_job("5x7in", fold=name))
    for piece in plan.construct.pieces:
        panels = sum(shapely.Polygon(panel.outline, panel.holes).area for panel in piece.tree.panels)
        fallen = sum(area(path) for line in piece.lines if line.role == "hole" for path in line.paths)
        assert piece.area == pytest.approx(panels + fallen, rel=1e-6)


@pytest.mark.parametrize("name", CONSTRUCTIONS.ids())
def test_unfolded_is_the_flat_sheet(name: str) -> None:
    for pose in fold(TREES[name], 0.0).values():
        assert pose((3.0, 4.0, 5.0)) == pytest.approx((3.0, 4.0, 5.0), abs=1e-9)


@pytest.mark.parametrize("name", ["side-fold", "top-fold"])
def test_a_mountain_turns_away_from_who_sees_the_outside(name: str) -> None:
    tree = TREES[name]
    front = tree.panel("front")
    middle = tuple(np.mean(front.outline, axis=0))
    assert fold(tree, 0.1)["front"]((*middle, 0.0))[2] < -1
    assert sense_seen_from("mountain", "inside") == "valley"
    assert sense_seen_from("valley", "outside") == "valley"


def seen_axes(tree: PanelTree, face: Face, closed: float) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Right and down of a face as seen, and the way it looks, in space, by posing three of its points."""
    pose = fold(tree, closed)[face.panel]
    origin, right, down = (np.array(pose((*face.to_flat(at), 0.0))) for at in ((0, 0), (1, 0), (0, 1)))
    out = np.array(pose((0.0, 0.0, 1.0 if face.side == "outside" else -1.0))) - np.array(pose((0.0, 0.0, 0.0)))
    return right - origin, down - origin, out


@pytest.mark.parametrize("name", CONSTRUCTIONS.ids())
def test_words_read_upright_and_unmirrored_on_every_face(name: str) -> None:
    # Seen by whom it faces, right x down must point away from the reader (y down), whatever the fold does to it.
    tree = TREES[name]
    for closed in (0.0, 0.4, 1.0):
        for face in tree.faces:
            right, down, out = seen_axes(tree, face, closed)
            assert np.cross(right, down) == pytest.approx(out, abs=1e-9), face.name


LETTER = sorted({(0, y) for y in range(11)} | {(x, 0) for x in range(7)} | {(x, 5) for x in range(5)})
"""An F drawn in points, x to the right and y down: no turn or mirroring of it looks the same."""


@pytest.mark.parametrize(
    ("name", "hinge", "side"),
    [
        ("side-fold", "fold", "left"),
        ("top-fold", "fold", "top"),
        ("gate", "fold-left", "left"),
        ("lock-gate", "fold-left", "left"),
        ("concertina", "fold-1", "right"),
    ],
)
def test_a_letter_on_the_front_is_rendered_upright(name: str, hinge: str, side: str) -> None:
    """The folded card is looked at by a camera that knows the fold's place alone: at the left, the top or the right."""
    tree = TREES[name]
    face = tree.faces[0]
    poses = fold(tree, 1.0)
    pose = poses[face.panel]
    letter = np.array([pose((*face.to_flat((30 + 2 * x, 40 + 2 * y)), 0.3)) for x, y in LETTER])
    middle = np.array(pose((*face.to_flat((face.width / 2, face.height / 2)), 0.3)))
    fold_line = next(each for each in tree.hinges if each.id == hinge)
    at = np.mean([poses[fold_line.parent]((*point, 0.0)) for point in (fold_line.start, fold_line.end)], axis=0)
    normal = np.array(pose((0.0, 0.0, 1.0))) - np.array(pose((0.0, 0.0, 0.0)))  # towards who sees the outside
    to_fold = at - middle
    to_fold -= normal * (to_fold @ normal)
    to_fold /= np.linalg.norm(to_fold)
    # A camera's right, up and the way towards it are a right-handed frame, whatever it looks at. As y runs down, space
    # is left-handed here, so every cross product changes its sign.
    up = {"left": -np.cross(to_fold, normal), "right": -np.cross(normal, to_fold), "top": to_fold}[side]
    right = -np.cross(up, normal)
    seen = np.stack([letter @ right, letter @ -up], axis=1)
    seen = np.round((seen - seen.min(axis=0)) / 2).astype(int)
    assert sorted(map(tuple, seen)) == LETTER


@pytest.mark.parametrize("name", ["side-fold", "top-fold"])
def test_front_and_back_of_the_closed_card_are_upright_together(name: str) -> None:
    tree = TREES[name]
    front_right, front_down, front_out = seen_axes(tree, tree.face("front"), 1.0)
    back_right, back_down, back_out = seen_axes(tree, tree.face("back"), 1.0)
    assert front_out == pytest.approx(-back_out, abs=1e-9)
    # Turned over like a page about its upright axis: up stays up, left and right change.
    assert front_down == pytest.approx(back_down, abs=1e-9)
    assert front_right == pytest.approx(-back_right, abs=1e-9)


def test_the_insides_open_to_one_spread() -> None:
    for name, first, second in (
        ("side-fold", "inside left", "inside right"),
        ("top-fold", "inside top", "inside bottom"),
    ):
        tree = TREES[name]
        axes = [seen_axes(tree, tree.face(face), 0.0) for face in (first, second)]
        assert axes[0][0] == pytest.approx(axes[1][0], abs=1e-9)
        assert axes[0][1] == pytest.approx(axes[1][1], abs=1e-9)


def test_the_back_of_a_top_fold_is_turned_on_the_sheet_and_its_front_is_not() -> None:
    tree = TREES["top-fold"]
    assert tree.face("front").to_flat.turn_deg == pytest.approx(0)
    assert tree.face("back").to_flat.turn_deg == pytest.approx(180)
    assert not tree.face("back").to_flat.is_mirrored
    assert tree.face("inside top").to_flat.is_mirrored  # mirrored only on the sheet seen from its other side


@given(st.sampled_from(list(TREES)), st.floats(0, 127), st.floats(0, 177))
def test_there_and_back_is_the_identity(name: str, x: float, y: float) -> None:
    for face in TREES[name].faces:
        assert face.to_flat.then(face.to_flat.inverse())((x, y)) == pytest.approx((x, y), abs=1e-9)


def test_steps_of_folding_are_named_in_order() -> None:
    assert fold_steps(TREES["gate"]) == ("close the left door", "close the right door")
    half = fold(TREES["gate"], 0.5)
    assert half["door-right"]((0.0, 0.0, 0.0)) == pytest.approx((0.0, 0.0, 0.0))  # still open
    assert half["door-left"]((253.0, 0.0, 0.0))[2] < 0
    assert fold_steps(TREES["flat"]) == ()


def test_rotation_keeps_its_axis() -> None:
    pose = rotation((0.0, 1.0, 0.0), 73.0, (10.0, 0.0, -1.0))
    assert pose((10.0, 55.0, -1.0)) == pytest.approx((10.0, 55.0, -1.0))
