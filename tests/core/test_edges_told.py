"""What small rules come to at their edges: a strip with no room for marks, sizes near a thirty-second, foam for all."""

from __future__ import annotations

import pytest
from msgspec.structs import replace

from dechirer.core.brief.machine import load_machines
from dechirer.core.brief.printer import Printer
from dechirer.core.brought import NOISE, extent_of, without_small
from dechirer.core.construct.envelope_shapes import tapered
from dechirer.core.construct.envelopes.bought import Bought
from dechirer.core.decide.values import Size
from dechirer.core.dress.drawn import HAIRLINE_MM, draw_group
from dechirer.core.lay.closer import make_ask
from dechirer.core.lay.holes import waste_of
from dechirer.core.lay.sheet import ways_to_lie
from dechirer.core.length import exact_length, parse_length
from dechirer.core.plan import make_plan
from dechirer.core.press.decisions import Press, set_bleed
from dechirer.core.press.room import load_page
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.divide import divide
from dechirer.core.shape.outline import Box
from tests.dressing import art, box_path, dressed, item, stroked
from tests.helpers import attached, changed, codes, quick_job, typed


@pytest.mark.parametrize(("width", "height"), [("30 mm", "200 mm"), ("200 mm", "30 mm"), ("30 mm", "30 mm")])
def test_a_strip_of_paper_too_narrow_for_the_marks_has_none(width: str, height: str) -> None:
    machine = load_machines()["heron-12"]
    sheet = load_page(Size(parse_length(width), parse_length(height)), machine, Printer(), by_marks=True)
    assert sheet.registration is None
    assert min(sheet.room.width, sheet.room.height) <= 0
    roomy = load_page(Size(parse_length("200 mm"), parse_length("200 mm")), machine, Printer(), by_marks=True)
    assert roomy.registration is not None
    # Nothing else may lie in a mark's ring or in what is bare round it.
    reader = machine.reader
    assert reader is not None
    assert roomy.registration.clear == pytest.approx(reader.ring + reader.quiet)


@pytest.mark.parametrize(
    ("mm", "units", "text"),
    [
        (25.4 * 5 / 32, "in", "5/32 in"),
        (25.4 * 5 / 32 + 0.009, "in", "5/32 in"),
        (25.4 * 5 / 32 + 0.012, "in", "3.98 mm"),
        (25.4 * 5 / 32, "mm", "3.97 mm"),
        (25.4 * 6, "mm", "152.4 mm"),
    ],
)
def test_a_thirty_second_of_an_inch_is_kept_where_it_is_one_and_inches_are_meant(
    mm: float, units: str, text: str
) -> None:
    assert str(exact_length(mm, units)) == text


def test_foam_squares_are_counted_for_every_card() -> None:
    job = dressed(item(made="piece", paper="liner-paper", foam="2 mm", width="60 mm"), job=quick_job("5x7in", count=7))
    (row,) = [row for row in make_plan(job).making_up.kit if row.name == "foam squares"]
    assert row.each >= 4  # one in each corner
    assert row.total == 7 * row.each


@pytest.mark.parametrize(
    ("path", "side"),
    [("M 10 100 L 14 100 L 14 107 Z", 7.0), ("M 100 10 L 107 10 L 107 14 Z", 7.0), ("M 5 5 C 5 9 8 9 8 5", 4.0)],
)
def test_the_longer_side_of_a_path_is_told_wherever_it_lies(path: str, side: float) -> None:
    assert extent_of(path) == pytest.approx(side)


def test_what_is_small_goes_from_art_by_its_size_as_settled() -> None:
    whole = art(box_path(3, 8, 50, 60), box_path(2, 2, 0, 90), scale=0.5, lost=(f"{NOISE} of 7 specks", "a gradient"))
    less = without_small(whole, 2.0)
    assert less is not None
    assert [len(group.paths) for group in less.groups] == [1]
    assert less.lost == ("a gradient",)
    assert without_small(whole, 0.9) is None  # nothing would go
    assert without_small(whole, 9.0) is None  # nothing would be left


@pytest.mark.parametrize(("hinge", "inset", "edge"), [(100.0, 12.0, 76.0), (100.0, 45.0, 20.0), (20.0, 12.0, 4.0)])
def test_an_envelopes_flap_narrows_never_to_less_than_a_fifth_of_its_hinge(
    hinge: float, inset: float, edge: float
) -> None:
    (left, _), (right, _), (outer, deep), (inner, low) = tapered(hinge, 30.0, inset)
    assert right - left == hinge
    assert outer - inner == pytest.approx(edge)
    assert (deep, low) == (30.0, 30.0)


def test_what_is_asked_of_a_closer_lay_does_not_hang_on_where_a_piece_lies_in_its_own_frame() -> None:
    plan = make_plan(dressed(item(made="window", width="40 mm", across="left", x="9 mm", down="top", y="14 mm")))
    piece = plan.dress.piece("base")
    assert piece is not None
    assert waste_of(piece)

    def moved(points: Points) -> Points:
        return tuple((x + 7.0, y - 11.0) for x, y in points)

    lines = tuple(replace(line, paths=tuple(moved(path) for path in line.paths)) for line in piece.lines)
    aside = replace(piece, outline=moved(piece.outline), lines=lines)
    room, lay = Box(0, 0, 300, 300), plan.job.lay
    one, other = (make_ask("card", "outside-up", {"base": each}, room, lay) for each in (piece, aside))
    assert one.seal == other.seal
    assert one.holes
    assert min(x for x, _ in one.holes[0][0]) > 0


def test_getting_ready_is_reckoned_once_for_all_cards_and_less_for_small_tools() -> None:
    """Seconds from memory: weeding is set up for in 45, creasing in a third of that."""
    steps = {step.id: step for step in make_plan(quick_job("5x7in", count=9)).making_up.steps}
    assert (steps["weed"].setup_s, steps["crease-base"].setup_s) == (45.0, 15.0)


@pytest.mark.parametrize(
    ("width", "lift"), [("3.9 mm", "a pick"), ("4 mm", "tweezers"), ("11.9 mm", "tweezers"), ("12 mm", "a spatula")]
)
def test_what_the_smallest_waste_is_lifted_with(width: str, lift: str) -> None:
    plan = make_plan(dressed(item(made="window", width=width)))
    assert plan.making_up.weeding[0].lift.startswith(lift)


@pytest.mark.parametrize(("breadth", "areas", "lines"), [(HAIRLINE_MM, 0, 1), (HAIRLINE_MM + 0.01, 1, 0)])
def test_a_line_up_to_a_hairline_is_cut_along_its_middle(breadth: float, areas: int, lines: int) -> None:
    drawn = draw_group(stroked(breadth).groups[0], 1.0, role="cut")
    assert (len(drawn.areas), len(drawn.lines)) == (areas, lines)


@pytest.mark.parametrize("corner", [(40.0, 40.0), (40.0, 20.0), (20.0, 40.0)])
def test_a_slanted_fold_parts_the_panels_on_both_sides_of_it(corner: Point) -> None:
    outline: Points = ((0, 0), (40, 0), (40, 40), (0, 40))
    (part,) = divide([(outline, True)], [((0, 0), corner)]).parts
    (crease,) = part.creases
    assert {crease.one, crease.other} == {0, 1}
    (x0, y0), (x1, y1) = sorted([crease.start, crease.end])
    assert (x0, y0, x1, y1) == pytest.approx((0, 0, *corner), abs=1e-3)


def test_the_bleed_of_one_piece_is_decided_beside_those_of_others() -> None:
    press = Press()
    for piece, way in (("base", "never"), ("liner", "always"), ("base", "always")):
        press = replace(press, pieces=set_bleed(press, piece, way).value)  # type: ignore[arg-type]
    assert {each.piece: each.bleed for each in press.pieces} == {"liner": "always", "base": "always"}


def test_a_paper_that_is_no_longer_at_hand_in_so_many_sizes_lies_as_its_last_one_does() -> None:
    job = quick_job()
    paper = job.brief.papers[0]
    beyond, last = (ways_to_lie(job.lay, paper, job.brief.machine, number) for number in (3, 0))
    assert [sheet.room for sheet in beyond] == [sheet.room for sheet in last]


@pytest.mark.parametrize(("by", "fits"), [(0.0, True), (-0.01, False)])
def test_an_envelope_exactly_as_large_as_is_wanted_takes_its_card(by: float, fits: bool) -> None:
    closed = make_plan(quick_job("100x140mm")).construct.closed
    # Plain geometry: 2 mm and the thickness to spare each way.
    wide, high = (side.value + closed.thickness.value + 2 + by for side in (closed.width, closed.height))
    size = Size(parse_length(f"{wide:.9f} mm"), parse_length(f"{high:.9f} mm"))
    plan = make_plan(changed(quick_job("100x140mm"), construct__bought=Bought("own", size)))
    assert ("construct.card-larger-than-envelope" in codes(plan)) is not fits


@pytest.mark.parametrize(("height", "fine"), [("7.9 mm", True), ("8 mm", False)])
def test_what_peels_well_begins_at_eight_millimetres(height: str, fine: bool) -> None:
    # Shapes peel well from 8 mm (common practice).
    job = typed(attached(quick_job("5x7in"), "peel"), "construct.peel.height", height)
    assert ("construct.peel-fine" in codes(make_plan(job))) is fine
