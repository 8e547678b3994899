"""Checks of a file that is the card: open outlines, folds that go round in a ring, lines nobody has a use for."""

from __future__ import annotations

from collections.abc import Iterator

from dechirer.core.brief.decisions import Brief
from dechirer.core.brought import Art
from dechirer.core.card.stack import Closed
from dechirer.core.construct.drawn_card import UNDECIDED, DrawnCard
from dechirer.core.construct.drawn_sections import LEAST_TAB_MM, tab_of
from dechirer.core.construct.drawn_tree import middle_of, name_creases
from dechirer.core.construct.kinds.from_file import FileFold, FilePart, FromFile, Read, make_from_file, read_strip
from dechirer.core.construct.standing import find_light_paper
from dechirer.core.construct.whole import Seen
from dechirer.core.decide.change import Change
from dechirer.core.decide.decisions import slots_of
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import exact_length, format_length, format_size, make_length
from dechirer.core.paper.colours import difference
from dechirer.core.shape.divide import Trouble, span
from dechirer.core.shape.outline import bounds
from dechirer.core.words import count

OWN = "construct.from_file"
FAR_MM = 0.5
"""A stated size that differs from the file's by less is the same to a maker with a rule."""
RATIO = 0.01
NOT_THE_SAME = 12.0
"""Colours that differ by more (CIE 2000) are two papers."""


@CHECKS.add("construct.file-missing", of=make_from_file)
def find_no_file(seen: Seen[FromFile]) -> Iterator[Finding]:
    """No file has been chosen, or it is gone."""
    if seen.made.found is None:
        yield Finding(
            "construct.file-missing",
            "stop",
            "No file is there yet",
            "Drop an SVG or DXF on the window and say that it is the card, or choose one that is here already.",
            "A plain card of the stated size would be cut.",
            "base",
            (Mend("Make it a flat card", (Change("brief.construction", "flat"),)),),
        )


def _read(seen: Seen[FromFile]) -> tuple[DrawnCard, Art, Read] | None:
    read: Read | None = seen.made.found
    if read is None:
        return None
    return read.drawn, next(art for art in seen.card.arts if art.id == seen.own.art), read


@CHECKS.add("construct.file-open", "construct.file-overlap", "construct.file-curved", of=make_from_file)
def find_troubles(seen: Seen[FromFile]) -> Iterator[Finding]:
    """What the drawing does not make clear, each with its place."""
    found = _read(seen)
    if found is None:
        return
    told: set[str] = set()
    for trouble in found[0].troubles:
        if trouble.code in told:
            continue
        told.add(trouble.code)
        yield from _tell(seen, trouble, found[0])


def _tell(seen: Seen[FromFile], trouble: Trouble, drawn: DrawnCard) -> Iterator[Finding]:
    x, y = (format_length(value, seen.units) for value in trouble.place)
    at = f"At {x} from the file's left and {y} from its top"
    if trouble.code in ("open", "empty"):
        mends = [Mend("Make it a flat card", (Change("brief.construction", "flat"),))]
        if trouble.code == "open" and 0 < trouble.size <= 9.5:
            wide = make_length(trouble.size + 0.1, "mm")
            mends.insert(0, Mend(f"Join ends up to {wide} apart", (Change(f"{OWN}.join", wide),)))
        yield Finding(
            "construct.file-open",
            "stop",
            "No outline of the file is closed" if trouble.code == "open" else "The file has no line that is cut",
            f"{at} {trouble.words}." if trouble.code == "open" else "Give one of its groups the role “cut” in Dress.",
            "Nothing of it can be cut out.",
            "base",
            tuple(mends),
        )
    elif trouble.code == "overlap":
        yield Finding(
            "construct.file-overlap",
            "look",
            "Two outlines of the file lie over each other",
            f"{at} {trouble.words}. Each becomes a piece of its own.",
            "Where they were meant to be one, both are cut too large.",
            "base",
        )
    elif trouble.code == "curved":
        yield Finding(
            "construct.file-curved",
            "look",
            "A fold of the file is curved",
            f"{at} {trouble.words}; it is scored and not folded here.",
            "Paper folded along a curve does not lie flat.",
            "base",
        )


@CHECKS.add("construct.file-no-tree", of=make_from_file)
def find_folds_in_a_ring(seen: Seen[FromFile]) -> Iterator[Finding]:
    """Folds that go round in a ring: with all of them folded the card cannot lie flat by panels alone."""
    read: Read | None = seen.made.found
    if read is None or read.card is None:
        return
    part = read.card.part
    ids = name_creases(part)
    ways = {fold.id: fold.sense for fold in seen.own.folds}
    flat = frozenset(place for place, id in enumerate(ids) if ways.get(id) == "flat")
    _, ringed = span(part, flat)
    for place in ringed[:1]:
        x, y = (format_length(value, seen.units) for value in middle_of(part.creases[place]))
        rest = tuple(fold for fold in seen.own.folds if fold.id not in {ids[each] for each in ringed})
        leave = tuple(FileFold(ids[each], "flat") for each in ringed)
        many = f"{len(ringed)} folds" if len(ringed) > 1 else "A fold"
        yield Finding(
            "construct.file-no-tree",
            "stop",
            f"{many} of the file close a ring of panels",
            f"At {x} from the file's left and {y} from its top two panels meet that other folds join already.",
            "It cannot be folded panel by panel, and is neither scored nor shown folded there.",
            "base",
            (Mend("Leave what closes the ring unfolded", (Change(f"{OWN}.folds", (*rest, *leave)),)),),
        )


@CHECKS.add("construct.file-stray", "construct.file-unassigned", of=make_from_file)
def find_lines_without_a_use(seen: Seen[FromFile]) -> Iterator[Finding]:
    """Lines that lie beside every outline, and lines whose use was not told."""
    found = _read(seen)
    if found is None:
        return
    drawn, art, _ = found
    if drawn.strays and drawn.kinds:
        x, y = (format_length(value, seen.units) for value in drawn.strays[0])
        many = len(drawn.strays)
        yield Finding(
            "construct.file-stray",
            "look",
            f"{many} lines of the file lie on no piece" if many > 1 else "A line of the file lies on no piece",
            f"The first is {x} from the file's left and {y} from its top: a fold or a cut beside its outline.",
            "They are left out.",
            "base",
        )
    for group in drawn.undecided:
        path = f"dress.art.{art.id}.groups.{group.id}.role"
        # Lines from edge to edge would part the card: to cut them is left to the box of roles.
        first = ("Score them", "score") if group.like_folds else ("Cut them", "cut")
        roles = [first, ("Draw them", "pen"), ("Leave them out", "off")]
        if not group.like_folds:
            roles.insert(1, ("Score them", "score"))
        looks = "They run from edge to edge, as folds do. " if group.like_folds else ""
        yield Finding(
            "construct.file-unassigned",
            "stop",
            f"The lines “{group.name}” have no role yet",
            f"{count(len(group.paths), 'line')} of this colour. {looks}Name, dashes and colour do not tell their use.",
            "They would be missing, or cut where a fold should be.",
            f"{UNDECIDED}{group.id}",
            tuple(Mend(label, (Change(path, role),), "chooses") for label, role in roles),
            group.colour,
        )


def state_size(closed: Closed, units: str) -> tuple[Change, ...]:
    """The changes that state the size a card closes to; none for one smaller or larger than a card may be."""
    width, height = (exact_length(side.value, units) for side in (closed.width, closed.height))
    slots = slots_of(Brief)
    if not slots["width"].allows(width.mm) or not slots["height"].allows(height.mm):
        return ()
    return Change("brief.width", width), Change("brief.height", height)


@CHECKS.add("construct.file-size", of=make_from_file)
def find_other_size(seen: Seen[FromFile]) -> Iterator[Finding]:
    """The card of a file folds to its own size, whatever is stated."""
    found = _read(seen)
    if found is None or found[2].card is None:
        return
    closed, card = seen.plan.closed, seen.card
    width, height = closed.width.value, closed.height.value
    if abs(width - card.width.value) <= FAR_MM and abs(height - card.height.value) <= FAR_MM:
        return
    units = seen.units
    shown = format_size(width, height, units)
    sized = state_size(closed, units)
    mends = [Mend(f"It is {shown}", sized)] if sized else []
    factor = card.width.value / width
    if abs(card.height.value / height / factor - 1) <= RATIO:
        art = found[1]
        mends.append(
            Mend("Scale the file to the stated size", (Change(f"dress.art.{art.id}.scale", art.scale * factor),))
        )
    yield Finding(
        "construct.file-size",
        "look",
        f"The file's card closes to {shown}",
        f"{format_size(card.width.value, card.height.value, units)} is stated. What was bought for a size is best not "
        "scaled: slots and locks are made for it.",
        "An envelope bought for the stated size may not fit.",
        "base",
        tuple(mends),
    )


@CHECKS.add("construct.sections-not-joined", "construct.section-tab", of=make_from_file)
def find_sections_that_do_not_join(seen: Seen[FromFile]) -> Iterator[Finding]:
    """Sections that shall be joined have to be there, and their tabs wide enough to hold."""
    found = _read(seen)
    if found is None or found[2].card is None or not seen.own.joined:
        return
    strip = read_strip(found[2])
    apart = Mend("Its outlines are not joined", (Change(f"{OWN}.joined", False),))
    if strip is None:
        yield Finding(
            "construct.sections-not-joined",
            "stop",
            "The file has no two sections to join",
            "Sections are outlines of one height with upright folds, side by side.",
            "The card stays in parts.",
            "base",
            (apart,),
        )
        return
    for section, _ in strip.sections[:-1]:
        tab = tab_of(section)
        width = bounds(tab).width if tab is not None else 0.0
        if width < LEAST_TAB_MM:
            yield Finding(
                "construct.section-tab",
                "look",
                "A section has no tab wide enough",
                f"It is {format_length(width, seen.units)}; a tab holds from {format_length(LEAST_TAB_MM, seen.units)} "
                "(common practice)."
                if tab is not None
                else "Its last panel is as wide as the others; it is taped to the next one edge to edge.",
                "The strip comes apart where it is joined.",
                "base",
                (apart,),
            )
            return


@CHECKS.add("construct.will-not-stand", of=make_from_file)
def find_strip_that_will_not_stand(seen: Seen[FromFile]) -> Iterator[Finding]:
    """Sections joined to a strip stand like a concertina."""
    found = _read(seen)
    if found is not None and found[2].card is not None and seen.own.joined and read_strip(found[2]) is not None:
        yield from find_light_paper(seen.card)


@CHECKS.add("construct.file-several", "construct.part-without-paper", of=make_from_file)
def find_inventory(seen: Seen[FromFile]) -> Iterator[Finding]:
    """Outlines that are there several times, and outlines of another colour that are on no paper of their own."""
    found = _read(seen)
    if found is None or found[2].card is None:
        return
    read, own = found[2], seen.own
    assert read.card is not None
    if read.card.count > 1 and own.sections == 1 and not own.joined:
        yield Finding(
            "construct.file-several",
            "note",
            f"The file has the card's outline {read.card.count} times",
            "They are equal, so they are one kind of piece; one of it is taken for a card.",
            "Where the card is joined from several of them, the others are missing.",
            "base",
            (
                Mend("Join them by their tabs", (Change(f"{OWN}.joined", True),)),
                Mend(f"{read.card.count} of it make one card", (Change(f"{OWN}.sections", read.card.count),)),
            ),
        )
    choices = {part.id: part for part in own.parts}
    for id, kind in () if own.joined else read.others:
        choice = choices.get(id, FilePart(id, None, kind.count))
        if choice.paper is not None or not choice.count or difference(kind.colour, read.card.colour) < NOT_THE_SAME:
            continue
        papers = [facts.paper for facts in seen.card.facts.papers]
        near = min(papers, key=lambda paper: difference(paper.colour, kind.colour))
        rest = tuple(part for part in own.parts if part.id != id)
        yield Finding(
            "construct.part-without-paper",
            "look",
            f"Outline {id[5:]} of the file is on no paper of its own",
            "It has another colour in the file than the card, and would be cut from the card's paper.",
            "It comes in the wrong colour.",
            id,
            (
                Mend(
                    f"Cut it from {near.name}"[:46],
                    (Change(f"{OWN}.parts", (*rest, FilePart(id, near.id, choice.count))),),
                ),
                Mend("Leave it out", (Change(f"{OWN}.parts", (*rest, FilePart(id, None, 0))),)),
            ),
        )
