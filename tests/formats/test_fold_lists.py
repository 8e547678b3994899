"""Every fold told in lists is the fold that is cut: cut list, run sheet and plan.json against the pieces' lines."""

from __future__ import annotations

import csv
import io
import json

import pypdfium2
import pytest

from dechirer.core.construct.specs import CONSTRUCTIONS, ENVELOPES
from dechirer.core.job.model import Job
from dechirer.core.plan import make_plan
from dechirer.demo import DEMOS, load_demo_job
from dechirer.formats.outputs.cut_list import write_cut_list
from dechirer.formats.outputs.plan_json import make_plan_record
from dechirer.formats.outputs.run_sheet import write_run_sheet
from tests.helpers import attached, changed, quick_job


def with_envelope(style: str) -> Job:
    size = "5x5in" if ENVELOPES[style].wants_square else "5x7in"
    job = changed(quick_job(size), units="mm", brief__papers=big(quick_job(size)))
    return changed(attached(job, "envelope"), construct__envelope__style=style)


def big(job: Job) -> tuple[object, ...]:
    """The papers on sheets that any envelope fits."""
    from msgspec.structs import replace

    from dechirer.core.decide.values import Size
    from dechirer.core.length import parse_length

    return tuple(replace(each, sheet=Size(parse_length("600 mm"), parse_length("600 mm"))) for each in job.brief.papers)


JOBS = {
    **{f"kind {kind}": (lambda kind=kind: quick_job("5x7in", fold=kind)) for kind in CONSTRUCTIONS.ids()},
    **{f"demo {name}": (lambda name=name: load_demo_job(name)) for name in DEMOS},
    **{f"envelope {style}": (lambda style=style: with_envelope(style)) for style in ENVELOPES.ids()},
}


@pytest.mark.parametrize("name", list(JOBS))
def test_every_fold_is_told_where_it_lies(name: str) -> None:
    plan = make_plan(JOBS[name]())
    rows = {row["piece"]: row for row in csv.DictReader(io.StringIO(write_cut_list(plan).decode()))}
    record = {piece["id"]: piece for piece in json.loads(json.dumps(make_plan_record(plan)))["pieces"]}
    for piece in plan.whole.pieces:
        for number, mark in enumerate(piece.folds):
            (x0, y0), (x1, y1) = mark.start, mark.end
            level = abs(y1 - y0) < abs(x1 - x0)
            edge, place = ("top", (y0 + y1) / 2) if level else ("left", (x0 + x1) / 2)
            assert mark.edge == edge
            assert mark.at.value == pytest.approx(place, abs=0.01)
            told = record[piece.id]["folds"][number]
            assert (told["from"], told["at_mm"]) == (edge, pytest.approx(place, abs=0.01))
            assert rows[piece.letter]["fold at"].split("; ")[number].endswith(f"from the {edge}")
            assert rows[piece.letter]["fold sense, outside up"].split("; ")[number] == told["sense"]


def test_the_glued_envelope_of_a_5_x_7_card_is_checked_where_it_is_cut() -> None:
    """Plain geometry: the top flap is as high as its fold lies from the top; the run sheet said 32 mm for each fold."""
    plan = make_plan(with_envelope("glued"))
    piece = plan.construct.piece("envelope")
    assert piece is not None
    tops = sorted(mark.at.value for mark in piece.folds if mark.edge == "top")
    pages = pypdfium2.PdfDocument(write_run_sheet(plan))
    text = " ".join(" ".join(page.get_textpage().get_text_bounded().split()) for page in pages)
    for place in tops:
        assert f"{place:.1f} mm from the top (mountain)" in text  # all of an envelope's flaps go to the back
    lefts = sorted(mark.at.value for mark in piece.folds if mark.edge == "left")
    assert f"{lefts[0]:.1f}".removesuffix(".0") + " mm from the left" in text
