"""Operations: what a machine does along a line, all that is known of each in one table."""

from __future__ import annotations

from typing import Literal, get_args

from msgspec import Struct

Operation = Literal["pen", "score", "foil", "perforate", "kiss", "cut"]
OPERATIONS: tuple[Operation, ...] = get_args(Operation)
"""In the order they are run on one mat: draw, score, foil, cut (common practice), the outline last, so the piece stays
put."""


class OperationSpec(Struct, frozen=True):
    """One operation.

    Attributes:
        id: its name in the job and in files.
        verb, done: `score`, `scored`.
        made: what an item that becomes it is called in a choice.
        tools: the tools that can do it, the usual one first.
        pace: which speed of the machine it is run at.
        form: the line form it is drawn in, told apart before its colour is.
        stroke: the colour it is written in; lines with an ink of their own are written in that.
        has_colour: whether each ink or foil is a pass of its own.
        path_role: what a closed line of it is to its piece; `art` lies on it.
        open_role: what an open line of it is.
        again: whether it may go over a line several times.
        one_sided: whether it works only on the side that lies up, so that the sheet must be loaded for it.
        on_middle: whether it follows the middle of a drawn line, however broad that is, and not its edge.
    """

    id: Operation
    verb: str
    done: str
    tools: tuple[str, ...]
    pace: Literal["cut", "score"]
    form: str
    stroke: str
    has_colour: bool = False
    path_role: str = "art"
    open_role: str = "art"
    again: bool = False
    on_middle: bool = False
    one_sided: bool = False

    @property
    def rank(self) -> int:
        """Its place in the order of passes."""
        return OPERATIONS.index(self.id)


OPERATION: dict[Operation, OperationSpec] = {
    spec.id: spec
    for spec in (
        OperationSpec(
            "pen", "draw", "drawn", ("pen",), "score", "pen", "#5b3f8c", has_colour=True, on_middle=True, one_sided=True
        ),
        # A point spares the blade change of a wheel, so it is the usual one.
        OperationSpec(
            "score",
            "score",
            "scored",
            ("creasing-point", "creasing-wheel", "double-creasing-wheel"),
            "score",
            "score",
            "#34558b",
            again=True,
            on_middle=True,
        ),
        OperationSpec(
            "foil",
            "foil",
            "foiled",
            ("fine-foil-tip", "hot-foil-tip", "bold-foil-tip"),
            "score",
            "foil",
            "#8a7a2c",
            has_colour=True,
            on_middle=True,
            one_sided=True,
        ),
        OperationSpec(
            "perforate",
            "perforate",
            "perforated",
            ("thin-card-blade", "thick-card-blade"),
            "cut",
            "perforate",
            "#8f6200",
            on_middle=True,
        ),
        OperationSpec(
            "kiss",
            "kiss-cut",
            "kiss-cut",
            ("thin-card-blade",),
            "cut",
            "kiss",
            "#a2471f",
            path_role="peel",
            open_role="slit",
            one_sided=True,
        ),
        OperationSpec(
            "cut",
            "cut",
            "cut",
            ("thin-card-blade", "thick-card-blade"),
            "cut",
            "cut",
            "#23262b",
            path_role="hole",
            open_role="slit",
        ),
    )
}
