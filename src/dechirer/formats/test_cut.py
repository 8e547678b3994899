"""The file of a test cut: a corner to lift, webs from narrow to broad, folds scored once to three times, a kiss cut.

It is laid in the waste of a mat where there is room for it, else in the corner of a spare sheet.
"""

from __future__ import annotations

from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.offcuts import find_offcut
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import Box, rectangle

WEBS_MM = (0.4, 0.6, 0.8, 1.0, 1.2, 1.4, 1.6)
WINDOW_MM = (4.0, 9.0)
SIZE_MM = (62.0, 36.0)
SCORE_MM = 18.0
KISS_MM = 8.0


def place_of(layout: MatLayout, gap: float) -> tuple[float, float] | None:
    """Where a test cut lies in the waste of a mat; None where there is no room."""
    left = find_offcut(layout, gap) if not layout.is_blank else None
    if left is None:
        return None
    room = left.within(layout.sheet.room)
    return (room.left, room.top) if room.width >= SIZE_MM[0] and room.height >= SIZE_MM[1] else None


def test_lines(at: tuple[float, float]) -> dict[str, list[tuple[str, Points, bool]]]:
    """The lines of a test cut by operation: (name, points in mm, closed)."""
    x, y = at
    cuts: list[tuple[str, Points, bool]] = []
    # Windows beside each other leave webs of known width between them.
    left = x + 2.0
    for number, web in enumerate((*WEBS_MM, 0.0)):
        cuts.append((f"web-{number}", rectangle(*WINDOW_MM, at=(left, y + 2.0)), True))
        left += WINDOW_MM[0] + web
    corner = (x + 2.0, y + 16.0)
    triangle = (
        (corner[0] + 3.0, corner[1] + 3.0),
        (corner[0] + 9.0, corner[1] + 3.0),
        (corner[0] + 3.0, corner[1] + 9.0),
    )
    cuts += [("corner", triangle, True), ("square", rectangle(12.0, 12.0, at=corner), True)]
    scores: list[tuple[str, Points, bool]] = []
    for times in (1, 2, 3):
        level = y + 14.0 + 5.0 * times
        line = ((x + 18.0, level), (x + 18.0 + SCORE_MM, level))
        scores += [(f"score-{times}", line if time % 2 == 0 else line[::-1], False) for time in range(times)]
    kiss = [("kiss", rectangle(KISS_MM, KISS_MM, at=(x + 42.0, y + 18.0)), True)]
    return {"score": scores, "kiss": kiss, "cut": cuts}


def write_test_cut(layout: MatLayout, at: tuple[float, float]) -> bytes:
    """A test cut as SVG, in the frame of a layout's mat."""
    mat, parts = layout.sheet.mat, []
    for operation, lines in test_lines(at).items():
        parts.append(f'  <g data-operation="{operation}" stroke="#000000">\n')
        for number, (name, points, closed) in enumerate(lines):
            data = "M" + " L".join(f"{px:.4f} {py:.4f}" for px, py in points) + (" Z" if closed else "")
            parts.append(f'    <path id="{name}-{number}" d="{data}"/>\n')
        parts.append("  </g>\n")
    size = f'width="{mat.width:g}mm" height="{mat.height:g}mm" viewBox="0 0 {mat.width:g} {mat.height:g}"'
    head = '<?xml version="1.0" encoding="UTF-8"?>\n<svg xmlns="http://www.w3.org/2000/svg" '
    return f'{head}{size} fill="none" stroke-width="0.2">\n  <title>Test cut</title>\n{"".join(parts)}</svg>\n'.encode()


def box_of(at: tuple[float, float]) -> Box:
    """What a test cut takes, on its mat."""
    return Box(at[0], at[1], at[0] + SIZE_MM[0], at[1] + SIZE_MM[1])
