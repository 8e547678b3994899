"""Every check of the dress is provoked once, says what a maker needs, and its mends put it right."""

from __future__ import annotations

import math
from collections.abc import Callable

import pytest
from msgspec.structs import replace

from dechirer.core.brought import NOISE, Art, ArtGroup
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.dress.decisions import Column, Copies, Row, table_of
from dechirer.core.finding import SEVERITIES
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.lay.decisions import set_loading
from dechirer.core.length import parse_length
from dechirer.core.plan import make_plan
from dechirer.demo import load_demo_job
from tests.dressing import art, box_path, dressed, item, square, step, stroked, words
from tests.helpers import add, attached, changed, codes, finding, quick_job

PAPER = {"paper": "liner-paper"}
DUMBBELL = "M 0 0 L 20 0 L 20 9.8 L 30 9.8 L 30 0 L 50 0 L 50 20 L 30 20 L 30 10.2 L 20 10.2 L 20 20 L 0 20 Z"
"""Two squares and a web of 0.4 mm between them."""
RING = f"{box_path(40, 30)} {box_path(20, 12, 10, 9)}"


def ring(**more: object) -> Job:
    group = ArtGroup("ring", "ring", "cut", (RING,), rule="evenodd")
    return dressed(item(made="window", **more), arts=(art(groups=(group,), width=40.0, height=30.0),))


def lines(*paths: str, **more: object) -> ArtGroup:
    return ArtGroup("lines", "lines", "cut", paths, stroke=0.2, **more)  # type: ignore[arg-type]


def named(count: int, *names: str, text: str = "{name}") -> Job:
    return dressed(
        item(made="pen", words=words(text, face="line-plain", size="8 mm")),
        job=quick_job("3x4in", fold="flat", count=count),
        copies=table_of(("name",), tuple((each,) for each in names)),
    )


def grouped(*groups: ArtGroup, **more: object) -> Job:
    return dressed(item(made="art"), arts=(art(groups=groups, **more),))


def many_nodes() -> str:
    points = [
        (
            20 + (8 + 0.02 * (n % 2)) * math.cos(n / 500 * math.tau),
            20 + (8 + 0.02 * (n % 2)) * math.sin(n / 500 * math.tau),
        )
        for n in range(500)
    ]
    return "M " + " L ".join(f"{x:.4f} {y:.4f}" for x, y in points) + " Z"


def tabbed() -> Job:
    """Something under a glue tab of a concertina that is joined from sections."""
    base = load_demo_job("dunes")
    plan = make_plan(base)
    glued = next(
        (spot, ring)
        for spot in plan.dress.spots
        for piece, ring in spot.covers
        if piece in set(plan.construct.made.parts.values()) and "/" not in spot.id
    )
    spot, tab = glued
    x = min(x for x, _ in tab)
    return dressed(item(face=spot.id, made="print", width="6 mm", across="left", x=f"{x + 1:.2f} mm"), job=base)


def hidden() -> Job:
    return dressed(
        item(face="panel 3", made="print", width="5 mm", down="bottom", y="12 mm"), job=load_demo_job("dunes")
    )


def same_papers(job: Job) -> Job:
    papers = tuple(
        replace(paper, colour=colour) for paper, colour in zip(job.brief.papers, ("#ffffff", "#fcfcfa"), strict=False)
    )
    other = replace(papers[0], id="plum", name="plum", colour="#6b3f66")
    return changed(job, brief__papers=(*papers, other))


def loaded(face: str, job: Job) -> Job:
    """The job with the card's paper loaded with one side up."""
    return apply_changes(job, [set_loading(job.lay, job.brief.base_paper, face=face)])


LONG_NAME = "Wilhelmina-Theodora of the far side of the marsh and all its islands"


def written(*names: str) -> Job:
    """A card for each name, written by a pen on its front."""
    place = item(made="pen", words=words("Dear {name}", face="line-plain", size="6 mm"))
    rows = table_of(("name",), tuple((name,) for name in names))
    return dressed(place, job=quick_job("3x4in", fold="flat", count=len(names)), copies=rows)


def drawn_inside() -> Job:
    """A pen on the inside of a card without a liner."""
    return dressed(item(face="inside right", made="pen"), job=quick_job("5x7in"))


def line(width: float, height: float) -> Art:
    """Art of one straight cut line."""
    group = ArtGroup("line", "line", "cut", (f"M 0 0 L {width} {height}",), stroke=0.2)
    return art(groups=(group,), width=max(width, 0.02), height=height)


CATALOGUE: dict[str, Callable[[], Job]] = {
    "dress.nothing": lambda: dressed(item(face="no such face", **PAPER)),
    "dress.unassigned": lambda: grouped(
        ArtGroup("a", "a", "unassigned", (box_path(9, 9),)), ArtGroup("b", "b", "cut", (box_path(20, 20),))
    ),
    "dress.size-doubt": lambda: dressed(item(**PAPER), arts=(square(doubt="nothing says its unit", settled="at 96"),)),
    "dress.ratio-changed": lambda: dressed(item(width="20 mm", height="30 mm", **PAPER)),
    "dress.colours-near": lambda: grouped(
        ArtGroup("a", "a", "cut", (box_path(5, 5),), "#aa2200"),
        ArtGroup("b", "b", "cut", (box_path(5, 5, 9, 9),), "#ab2300"),
    ),
    "dress.left-out": lambda: dressed(item(**PAPER), arts=(square(lost=("text",)),)),
    "dress.nodes-many": lambda: dressed(item(**PAPER), arts=(art(many_nodes(), width=16.0, height=16.0),)),
    "dress.licence": lambda: dressed(item(**PAPER), arts=(square(licence="personal"),), for_sale=True),
    "dress.letter-missing": lambda: dressed(item(made="pen", words=words("æ", face="line-plain"))),
    "dress.letters-apart": lambda: dressed(
        item(words=words("hint", joined=True, size="30 mm"), steps=(step("join"),), **PAPER)
    ),
    "dress.script-not-joined": lambda: dressed(item(words=words("Hf Wf", face="sacramento", size="24 mm"), **PAPER)),
    "dress.overlap": lambda: dressed(item(made="window", words=words("oo", size="40 mm", spacing="-4 mm"))),
    "dress.counter-filled": lambda: dressed(item(words=words("oooo", size="18 mm", spacing="-6 mm"), **PAPER)),
    "dress.words-small": lambda: dressed(item(made="window", words=words("lil", size="2 mm"))),
    "dress.contrast": lambda: dressed(item(made="pen", colour="#f4f0a0", words=words("pale", size="9 mm"))),
    "dress.foil-broad": lambda: dressed(item(made="foil"), arts=(stroked(4.0, "art"),)),
    "run.tip-differs": lambda: dressed(item(made="foil", words=words("gold", face="line-plain", size="12 mm"))),
    "dress.pen-crowded": lambda: dressed(item(made="pen", words=words("oo88", face="line-plain", size="1.2 mm"))),
    "dress.blank-unknown": lambda: named(2, "A", "B", text="{nme}"),
    "dress.typeface-missing": lambda: dressed(item(made="pen", words=words("Kite", face="lost-one"))),
    "dress.copies-count": lambda: named(5, "Ada", "Bo"),
    "dress.web-narrow": lambda: dressed(item(**PAPER), arts=(art(DUMBBELL, width=50.0),)),
    "dress.hole-narrow": lambda: dressed(item(made="window"), arts=(art(box_path(20, 0.2), width=20.0, height=0.2),)),
    "dress.island": ring,
    "dress.step-gone": lambda: dressed(item(steps=(step("border", by="-15 mm", edges="all"),), **PAPER)),
    "dress.step-lost": lambda: dressed(
        item(steps=(step("border", by="-2 mm", edges="all"),), **PAPER),
        arts=(art(box_path(20, 20), box_path(3, 3, 30, 0), width=33.0),),
    ),
    "dress.step-broken": lambda: dressed(
        item(steps=(step("border", by="-1 mm", edges="all"),), **PAPER),
        arts=(art(DUMBBELL.replace("9.8", "9").replace("10.2", "10.8"), width=50.0),),
    ),
    "dress.join-apart": lambda: dressed(
        item("far", made="guide", across="left", x="2 mm", width="5 mm"), item(steps=(step("join", of="far"),), **PAPER)
    ),
    "dress.lift-narrow": lambda: dressed(item(made="window", steps=(step("lift", by="40 mm"),))),
    "dress.step-few": lambda: dressed(item(steps=(step("item", count=3),), **PAPER)),
    "dress.spread-tight": lambda: dressed(
        item(steps=(step("spread", by="15 mm"),), **PAPER),
        arts=(art(box_path(10, 10), box_path(10, 10, 15, 0), width=25.0),),
    ),
    "dress.no-islands": lambda: dressed(item(made="window", steps=(step("bridge", by="1 mm"),))),
    "dress.open-path": lambda: dressed(item(**PAPER), arts=(art(groups=(lines("M 0 0 L 20 0 L 20 20 L 0.3 0.2"),)),)),
    "dress.spikes": lambda: dressed(item(**PAPER), arts=(art("M 0 0 L 40 2 L 0 4 Z", width=40.0, height=4.0),)),
    "dress.colours-alike": lambda: same_papers(dressed(item(**PAPER))),
    "dress.off-face": lambda: dressed(item(made="window", across="right", x="-6 mm")),
    "dress.across-fold": lambda: dressed(item(made="window", across="fold", x="-6 mm")),
    "dress.outside-safe": lambda: dressed(item(made="window", across="right", x="2 mm")),
    "dress.in-glue": tabbed,
    "dress.covered": lambda: dressed(item(face="inside right", made="print"), job=quick_job("5x7in", liner="1/16")),
    "dress.hidden": hidden,
    "dress.stands-proud": lambda: dressed(item(across="edge", x="-6 mm", **PAPER)),
    "dress.over-opening": lambda: dressed(item("hole", made="window"), item("over", made="pen", words="Over it")),
    "dress.severed": lambda: dressed(item(made="art"), arts=(line(127.0, 0.0),), job=quick_job("5x7in", fold="flat")),
    "construct.fold-cut": lambda: dressed(item(made="art", across="fold"), arts=(line(0.02, 150.0),)),
    "dress.cuts-into": lambda: dressed(item(made="window", width="60 mm"), job=quick_job("5x4in", fold="money-holder")),
    "dress.backer-narrow": lambda: dressed(item(made="window", margin="12 mm", across="edge", x="6 mm", **PAPER)),
    "dress.beyond-inlay": lambda: dressed(
        item(face="envelope/address side", made="window", across="left", x="4 mm"),
        job=changed(attached(quick_job("5x7in"), "envelope"), construct__envelope__inlay="liner-paper"),
    ),
    "dress.kiss-without-backer": lambda: dressed(item(made="kiss")),
    "dress.size-of-whole": lambda: dressed(
        item(width="66 mm", steps=(step("item", count=2),), **PAPER),
        arts=(art(box_path(20, 20), box_path(3, 3, 30, 0), width=33.0),),
    ),
    "dress.foam-narrow": lambda: dressed(item(width="2 mm", foam="1 mm", **PAPER)),
    "dress.held-large": lambda: dressed(item(made="held")),
    "dress.held-thick": lambda: dressed(
        item(face="inside right", made="held", width="90 mm", thick="20 mm", down="bottom"),
        job=apply_changes(quick_job(), add("pockets", quick_job(), "inside right")),
    ),
    "dress.backer-beyond": lambda: dressed(
        item(made="window", backer_size=Size(parse_length("9 in"), parse_length("3 in")), **PAPER)
    ),
    "dress.mates-differ": lambda: dressed(
        item("one", **PAPER), item("two", width="21 mm", mate="one", down="bottom", y="9 mm", **PAPER)
    ),
    "dress.under-piece": lambda: dressed(
        item("written", made="pen", words="Ahoy"), item("cover", width="40 mm", **PAPER)
    ),
    "dress.stand-in-unknown": lambda: dressed(
        item(**PAPER), copies=Copies((Column("thing", "thing"),), (Row(("nowhere",)),))
    ),
    "dress.small-parts": lambda: dressed(item(made="stuck", width="4 mm")),
    "dress.by-hand": lambda: dressed(item(made="hand", words="Yours")),
    "dress.noise": lambda: dressed(
        item(**PAPER),
        arts=(
            art(box_path(20, 20), *(box_path(1, 1, 30 + 3 * n, 0) for n in range(4)), width=43.0, lost=(f"{NOISE} 5",)),
        ),
    ),
    "lay.line-astray": lambda: written("Ada", LONG_NAME),
    "lay.wrong-side": lambda: loaded("outside-up", drawn_inside()),
}
"""A job for each code of a finding."""

NO_MEND = {
    "dress.blank-unknown",
    "lay.line-astray",
    "dress.small-parts",
    "construct.severed",
    "construct.fold-cut",
    "dress.kiss-without-backer",
}
"""What only the maker can put right: a name that was mistyped on one side or the other; where a line should go."""


@pytest.mark.parametrize("code", list(CATALOGUE))
def test_the_finding_says_what_a_maker_needs(code: str) -> None:
    found = finding(make_plan(CATALOGUE[code]()), code)
    assert found.severity in SEVERITIES
    assert found.station == code.split(".")[0]
    assert found.title
    assert not found.title.endswith(".")
    assert found.reason.endswith((".", "?"))
    assert found.cost.endswith(".")
    assert "None" not in found.title + found.reason + found.cost
    assert bool(found.mends) == (code not in NO_MEND)
    for mend in found.mends:
        assert 2 < len(mend.label) < 48


@pytest.mark.parametrize("code", [code for code in CATALOGUE if code not in NO_MEND])
def test_every_mend_can_be_taken_and_the_first_puts_it_right(code: str) -> None:
    job = CATALOGUE[code]()
    found = finding(make_plan(job), code)
    for number, mend in enumerate(found.mends):
        after = make_plan(apply_changes(job, mend.changes))
        same = [each for each in after.findings if (each.code, each.element) == (code, found.element)]
        if number == 0:
            assert not same, same[0].reason


def test_a_dressed_demo_has_nothing_that_stops_it() -> None:
    plan = make_plan(load_demo_job("kites"))
    assert plan.stops == 0


def test_edges_that_two_outlines_share_would_be_cut_twice() -> None:
    halves = art(box_path(10, 20), box_path(10, 20, 10, 0))
    job = dressed(item(made="window"), arts=(halves,))
    found = finding(make_plan(job), "dress.overlap")
    assert "20 mm of line" in found.reason
    assert "dress.overlap" not in codes(make_plan(apply_changes(job, found.mends[0].changes)))


def test_what_is_drawn_on_a_piece_of_its_own_wants_its_front_up() -> None:
    groups = (
        ArtGroup("a", "a", "cut", (box_path(20, 20),)),
        ArtGroup("b", "b", "pen", ("M 4 10 L 16 10",), stroke=0.3),
    )
    job = dressed(item(**PAPER), arts=(art(groups=groups),))
    assert "lay.wrong-side" not in codes(make_plan(job))
    turned = apply_changes(job, [set_loading(job.lay, "liner-paper", face="inside-up")])
    assert "lay.wrong-side" in codes(make_plan(turned))


def test_card_and_liner_of_one_paper_are_drawn_on_either_side_without_a_stop() -> None:
    """Each mat is loaded with the side up that is drawn on: the outside of the card, the inside of its liner."""
    job = quick_job("5x7in", liner="1/16", count=3)
    job = changed(job, construct__liner__paper=job.brief.base_paper)
    front = item(face="front", made="pen")
    inside = item("words", face="liner/inside right", made="pen", words="Dear you")
    job = dressed(front, inside, job=job)
    plan = make_plan(job)
    assert "lay.wrong-side" not in codes(plan)
    faces = {layout.face: {put.piece.id for put in layout.placements} for layout in plan.lay.layouts}
    assert faces == {"outside-up": {"base"}, "inside-up": {"liner"}}
    assert not [each for each in plan.findings if each.severity == "stop"]
    pinned = apply_changes(job, [set_loading(job.lay, job.brief.base_paper, face="outside-up")])
    found = finding(make_plan(pinned), "lay.wrong-side")
    assert found.severity == "stop"
    assert [mend.label for mend in found.mends] == ["Load each mat as it is drawn on"]
    assert "lay.wrong-side" not in codes(make_plan(apply_changes(pinned, found.mends[0].changes)))


def test_every_copy_is_checked_and_written() -> None:
    """The eighth of eight copies sent the pen off the sheet with all clear."""
    names = [f"Ada {number}" for number in range(7)]
    good = make_plan(written(*names, "Ada 7"))
    assert not [each for each in good.findings if each.severity == "stop"]
    plan = make_plan(written(*names, LONG_NAME))
    off = finding(plan, "dress.off-face")
    assert off.title.endswith(f", copy 8: {LONG_NAME[:30]}")
    assert off.element == "thing"
    net = finding(plan, "lay.line-astray")
    assert net.severity == "stop"
    assert plan.verdict("lay") == "stop"
    last = next(piece for piece in plan.whole.pieces if piece.lines and LONG_NAME[:8] in piece.name)
    reach = max(x for line in last.lines for path in line.paths for x, _ in path)
    assert reach > 3 * 25.4  # the pen does leave the card


def test_a_fault_of_several_copies_is_told_once_with_how_many_more() -> None:
    plan = make_plan(written("Ada", LONG_NAME, f"{LONG_NAME} again", "Bo"))
    off = [each for each in plan.findings if each.code == "dress.off-face"]
    assert len(off) == 1
    assert off[0].title.endswith(" and 1 more")


def test_weak_places_of_a_later_copy_are_found() -> None:
    """A window in the letters of each name: the serifs of the first hold, some of the second are too slim."""
    window = item(words=words("{name}", face="lora", size="9 mm"), made="window")
    good = make_plan(changed(written("I", "I"), dress__items=(window,)))
    assert not [each for each in good.findings if each.code.startswith("dress")]
    bad = make_plan(changed(written("I", "WWWW"), dress__items=(window,)))
    assert finding(bad, "dress.web-narrow").title.endswith(", copy 2: WWWW")


def test_one_piece_drawn_on_both_sides_stays_a_stop_and_says_why() -> None:
    """One of the two sides lies down whatever is done; no mend helps."""
    front, inside = item(made="pen"), item("other", face="inside right", made="pen")
    found = finding(make_plan(dressed(front, inside, job=quick_job("5x7in"))), "lay.wrong-side")
    assert not found.mends
    assert "needs a piece of its own" in found.reason


def test_islands_are_no_trouble_on_a_kiss_cut() -> None:
    job = ring()
    assert "dress.island" in codes(make_plan(job))
    assert "dress.island" not in codes(make_plan(apply_changes(job, [Change("dress.items.thing.made", "kiss")])))


def test_the_narrowest_web_is_measured_exactly_and_the_papers_own_value_counts() -> None:
    plan = make_plan(CATALOGUE["dress.web-narrow"]())
    weak = next(each for each in plan.dress.weak if each.item == "thing")
    assert weak.narrow[0].width == pytest.approx(0.4, abs=1e-3)
    own = changed(CATALOGUE["dress.web-narrow"](), brief__count=1)
    from tests.helpers import typed

    held = typed(own, "brief.papers.liner-paper.holds", "0.3 mm")
    assert "dress.web-narrow" not in codes(make_plan(held))


def test_a_window_leaves_a_web_to_the_next_one() -> None:
    near = dressed(
        item("one", made="window", across="left", x="20 mm"), item("two", made="window", across="left", x="40.5 mm")
    )
    found = finding(make_plan(near), "dress.web-narrow")
    assert "0.5 mm" in found.reason
