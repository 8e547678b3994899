"""What lies within what, where the geometry library would give up: found by seed 5079 of bin/soak."""

from __future__ import annotations

import pytest
import shapely

from dechirer.core.dress.checks.place import ink_within


def test_ink_of_areas_and_lines_is_told_part_by_part() -> None:
    ink = shapely.geometrycollections(
        [shapely.box(0, 0, 4, 4), shapely.LineString([(0, 2), (10, 2)]), shapely.LineString([(8, 0), (8, 1)])]
    )
    within = ink_within(ink, shapely.box(2, 0, 6, 4))
    assert shapely.area(within) == pytest.approx(2 * 4)
    assert shapely.length(within) == pytest.approx(2 * (2 + 4) + 4)  # the rim of the area, and the line
    assert shapely.area(ink_within(ink, shapely.box(20, 20, 30, 30))) == 0
