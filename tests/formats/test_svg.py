"""Mats read back by a library that is not ours (svgelements), at 96 px per inch as CSS has it."""

from __future__ import annotations

import io

import pytest
import shapely
import svgelements
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.plan import Plan, make_plan
from dechirer.formats.outputs.mat_svg import write_mat_svg
from tests.helpers import IN, changed, quick_job

MM_PER_PX = 25.4 / 96  # CSS Values and Units, section 5.2: 96 px = 1 in


def read_back(text: str) -> tuple[svgelements.SVG, dict[str, list[svgelements.Path]]]:
    """The file and its paths by operation, in mm."""
    svg = svgelements.SVG.parse(io.StringIO(text), ppi=96)
    found: dict[str, list[svgelements.Path]] = {}
    for group in svg.select(lambda each: isinstance(each, svgelements.Group) and "data-operation" in each.values):
        operation = (
            group.values["attributes"]["data-operation"]
            if "attributes" in group.values
            else group.values["data-operation"]
        )
        for path in group:
            path = svgelements.Path(path) * svgelements.Matrix.scale(MM_PER_PX)
            path.reify()
            found.setdefault(operation, []).append(path)
    return svg, found


def corners(path: svgelements.Path) -> list[tuple[float, float]]:
    return [(each.end.x, each.end.y) for each in path if each.end is not None]


def test_a_five_by_seven_opens_at_true_size_with_its_score_inside() -> None:
    plan = make_plan(quick_job("5x7in", liner="1/16"))
    sizes = []
    for layout in plan.lay.layouts:
        svg, found = read_back(write_mat_svg(layout, plan).decode())
        assert svg.width * MM_PER_PX == pytest.approx(304.8, abs=0.01)
        assert svg.height * MM_PER_PX == pytest.approx(304.8, abs=0.01)
        (outline,), (score,) = found["cut"], found["score"]
        left, top, right, bottom = outline.bbox()
        sizes.append(((right - left) / IN, (bottom - top) / IN))
        piece = shapely.Polygon(corners(outline))
        line = shapely.LineString(corners(score))
        assert piece.buffer(1e-3).covers(line)
        assert line.length == pytest.approx(bottom - top, abs=0.01)
        assert line.centroid.x == pytest.approx((left + right) / 2, abs=0.01)
    assert sizes == [pytest.approx((10, 7), abs=0.01 / IN), pytest.approx((9.875, 6.875), abs=0.01 / IN)]


@given(
    st.floats(25, 140),
    st.floats(25, 140),
    st.sampled_from(["side-fold", "top-fold", "flat"]),
    st.sampled_from(["score", "perforate", "ticks"]),
    st.integers(1, 6),
)
def test_any_mat_reads_back_within_a_hundredth_of_a_millimetre(
    width: float, height: float, fold: str, kind: str, count: int
) -> None:
    job = changed(quick_job(f"{width:.3f} x {height:.3f} mm", fold=fold, count=count), construct__fold__kind=kind)
    plan = make_plan(job)
    for layout in plan.lay.layouts:
        _, found = read_back(write_mat_svg(layout, plan).decode())
        drawn = [tuple(point for point in corners(path)) for paths in found.values() for path in paths]
        planned = [path for placed in layout.placements for line in placed.lines() for path in line.paths]
        assert len(drawn) == len(planned)
        for got in drawn:
            nearest = min(max(min(abs(x - u) + abs(y - v) for u, v in path) for x, y in got) for path in planned)
            assert nearest < 0.01


def test_groups_name_pieces_and_operations_in_running_order() -> None:
    plan = make_plan(changed(quick_job("4x5in", count=2), construct__fold__kind="perforate", name="Tide & <kites>"))
    text = write_mat_svg(plan.lay.layouts[0], plan).decode()
    assert "Tide &amp; &lt;kites&gt;" in text
    assert text.index('data-operation="perforate"') < text.index('data-operation="cut"')
    assert 'id="base-1" data-piece="base"' in text
    assert 'viewBox="0 0 304.8 304.8"' in text
    assert text.count("<g ") == 2 * 3


def test_ids_are_unique(demo_plan: Plan) -> None:
    plan = make_plan(changed(demo_plan.job, construct__fold__kind="perforate"))
    for layout in plan.lay.layouts:
        text = write_mat_svg(layout, plan).decode()
        ids = [part.split('"')[0] for part in text.split(' id="')[1:]]
        assert len(ids) == len(set(ids))
