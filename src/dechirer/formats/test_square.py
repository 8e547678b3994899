"""The file of a test square: its sides show how large a machine draws, a tick in its upper left corner which way."""

from __future__ import annotations

from msgspec import structs

from dechirer.core.brief.files import TICK_MM, counted, square_side
from dechirer.core.brief.machine import Machine
from dechirer.core.shape.affine import Points
from dechirer.core.shape.outline import rectangle


def square_lines(machine: Machine) -> tuple[Points, Points]:
    """The square and its tick (mm, on the machine's own mat)."""
    side = square_side(machine.reach)
    left, top = machine.reach.left + TICK_MM, machine.reach.top + TICK_MM
    ring = rectangle(side, side, at=(left, top))
    inside = side / 10
    tick = ((left + inside, top + inside), (left + 3 * inside, top + inside), (left + 2 * inside, top + 2 * inside))
    return (*ring, ring[0]), (*tick, tick[0])


def write_square_svg(machine: Machine) -> bytes:
    """The test square as SVG at true size, whatever the machine makes of it."""
    wide, high = f"{machine.mat_width:g}", f"{machine.mat_height:g}"
    paths = "".join(
        f'    <path id="{name}" d="M' + " L".join(f"{x:.4f} {y:.4f}" for x, y in line[:-1]) + ' Z"/>\n'
        for name, line in zip(("square", "tick"), square_lines(machine), strict=True)
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}mm" height="{high}mm" viewBox="0 0 {wide} {high}" '
        'fill="none" stroke-width="0.2">\n  <title>Test square</title>\n'
        f'  <g data-operation="cut" stroke="#000000">\n{paths}  </g>\n</svg>\n'
    ).encode()


def write_square_plt(machine: Machine) -> bytes:
    """The test square for pen plotters, as the machine is said to count, without any correction of its size."""
    files, words = structs.replace(machine.files, across=1.0, down=1.0), ["IN;SP1;"]
    map = counted(files, machine.mat_width, machine.mat_height)
    for line in square_lines(machine):
        places = [map(point) for point in line]
        units = [f"{round(x * files.per_mm)},{round(y * files.per_mm)}" for x, y in places]
        words.append(f"PU{units[0]};PD{','.join(units[1:])};")
    return "\n".join([*words, "PU;SP0;", ""]).encode("ascii")
