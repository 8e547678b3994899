"""What the maker decides in Keep: which learned values a job is planned with, and how sure there shall be enough."""

from typing import Annotated

from msgspec import Meta

from dechirer.core.decide.decisions import Decisions
from dechirer.core.decide.field import Field
from dechirer.core.decide.refusal import require
from dechirer.core.learned import Learned


class Keep(Decisions, frozen=True):
    """The learned values a job was planned with, as the book had them then; those that are `off` are not used.

    So many spares are advised that with this `certainty` there are enough good cards. An hour of work is priced at
    `rate` (0: not at all), in whatever money stock is priced in.
    """

    learned: Annotated[tuple[Learned, ...], Meta(max_length=400), Field("Learned values", hidden=True)] = ()
    off: Annotated[tuple[str, ...], Meta(max_length=400), Field("Not used", hidden=True)] = ()
    certainty: Annotated[float, Field("Enough good ones, sure to", 0.5, 0.999)] = 0.95
    rate: Annotated[float, Field("An hour of work costs", 0, 10_000)] = 0.0

    def agree(self) -> None:
        keys = [each.key for each in self.learned]
        require(len(set(keys)) == len(keys), "two learned values are of one key")

    @property
    def used(self) -> tuple[Learned, ...]:
        """Those that are used."""
        return tuple(each for each in self.learned if each.key not in self.off)
