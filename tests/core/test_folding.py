"""Folding against an independent rotation library, and the faces against the folded state itself."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec import structs
from scipy.spatial.transform import Rotation

from dechirer.core.build.constructions import KINDS
from dechirer.core.build.folding import fold, hinge_axis, rotation
from dechirer.core.build.panels import Face, PanelTree, sense_seen_from
from dechirer.core.plan import make_plan
from tests.helpers import quick_job

AXIS_Z = -0.2


def tree_of(name: str) -> PanelTree:
    """A construction's panels at 127 x 177.8 mm, axes a little inside the sheet."""
    tree = make_plan(quick_job("5x7in", fold=name)).build.tree
    hinges = tuple(
        structs.replace(hinge, axis_z=AXIS_Z if hinge.sense == "mountain" else -AXIS_Z) for hinge in tree.hinges
    )
    return structs.replace(tree, hinges=hinges)


TREES = {name: tree_of(name) for name in KINDS}
FOLDED = [name for name in KINDS if name != "flat"]


@given(
    st.sampled_from(["side-fold", "top-fold"]), st.floats(0, 1), st.floats(-300, 300), st.floats(-300, 300),
    st.floats(-5, 5),
)  # fmt: skip
def test_poses_agree_with_scipy(name: str, closed: float, x: float, y: float, z: float) -> None:
    tree = TREES[name]
    hinge = tree.hinges[0]
    through = np.array([*hinge.start, AXIS_Z])
    turn = Rotation.from_rotvec(np.radians(180 * closed) * np.array(hinge_axis(tree, hinge)))
    expected = turn.apply(np.array([x, y, z]) - through) + through
    assert fold(tree, closed)["front"]((x, y, z)) == pytest.approx(expected, abs=1e-9)


@pytest.mark.parametrize("name", ["side-fold", "top-fold"])
def test_closed_panels_lie_within_the_closed_outline(name: str) -> None:
    tree = TREES[name]
    poses = fold(tree, 1.0)
    for panel in tree.panels:
        for point in panel.outline:
            x, y, z = poses[panel.id]((*point, 0.0))
            assert -0.001 <= x <= 127.001
            assert -0.001 <= y <= 177.801
            assert z in (pytest.approx(0.0, abs=1e-6), pytest.approx(2 * AXIS_Z, abs=1e-6))


@pytest.mark.parametrize("name", ["side-fold", "top-fold", "flat"])
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


@pytest.mark.parametrize("name", ["side-fold", "top-fold", "flat"])
def test_words_read_upright_and_unmirrored_on_every_face(name: str) -> None:
    # Seen by whom it faces, right x down must point away from the reader (y down), whatever the fold does to it.
    tree = TREES[name]
    for closed in (0.0, 0.4, 1.0):
        for face in tree.faces:
            right, down, out = seen_axes(tree, face, closed)
            assert np.cross(right, down) == pytest.approx(out, abs=1e-9), face.name


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


def test_rotation_keeps_its_axis() -> None:
    pose = rotation((0.0, 1.0, 0.0), 73.0, (10.0, 0.0, -1.0))
    assert pose((10.0, 55.0, -1.0)) == pytest.approx((10.0, 55.0, -1.0))
