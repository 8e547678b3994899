"""What was typed is what comes out: any length of any demo and construction, typed, and read back from the mats by
svgelements; the figure that names the field says the same, or a finding says why not."""

from __future__ import annotations

import io
import math

import pytest
import shapely
import svgelements
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.audit import audit
from dechirer.core.construct.specs import CONSTRUCTIONS
from dechirer.core.decide.refusal import FieldError
from dechirer.core.decide.values import Size
from dechirer.core.job.edit import apply_changes, read_field
from dechirer.core.job.model import Job, JobError
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import DEMOS, load_demo_job
from dechirer.formats.outputs.mat_svg import write_mat_svg
from tests.card_files import FILES, taken
from tests.core.test_incremental import fields_in
from tests.helpers import attached, codes, examples, quick_job

JOBS = {
    **{f"demo {name}": (lambda name=name: load_demo_job(name)) for name in DEMOS},
    **{
        kind: (lambda kind=kind: attached(quick_job("4x5in", fold=kind, liner="1/16"), "slits", "envelope", "layers"))
        for kind in CONSTRUCTIONS.ids()
        if kind not in ("money-holder", "flap-row", "from-file")
    },
    "from-file": lambda: attached(taken(*FILES["gate with a slot"]), "envelope", "layers"),
    "money-holder": lambda: quick_job("5x4in", fold="money-holder"),
    "flap-row": lambda: quick_job("220x80mm", fold="flap-row"),
}
FITTED_MM = 0.012
"""Curves of a mat are cut at a line's extremes, so that sides are met; chords of round corners fall 0.01 mm short."""


def read_back(plan: Plan) -> None:
    """Every outline on every mat is as large as its piece is told to be, by another library."""
    for layout in plan.lay.layouts:
        drawn = svgelements.SVG.parse(io.StringIO(write_mat_svg(layout, plan).decode()), ppi=25.4)
        paths = {each.id: each for each in drawn.elements() if isinstance(each, svgelements.Path)}
        for placed in layout.placements:
            if placed.piece.blank:
                continue
            path = paths[f"{placed.id}-outline"]
            left, top, right, bottom = path.bbox()
            wide, high = placed.piece.width.value, placed.piece.height.value
            if any(id == placed.piece.id for id, _ in plan.lay.turned):
                # Turned askew on its sheet: its area tells, whichever way it lies.
                points = [path.point(step / 2000) for step in range(2000)]
                ring = shapely.Polygon([(point.x, point.y) for point in points])
                assert ring.area == pytest.approx(shapely.Polygon(placed.piece.outline).area, rel=5e-3)
                continue
            told = (high, wide) if placed.turned else (wide, high)
            assert (right - left, bottom - top) == pytest.approx(told, abs=FITTED_MM), placed.piece.name


def lengths_of(job: Job) -> list[str]:
    return [
        path for path, slot in fields_in(job) if slot.kind in ("length", "mm", "size") and not path.startswith("run")
    ]


def draw_text(data: st.DataObject) -> str:
    if data.draw(st.booleans()):
        return f"{data.draw(st.integers(1, 1200)) / 10} mm"
    return f"{data.draw(st.integers(0, 9))} {data.draw(st.integers(1, 15))}/16 in"


@examples(60)
@given(st.sampled_from(list(JOBS)), st.data())
def test_any_length_typed_comes_out(name: str, data: st.DataObject) -> None:
    job = JOBS[name]()
    path = data.draw(st.sampled_from(lengths_of(job)))
    text = draw_text(data)
    if path.endswith(("sheet", "blank", "note")):
        text = f"{text} x {draw_text(data)}"
    try:
        job = apply_changes(job, read_field(job, path, text))
    except (FieldError, JobError):
        return  # it was refused, and the job stays as it was
    plan = make_plan(job)
    typed = typed_mm(job, path)
    for figure in plan.figures.values():
        if figure.field == path and typed is not None and figure.kind == "length":
            told = abs(figure.value - typed) < 1e-6
            assert told or plan.findings, (path, text, figure.value)
    if plan.stops:
        assert all(finding.reason for finding in plan.findings)
        return
    assert audit(plan) == (), (path, text)
    read_back(plan)


def typed_mm(job: Job, path: str) -> float | None:
    """What was typed, in mm; None for a size of two sides."""
    from dechirer.core.decide.change import value_at

    value = value_at(job, path)
    if value is None or isinstance(value, Size):
        return None
    return float(value) if isinstance(value, int | float) else float(value.mm)


@pytest.mark.parametrize("name", list(JOBS))
def test_every_job_of_the_property_is_good_as_it_stands(name: str) -> None:
    plan = make_plan(JOBS[name]())
    assert not plan.stops, codes(plan)
    assert math.isfinite(plan.run.minutes.value)
    read_back(plan)
