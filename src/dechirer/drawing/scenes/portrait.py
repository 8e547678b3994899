"""The finished card to show to others: closed, opened, inside and from the back, in its papers' colours, no numbers."""

from __future__ import annotations

from msgspec import Struct, structs

from dechirer.core.plan import Plan
from dechirer.drawing.display import Dimension, Display, Label
from dechirer.drawing.scenes.solid import make_folded_scene
from dechirer.drawing.solid.eye import BACK, FRONT, INSIDE, Look


class View(Struct, frozen=True):
    """One view: what it shows, how far the card is closed in it, and how it is looked at."""

    title: str
    closed: float
    look: Look


VIEWS = (
    View("the front", 0.94, FRONT),
    View("opened", 0.62, FRONT),
    View("inside", 0.4, INSIDE),
    View("the back", 0.94, BACK),
)


def make_portrait(plan: Plan, seen: View | None = None) -> list[tuple[str, Display]]:
    """The views of a card, each with its title; a flat card has its two sides.

    Args:
        seen: as a maker has turned it, in place of how it is opened otherwise.
    """
    views: tuple[View, ...] = VIEWS if plan.stacked.tree.hinges else (VIEWS[0], VIEWS[3])
    if seen is not None:
        views = (views[0], seen, *views[2:]) if len(views) > 2 else (*views, seen)
    return [(view.title, _bare(make_folded_scene(plan, view.closed, look=view.look))) for view in views]


def _bare(display: Display) -> Display:
    items = tuple(item for item in display.items if not isinstance(item, Dimension | Label))
    room: tuple[float, float, float, float] = (8.0, 8.0, 8.0, 8.0)
    return structs.replace(display, items=items, room_px=room)
