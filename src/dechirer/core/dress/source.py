"""What an item is drawn from, at a size: art, words, or another item of the face.

Three ways to one thing, a `Source`; what follows (turning, placing, the recipe, landing) is the same for all.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from msgspec import Struct, structs

from dechirer.core.dress.brought import Art, FontFile, Role
from dechirer.core.dress.decisions import WAYS, Item, Words
from dechirer.core.dress.drawn import Drawn, draw_art
from dechirer.core.dress.outline import OUTLINE_ROLES, items_of
from dechirer.core.dress.placed import Placed
from dechirer.core.dress.words.lettering import Lettering, set_words
from dechirer.core.length import Length, parse_length
from dechirer.core.shape.affine import Affine
from dechirer.core.shape.curves import FLAT_MM

COARSE_MM = 0.1
BLACK = "#000000"


class Given(Struct, frozen=True):
    """What an item may be drawn from.

    Attributes:
        art: the import it is drawn from, if any.
        text: its words with blanks filled, and `fonts` the maker's typefaces.
        needed: the items it is made of or asks for, placed, by id.
        coarse: flatten roughly, for a picture while something is dragged.
    """

    art: Art | None
    text: str
    fonts: tuple[FontFile, ...]
    needed: Mapping[str, Placed]
    coarse: bool = False

    def others(self) -> dict[str, Drawn]:
        """What the needed items are drawn as, by id."""
        return {name: placed.drawn for name, placed in self.needed.items()}


class Source(Struct, frozen=True):
    """An item before its recipe, at its final size.

    Attributes:
        drawn: its parts, in mm.
        sizing: how its size came about, in words, and `note` a remark to it.
        lettering: how its words were set.
        stretch: its width factor over its height factor, 1 when the ratio is kept; `scale` its width factor.
        stays: it lies where what it is drawn from lies, and is not placed anew.
    """

    drawn: Drawn
    sizing: str = ""
    note: str = ""
    lettering: Lettering | None = None
    stretch: float = 1.0
    scale: float = 1.0
    stays: bool = False


def draw_source(item: Item, given: Given, factor: float | None = None) -> Source:
    """An item before its recipe.

    Args:
        factor: how much larger than its own size it is, while it is being fitted into its region.

    Raises:
        FontError, PathError: its typeface or its outlines cannot be read.
    """
    if item.of is not None:
        return draw_from_item(item, given)
    found = draw_from_words(item, item.words, given) if item.words is not None else draw_from_art(item, given, factor)
    if factor is not None and item.words is not None:
        found = structs.replace(found, drawn=scale_about_middle(found.drawn, factor))
    return found


def draw_from_item(item: Item, given: Given) -> Source:
    """The outline of another item of the face, as large as that or as wide as was typed."""
    assert item.of is not None
    role = WAYS[item.made].role
    drawn = given.needed[item.of].drawn if item.of in given.needed else Drawn()
    if role is not None:
        # Only the outline of the other: what is drawn on it stays there.
        main = [part for part in drawn.parts if part.role in OUTLINE_ROLES] or drawn.parts
        drawn = structs.replace(drawn, parts=tuple(structs.replace(part, role=role) for part in main))
    drawn = structs.replace(drawn, remarks=())
    stays = item.place.across == "middle" and item.place.down == "middle"
    if item.width is None or not drawn.parts:
        return Source(drawn, "made of another item, as large as that", stays=stays)
    scale = item.width.mm / max(1e-9, _width(drawn))
    return Source(scale_about_middle(drawn, scale), "typed", scale=scale, stays=stays)


def draw_from_words(item: Item, words: Words, given: Given) -> Source:
    """Words as they are set and fitted, or as wide as was typed."""
    shape = None
    if words.fit == "shape" and words.shape is not None and words.shape in given.needed:
        items = items_of(given.needed[words.shape].drawn)
        shape = items[0] if items else None
    lettering = set_words(words, given.text, given.fonts, shape)
    drawn = lettering.drawn(_role(item), item.colour or BLACK)
    sizing = f"the ink of the words at {lettering.size:.1f} mm to the em"
    if item.width is not None and not drawn.is_empty and words.fit in ("size", "arc"):
        wanted = item.width.mm / max(1e-9, _width(drawn))
        sized = structs.replace(words, size=_em(words.size.mm * wanted))
        lettering = set_words(sized, given.text, given.fonts, shape)
        drawn, sizing = lettering.drawn(_role(item), item.colour or BLACK), "typed"
    return Source(drawn, sizing, lettering=lettering, stays=shape is not None)


def draw_from_art(item: Item, given: Given, factor: float | None) -> Source:
    """Art at its own size, the typed one, or `factor` times the size it came in."""
    art = given.art
    assert art is not None
    scale, stretch, note = art.scale, 1.0, ""
    sizing = f"settled {art.settled}" if art.scale == 1.0 else f"the art's own size, corrected by {art.scale:.4g}"
    across = item.width.mm / art.width if item.width is not None else None
    down = item.height.mm / art.height if item.height is not None and art.height > 0 else None
    if factor is not None:
        scale, sizing = factor, "as large as its region takes"
    elif across is not None or down is not None:
        scale = across if across is not None else (down or 1.0)
        sizing = "follows from its other side, the ratio kept"
        if across is not None and down is not None:
            stretch = across / down
            note = "" if abs(stretch - 1) < 1e-3 else "Its ratio is changed."
    way = WAYS[item.made]
    tolerance = COARSE_MM if given.coarse else FLAT_MM
    drawn = draw_art(art, scale, role=way.role, tolerance=tolerance, keeping=way.keeps)
    if abs(stretch - 1) > 1e-9:
        drawn = drawn.moved(Affine(d=1.0 / stretch))
    if item.colour is not None:
        parts = tuple(structs.replace(part, colour=item.colour) for part in drawn.parts)
        drawn = structs.replace(drawn, parts=parts)
    return Source(drawn, sizing, note, stretch=stretch, scale=scale)


def scale_about_middle(drawn: Drawn, factor: float) -> Drawn:
    """The same, larger by a factor about the middle of its ink."""
    if abs(factor - 1) < 1e-12:
        return drawn
    left, top, right, bottom = drawn.box()
    x, y = (left + right) / 2, (top + bottom) / 2
    return drawn.moved(Affine(factor, 0, 0, factor, x - x * factor, y - y * factor))


def _role(item: Item) -> Role:
    return WAYS[item.made].role or "cut"


def _width(drawn: Drawn) -> float:
    left, _, right, _ = drawn.box()
    return right - left


def _em(mm: float) -> Length:
    return parse_length(f"{min(600.0, max(1.0, mm)):.5f} mm")


def depends_on(item: Item) -> Any:
    """What of an item its drawing and its place depend on: all but its name and its paper."""
    return structs.replace(item, name="-", paper=None)
