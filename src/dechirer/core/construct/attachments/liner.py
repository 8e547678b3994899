"""Liner: a sheet inside the card, smaller than it by a reveal on each side; it has a fold of its own or none."""

from collections.abc import Iterator
from typing import Annotated, Literal

from dechirer.core.card.fold import Fold
from dechirer.core.card.making import make_piece
from dechirer.core.card.piece import Measure
from dechirer.core.construct.attached import LEAST_MM, Attached, each_side, less
from dechirer.core.construct.one_fold import half_of, make_side_fold_tree, make_top_fold_tree
from dechirer.core.construct.specs import ATTACHMENTS, CONSTRUCTIONS, Start
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.values import Identifier, made
from dechirer.core.figure import Figure
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_length, parse_length
from dechirer.core.shape.outline import Box, bounds, rectangle


class Liner(Decisions, frozen=True):
    """A liner inside the card, smaller than the base by `reveal` on each side, or by that in all: makers mean both."""

    reveal: Annotated[Length, Field("Liner reveal", -50, 200, drawn=True)]
    paper: Annotated[Identifier, Field("Paper", takes="paper")]
    fold: Annotated[Fold, Field("Fold of the liner")] = made(Fold)
    counts: Annotated[
        Literal["each", "total"],
        Field("The reveal is meant", choices={"each": "on each side", "total": "in all, both sides together"}),
    ] = "each"

    @property
    def each_mm(self) -> float:
        """How much smaller it is on each side, in mm."""
        return self.reveal.mm / (2 if self.counts == "total" else 1)


def start_liner(at: Start) -> Liner:
    """A liner with the usual reveal, of the card's paper until another one is chosen."""
    return Liner(parse_length("1/16 in"), at.base_paper)


@ATTACHMENTS.add(
    "liner",
    title="Liner",
    add="Liner",
    order=20,
    decisions=Liner,
    start=start_liner,
    needs_liner=True,
    piece="liner",
)
def add_liner(attached: Attached, liner: Liner) -> None:
    """A liner smaller than what it lies in by the reveal on each side; nothing when it would have no size."""
    card, base = attached.card, attached.made.pieces[0]
    reveal = each_side("liner.reveal", "reveal", liner.reveal.mm, "construct.liner.reveal", liner.counts)
    attached.figures.append(reveal)
    whole = (base.width, base.height) if attached.liner == "spread" else (card.width, card.height)
    width = less(whole[0], reveal, "liner.width", "liner width")
    height = less(whole[1], reveal, "liner.height", "liner height")
    if min(width.value, height.value) < LEAST_MM:
        return
    width, height = attached.note_total(width, height, whole, reveal)
    put = _put_spread if attached.liner == "spread" else _put_centre
    host, panel = put(attached, liner, width, height)
    r = reveal.value
    guide = rectangle(width.value, height.value, at=(host.left + r, host.top + r))
    right, y = host.left + whole[0].value, host.top + whole[1].value * 0.8
    typed = reveal.inputs[0] if reveal.inputs else reveal
    attached.measure_on_base(panel, Measure(typed, (right - r, y), (right, y), "reveal", 0.0, guide))


def _put_spread(attached: Attached, liner: Liner, width: Figure, height: Figure) -> tuple[Box, str]:
    """A liner that folds with the card; the box of the base it lies in, and the panel its reveal is drawn on."""
    r = liner.each_mm
    hinge = attached.made.tree.hinges[0]
    upright = abs(hinge.start[0] - hinge.end[0]) < 1e-9
    tree = (
        make_side_fold_tree(width.value / 2, height.value)
        if upright
        else make_top_fold_tree(width.value, height.value / 2)
    )
    across, along = (width, height) if upright else (height, width)
    attached.add(
        make_piece(
            "liner",
            attached.letter(),
            "liner",
            tree,
            rectangle(width.value, height.value),
            paper=liner.paper,
            count=attached.card.count,
            fold=liner.fold,
            field="construct.liner.fold",
            width=width,
            height=height,
            at={"fold": (half_of(across, "liner.fold.at", "liner fold"), along)},
        )
    )
    for panel in tree.panels:
        ring = tuple((x + r, y + r) for x, y in panel.outline)
        attached.put("liner", liner.paper, panel.id, "inside", ring)
    return bounds(attached.made.pieces[0].outline), "front"


def _put_centre(attached: Attached, liner: Liner, width: Figure, height: Figure) -> tuple[Box, str]:
    """A liner on the middle panel, without a fold; the box of that panel, and its id."""
    attached.add_flat("liner", "liner", liner.paper, width, height)
    root, r = attached.made.tree.root, liner.each_mm
    host = bounds(root.outline)
    ring = rectangle(width.value, height.value, at=(host.left + r, host.top + r))
    attached.put("liner", liner.paper, root.id, "inside", ring)
    return host, root.id


@CHECKS.add("construct.liner-on-flat-card", "construct.liner-not-smaller", "construct.liner-vanished", of=add_liner)
def find_liner_not_smaller(seen: Seen[Liner]) -> Iterator[Finding]:
    """A liner must be smaller than its base, and have a fold to sit in."""
    liner, units, kind = seen.own, seen.units, seen.plan.kind
    if not kind.liner:
        other = next(spec for spec in CONSTRUCTIONS if spec.liner)
        yield Finding(
            "construct.liner-on-flat-card",
            "look",
            f"A {kind.title.lower()} takes no liner",
            "The liner is kept in the job and left out while the card is built so.",
            "No liner is cut.",
            "liner",
            (
                Mend("Take the liner off", (Change("construct.liner", None),)),
                Mend(f"Make it a {other.title.lower()}", (Change("brief.construction", other.id),)),
            ),
        )
        return
    sixteenth = Mend("Use 1/16 in a side", (Change("construct.liner.reveal", parse_length("1/16 in")),))
    if liner.reveal.mm <= 0:
        size = "as large as" if liner.reveal.mm == 0 else "larger than"
        yield Finding(
            "construct.liner-not-smaller",
            "stop",
            f"The liner is {size} its base",
            f"A reveal of {format_length(liner.reveal.mm, units)} a side leaves no border of the base to see.",
            "It will show past the edges and keep the card from closing.",
            "liner",
            (sixteenth,),
        )
    elif seen.plan.piece("liner") is None:
        yield Finding(
            "construct.liner-vanished",
            "stop",
            "Nothing is left of the liner",
            f"A reveal of {format_length(liner.reveal.mm, units)} on each side takes the whole card.",
            "No liner is cut.",
            "liner",
            (sixteenth,),
        )
