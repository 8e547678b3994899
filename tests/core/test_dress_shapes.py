"""Shapes that need no file: as large as was typed at any size, and true to their curves."""

from __future__ import annotations

import math

import pytest
import shapely

from dechirer.core.dress.shapes import SHAPES, make_shape, place_shape
from dechirer.core.job.edit import apply_changes
from dechirer.core.plan import make_plan
from tests.helpers import changed, codes, quick_job, typed


@pytest.mark.parametrize("shape", list(SHAPES))
@pytest.mark.parametrize("width", ["12 mm", "100 mm"])
def test_a_shape_is_placed_and_is_as_large_as_typed(shape: str, width: str) -> None:
    job = quick_job("6x6in", fold="flat")
    spot = make_plan(job).dress.spots[0]
    job = apply_changes(job, place_shape(job, shape, spot))
    job = typed(job, f"dress.items.{job.dress.items[0].id}.width", width)
    plan = make_plan(changed(job, run__tools=(*job.run.tools, "pen")))
    left, _, right, _ = plan.dress.items[0].placed.drawn.box()
    assert right - left == pytest.approx(float(width.split()[0]), abs=1e-6)
    assert [each for each in plan.findings if each.severity == "stop"] == []
    assert "dress.nodes-many" not in codes(plan)
    line = next(line for line in plan.dress.pieces[0].lines if line.name == SHAPES[shape][0])
    assert line.operation == ("pen" if shape == "line" else "cut")


def test_a_disc_is_round_when_it_is_enlarged() -> None:
    # Plain geometry: pi r2 of a disc of 400 mm, chords within 0.01 mm of it.
    (path,) = make_shape("disc").groups[0].paths
    words = [float(word) for word in path.split() if word not in "MLZ"]
    ring = shapely.Polygon(list(zip(words[::2], words[1::2], strict=True)))
    radius = 30.0
    assert ring.area == pytest.approx(math.pi * radius**2, rel=1e-4)
    far = [abs(math.dist(point, (30.0, 30.0)) - radius) for point in ring.exterior.coords]
    assert max(far) * 400 / 60 < 0.02


def test_the_same_shape_again_is_the_same_art() -> None:
    job = quick_job("6x6in", fold="flat")
    spot = make_plan(job).dress.spots[0]
    for _ in range(2):
        job = apply_changes(job, place_shape(job, "heart", spot))
    assert len(job.dress.art) == 1
    assert [item.id for item in job.dress.items] == ["heart", "heart-2"]
