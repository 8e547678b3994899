"""The audit: silent on good jobs, and each thing it looks for is found when a plan is spoilt."""

from __future__ import annotations

from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from dechirer.core.audit import audit, audited
from dechirer.core.construct.specs import ATTACHMENTS, CONSTRUCTIONS, ENVELOPES
from dechirer.core.figure import Figure
from dechirer.core.formula import FormulaError, work_out
from dechirer.core.job.model import Job
from dechirer.core.plan import Plan, make_plan
from dechirer.demo import DEMOS, load_demo_job
from tests.core import test_catalogue, test_dress_catalogue
from tests.helpers import attached, changed, examples, quick_job

GOOD: dict[str, Callable[[], Job]] = {
    **{f"demo {name}": (lambda name=name: load_demo_job(name)) for name in DEMOS},
    **{kind: (lambda kind=kind: quick_job("5x7in", fold=kind)) for kind in CONSTRUCTIONS.ids()},
    **{
        spec.id: (lambda id=spec.id: attached(quick_job("5x7in"), id))
        for spec in ATTACHMENTS
        if spec.id not in ("liner", "bought")
    },
    **{
        f"envelope {style}": (
            lambda style=style: changed(
                attached(quick_job("5x5in"), "envelope"),
                construct__envelope__style=style,
                construct__envelope__inlay="liner-paper",
            )
        )
        for style in ENVELOPES.ids()
    },
}
DOUBTFUL = {**test_catalogue.CATALOGUE, **test_dress_catalogue.CATALOGUE}


@pytest.mark.parametrize("name", list(GOOD))
def test_a_good_job_passes(name: str) -> None:
    assert audit(make_plan(GOOD[name]()), again=True) == ()


@pytest.mark.parametrize("name", list(DOUBTFUL))
def test_what_no_check_stops_passes_the_audit(name: str) -> None:
    plan = make_plan(DOUBTFUL[name]())
    assert plan.stops or audit(plan) == ()
    assert audited(plan) is plan


def spoilt(plan: Plan, how: str) -> Plan:
    """A plan with one thing wrong that no check of a room would see."""
    layout, *others = plan.lay.layouts
    placed, *rest = layout.placements
    piece = placed.piece
    if how == "a line off its piece":
        moved = tuple(
            replace(line, paths=tuple(tuple((x + 40, y) for x, y in path) for path in line.paths))
            if line.role != "outline" and line.role != "fold"
            else line
            for line in piece.lines
        )
        bad = replace(layout, placements=(replace(placed, piece=replace(piece, lines=moved)), *rest))
        return with_lay(plan, replace(plan.lay, layouts=(bad, *others)))
    if how == "a line off the machine":
        far = replace(placed, to_sheet=replace(placed.to_sheet, e=placed.to_sheet.e - 60))
        return with_lay(plan, replace(plan.lay, layouts=(replace(layout, placements=(far, *rest)), *others)))
    if how == "a piece too few":
        fewer = replace(layout, repeats=layout.repeats + 1)
        return with_lay(plan, replace(plan.lay, layouts=(fewer, *others)))
    first, *pieces = plan.whole.pieces
    if how == "a fold told wrong":
        mark = first.folds[0]
        first = replace(first, folds=(replace(mark, at=replace(mark.at, value=mark.at.value + 3)), *first.folds[1:]))
    if how == "a size told wrong":
        first = replace(first, width=replace(first.width, value=first.width.value + 1))
    if how == "a line nowhere":
        line = first.lines[-1]
        first = replace(first, lines=(*first.lines[:-1], replace(line, paths=(((float("nan"), 0.0), *line.paths[0]),))))
    spoiled = replace(plan, whole=replace(plan.whole, pieces=(first, *pieces)))
    wrong = Figure("base.width", "base width", 3.0, formula="2 × {one}", inputs=(Figure("one", "one", 2.0),))
    if how == "a formula that gives something else":
        return replace(plan, figures={**plan.figures, "base.width": wrong})
    if how == "a value that is no number":
        return replace(plan, figures={**plan.figures, "base.width": replace(wrong, value=float("nan"))})
    return spoiled


def with_lay(plan: Plan, lay: object) -> Plan:
    return replace(plan, made={**plan.made, "lay": lay})


FOUND = {
    "a line off its piece": "leaves its piece",
    "a line off the machine": "outside what the machine reaches",
    "a piece too few": "times and wanted",
    "a fold told wrong": "from the left and lies at",
    "a size told wrong": "its width is told as",
    "a line nowhere": "lies nowhere",
    "a formula that gives something else": "its working gives 4.0000, and it says 3.0000",
    "a value that is no number": "it is not a number",
}


@pytest.mark.parametrize("how", list(FOUND))
def test_each_fault_is_found_and_stops_the_job(how: str) -> None:
    plan = make_plan(attached(quick_job("5x7in", count=4), "window"))
    bad = spoilt(plan, how)
    faults = audit(bad)
    assert any(FOUND[how] in fault.words for fault in faults), [fault.words for fault in faults]
    assert audited(bad).stops


def test_a_plan_that_differs_from_the_one_made_from_nothing_is_found() -> None:
    plan = make_plan(quick_job("5x7in"))
    other = make_plan(quick_job("5x6in"))
    assert any("from nothing" in fault.words for fault in audit(replace(plan, job=other.job), again=True))


@pytest.mark.parametrize(
    ("formula", "value"),
    [
        ("{a} − 2 × {b}", 6.0),
        ("({a} + √({a}² − {b}²)) ÷ 2", (10 + 96**0.5) / 2),
        ("√2 × {a} + 2 × {b}", 2**0.5 * 10 + 4),
        ("{a} + 6 mm", 16.0),
        ("{a} × π", 31.41592653589793),
    ],
)
def test_formulas_are_reckoned(formula: str, value: float) -> None:
    inputs = (Figure("a", "a", 10.0), Figure("b", "b", 2.0))
    assert work_out(Figure("f", "f", 0.0, formula=formula, inputs=inputs)) == pytest.approx(value)


@pytest.mark.parametrize("name", ["}{ card", "{", "a {b}", "{copies}", "}} {{ x", "card - ( 2", "nan inf"])
def test_names_with_braces_break_no_formula(name: str) -> None:
    job = changed(quick_job("5x7in", count=3, liner="1/16"), brief__papers__card__name=name)
    assert audit(make_plan(job)) == ()
    inputs = (Figure("a", name, 10.0), Figure("b", "b", 2.0))
    figure = Figure("f", "f", 6.0, formula="{" + name + "} − 2 × {b}", inputs=inputs)
    assert work_out(figure) == 6.0
    assert figure.sentence("mm") == f"10 mm ({name}) − 2 × 2 mm (b)"


@pytest.mark.parametrize("formula", ["{a} less a bit", "{c}", "1 ÷ 0", "", "__import__('os')", "{a} if {a} else 1"])
def test_words_are_no_formula(formula: str) -> None:
    with pytest.raises(FormulaError):
        work_out(Figure("f", "f", 0.0, formula=formula, inputs=(Figure("a", "a", 10.0),)))


@examples(40)
@given(st.sampled_from([name for name in GOOD if not name.startswith("demo")]), st.data())
def test_jobs_with_any_size_pass_or_are_stopped(name: str, data: st.DataObject) -> None:
    sizes = st.integers(40, 300).map(lambda mm: f"{mm} mm")
    from tests.helpers import typed

    job = GOOD[name]()
    for side in ("width", "height"):
        job = typed(job, f"brief.{side}", data.draw(sizes))
    plan = make_plan(job)
    assert plan.stops or audit(plan) == ()
