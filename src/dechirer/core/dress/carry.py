"""Things of one job used again in another: items with their art, typefaces and papers; recipes; papers."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, Protocol, TypeVar

from msgspec import Struct, structs

from dechirer.core.brief.decisions import Paper
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import FACE, Copies, Dress, Item
from dechirer.core.dress.edits import new_id
from dechirer.core.dress.seen import Decided
from dechirer.core.dress.spots import Spot


class Kept(Struct, frozen=True):
    """What is kept of a job: items of its faces with all they are drawn from, and the papers they are cut from."""

    dress: Dress
    papers: tuple[Paper, ...] = ()


class HasId(Protocol):
    """Something known by an id."""

    @property
    def id(self) -> str:
        """Its id."""


Own = TypeVar("Own", bound=HasId)


def keep_items(job: Decided, items: Iterable[Item]) -> Kept:
    """Items with what they are made of or ask for, their art, their typefaces and their papers."""
    wanted = {item.id for item in items}
    while True:
        more = {other for item in job.dress.items if item.id in wanted for other in item.needs()} - wanted
        if not more:
            break
        wanted |= more
    kept = tuple(_alone(item, wanted) for item in job.dress.items if item.id in wanted)
    arts = {item.art for item in kept}
    faces = {item.words.face for item in kept if item.words is not None}
    papers = {item.paper for item in kept}
    dress = Dress(
        art=tuple(art for art in job.dress.art if art.id in arts),
        fonts=tuple(font for font in job.dress.fonts if font.id in faces),
        items=kept,
        copies=Copies(),
        safe=job.dress.safe,
    )
    return Kept(dress, tuple(paper for paper in job.brief.papers if paper.id in papers))


def _alone(item: Item, kept: set[str]) -> Item:
    """An item that mates with nothing that is not kept with it."""
    return item if item.mate in kept else structs.replace(item, mate=None)


def put_kept(job: Decided, kept: Kept, spot: Spot) -> tuple[Change, ...]:
    """What was kept, put on a face on top of what is there, each where it lay on its own face.

    Art, a typeface or a paper that the job has already is not brought a second time; ids that are taken are changed.
    """
    arts, art_ids = _merge(job.dress.art, kept.dress.art)
    fonts, font_ids = _merge(job.dress.fonts, kept.dress.fonts)
    papers, paper_ids = _merge_papers(job.brief.papers, kept.papers)
    base = job.brief.papers[0].id
    names: dict[str, str] = {}
    sets: dict[str, str] = {}
    for item in kept.dress.items:
        names[item.id] = new_id(job, item.name, *names.values(), *(paper.id for paper in papers))
        if item.together is not None and item.together not in sets:
            taken = (each.together for each in job.dress.items if each.together)
            sets[item.together] = new_id(job, "set", *taken, *sets.values())
    put = []
    for item in kept.dress.items:
        words = item.words
        if words is not None:
            face = font_ids.get(words.face, words.face)
            words = structs.replace(words, face=face, shape=_named(words.shape, names))
        put.append(
            structs.replace(
                item,
                id=names[item.id],
                face=spot.id,
                art=art_ids.get(item.art or "", item.art),
                words=words,
                of=_named(item.of, names),
                steps=tuple(_step(step, names) for step in item.steps),
                anchor=_named(item.anchor, names),
                same_as=_named(item.same_as, names),
                mate=_named(item.mate, names),
                paper=paper_ids.get(item.paper, base) if item.paper is not None else None,
                together=sets.get(item.together or ""),
            )
        )
    changes = [Change("dress.items", (*job.dress.items, *put))]
    for path, now, then in (
        ("dress.art", job.dress.art, arts),
        ("dress.fonts", job.dress.fonts, fonts),
        ("brief.papers", job.brief.papers, papers),
    ):
        if now != then:
            changes.insert(0, Change(path, then))
    return tuple(changes)


def put_papers(job: Decided, papers: tuple[Paper, ...]) -> tuple[Change, ...]:
    """Papers added to those on hand; one that is there already is not added again."""
    merged, _ = _merge_papers(job.brief.papers, papers)
    return (Change("brief.papers", merged),) if merged != job.brief.papers else ()


def put_recipe(job: Decided, item: Item, kept: Kept) -> tuple[Change, ...]:
    """The recipe of what was kept, in place of an item's own; without the steps that ask for another item."""
    source = next((each for each in reversed(kept.dress.items) if each.steps), None)
    if source is None:
        return ()
    steps = tuple(step for step in source.steps if not getattr(step, "of", None))
    return (Change(f"dress.items.{item.id}.steps", steps),)


def _named(name: str | None, names: dict[str, str]) -> str | None:
    return name if name is None or name == FACE else names.get(name)


def _step(step: Any, names: dict[str, str]) -> Any:
    other = getattr(step, "of", None)
    return structs.replace(step, of=_named(other, names)) if other else step


def _merge(own: tuple[Own, ...], more: tuple[Own, ...]) -> tuple[tuple[Own, ...], dict[str, str]]:
    """Two lists in one, and which id each of the second has in it. What is the same but for its id is there once."""
    return _merge_by(own, more, lambda one, other: structs.replace(one, id=other.id) == other)  # type: ignore[type-var]


def _merge_papers(own: tuple[Paper, ...], more: tuple[Paper, ...]) -> tuple[tuple[Paper, ...], dict[str, str]]:
    """As `_merge`; a paper of the same colour and weight is the same paper, whatever is left of it."""
    return _merge_by(own, more, lambda one, other: (one.colour, one.weight) == (other.colour, other.weight))


def _merge_by(
    own: tuple[Own, ...], more: tuple[Own, ...], is_same: Callable[[Own, Own], bool]
) -> tuple[tuple[Own, ...], dict[str, str]]:
    found, names = list(own), {}
    for each in more:
        same = next((other for other in found if is_same(other, each)), None)
        if same is None:
            taken = {other.id for other in found}
            id = (
                each.id
                if each.id not in taken
                else next(name for number in range(2, 10_000) if (name := f"{each.id[:24]}-{number}") not in taken)
            )
            same = structs.replace(each, id=id)  # type: ignore[type-var]
            found.append(same)
        names[each.id] = same.id
    return tuple(found), names
