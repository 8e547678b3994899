"""A machine from above: its mat, what the carriage reaches, what its mark reader sees, its holders."""

from __future__ import annotations

from dechirer.core.brief.machine import Machine
from dechirer.core.length import format_length
from dechirer.core.shape.affine import Point
from dechirer.core.shape.outline import Box, rectangle
from dechirer.drawing.display import Arrow, Dimension, Display, Item, Label, Shape
from dechirer.drawing.scenes.mat import MAT_COLOUR

PATH = "brief.machine"
ROOM_PX = (64.0, 92.0, 76.0, 76.0)
CARRIAGE_MM = 30.0
"""How far above the mat the carriage is drawn."""


def make_machine_scene(machine: Machine, units: str) -> Display:
    """The machine of a job; every length on it is typed into where it stands."""
    wide, high = machine.mat_width, machine.mat_height
    left, top = machine.cut_left, machine.cut_top
    right, bottom = left + machine.cut_width, top + machine.cut_height
    items: list[Item] = [
        Shape((rectangle(wide, high),), fill=MAT_COLOUR, form="hair", shadow=True, on=MAT_COLOUR, element="mat"),
        Shape(
            (rectangle(machine.cut_width, machine.cut_height, at=(left, top)),),
            form="reach",
            role="ink",
            on=MAT_COLOUR,
            element="reach",
        ),
        Label((left + 4, bottom - 7), "what the carriage reaches", "small", "ink", MAT_COLOUR, anchor="start"),
    ]
    reader = machine.reader
    if reader is not None:
        x, y = left + (machine.cut_width - reader.width) / 2, top + (machine.cut_height - reader.height) / 2
        items += [
            Shape((rectangle(reader.width, reader.height, at=(x, y)),), form="guide", role="ink", on=MAT_COLOUR),
            Label((x + reader.width / 2, y + 9), "what the mark reader sees", "small", "ink", MAT_COLOUR),
            _measure(
                (x, y + 0.72 * reader.height),
                (x + reader.width, y + 0.72 * reader.height),
                "reader.width",
                reader.width,
                units,
                0.0,
            ),
            _measure(
                (x + 0.3 * reader.width, y),
                (x + 0.3 * reader.width, y + reader.height),
                "reader.height",
                reader.height,
                units,
                0.0,
            ),
        ]
    items += [
        _measure((0.0, high), (wide, high), "mat_width", wide, units, 52.0),
        _measure((left, high), (right, high), "cut_width", machine.cut_width, units, 24.0),
        _measure((wide, high), (wide, 0.0), "mat_height", high, units, 56.0),
        _measure((wide, bottom), (wide, top), "cut_height", machine.cut_height, units, 24.0),
        _measure((0.0, 0.3 * high), (left, 0.3 * high), "cut_left", left, units, 0.0),
        _measure((0.2 * wide, top), (0.2 * wide, 0.0), "cut_top", top, units, 0.0),
        Arrow((wide / 2, 0.0), -90.0, shift_px=(0.0, -14.0)),
        Label((wide / 2, 0.0), "this edge goes in first", "small", "accent", shift_px=(12.0, -14.0), anchor="start"),
        *_draw_carriage(machine),
    ]
    reads = ", a mark reader" if reader is not None else ""
    box = Box(0.0, 0.0, wide, high)
    return Display(tuple(items), box, ROOM_PX, f"{machine.name}: its mat, what it reaches{reads}, its holders.")


def _measure(start: Point, end: Point, name: str, value: float, units: str, shift: float) -> Dimension:
    return Dimension(
        start,
        end,
        shift,
        format_length(value, units),
        name,
        f"{PATH}.{name}",
        may_move=not shift,
        on="" if shift else MAT_COLOUR,
    )


def _draw_carriage(machine: Machine) -> list[Item]:
    """The bar above the mat with a ring for each holder and its name."""
    wide, y = machine.mat_width, -CARRIAGE_MM
    items: list[Item] = [
        Shape((((0.0, y), (wide, y)),), closed=False, form="edge", role="soft", weight=2.0),
    ]
    count = len(machine.holders)
    for number, holder in enumerate(machine.holders):
        x = wide * (number + 0.5) / count
        half = 4.0
        items += [
            Shape((rectangle(2 * half, 2 * half, at=(x - half, y - half)),), fill="surface", form="edge", role="ink"),
            Label((x, y), holder.name, "small", "ink", shift_px=(0.0, -18.0)),
        ]
    return items
