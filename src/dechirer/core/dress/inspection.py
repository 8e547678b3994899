"""What an import holds, in numbers: for `dechirer inspect` and for a look before it is used."""

from __future__ import annotations

import math
from typing import Any

from msgspec import Struct

from dechirer.core.brought import Art
from dechirer.core.dress.drawn import draw_art
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.tidying import count_nodes
from dechirer.core.shape.webs import narrowest

LOOK_UP_TO_MM = 3.0
"""Webs are looked for up to this width; a wider one is no trouble on any paper."""


class Inspection(Struct, frozen=True):
    """An import in numbers. Lengths in mm.

    Attributes:
        items: outlines that hang together; `islands`: openings inside them.
        lines: how many paths by operation; `open_lines`: of them those that are not closed.
        nodes: as the file has them; `points`: after flattening.
        narrowest: the narrowest web of what is cut; None when nothing is narrower than LOOK_UP_TO_MM.
        groups: (name, role, colour, paths) in the order they are painted.
    """

    name: str
    width: float
    height: float
    settled: str
    doubts: tuple[str, ...]
    items: int
    islands: int
    lines: dict[str, int]
    open_lines: int
    nodes: int
    points: int
    narrowest: float | None
    groups: tuple[tuple[str, str, str, int], ...]


def inspect_art(art: Art) -> Inspection:
    """Look an import over at its settled size."""
    drawn = draw_art(art, art.scale)
    outlines = items_of(drawn)
    lines: dict[str, int] = {}
    for group in art.groups:
        lines[group.role] = lines.get(group.role, 0) + len(group.paths)
    nodes = sum(path.count("M") + path.count("L") + path.count("C") for group in art.groups for path in group.paths)
    web = min((narrowest(item, LOOK_UP_TO_MM) for item in outlines), default=LOOK_UP_TO_MM)
    doubts = [art.doubt] if art.doubt else []
    doubts += [f"left out: {each}" for each in art.lost]
    unassigned = lines.get("unassigned", 0)
    if unassigned:
        doubts.append(f"{unassigned} lines have no role yet")
    return Inspection(
        art.name,
        art.width * art.scale,
        art.height * art.scale,
        art.settled,
        tuple(doubts),
        len(outlines),
        sum(len(item.interiors) for item in outlines),
        lines,
        sum(len(part.lines) for part in drawn.parts),
        nodes,
        count_nodes(drawn)["nodes"],
        web if web < LOOK_UP_TO_MM else None,
        tuple((group.name, group.role, group.colour, len(group.paths)) for group in art.groups),
    )


def make_inspection_record(found: Inspection) -> dict[str, Any]:
    """An inspection as plain data; the keys are described in `docs/files.md`."""
    return {
        "file": found.name,
        "width_mm": round(found.width, 4),
        "height_mm": round(found.height, 4),
        "size_settled": found.settled,
        "doubts": list(found.doubts),
        "items": found.items,
        "islands": found.islands,
        "lines": found.lines,
        "open_lines": found.open_lines,
        "nodes": found.nodes,
        "points": found.points,
        "narrowest_web_mm": None if found.narrowest is None else math.floor(found.narrowest * 1000) / 1000,
        "groups": [
            {"name": name, "role": role, "colour": colour, "paths": paths} for name, role, colour, paths in found.groups
        ],
    }
