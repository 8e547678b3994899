"""Window: a rectangular opening in the front, and a backer glued behind it."""

from collections.abc import Iterator
from typing import Annotated

from dechirer.core.card.panels import Face
from dechirer.core.card.piece import Line, Measure
from dechirer.core.construct.attached import Attached, more
from dechirer.core.construct.paper_left import largest_share, mend_smaller, paper_left
from dechirer.core.construct.specs import ATTACHMENTS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, given
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, make_length
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import bounds, rectangle

LEAST_WINDOW_MM = 2.0
LEAST_WINDOW_FRAME_MM = 6.0
"""Paper left between a window and the edge or fold: less tears or springs (common practice, no published figure)."""


class Window(Decisions, frozen=True):
    """A rectangular opening in the middle of the front, and a backer glued behind it.

    `drop` moves it down from the middle (up when below zero); `margin` is the glue margin on each side.
    """

    width: Annotated[Length, Field("Window width", LEAST_WINDOW_MM, 1000, drawn=True)]
    height: Annotated[Length, Field("Window height", LEAST_WINDOW_MM, 1000, drawn=True)]
    paper: Annotated[Identifier, Field("Backer", takes="paper")]
    drop: Annotated[Length, Field("Below the middle by", -300, 300)] = given("0 mm")
    margin: Annotated[Length, Field("Glue margin of the backer", 0, 100)] = given("5 mm")


def start_window(at: Start) -> Window:
    """A window half as wide and high as its face, backed with another paper."""
    return Window(make_length(at.width * 0.5, at.units), make_length(at.height * 0.5, at.units), at.other_paper())


def window_outline(face: Face, window: Window) -> Points:
    """The window on its face as seen: in the middle, lower by its drop (mm)."""
    left = (face.width - window.width.mm) / 2
    top = (face.height - window.height.mm) / 2 + window.drop.mm
    return rectangle(window.width.mm, window.height.mm, at=(left, top))


@ATTACHMENTS.add(
    "window",
    title="Window backer",
    add="Window in the {face}",
    order=10,
    decisions=Window,
    start=start_window,
    piece="backer",
    line="window",
)
def add_window(attached: Attached, window: Window) -> None:
    """An opening in the middle of the front, and its backer behind."""
    face = attached.front
    path = "construct.window"
    width = Figure("window.width", "window width", window.width.mm, field=f"{path}.width")
    height = Figure("window.height", "window height", window.height.mm, field=f"{path}.height")
    margin = Figure("window.margin", "glue margin", window.margin.mm, field=f"{path}.margin")
    drop = Figure("window.drop", "below the middle by", window.drop.mm, field=f"{path}.drop")
    attached.figures += [width, height, margin, drop]
    hole = face.to_flat.all(window_outline(face, window))
    attached.add_line(face.panel, Line("window", "window", "cut", (hole,), closed=True, role="window"))
    attached.assembler.cut_hole(face.panel, hole)
    across = more(width, margin, "backer.width", "backer width")
    down = more(height, margin, "backer.height", "backer height")
    around, m = face.to_flat.all(_backer_outline(face, window)), margin.value
    attached.put("backer", window.paper, face.panel, attached.behind(face), around)
    guide = rectangle(width.value, height.value, at=(m, m))
    ends = (across.value - m, down.value / 2), (across.value, down.value / 2)
    measure = Measure(margin, *ends, "margin", 0.0, guide)
    attached.add_flat("backer", "window backer", window.paper, across, down, (measure,))
    seen = bounds(hole)
    level = seen.bottom - seen.height * 0.15
    attached.measure_on_base(face.panel, Measure(width, (seen.left, level), (seen.right, level), "", 0.0))
    beside = seen.left + seen.width * 0.15
    attached.measure_on_base(face.panel, Measure(height, (beside, seen.bottom), (beside, seen.top), "", 0.0))


def _backer_outline(face: Face, window: Window, share: float = 1.0) -> Points:
    """The backer behind its window as seen, with a share of its margin."""
    (left, top), margin = window_outline(face, window)[0], share * window.margin.mm
    width, height = window.width.mm + 2 * margin, window.height.mm + 2 * margin
    return rectangle(width, height, at=(left - margin, top - margin))


def _paper_beside(seen: Seen[Window], outline: Points) -> float:
    return paper_left(seen.plan.tree, seen.plan.tree.faces[0], outline)


def _smaller(seen: Seen[Window]) -> tuple[Mend, ...]:
    window, face = seen.own, seen.plan.tree.faces[0]
    beside = 2 * (LEAST_WINDOW_FRAME_MM + window.margin.mm)

    def fits(window: Window) -> bool:
        frame = _paper_beside(seen, window_outline(face, window))
        return frame >= LEAST_WINDOW_FRAME_MM - 1e-6 and _paper_beside(seen, _backer_outline(face, window)) >= -1e-6

    return mend_smaller(
        "Make the window smaller",
        "construct.window",
        window,
        (
            min(window.width.mm, face.width - beside),
            min(window.height.mm, face.height - beside - 2 * abs(window.drop.mm)),
        ),
        LEAST_WINDOW_MM,
        seen.units,
        fits,
    )


@CHECKS.add("construct.window-near-edge", "construct.backer-over-edge", of=add_window)
def find_window_trouble(seen: Seen[Window]) -> Iterator[Finding]:
    """A window must leave a frame, and its backer must stay off the fold and the edges."""
    window, units, face = seen.own, seen.units, seen.plan.tree.faces[0]
    frame = _paper_beside(seen, window_outline(face, window))
    if frame < LEAST_WINDOW_FRAME_MM - 1e-6:
        past = frame < 0
        yield Finding(
            "construct.window-near-edge",
            "stop" if past else "look",
            f"The window {'runs past' if past else 'is close to'} the edge of the {face.name}",
            f"{format_length(max(frame, 0.0), units)} of paper is left; it holds from {LEAST_WINDOW_FRAME_MM:.0f} mm.",
            "The frame tears, or the fold springs open.",
            "base-window",
            (*_smaller(seen), Mend("No window", (Change("construct.window", None),))),
        )
        return
    glued = largest_share(lambda share: _paper_beside(seen, _backer_outline(face, window, share)) >= -1e-6)
    if glued < 1.0:
        beside = glued * window.margin.mm
        narrower = make_length(beside - 1.0, units)
        mends = (Mend(f"Use a margin of {narrower}", (Change("construct.window.margin", narrower),)), *_smaller(seen))
        yield Finding(
            "construct.backer-over-edge",
            "stop",
            "The window's backer reaches past its panel",
            f"A glue margin of {format_length(window.margin.mm, units)} needs more than the "
            f"{format_length(beside, units)} there is beside the window.",
            "It is glued over the fold or shows at the edge.",
            "backer",
            mends,
        )
