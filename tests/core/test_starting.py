"""Starting from an envelope or from a sheet."""

from __future__ import annotations

import pytest

from dechirer.core.job.edit import apply_changes
from dechirer.core.paper.standards import find_size
from dechirer.core.plan import make_plan
from dechirer.core.starting import StartError, fit_envelope, fit_sheet, list_envelopes
from tests.helpers import IN, changed, quick_job, typed


@pytest.mark.parametrize("envelope", [size.name for size in list_envelopes()])
@pytest.mark.parametrize("units", ["in", "mm"])
def test_the_largest_card_for_an_envelope_goes_in_and_hardly_larger_ones_do_not(envelope: str, units: str) -> None:
    size = find_size(envelope)
    assert size is not None
    job = changed(quick_job("5x7in", liner="1/16"), units=units)
    job = apply_changes(job, fit_envelope(job, size))
    plan = make_plan(job)
    bulk = plan.construct.closed.thickness.value
    assert plan.construct.bought is not None
    assert plan.construct.bought.width * plan.construct.bought.height <= size.width_mm * size.height_mm + 1e-6
    spare = sorted((size.width_mm, size.height_mm))
    card = sorted((job.brief.width.mm, job.brief.height.mm))
    for inner, outer in zip(card, spare, strict=True):
        assert outer - inner - bulk + 1e-6 >= 2.0  # room to slide in
        assert outer - inner - bulk < 2.0 + IN / 16 + 1e-6  # and not a sixteenth more
    assert job.brief.width.mm <= job.brief.height.mm  # upright as it was


def test_a_lying_card_stays_lying() -> None:
    size = find_size("C6")
    assert size is not None
    job = quick_job("6x4in", fold="top-fold")
    job = apply_changes(job, fit_envelope(job, size))
    assert job.brief.width.mm > job.brief.height.mm


@pytest.mark.parametrize("fold", ["side-fold", "top-fold", "gate", "hinged-shape"])
@pytest.mark.parametrize("number", [1, 2, 4])
def test_the_largest_card_of_which_so_many_fit_a_sheet(fold: str, number: int) -> None:
    job = changed(quick_job("4x4in", fold=fold, liner="1/16"), units="mm")
    job = apply_changes(job, fit_sheet(job, number))
    assert job.brief.width.mm == pytest.approx(job.brief.height.mm)
    plan = make_plan(changed(job, brief__count=number))
    bases = [layout for layout in plan.lay.layouts if layout.paper == "card"]
    assert [(layout.repeats, len(layout.placements)) for layout in bases] == [(1, number)]
    larger = typed(job, "brief.width", f"{job.brief.width.mm + 1} x {job.brief.height.mm + 1} mm")
    after = make_plan(changed(larger, brief__count=number))
    assert after.lay.unplaced or sum(each.repeats for each in after.lay.layouts if each.paper == "card") > 1


def test_one_side_fold_of_five_by_seven_proportions_fills_the_mat() -> None:
    # Plain arithmetic: 10 : 7 on 11.5 x 11.5 in gives 11.5 in of flat width, 5 3/4 in folded.
    job = quick_job("5x7in")
    job = apply_changes(job, fit_sheet(job, 1))
    assert job.brief.width.mm / IN == pytest.approx(5.75)


def test_what_cannot_be_is_said() -> None:
    with pytest.raises(StartError, match="500"):
        fit_sheet(quick_job("5x7in"), 500)
    tiny = find_size("C7")
    assert tiny is not None
    thick = typed(quick_job("5x7in"), "brief.papers.card.thickness", "5 mm")
    thick = typed(changed(thick, brief__construction="concertina"), "construct.concertina.panels", "40")
    with pytest.raises(StartError, match="C7"):
        fit_envelope(thick, tiny)
