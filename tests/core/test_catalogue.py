"""Every check is provoked once, says what a maker needs, and its mends put it right; and files from strangers."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import partial
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from dechirer.core.brief.machine import load_machines
from dechirer.core.construct.envelopes.bought import Bought
from dechirer.core.decide.refusal import FieldError
from dechirer.core.finding import SEVERITIES, sort_findings, verdict_of
from dechirer.core.job.edit import apply_changes, find_slot, read_field, show_field
from dechirer.core.job.model import Job, JobError, from_plain, read_job_json, to_plain, write_job_json
from dechirer.core.lay.decisions import Pin, Recut
from dechirer.core.plan import make_plan
from dechirer.core.run.settings import Setting
from dechirer.demo import DEMOS, load_demo_job
from tests.card_files import BAD, FILES, box, cuts, svg, taken
from tests.helpers import add, attached, changed, finding, quick_job, typed


def pinned(*places: tuple[float, float]) -> Job:
    return changed(
        quick_job("3x3in", fold="flat", count=2), lay__pins=tuple(Pin("card", 0, "base", x, y) for x, y in places)
    )


def perforated(land: str, dash: str, size: str = "44.6 x 44.6 mm") -> Job:
    job = changed(quick_job(size), construct__fold__kind="perforate")
    return typed(typed(job, "construct.fold.land", land), "construct.fold.dash", dash)


def with_all(job: Job, *adders: Callable[[Job], tuple[Any, ...]]) -> Job:
    for adder in adders:
        job = apply_changes(job, adder(job))
    return job


def with_stack(job: Job) -> Job:
    return apply_changes(job, add("stack", job, "front"))


def small_sheet(job: Job, sheet: str) -> Job:
    return typed(job, "brief.papers.card.sheet", sheet)


GRAIN = {"brief__papers__card__grain": "short"}


CATALOGUE: dict[str, Callable[[], Job]] = {
    "brief.blank-disagrees": lambda: typed(quick_job("6x4in", fold="top-fold"), "brief.blank", "5.5 x 8"),
    "brief.pounds-without-basis": lambda: quick_job(weight="110 lb"),
    "brief.american-namesake": lambda: typed(quick_job(), "brief.width", "a7"),
    "construct.liner-on-flat-card": lambda: quick_job(fold="flat", liner="1/16"),
    "construct.liner-not-smaller": lambda: typed(quick_job(liner="1/16"), "construct.liner.reveal", "0"),
    "construct.liner-vanished": lambda: typed(quick_job("2x3in", liner="1/16"), "construct.liner.reveal", "2"),
    "construct.fold-past-edge": lambda: typed(quick_job(), "construct.fold.ends", "-2 mm"),
    "construct.perforation-without-land": lambda: perforated("0", "5 mm"),
    "construct.perforation-without-dash": lambda: perforated("5 mm", "50 mm"),
    "construct.dash-at-edge": lambda: perforated("0.2 mm", "2 mm"),
    "construct.layer-without-face": lambda: changed(
        apply_changes(quick_job(), add("layers", quick_job(), "inside left")), brief__construction="top-fold"
    ),
    "construct.layer-size": lambda: typed(
        apply_changes(quick_job(), add("layers", quick_job(), "front")), "construct.layers.layer-1.border", "-1 mm"
    ),
    "construct.pocket-size": lambda: typed(
        apply_changes(quick_job(), add("pockets", quick_job(), "inside right")),
        "construct.pockets.pocket-1.width",
        "9 in",
    ),
    "construct.window-near-edge": lambda: typed(
        with_all(quick_job(), partial(add, "window")), "construct.window.width", "4.7"
    ),
    "construct.backer-over-edge": lambda: typed(
        with_all(quick_job(), partial(add, "window")), "construct.window.margin", "1.5 in"
    ),
    "construct.slit-near-edge": lambda: typed(
        with_all(quick_job(), partial(add, "slits")), "construct.slits.height", "6.9"
    ),
    "construct.slit-catch": lambda: typed(
        with_all(quick_job(), partial(add, "slits")), "construct.slits.catch", "1.2 mm"
    ),
    "construct.slits-meet": lambda: typed(
        with_all(quick_job(), partial(add, "slits")), "construct.slits.catch", "50 mm"
    ),
    "construct.door-narrow": lambda: typed(quick_job("40 x 90 mm", fold="gate"), "construct.gate.gap", "10 mm"),
    "construct.colours-alike": lambda: changed(
        attached(quick_job(), "slits"),
        construct__slits__paper="card",
        **{"brief__papers__liner-paper__colour": "#303060"},
    ),
    "construct.strip-narrow": lambda: typed(
        typed(attached(quick_job(), "slits", "window"), "construct.window.width", "62.8 mm"),
        "construct.window.height",
        "93 mm",
    ),
    "construct.flap-strip-narrow": lambda: typed(
        quick_job("220x80mm", fold="flap-row"), "construct.flap_row.strip", "1 mm"
    ),
    "construct.sections-not-joined": lambda: changed(taken(*FILES["side fold"]), construct__from_file__joined=True),
    "construct.section-tab": lambda: changed(taken(*FILES["three sections"]), construct__from_file__joined=True),
    "construct.outline-missing": lambda: changed(
        quick_job("5x5in", fold="hinged-shape"), construct__hinged_shape__shape="file"
    ),
    "construct.file-missing": lambda: quick_job("5x7in", fold="from-file"),
    **{code: (lambda data=data: taken("card.svg", data)) for code, data in BAD.items()},
    "construct.severed": lambda: taken("card.svg", svg(cuts(box(0, 0, 200, 150), "M 100 0 V 150"))),
    "construct.file-size": lambda: typed(taken(*FILES["side fold"]), "brief.width", "80 mm"),
    "construct.closure-short": lambda: changed(
        attached(quick_job("4x4in"), "envelope"), construct__envelope__style="petal"
    ),
    "construct.hinge-not-asked": lambda: typed(
        changed(quick_job("4x4in", fold="hinged-shape"), construct__hinged_shape__shape="hexagon"),
        "construct.hinged_shape.hinge",
        "1.2 in",
    ),
    "construct.hinge-narrow": lambda: typed(
        quick_job("5x5in", fold="hinged-shape"), "construct.hinged_shape.hinge", "1/2"
    ),
    "construct.hinge-too-wide": lambda: typed(
        quick_job("5x5in", fold="hinged-shape"), "construct.hinged_shape.hinge", "6"
    ),
    "construct.tab-narrow": lambda: typed(quick_job("5x5in", fold="concertina"), "construct.concertina.tab", "3 mm"),
    "construct.tab-over-fold": lambda: typed(
        quick_job("1x3in", fold="concertina"), "construct.concertina.tab", "30 mm"
    ),
    "construct.steps-too-high": lambda: typed(quick_job("3x3in", fold="concertina"), "construct.concertina.step", "1"),
    "construct.will-not-stand": lambda: quick_job("3x3in", fold="concertina", weight="80 lb text"),
    "construct.flaps-apart": lambda: changed(
        with_all(quick_job("4x4in", fold="flat"), partial(add, "envelope")), construct__envelope__style="hexagon"
    ),
    "construct.petals-not-square": lambda: changed(
        with_all(quick_job("3x4in", fold="flat"), partial(add, "envelope")), construct__envelope__style="petal"
    ),
    "construct.cuts-cross": lambda: with_all(quick_job("5x4in", fold="money-holder"), partial(add, "window")),
    "construct.straps-near-edge": lambda: quick_job("2x3in", fold="money-holder"),
    "construct.note-does-not-fit": lambda: typed(
        quick_job("5x4in", fold="money-holder"), "construct.money_holder.clearance", "-2 mm"
    ),
    "construct.glue-zone": lambda: changed(
        quick_job("4x4in", fold="money-holder"), construct__money_holder__holder="dome"
    ),
    "construct.small-parts": lambda: changed(
        quick_job("6x6in", fold="money-holder"), construct__money_holder__holder="dome"
    ),
    "construct.holder-thick": lambda: quick_job("5x4in", fold="money-holder"),
    "construct.motifs-too-close": lambda: quick_job("4x3in", fold="flap-row"),
    "construct.row-too-high": lambda: quick_job("9x2in", fold="flap-row"),
    "construct.no-flap": lambda: typed(quick_job("9x3in", fold="flap-row"), "construct.flap_row.strip", "21 mm"),
    "construct.flap-small": lambda: typed(
        quick_job("9x3in", fold="flap-row"), "construct.flap_row.motifs.motif-2.width", "12 mm"
    ),
    "construct.order-impossible": lambda: changed(
        quick_job("4x5in", fold="lock-gate"), construct__lock_gate__first="right"
    ),
    "construct.strap-wider-than-slot": lambda: typed(
        quick_job("4x5in", fold="lock-gate"), "construct.lock_gate.clearance", "-2 mm"
    ),
    "construct.lock-slips": lambda: typed(quick_job("4x5in", fold="lock-gate"), "construct.lock_gate.head", "14 mm"),
    "construct.neck-narrow": lambda: typed(quick_job("4x5in", fold="lock-gate"), "construct.lock_gate.neck", "4 mm"),
    "construct.slot-covered": lambda: typed(
        quick_job("4x5in", fold="lock-gate"), "construct.lock_gate.overlap", "20 mm"
    ),
    "construct.slot-near-edge": lambda: typed(
        typed(quick_job("4x5in", fold="lock-gate"), "construct.lock_gate.set_in", "3 mm"),
        "construct.lock_gate.overlap",
        "1 mm",
    ),
    "construct.flap-covers-lock": lambda: typed(
        quick_job("4x5in", fold="lock-gate"), "construct.lock_gate.flap", "3 in"
    ),
    "construct.flap-too-shallow": lambda: typed(
        quick_job("4x5in", fold="flap-lock"), "construct.flap_lock.flap", "45 mm"
    ),
    "construct.halves-narrow": lambda: typed(
        typed(quick_job("4x5in", fold="flap-lock"), "construct.flap_lock.neck", "7 mm"),
        "construct.flap_lock.breadth",
        "12 mm",
    ),
    "construct.neck-too-long": lambda: typed(quick_job("4x5in", fold="flap-lock"), "construct.flap_lock.neck", "30 mm"),
    "construct.not-square": lambda: typed(quick_job("4x5in", fold="lock-gate"), "construct.lock_gate.head", "3 in"),
    "construct.strap-too-long": lambda: typed(quick_job("4x5in", fold="collar"), "construct.collar.tuck", "4 in"),
    "construct.no-room-for-flaps": lambda: typed(quick_job("4x6in", fold="collar"), "construct.collar.strap", "3.8 in"),
    "construct.layer-hidden": lambda: apply_changes(
        typed(quick_job("4x6in", fold="concertina"), "construct.concertina.step", "1/2"),
        add("layers", quick_job("4x6in", fold="concertina"), "panel 3"),
    ),
    "construct.peel-unsafe": lambda: typed(with_all(quick_job(), partial(add, "peel")), "construct.peel.width", "4.4"),
    "construct.peel-fine": lambda: typed(with_all(quick_job(), partial(add, "peel")), "construct.peel.height", "5 mm"),
    "construct.stack-vanishes": lambda: typed(with_stack(quick_job()), "construct.stack.step", "40 mm"),
    "construct.stack-steps": lambda: typed(with_stack(quick_job()), "construct.stack.step", "2 mm"),
    "construct.card-larger-than-envelope": lambda: changed(quick_job(), construct__bought=Bought("C6")),
    "construct.envelope-unknown": lambda: changed(quick_job(), construct__bought=Bought("nowhere")),
    "lay.turned-to-fit": lambda: changed(
        with_all(quick_job(fold="flat"), partial(add, "envelope")), construct__envelope__style="hexagon"
    ),
    "construct.postage": lambda: with_all(quick_job("4x4in"), partial(add, "envelope")),
    "lay.piece-too-large": lambda: small_sheet(quick_job(), "8 x 9 in"),
    "lay.sheet-differs": lambda: typed(quick_job("3x3in"), "lay.loadings.card.sheet", "A4"),
    "lay.too-few-sheets": lambda: typed(quick_job(count=9), "brief.papers.card.on_hand", "3"),
    "lay.sheet-larger-than-mat": lambda: small_sheet(quick_job(), "12 x 24 in"),
    "lay.piece-off-sheet": lambda: pinned((10, 10), (10, 270)),
    "lay.pieces-overlap": lambda: pinned((10, 10), (40, 40)),
    "lay.pieces-too-close": lambda: pinned((10, 10), (10, 87)),
    "lay.fold-across-grain": lambda: changed(small_sheet(quick_job("4x6in"), "9 x 11 in"), **GRAIN),
    "lay.recut": lambda: changed(quick_job(count=4), lay__recut=(Recut("base", 2),)),
    "run.tool-missing": lambda: changed(quick_job(), run__tools=()),
    "run.blade-shallow": lambda: changed(quick_job(), run__settings=(Setting("card", "thin-card-blade", depth=0.1),)),
    "run.kiss-untested": lambda: attached(quick_job("5x7in"), "peel"),
    "run.tool-would-spare": lambda: changed(
        quick_job(liner="1/16", count=4), run__tools=("thin-card-blade", "creasing-wheel"), run__score_passes=2
    ),
    "run.single-score": lambda: quick_job(),
}
"""A job for each code of a finding."""

NO_MEND = {
    "run.kiss-untested",
    "construct.file-overlap",
    "construct.file-curved",
    "construct.file-stray",
    "construct.small-parts",
    "construct.strip-narrow",
    "construct.holder-thick",
    "lay.turned-to-fit",
    "construct.will-not-stand",
    "construct.postage",
    "lay.too-few-sheets",
    "lay.sheet-larger-than-mat",
}
"""What only the maker can put right: what to move, other paper, the post, more sheets, a knife."""


@pytest.mark.parametrize("code", list(CATALOGUE))
def test_a_finding_says_what_is_wrong_and_why(code: str) -> None:
    found = finding(make_plan(CATALOGUE[code]()), code)
    assert found.severity in SEVERITIES
    assert found.station == code.split(".")[0]
    assert found.title
    assert not found.title.endswith(".")
    assert found.reason.endswith((".", "?"))
    assert found.element
    assert "None" not in found.title + found.reason + found.cost
    assert bool(found.mends) == (code not in NO_MEND)
    for mend in found.mends:
        assert 2 < len(mend.label) < 48


@pytest.mark.parametrize("code", [code for code in CATALOGUE if code not in NO_MEND])
def test_the_first_mend_puts_it_right(code: str) -> None:
    job = CATALOGUE[code]()
    found = finding(make_plan(job), code)
    after = make_plan(apply_changes(job, found.mends[0].changes))
    same = [each for each in after.findings if (each.code, each.element) == (code, found.element)]
    if code == "run.tool-missing":  # one tool at a time
        assert len(same) < 2
    else:
        assert not same, same[0].reason


def test_findings_are_sorted_and_judged() -> None:
    plan = make_plan(typed(changed(quick_job(liner="1/16"), run__tools=()), "construct.liner.reveal", "0"))
    severities = [each.severity for each in plan.findings]
    assert severities == sorted(severities, key=SEVERITIES.index)
    assert verdict_of(plan.findings) == "stop"
    assert verdict_of(each for each in plan.findings if each.severity == "note") == "clear"
    assert sort_findings(reversed(plan.findings))[0].severity == "stop"


# --- files from strangers ----------------------------------------------------------------------------------------

plain_values = st.recursive(
    st.none() | st.booleans() | st.integers(-(10**12), 10**12) | st.floats(allow_nan=False) | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=8), inner, max_size=3),
    max_leaves=6,
)


def places_in(plain: Any, here: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """The path of every value in plain data."""
    found = [here] if here else []
    items = plain.items() if isinstance(plain, dict) else enumerate(plain) if isinstance(plain, list) else ()
    for key, value in items:
        found += places_in(value, (*here, key))
    return found


@given(st.data(), st.sampled_from(list(DEMOS)), st.booleans())
def test_a_job_with_any_value_changed_or_gone_is_read_or_refused(data: st.DataObject, name: str, gone: bool) -> None:
    plain = json.loads(write_job_json(load_demo_job(name)))
    path = data.draw(st.sampled_from(places_in(plain)))
    here = plain
    for key in path[:-1]:
        here = here[key]
    if gone:
        del here[path[-1]]
    else:
        here[path[-1]] = data.draw(plain_values)
    try:
        job = read_job_json(json.dumps(plain).encode())
    except JobError as error:
        said = str(error)
    else:
        make_plan(job)  # whatever is accepted can be planned
        said = "read"
    assert said


@given(
    st.text(max_size=24),
    st.sampled_from(["brief.width", "brief.count", "brief.blank", "lay.margin", "construct.liner.reveal"]),
)
def test_any_text_typed_into_a_field_is_taken_or_refused(text: str, path: str) -> None:
    job = load_demo_job()
    try:
        changes = read_field(job, path, text)
    except FieldError as error:
        refused = str(error)
        changes = ()
    else:
        refused = ""
    assert bool(refused) != bool(changes)
    after = apply_changes(job, changes)
    assert read_job_json(write_job_json(after)) == after
    # What is then shown for editing means the same when it is typed again.
    again = apply_changes(after, read_field(after, path, show_field(after, path))) if show_field(after, path) else after
    assert again == after


@pytest.mark.parametrize("name", list(load_machines()))
def test_every_field_of_a_machine_has_a_spec_and_reads_its_own_text(name: str) -> None:
    job = changed(quick_job("2x3in"), brief__machine=load_machines()[name])
    machine = to_plain(job)["brief"]["machine"]
    paths = [f"brief.machine.{key}" for key, value in machine.items() if isinstance(value, float | str)]
    paths += [f"brief.machine.pace.{key}" for key in machine["pace"]]
    for path in paths:
        assert find_slot(job, path) is not None, path
        assert (
            apply_changes(job, read_field(job, path, show_field(job, path))).brief.machine.name
            == job.brief.machine.name
        )


def test_plain_data_is_checked_as_a_whole() -> None:
    plain = to_plain(quick_job())
    plain["brief"]["papers"] = [*plain["brief"]["papers"], plain["brief"]["papers"][0]]
    with pytest.raises(JobError, match="same id"):
        from_plain(plain)
