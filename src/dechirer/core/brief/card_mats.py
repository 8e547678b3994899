"""Card mats laid out from what a maker knows of one: how many slots across and down, and the largest front."""

from __future__ import annotations

from dechirer.core.brief.machine import MAIN_MAT, Machine, OtherMat, Slot

EDGE_MM = 8.0
"""Left free round the slots, beyond what the carriage does not reach."""
BETWEEN_MM = 12.0


def make_card_mat(machine: Machine, across: int, down: int, front: tuple[float, float]) -> OtherMat:
    """A mat with slots for folded blanks: as wide as the machine's own, as long as its slots want.

    Args:
        front: width and height of the largest front, mm.

    Raises:
        ValueError: so many slots do not lie beside each other in what the machine reaches.
    """
    wide, high = front
    room = machine.cut_width - 2 * EDGE_MM
    needed = across * wide + (across - 1) * BETWEEN_MM
    if needed > room + 1e-6:
        raise ValueError(f"{across} slots of {wide:.0f} mm do not lie beside each other in {room:.0f} mm")
    step = (room - wide) / (across - 1) if across > 1 else 0.0
    left = machine.cut_left + EDGE_MM + ((room - wide) / 2 if across == 1 else 0.0)
    top = machine.cut_top + EDGE_MM
    slots = tuple(
        Slot(round(left + column * step, 2), round(top + row * (high + BETWEEN_MM), 2), wide, high)
        for row in range(down)
        for column in range(across)
    )
    long = top + down * high + (down - 1) * BETWEEN_MM + EDGE_MM
    cut = long - machine.cut_top
    count = across * down
    name = f"mat for {count} card{'' if count == 1 else 's'}"
    return OtherMat(
        free_id(machine, f"cards-{count}"),
        name,
        machine.mat_width,
        round(long + machine.cut_top, 2),
        machine.cut_width,
        round(cut, 2),
        machine.cut_left,
        machine.cut_top,
        slots,
        100.0,
    )


def make_long_mat(machine: Machine) -> OtherMat:
    """A mat twice as long as the machine's own."""
    return OtherMat(
        free_id(machine, "long"),
        "long mat",
        machine.mat_width,
        2 * machine.mat_height,
        machine.cut_width,
        machine.cut_height + machine.mat_height,
        machine.cut_left,
        machine.cut_top,
    )


def free_id(machine: Machine, stem: str) -> str:
    """An id that no mat of the machine has."""
    taken = {MAIN_MAT, *(mat.id for mat in machine.mats)}
    return next(each for each in (stem, *(f"{stem}-{number}" for number in range(2, 99))) if each not in taken)
