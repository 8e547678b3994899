"""Outlines from files where constructions have their own: as large as asked, and cut as they are drawn."""

from __future__ import annotations

from collections.abc import Callable

import pytest
import shapely

from dechirer.core.brought import ArtGroup
from dechirer.core.construct.art_outline import upper_edge
from dechirer.core.decide.change import Change
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from tests.dressing import art, box_path
from tests.helpers import attached, changed, codes, finding, quick_job

HOUSE = "M 0 40 L 20 0 L 40 40 L 40 100 L 0 100 Z"
"""A house 40 wide and 100 high: its roof begins 40 down. Its area is 0.8 of its box."""
HILL = "M 0 60 L 0 30 L 60 0 L 100 45 L 100 60 Z"


def with_art(job: Job, path: str, **fields: object) -> Job:
    drawing = art(groups=(ArtGroup("a", "outline", "cut", (path, box_path(4, 4, 18, 60))),), id="drawn", width=40.0)
    return changed(job, dress__art=(drawing,), **fields)


JOBS: dict[str, Callable[[], Job]] = {
    "hinged shape": lambda: with_art(
        quick_job("5x5in", fold="hinged-shape"),
        HOUSE,
        construct__hinged_shape__shape="file",
        construct__hinged_shape__art="drawn",
    ),
    "money holder": lambda: with_art(
        quick_job("6x6in", fold="money-holder"),
        HOUSE,
        construct__money_holder__shape="file",
        construct__money_holder__art="drawn",
    ),
    "layer stack": lambda: with_art(
        attached(quick_job("5x7in"), "stack"), HOUSE, construct__stack__shape="file", construct__stack__art="drawn"
    ),
    "motif": lambda: with_art(
        quick_job("9x4in", fold="flap-row"),
        HOUSE,
        **{
            "construct__flap_row__motifs__motif-1__shape": "file",
            "construct__flap_row__motifs__motif-1__art": "drawn",
            "construct__flap_row__motifs__motif-1__cut": "whole",
        },
    ),
    "concertina": lambda: with_art(
        quick_job("4x6in", fold="concertina"),
        HILL,
        construct__concertina__top="file",
        construct__concertina__art="drawn",
    ),
}


def piece_area(plan: Plan, piece: str) -> float:
    found = plan.dress.piece(piece)
    assert found is not None
    return float(shapely.Polygon(found.outline).area)


@pytest.mark.parametrize("name", list(JOBS))
def test_a_good_job_is_not_stopped_and_a_missing_file_is(name: str) -> None:
    job = JOBS[name]()
    assert "construct.outline-missing" not in codes(make_plan(job))
    gone = make_plan(changed(job, dress__art=()))
    found = finding(gone, "construct.outline-missing")
    assert found.severity == "stop"
    assert "construct.outline-missing" not in codes(make_plan(apply_changes(gone.job, found.mends[0].changes)))


def test_a_house_hinged_on_itself_is_as_high_as_two_of_it() -> None:
    """Its lower edge is the whole width, so that edge is the fold: two houses of 5 x 5 in, 0.8 of their boxes."""
    plan = make_plan(JOBS["hinged shape"]())
    base = plan.dress.pieces[0]
    assert (base.width.value, base.height.value) == pytest.approx((127, 254))
    assert piece_area(plan, "base") == pytest.approx(2 * 0.8 * 127 * 127)


def test_front_and_back_of_a_money_holder_share_the_files_outline() -> None:
    plan = make_plan(JOBS["money holder"]())
    side = 6 * 25.4
    assert piece_area(plan, "base") == pytest.approx(0.8 * side * side)
    assert piece_area(plan, "back") == pytest.approx(0.8 * side * side)


def test_layers_of_a_file_are_set_in_evenly_all_round() -> None:
    plan = make_plan(JOBS["layer stack"]())
    layers = [plan.dress.piece(f"stack-{number}") for number in (1, 2)]
    outer, inner = (shapely.Polygon(piece.outline) for piece in layers if piece is not None)
    step = plan.job.construct.stack.step.mm
    assert inner.area == pytest.approx(outer.buffer(-step, join_style="mitre").area, rel=0.02)


def test_a_motif_of_a_file_is_cut_out() -> None:
    plan = make_plan(JOBS["motif"]())
    motif = plan.job.construct.flap_row.motifs[0]
    holes = [line for line in plan.dress.pieces[0].lines if line.role == "hole"]
    areas = [shapely.Polygon(line.paths[0]).area for line in holes]
    assert any(each == pytest.approx(0.8 * motif.width.mm * motif.height.mm, rel=1e-3) for each in areas)


def test_the_front_panels_upper_edge_is_the_hill_of_the_file() -> None:
    """Half as high at its left end, highest at six tenths; three quarters down at its right end."""
    plan = make_plan(JOBS["concertina"]())
    panel = plan.construct.tree.panels[0].outline
    rise = plan.job.construct.concertina.rise.mm
    top = min(y for _, y in panel)
    width = max(x for x, _ in panel)
    at = {round(x / width, 3): y - top for x, y in panel if y - top <= rise + 1e-6}
    assert at[0.0] == pytest.approx(rise * 30 / 45)
    assert at[0.6] == pytest.approx(0, abs=0.01)
    assert at[1.0] == pytest.approx(rise)
    other = plan.construct.tree.panels[1].outline
    assert len(other) == 4  # the panels behind it stay straight
    every = make_plan(apply_changes(plan.job, [Change("construct.concertina.edge_of", "all")]))
    assert len(every.construct.tree.panels[1].outline) > 20
    hinge = every.construct.tree.hinges[0]
    assert hinge.start[1] == pytest.approx(rise, abs=0.05)  # neighbours meet where the hill ends


def test_an_upper_edge_is_told_at_equal_steps() -> None:
    edge = upper_edge(((0.0, 60.0), (0.0, 30.0), (60.0, 0.0), (100.0, 45.0), (100.0, 60.0)), 50.0)
    assert edge[0] == pytest.approx((0, 30), abs=1e-3)
    assert edge[-1] == pytest.approx((50, 45), abs=1e-3)
    assert min(y for _, y in edge) == pytest.approx(0, abs=0.2)
