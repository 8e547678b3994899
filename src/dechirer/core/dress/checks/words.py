"""Checks of words: missing letters, joins, counters, blanks of the wordings, contrast, pens too broad."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial
from typing import Any

from dechirer.core.brought import FontFile
from dechirer.core.decide.change import Change
from dechirer.core.dress.checks.place import fits_face
from dechirer.core.dress.decisions import Words
from dechirer.core.dress.dress import make_dress
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.seen import DressSeen, make_step, new_step, path_of
from dechirer.core.dress.steps.edge import Border
from dechirer.core.dress.steps.together import Join, Merge
from dechirer.core.dress.words.lettering import find_tightest
from dechirer.core.dress.words.typefaces import SHIPPED, find_typeface
from dechirer.core.finding import CHECKS, Finding, Mend
from dechirer.core.length import fine_length, parse_length
from dechirer.core.memory import until_forgotten
from dechirer.core.paper.colours import contrast, name_colour
from dechirer.core.stopping import checkpoint
from dechirer.core.words import plural

READABLE = 4.5
"""Contrast of words to their ground (WCAG 2.2, 1.4.3)."""
READABLE_LARGE = 3.0
"""The same for large words, from 18 pt (WCAG 2.2, 1.4.3)."""
LARGE_MM = 18 * 25.4 / 72
LEAST_EM_MM = 3.0
SHARED_MM = 2.0

_tightest = until_forgotten(64)(find_tightest)


def _is_cut_letter_by_letter(dressed: Dressed) -> bool:
    """Whether a script that is cut as a piece was neither joined nor made one by a border."""
    item = dressed.item
    if item.words is None or item.words.joined or item.made != "piece" or not _is_script(item.words):
        return False
    return len(items_of(dressed.placed.drawn)) > 1 and not any(isinstance(step, (Merge, Border)) for step in item.steps)


@CHECKS.add("dress.letter-missing", of=make_dress)
def find_missing_letters(seen: DressSeen) -> Iterator[Finding]:
    """Characters the typeface does not have."""
    for dressed in seen.own_of_each():
        lettering = dressed.placed.lettering
        if lettering is None or not lettering.missing:
            continue
        item = dressed.item
        assert item.words is not None
        names = ", ".join(f"“{each}”" for each in lettering.missing[:6])
        fits = [
            face.id
            for face in SHIPPED
            if face.style != "line" and all(find_typeface(face.id, ()).has(each) for each in lettering.missing)
        ]
        other = "lora" if "lora" in fits else fits[0] if fits else item.words.face
        mends = (
            ()
            if item.words.face == other
            else (
                Mend(
                    f"Set it in {next(face.title for face in SHIPPED if face.id == other)}",
                    (Change(path_of(item, "words", "face"), other),),
                ),
            )
        )
        yield Finding(
            "dress.letter-missing",
            "stop",
            f"The typeface has no {names}",
            f"The words of {item.name} need it.",
            "It is left out or comes as an empty box.",
            item.id,
            mends,
        )


@CHECKS.add("dress.nothing", of=make_dress)
def find_trouble(seen: DressSeen) -> Iterator[Finding]:
    """An item of which there is nothing: its face is gone, or its typeface cannot be read."""
    for dressed in seen.own_of_each():
        if not dressed.placed.trouble:
            continue
        item = dressed.item
        faces = [spot.id for spot in seen.plan.spots]
        mends = (
            ()
            if item.face in faces
            else tuple(Mend(f"Put it on {face}", (Change(path_of(item, "face"), face),)) for face in faces[:3])
        )
        yield Finding(
            "dress.nothing",
            "stop",
            f"There is nothing of {item.name}",
            f"{dressed.placed.trouble[0].upper()}{dressed.placed.trouble[1:]}.",
            "It is not cut or drawn.",
            item.id,
            mends,
        )


@CHECKS.add("dress.letters-apart", "dress.script-not-joined", of=make_dress)
def find_letters_apart(seen: DressSeen) -> Iterator[Finding]:
    """Joined words whose letters do not touch fall apart when they are cut."""
    for dressed in seen.own_of_each():
        lettering, item = dressed.placed.lettering, dressed.item
        if (
            lettering is None
            or item.words is None
            or item.made in ("pen", "foil", "print", "hand", "score", "perforate")
        ):
            continue
        pairs = [*lettering.apart, *(f"the dot or accent of {each}" for each in lettering.loose)]
        if item.words.joined and pairs and not any(isinstance(step, Merge) for step in item.steps):
            shown = ", ".join(f"“{pair}”" if len(pair) < 5 else pair for pair in pairs[:6])
            wider = fine_length(item.words.overlap.mm + 0.4, seen.units)
            mends = []
            if lettering.apart:
                mends.append(Mend(f"Overlap by {wider}", (Change(path_of(item, "words", "overlap"), wider),)))
            mends.append(
                Mend("Border them until they are one piece", (new_step(item, Merge, by=parse_length("0.2 mm")),))
            )
            yield Finding(
                "dress.letters-apart",
                "stop" if lettering.apart and item.made == "piece" else "look",
                f"The letters of {item.name} do not all join",
                f"Apart: {shown}.",
                "They are cut as separate bits.",
                item.id,
                tuple(mends),
            )
        elif _is_cut_letter_by_letter(dressed):
            yield Finding(
                "dress.script-not-joined",
                "look",
                f"The script of {item.name} is cut letter by letter",
                "Its letters are set as for print, so they overlap by chance or not at all.",
                "Every letter is cut apart, or cut into its neighbour.",
                item.id,
                (
                    Mend(
                        "Join the letters",
                        (
                            Change(path_of(item, "words", "joined"), True),
                            Change(path_of(item, "steps"), (make_step(item, Join), *item.steps)),
                        ),
                    ),
                ),
            )


@CHECKS.add("dress.overlap", of=make_dress)
def find_overlaps_not_joined(seen: DressSeen) -> Iterator[Finding]:
    """Outlines that overlap are cut into each other unless they are joined."""
    import shapely

    for dressed in seen.own_of_each():
        item, drawn = dressed.item, dressed.placed.drawn
        if item.made not in ("window", "kiss", "art", "score", "perforate") or len(drawn.areas) < 2:
            continue
        areas = [area for part in drawn.parts if part.role in ("cut", "kiss") for area in part.areas]
        if len(areas) < 2:
            continue
        whole = shapely.union_all(areas)
        doubled = sum(area.area for area in areas) - whole.area
        shared = (sum(area.length for area in areas) - whole.length) / 2
        if doubled > 0.05:
            title = f"Outlines of {item.name} overlap"
            reason = f"{doubled:.1f} mm² lie in two of them; both outlines would be cut."
            cost = "The blade cuts through the strokes, and bits fall out."
        elif shared > SHARED_MM:
            title = f"Outlines of {item.name} share edges"
            reason = f"{shared:.0f} mm of line belong to two of them and would be cut twice."
            cost = "The paper is torn along them, and the parts fall out as one."
        else:
            continue
        yield Finding(
            "dress.overlap",
            "stop" if doubled > 0.05 else "look",
            title,
            reason,
            cost,
            item.id,
            (Mend("Join them", (new_step(item, Join),)),),
        )


def _is_script(words: Words) -> bool:
    return next((face.style for face in SHIPPED if face.id == words.face), "") == "script"


@CHECKS.add("dress.counter-filled", of=make_dress)
def find_filled_counters(seen: DressSeen) -> Iterator[Finding]:
    """Letters set so close that their counters close."""
    for dressed in seen.own_of_each():
        lettering, item = dressed.placed.lettering, dressed.item
        if lettering is None or item.words is None or not lettering.filled:
            continue
        names = ", ".join(f"“{each}”" for each in lettering.filled[:6])
        mends = []
        tightest = _find_open(item.words, seen.dress.fonts)
        if tightest is not None:
            length = fine_length(tightest, seen.units)
            mends.append(
                Mend(
                    f"Space the letters by {length}",
                    (
                        Change(path_of(item, "words", "spacing"), length),
                        Change(path_of(item, "words", "joined"), False),
                    ),
                )
            )
        yield Finding(
            "dress.counter-filled",
            "look",
            f"Counters of {item.name} close",
            f"In {names} a neighbour covers more than a third of the opening.",
            "They read as blots.",
            item.id,
            tuple(mends),
        )


def _find_open(words: Words, fonts: tuple[FontFile, ...]) -> float | None:
    return _tightest(words, words.text, fonts)


@CHECKS.add("dress.words-small", of=make_dress)
def find_small_words(seen: DressSeen) -> Iterator[Finding]:
    """Words too small to be cut."""
    for dressed in seen.own_of_each():
        lettering, item = dressed.placed.lettering, dressed.item
        if lettering is None or item.words is None or dressed.placed.trouble:
            continue
        if lettering.size < LEAST_EM_MM and item.made in ("piece", "window", "kiss", "art"):
            yield Finding(
                "dress.words-small",
                "look",
                f"{item.name} is too small to cut",
                f"Its words come to {lettering.size:.1f} mm; below about {LEAST_EM_MM:.0f} mm letters tear (common "
                "practice).",
                "Draw or print them instead.",
                item.id,
                (
                    Mend(
                        "Draw them",
                        (Change(path_of(item, "made"), "pen"), Change(path_of(item, "words", "face"), "line-plain")),
                    ),
                ),
            )


@CHECKS.add("dress.contrast", of=make_dress)
def find_contrast(seen: DressSeen) -> Iterator[Finding]:
    """Words that do not stand out from their paper."""
    for dressed in seen.own_of_each():
        item, spot, lettering = dressed.item, dressed.spot, dressed.placed.lettering
        if spot is None or lettering is None or item.made not in ("pen", "print", "foil", "hand"):
            continue
        ground = seen.facts.paper(spot.paper).paper.face(good=spot.good)
        colour = item.colour or "#000000"
        found = contrast(colour, ground)
        wanted = READABLE_LARGE if lettering.size >= LARGE_MM else READABLE
        if found >= wanted:
            continue
        ink = "#000000" if contrast("#000000", ground) >= contrast("#ffffff", ground) else "#ffffff"
        yield Finding(
            "dress.contrast",
            "look",
            f"{item.name} is hard to read",
            f"{name_colour(colour).capitalize()} on {seen.facts.paper(spot.paper).paper.name} has a contrast of "
            f"{found:.1f}; words of this size want {wanted:g} (WCAG 2.2).",
            "They vanish in dim light and on photographs.",
            item.id,
            (Mend(f"Make them {name_colour(ink)}", (Change(path_of(item, "colour"), ink),)),),
        )


@CHECKS.add("dress.pen-crowded", of=make_dress)
def find_crowded_pen(seen: DressSeen) -> Iterator[Finding]:
    """Openings between pen lines that the tip fills."""
    for dressed in seen.own_of_each():
        own = dressed.item.tip
        tip = (own or seen.dress.pen_tip).mm
        lines = [
            line
            for part in dressed.placed.drawn.parts
            if part.role == "pen"
            for line in (*part.lines, *(area.exterior for area in part.areas))
        ]
        if not lines or len(lines) > 4000 or dressed.item.made == "guide":
            continue
        small = seen.memory.recall(("filled", dressed.placed.serial, tip), partial(_find_filled, lines, tip))
        if not small:
            continue
        item = dressed.item
        factor = 1.1 * tip / max(min(small), tip / 20)
        mends = []
        if item.words is not None and item.words.fit == "size" and fits_face(dressed, factor):
            larger = fine_length(item.words.size.mm * factor, seen.units)
            mends.append(Mend(f"Set it at {larger}", (Change(path_of(item, "words", "size"), larger),)))
        if tip > 0.3:
            where = "dress.pen_tip" if own is None else path_of(item, "tip")
            mends.append(Mend("Use a 0.3 mm pen", (Change(where, parse_length("0.3 mm")),)))
        yield Finding(
            "dress.pen-crowded",
            "look",
            f"The pen fills {len(small)} {plural(len(small), 'opening')} of {item.name}",
            f"They are narrower than the pen's {tip:g} mm.",
            "Loops and counters become blots.",
            item.id,
            tuple(mends),
        )


def _find_filled(lines: list[Any], tip: float) -> tuple[float, ...]:
    """How wide the openings between some lines are that are narrower than a tip (mm)."""
    import shapely

    faces = shapely.get_parts(shapely.polygonize([shapely.unary_union(lines)]))
    # Dear to measure, so only those are that a tip's breadth takes away.
    faces = faces[shapely.is_empty(shapely.buffer(faces, -tip / 2 - 1e-3))]
    widths = []
    for face in faces:
        checkpoint()
        widths.append(2 * float(shapely.maximum_inscribed_circle(face, tolerance=tip / 50).length))
    return tuple(width for width in widths if width < tip)
