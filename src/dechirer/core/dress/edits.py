"""Putting things on faces: new items with sizes and places that make sense from the start, as changes to the job."""

from __future__ import annotations

import re

from msgspec import structs

from dechirer.core.brought import Art
from dechirer.core.construct.decisions import arts_of
from dechirer.core.construct.specs import ATTACHMENTS
from dechirer.core.decide.change import Change
from dechirer.core.dress.decisions import FACE, MADE, WAYS, Item, Made, Place, Words
from dechirer.core.dress.seen import Decided, new_step
from dechirer.core.dress.spots import Spot
from dechirer.core.dress.step import STEPS
from dechirer.core.dress.steps.edge import Border
from dechirer.core.dress.steps.out_of_it import Relief
from dechirer.core.dress.steps.which import Outermost
from dechirer.core.length import Length, fine_length, make_length, parse_length
from dechirer.core.paper.colours import difference

INK = "#23262b"
"""The ink things are drawn in at first."""
MOST_COLOURS = 40
SHARE = 0.6
"""Art too large for its face comes as large as this share of it."""


def new_id(job: Decided, name: str, *others: str) -> str:
    """An id for an item, from its name, not yet taken in the job, nor one of `others`."""
    base = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:28].strip("-") or "item"
    if not base[0].isalpha():
        base = f"i-{base}"
    taken = {item.id for item in job.dress.items} | {paper.id for paper in job.brief.papers} | {"base", FACE, *others}
    for spec, own in job.construct.attached():
        taken |= {layer.id for layer in own} if spec.many else {spec.id}
    taken |= {spec.piece for spec in ATTACHMENTS}
    if base not in taken:
        return base
    return next(f"{base}-{number}" for number in range(2, 1000) if f"{base}-{number}" not in taken)


def other_paper(job: Decided, than: str) -> str:
    """A paper on hand that can be told from another; that one when there is no other."""
    colours = {paper.id: paper.colour for paper in job.brief.papers}
    return max(colours, key=lambda each: difference(colours[each], colours[than]))


def add_item(job: Decided, item: Item) -> tuple[Change, ...]:
    """The change that puts an item on top of the others."""
    return (Change("dress.items", (*job.dress.items, item)),)


def place_art(job: Decided, art: Art, spot: Spot) -> tuple[Change, ...]:
    """Art brought in, in the middle of a face: at its own size where it goes, else as large as fits well."""
    name = re.sub(r"\.[A-Za-z]{3,4}$", "", art.name).replace("_", " ").replace("-", " ").strip()[:60] or "art"
    too_large = art.width > spot.width or art.height > spot.height
    width = None
    if too_large:
        factor = SHARE * min(spot.width / art.width, spot.height / max(art.height, 1e-6))
        width = make_length(max(2.0, art.width * factor), job.units)
    item = Item(new_id(job, name), name, spot.id, "art", art=art.id, width=width)
    return (Change("dress.art", (*job.dress.art, art)), *add_item(job, item))


def place_again(job: Decided, art: Art, spot: Spot) -> tuple[Change, ...]:
    """Art that is in the job already, put on a face once more."""
    return place_art(job, art, spot)[1:]


def forget_unused(job: Decided) -> tuple[Change, ...]:
    """The job without art and typefaces that nothing uses; no change when all is used."""
    stands = {entry for row in job.dress.copies.rows for entry in row.entries}
    arts = {item.art for item in job.dress.items} | arts_of(job.construct, job.brief.construction) | stands
    faces = {item.words.face for item in job.dress.items if item.words is not None}
    kept_art = tuple(art for art in job.dress.art if art.id in arts)
    kept_fonts = tuple(font for font in job.dress.fonts if font.id in faces)
    if len(kept_art) == len(job.dress.art) and len(kept_fonts) == len(job.dress.fonts):
        return ()
    return Change("dress.art", kept_art), Change("dress.fonts", kept_fonts)


def place_words(
    job: Decided, spot: Spot, text: str = "Words", at: tuple[float, float] | None = None
) -> tuple[Change, ...]:
    """Words in the middle of a face, or with their own middle at a place on it (mm), drawn with a pen at a size that
    goes on it."""
    size = make_length(max(4.0, min(18.0, spot.width * 0.16, spot.height * 0.3)), "mm")
    words = Words(text, face="line-script", size=size)
    name = text.split("\n")[0][:24]
    place = Place()
    if at is not None:
        x, y = at[0] - spot.width / 2, at[1] - spot.height / 2
        place = structs.replace(place, x=exact_mm(round(x * 2) / 2), y=exact_mm(round(y * 2) / 2))
    item = Item(new_id(job, name), name, spot.id, "pen", words=words, colour=INK, place=place)
    return add_item(job, item)


def place_made_of(job: Decided, item: Item, kind: str) -> tuple[Change, ...]:
    """Another item made of one: its `border` card below it, its `window`, or what is `inlaid`.

    A border card goes behind the item it is made of.
    """
    paper = other_paper(job, item.paper or job.brief.base_paper)
    outermost = Outermost("fill-1")
    if kind == "border":
        border = Border("border-1", by=parse_length("1/8 in" if job.units == "in" else "3 mm"))
        name = f"{item.name} border"
        new = Item(new_id(job, name), name, item.face, "piece", of=item.id, steps=(outermost, border), paper=paper)
        place = [each.id for each in job.dress.items].index(item.id)
        items = (*job.dress.items[:place], new, *job.dress.items[place:])
        return (Change("dress.items", items),)
    if kind == "window":
        name = f"{item.name} window"
        new = Item(new_id(job, name), name, item.face, "window", of=item.id, steps=(outermost,))
    else:
        name = f"{item.name} frame"
        relief = Relief("relief-1", by=parse_length("1.5 mm"))
        new = Item(new_id(job, name), name, item.face, "piece", of=item.id, steps=(relief,), paper=paper)
    return add_item(job, new)


def describe_made_of(job: Decided, item: Item, kind: str) -> str:
    """What `place_made_of` would make, in a few words: `3 mm larger, of kite orange`."""
    new = next(each for each in place_made_of(job, item, kind)[0].value if job.dress.item(each.id) is None)
    papers = {paper.id: paper.name for paper in job.brief.papers}
    step = new.steps[-1]
    by = getattr(step, "by", None)
    words = {"border": f"{by} larger", "window": "cut out of the face", "frame": f"webs of {by}"}[kind]
    return f"{words}, of {papers[new.paper]}" if new.paper is not None else words


def add_step(job: Decided, item: Item, kind: str, other: str | None = None) -> tuple[Change, ...]:
    """A step at the end of an item's recipe, with measures to begin with.

    Args:
        kind: the id of its kind.
        other: another item it asks for.

    Raises:
        UnknownIdError: there is no such kind.
    """
    spec = STEPS[kind]
    fields: dict[str, object] = {}
    if job.units == "mm":
        fields.update((name, parse_length(text)) for name, text in spec.in_mm)
    if other is not None:
        fields["of"] = other
    return (new_step(item, spec.decisions, **fields),)


def remove_step(item: Item, step_id: str) -> tuple[Change, ...]:
    """The recipe without a step."""
    return (Change(f"dress.items.{item.id}.steps", tuple(step for step in item.steps if step.id != step_id)),)


def move_step(item: Item, step_id: str, by: int) -> tuple[Change, ...]:
    """The recipe with a step moved earlier (below zero) or later."""
    steps = list(item.steps)
    index = next(place for place, step in enumerate(steps) if step.id == step_id)
    other = min(max(index + by, 0), len(steps) - 1)
    steps.insert(other, steps.pop(index))
    return (Change(f"dress.items.{item.id}.steps", tuple(steps)),)


def move_item(job: Decided, item: Item, by: int) -> tuple[Change, ...]:
    """The items with one moved forward (above zero) or back."""
    items = list(job.dress.items)
    index = next(place for place, each in enumerate(items) if each.id == item.id)
    other = min(max(index + by, 0), len(items) - 1)
    items.insert(other, items.pop(index))
    return (Change("dress.items", tuple(items)),)


def palette_of(job: Decided) -> tuple[str, ...]:
    """The colours at hand in a job: those that were kept, inks of items, colours of art, papers; each once."""
    arts = [group.colour for art in job.dress.art for group in art.groups if group.role != "off"]
    inks = [item.colour for item in job.dress.items if item.colour is not None]
    papers = [paper.colour for paper in job.brief.papers]
    return tuple(dict.fromkeys(colour.lower() for colour in (*job.dress.palette, *inks, *arts, *papers)))[:MOST_COLOURS]


def keep_colour(job: Decided, colour: str) -> tuple[Change, ...]:
    """The change that keeps a colour with the job; none for one that is kept already."""
    if colour.lower() in {each.lower() for each in job.dress.palette}:
        return ()
    return (Change("dress.palette", (*job.dress.palette, colour)[-MOST_COLOURS:]),)


def make_as(job: Decided, item: Item, made: Made) -> tuple[Change, ...]:
    """An item made another way, with a paper or an ink where it then needs one."""
    changes = [Change(f"dress.items.{item.id}.made", made)]
    if made == "piece" and item.paper is None:
        changes.append(Change(f"dress.items.{item.id}.paper", other_paper(job, job.brief.base_paper)))
    if WAYS[made].inked and item.colour is None and item.art is None:
        changes.append(Change(f"dress.items.{item.id}.colour", INK))
    return tuple(changes)


def ways_for(item: Item) -> tuple[Made, ...]:
    """The ways an item can be made: by its groups only when it is art."""
    return tuple(made for made in MADE if made != "art" or item.art is not None)


def place_at(item: Item, left: float, top: float, region: tuple[float, float], units: str) -> tuple[Change, ...]:
    """An item kept at distances from the left and the top of its region, after it was dragged there."""
    place = structs.replace(
        item.place, across="left", down="top", x=_near(left - region[0], units), y=_near(top - region[1], units)
    )
    return (Change(f"dress.items.{item.id}.place", place),)


def exact_mm(value: float) -> Length:
    """A length to a thousandth of a millimetre, as it was measured."""
    return parse_length(f"{round(value, 3):g} mm")


def place_exactly(item: Item, left: float, top: float) -> Place:
    """The place of an item kept at exact distances (mm) from the left and the top of its region."""
    x, y = exact_mm(left), exact_mm(top)
    return structs.replace(item.place, across="left", down="top", x=x, y=y)


def _near(mm: float, units: str) -> Length:
    return (
        fine_length(round(mm / 25.4 * 32) * 25.4 / 32, "in")
        if units == "in"
        else parse_length(f"{round(mm * 2) / 2:g} mm")
    )


def place_in_middle(item: Item) -> tuple[Change, ...]:
    """An item kept in the middle of its region."""
    kept = structs.replace(
        Place(), within=item.place.within, turn_deg=item.place.turn_deg, mirrored=item.place.mirrored
    )
    return (Change(f"dress.items.{item.id}.place", kept),)


def correct_scale(job: Decided, art: Art, shown_mm: float, true_mm: float) -> tuple[Change, ...]:
    """The size of an import settled by a feature of known size: what is shown as one length is really another."""
    scale = art.scale * true_mm / shown_mm
    words = f"by a feature of {true_mm:.5g} mm"
    return (
        Change(f"dress.art.{art.id}.scale", scale),
        Change(f"dress.art.{art.id}.doubt", ""),
        Change(f"dress.art.{art.id}.settled", words),
    )
