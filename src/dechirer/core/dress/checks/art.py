"""Checks of what was brought in: roles, true size, ratio, colours, licences, what a file held that was left out."""

from __future__ import annotations

import itertools
from collections.abc import Iterator

from dechirer.core.brought import NOISE, Art, without_small
from dechirer.core.card.tools import BOLD_MM, BROADER_SHARE
from dechirer.core.decide.change import Change
from dechirer.core.dress.apart import take_as_part
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.seen import DressSeen, new_step, path_of
from dechirer.core.dress.shapes import shape_art
from dechirer.core.dress.steps.edge import Tidy
from dechirer.core.dress.steps.which import Take
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import fine_length, format_length, format_size, parse_length
from dechirer.core.paper.colours import difference, name_colour
from dechirer.core.words import count as counted

SAME_COLOUR = 3.0
"""A CIEDE2000 difference below this is taken for a slip, not for another paper (common practice: just seen at 1)."""
MOST_NODES_PER_MM = 4.0
FEW_NODES = 400
DOUBLED_MM2 = 0.05
NOISE_MM = (1.0, 2.0, 5.0, 10.0)
LEAVE_OUT = ("Leave them out", "off")


def _used(seen: DressSeen) -> Iterator[Art]:
    wanted = {item.art for item in seen.dress.items}
    yield from (art for art in seen.dress.art if art.id in wanted)


@CHECKS.add("dress.unassigned", of=make_dress)
def find_unassigned(seen: DressSeen) -> Iterator[Finding]:
    """Lines of an import that have no role yet are neither cut nor drawn."""
    plain = {item.art for item in seen.dress.items if item.made == "art"}
    for art in _used(seen):
        groups = [group for group in art.groups if group.role == "unassigned"]
        if not groups or art.id not in plain:
            continue
        may_cut = not _would_overlap(seen, art)
        for group in groups:
            path = f"dress.art.{art.id}.groups.{group.id}.role"
            roles = (("Draw them", "pen"), ("Score them", "score"), ("Cut them", "cut"), LEAVE_OUT)
            yield Finding(
                "dress.unassigned",
                "look",
                f"The lines “{group.name}” of {art.name} have no role yet",
                f"{counted(len(group.paths), 'line')} of this colour. Name, dashes and colour do not tell their use.",
                "They are left out of every file.",
                f"{art.id}/{group.id}" if len(groups) > 1 else art.id,
                tuple(
                    Mend(label, (Change(path, role),), "chooses") for label, role in roles if role != "cut" or may_cut
                ),
                group.colour,
            )


def _would_overlap(seen: DressSeen, art: Art) -> bool:
    """Whether lines without a role would cut into what is cut already."""
    import shapely

    for dressed in seen.first_of_each():
        if dressed.item.art == art.id:
            parts = dressed.placed.drawn.parts
            areas = [area for part in parts if part.role in ("cut", "unassigned") for area in part.areas]
            if sum(area.area for area in areas) - shapely.area(shapely.union_all(areas)) > DOUBLED_MM2:
                return True
    return False


@CHECKS.add("dress.size-doubt", of=make_dress)
def find_doubtful_size(seen: DressSeen) -> Iterator[Finding]:
    """The size of an import is only certain when its file says so or the maker has pointed at a feature."""
    for art in _used(seen):
        sized = all(
            any(each is not None for each in (item.width, item.height, item.fit_in, item.same_as))
            for item in seen.dress.items
            if item.art == art.id
        )
        if not art.doubt or art.scale != 1.0 or sized:
            continue
        path = f"dress.art.{art.id}"
        size = format_size(art.width, art.height, seen.units)
        yield Finding(
            "dress.size-doubt",
            "look",
            f"Is {art.name} really {size}?",
            f"Its size is taken {art.settled}, but {art.doubt}.",
            "It may come out a quarter or a third too large or small.",
            art.id,
            (
                Mend("Yes, it is", (Change(f"{path}.doubt", ""),)),
                Mend("It has 72 px to the inch", (Change(f"{path}.scale", 96 / 72), Change(f"{path}.doubt", ""))),
                Mend("It has 90 px to the inch", (Change(f"{path}.scale", 96 / 90), Change(f"{path}.doubt", ""))),
            ),
        )


@CHECKS.add("dress.ratio-changed", of=make_dress)
def find_changed_ratio(seen: DressSeen) -> Iterator[Finding]:
    """An item stretched one way only."""
    for dressed in seen.own_of_each():
        stretch = dressed.placed.stretch
        item = dressed.item
        # A rectangle drawn here has no ratio of its own.
        if abs(stretch - 1) < 0.005 or item.art == shape_art("rectangle"):
            continue
        yield Finding(
            "dress.ratio-changed",
            "look",
            f"{item.name} is stretched",
            f"Its width is {100 * abs(stretch - 1):.0f} % {'larger' if stretch > 1 else 'smaller'} for its height than "
            "the art has it.",
            "Circles turn into ovals.",
            item.id,
            (
                Mend("Keep the width", (Change(path_of(item, "height"), None),), "chooses"),
                Mend("Keep the height", (Change(path_of(item, "width"), None),), "chooses"),
            ),
        )


@CHECKS.add("dress.size-of-whole", of=make_dress)
def find_size_of_whole(seen: DressSeen) -> Iterator[Finding]:
    """A size that was typed for all outlines of an item of which its recipe takes one."""
    for dressed in seen.own_of_each():
        item, drawn = dressed.item, dressed.placed.drawn
        typed = item.width is not None or item.height is not None
        if not typed or not item.steps or not isinstance(item.steps[0], Take) or drawn.is_empty or item.of is not None:
            continue
        left, top, right, bottom = drawn.box()
        size = format_size(right - left, bottom - top, seen.units)
        yield Finding(
            "dress.size-of-whole",
            "look",
            f"{item.name} is not as large as was typed",
            f"The size was typed for the whole of which it takes one outline; that outline comes out {size}.",
            "Its size and its place are those of the whole.",
            item.id,
            (Mend(f"Keep it {size}, as a part of its own", take_as_part(dressed)),),
        )


@CHECKS.add("dress.colours-near", of=make_dress)
def find_near_identical_colours(seen: DressSeen) -> Iterator[Finding]:
    """Two colours of an import that nobody can tell apart would become two papers."""
    for art in _used(seen):
        shown = [group for group in art.groups if group.role not in ("off", "unassigned")]
        colours = list(dict.fromkeys(group.colour for group in shown))
        for one, other in itertools.combinations(colours[:40], 2):
            apart = difference(one, other)
            if apart >= SAME_COLOUR:
                continue
            changes = tuple(
                Change(f"dress.art.{art.id}.groups.{group.id}.colour", one) for group in shown if group.colour == other
            )
            yield Finding(
                "dress.colours-near",
                "look",
                f"Two colours of {art.name} are nearly the same",
                f"{one} and {other} differ by {apart:.1f} (CIEDE2000); below about {SAME_COLOUR:.0f} few see it.",
                "They would be planned as two papers or two pens.",
                art.id,
                (Mend(f"Make both {name_colour(one)} ({one})", changes),),
            )
            break


@CHECKS.add("dress.left-out", "dress.noise", of=make_dress)
def find_losses(seen: DressSeen) -> Iterator[Finding]:
    """What a file held that cannot be cut was left out."""
    for art in _used(seen):
        if any(each.startswith(NOISE) for each in art.lost):
            yield _noise(art)
        if not art.lost:
            continue
        yield Finding(
            "dress.left-out",
            "note",
            f"Not all of {art.name} was taken",
            f"Left out: {'; '.join(art.lost[:6])}.",
            "Look whether anything is missing.",
            art.id,
            (Mend("Nothing is missing", (Change(f"dress.art.{art.id}.lost", ()),)),),
        )


def _noise(art: Art) -> Finding:
    """So many tiny outlines that they are hardly meant: what is smaller than a threshold may be left out."""
    count = sum(len(group.paths) for group in art.groups)
    mends = []
    for least in NOISE_MM:
        clean = without_small(art, least)
        if clean is not None:
            left = sum(len(group.paths) for group in clean.groups)
            changes = tuple(Change(f"dress.art.{art.id}.{name}", getattr(clean, name)) for name in ("groups", "lost"))
            mends.append(Mend(f"Leave out what is under {least:g} mm ({left} stay)", changes))
    return Finding(
        "dress.noise",
        "look",
        f"Is {art.name} noise, or a photograph?",
        f"It holds {count} outlines, most of them tiny.",
        "Each would be cut as a piece of its own.",
        art.id,
        tuple(mends),
    )


@CHECKS.add("dress.by-hand", of=make_dress)
def find_what_is_made_by_hand(seen: DressSeen) -> Iterator[Finding]:
    """What no tool makes has to be remembered when the card is put together."""
    mine = [dressed for dressed in seen.first_of_each() if dressed.item.made == "hand" and dressed.spot is not None]
    if not mine:
        return
    names = ", ".join(f"{each.item.name} on {each.spot.title}" for each in mine[:4] if each.spot is not None)
    drawn = tuple(Change(path_of(each.item, "made"), "pen") for each in mine)
    yield Finding(
        "dress.by-hand",
        "note",
        "Something is written or stamped by hand",
        f"{names}{' …' if len(mine) > 4 else ''}: no tool makes it; it is drawn here for its size and its place.",
        "Do it when the ink has a flat card under it: before folding, or on the closed card.",
        mine[0].item.id,
        (Mend("Draw it with a pen", drawn),),
    )


@CHECKS.add("dress.nodes-many", of=make_dress)
def find_too_many_nodes(seen: DressSeen) -> Iterator[Finding]:
    """Outlines of countless short segments make a cutter stutter."""
    for dressed in seen.own_of_each():
        item, placed = dressed.item, dressed.placed
        art = next((art for art in seen.dress.art if art.id == item.art), None)
        if art is None or placed.trouble or any(isinstance(step, Tidy) for step in item.steps):
            continue
        length = sum(float(shape.length) for shape in (*placed.drawn.areas, *placed.drawn.lines))
        nodes = placed.nodes * length
        if nodes < FEW_NODES or placed.nodes < MOST_NODES_PER_MM:
            continue
        yield Finding(
            "dress.nodes-many",
            "look",
            f"{item.name} has very many nodes",
            f"About {nodes:.0f} nodes on {length:.0f} mm of line; from about {MOST_NODES_PER_MM:.0f} a millimetre a "
            "blade stutters (common practice).",
            "The cut gets ragged and slow.",
            item.id,
            (Mend("Tidy it within 0.02 mm", (new_step(item, Tidy, by=fine_length(0.05, "mm")),)),),
        )


@CHECKS.add("dress.licence", of=make_dress)
def find_licences(seen: DressSeen) -> Iterator[Finding]:
    """Files for personal use only must not go into copies that are sold."""
    dress = seen.dress
    if not dress.for_sale:
        return
    used = {item.words.face for item in dress.items if item.words is not None}
    parts = [("art", art) for art in _used(seen)] + [("fonts", font) for font in dress.fonts if font.id in used]
    for kind, part in parts:
        if part.licence not in ("personal", "unknown"):
            continue
        path = f"dress.{kind}.{part.id}.licence"
        personal = part.licence == "personal"
        yield Finding(
            "dress.licence",
            "stop" if personal else "look",
            f"{part.name} is for personal use" if personal else f"May copies with {part.name} be sold?",
            "These copies are for sale." if personal else "These copies are for sale, and no licence is noted for it.",
            "Selling them may break its licence; read what came with the file.",
            part.id,
            (
                Mend("It is my own", (Change(path, "own"),)),
                Mend("Its licence allows it", (Change(path, "bought"),)),
                Mend("The copies are not for sale", (Change("dress.for_sale", False),)),
            ),
        )


@CHECKS.add("dress.foil-broad", of=make_dress)
def find_broad_foil(seen: DressSeen) -> Iterator[Finding]:
    """Lines that were drawn broader than any foil tip: one line along their middle is all that comes of them."""
    for dressed in seen.own_of_each():
        item = dressed.item
        broad = max((part.breadth for part in dressed.placed.drawn.parts if part.role == "foil"), default=0.0)
        if broad <= BROADER_SHARE * BOLD_MM or item.tip is not None:
            continue
        bold = parse_length(f"{BOLD_MM:g} mm")
        mends = [Mend(f"Foil them {BOLD_MM:g} mm broad", (Change(path_of(item, "tip"), bold),))]
        if item.made == "foil":
            mends.append(Mend("Cut it as a piece, of shiny card", (Change(path_of(item, "made"), "piece"),)))
        yield Finding(
            "dress.foil-broad",
            "look",
            f"Lines of {item.name} are too broad for a foil tip",
            f"They were drawn {format_length(broad, seen.units)} broad; the boldest tip leaves {BOLD_MM:g} mm, along "
            "their middle.",
            "They come out thinner than they were drawn.",
            item.id,
            tuple(mends),
        )
