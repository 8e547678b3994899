"""Check of a bought blank: it must fold to the finished size."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.construct.bought import SAME_AS_BLANK_MM
from dechirer.core.construct.construct import make_construct
from dechirer.core.construct.seen import CardSeen
from dechirer.core.decide.change import Change
from dechirer.core.decide.values import Size
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import Length, format_size


@CHECKS.add("brief.blank-disagrees", of=make_construct)
def find_blank_that_disagrees(seen: CardSeen) -> Iterator[Finding]:
    """A stated flat blank must fold to the stated finished size, or be as large as the base."""
    blank, brief, kind, units = seen.brief.stated_blank, seen.brief, seen.plan.kind, seen.units
    paper = brief.paper(brief.base_paper)
    if blank is None or (brief.blank is None and paper.bought == "flat"):
        return  # from a flat blank a smaller card is cut, as from a sheet
    flat = format_size(blank.width.mm, blank.height.mm, units)
    cut = (
        Mend("Cut the base instead", (Change("brief.blank", None),))
        if brief.blank is not None
        else Mend(f"{paper.name} comes in sheets", (Change(f"brief.papers.{paper.id}.bought", "sheets"),))
    )
    lost = "Pieces made for the stated size will not fit the blank."
    if kind.halves is None:
        base = seen.plan.made.pieces[0]
        if not _same((blank.width.mm, blank.height.mm), (base.width.value, base.height.value)):
            wanted = format_size(base.width.value, base.height.value, units)
            yield Finding(
                "brief.blank-disagrees",
                "stop",
                f"The blank is {flat}, the base {wanted}",
                f"A {kind.title.lower()} of the stated size is {wanted} flat.",
                lost,
                "brief.blank",
                (cut,),
            )
        return
    width, height = fold_blank(blank, kind.halves)
    if _same((width.mm, height.mm), (brief.width.mm, brief.height.mm)):
        return
    stated, folded = format_size(brief.width.mm, brief.height.mm, units), format_size(width.mm, height.mm, units)
    verb = "is" if kind.halves == (1, 1) else "folds to"
    yield Finding(
        "brief.blank-disagrees",
        "stop",
        f"The blank {verb} {folded}, not {stated}",
        f"The blank is {flat} opened flat. As a {kind.title.lower()} it {verb} {folded}.",
        lost,
        "brief.blank",
        (Mend(f"Make the card {folded}", (Change("brief.width", width), Change("brief.height", height))), cut),
    )


def _same(one: tuple[float, float], other: tuple[float, float]) -> bool:
    return all(abs(a - b) <= SAME_AS_BLANK_MM for a, b in zip(one, other, strict=True))


def fold_blank(blank: Size, halves: tuple[int, int]) -> tuple[Length, Length]:
    """The finished size a flat blank folds to, by how many panels lie side by side and one above the other."""

    def part(length: Length, count: int) -> Length:
        return length if count == 1 else Length(length.exact_mm / count, f"({length.typed})/{count}")

    return part(blank.width, halves[0]), part(blank.height, halves[1])
