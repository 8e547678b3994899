"""Making up on paper: the kit list, a page for each stage with drawings and boxes to tick, templates at true size."""

from __future__ import annotations

import io
from collections.abc import Iterator, Sequence
from typing import Any

from dechirer.core.figure import format_minutes
from dechirer.core.fold.adhesives import ADHESIVES
from dechirer.core.fold.making_up import MakingPlan
from dechirer.core.fold.repairs import REPAIRS, quicker_to_cut
from dechirer.core.fold.step import STAGES, MakeStep
from dechirer.core.fold.templates import Template, find_templates
from dechirer.core.plan import Plan
from dechirer.core.shape.affine import Affine
from dechirer.core.words import plural
from dechirer.drawing.display import Display
from dechirer.drawing.scenes.making import make_joint_scene, make_weeding_scene
from dechirer.drawing.scenes.solid import draw_folded
from dechirer.drawing.solid.apart import Apart
from dechirer.drawing.solid.eye import FRONT
from dechirer.formats.output import OUTPUTS
from dechirer.formats.pdf_sink import PdfSink
from dechirer.formats.read_back import check_making_up
from dechirer.formats.written_page import LEFT, PAGE, RIGHT, WrittenPage

MM = 72 / 25.4
LOW = PAGE[1] - 64.0
MOST_BOXES = 40
MOST_MATS = 12
SOFT = "#5f5a50"
CARE = (
    "Blades, picks and craft knives cut, hot tips burn; spray glue outdoors or in a draught, away from flames; "
    "gems, foam and small parts out of reach of small children. Makers' own instructions and local rules come first."
)


@OUTPUTS.add(
    "making-up.pdf",
    order=31,
    check=check_making_up,
    about="how the parts are put together, step by step, with templates",
)
def write_making_up(plan: Plan) -> bytes:
    """The making-up as PDF: a cover, a page for each stage, templates in the size they are used at."""
    from reportlab.pdfgen.canvas import Canvas

    making, out = plan.making_up, io.BytesIO()
    canvas = Canvas(out, pagesize=PAGE, invariant=1)
    canvas.setTitle(f"Making up: {plan.job.name}")
    canvas.setCreator("Dechirer")
    _Book(canvas, plan, making).write()
    for template in find_templates(plan.whole, plan.dress, making.joints, plan.stacked.tree):
        _draw_template(canvas, plan, template)
    canvas.save()
    return out.getvalue()


class _Book:
    """The pages, one begun when the one before is full."""

    def __init__(self, canvas: Any, plan: Plan, making: MakingPlan) -> None:
        self.canvas, self.plan, self.making = canvas, plan, making
        self.page = WrittenPage(canvas)
        self._title = ""

    def write(self) -> None:
        """Everything but the templates."""
        self._cover()
        stages = list(dict.fromkeys(step.stage for step in self.making.steps))
        for stage in stages:
            self._next(STAGES[stage])
            if stage == "weed":
                self._weeding()
            for step in self.making.steps:
                if step.stage == stage:
                    self._step(step)
        self.canvas.showPage()

    def _next(self, title: str) -> None:
        """A new page with a title."""
        self.canvas.showPage()
        self.page = WrittenPage(self.canvas)
        self._title = title
        self.page.heading(f"{self.plan.job.name}: {title.lower()}", self._ticks())

    def _ticks(self) -> str:
        count = self.plan.job.brief.count
        return f"{count} {plural(count, 'card')}; a box for each card at every step"

    def _room(self, high: float) -> None:
        """Begin another page where there is no room for so much (points)."""
        if self.page.y + high > LOW:
            self._next(self._title if self._title.endswith("continued") else f"{self._title}, continued")

    def _cover(self) -> None:
        plan, making, page = self.plan, self.making, self.page
        schedule = making.schedule
        count, minutes = plan.job.brief.count, format_minutes(schedule.minutes.value)
        way = "one step for all cards, then the next" if schedule.way == "line" else "one card after the other"
        page.heading(f"{plan.job.name}: making up", f"{count} {plural(count, 'card')} · {minutes}, {way}")
        if schedule.start_by:
            days = f"{schedule.days} {plural(schedule.days, 'day')} of {plan.job.fold.hours:g} hours"
            page.line(f"Wanted on {plan.job.brief.due}: begin by {schedule.start_by} ({days}, machines included).")
        page.y += 4
        page.line("Kit list", bold=True, size=11)
        for row in making.kit:
            unit = f" {row.unit}" if row.unit else ""
            there = f"; {row.there} there" if row.there is not None else ""
            lacking = f", {row.lacking:g}{unit} lacking" if row.lacking else ""
            tray = ", counted into a tray" if row.tiny else ""
            size = f", {row.size}" if row.size else ""
            if page.y > LOW - 40:
                self._next("Kit list, continued")
                page = self.page
            page.tick_box(
                f"{row.total:.4g}{unit} × {row.name}{size} ({row.each:.4g}{unit} a card{tray}){there}{lacking}"
            )
        page.y += 6
        self._room(30.0 + 16.0 * len(REPAIRS))
        page = self.page
        page.line("If something goes wrong", bold=True, size=11)
        for repair in REPAIRS:
            cut = " Cutting another is quicker here." if quicker_to_cut(repair, plan.run) else ""
            page.wrapped(f"{repair.what}: {repair.do}.{cut}", size=8.5, colour=SOFT)
        page.y = max(page.y + 4, PAGE[1] - 70)
        page.wrapped(CARE, size=8, colour=SOFT)

    def _weeding(self) -> None:
        page = self.page
        for mat, weeding in list(zip(self.plan.run.mats, self.making.weeding, strict=True))[:MOST_MATS]:
            self._room(290.0)
            page = self.page
            told = f"Mat {mat.layout.number}, {mat.layout.repeats} ×: peel from the {weeding.corner}; {weeding.lift}."
            page.tick_box(told)
            for words in _of_note(weeding.middles, len(weeding.drops), len(weeding.fragile)):
                page.wrapped(words, size=8.5, x=LEFT + 16, colour=SOFT)
            self._draw(make_weeding_scene(self.plan, mat, weeding), 250.0)

    def _step(self, step: MakeStep) -> None:
        """One step: its words, its drawings, its boxes."""
        joint = self.making.joint(step.joint) if step.joint else None
        folds = step.after > step.before
        self._room(245.0 if joint is not None or folds else 60.0)
        page, number = self.page, [each.id for each in self.making.steps].index(step.id) + 1
        page.wrapped(f"{number}. {step.words}", bold=True, size=10.5)
        page.wrapped(" ".join(each for each in (step.more, step.why) if each), size=9)
        care = ADHESIVES[joint.adhesive].care if joint is not None else ""
        if care:
            page.wrapped(care, size=8.5, colour="#a6331f")
        self._boxes()
        if folds:
            place = number - 1
            before, after = Apart(self.plan, float(place)), Apart(self.plan, place + 0.999)
            self._side_by_side(draw_folded(before, FRONT), draw_folded(after, FRONT), 165.0)
        elif joint is not None:
            self._draw(make_joint_scene(self.plan, self.making, joint), 175.0)
        page.y += 6

    def _boxes(self) -> None:
        """A box for each card; a line to count on where there are many."""
        page, count = self.page, self.plan.job.brief.count
        if count > MOST_BOXES:
            page.line(f"done: ____ of {count}", size=9, colour=SOFT)
            return
        from reportlab.lib.colors import HexColor

        self.canvas.setStrokeColor(HexColor("#23262b"))
        self.canvas.setLineWidth(0.7)
        for number in range(count):
            self.canvas.rect(LEFT + number * 12.0, PAGE[1] - page.y - 9, 8, 8, fill=0)
        page.y += 14

    def _draw(self, display: Display, high: float) -> None:
        PdfSink(self.canvas, PAGE[1]).draw(display, LEFT, self.page.y, RIGHT - LEFT, high)
        self.page.y += high + 4

    def _side_by_side(self, one: Display, other: Display, high: float) -> None:
        half = (RIGHT - LEFT) / 2
        for place, display in enumerate((one, other)):
            PdfSink(self.canvas, PAGE[1]).draw(display, LEFT + place * half, self.page.y, half - 8, high)
        self.page.y += high + 4


def _of_note(middles: Sequence[object], drops: int, fragile: int) -> Iterator[str]:
    """What to mind on a mat, in words."""
    if drops:
        yield f"{drops} {plural(drops, 'opening')} to empty (hatched)."
    if middles:
        yield f"{len(middles)} loose {plural(len(middles), 'middle')} to keep with their places (tinted)."
    if fragile:
        yield f"{fragile} narrow {plural(fragile, 'place')} to mind (ringed)."


def _draw_template(canvas: Any, plan: Plan, template: Template) -> None:
    """A template at true size, on a page as large as it takes."""
    wide, high = template.box.width, template.box.height
    margin = 15.0
    page = (max(PAGE[0], (wide + 2 * margin) * MM), max(PAGE[1], (high + 2 * margin + 20) * MM))
    canvas.setPageSize(page)
    map = Affine(a=MM, d=-MM, e=(margin - template.box.left) * MM, f=page[1] - (margin + 20 - template.box.top) * MM)
    canvas.setFont("Helvetica-Bold", 11)
    canvas.drawString(LEFT, page[1] - 30, f"{plan.job.name}: template for {template.name}, at true size")
    canvas.setFont("Helvetica", 8.5)
    words = (
        f"Print without scaling. Cut the openings out of scrap, lay the outline on the {template.where}, set parts in."
    )
    canvas.drawString(LEFT, page[1] - 44, words)
    canvas.setLineWidth(0.5)
    for ring, dashed in ((template.outline, True), *((ring, False) for ring in template.openings)):
        path = canvas.beginPath()
        first, *rest = map.all(ring)
        path.moveTo(*first)
        for point in rest:
            path.lineTo(*point)
        path.close()
        canvas.setDash([3, 2] if dashed else [])
        canvas.drawPath(path, stroke=1, fill=0)
    canvas.setDash([])
    canvas.showPage()
    canvas.setPageSize(PAGE)
