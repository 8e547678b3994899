"""Locks of a card that comes from a file: a tongue of one panel that passes a straight slot of another when it closes.

A tongue is recognised by where it comes to lie: closed, its panel crosses the slot's line within the slot's length, and
reaches beyond it. Which way it passes follows from the order of the folds.
"""

from __future__ import annotations

import math

from msgspec import Struct

from dechirer.core.card.assembly import Threaded
from dechirer.core.card.folding import fold
from dechirer.core.card.panels import Hinge, PanelTree
from dechirer.core.construct.rim import chord_at
from dechirer.core.shape.affine import Affine, Point, Points
from dechirer.core.shape.algebra import keep_within
from dechirer.core.shape.outline import bounds, is_inside, rectangle

LEAST_SLOT_MM = 3.0
STRAIGHT_MM = 0.1
TIGHT = 1.5
"""A panel that crosses a slot's line on more than this many times its length lies over it and was not meant to pass."""


class Lock(Struct, frozen=True):
    """A tongue in its slot.

    `neck` is how broad the tongue is in the slot, `head` how broad it is at most beyond, `slot` how long the slot is
    (mm); `rest` and `beyond` are the panel's parts before and beyond the slot, on the flat sheet.
    """

    panel: str
    slotted: str
    slot: float
    neck: float
    head: float
    rest: Points
    beyond: Points

    def thread(self, tree: PanelTree) -> Threaded:
        """How the tongue lies when the card is closed: over the slotted panel, or behind it."""
        order = {hinge.child: hinge.order for hinge in tree.hinges}
        if order.get(self.panel, 0) < order.get(self.slotted, 0):
            return Threaded(self.panel, self.rest, self.beyond, 2)
        return Threaded(self.panel, self.rest, self.beyond, -2, spread=self.slotted)


def find_locks(tree: PanelTree, slits: tuple[Points, ...]) -> tuple[Lock, ...]:
    """The tongues that pass a slot when the card is closed; `slits` are open cuts on its flat sheet."""
    if len(tree.panels) < 3 or any(hinge.closed_deg != 180.0 for hinge in tree.hinges):
        return ()
    places = _closed_places(tree)
    hung = {hinge.child: hinge for hinge in tree.hinges}
    ends = set(hung) - {hinge.parent for hinge in tree.hinges}
    found = []
    for slit in slits:
        if math.dist(slit[0], slit[-1]) < LEAST_SLOT_MM or not _is_straight(slit):
            continue
        middle = ((slit[0][0] + slit[-1][0]) / 2, (slit[0][1] + slit[-1][1]) / 2)
        slotted = next((panel.id for panel in tree.panels if is_inside(panel.outline, middle)), None)
        if slotted is None:
            continue
        for panel in sorted(ends - {slotted}):
            to_panel = places[slotted].then(places[panel].inverse())
            lock = _find_lock(tree, hung[panel], slotted, (to_panel(slit[0]), to_panel(slit[-1])))
            if lock is not None:
                found.append(lock)
    return tuple(found)


def _is_straight(slit: Points) -> bool:
    import shapely

    whole = shapely.LineString((slit[0], slit[-1]))
    return bool(shapely.hausdorff_distance(whole, shapely.LineString(slit)) < STRAIGHT_MM)


def _closed_places(tree: PanelTree) -> dict[str, Affine]:
    """Where each panel's points come to lie in the plane of the root when the card is closed."""
    return {
        panel: Affine(pose.rows[0][0], pose.rows[1][0], pose.rows[0][1], pose.rows[1][1], *pose.offset[:2])
        for panel, pose in fold(tree, 1.0).items()
    }


def _find_lock(tree: PanelTree, hinge: Hinge, slotted: str, slot: tuple[Point, Point]) -> Lock | None:
    """The tongue of the panel that hangs on a hinge, in a slot that is given on that panel's part of the sheet."""
    (x0, y0), (x1, y1) = slot
    length = math.dist(*slot)
    cos, sin = (x1 - x0) / length, (y1 - y0) / length
    # The slot comes to lie on the x axis, from 0; the panel's hinge above it.
    level = Affine(cos, -sin, sin, cos, -cos * x0 - sin * y0, sin * x0 - cos * y0)
    if level(((hinge.start[0] + hinge.end[0]) / 2, (hinge.start[1] + hinge.end[1]) / 2))[1] > 0:
        level = level.then(Affine(d=-1.0))
    outline = level.all(tree.panel(hinge.child).outline)
    box = bounds(outline)
    if box.top > -1e-6 or box.bottom < 1e-6:
        return None
    neck = chord_at(outline, 1e-9)
    side = rectangle(box.width + 2, box.bottom + 1, at=(box.left - 1, 0.0))
    other = rectangle(box.width + 2, -box.top + 1, at=(box.left - 1, box.top - 1))
    beyond, rest = keep_within(outline, side), keep_within(outline, other)
    if not beyond or not rest or neck > length * TIGHT or neck < 1.0:
        return None
    at = [x for x, y in beyond if abs(y) < 1e-6]
    if not at or min(at) > length or max(at) < 0:
        return None
    head = max(chord_at(beyond, y + step) for _, y in beyond for step in (-1e-6, 1e-6))
    back = level.inverse()
    return Lock(hinge.child, slotted, length, neck, head, back.all(rest), back.all(beyond))
