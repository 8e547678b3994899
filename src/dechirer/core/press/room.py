"""The room to print: what of a sheet the printer reaches, less the strips of the marks, no larger than the machine's
reader registers."""

from __future__ import annotations

import math

from dechirer.core.brief.machine import Machine, Reader
from dechirer.core.brief.printer import Printer
from dechirer.core.card.mat import Mat
from dechirer.core.card.registration import stand_round
from dechirer.core.card.sheet import LoadedSheet
from dechirer.core.decide.values import Size
from dechirer.core.figure import Figure
from dechirer.core.length import Length, parse_length
from dechirer.core.shape.outline import Box


def load_page(size: Size, machine: Machine, printer: Printer, *, by_marks: bool, mat: Mat | None = None) -> LoadedSheet:
    """A sheet that is printed and then laid on the mat, the printed side up: its room is the room to print.

    It stands on the mat where it fits so. Its corner lies in the mat's, as any sheet's.

    Args:
        by_marks: whether it is cut by printed marks, so that these take their strips.
        mat: the mat it is laid on; the machine's own without it.
    """
    mat, reader = mat or machine.main_mat, machine.reader if by_marks else None
    sides = (size.width.mm, size.height.mm)
    choices = [_load(*sides, False, mat, reader, printer)]
    if sides[0] != sides[1]:
        choices.append(_load(sides[1], sides[0], True, mat, reader, printer))
    return min(
        choices, key=lambda sheet: (sheet.trimmed, -round(_open_area(sheet.room), 3), sheet.width > sheet.height)
    )


def _load(width: float, height: float, turned: bool, mat: Mat, reader: Reader | None, printer: Printer) -> LoadedSheet:
    trimmed = width > mat.width + 0.01 or height > mat.height + 0.01
    width, height = min(width, mat.width), min(height, mat.height)
    printable = printed_area(width, height, printer)
    reach = mat.reach
    if reader is None:
        return LoadedSheet(width, height, turned, trimmed, printable.within(reach), mat, 1, None, printable)
    strip = reader.strip
    inner = printable.grown(-strip)
    room = _in_middle(inner, *_registered(inner, reader.width, reader.height)).within(reach)
    if room.width <= 0 or room.height <= 0:
        return LoadedSheet(width, height, turned, trimmed, room, mat, 1, None, printable)
    marks = stand_round(room, reader.apart, reader.ring, reader.ring_inside, reader.ring + reader.quiet, reader.dot)
    return LoadedSheet(width, height, turned, trimmed, room, mat, 1, marks, printable)


def printed_area(width: float, height: float, printer: Printer) -> Box:
    """What of a sheet a printer reaches; a sheet that lies goes into it turned by a quarter, its left edge first."""
    if width <= height:
        return Box(printer.left, printer.top, width - printer.right, height - printer.bottom)
    return Box(printer.top, printer.right, width - printer.bottom, height - printer.left)


def _registered(inner: Box, width: float, height: float) -> tuple[float, float]:
    """The area the reader registers, standing or lying, whichever leaves more of the room."""

    def left(wide: float, high: float) -> float:
        return min(inner.width, wide) * min(inner.height, high)

    return (width, height) if left(width, height) >= left(height, width) - 1e-6 else (height, width)


def _in_middle(inner: Box, width: float, height: float) -> Box:
    """A box of that size, or less, in the middle of another."""
    wide, high = min(width, inner.width), min(height, inner.height)
    x, y = (inner.left + inner.right) / 2, (inner.top + inner.bottom) / 2
    return Box(x - wide / 2, y - high / 2, x + wide / 2, y + high / 2)


def _open_area(room: Box) -> float:
    return max(0.0, room.width) * max(0.0, room.height)


def largest_size(
    box: Box, room: Box, width: Length, height: Length, units: str, *, may_turn: bool
) -> tuple[Length, Length] | None:
    """The largest finished size of the same proportions whose piece fits the room, or None when none does.

    Rounded down to a sixteenth of an inch or a millimetre, so that it can be typed and measured.

    Args:
        box: of the piece at the size it has now.
        width: the finished width now, and `height` its height.
    """
    step = 25.4 / 16 if units == "in" else 1.0
    scales = [min(room.width / box.width, room.height / box.height)]
    if may_turn:
        scales.append(min(room.width / box.height, room.height / box.width))
    scale = max(scales)
    # A liner shrinks by the same reveal at every size, so scaling by its own bounds errs on the small side only.
    wide, high = (math.floor(side.mm * scale / step + 1e-9) for side in (width, height))
    if min(wide, high) * step < 20 or scale >= 1:
        return None
    unit = "/16 in" if units == "in" else " mm"
    return parse_length(f"{wide}{unit}"), parse_length(f"{high}{unit}")


def measure_room(sheet: LoadedSheet, machine: Machine, key: str, name: str) -> tuple[Figure, Figure]:
    """The room to print across and down, with its working."""
    assert sheet.printable is not None
    found = []
    reader = machine.reader if sheet.registration is not None else None
    for side, whole, free, room in (
        ("width", sheet.width, sheet.printable.width, sheet.room.width),
        ("height", sheet.height, sheet.printable.height, sheet.room.height),
    ):
        paper = Figure(f"{key}.sheet-{side}", f"sheet {side}", whole, source="the sheet set")
        bare = Figure(f"{key}.bare-{side}", "left bare by the printer", whole - free, source="the printer's margins")
        title = f"{name} {side}"
        if reader is None:
            formula = "{" + paper.name + "} − {left bare by the printer}"
            if abs(free - room) > 0.01:
                found.append(Figure(f"{key}.{side}", title, max(0.0, room), source="as far as the carriage reaches"))
                continue
            found.append(Figure(f"{key}.{side}", title, max(0.0, room), formula=formula, inputs=(paper, bare)))
            continue
        strip = Figure(f"{key}.strip", "strip of the marks", reader.strip, source="the machine's profile")
        formula = "{" + paper.name + "} − {left bare by the printer} − 2 × {strip of the marks}"
        if abs(free - 2 * reader.strip - room) < 0.01:
            found.append(Figure(f"{key}.{side}", title, max(0.0, room), formula=formula, inputs=(paper, bare, strip)))
            continue
        note = f"The sheet would leave {free - 2 * reader.strip:.0f} mm; marks further out are not read."
        found.append(
            Figure(f"{key}.{side}", title, max(0.0, room), source="the largest area the reader registers", note=note)
        )
    return found[0], found[1]
