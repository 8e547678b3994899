"""The kit list: what is needed for one card and for all, against what is there."""

from __future__ import annotations

import math
import re
from collections.abc import Iterator, Sequence

from msgspec import Struct, structs

from dechirer.core.card.piece import Piece
from dechirer.core.card.stack import AtHand
from dechirer.core.construct.whole import ConstructPlan
from dechirer.core.fold.decisions import MakingUp
from dechirer.core.fold.joints import Joint
from dechirer.core.fold.step import step_id
from dechirer.core.length import format_size

TINY_MM = 12.0
"""Parts smaller than this each way are counted into a tray (from memory)."""
TWEEZERS_MM = 8.0
"""Parts smaller than this each way are too small for fingers (from memory)."""


class KitRow(Struct, frozen=True):
    """One thing of the kit list.

    Attributes:
        id: its name; what is there of it is kept under that.
        kind: `piece`, `at hand`, `adhesive`, `put on` or `envelope`.
        name, size: what it is called, and its size in words.
        each, total: how many (or how much) one card takes, and all of them with their spares.
        unit: `mm`, `g`, or empty for things that are counted.
        spare: how many of the total are spares.
        tiny: whether it is so small that it is counted into a tray.
        there: how many are there; None where nobody has counted.
        wide, high: its size in mm, where it is known by that; 0 else.
    """

    id: str
    kind: str
    name: str
    size: str
    each: float
    total: float
    unit: str = ""
    spare: int = 0
    tiny: bool = False
    there: int | None = None
    wide: float = 0.0
    high: float = 0.0

    @property
    def is_stocked(self) -> bool:
        """Whether stock is kept of it; pieces are stock as the paper they are cut from."""
        return self.kind != "piece"

    @property
    def stock_name(self) -> str:
        """What it is called in the stock, whatever the units of the job: sizes in mm, tape in m."""
        size = format_size(self.wide, self.high, "mm") if self.wide else self.size
        unit = {"mm": " (m)", "": ""}.get(self.unit, f" ({self.unit})")
        return f"{self.name}, {size}{unit}" if size else f"{self.name}{unit}"

    @property
    def stock_amount(self) -> float:
        """How much of the stock all of them take."""
        return self.total / 1000 if self.unit == "mm" else self.total

    @property
    def lacking(self) -> float:
        """How many are missing; 0 where enough are there, or nobody has counted."""
        return max(0.0, self.total - self.there) if self.there is not None else 0.0


def make_kit(
    pieces: Sequence[Piece],
    at_hand: Sequence[AtHand],
    joints: Sequence[Joint],
    construct: ConstructPlan,
    own: MakingUp,
    count: int,
    units: str,
) -> tuple[KitRow, ...]:
    """Every row: pieces, things at hand, adhesives, what is put on besides, envelopes."""
    rows = [
        *_pieces(pieces, count, units),
        *_at_hand(at_hand, count, units),
        *_adhesives(joints, count),
        *_besides(own, count, units),
        *_envelopes(construct, count, units),
    ]
    there = {each.id: each.count for each in own.on_hand}
    return tuple(structs.replace(row, there=there.get(row.id, row.there)) for row in rows)


def _pieces(pieces: Sequence[Piece], count: int, units: str) -> Iterator[KitRow]:
    """Pieces, those that differ from copy to copy in one row; each card takes as many as go evenly on all."""
    groups: dict[str, list[Piece]] = {}
    for piece in pieces:
        groups.setdefault(f"{_stem(piece)}|{piece.paper}", []).append(piece)
    for alike in groups.values():
        first, total = alike[0], sum(piece.count for piece in alike)
        each = max(1, total // max(1, count))
        spare = max(0, total - each * count)
        size = format_size(first.width.value, first.height.value, units)
        name = first.name.split(",")[0] if len(alike) > 1 else first.name
        tiny = max(first.width.value, first.height.value) < TINY_MM
        yield KitRow(step_id("piece", first.id), "piece", name, size, float(each), float(total), "", spare, tiny)


def _stem(piece: Piece) -> str:
    """A piece without the number of its copy: names tell copies apart after a comma."""
    return re.sub(r"-\d+$", "", piece.id) if "," in piece.name else piece.id


def _at_hand(at_hand: Sequence[AtHand], count: int, units: str) -> Iterator[KitRow]:
    for thing in at_hand:
        size = format_size(thing.width, thing.height, units)
        tiny = max(thing.width, thing.height) < TINY_MM
        each = thing.count / max(1, count)
        row = KitRow(step_id("thing", thing.id), "at hand", thing.name, size, each, float(thing.count), "", 0, tiny)
        yield structs.replace(row, wide=thing.width, high=thing.height)


def _adhesives(joints: Sequence[Joint], count: int) -> Iterator[KitRow]:
    foams: dict[float, int] = {}
    for joint in joints:
        if joint.squares:
            high = round(joint.foam, 2)  # squares of one height are one row
            foams[high] = foams.get(high, 0) + len(joint.squares)
    for high, number in foams.items():
        size = f"{high:g} mm high"
        yield KitRow(
            step_id("foam", f"{high:g}"), "adhesive", "foam squares", size, float(number), float(number * count)
        )
    tape = sum(joint.tape for joint in joints)
    if tape:
        yield KitRow(
            "tape", "adhesive", "double-sided tape", "6 mm broad", math.ceil(tape), math.ceil(tape * count), "mm"
        )
    dots = sum(joint.dots for joint in joints)
    if dots:
        yield KitRow("dots", "adhesive", "glue dots", "", float(dots), float(dots * count))
    for kind, name in (("wet", "wet glue"), ("spray", "spray glue")):
        grams = sum(joint.grams for joint in joints if joint.adhesive == kind)
        if grams:
            yield KitRow(kind, "adhesive", name, "", round(grams, 2), round(grams * count, 1), "g")


def _besides(own: MakingUp, count: int, units: str) -> Iterator[KitRow]:
    for each in own.trinkets:
        size = format_size(each.size.mm, each.size.mm, units)
        total = float(each.count * count)
        yield KitRow(
            step_id("put-on", each.id),
            "put on",
            each.name,
            size,
            float(each.count),
            total,
            tiny=each.size.mm < TINY_MM,
            there=each.on_hand,
            wide=each.size.mm,
            high=each.size.mm,
        )


def _envelopes(construct: ConstructPlan, count: int, units: str) -> Iterator[KitRow]:
    """Envelopes that are bought; those that are cut are among the pieces."""
    if construct.envelope is None and construct.bought is not None:
        bought = construct.bought
        size = format_size(bought.width, bought.height, units)
        row = KitRow("envelope", "envelope", f"envelope {bought.name}", size, 1.0, float(count))
        yield structs.replace(row, wide=bought.width, high=bought.height)
