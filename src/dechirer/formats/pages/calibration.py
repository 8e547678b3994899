"""The calibration page as PDF, and the squares that are cut round its crosses as SVG, in the frame of the sheet."""

from __future__ import annotations

import io
import re
from typing import Any
from xml.sax.saxutils import escape

from dechirer.core.brief.machine import Machine
from dechirer.core.press.calibration import ARM_MM, LINE_MM, CalibrationPage
from dechirer.formats.pages.page import begin_page, draw_marks, end_page

TEXT_MM = 2.8
STEPS = (
    "1  Run the printer’s own nozzle check first. 2  Print this page at 100 %, nothing fitted or scaled.",
    "3  Let it dry, lay it on the mat as the arrow says, and cut the squares of the file beside it{how}.",
    "4  Leave the squares out. Lay black card behind, scan at 300 pixels to the inch, and measure the scan in Press.",
)


def calibration_files(page: CalibrationPage, machine: Machine, paper: str) -> dict[str, bytes]:
    """Return both files by name: the page that is printed, and the squares that are cut."""
    stem = re.sub(r"[^\w-]+", "-", paper.lower(), flags=re.ASCII).strip("-")[:40] or "paper"
    return {
        f"calibration-{stem}.pdf": make_calibration_pdf(page, paper),
        f"calibration-{stem}.svg": make_calibration_svg(page, machine, paper),
    }


def make_calibration_pdf(page: CalibrationPage, paper: str) -> bytes:
    """The page that is printed: crosses, rings, a bar of 100 mm, and what to do."""
    out = io.BytesIO()
    canvas = begin_page(out, page.sheet.width, page.sheet.height, f"Calibration page for {paper}")
    canvas.setFillGray(0)
    half = LINE_MM / 2
    for x, y in page.crosses:
        canvas.rect(x - ARM_MM, y - half, 2 * ARM_MM, LINE_MM, stroke=0, fill=1)
        canvas.rect(x - half, y - ARM_MM, LINE_MM, 2 * ARM_MM, stroke=0, fill=1)
    draw_marks(canvas, page.rings, 0)
    _draw_words(canvas, page, paper)
    end_page(canvas)
    return out.getvalue()


def _draw_words(canvas: Any, page: CalibrationPage, paper: str) -> None:
    """What to do, between the first two rows of crosses, where nothing is cut; a bar to measure under the second."""
    from dechirer.formats.pages.waste import BAR_MM, draw_bar, draw_words, shown, write

    (left, first), below = page.crosses[0], next(y for _, y in page.crosses if y > page.crosses[0][1] + 1)
    how = ", read by the marks" if page.read else ", by the sheet’s edge: do not read the marks"
    lines = (f"Calibration page · {paper}", *(step.format(how=how) for step in STEPS))
    top = (first + below) / 2 - (len(lines) - 1) * 1.9
    room = max(x for x, _ in page.crosses) - left
    for number, line in enumerate(lines):
        write(canvas, left, top + number * 3.8, shown(line), TEXT_MM, room)
    rows = sorted({y for _, y in page.crosses})
    if len(rows) > 2 and room >= BAR_MM:
        canvas.saveState()
        canvas.translate(left, (rows[1] + rows[2]) / 2 - 5)
        draw_words(canvas, "this edge goes into the printer, and onto the mat, first")
        canvas.translate(0, 6)
        draw_bar(canvas)
        canvas.restoreState()


def make_calibration_svg(page: CalibrationPage, machine: Machine, paper: str) -> bytes:
    """The squares, each a path that is cut, on the mat."""
    wide, high = f"{machine.mat_width:g}", f"{machine.mat_height:g}"
    parts = [
        '<?xml version="1.0" encoding="UTF-8"?>',
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}mm" height="{high}mm" viewBox="0 0 {wide} {high}" '
        'fill="none" stroke-width="0.2">',
        f"  <title>Calibration squares for {escape(paper)}</title>",
        '  <g data-operation="cut" stroke="#d02020">',
    ]
    for number, square in enumerate(page.squares(), start=1):
        corners = " L".join(f"{x:.4f} {y:.4f}" for x, y in square[:-1])
        parts.append(f'    <path id="square-{number}" d="M{corners} Z"/>')
    return "\n".join([*parts, "  </g>", "</svg>\n"]).encode()
