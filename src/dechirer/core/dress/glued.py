"""What the dress does to the card's thickness: openings, backers, pieces glued on flat or on foam, things stuck on or
put in. Each rests on whatever is highest under it on its side of its panel."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from msgspec import structs

from dechirer.core.brief.brief import BriefPlan
from dechirer.core.card.assembly import FOAM, THING, Slab, raise_axes, reach_further
from dechirer.core.card.stack import ROUGH_MM, Stacked, measure_closed
from dechirer.core.construct.attached import FOAM_INSET_MM
from dechirer.core.construct.construct import make_matter
from dechirer.core.construct.whole import CardPlan
from dechirer.core.dress.decisions import AT_HAND, Item
from dechirer.core.dress.drawn import mapper
from dechirer.core.dress.dressed import Dressed
from dechirer.core.dress.mark import rings_of
from dechirer.core.dress.outline import items_of
from dechirer.core.dress.own_pieces import backer_areas
from dechirer.core.dress.spots import Spot
from dechirer.core.figure import Figure
from dechirer.core.shape.algebra import polygons_of
from dechirer.core.shape.outline import clockwise
from dechirer.core.shape.webs import grow

GLUED = ("window", "art", "piece", *AT_HAND)
"""Ways of being made that change what lies on what."""
LEAST_FOAM_MM = 1.0
TOUCH_MM2 = 0.01
ON_A_PANEL_MM = 1e-6


def stack_dress(card: CardPlan, facts: BriefPlan, items: tuple[Dressed, ...], later: tuple[Dressed, ...]) -> Stacked:
    """The card with all that its faces carry.

    Args:
        items: the items of the first copy; `later` those of other copies that differ from it. The closed size is that
            of all of them laid over each other, so that no copy is larger or thicker.
    """
    figures, grams = _measure(items, later)
    matter = make_matter(card, facts)
    matter = structs.replace(matter, figures=(*matter.figures, *figures), grams=grams)
    first = tuple(_Stack(card, facts).laid(items))
    widest = tuple(_Stack(card, facts).laid(_over_each_other(items, later))) if later else first
    closed = measure_closed(
        raise_axes(card.tree, reach_further(card.reach, widest)), widest, (facts.width, facts.height), matter
    )
    return Stacked(closed, first, raise_axes(card.tree, reach_further(card.reach, first)), tuple(figures))


def thing_of(item: Item) -> str:
    """What a thing at hand is called in place of a paper."""
    return f"{THING}{item.id}"


def _measure(items: tuple[Dressed, ...], later: tuple[Dressed, ...]) -> tuple[list[Figure], tuple[Figure, ...]]:
    """The thicknesses of foam and of things at hand, and what the things weigh; each item once, as the first copy that
    has it has it."""
    figures, grams = [], []
    once = {dressed.item.id: dressed for dressed in reversed((*items, *later))}
    for dressed in once.values():
        item = dressed.item
        path = f"dress.items.{item.id}"
        if item.foam.mm:
            figures.append(Figure(f"{item.id}.foam", f"foam under {item.name}", item.foam.mm, field=f"{path}.foam"))
        if item.made in AT_HAND:
            figures.append(
                Figure(f"{item.id}.thick", f"thickness of {item.name}", item.thick.mm, field=f"{path}.thick")
            )
            if item.grams:
                number = len(items_of(dressed.placed.drawn))
                told = f"{number} of {item.grams:g} g"
                grams.append(Figure(f"{item.id}.grams", item.name, number * item.grams, "mass", source=told))
    return figures, tuple(grams)


def _over_each_other(items: tuple[Dressed, ...], later: tuple[Dressed, ...]) -> list[Dressed]:
    """The first copy's items, those that other copies have otherwise widened to all of them."""
    import shapely

    others: dict[str, list[Dressed]] = {}
    for dressed in later:
        others.setdefault(dressed.item.id, []).append(dressed)
    found = []
    for dressed in items:
        mine = others.pop(dressed.item.id, None)
        found.append(dressed if mine is None else _widened(dressed, mine, shapely))
    return found + [_widened(mine[0], mine[1:], shapely) for mine in others.values()]


def _widened(dressed: Dressed, others: Iterable[Dressed], shapely: Any) -> Dressed:
    drawn = dressed.placed.drawn
    every = [area for each in (dressed, *others) for area in items_of(each.placed.drawn)]
    if dressed.item.made in ("window", "art") or not every:
        return dressed
    whole = polygons_of(shapely.union_all(every))
    main = next((each for each in (dressed, *others) if items_of(each.placed.drawn)), dressed).placed.drawn.parts[0]
    parts = (structs.replace(main, areas=whole, lines=()),)
    return structs.replace(dressed, placed=structs.replace(dressed.placed, drawn=structs.replace(drawn, parts=parts)))


class _Stack:
    """Lays what the dress adds on the card's slabs, one after the other."""

    def __init__(self, card: CardPlan, facts: BriefPlan) -> None:
        self.slabs = list(card.slabs)
        self._sheets = len(card.tree.panels)
        self._facts = facts
        self._areas: dict[int, Any] = {}

    def laid(self, items: Iterable[Dressed]) -> list[Slab]:
        """The slabs with all items on them."""
        for dressed in items:
            spot = dressed.spot
            if spot is None or spot.to_card is None or spot.slab < 0 or dressed.placed.drawn.is_empty:
                continue
            if dressed.item.made in ("window", "art"):
                self._open(dressed, spot)
                if dressed.item.made == "window" and dressed.item.paper is not None:
                    self._back(dressed, spot, dressed.item.paper)
            elif dressed.item.made in GLUED:
                self._glue(dressed, spot)
        return self.slabs

    def _open(self, dressed: Dressed, spot: Spot) -> None:
        """Openings show what is behind: the slab of the face gets holes where an item is cut out of it."""
        assert spot.to_card is not None
        areas = [
            area for part in dressed.placed.drawn.parts if part.role == "cut" and not part.folds for area in part.areas
        ]
        slab = self.slabs[spot.slab]
        areas = simpler(areas)
        holes = [rings_of(area, spot.to_card)[0] for area in areas]
        self.slabs[spot.slab] = structs.replace(slab, holes=(*slab.holes, *holes))
        if dressed.item.islands == "keep":  # loose middles are set back in their places
            middles = [ring for area in areas for ring in rings_of(area, spot.to_card)[1:]]
            self.slabs += [structs.replace(slab, outline=ring, holes=()) for ring in middles]

    def _back(self, dressed: Dressed, spot: Spot, paper: str) -> None:
        """The backer of a window lies on the other side of its panel, right behind it."""
        assert spot.to_card is not None
        base = self.slabs[spot.slab]
        inward = self._is_outward(spot)
        thickness = self._facts.paper(paper).thickness.value
        by = -thickness if inward else thickness
        level = base.bottom if inward else base.top
        mine = [index for index, slab in enumerate(self.slabs) if slab.panel == base.panel]
        behind = {i for i in mine if (self.slabs[i].top <= level if inward else self.slabs[i].bottom >= level)}
        moved = behind  # what lies on that side already makes room for it
        if any(index < self._sheets for index in behind):
            # The card's own sheet stays where it is: what is glued on it makes room, with all that lies on that.
            moved = {i for i in mine if (self.slabs[i].bottom >= level if inward else self.slabs[i].top <= level)}
            by, level = -by, level - by
        for index in moved:
            slab = self.slabs[index]
            self.slabs[index] = structs.replace(slab, bottom=slab.bottom + by, top=slab.top + by)
        bottom, top = (level - thickness, level) if inward else (level, level + thickness)
        for area in backer_areas(dressed, spot):
            ring = clockwise(rings_of(area, spot.to_card)[0])
            self.slabs.append(Slab(f"{dressed.item.id}-backer", paper, base.panel, ring, bottom, top))

    def _glue(self, dressed: Dressed, spot: Spot) -> None:
        """An item's outlines on top of what is there, on their foam where they have any."""
        import shapely

        assert spot.to_card is not None
        item, panel = dressed.item, self.slabs[spot.slab].panel
        outward = self._is_outward(spot)
        if item.made in AT_HAND:
            paper, thickness = thing_of(item), item.thick.mm
        else:
            paper = item.paper or self._base_paper()
            thickness = self._facts.paper(paper).thickness.value
        areas = simpler(items_of(dressed.placed.drawn))
        for area, lies in zip(areas, mapper(spot.to_card)(areas), strict=True):
            ground = self._ground(lies, spot, panel, outward)
            rings = rings_of(area, spot.to_card)
            if item.foam.mm:
                for pad in foam_areas(area):
                    ring = rings_of(pad, spot.to_card)[0]
                    self.slabs.append(_slab("foam", FOAM + item.id, panel, (ring,), ground, item.foam.mm, outward))
                ground += item.foam.mm if outward else -item.foam.mm
            self._areas[len(self.slabs)] = shapely.Polygon(lies.exterior)
            self.slabs.append(_slab(item.id, paper, panel, rings, ground, thickness, outward))

    def _base_paper(self) -> str:
        return self.slabs[0].paper

    def _is_outward(self, spot: Spot) -> bool:
        """Whether a face looks outward on its panel: a face of the card's own sheet does by its side, one of a piece
        that is glued on by where that lies."""
        slab = self.slabs[spot.slab]
        return spot.side == "outside" if abs(slab.bottom) < ON_A_PANEL_MM else slab.bottom > 0

    def _ground(self, lies: Any, spot: Spot, panel: str, outward: bool) -> float:
        """How high what lies under an area on the card's sheet reaches, outward or inward."""
        import shapely

        slab, box = self.slabs[spot.slab], lies.bounds
        ground = slab.top if outward else slab.bottom
        for index, other in enumerate(self.slabs):
            higher = other.top > ground if outward else other.bottom < ground
            if other.panel != panel or not higher or not _meet(self._area(index).bounds, box):
                continue
            if shapely.area(shapely.intersection(self._area(index), lies)) > TOUCH_MM2:
                ground = other.top if outward else other.bottom
        return ground

    def _area(self, index: int) -> Any:
        """The area of a slab, openings left out: what lies over an opening rests on its rim."""
        import shapely

        if index not in self._areas:
            self._areas[index] = shapely.make_valid(shapely.Polygon(self.slabs[index].outline))
        return self._areas[index]


def _meet(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]


def simpler(areas: list[Any]) -> list[Any]:
    """Areas with as many corners as it takes to tell what lies on what."""
    import shapely

    rough = shapely.simplify(areas, ROUGH_MM, preserve_topology=False)  # several times faster, and looked at after
    return [
        less if less.geom_type == "Polygon" and less.is_valid else area for area, less in zip(areas, rough, strict=True)
    ]


def _slab(
    piece: str, paper: str, panel: str, rings: tuple[Any, ...], ground: float, thickness: float, outward: bool
) -> Slab:
    bottom, top = (ground, ground + thickness) if outward else (ground - thickness, ground)
    return Slab(piece, paper, panel, clockwise(rings[0]), bottom, top, tuple(rings[1:]))


def foam_areas(area: Any) -> list[Any]:
    """Where foam lies under an outline: set in from its edge, less where it is narrow; none where it is too narrow."""
    for inset in (FOAM_INSET_MM, FOAM_INSET_MM / 2, FOAM_INSET_MM / 4):
        pads = [
            each
            for each in polygons_of(grow(area, -inset))
            if min(each.bounds[2] - each.bounds[0], each.bounds[3] - each.bounds[1]) > LEAST_FOAM_MM
        ]
        if pads:
            return pads
    return []
