"""What the maker decides in Construct: the folds of the base, each construction's own, and what is glued on or in.

The decisions of every construction are kept, so that turning to another one and back loses nothing.
"""

from collections.abc import Iterator
from typing import TYPE_CHECKING, Annotated, Any

import msgspec
from msgspec import Meta

from dechirer.core.card.fold import Fold, OneFold
from dechirer.core.construct.specs import ATTACHMENTS, CONSTRUCTIONS, AttachmentSpec
from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.papers import named_in
from dechirer.core.decide.refusal import require_own_ids
from dechirer.core.decide.values import made

MOST_OF_A_KIND = 20


class _Construct(Decisions, frozen=True):
    """What every card has: how the folds of its base are marked."""

    fold: Annotated[Fold, Field("Folds of the base")] = made(Fold)
    folds: Annotated[
        tuple[OneFold, ...],
        Meta(max_length=200),
        Field("Folds marked otherwise", hidden=True, entry=OneFold),
    ] = ()

    def agree(self) -> None:
        require_own_ids("folds marked otherwise", self.folds)
        for spec in ATTACHMENTS:
            if spec.many:
                require_own_ids(spec.id, getattr(self, spec.id))

    def attached(self) -> Iterator[tuple[AttachmentSpec, Any]]:
        """What is glued on or in, from below to above: (its spec, its decisions)."""
        for spec in ATTACHMENTS:
            own = getattr(self, spec.id)
            if own:
                yield spec, own


def arts_of(construct: "Construct", construction: str) -> frozenset[str]:
    """The ids of the files a construction and what is glued on it take outlines from."""
    own = CONSTRUCTIONS[construction].own(construct) if construction in CONSTRUCTIONS else ()
    listed = (own, *(each for _, each in construct.attached()))
    return frozenset(id for each in listed for _, id in named_in(each, "", "art"))


def _fields() -> Iterator[tuple[str, Any, Any]]:
    for kind in CONSTRUCTIONS:
        if kind.decisions is not Decisions:
            yield kind.field, Annotated[kind.decisions, Field(kind.title)], made(kind.decisions)
    for spec in ATTACHMENTS:
        listed: Any = tuple[spec.decisions, ...]  # type: ignore[name-defined]
        if spec.many:
            yield spec.id, Annotated[listed, Meta(max_length=MOST_OF_A_KIND), Field(spec.title)], ()
        else:
            yield spec.id, Annotated[spec.decisions | None, Field(spec.title)], None


if TYPE_CHECKING:

    class Construct(_Construct, frozen=True):
        """The decisions of the room; those of each construction and attachment are fields by their own names."""

        def __getattr__(self, name: str) -> Any: ...

else:
    Construct = msgspec.defstruct("Construct", list(_fields()), bases=(_Construct,), module=__name__, frozen=True)
