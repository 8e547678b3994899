"""Reads written sheets and lists back with libraries that did not write them, and compares them with the plan.

Each function returns why a file does not say what the plan says, or an empty text. PDFs are read by pypdfium2, tables
by csv, JSON by json. Words are compared by their letters and digits, as a PDF breaks lines where it likes.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections import Counter

from dechirer.core.lay.mat import MatLayout
from dechirer.core.plan import Plan
from dechirer.core.press.pages import Page

SAME_MM = 0.006
"""Tables are written to a hundredth of a millimetre."""
PAGE_MM = 0.1
POINTS_MM = 25.4 / 72
FACES = {"outside-up": "outsideup", "inside-up": "insideup"}


def letters(text: str) -> str:
    """Return the letters and digits of a text, in lower case."""
    return re.sub(r"[^a-z0-9]", "", text.lower())


def read_pages(content: bytes) -> list[str]:
    """Return the text of each page of a PDF."""
    import pypdfium2

    with pypdfium2.PdfDocument(content) as document:
        return [page.get_textpage().get_text_range() for page in document]


def check_cut_list(content: bytes, _job: object, plan: Plan) -> str:
    """Compare each piece of the cut list with the plan: its count and its size in mm."""
    rows = list(csv.DictReader(io.StringIO(content.decode())))
    for place, piece in enumerate(plan.whole.pieces):
        if place >= len(rows):
            return f"the cut list lacks {piece.name}"
        row = rows[place]
        if letters(row["name"]) != letters(piece.name) or int(row["count"]) != piece.count:
            return f"row {place + 1} says {row['count']} × {row['name']}, the plan {piece.count} × {piece.name}"
        for column, figure in (("width mm", piece.width), ("height mm", piece.height)):
            if abs(float(row[column]) - figure.value) > SAME_MM:
                return f"{piece.name}: {column} is {row[column]}, planned {figure.value:.2f}"
    return ""


def check_kit_list(content: bytes, _job: object, plan: Plan) -> str:
    """Compare each row of the kit list with the plan: what it is and how many."""
    rows = list(csv.DictReader(io.StringIO(content.decode())))
    kit = plan.making_up.kit
    if len(rows) != len(kit):
        return f"the kit list has {len(rows)} rows, the plan {len(kit)}"
    for row, planned in zip(rows, kit, strict=True):
        if letters(row["what"]) != letters(planned.name) or row["in all"] != f"{planned.total:g}":
            return f"the kit list says {row['in all']} × {row['what']}, the plan {planned.total:g} × {planned.name}"
    return ""


def check_plan_json(content: bytes, _job: object, plan: Plan) -> str:
    """Compare pieces, mats and problems of the JSON with the plan."""
    record = json.loads(content)
    pieces = {each["id"]: each for each in record["pieces"]}
    for piece in plan.whole.pieces:
        written = pieces.get(piece.id)
        if written is None or written["count"] != piece.count:
            return f"{piece.id} is {written and written['count']} times in it, planned {piece.count} times"
        if abs(written["width_mm"] - piece.width.value) > SAME_MM:
            return f"{piece.id} is {written['width_mm']} mm wide in it, planned {piece.width.value:.2f}"
    if [each["cut_times"] for each in record["mats"]] != [layout.repeats for layout in plan.lay.layouts]:
        return "its mats are cut other times than planned"
    if record["totals"]["stops"] != plan.stops:
        return f"it counts {record['totals']['stops']} problems, the plan {plan.stops}"
    return ""


def check_run_sheet(content: bytes, _job: object, plan: Plan) -> str:
    """Look for every mat on the run sheet: its number, how often it is cut, its paper and the face that lies up."""
    pages = [letters(page) for page in read_pages(content)]
    for layout in plan.lay.layouts:
        head = f"{letters(plan.job.name)}mat{layout.number}run"
        own = "".join(page for page in pages if page.startswith(head))
        missing = next((words for words in _mat_words(layout, plan) if words not in own), None)
        if missing is not None:
            return f"mat {layout.number} on the run sheet does not say “{missing}”"
    return ""


def _mat_words(layout: MatLayout, plan: Plan) -> list[str]:
    times = "once" if layout.repeats == 1 else f"{layout.repeats}times"
    paper = plan.brief.paper(layout.paper).paper.name
    face = [] if layout.sheet.slots else [FACES[layout.face]]
    # A bought blank is named as the blank it is, not as the paper it is of.
    return [f"cut{times}", *face, *([] if layout.is_blank else [letters(paper)])]


def check_making_up(content: bytes, _job: object, plan: Plan) -> str:
    """Look for every step and every row of the kit in the assembly sheets, as often as they are planned."""
    text = letters("".join(read_pages(content)))
    wanted = Counter(letters(step.words) for step in plan.making_up.steps)
    for words, number in wanted.items():
        if text.count(words) < min(number, 1):
            return f"a step is missing: {words[:60]}"
    for row in plan.making_up.kit:
        if letters(row.name) not in text:
            return f"the kit lacks {row.name}"
    return ""


def check_page(content: bytes, side: tuple[Page, object], _plan: Plan) -> str:
    """Compare the size of a printed page with its sheet, in mm."""
    import pypdfium2

    with pypdfium2.PdfDocument(content) as document:
        if len(document) != 1:
            return f"it has {len(document)} pages"
        found = [side * POINTS_MM for side in document[0].get_size()]
    wide, high = side[0].sheet.width, side[0].sheet.height
    if abs(found[0] - wide) > PAGE_MM or abs(found[1] - high) > PAGE_MM:
        return f"it is {found[0]:.1f} x {found[1]:.1f} mm, its sheet {wide:.1f} x {high:.1f}"
    return ""
