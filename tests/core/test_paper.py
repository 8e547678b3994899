from __future__ import annotations

import pytest

from dechirer.core.paper.weight import WeightError, parse_weight
from dechirer.core.plan import make_plan
from tests.helpers import finding, mended, quick_job, typed


@pytest.mark.parametrize(
    ("text", "gsm"),
    [
        # The basis sizes of the trade (published), 500 sheets; values in the trade's own rounding.
        ("65 lb cover", 176),
        ("80 lb cover", 216),
        ("100 lb cover", 270),
        ("110 lb index", 199),
        ("300 gsm", 300),
        ("160 g/m2", 160),
    ],
)
def test_weights_in_grams(text: str, gsm: float) -> None:
    assert parse_weight(text).gsm == pytest.approx(gsm, abs=0.5)


def test_110_lb_cover_is_298_as_commonly_quoted() -> None:
    # Common practice quotes 298 (2.71 g per pound); the exact sum 110 x 453.59237 / (500 x 20 x 26 in) is 297.45.
    assert parse_weight("110 lb cover").gsm == pytest.approx(298, abs=1)
    assert parse_weight("110 lb cover").gsm == pytest.approx(110 * 453.59237 / (500 * 0.508 * 0.6604))


@pytest.mark.parametrize(
    "text", ["", "heavy", "110", "110 lb velvet", "300 gsm cover", "5000 gsm", "0 gsm", "-80 lb cover"]
)
def test_what_is_no_weight(text: str) -> None:
    with pytest.raises(WeightError):
        parse_weight(text)


def test_pounds_without_a_basis_are_a_question_with_answers() -> None:
    job = quick_job(weight="110 lb")
    found = finding(make_plan(job), "brief.pounds-without-basis")
    assert "298" in found.reason.replace("297", "298")
    assert "199" in found.reason
    plan = mended(job, "brief.pounds-without-basis", 1)
    assert plan.figures["paper.card.grammage"].value == pytest.approx(199, abs=0.5)


def test_a_measured_thickness_wins_over_the_estimate() -> None:
    job = quick_job()
    guessed = make_plan(job).construct.closed.thickness.value
    plan = make_plan(typed(job, "brief.papers.card.thickness", "0.5 mm"))
    assert guessed == pytest.approx(2 * 297.45 * 1.3 / 1000, abs=0.01)
    assert plan.construct.closed.thickness.value == pytest.approx(1.0)
    assert "measured" in plan.construct.closed.thickness.explain("mm")
