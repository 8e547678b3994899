"""Checks of the sheet that is printed: do pieces go into its room, does the printer take it, are its marks read?"""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.brief.decisions import Paper
from dechirer.core.brief.machine import load_machines
from dechirer.core.card.piece import Piece
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.dress.decisions import Item
from dechirer.core.dress.edits import place_in_middle
from dechirer.core.dress.seen import path_of
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import fine_length, format_size, parse_length
from dechirer.core.paper.colours import to_lab
from dechirer.core.press.pages import make_pages, prints_of_side
from dechirer.core.press.room import largest_size, load_page
from dechirer.core.press.seen import PressSeen
from dechirer.core.shape.outline import Box, bounds

SHEETS = (("8.5 in", "11 in"), ("8.5 in", "14 in"), ("210 mm", "297 mm"), ("11 in", "17 in"), ("297 mm", "420 mm"))
"""Sheets that are sold for printers: letter, legal, A4, tabloid, A3 (published sizes)."""
DARK_L = 45.0
"""On papers darker than this (CIE L*) black marks are not told from their ground: half of what lies between."""


def room_for(
    seen: PressSeen, piece: Piece, size: Size, *, by_marks: bool | None = None, machine: str = ""
) -> Box | None:
    """The room a piece would have on sheets of a size; None where the printer does not take them or it does not go."""
    brief = seen.brief
    if min(size.width.mm, size.height.mm) > brief.printer.widest + 0.01:
        return None
    used = load_machines()[machine] if machine else brief.machine
    marks = (seen.plan.by_marks if by_marks is None else by_marks) and used.reader is not None
    page = load_page(size, used, brief.printer, by_marks=marks)
    room = page.room.grown(-seen.plan.bleed_of(piece.id))
    box = bounds(piece.outline)
    fits = any(
        wide <= room.width + 1e-6 and high <= room.height + 1e-6
        for wide, high in ((box.width, box.height), (box.height, box.width))
    )
    return room if fits and not page.trimmed else None


@CHECKS.add("brief.print-too-large", of=make_pages)
def find_too_large(seen: PressSeen) -> Iterator[Finding]:
    """A printed piece larger than the room to print on its sheet."""
    for piece_id, _count in seen.lay.unplaced:
        piece = next((each for each in seen.plan.printed if each.id == piece_id), None)
        known = seen.plan.paper(piece.paper) if piece is not None else None
        if piece is None or known is None:
            continue
        paper = seen.brief.paper(piece.paper)
        box, room = bounds(piece.outline), known.sheet.room
        bleed = seen.plan.bleed_of(piece.id)
        with_bleed = f" and {bleed:.1f} mm of bleed all round" if bleed else ""
        size = format_size(known.sheet.width, known.sheet.height, seen.units)
        room_now = format_size(max(0.0, room.width), max(0.0, room.height), seen.units)
        yield Finding(
            "brief.print-too-large",
            "stop",
            f"The {piece.name} is too large to be printed",
            f"It is {format_size(box.width, box.height, seen.units)}{with_bleed}; on {paper.name} of {size} the "
            f"{seen.brief.printer.name} and the marks leave {room_now}.",
            "It cannot be printed whole and cut in register.",
            piece.id,
            (*_on_its_own(seen, piece), *_other_sheets(seen, piece, paper), *_smaller(seen, piece, room, bleed)),
        )


def _other_sheets(seen: PressSeen, piece: Piece, paper: Paper) -> Iterator[Mend]:
    """Another sheet, another machine, or cut by the sheet's edge."""
    for size in (Size(parse_length(wide), parse_length(high)) for wide, high in SHEETS):
        if size != paper.sheet and room_for(seen, piece, size) is not None:
            shown = format_size(size.width.mm, size.height.mm, seen.units)
            yield Mend(f"Use sheets of {shown}", (*seen.sheet_as_on_hand(paper.id), _sheet(paper, size)))
            break
    for id, machine in load_machines().items():
        if machine != seen.brief.machine and room_for(seen, piece, paper.sheet, machine=id) is not None:
            yield Mend(f"Cut it on the {machine.name}", (Change("brief.machine", machine),))
            break
    if seen.plan.by_marks and room_for(seen, piece, paper.sheet, by_marks=False) is not None:
        yield Mend("Cut it by the sheet’s edge", (Change("press.cut_by", "edge"),))


def _sheet(paper: Paper, size: Size) -> Change:
    return Change(f"brief.papers.{paper.id}.sheet", size)


def _on_its_own(seen: PressSeen, piece: Piece) -> Iterator[Mend]:
    """What is printed on it becomes pieces of their own, printed and glued on."""
    items = items_of(seen, piece)
    if items and all(item.words is None and item.made == "print" and item.of is None for item in items):
        names = items[0].name if len(items) == 1 else "what is printed"
        yield Mend(f"Print {names[:20]} apart and glue it on", print_apart(items))


def items_of(seen: PressSeen, piece: Piece, side: str = "") -> list[Item]:
    """The items printed on a piece, or on one side of it."""
    ids = dict.fromkeys(each.item for each in piece.prints if not side or each.side == side)
    found = {dressed.item.id: dressed.item for dressed in seen.dress.items}
    return [found[id] for id in ids if id in found]


def print_apart(items: list[Item]) -> tuple[Change, ...]:
    """Items become pieces of their own, printed in their colours, cut out and glued on."""
    return tuple(
        change
        for item in items
        for change in (Change(path_of(item, "made"), "piece"), Change(path_of(item, "printed"), True))
    )


def _smaller(seen: PressSeen, piece: Piece, room: Box, bleed: float) -> Iterator[Mend]:
    """The largest card whose piece goes into the room."""
    box = bounds(piece.outline)
    brief = seen.brief
    largest = largest_size(box, room.grown(-bleed), brief.width, brief.height, seen.units, may_turn=True)
    if largest is not None:
        width, height = largest
        shown = format_size(width.mm, height.mm, seen.units)
        yield Mend(
            f"Make the card {shown}",
            (Change("brief.width", width), Change("brief.height", height)),
        )


@CHECKS.add("press.sheet-too-wide", of=make_pages)
def find_sheet_too_wide(seen: PressSeen) -> Iterator[Finding]:
    """Sheets the printer does not take."""
    printer = seen.brief.printer
    for known in seen.plan.papers:
        paper = seen.brief.paper(known.paper)
        sheet = known.sheet
        if min(sheet.width, sheet.height) <= printer.widest + 0.01:
            continue
        pieces = [piece for piece in seen.plan.printed if piece.paper == paper.id]
        mends = []
        for size in (Size(parse_length(wide), parse_length(high)) for wide, high in SHEETS):
            if all(room_for(seen, piece, size) is not None for piece in pieces):
                shown = format_size(size.width.mm, size.height.mm, seen.units)
                changes = (*seen.sheet_as_on_hand(paper.id), _sheet(paper, size))
                mends.append(Mend(f"Print on sheets of {shown}", changes))
        wide = parse_length(f"{min(sheet.width, sheet.height):.1f} mm").mm
        mends.append(Mend("My printer takes them", (Change("brief.printer.widest", wide),)))
        yield Finding(
            "press.sheet-too-wide",
            "stop",
            f"{paper.name} is too wide for the printer",
            f"Its sheets are {format_size(sheet.width, sheet.height, seen.units)}; the {printer.name} takes sheets up "
            f"to {printer.widest:g} mm wide.",
            "The page cannot be printed.",
            f"brief.papers.{paper.id}.sheet",
            tuple(mends[:2] if len(mends) > 2 else mends),
        )


@CHECKS.add("press.no-reader", "press.marks-unread", of=make_pages)
def find_marks_that_are_not_read(seen: PressSeen) -> Iterator[Finding]:
    """Marks asked for where the machine cannot read them, or on a paper it cannot read them on."""
    if seen.press.cut_by != "marks":
        return
    machine = seen.brief.machine
    mends = [Mend("Cut by the sheet’s edge", (Change("press.cut_by", "edge"),))]
    if machine.reader is None:
        others = [each for each in load_machines().values() if each.reader is not None]
        mends += [Mend(f"Cut on the {each.name}", (Change("brief.machine", each),)) for each in others[:1]]
        yield Finding(
            "press.no-reader",
            "look",
            f"The {machine.name} reads no marks",
            "Its profile has no reader: the sheet is cut by its edge, and what the printer is off stays in the card.",
            "Print and cut fit to about a millimetre, and the bleed is wider.",
            "press.cut_by",
            tuple(mends),
        )
        return
    for known in seen.plan.papers:
        paper = seen.brief.paper(known.paper)
        light = to_lab(paper.face(good=True))[0]
        if light >= DARK_L and paper.finish == "matt":
            continue
        why = f"is dark (L* {light:.0f} of 100)" if light < DARK_L else "shines, and the reader sees its own lamp in it"
        matt = (Mend("It is matt", (Change(f"brief.papers.{paper.id}.finish", "matt"),)),) if light >= DARK_L else ()
        yield Finding(
            "press.marks-unread",
            "look",
            f"Marks are not read on {paper.name}",
            f"The paper {why}.",
            "The machine refuses the sheet after it was printed.",
            f"brief.papers.{paper.id}.colour",
            (*mends, *matt),
        )


@CHECKS.add("press.blank-margin", of=make_pages)
def find_ink_where_the_printer_does_not_reach(seen: PressSeen) -> Iterator[Finding]:
    """Ink on a bought blank, in the margin the printer leaves bare."""
    import shapely

    for page in seen.pages.pages:
        area = page.sheet.printable
        for placed in page.placements:
            if not placed.piece.blank or area is None:
                continue
            reached = shapely.box(area.left, area.top, area.right, area.bottom)
            for part in prints_of_side(placed, page.face):
                ink = shapely.union_all([shapely.Polygon(outer) for outer, *_ in part.rings])
                if ink.is_empty or reached.buffer(0.05).covers(ink):
                    continue
                yield Finding(
                    "press.blank-margin",
                    "look",
                    f"{part.name} reaches where the printer does not",
                    f"The {seen.brief.printer.name} leaves {seen.brief.printer.top:g} mm bare at the top and "
                    f"{seen.brief.printer.left:g} mm at the left of a blank.",
                    "A strip of it is missing.",
                    part.item,
                    tuple(_inside(seen, part.item)),
                )
                break


def _inside(seen: PressSeen, item_id: str) -> Iterator[Mend]:
    """The item fitted into what the printer reaches of every side."""
    dressed = seen.dress.item(item_id)
    if dressed is None or dressed.item.of is not None or dressed.item.words is not None:
        return
    printer = seen.brief.printer
    margin = fine_length(max(printer.top, printer.bottom, printer.left, printer.right) + 0.5, seen.units)
    changes = (
        *place_in_middle(dressed.item),
        Change(path_of(dressed.item, "fit_in"), margin),
        Change(path_of(dressed.item, "width"), None),
        Change(path_of(dressed.item, "height"), None),
    )
    yield Mend(f"Keep it {margin} from the edges", changes)
