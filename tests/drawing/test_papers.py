"""Papers with two faces: the right colour in front of you, folded, flat and on the mat; a pattern that runs one way."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from dechirer.core.decide.values import Size
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import set_loading
from dechirer.core.length import parse_length
from dechirer.core.plan import make_plan
from dechirer.drawing.display import Display, Shape
from dechirer.drawing.scenes.face import make_face_scene
from dechirer.drawing.scenes.flat import make_flat_scene
from dechirer.drawing.scenes.mat import make_mat_scene
from dechirer.drawing.scenes.papers import stripes_over
from dechirer.drawing.scenes.solid import make_front_view
from tests.helpers import changed, codes, finding, quick_job

FRONT, BACK = "#b03050", "#f0e8d0"


def two_faced(size: str = "5x4in", fold: str = "top-fold", **more: object) -> Job:
    job = quick_job(size, fold=fold)
    papers = (replace(job.brief.papers[0], colour=FRONT, back=BACK, **more), *job.brief.papers[1:])
    return changed(job, brief__papers=papers)


def fills(scene: Display) -> set[str]:
    return {item.fill for item in scene.items if isinstance(item, Shape) and item.fill}


@pytest.mark.parametrize(("face", "colour"), [("front", FRONT), ("back", FRONT), ("inside top", BACK)])
def test_a_face_shows_its_own_side(face: str, colour: str) -> None:
    plan = make_plan(two_faced())
    assert fills(make_face_scene(plan, face)) >= {colour}
    assert not {FRONT, BACK} - {colour} & fills(make_face_scene(plan, face)) or colour in (FRONT, BACK)
    other = ({FRONT, BACK} - {colour}).pop()
    assert other not in fills(make_face_scene(plan, face))


def test_the_closed_card_shows_its_outside_and_the_mat_the_side_that_lies_up() -> None:
    plan = make_plan(two_faced())
    items, _ = make_front_view(plan)
    assert {item.fill for item in items if isinstance(item, Shape)} >= {FRONT}
    assert FRONT in fills(make_flat_scene(plan, 600, 500))
    assert FRONT in fills(make_mat_scene(plan, plan.lay.layouts[0]))
    turned = make_plan(apply_changes(plan.job, [set_loading(plan.job.lay, "card", face="inside-up")]))
    assert BACK in fills(make_mat_scene(turned, turned.lay.layouts[0]))
    assert FRONT not in fills(make_mat_scene(turned, turned.lay.layouts[0]))


def test_a_pattern_that_stands_upright_is_not_turned_on_the_mat() -> None:
    """10 x 3.5 in lies only across a sheet of 8.5 x 12 in turned by a quarter; three upright places of 5 x 8 do not."""
    plain = make_plan(two_faced("5x3.5in", "side-fold", pattern="stripes"))
    narrow = replace(plain.job.brief.papers[0], sheet=Size(parse_length("8.5 in"), parse_length("12 in")))
    job = changed(plain.job, brief__papers=(narrow, *plain.job.brief.papers[1:]))
    assert all(placed.turned for placed in make_plan(job).lay.layouts[0].placements)
    upright = changed(job, brief__papers=(replace(narrow, upright=True), *job.brief.papers[1:]))
    found = finding(make_plan(upright), "lay.piece-too-large")
    assert found.mends[0].label == "Let the pattern run across"
    assert "lay.piece-too-large" not in codes(make_plan(apply_changes(upright, found.mends[0].changes)))


def test_stripes_lie_inside_the_area_and_out_of_its_holes() -> None:
    ring = ((0.0, 0.0), (40.0, 0.0), (40.0, 30.0), (0.0, 30.0))
    hole = ((10.0, 10.0), (20.0, 10.0), (20.0, 20.0), (10.0, 20.0))
    for across in (False, True):
        lines = stripes_over((ring, hole), across=across)
        length = sum(abs(x1 - x0) + abs(y1 - y0) for (x0, y0), (x1, y1) in lines)
        assert length == pytest.approx((40 * 30 - 10 * 10) / 5, rel=0.05)  # a stripe every 5 mm
        for (x0, y0), (x1, y1) in lines:
            middle = ((x0 + x1) / 2, (y0 + y1) / 2)
            assert not (10 < middle[0] < 20 and 10 < middle[1] < 20)


def test_a_pattern_is_seen_on_its_side_only() -> None:
    plan = make_plan(two_faced(pattern="stripes"))

    def lines(face: str) -> int:
        scene = make_face_scene(plan, face)
        return sum(len(item.paths) for item in scene.items if isinstance(item, Shape) and item.form == "hair")

    assert lines("front") > 10
    assert lines("inside top") == 0
    both = make_plan(
        changed(
            plan.job, brief__papers=(replace(plan.job.brief.papers[0], pattern_on="both"), *plan.job.brief.papers[1:])
        )
    )
    scene = make_face_scene(both, "inside top")
    assert any(isinstance(item, Shape) and item.form == "hair" for item in scene.items)
