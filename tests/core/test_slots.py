"""Bought blanks: in the slots of a card mat, in the corner of a plain one, set by the table of copies; places are read
back from the files by a library that is not ours."""

from __future__ import annotations

import io
import xml.etree.ElementTree as ET
from typing import Any

import pytest
import svgelements
from msgspec.structs import replace

from dechirer.core.audit import audit
from dechirer.core.brief.card_mats import make_card_mat, make_long_mat
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job, JobError, from_plain, to_plain
from dechirer.core.lay.decisions import keep_trial
from dechirer.core.lay.mat import MatLayout
from dechirer.core.learned import Learned, place_key
from dechirer.core.paper.blanks import load_blanks
from dechirer.core.plan import Plan, make_plan
from dechirer.core.press.records import CornerTrial
from dechirer.formats.outputs.mat_svg import write_mat_svg
from dechirer.formats.outputs.plan_json import make_plan_record
from dechirer.formats.trial_cut import write_trial_cut
from tests.blanks import CATALOGUE, INSERT, PEN, SLOT, base_of, blank_job, in_words, on_mat, rows_of, small_slots
from tests.helpers import changed, codes, finding, typed

IN = 25.4
SLITS = "slits"


def loads(plan: Plan) -> list[MatLayout]:
    return [layout for layout in plan.lay.layouts if layout.is_blank]


def read_boxes(layout: MatLayout, plan: Plan, part: str) -> list[tuple[float, float, float, float]]:
    """The boxes of a mat's paths whose id has a part, in mm, as svgelements reads the file."""
    drawn = svgelements.SVG.parse(io.BytesIO(write_mat_svg(layout, plan)), ppi=25.4)
    found: dict[str, list[Any]] = {}
    for path in drawn.elements(lambda each: isinstance(each, svgelements.Path)):
        if part in path.id:
            found.setdefault(path.id.split(f"-{part}")[0], []).append(path.bbox())
    return [
        (min(b[0] for b in own), min(b[1] for b in own), max(b[2] for b in own), max(b[3] for b in own))
        for own in found.values()
    ]


def middles(boxes: list[tuple[float, float, float, float]]) -> list[tuple[float, float]]:
    return [((left + right) / 2, (top + bottom) / 2) for left, top, right, bottom in boxes]


SIZES = [("a2-side", 4.25, 5.5), ("a7-side", 5.0, 7.0), ("a2-top", 4.25, 5.5)]


@pytest.mark.parametrize(("blank", "wide", "high"), SIZES)
def test_each_front_lies_in_its_slot_up_to_the_upper_line(blank: str, wide: float, high: float) -> None:
    plan = make_plan(in_words(blank_job(blank)))
    (load,) = loads(plan)
    assert (load.repeats, len(load.placements)) == (1, 4)
    assert (load.sheet.width, load.sheet.height) == pytest.approx((wide * IN, high * IN))  # a top fold lies turned
    root = ET.fromstring(write_mat_svg(load, plan))
    assert (root.get("width"), root.get("height")) == ("304.8mm", "400mm")
    # The insert lies in the middle of the front, so that is where the middle of its four slits is (geometry).
    wanted = [(x + wide * IN / 2, y + high * IN / 2) for y in (12.0, 206.0) for x in (14.0, 158.0)]
    for found, right in zip(sorted(middles(read_boxes(load, plan, SLITS))), sorted(wanted), strict=True):
        assert found == pytest.approx(right, abs=0.02)
    assert plan.stops == 0
    assert not audit(plan, again=True)


def test_eight_cards_of_four_designs_are_one_file_loaded_twice() -> None:
    job = changed(in_words(blank_job(count=8)))
    plan = make_plan(job)
    (load,) = loads(plan)
    assert (load.repeats, [placed.piece.name for placed in load.placements]) == (
        2,
        ["base, Wren", "base, Gull", "base, Dune", "base, Kite"],
    )
    assert plan.run.changes.value <= 1
    assert plan.run.minutes.value < 8 * 8  # under 8 minutes a card, as makers reckon it (common practice)


def test_a_load_on_the_small_machine_takes_one_card_at_a_time() -> None:
    (*found,) = loads(make_plan(in_words(blank_job(machine="wren-card"))))
    assert [(each.sheet.mat.id, len(each.placements)) for each in found] == [("one-card", 1)] * 4


def test_the_table_sets_blank_insert_pen_and_slot() -> None:
    job = blank_job()
    own = base_of(job)
    job = rows_of(
        job,
        (INSERT, PEN, SLOT),
        ("Wren", "", "navy", "3"),
        ("Gull", own, "", "1"),
        ("Dune", "", "#aa2200", ""),
        ("Kite", own, "", ""),
    )
    plan = make_plan(job)
    (load,) = loads(plan)
    rows = plan.slots_of(load)
    name, liner = job.brief.paper(own).name, job.brief.paper("liner-paper").name
    assert [(row.slot, row.design, row.insert) for row in rows] == [
        (1, "base, Gull", name),
        (2, "base, Dune", liner),
        (3, "base, Wren", liner),
        (4, "base, Kite", name),
    ]
    assert {piece.paper: piece.count for piece in plan.whole.pieces if piece.id.startswith("insert")} == {
        "liner-paper": 2,
        own: 2,
    }
    strokes = {
        group.get("stroke")
        for group in ET.fromstring(write_mat_svg(load, plan)).iter()
        if group.get("data-operation") == "pen"
    }
    assert {"#182c60", "#aa2200"} <= strokes  # navy as people call it, and one typed as it is
    record = next(each for each in make_plan_record(plan)["mats"] if each["slots"])
    assert [each["slot"] for each in record["slots"]] == [1, 2, 3, 4]
    assert from_plain(to_plain(job)) == job


def test_a_blank_that_comes_slit_is_not_slit_again() -> None:
    plan = make_plan(in_words(blank_job("a2-slits")))
    (load,) = loads(plan)
    assert {each.operation for mat in plan.run.mats if mat.layout is load for each in mat.passes} == {"pen"}
    assert read_boxes(load, plan, SLITS) == []


def test_without_slots_the_front_lies_in_the_corner_turned_by_half() -> None:
    plan = make_plan(on_mat(in_words(blank_job()), "main"))
    found = loads(plan)
    assert len(found) == 4
    # Its centre lies at (2.125, 2.75) in from the mat's corner (trade.md, plain geometry).
    assert middles(read_boxes(found[0], plan, SLITS)) == [pytest.approx((2.125 * IN, 2.75 * IN), abs=0.02)]
    name = next(placed for placed in found[0].placements)
    assert (name.half, name.turned) == (True, False)


def test_a_trial_cut_moves_what_is_cut_in_the_corner_the_other_way() -> None:
    job = on_mat(in_words(blank_job()), "main")
    machine = job.brief.machine.name
    tried = apply_changes(job, [keep_trial(job.lay, CornerTrial("corner", "2026-03-01", machine, "main", 0.8, -0.5))])
    plan = make_plan(tried)
    assert "lay.corner-untried" not in codes(plan)
    place = middles(read_boxes(loads(plan)[0], plan, SLITS))[0]
    assert place == pytest.approx((2.125 * IN - 0.8, 2.75 * IN + 0.5), abs=0.02)
    elsewhere = changed(tried, brief__machine__name="another machine")
    assert "lay.corner-untried" in codes(make_plan(elsewhere))


def test_a_corner_that_was_learned_is_cut_to_unless_a_newer_trial_says_otherwise() -> None:
    """Learned to lie 2 mm to the right and 1 mm higher: the file is cut that much to the left and lower."""
    job = on_mat(in_words(blank_job()), "main")
    machine = job.brief.machine.name
    value = Learned("x", "", 0.0, 0.0, 0.0, 5, 0.1, "2026-05-02", 0.0, "mm")
    both = tuple(
        replace(value, key=place_key(machine, "main", side), value=off)
        for side, off in (("right", 2.0), ("down", -1.0))
    )
    taught = changed(job, keep__learned=both)

    def moved(job: Job) -> tuple[float, float]:
        plan = make_plan(job)
        place = middles(read_boxes(loads(plan)[0], plan, SLITS))[0]
        return place[0] - 2.125 * IN, place[1] - 2.75 * IN

    assert moved(taught) == pytest.approx((-2.0, 1.0), abs=0.02)
    assert "lay.corner-untried" not in codes(make_plan(taught))
    assert moved(changed(taught, keep__off=(both[0].key,))) == pytest.approx((0, 0), abs=0.02)
    newer = CornerTrial("trial", "2026-06-01", machine, "main", 0.5, 0.5)
    assert moved(changed(taught, lay__trials=(newer,))) == pytest.approx((-0.5, -0.5), abs=0.02)
    older = replace(newer, made="2026-01-01")
    assert moved(changed(taught, lay__trials=(older,))) == pytest.approx((-2.0, 1.0), abs=0.02)


def test_the_cross_of_the_trial_cut_is_where_the_middle_of_the_front_should_be() -> None:
    mat = blank_job().brief.machine.main_mat
    drawn = svgelements.SVG.parse(io.BytesIO(write_trial_cut(mat, 107.95, 139.7)), ppi=25.4)
    boxes = [path.bbox() for path in drawn.elements(lambda each: isinstance(each, svgelements.Path))]
    assert len(boxes) == 2
    for place in middles(boxes):
        assert place == pytest.approx((53.975, 69.85), abs=1e-4)


def test_what_is_run_on_the_back_is_not_loaded_in_slots() -> None:
    job = blank_job()
    job = changed(job, dress__items=tuple(changed_face(each) for each in job.dress.items))
    (load,) = loads(make_plan(job))
    assert (load.sheet.mat.id, load.sheet.slots) == ("main", ())


def changed_face(each: Any) -> Any:
    from msgspec.structs import replace

    return replace(each, face="back")


def test_slots_that_are_too_small_are_said_and_the_plain_mat_is_taken() -> None:
    plan = make_plan(small_slots(in_words(blank_job())))
    assert finding(plan, "lay.no-slot").title.endswith("takes it")
    assert loads(plan)[0].sheet.mat.id == "main"


@pytest.mark.parametrize("known", load_blanks(), ids=lambda each: each.id)
def test_every_blank_of_the_catalogue_makes_a_card_that_fits_it(known: Any) -> None:
    from dechirer.core.starting_blank import take_bought
    from tests.helpers import quick_job

    job = apply_changes(quick_job("6x6in"), take_bought(quick_job("6x6in"), known))
    plan = make_plan(job)
    base = plan.whole.pieces[0]
    assert base.blank
    assert (base.width.value, base.height.value) == pytest.approx(known.flat, abs=0.05)
    assert "brief.blank-disagrees" not in codes(plan)
    # The envelope is larger than the card each way (common practice: about 1/4 in).
    assert all(2.0 <= wide - own <= 20.0 for wide, own in zip(known.envelope, (known.width, known.height), strict=True))


def test_a_paper_bought_in_another_size_stops_the_job() -> None:
    job = typed(blank_job(), "brief.width", "5 in")
    assert finding(make_plan(job), "brief.blank-disagrees").severity == "stop"


@pytest.mark.parametrize(
    ("slots", "words"),
    [
        ([[10, 10, 50, 50], [30, 30, 50, 50]], "lie on each other"),
        ([[160, 10, 80, 50]], "reaches past the mat"),
    ],
)
def test_slots_that_cannot_be_are_refused(slots: list[list[float]], words: str) -> None:
    plain = to_plain(small_slots(blank_job()))
    keys = ("left", "top", "width", "height")
    plain["brief"]["machine"]["mats"][0]["slots"] = [dict(zip(keys, each, strict=True)) for each in slots]
    with pytest.raises(JobError, match=words):
        from_plain(plain)


def test_the_good_job_is_left_alone() -> None:
    job: Job = in_words(blank_job())
    assert not set(codes(make_plan(job))) & set(CATALOGUE)


@pytest.mark.parametrize(
    ("across", "down", "size"), [(1, 1, (127.0, 177.8)), (2, 2, (127.0, 177.8)), (2, 3, (108.0, 140.0))]
)
def test_a_card_mat_is_laid_out_from_a_few_numbers(across: int, down: int, size: tuple[float, float]) -> None:
    machine = blank_job().brief.machine
    mat = make_card_mat(machine, across, down, size).as_mat
    assert len(mat.slots) == across * down
    assert all(mat.reach.holds(slot) for slot in mat.slots)
    job = changed(in_words(blank_job()), brief__machine__mats=(make_card_mat(machine, across, down, size),))
    load = loads(make_plan(job))[0]
    assert len(load.placements) == min(4, across * down)
    with pytest.raises(ValueError, match="do not lie beside"):
        make_card_mat(machine, 3, 1, (127.0, 177.8))
    long = make_long_mat(machine)
    assert long.id != machine.mats[0].id
