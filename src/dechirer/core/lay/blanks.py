"""Laying bought blanks: in the slots of a card mat where they fit, else one by one in the corner of a plain mat."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator, Sequence

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import Machine
from dechirer.core.card.mat import Mat
from dechirer.core.card.piece import Piece
from dechirer.core.card.placed import Placement, make_placement
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.figure import Figure
from dechirer.core.lay.decisions import Lay
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.sheet import load_blank, loading_of
from dechirer.core.press.room import printed_area
from dechirer.core.shape.affine import translate
from dechirer.core.shape.outline import Box, bounds, rectangle

SAME_MM = 0.05
WAYS = ((False, True), (False, False), (True, False), (True, True))
"""Turned by a quarter, and by a half besides; the half turn first: it puts the front of a side fold to the left."""


class Blank(Struct, frozen=True):
    """One kind of blank that is loaded: its piece as it lies face up, its paper, the side up, its printable part."""

    piece: Piece
    paper: Paper
    face: str
    printable: Callable[[float, float], Box] | None = None

    @property
    def load(self) -> tuple[object, ...]:
        """What all blanks of one load have alike: size, type, the side up, the mat that was chosen."""
        box = bounds(self.piece.outline)
        return round(box.width, 1), round(box.height, 1), self.paper.bought, self.face, bool(self.printable)


def front_of(piece: Piece) -> Box:
    """The front panel on the flat piece, outside up: all of it where it does not fold."""
    if not piece.tree.faces or not piece.folds:
        return bounds(piece.outline)
    face = piece.tree.faces[0]
    return bounds(face.to_flat.all(rectangle(face.width, face.height)))


def is_front_alone(piece: Piece) -> bool:
    """Whether all that is run lies on the front."""
    front = front_of(piece).grown(SAME_MM)
    return all(front.holds(bounds(path)) for line in piece.run_lines for path in line.paths if path)


def lay_blanks(
    blanks: Sequence[Blank], lay: Lay, machine: Machine, layouts: list[MatLayout]
) -> Iterator[tuple[str, int]]:
    """Add the mats of bought blanks, those of one size and type together; what goes on no mat, with how many.

    A blank on which nothing is run needs no mat.
    """
    loads: dict[tuple[object, ...], list[Blank]] = {}
    for blank in blanks:
        if blank.piece.run_lines:
            key = (*blank.load, loading_of(lay, blank.paper.id).mat, slots_for(blank, lay, machine) is not None)
            loads.setdefault(key, []).append(blank)
    for some in loads.values():
        mat = slots_for(some[0], lay, machine)
        if mat is not None:
            _fill_slots(some, mat, layouts)
            continue
        for blank in some:
            yield from _lay_alone(blank, lay, machine, layouts)


def slots_for(blank: Blank, lay: Lay, machine: Machine) -> Mat | None:
    """The mat whose slots take a blank: the one that was chosen, or the first that does. None where it is opened flat:
    something is run besides its front, it is printed, or no slot is large enough."""
    if blank.face != "outside-up" or blank.printable is not None or not is_front_alone(blank.piece):
        return None
    wanted = loading_of(lay, blank.paper.id).mat
    mats = machine.all_mats if wanted is None else (machine.mat(wanted),)
    return next((mat for mat in mats if any(_way_into(blank.piece, slot) for slot in mat.slots)), None)


def _way_into(piece: Piece, slot: Box) -> tuple[bool, bool] | None:
    """How a blank is turned so that its fold lies at a slot's left side and its front fits; None where it does not."""
    for turned, half in ((False, False), (True, True), (False, True), (True, False)):
        placed = _put(piece, "", turned, half)
        front = _front_on_sheet(placed, piece)
        whole = placed.box
        folded = front.width < whole.width - SAME_MM or front.height < whole.height - SAME_MM
        at_left = whole.right - front.right < SAME_MM and front.left - whole.left > SAME_MM
        if (at_left or not folded) and front.width <= slot.width + SAME_MM and front.height <= slot.height + SAME_MM:
            return turned, half
    return None


def _fill_slots(some: list[Blank], mat: Mat, layouts: list[MatLayout]) -> None:
    """Loads of a mat with slots until all of some blanks are laid: in the slots they ask for, the others in turn."""
    left = Counter({blank.piece.id: blank.piece.count for blank in some})
    while left.total():
        placements, fronts = [], []
        taken: Counter[str] = Counter()
        queue = _in_turn(some, left)
        asked = {blank.piece.slot: blank for blank in some if left[blank.piece.id]}
        for number, slot in enumerate(mat.slots, start=1):
            blank = asked.get(number)
            if blank is None or taken[blank.piece.id] >= left[blank.piece.id]:
                free = (each for each in queue if not _asks_elsewhere(each, number, len(mat.slots)))
                blank = next((each for each in free if taken[each.piece.id] < left[each.piece.id]), None)
            way = _way_into(blank.piece, slot) if blank is not None else None
            if blank is None or way is None:
                continue
            if blank in queue:
                queue.remove(blank)
            taken[blank.piece.id] += 1
            placed, front = _put_front(blank.piece, f"{blank.piece.id}-{taken[blank.piece.id]}", way, slot)
            placements.append(placed)
            fronts.append(front)
        if not placements:
            return
        repeats = min(left[piece] // number for piece, number in taken.items())
        left -= Counter({piece: number * repeats for piece, number in taken.items()})
        first = fronts[0]
        sheet = LoadedSheet(
            first.width, first.height, False, False, mat.reach, mat, left=first.left, top=first.top, slots=tuple(fronts)
        )
        _add(layouts, some[0], sheet, repeats, tuple(placements))


def _in_turn(some: list[Blank], left: Counter[str]) -> list[Blank]:
    """One of each kind that is left, then the next of each, and so on: loads that are alike are cut by one file."""
    most = max(left.values(), default=0)
    return [blank for round in range(min(most, 12)) for blank in some if left[blank.piece.id] > round]


def _asks_elsewhere(blank: Blank, number: int, slots: int) -> bool:
    return 0 < blank.piece.slot <= slots and blank.piece.slot != number


def _lay_alone(blank: Blank, lay: Lay, machine: Machine, layouts: list[MatLayout]) -> Iterator[tuple[str, int]]:
    """Add the mat of a blank that is opened flat and loaded by itself, its front in the corner where that is all that
    is run on."""
    piece, mat = blank.piece, machine.mat(loading_of(lay, blank.paper.id).mat)
    if mat.slots:
        mat = machine.main_mat
    box = bounds(piece.outline)
    sheet = load_blank(box.width, box.height, mat)
    if sheet is None:
        yield piece.id, piece.count
        return
    turned, half = sheet.turned, False
    if blank.face == "outside-up" and blank.printable is None and is_front_alone(piece):
        way = _way_into_corner(piece, mat)
        if way is not None:
            turned, half = way
            wide, high = (box.height, box.width) if turned else (box.width, box.height)
            room = Box(0.0, 0.0, wide, high).within(mat.reach)
            sheet = structs.replace(sheet, width=wide, height=high, turned=turned, room=room)
    if blank.printable is not None:
        sheet = structs.replace(sheet, printable=blank.printable(sheet.width, sheet.height))
    off = next((each for each in lay.trials if (each.machine, each.mat) == (machine.name, mat.id)), None)
    x, y = (-off.right, -off.down) if off is not None and not blank.printable else (0.0, 0.0)
    placed = make_placement(f"{piece.id}-1", piece, x, y, turned=turned, pinned=False, half=half)
    _add(layouts, blank, sheet, piece.count, (placed,))


def _way_into_corner(piece: Piece, mat: Mat) -> tuple[bool, bool] | None:
    """How a blank that is opened flat is turned so that its front lies in the mat's corner and the rest to the right of
    it, or below."""
    for turned, half in WAYS:
        placed = _put(piece, "", turned, half)
        front = _front_on_sheet(placed, piece)
        fits = placed.box.width <= mat.width + SAME_MM and placed.box.height <= mat.height + SAME_MM
        if fits and front.left < SAME_MM and front.top < SAME_MM:
            return turned, half
    return None


def _put(piece: Piece, id: str, turned: bool, half: bool) -> Placement:
    return make_placement(id, piece, 0.0, 0.0, turned=turned, pinned=False, half=half)


def _put_front(piece: Piece, id: str, way: tuple[bool, bool], slot: Box) -> tuple[Placement, Box]:
    """A blank with its front pushed to a slot's corner, and where its front lies."""
    placed = _put(piece, id, *way)
    front = _front_on_sheet(placed, piece)
    dx, dy = slot.left - front.left, slot.top - front.top
    moved = structs.replace(placed, box=placed.box.moved(dx, dy), to_sheet=placed.to_sheet.then(translate(dx, dy)))
    return moved, front.moved(dx, dy)


def _front_on_sheet(placed: Placement, piece: Piece) -> Box:
    """The box of a blank's front where it lies."""
    return bounds(placed.to_sheet.all(_corners(front_of(piece))))


def _corners(box: Box) -> tuple[tuple[float, float], ...]:
    return ((box.left, box.top), (box.right, box.top), (box.right, box.bottom), (box.left, box.bottom))


def _add(
    layouts: list[MatLayout], blank: Blank, sheet: LoadedSheet, repeats: int, placements: tuple[Placement, ...]
) -> None:
    number, index = len(layouts) + 1, sum(layout.paper == blank.paper.id for layout in layouts)
    share = share_of_blanks(number, placements)
    one = (f"mat-{number}", number, blank.paper.id, index, sheet, blank.face, repeats, placements, share)
    layouts.append(MatLayout(*one))


def share_of_blanks(number: int, placements: tuple[Placement, ...]) -> Figure:
    """All of a blank's paper is used: it is bought in its size."""
    used = sum(each.piece.area for each in placements)
    key, source = f"mat-{number}.share", "bought in their size"
    return Figure(
        key,
        f"paper used on mat {number}",
        1.0,
        "share",
        formula="{area of the pieces} ÷ {area of the blanks}",
        inputs=(
            Figure(f"{key}.pieces", "area of the pieces", used, "area", source="outlines of the pieces"),
            Figure(f"{key}.sheet", "area of the blanks", used, "area", source=source),
        ),
    )


def blank_of(piece: Piece, paper: Paper, face: str, printer: object | None) -> Blank:
    """A blank to be laid; with a printer where it is printed."""
    if printer is None or not piece.prints:
        return Blank(piece, paper, face)
    return Blank(piece, paper, face, lambda width, height: printed_area(width, height, printer))  # type: ignore[arg-type]
