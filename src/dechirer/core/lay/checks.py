"""Checks of the lay: does every piece fit what the machine reaches, on the sheets there really are?"""

from __future__ import annotations

from collections.abc import Iterator

from msgspec import Struct

from dechirer.core.brief.decisions import Brief, Paper
from dechirer.core.card.piece import Line, Piece
from dechirer.core.card.placed import Placement
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.construct.decisions import Construct
from dechirer.core.construct.specs import ENVELOPES
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.dress.decisions import Dress
from dechirer.core.dress.dressed import DressPlan
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.lay.decisions import Lay, set_loading
from dechirer.core.lay.holes import are_too_close
from dechirer.core.lay.lay import LayPlan, make_lay
from dechirer.core.lay.mat import MatLayout
from dechirer.core.lay.pinning import name_of, unpin_layout
from dechirer.core.lay.sheet import load_sheet, loading_of, mat_of, sheet_set, sizes_of
from dechirer.core.length import format_length, format_size, parse_length
from dechirer.core.press.room import largest_size
from dechirer.core.shape.outline import Box, bounds
from dechirer.core.words import plural

OFF_MM = 0.05
"""A line that reaches out by less is where it should be."""


class LaySeen(Struct, frozen=True):
    """The decisions up to here, the dressed card (`whole`), and the mats."""

    brief: Brief
    construct: Construct
    lay: Lay
    dress: Dress
    units: str
    dressed: DressPlan
    whole: ConstructPlan
    plan: LayPlan

    @property
    def pieces(self) -> tuple[Piece, ...]:
        """Every piece that is laid, those of other jobs among them."""
        return (*self.whole.pieces, *self.plan.guest_pieces)

    def piece(self, piece_id: str) -> Piece | None:
        """The piece of that id, or None."""
        return next((piece for piece in self.pieces if piece.id == piece_id), None)


def _paper(seen: LaySeen, paper_id: str) -> Paper:
    return next(paper for paper in seen.brief.papers if paper.id == paper_id)


@CHECKS.add("lay.piece-too-large", of=make_lay)
def find_piece_too_large(seen: LaySeen) -> Iterator[Finding]:
    """A flat piece larger than what the machine reaches on its sheet."""
    for piece_id, _count in seen.plan.unplaced:
        piece = seen.piece(piece_id)
        if piece is None or piece.prints:
            continue  # what is printed has less room, which Press tells of
        paper = _paper(seen, piece.paper)
        if piece.blank:
            yield _blank_too_large(seen, piece)
            continue
        largest = max(sizes_of(seen.lay, paper), key=lambda size: size.area)
        sheet = load_sheet(largest, seen.lay, mat_of(seen.lay, paper, seen.brief.machine))
        box = bounds(piece.outline)
        yield Finding(
            "lay.piece-too-large",
            "stop",
            f"The {piece.name} does not fit on its sheet",
            f"It is {format_size(box.width, box.height, seen.units)} flat{_smallest(seen, piece, sheet)}; on "
            f"{paper.name} of {format_size(sheet.width, sheet.height, seen.units)} the {seen.brief.machine.name} "
            f"reaches {_room(sheet, seen.units)}.",
            "It cannot be cut.",
            piece.id,
            (
                *_mends_for_pattern(paper, box, sheet),
                *_mends_for_envelope(seen, piece),
                *_mends_for_size(seen, piece, paper, sheet),
            ),
        )


def _mends_for_pattern(paper: Paper, box: Box, sheet: LoadedSheet) -> Iterator[Mend]:
    """A piece that would go turned by a quarter, if its pattern may run across it."""
    fits = box.height <= sheet.room.width + 1e-6 and box.width <= sheet.room.height + 1e-6
    if paper.stands_upright and fits:
        yield Mend("Let the pattern run across", (Change(f"brief.papers.{paper.id}.upright", False),))


def _blank_too_large(seen: LaySeen, piece: Piece) -> Finding:
    box, machine = bounds(piece.outline), seen.brief.machine
    return Finding(
        "lay.piece-too-large",
        "stop",
        "The blank does not go on the mat",
        f"Opened flat it is {format_size(box.width, box.height, seen.units)}; the mat of the {machine.name} is "
        f"{format_size(machine.mat_width, machine.mat_height, seen.units)}.",
        "Nothing can be cut in it.",
        piece.id,
        (
            Mend("Cut the base instead", (Change("brief.blank", None),))
            if seen.brief.blank is not None
            else Mend(
                f"{_paper(seen, piece.paper).name} comes in sheets",
                (Change(f"brief.papers.{piece.paper}.bought", "sheets"),),
            ),
        ),
    )


def _smallest(seen: LaySeen, piece: Piece, sheet: LoadedSheet) -> str:
    """How small it gets at its best turn, where turning is allowed and changes anything."""
    from dechirer.core.shape.turning import find_best_turn  # it brings numpy, which a plain card does without

    room = sheet.room
    if not seen.lay.may_turn or min(room.width, room.height) <= 0:
        return ""
    turn = find_best_turn(piece.outline, room.width, room.height)
    box = bounds(piece.outline)
    if min(abs(turn.angle_deg - quarter) for quarter in (0, 90, 180)) < 0.01:
        return ", and no turn makes it smaller"
    if (
        max(turn.width / room.width, turn.height / room.height)
        >= min(
            max(box.width / room.width, box.height / room.height), max(box.height / room.width, box.width / room.height)
        )
        - 1e-9
    ):
        return ", and no turn makes it smaller"
    return f" and at best, turned by {turn.angle_deg:.1f}°, {format_size(turn.width, turn.height, seen.units)}"


def _mends_for_envelope(seen: LaySeen, piece: Piece) -> Iterator[Mend]:
    """Other styles of envelope that close over the same card and fit the sheet."""
    envelope = seen.construct.envelope
    if piece.id != "envelope" or envelope is None:
        return
    for style in seen.whole.envelope_fits:
        if style != envelope.style:
            yield Mend(f"Use {ENVELOPES[style].use}", (Change("construct.envelope.style", style),))


@CHECKS.add("lay.turned-to-fit", of=make_lay)
def find_piece_turned_askew(seen: LaySeen) -> Iterator[Finding]:
    """A piece that fits only askew: said, because its grain and its pattern turn with it."""
    for piece_id, angle in seen.plan.turned:
        piece = seen.piece(piece_id)
        if piece is not None:
            yield Finding(
                "lay.turned-to-fit",
                "note",
                f"The {piece.name} is turned by {angle:.1f}° to fit",
                "Upright it is larger than what the machine reaches; at this turn it takes the least room.",
                "The paper's grain and pattern run askew on it.",
                piece.id,
            )


def _room(sheet: LoadedSheet, units: str) -> str:
    if min(sheet.room.width, sheet.room.height) <= 0:
        return "nothing"
    return format_size(sheet.room.width, sheet.room.height, units)


def _mends_for_size(seen: LaySeen, piece: Piece, paper: Paper, sheet: LoadedSheet) -> Iterator[Mend]:
    box = bounds(piece.outline)
    if not seen.lay.may_turn and _fits(box.height, box.width, sheet.room):
        yield Mend("Allow turning", (Change("lay.may_turn", True),))
    offered = [other.sheet for other in seen.brief.papers] + [
        Size(parse_length(w), parse_length(h))
        for w, h in (("12 in", "12 in"), ("12 in", "24 in"), ("210 mm", "297 mm"))
    ]
    for size in offered:
        room = load_sheet(size, seen.lay, mat_of(seen.lay, paper, seen.brief.machine)).room
        if _fits(box.width, box.height, room) or (seen.lay.may_turn and _fits(box.height, box.width, room)):
            shown = format_size(size.width.mm, size.height.mm, seen.units)
            yield Mend(
                f"Use sheets of {shown}",
                (Change(f"brief.papers.{paper.id}.sheet", size), set_loading(seen.lay, paper.id, sheet=None)),
            )
            break
    brief = seen.brief
    largest = largest_size(box, sheet.room, brief.width, brief.height, seen.units, may_turn=seen.lay.may_turn)
    if largest is not None:
        width, height = largest
        yield Mend(
            f"Make the card {format_size(width.mm, height.mm, seen.units)}",
            (Change("brief.width", width), Change("brief.height", height)),
        )


def _fits(width: float, height: float, room: Box) -> bool:
    return width <= room.width + 1e-6 and height <= room.height + 1e-6


@CHECKS.add("lay.sheet-differs", of=make_lay)
def find_sheet_that_differs(seen: LaySeen) -> Iterator[Finding]:
    """The sheet size set at the machine must be the size of the sheets there are."""
    for paper in seen.brief.papers:
        if not any(piece.paper == paper.id for piece in seen.pieces):
            continue
        size = sheet_set(seen.lay, paper)
        if any(size.is_like(each.width.mm, each.height.mm, within=0.5) for each in (paper.sheet, *paper.other_sheets)):
            continue
        stated = format_size(size.width.mm, size.height.mm, seen.units)
        real = format_size(paper.sheet.width.mm, paper.sheet.height.mm, seen.units)
        yield Finding(
            "lay.sheet-differs",
            "stop",
            f"{paper.name}: the sheet set is not the sheet on hand",
            f"The machine is set to {stated}, the sheets on hand are {real}.",
            "Pieces may be cut off the paper, into the mat.",
            f"brief.papers.{paper.id}.sheet",
            (
                Mend(f"Set {real}", (set_loading(seen.lay, paper.id, sheet=None),)),
                Mend(f"My sheets are {stated}", (Change(f"brief.papers.{paper.id}.sheet", size),)),
            ),
        )


@CHECKS.add("lay.too-few-sheets", of=make_lay)
def find_too_few_sheets(seen: LaySeen) -> Iterator[Finding]:
    """More sheets are needed than are on hand."""
    for paper in seen.brief.papers:
        needed = next((each for each in seen.plan.sheets if each.key == f"lay.sheets.{paper.id}"), None)
        if needed is None or paper.on_hand is None or needed.value <= paper.on_hand:
            continue
        short, verb = needed.value - paper.on_hand, "is" if paper.on_hand == 1 else "are"
        yield Finding(
            "lay.too-few-sheets",
            "look",
            f"{paper.name}: {short:.0f} {plural(short, 'sheet')} short",
            f"The job needs {needed.value:.0f} {plural(needed.value, 'sheet')}; {paper.on_hand} {verb} on hand.",
            "The run stops half way.",
            f"brief.papers.{paper.id}.on_hand",
        )


@CHECKS.add("lay.sheet-larger-than-mat", of=make_lay)
def find_sheet_larger_than_mat(seen: LaySeen) -> Iterator[Finding]:
    """A sheet larger than the mat has to be trimmed first."""
    told = set()
    for layout in seen.plan.layouts:
        if layout.sheet.trimmed and layout.paper not in told:
            told.add(layout.paper)
            size = format_size(layout.sheet.width, layout.sheet.height, seen.units)
            yield Finding(
                "lay.sheet-larger-than-mat",
                "note",
                f"{_paper(seen, layout.paper).name}: trim the sheets to {size}",
                "The sheets are larger than the mat; the layout is made for the trimmed size.",
                "",
                layout.id,
            )


@CHECKS.add("lay.piece-off-sheet", "lay.pieces-overlap", "lay.pieces-too-close", of=make_lay)
def find_pinned_trouble(seen: LaySeen) -> Iterator[Finding]:
    """A pinned piece may have come to lie off the sheet or on another when sizes changed."""
    spacing = seen.lay.spacing.mm
    for layout in seen.plan.layouts:
        if not layout.is_pinned:
            continue
        mend = (Mend("Place this mat again", (unpin_layout(seen.lay, layout),)),)
        for index, placed in enumerate(layout.placements):
            if not layout.sheet.room.holds(placed.box, slack=0.01):
                yield Finding(
                    "lay.piece-off-sheet",
                    "stop",
                    f"Mat {layout.number}: {name_of(placed)} lies outside what the machine reaches",
                    f"It was pinned {format_length(placed.box.left - layout.sheet.left, seen.units)} from the left and "
                    f"{format_length(placed.box.top - layout.sheet.top, seen.units)} from the top of the sheet.",
                    "Part of it is not cut.",
                    f"{layout.id}/{placed.id}",
                    mend,
                )
            for other in layout.placements[index + 1 :]:
                if are_too_close(placed, other, 0.0):
                    yield Finding(
                        "lay.pieces-overlap",
                        "stop",
                        f"Mat {layout.number}: {name_of(placed)} lies on {name_of(other)}",
                        "Two pieces cannot be cut from the same paper.",
                        "Both are spoilt.",
                        f"{layout.id}/{placed.id}",
                        mend,
                    )
                elif are_too_close(placed, other, max(0.0, spacing - 0.02)):
                    yield Finding(
                        "lay.pieces-too-close",
                        "look",
                        f"Mat {layout.number}: {name_of(placed)} is too close to {name_of(other)}",
                        f"The spacing is {format_length(spacing, seen.units)}.",
                        "The strip between may lift and catch.",
                        f"{layout.id}/{placed.id}",
                        mend,
                    )


@CHECKS.add("lay.wrong-side", of=make_lay)
def find_wrong_side(seen: LaySeen) -> Iterator[Finding]:
    """Pens, foil and kiss cuts work on the side that lies up; a face that lies down is not reached."""
    by_name = {dressed.item.name: dressed for dressed in seen.dressed.items}
    for paper in seen.brief.papers:
        layouts = [layout for layout in seen.plan.layouts if layout.paper == paper.id]
        lines = [(layout.face, line) for layout in layouts for put in layout.placements for line in put.piece.run_lines]
        wrong = list(dict.fromkeys(line.name for face, line in lines if line.side and line.side != face))
        right = any(line.side == face for face, line in lines)
        if not wrong:
            continue
        names, up = ", ".join(wrong[:3]), layouts[0].face
        other = "inside-up" if up == "outside-up" else "outside-up"
        mends = (
            (Mend(f"Load {paper.name} {other.replace('-', ' ')}", (set_loading(seen.lay, paper.id, face=other),)),)
            if not right
            else (Mend("Load each mat as it is drawn on", (set_loading(seen.lay, paper.id, face="as-drawn"),)),)
            if loading_of(seen.lay, paper.id).face != "as-drawn"
            else ()
        )
        reason = f"{paper.name} is loaded {up.replace('-', ' ')}, and the pen reaches only the side that lies up."
        if right:
            reason += " The other side is drawn on as well: one of the two needs a piece of its own, glued in."
        yield Finding(
            "lay.wrong-side",
            "stop",
            f"{names} would be drawn on the wrong side",
            reason,
            "It appears mirrored on the other face.",
            by_name[wrong[0]].item.id if wrong[0] in by_name else "",
            mends,
        )


@CHECKS.add("lay.line-astray", of=make_lay)
def find_line_astray(seen: LaySeen) -> Iterator[Finding]:
    """The last net: nothing may be run beside its sheet or across another piece, whatever put it there."""
    beyond: dict[int, bool] = {}
    lines: dict[tuple[int, Box], bool] = {}
    for layout in seen.plan.layouts:
        whole, areas = layout.sheet.box, layout.sheet.cut_areas
        for number, put in enumerate(layout.placements):
            piece = put.piece
            sheet = areas[number % len(areas)] if piece.blank else whole
            if id(piece) not in beyond:
                room = bounds(piece.outline)
                # Copies share what does not differ: each line is looked at once for each room it has.
                for line in piece.run_lines:
                    key = (id(line.paths), room)
                    if key not in lines:
                        lines[key] = _overshoot(line, room) > OFF_MM
                beyond[id(piece)] = any(lines[id(line.paths), room] for line in piece.run_lines)
            if not piece.blank and (not beyond[id(piece)] or not whole.holds(put.box)):
                continue  # a piece that lies off the sheet is told as such
            found = next(
                filter(None, (_where_astray(line, put, layout, sheet, seen.units) for line in put.lines())), None
            )
            if found is None:
                continue
            line, where, reason = found
            yield Finding(
                "lay.line-astray",
                "stop",
                f"Mat {layout.number}: {line.name} runs {where}",
                f"{reason}, from {name_of(put)}. Where it should be, or how large, only you can say, in Dress.",
                "It spoils what it runs over, and this part of the card is lost.",
                f"{layout.id}/{put.id}",
            )


def _where_astray(
    line: Line, put: Placement, layout: MatLayout, sheet: Box, units: str
) -> tuple[Line, str, str] | None:
    """Where a line runs that it should not, in words, and by how much."""
    over = _overshoot(line, sheet)
    if over > OFF_MM:
        if put.piece.blank:
            return line, "where the machine does not reach", f"It is {format_length(over, units)} outside its cut area"
        return line, "off the sheet", f"It reaches {format_length(over, units)} beyond the edge"
    if _overshoot(line, put.box) <= OFF_MM:
        return None
    import shapely

    drawn = shapely.MultiLineString([path if len(path) > 1 else (*path, *path) for path in line.paths])
    for other in layout.placements:
        if other is not put and drawn.intersects(shapely.Polygon(other.outline).buffer(-OFF_MM)):
            return (
                line,
                f"across {name_of(other)}",
                f"It leaves its piece by {format_length(_overshoot(line, put.box), units)}",
            )
    return None


def _overshoot(line: Line, room: Box) -> float:
    """How far a line reaches out of a box, in mm; 0 when it does not."""
    points = [point for path in line.paths for point in path]
    if not points:
        return 0.0
    box = bounds(points)
    return max(0.0, room.left - box.left, box.right - room.right, room.top - box.top, box.bottom - room.bottom)
