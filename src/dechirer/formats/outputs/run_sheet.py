"""The run sheet: one page per mat to stand at the machine with, as PDF.

Each page: the loaded mat as it should look, which edge goes in first, which face is up, the tool in each holder,
the passes with boxes to tick, and sizes to check with a rule before the next mat.
"""

from __future__ import annotations

import io

from dechirer.core.brief.machine import MAIN_MAT
from dechirer.core.card.operations import OPERATION
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.figure import format_minutes
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.tack import tack_for
from dechirer.core.length import format_length, format_size
from dechirer.core.plan import Plan
from dechirer.core.press.pages import Page
from dechirer.core.press.station import PAGES
from dechirer.core.run.run import MatRun, Pass
from dechirer.core.run.steps import MachineStep
from dechirer.drawing.scenes.mat import make_mat_scene
from dechirer.formats.output import OUTPUTS
from dechirer.formats.pdf_sink import PdfSink
from dechirer.formats.read_back import check_run_sheet
from dechirer.formats.written_page import LEFT, PAGE, RIGHT, WrittenPage

TYPES = {"photo": "photo paper", "plain": "plain paper"}
FEEDS = {"tray": "the tray", "rear": "the rear, straight"}
CAUTION = (
    "Blades, picks and craft knives cut, foil tips burn: keep fingers clear of the carriage, switch off before "
    "changing a tool. "
    "The machine's own manual and local rules come first."
)


@OUTPUTS.add(
    "run-sheet.pdf",
    order=30,
    check=check_run_sheet,
    about="what to load, fit and run, mat by mat, on paper",
)
def write_run_sheet(plan: Plan) -> bytes:
    """The run sheet as PDF bytes; a job with nothing to cut gives one page that says so."""
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    # Invariant: equal plans give equal bytes.
    canvas = Canvas(out, pagesize=PAGE, invariant=1)
    canvas.setTitle(f"Run sheet: {plan.job.name}")
    canvas.setCreator("Dechirer")
    if not plan.run.mats:
        bought = any(piece.blank for piece in plan.whole.pieces) and not plan.lay.unplaced
        nothing = (
            "Nothing is cut: the card is a bought blank." if bought else "Nothing can be cut yet: see the findings."
        )
        page = WrittenPage(canvas)
        page.heading(plan.job.name, nothing)
        _list_hand_work(page, plan)
        canvas.showPage()
    steps = plan.machine_steps()
    if plan.run.mats:
        _list_preparation(WrittenPage(canvas), plan, steps)
        canvas.showPage()
    for number, mat in enumerate(plan.run.mats, start=1):
        page = WrittenPage(canvas)
        own = [step for step in steps if (step.mat, step.time) == (mat.layout.id, 1)]
        _draw_page(page, plan, mat, number, own)
        if number == len(plan.run.mats):
            _list_hand_work(page, plan)
        canvas.showPage()
    canvas.save()
    return out.getvalue()


def _list_hand_work(page: WrittenPage, plan: Plan) -> None:
    """What is printed and comes onto no mat, what has to be at hand, and what is written or stamped by hand, face by
    face, to be ticked off."""
    for printed in plan.part(PAGES).pages:
        if not printed.mat:
            _list_printing(page, plan, printed)
    if plan.dress.at_hand:
        page.y += 4
        page.line("At hand", bold=True, size=11)
    for thing in plan.dress.at_hand:
        how = "put in" if thing.loose else "for"
        size = format_size(thing.width, thing.height, plan.job.units)
        page.tick_box(f"{thing.count} × {thing.name}, {size}, {thing.thickness:.2g} mm thick; {how}: {thing.on}")
    mine = [each for each in plan.dress.first_of_each() if each.item.made == "hand" and each.spot is not None]
    if not mine:
        return
    page.y += 4
    page.line("By hand", bold=True, size=11)
    for each in mine:
        assert each.spot is not None
        words = each.item.words.text.replace("\n", " / ") if each.item.words is not None else each.item.name
        size = format_size(each.width.value, each.height.value, plan.job.units)
        page.tick_box(f"{each.spot.title}: “{words}”, {size}; {each.left.text(plan.job.units)} from the left")


def _list_printing(page: WrittenPage, plan: Plan, printed: Page) -> None:
    """What is done at the printer, and looked at, before the sheet comes onto the mat."""
    brief, press = plan.job.brief, plan.job.press
    paper = brief.paper(printed.paper).name
    ticket = press.ticket_of(paper, brief.printer.name)
    count = printed.times + printed.spoiled
    page.line("Print first", bold=True, size=11)
    files = f"press/{printed.id}.pdf" + (f" and press/{printed.id}-back.pdf on its other side" if printed.back else "")
    page.tick_box(
        f"{files}, {'once' if count == 1 else f'{count} times'} on {paper}: set to {TYPES[ticket.paper_type]}, "
        f"{ticket.quality} quality, from {FEEDS[ticket.feed]}; scaling off, nothing fitted."
    )
    bar = "" if printed.is_blank else "The bar on the page measures 100 mm. "
    page.tick_box(f"{bar}Left to dry {press.dry_minutes:g} minutes since.")
    if press.film != "none":
        page.tick_box("Clear film laid over, inside the marks: none on a mark or what is bare round it.")
    if printed.sheet.registration is not None:
        page.tick_box("The marks are whole and clean; the edge at the arrow goes in first, the printed side up.")
    page.y += 4


def _where(sheet: LoadedSheet, units: str) -> str:
    """Where a sheet lies on the mat, in words."""
    if max(sheet.left, sheet.top) <= 0:
        return "corner in the mat's top left"
    across, down = format_length(sheet.left, units), format_length(sheet.top, units)
    return f"its edges {across} from the mat's left edge and {down} from its top edge, not in the corner"


def _list_loading(page: WrittenPage, plan: Plan, layout: MatLayout) -> None:
    """What goes on which mat, where, and which way."""
    units, paper = plan.job.units, plan.brief.paper(layout.paper).paper
    face = "outside up" if layout.face == "outside-up" else "inside up (the side seen when the card is open)"
    page.line("Load", bold=True, size=11)
    trim = (
        f" Trim it to {format_size(layout.sheet.width, layout.sheet.height, units)} first."
        if layout.sheet.trimmed
        else ""
    )
    if layout.sheet.slots:
        _list_slots(page, plan, layout)
        return
    offcut = "an offcut of " if layout.sheet.offcut else ""
    what = "a bought blank, opened flat" if layout.is_blank else f"{offcut}{paper.name}, {paper.weight}"
    page.tick_box(
        f"{what}, {format_size(layout.sheet.width, layout.sheet.height, units)}: {_where(layout.sheet, units)}.{trim}"
    )
    page.tick_box(f"Goes in first: {layout.sheet.first_edge}; {face}; rolled down; size set is the sheet's.")
    tack = tack_for(plan.brief.paper(layout.paper).grammage.value, printed=layout.sheet.printable is not None)
    if layout.sheet.mat.id != MAIN_MAT:
        page.tick_box(f"On the {layout.sheet.mat.name}.")
    page.tick_box(
        f"On a mat of {tack.name} tack ({tack.why}), its film off; star rollers clear, room before and behind."
    )
    page.y += 4


def _list_slots(page: WrittenPage, plan: Plan, layout: MatLayout) -> None:
    """Which blank goes into which slot, and how."""
    units, mat = plan.job.units, layout.sheet.mat
    size = format_size(layout.sheet.width, layout.sheet.height, units)
    page.tick_box(
        f"The {mat.name}, set to blanks of {size} folded; its film off; star rollers clear, room before and behind."
    )
    page.tick_box(
        f"Each back under the mat by {format_length(mat.under, units)} at least, the front over it: pushed hard "
        "over to the fold’s side and up to the upper line, outside up, rubbed down."
    )
    for row in plan.slots_of(layout):
        insert = f", insert {row.insert}" if row.insert else ""
        page.tick_box(f"Slot {row.slot}: {row.design}, blank {row.blank}{insert}")
    page.y += 4


def _list_pass(page: WrittenPage, each: Pass) -> None:
    again = "" if each.times == 1 else f", {each.times} times over"
    paths = "line" if each.lines == 1 else "lines"
    verb = OPERATION[each.operation].verb.capitalize()
    tool = f"{each.tool.title.lower()} in the {each.tool.holder}"
    page.tick_box(f"{verb}: {tool}{again} ({each.lines} {paths}, {each.seconds:.0f} s)")


def _list_preparation(page: WrittenPage, plan: Plan, steps: tuple[MachineStep, ...]) -> None:
    """What is got ready before the first mat, on a page of its own."""
    minutes, changes = plan.run.minutes.value, plan.run.changes.value
    under = f"about {format_minutes(minutes)}, {changes:.0f} tool changes, {plan.lay.mats.value:.0f} mats"
    page.heading(f"{plan.job.name}: get ready", under)
    for step in steps:
        if step.kind == "prepare":
            page.tick_box(f"{step.words}: {step.more}.")
    page.y += 6
    page.line("In this order", bold=True, size=11)
    for mat in plan.run.mats:
        page.tick_box(
            f"Mat {mat.layout.number}, {mat.layout.repeats} ×: {', '.join(each.operation for each in mat.passes)}"
        )
        if page.y > PAGE[1] - 120:
            page.line("… and so on, mat by mat", colour="#5f5a50")
            break
    page.y = PAGE[1] - 70
    page.wrapped(CAUTION, size=8, colour="#5f5a50")


def _draw_page(page: WrittenPage, plan: Plan, mat: MatRun, number: int, steps: list[MachineStep]) -> None:
    layout, units = mat.layout, plan.job.units
    times = "once" if layout.repeats == 1 else f"{layout.repeats} times"
    page.heading(
        f"{plan.job.name}: mat {layout.number}",
        f"Run {number} of {len(plan.run.mats)} · cut {times} · about {format_minutes(mat.seconds / 60)} each under way "
        f"· {plan.job.brief.machine.name}",
    )
    top, high = page.y, 330.0 if layout.sheet.printable is None else 250.0
    PdfSink(page.canvas, PAGE[1]).draw(make_mat_scene(plan, layout), LEFT, top, RIGHT - LEFT, high)
    page.y = top + high + 8
    printed = plan.part(PAGES).page(layout.id)
    if printed is not None:
        _list_printing(page, plan, printed)
    _list_loading(page, plan, layout)
    page.line("Tools and passes", bold=True, size=11)
    if layout.sheet.registration is not None:
        page.tick_box("Let the machine read the printed marks first; it asks again where it finds none.")
    passes = iter(mat.passes)
    after_loading = [step.kind for step in steps].index("load") + 1
    for step in steps[after_loading:]:
        if step.kind == "pass":
            _list_pass(page, next(passes))
        elif step.kind == "hold":
            waits = f", {step.seconds / 60:g} min" if step.seconds else ""
            page.tick_box(f"{step.words}{waits}: {step.more}.")
    page.text("Do not unload between passes: the place is lost.", size=8.5, colour="#5f5a50")
    page.y += 18
    page.line("Check with a rule before the next mat", bold=True, size=11)
    told = set()
    for placed in layout.placements:
        piece = placed.piece
        if piece.id in told:
            continue
        told.add(piece.id)
        # Folds of both senses are looked for with the outside up, however the piece lies on the mat.
        places = sorted((mark.edge, mark.at.value, mark.sense) for mark in piece.folds)
        told_folds = [f"{format_length(place, units)} from the {edge} ({sense})" for edge, place, sense in places]
        folds = f"; outside up, folds {', '.join(told_folds)}" if told_folds else ""
        page.tick_box(
            f"{piece.letter} {piece.name}: {format_size(piece.width.value, piece.height.value, units)}{folds}"
        )
    page.tick_box("Cut through everywhere, checked before unloading. Then take the mat from the paper, rolled back.")
    page.y = PAGE[1] - 70
    page.wrapped(CAUTION, size=8, colour="#5f5a50")
