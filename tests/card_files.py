"""Files that are cards, as unlike as files of strangers are: each made up here, with what it holds."""

from __future__ import annotations

import io
import itertools

import ezdxf

from dechirer.core.brought import Art
from dechirer.core.job.edit import apply_changes
from dechirer.core.job.model import Job
from dechirer.core.starting import take_card
from dechirer.formats.art.read import read_art
from tests.helpers import quick_job

CUT = 'fill="none" stroke="#d02020" stroke-width="0.2"'
FOLD = 'fill="none" stroke="#2060c0" stroke-width="0.2"'


def svg(body: str, width: float = 300, height: float = 220) -> bytes:
    """A drawing in mm."""
    head = f'<svg xmlns="http://www.w3.org/2000/svg" width="{width}mm" height="{height}mm" '
    return f'{head}viewBox="0 0 {width} {height}">{body}</svg>'.encode()


def box(x: float, y: float, width: float, height: float) -> str:
    return f"M {x} {y} h {width} v {height} h {-width} Z"


def layer(name: str, body: str) -> str:
    return f'<g id="{name}">{body}</g>'


def cuts(*paths: str) -> str:
    return layer("cut", "".join(f'<path d="{path}" {CUT}/>' for path in paths))


def scores(*paths: str) -> str:
    return layer("score", "".join(f'<path d="{path}" {FOLD}/>' for path in paths))


def dxf() -> bytes:
    """A top fold 150 x 110 mm closed, drawn from single lines on layers, y upwards as such files have it."""
    drawing = ezdxf.new(units=4)
    space = drawing.modelspace()
    corners = [(0, 0), (150, 0), (150, 220), (0, 220), (0, 0)]
    for one, other in itertools.pairwise(corners):
        space.add_line(one, other, dxfattribs={"layer": "CUT"})
    space.add_line((0, 110), (150, 110), dxfattribs={"layer": "SCORE"})
    out = io.StringIO()
    drawing.write(out)
    return out.getvalue().encode()


SIDES = '<g transform="translate(20 15)"><g transform="scale(2)">{}</g></g>'.format(
    "".join(
        f'<line x1="{a}" y1="{b}" x2="{c}" y2="{d}" {CUT}/>'
        for a, b, c, d in ((0, 0, 100, 0), (100, 0, 100, 70), (100, 70, 0, 70), (0, 70, 0, 0))
    )
)
DASHES = [f"M 100 {y} v 4" for y in range(4, 146, 8)]

FILES: dict[str, tuple[str, bytes]] = {
    "side fold": ("a.svg", svg(cuts(box(0, 0, 200, 150)) + scores("M 100 0 V 150"))),
    "lines in nested groups, fold overshoots": (
        "b.svg",
        svg(layer("cut", SIDES) + scores("M 120 12 V 158")),
    ),
    "separate dashes": ("c.svg", svg(cuts(box(0, 0, 200, 150)) + scores(*DASHES))),
    "dashed stroke that stops short": (
        "d.svg",
        svg(cuts(box(5, 5, 200, 150)) + f'<path d="M 105 8 V 152" {FOLD} stroke-dasharray="5 5"/>'),
    ),
    "no folds": ("e.svg", svg(cuts("M 0 0 L 100 0 L 100 60 Q 50 110 0 60 Z"))),
    "two papers, one on the other": (
        "f.svg",
        svg(
            f'<path d="{box(0, 0, 200, 150)}" fill="#fff4d0"/><path d="{box(110, 20, 80, 110)}" fill="#182c60"/>'
            + scores("M 100 0 V 150")
        ),
    ),
    "two pieces side by side": (
        "g.svg",
        svg(cuts(box(0, 0, 120, 150), box(140, 0, 60, 80)) + scores("M 60 0 V 150", "M 140 40 H 200")),
    ),
    "three sections": (
        "h.svg",
        svg(cuts(*(box(x, 0, 80, 150) for x in (0, 90, 180))) + scores(*(f"M {x + 40} 0 V 150" for x in (0, 90, 180)))),
    ),
    "gate with a slot": (
        "i.svg",
        svg(cuts(box(0, 0, 240, 150), box(20, 60, 3, 30)) + scores("M 60 0 V 150", "M 180 0 V 150")),
    ),
    "window across the fold, flap": (
        "k.svg",
        svg(
            cuts(box(0, 0, 200, 150), box(85, 60, 30, 30), "M 150 40 H 180 V 60 H 150")
            + scores("M 100 0 V 150", "M 150 40 V 60")
        ),
    ),
    "drawing of lines on layers": ("l.dxf", dxf()),
    "perforated and drawn on": (
        "m.svg",
        svg(
            cuts(box(0, 0, 120, 200))
            + layer("perforate", f'<path d="M 0 100 H 120" {FOLD}/>')
            + layer(
                "pen", '<path d="M 20 150 C 40 120 60 180 80 150" fill="none" stroke="#1f4d2b" stroke-width="0.5"/>'
            )
        ),
    ),
}
"""What each is, its name and its bytes."""

BAD: dict[str, bytes] = {
    "construct.file-open": svg(
        layer("cut", f'<path d="M 0 0 H 200 V 150 H 0 V 1.5" {CUT}/>') + scores("M 100 0 V 150")
    ),
    "construct.file-no-tree": svg(cuts(box(0, 0, 200, 150)) + scores("M 100 0 V 150", "M 0 75 H 200")),
    "construct.file-overlap": svg(cuts(box(0, 0, 100, 100), box(80, 20, 100, 100))),
    "construct.file-curved": svg(cuts(box(0, 0, 200, 150)) + scores("M 100 0 C 160 50 160 100 100 150")),
    "construct.file-stray": svg(cuts(box(0, 0, 200, 150)) + scores("M 100 0 V 150", "M 210 0 V 150")),
    "construct.file-unassigned": svg(f'<path d="{box(0, 0, 200, 150)}" {CUT}/><path d="M 100 0 V 150" {FOLD}/>'),
    "construct.file-several": FILES["three sections"][1],
    "construct.part-without-paper": FILES["two papers, one on the other"][1],
}


def read(name: str, data: bytes) -> Art:
    return read_art(data, name, set())


def taken(name: str, data: bytes, **more: object) -> Job:
    """A job whose card is a file."""
    job = quick_job("5x7in", **more)
    return apply_changes(job, take_card(job, read(name, data)))


LOCK_SQUARE = 60.0
"""How wide the square of 2 3/4 in is drawn in the lock card's files, in their own mm."""


def lock_file(larger: float, folds: str, broad: float = 30.0) -> bytes:
    """A card with two doors, a tongue that passes a slot, and a square; its outline is `larger` while that stays.

    `broad` is how far the curves of the tongue's head are drawn out to each side.
    """
    a, b, c, d = (each * larger for each in (50, 150, 200, 224))
    high, mid, neck, out = 120 * larger, 60 * larger, c + 8, broad
    tongue = f"M 0 0 H {c} V {mid - 6} H {neck} Q {neck} {mid - out} {d} {mid} Q {neck} {mid + out} {neck} {mid + 6} "
    outline = f"{tongue} H {c} V {high} H 0 Z"
    square = box(100 * larger - LOCK_SQUARE / 2, mid - LOCK_SQUARE / 2, LOCK_SQUARE, LOCK_SQUARE)
    slot = f"M 6 {mid - 7} V {mid + 7}"
    starts = range(4, 116, 9)
    ways = {
        "scored": scores(f"M {a} 0 V {high}", f"M {b} 0 V {high}"),
        "dashed": layer("fold", "".join(f'<path d="M {x} {y} v 5" {FOLD}/>' for x in (a, b) for y in starts)),
    }
    return svg(f'<g transform="translate(8 9)">{cuts(outline, square, slot)}{ways[folds]}</g>')


LOCK_FILES = {"scored": lock_file(1.0, "scored"), "dashed": lock_file(1.02, "dashed")}
"""The two versions of a lock card: their outlines differ by 2 %, their square does not."""


def _strings() -> bytes:
    """Three sections of two panels of 5 1/2 x 8 1/2 in with a tab of 12 mm, each with its own strings for the pen."""
    body = ""
    for number in range(3):
        x, wide = 5 + number * 310, 139.7
        pens = "".join(
            f'<path d="M {20 + 30 * n} 10 C {30 + 20 * n} 60 {10 + 25 * n} 90 {25 + 28 * n} 150" fill="none" '
            f'stroke="#1f4d2b" stroke-width="0.4"/>'
            for n in range(number + 1)
        )
        inner = cuts(f"M 0 0 H {2 * wide} L {2 * wide + 12} 6 V 210 L {2 * wide} 215.9 H 0 Z")
        inner += scores(f"M {wide} 0 V 215.9", f"M {2 * wide} 0 V 215.9") + layer("pen", pens)
        body += f'<g transform="translate({x} 4)"><g>{inner}</g></g>'
    return svg(body, 950, 230)


STRINGS_FILE = _strings()
