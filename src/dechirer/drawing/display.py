"""Display lists: what to draw, in mm on the drawing's own plane, with element ids and roles.

Words: a *role* is a token name (`ink`, `soft`, `fold` ...) or a colour `#rrggbb`; a *form* is the shape of a
line (`cut`, `mountain`, `valley`, `perforate`, `guide`, `edge`, `travel`). `on` names the paper colour an item
lies on, so that a sink can pick ink that is readable there in either theme. Sizes of text and arrows are in
pixels (or points on paper) and do not grow with the drawing.
"""

from __future__ import annotations

from msgspec import Struct

from dechirer.core.card.print import Raster
from dechirer.core.shape.affine import Point, Points
from dechirer.core.shape.outline import Box


class Shape(Struct, frozen=True):
    """Rings or open paths: filled with a role or with the pixels of a `raster`, stroked in a form. A sink that has not
    the pixels at hand fills them with the role."""

    paths: tuple[Points, ...]
    closed: bool = True
    fill: str = ""
    form: str = ""
    role: str = "ink"
    on: str = ""
    element: str = ""
    shadow: bool = False
    weight: float = 1.0
    raster: Raster | None = None


class Label(Struct, frozen=True):
    """A word at a place. `style` is one of body, small, strong, title; `anchor` start, middle or end.

    `figure` and `field` are set when it shows a number, as for a dimension; one that `yields` is placed last. One that
    is `led` to has a thin line to its place, one that was `moved` a ground of its own; one that is `hidden` found no
    room and is shown when it is pointed at.
    """

    at: Point
    text: str
    style: str = "body"
    role: str = "ink"
    on: str = ""
    anchor: str = "middle"
    element: str = ""
    turn_deg: float = 0.0
    shift_px: Point = (0.0, 0.0)
    figure: str = ""
    field: str = ""
    yields: bool = False
    led: bool = False
    moved: bool = False
    hidden: bool = False


class Dimension(Struct, frozen=True):
    """A dimension line between two points, moved sideways by `shift_px` (to the right of start→end when
    positive). `figure` is the key of the number it shows, `field` the job field it types into; one that `may_move`
    may stand on the other side as well. The number lies `slide_px` from the line's middle along it, or `led_px` from
    there with a thin line to it; one that is `hidden` found no room."""

    start: Point
    end: Point
    shift_px: float
    text: str
    figure: str = ""
    field: str = ""
    element: str = ""
    may_move: bool = False
    on: str = ""
    slide_px: float = 0.0
    led_px: Point | None = None
    hidden: bool = False


class Arrow(Struct, frozen=True):
    """An arrow of fixed size at a place, pointing along `turn_deg` (0 right, 90 down)."""

    at: Point
    turn_deg: float
    role: str = "accent"
    shift_px: Point = (0.0, 0.0)


Item = Shape | Label | Dimension | Arrow


class Display(Struct, frozen=True):
    """A picture: items from back to front, the box in mm that should be in view, and room round it in px.

    `scale` is px per mm where the picture was made for one; `description` says the picture in words, for readers of
    the screen. `details` are places a finding is about, each with how large the thing there is, in mm.
    """

    items: tuple[Item, ...]
    box: Box
    room_px: tuple[float, float, float, float] = (60.0, 60.0, 60.0, 60.0)
    description: str = ""
    scale: float = 0.0
    details: tuple[tuple[Point, float], ...] = ()
