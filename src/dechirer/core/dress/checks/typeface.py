"""Whether the typeface that was asked for is there."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.decide.change import Change
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.seen import DressSeen, path_of
from dechirer.core.dress.words.typefaces import SHIPPED, list_typefaces
from dechirer.core.finding import CHECKS, Finding, Mend


@CHECKS.add("dress.typeface-missing", of=make_dress)
def find_missing_typefaces(seen: DressSeen) -> Iterator[Finding]:
    """Words in a typeface that neither ships nor is among the job's own are set in another one, and that is said."""
    known = {id: title for id, title, _ in list_typefaces(seen.dress)}
    stands_in = SHIPPED[0]
    for item in seen.dress.items:
        if item.words is None or item.words.face in known:
            continue
        path = path_of(item, "words", "face")
        own = [Mend(f"Use {font.name}", (Change(path, font.id),)) for font in seen.dress.fonts[:1]]
        yield Finding(
            "dress.typeface-missing",
            "stop",
            f"The typeface of {item.name} is not here",
            f"“{item.words.face}” neither ships nor is among the job's own; {stands_in.title} stands in for it.",
            "The words are cut in another typeface and another size.",
            item.id,
            (*own, Mend(f"Use {stands_in.title}", (Change(path, stands_in.id),))),
        )
