"""What an item is drawn from, at a size: art, words, or another item of the face.

Three ways to one thing, a `Source`; what follows (turning, placing, the recipe, landing) is the same for all.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from functools import partial
from typing import Any

from msgspec import Struct, structs

from dechirer.core.brought import Art, FontFile, Role
from dechirer.core.card.print import Raster
from dechirer.core.dress.decisions import FACE, WAYS, Item, Words
from dechirer.core.dress.drawn import Drawn, Part, draw_art, raster_of
from dechirer.core.dress.outline import OUTLINE_ROLES, items_of, keep_one, middle_of, parts_in_order
from dechirer.core.dress.placed import Placed
from dechirer.core.dress.words.lettering import Lettering, set_words
from dechirer.core.length import Length, parse_length
from dechirer.core.memory import Memory
from dechirer.core.shape.affine import Affine, Points
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.curves import FLAT_MM

COARSE_MM = 0.1
BLACK = "#000000"
STROKE_SHARE = 1 / 14
"""Printed, a letter of one line is as broad as this share of its em: about a regular weight (from memory)."""
SIZING_ROUNDS = 8
"""So many times words are set until they are as large as was typed; each time the error is about a tenth."""


class Given(Struct, frozen=True):
    """What an item may be drawn from.

    Attributes:
        art: the import it is drawn from, if any.
        text: its words with blanks filled, and `fonts` the maker's typefaces.
        needed: the items it is made of or asks for, placed, by id.
        memory: of words that were set before.
        coarse: flatten roughly, for a picture while something is dragged.
        face: the outline of the face it is on.
    """

    art: Art | None
    text: str
    fonts: tuple[FontFile, ...]
    needed: Mapping[str, Placed]
    memory: Memory
    coarse: bool = False
    face: Points = ()

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
        density: how many nodes to a mm the art has.
    """

    drawn: Drawn
    sizing: str = ""
    note: str = ""
    lettering: Lettering | None = None
    stretch: float = 1.0
    scale: float = 1.0
    stays: bool = False
    density: float = 0.0


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
    """The outline of another item of the face, as large as that or as was typed."""
    assert item.of is not None
    role = WAYS[item.made].role
    if item.of == FACE:
        drawn = draw_face(given.face)
    else:
        drawn = given.needed[item.of].drawn if item.of in given.needed else Drawn()
    if role is not None:
        inks = tuple(part for part in drawn.parts if part.raster is not None)
        # Only the outline of the other: what is drawn on it stays there. Of a picture, what it shows goes with it.
        main = [part for part in drawn.parts if part.role in OUTLINE_ROLES] or drawn.parts
        parts = tuple(structs.replace(part, role=role, raster=None) for part in main)
        if inks and role == "print":
            parts = inks
        elif item.printed:
            parts = (*parts, *(inks or printed_too(main)))
        drawn = structs.replace(drawn, parts=parts)
    drawn = choose(item, structs.replace(drawn, remarks=()))
    stays = item.place.across == "middle" and item.place.down == "middle"
    if item.width is None and item.height is None:
        return Source(drawn, "made of another item, as large as that", stays=stays)
    return structs.replace(sized(item, drawn), stays=stays)


def printed_too(parts: Iterable[Part]) -> tuple[Part, ...]:
    """The areas of parts once more, to be printed in the colour of each."""
    return tuple(Part("print", part.colour, part.areas, (), part.group) for part in parts if part.areas)


def draw_face(outline: Points) -> Drawn:
    """The outline of a face as something to be made from."""
    import shapely

    area = shapely.make_valid(shapely.Polygon(outline)) if len(outline) > 2 else None
    return Drawn((Part("cut", BLACK, polygons_of(area)),)) if area is not None else Drawn()


def draw_from_words(item: Item, words: Words, given: Given) -> Source:
    """Words as they are set and fitted, or as large as was typed."""
    shape = None
    if words.fit == "shape" and words.shape is not None and words.shape in given.needed:
        items = items_of(given.needed[words.shape].drawn)
        shape = items[0] if items else None

    def set_in(size: Words) -> tuple[Lettering, Drawn]:
        make = partial(set_words, size, given.text, given.fonts, shape)
        # Words are the same wherever they lie; in a shape they lie where that does.
        lettering = make() if shape is not None else given.memory.recall(("set", size, given.text, given.fonts), make)
        drawn = lettering.drawn(_role(item), item.colour or BLACK)
        if item.made == "print":
            drawn = broadened(drawn, lettering.size * STROKE_SHARE)
        if item.printed:
            drawn = structs.replace(drawn, parts=(*drawn.parts, *printed_too(drawn.parts)))
        return lettering, choose(item, drawn)

    lettering, drawn = set_in(words)
    sizing = f"the ink of the words at {lettering.size:.1f} mm to the em"
    typed = item.width is not None or item.height is not None
    if not typed or drawn.is_empty or words.fit not in ("size", "arc"):
        return Source(drawn, sizing, lettering=lettering, stays=shape is not None)
    # Letters that are joined overlap by a length of their own, so that words do not grow as their size does: the size
    # is looked for, and what is left is stretched.
    em = words.size.mm
    for _ in range(SIZING_ROUNDS):
        factor = sized(item, drawn).scale
        if abs(factor - 1) < 1e-4:
            break
        em *= factor
        lettering, drawn = set_in(structs.replace(words, size=_em(em)))
    return structs.replace(sized(item, drawn), lettering=lettering)


def broadened(drawn: Drawn, breadth: float) -> Drawn:
    """Lines as areas of a breadth (mm): letters of one line each are drawn by a pen, but a printer prints areas."""
    import shapely

    parts = []
    for part in drawn.parts:
        lines = shapely.union_all([line.buffer(breadth / 2) for line in part.lines]) if part.lines else None
        areas = (*part.areas, *polygons_of(lines)) if lines is not None else part.areas
        parts.append(structs.replace(part, areas=areas, lines=()))
    return structs.replace(drawn, parts=tuple(parts))


def draw_from_art(item: Item, given: Given, factor: float | None) -> Source:
    """Art at its own size, the typed one, or `factor` times the size it came in.

    The size is that of what is drawn: where the middle of a line is run, of that middle; where a line is artwork, of
    its edge.
    """
    art = given.art
    assert art is not None
    if item.group is not None:
        groups = tuple(group for group in art.groups if group.id == item.group)
        art = structs.replace(art, groups=groups) if groups else art
    way, tolerance = WAYS[item.made], COARSE_MM if given.coarse else FLAT_MM
    # Where no group gives an opening its outline (a picture in many colours), all of it does.
    keeps = way.keeps and (item.made == "piece" or any(group.role in OUTLINE_ROLES for group in art.groups))

    density = 0.0

    def draw(scale: float) -> Drawn:
        nonlocal density
        whole = draw_art(art, scale, role=way.role, tolerance=tolerance, keeping=keeps)
        if art.pixels is not None and (item.printed or item.made == "guide"):
            whole = structs.replace(whole, parts=show_picture(whole, raster_of(art.pixels, scale)))
        elif item.printed:
            whole = structs.replace(whole, parts=with_own_colours(whole, art, scale, tolerance))
        density = _count_nodes(art) / max(sum(shape.length for shape in (*whole.areas, *whole.lines)), 1e-9)
        return choose(item, whole)

    near = _near_scale(item, art, draw)
    if factor is not None or near is None:
        sizing = f"settled {art.settled}" if art.scale == 1.0 else f"the art's own size, corrected by {art.scale:.4g}"
        scale = art.scale if factor is None else factor
        found = Source(draw(scale), sizing if factor is None else "as large as its region takes", scale=scale)
    else:
        found = sized(item, draw(near))
        found = structs.replace(found, scale=found.scale * near)
    found = structs.replace(found, density=density)
    if item.colour is not None:
        parts = tuple(structs.replace(part, colour=item.colour) for part in found.drawn.parts)
        found = structs.replace(found, drawn=structs.replace(found.drawn, parts=parts))
    return found


def with_own_colours(whole: Drawn, art: Art, scale: float, tolerance: float) -> tuple[Part, ...]:
    """The parts of art that is printed and cut out: what it has to print, or else every area in its own colour, within
    one outline round all of it, or the outlines that are to be cut where there are such."""
    import shapely

    inks = tuple(part for part in draw_art(art, scale, tolerance=tolerance).parts if part.role == "print")
    cuts = tuple(part for part in whole.parts if part.role in OUTLINE_ROLES)
    others = tuple(part for part in whole.parts if part.role not in (*OUTLINE_ROLES, "print"))
    if inks and any(group.role in OUTLINE_ROLES for group in art.groups):
        return (*cuts, *inks, *others)
    inks = inks or printed_too(cuts)
    outline = polygons_of(shapely.union_all([area for part in inks for area in part.areas])) if inks else ()
    return (Part("cut", inks[0].colour if inks else BLACK, outline), *inks, *others)


def show_picture(whole: Drawn, raster: Raster) -> tuple[Part, ...]:
    """The outlines of a picture with its pixels within them."""
    cuts = tuple(structs.replace(part, role="cut", raster=None) for part in whole.parts)
    areas = tuple(area for part in cuts for area in part.areas)
    return (*cuts, Part("print", cuts[0].colour if cuts else BLACK, areas, raster=raster))


def _near_scale(item: Item, art: Art, draw: Callable[[float], Drawn]) -> float | None:
    """A scale at which art is nearly as large as was typed, so that its curves are flattened for that size."""
    width, height = art.width, art.height
    if item.part is not None:
        width, height = _extent(draw(1.0))
    if item.width is not None and width > 0:
        return item.width.mm / width
    return item.height.mm / height if item.height is not None and height > 0 else None


def _count_nodes(art: Art) -> int:
    """The nodes of all outlines of an import that are used."""
    return sum(path.count("L") + path.count("C") for group in art.groups if group.role != "off" for path in group.paths)


def choose(item: Item, drawn: Drawn) -> Drawn:
    """The outline an item takes with what is drawn on it, or all of it."""
    if item.part is None:
        return drawn
    parts = parts_in_order(drawn)
    if not parts:
        return drawn
    found = keep_one(drawn, parts, min(item.part, len(parts)) - 1)
    if item.part > len(parts):
        found = found.with_remark("few", f"there are only {len(parts)} outlines", middle_of(drawn))
    return found


def sized(item: Item, drawn: Drawn) -> Source:
    """What is drawn, made exactly as wide and as high as was typed; the ratio is kept when only one of them was. A side
    of no extent (one upright stroke is no wider than its line) stays so."""
    width, height = _extent(drawn)
    across = item.width.mm / width if item.width is not None and width > 0 else None
    down = item.height.mm / height if item.height is not None and height > 0 else None
    if across is None and down is None:
        return Source(drawn, "follows from its other side, the ratio kept")
    x = across if across is not None else (down or 1.0)
    y = down if down is not None else x
    left, top, right, bottom = drawn.box()
    middle_x, middle_y = (left + right) / 2, (top + bottom) / 2
    if abs(x - 1) > 1e-12 or abs(y - 1) > 1e-12:
        drawn = drawn.moved(Affine(a=x, d=y, e=middle_x * (1 - x), f=middle_y * (1 - y)))
    note = "Its ratio is changed." if abs(x / y - 1) >= 1e-3 else ""
    return Source(drawn, "follows from its other side, the ratio kept", note, stretch=x / y, scale=x)


def scale_about_middle(drawn: Drawn, factor: float) -> Drawn:
    """The same, larger by a factor about the middle of its ink."""
    if abs(factor - 1) < 1e-12:
        return drawn
    left, top, right, bottom = drawn.box()
    x, y = (left + right) / 2, (top + bottom) / 2
    return drawn.moved(Affine(factor, 0, 0, factor, x - x * factor, y - y * factor))


def _role(item: Item) -> Role:
    return WAYS[item.made].role or "cut"


def _extent(drawn: Drawn) -> tuple[float, float]:
    """Width and height of the ink, in mm."""
    left, top, right, bottom = drawn.box()
    return right - left, bottom - top


def _em(mm: float) -> Length:
    return parse_length(f"{min(600.0, max(1.0, mm)):.5f} mm")


def depends_on(item: Item) -> Any:
    """What of an item its drawing and its place depend on: all but its name and its paper."""
    return structs.replace(item, name="-", paper=None)
